"""What browser tests share: the real server on a fresh database, and Chromium with or without a microphone."""

import atexit
import unittest
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from functools import cache
from itertools import count
from pathlib import Path

from playwright.sync_api import Browser, BrowserContext, Locator, Page, Playwright, ViewportSize, expect, sync_playwright

from pondus.running.cluster import Cluster
from pondus.running.scratch_studio import RunningServer, scratch_cluster
from pondus.store.database import migrate

WORKERS = 2
"""Processes of a server under test: more than one, and no more than a small machine starts quickly."""
PATIENCE_MS = 60_000
"""How long a page may take for anything: a loaded machine is no failure."""
SIZES = ((1280, 800), (820, 1180), (390, 844))
FLAGS = ["--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-sync"]


_shared = ExitStack()
atexit.register(_shared.close)
_names = count(1)


@cache
def shared_cluster() -> Cluster:
    """A cluster for all classes, each with a database of its own in it."""
    return _shared.enter_context(scratch_cluster())


@cache
def shared_playwright() -> Playwright:
    """What drives every browser."""
    expect.set_options(timeout=PATIENCE_MS)
    return _shared.enter_context(sync_playwright())


@cache
def shared_browser() -> Browser:
    """The browser for all classes; each test has a context of its own in it."""
    browser = launched()
    _shared.callback(browser.close)
    return browser


def launched(*more: str) -> Browser:
    """A browser with these flags besides."""
    return shared_playwright().chromium.launch(executable_path="/usr/bin/chromium", args=[*FLAGS, *more])


class BrowserTest(unittest.TestCase):
    """One server on one database for the class; a page for each test. ``own_cluster``: its database is killed."""

    own_cluster = False

    @classmethod
    def setUpClass(cls) -> None:
        cls.cluster = cls.enterClassContext(scratch_cluster()) if cls.own_cluster else shared_cluster()
        cls.database = f"studio{next(_names)}"
        cls.url = cls.cluster.ensure_database(cls.database)
        migrate(cls.url)
        cls.server = RunningServer(cls.url, port_file=cls.cluster.port_file, workers=WORKERS)
        cls.server.start()
        cls.addClassCleanup(cls.server.stop, kill=True)
        cls.browser = shared_browser()

    @classmethod
    def launch(cls, *more: str) -> Browser:
        return launched(*more)

    def open(self, path: str = "/", size: tuple[int, int] = SIZES[0], context: BrowserContext | Browser | None = None) -> Page:
        """A page in this context, or in one of its own that installs nothing: fetching all for a time without network
        takes a third of the run, and those who ask for it make their own context."""
        viewport = ViewportSize(width=size[0], height=size[1])
        page = context.new_page() if context else self.browser.new_page(viewport=viewport, service_workers="block")
        page.set_default_timeout(PATIENCE_MS)
        self.addCleanup(page.close)
        self.complaints: list[str] = []
        page.on("pageerror", lambda error: self.complaints.append(str(error)))
        page.goto(self.server.address + path)
        return page

    def add(self, kind: str, label: str, context: BrowserContext | Browser | None = None) -> Page:
        page = self.open("/roll", context=context)
        page.get_by_role("radio", name=kind, exact=True).click()
        page.get_by_label("Label on it, if any").fill(label)
        page.get_by_role("button", name="Add and tune it").click()
        expect(page.get_by_role("heading", name=label)).to_be_visible()
        return page

    def type_reading(self, page: Page, text: str) -> None:
        entry = page.get_by_label("What does the tuner show")
        entry.fill(text)
        entry.press("Enter")
        expect(entry).to_have_value("")
        expect(page.locator("[aria-busy=true]")).to_have_count(0)  # it is stored, and advised on

    def history(self, page: Page) -> Locator:
        """What was entered in this tuning, unfolded."""
        region = page.get_by_role("region", name="History of this tuning")
        fold = region.get_by_role("button", name="This tuning so far")
        if fold.get_attribute("aria-expanded") == "false":
            fold.click()
        return region

    def new_tuning(self, page: Page) -> None:
        page.get_by_role("button", name="More").click()
        page.get_by_role("button", name="New tuning").click()

    def next_move(self, page: Page) -> str:
        return page.get_by_role("region", name="Next move").inner_text()

    @contextmanager
    def microphone(self, wav: Path, *, allow: bool = True, once: bool = False) -> Iterator[BrowserContext]:
        """A browser whose microphone is a WAV, over and over; ``once``: then nothing more."""
        sound = f"{wav}%noloop" if once else str(wav)
        flags = ["--use-fake-device-for-media-stream", f"--use-file-for-fake-audio-capture={sound}"]
        if allow:
            flags.append("--use-fake-ui-for-media-stream")
        else:
            flags.append("--deny-permission-prompts")
        browser = self.launch(*flags)
        try:
            yield browser.new_context(viewport={"width": 1280, "height": 800})
        finally:
            browser.close()

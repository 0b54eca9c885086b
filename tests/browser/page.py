"""What browser tests share: the real server on a fresh database, and Chromium with or without a microphone."""

import unittest
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect, sync_playwright

from pondus.running.scratch_studio import RunningServer, scratch_cluster
from pondus.store.database import migrate

SIZES = ((1280, 800), (820, 1180), (390, 844))
FLAGS = ["--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-sync"]


class BrowserTest(unittest.TestCase):
    """One server and one browser for the class; a page for each test."""

    playwright: Playwright
    browser: Browser

    @classmethod
    def setUpClass(cls) -> None:
        cls.cluster = cls.enterClassContext(scratch_cluster())
        url = cls.cluster.ensure_database("pondus")
        migrate(url)
        cls.server = RunningServer(url, port_file=cls.cluster.port_file)
        cls.server.start()
        cls.addClassCleanup(cls.server.stop)
        cls.playwright = cls.enterClassContext(sync_playwright())
        cls.browser = cls.launch()
        cls.addClassCleanup(cls.browser.close)

    @classmethod
    def launch(cls, *more: str) -> Browser:
        return cls.playwright.chromium.launch(executable_path="/usr/bin/chromium", args=[*FLAGS, *more])

    def open(
        self, path: str = "/", size: tuple[int, int] = SIZES[0], context: BrowserContext | Browser | None = None
    ) -> Page:
        viewport = {"width": size[0], "height": size[1]}
        page = (context or self.browser).new_page() if context else self.browser.new_page(viewport=viewport)  # type: ignore[arg-type]
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

    def next_move(self, page: Page) -> str:
        return page.get_by_role("region", name="Next move").inner_text()

    @contextmanager
    def microphone(self, wav: Path, *, allow: bool = True) -> Iterator[BrowserContext]:
        """A browser whose microphone is a WAV, over and over."""
        flags = ["--use-fake-device-for-media-stream", f"--use-file-for-fake-audio-capture={wav}"]
        if allow:
            flags.append("--use-fake-ui-for-media-stream")
        else:
            flags.append("--deny-permission-prompts")
        browser = self.launch(*flags)
        try:
            yield browser.new_context(viewport={"width": 1280, "height": 800})
        finally:
            browser.close()

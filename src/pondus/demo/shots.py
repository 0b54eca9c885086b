"""Retakes docs/screenshots: starts the demo studio on its own database and photographs its main views."""

import json
from collections.abc import Callable
from contextlib import ExitStack

from playwright.sync_api import Browser, Page, sync_playwright

from pondus.demo.camp import demo_id
from pondus.demo.studio import fill
from pondus.running.places import CHECKOUT
from pondus.running.scratch_studio import RunningServer, scratch_cluster
from pondus.store import devices as device_store
from pondus.store.database import engine_for, migrate, session_on
from pondus.store.people import people
from pondus.web.app import WebConfig

FOLDER = CHECKOUT / "docs" / "screenshots"
WIDE, TABLET, PHONE = (1280, 800), (820, 1180), (390, 844)


CAMP_LIST = "Etikett;Kind;Size;Who;Strings since\nStilt;violin;3/4;Jella;5.4.2026\nScoter;harp;;;\nSmew;cello;1/2;;6.4.2026\n"


def _bring(page: Page) -> None:
    """A list with an unknown header and a row that can't be."""
    file = {"name": "camp.csv", "mimeType": "text/csv", "buffer": CAMP_LIST.encode()}
    page.locator("input[type=file]").set_input_files(file)  # type: ignore[arg-type]
    page.get_by_label("Column 1, Etikett").select_option("label")
    page.get_by_text("no violin, viola or cello").wait_for()


def _hear_one(page: Page) -> None:
    """The first of those still to hear, typed."""
    page.get_by_role("textbox").fill("-4 2 0 -11")
    page.get_by_role("textbox").press("Enter")
    page.get_by_role("region", name="Just heard").wait_for()


def _take_in_hand(page: Page) -> None:
    """A simulated instrument, bowed until its first reading."""
    page.get_by_role("radio", name="simulated instrument").click()
    page.get_by_role("button", name="Take it in hand").click()
    page.get_by_role("button", name="Bow D", exact=True).click()
    page.get_by_role("status").filter(has_text="Kept:").first.wait_for()


def _pluck_and_turn(page: Page) -> None:
    """A string in hand, plucked, and its screw turned."""
    page.get_by_role("button", name="Play the tone").click()
    page.get_by_role("button", name="That is right").click()
    string = page.get_by_role("heading", level=2).inner_text().split("Bring the ")[1][0]
    page.get_by_role("slider", name=f"Fine tuner of the {string} string").press("ArrowUp")
    page.get_by_role("button", name=f"Pluck the {string}").click()
    page.get_by_role("figure").wait_for()


def _say_by_ear(page: Page) -> None:
    """A string beside its tone."""
    page.get_by_role("radio", name="a tone and the ear").click()
    page.get_by_role("button", name="a little lower").click()
    page.get_by_text("Kept:").wait_for()


def _begin_class(page: Page) -> None:
    """A class at its second string."""
    page.get_by_role("button", name="Begin").click()
    page.get_by_label("A sounds").wait_for()
    page.keyboard.press("PageDown")
    page.get_by_label("D sounds").wait_for()


SHARED = {"name": "pondus-tern.local", "addresses": ["192.168.4.20"], "port": 8444, "authority": None}
"""As the camp's computer would be shared, on its island's network."""


def _helper(url: str) -> str:
    """The cookie of a helper's phone that was let in."""
    engine = engine_for(url)
    with session_on(engine) as session:
        device_store.set_passphrase(session, "Maren", "lanterns over the mudflats")
        helper = next(row for row in people(session) if row.name == "Joost")
        entered = device_store.let_in(session, "helper", person_id=helper.id, name=helper.name, kind="phone")
        studio = device_store.sign_in_row(session).studio
    engine.dispose()
    return f"pondus-{studio}={entered.token}"


def _show_code(page: Page) -> None:
    """A code for a helper's device."""
    page.get_by_role("combobox", name="Who").select_option(label="Wibke")
    page.get_by_role("button", name="Show a code").click()
    page.get_by_text("once, until").wait_for()


_View = tuple[str, str, tuple[int, int], Callable[[Page], None] | None]


def _views() -> list[_View]:
    """Each view: its picture's name, its place, the size, and what is done before."""
    violin, cello = f"/bench/{demo_id('Sandpiper')}", f"/bench/{demo_id('Eider')}"
    fifths = violin.replace("/bench/", "/fifths/")
    return [
        ("morning", "/morning", WIDE, None),
        ("morning-phone", "/morning", PHONE, None),
        ("ledger", f"/ledger/{demo_id('Knot')}", WIDE, None),
        ("care", "/care", WIDE, None),
        ("roll", "/roll", WIDE, None),
        ("lists", "/bring", WIDE, _bring),
        ("sweep", "/sweep", WIDE, _hear_one),
        ("bench", violin, WIDE, None),
        ("how-we-tune", violin, WIDE, lambda page: page.get_by_role("button", name="How we tune").click()),
        ("bench-tablet", cello, TABLET, lambda page: page.get_by_role("button", name="C string").click()),
        ("bench-phone", violin, PHONE, _say_by_ear),
        ("parts", "/parts", WIDE, None),
        ("simulated", f"/bench/{demo_id('Avocet')}", (1280, 1180), _take_in_hand),
        ("fifths", fifths, WIDE, None),
        ("class", "/class", WIDE, _begin_class),
        ("practice", f"/practice?who={demo_id('Thyra')}", WIDE, None),
        ("drill", "/practice/try/screw-plucked?kind=violin", WIDE, _pluck_and_turn),
    ]


def retake() -> None:
    """Take every picture anew."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with scratch_cluster() as cluster, sync_playwright() as playwright, ExitStack() as at_last:
        url = cluster.ensure_database("pondus")
        migrate(url)
        fill(url)
        told = cluster.home.folder / "share.json"
        told.write_text(json.dumps(SHARED))
        server, room = (
            RunningServer(url, config=WebConfig(url, port_file=cluster.port_file, door=door, share_file=told))
            for door in ("loopback", "shared")
        )
        for running in (server, room):
            running.start()
            at_last.callback(running.stop)
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        at_last.callback(browser.close)

        for name, path, size, act in _views():
            _shoot(browser, name, server.address + path, size, act)
        _shoot(browser, "mine-phone", room.address + "/mine", PHONE, cookie=_helper(url))
        _shoot(browser, "devices", server.address + "/devices", WIDE, _show_code)


def _shoot(
    browser: Browser,
    name: str,
    address: str,
    size: tuple[int, int],
    act: Callable[[Page], None] | None = None,
    *,
    cookie: str | None = None,
) -> None:
    context = browser.new_context(viewport={"width": size[0], "height": size[1]}, reduced_motion="reduce")
    page = context.new_page()
    if cookie is not None:
        key, value = cookie.split("=")
        context.add_cookies([{"name": key, "value": value, "url": address}])
    page.goto(address)
    page.wait_for_load_state("networkidle")
    if act is not None:
        act(page)
    page.wait_for_timeout(500)
    page.screenshot(path=FOLDER / f"{name}.png")
    context.close()
    print(f"docs/screenshots/{name}.png")

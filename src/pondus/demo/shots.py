"""Retakes docs/screenshots: starts the demo studio on its own database and photographs its main views."""

from collections.abc import Callable

from playwright.sync_api import Page, sync_playwright

from pondus.demo.camp import demo_id
from pondus.demo.studio import fill
from pondus.running.places import CHECKOUT
from pondus.running.scratch_studio import scratch_server

FOLDER = CHECKOUT / "docs" / "screenshots"
WIDE, TABLET, PHONE = (1280, 800), (820, 1180), (390, 844)


CAMP_LIST = (
    "Etikett;Kind;Size;Who;Strings since\nStilt;violin;3/4;Jella;5.4.2026\nScoter;harp;;;\nSmew;cello;1/2;;6.4.2026\n"
)


def _bring(page: Page) -> None:
    """A list with an unknown header and a row that can't be."""
    file = {"name": "camp.csv", "mimeType": "text/csv", "buffer": CAMP_LIST.encode()}
    page.locator("input[type=file]").set_input_files(file)  # type: ignore[arg-type]
    page.get_by_label("Column Etikett").select_option("label")
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
    page.get_by_role("region", name="History of this tuning").get_by_role("listitem").first.wait_for()


def retake() -> None:
    """Take every picture anew."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with scratch_server(fill=fill) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])

        def shoot(name: str, path: str, size: tuple[int, int], act: Callable[[Page], None] | None = None) -> None:
            page = browser.new_page(viewport={"width": size[0], "height": size[1]})
            page.goto(address + path)
            page.wait_for_load_state("networkidle")
            if act is not None:
                act(page)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
            print(f"docs/screenshots/{name}.png")

        violin, cello = f"/bench/{demo_id('Sandpiper')}", f"/bench/{demo_id('Eider')}"
        shoot("morning", "/morning", WIDE)
        shoot("morning-phone", "/morning", PHONE)
        shoot("ledger", f"/ledger/{demo_id('Knot')}", WIDE)
        shoot("care", "/care", WIDE)
        shoot("roll", "/roll", WIDE)
        shoot("lists", "/bring", WIDE, _bring)
        shoot("sweep", "/sweep", WIDE, _hear_one)
        shoot("bench", violin, WIDE)
        shoot("how-we-tune", violin, WIDE, lambda page: page.get_by_role("button", name="How we tune").click())
        shoot("bench-tablet", cello, TABLET, lambda page: page.get_by_role("button", name="C string").click())
        shoot("bench-phone", violin, PHONE)
        shoot("parts", "/parts", WIDE)
        shoot("simulated", f"/bench/{demo_id('Avocet')}", (1280, 1180), _take_in_hand)
        fifths = violin.replace("/bench/", "/fifths/")
        shoot("fifths", fifths, WIDE)
        shoot("fifths-phone", fifths, PHONE)
        browser.close()

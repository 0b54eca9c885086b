"""Every screen of the demo studio at every size, in light and dark: nothing runs out of the page, nothing for axe to remark."""

import re
import unittest
from collections.abc import Callable
from contextlib import suppress

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import BrowserContext, Page, Route, TimeoutError, expect

from pondus.demo.camp import demo_id
from pondus.demo.studio import fill
from tests.browser.page import SIZES, BrowserTest

NARROW = (320, 640)
ZOOMED = (320, 200)
"""1280×800 at 400 %."""
SCREENS = {
    "morning": "/morning",
    "hear them all": "/sweep",
    "roll": "/roll",
    "care": "/care",
    "lists": "/bring",
    "parts": "/parts",
    "help": "/help",
    "bench": f"/bench/{demo_id('Sandpiper')}",
    "cello's bench": f"/bench/{demo_id('Eider')}",
    "fifths": f"/fifths/{demo_id('Sandpiper')}",
    "paper": "/paper",
    "class": "/class",
    "before a stage": "/stage",
    "first time": "/first",
    "plain bench": f"/plain/{demo_id('Sandpiper')}",
    "two people": f"/two/{demo_id('Eider')}",
    "practice": "/practice",
    "a player's practice": f"/practice?who={demo_id('Thyra')}",
    "a drill": "/practice/try/flat-or-sharp?kind=cello",
    "a drill for hands": "/practice/try/screw-plucked?kind=violin",
    "ledger": f"/ledger/{demo_id('Knot')}",
}


def _held_back(context: BrowserContext) -> list[Route]:
    """Requests of the pages that get no answer; all but who is there."""
    waiting: list[Route] = []

    def hold(route: Route) -> None:
        waiting.append(route)

    context.route(lambda url: "/api/" in url and not url.endswith("/api/me"), hold)
    return waiting


def _press(name: str) -> Callable[[Page], None]:
    return lambda page: page.get_by_role("button", name=name, exact=True).click()


OPENED: dict[str, tuple[str, Callable[[Page], None]]] = {
    "How we tune": ("bench", _press("How we tune")),
    "More": ("bench", _press("More")),
    "Something wrong": ("bench", _press("Something wrong?")),
    "turned otherwise": ("bench", _press("I turned it differently")),
    "why": ("bench", _press("Why this?")),
    "listening": ("bench", lambda page: page.get_by_role("radio", name="microphone").click()),
    "simulated": ("cello's bench", lambda page: page.get_by_role("radio", name="simulated instrument").click()),
}

MOVING = """
() => {
    window.pressed = [];
    const main = document.querySelector("main");
    const add = (said, then) => {
        const button = main.appendChild(document.createElement("button"));
        button.textContent = said;
        button.style.display = "block";
        button.onclick = () => {
            window.pressed.push(button.textContent);
            then?.(button);
        };
    };
    add("moves away", (button) => button.remove());
    add("beneath");
    add("says Start", (button) => {
        button.textContent = button.textContent === "says Start" ? "says Stop" : "says Start";
    });
    add("stays");
}
"""
"""Buttons that go, and that say something else, as soon as they are pressed."""
TAPPED_TWICE = """
(button) => {
    const { x, y } = button.getBoundingClientRect();
    const tap = { bubbles: true, cancelable: true, detail: 1, pointerType: "touch", clientX: x + 4, clientY: y + 4 };
    for (let time = 0; time < 2; time += 1) button.dispatchEvent(new PointerEvent("click", tap));
}
"""
"""As a finger does it: each click is counted as the first."""


class TestEveryScreen(BrowserTest):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        fill(cls.url)

    def come(self, screen: str, size: tuple[int, int]) -> Page:
        context = self.browser.new_context(
            viewport={"width": size[0], "height": size[1]},
            color_scheme="light",
            reduced_motion="reduce",
            service_workers="block",
        )
        self.addCleanup(context.close)
        page = self.open(SCREENS[screen], context=context)
        expect(page.locator("main")).to_be_visible()
        expect(page.get_by_text("Fetching")).to_have_count(0)
        return page

    def assert_fits(self, page: Page, said: str) -> None:
        """Drawings are measured a frame after the page has another width."""
        with suppress(TimeoutError):
            page.wait_for_function(f"() => ({RUNS_OUT})().length === 0")
        self.assertEqual(page.evaluate(RUNS_OUT), [], said)

    def assert_axe_is_content(self, page: Page, said: str) -> None:
        found = Axe().run(page).response["violations"]
        remarks = [f"{one['id']}: {one['nodes'][0]['html'][:160]}" for one in found]
        self.assertEqual(remarks, [], said)

    def test_nothing_runs_out_axe_has_no_remark_and_each_has_a_title_of_its_own(self) -> None:
        titles = []
        for screen in SCREENS:
            page = self.come(screen, SIZES[0])
            expect(page.get_by_role("heading", level=1)).to_have_count(1)
            titles.append(page.title())
            for size in (*SIZES, NARROW, ZOOMED):
                with self.subTest(screen=screen, size=size):
                    page.set_viewport_size({"width": size[0], "height": size[1]})
                    page.wait_for_function("wide => document.documentElement.clientWidth === wide", arg=size[0])
                    self.assert_fits(page, f"{screen} at {size}")
                    if size in (SIZES[0], SIZES[-1]):
                        self.assert_axe_is_content(page, f"{screen} at {size}")
            with self.subTest(screen=screen, theme="dark"):
                page.evaluate("document.documentElement.dataset.theme = 'dark'")
                page.set_viewport_size({"width": SIZES[0][0], "height": SIZES[0][1]})
                self.assert_axe_is_content(page, f"{screen}, dark")
            page.close()
        self.assertEqual(len(set(titles)), len(SCREENS), titles)

    def test_nor_of_what_can_be_opened(self) -> None:
        for opened, (screen, act) in OPENED.items():
            with self.subTest(opened=opened):
                page = self.come(screen, SIZES[0])
                act(page)
                self.assert_axe_is_content(page, opened)
                page.evaluate("document.documentElement.dataset.theme = 'dark'")
                page.set_viewport_size({"width": SIZES[2][0], "height": SIZES[2][1]})
                self.assert_fits(page, opened)
                self.assert_axe_is_content(page, opened)
                page.close()

    def test_a_page_that_still_waits_has_one_content_and_one_heading(self) -> None:
        """A slow server: nothing but who is there has been answered yet."""
        for screen, address in SCREENS.items():
            with self.subTest(screen=screen):
                context = self.browser.new_context(service_workers="block")
                waiting = _held_back(context)
                page = self.open(address, context=context)
                expect(page.get_by_role("heading", level=1)).to_have_count(1)
                expect(page.locator("main")).to_have_count(1)
                expect(page.locator("main")).to_be_visible()
                self.assertTrue(waiting)
                for route in waiting:
                    route.abort()
                context.close()

    def test_a_page_is_painted_before_its_script_has_come(self) -> None:
        context = self.browser.new_context(service_workers="block", color_scheme="dark")
        self.addCleanup(context.close)
        held: list[Route] = []

        def hold(route: Route) -> None:
            held.append(route)

        context.route("**/assets/index*.js", hold)
        page = context.new_page()
        page.goto(self.server.address, wait_until="commit")
        name = page.locator("#frame").get_by_text("Pondus")
        expect(name).to_be_visible()
        self.assertEqual(page.evaluate("getComputedStyle(document.documentElement).backgroundColor"), "rgb(25, 23, 20)")
        held.pop().continue_()
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        expect(name).to_be_hidden()

    def test_a_double_click_is_never_for_what_moved_under_it(self) -> None:
        page = self.come("roll", SIZES[0])
        page.evaluate(MOVING)
        for text, pressed in (("moves away", ["moves away"]), ("says Start", ["says Start"]), ("stays", ["stays", "stays"])):
            with self.subTest(text):
                page.evaluate("pressed.length = 0")
                page.get_by_role("button", name=text).dblclick()
                self.assertEqual(page.evaluate("pressed"), pressed)
        page.get_by_role("button", name="beneath").click()
        self.assertEqual(page.evaluate("pressed.at(-1)"), "beneath", "a click of its own, later or elsewhere, is one")
        for text, pressed in (("says", ["says Stop"]), ("stays", ["stays", "stays"])):
            with self.subTest(text, finger=True):
                page.evaluate("pressed.length = 0")
                page.get_by_role("button", name=text).evaluate(TAPPED_TWICE)
                self.assertEqual(page.evaluate("pressed"), pressed)

    def test_help_is_found_by_words(self) -> None:
        page = self.come("help", SIZES[2])
        sections = page.locator("main section")
        self.assertGreater(sections.count(), 8)
        page.get_by_role("searchbox").fill("Tablet code")
        expect(sections).to_have_count(1)
        expect(page.get_by_role("heading", name="On tablets and phones")).to_be_visible()
        page.get_by_role("searchbox").fill("bagpipe")
        expect(page.get_by_role("status")).to_contain_text("Nothing here speaks of that.")

    def test_focus_goes_to_the_heading_of_the_page_that_comes(self) -> None:
        page = self.come("roll", SIZES[0])
        page.get_by_role("link", name="Care", exact=True).click()
        expect(page.get_by_role("heading", level=1, name="Care")).to_be_focused()
        page.reload()
        expect(page.get_by_role("region", name="The room")).to_be_visible()
        page.keyboard.press("Tab")
        expect(page.get_by_role("link", name="To the content")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.locator("main")).to_be_focused()

    def test_the_line_stays_where_it_is_on_a_phone_with_strings_and_move_in_sight(self) -> None:
        page = self.come("bench", SIZES[2])
        page.get_by_role("button", name="D string").click()
        line = page.get_by_label("What does the tuner show")
        before = line.bounding_box()
        line.fill("-14")
        line.press("Enter")
        expect(page.get_by_role("region", name="Next move")).to_contain_text("−14")
        self.assertEqual(line.bounding_box(), before)
        header = page.locator("header").bounding_box()
        move = page.get_by_role("region", name="Next move").get_by_role("heading", level=2).bounding_box()
        assert header is not None and move is not None
        self.assertLess(header["height"], 64)
        self.assertLess(move["y"] + move["height"], SIZES[2][1])

    def test_a_clearance_is_taken_back_where_it_was_pressed(self) -> None:
        page = self.open("/practice")
        ready = page.get_by_role("region", name="Ready for more")
        button = ready.get_by_role("button", name=re.compile("Clear .* for stage")).first
        name = button.inner_text()
        button.click()
        expect(ready.get_by_role("status")).to_contain_text("is cleared for stage")
        expect(ready.get_by_role("button", name=name, exact=True)).to_have_count(0)
        ready.get_by_role("button", name="Undo").click()
        expect(ready.get_by_role("button", name=name, exact=True)).to_have_count(1)

    def test_paper_says_what_it_is_and_holds_no_controls(self) -> None:
        for screen, said in (
            ("bench", "Sandpiper: strings"),
            ("morning", "Morning"),
            ("care", "Care"),
            ("ledger", "Knot: ledger"),
        ):
            page = self.come(screen, SIZES[0])
            page.emulate_media(media="print")
            expect(page.locator("p:visible", has_text=f"{said} · ")).to_be_visible()
            controls = page.locator("button:visible:not(.on-paper), input:visible, select:visible, nav:visible")
            expect(controls).to_have_count(0)
            page.close()


RUNS_OUT = """
() => {
    const wide = document.documentElement.clientWidth;
    const scrolls = element => {
        for (let at = element; at !== null; at = at.parentElement) {
            const { overflowX } = getComputedStyle(at);
            if (overflowX === "auto" || overflowX === "scroll" || overflowX === "hidden" || overflowX === "clip") return true;
        }
        return false;
    };
    const out = [];
    if (document.documentElement.scrollWidth > wide) out.push(`the page is ${document.documentElement.scrollWidth} wide`);
    for (const element of document.querySelectorAll("body *")) {
        const box = element.getBoundingClientRect();
        if (box.width < 2 || box.height < 2 || getComputedStyle(element).visibility === "hidden") continue;
        if ((box.right > wide + 1 || box.left < -1) && !scrolls(element.parentElement)) {
            out.push(`${element.tagName} ${(element.textContent ?? "").slice(0, 40)} from ${box.left} to ${box.right}`);
        }
    }
    return out.slice(0, 3);
}
"""


if __name__ == "__main__":
    unittest.main()

"""The simulated instrument in a real browser: taken in hand, bowed, turned by what Pondus says, broken and put right."""

import math
import re
import time
from contextlib import nullcontext

from playwright.sync_api import Locator, Page, expect

from tests.browser.page import SIZES, BrowserTest


class SimulatedTest(BrowserTest):
    def take(self, kind: str, label: str, start: str | None = None) -> Page:
        page = self.add(kind, label)
        page.get_by_role("radio", name="simulated instrument").click()
        if start is not None:
            page.get_by_label("Begin with").select_option(label=start)
        page.get_by_role("button", name="Take it in hand").click()
        expect(self.knob(page, "peg", "A")).to_be_visible()
        return page

    def knob(self, page: Page, kind: str, string: str) -> Locator:
        what = "Peg" if kind == "peg" else "Fine tuner"
        return page.get_by_role("slider", name=f"{what} of the {string} string")


class TestTuningIt(SimulatedTest):
    def test_following_the_advice_brings_a_string_in(self) -> None:
        page = self.take("violin", "Whooper", "sharp from a cold night")
        page.get_by_role("button", name="How we tune").click()
        page.get_by_role("radio", name="turn, then read").click()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Bow A", exact=True).click()
        move = page.get_by_role("region", name="Next move")
        history = self.history(page)
        expect(history).to_contain_text("simulated")
        for _ in range(40):
            page.get_by_role("button", name="A string").click()
            expect(page.locator("[aria-busy=true]")).to_have_count(0)
            text = move.inner_text()
            if "Leave it" in text:
                break
            cents = re.search(r"should go (up|down) ([\d.]+) cent", text)
            if cents is None:  # another reading came in this very moment, and waits for its answer
                continue
            notches = max(1, round(float(cents[2]) / 40.0 * 16))
            knob = self.knob(page, "screw", "A")
            knob.focus()
            newest = history.get_by_text(re.compile("read .* Hz")).first
            before = re.search(r"[\d.]+ Hz", newest.inner_text())
            assert before is not None
            for _ in range(min(8, notches)):
                knob.press("ArrowUp" if cents[1] == "up" else "ArrowDown")
            # What was read on the way may have come and gone meanwhile.
            expect(newest).not_to_contain_text(before[0])
        page.get_by_role("button", name="A string").click()
        expect(move).to_contain_text("Leave it")
        self.assertEqual(self.complaints, [])

    def test_wheel_and_drag_turn_too(self) -> None:
        page = self.take("cello", "Bewick")
        knob = self.knob(page, "screw", "D")
        knob.hover()
        for _ in range(4):
            page.mouse.wheel(0, -100)
        expect(knob).to_have_attribute("aria-valuetext", "0.25 turns from its middle")
        box = knob.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x + 20, y)
        page.mouse.down()
        page.mouse.move(x + 14, y + 14, steps=4)
        page.mouse.move(x, y + 20, steps=4)
        page.mouse.up()
        expect(knob).to_have_attribute("aria-valuetext", re.compile(r"0\.(4[5-9]|5\d)"))

    def test_a_finger_turns_a_whole_circle_and_moves_no_page(self) -> None:
        for number, (width, height) in enumerate(SIZES[1:]):
            context = self.browser.new_context(
                viewport={"width": width, "height": height}, has_touch=True, is_mobile=True, service_workers="block"
            )
            self.addCleanup(context.close)
            page = self.add("violin", f"Gadwall {number}", context)
            page.get_by_role("radio", name="simulated instrument").tap()
            page.get_by_role("button", name="Take it in hand").tap()
            finger = context.new_cdp_session(page)
            for kind, unit in (("screw", "turns"), ("peg", "peg")):
                knob = self.knob(page, kind, "A")
                knob.scroll_into_view_if_needed()
                box = knob.bounding_box()
                assert box is not None
                x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
                scrolled = page.evaluate("scrollY")
                cancelled = "document.addEventListener('pointercancel', () => { window.cancelled = true; })"
                page.evaluate(cancelled)
                begun = time.time()
                with page.expect_response(re.compile("/simulated")) if kind == "peg" else nullcontext():
                    for step in range(25):
                        way = math.radians(15.0 * step)
                        point = {"x": x + 22.0 * math.cos(way), "y": y + 22.0 * math.sin(way)}
                        finger.send(
                            "Input.dispatchTouchEvent",
                            {
                                "type": "touchStart" if step == 0 else "touchMove",
                                "touchPoints": [point],
                                "timestamp": begun + 0.016 * step,  # a quick finger, however slow the machine
                            },
                        )
                    finger.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
                if kind == "screw":
                    # Clockwise, most of a turn or a whole one, in as many parts as a slow machine makes of it.
                    expect(knob).to_have_attribute("aria-valuetext", re.compile(r"^(0\.(3[6-9]|[4-9]\d)|1\.[01]\d?) turns"))
                self.assertEqual(page.evaluate("scrollY"), scrolled, f"{unit} at {width}")
                self.assertIsNone(page.evaluate("window.cancelled ?? null"))

    def test_past_its_end_a_screw_says_so(self) -> None:
        page = self.take("violin", "Shoveler")
        knob = self.knob(page, "screw", "G")
        knob.focus()
        for _ in range(140):  # from one end to the other is 128
            knob.press("ArrowUp")
        expect(page.get_by_role("alert")).to_contain_text("turns further in")


class TestHurtingIt(SimulatedTest):
    def test_a_broken_string_is_plain_and_put_right_with_one_button(self) -> None:
        page = self.take("violin", "Garganey", "in tune")
        peg = self.knob(page, "peg", "E")
        peg.focus()
        alert = page.get_by_role("alert").filter(has_text="string broke.")
        for _ in range(25):
            for _ in range(8):
                peg.press("ArrowUp")
            page.wait_for_timeout(450)
            if alert.is_visible():
                break
        expect(alert).to_contain_text("The E string broke.")
        page.get_by_role("button", name="Put on a new one").click()
        expect(alert).to_have_count(0)


class TestFifthsOfIt(SimulatedTest):
    def test_a_double_stop_of_it_is_heard_and_kept(self) -> None:
        page = self.take("viola", "Smew")
        page.get_by_role("link", name="Fifths").click()
        page.get_by_role("button", name="Simulated instrument").click()
        page.get_by_role("button", name="Bow G and D").click()
        expect(page.get_by_role("region", name="Checks made")).to_contain_text("G–D")

    def test_nothing_runs_out_of_the_page(self) -> None:
        page = self.take("cello", "Pochard")
        for width, height in SIZES:
            page.set_viewport_size({"width": width, "height": height})
            page.wait_for_function("width => document.documentElement.clientWidth === width", arg=width)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), width)

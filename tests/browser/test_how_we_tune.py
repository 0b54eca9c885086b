"""Settings and fittings change the advice; the pages are usable by everyone."""

import unittest

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.browser.page import BrowserTest


class TestHowWeTune(BrowserTest):
    def choose(self, page: Page, group: str, option: str) -> None:
        page.get_by_role("radiogroup", name=group).get_by_role("radio", name=option, exact=True).click()

    def test_stance_school_and_who_turns(self) -> None:
        page = self.add("cello", "Gadwall")
        self.type_reading(page, "A3 -40")
        page.get_by_role("button", name="How we tune").click()
        self.choose(page, "Where the instrument is", "playing position, I sit behind it")
        expect(page.get_by_text("top edge to your left")).to_be_visible()
        first = page.get_by_role("region", name="String board").get_by_role("button").first
        expect(first).to_have_attribute("aria-label", "A string, flat")
        self.choose(page, "Fifths", "pure")
        expect(page.get_by_text("right at −5.9")).to_be_visible()
        self.choose(page, "When the peg", "always")
        self.choose(page, "Who turns", "student, fine tuners only")
        expect(page.get_by_text("Take it to your teacher", exact=True)).to_be_visible()

    def test_kept_for_the_instrument_a_new_tuning_begins_so(self) -> None:
        page = self.add("violin", "Mallard")
        page.get_by_role("button", name="How we tune").click()
        self.choose(page, "Good enough", "exact, ±1")
        page.get_by_role("button", name="Keep for this violin").click()
        expect(page.get_by_text("Kept: new tunings begin so.")).to_be_visible()
        page.keyboard.press("Escape")
        self.new_tuning(page)
        self.type_reading(page, "-2")
        expect(page.get_by_role("button", name="A string, flat")).to_be_visible()

    def test_a_screw_at_its_end_changes_the_order(self) -> None:
        page = self.add("cello", "Teal")
        for _ in range(3):
            page.keyboard.press("PageUp")
        page.get_by_role("button", name="How we tune").click()
        self.choose(page, "Its fine tuner stands", "all in")
        page.keyboard.press("Escape")
        self.type_reading(page, "-30")
        expect(page.get_by_text("C fine tuner out 4 turns counter-clockwise")).to_be_visible()
        expect(page.get_by_text("near its end")).to_be_visible()

    def test_the_rest_of_the_round(self) -> None:
        page = self.add("violin", "Pochard")
        for reading in ("-12", "D4 9"):
            self.type_reading(page, reading)
            page.keyboard.press("PageUp")
        rest = page.get_by_role("region", name="Rest of the round").first
        expect(rest).to_contain_text("2 moves, about")
        expect(rest).to_contain_text("Still to hear: G, E.")


class TestForEveryone(BrowserTest):
    def test_no_violations_in_light_and_dark(self) -> None:
        page = self.add("viola", "Eiderling")
        self.type_reading(page, "A4 -40")
        for theme in ("light", "dark"):
            with self.subTest(theme=theme):
                found = Axe().run(page).response["violations"]
                serious = [each["id"] for each in found if each["impact"] in ("serious", "critical")]
                self.assertEqual(serious, [], found)
            page.get_by_role("button", name="Change to").click()


if __name__ == "__main__":
    unittest.main()

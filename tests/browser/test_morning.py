"""The morning in a real browser: instruments change groups as they are read elsewhere, and the plan follows who is there."""

from playwright.sync_api import expect

from tests.browser.page import SIZES, BrowserTest


class TestMorning(BrowserTest):
    def test_two_browsers_one_reads_the_other_sees_it_sorted(self) -> None:
        bench = self.add("violin", "Corncrake")
        watching = self.browser.new_context(viewport={"width": 1280, "height": 800})
        self.addCleanup(watching.close)
        morning = self.open("/morning", context=watching)
        expect(morning.get_by_role("region", name="Still to hear")).to_contain_text("Corncrake")
        for typed in ("A4 0", "D4 -11", "G3 1", "E5 0"):
            bench.get_by_role("button", name=f"{typed[0]} string").click()
            self.type_reading(bench, typed)
        expect(morning.get_by_role("region", name="A student can")).to_contain_text("Corncrake", timeout=15_000)
        expect(morning.get_by_role("region", name="Who does what")).to_contain_text("All done by")
        morning.get_by_role("button", name="Add a student").click()
        expect(morning.get_by_role("region", name="Who does what")).to_contain_text("student 1")
        bench.get_by_role("button", name="D string").click()
        self.type_reading(bench, "D4 1")
        expect(morning.get_by_role("region", name="Leave")).to_contain_text("Corncrake", timeout=15_000)
        morning.get_by_role("link", name="Corncrake").first.click()
        expect(morning.get_by_role("heading", name="Corncrake")).to_be_visible()
        morning.get_by_role("link", name="Morning").click()
        for width, height in SIZES:
            morning.set_viewport_size({"width": width, "height": height})
            morning.wait_for_function("width => document.documentElement.clientWidth === width", arg=width)
            self.assertLessEqual(morning.evaluate("document.documentElement.scrollWidth"), width)
        self.assertEqual(self.complaints, [])

"""The morning in a real browser: instruments change groups as they are read elsewhere, and the plan follows who is there."""

import re
import time

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, Route, expect

from tests.browser.page import SIZES, BrowserTest


class TestMorning(BrowserTest):
    def second_browser(self, path: str) -> Page:
        context = self.browser.new_context(viewport={"width": 1280, "height": 800})
        self.addCleanup(context.close)
        return self.open(path, context=context)

    def test_a_whole_morning_with_two_browsers(self) -> None:
        for kind, label in (("violin", "Corncrake"), ("viola", "Pipit"), ("cello", "Merlin")):
            self.add(kind, label)
        teacher = self.open("/")
        expect(teacher).to_have_url(f"{self.server.address}/morning")
        expect(teacher.get_by_role("region", name="Still to hear")).to_contain_text("Corncrake")

        helper = self.second_browser("/sweep")
        for line, label in (("0 -11 1 0", "Corncrake"), ("-30 x 0 2", "Merlin"), ("1 0 -1 2", "Pipit")):
            helper.get_by_role("region", name="Still to hear").get_by_role("button", name=label).click()
            expect(helper.get_by_role("heading", name=label)).to_be_visible()
            box = helper.get_by_role("textbox")
            box.fill(line)
            box.press("Enter")
            expect(box).to_have_value("")
        expect(helper.get_by_role("region", name="Just heard")).to_contain_text("leave it")
        expect(helper.get_by_role("heading", name="Merlin")).to_be_visible()
        helper.get_by_role("textbox").fill("G F2 0")
        helper.get_by_role("textbox").press("Enter")
        expect(helper.get_by_text("All are heard.")).to_be_visible()

        expect(teacher.get_by_role("region", name="Fine tuners only")).to_contain_text("Corncrake")
        expect(teacher.get_by_role("region", name="Pegs, or with care")).to_contain_text("Merlin")
        expect(teacher.get_by_role("region", name="Leave as it is")).to_contain_text("Pipit")
        teacher.get_by_role("button", name="Add a student").click()
        plan = teacher.get_by_role("region", name="Who does what")
        expect(plan).to_contain_text("Nobody here may do Merlin")
        teacher.get_by_role("button", name="Add a teacher").click()
        expect(plan).to_contain_text("All done by")

        helper.get_by_role("link", name="Morning").click()
        helper.get_by_role("button", name="Begin Corncrake").click()
        expect(helper.get_by_role("heading", name="Corncrake")).to_be_visible()
        expect(teacher.get_by_role("region", name="Fine tuners only")).to_contain_text("student 1 has it")
        helper.get_by_role("button", name="D string").click()
        self.type_reading(helper, "D4 1")
        expect(teacher.get_by_role("region", name="Leave as it is")).to_contain_text("Corncrake")

        teacher.get_by_role("button", name="Begin Merlin").click()
        expect(teacher.get_by_role("heading", name="Merlin")).to_be_visible()
        teacher.get_by_role("link", name="Fifths").click()
        expect(teacher).to_have_url(re.compile("at="))
        teacher.get_by_role("link", name="Strings").click()
        for string, typed in (("G", "G2 0"), ("C", "C2 0")):
            teacher.get_by_role("button", name=f"{string} string").click()
            self.type_reading(teacher, typed)
        teacher.get_by_role("link", name="Morning").click()
        expect(teacher.get_by_role("region", name="Who does what")).to_contain_text("All done")
        self.assertEqual(self.complaints, [])

    def test_sweeping_goes_on_while_the_answers_are_on_their_way(self) -> None:
        for label in ("Aardvark one", "Aardvark two", "Aardvark three"):
            self.add("violin", label)
        context = self.browser.new_context(service_workers="block")
        self.addCleanup(context.close)
        held: list[Route] = []

        def hold(route: Route) -> None:
            held.append(route)

        context.route("**/api/morning/heard", hold)
        page = self.open("/sweep", context=context)
        waiting = page.get_by_role("region", name="Still to hear")
        box = page.get_by_role("textbox")
        just_heard = page.get_by_role("region", name="Just heard")
        for label, line in (("Aardvark one", "12 3 0 -5"), ("Aardvark two", "1 2 q 4")):
            waiting.get_by_role("button", name=label).click()
            box.fill(line)
            box.press("Enter")
            expect(box).to_have_value("")
            expect(box).to_be_focused()
            expect(page.get_by_role("heading", name=label)).to_have_count(0)
        expect(just_heard).to_contain_text("12 3 0 -5 …")
        waiting.get_by_role("button", name="Aardvark three").click()
        box.press_sequentially("-")
        held.pop(0).continue_()
        expect(just_heard).to_contain_text(re.compile("G \\+12.*D \\+3.*A 0.*E −5"))
        expect(box).to_have_value("-")
        until = time.monotonic() + 60.0
        while not held and time.monotonic() < until:  # what is queued goes one after the other
            page.wait_for_timeout(20)
        held.pop(0).continue_()
        refused = page.get_by_role("alert")
        expect(refused).to_contain_text("Not kept: Aardvark two 1 2 q 4.")
        expect(box).to_have_value("-")
        context.unroute("**/api/morning/heard")
        box.fill("-3 0 1 2")
        box.press("Enter")
        expect(just_heard).to_contain_text(re.compile("Aardvark three.*G −3.*D 0.*A \\+1.*E \\+2"))
        refused.get_by_role("button", name="Type it again").click()
        expect(page.get_by_role("heading", name="Aardvark two")).to_be_visible()
        expect(box).to_have_value("1 2 q 4")
        box.fill("1 2 3 4")
        box.press("Enter")
        expect(just_heard).to_contain_text(re.compile("Aardvark two.*G \\+1.*E \\+4"))
        just_heard.get_by_role("button", name="Undo Aardvark one").click()
        expect(page.get_by_role("heading", name="Aardvark one")).to_be_visible()
        expect(box).to_have_value("12 3 0 -5")
        expect(waiting).to_contain_text("Aardvark one")

    def test_sweeping_ends_at_the_plan(self) -> None:
        self.add("violin", "Zebra")
        page = self.open("/sweep")
        waiting = page.get_by_role("region", name="Still to hear").get_by_role("listitem")
        expect(waiting.first).to_be_visible()
        while waiting.count():
            page.keyboard.press("PageDown")
            left = waiting.count()
            page.get_by_role("textbox").fill("0 0 0 0")
            page.get_by_role("textbox").press("Enter")
            expect(waiting).to_have_count(left - 1)
        on = page.get_by_role("link", name="To the plan")
        expect(on).to_be_focused()
        page.keyboard.press("Enter")
        expect(page).to_have_url(f"{self.server.address}/morning")

    def test_next_instrument_from_the_bench(self) -> None:
        self.add("violin", "Bittern")
        first = self.add("violin", "Crane")
        following = first.get_by_role("button", name="Next:")
        expect(following).to_be_visible()
        label = (following.get_attribute("aria-label") or "").removeprefix("Next:").strip()
        self.assertNotEqual(label, "Crane")
        following.click()
        expect(first.get_by_role("heading", name=label)).to_be_visible()

    def test_nothing_is_cut_and_all_can_be_read_at_any_size(self) -> None:
        page = self.add("violin", "Corncrake")
        instrument = page.url.rsplit("/", 1)[1]
        for path in ("/morning", "/sweep", "/roll", "/care", "/bring", f"/ledger/{instrument}"):
            page.goto(self.server.address + path)
            page.get_by_role("heading", level=1).first.wait_for(state="attached")
            page.wait_for_load_state("networkidle")
            self.assertEqual([each["id"] for each in Axe().run(page).response["violations"]], [], path)
            for width, height in SIZES:
                page.set_viewport_size({"width": width, "height": height})
                page.wait_for_function("width => document.documentElement.clientWidth === width", arg=width)
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), width, path)
        self.assertEqual(self.complaints, [])

"""Real hands at the bench: fast fingers, held keys, a lost network, a frozen or stopped server, two at one instrument."""

from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Locator, Page, Route, expect

from tests.browser.page import BrowserTest

DELIBERATE_MS = 1300


class HandsTest(BrowserTest):
    def line(self, page: Page) -> Locator:
        return page.get_by_label("What does the tuner show")

    def rows(self, page: Page) -> Locator:
        return self.history(page).get_by_role("listitem")

    def assert_history(self, page: Page, *newest_first: str) -> None:
        expect(self.rows(page)).to_have_count(len(newest_first))
        for row, text in zip(self.rows(page).all(), newest_first, strict=True):
            expect(row).to_contain_text(text)

    def two(self, label: str) -> tuple[Page, Page]:
        one = self.add("violin", label)
        other = self.open(one.url.removeprefix(self.server.address), context=self.browser.new_context())
        expect(self.line(other)).to_be_visible()
        return one, other

    @contextmanager
    def stopped(self) -> Iterator[None]:
        """The server is gone, and comes back on the same port."""
        self.server.stop(kill=True)
        try:
            yield
        finally:
            self.server.start()


class TestFromOneToTheNext(HandsTest):
    def test_the_next_instrument_starts_clean(self) -> None:
        self.add("violin", "A dunlin").close()
        page = self.add("cello", "Curlew")
        page.get_by_role("button", name="C string").click()
        self.line(page).fill("-1")
        page.get_by_role("button", name="Next: A dunlin").click()
        expect(page.get_by_role("heading", name="A dunlin")).to_be_visible()
        expect(page.get_by_label("What does the tuner show for the A string?")).to_be_focused()
        expect(self.line(page)).to_have_value("")
        self.assertEqual(self.complaints, [])

    def test_added_in_a_new_studio_it_is_tuned(self) -> None:
        page = self.open("/parts")
        page.route("**/api/instruments?*", lambda route: route.fulfill(json={"instruments": []}))
        page.goto(self.server.address + "/")
        page.get_by_role("button", name="Add and tune it").click()
        expect(self.line(page)).to_be_focused()
        self.assertIn("/bench/", page.url)
        self.type_reading(page, "-12")
        expect(page.get_by_text("A fine tuner up to A4")).to_be_visible()
        self.assertIn("/bench/", page.url)

    def test_a_new_tuning_can_be_taken_back(self) -> None:
        page = self.add("violin", "Knot")
        self.type_reading(page, "-12")
        self.assert_history(page, "A4 −12")
        self.new_tuning(page)
        self.assert_history(page)
        page.get_by_role("button", name="Back to the one before").click()
        self.assert_history(page, "A4 −12")
        expect(page.get_by_role("button", name="Back to the one before")).to_have_count(0)


class TestFastFingers(HandsTest):
    def test_every_figure_lands_on_its_string_once(self) -> None:
        page = self.add("violin", "Godwit")
        self.line(page).press_sequentially("0\n-7\n")
        expect(page.get_by_role("button", name="A string, in tune")).to_be_visible()
        self.assert_history(page, "D4 −7", "A4 0")

    def test_nor_does_a_whole_round_typed_at_once_go_astray(self) -> None:
        page = self.add("violin", "Sora")
        with self.server.frozen():
            self.line(page).press_sequentially("0\n0\n0\n-7\n")
            expect(page.get_by_text("4 entries wait")).to_be_visible()
        expect(self.rows(page)).to_have_count(4)
        self.assertEqual(len({text.split()[1] for text in self.rows(page).all_inner_texts()}), 4)

    def test_no_enter_makes_a_move_that_nobody_made(self) -> None:
        page = self.add("violin", "Ruff")
        self.line(page).fill("-12")
        page.keyboard.down("Enter")
        for _ in range(12):
            page.keyboard.down("Enter")  # held down: the keyboard repeats it
        page.keyboard.up("Enter")
        page.keyboard.press("Enter")
        page.keyboard.press("Enter")
        self.assert_history(page, "A4 −12")
        page.wait_for_timeout(DELIBERATE_MS)
        self.line(page).press("Enter")
        self.assert_history(page, "turned fine tuner up", "A4 −12")
        page.get_by_label("What does the tuner show").fill("-1")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="A string, in tune")).to_be_visible()

    def test_a_double_click_is_one_move(self) -> None:
        page = self.add("violin", "Tern")
        self.type_reading(page, "-12")
        page.get_by_role("button", name="I turned it", exact=True).dblclick()
        self.assert_history(page, "turned", "A4 −12")

    def test_what_is_refused_comes_back_or_stays_in_sight(self) -> None:
        page = self.add("violin", "Crake")
        with self.server.frozen():
            self.line(page).press_sequentially("A4 +77\n")
            expect(self.line(page)).to_have_value("")
            self.line(page).press_sequentially("-7")
        expect(page.get_by_role("alert").filter(has_text="past ±50").first).to_be_visible()
        expect(self.line(page)).to_have_value("-7")
        page.get_by_role("button", name="Leave it out").click()
        expect(page.get_by_role("button", name="Leave it out")).to_have_count(0)


class TestAnAwayServer(HandsTest):
    def test_frozen_everything_waits_in_order_and_is_stored_once(self) -> None:
        page = self.add("violin", "Plover")
        with self.server.frozen():
            self.line(page).press_sequentially("0\n-7\n")
            expect(page.get_by_text("2 entries wait")).to_be_visible()
            self.assertIn("−7", self.next_move(page) + page.get_by_role("region", name="String board").inner_text())
        self.assert_history(page, "D4 −7", "A4 0")
        expect(page.get_by_text("entries wait")).to_have_count(0)

    def test_stopped_for_long_it_is_all_sent_and_a_reload_loses_nothing(self) -> None:
        page = self.add("violin", "Turnstone")
        page.get_by_role("button", name="D string").click()
        with self.stopped():
            self.line(page).press_sequentially("-9\n")
            expect(page.get_by_text("1 entry waits").first).to_be_visible()
            expect(page.get_by_text("keeps trying").first).to_be_visible()
            self.line(page).fill("+3")
        self.assert_history(page, "D4 −9")
        expect(self.line(page)).to_have_value("+3")
        page.reload()
        expect(page.get_by_label("What does the tuner show for the D string?")).to_have_value("+3")

    def test_offline_in_the_browser_s_eyes_a_local_server_still_answers(self) -> None:
        page = self.add("violin", "Whimbrel")
        page.evaluate(
            "() => { Object.defineProperty(navigator, 'onLine', {get: () => false});"
            " window.dispatchEvent(new Event('offline')); }"
        )
        self.type_reading(page, "-12")
        expect(page.get_by_text("A fine tuner up to A4")).to_be_visible()
        page.get_by_role("link", name="Roll").click()
        expect(page.get_by_role("link", name="Whimbrel")).to_be_visible()

    def test_a_screen_asked_for_meanwhile_comes_by_itself(self) -> None:
        page = self.add("violin", "Sanderling")
        page.evaluate("navigator.serviceWorker?.getRegistrations().then(all => all.forEach(one => one.unregister()))")
        with self.stopped():
            page.get_by_role("link", name="Care", exact=True).click()
            expect(page.get_by_text("Pondus doesn’t answer just now").first).to_be_visible()
        expect(page.get_by_role("region", name="The room")).to_be_visible()


class TestTwoPeople(HandsTest):
    def test_each_sees_what_the_other_keeps(self) -> None:
        one, other = self.two("Oystercatcher")
        self.type_reading(one, "-12")
        expect(other.get_by_role("button", name="A string, flat")).to_be_visible()
        self.type_reading(other, "-4")
        expect(self.history(one)).to_contain_text("A4 −4")

    def test_one_turn_told_of_twice_is_one_move(self) -> None:
        one, other = self.two("Lapwing")
        self.type_reading(one, "-12")
        turned = "I turned it"
        expect(other.get_by_role("button", name=turned, exact=True)).to_be_visible()
        other.route("**/api/changes", lambda route: route.abort())
        # Both press before either can have heard of the other.
        held: list[Route] = []

        def hold(route: Route) -> None:
            held.append(route)

        other.route("**/moves", hold)
        other.get_by_role("button", name=turned, exact=True).click()
        one.get_by_role("button", name=turned, exact=True).click()
        self.assert_history(one, "turned", "A4 −12")
        for route in held:
            route.continue_()
        self.assert_history(other, "turned", "A4 −12")
        self.type_reading(one, "-1")
        self.assert_history(one, "A4 −1", "turned", "A4 −12")

    def test_a_new_tuning_moves_both(self) -> None:
        one, other = self.two("Avocet")
        self.type_reading(one, "-12")
        expect(self.rows(other)).to_have_count(1)
        self.new_tuning(one)
        expect(self.rows(other)).to_have_count(0)
        self.type_reading(other, "+4")
        self.assert_history(one, "A4 +4")


class TestOnePlace(HandsTest):
    def test_undo_takes_back_what_is_named_beside_it(self) -> None:
        one, other = self.two("Godwit")
        said = one.get_by_role("status")
        self.type_reading(one, "-12")
        expect(said.filter(has_text="Kept: A: A4 −12")).to_be_visible()
        one.get_by_role("button", name="D string").click()
        self.type_reading(one, "-30")
        self.assert_history(other, "D4 −30", "A4 −12")
        expect(said.filter(has_text="Kept: D: D4 −30")).to_be_visible()
        one.get_by_role("button", name="A string").click()
        self.line(one).press("Control+z")
        expect(said.filter(has_text="Taken back: D: D4 −30")).to_be_visible()
        expect(one.get_by_role("button", name="Undo: A: A4 −12")).to_be_visible()
        one.get_by_role("button", name="Bring back", exact=True).click()
        expect(said.filter(has_text="Kept: D: D4 −30")).to_be_visible()

    def test_one_after_the_other_is_taken_back_though_the_server_is_slow(self) -> None:
        page = self.add("violin", "Godwit three")
        for string, figure in (("A", "-12"), ("D", "-30"), ("G", "-20")):
            page.get_by_role("button", name=f"{string} string").click()
            self.type_reading(page, figure)
        said = page.get_by_role("status")
        with self.server.frozen():
            for string, undone in (("G: G3 −20", "D: D4 −30"), ("D: D4 −30", "A: A4 −12")):
                self.line(page).press("Control+z")
                expect(said.filter(has_text=f"Taken back: {string}")).to_be_visible()
                expect(page.get_by_role("button", name=f"Undo: {undone}")).to_be_visible()
        expect(self.rows(page).locator(".line-through")).to_have_count(2)
        self.new_tuning(page)
        expect(said.filter(has_text="Taken back")).to_have_count(0)

    def test_what_waits_is_taken_back_before_it_is_sent(self) -> None:
        page = self.add("violin", "Godwit two")
        with self.server.frozen():
            self.line(page).press_sequentially("-12\n")
            expect(page.get_by_role("status").filter(has_text="On its way: A -12")).to_be_visible()
            page.get_by_role("button", name="Undo: A -12").click()
            expect(page.get_by_role("status").filter(has_text="Taken back: A -12")).to_be_visible()
        self.type_reading(page, "-7")
        expect(self.rows(page).first).to_contain_text("A4 −7")
        expect(self.rows(page).locator(".line-through")).to_have_count(1)

    def test_no_old_advice_stands_beside_a_figure_that_is_not_answered_yet(self) -> None:
        page = self.add("violin", "Smew")
        self.type_reading(page, "-12")
        turned = page.get_by_role("button", name="I turned it", exact=True)
        expect(turned).to_be_visible()
        held: list[Route] = []

        def hold(route: Route) -> None:
            held.append(route)

        page.route("**/readings", hold)
        self.line(page).press_sequentially("-20\n")
        move = page.get_by_role("region", name="Next move")
        expect(move).to_contain_text("−20")
        expect(move.get_by_role("heading", name="…")).to_be_visible()
        expect(turned).to_have_count(0)
        expect(move.get_by_role("figure")).to_have_count(0)
        for route in held:
            route.continue_()
        expect(move.get_by_role("heading", name="…")).to_have_count(0)
        expect(move.get_by_role("button").first).to_be_visible()

    def test_on_a_phone_all_of_a_move_is_on_one_screen(self) -> None:
        at_desk = self.add("violin", "Stilt of the upper school")
        self.type_reading(at_desk, "-48")
        page = self.open(at_desk.url.removeprefix(self.server.address), size=(390, 844))
        for what in (
            page.get_by_role("group", name="Strings"),
            self.line(page),
            page.get_by_role("status").filter(has_text="Kept"),
            page.get_by_role("figure", name="Fine tuner of the A string"),
            page.get_by_role("button", name="I turned it", exact=True),
        ):
            expect(what).to_be_in_viewport(ratio=0.8)
        for width in (1280, 820, 390):
            page.set_viewport_size({"width": width, "height": 844})
            name = page.get_by_role("heading", level=1)
            cut = name.evaluate("at => [at, ...at.querySelectorAll('*')].some(each => each.scrollWidth > each.clientWidth + 1)")
            self.assertFalse(cut, width)


class TestKeys(HandsTest):
    def test_undo_and_help_stay_out_of_fields_and_panels(self) -> None:
        page = self.add("violin", "Snipe")
        self.type_reading(page, "-12")
        self.assert_history(page, "A4 −12")
        self.line(page).fill("12")
        page.keyboard.press("Control+z")  # the browser's own, in a line that holds something
        expect(page.get_by_role("button", name="Bring back", exact=True)).to_have_count(0)
        self.line(page).fill("")
        page.get_by_role("button", name="I turned it differently").click()
        page.get_by_label("By how many turns").press("Control+z")
        page.get_by_label("By how many turns").press("PageDown")
        page.get_by_label("By how many turns").press("?")
        expect(page.get_by_role("dialog", name="Keys")).to_have_count(0)
        expect(page.get_by_label("What does the tuner show for the A string?")).to_be_visible()
        page.get_by_role("button", name="How we tune").click()
        page.keyboard.press("PageDown")
        page.keyboard.press("Escape")
        expect(page.get_by_label("What does the tuner show for the A string?")).to_be_visible()
        self.line(page).focus()
        page.keyboard.press("?")
        expect(page.get_by_role("heading", name="Keys")).to_be_visible()
        page.keyboard.press("PageDown")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog", name="Keys")).to_have_count(0)
        expect(page.get_by_label("What does the tuner show for the A string?")).to_be_visible()
        self.line(page).focus()
        page.keyboard.press("Meta+z")
        expect(page.get_by_role("button", name="Bring back", exact=True)).to_have_count(1)


class TestAnUnknownBench(HandsTest):
    def test_it_is_said_with_the_way_out(self) -> None:
        page = self.open("/bench/00000000-0000-4000-8000-000000000000")
        expect(page.get_by_role("alert")).to_contain_text("There is no such instrument")
        page.get_by_role("link", name="Roll").click()
        expect(page.get_by_role("button", name="Add and tune it")).to_be_visible()

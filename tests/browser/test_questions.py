"""Questions in the real interface, answered by button, key, word and the next reading; sides; what can be wrong."""

import re

from playwright.sync_api import Page, expect

from tests.browser.page import SIZES, BrowserTest


class QuestionsTest(BrowserTest):
    def move(self, page: Page) -> str:
        return page.get_by_role("region", name="Next move").inner_text()

    def unmoved(self, label: str) -> Page:
        """A violin's A whose peg was turned without effect."""
        page = self.add("violin", label)
        self.type_reading(page, "F#4 -20")
        page.get_by_role("button", name="I turned it", exact=True).click()
        self.type_reading(page, "F#4 -20")
        expect(page.get_by_text("The A hardly moved: what was it?")).to_be_visible()
        return page


class TestLeftForNow(QuestionsTest):
    def at(self, page: Page, name: str) -> None:
        expect(page.get_by_label(f"What does the tuner show for the {name} string?")).to_be_visible()

    def test_a_string_the_others_will_bring_in_is_passed_and_says_why(self) -> None:
        page = self.add("violin", "Dunlin")
        line = page.get_by_label("What does the tuner show")
        self.type_reading(page, "0")
        self.at(page, "D")
        self.type_reading(page, "-45")
        line.press("PageUp")
        self.at(page, "G")
        self.type_reading(page, "-45")
        for name in ("D", "A", "E"):
            line.press("PageDown")
            self.at(page, name)
        self.type_reading(page, "0")
        self.at(page, "D")
        line.press("PageDown")
        self.at(page, "A")
        self.type_reading(page, "+3.6")
        self.at(page, "D")
        line.press("PageDown")
        expect(page.get_by_role("heading", name="Leave it for now")).to_be_visible()
        self.assertIn("what is still to be turned on the others will bring it down", self.move(page))
        self.assertIn("+3.6", self.move(page))
        page.get_by_role("button", name="Next string").click()
        self.at(page, "D")
        expect(page.get_by_role("heading", name="D fine tuner up to D4 +1")).to_be_visible()
        self.assertEqual(self.complaints, [])


class TestAnswers(QuestionsTest):
    def test_by_a_button(self) -> None:
        page = self.unmoved("Knot")
        self.assertNotIn("I turned it", self.move(page).split("\n"))
        page.get_by_role("button", name="It sprang back").click()
        expect(page.get_by_text("A peg up in small pushes to")).to_be_visible()
        self.assertIn("push it firmly in", self.move(page))
        self.assertEqual(self.complaints, [])

    def test_by_a_key(self) -> None:
        page = self.unmoved("Ruff")
        page.keyboard.press("Alt+1")
        expect(page.get_by_text("Play all the strings again, one by one").first).to_be_visible()

    def test_by_a_word_in_the_line(self) -> None:
        page = self.unmoved("Smew")
        self.type_reading(page, "not turned")
        expect(self.history(page).get_by_role("button", name="Bring back")).to_be_visible()
        expect(page.get_by_role("button", name="I turned it", exact=True)).to_be_visible()

    def test_by_the_next_reading(self) -> None:
        page = self.unmoved("Teal")
        self.type_reading(page, "G#4 -10")
        expect(page.get_by_text("what was it?")).to_have_count(0)
        self.assertIn("A peg up", self.move(page))


class TestWhichOctaveAndString(QuestionsTest):
    def test_lower_or_higher_is_answered_by_a_press(self) -> None:
        page = self.add("violin", "Stint")
        page.get_by_role("button", name="G string").click()
        self.type_reading(page, "Db 0")
        page.get_by_role("button", name="Lower: D♭3, 600 cents flat").click()
        expect(page.get_by_text("G peg up")).to_be_visible()

    def test_it_was_the_other_string(self) -> None:
        page = self.add("violin", "Brent")
        self.type_reading(page, "D4 -8")
        page.get_by_role("button", name="It was the D string").click()
        expect(page.get_by_label("What does the tuner show for the D string?")).to_be_visible()
        expect(page.get_by_role("region", name="Next move")).to_contain_text("−8")


class TestSidesAndTroubles(QuestionsTest):
    def test_three_buttons_for_a_tuner_without_figures(self) -> None:
        for size in SIZES:
            page = self.open("/roll", size=size)
            page.get_by_role("radio", name="viola", exact=True).click()
            page.get_by_label("Label on it, if any").fill(f"Godwit {size[0]}")
            page.get_by_role("button", name="Add and tune it").click()
            page.get_by_role("radio", name="its light").click()
            page.get_by_role("button", name="left: flat").click()
            expect(page.get_by_text("A fine tuner up until the light is in the middle")).to_be_visible()
            self.assertTrue(page.evaluate("document.documentElement.scrollWidth <= window.innerWidth"), size)
        page.get_by_role("button", name="It shows another letter than A").click()
        # A light beside G sharp says nothing of this string: each field says which letter it is about.
        expect(page.get_by_role("button", name="A left: flat")).to_be_visible()
        page.get_by_role("button", name="G♯", exact=True).click()
        expect(page.get_by_role("region", name="Next move")).to_contain_text("A fine tuner up to A")

    def test_a_broken_string_is_told_with_one_press(self) -> None:
        page = self.add("cello", "Fulmar")
        page.get_by_role("button", name="Something wrong?").click()
        page.get_by_role("radio", name="broken").click()
        expect(page.get_by_text("Put a new A string on")).to_be_visible()
        page.get_by_role("radio", name="has fallen").click()
        expect(page.get_by_text("Stop: this goes to the luthier")).to_be_visible()
        self.assertEqual(self.complaints, [])

    def test_pure_fifths_are_left_and_pure_is_offered(self) -> None:
        page = self.add("violin", "Dunlin")
        for name, shown in (("A", "0"), ("D", "-2"), ("G", "-4"), ("E", "+2")):
            page.get_by_role("button", name=f"{name} string").click()
            self.type_reading(page, shown)
        expect(page.get_by_text("Leave it: these are pure fifths")).to_be_visible()
        page.get_by_role("button", name="Tune pure").click()
        expect(page.get_by_role("button", name="in tune")).to_have_count(4)


class TestByHandWithoutFigures(QuestionsTest):
    """Whoever goes by letters, by a light or by ear has fields to press, and no figure stands before them."""

    def test_by_ear_from_much_lower_to_the_same_by_keys_alone(self) -> None:
        page = self.add("violin", "Pipit")
        page.get_by_role("radio", name="a tone and the ear").click()
        page.get_by_role("button", name="Sound the A").click()
        page.get_by_role("button", name="an octave higher").click()
        expect(page.get_by_role("button", name="Stop the A")).to_be_visible()
        page.keyboard.press("1")
        expect(page.get_by_text("A peg up to just under the tone")).to_be_visible()
        expect(page.get_by_text("A: much lower than its tone")).to_be_visible()
        page.keyboard.press("4")
        expect(page.get_by_text("A fine tuner down below the tone, then up to it")).to_be_visible()
        self.assertNotIn("cents", self.move(page))
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_text("A peg up to just under the tone")).to_be_visible()
        page.keyboard.press("3")
        expect(page.get_by_role("heading", name="Beside that tone, your D string is")).to_be_visible()
        expect(page.get_by_role("button", name="Stop the D")).to_be_visible()
        page.get_by_role("button", name="I can’t tell").click()
        expect(page.get_by_text("until it is clearly lower than the tone")).to_be_visible()
        self.assertEqual(self.complaints, [])
        other = self.open(page.url.removeprefix(self.server.address), context=self.browser.new_context())
        expect(other.get_by_role("radio", name="a tone and the ear")).to_be_checked()  # as whoever began here
        page.reload()
        expect(page.get_by_role("radio", name="a tone and the ear")).to_be_checked()
        page.goto(f"{self.server.address}/roll")
        page.get_by_role("radio", name="cello", exact=True).click()
        page.get_by_role("button", name="Add and tune it").click()
        expect(page.get_by_role("radio", name="a tone and the ear")).to_be_checked()

    def test_two_people_with_a_device_each(self) -> None:
        player = self.add("violin", "Linnet")
        turner = self.open(player.url.removeprefix(self.server.address))
        player.get_by_role("button", name="More").click()
        player.get_by_role("menuitem", name="Two people").or_(player.get_by_role("link", name="Two people")).click()
        expect(player.get_by_role("heading", name="Linnet: two people")).to_be_visible()  # the bench sounds its A too
        player.get_by_role("button", name="Sound the A").click()
        player.get_by_role("button", name="much too low").click()
        for page in (player, turner):
            expect(page.get_by_text("A peg up to just under the tone")).to_be_visible()
        player.get_by_role("button", name="past it: too high").click()
        expect(turner.get_by_text("A fine tuner down below the tone, then up to it")).to_be_visible()
        player.get_by_role("button", name="That’s it").click()
        expect(player.get_by_text("Whoever plays: the D")).to_be_visible()
        expect(player.get_by_role("button", name="Stop the D")).to_be_visible()
        self.assertEqual(self.complaints, [])

    def test_what_the_player_says_stops_the_hand_on_the_other_device(self) -> None:
        player = self.add("cello", "Twite")
        at = player.url.removeprefix(self.server.address).replace("/bench/", "/two/")
        turner = self.open(f"{at}?here=turns", size=SIZES[2])
        expect(turner.get_by_role("button", name="That’s it")).to_be_hidden()
        player.goto(f"{self.server.address}{at}?here=plays")
        expect(player.get_by_role("heading", name="Whoever turns")).to_be_hidden()
        player.get_by_role("button", name="still too low").click()
        stop = turner.get_by_role("alert").filter(has_text="Stop")
        expect(stop).to_contain_text("The A")
        expect(stop).to_have_count(0)
        expect(turner.get_by_role("heading", name="A fine tuner up to the tone")).to_be_visible()
        player.get_by_role("button", name="G string").click()
        player.get_by_role("button", name="past it: too high").click()
        expect(turner.get_by_role("heading", name="G fine tuner down")).to_be_visible()
        player.get_by_role("radiogroup", name="On this device").get_by_role("radio", name="both of us").click()
        expect(player.get_by_role("heading", name="Whoever turns")).to_be_visible()
        self.assertEqual(self.complaints, [])

    def test_an_octave_is_asked_about_beside_a_tone_that_sounds(self) -> None:
        page = self.add("violin", "Bunting")
        self.type_reading(page, "C#")
        self.assertIn("lower or higher than this?", self.move(page))
        page.get_by_role("region", name="Next move").get_by_role("button", name="Sound the A").click()
        expect(page.get_by_role("region", name="Next move").get_by_role("button", name="Stop the A")).to_be_visible()
        page.get_by_role("button", name=re.compile("Lower: C♯4")).click()
        expect(page.get_by_text("A peg up")).to_be_visible()

    def test_one_look_at_a_new_instrument_tells_which_fine_tuners_there_are(self) -> None:
        page = self.add("violin", "Dipper")
        self.type_reading(page, "-30")
        look = page.get_by_role("region", name="Look at the fine tuners")
        expect(look.get_by_role("heading")).to_have_text("Which strings have a fine tuner?")
        look.get_by_role("button", name="Only the E").click()
        expect(page.get_by_role("heading", name="A peg up")).to_be_visible()
        expect(look).to_have_count(0)
        page = self.add("cello", "Egret")
        self.type_reading(page, "-30")
        look = page.get_by_role("region", name="Look at the fine tuners")
        look.get_by_role("button", name="All 4").click()
        expect(look.get_by_role("heading")).to_have_text("How far in are the fine tuners?")
        expect(look.get_by_role("radiogroup", name="C fine tuner")).to_be_visible()
        look.get_by_role("button", name="All in the middle").click()
        pegs = page.get_by_role("region", name="Try the pegs")
        pegs.get_by_role("radiogroup", name="G peg").get_by_role("radio", name="sticks").click()
        pegs.get_by_role("button", name="That is everything").click()
        expect(pegs).to_have_count(0)
        page.get_by_role("button", name="G string").click()
        page.get_by_role("button", name="Something wrong?").click()
        peg = page.get_by_role("radiogroup", name="The G peg")
        expect(peg.get_by_role("radio", name="sticks")).to_have_attribute("aria-checked", "true")

    def test_letters_say_which_must_pass_and_no_cents(self) -> None:
        for size in SIZES:
            page = self.open("/roll", size=size)
            page.get_by_role("radio", name="violin", exact=True).click()
            page.get_by_label("Label on it, if any").fill(f"Wagtail {size[0]}")
            page.get_by_role("button", name="Add and tune it").click()
            page.get_by_role("radio", name="its letters").click()
            shown = page.get_by_role("region", name="What it shows")
            shown.get_by_role("button", name="F♯", exact=True).click()
            expect(page.get_by_text("until it shows G, then G♯")).to_be_visible()
            self.assertNotRegex(self.move(page).split("Why this?")[0], r"cents|[+−]\d")
            shown.get_by_role("button", name="A", exact=True).click()
            page.get_by_role("button", name="Left of it: flat").click()
            expect(page.get_by_text("A fine tuner up until the light is in the middle")).to_be_visible()
            self.assertTrue(page.evaluate("document.documentElement.scrollWidth <= window.innerWidth"), size)

    def test_letters_are_spelled_as_the_tuner_spells_them(self) -> None:
        page = self.add("viola", "Stilt")
        page.get_by_role("radio", name="its letters").click()
        expect(page.get_by_role("button", name="G♯", exact=True)).to_be_visible()
        page.get_by_role("radio", name="a tuner’s figures").click()
        self.type_reading(page, "Ab4 0")
        page.get_by_role("radio", name="its letters").click()
        expect(page.get_by_role("button", name="A♭", exact=True)).to_be_visible()

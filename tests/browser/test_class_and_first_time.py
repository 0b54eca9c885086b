"""A class routine by pedal and keys, an A from outside by microphone, and someone's first time with one instrument."""

import re
import tempfile
from pathlib import Path
from uuid import uuid4

import numpy as np
import soundfile
from playwright.sync_api import Page, expect

from pondus.core.simulated.sound import Tone, bowed
from tests.browser.page import BrowserTest
from tests.core.test_whole_room import RATE as ROOM_RATE
from tests.core.test_whole_room import room

RATE = 48_000


class TestClassFirstTimeAndPaper(BrowserTest):
    def letter(self, page: Page, letter: str) -> None:
        expect(page.get_by_label(f"{letter} sounds")).to_be_visible()

    def test_a_class_hears_itself(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "room.wav"
            soundfile.write(file, room([-6.0, -2.0, 1.0, 5.0, 7.0], seconds=8.0), ROOM_RATE, subtype="PCM_16")
            with self.microphone(file) as context:
                page = self.open("/class", context=context)
                whole = page.get_by_role("region", name="The whole room")
                for _ in range(2):
                    whole.get_by_role("button", name="Hear the room").click()
                    expect(whole.get_by_role("button", name="Listening…")).to_be_visible()
                    expect(whole.get_by_role("button", name="Hear the room")).to_be_visible()
                    expect(whole.get_by_role("status")).to_contain_text("Most within")
                expect(whole.get_by_role("list", name="Before").get_by_role("listitem")).to_have_count(1)
                self.assertEqual(self.complaints, [])

    def test_it_steps_by_pedal_waits_and_stops(self) -> None:
        page = self.open("/class")
        page.get_by_role("button", name="cellos").click()
        page.get_by_role("radio", name="60 s").click()
        page.get_by_role("button", name="Begin").click()
        self.letter(page, "A")
        expect(page.get_by_text("Violins:")).to_be_visible()
        page.keyboard.press("PageDown")
        self.letter(page, "D")
        page.keyboard.press("PageUp")
        self.letter(page, "A")
        page.locator("main").focus()
        page.keyboard.press(" ")
        expect(page.get_by_role("button", name="Go on")).to_be_visible()
        for letter in "DGEC":
            page.keyboard.press("PageDown")
            self.letter(page, letter)
        expect(page.get_by_text("check your E against your A")).to_be_visible()
        page.keyboard.press("PageDown")
        expect(page.get_by_role("heading", name="That was every string.")).to_be_visible()
        page.get_by_role("button", name="Once more").click()
        self.letter(page, "A")
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="Begin")).to_be_visible()
        self.assertEqual(self.complaints, [])

    def test_a_string_ends_by_itself(self) -> None:
        page = self.open("/class")
        page.clock.install()
        page.get_by_role("radio", name="20 s").click()
        page.get_by_role("button", name="Begin").click()
        self.letter(page, "A")
        page.clock.run_for(21_000)
        self.letter(page, "D")

    def test_the_a_of_an_oboe_is_heard_asked_for_and_taken_for_today(self) -> None:
        rng = np.random.default_rng(2)
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "a.wav"
            sound = np.concatenate([rng.normal(0, 1e-4, RATE // 2), bowed(Tone(443.0, 3.0, RATE), rng)])
            soundfile.write(file, sound, RATE, subtype="PCM_16")
            with self.microphone(file) as context:
                page = self.open("/class", context=context)
                page.get_by_role("button", name="Listen for the A").click()
                heard = page.get_by_role("status").filter(has_text="Hz")
                expect(heard).to_have_text(re.compile(r"44[23]\.\d Hz"))
                page.get_by_role("button", name="Take it for today").click()
                expect(page.get_by_text(re.compile(r"Today everything is tuned to 44[23]"))).to_be_visible()
                page.get_by_role("button", name="The studio’s own again").click()
                expect(page.get_by_text("Everything is tuned to this studio’s A, 440 Hz")).to_be_visible()
                self.assertEqual(self.complaints, [])

    def looks(self, page: Page, *, bridge: str = "It stands straight") -> None:
        page.get_by_role("button", name="violin, under the chin").click()
        expect(page.get_by_role("heading", name="How long is a string?")).to_be_focused()
        page.get_by_role("button", name="32.8 cm").click()
        page.get_by_role("button", name=bridge).click()

    def begun(self, page: Page, adult: str) -> None:
        page.get_by_role("button", name=adult).click()
        page.get_by_role("radio", name="a tuner’s figures").click()
        expect(page.get_by_label("What does the tuner show")).to_be_visible()

    def kept(self, page: Page, text: str) -> None:
        line = page.get_by_label("What does the tuner show")
        line.fill(text)
        line.press("Enter")
        expect(line).to_have_value("")
        expect(page.locator("[aria-busy=true]")).to_have_count(0)

    def test_from_a_floppy_string_to_good_enough(self) -> None:
        page = self.open("/first")
        self.looks(page)
        page.get_by_role("button", name="A string is loose, or gone").click()
        page.get_by_role("button", name="G string: loose, floppy").click()
        page.get_by_role("button", name="One, at the thinnest string").click()
        self.begun(page, "Yes, or I am one")
        strip = page.get_by_role("group", name="Strings").get_by_role("button", name="G string")
        strip.click()
        expect(page.get_by_role("region", name="Next move")).to_contain_text("Take up the slack")
        page.get_by_role("button", name="Something wrong?").click()
        page.get_by_role("radio", name="on, and sounds").click()
        for figure in ("G2 -20", "E3 0", "F#3 0", "F#3 +45", "G3 -2"):
            strip.click()
            self.kept(page, figure)
        for name, figure in (("D", "D4 +1"), ("A", "A4 0"), ("E", "E5 -2")):
            page.get_by_role("group", name="Strings").get_by_role("button", name=f"{name} string").click()
            self.kept(page, figure)
        expect(page.get_by_role("heading", name="Good enough: all its strings are in tune.")).to_be_visible()
        card = page.get_by_role("link", name="A card for home, to print").get_attribute("href")
        self.assertEqual(page.request.get(f"{self.server.address}{card}").headers["content-type"], "application/pdf")
        self.assertEqual(self.complaints, [])

    def test_a_bridge_that_fell_stops_everything(self) -> None:
        page = self.open("/first")
        self.looks(page, bridge="It has fallen")
        expect(page.get_by_role("heading", name="Stop here: turn nothing.")).to_be_visible()
        expect(page.get_by_text("soundpost")).to_be_visible()
        expect(page.get_by_role("heading", name="Does the bridge stand?")).to_be_visible()
        page.get_by_role("button", name="I can’t tell").click()
        expect(page.get_by_text("like a wall on a floor")).to_be_visible()
        page.get_by_role("button", name="Back").click()
        page.get_by_role("button", name="31.0 cm").click()
        page.get_by_role("button", name="It leans a little").click()
        expect(page.get_by_role("heading", name="Which strings have a little screw?")).to_be_focused()

    def test_a_child_alone_is_given_no_peg(self) -> None:
        page = self.open("/first")
        self.looks(page)
        page.get_by_role("button", name="I can’t tell").click()
        self.begun(page, "No, only me")
        page.get_by_role("group", name="Strings").get_by_role("button", name="D string").click()
        self.kept(page, "C4 0")
        expect(page.get_by_role("region", name="Next move")).to_contain_text("teacher")
        expect(page.get_by_role("figure", name=re.compile("^Peg of"))).to_have_count(0)

    def test_on_a_phone_each_question_is_on_one_screen(self) -> None:
        page = self.open("/first", size=(390, 844))
        for question, answer in (
            ("Which one is it?", "cello, on the floor"),
            ("How long is a string?", "I can’t tell"),
            ("Does the bridge stand?", "It leans a little"),
            ("Which strings have a little screw?", "None"),
            ("Is a grown-up there?", "Yes, or I am one"),
        ):
            expect(page.get_by_role("heading", name=question)).to_be_in_viewport()
            button = page.get_by_role("button", name=answer)
            expect(button).to_be_in_viewport(ratio=1.0)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollHeight - innerHeight"), 60, question)
            button.click()
        expect(page.get_by_role("region", name="Listening")).to_be_visible()
        expect(page.get_by_role("radio", name="microphone")).to_be_checked()
        instruments = page.request.get(f"{self.server.address}/api/instruments").json()["instruments"]
        mine = next(each for each in instruments if each["label"] == "My cello")
        self.assertEqual((mine["size"], mine["bridge"]), ("4/4", "leans"))
        self.assertFalse(any(each["has_fine_tuner"] for each in mine["strings"]))
        self.assertEqual(self.complaints, [])

    def test_the_microphone_begins_by_the_press_that_led_there(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "a.wav"
            sound = np.concatenate([np.zeros(RATE // 2), bowed(Tone(437.0, 3.0, RATE), np.random.default_rng(3))])
            soundfile.write(file, sound, RATE, subtype="PCM_16")
            with self.microphone(file) as context:
                page = self.open("/first", context=context)
                self.looks(page)
                page.get_by_role("button", name="One at every string").click()
                page.get_by_role("button", name="Yes, or I am one").click()
                expect(page.get_by_role("button", name="Stop listening")).to_be_visible()
                expect(page.get_by_role("region", name="Next move")).to_contain_text("A fine tuner")
                page.reload()
                expect(page.get_by_role("button", name="Listen", exact=True)).to_be_visible()
                self.assertEqual(self.complaints, [])

    def test_each_sheet_is_one_press_away(self) -> None:
        self.add("violin", "Knot").close()
        page = self.open("/paper")
        expect(page.get_by_role("region", name="Cards").get_by_text("Cards of all")).to_be_visible()
        page.get_by_role("radio", name="Letter").click()
        links = page.locator("main a").evaluate_all("all => all.map(each => each.href)")
        self.assertGreaterEqual(len(links), 7)
        for link in links:
            answer = page.request.get(link)
            self.assertEqual((answer.status, answer.headers["content-type"]), (200, "application/pdf"), link)
        page.get_by_text("Only some of them").click()
        page.get_by_role("checkbox", name="Knot").check()
        expect(page.get_by_role("link", name="Cards of 1")).to_be_visible()
        self.assertEqual(self.complaints, [])

    def test_a_choice_too_long_for_an_address_comes_as_a_file(self) -> None:
        context = self.browser.new_context()
        self.addCleanup(context.close)
        for number in range(81):
            instrument = {"id": str(uuid4()), "label": f"Wader {number}", "kind": "violin"}
            headers = {"Origin": self.server.address}
            answer = context.request.post(f"{self.server.address}/api/instruments", data=instrument, headers=headers)
            self.assertEqual(answer.status, 200)
        page = self.open("/paper", context=context)
        page.get_by_text("Only some of them").click()
        page.get_by_label("Only those with").fill("wad")
        page.get_by_role("button", name="These 81").click()
        with page.expect_download() as coming:
            page.get_by_role("button", name="Cards of 81").click()
        self.assertEqual(coming.value.suggested_filename, "Cards.pdf")
        self.assertTrue(Path(coming.value.path()).read_bytes().startswith(b"%PDF"))
        self.assertEqual(self.complaints, [])

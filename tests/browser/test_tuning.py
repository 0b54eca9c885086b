"""A whole violin tuned through the real interface; kill -9; everything is still there."""

import os
import signal
import tempfile
from pathlib import Path

import numpy as np
import soundfile
from playwright.sync_api import expect

from pondus.core.simulated.sound import Tone, bowed
from tests.browser.page import SIZES, BrowserTest

DELIBERATE_MS = 1300
"""An Enter on the empty line this long after the last is meant: a move was made."""


class TestAWholeViolin(BrowserTest):
    own_cluster = True

    def test_tuned_and_found_again_after_a_kill(self) -> None:
        page = self.add("violin", "Knot")
        self.type_reading(page, "-12")
        expect(page.get_by_text("A fine tuner up to A4, about ¼ turn clockwise")).to_be_visible()
        page.wait_for_timeout(DELIBERATE_MS)
        page.get_by_label("What does the tuner show").press("Enter")
        expect(page.get_by_text("Play the A string again")).to_be_visible()
        self.type_reading(page, "-1")
        expect(page.get_by_label("What does the tuner show for the D string?")).to_be_visible()
        for reading in ("+2", "A3 0"):
            self.type_reading(page, reading)
        self.assertIn("let it down", self.next_move(page))
        self.assertIn("G peg down", self.next_move(page))
        page.get_by_role("button", name="I turned it", exact=True).click()
        self.type_reading(page, "G3 -9")
        page.get_by_role("button", name="I turned it", exact=True).click()
        self.type_reading(page, "0")
        self.type_reading(page, "E5 1")
        expect(page.get_by_role("heading", name="Play the D string again")).to_be_visible()
        self.assertIn("G was turned since, and that moves it too", self.next_move(page))
        self.assertIn("Softly and evenly", self.next_move(page))
        self.type_reading(page, "+2.5")
        expect(page.get_by_role("button", name="in tune")).to_have_count(4)
        rows = self.history(page).get_by_role("listitem")
        expect(rows).to_have_count(11)
        before = rows.all_inner_texts()

        self.server.stop(kill=True)
        self.kill_database()
        self.cluster.ensure_running()
        self.server.config = type(self.server.config)(database_url=self.cluster.url(self.database))
        self.server.start()
        page.reload()
        expect(page.get_by_role("button", name="in tune")).to_have_count(4)
        self.history(page)
        self.assertEqual(rows.all_inner_texts(), before)
        self.assertEqual(self.complaints, [])

    def kill_database(self) -> None:
        process = self.cluster.process
        assert process is not None
        os.kill(process.pid, signal.SIGKILL)
        process.wait()


class TestTheBench(BrowserTest):
    def test_a_wrong_entry_is_said_and_nothing_is_kept(self) -> None:
        page = self.add("viola", "Ruff")
        entry = page.get_by_label("What does the tuner show")
        entry.fill("A4 +77")
        entry.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("past ±50")
        expect(entry).to_have_value("A4 +77")
        expect(self.history(page)).to_contain_text("Nothing yet.")

    def test_striking_out_and_bringing_back(self) -> None:
        page = self.add("viola", "Stint")
        self.type_reading(page, "+8")
        history = self.history(page)
        history.get_by_role("button", name="Strike out: A").click()
        expect(page.get_by_text("Play the A string", exact=True)).to_be_visible()
        expect(page.get_by_role("status").filter(has_text="Taken back: A: A4 +8")).to_be_visible()
        history.get_by_role("button", name="Bring back").click()
        expect(page.get_by_text("A fine tuner down")).to_be_visible()
        page.get_by_label("What does the tuner show").press("Control+z")
        page.get_by_role("button", name="Bring back", exact=True).click()
        expect(page.get_by_text("A fine tuner down")).to_be_visible()

    def test_pedal_keys_step_the_strings(self) -> None:
        page = self.add("cello", "Brent")
        expect(page.get_by_label("What does the tuner show for the A string?")).to_be_visible()
        page.keyboard.press("PageUp")
        expect(page.get_by_label("What does the tuner show for the D string?")).to_be_visible()
        page.keyboard.press("PageDown")
        expect(page.get_by_label("What does the tuner show for the A string?")).to_be_visible()

    def test_the_neighbours_pitch_is_asked_about(self) -> None:
        page = self.add("violin", "Smew")
        self.type_reading(page, "D4 0")
        expect(page.get_by_role("region", name="Next move")).to_contain_text("That sounds like the D string")
        page.get_by_role("button", name="It is the A: 700 cents flat").click()
        expect(page.get_by_role("region", name="Next move")).to_contain_text("700")

    def test_a_dropped_recording_is_heard(self) -> None:
        page = self.add("cello", "Scoter")
        with tempfile.TemporaryDirectory() as folder:
            files = []
            for name, hz in (("one.wav", 97.2), ("two.flac", 146.0), ("quiet.ogg", 0.0)):
                file = Path(folder) / name
                sound = bowed(Tone(hz, 1.0), np.random.default_rng(2)) if hz else np.zeros(44_100)
                soundfile.write(file, sound, 44_100)
                files.append(str(file))
            page.get_by_role("radio", name="recording").click()
            page.get_by_label("Recordings", exact=True).set_input_files(files)
            heard = page.get_by_role("list", name="Recordings heard")
            expect(heard).to_contain_text("one.wav: G string, 97.2")
            expect(heard).to_contain_text("two.flac: D string, 146.0")
            expect(heard).to_contain_text("quiet.ogg: Nothing is heard")

    def test_nothing_scrolls_sideways(self) -> None:
        path = self.add("violin", "Gannet with a rather long label").url.removeprefix(self.server.address)
        for size in SIZES:
            page = self.open(path, size)
            self.type_reading(page, "G4 10")
            with self.subTest(size=size):
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), size[0])

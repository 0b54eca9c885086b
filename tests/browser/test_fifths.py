"""The fifths screen in a real browser: recordings of double stops, the move that mends most, until the chain is still."""

import re
import tempfile
from itertools import pairwise
from pathlib import Path

import numpy as np
import soundfile
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, targets_hz
from pondus.core.pitch.notes import shift_hz
from pondus.core.simulated.sound import Tone, bowed, mixed, white_noise
from tests.browser.page import SIZES, BrowserTest

RATE = 44_100


class FifthsTest(BrowserTest):
    def setUp(self) -> None:
        self.rng = np.random.default_rng(8)
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def double_stop(self, low: float, high: float, name: str = "double-stop.wav") -> Path:
        tones = [bowed(Tone(hz, 1.2, RATE, weak_fundamental_db=-20.0 if hz < 140 else 0.0), self.rng) for hz in (low, high)]
        both = mixed(*tones, below_db=3.0)
        file = self.folder / name
        soundfile.write(file, 0.5 * mixed(both, white_noise(len(both), self.rng), below_db=30.0), RATE)
        return file

    def fifths(self, page: Page) -> None:
        page.get_by_role("link", name="Fifths").click()
        expect(page.get_by_role("radiogroup", name="Which fifth")).to_be_visible()

    def play(self, page: Page, pair: tuple[str, str], hz: dict[str, float], count: int) -> None:
        """Drop a recording of a pair and wait until it is kept."""
        file = self.double_stop(hz[pair[0]], hz[pair[1]], f"{''.join(pair)}.wav")
        page.get_by_label("Recordings").set_input_files(file)
        expect(page.get_by_role("region", name="Checks made").get_by_role("listitem")).to_have_count(count)


class TestPulling(FifthsTest):
    def test_a_string_only_a_peg_turns_is_pulled_and_its_fifth_stays_chosen(self) -> None:
        page = self.add("violin", "Dunlin")
        instrument = page.url.rsplit("/", 1)[1]
        for name in ("G", "D"):
            path = f"{self.server.address}/api/instruments/{instrument}/strings/{name}"
            self.assertTrue(page.request.patch(path, data={"has_fine_tuner": False}).ok)
        page.reload()
        self.type_reading(page, "0")
        self.type_reading(page, "+4")
        self.type_reading(page, "-4.5")
        self.type_reading(page, "0")
        self.fifths(page)
        moves = page.get_by_role("region", name="Next move")
        expect(moves.get_by_text("D–A is 4 cents too narrow")).to_be_visible()
        moves.get_by_role("button", name="I pulled it").click()
        expect(moves.get_by_text("The D was pulled: bow D and A together again.")).to_be_visible()
        expect(page.get_by_role("radio", name=re.compile("D–A"))).to_be_checked()
        self.assertEqual(self.complaints, [])


class TestMending(FifthsTest):
    def test_following_the_advice_until_the_chain_is_still(self) -> None:
        page = self.add("cello", "Godwit")
        self.fifths(page)
        width = page.get_by_label("Width of the fifths").get_by_role("slider")
        width.fill(str(701.955))
        width.press("End")
        expect(page.get_by_text("A cello’s C stands at −5.9")).to_be_visible()
        instrument = INSTRUMENTS["cello"]
        targets = targets_hz(instrument, fifth_cents=PURE_FIFTH_CENTS)
        hz = {name: shift_hz(each, off) for (name, each), off in zip(targets.items(), (9, -14, 7, 0.5), strict=True)}
        checks = 0
        for pair in pairwise(instrument.string_names):
            checks += 1
            self.play(page, pair, hz, checks)
        moves = page.get_by_role("region", name="Next move")
        for _ in range(8):
            text = moves.inner_text()
            if "The chain is still" in text:
                break
            string = text.split()[0]
            expected = re.search(r"\b(up|down) ([\d.]+)\s+cent", text)
            assert expected is not None, text
            hz[string] = shift_hz(hz[string], float(expected[2]) * (1 if expected[1] == "up" else -1))
            moves.get_by_role("button", name="I turned it").click()
            expect(moves).to_contain_text(f"The {string} was turned")
            for pair in (each for each in pairwise(instrument.string_names) if string in each):
                checks += 1
                self.play(page, pair, hz, checks)
        expect(moves).to_contain_text("The chain is still")
        for name, target in targets.items():
            self.assertLess(abs(1200 * np.log2(hz[name] / target)), 7.0)
        for pair in pairwise(hz):
            self.assertLess(abs(1200 * np.log2(1.5 * hz[pair[0]] / hz[pair[1]])), 3.3)
        self.assertEqual(self.complaints, [])

    def test_a_recording_of_one_string_says_so(self) -> None:
        page = self.add("violin", "Ruff")
        self.fifths(page)
        file = self.folder / "alone.wav"
        soundfile.write(file, bowed(Tone(440.0, 1.0, RATE), self.rng), RATE)
        page.get_by_label("Recordings").set_input_files(file)
        expect(page.get_by_role("alert")).to_contain_text("only one string sounds")

    def test_beats_pulse_at_their_rate(self) -> None:
        page = self.add("violin", "Dotterel")
        for typed in ("A4 0", "D4 -6"):
            page.get_by_role("button", name=f"{typed[0]} string").click()
            self.type_reading(page, typed)
        self.fifths(page)
        beats = abs(3 * shift_hz(targets_hz(INSTRUMENTS["violin"])["D"], -6.0) - 880.0)
        seconds = page.get_by_test_id("pulse-D").evaluate("each => parseFloat(getComputedStyle(each).animationDuration)")
        self.assertAlmostEqual(seconds, 1.0 / beats, places=4)

    def test_tapping_asks_for_the_small_move(self) -> None:
        page = self.add("cello", "Whinchat")
        self.fifths(page)
        tap = page.get_by_role("button", name="Tap each beat")
        for _ in range(6):
            tap.dispatch_event("pointerdown")
            page.wait_for_timeout(500)
        page.get_by_role("button", name="That is the beat").click()
        expect(page.get_by_text("wide and narrow beat alike")).to_be_visible()
        for _ in range(6):
            tap.dispatch_event("pointerdown")
            page.wait_for_timeout(900)
        page.get_by_role("button", name="That is the beat").click()
        expect(page.get_by_role("region", name="Checks made")).to_contain_text("wider than pure")

    def test_how_it_sounds_is_pressed_and_a_small_move_tells_which_way(self) -> None:
        page = self.add("cello", "Pipit")
        self.fifths(page)
        beats = page.get_by_role("group", name="Its beats")
        beats.get_by_role("button", name="beats slowly").click()
        expect(beats.get_by_role("status")).to_contain_text("wide and narrow beat alike")
        beats.get_by_role("button", name="slower than before").click()
        expect(page.get_by_text("by how it sounds").first).to_be_visible()
        self.assertEqual(self.complaints, [])

    def test_harmonics_and_undo(self) -> None:
        page = self.add("cello", "Pintail")
        self.fifths(page)
        form = page.get_by_role("form", name="Compare harmonics")
        form.get_by_label("A at half", exact=True).fill("0")
        heard = self.folder / "third.wav"
        soundfile.write(heard, bowed(Tone(shift_hz(440.0, 7.0), 1.0, RATE, partials=4), self.rng), RATE)
        form.get_by_label("Recording of D at a third").set_input_files(heard)
        expect(form.get_by_label("D at a third", exact=True)).to_have_value(re.compile(r"441\.7[89] Hz"))
        form.get_by_role("button", name="Keep both").click()
        expect(page.get_by_role("radio", name="D–A")).to_contain_text(re.compile(r"5(\.1)? cents narrow"))
        page.get_by_role("button", name="Strike out").click()
        expect(page.get_by_role("radio", name="D–A")).to_contain_text("not known yet")
        page.get_by_role("button", name="Bring back").click()
        expect(page.get_by_role("radio", name="D–A")).to_contain_text(re.compile(r"5(\.1)? cents narrow"))

    def test_the_ensemble_shows_its_clash(self) -> None:
        page = self.add("viola", "Teal")
        self.fifths(page)
        page.get_by_role("button", name="Playing with others").click()
        expect(page.get_by_text("They agree")).to_be_visible()  # all as this instrument is, until someone says otherwise
        page.get_by_label("School of cello").select_option("pure")
        expect(page.get_by_text("have their C 5.9 cents apart")).to_be_visible()


class TestListeningToTwo(FifthsTest):
    def test_a_double_stop_from_the_microphone_is_kept(self) -> None:
        self.listen("Smew")

    def test_and_where_no_socket_can_be_had(self) -> None:
        self.listen("Pintail", sockets=False)

    def listen(self, label: str, *, sockets: bool = True) -> None:
        pause = self.rng.normal(0, 1e-4, RATE // 2)
        tones = mixed(bowed(Tone(196.0, 2.0, RATE), self.rng), bowed(Tone(294.6, 2.0, RATE), self.rng), below_db=0.0)
        wav = self.folder / "microphone.wav"
        soundfile.write(wav, np.concatenate([pause, 0.5 * tones, pause]), RATE, subtype="PCM_16")
        with self.microphone(wav) as context:
            if not sockets:
                context.route_web_socket(re.compile("/api/listen"), lambda ws: ws.close())
            page = self.add("violin", label, context)
            self.fifths(page)
            page.get_by_role("button", name="Listen to two strings").click()
            expect(page.get_by_role("radio", name="G–D")).to_contain_text("wide")


class TestLayout(FifthsTest):
    def test_nothing_runs_out_of_the_page(self) -> None:
        page = self.add("viola", "Garganey")
        for typed in ("A4 0", "D4 -6", "G3 +40", "C3 -9"):
            page.get_by_role("button", name=f"{typed[0]} string").click()
            self.type_reading(page, typed)
        self.fifths(page)
        for width, height in SIZES:
            page.set_viewport_size({"width": width, "height": height})
            page.wait_for_function("width => document.documentElement.clientWidth === width", arg=width)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), width)


class TestForEveryone(FifthsTest):
    def test_no_violations_in_light_and_dark(self) -> None:
        page = self.add("cello", "Scoter")
        self.type_reading(page, "A3 -4")
        self.fifths(page)
        page.get_by_role("button", name="Playing with others").click()
        for theme in ("light", "dark"):
            with self.subTest(theme=theme):
                found = Axe().run(page).response["violations"]
                serious = [each["id"] for each in found if each["impact"] in ("serious", "critical")]
                self.assertEqual(serious, [], found)
            page.get_by_role("button", name="Change to").click()

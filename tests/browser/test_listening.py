"""The whole microphone path in a real browser: hands-free sweeps, no permission, a lost connection."""

import re
import tempfile
from pathlib import Path

import numpy as np
import soundfile
from playwright.sync_api import expect

from pondus.core.pitch.tones import FOLLOWED_ORDERS
from pondus.core.simulated.sound import Samples, Tone, bowed, plucked
from tests.browser.page import PATIENCE_MS, BrowserTest

RATE = 48_000


class ListeningTest(BrowserTest):
    """A loaded machine drops some of a made-up microphone's sound; it comes round again, and is waited for longer."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        expect.set_options(timeout=4 * PATIENCE_MS)
        cls.addClassCleanup(expect.set_options, timeout=PATIENCE_MS)

    def setUp(self) -> None:
        self.rng = np.random.default_rng(4)
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def wav(self, *parts: Samples) -> Path:
        pause = self.rng.normal(0, 1e-4, RATE // 2)
        sound = np.concatenate([piece for part in parts for piece in (pause, part)])
        file = self.folder / "microphone.wav"
        soundfile.write(file, sound, RATE, subtype="PCM_16")
        return file

    def pluck(self, hz: float) -> Samples:
        weak = -25.0 if hz < 140 else 0.0
        return plucked(Tone(hz, 1.3, RATE, stiffness=1e-4, weak_fundamental_db=weak), self.rng)


class TestSocketRefused(ListeningTest):
    def test_sound_goes_by_ordinary_requests_where_no_socket_can_be_had(self) -> None:
        wav = self.wav(self.pluck(434.0), self.rng.normal(0, 1e-4, 3 * RATE))
        with self.microphone(wav) as context:
            context.route_web_socket(re.compile("/api/listen"), lambda ws: ws.close())
            page = self.add("violin", "Dotterel", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen", exact=True).click()
            rows = self.history(page).get_by_role("listitem")
            expect(rows.first).to_be_visible()
            expect(page.get_by_role("button", name="A string, flat")).to_be_visible()
            self.assertEqual(self.complaints, [])


KEEPS_COUNT_OF_LOCKS = """
let count = 0;
const change = (by) => document.documentElement.setAttribute("data-awake", String((count += by)));
Object.defineProperty(navigator, "wakeLock", { value: { request: async () => {
    change(1);
    return { release: async () => { change(-1); } };
} } });
"""
HOLDS_SOUND_BACK = """
AudioContext.prototype.resume = () => new Promise(() => undefined);
Object.defineProperty(AudioContext.prototype, "state", { get: () => "suspended" });
"""


TWO_MICROPHONES = """
const named = (deviceId, label) => ({ kind: "audioinput", deviceId, label, groupId: "" });
navigator.mediaDevices.enumerateDevices = async () => [named("own", "In the lid"), named("clip", "A clip at the bridge")];
const open = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
navigator.mediaDevices.getUserMedia = async ({ audio }) => {
    document.documentElement.setAttribute("data-asked", audio.deviceId.ideal);
    const stream = await open({ audio: true });
    const [track] = stream.getAudioTracks();
    track.getSettings = () => ({ noiseSuppression: true, echoCancellation: false });
    return stream;
};
"""


class TestDevice(ListeningTest):
    """What a tablet does that a desktop doesn't: sleep, hold sound back."""

    def test_the_screen_stays_on_while_it_listens(self) -> None:
        with self.microphone(self.wav(self.rng.normal(0, 1e-4, RATE))) as context:
            context.add_init_script(KEEPS_COUNT_OF_LOCKS)
            page = self.add("violin", "Siskin", context)
            page.get_by_role("radio", name="microphone").click()
            whole = page.locator("html")
            expect(whole).not_to_have_attribute("data-awake", re.compile("."))
            page.get_by_role("button", name="Listen", exact=True).click()
            expect(whole).to_have_attribute("data-awake", "1")
            page.get_by_role("button", name="Stop listening").click()
            expect(whole).to_have_attribute("data-awake", "0")

    def test_sound_that_is_held_back_is_told(self) -> None:
        with self.microphone(self.wav(self.rng.normal(0, 1e-4, RATE))) as context:
            context.add_init_script(HOLDS_SOUND_BACK)
            page = self.add("violin", "Redwing", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen", exact=True).click()
            expect(page.get_by_role("alert")).to_contain_text("doesn't let the sound begin")
            expect(page.get_by_role("button", name="Listen", exact=True)).to_be_visible()


class TestHandsFree(ListeningTest):
    def test_a_violin_is_swept_over_its_four_strings(self) -> None:
        cents = {"A": -12.0, "D": 9.0, "G": -25.0, "E": 1.0}
        target = {"A": 440.0, "D": 293.665, "G": 195.998, "E": 659.255}
        wav = self.wav(*(self.pluck(target[name] * 2 ** (off / 1200)) for name, off in cents.items()))
        with self.microphone(wav) as context:
            page = self.add("violin", "Whimbrel", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen").click()
            for name, off in cents.items():  # the sound goes round: what a busy machine misses comes again
                shown = page.get_by_role("button", name=f"{name} string")
                expect(shown).to_have_attribute("aria-label", f"{name} string, {self.word(off)}")
            page.get_by_role("button", name="Stop listening").click()
            self.assertGreaterEqual(self.history(page).get_by_role("listitem").count(), 4)
            self.assertEqual(self.complaints, [])

    def test_a_bowed_cello(self) -> None:
        low = bowed(Tone(65.0, 1.6, RATE, weak_fundamental_db=-25), self.rng, bow_changes_at=(0.9,))
        wav = self.wav(low, bowed(Tone(98.4, 1.5, RATE), self.rng))
        with self.microphone(wav) as context:
            page = self.add("cello", "Pintail", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen").click()
            expect(page.get_by_role("meter", name="Level")).to_be_visible()
            expect(page.get_by_role("button", name="C string, flat")).to_be_visible()
            expect(page.get_by_role("button", name="G string, sharp")).to_be_visible()

    def test_a_microphone_on_the_second_channel(self) -> None:
        """As where it is plugged into the second input; the first has only its own noise."""
        sound = np.concatenate([self.rng.normal(0, 1e-4, RATE // 2), self.pluck(436.0)])
        file = self.folder / "two.wav"
        both = np.stack([self.rng.normal(0, 1e-4, len(sound)), sound], axis=1)
        soundfile.write(file, both, RATE, subtype="PCM_16")
        with self.microphone(file) as context:
            page = self.add("violin", "Sanderling", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen").click()
            expect(page.get_by_role("button", name="A string, flat")).to_be_visible()

    def test_an_octave_is_asked_about_and_not_kept(self) -> None:
        with self.microphone(self.wav(self.pluck(392.0))) as context:
            page = self.add("violin", "Garganey", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen").click()
            expect(page.get_by_role("alert")).to_contain_text("another string's octave")
            expect(self.history(page)).to_contain_text("Nothing yet.")
            page.get_by_role("button", name="No", exact=True).click()

    def test_what_is_much_softer_is_left_out_until_it_is_said_to_be_ones_own(self) -> None:
        """Another violin of the class, further away; then the same as if the own one had been moved away. The microphone goes
        round and round, from wherever it was when the page began to listen.
        """
        round_and_round = self.wav(self.pluck(436.0), 0.1 * self.pluck(290.0), self.rng.normal(0, 1e-4, 2 * RATE))
        with self.microphone(round_and_round) as context:
            page = self.add("violin", "Redshank", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen").click()
            rows = self.history(page).get_by_role("listitem")
            left_out = page.get_by_role("status").filter(has_text="much softer than your strings")
            expect(left_out).to_be_visible()
            self.assertLess(rows.filter(has_text="290").count(), 2)  # one, where it was the first to be heard
            page.get_by_role("button", name="It was this one").click()
            expect(page.get_by_role("button", name="D string, flat")).to_be_visible()
            expect(rows.filter(has_text="436").first).to_be_visible()
            self.assertEqual(self.complaints, [])

    @staticmethod
    def word(off: float) -> str:
        return "in tune" if abs(off) <= 3 else ("flat" if off < 0 else "sharp")


class TestKeys(ListeningTest):
    def test_space_takes_h_holds_backspace_strikes_out(self) -> None:
        long = bowed(Tone(430.0, 60.0, RATE), self.rng)
        with self.microphone(self.wav(long), once=True) as context:
            page = self.add("violin", "Knotling", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen").click()
            rows = self.history(page).get_by_role("listitem")
            expect(rows).to_have_count(1)
            page.get_by_label("What does the tuner show").focus()
            expect(page.get_by_text("Steady.")).to_be_visible()
            page.keyboard.press("Space")
            expect(rows).to_have_count(2)
            page.keyboard.press("h")
            expect(page.get_by_text("Held: nothing is kept.")).to_be_visible()
            page.keyboard.press("Backspace")
            expect(self.history(page).get_by_role("button", name="Bring back")).to_have_count(1)
            expect(page.get_by_role("button", name="Bring back", exact=True)).to_have_count(1)


class TestBesideTheTone(ListeningTest):
    """The microphone hears the tone and the string together."""

    def both(self, off: float) -> Path:
        string = bowed(Tone(440.0 * 2.0 ** (off / 1200.0), 20.0, RATE), self.rng)
        time = np.arange(len(string)) / RATE
        tone = sum(0.1 / order * np.sin(2.0 * np.pi * order * 440.0 * time) for order in FOLLOWED_ORDERS)
        return self.wav(0.4 * string + np.asarray(tone))

    def test_an_ear_that_is_followed_is_told_only_where_the_two_differ(self) -> None:
        with self.microphone(self.both(-32.0)) as context:
            page = self.add("violin", "Redshank", context)
            page.get_by_role("radio", name="a tone and the ear").click()
            page.get_by_role("button", name="Sound the A").click()
            page.get_by_role("button", name="Listen along").click()
            along = page.get_by_role("region", name="The microphone along with your ear")
            expect(along).to_contain_text("It hears the A")
            page.get_by_role("button", name="a little lower").click()
            expect(self.history(page).get_by_role("listitem")).to_have_count(1)
            expect(along.get_by_role("alert")).to_have_count(0)
            page.get_by_role("button", name="the same", exact=True).click()
            expect(along.get_by_role("alert")).to_contain_text("hears the A a little lower than its tone")
            self.assertEqual(self.complaints, [])

    def test_with_the_microphone_alone_its_figure_is_read_beside_the_tone(self) -> None:
        with self.microphone(self.both(-20.0)) as context:
            page = self.add("violin", "Greenshank", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Sound the A").click()
            page.get_by_role("button", name="Listen", exact=True).click()
            expect(page.get_by_role("button", name="A string, flat")).to_be_visible()
            expect(self.history(page)).to_contain_text(re.compile(r"read 43(4\.[89]|5\.0)"))  # 434.95 within a cent


class TestTwoAtOnce(ListeningTest):
    def test_two_strings_at_once_lead_to_the_fifths(self) -> None:
        both = bowed(Tone(196.0, 6.0, RATE), self.rng) + bowed(Tone(293.0, 6.0, RATE), self.rng)
        with self.microphone(self.wav(0.5 * both)) as context:
            page = self.add("viola", "Fieldfare", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen", exact=True).click()
            page.get_by_role("button", name="Hear two as a fifth").click()
            expect(page).to_have_url(re.compile("/fifths/"))
            expect(page.get_by_label("Which fifth")).to_be_visible()


class TestThisMicrophone(ListeningTest):
    def test_ten_seconds_say_what_it_will_manage(self) -> None:
        sound = [self.pluck(440.0 if place % 2 else 293.665) for place in range(20)]
        with self.microphone(self.wav(*sound)) as context:
            # The made-up browser names its made-up microphones at times, and at times not.
            context.add_init_script("navigator.mediaDevices.enumerateDevices = async () => [];")
            page = self.add("violin", "Whinchat", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="This microphone").click()
            expect(page.get_by_text("clips onto the bridge")).to_be_visible()
            page.get_by_role("button", name="Check it in this room").click()
            expect(page.get_by_text("Let the room sound as it will later.")).to_be_visible()
            # The room itself is full of strings here: they don't stand out of it.
            expect(page.get_by_text("Strings hardly stand out in this room")).to_be_visible()

    def test_another_is_chosen_and_stays_so_on_this_device(self) -> None:
        with self.microphone(self.wav(self.pluck(440.0))) as context:
            context.add_init_script(TWO_MICROPHONES)
            page = self.add("violin", "Wheatear", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="This microphone").click()
            page.get_by_label("Listen with").select_option(label="A clip at the bridge")
            page.get_by_role("button", name="Listen", exact=True).click()
            whole = page.locator("html")
            expect(whole).to_have_attribute("data-asked", "clip")
            expect(page.get_by_text("This browser takes noise out")).to_be_visible()
            page.reload()
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="This microphone").click()
            expect(page.get_by_label("Listen with")).to_have_value("clip")


class TestAStaleChoice(ListeningTest):
    def test_a_chosen_microphone_that_is_unplugged_is_done_without(self) -> None:
        with self.microphone(self.wav(self.pluck(434.0))) as context:
            context.add_init_script("localStorage.setItem('pondus-microphone', 'unplugged since')")
            page = self.add("violin", "Brambling", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen", exact=True).click()
            expect(page.get_by_role("button", name="A string, flat")).to_be_visible()


class TestTrouble(ListeningTest):
    def test_no_permission_is_said_and_typing_works(self) -> None:
        with self.microphone(self.wav(self.pluck(440.0)), allow=False) as context:
            page = self.add("violin", "Shoveler", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen").click()
            expect(page.get_by_role("alert")).to_contain_text("not allowed")
            self.type_reading(page, "-12")
            expect(page.get_by_text("A fine tuner up")).to_be_visible()

    def test_a_lost_connection_comes_back(self) -> None:
        with self.microphone(self.wav(self.pluck(430.0))) as context:
            page = self.add("violin", "Goldeneye", context)
            page.get_by_role("radio", name="microphone").click()
            page.get_by_role("button", name="Listen").click()
            live = page.get_by_test_id("live")
            expect(live).to_contain_text("A")
            self.server.stop(kill=True)
            expect(page.get_by_text("The connection is lost")).to_be_visible()
            entry = page.get_by_label("What does the tuner show")
            entry.fill("D4 +4")
            entry.press("Enter")
            self.server.start()
            expect(live).to_contain_text("A")
            expect(self.history(page)).to_contain_text("D4 +4")


class TestTones(BrowserTest):
    def test_a_reference_tone_starts_and_stops(self) -> None:
        page = self.add("viola", "Wigeon")
        page.get_by_role("button", name="Sound the A").click()
        page.get_by_role("button", name="Stop the A").click()
        expect(page.get_by_role("button", name="Sound the A")).to_be_visible()
        self.assertEqual(self.complaints, [])


class TestSweepByEar(ListeningTest):
    def test_an_instrument_is_heard_and_sorted(self) -> None:
        target = {"A": 440.0, "D": 293.665, "G": 195.998, "E": 659.255}
        wav = self.wav(*(self.pluck(hz * 2 ** (-2 / 1200)) for hz in target.values()))
        with self.microphone(wav) as context:
            self.add("violin", "Goldcrest", context)
            page = self.open("/sweep", context=context)
            choose = page.get_by_role("region", name="Still to hear").get_by_role("button", name="Goldcrest")
            choose.click()
            page.get_by_role("button", name="Listen").click()
            heard = page.get_by_role("region", name="Just heard")
            expect(heard).to_contain_text("Goldcrest")
            expect(heard).to_contain_text("leave it")
            self.assertEqual(self.complaints, [])

"""Live sound by ordinary requests: the last of it again and again, one reading for one sounding."""

import base64
import unittest
from typing import Any

import numpy as np

from pondus.core.simulated.sound import Samples, Tone, plucked
from pondus.web.app import WebConfig, create_app
from tests.database import fresh_database
from tests.web.test_fifths import double_stop

RATE = 48_000
LISTEN = {"instrument": "violin", "sample_rate": RATE}


class TestSoundByRequests(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.client = create_app(WebConfig(database_url=fresh_database())).test_client()

    def setUp(self) -> None:
        self.rng = np.random.default_rng(8)

    def pcm(self, sound: Samples) -> bytes:
        return (np.clip(sound, -1, 1) * 32767).astype("<i2").tobytes()

    def ask(self, sound: bytes, told: Any = None, told_fifth: Any = None, own_levels_db: Any = (), **more: Any) -> Any:
        body = {"listen": {**LISTEN, **more}, "sound": base64.b64encode(sound).decode()}
        body |= {"told": told, "told_fifth": told_fifth, "own_levels_db": list(own_levels_db)}
        return self.client.post("/api/listen/sound", json=body)

    def test_two_plucks_heard_in_growing_pieces_are_two_readings(self) -> None:
        plucks = [plucked(Tone(hz, 1.6, RATE), self.rng) for hz in (434.0, 437.0)]
        quiet = self.rng.normal(0, 1e-4, RATE // 2)
        sound = self.pcm(np.concatenate([quiet, plucks[0], quiet, plucks[1], quiet]))
        begins, told, readings = 0, None, []
        for end in range(RATE // 2, len(sound) // 2, 16_800):
            begins = max(begins, end - int(2.5 * RATE))
            heard = self.ask(sound[2 * begins : 2 * end], told).json
            told = heard["told"]
            begins += heard["until"]
            if heard["settled"] is not None:
                readings.append(round(heard["settled"]["reading"]["hz"]))
        self.assertEqual(readings, [434, 437])

    def test_how_loud_its_strings_were_goes_from_answer_to_answer(self) -> None:
        """A pluck much softer than the one before is another's, also where each answer begins anew."""
        pluck = plucked(Tone(437.0, 1.6, RATE), self.rng)
        first = self.ask(self.pcm(pluck)).json
        self.assertIsNone(first["settled"]["ask"])
        levels = first["own_levels_db"]
        self.assertEqual(len(levels), 1)
        for known, ask in ((levels, "softer"), ([], None)):
            heard = self.ask(self.pcm(0.1 * pluck), own_levels_db=known).json
            with self.subTest(known=known):
                self.assertEqual(heard["settled"]["ask"], ask)
                self.assertEqual(len(heard["own_levels_db"]), 1)

    def test_a_fifth_is_told_once_until_it_changes(self) -> None:
        quiet = np.zeros(RATE // 2)
        stops = [double_stop(294.0, upper, 2.0, RATE) for upper in (441.0, 443.0)]
        sound = self.pcm(np.concatenate([quiet, stops[0], quiet, stops[1], quiet]))
        begins, told, fifths = 0, None, []
        for end in range(RATE // 2, len(sound) // 2, 16_800):
            begins = max(begins, end - int(2.5 * RATE))
            heard = self.ask(sound[2 * begins : 2 * end], listen_for="fifth", told_fifth=told).json
            told = heard["told_fifth"]
            begins += heard["until"]
            if heard["settled"] is not None:
                fifths.append((heard["settled"]["strings"], round(heard["settled"]["fifth"]["from_pure_cents"])))
        self.assertEqual(fifths, [(["D", "A"], 0), (["D", "A"], 8)])

    def test_what_is_no_sound_is_refused_in_words(self) -> None:
        for sound, more, field in (
            ("####", {}, "sound"),
            ("QQ==", {}, "sound"),
            ("####", {"listen_for": "fifth"}, "sound"),
            ("", {"listen_for": "fifth", "string": "A"}, "string"),
        ):
            body = {"listen": {**LISTEN, **more}, "sound": sound}
            answer = self.client.post("/api/listen/sound", json=body)
            with self.subTest(sound=sound, more=more):
                self.assertEqual(answer.status_code, 422)
                self.assertEqual(answer.json["error"]["field"], field)

    def test_nothing_yet_is_nothing_heard(self) -> None:
        heard = self.ask(b"").json
        self.assertEqual((heard["look"], heard["settled"], heard["told"]), (None, None, None))


if __name__ == "__main__":
    unittest.main()

"""Live sound by ordinary requests: the last of it again and again, one reading for one sounding."""

import base64
import unittest
from typing import Any

import numpy as np

from pondus.core.simulated.sound import Samples, Tone, plucked
from pondus.web.app import WebConfig, create_app
from tests.database import fresh_database

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

    def ask(self, sound: bytes, told: Any = None, **more: Any) -> Any:
        body = {"listen": {**LISTEN, **more}, "sound": base64.b64encode(sound).decode(), "told": told}
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

    def test_what_is_no_sound_is_refused_in_words(self) -> None:
        for sound, more, field in (
            ("####", {}, "sound"),
            ("QQ==", {}, "sound"),
            ("", {"listen_for": "fifth"}, "listen"),
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

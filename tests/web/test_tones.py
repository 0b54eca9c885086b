"""Reference tones: the right pitch, many partials, moderate, and as WAV."""

import io
import unittest

import numpy as np
import soundfile

from pondus.core.hearing.hear import Reading, hear
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.web.app import WebConfig, create_app


class TestTones(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.client = create_app(WebConfig(database_url="postgresql://nobody@127.0.0.1:9/none")).test_client()

    def test_the_wav_sounds_the_target_of_the_school(self) -> None:
        response = self.client.get("/api/tone.wav?instrument=cello&string=C&a4=442&fifth_cents=701.955&seconds=2")
        samples, rate = soundfile.read(io.BytesIO(response.get_data()))
        heard = hear(sound_from(samples, rate), INSTRUMENTS["cello"], a4=442.0, fifth_cents=701.955)
        assert isinstance(heard, Reading)
        self.assertEqual(heard.string, "C")
        self.assertAlmostEqual(heard.string_cents, 0.0, delta=0.05)
        self.assertLess(np.abs(samples).max(), 0.25)

    def test_it_is_rich_in_partials(self) -> None:
        tone = self.client.get("/api/tone?instrument=violin&string=G").get_json()
        self.assertGreaterEqual(len(tone["partials"]), 10)
        self.assertAlmostEqual(tone["hz"], 195.998, places=3)

    def test_refusals(self) -> None:
        for query in (
            "instrument=violin&string=C",
            "instrument=lute&string=A",
            "instrument=violin&string=A&a4=500",
            "instrument=violin&string=A&a4=loud",
            "instrument=violin&string=A&fifth_cents=690",
            "instrument=violin&string=A&seconds=0",
            "string=A",
        ):
            response = self.client.get(f"/api/tone.wav?{query}")
            with self.subTest(query=query):
                self.assertEqual(response.status_code, 422)
                self.assertTrue(response.get_json()["error"]["message"])

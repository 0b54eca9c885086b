"""A class over the web API, and an A that is taken from outside for today."""

import io
from datetime import timedelta
from typing import Any, ClassVar
from unittest import mock
from uuid import uuid4

import numpy as np
import soundfile

from pondus.core.clock import Clock
from pondus.core.simulated.sound import Samples
from pondus.store import settings as settings_store
from tests.core.test_whole_room import RATE, room
from tests.web.test_api import ApiTest


class TestClass(ApiTest):
    def test_its_steps_at_the_studios_reference(self) -> None:
        told = self.get("/api/class?kinds=violin,cello&seconds=20")
        self.assertEqual([step["letter"] for step in told["steps"]], ["A", "D", "G", "E", "C"])
        self.assertEqual(told["steps"][0]["hz"], [220.0, 440.0])
        self.assertEqual(told["steps"][0]["parts"][1]["said"], "tune your A")
        for query in ("kinds=", "kinds=tuba", "kinds=violin&seconds=1"):
            self.assertEqual(self.client.get(f"/api/class?{query}").status_code, 422, query)
        self.assertIn(told["steps"][0]["seconds"], told["lengths_s"])

    def test_before_a_stage_pegs_are_left_alone(self) -> None:
        parts = self.get("/api/stage")["parts"]
        self.assertEqual([part["title"] for part in parts], ["In the quiet room", "On the stage", "Leave alone"])
        self.assertTrue(any(line.startswith("Pegs") for line in parts[2]["lines"]))
        self.assertFalse(any("peg" in line.lower() for line in parts[1]["lines"]))


class TestWholeRoom(ApiTest):
    def hear(self, samples: Samples) -> Any:
        file = io.BytesIO()
        soundfile.write(file, samples, RATE, format="WAV", subtype="PCM_16")
        file.seek(0)
        return self.client.post("/api/class/room", data={"file": (file, "room.wav")})

    def test_a_room_is_heard_beside_the_a_of_today(self) -> None:
        told = self.hear(room([-6.0, -2.0, 1.0, 5.0])).get_json()
        self.assertLess(abs(told["off_cents"]), 4.0)
        self.assertIn("Most within", told["said"])
        self.addCleanup(self.post, "/api/settings/a4-today", {"a4": None})
        self.post("/api/settings/a4-today", {"a4": 442.0})
        self.assertLess(self.hear(room([-2.0, 0.0, 2.0])).get_json()["off_cents"], -4.0)

    def test_what_cant_be_told_says_why(self) -> None:
        answer = self.hear(np.zeros(5 * RATE))
        self.assertEqual(answer.status_code, 422)
        self.assertIn("All play the open A", answer.get_json()["error"]["message"])


class TestFirstTime(ApiTest):
    SEEN: ClassVar[dict[str, Any]] = {
        "kind": "violin",
        "size": "4/4",
        "bridge": "leans",
        "strings": {"G": "floppy"},
        "adult": False,
    }

    def test_it_begins_whole_and_only_once(self) -> None:
        seen = {"id": str(uuid4()), **self.SEEN}
        for _ in range(2):
            kept = self.post("/api/first-time", seen)
        self.assertEqual((kept["label"], kept["bridge"]), ("My violin", "leans"))
        self.assertEqual({each["name"]: each["state"] for each in kept["strings"]}["G"], "floppy")
        own = self.get(f"/api/instruments/{seen['id']}/settings")
        self.assertEqual((own["who"], own["tolerance_cents"]), ("student-fine-tuners", 5.0))
        self.assertTrue(all(each["has_fine_tuner"] for each in kept["strings"]), "as such instruments have them")
        for seen, fitted in (("one", "E"), ("all", "GDAE"), ("none", "")):
            one = self.post("/api/first-time", {**self.SEEN, "id": str(uuid4()), "fine_tuners": seen})
            self.assertEqual("".join(each["name"] for each in one["strings"] if each["has_fine_tuner"]), fitted)
        unknown = self.post("/api/first-time", {**self.SEEN, "id": str(uuid4()), "kind": "viola", "size": None, "strings": {}})
        self.assertEqual(unknown["size"], "16", "full-sized, where nobody could tell")
        half = str(uuid4())
        with mock.patch("pondus.web.first_time.change_settings", side_effect=RuntimeError), self.assertLogs(level="ERROR"):
            self.post("/api/first-time", {**self.SEEN, "id": half}, 500)
        self.assertEqual(self.client.get(f"/api/instruments/{half}/settings").status_code, 404, "half of it was kept")

    def test_what_stops_everything_keeps_nothing_and_says_what_to_do(self) -> None:
        stops = {each["value"]: each["stop"] for each in self.get("/api/first-time")["bridges"]}
        self.assertEqual({value for value, stop in stops.items() if stop}, {"moved", "fallen"})
        for bridge in ("moved", "fallen"):
            seen = {**self.SEEN, "id": str(uuid4()), "bridge": bridge}
            told = self.post("/api/first-time", seen, 422)["error"]
            self.assertEqual(told["field"], "bridge")
            self.assertIn(stops[bridge], told["message"])
            self.assertEqual(self.client.get(f"/api/instruments/{seen['id']}/settings").status_code, 404)

    def test_what_cannot_be_is_refused(self) -> None:
        for change in (
            {"kind": "tuba"},
            {"size": "9/8"},
            {"strings": {"C": "on"}},
            {"bridge": "wide"},
            {"adult": None},
            {"fine_tuners": "two"},
        ):
            told = self.post("/api/first-time", {**self.SEEN, "id": str(uuid4()), **change}, 422)
            self.assertTrue(told["error"]["message"], change)


class TestA4Today(ApiTest):
    def given(self, a4: Any, status: int = 200) -> Any:
        return self.post("/api/settings/a4-today", {"a4": a4}, status)

    def test_everything_takes_it_today_and_nothing_tomorrow(self) -> None:
        self.addCleanup(self.given, None)
        self.assertEqual(self.given(442.3)["a4_today"], 442.3)
        self.assertIsNone(self.get("/api/settings")["a4"], "the studio's own is as it was")
        instrument, tuning = self.begin()
        self.assertEqual(self.get(f"/api/tunings/{tuning}")["tuning"]["a4"], 442.3)
        self.assertEqual(self.get("/api/class?kinds=violin")["a4"], 442.3)
        go = self.post("/api/practice/begin", {"id": str(uuid4()), "drill": "names"})
        self.assertEqual(go["tuned"]["a4"], 442.3)
        with self.app.app_context():
            real = settings_store.studio_clock

            def tomorrow(session: Any) -> Clock:
                clock = real(session)
                return Clock(clock.now + timedelta(days=1), clock.zone)

            with mock.patch.object(settings_store, "studio_clock", tomorrow):
                self.assertIsNone(self.get("/api/settings")["a4_today"])
                key = str(uuid4())
                self.post("/api/tunings", {"id": key, "instrument_id": instrument})
                self.assertEqual(self.get(f"/api/tunings/{key}")["tuning"]["a4"], 440.0)

    def test_what_is_on_the_bench_takes_it_too_and_gives_it_back(self) -> None:
        self.addCleanup(self.given, None)
        _, tuning = self.begin()
        self.post(f"/api/tunings/{tuning}/readings", {"id": str(uuid4()), "string": "A", "heard": {"note": "A4", "cents": 0}})
        for a4, taken, off in ((442.0, 442.0, -7.85), (None, 440.0, 0.0)):
            self.given(a4)
            bench = self.get(f"/api/tunings/{tuning}")
            own = next(each for each in bench["strings"] if each["name"] == "A")
            self.assertEqual((bench["tuning"]["a4"], own["advice"]["cents_off"]), (taken, off))

    def test_it_can_be_taken_back_and_must_be_an_a(self) -> None:
        self.given(441.0)
        self.assertIsNone(self.given(None)["a4_today"])
        self.assertIn("415", self.given(300.0, 422)["error"]["message"])
        self.assertEqual(self.client.get("/api/settings").status_code, 200)

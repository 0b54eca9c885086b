"""The web API: what it takes and gives, and how it refuses."""

import io
import json
import unittest
from typing import Any
from uuid import uuid4

import numpy as np
import soundfile

from pondus.core.simulated.sound import Tone, bowed
from pondus.web.app import WebConfig, create_app
from tests.database import fresh_database


def wav(samples: Any, rate: int = 44_100, form: str = "WAV") -> io.BytesIO:
    buffer = io.BytesIO()
    soundfile.write(buffer, samples, rate, format=form)
    buffer.seek(0)
    return buffer


class ApiTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.app = create_app(WebConfig(database_url=fresh_database(), largest_upload_bytes=4_000_000))
        cls.client = cls.app.test_client()

    @classmethod
    def tearDownClass(cls) -> None:
        cls.app.extensions["pondus_engine"].dispose()

    def post(self, path: str, body: Any, status: int = 200) -> Any:
        response = self.client.post(path, json=body)
        self.assertEqual(response.status_code, status, response.get_data(as_text=True))
        return response.get_json()

    def get(self, path: str, status: int = 200) -> Any:
        response = self.client.get(path)
        self.assertEqual(response.status_code, status, response.get_data(as_text=True))
        return response.get_json()

    def refused(self, path: str, body: Any, *, status: int = 422, field: str | None = None, says: str = "") -> None:
        error = self.post(path, body, status)["error"]
        self.assertIn(says, error["message"])
        if field is not None:
            self.assertEqual(error["field"], field)

    def begin(self, kind: str = "violin", **strings: Any) -> tuple[str, str]:
        instrument, tuning = str(uuid4()), str(uuid4())
        self.post("/api/instruments", {"id": instrument, "label": "Knot", "kind": kind, "strings": strings})
        self.post("/api/tunings", {"id": tuning, "instrument_id": instrument})
        return instrument, tuning


class TestAdvise(ApiTest):
    def test_same_as_on_the_command_line(self) -> None:
        advice = self.post("/api/advise", {"instrument": "violin", "string": "A", "heard": {"note": "A4", "cents": -12}})
        self.assertEqual((advice["state"], advice["mechanism"], advice["pitch"]), ("flat", "fine-tuner", "raise"))
        self.assertEqual(advice["steps"][0]["rotation"], "clockwise")

    def test_refusals(self) -> None:
        good = {"instrument": "violin", "string": "A", "heard": {"note": "A4", "cents": -12}}
        self.refused("/api/advise", {**good, "string": "C"}, field="string", says="“C”")
        self.refused("/api/advise", {**good, "instrument": "harp"}, field="instrument", says="harp")
        self.refused("/api/advise", {**good, "heard": {"note": "Q", "cents": 0}}, field="heard.note", says="“Q”")
        self.refused("/api/advise", {**good, "heard": {"hz": 0}}, field="heard.hz", says="0 Hz")
        self.refused("/api/advise", {**good, "heard": {}}, field="heard")
        self.refused("/api/advise", {**good, "extra": 1}, field="extra")
        self.refused("/api/advise", [], says="object")

    def test_nan_and_garbage(self) -> None:
        for body in ('{"instrument":"violin","string":"A","heard":{"hz":NaN}}', "{nope", ""):
            response = self.client.post("/api/advise", data=body, content_type="application/json")
            with self.subTest(body=body):
                self.assertIn(response.status_code, (400, 422))
                self.assertTrue(response.get_json()["error"]["message"])

    def test_the_api_is_described(self) -> None:
        spec = self.client.get("/api/openapi.json").get_json()
        self.assertIn("/api/advise", spec["paths"])
        self.assertTrue(spec["openapi"].startswith("3"))
        for path, operations in spec["paths"].items():
            for method, operation in operations.items():
                if method in ("get", "post", "put", "patch", "delete"):
                    said = f"{operation['summary']} {operation.get('description', '')}"
                    self.assertNotIn("Raises", said, (method, path))
                    self.assertTrue({"404", "422", "503"} <= set(operation["responses"]), (method, path))


class TestHear(ApiTest):
    def hear(self, status: int = 200, **form: Any) -> Any:
        response = self.client.post("/api/hear", data=form, content_type="multipart/form-data")
        self.assertEqual(response.status_code, status, response.get_data(as_text=True))
        return response.get_json()

    def test_a_recording_in_every_format(self) -> None:
        samples = bowed(Tone(441.0, 1.0), np.random.default_rng(1))
        for form in ("WAV", "FLAC", "OGG"):
            with self.subTest(format=form):
                heard = self.hear(file=(wav(samples, form=form), f"a.{form.lower()}"), instrument="violin")
                self.assertEqual((heard["usable"], heard["string"], heard["note"]), (True, "A", "A4"))
                self.assertAlmostEqual(heard["hz"], 441.0, delta=0.06)

    def test_no_pitch_is_an_answer(self) -> None:
        heard = self.hear(file=(wav(np.zeros(44_100)), "quiet.wav"), instrument="violin")
        self.assertEqual((heard["usable"], heard["reason"], heard["hz"]), (False, "silent", None))
        self.assertEqual((heard["keep"], heard["said"]), (False, "Nothing is heard: play closer to the microphone."))

    def test_a_reading_that_is_hardly_sure_is_not_to_be_kept(self) -> None:
        kept = set()
        for sway, seconds in ((0.0, 1.5), (11.0, 0.8)):
            sound = bowed(Tone(441.0, seconds), np.random.default_rng(3), sway_cents=sway)
            heard = self.hear(file=(wav(sound), "a.wav"), instrument="violin")
            self.assertTrue(heard["usable"])
            self.assertEqual(heard["keep"], heard["confidence"] >= 0.15)
            self.assertEqual(heard["said"] is None, heard["keep"])
            kept.add(heard["keep"])
        self.assertEqual(kept, {True, False})

    def test_what_cannot_be_read(self) -> None:
        whole = wav(bowed(Tone(441.0, 1.0), np.random.default_rng(1))).getvalue()
        self.hear(422, file=(io.BytesIO(b"not a recording"), "a.wav"), instrument="violin")
        self.hear(422, file=(io.BytesIO(b""), "a.wav"), instrument="violin")
        self.hear(422, instrument="violin")
        self.hear(422, file=(io.BytesIO(whole), "a.wav"), instrument="lute")
        self.hear(422, file=(io.BytesIO(whole), "a.wav"), instrument="violin", a4="loud")
        self.hear(422, file=(io.BytesIO(whole), "a.wav"), instrument="violin", target="just")
        self.hear(413, file=(io.BytesIO(bytes(5_000_000)), "a.wav"), instrument="violin")
        half = self.hear(file=(io.BytesIO(whole[: len(whole) // 2]), "half.wav"), instrument="violin")
        self.assertTrue(half["usable"])


class TestBench(ApiTest):
    def test_a_reading_its_move_and_what_it_did(self) -> None:
        _, tuning = self.begin()
        at = f"/api/tunings/{tuning}"
        bench = self.post(f"{at}/readings", {"id": str(uuid4()), "string": "A", "typed": "-12"})
        a = next(each for each in bench["strings"] if each["name"] == "A")
        step = a["advice"]["steps"][0]
        self.assertEqual((a["words"], step["do"], a["ghost_cents"]), ("flat", "turn-fine-tuner", 0.0))
        move = {"id": str(uuid4()), "string": "A", "mechanism": "fine-tuner", "direction": "raise", "amount": step["amount"],
                "unit": "turn", "expect_cents": step["expect_cents"]}  # fmt: skip
        bench = self.post(f"{at}/moves", move)
        a = next(each for each in bench["strings"] if each["name"] == "A")
        self.assertEqual(a["words"], "moved; play it")
        self.assertAlmostEqual(a["fine_tuner"]["turns_from_middle"], step["amount"])
        bench = self.post(f"{at}/readings", {"id": str(uuid4()), "string": "A", "typed": "−1"})
        a = next(each for each in bench["strings"] if each["name"] == "A")
        self.assertEqual((a["words"], a["moved"]["did_cents"]), ("in tune", 11.0))
        self.assertEqual(bench["next_string"], "D")
        self.assertEqual([entry["kind"] for entry in bench["history"]], ["reading", "move", "reading"])

    def test_sent_twice_is_kept_once(self) -> None:
        _, tuning = self.begin()
        reading = {"id": str(uuid4()), "string": "D", "typed": "D4 +4"}
        self.post(f"/api/tunings/{tuning}/readings", reading)
        bench = self.post(f"/api/tunings/{tuning}/readings", reading)
        self.assertEqual(len(bench["history"]), 1)
        self.refused(f"/api/tunings/{tuning}/readings", {**reading, "typed": "+9"}, status=409)

    def test_striking_out_and_bringing_back(self) -> None:
        _, tuning = self.begin()
        reading = {"id": str(uuid4()), "string": "D", "typed": "+4"}
        self.post(f"/api/tunings/{tuning}/readings", reading)
        bench = self.post(f"/api/readings/{reading['id']}/strike", {"reason": "wrong string"})
        self.assertEqual((bench["history"][0]["struck"], bench["history"][0]["struck_reason"]), (True, "wrong string"))
        self.assertIsNone(next(each for each in bench["strings"] if each["name"] == "D")["reading"])
        bench = self.client.delete(f"/api/readings/{reading['id']}/strike").get_json()
        self.assertFalse(bench["history"][0]["struck"])

    def test_fifths_once_both_neighbours_are_known(self) -> None:
        _, tuning = self.begin()
        for string in ("A", "E"):
            bench = self.post(f"/api/tunings/{tuning}/readings", {"id": str(uuid4()), "string": string, "typed": "0"})
        fifth = next(each for each in bench["fifths"] if each["lower"] == "A")
        self.assertEqual((fifth["interval_cents"], fifth["from_temperament_cents"]), (700.0, 0.0))
        self.assertAlmostEqual(fifth["beats_hz"], 1.490, places=3)

    def test_accidentals_are_spelled_as_preferred(self) -> None:
        _, tuning = self.begin()
        self.client.patch(f"/api/tunings/{tuning}", json={"spelling": "flats"})
        for typed, text in (("F#3 20", "G♭3 +20"), ("A# -3", "B♭ −3")):
            bench = self.post(f"/api/tunings/{tuning}/readings", {"id": str(uuid4()), "string": "G", "typed": typed})
            self.assertEqual(bench["history"][0]["text"], text)

    def test_settings_of_a_tuning(self) -> None:
        _, tuning = self.begin("cello")
        changed = self.client.patch(f"/api/tunings/{tuning}", json={"target": "pure", "stance": "seated"}).get_json()
        self.assertEqual(changed["tuning"]["stance"], "seated")
        self.assertAlmostEqual(changed["strings"][0]["tuner_shows_cents"], -5.87, places=2)
        for bad in ({"stance": "helper"}, {"a4": 500}, {"tolerance_cents": 99}, {"approach": "magic"}, {"who": None}):
            response = self.client.patch(f"/api/tunings/{tuning}", json=bad)
            with self.subTest(settings=bad):
                self.assertEqual(response.status_code, 422)

    def test_fittings_of_a_string(self) -> None:
        instrument, _ = self.begin()
        path = f"/api/instruments/{instrument}/strings/G"
        self.assertEqual(self.client.patch(path, json={"screw_turns": 3.5}).status_code, 200)
        self.assertEqual(self.client.patch(path, json={"screw_turns": 9.0}).status_code, 422)
        self.assertEqual(self.client.patch(path, json={"winding": None}).status_code, 422)

    def test_refused_entries_store_nothing(self) -> None:
        _, tuning = self.begin(G={"has_fine_tuner": False})
        readings, moves = f"/api/tunings/{tuning}/readings", f"/api/tunings/{tuning}/moves"
        for typed in ("", "63", "H3", "soon", "A4 +70", "9000 Hz"):
            self.refused(readings, {"id": str(uuid4()), "string": "A", "typed": typed})
        self.refused(readings, {"id": str(uuid4()), "string": "C", "typed": "0"}, field="string")
        self.refused(readings, {"id": "not-an-id", "string": "A", "typed": "0"}, field="id")
        self.refused(readings, {"id": str(uuid4()), "string": "A"}, field="heard")
        move = {"id": str(uuid4()), "string": "G", "mechanism": "fine-tuner", "direction": "raise", "amount": 1, "unit": "turn"}
        self.refused(moves, move, says="has none")
        self.refused(moves, {**move, "string": "A", "amount": 0}, says="more than 0")
        self.refused(f"/api/tunings/{uuid4()}/readings", {"id": str(uuid4()), "string": "A", "typed": "0"}, status=404)
        self.assertEqual(self.client.get(f"/api/tunings/{tuning}").get_json()["history"], [])


class TestPlanAndLearning(ApiTest):
    def tell(self, tuning: str, string: str, typed: str) -> Any:
        return self.post(f"/api/tunings/{tuning}/readings", {"id": str(uuid4()), "string": string, "typed": typed})

    def turn(self, tuning: str, string: str, amount: float) -> Any:
        move = {"id": str(uuid4()), "string": string, "mechanism": "fine-tuner", "direction": "raise", "amount": amount,
                "unit": "turn"}  # fmt: skip
        return self.post(f"/api/tunings/{tuning}/moves", move)

    def test_the_same_plan_as_on_the_command_line(self) -> None:
        strings = {"A": {"heard": {"note": "A4", "cents": -30}}, "D": {"heard": {"note": "D4", "cents": 9}}}
        plan = self.post("/api/plan", {"instrument": "violin", "strings": strings})
        self.assertEqual((plan["order"], plan["ask"]), (["A", "D"], ["G", "E"]))
        self.refused("/api/plan", {"instrument": "violin", "strings": {"C": {}}}, says="“C”")
        self.refused("/api/plan", {"instrument": "violin", "strings": strings, "order": "by-eye"}, field="order")

    def test_the_rest_of_the_round_follows_the_readings(self) -> None:
        _, tuning = self.begin()
        for string, typed in (("A", "-12"), ("D", "0"), ("G", "0")):
            bench = self.tell(tuning, string, typed)
        self.assertEqual((bench["plan"]["ask"], bench["plan"]["total_moves"]), (["E"], 1))
        self.assertEqual(bench["plan"]["lines"][0]["string"], "A")

    def test_moves_teach_cents_per_turn_and_new_fittings_start_afresh(self) -> None:
        instrument, tuning = self.begin()
        for _ in range(6):
            self.tell(tuning, "A", "-30")
            self.turn(tuning, "A", 0.5)
            bench = self.tell(tuning, "A", "-5")
        learned = next(each for each in bench["strings"] if each["name"] == "A")["learned"]
        self.assertEqual(learned["screw_moves"], 6)
        self.assertAlmostEqual(learned["screw_cents_per_turn"], 50.0, delta=2.0)
        path = f"/api/instruments/{instrument}/strings/A"
        self.client.patch(path, json={"peg_state": "slips"})
        kept = self.client.get(f"/api/tunings/{tuning}").get_json()
        self.assertEqual(next(each for each in kept["strings"] if each["name"] == "A")["learned"]["screw_moves"], 6)
        self.client.patch(path, json={"core": "synthetic"})
        bench = self.client.get(f"/api/tunings/{tuning}").get_json()
        learned = next(each for each in bench["strings"] if each["name"] == "A")["learned"]
        self.assertEqual(learned["screw_moves"], 0)
        self.assertEqual(len(bench["history"]), 18)

    def test_a_note_and_a_frequency_meet_at_the_tunings_reference(self) -> None:
        instrument, _ = self.begin()
        tuning = str(uuid4())
        self.post("/api/tunings", {"id": tuning, "instrument_id": instrument, "a4": 442.0})
        self.tell(tuning, "A", "A4 -20")
        self.turn(tuning, "A", 0.5)
        bench = self.tell(tuning, "A", "442 Hz")
        learned = next(each for each in bench["strings"] if each["name"] == "A")["learned"]
        self.assertAlmostEqual(learned["screw_cents_per_turn"], 40.0, delta=0.6)

    def test_an_octave_read_wrong_teaches_nothing(self) -> None:
        _, tuning = self.begin()
        self.tell(tuning, "A", "-20")
        self.turn(tuning, "A", 0.5)
        bench = self.tell(tuning, "A", "A5 0")
        learned = next(each for each in bench["strings"] if each["name"] == "A")["learned"]
        self.assertEqual(learned["screw_moves"], 0)


class TestHandsFree(ApiTest):
    def hear(self, tuning: str, hz: float, key: str | None = None) -> Any:
        reading = {"id": key or str(uuid4()), "string": "A", "heard": {"hz": hz}, "source": "microphone", "hands_free": True}
        return self.post(f"/api/tunings/{tuning}/readings", reading)

    def kinds(self, bench: Any) -> list[str]:
        return [entry["kind"] for entry in reversed(bench["history"])]

    def test_the_shown_move_counts_as_made_when_the_string_has_moved(self) -> None:
        _, tuning = self.begin()
        self.hear(tuning, 436.0)
        bench = self.hear(tuning, 439.5)
        self.assertEqual(self.kinds(bench), ["reading", "move", "reading"])
        on_a = next(each for each in bench["strings"] if each["name"] == "A")
        self.assertAlmostEqual(on_a["moved"]["did_cents"], 13.84, delta=0.02)
        self.assertGreater(on_a["fine_tuner"]["turns_from_middle"], 0.3)

    def test_what_counts_as_made_is_the_move_that_was_shown(self) -> None:
        """With the others far down it aims a little over; and where it was to be left, none counts as made."""
        _, tuning = self.begin()
        for name in ("G", "D", "E"):
            told = {"id": str(uuid4()), "string": name, "typed": "-45"}
            self.post(f"/api/tunings/{tuning}/readings", told)
        bench = self.hear(tuning, 436.0)
        shown = next(each for each in bench["strings"] if each["name"] == "A")["advice"]["steps"][0]
        self.assertGreater(shown["aim_cents"], 1.0)
        moved = next(each for each in self.hear(tuning, 440.4)["strings"] if each["name"] == "A")
        self.assertEqual((moved["moved"]["taken"], moved["moved"]["direction"]), (True, shown["pitch"]))
        self.assertTrue(moved["is_left"])
        self.assertEqual(self.kinds(self.hear(tuning, 439.7))[-1:], ["reading"])

    def test_an_unmoved_string_has_had_no_move(self) -> None:
        _, tuning = self.begin()
        self.hear(tuning, 436.0)
        self.assertEqual(self.kinds(self.hear(tuning, 436.2)), ["reading", "reading"])

    def test_sent_twice_it_is_one_reading_and_one_move(self) -> None:
        _, tuning = self.begin()
        self.hear(tuning, 436.0)
        key = str(uuid4())
        for _ in range(2):
            bench = self.hear(tuning, 439.5, key)
        self.assertEqual(self.kinds(bench), ["reading", "move", "reading"])

    def test_a_move_entered_by_hand_is_not_counted_again(self) -> None:
        _, tuning = self.begin()
        self.hear(tuning, 436.0)
        move = {
            "id": str(uuid4()),
            "string": "A",
            "mechanism": "fine-tuner",
            "direction": "raise",
            "amount": 0.4,
            "unit": "turn",
        }
        self.post(f"/api/tunings/{tuning}/moves", move)
        self.assertEqual(self.kinds(self.hear(tuning, 439.5)), ["reading", "move", "reading"])


class TestSettings(ApiTest):
    def test_studio_and_instrument_settings_start_a_tuning(self) -> None:
        instrument, _ = self.begin("cello")
        self.assertEqual(self.client.patch("/api/settings", json={"a4": 442.0, "order": "low-up"}).status_code, 200)
        own = f"/api/instruments/{instrument}/settings"
        self.assertEqual(self.client.patch(own, json={"order": "top-down", "target": "pure"}).status_code, 200)
        self.assertEqual(self.client.patch(own, json={"stance": "helper"}).status_code, 422)
        began = self.post("/api/tunings", {"id": str(uuid4()), "instrument_id": instrument, "tolerance_cents": 1.0})
        tuning = began["tuning"]
        self.assertEqual((tuning["a4"], tuning["order"], tuning["tolerance_cents"]), (442.0, "top-down", 1.0))
        self.assertAlmostEqual(tuning["fifth_cents"], 701.955, places=3)
        self.assertIsNone(self.client.patch("/api/settings", json={"a4": None}).get_json()["a4"])
        self.client.patch("/api/settings", json={"order": None})


class TestAway(unittest.TestCase):
    def test_a_database_that_is_away(self) -> None:
        client = create_app(WebConfig(database_url="postgresql://pondus@127.0.0.1:9/none")).test_client()
        response = client.get("/api/instruments")
        self.assertEqual(response.status_code, 503)
        self.assertIn("Try again", json.loads(response.get_data())["error"]["message"])

    def test_unknown_addresses(self) -> None:
        client = create_app(WebConfig(database_url="postgresql://pondus@127.0.0.1:9/none")).test_client()
        self.assertEqual(client.get("/api/nothing").status_code, 404)
        self.assertEqual(client.put("/api/advise").status_code, 405)

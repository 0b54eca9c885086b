"""The simulated instrument over the web API: begun, turned, seen, heard; refusals; and its sound as it is played."""

import io
import json
from typing import Any
from uuid import uuid4

import numpy as np
import soundfile
from simple_websocket import Client

from pondus.core.hearing.hear import Reading, hear
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS
from tests.web.test_api import ApiTest
from tests.web.test_listening import ListeningTest


class TestSimulated(ApiTest):
    def begun(self, kind: str = "violin", start: str | None = "morning", seed: int = 4, **strings: Any) -> str:
        instrument, self.real_tuning = self.begin(kind, **strings)
        response = self.client.put(f"/api/instruments/{instrument}/simulated", json={"seed": seed, "start": start})
        self.assertEqual(response.status_code, 200, response.get_data(as_text=True))
        self.real, twin = instrument, response.get_json()["instrument_id"]
        self.tuning = str(uuid4())
        self.post("/api/tunings", {"id": self.tuning, "instrument_id": twin})
        return f"/api/instruments/{twin}/simulated"

    def hz(self, path: str, string: str) -> float:
        wav = self.client.get(f"{path}/sound.wav?strings={string}&seconds=1.5").get_data()
        samples, rate = soundfile.read(io.BytesIO(wav))
        heard = hear(sound_from(samples, rate), INSTRUMENTS["violin"])
        assert isinstance(heard, Reading), heard
        return heard.hz

    def test_before_it_is_begun_there_is_none(self) -> None:
        instrument, _ = self.begin()
        path = f"/api/instruments/{instrument}/simulated"
        self.assertEqual(self.client.get(path).get_json()["begun"], False)
        self.refused(path, {"string": "A", "turns": 0.5}, status=404, says="choose a state")
        self.assertEqual(self.client.get(f"/api/instruments/{uuid4()}/simulated").status_code, 404)

    def test_turning_is_heard_and_never_told_otherwise(self) -> None:
        path = self.begun(start=None)
        before = self.hz(path, "A")
        seen = self.post(path, {"string": "A", "turns": 0.5})
        self.assertEqual(next(each["screw_turns"] for each in seen["strings"] if each["name"] == "A"), 0.5)
        self.assertGreater(self.hz(path, "A"), before * 2 ** (8 / 1200))
        self.assertEqual([each["name"] for each in seen["strings"]], ["G", "D", "A", "E"])
        told = json.dumps(seen)
        for hidden in ("cents_per", "tension", "hz", "pull"):
            self.assertNotIn(hidden, told)

    def test_a_peg_turns_as_its_head_is_seen(self) -> None:
        for string, raises in (("A", 3.0), ("D", -3.0)):
            path = self.begun(start=None)
            before = self.hz(path, string)
            self.post(path, {"string": string, "degrees": raises})
            self.assertGreater(self.hz(path, string), before, string)

    def test_it_is_fitted_as_the_instrument_is_and_its_screw_stands_where_it_is_seen(self) -> None:
        path = self.begun("cello", "screw-at-end", D={"has_fine_tuner": False})
        seen = self.client.get(path).get_json()["strings"]
        self.assertEqual([each["has_screw"] for each in seen], [True, True, False, True])
        bench = self.client.get(f"/api/tunings/{self.tuning}").get_json()["strings"]
        for each, of in zip(seen, bench, strict=True):
            if each["has_screw"]:
                self.assertEqual(each["screw_turns"], of["fine_tuner"]["turns_from_middle"])

    def test_practice_never_mixes_with_the_real_instrument(self) -> None:
        path = self.begun("violin", "screw-at-end")
        twin = path.split("/")[3]
        self.assertNotEqual(twin, self.real)
        listed = [each["id"] for each in self.client.get("/api/instruments").get_json()["instruments"]]
        self.assertIn(self.real, listed)
        self.assertNotIn(twin, listed)
        self.assertNotIn(twin, [each["id"] for each in self.client.get("/api/morning").get_json()["instruments"]])
        self.post(f"/api/tunings/{self.tuning}/readings", {"id": str(uuid4()), "string": "A", "typed": "-9"})
        real = self.client.get(f"/api/tunings/{self.real_tuning}").get_json()
        self.assertTrue(all(each["reading"] is None for each in real["strings"]))
        self.assertTrue(all(each["fine_tuner"]["turns_from_middle"] == 0.0 for each in real["strings"]))
        again = self.client.put(f"/api/instruments/{self.real}/simulated", json={"seed": 9, "start": None}).get_json()
        self.assertEqual(again["instrument_id"], twin)
        self.assertEqual(self.client.put(path, json={"seed": 9}).get_json()["instrument_id"], twin)

    def test_a_broken_string_is_said_and_put_right(self) -> None:
        path = self.begun(start=None)
        for _ in range(30):
            seen = self.post(path, {"string": "E", "degrees": 5.0})
            if any(each["broken"] for each in seen["strings"]):
                break
        self.assertIn("The E string broke.", seen["events"])
        self.refused(path, {"string": "E", "turns": 0.1}, says="put a new one on")
        self.assertEqual(self.client.get(f"{path}/sound.wav?strings=E").status_code, 422)
        self.assertFalse(any(each["broken"] for each in self.post(path, {"put_right": True})["strings"]))

    def test_impossible_moves_are_refused_and_change_nothing(self) -> None:
        path = self.begun(start=None)
        before = self.client.get(path).get_json()
        for action, says in (
            ({"string": "C", "turns": 0.5}, "no “C” string"),
            ({"string": "A", "turns": 9.0}, "turns further in"),
            ({"string": "A", "turns": 0.5, "degrees": 3.0}, "One thing at a time"),
            ({"string": "A"}, "One thing at a time"),
            ({"turns": 0.5}, "Which string"),
            ({"string": "A", "degrees": 4000.0}, "isn't a turn"),
            ({"string": "A", "bend": 1}, "bend"),
        ):
            with self.subTest(action=action):
                self.refused(path, action, says=says)
        self.assertEqual(self.client.get(path).get_json(), before)
        self.assertEqual(self.client.get(f"{path}/sound.wav?strings=G,D,A").status_code, 422)

    def test_its_tuner_shows_a_note_and_cents(self) -> None:
        path = self.begun(start=None)
        shown = [self.client.get(f"{path}/display/A").get_json() for _ in range(8)]
        self.assertGreaterEqual(sum(each["note"] == "A4" and abs(each["cents"]) < 4 for each in shown), 6)
        self.assertTrue(all(each["hz"] is None for each in shown))


class TestWhatTheLogTeaches(ApiTest):
    """What the closed loop taught the advice holds at the bench too."""

    def read(self, tuning: str, string: str, hz: float) -> Any:
        body = {"id": str(uuid4()), "string": string, "heard": {"hz": hz}, "sure_of_string": True}
        bench = self.post(f"/api/tunings/{tuning}/readings", body)
        return next(each for each in bench["strings"] if each["name"] == string)

    def turn(self, tuning: str, string: str, degrees: float) -> None:
        direction = "raise" if degrees > 0 else "lower"
        move = {"id": str(uuid4()), "string": string, "mechanism": "peg", "direction": direction, "unit": "degree"}
        self.post(f"/api/tunings/{tuning}/moves", {**move, "amount": abs(degrees)})

    def test_a_peg_under_way_goes_on_however_often_the_string_is_played(self) -> None:
        _, tuning = self.begin()
        self.read(tuning, "A", 440.0 * 2 ** (-160 / 1200))
        self.turn(tuning, "A", 5.0)
        for off in (-92.0, -91.0, -91.5):
            string = self.read(tuning, "A", 440.0 * 2 ** (off / 1200))
            self.assertEqual(string["advice"]["steps"][0]["do"], "turn-peg", off)

    def test_turns_far_under_pitch_are_learned_as_what_they_make_at_pitch(self) -> None:
        _, tuning = self.begin()
        self.read(tuning, "G", 196.0 * 2 ** (-500 / 1200))
        self.turn(tuning, "G", 5.0)
        string = self.read(tuning, "G", 196.0 * 2 ** (-400 / 1200))
        learned = string["learned"]
        self.assertEqual(learned["peg_moves"], 1)
        self.assertLess(learned["peg_cents_per_degree"], 15.0)


class TestLive(ListeningTest):
    def played(self) -> tuple[Client, str]:
        from urllib.request import Request, urlopen

        def send(method: str, path: str, body: Any) -> Any:
            request = Request(
                self.server.address + path, json.dumps(body).encode(), {"Content-Type": "application/json"}, method=method
            )
            return json.load(urlopen(request, timeout=60))

        self.send = send
        instrument = str(uuid4())
        send("POST", "/api/instruments", {"id": instrument, "label": "Smew", "kind": "viola"})
        begun = send("PUT", f"/api/instruments/{instrument}/simulated", {"seed": 3, "start": None})
        instrument = begun["instrument_id"]
        client = Client(f"ws://127.0.0.1:{self.server.port}/api/simulated/live")
        self.addCleanup(self.leave, client)
        client.send(json.dumps({"instrument_id": instrument, "sample_rate": 44_100}))
        return client, instrument

    def sound(self, client: Client, seconds: float) -> np.ndarray:
        blocks: list[np.ndarray] = []
        while sum(map(len, blocks)) < seconds * 44_100:
            blocks.append(np.frombuffer(client.receive(timeout=60), dtype="<i2") / 32768.0)
        return np.concatenate(blocks)

    def test_it_follows_the_hand_while_it_sounds(self) -> None:
        client, instrument = self.played()
        client.send(json.dumps({"strings": ["G"], "how": "bow"}))
        self.sound(client, 0.4)
        first = self.sound(client, 1.2)
        self.send("POST", f"/api/instruments/{instrument}/simulated", {"string": "G", "turns": 0.75})
        self.sound(client, 0.6)
        then = self.sound(client, 1.2)
        heard = [hear(sound_from(each, 44_100), INSTRUMENTS["viola"]) for each in (first, then)]
        cents = [each.string_cents for each in heard if isinstance(each, Reading)]
        self.assertEqual(len(cents), 2, heard)
        self.assertGreater(cents[1] - cents[0], 8.0)
        client.send(json.dumps({"strings": []}))
        # What sounded while this test was hearing is still on its way; then it is quiet.
        self.assertTrue(any(np.abs(self.sound(client, 0.3)).max() < 0.02 for _ in range(60)))

    def test_what_cannot_sound_is_refused_with_a_sentence(self) -> None:
        for said in ('{"strings": ["E"]}', '{"strings": ["C", "G", "D"]}', "nope"):
            client, _ = self.played()
            client.send(said)
            while not isinstance(answer := client.receive(timeout=60), str):
                pass
            self.assertEqual(json.loads(answer)["type"], "refused")

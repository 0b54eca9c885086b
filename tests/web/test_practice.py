"""Practice over the web API: goes that are kept and goes that aren't, scored once; whose they are; sound; hands."""

import io
import json
import threading
import time
from typing import Any
from urllib.request import Request, urlopen
from uuid import uuid4

import numpy as np
import soundfile
from simple_websocket import Client

from pondus.core.fifths.beats import fifth_between
from pondus.core.hearing.double_stop import DoubleStop, hear_fifth
from pondus.core.hearing.hear import Reading, hear
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.core.practice.drills import DRILLS
from pondus.core.practice.questions import setup
from pondus.core.practice.run import Go
from tests.web.test_api import ApiTest
from tests.web.test_listening import ListeningTest


class PracticeTest(ApiTest):
    def person(self, name: str = "Ida", **more: Any) -> str:
        person = str(uuid4())
        self.post("/api/people", {"id": person, "name": name, **more})
        return person

    def begun(self, drill: str, person: str | None = None, *, kind: str = "violin", go: str | None = None) -> Any:
        body = {"id": go or str(uuid4()), "drill": drill, "person_id": person, "on": {"kind": kind}}
        return self.post("/api/practice/begin", body)

    def answered(self, told: Any, answer: Any, *, key: str | None = None, number: int | None = None, status: int = 200) -> Any:
        body = {
            "go": ref_of(told),
            "id": key or str(uuid4()),
            "number": told["number"] if number is None else number,
            "answer": answer,
            "seconds": 3.0,
        }
        return self.post("/api/practice/answer", body, status)


def ref_of(told: Any) -> dict[str, Any]:
    return {"go_id": told["go_id"]} if told["go_id"] else {"loose": told["loose"]}


def right_of(told: Any) -> str:
    """The right answer, which the API doesn't tell: made again from the go."""
    loose = told["loose"]
    go = Go(DRILLS[loose["drill"]], setup(**loose["setup"]), loose["seed"])
    question = go.question()
    assert question is not None
    return sorted(question.right)[0]


class TestGoes(PracticeTest):
    def test_a_question_tells_no_answer(self) -> None:
        told = self.begun("flat-or-sharp")
        self.assertNotIn("rights", json.dumps(told["question"]))
        self.assertIsNone(told["judged"])
        self.assertNotIn("because", json.dumps(told))
        self.assertNotIn("right", json.dumps(self.begun("fifths")["question"]["choices"]))

    def test_a_loose_go_travels_with_the_page_and_nothing_is_kept(self) -> None:
        told = self.begun("which-peg")
        right = right_of(told)
        after = self.answered(told, {"choice": right})
        self.assertTrue(after["judged"]["right"])
        self.assertEqual((after["number"], after["right"]), (1, 1))
        self.assertEqual(len(after["loose"]["records"]), 1)
        self.assertEqual(self.post("/api/practice/question", ref_of(after))["question"], after["question"])
        wrong = next(each["answer"] for each in told["question"]["choices"] if each["answer"] != right)
        missed = self.answered(told, {"choice": wrong})
        self.assertFalse(missed["judged"]["right"])
        self.assertEqual(missed["judged"]["rights"], [right])
        ended = self.post("/api/practice/end", ref_of(after))
        self.assertIsNone(ended["question"])
        self.assertIn("1 of 1 right", ended["summary"])

    def test_a_kept_go_goes_on_where_it_was_left(self) -> None:
        ida = self.person()
        told = self.begun("flat-or-sharp", ida)
        after = self.answered(told, {"choice": "raise"})
        again = self.begun("flat-or-sharp", ida)
        self.assertEqual((again["go_id"], again["number"]), (told["go_id"], 1))
        self.assertEqual(again["question"], after["question"])
        self.assertEqual(self.post("/api/practice/question", {"go_id": told["go_id"]})["question"], after["question"])
        other = self.begun("flat-or-sharp", ida, kind="cello")
        self.assertNotEqual(other["go_id"], told["go_id"])

    def test_an_answer_is_scored_once(self) -> None:
        ida, key = self.person(), str(uuid4())
        told = self.begun("flat-or-sharp", ida)
        first = self.answered(told, {"choice": "raise"}, key=key)
        twice = self.answered(told, {"choice": "raise"}, key=key)
        self.assertEqual(first["judged"], twice["judged"])
        self.assertEqual(twice["number"], 1)
        changed = self.answered(told, {"choice": "lower"}, key=key)
        self.assertEqual(changed["judged"]["right"], first["judged"]["right"], "what was scored stays")
        late = self.answered(told, {"choice": "lower"}, status=409)
        self.assertIn("answered already", late["error"]["message"])
        self.assertEqual(self.post("/api/practice/question", {"go_id": told["go_id"]})["number"], 1)

    def test_two_devices_at_the_same_moment(self) -> None:
        told = self.begun("flat-or-sharp", self.person())
        statuses: list[int] = []

        def press() -> None:
            body = {"go": ref_of(told), "id": str(uuid4()), "number": 0, "answer": {"choice": "raise"}}
            statuses.append(self.app.test_client().post("/api/practice/answer", json=body).status_code)

        threads = [threading.Thread(target=press) for _ in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(sorted(statuses), [200, 409, 409, 409, 409, 409])
        self.assertEqual(self.post("/api/practice/question", {"go_id": told["go_id"]})["number"], 1)

    def test_an_ended_go_takes_no_answer(self) -> None:
        told = self.begun("flat-or-sharp", self.person())
        self.answered(told, {"choice": "raise"})
        self.post("/api/practice/end", ref_of(told))
        over = self.answered(told, {"choice": "raise"}, number=1, status=409)
        self.assertIn("over", over["error"]["message"])

    def test_a_sound_that_never_holds_is_not_scored(self) -> None:
        told = self.begun("for-real", self.person())
        hz = told["question"]["microphone_hz"]
        self.assertEqual(told["question"]["tone_partials"][:2], [1.0, 0.5])
        after = self.answered(told, {"heard_hz": hz, "spread_cents": 20.0})
        self.assertIsNone(after["judged"]["right"])
        self.assertEqual((after["number"], after["question"]), (0, told["question"]))
        well = self.answered(told, {"heard_hz": hz * 2 ** (4 / 1200), "spread_cents": 0.4})
        self.assertTrue(well["judged"]["right"])
        self.assertAlmostEqual(well["judged"]["outcome"]["ended_cents"], 4.0, places=1)

    def test_what_cannot_be_meant_is_refused(self) -> None:
        told = self.begun("flat-or-sharp")
        self.refused("/api/practice/begin", {"id": str(uuid4()), "drill": "dancing"}, field="drill", says="There is no drill")
        self.refused("/api/practice/question", {}, field="go", says="Which go")
        self.refused("/api/practice/question", {"go_id": str(uuid4())}, status=404)
        body = {"go": ref_of(told), "id": str(uuid4()), "number": 0, "answer": {"choice": "up"}}
        self.refused("/api/practice/answer", body, field="answer", says="isn't one of the answers")
        much = {**body, "answer": {"choice": "raise", "taps": [0.1 * at for at in range(201)]}}
        self.refused("/api/practice/answer", much, field="answer", says="more than an answer takes")
        odd = {**body, "answer": {"choice": "raise", "tapz": []}}
        self.refused("/api/practice/answer", odd, field="answer.tapz", says="not a field Pondus knows")
        self.refused("/api/practice/hands", {"go": ref_of(told), "actions": []}, says="nothing to be turned")
        self.refused("/api/practice/sound", {"go": ref_of(told)}, says="nothing to be heard")
        loose = {**told["loose"], "setup": {**told["loose"]["setup"], "kind": "tuba"}}
        self.refused("/api/practice/question", {"loose": loose})
        self.refused("/api/practice/begin", {"id": str(uuid4()), "drill": "names", "person_id": str(uuid4())}, status=404)

    def test_practising_on_ones_own_instrument_takes_its_settings(self) -> None:
        instrument, _ = self.begin("cello")
        self.client.patch(f"/api/instruments/{instrument}/settings", json={"a4": 442.0})
        told = self.post("/api/practice/begin", {"id": str(uuid4()), "drill": "names", "on": {"instrument_id": instrument}})
        self.assertEqual((told["kind"], told["tuned"]["a4"]), ("cello", 442.0))


class TestSoundsAndHands(PracticeTest):
    def wav(self, body: Any) -> tuple[np.ndarray, int]:
        response = self.client.post("/api/practice/sound", json=body)
        self.assertEqual(response.status_code, 200, response.get_data()[:200])
        samples, rate = soundfile.read(io.BytesIO(response.get_data()))
        return samples, rate

    def test_a_fifth_is_heard_as_wide_as_it_is(self) -> None:
        told = self.begun("fifths")
        samples, rate = self.wav({"go": ref_of(told)})
        loose = told["loose"]
        question = Go(DRILLS["fifths"], setup(**loose["setup"]), loose["seed"]).question()
        assert question is not None
        low, high = question.item.split(":")
        heard = hear_fifth(sound_from(samples, rate), INSTRUMENTS["violin"], strings=(low, high))
        assert isinstance(heard, DoubleStop), heard
        true = fifth_between(*question.heard[0].hz).from_pure_cents
        self.assertAlmostEqual(heard.fifth.from_pure_cents, true, delta=1.0)
        seen = self.post("/api/practice/seen", ref_of(told))
        self.assertAlmostEqual(seen["beats_hz"], fifth_between(*question.heard[0].hz).beats_hz, places=2)

    def test_turning_is_heard_and_shown(self) -> None:
        told = self.begun("screw-plucked")
        string = told["question"]["task"]["string"]
        before = self.post("/api/practice/hands", {"go": ref_of(told), "actions": []})
        turned = [{"string": string, "turns": 0.5}]
        after = self.post("/api/practice/hands", {"go": ref_of(told), "actions": turned})
        self.assertGreater(after["cents"], before["cents"] + 5.0)
        samples, rate = self.wav({"go": ref_of(told), "of": "string", "how": "bow", "actions": turned})
        heard = hear(sound_from(samples, rate), INSTRUMENTS["violin"], string=string)
        assert isinstance(heard, Reading), heard
        self.assertAlmostEqual(heard.string_cents, after["cents"], delta=2.0)

    def test_by_ear_nothing_is_shown_until_it_is_done(self) -> None:
        told = self.begun("to-a-tone")
        hands = self.post("/api/practice/hands", {"go": ref_of(told), "actions": []})
        self.assertIsNone(hands["shows"])
        self.assertIsNone(hands["cents"])
        after = self.answered(told, {"actions": []})
        self.assertFalse(after["judged"]["right"])
        self.assertGreater(abs(after["judged"]["outcome"]["ended_cents"]), 10.0)

    def test_bad_turns_are_refused(self) -> None:
        told = self.begun("screw-plucked")
        for actions in ([{"string": "C", "turns": 0.5}], [{"string": "G"}], [{"string": "G", "turns": 99.0}]):
            self.refused("/api/practice/hands", {"go": ref_of(told), "actions": actions})


class TestShown(PracticeTest):
    def test_progress_readiness_and_one_press(self) -> None:
        lene = self.person("Lene", cleared=[1])
        for _ in range(2):
            told = self.begun("screw-plucked", lene)
            while told["question"] is not None:
                told = self.answered(told, {"actions": []})
        room = self.get(f"/api/practice?person_id={lene}")
        drill = next(each for each in room["drills"] if each["name"] == "screw-plucked")
        self.assertEqual([point["asked"] for point in drill["points"]], [3, 3])
        self.assertFalse(drill["managed"])
        ready = next(each for each in self.get("/api/practice/ready")["people"] if each["person_id"] == lene)
        self.assertEqual((ready["stage"], ready["ready"]), (2, False))
        self.assertEqual(self.get("/api/people")["people"][0]["cleared"], [1], "nothing is cleared by itself")
        lesson = self.get(f"/api/practice/lesson?people={lene}")
        self.assertEqual(lesson["drills"][0]["people"][0]["name"], "Lene")
        self.assertEqual(self.client.get("/api/practice/lesson?people=all").status_code, 422)

    def test_what_was_missed_comes_back_another_time(self) -> None:
        nils = self.person("Nils")
        told = self.begun("which-peg", nils)
        wrong = {each["answer"] for each in told["question"]["choices"]}
        first = self.answered(told, {"choice": sorted(wrong)[0]})
        if first["judged"]["right"]:
            first = self.answered(first, {"choice": sorted(wrong)[0]})
        self.post("/api/practice/end", ref_of(told))
        again = self.begun("which-peg", nils)
        self.assertNotEqual(again["go_id"], told["go_id"])

    def test_a_persons_file_holds_it_and_erasing_takes_it(self) -> None:
        momme = self.person("Momme")
        told = self.begun("flat-or-sharp", momme)
        self.answered(told, {"choice": "raise"})
        data = self.client.get(f"/api/people/{momme}/data.json").get_json()
        self.assertEqual(data["practice"][0]["drill"], "flat-or-sharp")
        self.assertEqual(len(data["practice"][0]["answers"]), 1)
        self.post(f"/api/people/{momme}/erase", {"name": "Momme"})
        self.refused("/api/practice/question", {"go_id": told["go_id"]}, status=404)


class TestLive(ListeningTest):
    def test_a_bowed_string_sounds_on_as_it_is_turned(self) -> None:
        body = json.dumps({"id": str(uuid4()), "drill": "screw-bowed"}).encode()
        address = f"127.0.0.1:{self.server.port}"
        request = Request(f"http://{address}/api/practice/begin", body, {"Content-Type": "application/json"})
        with urlopen(request) as response:
            begun = json.load(response)
        string = begun["question"]["task"]["string"]
        socket = Client(f"ws://{address}/api/practice/live")
        self.addCleanup(self.leave, socket)
        socket.send(json.dumps({"go": {"loose": begun["loose"]}, "actions": [], "sample_rate": 44_100}))
        socket.send(json.dumps({"sounds": True}))
        before = self.hz(socket, string)
        assert before is not None
        socket.send(json.dumps({"action": {"string": string, "turns": 1.0}}))
        after, until = None, time.monotonic() + 60.0
        while (after is None or 1200.0 * np.log2(after / before) <= 8.0) and time.monotonic() < until:
            after = self.hz(socket, string)  # it slides while it is turned
        assert after is not None
        self.assertGreater(1200.0 * np.log2(after / before), 8.0)
        socket.send(json.dumps({"action": {"string": "X", "turns": 1.0}}))
        said = None
        until = time.monotonic() + 60.0
        while not isinstance(said, str) and time.monotonic() < until:
            said = socket.receive(timeout=60)
        self.assertIn("no “X” string", json.loads(said or "{}")["message"])

    def sounded(self, socket: Client) -> list[bytes]:
        blocks: list[bytes] = []
        while len(blocks) < 30:
            block = socket.receive(timeout=60)
            assert isinstance(block, bytes), block
            blocks.append(block)
        return blocks

    def hz(self, socket: Client, string: str) -> float | None:
        samples = np.frombuffer(b"".join(self.sounded(socket)[8:]), "<i2") / 32768.0
        heard = hear(sound_from(samples, 44_100), INSTRUMENTS["violin"], string=string)
        return heard.hz if isinstance(heard, Reading) else None

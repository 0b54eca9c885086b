"""Fifths over the web API: checks kept once, what they change, the next move, refusals; and the live socket."""

import json
from itertools import pairwise
from typing import Any
from uuid import uuid4

import numpy as np

from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, targets_hz
from pondus.core.pitch.notes import shift_hz
from pondus.core.simulated.sound import Samples, Tone, bowed, mixed
from tests.web.test_api import ApiTest, wav
from tests.web.test_listening import HELLO, RATE, ListeningTest, pcm


def double_stop(low: float, high: float, seconds: float = 1.2, rate: int = 44_100) -> Samples:
    rng = np.random.default_rng(5)
    return mixed(bowed(Tone(low, seconds, rate), rng), bowed(Tone(high, seconds, rate), rng), below_db=2.0)


class FifthsTest(ApiTest):
    def fifths(self, tuning: str) -> Any:
        return self.client.get(f"/api/tunings/{tuning}/fifths").get_json()

    def check(self, tuning: str, pair: str, check: Any, status: int = 200, check_id: str | None = None) -> Any:
        body = {"id": check_id or str(uuid4()), "lower": pair[0], "upper": pair[1], "check": check}
        return self.post(f"/api/tunings/{tuning}/fifths", body, status)

    def heard(self, low: float, high: float) -> dict[str, Any]:
        return {"way": "double-stop", "lower_hz": low, "upper_hz": high, "plus_minus_cents": 0.1}

    def link(self, out: Any, lower: str) -> Any:
        return next(each for each in out["links"] if each["lower"] == lower)


class TestChain(FifthsTest):
    def test_nothing_known_says_what_to_do(self) -> None:
        _, tuning = self.begin("cello")
        out = self.fifths(tuning)
        self.assertEqual([(each["lower"], each["verdict"]) for each in out["links"]], [("C", None), ("G", None), ("D", None)])
        self.assertIsNone(out["mend"])
        self.assertIn("Bow two neighbours together", out["said"])
        self.assertAlmostEqual(self.link(out, "D")["temperament_beats_hz"], 0.497, places=3)

    def test_single_readings_make_the_chain(self) -> None:
        _, tuning = self.begin("violin")
        for string, typed in (("A", "0"), ("D", "-9"), ("G", "-9"), ("E", "1")):
            self.post(f"/api/tunings/{tuning}/readings", {"id": str(uuid4()), "string": string, "typed": typed})
        out = self.fifths(tuning)
        link = self.link(out, "D")
        self.assertEqual((link["from_temperament_cents"], link["verdict"], link["way"]), (9.0, "wide", "two-readings"))
        self.assertEqual((out["mend"]["string"], out["mend"]["change_cents"]), ("D", 9.0))
        self.assertEqual(out["mend"]["step"]["do"], "turn-fine-tuner")
        self.assertEqual(out["mend"]["step"]["pitch"], "raise")

    def test_following_the_moves_through_double_stops_ends_still(self) -> None:
        _, tuning = self.begin("cello")
        self.client.patch(f"/api/tunings/{tuning}", json={"target": "pure", "tolerance_cents": 1})
        targets = targets_hz(INSTRUMENTS["cello"], fifth_cents=PURE_FIFTH_CENTS)
        hz = {name: shift_hz(each, off) for (name, each), off in zip(targets.items(), (12, -9, 6, 1), strict=True)}
        for lower, upper in pairwise(hz):
            self.check(tuning, lower + upper, self.heard(hz[lower], hz[upper]))
        out = self.fifths(tuning)
        for _ in range(12):
            mend = out["mend"]
            if mend is None:
                break
            hz[mend["string"]] = shift_hz(hz[mend["string"]], mend["step"]["expect_cents"])
            step = {key: mend["step"][key] for key in ("amount", "unit")}
            move = {"id": str(uuid4()), "string": mend["string"], "mechanism": "fine-tuner", "direction": mend["step"]["pitch"]}
            self.post(f"/api/tunings/{tuning}/moves", {**move, **step})
            waiting = self.fifths(tuning)
            self.assertIsNone(waiting["mend"])
            self.assertIn("was turned: bow", waiting["said"])
            for lower, upper in pairwise(hz):
                if mend["string"] in (lower, upper):
                    out = self.check(tuning, lower + upper, self.heard(hz[lower], hz[upper]))
        self.assertIsNone(out["mend"])
        self.assertIn("The chain is still", out["said"])
        self.assertEqual({each["verdict"] for each in out["links"]}, {"right"})
        self.assertIn("−5.9", out["strings"][0]["tuner_line"])

    def test_a_check_no_longer_holds_once_a_string_was_turned(self) -> None:
        _, tuning = self.begin("violin")
        out = self.check(tuning, "DA", {"way": "tapped", "taps": [0.0, 0.5, 1.0, 1.5, 2.0]})
        self.assertIn("wide and narrow beat alike", self.link(out, "D")["ask_small_move"])
        move = {
            "id": str(uuid4()),
            "string": "D",
            "mechanism": "fine-tuner",
            "direction": "raise",
            "amount": 0.1,
            "unit": "turn",
        }
        self.post(f"/api/tunings/{tuning}/moves", move)
        self.assertIsNone(self.link(self.fifths(tuning), "D")["ask_small_move"])


class TestAsking(FifthsTest):
    def test_a_move_without_effect_is_asked_about_and_answered(self) -> None:
        _, tuning = self.begin("violin")
        self.check(tuning, "DA", self.heard(293.665 * 2 ** (-30 / 1200), 440.0))
        move = str(uuid4())
        told = {"mechanism": "fine-tuner", "direction": "raise", "amount": 0.75, "unit": "turn"}
        self.post(f"/api/tunings/{tuning}/moves", {"id": move, "string": "D", **told})
        self.check(tuning, "DA", self.heard(293.665 * 2 ** (-30 / 1200), 440.0))
        mend = self.fifths(tuning)["mend"]
        self.assertEqual((mend["string"], mend["step"]["do"], mend["step"]["question"]), ("D", "ask", "no-effect"))
        self.post(f"/api/moves/{move}/answer", {"answer": "not-turned"})
        mend = self.fifths(tuning)["mend"]
        self.assertEqual((mend["string"], mend["step"]["do"]), ("D", "turn-fine-tuner"))


class TestWays(FifthsTest):
    def test_a_double_stop_is_kept_once_and_reads_both_strings(self) -> None:
        _, tuning = self.begin("violin")
        same = str(uuid4())
        for _ in range(2):
            out = self.check(tuning, "DA", self.heard(293.0, 440.0), check_id=same)
        self.assertEqual(len(out["checks"]), 1)
        self.assertEqual(self.link(out, "D")["way"], "double-stop")
        bench = self.client.get(f"/api/tunings/{tuning}").get_json()
        strings = {each["name"]: each["reading"] for each in bench["strings"]}
        self.assertEqual((strings["D"]["shown"], strings["A"]["shown"]), ("293.00 Hz", "440.00 Hz"))
        self.check(tuning, "DA", self.heard(294.0, 440.0), status=409, check_id=same)

    def test_striking_out_takes_the_readings_with_it_and_brings_them_back(self) -> None:
        _, tuning = self.begin("violin")
        check = str(uuid4())
        self.check(tuning, "DA", self.heard(293.0, 440.0), check_id=check)
        out = self.post(f"/api/fifths/{check}/strike", {})
        self.assertEqual((out["checks"][0]["struck"], self.link(out, "D")["verdict"]), (True, None))
        self.assertIsNone(out["strings"][1]["cents_off"])
        out = self.client.delete(f"/api/fifths/{check}/strike").get_json()
        self.assertEqual((out["checks"][0]["struck"], self.link(out, "D")["verdict"]), (False, "wide"))
        self.post(f"/api/fifths/{uuid4()}/strike", {}, 404)

    def test_tapped_beats_ask_for_the_small_move_and_then_know(self) -> None:
        for second_gap, wide in ((1.25, True), (0.8, False)):
            _, tuning = self.begin("cello")
            self.check(tuning, "DA", {"way": "tapped", "taps": [0.0, 1.0, 2.0, 3.0, 4.0]})
            out = self.check(
                tuning,
                "DA",
                {
                    "way": "tapped",
                    "taps": [each * second_gap for each in range(6)],
                    "small_move": {"moved": "lower", "pitch": "raise"},
                },
            )
            link = self.link(out, "D")
            self.assertEqual((link["from_pure_cents"] > 0, link["way"]), (wide, "tapped"))
            self.assertAlmostEqual(link["beats_hz"], 1.0 / second_gap, delta=0.01)

    def test_how_it_sounds_and_a_small_move_tell_which_way(self) -> None:
        for said, after, wide in (
            ("slower", {"heard": "slow", "compared": "slower"}, True),
            ("faster", {"heard": "fast", "compared": "faster"}, False),
            ("slow, from fast", {"heard": "slow"}, True),
        ):
            with self.subTest(said):
                _, tuning = self.begin("violin")
                before = self.link(self.check(tuning, "DA", {"way": "by-ear", "heard": "fast"}), "D")
                self.assertIsNone(before["from_pure_cents"])
                self.assertIn("Turn one string a hair", before["ask_small_move"])
                moved = {"small_move": {"moved": "lower", "pitch": "raise"}}
                link = self.link(self.check(tuning, "DA", {"way": "by-ear", **after, **moved}), "D")
                self.assertEqual((link["from_pure_cents"] > 0, link["way"], link["ask_small_move"]), (wide, "by-ear", None))

    def test_harmonics_by_ear_tell_which_way_at_once(self) -> None:
        for heard, sign in (("below", 1), ("level", 0), ("above", -1)):
            _, tuning = self.begin("viola")
            link = self.link(self.check(tuning, "GD", {"way": "by-ear", "heard": heard}), "G")
            self.assertEqual((link["from_pure_cents"] > 0) - (link["from_pure_cents"] < 0), sign)

    def test_still_is_pure_give_or_take(self) -> None:
        _, tuning = self.begin("cello")
        link = self.link(self.check(tuning, "CG", {"way": "by-ear", "heard": "still"}), "C")
        self.assertEqual(link["from_pure_cents"], 0.0)
        self.assertGreater(link["plus_minus_cents"], 3.0, "a low fifth beats slowly")
        moved = {"small_move": {"moved": "lower", "pitch": "raise"}}
        self.check(tuning, "DA", {"way": "by-ear", "heard": "slow", **moved}, 422)
        self.check(tuning, "DA", {"way": "by-ear", "heard": "fast"})
        self.check(tuning, "DA", {"way": "by-ear", "heard": "fast", **moved}, 422)

    def test_harmonics_as_a_tuner_shows_them(self) -> None:
        _, tuning = self.begin("cello")
        out = self.check(tuning, "DA", {"way": "harmonics", "octave": "0", "twelfth": "A4 +2"})
        self.assertAlmostEqual(self.link(out, "D")["from_pure_cents"], -2.0, places=2)
        self.assertEqual(self.link(out, "D")["harmonics"]["twelfth_above_octave_cents"], 2.0)

    def test_a_harmonic_is_heard_in_a_recording(self) -> None:
        tone = bowed(Tone(441.0, 1.0, partials=4), np.random.default_rng(2))
        heard = self.client.post("/api/harmonic", data={"file": (wav(tone), "h.wav"), "near_hz": "440"})
        self.assertAlmostEqual(heard.get_json()["hz"], 441.0, delta=0.1)
        for near, sound, says in (("300", tone, "not this harmonic"), ("440", np.zeros(30_000), "silent"), ("-1", tone, "")):
            refused = self.client.post("/api/harmonic", data={"file": (wav(sound), "h.wav"), "near_hz": near})
            self.assertEqual(refused.status_code, 422)
            self.assertIn(says, refused.get_json()["error"]["message"])

    def test_a_recording_finds_its_pair(self) -> None:
        _, tuning = self.begin("viola")
        form = {"file": (wav(double_stop(98.0 * 2, 293.0)), "gd.wav"), "id": str(uuid4())}
        response = self.client.post(f"/api/tunings/{tuning}/fifths/recording", data=form)
        link = self.link(response.get_json(), "G")
        self.assertEqual((link["way"], link["verdict"]), ("double-stop", "narrow"))
        self.assertAlmostEqual(link["from_pure_cents"], 1200 * np.log2(293.0 / 294.0), delta=0.3)
        alone = {"file": (wav(bowed(Tone(440.0, 1.0), np.random.default_rng(2))), "a.wav"), "id": str(uuid4())}
        refused = self.client.post(f"/api/tunings/{tuning}/fifths/recording", data=alone)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("only one string sounds", refused.get_json()["error"]["message"])

    def test_what_cannot_be_meant_is_refused_and_stores_nothing(self) -> None:
        _, tuning = self.begin("violin")
        path = f"/api/tunings/{tuning}/fifths"
        good = {"way": "tapped", "taps": [0.0, 1.0, 2.0, 3.0]}

        def body(pair: str, check: Any) -> dict[str, Any]:
            return {"id": str(uuid4()), "lower": pair[0], "upper": pair[1], "check": check}

        self.refused(path, body("AD", good), says="make no fifth")
        self.refused(path, body("CG", good), says="no “C” string")
        self.refused(path, body("DA", {"way": "tapped", "taps": [0.0, 1.0]}), says="too few")
        self.refused(
            path, body("DA", {**good, "small_move": {"moved": "lower", "pitch": "raise"}}), says="before the small move"
        )
        self.refused(path, body("DA", self.heard(293.0, 660.0)), says="aren't a fifth")
        self.refused(path, body("DA", self.heard(-3.0, 660.0)), field="check.lower_hz")
        self.refused(path, body("DA", {"way": "harmonics", "octave": "0", "twelfth": "C4 +2"}), says="far from A5")
        self.refused(path, body("DA", {"way": "guess"}), field="check")
        self.assertEqual(self.fifths(tuning)["checks"], [])

    def test_one_recording_as_the_command_line_has_it(self) -> None:
        form = {"file": (wav(double_stop(147.0, 220.0)), "da.wav"), "instrument": "cello", "strings": "D,A"}
        heard = self.client.post("/api/fifth", data=form).get_json()
        figures = {"lower_hz", "upper_hz", "interval_cents", "from_pure_cents", "beats_hz"}
        self.assertEqual(set(heard), {"file", "usable", "reason"} | figures)
        self.assertAlmostEqual(heard["beats_hz"], 1.0, delta=0.06)
        form = {"file": (wav(np.zeros(30_000)), "no.wav"), "instrument": "cello", "strings": "D"}
        self.assertIn("isn't a pair", self.client.post("/api/fifth", data=form).get_json()["error"]["message"])


class TestEnsemble(FifthsTest):
    def test_the_clash_table(self) -> None:
        members = [
            {"name": "violin", "instrument": "violin"},
            {"name": "cello", "instrument": "cello", "target": "pure", "a4": 442.0},
        ]
        found = self.post("/api/ensemble", {"members": members})
        self.assertEqual([each["letter"] for each in found["letters"]], ["C", "G", "D", "A", "E"])
        self.assertIn("violin and cello have their A", found["said"])
        self.refused("/api/ensemble", {"members": [{"name": "x", "instrument": "harp"}]}, field="members.0.instrument")

    def test_what_the_schools_do(self) -> None:
        effects = self.client.get("/api/temperaments").get_json()["effects"]
        self.assertEqual((effects[0]["fifth_cents"], round(effects[-1]["lowest_c_cents"], 3)), (700.0, -5.865))


class TestLiveFifths(ListeningTest):
    def test_a_double_stop_settles_over_the_socket(self) -> None:
        client = self.open({**HELLO, "instrument": "cello", "listen_for": "fifth"})
        self.assertEqual(self.next(client), {"type": "ready"})
        sound = pcm(double_stop(147.0, 220.0, 1.5, RATE))
        for start in range(0, len(sound), 2048):
            client.send(sound[start : start + 2048])
        said = self.all_said(client, "fifth-settled")
        self.assertEqual({each["type"] for each in said[:-1]}, {"fifth"})
        self.assertEqual(said[-1]["strings"], ["D", "A"])
        self.assertAlmostEqual(said[-1]["fifth"]["beats_hz"], 1.0, delta=0.15)

    def test_what_makes_no_fifth_is_refused(self) -> None:
        for more in (
            {"strings": ["D", "A"]},
            {"listen_for": "fifth", "strings": ["A", "D"]},
            {"listen_for": "fifth", "string": "A"},
        ):
            client = self.open(json.dumps({**HELLO, **more}))
            self.assertEqual(self.next(client)["type"], "refused")

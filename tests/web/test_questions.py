"""Questions at the bench and their answers; readings without figures; strings that give no pitch; the bridge."""

from typing import Any
from uuid import uuid4

from tests.web.test_api import ApiTest


class QuestionsTest(ApiTest):
    def read(self, tuning: str, string: str, typed: str, status: int = 200, **more: Any) -> Any:
        body = {"id": str(uuid4()), "string": string, "typed": typed, **more}
        return self.post(f"/api/tunings/{tuning}/readings", body, status)

    def turn(self, tuning: str, string: str, mechanism: str, direction: str, amount: float, **more: Any) -> str:
        move, unit = str(uuid4()), "degree" if mechanism == "peg" else "turn"
        told = {"mechanism": mechanism, "direction": direction, "amount": amount, "unit": unit, **more}
        self.post(f"/api/tunings/{tuning}/moves", {"id": move, "string": string, **told})
        return move

    def on(self, bench: Any, name: str) -> Any:
        return next(each for each in bench["strings"] if each["name"] == name)

    def steps(self, bench: Any, name: str) -> list[str]:
        return [step["do"] for step in self.on(bench, name)["advice"]["steps"]]

    def unmoved(self, tuning: str, string: str = "D", typed: str = "C4 -20", peg: float = 5.0) -> tuple[str, Any]:
        """A peg turned up without effect: the move, and the bench after it."""
        self.read(tuning, string, typed)
        move = self.turn(tuning, string, "peg", "raise", peg)
        return move, self.read(tuning, string, typed)

    def answer(self, move: str, answer: str, status: int = 200) -> Any:
        return self.post(f"/api/moves/{move}/answer", {"answer": answer}, status)


class TestNoEffect(QuestionsTest):
    def test_it_is_asked_and_no_turn_is_advised(self) -> None:
        _, tuning = self.begin()
        _, bench = self.unmoved(tuning)
        self.assertEqual((self.steps(bench, "D"), self.on(bench, "D")["advice"]["state"]), (["ask"], "no-effect"))
        self.assertIn("D", bench["plan"]["ask"])
        self.assertIn("hardly moved", self.on(bench, "D")["headline"])

    def test_reading_it_again_as_it_was_answers_nothing(self) -> None:
        _, tuning = self.begin()
        move, _ = self.unmoved(tuning)
        for typed in ("C4 -20", "C4 -19"):
            bench = self.read(tuning, "D", typed)
            self.assertEqual((self.steps(bench, "D"), bench["next_string"]), (["ask"], "D"))
        self.assertEqual(self.steps(self.answer(move, "sprang-back"), "D")[0], "turn-peg")

    def test_each_answer_is_followed_and_kept(self) -> None:
        for answer, first in (("sprang-back", "turn-peg"), ("other-peg", "play-again"), ("none", "check")):
            _, tuning = self.begin()
            move, _ = self.unmoved(tuning)
            with self.subTest(answer=answer):
                self.assertEqual(self.steps(self.answer(move, answer), "D")[0], first)
                self.assertEqual(self.steps(self.get(f"/api/tunings/{tuning}"), "D")[0], first)

    def test_not_turned_takes_the_move_back(self) -> None:
        _, tuning = self.begin()
        move, _ = self.unmoved(tuning)
        bench = self.answer(move, "not-turned")
        self.assertEqual(self.steps(bench, "D")[0], "turn-peg")
        entry = next(each for each in bench["history"] if each["id"] == move)
        self.assertEqual((entry["struck"], entry["struck_reason"]), (True, "not turned"))

    def screw_after(self, instrument: str, tuning: str, answer: str, *, went: str = "-20") -> float:
        """Where the A's screw is said to stand after half a turn up that did nothing (or what ``went`` says), and an answer."""
        changed = self.client.patch(f"/api/instruments/{instrument}/strings/A", json={"screw_turns": 1.0})
        self.assertEqual(changed.status_code, 200)
        self.read(tuning, "A", "-20")
        move = self.turn(tuning, "A", "fine-tuner", "raise", 0.5)
        self.assertEqual(self.steps(self.read(tuning, "A", went), "A"), ["ask"])
        turns: float = self.on(self.answer(move, answer), "A")["fine_tuner"]["turns_from_middle"]
        return turns

    def test_the_kept_screw_stands_where_the_answer_says(self) -> None:
        """Another string's was turned, none was, it was at its end: then half a turn isn't what this one made."""
        for answer, turns in (("other-peg", 1.0), ("not-turned", 1.0), ("end-or-loose", 4.0), ("none", 1.5)):
            instrument, tuning = self.begin()
            with self.subTest(answer=answer):
                self.assertAlmostEqual(self.screw_after(instrument, tuning, answer), turns, delta=0.01)
                bench = self.get(f"/api/tunings/{tuning}")
                self.assertAlmostEqual(self.on(bench, "A")["fine_tuner"]["turns_from_middle"], turns, delta=0.01)

    def test_a_screw_turned_the_other_way_stands_there_and_is_said_so(self) -> None:
        instrument, tuning = self.begin()
        self.assertAlmostEqual(self.screw_after(instrument, tuning, "not-turned", went="-40"), 0.5, delta=0.01)
        bench = self.get(f"/api/tunings/{tuning}")
        move = next(each for each in bench["history"] if each["kind"] == "move")
        self.assertEqual((move["struck"], move["text"]), (False, "fine tuner up, about ½ turn; it was turned the other way"))
        self.assertEqual(self.on(bench, "A")["learned"]["screw_moves"], 0)
        self.assertEqual(self.steps(bench, "A")[0], "turn-fine-tuner")

    def test_a_screw_that_was_at_its_end_goes_back_to_the_middle_first(self) -> None:
        instrument, tuning = self.begin()
        self.screw_after(instrument, tuning, "end-or-loose")
        bench = self.get(f"/api/tunings/{tuning}")
        first = self.on(bench, "A")["advice"]["steps"][0]
        self.assertEqual((first["do"], first["pitch"], first["amount"]), ("set-fine-tuner-to-middle", "lower", 4.0))
        self.turn(tuning, "A", "fine-tuner", "lower", 4.0)
        after = self.on(self.read(tuning, "A", "F#4 +10"), "A")
        self.assertAlmostEqual(after["fine_tuner"]["turns_from_middle"], 0.0, delta=0.01)

    def test_nothing_is_learned_from_it(self) -> None:
        _, tuning = self.begin()
        move, bench = self.unmoved(tuning)
        self.assertEqual(self.on(bench, "D")["learned"]["peg_moves"], 0)
        self.assertEqual(self.on(self.answer(move, "sprang-back"), "D")["learned"]["peg_moves"], 0)

    def test_small_turns_are_added_up_until_one_is_due(self) -> None:
        _, tuning = self.begin()
        self.read(tuning, "D", "-30")
        asked = []
        for _ in range(3):
            self.turn(tuning, "D", "fine-tuner", "raise", 0.15)
            asked.append(self.steps(self.read(tuning, "D", "-30"), "D") == ["ask"])
        self.assertEqual(asked, [False, False, True])

    def test_an_answer_to_nothing_is_refused(self) -> None:
        _, tuning = self.begin()
        move, _ = self.unmoved(tuning)
        self.answer(move, "wound-other-way", 422)
        self.read(tuning, "D", "C4 +30")
        self.answer(move, "sprang-back", 422)
        self.answer(str(uuid4()), "none", 404)

    def test_another_string_that_moved_is_named_at_once(self) -> None:
        _, tuning = self.begin()
        self.read(tuning, "A", "A4 0")
        self.unmoved(tuning)
        bench = self.read(tuning, "A", "A4 +45")
        self.assertIn("The A string went up by 45 cents when the D was turned", bench["notice"])
        self.assertIn("A peg", bench["notice"])


class TestWrongWay(QuestionsTest):
    def wrong_way(self, tuning: str, shown: str) -> Any:
        move = self.turn(tuning, "G", "peg", "raise", 4.0)
        answers = [each["answer"] for each in self.on(self.read(tuning, "G", shown), "G")["advice"]["steps"][0]["options"]]
        self.assertEqual(answers, ["sprang-back", "other-peg", "not-turned", "wound-other-way", "none"])
        return self.on(self.answer(move, "wound-other-way"), "G")["advice"]

    def winding(self, instrument: str) -> str:
        fitted = next(each for each in self.get("/api/instruments")["instruments"] if each["id"] == instrument)
        return next(str(each["winding"]) for each in fitted["strings"] if each["name"] == "G")

    def test_a_string_wound_the_other_way_is_kept_so_once_two_moves_say_so(self) -> None:
        instrument, tuning = self.begin()
        before = self.on(self.read(tuning, "G", "F3 0"), "G")["advice"]["steps"][0]
        once = self.wrong_way(tuning, "E3 +30")
        self.assertEqual((once["steps"][0]["do"], once["steps"][0]["rotation"]), ("turn-peg", before["rotation"]))
        self.assertEqual(once["steps"][0]["amount"], 1.0, "by the smallest push")
        self.assertIn("If it goes the wrong way once more", once["why"])
        self.assertEqual(self.winding(instrument), "normal")
        twice = self.wrong_way(tuning, "E3 0")
        self.assertEqual(twice["steps"][0]["do"], "turn-peg")
        self.assertNotEqual(twice["steps"][0]["rotation"], before["rotation"])
        self.assertEqual(self.winding(instrument), "reversed")
        again = self.on(self.get(f"/api/tunings/{tuning}"), "G")["advice"]
        self.assertEqual(again["steps"][0]["rotation"], twice["steps"][0]["rotation"])
        self.assertNotIn("once more", again["why"])

    def test_a_hand_that_turned_the_wrong_way_once_flips_nothing(self) -> None:
        instrument, tuning = self.begin()
        before = self.on(self.read(tuning, "G", "F3 0"), "G")["advice"]["steps"][0]
        self.wrong_way(tuning, "E3 +30")
        self.turn(tuning, "G", "peg", "raise", 1.0)
        after = self.on(self.read(tuning, "G", "E3 +45"), "G")["advice"]
        self.assertEqual(after["steps"][0]["rotation"], before["rotation"])
        self.assertNotIn("once more", after["why"])
        self.assertEqual(self.winding(instrument), "normal")


class TestSides(QuestionsTest):
    def test_a_side_stands_as_what_it_is(self) -> None:
        _, tuning = self.begin()
        for typed, words, text in (
            ("flat", "flat", "shown flat"),
            ("A4 sharp", "sharp", "A4 shown sharp"),
            ("in tune", "shown in tune", "shown in tune"),
        ):
            bench = self.read(tuning, "A", typed)
            on_a = self.on(bench, "A")
            self.assertEqual((on_a["words"], bench["history"][0]["text"]), (words, text))
            self.assertIsNone(on_a["advice"]["cents_off"])
        self.assertEqual(self.on(bench, "A")["advice"]["steps"], [])

    def test_the_side_that_changes_halves_the_turn(self) -> None:
        _, tuning = self.begin()
        first = self.on(self.read(tuning, "A", "flat"), "A")["advice"]["steps"][0]
        self.assertEqual(first["amount"], 0.5)
        self.turn(tuning, "A", "fine-tuner", "raise", 0.5)
        back = self.on(self.read(tuning, "A", "sharp"), "A")["advice"]["steps"][0]
        self.assertEqual((back["pitch"], back["amount"]), ("lower", 0.25))

    def test_a_bare_letter_asks_and_the_answer_is_a_reading(self) -> None:
        _, tuning = self.begin()
        asked = self.on(self.read(tuning, "A", "A4"), "A")["advice"]["steps"][0]
        self.assertEqual(asked["question"], "which-side")
        flat = next(each for each in asked["options"] if each["answer"] == "flat")
        body = {"id": str(uuid4()), "string": "A", "heard": flat["set"]["heard"]}
        bench = self.post(f"/api/tunings/{tuning}/readings", body)
        self.assertEqual(self.on(bench, "A")["advice"]["state"], "flat")

    def test_a_flat_may_be_a_note_and_is_asked(self) -> None:
        _, tuning = self.begin()
        self.assertIn("may be the note Ab", self.read(tuning, "A", "A flat", 422)["error"]["message"])

    def test_a_side_with_a_figure_is_refused(self) -> None:
        _, tuning = self.begin()
        heard = {"note": "A4", "cents": 3.0, "side": "flat"}
        body = {"id": str(uuid4()), "string": "A", "heard": heard}
        self.refused(f"/api/tunings/{tuning}/readings", body, says="twice")


class TestStringsWithoutPitch(QuestionsTest):
    def test_a_broken_string_has_its_route_and_the_next_reading_says_it_is_on(self) -> None:
        instrument, tuning = self.begin()
        self.read(tuning, "G", "-12")
        response = self.client.patch(f"/api/instruments/{instrument}/strings/G", json={"state": "broken"})
        self.assertEqual(response.status_code, 200)
        bench = self.get(f"/api/tunings/{tuning}")
        self.assertEqual(self.steps(bench, "G")[:2], ["put-string-on", "turn-peg"])
        self.assertEqual(self.on(bench, "G")["words"], "broken")
        sounding = self.read(tuning, "G", "E3 0")
        self.assertEqual(self.on(sounding, "G")["advice"]["state"], "slack")
        near = self.read(tuning, "G", "G3 -40")
        self.assertEqual(self.on(near, "G")["advice"]["state"], "flat")
        self.assertEqual(self.on(self.read(tuning, "G", "F3 0"), "G")["advice"]["state"], "unsure")
        self.assertEqual(self.on(self.read(tuning, "G", "F3 0"), "G")["advice"]["state"], "flat")
        # what was within 100 cents once and slips again is flat, no longer slack

    def test_the_morning_knows_a_broken_string_and_a_fallen_bridge(self) -> None:
        instrument, tuning = self.begin()
        for name in ("D", "A", "E"):
            self.read(tuning, name, "0")
        self.client.patch(f"/api/instruments/{instrument}/strings/G", json={"state": "broken"})
        mine = next(each for each in self.get("/api/morning")["instruments"] if each["id"] == instrument)
        self.assertEqual((mine["group"], mine["said"]), ("teacher-must", "G broken"))
        self.client.patch(f"/api/instruments/{instrument}/strings/G", json={"state": "on"})
        self.client.patch(f"/api/instruments/{instrument}", json={"bridge": "fallen"})
        bench = self.read(tuning, "G", "-12")
        self.assertEqual(self.steps(bench, "G"), ["luthier"])
        self.assertEqual(bench["plan"]["total_moves"], 0)
        mine = next(each for each in self.get("/api/morning")["instruments"] if each["id"] == instrument)
        self.assertEqual((mine["group"], mine["said"]), ("luthier", "the bridge"))

    def test_a_string_without_a_screw_is_tugged_down(self) -> None:
        _, tuning = self.begin(A={"has_fine_tuner": False})
        step = self.on(self.read(tuning, "A", "+9"), "A")["advice"]["steps"][0]
        self.assertEqual(step["do"], "tug-down")
        self.turn(tuning, "A", "tug", "lower", 1.0)
        bench = self.read(tuning, "A", "+4")
        self.assertEqual(self.on(bench, "A")["advice"]["state"], "in-tune")
        self.assertEqual([each["text"] for each in bench["history"] if each["kind"] == "move"], ["pulled it down"])


class TestWhileSounding(QuestionsTest):
    def test_who_turns_says_how_and_a_setting_says_otherwise(self) -> None:
        _, tuning = self.begin()
        step = self.on(self.read(tuning, "D", "C4 -20"), "D")["advice"]["steps"][0]
        self.assertEqual(step["until"], {"note": "C♯4", "cents": 0.0})
        bench = self.client.patch(f"/api/tunings/{tuning}", json={"who": "student-pegs"}).get_json()
        self.assertIsNone(self.on(bench, "D")["advice"]["steps"][0]["until"])
        bench = self.client.patch(f"/api/tunings/{tuning}", json={"turning": "while-sounding"}).get_json()
        self.assertIsNotNone(self.on(bench, "D")["advice"]["steps"][0]["until"])
        self.assertEqual(bench["tuning"]["turning"], "while-sounding")


class TestPureChain(QuestionsTest):
    def test_a_pure_violin_is_left_and_pure_is_offered(self) -> None:
        _, tuning = self.begin()
        for name, cents in (("A", "0"), ("D", "-2"), ("G", "-4")):
            self.read(tuning, name, cents)
        bench = self.read(tuning, "E", "+2")
        self.assertTrue(bench["plan"]["offer_pure"])
        self.assertIsNone(bench["next_string"])
        self.assertIn("pure fifths", self.on(bench, "G")["headline"])

    def test_a_violin_that_passes_by_a_pure_chain_while_it_is_tuned_is_tuned_on(self) -> None:
        _, tuning = self.begin()
        for name, cents in (("A", "0"), ("D", "-2"), ("E", "+2"), ("G", "-12")):
            self.read(tuning, name, cents)
        move = self.turn(tuning, "G", "fine-tuner", "raise", 0.25)
        bench = self.read(tuning, "G", "-4")
        self.assertFalse(bench["plan"]["offer_pure"])
        self.assertEqual(bench["next_string"], "G")
        group = next(
            each["group"] for each in self.get("/api/morning")["instruments"] if each["id"] == bench["instrument"]["id"]
        )
        self.assertEqual(group, "student-can")
        self.post(f"/api/moves/{move}/strike", {"reason": "never made"})
        self.assertTrue(self.get(f"/api/tunings/{tuning}")["plan"]["offer_pure"])

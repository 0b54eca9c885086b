"""What hands need of the server: notes by other names, a tuning taken back, one turn told of by two."""

from typing import Any
from uuid import uuid4

from tests.web.test_questions import QuestionsTest


class TestNoteNames(QuestionsTest):
    def called(self, spelling: str) -> str:
        _, tuning = self.begin()
        self.client.patch(f"/api/tunings/{tuning}", json={"spelling": spelling})
        return tuning

    def test_a_german_b_is_a_b_flat_and_h_a_b(self) -> None:
        tuning = self.called("german")
        for typed, off, shown in (("H3 -20", 380.0, "H3 −20"), ("B3", None, "B3"), ("Gis3 +5", 105.0, "Gis3 +5")):
            bench = self.read(tuning, "G", typed)
            string = self.on(bench, "G")
            self.assertEqual(string["reading"]["shown"], shown)
            if off is not None:
                self.assertAlmostEqual(string["advice"]["cents_off"], off, places=2)

    def test_syllables_with_the_french_count_say_la_3_for_the_reference(self) -> None:
        tuning = self.called("do-re-mi-french")
        string = self.on(self.read(tuning, "A", "la3 -12"), "A")
        self.assertEqual((string["target_note"], string["reading"]["shown"]), ("La3", "La3 −12"))
        self.assertAlmostEqual(string["advice"]["cents_off"], -12.0, places=2)

    def test_an_answer_speaks_letters_whatever_the_names(self) -> None:
        tuning = self.called("german")
        bench = self.read(tuning, "A", "Es")  # a tritone away: lower or higher?
        asked = next(step for step in self.on(bench, "A")["advice"]["steps"] if step["do"] == "ask")
        lower = next(option for option in asked["options"] if option["answer"] == "lower")
        self.assertIn("Es4", lower["say"])
        self.assertEqual(lower["set"]["heard"]["note"], "Eb4")
        told = {"id": str(uuid4()), "string": "A", "heard": lower["set"]["heard"]}
        after = self.on(self.post(f"/api/tunings/{tuning}/readings", told), "A")
        self.assertEqual(after["reading"]["shown"], "Es4")


class TestTakingBack(QuestionsTest):
    def back(self, instrument: str, tuning: str, status: int = 200) -> Any:
        return self.post(f"/api/instruments/{instrument}/tuning-before", {"id": tuning}, status)

    def test_an_empty_tuning_goes_and_the_one_before_is_there_again(self) -> None:
        instrument, first = self.begin()
        self.read(first, "A", "-12")
        second = str(uuid4())
        begun = self.post("/api/tunings", {"id": second, "instrument_id": instrument})
        self.assertTrue(begun["can_go_back"])
        for _ in range(2):  # sent twice, it is taken back once
            self.assertEqual(self.back(instrument, second)["tuning"]["id"], first)
        self.get(f"/api/tunings/{second}", 404)

    def test_one_that_holds_something_or_is_alone_stays(self) -> None:
        instrument, first = self.begin()
        self.assertFalse(self.get(f"/api/tunings/{first}")["can_go_back"])
        self.back(instrument, first, 409)
        second = str(uuid4())
        self.post("/api/tunings", {"id": second, "instrument_id": instrument})
        self.read(second, "A", "-12")
        self.assertIn("stays", self.back(instrument, second, 409)["error"]["message"])
        self.assertEqual(len(self.get(f"/api/tunings/{second}")["history"]), 1)
        other, _ = self.begin()
        self.back(other, second, 409)


class TestOneTurnToldOfTwice(QuestionsTest):
    def test_it_is_one_move_unless_it_differs_or_was_read_since(self) -> None:
        _, tuning = self.begin()
        seen = self.read(tuning, "A", "-30")["log_version"]
        one, other = str(uuid4()), str(uuid4())
        first = self.turn(tuning, "A", "fine-tuner", "raise", 0.5, made_on=seen, device=one)
        twin = self.turn(tuning, "A", "fine-tuner", "raise", 0.5, made_on=seen, device=other)
        self.turn(tuning, "A", "fine-tuner", "raise", 0.25, made_on=seen, device=other)
        bench = self.get(f"/api/tunings/{tuning}")
        moves = [each for each in bench["history"] if each["kind"] == "move"]
        self.assertEqual(
            [(each["text"], each["late"]) for each in moves],
            [("fine tuner up, about ¼ turn", True), ("fine tuner up, about ½ turn", False)],
        )
        self.assertEqual(moves[1]["id"], first)
        self.assertNotIn(twin, [each["id"] for each in moves])
        self.read(tuning, "A", "-12")
        self.turn(tuning, "A", "fine-tuner", "raise", 0.5, made_on=seen, device=other)
        newest = self.get(f"/api/tunings/{tuning}")["history"][0]
        self.assertEqual((newest["kind"], newest["late"]), ("move", True))

    def test_the_same_turn_again_by_the_same_hand_is_another(self) -> None:
        _, tuning = self.begin()
        seen = self.read(tuning, "A", "-30")["log_version"]
        hand = str(uuid4())
        for _ in range(2):
            self.turn(tuning, "A", "fine-tuner", "raise", 0.5, made_on=seen, device=hand)
        moves = [each for each in self.get(f"/api/tunings/{tuning}")["history"] if each["kind"] == "move"]
        self.assertEqual([each["late"] for each in moves], [False, False])

"""The morning over the web API: sorted as readings come, planned for who is there."""

from typing import Any
from uuid import uuid4

from tests.web.test_api import ApiTest

IN_TUNE = {"G": "0", "D": "1", "A": "-1", "E": "0"}


class TestMorning(ApiTest):
    def read(self, tuning: str, **typed: str) -> None:
        for string, text in typed.items():
            self.post(f"/api/tunings/{tuning}/readings", {"id": str(uuid4()), "string": string, "typed": text})

    def swept(self, instrument: str) -> Any:
        found = self.client.get("/api/morning").get_json()["instruments"]
        return next(each for each in found if each["id"] == instrument)

    def test_an_instrument_moves_from_group_to_group_as_it_is_read(self) -> None:
        instrument, tuning = self.begin()
        self.assertEqual(self.swept(instrument)["group"], "not-heard")
        self.read(tuning, **{**IN_TUNE, "G": "-14"})
        found = self.swept(instrument)
        self.assertEqual(
            (found["group"], found["needs"], found["said"]), ("student-can", "fine-tuners", "fine tuner: G")
        )
        self.assertGreater(found["minutes"], 0.5)
        self.read(tuning, G="F3 0")
        self.assertEqual((self.swept(instrument)["group"], self.swept(instrument)["needs"]), ("teacher-must", "pegs"))
        self.read(tuning, G="0")
        self.assertEqual((self.swept(instrument)["group"], self.swept(instrument)["minutes"]), ("leave", 0.0))

    def test_the_plan_keeps_to_clearances(self) -> None:
        pegs, first = self.begin()
        self.read(first, **{**IN_TUNE, "G": "F3 0"})
        screws, second = self.begin()
        self.read(second, **{**IN_TUNE, "A": "-12"})
        people = [{"name": "teacher", "may": "teacher"}, {"name": "student", "may": "fine-tuners", "pace": 1.5}]
        planned = self.post("/api/morning/plan", {"stations": people})
        doing = {each["name"]: [turn["id"] for turn in each["turns"]] for each in planned["stations"]}
        self.assertIn(pegs, doing["teacher"])
        self.assertIn(screws, doing["teacher"] + doing["student"])
        self.assertGreaterEqual(planned["ends"], planned["bound"])
        alone = self.post("/api/morning/plan", {"stations": people[1:]})
        self.assertTrue(alone["nobody"])

    def test_what_cannot_be_planned_is_refused(self) -> None:
        self.refused("/api/morning/plan", {"stations": []}, field="stations")
        self.refused("/api/morning/plan", {"stations": [{"name": "x", "may": "all"}]}, field="stations.0.may")
        twice = [{"name": "x", "may": "pegs"}] * 2
        self.refused("/api/morning/plan", {"stations": twice}, says="stands there twice")
        late = [{"name": "x", "may": "pegs", "from_minutes": -5.0}]
        self.refused("/api/morning/plan", {"stations": late}, says="can't be")

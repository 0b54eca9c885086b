"""The morning over the web API: sorted as readings come, planned for who is there."""

from typing import Any
from uuid import uuid4

from tests.web.test_api import ApiTest

IN_TUNE = {"G": "0", "D": "1", "A": "-1", "E": "0"}


class MorningTest(ApiTest):
    def setUp(self) -> None:
        for each in self.get("/api/morning/plan")["stations"]:
            self.client.delete(f"/api/morning/stations/{each['id']}")

    def read(self, tuning: str, **typed: str) -> None:
        for string, text in typed.items():
            self.post(f"/api/tunings/{tuning}/readings", {"id": str(uuid4()), "string": string, "typed": text})

    def get(self, path: str, status: int = 200) -> Any:
        response = self.client.get(path)
        self.assertEqual(response.status_code, status, response.get_data(as_text=True))
        return response.get_json()

    def swept(self, instrument: str) -> Any:
        found = self.get("/api/morning")["instruments"]
        return next(each for each in found if each["id"] == instrument)

    def station(self, name: str, may: str, **more: Any) -> str:
        made = str(uuid4())
        self.post("/api/morning/stations", {"id": made, "name": name, "may": may, **more})
        return made

    def turns(self) -> dict[str, list[str]]:
        planned = self.get("/api/morning/plan")
        return {each["name"]: [turn["id"] for turn in each["slots"]] for each in planned["stations"]}


class TestSweep(MorningTest):
    def test_an_instrument_moves_from_group_to_group_as_it_is_read(self) -> None:
        instrument, tuning = self.begin()
        self.assertEqual(self.swept(instrument)["group"], "not-heard")
        self.read(tuning, **{**IN_TUNE, "G": "-14"})
        found = self.swept(instrument)
        self.assertEqual((found["group"], found["needs"], found["said"]), ("student-can", "fine-tuners", "fine tuner: G"))
        self.assertGreater(found["minutes"], 0.5)
        self.read(tuning, G="F3 0")
        self.assertEqual((self.swept(instrument)["group"], self.swept(instrument)["needs"]), ("teacher-must", "pegs"))
        self.read(tuning, G="0")
        self.assertEqual((self.swept(instrument)["group"], self.swept(instrument)["minutes"]), ("leave", 0.0))

    def test_striking_a_reading_out_sorts_anew(self) -> None:
        instrument, tuning = self.begin()
        self.read(tuning, **IN_TUNE)
        wrong = str(uuid4())
        self.post(f"/api/tunings/{tuning}/readings", {"id": wrong, "string": "G", "typed": "-30"})
        self.assertEqual(self.swept(instrument)["group"], "student-can")
        self.post(f"/api/readings/{wrong}/strike", {"reason": "misread"})
        self.assertEqual(self.swept(instrument)["group"], "leave")

    def test_changed_fittings_sort_anew(self) -> None:
        instrument, tuning = self.begin()
        self.read(tuning, **{**IN_TUNE, "G": "-14"})
        self.assertEqual(self.swept(instrument)["needs"], "fine-tuners")
        self.client.patch(f"/api/instruments/{instrument}/strings/G", json={"has_fine_tuner": False})
        self.assertEqual(self.swept(instrument)["needs"], "pegs")

    def test_a_whole_instrument_typed_in_one_line_begins_todays_tuning_once(self) -> None:
        instrument = str(uuid4())
        self.post("/api/instruments", {"id": instrument, "label": "Ruff", "kind": "violin"})
        line = {"id": str(uuid4()), "instrument_id": instrument, "line": "-12 3 x 0"}
        found = self.post("/api/morning/heard", line)
        self.assertEqual((found["heard"], found["said"]), (3, "still to hear: A"))
        self.assertEqual(self.post("/api/morning/heard", line), found)
        again = {"id": str(uuid4()), "instrument_id": instrument, "line": "A -1"}
        self.assertEqual(self.post("/api/morning/heard", again)["group"], "student-can")
        tunings = self.get(f"/api/instruments/{instrument}/tunings")["tunings"]
        self.assertEqual(len(tunings), 1)
        self.assertEqual(len(self.get(f"/api/tunings/{tunings[0]['id']}")["history"]), 4)

    def test_heard_strings_are_kept_as_heard(self) -> None:
        instrument, _ = self.begin()
        heard = [{"id": str(uuid4()), "string": "A", "heard": {"hz": 441.0}, "spread_cents": 0.2}]
        body = {"id": str(uuid4()), "instrument_id": instrument, "heard": heard, "source": "microphone"}
        self.assertEqual(self.post("/api/morning/heard", body)["heard"], 1)

    def test_lines_that_cannot_be_meant_are_refused_and_nothing_of_them_is_kept(self) -> None:
        instrument, _ = self.begin()
        for line, says in (
            ("-12 3", "holds 2 of 4 readings"),
            ("-12 3 0 99", "past ±50"),
            ("x x x x", "Nothing was read"),
            ("A 1, A 2", "twice"),
        ):
            body = {"id": str(uuid4()), "instrument_id": instrument, "line": line}
            self.refused("/api/morning/heard", body, says=says)
        self.assertEqual(self.swept(instrument)["heard"], 0)

    def test_an_instrument_at_the_luthiers_is_nobodys_job(self) -> None:
        instrument, tuning = self.begin()
        self.read(tuning, **{**IN_TUNE, "G": "F3 0"})
        care = f"/api/instruments/{instrument}/care"
        self.post(care, {"id": str(uuid4()), "kind": "luthier-out", "said": "peg worn"})
        found = self.swept(instrument)
        self.assertEqual((found["group"], found["needs"], found["minutes"]), ("luthier", None, 0.0))
        self.post(care, {"id": str(uuid4()), "kind": "luthier-in", "said": "new peg"})
        self.assertEqual(self.swept(instrument)["group"], "teacher-must")


class TestStations(MorningTest):
    def test_the_plan_keeps_to_clearances(self) -> None:
        pegs, first = self.begin()
        self.read(first, **{**IN_TUNE, "G": "F3 0"})
        screws, second = self.begin()
        self.read(second, **{**IN_TUNE, "A": "-12"})
        student = self.station("student", "fine-tuners", pace=1.5)
        self.assertTrue(self.get("/api/morning/plan")["nobody"])
        self.station("teacher", "teacher")
        turns = self.turns()
        self.assertIn(pegs, turns["teacher"])
        self.assertIn(screws, turns["teacher"] + turns["student"])
        planned = self.get("/api/morning/plan")
        self.assertGreaterEqual(planned["ends"], planned["bound"])
        self.client.delete(f"/api/morning/stations/{student}")
        self.assertEqual(list(self.turns()), ["teacher"])

    def test_what_someone_is_in_the_middle_of_stays_with_them(self) -> None:
        instrument, tuning = self.begin()
        self.read(tuning, **{**IN_TUNE, "A": "-12"})
        first, second = self.station("first", "teacher"), self.station("second", "teacher")
        taken = {"instrument_id": instrument, "tuning_id": str(uuid4())}
        planned = self.post(f"/api/morning/stations/{second}/take", taken)
        mine = next(each for each in planned["stations"] if each["name"] == "second")
        self.assertEqual((mine["in_hand"], mine["slots"][0]["in_hand"]), (instrument, True))
        refused = self.post(f"/api/morning/stations/{first}/take", taken, 409)["error"]["message"]
        self.assertIn("second has it in hand", refused)
        self.post(f"/api/morning/stations/{first}/take", {**taken, "take_over": True})
        self.assertEqual(self.turns()["first"][0], instrument)
        self.read(tuning, A="0")
        self.assertIsNone(self.get("/api/morning/plan")["stations"][0]["in_hand"])

    def test_who_is_called_stays_called_and_is_told_why_not(self) -> None:
        for cents in ("-30", "-25", "-20", "-15"):
            _, tuning = self.begin()
            self.read(tuning, **{**IN_TUNE, "A": cents})
        first, second = self.station("first", "teacher"), self.station("second", "teacher")
        told = self.turns()
        called = self.get(f"/api/instruments/{told['second'][0]}/tunings")["tunings"][0]["id"]
        for string, cents in (("G", "-40"), ("D", "12"), ("E", "-9")):  # it needs more and more
            self.read(called, **{string: cents})
            self.assertEqual(self.turns()["first"][0], told["first"][0])
            self.assertEqual(self.turns()["second"][0], told["second"][0])
        planned = self.get("/api/morning/plan")["stations"]
        self.assertEqual([each["recalled_said"] for each in planned], ["", ""])
        lost = told["second"][0]
        taken = {"instrument_id": lost, "tuning_id": str(uuid4())}
        self.post(f"/api/morning/stations/{first}/take", taken)
        for _ in range(2):  # and as long as it holds
            planned = {each["id"]: each for each in self.get("/api/morning/plan")["stations"]}
            self.assertRegex(planned[second]["recalled_said"], "^first has .+ in hand.$")
        self.post(f"/api/morning/stations/{second}/take", {**taken, "instrument_id": planned[second]["slots"][0]["id"]})
        planned = {each["id"]: each for each in self.get("/api/morning/plan")["stations"]}
        self.assertEqual(planned[second]["recalled_said"], "")

    def test_who_waits_is_called_as_soon_as_something_is_heard_and_stays_so(self) -> None:
        heard = [self.begin()[0] for _ in range(3)]
        self.station("first", "teacher")
        before = set(self.turns()["first"])
        called = []
        for instrument, line in zip(heard, ("0 0 -12 0", "-30 0 -40 0", "F3-10 C4+20 -40 0"), strict=True):
            self.post("/api/morning/heard", {"id": str(uuid4()), "instrument_id": instrument, "line": line})
            called.append(self.turns()["first"][0])
        self.assertEqual(len(set(called)), 1, "whatever is heard after it")
        self.assertTrue(before or called[0] == heard[0])

    def test_the_advice_speaks_to_whoever_took_it(self) -> None:
        player = str(uuid4())
        self.post("/api/people", {"id": player, "name": "Ilse", "role": "player", "cleared": [1, 2]})
        instrument, tuning = self.begin()
        self.read(tuning, **{**IN_TUNE, "G": "F3 0"})
        made = str(uuid4())
        self.post("/api/morning/stations", {"id": made, "person_id": player})
        self.post(f"/api/morning/stations/{made}/take", {"instrument_id": instrument, "tuning_id": str(uuid4())})
        bench = self.get(f"/api/tunings/{tuning}")
        self.assertEqual(bench["tuning"]["who"], "student-fine-tuners")
        steps = next(each for each in bench["strings"] if each["name"] == "G")["advice"]["steps"]
        self.assertEqual([each["do"] for each in steps], ["fetch-teacher"])

    def test_late_comers_and_own_instruments(self) -> None:
        player = str(uuid4())
        self.post("/api/people", {"id": player, "name": "Oda", "role": "player", "cleared": [3]})
        mine, first = self.begin()
        self.client.patch(f"/api/instruments/{mine}", json={"player_id": player})
        theirs, second = self.begin()
        for tuning in (first, second):
            self.read(tuning, **{**IN_TUNE, "A": "-12"})
        made = str(uuid4())
        self.post("/api/morning/stations", {"id": made, "person_id": player, "own_only": True})
        self.assertEqual(self.turns()["Oda"], [mine])
        self.client.patch(f"/api/morning/stations/{made}", json={"own_only": False, "comes_in_minutes": 3.0})
        planned = self.get("/api/morning/plan")["stations"][0]
        self.assertIn(theirs, [turn["id"] for turn in planned["slots"]])
        self.assertAlmostEqual(planned["slots"][0]["starts"], 3.0, delta=0.2)

    def test_what_cannot_be_planned_is_refused(self) -> None:
        self.refused("/api/morning/stations", {"id": str(uuid4()), "name": "x", "may": "all"}, field="may")
        self.refused("/api/morning/stations", {"id": str(uuid4())}, says="Who is it")
        self.station("x", "pegs")
        self.refused("/api/morning/stations", {"id": str(uuid4()), "name": "X", "may": "pegs"}, says="is there twice")
        late = {"id": str(uuid4()), "name": "y", "may": "pegs", "comes_in_minutes": -5.0}
        self.refused("/api/morning/stations", late, field="comes_in_minutes")
        watching = str(uuid4())
        self.post("/api/people", {"id": watching, "name": "Tjark", "role": "player", "cleared": [1]})
        self.refused("/api/morning/stations", {"id": str(uuid4()), "person_id": watching}, says="isn't cleared")
        self.refused("/api/morning/stations/as-last-time", {}, says="no morning before")

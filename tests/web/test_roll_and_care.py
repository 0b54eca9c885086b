"""People, instruments, the ledger, care and the room over the web API."""

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta
from typing import Any
from uuid import uuid4

from icalendar import Calendar

from tests.web.test_morning import IN_TUNE, MorningTest


class CareTest(MorningTest):
    def patch(self, path: str, body: Any, status: int = 200) -> Any:
        response = self.client.patch(path, json=body)
        self.assertEqual(response.status_code, status, response.get_data(as_text=True))
        return response.get_json()

    def person(self, name: str, **more: Any) -> str:
        made = str(uuid4())
        self.post("/api/people", {"id": made, "name": name, **more})
        return made

    def care(self, instrument: str, kind: str, status: int = 200, **more: Any) -> Any:
        return self.post(f"/api/instruments/{instrument}/care", {"id": str(uuid4()), "kind": kind, **more}, status)

    def book(self, instrument: str) -> Any:
        return next(each for each in self.get("/api/care")["instruments"] if each["id"] == instrument)

    def string(self, instrument: str, name: str) -> Any:
        return next(each for each in self.book(instrument)["strings"] if each["name"] == name)


def ago(days: int) -> str:
    return (datetime.now(UTC).date() - timedelta(days=days)).isoformat()


class TestPeople(CareTest):
    def test_join_are_cleared_leave_and_come_back(self) -> None:
        made = self.person("Ines", cleared=[2, 1])
        body = {"id": made, "name": "Ines", "cleared": [2, 1]}
        self.assertEqual(self.post("/api/people", body)["may"], "fine-tuners")
        self.refused("/api/people", {**body, "name": "Other"}, status=409)
        self.assertEqual(self.patch(f"/api/people/{made}", {"cleared": [1, 2, 5]})["may"], "pegs")
        instrument, _ = self.begin()
        self.patch(f"/api/instruments/{instrument}", {"player_id": made})
        self.patch(f"/api/people/{made}", {"retired": True})
        self.assertNotIn(made, [each["id"] for each in self.get("/api/people")["people"]])
        self.assertIn(made, [each["id"] for each in self.get("/api/people?retired=true")["people"]])
        roll = self.get("/api/instruments")["instruments"]
        self.assertIsNone(next(each for each in roll if each["id"] == instrument)["player"])
        self.assertFalse(self.patch(f"/api/people/{made}", {"retired": False})["retired"])

    def test_what_cannot_be_is_refused(self) -> None:
        self.refused("/api/people", {"id": str(uuid4()), "name": " "}, says="name is empty")
        self.refused("/api/people", {"id": str(uuid4()), "name": "x", "cleared": [9]}, field="cleared")
        self.refused("/api/people", {"id": str(uuid4()), "name": "x", "role": "boss"}, field="role")
        made = self.person("Uwe")
        self.assertIn("can't be emptied", self.patch(f"/api/people/{made}", {"name": None}, 422)["error"]["message"])
        self.patch(f"/api/people/{uuid4()}", {"name": "x"}, 404)


class TestInstruments(CareTest):
    def test_changed_retired_and_brought_back_with_the_log_kept(self) -> None:
        instrument, tuning = self.begin()
        self.read(tuning, A="-3")
        changed = self.patch(f"/api/instruments/{instrument}", {"label": "Teal", "size": "3/4", "hours_per_week": 7.0})
        self.assertEqual((changed["label"], changed["size"], changed["hours_per_week"]), ("Teal", "3/4", 7.0))
        self.patch(f"/api/instruments/{instrument}", {"retired": True})
        self.assertNotIn(instrument, [each["id"] for each in self.get("/api/instruments")["instruments"]])
        self.assertNotIn(instrument, [each["id"] for each in self.get("/api/morning")["instruments"]])
        self.patch(f"/api/instruments/{instrument}", {"retired": False})
        self.assertEqual(len(self.get(f"/api/instruments/{instrument}/ledger")["tunings"]), 1)

    def test_what_cannot_be_is_refused(self) -> None:
        instrument, _ = self.begin()
        path = f"/api/instruments/{instrument}"
        for body in ({"size": "7/8"}, {"label": None}, {"hours_per_week": 400.0}, {"stance": "seated"}, {"colour": "red"}):
            self.patch(path, body, 422)
        self.patch(path, {"player_id": str(uuid4())}, 404)


class TestSitting(CareTest):
    def test_todays_tuning_is_gone_on_with(self) -> None:
        instrument, tuning = self.begin()
        path = f"/api/instruments/{instrument}/todays-tuning"
        self.assertEqual(self.post(path, {"id": str(uuid4())})["tuning"]["id"], tuning)
        other = str(uuid4())
        self.post("/api/instruments", {"id": other, "label": "Smew", "kind": "viola"})
        first = self.post(f"/api/instruments/{other}/todays-tuning", {"id": str(uuid4())})["tuning"]["id"]
        self.assertEqual(self.post(f"/api/instruments/{other}/todays-tuning", {"id": str(uuid4())})["tuning"]["id"], first)

    def test_two_who_sit_down_at_once_find_one_tuning(self) -> None:
        instrument = str(uuid4())
        self.post("/api/instruments", {"id": instrument, "label": "Garganey", "kind": "violin"})
        path = f"/api/instruments/{instrument}/todays-tuning"
        with ThreadPoolExecutor(8) as pool:
            answers = list(pool.map(lambda _: self.app.test_client().post(path, json={"id": str(uuid4())}), range(8)))
        self.assertEqual(len({each.get_json()["tuning"]["id"] for each in answers}), 1)
        self.assertEqual(len(self.get(f"/api/instruments/{instrument}/tunings")["tunings"]), 1)


class TestLedger(CareTest):
    def test_tunings_learned_rates_and_a_forecast(self) -> None:
        instrument, tuning = self.begin()
        self.read(tuning, **{**IN_TUNE, "A": "-12"})
        move = {"string": "A", "mechanism": "fine-tuner", "direction": "raise", "amount": 0.5, "unit": "turn"}
        self.post(f"/api/tunings/{tuning}/moves", {"id": str(uuid4()), **move})
        self.read(tuning, A="3")
        self.post("/api/room", {"id": str(uuid4()), "humidity": 61.0, "celsius": 18.0})
        found = self.get(f"/api/instruments/{instrument}/ledger")
        line = found["tunings"][0]
        self.assertEqual((line["moves"], line["humidity"], line["celsius"]), (1, 61.0, 18.0))
        self.assertEqual((line["strings"]["A"]["found"], line["strings"]["A"]["left"]), (-12.0, 3.0))
        string = next(each for each in found["strings"] if each["name"] == "A")
        self.assertEqual(string["learned"]["screw_moves"], 1)
        self.assertEqual((string["heard_times"], string["flat_times"], string["furthest_cents"]), (1, 1, -12.0))
        self.assertIn(string["forecast"]["word"], ("in tune", "flat"))
        self.assertLess(string["forecast"]["cents"], 3.0)
        self.assertGreater(string["forecast"]["plus_minus"], 2.0)
        self.assertEqual(found["forecast_for"], (datetime.now(UTC).date() + timedelta(days=1)).isoformat())
        self.assertEqual(found["time"]["tunings"], 1)

    def test_an_untuned_instrument_has_an_empty_one(self) -> None:
        instrument = str(uuid4())
        self.post("/api/instruments", {"id": instrument, "label": "Pochard", "kind": "cello"})
        found = self.get(f"/api/instruments/{instrument}/ledger")
        self.assertEqual(found["tunings"], [])
        self.assertTrue(all(each["forecast"] is None for each in found["strings"]))
        self.get(f"/api/instruments/{uuid4()}/ledger", 404)


class TestCare(CareTest):
    def test_a_new_string_begins_its_age_and_struck_out_it_is_the_old_one(self) -> None:
        instrument, _ = self.begin(E={"put_on": ago(300)})
        self.assertTrue(self.string(instrument, "E")["soon"])
        entry = self.care(instrument, "string-changed", string="E", core="synthetic")
        changed = self.string(instrument, "E")
        self.assertEqual((changed["put_on"], changed["core"], changed["soon"]), (ago(0), "synthetic", False))
        self.post(f"/api/care/{entry['id']}/strike", {})
        back = self.string(instrument, "E")
        self.assertEqual((back["put_on"], back["core"]), (ago(300), "steel"))
        self.client.delete(f"/api/care/{entry['id']}/strike")
        self.assertEqual(self.string(instrument, "E")["put_on"], ago(0))

    def test_a_new_string_forgets_what_the_old_one_taught(self) -> None:
        instrument, tuning = self.begin()
        self.read(tuning, A="-12")
        move = {"string": "A", "mechanism": "fine-tuner", "direction": "raise", "amount": 0.5, "unit": "turn"}
        self.post(f"/api/tunings/{tuning}/moves", {"id": str(uuid4()), **move})
        self.read(tuning, A="3")

        def moves() -> int:
            strings = self.get(f"/api/instruments/{instrument}/ledger")["strings"]
            return int(next(each for each in strings if each["name"] == "A")["learned"]["screw_moves"])

        self.assertEqual(moves(), 1)
        self.care(instrument, "string-changed", string="A")
        self.assertEqual(moves(), 0)

    def test_hours_and_the_studios_setting_move_the_day(self) -> None:
        instrument, _ = self.begin(A={"put_on": ago(200)})
        self.assertFalse(self.string(instrument, "A")["soon"])
        self.patch("/api/care/settings", {"string_life_months": 6.0})
        self.assertTrue(self.string(instrument, "A")["soon"])
        self.patch(f"/api/instruments/{instrument}", {"hours_per_week": 0.5})
        self.assertFalse(self.string(instrument, "A")["soon"])
        self.patch("/api/care/settings", {"string_life_months": 9.0})
        self.patch("/api/care/settings", {"string_life_months": 90.0}, 422)

    def test_the_setting_does_not_reach_a_tuning(self) -> None:
        self.patch("/api/care/settings", {"string_life_months": 9.0})
        _, tuning = self.begin()
        self.assertEqual(self.get(f"/api/tunings/{tuning}")["tuning"]["a4"], 440.0)

    def test_faults_and_referrals(self) -> None:
        instrument, _ = self.begin()
        self.care(instrument, "fault", sign="peg-slips", string="G")
        self.assertEqual(self.book(instrument)["referrals"], [])
        self.care(instrument, "fault", sign="peg-stuck", string="G", said="with both hands")
        referral = self.book(instrument)["referrals"][0]
        self.assertEqual((referral["sign"], referral["to"]), ("peg-stuck", "luthier"))
        self.care(instrument, "luthier-out", said="peg", due=ago(-3))
        self.assertEqual(self.book(instrument)["out"]["said"], "peg")
        self.assertIn("already", self.care(instrument, "luthier-out", 422)["error"]["message"])

    def test_a_false_string_is_due_since_it_was_found_so(self) -> None:
        instrument, _ = self.begin(E={"put_on": ago(100)})
        self.care(instrument, "fault", sign="peg-sticks", string="E", on=ago(50))
        self.care(instrument, "fault", sign="string-false", string="E", on=ago(4))
        self.care(instrument, "fault", sign="string-false", string="E", on=ago(2))
        self.assertEqual(self.string(instrument, "E")["due"], ago(4))
        self.care(instrument, "string-changed", string="E", on=ago(1))
        self.assertFalse(self.string(instrument, "E")["soon"])

    def test_what_cannot_be_is_refused(self) -> None:
        instrument, _ = self.begin()
        for body, says in (
            ({"kind": "fault"}, "Which fault"),
            ({"kind": "fault", "sign": "peg-slips"}, "Which string"),
            ({"kind": "string-changed"}, "Which string"),
            ({"kind": "string-changed", "string": "C"}, "no “C”"),
            ({"kind": "note", "on": ago(-1)}, "still to come"),
            ({"kind": "luthier-in"}, "enter it out first"),
        ):
            answer = self.care(instrument, body.pop("kind"), 422, **body)
            self.assertIn(says, answer["error"]["message"])
        self.care(str(uuid4()), "note", 404)

    def test_shopping_gathers_the_whole_studio(self) -> None:
        for _ in range(2):
            self.begin("viola", C={"put_on": ago(400)})
        wanted = [each for each in self.get("/api/care")["shopping"] if each["kind"] == "viola" and each["string"] == "C"]
        self.assertEqual([each["count"] for each in wanted], [2])

    def test_a_broken_string_is_bought_and_a_new_one_comes_up_from_floppy(self) -> None:
        instrument, tuning = self.begin("cello", A={"put_on": ago(10)})
        self.patch(f"/api/instruments/{instrument}/strings/A", {"state": "broken"})
        due = self.string(instrument, "A")
        self.assertEqual((due["soon"], due["why"]), (True, "broken"))
        self.care(instrument, "string-changed", string="A")
        self.assertFalse(self.string(instrument, "A")["soon"])
        bench = self.get(f"/api/tunings/{tuning}")
        self.assertEqual(next(each for each in bench["strings"] if each["name"] == "A")["words"], "floppy")

    def test_a_bridge_that_fell_goes_to_the_luthier(self) -> None:
        instrument, _ = self.begin("viola")
        self.patch(f"/api/instruments/{instrument}", {"bridge": "fallen"})
        referred = self.book(instrument)["referrals"]
        self.assertEqual([(each["to"], each["why"]) for each in referred], [("luthier", "the bridge has fallen")])

    def test_the_room(self) -> None:
        sent = {"id": str(uuid4()), "humidity": 44.0}
        self.assertEqual(self.post("/api/room", sent), self.post("/api/room", sent))
        newest = self.get("/api/care")["air"][-1]
        self.assertEqual((newest["humidity"], newest["said"]), (44.0, "Comfortable for wood."))
        self.post(f"/api/room/{sent['id']}/strike", {})
        self.assertNotIn(sent["id"], [each["id"] for each in self.get("/api/care")["air"]])
        self.refused("/api/room", {"id": str(uuid4())}, says="humidity in per cent")
        self.refused("/api/room", {"id": str(uuid4()), "celsius": 451.0}, says="in Celsius")


class TestCalendar(CareTest):
    def test_what_is_due_as_a_calendar(self) -> None:
        instrument, _ = self.begin(E={"put_on": ago(10)}, A={"put_on": ago(10)})
        self.patch(f"/api/instruments/{instrument}", {"label": "Sn;ipe, the 2nd"})
        self.care(instrument, "luthier-out", said="new peg", due=ago(-5))
        response = self.client.get("/api/care/calendar.ics")
        self.assertEqual(response.mimetype, "text/calendar")
        text = response.get_data()
        self.assertIn(b"\r\n", text)
        events = {str(each["summary"]): each for each in Calendar.from_ical(text).walk("VEVENT")}
        back = events["Sn;ipe, the 2nd: back from the luthier"]
        self.assertEqual(back.decoded("dtstart"), date.fromisoformat(ago(-5)))
        strings = events["Sn;ipe, the 2nd: new A E strings"]
        self.assertGreater(strings.decoded("dtstart"), datetime.now(UTC).date())
        again = {
            str(each["uid"]) for each in Calendar.from_ical(self.client.get("/api/care/calendar.ics").get_data()).walk("VEVENT")
        }
        self.assertIn(str(strings["uid"]), again)

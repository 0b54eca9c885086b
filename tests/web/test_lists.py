"""Lists over the web API: looked through, mended, stored all or nothing, taken back; saved and brought again."""

import io
import json
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from uuid import uuid4

from tests.web.test_api import ApiTest

ROLL = "Nr;Typ;Instrument;Größe;Schüler;Saiten seit;Feinstimmer\n"
PHASES = ["looking", "storing", "working-out"]


class ListTest(ApiTest):
    def bring(self, content: bytes | str, *, name: str = "list.csv", kind: str | None = None) -> Any:
        data = content if isinstance(content, bytes) else content.encode()
        form = {"id": str(uuid4()), "file": (io.BytesIO(data), name), **({"kind": kind} if kind else {})}
        return self.last_line(self.client.post("/api/lists", data=form, content_type="multipart/form-data"))

    def last_line(self, response: Any) -> Any:
        lines = [json.loads(each) for each in response.get_data(as_text=True).strip().splitlines()]
        return lines[-1] if len(lines) == 1 or response.status_code == 200 else {"error": lines}

    def change(self, found: Any, **said: Any) -> Any:
        return self.last_line(self.client.patch(f"/api/lists/{found['id']}", json=said))["list"]

    def confirm(self, found: Any, **said: Any) -> Any:
        return self.last_line(self.client.post(f"/api/lists/{found['id']}/confirm", json=said))

    def undo(self, list_id: str, status: int = 200) -> Any:
        return self.post(f"/api/lists/{list_id}/undo", {}, status)

    def roll(self) -> dict[str, Any]:
        return {each["label"]: each for each in self.client.get("/api/instruments").get_json()["instruments"]}

    def stored(self, content: str, **more: Any) -> Any:
        found = self.bring(content, **more)["list"]
        self.assertEqual((found["bad"], found["missing"]), ([], []))
        return self.confirm(found)["stored"]


class TestRollLists(ListTest):
    def test_any_order_semicolons_and_an_old_encoding(self) -> None:
        text = 'Größe;Schüler;Label;Kind;Strings since\n3/4;Jörn;Zwergtaucher;Geige;3.4.2026\n15";;Krähe;Bratsche;\n'
        found = self.bring(text.encode("cp1252"))["list"]
        self.assertEqual((found["kind"], found["separator"], found["encoding"], found["good"]), ("roll", ";", "cp1252", 2))
        self.assertEqual(found["order"], "day-first")
        self.assertNotIn("Zwergtaucher", self.roll())
        self.assertEqual(self.confirm(found)["stored"]["rows_stored"], 2)
        kept = self.roll()["Zwergtaucher"]
        self.assertEqual((kept["kind"], kept["size"], kept["player"]), ("violin", "3/4", "Jörn"))
        self.assertEqual({each["put_on"] for each in kept["strings"]}, {"2026-04-03"})
        self.assertEqual(self.roll()["Krähe"]["size"], "15")

    def test_each_bad_row_has_its_reason_and_nothing_is_stored(self) -> None:
        rows = ["Wren,violin,4/4", "Wren,violin,4/4", "Owl,guitar,4/4", ",violin,4/4", "Rail,cello,1/16", "Coot,viola,14,9"]
        found = self.bring("label,kind,size\n" + "\n".join(rows))["list"]
        self.assertEqual((found["rows"], found["good"], found["bad_count"]), (6, 1, 5))
        said = {each["line"]: each["said"] for each in found["bad"]}
        self.assertIn("is on line 2 already", said[3])
        self.assertIn("no violin, viola or cello", said[4])
        self.assertIn("label is empty", said[5])
        self.assertIn("1/16", said[6])
        self.assertIn("4 cells under 3 headers", said[7])
        self.assertIn("5 rows can't be stored", self.confirm(found)["error"]["message"])
        self.assertNotIn("Wren", self.roll())
        self.confirm(found, leave_out_bad=True)
        self.assertIn("Wren", self.roll())

    def test_a_label_on_the_roll_of_another_kind_is_said_so(self) -> None:
        self.stored("label,kind\nBunting,violin\n")
        again = self.bring("label,kind\nbunting,viola\nSiskin,viola\n")["list"]
        self.assertIn("is a violin on the roll; a list can't make it a viola", again["bad"][0]["said"])

    def test_a_list_of_the_roll_updates_it_and_is_taken_back_as_one(self) -> None:
        self.stored("label,kind,size,who has it,notes\nSerin,violin,1/2,Ida Elster,blue case\nCitril,cello,3/4,,\n")
        header = "label,kind,size,who has it,notes,strings put on\n"
        text = header + "serin,violin,3/4,Nils Vik,,\nCitril,cello,3/4,,spare bow,2026-01-02\nCrake,viola,14,,,\n"
        found = self.bring(text)["list"]
        self.assertEqual((found["good"], found["changing_count"], found["same"], found["bad"]), (3, 2, 0, []))
        said = {
            each["label"]: [(one["said"], one["before"], one["after"]) for one in each["changes"]] for each in found["changing"]
        }
        self.assertEqual(said["serin"], [("size", "1/2", "3/4"), ("who has it", "Ida Elster", "Nils Vik")])
        self.assertEqual(said["Citril"], [("note", "", "spare bow")])
        self.confirm(found)
        serin = self.roll()["Serin"]
        self.assertEqual((serin["size"], serin["player"], serin["note"]), ("3/4", "Nils Vik", "blue case"))
        self.assertIsNone(self.roll()["Citril"]["strings"][0]["put_on"], "strings are no list's to change")
        again = self.bring(text)["list"]
        self.assertEqual((again["good"], again["same"], again["changing"]), (0, 3, []))
        self.undo(found["id"])
        serin = self.roll()["Serin"]
        self.assertEqual((serin["size"], serin["player"]), ("1/2", "Ida Elster"))
        self.assertEqual(self.roll()["Citril"]["note"], "")
        self.assertNotIn("Crake", self.roll())
        self.assertNotIn("Nils Vik", [each["name"] for each in self.get("/api/people")["people"]])

    def test_lines_are_left_out_and_who_changed_it_since_is_kept(self) -> None:
        self.stored("label,kind,size\nRuff,violin,1/2\nSmew,violin,1/2\nTeal,violin,1/2\n")
        found = self.bring("label,kind,size\nRuff,violin,3/4\nSmew,violin,3/4\n")["list"]
        self.assertIn("Teal", found["absent"])
        self.confirm(found, leave_out=[found["changing"][1]["line"]])
        self.assertEqual([self.roll()[each]["size"] for each in ("Ruff", "Smew")], ["3/4", "1/2"])
        ruff = self.roll()["Ruff"]["id"]
        self.client.patch(f"/api/instruments/{ruff}", json={"size": "4/4"})
        self.undo(found["id"])
        self.assertEqual(self.roll()["Ruff"]["size"], "4/4", "somebody changed it since")
        nothing = self.bring("label,kind,size\nRuff,violin,4/4\n")["list"]
        self.assertIn("no row to store", self.confirm(nothing)["error"]["message"])

    def test_a_label_that_two_have_is_asked_for(self) -> None:
        for _ in range(2):
            self.post("/api/instruments", {"id": str(uuid4()), "label": "Garganey", "kind": "violin", "size": "4/4"})
        found = self.bring("label,kind,size\ngarganey,violin,1/2\n")["list"]
        self.assertIn("more than one on the roll is called “garganey”", found["bad"][0]["said"])
        self.client.patch(f"/api/instruments/{self.roll()['Garganey']['id']}", json={"label": "Garganey 2"})

    def test_a_roll_saved_and_brought_back_says_that_nothing_changes(self) -> None:
        self.stored("label,kind,size,who has it\nKnot,viola,13,Svea Lind\n")
        saved = self.client.get("/api/export/roll.csv").get_data(as_text=True)
        found = self.bring(saved)["list"]
        self.assertEqual((found["good"], found["changing"], found["bad"], found["absent"]), (0, [], [], []))
        self.assertEqual(found["same"], found["rows"])

    def test_unknown_headers_are_asked_for(self) -> None:
        found = self.bring("A,B,C\nDipper,cello,1/2\n", kind="roll")["list"]
        self.assertEqual((found["missing"], found["good"]), (["label", "kind"], 0))
        self.assertIn("Say which column is the label", self.confirm(found)["error"]["message"])
        mended = self.change(found, columns=["label", "kind", "size"])
        self.assertEqual((mended["missing"], mended["good"]), ([], 1))
        for columns, says in (
            (["label", None, None, "kind"], "3 columns"),
            (["weight"], "nothing this"),
            (["label", "label"], "both"),
        ):
            response = self.client.patch(f"/api/lists/{found['id']}", json={"columns": columns})
            self.assertIn(says, response.get_json()["error"]["message"])
        self.confirm(mended)
        self.assertEqual(self.roll()["Dipper"]["size"], "1/2")

    def test_dates_that_could_be_either_are_asked_for(self) -> None:
        found = self.bring("label,kind,strings since\nLinnet,violin,3/4/2026\n")["list"]
        self.assertIsNone(found["order"])
        self.assertIn("day first or the month first", self.confirm(found)["error"]["message"])
        self.confirm(self.change(found, order="month-first"))
        self.assertEqual(self.roll()["Linnet"]["strings"][0]["put_on"], "2026-03-04")

    def test_files_that_are_no_lists(self) -> None:
        for content, says in (
            (b"\x89PNG\r\n\x1a\n" + bytes(50), "is a picture"),
            (b"PK\x03\x04" + bytes(50), "save it as CSV"),
            (b"", "is empty"),
            (b"\x00\x01\x02\x03 binary", "isn't text"),
            (b"\n\n  \n", "is empty"),
        ):
            data = {"id": str(uuid4()), "file": (io.BytesIO(content), "x.csv")}
            response = self.client.post("/api/lists", data=data, content_type="multipart/form-data")
            self.assertEqual(response.status_code, 422)
            self.assertIn(says, response.get_json()["error"]["message"])
        self.assertEqual(self.client.post("/api/lists", data={"id": "x"}).status_code, 415)

    def test_undo_takes_back_the_last_list_only_and_nothing_else(self) -> None:
        self.begin()
        before = set(self.roll())
        first = self.stored("label,kind,player\nSerin,violin,Ulla\n")
        second = self.stored("label,kind\nTwite,viola\n")
        self.assertIn("stored last", self.undo(first["id"], 409)["error"]["message"])
        self.assertEqual(self.undo(second["id"])["id"], first["id"])
        self.undo(first["id"])
        self.assertEqual(set(self.roll()), before)
        self.assertNotIn("Ulla", [each["name"] for each in self.client.get("/api/people").get_json()["people"]])
        self.undo(first["id"])

    def test_a_list_whose_instruments_were_tuned_since_stays(self) -> None:
        kept = self.stored("label,kind\nBrambling,violin\n")
        instrument = self.roll()["Brambling"]["id"]
        self.post("/api/tunings", {"id": str(uuid4()), "instrument_id": instrument})
        self.assertIn("tuned", self.undo(kept["id"], 409)["error"]["message"])
        self.assertIn("Brambling", self.roll())

    def test_people_who_were_there_since_stay(self) -> None:
        kept = self.stored("name,cleared for\nUnna,1-3\n")
        person = next(each for each in self.client.get("/api/people").get_json()["people"] if each["name"] == "Unna")
        self.post("/api/morning/stations", {"id": str(uuid4()), "person_id": person["id"]})
        self.assertIn("there on a morning", self.undo(kept["id"], 409)["error"]["message"])

    def test_confirmed_by_two_at_once_it_is_stored_once(self) -> None:
        found = self.bring("label,kind\nSiskin,violin\nCrossbill,cello\n")["list"]

        def one(_: int) -> Any:
            return self.last_line(self.app.test_client().post(f"/api/lists/{found['id']}/confirm", json={}))

        with ThreadPoolExecutor(4) as pool:
            answers = list(pool.map(one, range(4)))
        self.assertEqual([each["stored"]["rows_stored"] for each in answers], [2] * 4)
        self.assertEqual(len([label for label in self.roll() if label in ("Siskin", "Crossbill")]), 2)

    def test_what_is_still_to_come_was_not(self) -> None:
        self.stored("label,kind\nHawfinch,violin\n")
        care = self.bring("label,date,kind\nHawfinch,2199-01-01,note\n", kind="care")["list"]
        air = self.bring("date,humidity\n2199-01-01,50\n")["list"]
        for found in (care, air):
            self.assertIn("still to come", found["bad"][0]["said"])

    def test_a_care_list_that_contradicts_itself_is_said_by_line_and_not_stored(self) -> None:
        self.stored("label,kind\nChough,violin\n")
        rows = "Chough,2026-03-01,luthier-out\nChough,2026-03-02,luthier-out\n"
        found = self.bring(f"label,date,kind\n{rows}", kind="care")["list"]
        self.assertIn("Line 3: It is at the luthier’s already", self.confirm(found)["error"]["message"])
        instrument = self.roll()["Chough"]["id"]
        self.assertEqual(self.client.get(f"/api/instruments/{instrument}/ledger").get_json()["care"], [])

    def test_confirmed_twice_it_is_stored_once(self) -> None:
        found = self.bring("label,kind\nRedpoll,violin\n")["list"]
        self.assertEqual(self.confirm(found), self.confirm(found))
        self.assertEqual([label for label in self.roll() if label == "Redpoll"], ["Redpoll"])


class TestLogLists(ListTest):
    def setUp(self) -> None:
        self.label = f"Log {uuid4().hex[:6]}"
        self.stored(f"label,kind\n{self.label},violin\n")
        self.instrument = self.roll()[self.label]["id"]

    def ledger(self) -> Any:
        return self.client.get(f"/api/instruments/{self.instrument}/ledger").get_json()

    def test_readings_in_three_ways_and_thousands(self) -> None:
        rows = (
            f"{self.label};G;1.3.2026;8:20;;-12,5;",
            f"{self.label};E;1.3.2026;8:21;;;1.318,51",
            f"{self.label};A;2.3.2026;;A4;+3;",
        )
        self.stored("Label;Saite;Datum;Uhrzeit;note;cents;Hz\n" + "\n".join(rows))
        tunings = self.ledger()["tunings"]
        self.assertEqual([each["at"][:16] for each in tunings], ["2026-03-01T08:20", "2026-03-02T08:00"])
        self.assertAlmostEqual(tunings[0]["strings"]["G"]["found"], -12.5)
        self.assertAlmostEqual(tunings[0]["strings"]["E"]["found"], 1200.0, delta=0.1)
        self.assertAlmostEqual(tunings[1]["strings"]["A"]["found"], 3.0)

    def test_bad_readings_are_named(self) -> None:
        rows = ("Nobody,G,2026-03-01,-3", f"{self.label},C,2026-03-01,-3", f"{self.label},G,2026-02-30,-3",
                f"{self.label},G,2026-03-01,lots", f"{self.label},G,2026-03-01,70", f"{self.label},G,2199-03-01,0")  # fmt: skip
        found = self.bring("label,string,date,cents\n" + "\n".join(rows))["list"]
        self.assertEqual(found["good"], 0)
        said = ("on the roll", "has no “C” string", "isn't a day in the calendar", "not a figure", "past ±50", "to come")
        for bad, says in zip(found["bad"], said, strict=True):
            self.assertIn(says, bad["said"])

    def test_how_far_it_is_is_told_from_the_first_row_to_the_last_instrument(self) -> None:
        rows = "\n".join(f"{self.label},G,2026-02-{1 + n // 240},{8 + n % 240 // 20}:{n % 20:02},-3" for n in range(5000))
        found = self.bring(f"label,string,date,time,cents\n{rows}\n")["list"]
        answer = self.client.post(f"/api/lists/{found['id']}/confirm", json={}).get_data(as_text=True)
        lines = [json.loads(line) for line in answer.strip().splitlines()]
        told = [(line["doing"], line["done"]) for line in lines[:-1]]
        self.assertEqual([doing for doing, _ in told], sorted((doing for doing, _ in told), key=PHASES.index))
        self.assertEqual({doing for doing, _ in told}, set(PHASES))
        self.assertIn(("storing", 4000), told)
        self.assertEqual(lines[-1]["stored"]["rows_stored"], 5000)

    def test_readings_kept_already_are_not_kept_again(self) -> None:
        text = f"label,string,date,time,cents\n{self.label},G,2026-03-01,8:20,-3\n"
        self.stored(text)
        self.assertIn("kept already", self.bring(text)["list"]["bad"][0]["said"])

    def test_the_room_and_care_too_count_once_however_often_they_are_brought(self) -> None:
        room = "date,time,humidity\n2025-03-01,8:00,44\n2025-03-01,9:00,45\n"
        care = f"label,date,kind,string,note\n{self.label},2025-03-01,string-changed,E,\n{self.label},2025-03-01,note,,dusty\n"
        for text in (room, care):
            self.stored(text)
            found = self.bring(text)["list"]
            self.assertEqual((found["good"], found["bad_count"]), (0, 2))
            self.assertIn("kept already", found["bad"][0]["said"])

    def test_undone_readings_leave_no_tuning_behind(self) -> None:
        kept = self.stored(f"label,string,date,cents\n{self.label},G,2026-03-01,-3\n{self.label},G,2026-03-02,-3\n")
        self.assertEqual(len(self.ledger()["tunings"]), 2)
        self.undo(kept["id"])
        self.assertEqual(self.client.get(f"/api/instruments/{self.instrument}/tunings").get_json()["tunings"], [])

    def test_every_list_comes_back_as_it_was_saved(self) -> None:
        self.stored(f"label,string,date,cents,hz\n{self.label},G,2026-03-01T08:20:00+00:00,,195.5\n")
        self.stored(f"label,string,date,mechanism,direction,amount\n{self.label},G,2026-03-01T08:20:10+00:00,peg,up,3\n")
        self.stored(f"label,string,date,note,cents\n{self.label},G,2026-03-01T08:20:20+00:00,G3,-2\n")
        sides = f"{self.label},A,2026-03-01T08:20:30+00:00,A4,flat\n{self.label},D,2026-03-01T08:20:40+00:00,,in tune\n"
        self.stored("label,string,date,note,side\n" + sides)
        self.stored(f"label,string,date,note\n{self.label},E,2026-03-01T08:20:50+00:00,E5\n")
        self.stored("date,humidity,temp\n2026-03-01,71 %,14\n")
        self.stored(f"label,date,kind,string,fault,in words\n{self.label},2026-03-02,string-changed,G,,\n")
        self.stored("name,role,cleared for\nOda,player,1-3\nUwe,helper,\n")
        saved = {
            kind: self.client.get(f"/api/export/{kind}.csv").get_data(as_text=True)
            for kind in ("roll", "people", "readings", "moves", "room", "care")
        }
        from pondus.web.app import WebConfig, create_app
        from tests.database import fresh_database

        here, TestLogLists.client = self.client, create_app(WebConfig(database_url=fresh_database())).test_client()
        try:
            for kind, text in saved.items():
                found = self.bring(text, kind=kind)["list"]
                self.assertEqual((found["bad"], found["missing"]), ([], []), kind)
                self.confirm(found)
            for kind, text in saved.items():
                self.assertEqual(self.client.get(f"/api/export/{kind}.csv").get_data(as_text=True), text, kind)
        finally:
            TestLogLists.client = here
        self.assertEqual(self.client.get("/api/export/weights.csv").status_code, 404)

    def test_nothing_saved_begins_a_formula(self) -> None:
        label = f"=cmd{uuid4().hex[:4]}"
        self.post("/api/instruments", {"id": str(uuid4()), "label": label, "kind": "violin"})
        self.assertIn(f"\n'{label},", self.client.get("/api/export/roll.csv").get_data(as_text=True).replace("\r", ""))

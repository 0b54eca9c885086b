"""What a school keeps besides, the shopping list for a shop, answers that are sent small."""

import csv
import gzip
import io
import json
import subprocess
import sys
from textwrap import dedent
from unittest.mock import patch

from pondus.core.entries.instruments import DETAILS, Detail
from pondus.store.database import session_on
from pondus.store.tables import InstrumentRow
from tests.web.room import Room
from tests.web.test_lists import ListTest


class TestDetails(ListTest):
    def test_details_are_kept_checked_and_emptied(self) -> None:
        instrument = self.begin()[0]
        path = f"/api/instruments/{instrument}"
        kept = self.client.patch(path, json={"details": {"class": " 5b ", "case": "K 12", "place": ""}}).get_json()
        self.assertEqual(kept["details"], {"class": "5b", "case": "K 12"})
        self.assertEqual(self.client.patch(path, json={"details": {}}).get_json()["details"], {})
        for told, says in (({"weight": "400 g"}, "isn't kept of an instrument"), ({"class": "x" * 81}, "keep to 80")):
            answer = self.client.patch(path, json={"details": told})
            self.assertEqual((answer.status_code, answer.get_json()["error"]["message"].count(says)), (422, 1))

    def test_a_saved_roll_holds_them_and_no_size_that_looks_like_a_day(self) -> None:
        self.stored("label,kind,size,class,serial\nSmew,violin,1/2,5b,N 77\nTeal,viola,15.5,,\n")
        saved = self.client.get("/api/export/roll.csv").get_data(as_text=True).removeprefix("\ufeff")
        rows = {row["label"]: row for row in csv.DictReader(io.StringIO(saved))}
        self.assertEqual((rows["Smew"]["size"], rows["Teal"]["size"]), ("1/2 size", "15.5 in"))
        self.assertEqual((rows["Smew"]["class"], rows["Smew"]["serial number"]), ("5b", "N 77"))
        again = self.bring(saved)["list"]
        self.assertEqual((again["good"], again["changing"], again["bad"]), (0, [], []))

    def test_another_detail_takes_one_line(self) -> None:
        with patch.dict(DETAILS, {"insurer": Detail("insurer", ("versicherung",))}):
            path = f"/api/instruments/{self.begin()[0]}"
            kept = self.client.patch(path, json={"details": {"insurer": "Bay Mutual"}}).get_json()
            self.assertEqual(kept["details"], {"insurer": "Bay Mutual"})
        lists = """
            from pondus.core.entries.instruments import DETAILS, Detail
            DETAILS["insurer"] = Detail("insurer", ("versicherung",))
            from pondus.lists.columns import recognised
            from pondus.store.exports import HEADERS
            from pondus.web.instruments import CHOICES
            taken = recognised(["label", "kind", "Versicherung"], "roll")
            print(taken[-1], "insurer" in HEADERS["roll"], CHOICES.details[-1].said)
        """
        said = subprocess.run([sys.executable, "-c", dedent(lists)], capture_output=True, text=True, check=True).stdout
        self.assertEqual(said.split(), ["insurer", "True", "insurer"])

    def test_what_to_buy_goes_to_a_shop(self) -> None:
        self.stored("label,kind,size,strings since\nDunlin,violin,1/2,2024-01-05\n")
        answer = self.client.get("/api/care/shopping.csv")
        self.assertEqual(answer.headers["Content-Type"], "text/csv; charset=utf-8")
        rows = list(csv.DictReader(io.StringIO(answer.get_data(as_text=True).removeprefix("\ufeff"))))
        self.assertIn(("1", "E", "violin", "1/2 size"), {tuple(row.values())[:4] for row in rows})
        self.assertIn("Dunlin", {row["for"] for row in rows})
        self.assertTrue(self.client.get("/api/care/shopping.pdf").get_data().startswith(b"%PDF"))
        self.assertEqual(self.client.get("/api/care/calendar.ics").headers["Content-Type"], "text/calendar; charset=utf-8")

    def test_a_large_answer_is_sent_small_to_whoever_reads_it_so(self) -> None:
        self.stored("label,kind\n" + "".join(f"Loan {number},violin\n" for number in range(40)))
        plain = self.client.get("/api/instruments")
        small = self.client.get("/api/instruments", headers={"Accept-Encoding": "gzip"})
        self.assertEqual(small.headers.get("Content-Encoding"), "gzip")
        self.assertEqual(json.loads(gzip.decompress(small.data)), plain.get_json())
        self.assertLess(len(small.data), len(plain.data) / 5)
        self.assertNotIn("Content-Encoding", plain.headers)


class TestDetailsInTheRoom(Room):
    def test_a_helper_finds_by_class_and_place_and_reads_nobodys_name(self) -> None:
        with session_on(self.engine) as session:
            row = session.get_one(InstrumentRow, self.violin)
            row.details = {"class": "5b", "teacher": "Ms Holt", "place": "Room 12", "serial": "N 77"}
            session.add(row)
        answer = self.ask(self.device("helper", self.mina), "GET", "/api/instruments")
        found = next(each for each in answer.get_json()["instruments"] if each["id"] == str(self.violin))
        self.assertEqual(found["details"], {"class": "5b", "place": "Room 12"})

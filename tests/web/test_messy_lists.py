"""Lists as schools keep them, in the ways of several spreadsheets: what is made of each, told by all its columns."""

from pathlib import Path
from typing import Any

from tests.web.test_lists import ListTest

FILES = Path(__file__).parent.parent / "fixtures" / "lists"


class MessyListTest(ListTest):
    def of(self, name: str) -> Any:
        return self.bring((FILES / name).read_bytes(), name=name)["list"]

    def fields(self, found: Any) -> list[str | None]:
        return [each["field"] for each in found["columns"]]


class TestMessyLists(MessyListTest):
    def test_an_inventory_below_its_titles_with_names_in_two_columns(self) -> None:
        found = self.of("inventory-german.csv")
        self.assertEqual((found["kind"], found["header_line"], found["good"], found["bad"]), ("roll", 4, 5, []))
        self.assertEqual(found["new_names"], ["Jana Berg", "Tove Lund", "Mio Aske", "Pelle Ruhn"])
        self.assertEqual([each["header"] for each in found["columns"] if each["field"] is None], ["Miete"])
        self.confirm(found)
        kept = self.roll()
        self.assertEqual([kept[label]["size"] for label in ("V 1", "V 2", "B 1", "C 1")], ["3/4", "1/2", "15", "4/4"])
        self.assertEqual((kept["V 1"]["player"], kept["V 1"]["details"]), ("Jana Berg", {"class": "5b"}))
        self.assertEqual(kept["V 10"]["note"], "steht im Schrank")

    def test_instruments_and_people_in_one_file_are_stored_as_both(self) -> None:
        found = self.of("people-and-instruments.csv")
        self.assertEqual((found["kind"], found["good"], found["people_count"], found["bad"]), ("roll", 4, 2, []))
        self.assertEqual(self.confirm(found)["stored"]["rows_stored"], 4)
        self.assertEqual(self.roll()["L 3"]["details"], {"teacher": "Ms Holt", "place": "Room 12"})
        names = {each["name"] for each in self.client.get("/api/people").get_json()["people"]}
        self.assertLessEqual({"Ilse Brand", "Odo Fenn", "Wim Tarn", "Runa Sol"}, names)
        again = self.of("people-and-instruments.csv")
        self.assertEqual((again["good"], again["same"], again["new_names"]), (0, 4, []))
        self.undo(found["id"])
        names = {each["name"] for each in self.client.get("/api/people").get_json()["people"]}
        self.assertEqual({"Odo Fenn", "Wim Tarn"} & names, set())

    def test_how_a_file_is_written_is_told_from_it(self) -> None:
        for name, written, labels in (
            ("said-separator.csv", ("utf-8-sig", ";", 2), {"Knot": "1/2", "Smew": "4/4"}),
            ("two-bytes-a-letter.csv", ("utf-16-le", "\t", 1), {"Möwe": "15.5", "Löffler": "3/4"}),
        ):
            found = self.of(name)
            self.assertEqual((found["encoding"], found["separator"], found["header_line"]), written, name)
            self.confirm(found)
            self.assertEqual({label: self.roll()[label]["size"] for label in labels}, labels, name)

    def test_columns_go_by_their_place(self) -> None:
        found = self.of("two-names.csv")
        self.assertEqual(self.fields(found), ["label", "kind", "size", "player"])
        found = self.change(found, columns=["player", "kind", "size", "label"])
        self.assertEqual((found["good"], found["new_names"]), (2, ["Ruff", "Dunlin"]))
        self.confirm(self.change(found, columns=["label", "kind", "size", "player"]))
        self.assertEqual(self.roll()["Dunlin"]["player"], "Bo Lind")
        bare = self.of("columns-without-names.csv")
        self.assertEqual((self.fields(bare), bare["missing"]), ([None] * 2 + ["size", None, "note"], ["label", "kind"]))
        bare = self.change(bare, columns=["label", "kind", "size", "player", "note"])
        self.assertEqual((bare["good"], bare["new_names"]), (2, ["Kim Ost"]))

    def test_the_line_of_the_headers_can_be_said(self) -> None:
        text = "Loans of 2026,,\nSpoonbill,cello,3/4\nLabel,Kind,Size\nIbis,cello,1/2\n"
        found = self.bring(text)["list"]
        self.assertEqual((found["header_line"], found["good"]), (3, 1))
        self.assertEqual([each["line"] for each in found["first_lines"]], [1, 2, 3, 4])
        changed = self.change(found, header_line=1)
        self.assertEqual((changed["header_line"], changed["rows"]), (1, 3))
        changed = self.change(changed, kind="roll", columns=["label", "kind", "size"])
        self.assertEqual([each["line"] for each in changed["bad"]], [3])
        self.confirm(changed, leave_out_bad=True)
        self.assertLessEqual({"Spoonbill", "Ibis"}, set(self.roll()))
        self.undo(found["id"])
        self.assertEqual({"Spoonbill", "Ibis"} & set(self.roll()), set())
        response = self.client.patch(f"/api/lists/{self.bring(text)['list']['id']}", json={"header_line": 99})
        self.assertIn("Line 99 isn’t among the first", response.get_json()["error"]["message"])

    def test_air_and_readings_with_the_times_of_their_countries(self) -> None:
        air = self.of("air-german.csv")
        self.assertEqual((air["kind"], air["order"], air["good"], air["bad"]), ("room", "day-first", 3, []))
        self.stored("label,kind\nSnipe,violin\n")
        read = self.of("readings-month-first.csv")
        self.assertEqual((read["kind"], read["order"], read["good"], read["bad"]), ("readings", "month-first", 3, []))

    def test_french_words_and_line_breaks_in_a_note(self) -> None:
        found = self.of("french.csv")
        self.assertEqual((found["good"], found["bad"]), (3, []))
        self.confirm(found)
        cello = self.roll()["N° 8"]
        self.assertEqual((cello["kind"], cello["size"], cello["player"]), ("cello", "1/2", "Luc Sorbier"))
        self.assertEqual(cello["details"], {"class": "CM1", "place": "Salle 4"})
        self.assertIn("posée lundi", cello["note"])

    def test_what_cannot_be_stored_is_said(self) -> None:
        alike = self.of("same-complaint.csv")
        self.assertEqual(
            {each["said"] for each in alike["bad"]}, {"“voilin” is no violin, viola or cello; did you mean violin?"}
        )
        mended = self.change(alike, taken_as={"kind": {alike["bad"][0]["word"]: "violin"}})
        self.assertEqual((mended["good"], mended["bad"]), (24, []))
        self.confirm(mended)
        self.assertEqual(self.roll()["Loan 24"]["kind"], "violin")
        self.assertIsNone(self.of("dates-either-way.csv")["order"])
        total = self.of("total-at-the-end.csv")
        self.assertEqual(([each["line"] for each in total["bad"]], total["good"]), ([4], 2))
        self.stored("label,kind\nPipit,violin\n")
        swapped = self.of("swapped-days.csv")
        self.assertEqual([each["line"] for each in swapped["bad"]], [3], swapped["bad"])
        self.assertIn("month and day seem swapped", swapped["bad"][0]["said"])

    def test_a_list_changes_what_a_school_keeps_besides(self) -> None:
        self.stored("label,kind,class,case\nGodwit,viola,3a,K 4\n")
        found = self.bring("label,kind,class,teacher\nGodwit,viola,4a,Ms Holt\n")["list"]
        changes = [(each["said"], each["before"], each["after"]) for each in found["changing"][0]["changes"]]
        self.assertEqual(changes, [("class", "3a", "4a"), ("teacher", "", "Ms Holt")])
        self.confirm(found)
        self.assertEqual(self.roll()["Godwit"]["details"], {"class": "4a", "teacher": "Ms Holt", "case": "K 4"})
        self.undo(found["id"])
        self.assertEqual(self.roll()["Godwit"]["details"], {"class": "3a", "case": "K 4"})

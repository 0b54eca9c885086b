"""Cells, columns and files of lists: what each may mean, and what it can't."""

import unittest
from datetime import UTC, date, datetime
from uuid import uuid4

from hypothesis import given
from hypothesis import strategies as st

from pondus.core.clock import Clock
from pondus.core.entries.typed import parse_sweep_line
from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS
from pondus.lists.columns import FIELDS, guessed_kind, missing, recognised
from pondus.lists.records import Known, Looked, look_through
from pondus.lists.text import read_table
from pondus.lists.values import date_order, day, figure, moment, yes
from pondus.lists.words import kind_of, size_of
from pondus.lists.writing import guarded, unguarded, written


class TestFigures(unittest.TestCase):
    def test_commas_points_and_thousands(self) -> None:
        for text, value in (
            ("12", 12.0), ("-12,5", -12.5), ("−3", -3.0), ("1.234,56", 1234.56), ("1,234.56", 1234.56), ("1 234,5", 1234.5),
            ("1'234.5", 1234.5), ("1,234,567", 1234567.0), ("65 %", 65.0), ("21,5 °C", 21.5),
            ("440 Hz", 440.0), ("+7 cents", 7.0),
        ):  # fmt: skip
            self.assertEqual(figure(text, "x"), value, text)

    def test_what_is_no_figure(self) -> None:
        for text in ("", "a", "1-2", "12.3.4", "1e5", "nan", "inf", "--3"):
            with self.assertRaises(BadInput, msg=text):
                figure(text, "x")

    @given(st.floats(-1e6, 1e6).map(lambda value: round(value, 3)))
    def test_every_figure_written_plainly_is_read(self, value: float) -> None:
        self.assertAlmostEqual(figure(f"{value:.3f}", "x"), value, places=3)

    def test_yes_and_no(self) -> None:
        self.assertTrue(yes("Ja", "x") and yes("X", "x"))
        self.assertFalse(yes("nein", "x") or yes("0", "x"))
        with self.assertRaises(BadInput):
            yes("maybe", "x")


class TestDates(unittest.TestCase):
    @given(st.dates(date(1990, 1, 1), date(2199, 12, 31)))
    def test_three_styles_say_the_same_day(self, one: date) -> None:
        self.assertEqual(day(one.isoformat(), "day-first"), one)
        self.assertEqual(day(f"{one.day}.{one.month}.{one.year}", "day-first"), one)
        self.assertEqual(day(f"{one.month}/{one.day}/{one.year}", "month-first"), one)

    def test_a_column_tells_its_order_or_that_it_cannot_be_told(self) -> None:
        self.assertEqual(date_order(["1/2/2026", "13/2/2026"]), "day-first")
        self.assertEqual(date_order(["1/2/2026", "2/13/2026"]), "month-first")
        self.assertIsNone(date_order(["1/2/2026", "3/4/2026"]))
        self.assertEqual(date_order([]), "year-first")
        self.assertEqual(date_order(["nonsense"]), "year-first")

    def test_a_column_is_asked_about_unless_one_reading_alone_fits_it(self) -> None:
        self.assertIsNone(date_order(["2026-04-03", "3/4/2026"]))
        self.assertIsNone(date_order(["25/4/2026", "4/25/2026"]), "no reading fits both")
        self.assertEqual(date_order(["5 Mar 2026", "25/4/2026"]), "day-first")
        with self.assertRaises(BadInput) as told:
            day("4/25/2026", "day-first")
        self.assertIn("month and day seem swapped", told.exception.message)

    def test_months_by_name_and_times_with_their_word(self) -> None:
        self.assertEqual(moment("5. März 2026 08:18 Uhr", "", "day-first"), datetime(2026, 3, 5, 8, 18, tzinfo=UTC))
        self.assertEqual(moment("Mar 5, 2026", "8:18 pm", "day-first"), datetime(2026, 3, 5, 20, 18, tzinfo=UTC))
        self.assertIsNone(moment("5 Mar 2026", "", "day-first"))
        for wrong in ("31 Feb 2026", "5 Foo 2026"):
            with self.assertRaises(BadInput):
                day(wrong, "day-first")

    def test_no_days(self) -> None:
        for text, order in (
            ("31.2.2026", "day-first"),
            ("13/13/2026", "month-first"),
            ("soon", "day-first"),
            ("1.1.1", "day-first"),
        ):
            with self.assertRaises(BadInput, msg=text):
                day(text, order)  # type: ignore[arg-type]

    def test_moments(self) -> None:
        at = datetime(2026, 3, 1, 8, 20, tzinfo=UTC)
        for cell, clock in (("2026-03-01T08:20:00Z", ""), ("2026-03-01 08:20", ""), ("1.3.2026", "8:20"), ("1.3.2026 8.20", ""),
                            ("1.3.2026", "8h20"), ("1.3.2026", "8:20 AM")):  # fmt: skip
            self.assertEqual(moment(cell, clock, "day-first"), at, (cell, clock))
        self.assertEqual(moment("1.3.2026", "8:20 pm", "day-first"), at.replace(hour=20))
        self.assertIsNone(moment("1.3.2026", "", "day-first"))
        with self.assertRaises(BadInput):
            moment("1.3.2026", "25:99", "day-first")


class TestColumns(unittest.TestCase):
    def test_every_field_knows_its_own_name(self) -> None:
        for kind, fields in FIELDS.items():
            headers = [each.said for each in fields]
            self.assertEqual(recognised(headers, kind), [each.name for each in fields], kind)

    def test_the_surest_header_wins(self) -> None:
        self.assertEqual(recognised(["Name", "Label"], "roll"), ["player", "label"])

    def test_kinds_are_told_by_their_headers(self) -> None:
        for kind, fields in FIELDS.items():
            self.assertEqual(guessed_kind([each.said for each in fields]), kind)
        self.assertEqual([each.name for each in missing("roll", ["label"])], ["kind"])
        for roll in (
            ["Inventory no", "Instrument", "Size", "Student", "Notes"],
            ["Inv.-Nr.", "Art", "Größe", "Schüler"],
            ["Numéro", "Instrument", "Taille", "Élève"],
        ):
            self.assertEqual(guessed_kind(roll), "roll", roll)
            self.assertEqual(missing("roll", recognised(roll, "roll")), [], roll)


class TestFiles(unittest.TestCase):
    def test_separators_and_encodings(self) -> None:
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            for separator in (",", ";", "\t", "|"):
                text = f"Größe{separator}Label\n3/4{separator}Möwe\n"
                table = read_table(text.encode(encoding))
                self.assertEqual(
                    (table.headers, table.rows[0][1]), (("Größe", "Label"), ("3/4", "Möwe")), (encoding, separator)
                )

    def test_quotes_hold_separators_and_line_breaks_and_lines_are_counted(self) -> None:
        table = read_table(b'label,note\n"A, B","two\nlines"\n\nC,x\n')
        self.assertEqual(table.rows, ((2, ("A, B", "two\nlines")), (5, ("C", "x"))))

    def test_titles_and_a_said_separator_above_the_columns(self) -> None:
        for above, line in (("", 2), ("sep=;\r\n", 3), ("Instruments of the lower school\n\nas of;May\n", 5)):
            table = read_table(f"{above}Label;Kind\nKnot, small;violin\n".encode())
            self.assertEqual((table.headers, table.rows), (("Label", "Kind"), ((line, ("Knot, small", "violin")),)), above)
        with self.assertRaises(BadInput):
            read_table(b"sep=;\n")

    def test_two_bytes_a_letter_without_the_mark_that_says_so(self) -> None:
        for encoding in ("utf-16-le", "utf-16-be"):
            table = read_table("Label;Größe\nMöwe;3/4\n".encode(encoding))
            self.assertEqual((table.headers, table.rows[0][1]), (("Label", "Größe"), ("Möwe", "3/4")))

    @given(st.binary(max_size=300))
    def test_whatever_the_bytes_it_is_a_table_or_a_sentence(self, content: bytes) -> None:
        try:
            read_table(content)
        except BadInput as error:
            self.assertTrue(error.message.endswith("."))

    @given(
        st.lists(
            st.lists(
                st.text(st.characters(codec="utf-8", exclude_characters="\x00\r\n\ufeff"), max_size=8), min_size=2, max_size=2
            ),
            max_size=6,
        )
    )
    def test_what_is_written_is_read_back(self, rows: list[list[str]]) -> None:
        text = "".join(written(["a", "b"], rows))
        kept = [row for row in rows if any(guarded(cell).strip() for cell in row)]
        found = [list(row) for _, row in read_table(text.encode()).rows]
        self.assertEqual([[unguarded(cell) for cell in row] for row in found], kept)


CLOCK = Clock(datetime.now(UTC))


class TestWords(unittest.TestCase):
    def test_a_size_that_a_spreadsheet_made_a_date_is_read_back_whichever_way_round(self) -> None:
        months = ("Jan", "Feb", "Mrz", "Apr")
        for over, under in ((1, 2), (3, 4), (1, 4), (4, 4)):
            for made in (f"{over}. {months[under - 1]}", f"{under:02}-{months[over - 1]}", f"{over:02}.{under:02}.2026"):
                self.assertEqual(size_of(made), f"{over}/{under}", made)
        for plain in ("15.5", "7/8", "5. Mai", "giant"):
            self.assertEqual(size_of(plain), plain.casefold())

    def test_every_size_that_the_instruments_name_stays(self) -> None:
        for instrument in INSTRUMENTS.values():
            for size in instrument.lengths_mm:
                self.assertEqual(size_of(size), size)

    def test_a_wrong_letter_is_asked_about(self) -> None:
        for wrong, meant in (("voilin", "violin"), ("Bratshe", "viola"), ("cllo", "cello")):
            with self.assertRaises(BadInput) as told:
                kind_of(wrong)
            self.assertIn(f"did you mean {meant}?", told.exception.message)
        with self.assertRaises(BadInput) as told:
            kind_of("tuba")
        self.assertNotIn("did you mean", told.exception.message)


class TestRows(unittest.TestCase):
    def look(self, text: str, **known: object) -> Looked:
        table = read_table(text.encode())
        kind = guessed_kind(table.headers)
        columns = recognised(table.headers, kind)
        last = list(look_through(table, kind, columns, "day-first", Known(**{"instruments": {}, **known}), clock=CLOCK))[-1]  # type: ignore[arg-type]
        assert isinstance(last, Looked)
        return last

    def test_fine_tuners_of_all_of_none_and_by_letter(self) -> None:
        rows = "K1,violin,all\nK2,violin,none\nK3,violin,E\nK4,cello,C G\nK5,violin,some\n"
        looked = self.look(f"label,kind,fine tuners\n{rows}")
        fitted = [
            "".join(name for name, each in record.says["strings"].items() if each["has_fine_tuner"])
            for record in looked.records
        ]
        self.assertEqual(fitted, ["GDAE", "", "E", "CG"])
        self.assertIn("doesn't say which fine tuners", looked.bad[0].said)

    def test_stages(self) -> None:
        looked = self.look("name,cleared for\nA,3\nB,1 2\nC,5-5\nD,\nE,9\nF,x\n")
        self.assertEqual([record.says["cleared"] for record in looked.records], [[1, 2, 3], [1, 2], [5], []])
        self.assertEqual([each.line for each in looked.bad], [6, 7])

    def test_strings_by_letter_or_place(self) -> None:
        key = uuid4()
        text = "label,string,date,cents\nK,g,1.3.2026,0\nK,IV,2.3.2026,0\nK,5,3.3.2026,0\n"
        looked = self.look(text, instruments={"k": (key, "violin")})
        self.assertEqual([record.says["string"] for record in looked.records], ["G", "G"])
        self.assertEqual(len(looked.bad), 1)


class TestSweepLines(unittest.TestCase):
    violin = INSTRUMENTS["violin"].strings

    def cents(self, text: str) -> dict[str, float | None]:
        return {name: heard.cents for name, heard in parse_sweep_line(text, self.violin).items()}

    def test_in_order_or_by_letter(self) -> None:
        self.assertEqual(self.cents("-12 3 0 -5"), {"G": -12.0, "D": 3.0, "A": 0.0, "E": -5.0})
        self.assertEqual(self.cents("−12; 3; x; -5"), {"G": -12.0, "D": 3.0, "E": -5.0})
        self.assertEqual(self.cents("E 2, A -12, D -6, G -20"), {"E": 2.0, "A": -12.0, "D": -6.0, "G": -20.0})
        self.assertEqual(self.cents("A -1"), {"A": -1.0})
        self.assertEqual(parse_sweep_line("G F#3 +20", self.violin)["G"].note, "F#3")

    def test_what_cannot_be_meant(self) -> None:
        for text in ("", "-12", "1 2 3 4 5", "G 1, G 2", "G 99", "hello"):
            with self.assertRaises(BadInput, msg=text):
                parse_sweep_line(text, self.violin)

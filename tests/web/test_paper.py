"""Sheets of paper over the web API, read back: texts from the PDF, measures, nothing cut, nobody in what is told."""

import io
import re
from typing import Any
from uuid import uuid4

from pypdf import PdfReader

from pondus.core.instruments import INSTRUMENTS
from pondus.core.judgement.situation import FineTuner, Peg, situation
from pondus.core.views.cards import string_card
from pondus.paper.sheet import PAGE_POINTS, Box, Inset, Part, Run, Sheet, Stroke, pdf_of, width_of
from tests.web.test_api import ApiTest

PAPERS = {"a4": (595.28, 841.89), "letter": (612.0, 792.0)}


class PaperTest(ApiTest):
    def pdf(self, path: str, **query: str) -> PdfReader:
        response = self.client.get(path, query_string=query)
        self.assertEqual(response.status_code, 200, response.get_data()[:300])
        self.assertEqual(response.mimetype, "application/pdf")
        return PdfReader(io.BytesIO(response.get_data()))

    def text(self, pdf: PdfReader) -> str:
        return "\n".join(page.extract_text() for page in pdf.pages)

    def instrument(self, label: str, kind: str = "violin", **strings: Any) -> str:
        key = str(uuid4())
        self.post("/api/instruments", {"id": key, "label": label, "kind": kind, "strings": strings})
        return key


class TestCards(PaperTest):
    def test_a_card_says_of_each_string_what_the_advice_says(self) -> None:
        knot = self.instrument("Knot", "cello", G={"has_fine_tuner": False})
        pdf = self.pdf(f"/api/instruments/{knot}/card.pdf")
        text = self.text(pdf)
        self.assertEqual(len(pdf.pages), 1)
        for said in ("Knot", "cello 4/4, A at 440 Hz", "C2", "65.4 Hz", "A3", "220.0 Hz", "No fine tuner."):
            self.assertIn(said, text)
        facts = situation(INSTRUMENTS["cello"], "A", fine_tuner=FineTuner(), peg=Peg())
        border = next(band for band in string_card(facts).bands if band.meaning == "fine-tuner")
        self.assertEqual(border.from_note.name, "G♯3")
        self.assertIn(f"G#3 {border.from_note.cents:+.0f} to A3 −4", text)
        self.assertIn("turned to face you", text)

    def test_fonts_are_embedded(self) -> None:
        knot = self.instrument("Привет")
        pdf = self.pdf(f"/api/instruments/{knot}/card.pdf")
        self.assertIn("Привет", self.text(pdf))
        fonts = [font.get_object() for font in pdf.pages[0]["/Resources"]["/Font"].values()]  # type: ignore[index]
        faces = {str(font["/BaseFont"]) for font in fonts}
        self.assertTrue(any("Atkinson" in face for face in faces), faces)
        for font in fonts:
            if "Atkinson" in str(font["/BaseFont"]):
                self.assertIn("/FontFile2", font["/FontDescriptor"].get_object())

    def test_letters_without_any_font_are_told_of(self) -> None:
        odd = self.instrument("\U0001f3bb \U00012000")
        text = self.text(self.pdf(f"/api/instruments/{odd}/card.pdf"))
        self.assertIn("no font on this computer", text)

    def test_many_in_one_file_one_or_four_a_page(self) -> None:
        labels = [f"Tern {number}" for number in range(5)]
        keys = [self.instrument(label) for label in labels]
        for paper, (width, height) in PAPERS.items():
            for per_page, pages in (("1", 5), ("4", 2)):
                pdf = self.pdf("/api/cards.pdf", ids=",".join(keys), paper=paper, per_page=per_page)
                self.assertEqual(len(pdf.pages), pages)
                box = pdf.pages[0].mediabox
                self.assertAlmostEqual(float(box.width), width, delta=0.1)
                self.assertAlmostEqual(float(box.height), height, delta=0.1)
                text = self.text(pdf)
                self.assertEqual([label for label in labels if label in text], labels)
        self.assertGreaterEqual(len(self.pdf("/api/cards.pdf").pages), 5)

    def test_a_choice_too_long_for_an_address_is_sent(self) -> None:
        keys = [self.instrument(f"Rail {number}") for number in range(3)]
        response = self.client.post("/api/cards.pdf", json={"ids": keys * 60, "per_page": "4", "paper": "letter"})
        self.assertEqual((response.status_code, response.mimetype), (200, "application/pdf"))
        self.assertEqual(len(PdfReader(io.BytesIO(response.data)).pages), 45)
        response = self.client.post("/api/cards.pdf", json={"ids": keys * 201})
        self.assertEqual(response.status_code, 422)
        self.assertIn("603 cards are too many", response.get_json()["error"]["message"])

    def test_a_retired_instrument_and_a_long_label_are_whole(self) -> None:
        long = self.instrument("W" * 80)
        self.client.patch(f"/api/instruments/{long}", json={"retired": True})
        text = self.text(self.pdf(f"/api/instruments/{long}/card.pdf"))
        self.assertIn("WWWWWWWW", text)
        self.assertIn("…", text)
        svg = self.client.get(f"/api/instruments/{long}/card.svg").get_data(as_text=True)
        for x, size, said in re.findall(r'<text x="([\d.]+)"[^>]*font-size="([\d.]+)"[^>]*>([^<]*)<', svg):
            self.assertLess(float(x) + width_of(said.replace("&amp;", "&"), float(size)), 541.0, said)

    def test_what_cannot_be_is_refused(self) -> None:
        for query, says in (({"ids": "all"}, "commas between"), ({"per_page": "3"}, "per_page"), ({"paper": "a5"}, "paper")):
            response = self.client.get("/api/cards.pdf", query_string=query)
            self.assertEqual(response.status_code, 422)
            self.assertIn(says, response.get_json()["error"]["message"])
        self.assertEqual(self.client.get("/api/cards.pdf", query_string={"ids": str(uuid4())}).status_code, 404)


class TestChart(PaperTest):
    def test_every_kind_on_every_paper(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            for paper, (high, wide) in PAGE_POINTS.items():
                pdf = self.pdf("/api/wall-chart.pdf", kind=kind, paper=paper)
                self.assertEqual(len(pdf.pages), 1)
                self.assertAlmostEqual(float(pdf.pages[0].mediabox.width), wide, delta=0.1)
                self.assertAlmostEqual(float(pdf.pages[0].mediabox.height), high, delta=0.1)
            text = self.text(pdf)
            self.assertIn(kind.capitalize(), text)
            for string in instrument.strings:
                self.assertIn(f"{440.0 * 2 ** ((string.note_number - 69) / 12):.1f} Hz", text)
            self.assertIn("Fine tuner: clockwise goes up", text)

    def test_letters_are_large_enough_for_a_wall(self) -> None:
        svg = self.client.get("/api/wall-chart.svg", query_string={"kind": "violin", "paper": "a3"}).get_data(as_text=True)
        scale = float(re.findall(r"scale\(([\d.]+)\)", svg)[0])
        notes = re.findall(r'font-size="([\d.]+)"[^>]*>([A-G]#?\d)<', svg)
        self.assertEqual(len(notes), 4 * 12)
        self.assertGreater(min(float(size) for size, _ in notes) * scale, 30.0, "ten millimetres high on A3")

    def test_it_follows_the_studios_reference(self) -> None:
        self.client.patch("/api/settings", json={"a4": 442.0})
        self.addCleanup(self.client.patch, "/api/settings", json={"a4": 440.0})
        text = self.text(self.pdf("/api/wall-chart.pdf", kind="viola"))
        self.assertIn("A4 is 442 Hz", text)
        self.assertIn("442.0 Hz", text)


class TestSheets(PaperTest):
    def test_the_mornings_sheet_has_everyone_and_every_instrument(self) -> None:
        ruff = self.instrument("Ruff")
        self.post("/api/morning/heard", {"id": str(uuid4()), "instrument_id": ruff, "line": "-30 0 0 1"})
        said = " ".join(self.text(self.pdf("/api/morning/sheet.pdf")).split())  # wherever its lines end
        self.assertIn("hands, and nobody who is there has a turn", said)
        self.post("/api/morning/stations", {"id": str(uuid4()), "name": "Maren", "may": "teacher"})
        for number in range(40):
            self.instrument(f"Dunlin {number}")
        pdf = self.pdf("/api/morning/sheet.pdf")
        text = self.text(pdf)
        self.assertGreater(len(pdf.pages), 1)
        for said in ("Maren", "Ruff", "fine tuner: G", "Still to hear", "Dunlin 39", "As it stood at"):
            self.assertIn(said, text)

    def test_a_page_of_the_ledger(self) -> None:
        ruff = self.instrument("Ruff", "viola")
        self.post("/api/morning/heard", {"id": str(uuid4()), "instrument_id": ruff, "line": "-30 0 0 1"})
        self.post(f"/api/instruments/{ruff}/care", {"id": str(uuid4()), "kind": "note", "said": "new case"})
        text = self.text(self.pdf(f"/api/instruments/{ruff}/ledger-page.pdf"))
        for said in (
            "Pegs and fine tuners",
            "wood, turned by friction",
            "It stands.",
            "Ruff: ledger",
            "viola 16",
            "C −30",
            "not known",
            "new case",
            "Tunings",
        ):
            self.assertIn(said, text)

    def test_what_belongs_in_the_case_follows_the_instrument(self) -> None:
        geared = {name: {"peg_kind": "geared"} for name in "GDAE"}
        with_pegs, without = self.instrument("Wood"), self.instrument("Gears", **geared)
        wood, gears = (self.text(self.pdf(f"/api/instruments/{key}/case-list.pdf")) for key in (with_pegs, without))
        self.assertIn("spare E string, violin 4/4, steel", wood)
        self.assertIn("peg compound or chalk", wood)
        self.assertNotIn("peg compound or chalk", gears)
        self.post(
            f"/api/instruments/{with_pegs}/care", {"id": str(uuid4()), "kind": "fault", "sign": "peg-slips", "string": "D"}
        )
        self.assertIn("a peg here slips", self.text(self.pdf(f"/api/instruments/{with_pegs}/case-list.pdf")))

    def test_a_card_for_home_says_by_letters_who_turns_what(self) -> None:
        one_tuner = {name: {"has_fine_tuner": name == "E"} for name in "GDAE"}
        key = self.instrument("Wren", **one_tuner)
        text = self.text(self.pdf(f"/api/instruments/{key}/home-card.pdf"))
        for said in ("Wren, at home", "E, left", "G# / Ab", "Without a fine tuner: G, D, A", "snaps first"):
            self.assertIn(said, text)
        self.assertIn("a grown-up who has been shown", text)
        self.client.patch(f"/api/instruments/{key}/settings", json={"who": "student-fine-tuners"})
        self.assertIn("nobody at home", self.text(self.pdf(f"/api/instruments/{key}/home-card.pdf", paper="letter")))

    def test_what_is_told_holds_nothing_of_anyone(self) -> None:
        self.post("/api/people", {"id": str(uuid4()), "name": "Berit Holm"})
        knot = self.instrument("Berit’s Knot")
        self.post("/api/morning/heard", {"id": str(uuid4()), "instrument_id": knot, "line": "-3 0 0 1"})
        fault = {"id": str(uuid4()), "kind": "fault", "sign": "bridge-moved", "said": "Berit sat on it"}
        self.post(f"/api/instruments/{knot}/care", fault)
        told = self.get(f"/api/instruments/{knot}/told.json")
        text = self.text(self.pdf(f"/api/instruments/{knot}/told.pdf"))
        self.assertIn("the bridge leans, has moved or cracked, since", told["wrong"][0])
        self.assertIn("Set up the bridge", told["ask"][0])
        self.assertIn("someone sat on it", " ".join(told["tried"]))
        self.assertEqual(told["strings"][0], "G: 3 cents flat")
        for one in (str(told), text):
            self.assertNotIn("Berit", one)
            self.assertNotIn("Holm", one)
        self.assertIn("What to ask for", text)


class TestNothingIsCut(PaperTest):
    def inside(self, parts: list[Part] | tuple[Part, ...], width: float, height: float, scale: float = 1.0) -> None:
        for part in parts:
            match part:
                case Inset():
                    self.inside(part.parts, (width - part.x) / part.scale, (height - part.y) / part.scale)
                case Run():
                    self.assertLessEqual(part.x + width_of(part.text, part.size, bold=part.bold), width + 0.5, part.text)
                    self.assertLessEqual(part.y, height + 0.5, part.text)
                    self.assertGreaterEqual(part.x, -0.5, part.text)
                case Box():
                    self.assertLessEqual(part.x + part.w, width + 0.5)
                case Stroke():
                    self.assertLessEqual(max(part.x1, part.x2), width + 0.5)

    def test_every_sheet_of_everything_with_the_longest_words(self) -> None:
        from pondus.core.views.paper import chart_strings
        from pondus.paper.lists import Section, pages_of
        from pondus.paper.wall_chart import chart

        for instrument in INSTRUMENTS.values():
            sheet = chart(instrument, chart_strings(instrument, a4=446.0, spelling="do-re-mi"), a4=446.0)
            self.inside(sheet.parts, sheet.width, sheet.height)
        lines = [("W" * 80, "one two " * 60, "x")] * 30
        for page in pages_of("T" * 200, "b " * 300, [Section("H" * 120, lines, (1, 2, 1), boxes=True)], foot="f" * 300):
            self.inside(page.parts, page.width, page.height)

    def test_the_same_sheet_gives_the_same_bytes(self) -> None:
        sheet = Sheet(200.0, 100.0, "One")
        sheet.text(10.0, 20.0, "A4", 12.0)
        self.assertEqual(pdf_of([sheet]), pdf_of([sheet]))

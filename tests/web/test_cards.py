"""Cards over the web API: SVG and PDF, both papers, the studio's settings, refusals."""

import re
from typing import Any
from uuid import uuid4

from tests.web.test_api import ApiTest


class TestCards(ApiTest):
    def card(self, instrument: str, form: str = "svg", status: int = 200, **query: str) -> Any:
        response = self.client.get(f"/api/instruments/{instrument}/card.{form}", query_string=query)
        self.assertEqual(response.status_code, status, response.get_data()[:300])
        return response

    def test_both_forms_on_both_papers(self) -> None:
        instrument, _ = self.begin("cello", G={"has_fine_tuner": False})
        for paper, points in (("a4", (595, 842)), ("letter", (612, 792))):
            svg = self.card(instrument, paper=paper).get_data(as_text=True)
            size = re.search(r'<svg[^>]*width="([\d.]+)pt"', svg) or re.search(r'viewBox="0 0 ([\d.]+)', svg)
            assert size is not None
            self.assertAlmostEqual(float(size[1]), points[0], delta=1.0)
            pdf = self.card(instrument, "pdf", paper=paper)
            self.assertEqual(pdf.mimetype, "application/pdf")
            self.assertTrue(pdf.get_data().startswith(b"%PDF-"))
            box = re.search(rb"/MediaBox \[ ?0 0 ([\d.]+) ([\d.]+)", pdf.get_data())
            assert box is not None
            self.assertAlmostEqual(float(box[2]), points[1], delta=1.0)

    def test_the_same_instrument_gives_the_same_page(self) -> None:
        instrument, _ = self.begin("violin")
        self.assertEqual(self.card(instrument).get_data(), self.card(instrument).get_data())

    def test_it_follows_the_studio_and_the_stance(self) -> None:
        instrument, _ = self.begin("viola")
        before = self.card(instrument).get_data()
        self.client.patch(f"/api/instruments/{instrument}/settings", json={"target": "pure", "a4": 442})
        self.assertNotEqual(self.card(instrument).get_data(), before)
        self.assertNotEqual(self.card(instrument, stance="helper").get_data(), self.card(instrument).get_data())

    def test_any_label_can_be_printed(self) -> None:
        for label in (r"$\frac{1}{0}$", "<b>&amp;</b>", "Zoë’s ⅛ ½ 大 🎻", "B♭ & A♯"):
            instrument = str(uuid4())
            self.post("/api/instruments", {"id": instrument, "label": label, "kind": "violin", "strings": {}})
            self.assertIn("</svg>", self.card(instrument).get_data(as_text=True))
            self.assertTrue(self.card(instrument, "pdf").get_data().startswith(b"%PDF-"), label)

    def test_what_cannot_be_is_refused(self) -> None:
        instrument, _ = self.begin("violin")
        self.assertIn("doesn't fit", self.card(instrument, status=422, stance="seated").get_json()["error"]["message"])
        self.card(instrument, status=422, paper="a5")
        self.card("00000000-0000-0000-0000-000000000000", status=404)
        self.card(instrument, "gif", status=404)

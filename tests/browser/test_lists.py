"""Bringing a list in a real browser: looked at, corrected, stored, taken back."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.page import BrowserTest


class TestLists(BrowserTest):
    def bring(self, text: str | bytes) -> Page:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        file = folder / "camp.csv"
        file.write_bytes(text if isinstance(text, bytes) else text.encode())
        page = self.open("/roll")
        page.get_by_role("link", name="Bring a list").click()
        page.locator("input[type=file]").set_input_files(file)
        return page

    def test_a_teachers_list_is_mended_stored_and_taken_back(self) -> None:
        rows = ["Grebe;violin;3/4;5.4.2026", "Heron;harp;;", "Swift;cello;1/2;6.4.2026"]
        page = self.bring("Etikett;Kind;Size;Strings since\n" + "\n".join(rows))
        expect(page.get_by_role("heading", name="Say which column is the label")).to_be_visible()
        expect(page.get_by_role("button", name="Store")).to_be_disabled()
        page.get_by_label("Column 1, Etikett").select_option("label")
        bad = page.get_by_role("region", name="Rows that can’t be stored")
        expect(bad).to_contain_text("line 3")
        expect(bad).to_contain_text("“harp” is no violin, viola or cello")
        page.get_by_label("leave the bad row out").check()
        page.get_by_role("button", name="Store 2 rows").click()
        expect(page.get_by_text("2 rows are stored.")).to_be_visible()
        page.get_by_role("link", name="Roll", exact=True).click()
        expect(page.get_by_role("link", name="Grebe")).to_be_visible()
        expect(page.get_by_text("Heron")).to_have_count(0)
        page.get_by_role("link", name="Bring a list").click()
        page.get_by_role("button", name="Take it back").click()
        expect(page.get_by_text("It is taken back.")).to_be_visible()
        page.get_by_role("link", name="Roll", exact=True).click()
        expect(page.get_by_role("heading", name="Instruments", exact=True)).to_be_visible()
        expect(page.get_by_role("link", name="Grebe")).to_have_count(0)
        self.assertEqual(self.complaints, [])

    def test_a_picture_is_refused_in_words(self) -> None:
        page = self.bring(b"\x89PNG\r\n\x1a\n" + bytes(100))
        expect(page.get_by_role("alert")).to_contain_text("is a picture, not a list")

    def test_dates_that_could_be_either_are_asked(self) -> None:
        page = self.bring("label,kind,strings since\nTeal,viola,3/4/2026\n")
        expect(page.get_by_text("could be read in two ways")).to_be_visible()
        expect(page.get_by_role("button", name="Store 1 row")).to_be_disabled()
        page.get_by_role("radio", name="month first").click()
        page.get_by_role("button", name="Store 1 row").click()
        expect(page.get_by_text("1 row is stored.")).to_be_visible()

    def test_a_list_brought_again_shows_what_it_would_change(self) -> None:
        for label in ("Pochard", "Scaup"):
            self.add("violin", label)
        page = self.bring("label,kind,size,who has it\nPochard,violin,1/2,Ida\nscaup,violin,3/4,\nWigeon,cello,1/2,\n")
        changes = page.get_by_role("region", name="What it changes")
        expect(changes).to_contain_text("1 is new, 2 change, 0 are on the roll already")
        expect(changes.get_by_role("listitem").filter(has_text="Pochard")).to_contain_text("who has it: nobody → Ida")
        expect(page.get_by_role("button", name="All 4 are known")).to_be_visible()
        changes.get_by_label("scaup").uncheck()
        page.get_by_role("button", name="Store 2 rows").click()
        expect(page.get_by_text("2 rows are stored.")).to_be_visible()
        page.get_by_role("link", name="Roll", exact=True).click()
        expect(page.get_by_role("link", name="Pochard")).to_contain_text("1/2")
        expect(page.get_by_role("link", name="Scaup")).to_contain_text("4/4")
        page.get_by_role("link", name="Bring a list").click()
        page.locator("input[type=file]").set_input_files(
            {"name": "again.csv", "mimeType": "text/csv", "buffer": b"label,kind\nGadwall,violin\nx,harp\ny,harp\n"}
        )
        expect(page.get_by_text("line 3 and 1 more")).to_be_visible()
        page.get_by_role("button", name="cello").click()
        expect(page.get_by_role("button", name="Store 3 rows")).to_be_visible()
        page.locator("input[type=file]").set_input_files(
            {"name": "again.csv", "mimeType": "text/csv", "buffer": b"label,kind\nGadwall,violin\nx,harp\ny,harp\n"}
        )
        page.get_by_label("leave the 2 bad rows out").check()
        page.get_by_role("button", name="Store 1 row").click()
        expect(page.get_by_text("1 row is stored.")).to_be_visible()
        page.get_by_role("button", name="Take it back").click()
        expect(page.get_by_text("It is taken back.")).to_be_visible()
        expect(page.get_by_text("1 row is stored.")).to_have_count(0)
        self.assertEqual(self.complaints, [])

    def test_a_schools_inventory_is_told_by_its_columns_and_its_place(self) -> None:
        rows = ["Loans of the upper school,,,,", "No,Instrument,Size,Name,Fee", "U 2,violin,1/2,Ada Quist,12", ",,,Bo Lind,"]
        page = self.bring("\n".join(rows))
        expect(page.get_by_text("Not stored: Fee.")).to_be_visible()
        changes = page.get_by_role("region", name="What it changes")
        expect(changes).to_contain_text("2 names are new and will be added to the people: Ada Quist, Bo Lind.")
        page.get_by_label("Column 5, Fee").select_option("class")
        expect(page.get_by_text("Not stored")).to_have_count(0)
        above = page.get_by_label("Their names are in")
        expect(above).to_have_value("2")
        above.select_option("1")
        expect(page.get_by_label("Column 1, Loans of the upper school")).to_be_visible()
        page.get_by_label("Their names are in").select_option("2")
        page.get_by_role("button", name="Store 2 rows").click()
        expect(page.get_by_text("2 rows are stored.")).to_be_visible()
        page.get_by_role("link", name="Roll", exact=True).click()
        expect(page.get_by_role("link", name="U 2")).to_contain_text("Ada Quist")
        expect(page.get_by_role("region", name="People")).to_contain_text("Bo Lind")
        self.assertEqual(self.complaints, [])

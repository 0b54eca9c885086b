"""Export, import, backup and restore, as the command line does them, on a database of their own."""

import json
import tempfile
from pathlib import Path
from unittest import TestCase

from typer.testing import CliRunner

from pondus.cli import app
from tests.database import fresh_database


class TestKeeping(TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.url = fresh_database()

    def run_it(self, *arguments: str, url: str | None = None, status: int = 0) -> str:
        done = CliRunner().invoke(app, list(arguments), env={"DATABASE_URL": url or self.url})
        self.assertEqual(done.exit_code, status, done.output)
        return done.output

    def file(self, name: str, text: str = "") -> str:
        path = self.folder / name
        if text:
            path.write_text(text)
        return str(path)

    def saved(self, url: str) -> dict[str, object]:
        self.run_it("export", self.file("saved.json"), url=url)
        return dict(json.loads((self.folder / "saved.json").read_text())["tables"])

    def test_a_list_a_whole_studio_and_a_backup_go_out_and_come_back(self) -> None:
        said = self.run_it("import", self.file("roll.csv", "label,kind,player\nScaup,violin,Ilka\nScoter,cello,\n"))
        self.assertIn("2 rows of roll are stored", said)
        kept = self.saved(self.url)
        self.assertEqual(len(kept["instrument"]), 2)  # type: ignore[arg-type]
        self.run_it("export", self.file("studio.json"))
        other = fresh_database()
        self.run_it("import", self.file("studio.json"), url=other)
        self.assertEqual(self.saved(other), kept)
        self.assertIn("isn't empty", self.run_it("import", self.file("studio.json"), url=other, status=2))

        self.run_it("backup", self.file("b.dump"))
        self.run_it("import", self.file("more.csv", "label,kind\nGadwall,viola\n"))
        self.assertIn("isn't empty", self.run_it("restore", self.file("b.dump"), status=2))
        self.assertEqual(len(self.saved(self.url)["instrument"]), 3)  # type: ignore[arg-type]
        self.run_it("restore", self.file("b.dump"), "--replace")
        self.assertEqual(self.saved(self.url), kept)
        self.run_it("export", self.file("roll2.csv"), "--list", "roll")
        self.assertIn("Scaup,violin,4/4 size,Ilka", (self.folder / "roll2.csv").read_text())

    def test_bad_rows_are_said_and_nothing_is_stored_unless_left_out(self) -> None:
        text = "label,kind\nScaup,violin\nTeal,trombone\n"
        said = self.run_it("import", self.file("roll.csv", text), status=2)
        self.assertIn("line 3: “trombone” is no violin, viola or cello", said)
        self.assertIn("Nothing is stored", said)
        self.assertEqual(self.saved(self.url)["instrument"], [])
        self.assertIn("1 rows", self.run_it("import", self.file("roll.csv"), "--leave-out-bad"))

    def test_what_is_on_the_roll_changes_only_if_that_is_meant(self) -> None:
        self.run_it("import", self.file("first.csv", "label,kind,size\nShoveler,violin,1/2\n"))
        self.file("second.csv", "label,kind,size\nShoveler,violin,3/4\nGarganey,cello,1/2\n")
        said = self.run_it("import", self.file("second.csv"), status=2)
        self.assertIn("line 2: Shoveler, size 1/2 -> 3/4", said)
        self.assertIn("--update", said)
        self.assertIn("2 rows", self.run_it("import", self.file("second.csv"), "--update"))
        self.assertIn("no row to store", self.run_it("import", self.file("second.csv"), "--update", status=2))

    def test_what_cannot_be_is_one_line(self) -> None:
        for arguments, says in (
            (("import", self.file("none.csv")), "can't be read"),
            (("import", self.file("p.png", "\x89PNG")), "kind"),
            (("export", "/nowhere/at/all.json"), "can't be written"),
            (("export", self.file("x.csv"), "--list", "spoons"), "There is no list"),
            (("restore", self.file("roll.csv", "a,b\n")), "isn't a backup"),
            (("export", self.file("x.json"), "--studio", "other"), "There is no studio"),
        ):
            self.assertIn(says, self.run_it(*arguments, status=2))

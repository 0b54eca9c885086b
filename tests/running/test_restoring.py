"""Backups and studio files of the version before, and made-up ones: data comes back, and nothing else runs."""

import json
import subprocess
import tempfile
import unittest
from pathlib import Path

from sqlalchemy import text
from sqlmodel import select

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.running.backup import _dump
from pondus.running.restoring import bring_back
from pondus.store.database import engine_for, session_on
from pondus.store.devices import sign_in_row
from pondus.store.errors import NewerStudio
from pondus.store.instruments import fitted, instrument, instruments
from pondus.store.morning import triaged
from pondus.store.set_aside import set_aside
from pondus.store.summaries import summaries
from pondus.store.tables import (
    FifthCheckRow,
    ImportRow,
    InstrumentRow,
    MoveRow,
    ReadingRow,
    SetAsideRow,
    SimulatedRow,
    StringRow,
    now,
)
from pondus.store.tunings import tuning_log
from pondus.store.whole import is_empty, restored, saved
from tests.database import fresh_database

FIXTURES = Path(__file__).parents[1] / "fixtures"
OLD_BACKUP, OLD_FILE = FIXTURES / "studio-at-0007.dump", FIXTURES / "studio-at-0007.json"


class StudioTest(unittest.TestCase):
    def setUp(self) -> None:
        self.engine = engine_for(fresh_database())
        self.addCleanup(self.engine.dispose)
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))


class TestBackupOfTheVersionBefore(StudioTest):
    def setUp(self) -> None:
        super().setUp()
        bring_back(self.engine, OLD_BACKUP)

    def test_every_instrument_with_its_strings_checks_and_simulated_one_is_there(self) -> None:
        with session_on(self.engine) as session:
            self.assertEqual([each.instrument.label for each in instruments(session)], ["Eider", "Gannet", "Knot"])
            self.assertEqual(len(session.exec(select(StringRow)).all()), 16)
            self.assertEqual(len(session.exec(select(FifthCheckRow)).all()), 3)
            self.assertEqual(len(session.exec(select(SimulatedRow)).all()), 1)
            self.assertEqual(len(session.exec(select(ImportRow)).all()), 4)

    def test_what_no_clock_has_is_set_aside_whole_and_goes_with_the_file(self) -> None:
        with session_on(self.engine) as session:
            aside = session.exec(select(SetAsideRow).order_by(SetAsideRow.of_table)).all()
            self.assertEqual([each.of_table for each in aside], ["room", "string"])
            self.assertIn("BC", aside[0].content["at"])
            self.assertEqual(aside[1].content["put_on"], "9999-12-31")
            file = json.loads("".join(saved(session)))
        self.assertEqual(len(file["tables"]["set_aside"]), 2)

    def test_what_was_set_aside_is_said_as_a_person_knows_it(self) -> None:
        with session_on(self.engine) as session:
            said = [each.said for each in set_aside(session)]
        self.assertEqual(len(said), 2)
        self.assertRegex(said[0], "^measurement")
        self.assertRegex(said[1], "^string of [CGDA], (Eider|Gannet|Knot)$")

    def test_the_log_is_numbered_as_it_was_entered(self) -> None:
        with session_on(self.engine) as session:
            knot = session.exec(select(InstrumentRow).where(InstrumentRow.label == "Knot")).one()
            entries = [
                *session.exec(select(ReadingRow).where(ReadingRow.source != "list")).all(),
                *session.exec(select(MoveRow)).all(),
            ]
            by_tuning: dict[object, list[ReadingRow | MoveRow]] = {}
            for entry in entries:
                by_tuning.setdefault(entry.tuning_id, []).append(entry)
            for own in by_tuning.values():
                self.assertEqual(sorted(own, key=lambda each: each.at), sorted(own, key=lambda each: each.seq))
            places = [each.seq for each in entries]
            self.assertGreater(min(places), 0)
            self.assertGreater(knot.log_version, max(places) - 1)

    def test_a_screw_stands_where_its_moves_left_it(self) -> None:
        with session_on(self.engine) as session:
            knot = session.exec(select(InstrumentRow).where(InstrumentRow.label == "Knot")).one()
            as_fitted = fitted(instrument(session, knot.id), summaries(session, knot.id))
        strings = {each.name: each for each in as_fitted.strings}
        self.assertAlmostEqual(strings["G"].screw_turns, 2.5)
        self.assertAlmostEqual(strings["A"].screw_turns, 0.4)

    def test_the_morning_works_on_it(self) -> None:
        with session_on(self.engine) as session:
            clock = Clock(session.exec(select(ReadingRow.at).order_by(ReadingRow.at.desc())).first() or now())  # type: ignore[attr-defined]
            self.assertEqual({each.label for each in triaged(session, clock=clock)}, {"Eider", "Gannet", "Knot"})


class TestFileOfTheVersionBefore(StudioTest):
    def test_it_comes_in_and_goes_out_in_todays_form(self) -> None:
        with session_on(self.engine) as session:
            done = restored(session, OLD_FILE.read_bytes(), clock=Clock(now()))
        self.assertEqual([each.of_table for each in done.aside], ["string"])
        with session_on(self.engine) as session:
            first = "".join(saved(session))
        other = engine_for(fresh_database())
        self.addCleanup(other.dispose)
        with session_on(other) as session:
            again = restored(session, first.encode(), clock=Clock(now()))
        self.assertEqual(again.aside, [])
        with session_on(other) as session:
            self.assertEqual(json.loads("".join(saved(session)))["tables"], json.loads(first)["tables"])

    def test_its_log_has_the_order_of_its_times(self) -> None:
        with session_on(self.engine) as session:
            restored(session, OLD_FILE.read_bytes(), clock=Clock(now()))
        with session_on(self.engine) as session:
            for (tuning_id,) in session.execute(select(ReadingRow.tuning_id).distinct()).all():
                log = tuning_log(session, tuning_id)
                entries = sorted([*log.readings, *log.moves], key=lambda each: each.at)
                self.assertEqual([each.seq for each in entries], sorted(each.seq for each in entries))

    def test_records_past_todays_bounds_are_set_aside_with_all_that_is_theirs(self) -> None:
        file = json.loads(OLD_FILE.read_text())
        tables = file["tables"]
        knot = next(each for each in tables["instrument"] if each["label"] == "Knot")
        knot["kind"] = "tuba"
        eider = next(each for each in tables["reading"] if each["note"] == "C2")
        eider["cents"] = float("nan")
        tables["person"][0]["name"] = "Ida\x00Tern"
        tables["move"].append({**tables["move"][-1], "id": str(tables["room"][0]["id"]), "amount": 1e9})
        with session_on(self.engine) as session:
            done = restored(session, json.dumps(file).encode(), clock=Clock(now()))
        reasons = [each.reason for each in done.aside]
        self.assertTrue(any("“tuba” is not an instrument" in each for each in reasons), reasons)
        self.assertTrue(any("nan cents" in each for each in reasons), reasons)
        self.assertTrue(any("character that can't be kept" in each for each in reasons), reasons)
        self.assertTrue(any("at once can't be" in each for each in reasons), reasons)
        with session_on(self.engine) as session:
            self.assertEqual([each.instrument.label for each in instruments(session)], ["Eider", "Gannet"])
            kept = len(json.loads("".join(saved(session)))["tables"]["set_aside"])
        self.assertEqual(kept, len(done.aside))


class TestMadeUpBackups(StudioTest):
    def backup_of(self, *statements: str) -> Path:
        """A real backup file, of a database that holds more than a studio."""
        url = fresh_database()
        engine = engine_for(url)
        with engine.begin() as connection:
            for each in statements:
                connection.execute(text(each))
        engine.dispose()
        file = self.folder / "made-up.dump"
        command = ["/usr/lib/postgresql/15/bin/pg_dump", f"--dbname={url}", "--format=custom", f"--file={file}"]
        subprocess.run(command, check=True)
        return file

    def refused(self, file: Path, says: str, error: type[Exception] = BadInput) -> None:
        with self.assertRaises(error) as caught:
            bring_back(self.engine, file)
        self.assertIn(says, str(caught.exception))
        with session_on(self.engine) as session:
            self.assertTrue(is_empty(session))

    def test_functions_and_triggers_of_a_backup_never_run(self) -> None:
        mark = (
            "create function public.spoil() returns trigger language plpgsql as"
            " $$ begin new.name = 'spoilt'; return new; end $$"
        )
        hang = "create trigger spoil before insert on person for each row execute function public.spoil()"
        row = (
            "insert into person (id, name, role, cleared, note, created_at)"
            " values (gen_random_uuid(), 'Ida', 'player', '[]', '', now())"
        )
        bring_back(self.engine, self.backup_of(row, mark, hang))
        with self.engine.connect() as connection:
            self.assertEqual(connection.execute(text("select name from person")).scalars().all(), ["Ida"])
            spoil = "select count(*) from pg_proc where proname = 'spoil'"
            self.assertEqual(connection.execute(text(spoil)).scalar_one(), 0)

    def test_a_table_that_is_none_of_a_studios_is_refused(self) -> None:
        self.refused(self.backup_of("create table extra (a int)", "insert into extra values (1)"), "isn't a table of a studio")

    def test_a_layout_of_a_newer_pondus_is_said(self) -> None:
        self.refused(self.backup_of("update alembic_version set version_num = '9999'"), "newer Pondus", NewerStudio)

    def test_a_damaged_file_changes_nothing(self) -> None:
        whole = self.backup_of(
            "insert into person (id, name, role, cleared, note, created_at)"
            " select gen_random_uuid(), 'Ida ' || n, 'player', '[]', repeat('x', 400), now() from generate_series(1, 4000) n"
        )
        broken = self.folder / "broken.dump"
        broken.write_bytes(whole.read_bytes()[: whole.stat().st_size // 2])
        with self.assertRaises(BadInput):
            bring_back(self.engine, broken)
        with session_on(self.engine) as session:
            self.assertTrue(is_empty(session))

    def test_it_comes_back_into_a_studio_that_is_in_use(self) -> None:
        with session_on(self.engine) as session:
            session.add(InstrumentRow(label="Knot", kind="violin", size="4/4"))
        bring_back(self.engine, OLD_BACKUP)
        with session_on(self.engine) as session:
            self.assertEqual(len(instruments(session)), 3)


class TestWhichStudio(unittest.TestCase):
    def test_another_studios_backup_takes_its_place_or_becomes_one_beside_it(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            saved = Path(folder) / "one.dump"
            url = fresh_database()
            one = self.identity(url)
            _dump(url, saved)
            for is_another in (False, True):
                engine = engine_for(fresh_database())
                self.addCleanup(engine.dispose)
                with session_on(engine) as session:
                    here = sign_in_row(session).studio
                bring_back(engine, saved, is_another=lambda: is_another)  # noqa: B023 (asked at once)
                with session_on(engine) as session:
                    self.assertEqual(sign_in_row(session).studio, here if is_another else one)

    @staticmethod
    def identity(url: str) -> str:
        engine = engine_for(url)
        try:
            with session_on(engine) as session:
                return sign_in_row(session).studio
        finally:
            engine.dispose()

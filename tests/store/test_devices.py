"""Who comes in, as it is kept: layout, secrets, a person's end, a studio's file, and the commands."""

import os
import unittest
from datetime import timedelta
from unittest import mock
from uuid import uuid4

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text
from sqlmodel import SQLModel, col, select
from typer.testing import CliRunner

from pondus.cli import app
from pondus.core.errors import BadInput
from pondus.store import devices as device_store
from pondus.store import persons_data
from pondus.store.database import engine_for, session_on
from pondus.store.device_tables import UNSHARED, DeviceSessionRow, InvitationRow, TeacherKeyRow
from pondus.store.errors import NotFound, TooOften
from pondus.store.tables import InstrumentRow, PersonRow, ReadingRow, TuningRow, now
from pondus.store.whole import saved, tables
from tests.database import fresh_database


class DevicesTest(unittest.TestCase):
    def setUp(self) -> None:
        self.engine = engine_for(fresh_database())
        self.addCleanup(self.engine.dispose)
        self.ines = uuid4()
        with session_on(self.engine) as session:
            session.add(PersonRow(id=self.ines, name="Ines Holm", role="player", cleared=[1, 2]))


class TestLayout(DevicesTest):
    def test_migrations_make_the_tables_as_they_are_written(self) -> None:
        with self.engine.connect() as connection:
            context = MigrationContext.configure(connection)
            kinds = {"add_table", "remove_table", "add_column", "remove_column"}
            differences = [each for each in compare_metadata(context, SQLModel.metadata) if each[0] in kinds]
        self.assertEqual(differences, [])


class TestSecrets(DevicesTest):
    def test_no_secret_is_kept_as_it_is(self) -> None:
        with session_on(self.engine) as session:
            device_store.set_passphrase(session, "Runa", "four words of mine")
            entered = device_store.let_in(session, "student", person_id=self.ines, name="Ines", kind="tablet")
            _, code = device_store.invite(session, "helper", person_id=None, name="")
        with self.engine.connect() as connection:
            kept = "".join(
                str(row)
                for table in ("teacher_key", "device_session", "invitation")
                for row in connection.execute(text(f"select * from {table}"))
            )
        for secret in ("four words", entered.token, code):
            self.assertNotIn(secret, kept)
        self.assertIn("argon2id", kept)

    def test_a_device_is_known_by_its_token_until_it_ends(self) -> None:
        with session_on(self.engine) as session:
            entered = device_store.let_in(session, "student", person_id=self.ines, name="Ines", kind="tablet")
            found = device_store.device_with(session, entered.token)
            assert found is not None
            self.assertEqual((found.role, found.person, found.may), ("student", self.ines, "fine-tuners"))
            self.assertIsNone(device_store.device_with(session, entered.token + "x"))
            row = session.get_one(DeviceSessionRow, entered.session)
            row.seen_at = now() - timedelta(minutes=11)
            session.add(row)
            session.flush()
            self.assertLess(device_store.last_seen(session)[self.ines], now() - timedelta(minutes=10))
            device_store.device_with(session, entered.token)
            self.assertGreater(device_store.last_seen(session)[self.ines], now() - timedelta(minutes=1))
            device_store.end(session, entered.session)
            self.assertIsNone(device_store.device_with(session, entered.token))
            with self.assertRaises(NotFound):
                device_store.end(session, uuid4())

    def test_codes_are_bound_to_who_they_are_for(self) -> None:
        with session_on(self.engine) as session:
            for role, person in (("student", None), ("teacher", self.ines), ("teacher", None)):
                with self.subTest(role=role, person=person), self.assertRaises(BadInput):
                    device_store.invite(session, role, person_id=person, name="")  # type: ignore[arg-type]

    def test_attempts_are_slowed_down_the_more_there_are(self) -> None:
        def allowed() -> int:
            made = 0
            try:
                while made < 50:
                    with session_on(self.engine) as session:
                        device_store.count_attempt(session, "10.0.0.1")
                    made += 1
            except TooOften:
                pass
            return made

        self.assertEqual(allowed(), 10)
        with session_on(self.engine) as session:  # as if those and more had been in the minutes before
            session.execute(text("update asked_count set minute = minute - interval '2 minutes', count = 40"))
        self.assertEqual(allowed(), 2)


class TestAPersonsEnd(DevicesTest):
    def test_their_devices_end_and_what_they_entered_stays_under_nobody(self) -> None:
        instrument, tuning, reading = uuid4(), uuid4(), uuid4()
        with session_on(self.engine) as session:
            session.add(InstrumentRow(id=instrument, label="Teal", kind="violin", size="4/4"))
            session.flush()
            session.add(TuningRow(id=tuning, instrument_id=instrument, stance="lap", done_by=self.ines))
            session.flush()
            session.add(ReadingRow(id=reading, tuning_id=tuning, string="A", note="A4", cents=-3.0, entered_by=self.ines))
            entered = device_store.let_in(session, "student", person_id=self.ines, name="Ines Holm", kind="tablet")
            device_store.invite(session, "student", person_id=self.ines, name="")
        with session_on(self.engine) as session:
            told = persons_data.everything_of(session, self.ines)
            self.assertEqual(told["entered"]["reading"], 1)
            self.assertEqual([each["kind"] for each in told["devices"]], ["tablet"])
            persons_data.erase(session, self.ines, name="Ines Holm", also=set())
        with session_on(self.engine) as session:
            self.assertIsNone(session.get_one(ReadingRow, reading).entered_by)
            self.assertIsNone(device_store.device_with(session, entered.token))
            for table in (DeviceSessionRow, InvitationRow, TeacherKeyRow):
                self.assertEqual(session.exec(select(table).where(col(table.person_id) == self.ines)).all(), [])


class TestWholeStudio(DevicesTest):
    def test_who_comes_in_stays_out_of_the_studios_file(self) -> None:
        with session_on(self.engine) as session:
            device_store.set_passphrase(session, "Runa", "four words of mine")
            file = "".join(saved(session))
        for name in UNSHARED:
            self.assertNotIn(f'"{name}"', file)
        self.assertFalse(UNSHARED & {table.name for table in tables()})


class TestCommands(unittest.TestCase):
    def test_what_cannot_be_is_told_before_anything_is_begun(self) -> None:
        for command, said in (
            (["start", "--on", "192.168.1.20"], "add --share"),
            (["start", "--share", "--cert", "/nowhere.crt"], "--key"),
            (["start", "--share", "--on", "nowhere"], "isn't an address"),
            (["serve"], "DATABASE_URL"),
            (["passphrase"], "--name"),
        ):
            with self.subTest(command=command), mock.patch.dict(os.environ):
                os.environ.pop("DATABASE_URL", None)
                told = CliRunner().invoke(app, command)
                self.assertEqual(told.exit_code, 2, told.output)
                self.assertIn(said, told.output)

    def test_a_passphrase_is_set_on_the_machine_itself(self) -> None:
        with mock.patch.dict(os.environ, {"DATABASE_URL": fresh_database()}):
            told = CliRunner().invoke(app, ["passphrase", "--name", "Runa"])
            self.assertEqual(told.exit_code, 0, told.output)
            made = next(line.strip() for line in told.output.splitlines() if line.startswith("    "))
            engine = engine_for(os.environ["DATABASE_URL"])
            self.addCleanup(engine.dispose)
            with session_on(engine) as session:
                found = device_store.teacher_with(session, "runa", made)
            self.assertIsNotNone(found)


if __name__ == "__main__":
    unittest.main()

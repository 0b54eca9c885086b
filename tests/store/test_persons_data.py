"""All about one person in one file; and after erasing, the name nowhere in the database."""

import json
import subprocess
from uuid import UUID, uuid4

from sqlmodel import Session, select

from pondus.core.errors import BadInput
from pondus.store.care import add_care
from pondus.store.database import engine_for, session_on
from pondus.store.errors import Conflict, NotFound
from pondus.store.imports import undo
from pondus.store.instruments import add_instrument
from pondus.store.persons_data import erase, everything_of, person_named, places_of
from pondus.store.settings import studio_clock
from pondus.store.tables import (
    CareRow,
    ImportRow,
    InstrumentRow,
    PersonRow,
    ReadingRow,
    SetAsideRow,
    StationRow,
    TuningRow,
    now,
)
from pondus.store.tunings import begin_tuning, strike
from tests.database import fresh_database
from tests.store.test_store import StoreTest

NAME = "Ida Tern"


class PersonsDataTest(StoreTest):
    def setUp(self) -> None:
        self.url = fresh_database()
        self.engine = engine_for(self.url)
        self.addCleanup(self.engine.dispose)
        with session_on(self.engine) as session:
            self.ida = self.fill(session)

    def fill(self, session: Session) -> UUID:
        ida = PersonRow(name=NAME, note="plays on Fridays")
        bo = PersonRow(name="Bo", note="shares a stand with ida tern")
        session.add_all([ida, bo])
        session.flush()
        violin = InstrumentRow(label="Ida Tern’s violin", kind="violin", size="4/4", player_id=ida.id, note="Ida likes it")
        violin.details = {"teacher": "Ida Tern", "class": "3b"}
        add_instrument(session, violin, [])
        tuning = begin_tuning(session, TuningRow(instrument_id=violin.id, stance="lap", done_by=ida.id))
        reading = ReadingRow(tuning_id=tuning.id, string="A", note="A4", cents=0.0)
        session.add(reading)
        session.flush()
        strike(session, ReadingRow, reading.id, reason="Ida Tern misread it")
        clock = studio_clock(session)
        add_care(session, CareRow(instrument_id=violin.id, kind="note", said="given by IDA TERN’s aunt"), clock=clock)
        session.add(StationRow(day=clock.today, name=NAME, may="fine-tuners", person_id=ida.id))
        for place, (text, encoding) in enumerate(
            (("name\nIda Tern\n", "utf-8"), ("name\nIda Tern\n", "utf-16"), ("name\nIda Tern\n", "utf-16-le"))
        ):
            file = ImportRow(
                kind="people", file_name=f"{place}.csv", content=text.encode(encoding), state="stored", stored_at=now()
            )
            session.add(file)
        session.add(ImportRow(kind="people", file_name="Ida Tern and others.csv", content=b"name\nBo\n"))
        aside = {"name": NAME, "nested": [{"note": "by Ida Tern"}]}
        session.add(SetAsideRow(of_table="person", reason="made up", content=aside))
        return ida.id

    def dump(self) -> str:
        command = ["/usr/lib/postgresql/15/bin/pg_dump", f"--dbname={self.url}", "--inserts"]
        return subprocess.run(command, capture_output=True, text=True, check=True).stdout


class TestEverythingOf(PersonsDataTest):
    def test_it_holds_all_there_is(self) -> None:
        with session_on(self.engine) as session:
            found = json.loads(json.dumps(everything_of(session, self.ida)))
        self.assertEqual((found["person"]["name"], found["has_instruments"]), (NAME, ["Ida Tern’s violin"]))
        self.assertEqual((len(found["mornings"]), len(found["tuned"])), (1, 1))
        self.assertIn("an entry of care", {each["where"] for each in found["named_in"]})

    def test_by_name_or_by_id(self) -> None:
        with session_on(self.engine) as session:
            self.assertEqual(person_named(session, "ida tern").id, self.ida)
            self.assertEqual(person_named(session, str(self.ida)).id, self.ida)
            with self.assertRaises(NotFound):
                person_named(session, "Nobody")
            session.add(PersonRow(name=NAME))
            session.flush()
            with self.assertRaisesRegex(BadInput, "2 people"):
                person_named(session, NAME)


class TestErasing(PersonsDataTest):
    def test_every_place_is_shown_and_a_first_name_alone_is_asked_about(self) -> None:
        with session_on(self.engine) as session:
            places = places_of(session, self.ida)
        sure = {(each.table, each.field) for each in places if each.sure}
        self.assertLessEqual(
            {("person", "name"), ("instrument", "label"), ("care", "said"), ("reading", "struck_reason"), ("station", "name"),
             ("import", "content"), ("import", "file_name"), ("set_aside", "content")},
            sure,
        )  # fmt: skip
        self.assertEqual([(each.table, each.field) for each in places if not each.sure], [("instrument", "note")])

    def test_afterwards_the_name_is_nowhere(self) -> None:
        self.assertIn(NAME, self.dump())
        with session_on(self.engine) as session:
            note = next(each for each in places_of(session, self.ida) if not each.sure)
            done = erase(session, self.ida, name="ida tern", also={(note.table, note.id, note.field)})
        self.assertIn("3 list files", done.said)
        left = self.dump().casefold()
        self.assertNotIn("ida", left.replace("valida", ""))
        self.assertNotIn(NAME.encode().hex(), left)
        with session_on(self.engine) as session:
            self.assertEqual([each.name for each in session.exec(select(PersonRow)).all()], ["Bo"])
            tuning = session.exec(select(TuningRow)).one()
            self.assertIsNone(tuning.done_by)
            instrument = session.exec(select(InstrumentRow)).one()
            self.assertEqual((instrument.label, instrument.player_id), ("someone’s violin", None))
            self.assertEqual(session.exec(select(StationRow)).all(), [])

    def test_a_list_that_is_gone_cannot_be_taken_back(self) -> None:
        with session_on(self.engine) as session:
            erase(session, self.ida, name=NAME, also=set())
        with self.assertRaises(Conflict), session_on(self.engine) as session:
            last = session.exec(select(ImportRow).where(ImportRow.state == "stored")).all()[-1]
            undo(session, last.id, clock=studio_clock(session))

    def test_another_name_another_place_or_nobody_is_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "is another"), session_on(self.engine) as session:
            erase(session, self.ida, name="Bo", also=set())
        with self.assertRaisesRegex(BadInput, "no such place"), session_on(self.engine) as session:
            erase(session, self.ida, name=NAME, also={("care", uuid4(), "said")})
        with self.assertRaises(NotFound), session_on(self.engine) as session:
            erase(session, uuid4(), name=NAME, also=set())
        self.assertIn(NAME, self.dump())

    def test_where_two_have_one_name_only_what_is_surely_hers_goes(self) -> None:
        with session_on(self.engine) as session:
            session.add(PersonRow(name=NAME, note="the other one"))
        with session_on(self.engine) as session:
            sure = {(each.table, each.field) for each in places_of(session, self.ida) if each.sure}
            self.assertEqual(sure, {("person", "name"), ("person", "note"), ("station", "name")})
            erase(session, self.ida, name=NAME, also=set())
        with session_on(self.engine) as session:
            self.assertIn("the other one", [each.note for each in session.exec(select(PersonRow)).all()])
            self.assertIn("Ida Tern’s violin", [each.label for each in session.exec(select(InstrumentRow)).all()])

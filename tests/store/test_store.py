"""The store against a real PostgreSQL: once is once, struck is kept, away is said."""

import threading
import unittest
from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid4

from sqlmodel import Session

from pondus.core.clock import Clock
from pondus.core.hands.learned import move_log
from pondus.core.hands.state import StringState, tuning_now
from pondus.core.instruments import instrument_named
from pondus.store import instruments, tunings
from pondus.store.database import engine_for, migrate, session_on
from pondus.store.errors import Conflict, NotFound, StoreAway
from pondus.store.summaries import summaries
from pondus.store.tables import InstrumentRow, MoveRow, ReadingRow, StringRow, TuningRow
from tests.database import fresh_database

START = datetime(2026, 7, 4, 8, 0, tzinfo=UTC)


class StoreTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.url = fresh_database()
        cls.engine = engine_for(cls.url)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.engine.dispose()

    def violin(self, session: Session, **fittings: dict[str, object]) -> InstrumentRow:
        row = InstrumentRow(id=uuid4(), label="Knot", kind="violin", size="4/4")
        strings = [
            StringRow(instrument_id=row.id, name=name, screw_set_at=START, **fittings.get(name, {}))
            for name in instrument_named("violin").string_names
        ]
        return instruments.add_instrument(session, row, strings).instrument

    def tuning(self, session: Session, **fittings: dict[str, object]) -> TuningRow:
        violin = self.violin(session, **fittings)
        row = TuningRow(id=uuid4(), instrument_id=violin.id, stance="lap")
        return tunings.begin_tuning(session, row)

    def reading(self, tuning: UUID, cents: float, *, second: int, string: str = "A") -> ReadingRow:
        at = START + timedelta(seconds=second)
        note = {"A": "A4", "G": "G3"}[string]
        return ReadingRow(id=uuid4(), tuning_id=tuning, string=string, note=note, cents=cents, at=at)

    def move(self, tuning: UUID, amount: float, *, second: int, direction: str = "raise") -> MoveRow:
        at = START + timedelta(seconds=second)
        return MoveRow(
            id=uuid4(), tuning_id=tuning, string="A", mechanism="fine-tuner", direction=direction, amount=amount,
            unit="turn", at=at,
        )  # fmt: skip

    def state_of_a(self, session: Session, tuning: TuningRow) -> StringState:
        session.expire_all()
        record = instruments.instrument(session, tuning.instrument_id)
        past = summaries(session, tuning.instrument_id)
        states = tuning_now(
            instruments.fitted(record, past, before=tuning.id),
            tunings.tuning_log(session, tuning.id),
            move_log(past),
            clock=Clock(START),
        ).states
        return next(each for each in states if each.string.name == "A")


class TestOnceIsOnce(StoreTest):
    def test_the_same_entry_sent_again_is_stored_once(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session)
            first = self.reading(tuning.id, -12, second=0)
            again = ReadingRow(**first.model_dump())
            tunings.add_entry(session, first)
        with session_on(self.engine) as session:
            tunings.add_entry(session, again)
            self.assertEqual(len(tunings.tuning_log(session, tuning.id).readings), 1)

    def test_an_id_with_other_content_is_a_conflict(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session)
            first = self.reading(tuning.id, -12, second=0)
            changed = ReadingRow(**{**first.model_dump(), "cents": 5.0})
            tunings.add_entry(session, first)
        with self.assertRaises(Conflict), session_on(self.engine) as session:
            tunings.add_entry(session, changed)

    def test_the_same_entry_from_two_sessions_at_once(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session)
        entry = self.reading(tuning.id, -3, second=0)
        errors: list[Exception] = []

        def send() -> None:
            try:
                with session_on(self.engine) as own:
                    tunings.add_entry(own, ReadingRow(**entry.model_dump()))
            except Exception as error:
                errors.append(error)

        threads = [threading.Thread(target=send) for _ in range(6)]
        for each in threads:
            each.start()
        for each in threads:
            each.join()
        with session_on(self.engine) as session:
            self.assertEqual(len(tunings.tuning_log(session, tuning.id).readings), 1)
        self.assertEqual(errors, [])

    def test_instruments_and_tunings_too(self) -> None:
        with session_on(self.engine) as session:
            violin = self.violin(session)
            again = InstrumentRow(id=violin.id, label=violin.label, kind="violin", size="4/4")
            self.assertEqual(len(instruments.add_instrument(session, again, []).strings), 4)
            taken = InstrumentRow(id=violin.id, label="Ruff", kind="cello", size="4/4")
            with self.assertRaises(Conflict):
                instruments.add_instrument(session, taken, [])


class TestStriking(StoreTest):
    def test_struck_entries_stay_and_no_longer_count(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session)
            good = tunings.add_entry(session, self.reading(tuning.id, -12, second=0))
            wrong = tunings.add_entry(session, self.reading(tuning.id, 40, second=5))
            tunings.strike(session, ReadingRow, wrong.id, reason="typed wrong")
            self.assertEqual(len(tunings.tuning_log(session, tuning.id).readings), 2)
            on_a = self.state_of_a(session, tuning)
            assert on_a.reading is not None
            self.assertEqual(on_a.reading.id, good.id)
            back = tunings.strike(session, ReadingRow, wrong.id, reason=None)
            self.assertIsNone(back.struck_at)

    def test_what_is_not_there_is_said(self) -> None:
        with session_on(self.engine) as session:
            with self.assertRaises(NotFound):
                tunings.tuning_log(session, uuid4())
            with self.assertRaises(NotFound):
                tunings.strike(session, MoveRow, uuid4(), reason="x")
            with self.assertRaises(NotFound):
                instruments.instrument(session, uuid4())


class TestStringState(StoreTest):
    def test_the_screw_follows_its_moves_and_not_the_struck_ones(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session, A={"screw_turns": 1.0})
            tunings.add_entry(session, self.move(tuning.id, 0.5, second=1))
            tunings.add_entry(session, self.move(tuning.id, 0.25, second=2, direction="lower"))
            struck = tunings.add_entry(session, self.move(tuning.id, 2.0, second=3))
            tunings.strike(session, MoveRow, struck.id, reason="never made")
            on_a = self.state_of_a(session, tuning)
            assert on_a.situation.fine_tuner is not None
            self.assertAlmostEqual(on_a.situation.fine_tuner.turns_from_middle, 1.25)

    def test_a_move_between_two_readings_is_held_to_account(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session)
            tunings.add_entry(session, self.reading(tuning.id, -20, second=1))
            tunings.add_entry(session, self.move(tuning.id, 0.5, second=2))
            self.assertIsNotNone(self.state_of_a(session, tuning).pending)
            tunings.add_entry(session, self.reading(tuning.id, -40, second=3))
            on_a = self.state_of_a(session, tuning)
            assert on_a.advice is not None
            self.assertEqual([step.question for step in on_a.advice.steps], ["wrong-way"])
            self.assertIsNone(on_a.pending)


class TestDatabase(StoreTest):
    def test_migrating_again_changes_nothing(self) -> None:
        migrate(self.url)

    def test_a_database_that_is_away_is_said_in_a_sentence(self) -> None:
        engine = engine_for("postgresql://pondus@127.0.0.1:9/none")
        with self.assertRaises(StoreAway) as caught, session_on(engine) as session:
            session.get(TuningRow, uuid4())
        self.assertIn("Try again", caught.exception.message)

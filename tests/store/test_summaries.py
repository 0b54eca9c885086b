"""What tunings came to: kept once, anew when an entry changes, never from before an entry that is stored."""

from datetime import timedelta
from uuid import UUID

from sqlmodel import col, func, select

from pondus.core.clock import Clock
from pondus.core.hands.learned import move_log
from pondus.core.hands.summary import TuningSummary
from pondus.core.upkeep.ledger import slips_of
from pondus.store.database import session_on
from pondus.store.summaries import keep_summaries, newest_of_all, summaries
from pondus.store.tables import InstrumentRow, MoveRow, SummaryRow, TuningRow
from pondus.store.tunings import add_entry, begin_tuning, strike
from tests.store.test_store import START, StoreTest

CLOCK = Clock(START)


class TestSummaries(StoreTest):
    def of(self, instrument: UUID) -> list[TuningSummary]:
        with session_on(self.engine) as session:
            return summaries(session, instrument)

    def version(self, instrument: UUID) -> int:
        with session_on(self.engine) as session:
            return session.exec(select(InstrumentRow.log_version).where(InstrumentRow.id == instrument)).one()

    def test_found_left_moves_and_minutes(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session)
            add_entry(session, self.reading(tuning.id, -20.0, second=0))
            add_entry(session, self.move(tuning.id, 0.5, second=10))
            add_entry(session, self.reading(tuning.id, -2.0, second=60))
        found = self.of(tuning.instrument_id)[0]
        string = found.strings["A"]
        self.assertEqual((string.readings, string.screw_moves, string.peg_moves, found.minutes), (2, 1, 0, 1.0))
        self.assertAlmostEqual(string.found_hz or 0.0, 440.0 * 2 ** (-20 / 1200), places=4)
        self.assertAlmostEqual(string.left_hz or 0.0, 440.0 * 2 ** (-2 / 1200), places=4)
        self.assertAlmostEqual(found.measured[0].change_cents, 18.0, delta=0.3)

    def test_a_new_entry_and_a_struck_one_are_in_the_next_digest(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session)
            add_entry(session, self.reading(tuning.id, -20.0, second=0))
        self.assertEqual(self.of(tuning.instrument_id)[0].strings["A"].readings, 1)
        before = self.version(tuning.instrument_id)
        with session_on(self.engine) as session:
            later = add_entry(session, self.reading(tuning.id, -2.0, second=60))
        self.assertEqual(self.of(tuning.instrument_id)[0].strings["A"].readings, 2)
        with session_on(self.engine) as session:
            strike(session, type(later), later.id, reason="misread")
        string = self.of(tuning.instrument_id)[0].strings["A"]
        self.assertEqual((string.readings, string.found_hz), (1, string.left_hz))
        self.assertEqual(self.version(tuning.instrument_id), before + 2)

    def test_kept_ones_are_not_made_again(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session)
            add_entry(session, self.reading(tuning.id, -20.0, second=0))
        with session_on(self.engine) as session:
            keep_summaries(session, tuning.instrument_id)
        with session_on(self.engine) as session:
            kept = session.exec(select(SummaryRow).where(SummaryRow.tuning_id == tuning.id)).one()
            kept.content = {**kept.content, "minutes": 77.0}
            session.add(kept)
        self.assertEqual(self.of(tuning.instrument_id)[0].minutes, 77.0)

    def test_a_peg_that_gave_way_is_counted(self) -> None:
        with session_on(self.engine) as session:
            tuning = self.tuning(session)
            add_entry(session, self.reading(tuning.id, -20.0, second=0))
            peg = MoveRow(
                tuning_id=tuning.id, string="A", mechanism="peg", direction="raise", amount=3.0, unit="degree",
                at=START + timedelta(seconds=5),
            )  # fmt: skip
            add_entry(session, peg)
            add_entry(session, self.reading(tuning.id, -45.0, second=10))
        self.assertEqual(self.of(tuning.instrument_id)[0].strings["A"].slips, 1)

    def test_a_night_that_fell_far_is_a_slip_unless_the_string_is_new_or_another(self) -> None:
        with session_on(self.engine) as session:
            violin = self.violin(session)
            for day, cents in ((0, 0.0), (1, -40.0)):
                row = TuningRow(instrument_id=violin.id, stance="lap", started_at=START + timedelta(days=day))
                begin_tuning(session, row)
                reading = self.reading(row.id, cents, second=86_400 * day)
                reading.note = "A4" if day == 0 else "G#4"
                add_entry(session, reading)
            log = summaries(session, violin.id)
        day_of = START.date()
        self.assertEqual(slips_of(log, {}, clock=CLOCK), [frozenset(), frozenset("A")])
        self.assertEqual(slips_of(log, {"A": day_of - timedelta(days=90)}, clock=CLOCK)[1], frozenset("A"))
        self.assertEqual(slips_of(log, {"A": day_of - timedelta(days=1)}, clock=CLOCK)[1], frozenset())
        self.assertEqual(slips_of(log, {"A": day_of + timedelta(days=1)}, clock=CLOCK)[1], frozenset())

    def test_oldest_first_and_only_the_newest(self) -> None:
        with session_on(self.engine) as session:
            violin = self.violin(session)
            for day in (2, 0, 1):
                row = TuningRow(instrument_id=violin.id, stance="lap", started_at=START + timedelta(days=day))
                begin_tuning(session, row)
            ordered = [each.started_at for each in summaries(session, violin.id)]
            self.assertEqual(ordered, sorted(ordered))
            newest = summaries(session, violin.id, newest=2)
            self.assertEqual([each.started_at.day for each in newest], [START.day + 1, START.day + 2])
            self.assertEqual(newest_of_all(session, 2)[violin.id], newest)

    def test_what_is_learned_spans_tunings(self) -> None:
        with session_on(self.engine) as session:
            violin = self.violin(session)
            for _ in range(3):
                row = begin_tuning(session, TuningRow(instrument_id=violin.id, stance="lap"))
                add_entry(session, self.reading(row.id, -20.0, second=0))
                add_entry(session, self.move(row.id, 0.5, second=10))
                add_entry(session, self.reading(row.id, -2.0, second=20))
            self.assertEqual(len(move_log(summaries(session, violin.id)).moves["A"]), 3)
            count = select(func.count()).select_from(SummaryRow).where(col(SummaryRow.instrument_id) == violin.id)
            # Whoever looks keeps nothing; whoever begins the next keeps what came before it.
            self.assertEqual(session.exec(count).one(), 2)

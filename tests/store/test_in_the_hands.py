"""A studio of the version before comes through: what listening pages had kept as moves by themselves is understood now."""

import json
import unittest
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID, uuid4, uuid5

from sqlalchemy import text
from sqlmodel import select

from pondus.core.clock import Clock
from pondus.core.hands.learned import move_log
from pondus.core.hands.state import tuning_now
from pondus.store import instruments, practice, tunings
from pondus.store.database import engine_for, migrate, migrate_on, session_on
from pondus.store.summaries import summaries
from pondus.store.tables import StationRow
from tests.database import cluster

BEGAN = datetime(2026, 7, 4, 8, tzinfo=UTC)


class TestMigration(unittest.TestCase):
    def setUp(self) -> None:
        url = cluster().ensure_database(f"test_{uuid4().hex[:12]}")
        self.engine = engine_for(url)
        self.addCleanup(self.engine.dispose)
        self.seq = 0
        self.instrument, self.tuning = uuid4(), uuid4()
        with self.engine.begin() as connection:
            migrate_on(connection, "0012")
        self.put("instrument", id=self.instrument, label="Knot", kind="violin", size="4/4", created_at=BEGAN, note="")
        self.put(
            "string", id=uuid4(), instrument_id=self.instrument, name="A", core="steel", has_fine_tuner=True,
            screw_turns=0.0, screw_reach_turns=4.0, screw_set_at=BEGAN, peg_kind="friction", peg_state="ok", winding="normal",
        )  # fmt: skip
        self.put(
            "tuning", id=self.tuning, instrument_id=self.instrument, started_at=BEGAN, a4=440.0, fifth_cents=700.0,
            approach="fine-tuner-first", tolerance_cents=3.0, stance="lap", who="teacher", spelling="sharps",
            order="A-outward",
        )  # fmt: skip
        self.put(
            "station", id=uuid4(), day=BEGAN.date(), name="Mina", may="pegs", own_only=False, comes_at=BEGAN,
        )  # fmt: skip
        self.glide = [self.reading(436.0 + step, after=0.5 * step) for step in range(4)]
        self.told = self.move(uuid4(), 0.25)
        self.player = uuid4()
        self.practised()
        with self.engine.begin() as connection:
            migrate_on(connection, "0019")
        stale = {"tuning_id": str(self.tuning), "started_at": BEGAN.isoformat(), "strings": {}}
        self.put(
            "tuning_summary", tuning_id=self.tuning, instrument_id=self.instrument, started_at=BEGAN,
            content=json.dumps(stale),
        )  # fmt: skip
        migrate(url)

    def put(self, table: str, **values: Any) -> None:
        names = ", ".join(f'"{name}"' for name in values)
        held = ", ".join(f":{name}" for name in values)
        with self.engine.begin() as connection:
            connection.execute(text(f'insert into "{table}" ({names}) values ({held})'), values)

    def practised(self) -> None:
        """One string broke in practice, one came home."""
        go = uuid4()
        self.put("person", id=self.player, name="Mina", role="player", cleared="[]", note="", created_at=BEGAN)
        self.put(
            "practice", id=go, person_id=self.player, drill="screw-plucked", setup="{}", seed=1, known="{}", reached="{}",
            day=BEGAN.date(), began_at=BEGAN,
        )  # fmt: skip
        for number, ended in enumerate((-9999.0, 1.2)):
            self.put(
                "practice_answer", id=uuid4(), practice_id=go, number=number, item="near:A", answer="{}", right=number == 1,
                said="", outcome=json.dumps({"ended_cents": ended, "mishaps": []}), at=BEGAN,
            )  # fmt: skip

    def reading(self, hz: float, *, after: float) -> UUID:
        key = uuid4()
        if after > 0.0:
            self.move(uuid5(key, "unseen-move"), 0.6, after=after)
        self.seq += 1
        self.put(
            "reading", id=key, tuning_id=self.tuning, string="A", at=BEGAN + timedelta(seconds=after), hz=hz,
            source="microphone", sure_of_string=False, seq=self.seq,
        )  # fmt: skip
        return key

    def move(self, key: UUID, amount: float, *, after: float = 60.0) -> UUID:
        self.seq += 1
        self.put(
            "move", id=key, tuning_id=self.tuning, string="A", at=BEGAN + timedelta(seconds=after), mechanism="fine-tuner",
            direction="raise", amount=amount, unit="turn", seq=self.seq,
        )  # fmt: skip
        return key

    def test_a_string_that_broke_in_practice_ended_nowhere(self) -> None:
        with session_on(self.engine) as session:
            (go,) = practice.goes_of(session, [self.player])[self.player]
        self.assertEqual([each.outcome and each.outcome.ended_cents for each in go.records], [None, 1.2])

    def test_a_glide_is_one_move_and_what_was_told_stays(self) -> None:
        with session_on(self.engine) as session:
            log = tunings.tuning_log(session, self.tuning)
            self.assertEqual([move.id for move in log.moves], [self.told])
            self.assertEqual([reading.id for reading in log.readings], self.glide)
            record = instruments.instrument(session, self.instrument)
            self.assertFalse(record.strings[0].screw_seen, "nobody had looked")
            past = summaries(session, self.instrument)
            self.assertEqual(list(past[0].strings), ["A"], "what it came to is worked out anew")
            now = tuning_now(instruments.fitted(record, past, before=self.tuning), log, move_log(past), clock=Clock(BEGAN))
            station = session.exec(select(StationRow)).one()
            self.assertEqual((station.planned, station.recalled, now.log.tuning.habits), ([], None, ()))
        a = now.states[0]
        self.assertEqual([move.taken for move in now.log.counting_moves], [True, False])
        assert a.situation.fine_tuner is not None
        turned = (11.87 / a.situation.screw_rate.cents) + 0.25  # 436 to 439 Hz, and the quarter turn that was told
        self.assertAlmostEqual(a.situation.fine_tuner.turns_from_middle, turned, delta=0.01)
        self.assertEqual(a.learned.screw.count, 0, "a glide teaches nothing")

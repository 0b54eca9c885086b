"""A log as it is written in tests, one line after the other, on a violin."""

from datetime import UTC, datetime, timedelta
from itertools import count
from typing import Any
from uuid import uuid4

from pondus.core.clock import Clock
from pondus.core.hands.learned import MoveLog
from pondus.core.hands.records import FifthCheck, FittedInstrument, FittedString, Move, Reading, Tuning, TuningLog
from pondus.core.hands.state import StringState, TuningNow, tuning_now
from pondus.core.hands.summary import TuningSummary, summarise
from pondus.core.instruments import INSTRUMENTS
from pondus.core.judgement.heard import Heard
from pondus.core.pitch.notes import name_of

START = datetime(2026, 7, 4, 8, 0, tzinfo=UTC)
CLOCK = Clock(START)
VIOLIN = INSTRUMENTS["violin"]
TUNING = Tuning(id=uuid4(), instrument_id=uuid4(), started_at=START, stance="lap")


def violin(**strings: dict[str, Any]) -> FittedInstrument:
    fitted = tuple(FittedString(name, **strings.get(name, {})) for name in VIOLIN.string_names)
    return FittedInstrument(TUNING.instrument_id, "Knot", "violin", "4/4", fitted)


class Writing:
    """A log as it is written, one line after the other."""

    def __init__(self, tuning: Tuning = TUNING) -> None:
        self.tuning, self.places = tuning, count(1)
        self.readings: list[Reading] = []
        self.moves: list[Move] = []
        self.checks: list[FifthCheck] = []

    def _next(self, seconds: float | None) -> dict[str, Any]:
        seq = next(self.places)
        return {"id": uuid4(), "seq": seq, "at": START + timedelta(seconds=10 * seq if seconds is None else seconds)}

    def read(self, string: str, cents: float, *, note: str | None = None, at: float | None = None, **more: Any) -> Reading:
        if note is None:
            away = round(cents / 100.0)
            note, cents = name_of(VIOLIN.string(string).note_number + away), cents - 100.0 * away
        reading = Reading(string=string, heard=Heard(note=note, cents=cents), **self._next(at), **more)
        self.readings.append(reading)
        return reading

    def turn(self, string: str, amount: float, *, peg: bool = False, at: float | None = None, **more: Any) -> Move:
        move = Move(
            string=string,
            mechanism="peg" if peg else "fine-tuner",
            direction="raise" if amount > 0 else "lower",
            amount=abs(amount),
            unit="degree" if peg else "turn",
            **self._next(at),
            **more,
        )
        self.moves.append(move)
        return move

    def pull(self, string: str) -> Move:
        move = Move(string=string, mechanism="tug", direction="lower", amount=1.0, unit="turn", **self._next(None))
        self.moves.append(move)
        return move

    def check(self, lower: str, upper: str, from_pure: float | None, **more: Any) -> FifthCheck:
        check = FifthCheck(
            string=lower, upper=upper, from_pure_cents=from_pure, **{"beats_hz": 0.5, **self._next(None), **more}
        )
        self.checks.append(check)
        return check

    @property
    def log(self) -> TuningLog:
        return TuningLog(self.tuning, tuple(self.readings), tuple(self.moves), tuple(self.checks))

    def now(self, instrument: FittedInstrument | None = None, measured: MoveLog | None = None) -> TuningNow:
        return tuning_now(instrument or violin(), self.log, measured or MoveLog(), clock=CLOCK)

    def states(self, instrument: FittedInstrument | None = None, measured: MoveLog | None = None) -> dict[str, StringState]:
        return {state.string.name: state for state in self.now(instrument, measured).states}

    def summary(self) -> TuningSummary:
        return summarise(violin(), self.log)

"""An instrument's ledger."""

from datetime import date, datetime
from uuid import UUID

from pondus.contracts.base import Result
from pondus.contracts.care import CareOut, ComfortOut
from pondus.contracts.instruments import InstrumentOut
from pondus.core.figures import Cents, Tenth
from pondus.core.upkeep.forecast import Word
from pondus.core.upkeep.ledger import TimeSpent
from pondus.core.upkeep.slips import SlipRate
from pondus.core.views.bench import LearnedView


class LedgerStringTuned(Result):
    """One string in one tuning: cents from its target as found and as left (null: octave not known), and its moves."""

    found: Cents | None
    left: Cents | None
    screw_moves: int
    peg_moves: int
    slips: int


class LedgerTuningOut(Result):
    """One tuning."""

    id: UUID
    at: datetime
    by: str | None
    minutes: Tenth
    humidity: float | None
    celsius: float | None
    moves: int
    strings: dict[str, LedgerStringTuned]


class ForecastOut(Result):
    """Where a string is told to stand next morning, ± one standard deviation, by so many nights; and what one night makes."""

    cents: Tenth
    plus_minus: Tenth
    nights: int
    creep_cents: Tenth
    creep_plus_minus: Tenth
    word: Word


class LedgerStringOut(Result):
    """What is known of one string; how often it was found flat, of so many times, and the furthest off it was."""

    name: str
    has_fine_tuner: bool
    put_on: date | None
    learned: LearnedView
    forecast: ForecastOut | None
    heard_times: int
    flat_times: int
    furthest_cents: Tenth | None


class LedgerOut(Result):
    """The ledger of one instrument, tunings oldest first."""

    instrument: InstrumentOut
    tunings: list[LedgerTuningOut]
    strings: list[LedgerStringOut]
    care: list[CareOut]
    slips: list[SlipRate]
    time: TimeSpent
    forecast_for: date
    comfortable: ComfortOut

"""An instrument's ledger: every tuning, drift over the weeks, what is learned, tomorrow's forecast."""

from datetime import date, datetime
from uuid import UUID

from apiflask import APIBlueprint
from flask import Response

from pondus.contracts.base import Result
from pondus.core.forecast import Word, standing_word
from pondus.core.pitch import cents_between
from pondus.core.slips import Band
from pondus.store.ledger import Ledger, LedgerString, LedgerTuning, ledger
from pondus.web.bench import LearnedOut, learned_out
from pondus.web.care import COMFORT, CareOut, ComfortOut, care_out
from pondus.web.instruments import InstrumentOut, instrument_out
from pondus.web.tunings import today
from pondus.web.unit import json_of, work

blueprint = APIBlueprint("ledger", __name__, tag="Ledger")


class LedgerStringTuned(Result):
    """One string in one tuning: cents from its target as found and as left (null: octave not known), and its moves."""

    found: float | None
    left: float | None
    screw_moves: int
    peg_moves: int
    slips: int


class LedgerTuningOut(Result):
    """One tuning."""

    id: UUID
    at: datetime
    by: str | None
    minutes: float
    humidity: float | None
    celsius: float | None
    moves: int
    strings: dict[str, LedgerStringTuned]


class ForecastOut(Result):
    """Where a string is told to stand next morning, ± one standard deviation, by so many nights; and what one night makes."""

    cents: float
    plus_minus: float
    nights: int
    creep_cents: float
    creep_plus_minus: float
    word: Word


class LedgerStringOut(Result):
    """What is known of one string; how often it was found flat, of so many times, and the furthest off it was."""

    name: str
    has_fine_tuner: bool
    put_on: date | None
    learned: LearnedOut
    forecast: ForecastOut | None
    heard_times: int
    flat_times: int
    furthest_cents: float | None


class SlipRateOut(Result):
    """Of strings tuned in such air, the share whose peg gave way."""

    band: Band
    rate: float
    plus_minus: float
    slipped: int
    strings: int


class TimeSpent(Result):
    """Minutes at this instrument: all, on average, and how many moves a tuning takes."""

    tunings: int
    minutes: float
    minutes_each: float
    moves_each: float


class LedgerOut(Result):
    """The ledger of one instrument, tunings oldest first."""

    instrument: InstrumentOut
    tunings: list[LedgerTuningOut]
    strings: list[LedgerStringOut]
    care: list[CareOut]
    slips: list[SlipRateOut]
    time: TimeSpent
    forecast_for: date
    comfortable: ComfortOut


@blueprint.get("/instruments/<uuid:instrument_id>/ledger")
@blueprint.output(LedgerOut)
def instrument_ledger(instrument_id: UUID) -> Response:
    """Everything that happened to one instrument, and what it teaches."""
    with work() as session:
        found = ledger(session, instrument_id, today=today())
    page = LedgerOut(
        instrument=instrument_out(found.record),
        tunings=[_tuning(each) for each in found.tunings],
        strings=[_string(each, found) for each in found.strings],
        care=[care_out(row) for row in found.care],
        slips=[SlipRateOut.model_validate(each) for each in found.slips],
        time=_time(found),
        forecast_for=found.forecast_for,
        comfortable=COMFORT,
    )
    return json_of(page)


def _tuning(each: LedgerTuning) -> LedgerTuningOut:
    digest = each.digest
    return LedgerTuningOut(
        id=digest.tuning_id,
        at=digest.started_at,
        by=each.by,
        minutes=round(digest.minutes, 1),
        humidity=each.humidity,
        celsius=each.celsius,
        moves=sum(string.screw_moves + string.peg_moves for string in digest.strings.values()),
        strings={
            name: LedgerStringTuned(
                found=_cents(string.found_hz, string.target_hz),
                left=_cents(string.left_hz, string.target_hz),
                screw_moves=string.screw_moves,
                peg_moves=string.peg_moves,
                slips=string.slips,
            )
            for name, string in digest.strings.items()
        },
    )


def _cents(hz: float | None, target_hz: float) -> float | None:
    return None if hz is None else round(cents_between(hz, target_hz), 2)


def _string(each: LedgerString, found: Ledger) -> LedgerStringOut:
    row = next(row for row in found.record.strings if row.name == each.name)
    told = each.forecast
    return LedgerStringOut(
        name=each.name,
        has_fine_tuner=row.has_fine_tuner,
        put_on=row.put_on,
        heard_times=len(each.found_cents),
        flat_times=sum(
            standing_word(cents, tolerance_cents=each.situation.tolerance_cents) == "flat" for cents in each.found_cents
        ),
        furthest_cents=_furthest(each.found_cents),
        learned=learned_out(each.learned),
        forecast=None
        if told is None
        else ForecastOut(
            cents=round(told.cents, 1),
            plus_minus=round(told.plus_minus, 1),
            nights=told.nights,
            creep_cents=round(told.creep_cents, 1),
            creep_plus_minus=round(told.creep_plus_minus, 1),
            word=told.word(tolerance_cents=each.situation.tolerance_cents),
        ),
    )


def _furthest(found_cents: tuple[float, ...]) -> float | None:
    worst: float | None = max(found_cents, key=abs, default=None)
    return None if worst is None else round(worst, 1)


def _time(found: Ledger) -> TimeSpent:
    digests = [each.digest for each in found.tunings]
    count = max(1, len(digests))
    minutes = sum(each.minutes for each in digests)
    moves = sum(string.screw_moves + string.peg_moves for each in digests for string in each.strings.values())
    return TimeSpent(
        tunings=len(digests),
        minutes=round(minutes, 1),
        minutes_each=round(minutes / count, 1),
        moves_each=round(moves / count, 1),
    )

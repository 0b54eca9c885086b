"""An instrument's ledger: every tuning, drift over the weeks, what is learned, tomorrow's forecast."""

from uuid import UUID

from apiflask import APIBlueprint
from flask import Response

from pondus.contracts.ledger import ForecastOut, LedgerOut, LedgerStringOut, LedgerStringTuned, LedgerTuningOut
from pondus.core.upkeep.forecast import Forecast
from pondus.core.upkeep.ledger import LedgerString, TuningInAir, time_spent
from pondus.core.views.bench import learned_view
from pondus.store.care import care_record
from pondus.store.ledger import ledger
from pondus.store.settings import studio_clock
from pondus.web.care import COMFORT, care_out
from pondus.web.instruments import instrument_out
from pondus.web.transaction import json_of, looking

blueprint = APIBlueprint("ledger", __name__, tag="Ledger")


@blueprint.get("/instruments/<uuid:instrument_id>/ledger")
@blueprint.output(LedgerOut)
def instrument_ledger(instrument_id: UUID) -> Response:
    """Everything that happened to one instrument, and what it teaches. Raises BadInput or NotFound."""
    with looking() as session:
        found = ledger(session, instrument_id, clock=studio_clock(session))
    page = LedgerOut(
        instrument=instrument_out(found.record),
        tunings=[_tuning(tuning) for tuning in found.tunings],
        strings=[_string(string) for string in found.strings],
        care=[care_out(care_record(row), row.instrument_id) for row in found.care],
        slips=list(found.slips),
        time=time_spent(found.tunings),
        forecast_for=found.forecast_for,
        comfortable=COMFORT,
    )
    return json_of(page)


def _tuning(tuning: TuningInAir) -> LedgerTuningOut:
    summary = tuning.summary
    strings = {
        name: LedgerStringTuned.filled(string, found=string.found_cents, left=string.left_cents)
        for name, string in summary.strings.items()
    }
    moves = summary.screw_moves + summary.peg_moves
    return LedgerTuningOut.filled(summary, tuning, id=summary.tuning_id, at=summary.started_at, moves=moves, strings=strings)


def _string(string: LedgerString) -> LedgerStringOut:
    return LedgerStringOut.filled(
        string,
        string.fitted,
        heard_times=len(string.found_cents),
        learned=learned_view(string.learned),
        forecast=None if string.forecast is None else _forecast(string.forecast, string),
    )


def _forecast(told: Forecast, of: LedgerString) -> ForecastOut:
    return ForecastOut.filled(told, word=told.word(tolerance_cents=of.situation.tolerance_cents))

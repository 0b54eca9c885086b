"""An instrument's card to print: SVG or PDF, A4 or Letter."""

from typing import Literal
from urllib.parse import quote
from uuid import UUID

from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel

from pondus.cards import drawn
from pondus.core.cards import string_card
from pondus.core.instruments import instrument_named
from pondus.core.judgement.situation import FineTuner, Situation, Stance, check_stance
from pondus.core.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS
from pondus.store import instruments as kept_instruments
from pondus.store import settings as kept_settings
from pondus.store.instruments import InstrumentRecord
from pondus.store.standing import string_situation
from pondus.store.tables import StringRow, TuningRow
from pondus.web.tunings import today
from pondus.web.unit import work

blueprint = APIBlueprint("cards", __name__, tag="Cards")
STANCE_SAID: dict[Stance, str] = {
    "lap": "Turning ways for the instrument upright on the lap, strings towards you.",
    "playing": "Turning ways for playing position.",
    "helper": "Turning ways for a helper at the scroll, the instrument lying strings up.",
    "seated": "Turning ways for playing position, you behind the cello.",
    "turned": "Turning ways for the cello turned to face you.",
}


class CardQuery(BaseModel):
    """Which paper, and how the instrument is held (left out: as it usually is)."""

    paper: Literal["a4", "letter"] = "a4"
    stance: Stance | None = None


@blueprint.get("/instruments/<uuid:instrument_id>/card.<any(svg, pdf):form>")
@blueprint.input(CardQuery, location="query", arg_name="query")
@blueprint.doc(description="One printable page: notes, frequencies, what the tuner's display means, which way to turn.")
def card(instrument_id: UUID, form: Literal["svg", "pdf"], query: CardQuery) -> Response:
    """An instrument's card, at the reference, school and approach it is tuned by."""
    with work() as session:
        record = kept_instruments.instrument(session, instrument_id)
        how = kept_settings.usual_tuning(session, record.instrument)
    instrument = instrument_named(record.instrument.kind)
    stance = check_stance(instrument, query.stance or how.stance)  # type: ignore[arg-type]
    how.stance = stance
    rows = {row.name: row for row in record.strings}
    page = drawn(
        [string_card(_facts(record, how, rows[name])) for name in instrument.string_names if name in rows],
        title=record.instrument.label,
        beneath=f"{instrument.kind} {record.instrument.size}, A at {how.a4:g} Hz, {school_said(how.fifth_cents)}",
        stance=STANCE_SAID[stance],
        form=form,
        paper=query.paper,
    )
    kind = "image/svg+xml" if form == "svg" else "application/pdf"
    name = quote(f"{record.instrument.label} card.{form}")
    return Response(page, mimetype=kind, headers={"Content-Disposition": f"inline; filename*=UTF-8''{name}"})


def _facts(record: InstrumentRecord, how: TuningRow, row: StringRow) -> Situation:
    """A string as its card has it: its screw at the middle."""
    middle = FineTuner(reach_turns=row.screw_reach_turns) if row.has_fine_tuner else None
    return string_situation(record, how, row, fine_tuner=middle, today=today())


def school_said(fifth_cents: float) -> str:
    """A width of fifths in words."""
    if fifth_cents <= TEMPERED_FIFTH_CENTS:
        return "tempered fifths"
    return "pure fifths" if fifth_cents >= PURE_FIFTH_CENTS - 1e-3 else f"fifths of {fifth_cents:.2f} cents"

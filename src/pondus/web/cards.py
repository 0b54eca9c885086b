"""An instrument's card to print: SVG or PDF, A4 or Letter."""

from dataclasses import replace
from datetime import date
from typing import Literal
from uuid import UUID

from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel
from sqlmodel import Session

from pondus.core.hands.records import FittedInstrument, FittedString, Tuning, situation_of
from pondus.core.instruments.holds import HOLDS, Stance
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS
from pondus.core.judgement.situation import Situation, check_stance
from pondus.core.views.bench import hold_view
from pondus.core.views.cards import string_card
from pondus.paper.cards import Card, drawn
from pondus.paper.home_card import home_sheet
from pondus.paper.sheet import pdf_of
from pondus.store.instruments import InstrumentRecord, fitted, instrument
from pondus.store.settings import studio_clock, usual
from pondus.web.described import file_of
from pondus.web.file_names import shown_as
from pondus.web.transaction import looking

blueprint = APIBlueprint("cards", __name__, tag="Cards")


class CardQuery(BaseModel):
    """Which paper, and how the instrument is held (left out: as it usually is)."""

    paper: Literal["a4", "letter"] = "a4"
    stance: Stance | None = None


@blueprint.get("/instruments/<uuid:instrument_id>/card.<any(svg, pdf):form>")
@blueprint.input(CardQuery, location="query", arg_name="query")
@blueprint.doc(
    description="One printable page: notes, frequencies, what the tuner's display means, which way to turn.",
    responses=file_of("image/svg+xml", "application/pdf", said="The card."),
)
def card(instrument_id: UUID, form: Literal["svg", "pdf"], query: CardQuery) -> Response:
    """An instrument's card, at the reference, school and approach it is tuned by. Raises BadInput or NotFound."""
    with looking() as session:
        record = instrument(session, instrument_id)
        made = card_of(session, record, today=studio_clock(session).today, stance=query.stance)
    page = drawn([made], form=form, paper=query.paper)
    kind = "image/svg+xml" if form == "svg" else "application/pdf"
    return Response(page, mimetype=kind, headers=shown_as(f"{made.title} card.{form}"))


@blueprint.get("/instruments/<uuid:instrument_id>/home-card.pdf")
@blueprint.input(CardQuery, location="query", arg_name="query")
@blueprint.doc(
    description="One page for a family, by letters and lights: what is turned at home, by whom, and what waits.",
    responses=file_of("application/pdf", said="The card."),
)
def home_card(instrument_id: UUID, query: CardQuery) -> Response:
    """A card for home: who turns what as this instrument's settings have it. Raises BadInput or NotFound."""
    with looking() as session:
        record = instrument(session, instrument_id)
        made = card_of(session, record, today=studio_clock(session).today, stance=query.stance)
        who = usual(session, record.instrument).who
    page = pdf_of([home_sheet(made, who=who, paper=query.paper)])
    return Response(page, mimetype="application/pdf", headers=shown_as(f"{made.title} at home.pdf"))


def card_of(session: Session, record: InstrumentRecord, *, today: date, stance: Stance | None = None) -> Card:
    """What an instrument's card says. Raises BadInput for a stance that doesn't fit it."""
    as_fitted = fitted(record, ())
    how = usual(session, record.instrument)
    how = replace(how, stance=check_stance(as_fitted.facts, stance or how.stance))
    return Card(
        title=as_fitted.label,
        beneath=f"{as_fitted.kind} {as_fitted.size}, A at {how.a4:g} Hz, {temperament_said(how.fifth_cents)}",
        instrument=as_fitted.facts,
        hold=hold_view(how.stance, as_fitted.facts),
        on_card=HOLDS[how.stance].on_card,
        strings=tuple(string_card(_facts(as_fitted, how, string, today)) for string in as_fitted.strings),
    )


def _facts(instrument: FittedInstrument, how: Tuning, string: FittedString, today: date) -> Situation:
    """A string as its card has it: its screw at the middle."""
    return situation_of(instrument, how, replace(string, screw_turns=0.0), today=today)


def temperament_said(fifth_cents: float) -> str:
    """A width of fifths in words."""
    if fifth_cents <= TEMPERED_FIFTH_CENTS:
        return "tempered fifths"
    return "pure fifths" if fifth_cents >= PURE_FIFTH_CENTS - 1e-3 else f"fifths of {fifth_cents:.2f} cents"

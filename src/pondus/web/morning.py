"""The group's morning: every instrument sorted by its newest readings; readings of a whole instrument at once."""

from dataclasses import dataclass
from typing import Annotated
from uuid import UUID, uuid5

from apiflask import APIBlueprint
from flask import Response
from pydantic import Field
from sqlmodel import Session

from pondus.contracts.advice import HeardContract
from pondus.contracts.base import ClientId, Contract, Result
from pondus.core.errors import BadInput
from pondus.core.instruments import Instrument, instrument_named
from pondus.core.judgement.situation import Heard, check_heard
from pondus.core.stations import Clearance
from pondus.core.sweep import GROUPS, Group
from pondus.core.typed import parse_sweep_line
from pondus.store import instruments as kept_instruments
from pondus.store import morning as kept
from pondus.store.tables import ReadingRow, now
from pondus.store.tunings import add_entry
from pondus.web.entries import Source
from pondus.web.tunings import sitting, today
from pondus.web.unit import json_of, work

blueprint = APIBlueprint("morning", __name__, tag="Morning")


class SweptOut(Result):
    """One instrument of the morning. ``heard``: strings read today that still hold; ``waits``: it still wants
    someone's hands.
    """

    id: UUID
    label: str
    kind: str
    size: str
    player: str | None
    strings: list[str]
    heard: int
    group: Group
    waits: bool
    needs: Clearance | None
    moves: int
    minutes: float
    said: str


class MorningOut(Result):
    """Every instrument, sorted: first those that need the teacher."""

    instruments: list[SweptOut]
    counts: dict[Group, int]


class StringHeard(Contract):
    """One string as it was heard."""

    id: ClientId
    string: str
    heard: HeardContract
    spread_cents: float | None = None


class InstrumentHeard(Contract):
    """A whole instrument's strings: as one ``line`` of typing, or each as ``heard``. ``id`` begins today's tuning where there
    is none, and tells a line sent twice from another.
    """

    id: ClientId
    instrument_id: ClientId
    line: Annotated[str, Field(max_length=200)] | None = None
    heard: Annotated[list[StringHeard], Field(max_length=8)] = Field(default_factory=list)
    source: Source = "typed"


@dataclass(frozen=True)
class _Reading:
    id: UUID
    string: str
    heard: Heard
    spread_cents: float | None = None


def swept_out(each: kept.Swept) -> SweptOut:
    """One instrument, serialised."""
    return SweptOut(
        id=each.id,
        label=each.label,
        kind=each.kind,
        size=each.size,
        player=each.player,
        strings=list(instrument_named(each.kind).string_names),
        heard=each.heard,
        group=each.sorted.group,
        waits=each.sorted.waits,
        needs=each.sorted.needs,
        moves=each.sorted.screw_moves + each.sorted.peg_moves,
        minutes=each.minutes,
        said=each.sorted.said,
    )


def _order(each: kept.Swept) -> tuple[int, float, str]:
    return GROUPS.index(each.sorted.group), -each.minutes, each.label


@blueprint.get("/morning")
@blueprint.output(MorningOut)
def sweep() -> Response:
    """Every instrument sorted by what its newest readings of today call for."""
    with work() as session:
        found = sorted(kept.swept(session, today=today()), key=_order)
    counts = {group: sum(each.sorted.group == group for each in found) for group in GROUPS}
    return json_of(MorningOut(instruments=[swept_out(each) for each in found], counts=counts))


@blueprint.post("/morning/heard")
@blueprint.input(InstrumentHeard, arg_name="asked")
@blueprint.output(SweptOut)
def hear_instrument(asked: InstrumentHeard) -> SweptOut:
    """Keep the readings of an instrument's strings, and say how it is sorted now; sent twice, they are kept once."""
    with work() as session:
        record = kept_instruments.instrument(session, asked.instrument_id)
        instrument = instrument_named(record.instrument.kind)
        readings = _typed(asked, instrument) if asked.line is not None else _heard(asked, instrument)
        if not readings:
            raise BadInput("line", "Nothing was read; type what the tuner shows of each string, as in -12 3 0 -5.")
        _keep(session, asked, readings)
        return swept_out(kept.swept(session, today=today(), only=asked.instrument_id)[0])


def _typed(asked: InstrumentHeard, instrument: Instrument) -> list[_Reading]:
    assert asked.line is not None
    found = parse_sweep_line(asked.line, instrument.strings)
    return [_Reading(uuid5(asked.id, name), name, heard) for name, heard in found.items()]


def _heard(asked: InstrumentHeard, instrument: Instrument) -> list[_Reading]:
    for each in asked.heard:
        instrument.string(each.string, field="string")
    return [_Reading(each.id, each.string, check_heard(each.heard.heard()), each.spread_cents) for each in asked.heard]


def _keep(session: Session, asked: InstrumentHeard, readings: list[_Reading]) -> None:
    log = sitting(session, asked.instrument_id, asked.id)
    for each in readings:
        row = ReadingRow(
            id=each.id,
            tuning_id=log.tuning.id,
            string=each.string,
            note=each.heard.note,
            cents=each.heard.cents,
            hz=each.heard.hz,
            spread_cents=each.spread_cents,
            source=asked.source,
            at=now(),
        )
        add_entry(session, row)

"""Instruments and their strings."""

from datetime import date, datetime
from typing import Annotated, Any
from uuid import UUID, uuid4

from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel, Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.core.care import check_hours
from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS, Core, Kind, instrument_named
from pondus.core.judgement.situation import (
    STANCES,
    FineTuner,
    PegKind,
    PegState,
    Stance,
    Winding,
    check_fine_tuner,
    check_stance,
)
from pondus.store import instruments as kept
from pondus.store.people import person
from pondus.store.roll import roll
from pondus.store.tables import InstrumentRow, StringRow
from pondus.web.unit import json_of, work

blueprint = APIBlueprint("instruments", __name__, tag="Instruments")
Day = Annotated[date, Field(strict=False)]


class StringFittings(Contract):
    """What is on one string's place. What is left out stays as it is (a new string: steel, a screw at its middle)."""

    core: Core | None = None
    put_on: Day | None = None
    has_fine_tuner: bool | None = None
    screw_turns: float | None = None
    screw_reach_turns: float | None = None
    peg_kind: PegKind | None = None
    peg_state: PegState | None = None
    winding: Winding | None = None


class NewInstrument(Contract):
    """An instrument to keep; its id is made by the client."""

    id: ClientId
    label: Annotated[str, Field(min_length=1, max_length=80)]
    kind: Kind
    size: str | None = None
    note: Annotated[str, Field(max_length=500)] = ""
    stance: Stance | None = None
    player_id: ClientId | None = None
    hours_per_week: float | None = None
    strings: dict[str, StringFittings] = Field(default_factory=dict)


class InstrumentChange(Contract):
    """What changes of an instrument; what is left out stays. ``player_id`` null: nobody has it; ``hours_per_week`` null: not
    known; ``stance`` null: as usual for its kind. ``retired``: it leaves the studio, or comes back; its log stays.
    """

    label: Annotated[str, Field(min_length=1, max_length=80)] | None = None
    size: str | None = None
    note: Annotated[str, Field(max_length=500)] | None = None
    stance: Stance | None = None
    player_id: ClientId | None = None
    hours_per_week: float | None = None
    retired: bool | None = None


class StringOut(Result):
    """One string as it is fitted."""

    name: str
    core: Core
    put_on: date | None
    has_fine_tuner: bool
    screw_turns: float
    screw_reach_turns: float
    peg_kind: PegKind
    peg_state: PegState
    winding: Winding


class InstrumentOut(Result):
    """An instrument with its strings, thickest first."""

    id: UUID
    label: str
    kind: Kind
    size: str
    note: str
    stance: Stance | None
    player_id: UUID | None
    hours_per_week: float | None
    retired: bool
    strings: list[StringOut]


class OnRoll(InstrumentOut):
    """An instrument on the roll: who has it, when it was last tuned, whether it is at the luthier's."""

    player: str | None
    last_tuned: datetime | None
    at_luthier: bool


class InstrumentList(Result):
    """All instruments in use."""

    instruments: list[OnRoll]


class RollQuery(BaseModel):
    """``retired``: also those no longer in use."""

    retired: bool = False


class KindOut(Result):
    """One kind of instrument: its strings (thickest first) and sizes (largest first)."""

    kind: Kind
    strings: list[str]
    sizes: list[str]
    full_size: str
    stances: list[Stance]


class KindList(Result):
    """What Pondus can tune."""

    kinds: list[KindOut]


def instrument_out(record: kept.InstrumentRecord) -> InstrumentOut:
    """Serialise an instrument, strings thickest first."""
    order = INSTRUMENTS[record.instrument.kind].string_names
    strings = sorted(record.strings, key=lambda row: order.index(row.name))
    return InstrumentOut.model_validate(
        {
            **record.instrument.model_dump(),
            "retired": record.instrument.retired_at is not None,
            "strings": [StringOut.model_validate(row) for row in strings],
        }
    )


@blueprint.get("/kinds")
@blueprint.output(KindList)
def list_kinds() -> KindList:
    """The kinds of instrument, their strings, sizes and stances."""
    return KindList(
        kinds=[
            KindOut(
                kind=each.kind,
                strings=list(each.string_names),
                sizes=list(each.lengths_mm),
                full_size=each.full_size,
                stances=list(STANCES[each.kind]),
            )
            for each in INSTRUMENTS.values()
        ]
    )


@blueprint.get("/instruments")
@blueprint.input(RollQuery, location="query", arg_name="query")
@blueprint.output(InstrumentList)
def list_instruments(query: RollQuery) -> Response:
    """All instruments in use, by label."""
    with work() as session:
        found = roll(session, retired=query.retired)
    return json_of(InstrumentList.model_validate({"instruments": found}))


@blueprint.post("/instruments")
@blueprint.input(NewInstrument, arg_name="new")
@blueprint.output(InstrumentOut)
def add_instrument(new: NewInstrument) -> InstrumentOut:
    """Keep a new instrument; sent twice, it is kept once."""
    instrument = instrument_named(new.kind)
    if new.stance is not None:
        check_stance(instrument, new.stance)
    for name in new.strings:
        instrument.string(name, field="strings")
    row = InstrumentRow(
        id=new.id,
        label=new.label.strip() or new.kind,
        kind=new.kind,
        size=instrument.size(new.size),
        note=new.note,
        stance=new.stance,
        player_id=new.player_id,
        hours_per_week=None if new.hours_per_week is None else check_hours(new.hours_per_week),
    )
    strings = [
        _fitted(StringRow(id=uuid4(), instrument_id=new.id, name=name), new.strings.get(name, StringFittings()))
        for name in instrument.string_names
    ]
    with work() as session:
        if new.player_id is not None:
            person(session, new.player_id)
        return instrument_out(kept.add_instrument(session, row, strings))


@blueprint.patch("/instruments/<uuid:instrument_id>")
@blueprint.input(InstrumentChange, arg_name="change")
@blueprint.output(InstrumentOut)
def change_instrument(instrument_id: UUID, change: InstrumentChange) -> InstrumentOut:
    """Change an instrument's label, size, note, who has it; retire it, or bring it back."""
    changes: dict[str, Any] = {key: getattr(change, key) for key in change.model_fields_set - {"retired"}}
    emptied = next((key for key in ("label", "size", "note") if key in changes and changes[key] is None), None)
    if emptied is not None:
        raise BadInput(emptied, f"{emptied} can't be emptied; give a value or leave it out.")
    if change.hours_per_week is not None:
        check_hours(change.hours_per_week)
    with work() as session:
        instrument = instrument_named(kept.instrument(session, instrument_id).instrument.kind)
        if change.stance is not None:
            check_stance(instrument, change.stance)
        if change.size is not None:
            changes["size"] = instrument.size(change.size)
        if change.label is not None:
            changes["label"] = change.label.strip() or instrument.kind
        if change.player_id is not None:
            person(session, change.player_id)
        return instrument_out(kept.change_instrument(session, instrument_id, changes, retired=change.retired))


@blueprint.patch("/instruments/<uuid:instrument_id>/strings/<name>")
@blueprint.input(StringFittings, arg_name="fittings")
@blueprint.output(InstrumentOut)
def change_string(instrument_id: UUID, name: str, fittings: StringFittings) -> InstrumentOut:
    """Change one string's fittings: the screw's position, the peg, when it was put on."""
    changes = {key: getattr(fittings, key) for key in fittings.model_fields_set}
    for key, value in changes.items():
        if value is None and key != "put_on":
            raise BadInput(key, f"{key} can't be emptied; give a value or leave it out.")
    with work() as session:
        row = next((each for each in kept.instrument(session, instrument_id).strings if each.name == name), None)
        if row is not None:
            turns = changes.get("screw_turns", row.screw_turns)
            check_fine_tuner(FineTuner(turns, changes.get("screw_reach_turns", row.screw_reach_turns)))
        kept.change_string(session, instrument_id, name, changes)
        return instrument_out(kept.instrument(session, instrument_id))


def _fitted(row: StringRow, fittings: StringFittings) -> StringRow:
    for key in fittings.model_fields_set:
        value = getattr(fittings, key)
        if value is not None:
            setattr(row, key, value)
    check_fine_tuner(FineTuner(row.screw_turns, row.screw_reach_turns))
    return row

"""Instruments and their strings; and what there is to choose from."""

from typing import Any
from uuid import UUID, uuid4

from apiflask import APIBlueprint
from flask import Response

from pondus.contracts.instruments import (
    Choices,
    InstrumentChange,
    InstrumentList,
    InstrumentOut,
    KindList,
    KindOut,
    NewInstrument,
    RollQuery,
    StringFittings,
    StringOut,
)
from pondus.core.entries.instruments import DETAILS, StringEntry, checked, instrument_entry, string_entry
from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS, instrument_named
from pondus.core.judgement.habits import HABITS
from pondus.core.views import choices
from pondus.core.views.access import details_shown
from pondus.store import instruments as instrument_store
from pondus.store.people import person
from pondus.store.roll import roll
from pondus.store.settings import studio_clock
from pondus.store.tables import InstrumentRow, StringRow
from pondus.web.access import device_here, shown_name
from pondus.web.transaction import json_of, looking, transaction

blueprint = APIBlueprint("instruments", __name__, tag="Instruments")
CHOICES = Choices.model_validate(
    {
        "stances": choices.STANCES,
        "approaches": choices.APPROACH_CHOICES,
        "tolerances": choices.TOLERANCES,
        "a4": choices.A4,
        "temperaments": choices.TEMPERAMENTS,
        "who": choices.WHO,
        "orders": choices.ORDERS,
        "spellings": choices.SPELLINGS,
        "roles": choices.ROLES,
        "clearances": choices.CLEARANCES,
        "cores": choices.CORES,
        "peg_kinds": choices.PEG_KINDS,
        "peg_states": choices.PEG_STATES,
        "windings": choices.WINDINGS,
        "string_states": choices.STRING_STATES,
        "bridge_states": choices.BRIDGE_STATES,
        "turnings": choices.TURNINGS,
        "habits": HABITS,
        "screw_places": choices.SCREW_PLACES,
        "details": [{"value": name, "said": detail.said} for name, detail in DETAILS.items()],
    }
)
FITTINGS = tuple(StringEntry.__dataclass_fields__)


def instrument_out(record: instrument_store.InstrumentRecord) -> InstrumentOut:
    """Serialise an instrument, strings thickest first."""
    order = INSTRUMENTS[record.instrument.kind].string_names
    strings = sorted(record.strings, key=lambda row: order.index(row.name))
    told = record.instrument.model_dump()
    if device_here().role != "teacher":
        told["note"], told["details"] = "", details_shown(told["details"], device_here())  # a note may speak of anyone
    return InstrumentOut.model_validate(
        {
            **told,
            "retired": record.instrument.retired_at is not None,
            "strings": [StringOut.model_validate(row) for row in strings],
        }
    )


@blueprint.get("/kinds")
@blueprint.output(KindList)
def list_kinds() -> KindList:
    """The kinds of instrument, and everything that can be chosen."""
    return KindList(
        kinds=[
            KindOut(
                kind=instrument.kind,
                strings=list(instrument.string_names),
                sizes=list(instrument.lengths_mm),
                lengths_mm=instrument.lengths_mm,
                full_size=instrument.full_size,
                stances=list(instrument.stances),
                usual_stance=instrument.usual_stance,
            )
            for instrument in INSTRUMENTS.values()
        ],
        choices=CHOICES,
    )


@blueprint.get("/instruments")
@blueprint.input(RollQuery, location="query", arg_name="query")
@blueprint.output(InstrumentList)
def list_instruments(query: RollQuery) -> Response:
    """All instruments in use, by label."""
    device = device_here()
    with looking() as session:
        found = roll(session, retired=query.retired)
    if device.role == "student":
        found = [row for row in found if device.person is not None and row["player_id"] == device.person]
    if device.role != "teacher":
        for row in found:
            row["note"], row["details"] = "", details_shown(row["details"], device)
            row["player"] = None if row["player"] is None else shown_name(row["player"])
    return json_of(InstrumentList.model_validate({"instruments": found}))


@blueprint.post("/instruments")
@blueprint.input(NewInstrument, arg_name="new")
@blueprint.output(InstrumentOut)
def add_instrument(new: NewInstrument) -> InstrumentOut:
    """Keep a new instrument; sent twice, it is kept once. Raises BadInput, NotFound or Conflict."""
    with transaction() as session:
        told = {name: _told(fittings) for name, fittings in new.strings.items()}
        entry = instrument_entry(
            **new.model_dump(exclude={"id", "player_id", "strings"}),
            strings={name: {key: value for key, value in of.items() if value is not None} for name, of in told.items()},
            clock=studio_clock(session),
        )
        if new.player_id is not None:
            person(session, new.player_id)
        kept = {name: value for name, value in vars(entry).items() if name != "strings"}
        row = InstrumentRow(id=new.id, player_id=new.player_id, **kept)
        strings = [StringRow(id=uuid4(), instrument_id=new.id, name=name, **of.__dict__) for name, of in entry.strings.items()]
        return instrument_out(instrument_store.add_instrument(session, row, strings))


def _told(fittings: StringFittings) -> dict[str, Any]:
    return {key: getattr(fittings, key) for key in fittings.model_fields_set}


@blueprint.patch("/instruments/<uuid:instrument_id>")
@blueprint.input(InstrumentChange, arg_name="change")
@blueprint.output(InstrumentOut)
def change_instrument(instrument_id: UUID, change: InstrumentChange) -> InstrumentOut:
    """Change an instrument's label, size, note, who has it; retire it, or bring it back.

    Raises BadInput or NotFound.
    """
    changes: dict[str, Any] = {key: getattr(change, key) for key in change.model_fields_set - {"retired"}}
    emptied = next(
        (key for key in ("label", "size", "note", "bridge", "details") if key in changes and changes[key] is None), None
    )
    if emptied is not None:
        raise BadInput(emptied, f"{emptied} can't be emptied; give a value or leave it out.")
    with transaction() as session:
        instrument = instrument_named(instrument_store.instrument(session, instrument_id).instrument.kind)
        changes |= checked(instrument, changes)
        if change.player_id is not None:
            person(session, change.player_id)
        return instrument_out(instrument_store.change_instrument(session, instrument_id, changes, retired=change.retired))


@blueprint.patch("/instruments/<uuid:instrument_id>/strings/<name>")
@blueprint.input(StringFittings, arg_name="fittings")
@blueprint.output(InstrumentOut)
def change_string(instrument_id: UUID, name: str, fittings: StringFittings) -> InstrumentOut:
    """Change one string's fittings: the screw's position, the peg, when it was put on. Raises BadInput or NotFound."""
    changes = _told(fittings)
    for key, value in changes.items():
        if value is None and key != "put_on":
            raise BadInput(key, f"{key} can't be emptied; give a value or leave it out.")
    with transaction() as session:
        record = instrument_store.instrument(session, instrument_id, hold=True)
        row = next((string for string in record.strings if string.name == name), None)
        if row is not None:
            was = StringEntry(**{key: getattr(row, key) for key in FITTINGS})
            string_entry(changes, studio_clock(session), over=was)
        instrument_store.change_string(session, instrument_id, name, changes)
        return instrument_out(instrument_store.instrument(session, instrument_id))

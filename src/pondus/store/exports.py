"""The studio's lists as rows: what `lists.columns` reads back."""

from collections.abc import Callable, Iterator, Sequence
from datetime import datetime
from typing import Any

from sqlmodel import Session, col, select

from pondus.core.entries.instruments import DETAILS
from pondus.core.instruments import instrument_named
from pondus.lists.columns import PLACES, ListKind
from pondus.lists.writing import size_for_a_cell
from pondus.store.climate import room_log
from pondus.store.people import people
from pondus.store.roll import roll
from pondus.store.settings import studio_clock
from pondus.store.tables import CareRow, InstrumentRow, MoveRow, ReadingRow, TuningRow

Rows = Iterator[Sequence[Any]]
AT_ONCE = 5_000
_PER_PLACE = ("put on", "core", "fine tuner", "screw turns", "peg", "peg state", "winding")

HEADERS: dict[ListKind, tuple[str, ...]] = {
    "roll": (
        "label",
        "kind",
        "size",
        "who has it",
        "hours a week",
        *(detail.said for detail in DETAILS.values()),
        "note",
        *(f"{place} {name}" for place in PLACES for name in _PER_PLACE),
    ),
    "people": ("name", "role", "cleared for", "note"),
    "readings": ("label", "string", "date", "note", "cents", "hz", "side", "spread cents"),
    "moves": ("label", "string", "date", "mechanism", "direction", "amount", "unit"),
    "room": ("date", "humidity", "celsius"),
    "care": ("label", "date", "kind", "string", "fault", "in words", "back by"),
}


def rows_of(session: Session, kind: ListKind) -> Rows:
    """A list's rows, in the order of its headers. Struck entries and simulated instruments are left out; times
    are the studio's, with their zone.
    """
    zone = studio_clock(session).zone
    for row in _ROWS[kind](session):
        yield [cell.astimezone(zone).isoformat() if isinstance(cell, datetime) else cell for cell in row]


def _roll(session: Session) -> Rows:
    for entry in roll(session):
        details = [entry["details"].get(name) for name in DETAILS]
        row = [
            entry["label"],
            entry["kind"],
            size_for_a_cell(entry["size"]),
            entry["player"],
            entry["hours_per_week"],
            *details,
            entry["note"],
        ]
        strings = {string["name"]: string for string in entry["strings"]}
        by_place = {string.roman: string.name for string in instrument_named(entry["kind"]).strings}
        for place in PLACES:
            string = strings.get(by_place.get(place, ""))
            row += (
                [None] * len(_PER_PLACE)
                if string is None
                else [
                    string["put_on"],
                    string["core"],
                    string["has_fine_tuner"],
                    string["screw_turns"],
                    string["peg_kind"],
                    string["peg_state"],
                    string["winding"],
                ]
            )
        yield row


def _people(session: Session) -> Rows:
    for person in people(session):
        # One stage alone would be read as all up to it.
        cleared = f"{person.cleared[0]}-{person.cleared[0]}" if len(person.cleared) == 1 else " ".join(map(str, person.cleared))
        yield person.name, person.role, cleared, person.note


def _readings(session: Session) -> Rows:
    return _entries(session, ReadingRow, ("note", "cents", "hz", "side", "spread_cents"))


def _moves(session: Session) -> Rows:
    return _entries(session, MoveRow, ("mechanism", "direction", "amount", "unit"))


def _entries(session: Session, table: type[ReadingRow] | type[MoveRow], says: Sequence[str]) -> Rows:
    """Readings or moves with their instrument's label, oldest first."""
    columns = [getattr(table, sentence) for sentence in says]
    asked: Any = (
        _select(InstrumentRow.label, table.string, table.at, *columns)
        .join(TuningRow, col(TuningRow.instrument_id) == col(InstrumentRow.id))
        .join(table, col(table.tuning_id) == col(TuningRow.id))
        .where(col(table.struck_at).is_(None), *_IN_USE)
        .order_by(col(table.at), col(table.id))
    )
    for label, string, at, *rest in session.execute(asked.execution_options(yield_per=AT_ONCE)):
        yield label, string, at, *rest


def _room(session: Session) -> Rows:
    for room in room_log(session):
        yield room.at, room.humidity, room.celsius


def _care(session: Session) -> Rows:
    asked = (
        select(InstrumentRow.label, CareRow)
        .join(CareRow, col(CareRow.instrument_id) == col(InstrumentRow.id))
        .where(col(CareRow.struck_at).is_(None), *_IN_USE)
        .order_by(col(CareRow.at))
    )
    for label, row in session.exec(asked).all():
        yield label, row.at, row.kind, row.string, row.sign, row.said, row.due


_select: Any = select
_IN_USE = (col(InstrumentRow.retired_at).is_(None), col(InstrumentRow.simulated_of).is_(None))


_ROWS: dict[ListKind, Callable[[Session], Rows]] = {
    "roll": _roll,
    "people": _people,
    "readings": _readings,
    "moves": _moves,
    "room": _room,
    "care": _care,
}

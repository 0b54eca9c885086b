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
        *(each.said for each in DETAILS.values()),
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
        yield [each.astimezone(zone).isoformat() if isinstance(each, datetime) else each for each in row]


def _roll(session: Session) -> Rows:
    for each in roll(session):
        details = [each["details"].get(name) for name in DETAILS]
        row = [
            each["label"],
            each["kind"],
            size_for_a_cell(each["size"]),
            each["player"],
            each["hours_per_week"],
            *details,
            each["note"],
        ]
        strings = {string["name"]: string for string in each["strings"]}
        by_place = {string.roman: string.name for string in instrument_named(each["kind"]).strings}
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
    for each in people(session):
        # One stage alone would be read as all up to it.
        cleared = f"{each.cleared[0]}-{each.cleared[0]}" if len(each.cleared) == 1 else " ".join(map(str, each.cleared))
        yield each.name, each.role, cleared, each.note


def _readings(session: Session) -> Rows:
    return _entries(session, ReadingRow, ("note", "cents", "hz", "side", "spread_cents"))


def _moves(session: Session) -> Rows:
    return _entries(session, MoveRow, ("mechanism", "direction", "amount", "unit"))


def _entries(session: Session, table: type[ReadingRow] | type[MoveRow], says: Sequence[str]) -> Rows:
    """Readings or moves with their instrument's label, oldest first."""
    columns = [getattr(table, each) for each in says]
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
    for each in room_log(session):
        yield each.at, each.humidity, each.celsius


def _care(session: Session) -> Rows:
    asked = (
        select(InstrumentRow.label, CareRow)
        .join(CareRow, col(CareRow.instrument_id) == col(InstrumentRow.id))
        .where(col(CareRow.struck_at).is_(None), *_IN_USE)
        .order_by(col(CareRow.at))
    )
    for label, each in session.exec(asked).all():
        yield label, each.at, each.kind, each.string, each.sign, each.said, each.due


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

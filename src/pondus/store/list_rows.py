"""Rows of a list that were looked through, stored: instruments, people, readings, moves, the room's air, care.

Ids are made from the list's, so that what a list brought can be found again.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID, uuid5

from sqlalchemy import insert
from sqlmodel import Session, col, delete, select

from pondus.core.clock import Clock
from pondus.core.entries.instruments import DETAILS
from pondus.core.errors import BadInput
from pondus.core.instruments import instrument_named
from pondus.lists.columns import ListKind
from pondus.lists.records import Record
from pondus.lists.updates import Changing
from pondus.store.care import add_care
from pondus.store.instruments import change_instrument
from pondus.store.settings import usual_tuning
from pondus.store.tables import (
    CareRow,
    ImportRow,
    InstrumentRow,
    MoveRow,
    PersonRow,
    ReadingRow,
    RoomRow,
    StringRow,
    SummaryRow,
    TuningRow,
    now,
)

Day = tuple[UUID, Any]


def id_of_row(import_id: UUID, line: int) -> UUID:
    """Under which id the row of a list's line is kept."""
    return uuid5(import_id, f"row {line}")


def store_rows(session: Session, row: ImportRow, kind: ListKind, records: Sequence[Record], clock: Clock) -> set[UUID]:
    """Store some of a list's records; the tunings they went to. Raises BadInput for what can't be done to an instrument."""
    return _STORE[kind](session, row, records, clock) or set()


def _store_roll(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> None:
    people = players(session, row, records)
    instruments, strings = [], []
    for record in records:
        says, key = record.says, id_of_row(row.id, record.line)
        instruments.append(
            {
                "id": key,
                "label": says["label"],
                "kind": says["kind"],
                **_changeable(says, people),
                "created_at": now(),
                "import_id": row.id,
            }
        )
        for name in instrument_named(says["kind"]).string_names:
            fitted = StringRow(id=uuid5(key, name), instrument_id=key, name=name, **says["strings"][name])
            strings.append(fitted.model_dump())
    session.execute(insert(InstrumentRow), instruments)
    session.execute(insert(StringRow), strings)


def players(session: Session, row: ImportRow, records: Iterable[Record]) -> dict[str, UUID]:
    """People by their names in small letters; those of a list that nobody knows are written down as players."""
    known = session.exec(select(PersonRow).where(col(PersonRow.retired_at).is_(None))).all()
    people = {person.name.casefold(): person.id for person in known}
    for player in (record.says["player"] for record in records):
        if player is not None and player.casefold() not in people:
            key = people[player.casefold()] = uuid5(row.id, f"player {player.casefold()}")
            session.add(PersonRow(**_person(key, row, player, "player", [])))
    session.flush()
    return people


def _changeable(says: Mapping[str, Any], people: Mapping[str, UUID]) -> dict[str, Any]:
    """What a row of the roll says that a list may change, by the column that keeps it."""
    return {
        "size": says["size"],
        "note": says["note"],
        "hours_per_week": says["hours"],
        "details": says["details"],
        "player_id": None if says["player"] is None else people[says["player"].casefold()],
    }


_COLUMN = {"hours": "hours_per_week", "player": "player_id"}


def change_listed(session: Session, row: ImportRow, changing: Sequence[Changing]) -> None:
    """Instruments changed as a list says; how they were is kept with it, so that it can be taken back."""
    people = players(session, row, (change.record for change in changing))
    kept = []
    for change in changing:
        told = _changeable(change.record.says, people)
        instrument = session.get_one(InstrumentRow, change.of)
        told["details"] = {**instrument.details, **{one.name: one.after for one in change.changes if one.name in DETAILS}}
        changed = {"details" if one.name in DETAILS else _COLUMN.get(one.name, one.name) for one in change.changes}
        after = {name: told[name] for name in changed}
        before = {name: getattr(instrument, name) for name in after}
        kept.append({"id": str(change.of), "before": _kept(before), "after": _kept(after)})
        change_instrument(session, change.of, after)
    row.columns = {**row.columns, "changed": kept}


def _kept(values: dict[str, Any]) -> dict[str, Any]:
    return {name: str(value) if isinstance(value, UUID) else value for name, value in values.items()}


def change_back(session: Session, row: ImportRow) -> None:
    """What a list changed, as it was before; what somebody changed otherwise since stays so."""
    for changed in row.columns.get("changed", []):
        instrument = session.get(InstrumentRow, UUID(changed["id"]))
        if instrument is None:
            continue
        now_there = _kept({name: getattr(instrument, name) for name in changed["after"]})
        back = {name: changed["before"][name] for name, value in changed["after"].items() if now_there[name] == value}
        if back.get("player_id") is not None:
            person = session.get(PersonRow, UUID(back["player_id"]))
            back["player_id"] = None if person is None else person.id
        if back:
            change_instrument(session, instrument.id, back)


def _person(key: UUID, row: ImportRow, name: str, role: str, cleared: list[int], note: str = "") -> dict[str, Any]:
    return {"id": key, "name": name, "role": role, "cleared": cleared, "note": note, "created_at": now(), "import_id": row.id}


def _store_people(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> None:
    rows = [
        _person(
            id_of_row(row.id, record.line),
            row,
            record.says["name"],
            record.says["role"],
            record.says["cleared"],
            record.says["note"],
        )
        for record in records
    ]
    session.execute(insert(PersonRow), rows)


def _store_readings(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> set[UUID]:
    more = {"source": "list", "sure_of_string": False, "seq": 0, "late": False}
    return _store_entries(session, row, records, ReadingRow, more, clock)


def _store_moves(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> set[UUID]:
    return _store_entries(session, row, records, MoveRow, {"seq": 0, "late": False}, clock)


def _store_entries(
    session: Session, row: ImportRow, records: Sequence[Record], table: type, more: dict[str, Any], clock: Clock
) -> set[UUID]:
    """Readings or moves, in the tuning of their instrument and day; where there is none, one is made. Those tunings' ids."""
    tunings = _tunings(session, row, records, clock)
    rows = []
    for record in records:
        says = dict(record.says)
        day = (says.pop("instrument_id"), clock.day_of(says["at"]))
        rows.append({"id": id_of_row(row.id, record.line), "tuning_id": tunings[day], **more, **says})
    _copy(session, table, rows)
    stored = set(tunings.values())
    session.execute(delete(SummaryRow).where(col(SummaryRow.tuning_id).in_(stored)))
    return stored


def _copy(session: Session, table: Any, rows: Sequence[dict[str, Any]]) -> None:
    """Many rows at once, in the session's own transaction."""
    names = list(rows[0])
    columns = ", ".join(f'"{name}"' for name in names)
    cursor = session.connection().connection.cursor()
    with cursor.copy(f"COPY {table.__tablename__} ({columns}) FROM STDIN") as copy:
        for row in rows:
            copy.write_row([row[name] for name in names])


def _tunings(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> dict[Day, UUID]:
    first: dict[Day, datetime] = {}
    for record in records:
        day = (record.says["instrument_id"], clock.day_of(record.says["at"]))
        first[day] = min(first.get(day, record.says["at"]), record.says["at"])
    ids = {instrument for instrument, _ in first}
    begun = clock.begins(min(day for _, day in first))
    ended = clock.begins(max(day for _, day in first) + timedelta(days=1))
    kept = session.exec(
        select(TuningRow.instrument_id, TuningRow.started_at, TuningRow.id).where(
            col(TuningRow.instrument_id).in_(ids), TuningRow.started_at >= begun, TuningRow.started_at < ended
        )
    ).all()
    found: dict[Day, UUID] = {(instrument, clock.day_of(at)): key for instrument, at, key in kept}
    usual = {
        instrument.id: usual_tuning(session, instrument)
        for instrument in session.exec(select(InstrumentRow).where(col(InstrumentRow.id).in_(ids))).all()
    }
    made = []
    for day, at in first.items():
        if day not in found:
            found[day] = uuid5(row.id, f"tuning {day[0]} {day[1]}")
            how = usual[day[0]].model_dump(exclude={"id", "started_at", "import_id"})
            made.append({**how, "id": found[day], "started_at": at, "import_id": row.id})
    if made:
        session.execute(insert(TuningRow), made)
    return found


def _store_room(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> None:
    rows = [{"id": id_of_row(row.id, record.line), "source": "list", "import_id": row.id, **record.says} for record in records]
    session.execute(insert(RoomRow), rows)


def _store_care(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> None:
    for entered in sorted(records, key=lambda record: record.says["at"]):
        try:
            add_care(session, CareRow(id=id_of_row(row.id, entered.line), import_id=row.id, **entered.says), clock=clock)
        except BadInput as error:
            raise BadInput("rows", f"Line {entered.line}: {error.message} Nothing was stored.") from None


_STORE: dict[ListKind, Callable[[Session, ImportRow, Sequence[Record], Clock], set[UUID] | None]] = {
    "roll": _store_roll,
    "people": _store_people,
    "readings": _store_readings,
    "moves": _store_moves,
    "room": _store_room,
    "care": _store_care,
}

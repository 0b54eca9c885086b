"""Lists someone brought: looked through first, then stored all or nothing, and taken back if need be."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID, uuid5

from sqlalchemy import insert, text
from sqlmodel import Session, col, delete, select

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.core.instruments import instrument_named
from pondus.lists.columns import ListKind, missing
from pondus.lists.records import Known, Looked, Record, look_through
from pondus.lists.text import Table, read_table
from pondus.lists.values import DateOrder, date_order
from pondus.store.care import add_care, take_back_care
from pondus.store.errors import Conflict, NotFound
from pondus.store.instruments import hold_instruments, next_version
from pondus.store.settings import usual_tuning
from pondus.store.tables import (
    CareRow,
    FifthCheckRow,
    ImportRow,
    InstrumentRow,
    MoveRow,
    PersonRow,
    ReadingRow,
    RoomRow,
    SettingsRow,
    StationRow,
    StringRow,
    SummaryRow,
    TriagedRow,
    TuningRow,
    now,
)

TOGETHER = 4_000
"""Rows stored at a time; progress is told in between."""
LOOKED_AT_FOR = timedelta(days=1)
"""A list that was only looked at is forgotten after this."""


@dataclass(frozen=True)
class Preview:
    """A list looked through and not stored: which column is what, the dates' order (None: either could be meant), good rows,
    bad rows with their reasons.
    """

    table: Table
    kind: ListKind
    columns: dict[str, str]
    order: DateOrder | None
    looked: Looked


def bring(session: Session, row: ImportRow) -> ImportRow:
    """Keep a list's bytes, looked at and no more; sent twice, it is kept once. Lists only looked at a day ago are forgotten."""
    session.execute(
        delete(ImportRow).where(col(ImportRow.state) == "looked-at", col(ImportRow.at) < now() - LOOKED_AT_FOR)
    )
    kept = session.get(ImportRow, row.id)
    if kept is not None:
        return kept
    session.add(row)
    session.flush()
    return row


def brought(session: Session, import_id: UUID, *, hold: bool = False) -> ImportRow:
    """One list; ``hold``: nobody else stores it or takes it back meanwhile. Raises NotFound."""
    row = session.get(ImportRow, import_id, with_for_update=hold or None)
    if row is None:
        raise NotFound("There is no such list; bring it again.")
    return row


def last_stored(session: Session) -> ImportRow | None:
    """The list that was stored last and not taken back: the one that can be undone."""
    return session.exec(
        select(ImportRow).where(ImportRow.state == "stored").order_by(col(ImportRow.stored_at).desc()).limit(1)
    ).first()


def preview(session: Session, row: ImportRow, *, clock: Clock) -> Iterator[int | Preview]:
    """Look through a list: now and then how many rows are done, at last what was found. Raises BadInput for no list at all."""
    table = read_table(row.content, name=row.file_name)
    kind = row.kind
    columns: dict[str, str] = row.columns["fields"]
    order: DateOrder | None = row.columns.get("order") or _order(table, columns)
    if missing(kind, columns.values()):
        yield Preview(table, kind, columns, order, Looked())
        return
    for each in look_through(table, kind, columns, order or "day-first", _known(session, kind), clock=clock):
        yield each if isinstance(each, int) else Preview(table, kind, columns, order, each)


def _order(table: Table, columns: dict[str, str]) -> DateOrder | None:
    """The order of all date columns together."""
    places = [
        table.headers.index(header)
        for header, field in columns.items()
        if field in ("date", "put_on", "due") or field.endswith(" put_on")
    ]
    return date_order(
        row[place] for _, row in table.rows for place in places if place < len(row) and row[place].strip()
    )


def _known(session: Session, kind: ListKind) -> Known:
    instruments = session.exec(
        select(InstrumentRow.label, InstrumentRow.id, InstrumentRow.kind).where(
            col(InstrumentRow.retired_at).is_(None), col(InstrumentRow.simulated_of).is_(None)
        )
    ).all()
    people = session.exec(select(PersonRow.name, PersonRow.id).where(col(PersonRow.retired_at).is_(None))).all()
    entries: frozenset[tuple[UUID, str, datetime]] = frozenset()
    if kind in ("readings", "moves"):
        table = ReadingRow if kind == "readings" else MoveRow
        entries = frozenset(
            session.exec(
                select(TuningRow.instrument_id, table.string, table.at).join(
                    TuningRow, col(TuningRow.id) == table.tuning_id
                )
            ).all()
        )
    without = session.exec(
        select(StringRow.instrument_id, StringRow.name).where(col(StringRow.has_fine_tuner).is_(False))
    ).all()
    return Known(
        {label.casefold(): (key, of) for label, key, of in instruments},
        frozenset(without),
        {name.casefold(): key for name, key in people},
        entries,
    )


def confirm(session: Session, row: ImportRow, *, leave_out_bad: bool, clock: Clock) -> Iterator[int | ImportRow]:
    """Store a list, all or nothing: now and then how many rows are stored, at last the list itself. Stored already: nothing
    happens. The session is to be committed by whoever opened it.

    Raises BadInput while there are bad rows that aren't to be left out, columns missing, or nothing to store.
    """
    if row.state == "stored":
        yield row
        return
    found = None
    for each in preview(session, row, clock=clock):
        if isinstance(each, Preview):
            found = each
    assert found is not None
    _check(found, leave_out_bad)
    records = found.looked.records
    touched = {record.says["instrument_id"] for record in records if "instrument_id" in record.says}
    hold_instruments(session, touched)
    tunings: set[UUID] = set()
    for start in range(0, len(records), TOGETHER):
        tunings |= _STORE[found.kind](session, row, records[start : start + TOGETHER], clock) or set()
        yield min(len(records), start + TOGETHER)
    row.state, row.rows_stored, row.stored_at = "stored", len(records), now()
    session.add(row)
    session.flush()
    _number(session, tunings)
    for instrument in touched:
        next_version(session, instrument)
    yield row


_NUMBERED = text(
    """
    create temporary table numbered on commit drop as
    with every as (
        select e.id, 0 as place, e.at, e.seq, t.instrument_id, t.started_at, t.import_id
        from reading e join tuning t on t.id = e.tuning_id where t.id = any(:tunings)
        union all
        select e.id, 1, e.at, e.seq, t.instrument_id, t.started_at, t.import_id
        from move e join tuning t on t.id = e.tuning_id where t.id = any(:tunings)
        union all
        select e.id, 2, e.at, e.seq, t.instrument_id, t.started_at, t.import_id
        from fifth_check e join tuning t on t.id = e.tuning_id where t.id = any(:tunings)
    )
    select id, place, instrument_id, row_number() over (partition by instrument_id order by started_at, at, place, id) as rn
    from every where import_id is not null or seq = 0
    """
)
_LATE = """
    update {table} e set late = true from tuning t
    where t.id = e.tuning_id and t.id = any(:tunings) and t.import_id is null and e.seq = 0 and (
        exists (select 1 from reading o where o.tuning_id = t.id and o.string = e.string and o.seq > 0 and o.at > e.at
            and o.struck_at is null)
        or exists (select 1 from move o where o.tuning_id = t.id and o.string = e.string and o.seq > 0 and o.at > e.at
            and o.struck_at is null)
    )
"""


def _number(session: Session, tunings: set[UUID]) -> None:
    """Entries of lists get their places. In a tuning that lists made they stand by their times, whichever list came
    first; in one that was done here they come last, and are late where their string was read or turned since.
    """
    if not tunings:
        return
    told = {"tunings": list(tunings)}
    for table in ("reading", "move"):
        session.execute(text(_LATE.format(table=table)), told)
    session.execute(_NUMBERED, told)
    counts = session.execute(
        text("select instrument_id, max(rn) from numbered group by instrument_id order by 1")
    ).all()
    for instrument_id, places in counts:
        before = next_version(session, instrument_id, places=int(places)) - int(places)
        for place, table in enumerate(("reading", "move", "fifth_check")):
            session.execute(
                text(
                    f"update {table} e set seq = n.rn + :before from numbered n"
                    " where n.id = e.id and n.place = :place and n.instrument_id = :instrument"
                ),
                {"before": before, "place": place, "instrument": instrument_id},
            )
    session.execute(text("drop table numbered"))


def _check(found: Preview, leave_out_bad: bool) -> None:
    lacking = missing(found.kind, found.columns.values())
    if lacking:
        raise BadInput("columns", f"Say which column is the {' and which the '.join(each.said for each in lacking)}.")
    if found.order is None:
        raise BadInput("order", "Say whether its dates have the day first or the month first.")
    bad = found.looked.bad
    if bad and not leave_out_bad:
        raise BadInput("rows", f"{_rows(len(bad))} can't be stored, so nothing was; mend them, or leave them out.")
    if not found.looked.records:
        raise BadInput("rows", "There is no row to store.")


def _rows(count: int) -> str:
    return "1 row" if count == 1 else f"{count} rows"


def _store_roll(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> None:
    people = {
        each.name.casefold(): each.id for each in session.exec(select(PersonRow)).all() if each.retired_at is None
    }
    players: list[dict[str, Any]] = []
    instruments, strings = [], []
    for each in records:
        says = each.says
        player = says["player"]
        if player is not None and player.casefold() not in people:
            people[player.casefold()] = uuid5(row.id, f"player {player.casefold()}")
            players.append(_person(people[player.casefold()], row, player, "player", []))
        key = uuid5(row.id, f"row {each.line}")
        instruments.append(
            {
                "id": key,
                "label": says["label"],
                "kind": says["kind"],
                "size": says["size"],
                "note": says["note"],
                "player_id": None if player is None else people[player.casefold()],
                "hours_per_week": says["hours"],
                "created_at": now(),
                "import_id": row.id,
            }
        )
        for name in instrument_named(says["kind"]).string_names:
            fitted = StringRow(id=uuid5(key, name), instrument_id=key, name=name, **says["strings"][name])
            strings.append(fitted.model_dump())
    for table, rows in ((PersonRow, players), (InstrumentRow, instruments), (StringRow, strings)):
        if rows:
            session.execute(insert(table), rows)


def _person(key: UUID, row: ImportRow, name: str, role: str, cleared: list[int], note: str = "") -> dict[str, Any]:
    return {
        "id": key,
        "name": name,
        "role": role,
        "cleared": cleared,
        "note": note,
        "created_at": now(),
        "import_id": row.id,
    }


def _store_people(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> None:
    rows = [
        _person(
            uuid5(row.id, f"row {each.line}"),
            row,
            each.says["name"],
            each.says["role"],
            each.says["cleared"],
            each.says["note"],
        )
        for each in records
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
    for each in records:
        says = dict(each.says)
        day = (says.pop("instrument_id"), clock.day_of(says["at"]))
        rows.append({"id": uuid5(row.id, f"row {each.line}"), "tuning_id": tunings[day], **more, **says})
    _copy(session, table, rows)
    stored = set(tunings.values())
    session.execute(delete(SummaryRow).where(col(SummaryRow.tuning_id).in_(stored)))
    return stored


def _copy(session: Session, table: Any, rows: Sequence[dict[str, Any]]) -> None:
    """Many rows at once, in the session's own transaction."""
    names = list(rows[0])
    columns = ", ".join(f'"{each}"' for each in names)
    cursor = session.connection().connection.cursor()
    with cursor.copy(f"COPY {table.__tablename__} ({columns}) FROM STDIN") as copy:
        for row in rows:
            copy.write_row([row[each] for each in names])


Day = tuple[UUID, Any]


def _tunings(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> dict[Day, UUID]:
    first: dict[Day, datetime] = {}
    for each in records:
        day = (each.says["instrument_id"], clock.day_of(each.says["at"]))
        first[day] = min(first.get(day, each.says["at"]), each.says["at"])
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
        each.id: usual_tuning(session, each)
        for each in session.exec(select(InstrumentRow).where(col(InstrumentRow.id).in_(ids))).all()
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
    rows = [
        {"id": uuid5(row.id, f"row {each.line}"), "source": "list", "import_id": row.id, **each.says}
        for each in records
    ]
    session.execute(insert(RoomRow), rows)


def _store_care(session: Session, row: ImportRow, records: Sequence[Record], clock: Clock) -> None:
    for each in sorted(records, key=lambda record: record.says["at"]):
        try:
            add_care(session, CareRow(id=uuid5(row.id, f"row {each.line}"), import_id=row.id, **each.says), clock=clock)
        except BadInput as error:
            raise BadInput("rows", f"Line {each.line}: {error.message} Nothing was stored.") from None


_STORE: dict[ListKind, Callable[[Session, ImportRow, Sequence[Record], Clock], set[UUID] | None]] = {
    "roll": _store_roll,
    "people": _store_people,
    "readings": _store_readings,
    "moves": _store_moves,
    "room": _store_room,
    "care": _store_care,
}


def undo(session: Session, import_id: UUID, *, clock: Clock) -> ImportRow:
    """Take back the list that was stored last; its bytes stay. What else was entered since stays untouched.

    Raises NotFound, and Conflict when it isn't the last, or something was entered since that hangs on it.
    """
    row = brought(session, import_id, hold=True)
    if row.state == "undone":
        return row
    last = last_stored(session)
    if last is None or last.id != import_id:
        raise Conflict("Only the list that was stored last can be taken back.")
    if not row.content:
        raise Conflict("This list held the name of someone who was erased; it is gone, and can't be taken back.")
    ids = [uuid5(row.id, f"row {line}") for line, _ in read_table(row.content, name=row.file_name).rows]
    instruments = set(session.exec(select(InstrumentRow.id).where(InstrumentRow.import_id == import_id)).all())
    _refuse_if_used(session, row, instruments)
    touching = _instruments_touched(session, row, ids)
    hold_instruments(session, touching | instruments)
    _forget_summaries(session, row, ids)
    if row.kind in ("readings", "moves"):
        entries = ReadingRow if row.kind == "readings" else MoveRow
        for start in range(0, len(ids), TOGETHER):
            session.execute(delete(entries).where(col(entries.id).in_(ids[start : start + TOGETHER])))
    empty = (
        select(TuningRow.id)
        .where(
            TuningRow.import_id == import_id,
            ~select(ReadingRow.id).where(ReadingRow.tuning_id == TuningRow.id).exists(),
            ~select(MoveRow.id).where(MoveRow.tuning_id == TuningRow.id).exists(),
            ~select(FifthCheckRow.id).where(FifthCheckRow.tuning_id == TuningRow.id).exists(),
        )
        .scalar_subquery()
    )
    session.execute(delete(SummaryRow).where(col(SummaryRow.tuning_id).in_(empty)))
    session.execute(delete(TuningRow).where(col(TuningRow.id).in_(empty)))
    session.execute(delete(RoomRow).where(col(RoomRow.import_id) == import_id))
    take_back_care(session, import_id, clock=clock)
    session.execute(delete(StringRow).where(col(StringRow.instrument_id).in_(instruments)))
    session.execute(delete(SettingsRow).where(col(SettingsRow.instrument_id).in_(instruments)))
    session.execute(delete(TriagedRow).where(col(TriagedRow.instrument_id).in_(instruments)))
    session.execute(delete(InstrumentRow).where(col(InstrumentRow.import_id) == import_id))
    session.execute(delete(PersonRow).where(col(PersonRow.import_id) == import_id))
    for instrument in touching - instruments:
        next_version(session, instrument)
    row.state = "undone"
    session.add(row)
    session.flush()
    return row


def _instruments_touched(session: Session, row: ImportRow, ids: list[UUID]) -> set[UUID]:
    """Instruments whose log the list added to."""
    return {instrument for instrument, _ in _tunings_of_list(session, row, ids)}


def _forget_summaries(session: Session, row: ImportRow, ids: list[UUID]) -> None:
    tunings = {tuning for _, tuning in _tunings_of_list(session, row, ids)}
    session.execute(delete(SummaryRow).where(col(SummaryRow.tuning_id).in_(tunings)))


def _tunings_of_list(session: Session, row: ImportRow, ids: list[UUID]) -> set[tuple[UUID, UUID]]:
    """Instruments and tunings that hold entries of a list."""
    found: set[tuple[UUID, UUID]] = set()
    if row.kind in ("readings", "moves"):
        table = ReadingRow if row.kind == "readings" else MoveRow
        for start in range(0, len(ids), TOGETHER):
            rows = session.exec(
                select(TuningRow.instrument_id, TuningRow.id)
                .join(table, col(table.tuning_id) == col(TuningRow.id))
                .where(col(table.id).in_(ids[start : start + TOGETHER]))
                .distinct()
            ).all()
            found |= set(rows)
    return found


def _refuse_if_used(session: Session, row: ImportRow, instruments: set[UUID]) -> None:
    """What hangs on the list's instruments and people and isn't the list's own keeps it from being taken back."""
    for asked in (
        select(TuningRow.id).where(col(TuningRow.instrument_id).in_(instruments)),
        select(CareRow.id).where(col(CareRow.instrument_id).in_(instruments)),
        select(InstrumentRow.id).where(col(InstrumentRow.simulated_of).in_(instruments)),
        select(StationRow.id).where(col(StationRow.instrument_id).in_(instruments)),
    ):
        if instruments and session.exec(asked.limit(1)).first() is not None:
            raise Conflict(
                "Instruments of this list have been tuned or cared for since; retire the ones that are too many instead."
            )
    people = select(PersonRow.id).where(PersonRow.import_id == row.id).scalar_subquery()
    others = (col(InstrumentRow.import_id) != row.id) | col(InstrumentRow.import_id).is_(None)
    holding = session.exec(
        select(InstrumentRow.label).where(col(InstrumentRow.player_id).in_(people), others).limit(1)
    ).first()
    if holding is not None:
        raise Conflict(f"Someone of this list has “{holding}” now; give it to nobody first.")
    for asked in (
        select(StationRow.id).where(col(StationRow.person_id).in_(people)),
        select(TuningRow.id).where(col(TuningRow.done_by).in_(people)),
    ):
        if session.exec(asked.limit(1)).first() is not None:
            raise Conflict(
                "Someone of this list was there on a morning since; let those leave who are too many instead."
            )

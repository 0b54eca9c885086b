"""Lists someone brought: looked through first, then stored all or nothing, and taken back if need be."""

from collections.abc import Collection, Hashable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Literal
from uuid import UUID

from sqlmodel import Session, col, delete, select

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.lists.columns import ListKind, checked_columns, guessed_kind, missing, recognised
from pondus.lists.records import Known, look_through
from pondus.lists.text import Table, read_table
from pondus.lists.updates import Beside, Standing, beside_the_roll
from pondus.lists.values import DateOrder, date_order
from pondus.store.care import take_back_care
from pondus.store.errors import Conflict, NotFound
from pondus.store.instruments import hold_instruments, next_version
from pondus.store.list_rows import change_back, change_listed, id_of_row, players, store_rows
from pondus.store.numbering import number_lists
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
class Progress:
    """So many rows are looked through, or stored."""

    doing: Literal["looking", "storing"]
    done: int


@dataclass(frozen=True)
class Preview:
    """A list looked through and not stored: which column is what, the dates' order (None: either could be meant), good rows,
    bad rows with their reasons; a roll beside the one there is.
    """

    table: Table
    kind: ListKind
    columns: list[str | None]
    order: DateOrder | None
    rows: Beside


def bring(session: Session, row: ImportRow) -> ImportRow:
    """Keep a list's bytes, looked at and no more; sent twice, it is kept once. Lists only looked at a day ago are forgotten."""
    session.execute(delete(ImportRow).where(col(ImportRow.state) == "looked-at", col(ImportRow.at) < now() - LOOKED_AT_FOR))
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
    table = table_of(row)
    kind = row.kind
    columns = columns_of(row, table)
    order: DateOrder | None = row.columns.get("order") or _order(table, columns)
    if missing(kind, columns):
        yield Preview(table, kind, columns, order, Beside())
        return
    roll = _roll(session)
    known = _known(session, kind, roll)
    told = row.columns.get("taken_as", {})
    for progress in look_through(table, kind, columns, order or "day-first", known, taken_as=told, clock=clock):
        if isinstance(progress, int):
            yield progress
        elif kind == "roll":
            beside = beside_the_roll(progress, roll, _labels(table, columns), known.people)
            yield Preview(table, kind, columns, order, beside)
        else:
            yield Preview(table, kind, columns, order, Beside(new=progress.records, bad=progress.bad))


def say(
    row: ImportRow,
    *,
    header_line: int | None = None,
    kind: ListKind | None = None,
    columns: Sequence[str | None] | None = None,
    order: DateOrder | None = None,
    taken_as: Mapping[str, Mapping[str, str]] | None = None,
) -> None:
    """Keep what somebody says of a list (`ListChange`); None: nothing is said of that. Raises BadInput."""
    if header_line is not None:
        row.columns = {"header_line": header_line}
        row.kind = guessed_kind(table_of(row).headers)
    if kind is not None and kind != row.kind:
        row.kind = kind
        row.columns = {name: told for name, told in row.columns.items() if name != "places"}
    if columns is not None:
        places = checked_columns(columns, len(table_of(row).headers), row.kind)
        row.columns = {**row.columns, "places": places}
    if order is not None:
        row.columns = {**row.columns, "order": order}
    known = row.columns.get("taken_as", {})
    for field, words in (taken_as or {}).items():
        known = {**known, field: {**known.get(field, {}), **{word.strip().casefold(): words[word] for word in words}}}
        row.columns = {**row.columns, "taken_as": known}


def table_of(row: ImportRow) -> Table:
    """The rows of a list, below the headers where they are said to be."""
    return read_table(row.content, name=row.file_name, header_line=row.columns.get("header_line"))


def columns_of(row: ImportRow, table: Table) -> list[str | None]:
    """The field of each column: as somebody said it, else by its header."""
    told = row.columns.get("places")
    return recognised(table.headers, row.kind) if told is None else told


def _labels(table: Table, columns: Sequence[str | None]) -> frozenset[str]:
    """Every label in a list, in small letters."""
    at = columns.index("label")
    return frozenset(row[at].strip().casefold() for _, row in table.rows if at < len(row))


def _roll(session: Session) -> list[Standing]:
    rows = session.exec(
        select(InstrumentRow, PersonRow.name)
        .outerjoin(PersonRow, col(PersonRow.id) == col(InstrumentRow.player_id))
        .where(col(InstrumentRow.retired_at).is_(None), col(InstrumentRow.simulated_of).is_(None))
    ).all()
    return [
        Standing(row.id, row.label, row.kind, row.size, player, row.hours_per_week, row.note, row.details)
        for row, player in rows
    ]


def holds_dates(field: str | None) -> bool:
    """Whether a column of this field holds dates."""
    return field is not None and (field in ("date", "put_on", "due") or field.endswith(" put_on"))


def _order(table: Table, columns: Sequence[str | None]) -> DateOrder | None:
    """The order of all date columns together."""
    places = [place for place, field in enumerate(columns) if holds_dates(field)]
    return date_order(row[place] for _, row in table.rows for place in places if place < len(row) and row[place].strip())


def _known(session: Session, kind: ListKind, roll: Sequence[Standing]) -> Known:
    people = session.exec(select(PersonRow.name, PersonRow.id).where(col(PersonRow.retired_at).is_(None))).all()
    entries: frozenset[tuple[Hashable, ...]] = frozenset()
    if kind in ("readings", "moves"):
        table = ReadingRow if kind == "readings" else MoveRow
        entries = frozenset(
            session.exec(
                select(TuningRow.instrument_id, table.string, table.at).join(TuningRow, col(TuningRow.id) == table.tuning_id)
            ).all()
        )
    elif kind == "room":
        entries = frozenset((at,) for at in session.exec(select(RoomRow.at)).all())
    elif kind == "care":
        kept = session.exec(select(CareRow).where(col(CareRow.struck_at).is_(None))).all()
        entries = frozenset((row.instrument_id, row.at, row.kind, row.string, row.sign, row.said) for row in kept)
    without = session.exec(
        select(StringRow.instrument_id, StringRow.name).where(col(StringRow.has_fine_tuner).is_(False))
    ).all()
    return Known(
        {standing.label.casefold(): (standing.id, standing.kind) for standing in roll},
        frozenset(without),
        {name.casefold(): key for name, key in people},
        entries,
    )


def confirm(
    session: Session, row: ImportRow, *, leave_out_bad: bool, leave_out: Collection[int] = (), clock: Clock
) -> Iterator[Progress | ImportRow]:
    """Store a list, all or nothing: now and then how far it is, at last the list itself. Stored already: nothing happens. The
    session is to be committed by whoever opened it. ``leave_out``: lines that stay as they are.

    Raises BadInput while there are bad rows that aren't to be left out, columns missing, or nothing to store.
    """
    if row.state == "stored":
        yield row
        return
    found = None
    for progress in preview(session, row, clock=clock):
        if isinstance(progress, Preview):
            found = progress
        else:
            yield Progress("looking", progress)
    assert found is not None
    records = [record for record in found.rows.new if record.line not in leave_out]
    changing = [change for change in found.rows.changing if change.record.line not in leave_out]
    people = [person for person in found.rows.people if person.line not in leave_out]
    stored = len(records) + len(changing) + len(people)
    _check(found, stored, leave_out_bad)
    touched = {record.says["instrument_id"] for record in records if "instrument_id" in record.says}
    hold_instruments(session, touched | {change.of for change in changing})
    tunings: set[UUID] = set()
    for start in range(0, len(records), TOGETHER):
        tunings |= store_rows(session, row, found.kind, records[start : start + TOGETHER], clock)
        yield Progress("storing", min(len(records), start + TOGETHER))
    if changing:
        change_listed(session, row, changing)
    players(session, row, people)
    row.state, row.rows_stored, row.stored_at = "stored", stored, now()
    session.add(row)
    session.flush()
    number_lists(session, tunings)
    for instrument in touched:
        next_version(session, instrument)
    yield row


def _check(found: Preview, count: int, leave_out_bad: bool) -> None:
    lacking = missing(found.kind, found.columns)
    if lacking:
        raise BadInput("columns", f"Say which column is the {' and which the '.join(header.said for header in lacking)}.")
    if found.order is None:
        raise BadInput("order", "Say whether its dates have the day first or the month first.")
    bad = found.rows.bad
    if bad and not leave_out_bad:
        raise BadInput("rows", f"{_rows(len(bad))} can't be stored, so nothing was; mend them, or leave them out.")
    if not count:
        raise BadInput("rows", "There is no row to store.")


def _rows(count: int) -> str:
    return "1 row" if count == 1 else f"{count} rows"


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
    change_back(session, row)
    ids = [id_of_row(row.id, line) for line, _ in table_of(row).rows]
    instruments = set(session.exec(select(InstrumentRow.id).where(InstrumentRow.import_id == import_id)).all())
    _refuse_if_used(session, row, instruments)
    touching = _instruments_touched(session, row, ids)
    hold_instruments(session, touching | instruments)
    _forget_summaries(session, row, ids)
    if row.kind in ("readings", "moves"):
        entries = ReadingRow if row.kind == "readings" else MoveRow
        for start in range(0, len(ids), TOGETHER):
            session.execute(delete(entries).where(col(entries.id).in_(ids[start : start + TOGETHER])))
    _forget_empty_tunings(session, import_id)
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


def _forget_empty_tunings(session: Session, import_id: UUID) -> None:
    """Tunings that this list began and that hold nothing any more."""
    held = (select(table.id).where(table.tuning_id == TuningRow.id).exists() for table in (ReadingRow, MoveRow, FifthCheckRow))
    empty = select(TuningRow.id).where(TuningRow.import_id == import_id, *(~clause for clause in held)).scalar_subquery()
    session.execute(delete(SummaryRow).where(col(SummaryRow.tuning_id).in_(empty)))
    session.execute(delete(TuningRow).where(col(TuningRow.id).in_(empty)))


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
    holding = session.exec(select(InstrumentRow.label).where(col(InstrumentRow.player_id).in_(people), others).limit(1)).first()
    if holding is not None:
        raise Conflict(f"Someone of this list has “{holding}” now; give it to nobody first.")
    for asked in (
        select(StationRow.id).where(col(StationRow.person_id).in_(people)),
        select(TuningRow.id).where(col(TuningRow.done_by).in_(people)),
    ):
        if session.exec(asked.limit(1)).first() is not None:
            raise Conflict("Someone of this list was there on a morning since; let those leave who are too many instead.")

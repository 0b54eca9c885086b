"""All that is kept of one person, every place that holds their name, and their end.

Places are looked for in every text of every table, so that a new column can't be forgotten, and in the files of lists as they
came. What is surely theirs: their own record, their places of mornings, and texts that hold their whole name while nobody else
on the roll has the same. Of the rest (a first name alone) someone must say.
"""

import json
import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from sqlalchemy import Column, LargeBinary, String, Table, Text, cast, or_, update
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import AutoString, Session, SQLModel, col, delete, func, select

from pondus.core.errors import BadInput
from pondus.lists.text import decoded
from pondus.store.device_tables import DeviceSessionRow, InvitationRow, TeacherKeyRow
from pondus.store.errors import NotFound
from pondus.store.people import free_instruments, person
from pondus.store.practice_tables import PracticeAnswerRow, PracticeRow
from pondus.store.tables import FifthCheckRow, InstrumentRow, MoveRow, PersonRow, ReadingRow, StationRow, TuningRow

SOMEONE = "someone"
SHORTEST_PART = 3
DERIVED = frozenset({"tuning_summary", "triaged", "asked_count"})
_WHERE = {
    "person.name": "the roll",
    "person.note": "a note on the roll",
    "station.name": "who was there on a morning",
    "device_session.name": "a device",
    "invitation.name": "a code for a device",
    "instrument.label": "an instrument's label",
    "instrument.note": "an instrument's note",
    "instrument.details": "what is kept of an instrument",
    "care.said": "an entry of care",
    "import.content": "the file of a list",
    "import.file_name": "the name of a list's file",
}


@dataclass(frozen=True)
class NamedPlace:
    """One place that holds a person's name. ``sure``: it is surely theirs."""

    table: str
    id: UUID
    field: str
    where: str
    text: str
    sure: bool


@dataclass(frozen=True)
class ErasedPerson:
    """What was done: in how many places, and in words."""

    places: int
    said: str


def everything_of(session: Session, person_id: UUID) -> dict[str, Any]:
    """All that is kept about one person, as plain data. Raises NotFound."""
    row = person(session, person_id)
    held = session.exec(select(InstrumentRow.label).where(InstrumentRow.player_id == person_id)).all()
    mornings = session.exec(select(StationRow).where(StationRow.person_id == person_id).order_by(col(StationRow.day)))
    tuned = session.exec(
        select(TuningRow.id, TuningRow.started_at, InstrumentRow.label)
        .join(InstrumentRow, col(InstrumentRow.id) == col(TuningRow.instrument_id))
        .where(TuningRow.done_by == person_id)
        .order_by(col(TuningRow.started_at))
    ).all()
    return {
        "person": json.loads(row.model_dump_json()),
        "has_instruments": list(held),
        "mornings": [
            {"day": place.day.isoformat(), "may": place.may, "came_at": place.comes_at.isoformat(), "name": place.name}
            for place in mornings
        ],
        "tuned": [{"id": str(key), "at": at.isoformat(), "instrument": label} for key, at, label in tuned],
        "devices": [
            {
                "role": device.role,
                "kind": device.kind,
                "began_at": device.began_at.isoformat(),
                "seen_at": device.seen_at.isoformat(),
            }
            for device in session.exec(select(DeviceSessionRow).where(DeviceSessionRow.person_id == person_id))
        ],
        "entered": {
            entries.__tablename__: session.exec(
                select(func.count()).select_from(entries).where(entries.entered_by == person_id)
            ).one()
            for entries in (ReadingRow, MoveRow, FifthCheckRow)
        },
        "practice": _practice_of(session, person_id),
        "named_in": [
            {"where": place.where, "table": place.table, "id": str(place.id), "field": place.field, "text": place.text}
            for place in places_of(session, person_id)
            if place.table != "person" or place.id != person_id
        ],
    }


def _practice_of(session: Session, person_id: UUID) -> list[dict[str, Any]]:
    """All goes at drills, with their answers."""
    goes = session.exec(select(PracticeRow).where(PracticeRow.person_id == person_id).order_by(col(PracticeRow.began_at))).all()
    return [
        {
            **json.loads(go.model_dump_json(exclude={"person_id"})),
            "answers": [
                json.loads(answer.model_dump_json(exclude={"practice_id"}))
                for answer in session.exec(
                    select(PracticeAnswerRow)
                    .where(PracticeAnswerRow.practice_id == go.id)
                    .order_by(col(PracticeAnswerRow.number))
                )
            ],
        }
        for go in goes
    ]


def places_of(session: Session, person_id: UUID) -> list[NamedPlace]:
    """Every place that holds this person's name, or a part of it. Raises NotFound."""
    row = person(session, person_id)
    only = not session.exec(
        select(PersonRow.id).where(PersonRow.id != person_id, func.lower(PersonRow.name) == row.name.strip().lower())
    ).first()
    own = {
        key
        for rows in (StationRow, DeviceSessionRow, InvitationRow)
        for (key,) in session.execute(select(rows.id).where(rows.person_id == person_id))
    }
    found = []
    for table, key, field, text in _texts_with(session, row.name):
        if table.name in DERIVED or table.name in ("sign_in", "teacher_key"):
            continue
        whole = _holds(text, row.name)
        theirs = (table.name == "person" and key == person_id) or key in own
        another = table.name == "person" and key != person_id and field == "name"
        if another and not theirs:
            continue
        if not whole and not theirs and not any(_holds(text, part) for part in _parts(row.name)):
            continue
        where = _WHERE.get(f"{table.name}.{field}", f"{table.name.replace('_', ' ')}, {field.replace('_', ' ')}")
        found.append(NamedPlace(table.name, key, field, where, _around(text, row.name), theirs or (whole and only)))
    return sorted(found, key=_by_place)


def _by_place(place: NamedPlace) -> tuple[bool, str, str, str]:
    return not place.sure, place.table, place.field, str(place.id)


def erase(session: Session, person_id: UUID, *, name: str, also: set[tuple[str, UUID, str]]) -> ErasedPerson:
    """Erase a person for good: their record, their places of mornings, their name in every place that is surely theirs and in
    those told. What they tuned stays, under someone; list files that hold the name go.

    Raises NotFound, BadInput where ``name`` isn't theirs.
    """
    row = person(session, person_id)
    if name.strip().casefold() != row.name.strip().casefold():
        raise BadInput("name", f"To erase “{row.name}” for good, give that name; “{name.strip()}” is another.")
    places = [place for place in places_of(session, person_id) if place.sure or (place.table, place.id, place.field) in also]
    told = {(place.table, place.id, place.field) for place in places}
    wrong = next((place for place in also if place not in told), None)
    if wrong is not None:
        raise BadInput("also", f"There is no such place ({wrong[0]}, {wrong[2]}) with that name; look at the places again.")
    free_instruments(session, person_id)
    session.execute(update(TuningRow).where(col(TuningRow.done_by) == person_id).values(done_by=None))
    for entries in (ReadingRow, MoveRow, FifthCheckRow):
        session.execute(update(entries).where(col(entries.entered_by) == person_id).values(entered_by=None))
    goes = select(PracticeRow.id).where(PracticeRow.person_id == person_id)
    session.execute(delete(PracticeAnswerRow).where(col(PracticeAnswerRow.practice_id).in_(goes)))
    session.execute(delete(PracticeRow).where(col(PracticeRow.person_id) == person_id))
    for theirs in (StationRow, DeviceSessionRow, InvitationRow, TeacherKeyRow):
        session.execute(delete(theirs).where(col(theirs.person_id) == person_id))
    files = 0
    for place in places:
        if place.table == "person" and place.id == person_id:
            continue
        files += place.table == "import" and place.field == "content"
        _take_out(session, place, row.name)
    for table, key, _, _ in list(_texts_with(session, row.name)):
        if table.name in DERIVED:
            session.execute(table.delete().where(_key_of(table) == key))
    session.flush()
    session.expunge(row)
    session.execute(delete(PersonRow).where(col(PersonRow.id) == person_id))
    said = f"Erased, in {len(places)} places."
    if files:
        said += f" {files} list files that held the name are gone, and can't be taken back any more."
    return ErasedPerson(len(places), f"{said} Backups and files saved before still hold it: delete those.")


def _take_out(session: Session, place: NamedPlace, name: str) -> None:
    """The name out of one place; what is left reads “someone”."""
    table = SQLModel.metadata.tables[place.table]
    column = table.c[place.field]
    key = _key_of(table)
    if isinstance(column.type, LargeBinary):
        session.execute(update(table).where(key == place.id).values({column.name: b""}))
        return
    value = session.execute(select(column).where(key == place.id)).scalar_one_or_none()
    if value is None:
        return
    if isinstance(column.type, JSONB):
        session.execute(update(table).where(key == place.id).values({column.name: _without(value, name)}))
        return
    text = _without_name(value, name)
    most = getattr(column.type, "length", None)
    session.execute(update(table).where(key == place.id).values({column.name: text[:most] if most else text}))


def _without(value: Any, name: str) -> Any:
    if isinstance(value, str):
        return _without_name(value, name)
    if isinstance(value, list):
        return [_without(item, name) for item in value]
    if isinstance(value, dict):
        return {_without_name(str(key), name): _without(item, name) for key, item in value.items()}
    return value


def _without_name(text: str, name: str) -> str:
    for part in (name, *_parts(name)):
        text = _pattern(part).sub(SOMEONE, text)
    return text


def without_people(session: Session, text: str) -> str:
    """A text without the name of anyone on the roll, or who was."""
    if not text:
        return text
    for name in session.exec(select(PersonRow.name)).all():
        text = _without_name(text, name)
    return text


def _parts(name: str) -> list[str]:
    """Parts of a name that stand for the person on their own."""
    return [part for part in re.split(r"[\s,;]+", name.strip()) if len(part) >= SHORTEST_PART and part != name.strip()]


def _pattern(name: str) -> re.Pattern[str]:
    return re.compile(rf"(?<!\w){re.escape(name.strip())}(?!\w)", re.IGNORECASE)


def _holds(text: str, name: str) -> bool:
    return _pattern(name).search(text) is not None


def _around(text: str, name: str) -> str:
    """What stands around the name, to be recognised by."""
    match = next((found for part in (name, *_parts(name)) if (found := _pattern(part).search(text))), None)
    if match is None:
        return text[:120]
    begins, ends = max(0, match.start() - 50), match.end() + 50
    return f"{'…' if begins else ''}{text[begins:ends]}{'…' if ends < len(text) else ''}".strip()


def _key_of(table: Table) -> Column[Any]:
    return table.c["id"] if "id" in table.c else next(iter(table.primary_key.columns))


def _texts_with(session: Session, name: str) -> Iterator[tuple[Table, UUID, str, str]]:
    """Every text of every table that may hold the name or a part of it, with its record's key."""
    words = [name.strip(), *_parts(name)]
    for table in SQLModel.metadata.sorted_tables:
        key = _key_of(table)
        for column in table.c:
            if isinstance(column.type, LargeBinary):
                for record, content in session.execute(select(key, column)):
                    text = _text_of(bytes(content or b""))
                    if any(_holds(text, word) for word in words):
                        yield table, record, column.name, text
            elif _is_text(column) and column is not key:
                plain = cast(column, Text)
                looked_for = or_(*(plain.ilike(f"%{_escaped(word)}%", escape="\\") for word in words))
                for record, text in session.execute(select(key, plain).where(looked_for)):
                    yield table, record, column.name, text


def _is_text(column: Column[Any]) -> bool:
    return isinstance(column.type, JSONB | String | AutoString)


def _escaped(word: str) -> str:
    return word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")


def _text_of(content: bytes) -> str:
    """A list's file as text, however it was encoded."""
    try:
        return decoded(content, "")[0]
    except BadInput:
        return content.decode("utf-16" if content.startswith((b"\xff\xfe", b"\xfe\xff")) else "cp1252", errors="replace")


def person_named(session: Session, name: str) -> PersonRow:
    """The one person of that name, or of that id. Raises NotFound, BadInput where several have the name."""
    try:
        return person(session, UUID(name))
    except ValueError:
        pass
    rows = session.exec(select(PersonRow).where(func.lower(PersonRow.name) == name.strip().lower())).all()
    if not rows:
        raise NotFound(f"There is no “{name}” on the roll, nor among those who left.")
    if len(rows) > 1:
        ids = ", ".join(str(row.id) for row in rows)
        raise BadInput("person", f"{len(rows)} people are called “{name}”; give one's id: {ids}.")
    return rows[0]

"""The whole studio as one open file (JSON): every record as it is kept, ids and times and all.

``{"pondus_studio": 2, "saved_at": "...", "tables": {"person": [{...}, ...], ...}}``. Tables stand in an order in which each
only speaks of ones before it; what is worked out from the others (summaries, sortings) is left out. Times are ISO 8601
with their
zone, bytes Base64. Reading a file and writing it again gives the same file, but for ``saved_at``. Form 1 lacked the log's own
order; its entries are numbered by their times. A record that today's bounds refuse, and what belongs to it, is set
aside with the reason: listed, and part of the file from then on.
"""

import base64
import json
import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, datetime, tzinfo
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import Table, insert, select
from sqlmodel import AutoString, Session, SQLModel

from pondus.core.clock import Clock
from pondus.core.entries.texts import nesting
from pondus.core.errors import BadInput
from pondus.store.checked_records import Parents, check_record
from pondus.store.device_tables import UNSHARED
from pondus.store.numbering import number_by_times
from pondus.store.settings import studio_clock
from pondus.store.tables import SetAsideRow, now

VERSION = 2
LEFT_OUT = frozenset({"tuning_summary", "triaged", "asked_count"}) | UNSHARED
"""What is worked out from the rest, and who comes in."""
TOGETHER = 2_000
MOST_NESTED = 12


def tables() -> list[Table]:
    """What is kept, each after those it speaks of."""
    return [table for table in SQLModel.metadata.sorted_tables if table.name not in LEFT_OUT]


def is_empty(session: Session) -> bool:
    """Whether a studio holds no record at all."""
    return all(session.execute(select(table).limit(1)).first() is None for table in tables())


def saved(session: Session) -> Iterator[str]:
    """The studio's file, piece by piece; times are the studio's."""
    zone = studio_clock(session).zone
    saved_at = json.dumps(now().astimezone(zone).isoformat())
    yield f'{{"pondus_studio": {VERSION},\n"saved_at": {saved_at},\n"tables": {{'
    for place, table in enumerate(tables()):
        yield f"{',' if place else ''}\n{json.dumps(table.name)}: ["
        order = [table.c.simulated_of.is_not(None)] if "simulated_of" in table.c else []
        asked = select(table).order_by(*order, *table.primary_key.columns).execution_options(yield_per=TOGETHER)
        for number, row in enumerate(session.execute(asked).mappings()):
            plain = {key: _plain(value, zone) for key, value in row.items()}
            yield f"{',' if number else ''}\n{json.dumps(plain, ensure_ascii=False)}"
        yield "]"
    yield "}}\n"


def _plain(value: Any, zone: tzinfo) -> Any:
    if isinstance(value, datetime):
        return value.astimezone(zone).isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, UUID):
        return str(value)
    if isinstance(value, bytes | memoryview):
        return base64.b64encode(bytes(value)).decode()
    return value


@dataclass
class Restored:
    """How many records were stored, and those that were set aside, with their reasons."""

    stored: int = 0
    aside: list[SetAsideRow] = field(default_factory=list)


def restored(session: Session, content: bytes, *, clock: Clock) -> Restored:
    """Put a studio's file into an empty studio. All or nothing, once the session is committed.

    Raises BadInput for what isn't such a file, one of a newer Pondus, or a studio that isn't empty.
    """
    version, found = _read(content)
    if not is_empty(session):
        raise BadInput("file", "This studio isn't empty, and nothing of it is overwritten; bring the file into an empty one.")
    _check_strings(found)
    done = Restored()
    parents = Parents()
    for table in tables():
        rows = []
        for plain in found.get(table.name, []):
            row = _usable(table, plain, parents, clock, done)
            if row is not None:
                rows.append(row)
        done.stored += len(rows)
        for start in range(0, len(rows), TOGETHER):
            session.execute(insert(table), _alike(rows[start : start + TOGETHER]))
    session.add_all(done.aside)
    session.flush()
    if version < VERSION:
        number_by_times(session)
    return done


def _check_strings(found: dict[str, list[Any]]) -> None:
    """No instrument without strings: nothing could be said of it. Raises BadInput."""
    strung = {string.get("instrument_id") for string in found.get("string", []) if isinstance(string, dict)}
    for instrument in found.get("instrument", []):
        if isinstance(instrument, dict) and instrument.get("id") not in strung:
            raise BadInput(
                "file",
                f"That file has the instrument “{instrument.get('label')}” without its strings: it isn't whole, or was"
                " changed by hand. Export it again where it comes from; nothing was stored.",
            )


def _alike(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Rows with the same keys, so that they go in as one."""
    keys = {key for row in rows for key in row}
    return rows if all(len(row) == len(keys) for row in rows) else [{**dict.fromkeys(keys), **row} for row in rows]


def _usable(table: Table, plain: Any, parents: Parents, clock: Clock, done: Restored) -> dict[str, Any] | None:
    """A record as the table takes it; None where it was set aside."""
    if not isinstance(plain, dict):
        raise BadInput("file", f"A {table.name} in that file isn't a record; was the file changed by hand?")
    unknown = next((key for key in plain if key not in table.c), None)
    if unknown is not None:
        raise BadInput("file", f"A {table.name} with “{unknown}” is nothing this Pondus knows; bring it up to date.")
    try:
        row = {key: _typed(table, key, value) for key, value in plain.items()}
        return check_record(table.name, row, parents, clock)
    except BadInput as error:
        reason = error.message[:500]
    kept = {key: _jsonable(value) for key, value in plain.items()}
    done.aside.append(SetAsideRow(id=uuid4(), of_table=table.name, reason=reason, content=kept, at=now()))
    return None


def _jsonable(value: Any) -> Any:
    """Figures that JSON lacks, and characters the database can't keep, as plain text."""
    if isinstance(value, float) and not math.isfinite(value):
        return str(value)
    return value.replace("\x00", "\ufffd") if isinstance(value, str) else value


def _read(content: bytes) -> tuple[int, dict[str, list[Any]]]:
    if nesting(content) > MOST_NESTED:
        raise BadInput("file", "That isn't a studio's file: it is nested far too deep.")
    try:
        found = json.loads(content)
    except (ValueError, RecursionError):
        raise BadInput("file", "That isn't a studio's file: it isn't JSON, or it breaks off.") from None
    version = found.get("pondus_studio") if isinstance(found, dict) else None
    if not isinstance(version, int) or isinstance(version, bool) or not isinstance(found.get("tables"), dict):
        raise BadInput("file", "That isn't a studio's file; it should begin with “pondus_studio”.")
    if version > VERSION:
        raise BadInput(
            "file", f"That file is of a newer Pondus: its form is {version}, this one reads {VERSION}. Bring this up to date."
        )
    known = {table.name for table in tables()}
    other = next((name for name in found["tables"] if name not in known), None)
    if other is not None:
        raise BadInput("file", f"That file holds “{other}”, which this Pondus doesn't know; bring it up to date.")
    if not all(isinstance(rows, list) for rows in found["tables"].values()):
        raise BadInput("file", "That isn't a studio's file: a table in it isn't a list.")
    return version, dict(found["tables"])


def _typed(table: Table, key: str, value: Any) -> Any:
    """A value as its column has it. Raises BadInput."""
    if value is None:
        return None
    kind = table.c[key].type.python_type
    if kind is object:  # the types that tell no more
        kind = str if isinstance(table.c[key].type, AutoString) else object
    try:
        if kind is UUID:
            return UUID(value)
        if kind is datetime:
            return datetime.fromisoformat(value)
        if kind is date:
            return date.fromisoformat(value)
        if kind is bytes:
            return base64.b64decode(value, validate=True)
        if kind is float and isinstance(value, int) and not isinstance(value, bool):
            return float(value)
    except (ValueError, TypeError, AttributeError):
        raise BadInput(key, f"{key} = “{str(value)[:60]}” can't be right.") from None
    if not isinstance(value, kind):
        raise BadInput(key, f"{key} = “{str(value)[:60]}” can't be right.")
    return value

"""The whole studio as one open file (JSON): every record as it is kept, ids and times and all.

``{"pondus_studio": 1, "saved_at": "...", "tables": {"person": [{...}, ...], ...}}``. Tables stand in an order in which each
only speaks of ones before it; what is worked out from the others (digests, sortings) is left out. Times are ISO 8601 with their
zone, bytes Base64. Reading a file and writing it again gives the same file, but for ``saved_at``.
"""

import base64
import json
from collections.abc import Iterator
from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Table, insert, select
from sqlmodel import Session, SQLModel

from pondus.core.errors import BadInput
from pondus.store.tables import now

VERSION = 1
DERIVED = frozenset({"digest", "swept"})
TOGETHER = 2_000


def tables() -> list[Table]:
    """What is kept, each after those it speaks of."""
    return [each for each in SQLModel.metadata.sorted_tables if each.name not in DERIVED]


def saved(session: Session) -> Iterator[str]:
    """The studio's file, piece by piece."""
    yield f'{{"pondus_studio": {VERSION},\n"saved_at": {json.dumps(now().isoformat())},\n"tables": {{'
    for place, table in enumerate(tables()):
        yield f"{',' if place else ''}\n{json.dumps(table.name)}: ["
        order = [table.c.simulated_of.is_not(None)] if "simulated_of" in table.c else []
        asked = select(table).order_by(*order, *table.primary_key.columns).execution_options(yield_per=TOGETHER)
        for number, row in enumerate(session.execute(asked).mappings()):
            plain = {key: _plain(value) for key, value in row.items()}
            yield f"{',' if number else ''}\n{json.dumps(plain, ensure_ascii=False)}"
        yield "]"
    yield "}}\n"


def _plain(value: Any) -> Any:
    if isinstance(value, datetime | date):
        return value.isoformat()
    if isinstance(value, UUID):
        return str(value)
    if isinstance(value, bytes | memoryview):
        return base64.b64encode(bytes(value)).decode()
    return value


def restored(session: Session, content: bytes) -> int:
    """Put a studio's file into an empty studio; how many records it held. All or nothing, once the session is committed.

    Raises BadInput for what isn't such a file, one of a newer Pondus, or a studio that isn't empty.
    """
    found = _read(content)
    kept = next((each.name for each in tables() if session.execute(select(each).limit(1)).first() is not None), None)
    if kept is not None:
        raise BadInput(
            "file", "This studio isn't empty, and nothing of it is overwritten; bring the file into an empty one."
        )
    count = 0
    for table in tables():
        rows = [_row(table, each) for each in found.get(table.name, [])]
        count += len(rows)
        for start in range(0, len(rows), TOGETHER):
            session.execute(insert(table), rows[start : start + TOGETHER])
    return count


def _read(content: bytes) -> dict[str, list[dict[str, Any]]]:
    try:
        found = json.loads(content)
    except ValueError:
        raise BadInput("file", "That isn't a studio's file: it is no JSON, or breaks off.") from None
    version = found.get("pondus_studio") if isinstance(found, dict) else None
    if not isinstance(version, int) or not isinstance(found.get("tables"), dict):
        raise BadInput("file", "That isn't a studio's file; it should begin with “pondus_studio”.")
    if version > VERSION:
        raise BadInput(
            "file",
            f"That file is of a newer Pondus: its form is {version}, this one reads {VERSION}. Bring this up to date.",
        )
    known = {each.name for each in tables()}
    other = next((name for name in found["tables"] if name not in known), None)
    if other is not None:
        raise BadInput("file", f"That file holds “{other}”, which this Pondus doesn't know; bring it up to date.")
    return dict(found["tables"])


def _row(table: Table, plain: dict[str, Any]) -> dict[str, Any]:
    """A record with its values as the table has them. Raises BadInput for one that can't be."""
    row = {}
    for key, value in plain.items():
        if key not in table.c:
            raise BadInput("file", f"A {table.name} with “{key}” is nothing this Pondus knows; bring it up to date.")
        try:
            row[key] = None if value is None else _typed(table.c[key].type.python_type, value)
        except (ValueError, TypeError):
            raise BadInput("file", f"{table.name}: {key} = “{value}” can't be; the file was changed by hand?") from None
    return row


def _typed(kind: type, value: Any) -> Any:
    if kind is UUID:
        return UUID(value)
    if kind is datetime:
        return datetime.fromisoformat(value)
    if kind is date:
        return date.fromisoformat(value)
    if kind is bytes:
        return base64.b64decode(value, validate=True)
    return value

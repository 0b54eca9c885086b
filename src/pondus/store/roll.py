"""The roll at a look: every instrument with its strings, its player, when it was last tuned. Plain data, in two queries."""

from typing import Any
from uuid import UUID

from sqlalchemy import func, true
from sqlmodel import Session, SQLModel, col, select

from pondus.core.in_order import as_looked_for
from pondus.core.instruments import INSTRUMENTS
from pondus.store.care import out_at_luthier
from pondus.store.summaries import NOT_AHEAD
from pondus.store.tables import InstrumentRow, PersonRow, StringRow, TuningRow


def roll(session: Session, *, retired: bool = False) -> list[dict[str, Any]]:
    """All instruments in use (``retired``: and those no longer), by label, strings thickest first; simulated ones left out."""
    instruments, strings = _table(InstrumentRow), _table(StringRow)
    last = (
        select(func.max(TuningRow.started_at).label("last_tuned"))
        .where(TuningRow.instrument_id == instruments.c.id, NOT_AHEAD)
        .lateral()
    )
    asked: Any = (
        select(instruments, col(PersonRow.name).label("player"), last.c.last_tuned)
        .select_from(instruments)
        .outerjoin(PersonRow, col(PersonRow.id) == instruments.c.player_id)
        .outerjoin(last, true())
        .where(instruments.c.simulated_of.is_(None))
    )
    rows = session.execute(asked if retired else asked.where(instruments.c.retired_at.is_(None))).mappings().all()
    rows = sorted(rows, key=lambda row: as_looked_for(row["label"]))
    away = out_at_luthier(session)
    found: dict[UUID, dict[str, Any]] = {
        row["id"]: {**row, "retired": row["retired_at"] is not None, "at_luthier": row["id"] in away, "strings": []}
        for row in rows
    }
    for string in session.execute(select(strings)).mappings().all():
        if string["instrument_id"] in found:
            found[string["instrument_id"]]["strings"].append(string)
    for entry in found.values():
        order = INSTRUMENTS[entry["kind"]].string_names
        entry["strings"].sort(key=lambda string: order.index(string["name"]))
    return list(found.values())


def _table(model: type[SQLModel]) -> Any:
    """The plain table of a model: rows without an object for each."""
    return model.__table__  # type: ignore[attr-defined]

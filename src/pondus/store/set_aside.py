"""Records that can't be used as they stand: kept whole, with the reason and what they belong to."""

from dataclasses import dataclass
from typing import Any, TypeVar
from uuid import UUID

from sqlmodel import Session, SQLModel, col, select

from pondus.core.clock import said_day
from pondus.store.database import TABLES
from pondus.store.settings import studio_clock
from pondus.store.tables import InstrumentRow, SetAsideRow, TuningRow

AHEAD = "Begun on {day} by this computer's clock, which was ahead then; it is left aside until that day."
Row = TypeVar("Row", bound=SQLModel)


@dataclass(frozen=True)
class SetAside:
    """One record. ``said``: what it is and whose, as in "reading of A, Knot"."""

    id: UUID
    of_table: str
    said: str
    reason: str
    content: dict[str, Any]


def set_aside(session: Session) -> list[SetAside]:
    """Every record that was set aside, by kind; and tunings that were begun while a clock was ahead."""
    rows = session.exec(select(SetAsideRow).order_by(SetAsideRow.of_table, col(SetAsideRow.id))).all()
    kept = [SetAside(row.id, row.of_table, _said(session, row), row.reason, row.content) for row in rows]
    return kept + _ahead(session)


def _ahead(session: Session) -> list[SetAside]:
    clock = studio_clock(session)
    found = session.exec(
        select(TuningRow.id, TuningRow.started_at, InstrumentRow.label)
        .join(InstrumentRow, col(InstrumentRow.id) == col(TuningRow.instrument_id))
        .where(TuningRow.started_at >= clock.day_ends)
        .order_by(col(TuningRow.started_at))
    ).all()
    return [
        SetAside(key, "tuning", f"tuning, {label}", AHEAD.format(day=said_day(clock.day_of(at))), {})
        for key, at, label in found
    ]


def _said(session: Session, row: SetAsideRow) -> str:
    told = row.content
    string = told.get("string") or (told.get("name") if row.of_table == "string" else None)
    of = f" of {string}" if isinstance(string, str) else ""
    whose = told.get("label") or told.get("file_name") or _label(session, told)
    return f"{TABLES.get(row.of_table, 'record')}{of}" + (f", {whose}" if whose else "")


def _label(session: Session, told: dict[str, Any]) -> str | None:
    """The instrument that a record speaks of, if it is there."""
    tuning = _get(session, TuningRow, told.get("tuning_id"))
    found = _get(session, InstrumentRow, told.get("instrument_id") if tuning is None else str(tuning.instrument_id))
    return None if found is None else found.label


def _get(session: Session, table: type[Row], key: object) -> Row | None:
    try:
        return session.get(table, UUID(str(key)))
    except ValueError:
        return None

"""Rows to the core's records, and back. No rule here."""

from collections.abc import Sequence
from dataclasses import fields
from functools import cache
from typing import Any, TypeVar

from sqlmodel import SQLModel

from pondus.core.hands.records import FifthCheck, FittedInstrument, FittedString, Move, Reading, Tuning
from pondus.core.instruments import instrument_named
from pondus.core.judgement.habits import check_habits
from pondus.core.judgement.heard import Heard
from pondus.store.tables import CareRow, EntryRow, FifthCheckRow, InstrumentRow, MoveRow, ReadingRow, StringRow, TuningRow

Kept = TypeVar("Kept")


@cache
def _shared(kind: Any, row: type[SQLModel]) -> frozenset[str]:
    return frozenset(field.name for field in fields(kind)) & frozenset(row.model_fields)


def _record(kind: type[Kept], row: SQLModel, **own: Any) -> Kept:
    """A row as the core's record: what has the same name in both, and what is told."""
    return kind(**{name: getattr(row, name) for name in _shared(kind, type(row))} | own)  # type: ignore[arg-type]


def entry_of(kind: type[Kept], row: EntryRow | CareRow, **own: Any) -> Kept:
    """A line of a log, and whether it was struck out."""
    return _record(kind, row, voided=row.struck_at is not None, void_reason=row.struck_reason, **own)


def reading_of(row: ReadingRow) -> Reading:
    """A kept reading."""
    return entry_of(Reading, row, heard=_record(Heard, row), read_at_a4=row.a4)


def move_of(row: MoveRow) -> Move:
    """A kept move."""
    return entry_of(Move, row, exact=row.amount_known)


def check_of(row: FifthCheckRow) -> FifthCheck:
    """A kept check of a fifth."""
    return entry_of(FifthCheck, row, string=row.lower)


def tuning_of(row: TuningRow) -> Tuning:
    """A kept tuning."""
    return _record(Tuning, row, habits=check_habits(row.habits))


def fitted_instrument(row: InstrumentRow, strings: Sequence[StringRow]) -> FittedInstrument:
    """An instrument with what is on it, thickest string first, its screws where somebody last saw them."""
    fitted = {string.name: _record(FittedString, string) for string in strings}
    in_order = tuple(fitted[name] for name in instrument_named(row.kind).string_names if name in fitted)
    return FittedInstrument(row.id, row.label, row.kind, row.size, in_order, row.hours_per_week, row.bridge)

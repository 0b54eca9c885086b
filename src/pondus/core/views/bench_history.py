"""The history of a tuning as the bench lists it, the newest first."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal
from uuid import UUID

from pondus.core.hands.records import Entry, Move, Reading, TuningLog
from pondus.core.pitch.notes import Spelling
from pondus.core.views.bench_words import move_made, shown


@dataclass(frozen=True)
class HistoryLine:
    """One line of this tuning's history. ``late``: it was made on an older state of its string, and doesn't count; ``taken``:
    nobody told of it.
    """

    id: UUID
    kind: Literal["reading", "move"]
    string: str
    at: datetime
    text: str
    source: str | None
    struck: bool
    struck_reason: str | None
    late: bool
    entered_by: UUID | None = None
    taken: bool = False


def history_of(log: TuningLog) -> list[HistoryLine]:
    """Every reading and move of a tuning, the newest first, voided and late ones too."""
    entries: list[Reading | Move] = [*(reading for reading in log.readings if not reading.passing), *log.moves]
    return [_history(entry, log.tuning.spelling) for entry in sorted(entries, key=_newest_first)]


def _read(reading: Reading, spelling: Spelling) -> str:
    said = shown(reading.heard, spelling)
    if reading.retuned:
        return f"{said}; at another A, so it doesn’t count"
    return f"{said}; it didn’t come again, so it doesn’t count" if reading.misread else said


def _newest_first(entry: Entry) -> float:
    return -entry.seq


def _history(entry: Reading | Move, spelling: Spelling) -> HistoryLine:
    reading = isinstance(entry, Reading)
    return HistoryLine(
        id=entry.id,
        kind="reading" if reading else "move",
        string=entry.string,
        at=entry.at,
        text=_read(entry, spelling) if isinstance(entry, Reading) else move_made(entry),
        source=entry.source if isinstance(entry, Reading) else None,
        struck=entry.voided,
        struck_reason=entry.void_reason,
        late=entry.late,
        entered_by=entry.entered_by,
        taken=isinstance(entry, Move) and entry.taken,
    )

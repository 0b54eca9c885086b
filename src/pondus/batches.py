"""Hearing recordings from disk: one, or a list of them in order."""

import json
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from pydantic import TypeAdapter, ValidationError
from rich.console import Console
from rich.progress import Progress

from pondus.contracts.base import Contract, refused
from pondus.contracts.fifth import FifthResult, pair_of
from pondus.contracts.hearing import HearingResult
from pondus.core.errors import BadInput, PondusError, UnreadableSound
from pondus.core.hearing.double_stop import check_neighbours, hear_fifth
from pondus.core.hearing.hear import hear
from pondus.core.instruments import instrument_named
from pondus.core.pitch.notes import check_a4
from pondus.recordings import read_sound


class BatchEntry(Contract):
    """One recording of a list; its path is relative to the list's own."""

    file: str
    instrument: str
    string: str | None = None
    strings: tuple[str, str] | str | None = None


@dataclass(frozen=True)
class Unreadable:
    """A recording of a list that could not be heard, and why; the others go on."""

    file: str
    message: str

    double_stop: bool = False

    def as_result(self) -> HearingResult | FifthResult:
        """As a line of the batch: not usable, without a reason of hearing."""
        shape = FifthResult if self.double_stop else HearingResult
        return shape(file=self.file, usable=False)


def hear_file(path: Path, *, name: str, instrument: str, string: str | None, a4: float) -> HearingResult:
    """Hear one recording. Raises BadInput, UnreadableSound."""
    kind = instrument_named(instrument)
    if string is not None:
        kind.string(string)
    check_a4(a4)
    return HearingResult.of(hear(read_sound(path, name=name), kind, string=string, a4=a4), file=name)


def hear_fifth_file(path: Path, *, name: str, instrument: str, strings: tuple[str, str], a4: float) -> FifthResult:
    """Hear one recording of a double stop. Raises BadInput, UnreadableSound."""
    kind = instrument_named(instrument)
    check_neighbours(kind, strings)
    check_a4(a4)
    return FifthResult.of(hear_fifth(read_sound(path, name=name), kind, strings=strings, a4=a4), file=name)


def _hear_entry(entry: BatchEntry, folder: Path, a4: float) -> HearingResult | FifthResult:
    path = folder / entry.file
    if entry.strings is None:
        return hear_file(path, name=entry.file, instrument=entry.instrument, string=entry.string, a4=a4)
    if entry.string is not None:
        raise BadInput("strings", f"“{entry.file}” names string and strings; give one of them.")
    strings = pair_of(entry.strings) if isinstance(entry.strings, str) else entry.strings
    return hear_fifth_file(path, name=entry.file, instrument=entry.instrument, strings=strings, a4=a4)


def hear_batch(manifest: Path, *, a4: float) -> Iterator[HearingResult | FifthResult | Unreadable]:
    """Hear a list's recordings in order, with a progress bar where a person watches.

    Raises BadInput or UnreadableSound for the list itself; a recording that can't be read is one result of many.
    """
    entries = _entries(manifest)
    check_a4(a4)
    watched = Console(stderr=True)
    with Progress(console=watched, disable=not watched.is_terminal or len(entries) < 5) as progress:
        for entry in progress.track(entries, description="Hearing"):
            try:
                yield _hear_entry(entry, manifest.parent, a4)
            except PondusError as error:
                yield Unreadable(entry.file, error.message, double_stop=entry.strings is not None)


def _entries(manifest: Path) -> list[BatchEntry]:
    try:
        text = manifest.read_text(encoding="utf-8")
        json.loads(text)
    except OSError as error:
        raise UnreadableSound(f"The list “{manifest}” can't be opened ({error.strerror}).") from error
    except (ValueError, RecursionError) as error:
        raise BadInput("batch", f"The list “{manifest}” is not JSON ({error}); it is a list of recordings.") from error
    try:
        return TypeAdapter(list[BatchEntry]).validate_json(text, strict=True)
    except ValidationError as error:
        raise refused(error) from None

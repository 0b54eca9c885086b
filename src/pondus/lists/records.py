"""Rows of a list checked one by one: each a record, or a reason why it can't be."""

from collections.abc import Callable, Hashable, Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, field
from datetime import date, datetime, timedelta
from types import MappingProxyType
from typing import Any
from uuid import UUID

from pondus.core.clock import MORNING, NOON, Clock, check_moment
from pondus.core.entries.instruments import DETAILS, instrument_entry
from pondus.core.entries.log import move_entry, reading_entry
from pondus.core.entries.people import check_name, person_entry
from pondus.core.entries.typed import SIDES
from pondus.core.entries.upkeep import care_entry, climate_entry
from pondus.core.errors import BadInput, BadWord
from pondus.core.group.people import STAGES
from pondus.core.instruments import INSTRUMENTS, Instrument, instrument_named
from pondus.core.judgement.heard import Heard, ShownSide
from pondus.core.pitch.notes import name_of
from pondus.lists import values, words
from pondus.lists.columns import ListKind
from pondus.lists.text import Table
from pondus.lists.writing import unguarded

REPORT_EVERY = 2_000
MOST_ROWS = 200_000

Cells = Mapping[str, str]


@dataclass(frozen=True)
class Known:
    """What the studio has already: instruments by label (lower case) with their kind, the strings of each that have no fine
    tuner, people by name, and by what tells one from another, entries of the kind that is brought.
    """

    instruments: Mapping[str, tuple[UUID, str]]
    without_tuner: frozenset[tuple[UUID, str]] = frozenset()
    people: Mapping[str, UUID] = field(default_factory=dict)
    entries: frozenset[tuple[Hashable, ...]] = frozenset()


@dataclass(frozen=True)
class Record:
    """One good row: the line it stands on, what it says, by field, and the fields whose cells aren't empty."""

    line: int
    says: dict[str, Any]
    told: frozenset[str] = frozenset()


@dataclass(frozen=True)
class BadRow:
    """One row that can't be stored, and why. ``word``: one of its ``field`` that isn't known and may be one of ``choices``."""

    line: int
    said: str
    field: str | None = None
    word: str | None = None
    choices: tuple[str, ...] = ()


def bad_row(line: int, error: BadInput) -> BadRow:
    """A row with what is wrong with it."""
    said = error.message.rstrip(".")
    return BadRow(line, said, error.field, error.word, error.choices) if isinstance(error, BadWord) else BadRow(line, said)


@dataclass
class Looked:
    """A list looked through: its good rows and its bad ones."""

    records: list[Record] = field(default_factory=list)
    bad: list[BadRow] = field(default_factory=list)


def look_through(
    table: Table,
    kind: ListKind,
    columns: Sequence[str | None],
    order: values.DateOrder,
    known: Known,
    *,
    taken_as: Mapping[str, Mapping[str, str]] = MappingProxyType({}),
    clock: Clock,
) -> Iterator[int | Looked]:
    """Every row checked: now and then how many are done, at last what was found. ``columns``: the field of each column;
    ``taken_as``: by field, what words (in small letters) are said to mean.

    Raises BadInput for a list of more rows than are stored at once.
    """
    if len(table.rows) > MOST_ROWS:
        raise BadInput("file", f"The list has {len(table.rows):,} rows; split it, {MOST_ROWS:,} at a time.")
    looked = Looked()
    reader = _READERS[kind](known, order, clock)
    places = [(place, name) for place, name in enumerate(columns) if name is not None]
    for number, (line, row) in enumerate(table.rows):
        cells = {name: unguarded(row[place].strip()) if place < len(row) else "" for place, name in places}
        cells |= {name: meant.get(cells[name].casefold(), cells[name]) for name, meant in taken_as.items() if name in cells}
        try:
            if len(row) > len(table.headers) and any(cell.strip() for cell in row[len(table.headers) :]):
                raise BadInput("row", f"it has {len(row)} cells under {len(table.headers)} headers; is a separator too many?")
            looked.records.append(Record(line, reader(cells, line), frozenset(name for name in cells if cells[name])))
        except BadInput as error:
            looked.bad.append(bad_row(line, error))
        if number % REPORT_EVERY == REPORT_EVERY - 1:
            yield number + 1
    yield looked


Reader = Callable[[Cells, int], dict[str, Any]]


def _needed(cells: Cells, name: str) -> str:
    text = cells.get(name, "")
    if not text:
        raise BadInput(name, f"its {name} is empty")
    return text


class _Once:
    """Labels and names that may stand in a list, and in the studio, only once."""

    def __init__(self, kept: Mapping[str, Any], what: str) -> None:
        self.kept, self.what = kept, what
        self.lines: dict[str, int] = {}

    def check(self, text: str, line: int) -> None:
        key = text.casefold()
        if key in self.lines:
            raise BadInput(self.what, f"“{text}” is on line {self.lines[key]} already")
        if key in self.kept:
            raise BadInput(self.what, f"“{text}” is on the roll already")
        self.lines[key] = line


def _whole_name(cells: Cells, field: str) -> str:
    """A name from one column or two, the first name first."""
    return " ".join(part for part in (cells.get("first_name", ""), cells.get(field, "")) if part)


def _roll(known: Known, order: values.DateOrder, clock: Clock) -> Reader:
    once = _Once({}, "label")

    def read(cells: Cells, line: int) -> dict[str, Any]:
        player = _whole_name(cells, "player")
        if player and not cells.get("label") and not cells.get("kind"):
            return {"label": None, "player": check_name(player)}
        label = _needed(cells, "label")
        kind = words.kind_of(_needed(cells, "kind"))
        instrument = instrument_named(kind)
        entry = instrument_entry(
            label=label,
            kind=kind,
            size=words.size_of(cells.get("size", "")),
            note=cells.get("note", ""),
            hours_per_week=values.figure(cells["hours"], "hours") if cells.get("hours") else None,
            details={name: cells[name] for name in DETAILS if name in cells},
            strings={string.name: _fittings(cells, string.roman, string.name, order) for string in instrument.strings},
            clock=clock,
        )
        once.check(entry.label, line)
        return {
            "label": entry.label,
            "kind": entry.kind,
            "size": entry.size,
            "player": check_name(player) if player else None,
            "hours": entry.hours_per_week,
            "note": entry.note,
            "details": dict(entry.details),
            "strings": {name: asdict(string) for name, string in entry.strings.items()},
        }

    return read


def _fittings(cells: Cells, place: str, name: str, order: values.DateOrder) -> dict[str, Any]:
    """One string's fittings: what stands in its own columns, else what is said of all strings."""

    def cell(field_name: str, of_all: str | None = None) -> str:
        return cells.get(f"{place} {field_name}", "") or (cells.get(of_all, "") if of_all else "")

    found: dict[str, Any] = {}
    if cell("put_on", "put_on"):
        found["put_on"] = values.day(cell("put_on", "put_on"), order, "put on")
    if cell("core", "core"):
        found["core"] = _one_of(cell("core", "core"), ("steel", "synthetic"), "core")
    if cell("fine_tuner"):
        found["has_fine_tuner"] = values.yes(cell("fine_tuner"), "fine tuner")
    elif cells.get("fine_tuners"):
        found["has_fine_tuner"] = _has_tuner(cells["fine_tuners"], name)
    if cell("screw"):
        found["screw_turns"] = values.figure(cell("screw"), "screw")
    if cell("peg"):
        found["peg_kind"] = _one_of(cell("peg"), ("friction", "geared"), "peg")
    if cell("peg_state"):
        found["peg_state"] = _one_of(cell("peg_state"), ("ok", "slips", "sticks", "out"), "peg state")
    if cell("winding"):
        found["winding"] = _one_of(cell("winding"), ("normal", "reversed"), "winding")
    return found


def _has_tuner(text: str, name: str) -> bool:
    """``all``, ``none``, or the letters of the strings that have one."""
    plain = text.strip().casefold().removesuffix("only").removeprefix("nur").strip()
    if plain in ("all", "every", "4", "alle", "tous", "yes", "ja", "oui", "x"):
        return True
    if plain in ("none", "no", "0", "-", "keine", "nein", "non", "aucun"):
        return False
    letters = {character.upper() for character in plain if character.isalpha()}
    if not letters or not letters <= set("GDAEC"):
        raise BadInput("fine_tuners", f"“{text}” doesn't say which fine tuners; write all, none, or letters as in E or G D")
    return name in letters


def _one_of(text: str, choices: tuple[str, ...], name: str) -> str:
    plain = text.strip().casefold()
    if plain not in choices:
        raise BadInput(name, f"“{text}” isn't a valid {name}; choose from {', '.join(choices)}")
    return plain


def _people(known: Known, order: values.DateOrder, clock: Clock) -> Reader:
    once = _Once(known.people, "name")

    def read(cells: Cells, line: int) -> dict[str, Any]:
        entry = person_entry(
            name=_whole_name(cells, "name") or _needed(cells, "name"),
            role=words.role_of(cells.get("role", "") or "player"),
            cleared=_stages(cells.get("cleared", "")),
            note=cells.get("note", ""),
        )
        once.check(entry.name, line)
        return {"name": entry.name, "role": entry.role, "cleared": list(entry.cleared), "note": entry.note}

    return read


def _stages(text: str) -> list[int]:
    """``1 2 3``, ``1-3``; a single stage means all up to it."""
    plain = text.replace("–", "-").replace(",", " ").replace(";", " ").strip()
    if not plain:
        return []
    try:
        if "-" in plain:
            first, last = (int(part) for part in plain.split("-"))
            return list(range(first, min(last, len(STAGES) + 1) + 1))
        stages = [int(part) for part in plain.split()]
    except ValueError:
        raise BadInput("cleared", f"“{text}” doesn't say which stages; write 1 to {len(STAGES)}, as in 1 2 3 or 1-3") from None
    return list(range(1, min(stages[0], len(STAGES) + 1) + 1)) if len(stages) == 1 else stages


def _instrument_of(cells: Cells, known: Known) -> tuple[UUID, Instrument]:
    label = _needed(cells, "label")
    found = known.instruments.get(label.casefold())
    if found is None:
        raise BadInput("label", f"there is no “{label}” on the roll")
    return found[0], INSTRUMENTS[found[1]]


def _string_of(cells: Cells, instrument: Instrument) -> str:
    text = _needed(cells, "string")
    named = next((string.name for string in instrument.strings if text.upper() in (string.name, string.roman)), None)
    if named is None:
        raise BadInput("string", f"a {instrument.kind} has no “{text}” string")
    return named


class _Times:
    """The moment of each entry; where only the day is known, the morning, a second after the one before."""

    def __init__(self, order: values.DateOrder, clock: Clock) -> None:
        self.order, self.clock = order, clock
        self.last: dict[tuple[UUID, date], datetime] = {}

    def of(self, cells: Cells, instrument: UUID) -> datetime:
        text = _needed(cells, "date")
        at = values.moment(text, cells.get("time", ""), self.order, zone=self.clock.zone)
        if at is not None:
            return check_moment(at, self.clock, field="date")
        on = values.day(text, self.order)
        before = self.last.get((instrument, on), self.clock.at(on, MORNING))
        self.last[instrument, on] = before + timedelta(seconds=1)
        return check_moment(self.last[instrument, on], self.clock, field="date")


Says = Callable[[Cells, UUID, Instrument, str], dict[str, Any]]


class _OneOfEach:
    """Entries that count once, however often their list is brought."""

    def __init__(self, known: Known, what: str) -> None:
        self.kept, self.what = known.entries, what
        self.lines: dict[tuple[Hashable, ...], int] = {}

    def check(self, key: tuple[Hashable, ...], line: int, *named: str) -> None:
        if key in self.lines:
            raise BadInput("date", f"{self.what.format(*named)} is on line {self.lines[key]} already")
        if key in self.kept:
            raise BadInput("date", f"{self.what.format(*named)} is kept already")
        self.lines[key] = line


def _entry(known: Known, order: values.DateOrder, clock: Clock, says: Says) -> Reader:
    """A reading or a move: of which string, when, and what."""
    times = _Times(order, clock)
    once = _OneOfEach(known, "the {} string of that moment")

    def read(cells: Cells, line: int) -> dict[str, Any]:
        instrument_id, instrument = _instrument_of(cells, known)
        string = _string_of(cells, instrument)
        at = times.of(cells, instrument_id)
        found = says(cells, instrument_id, instrument, string)
        once.check((instrument_id, string, at), line, string)
        return {"instrument_id": instrument_id, "string": string, "at": at, **found}

    return read


def _readings(known: Known, order: values.DateOrder, clock: Clock) -> Reader:
    return _entry(known, order, clock, _heard)


def _heard(cells: Cells, instrument_id: UUID, instrument: Instrument, string: str) -> dict[str, Any]:
    """A frequency, a note with cents, cents of the string's own note, or no more than a side or a note."""
    spread = values.figure(cells["spread"], "spread") if cells.get("spread") else None
    if cells.get("hz"):
        heard = Heard(hz=values.figure(cells["hz"], "hz"))
    else:
        if not cells.get("cents") and not cells.get("shown") and not cells.get("side"):
            raise BadInput("cents", "neither cents nor Hz are given")
        cents = values.figure(cells["cents"], "cents") if cells.get("cents") else None
        note = cells.get("shown") or (None if cents is None else name_of(instrument.string(string).note_number))
        heard = Heard(note=note, cents=cents, side=_side(cells.get("side")))
    entry = reading_entry(instrument.string(string), heard, source="list", spread_cents=spread)
    return {
        "note": entry.heard.note,
        "cents": entry.heard.cents,
        "hz": entry.heard.hz,
        "side": entry.heard.side,
        "spread_cents": entry.spread_cents,
    }


def _side(cell: str | None) -> ShownSide | None:
    if not cell:
        return None
    side = SIDES.get(cell.strip().casefold().replace("-", " "))
    if side is None:
        raise BadInput(
            "side",
            f"“{cell}” isn't a valid side; choose from flat, in tune, sharp; much lower, lower, same, higher, much higher",
        )
    return side


def _moves(known: Known, order: values.DateOrder, clock: Clock) -> Reader:
    called = {"screw": "fine-tuner", "fine tuner": "fine-tuner", "adjuster": "fine-tuner"}
    ways = {"up": "raise", "down": "lower"}

    def moved(cells: Cells, instrument_id: UUID, instrument: Instrument, string: str) -> dict[str, Any]:
        mechanism = _needed(cells, "mechanism").casefold()
        mechanism = called.get(mechanism, mechanism)
        direction = _needed(cells, "direction").casefold()
        unit = (cells.get("unit") or ("degree" if mechanism == "peg" else "turn")).casefold().rstrip("s")
        entry = move_entry(
            instrument.string(string),
            mechanism=mechanism,
            direction=ways.get(direction, direction),
            amount=values.figure(_needed(cells, "amount"), "amount"),
            unit="degree" if unit == "°" else unit,
            has_fine_tuner=(instrument_id, string) not in known.without_tuner,
        )
        return {"mechanism": entry.mechanism, "direction": entry.direction, "amount": entry.amount, "unit": entry.unit}

    return _entry(known, order, clock, moved)


def _room(known: Known, order: values.DateOrder, clock: Clock) -> Reader:
    once = _OneOfEach(known, "the room’s air of that moment")

    def read(cells: Cells, line: int) -> dict[str, Any]:
        text = _needed(cells, "date")
        at = values.moment(text, cells.get("time", ""), order, zone=clock.zone)
        entry = climate_entry(
            at=at or clock.at(values.day(text, order), MORNING),
            clock=clock,
            humidity=values.figure(cells["humidity"], "humidity") if cells.get("humidity") else None,
            celsius=values.figure(cells["celsius"], "celsius") if cells.get("celsius") else None,
        )
        once.check((entry.at,), line)
        return {"at": entry.at, "humidity": entry.humidity, "celsius": entry.celsius}

    return read


def _care(known: Known, order: values.DateOrder, clock: Clock) -> Reader:
    called = {"new-string": "string-changed", "string": "string-changed"}
    once = _OneOfEach(known, "that entry of {}")

    def read(cells: Cells, line: int) -> dict[str, Any]:
        instrument_id, instrument = _instrument_of(cells, known)
        kind = _needed(cells, "kind").casefold().replace(" ", "-")
        kind = called.get(kind, kind)
        text = _needed(cells, "date")
        at = values.moment(text, "", order, zone=clock.zone) or clock.at(values.day(text, order), NOON)
        entry = care_entry(
            instrument,
            kind=kind,
            at=at,
            clock=clock,
            string=_string_of(cells, instrument) if cells.get("string") else None,
            symptom=_needed(cells, "sign").casefold() if kind == "fault" else None,
            said=cells.get("said", ""),
            due=values.day(cells["due"], order) if cells.get("due") else None,
        )
        told = (instrument_id, entry.at, entry.kind, entry.string, entry.symptom, entry.said)
        once.check(told, line, cells["label"])
        return {
            "instrument_id": instrument_id,
            "at": entry.at,
            "kind": entry.kind,
            "sign": entry.symptom,
            "string": entry.string,
            "said": entry.said,
            "due": entry.due,
        }

    return read


_READERS: dict[ListKind, Callable[[Known, values.DateOrder, Clock], Reader]] = {
    "roll": _roll,
    "people": _people,
    "readings": _readings,
    "moves": _moves,
    "room": _room,
    "care": _care,
}

"""Rows of a list checked one by one: each a record, or a reason why it can't be."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from uuid import UUID

from pondus.core.care import CARE_KINDS, SIGNS, of_string
from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS, Instrument, instrument_named
from pondus.core.judgement.situation import (
    FineTuner,
    Heard,
    RecentMove,
    check_fine_tuner,
    check_heard,
    check_recent_move,
)
from pondus.core.people import ROLES, STAGES, check_cleared
from pondus.core.pitch import name_of
from pondus.core.room import check_air
from pondus.lists import values
from pondus.lists.columns import PLACES, ListKind
from pondus.lists.text import Table

MORNING = time(8, 0)
"""When a reading was taken of which only the day is known."""
REPORT_EVERY = 2_000

Cells = Mapping[str, str]
_KINDS = {
    "violin": "violin", "violine": "violin", "geige": "violin", "vln": "violin", "vl": "violin", "fiddle": "violin",
    "viola": "viola", "bratsche": "viola", "vla": "viola",
    "cello": "cello", "violoncello": "cello", "vc": "cello", "vlc": "cello",
}  # fmt: skip


@dataclass(frozen=True)
class Known:
    """What the studio has already: instruments by label (lower case) with their kind, people by name, log entries."""

    instruments: Mapping[str, tuple[UUID, str]]
    people: Mapping[str, UUID] = field(default_factory=dict)
    entries: frozenset[tuple[UUID, str, datetime]] = frozenset()


@dataclass(frozen=True)
class Record:
    """One good row: the line it stands on, and what it says, by field."""

    line: int
    says: dict[str, Any]


@dataclass(frozen=True)
class BadRow:
    """One row that can't be stored, and why."""

    line: int
    said: str


@dataclass
class Looked:
    """A list looked through: its good rows and its bad ones."""

    records: list[Record] = field(default_factory=list)
    bad: list[BadRow] = field(default_factory=list)


def look_through(
    table: Table, kind: ListKind, columns: Mapping[str, str], order: values.DateOrder, known: Known
) -> Iterator[int | Looked]:
    """Every row checked: now and then how many are done, at last what was found. ``columns``: the field of each header."""
    looked = Looked()
    reader = _READERS[kind](known, order)
    places = [(table.headers.index(header), name) for header, name in columns.items()]
    for number, (line, row) in enumerate(table.rows):
        cells = {name: row[place].strip() if place < len(row) else "" for place, name in places}
        try:
            if len(row) > len(table.headers) and any(each.strip() for each in row[len(table.headers) :]):
                raise BadInput(
                    "row", f"it has {len(row)} cells under {len(table.headers)} headers; is a separator too many?"
                )
            looked.records.append(Record(line, reader(cells, line)))
        except BadInput as error:
            looked.bad.append(BadRow(line, error.message.rstrip(".")))
        if number % REPORT_EVERY == REPORT_EVERY - 1:
            yield number + 1
    yield looked


Reader = Callable[[Cells, int], dict[str, Any]]


def _needed(cells: Cells, name: str) -> str:
    text = cells.get(name, "")
    if not text:
        raise BadInput(name, f"its {name} is empty")
    return text


def _short(cells: Cells, name: str, most: int) -> str:
    text = cells.get(name, "")
    if len(text) > most:
        raise BadInput(name, f"its {name} has {len(text)} letters; keep to {most}")
    return text


class _Once:
    """Labels and names that may stand in a list, and in the studio, only once."""

    def __init__(self, kept: Mapping[str, Any], what: str) -> None:
        self.kept, self.what = kept, what
        self.lines: dict[str, int] = {}

    def check(self, text: str, line: int) -> None:
        key = text.casefold()
        if key in self.lines:
            raise BadInput(self.what, f"“{text}” stands on line {self.lines[key]} already")
        if key in self.kept:
            raise BadInput(self.what, f"“{text}” is on the roll already")
        self.lines[key] = line


def _roll(known: Known, order: values.DateOrder) -> Reader:
    once = _Once(known.instruments, "label")

    def read(cells: Cells, line: int) -> dict[str, Any]:
        label = _short({**cells, "label": _needed(cells, "label")}, "label", 80)
        kind = _KINDS.get(_needed(cells, "kind").casefold())
        if kind is None:
            raise BadInput("kind", f"“{cells['kind']}” is no violin, viola or cello")
        instrument = instrument_named(kind)
        size = instrument.size(_size(cells.get("size", "")))
        strings = {
            name: _fittings(cells, place, name, order)
            for place, name in zip(PLACES, instrument.string_names, strict=True)
        }
        hours = values.figure(cells["hours"], "hours") if cells.get("hours") else None
        once.check(label, line)
        return {
            "label": label,
            "kind": instrument.kind,
            "size": size,
            "player": _short(cells, "player", 80) or None,
            "hours": hours,
            "note": _short(cells, "note", 500),
            "strings": strings,
        }

    return read


def _size(text: str) -> str | None:
    plain = text.strip().removesuffix("″").removesuffix('"').removesuffix("in").strip()
    return {"": None, "full": "4/4", "1": "4/4"}.get(plain.casefold(), plain)


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
        check_fine_tuner(FineTuner(found["screw_turns"]))
    if cell("peg"):
        found["peg_kind"] = _one_of(cell("peg"), ("friction", "geared"), "peg")
    if cell("peg_state"):
        found["peg_state"] = _one_of(cell("peg_state"), ("ok", "slips", "sticks"), "peg state")
    if cell("winding"):
        found["winding"] = _one_of(cell("winding"), ("normal", "reversed"), "winding")
    return found


def _has_tuner(text: str, name: str) -> bool:
    """``all``, ``none``, or the letters of the strings that have one."""
    plain = text.strip().casefold()
    if plain in ("all", "every", "4", "alle"):
        return True
    if plain in ("none", "no", "0", "-", "keine"):
        return False
    letters = {each.upper() for each in plain if each.isalpha()}
    if not letters or not letters <= set("GDAEC"):
        raise BadInput("fine_tuners", f"“{text}” tells no fine tuners; write all, none, or letters as in E or G D")
    return name in letters


def _one_of(text: str, choices: tuple[str, ...], name: str) -> str:
    plain = text.strip().casefold()
    if plain not in choices:
        raise BadInput(name, f"“{text}” is no {name}; there is {', '.join(choices)}")
    return plain


def _people(known: Known, order: values.DateOrder) -> Reader:
    once = _Once(known.people, "name")

    def read(cells: Cells, line: int) -> dict[str, Any]:
        name = _short({**cells, "name": _needed(cells, "name")}, "name", 80)
        role = _one_of(cells.get("role", "") or "player", (*ROLES, "student", "pupil", "staff"), "role")
        role = {"student": "player", "pupil": "player", "staff": "helper"}.get(role, role)
        once.check(name, line)
        return {
            "name": name,
            "role": role,
            "cleared": _stages(cells.get("cleared", "")),
            "note": _short(cells, "note", 500),
        }

    return read


def _stages(text: str) -> list[int]:
    """``1 2 3``, ``1-3``; a single stage means all up to it."""
    plain = text.replace("–", "-").replace(",", " ").replace(";", " ").strip()
    if not plain:
        return []
    try:
        if "-" in plain:
            first, last = (int(each) for each in plain.split("-"))
            return check_cleared(range(first, last + 1))
        stages = [int(each) for each in plain.split()]
    except ValueError:
        raise BadInput("cleared", f"“{text}” tells no stages; write 1 to {len(STAGES)}, as in 1 2 3 or 1-3") from None
    return check_cleared(range(1, stages[0] + 1) if len(stages) == 1 else stages)


def _instrument_of(cells: Cells, known: Known) -> tuple[UUID, Instrument]:
    label = _needed(cells, "label")
    found = known.instruments.get(label.casefold())
    if found is None:
        raise BadInput("label", f"there is no “{label}” on the roll")
    return found[0], INSTRUMENTS[found[1]]


def _string_of(cells: Cells, instrument: Instrument) -> str:
    text = _needed(cells, "string")
    name = text.upper()
    if name in PLACES:
        return instrument.string_names[PLACES.index(name)]
    if name not in instrument.string_names:
        raise BadInput("string", f"a {instrument.kind} has no “{text}” string")
    return name


class _Times:
    """The moment of each entry; where only the day is known, the morning, a second after the one before."""

    def __init__(self, order: values.DateOrder) -> None:
        self.order = order
        self.last: dict[tuple[UUID, date], datetime] = {}

    def of(self, cells: Cells, instrument: UUID) -> datetime:
        text = _needed(cells, "date")
        at = values.moment(text, cells.get("time", ""), self.order)
        if at is not None:
            return at
        on = values.day(text, self.order)
        before = self.last.get((instrument, on), datetime.combine(on, MORNING, tzinfo=UTC))
        self.last[instrument, on] = before + timedelta(seconds=1)
        return self.last[instrument, on]


def _entry(known: Known, order: values.DateOrder, says: Callable[[Cells, Instrument, str], dict[str, Any]]) -> Reader:
    """A reading or a move: of which string, when, and what."""
    times = _Times(order)
    seen: dict[tuple[UUID, str, datetime], int] = {}

    def read(cells: Cells, line: int) -> dict[str, Any]:
        instrument_id, instrument = _instrument_of(cells, known)
        string = _string_of(cells, instrument)
        at = times.of(cells, instrument_id)
        _not_to_come(at)
        found = says(cells, instrument, string)
        key = (instrument_id, string, at)
        if key in seen:
            raise BadInput("date", f"the {string} string of that moment stands on line {seen[key]} already")
        if key in known.entries:
            raise BadInput("date", f"the {string} string of that moment is kept already")
        seen[key] = line
        return {"instrument_id": instrument_id, "string": string, "at": at, **found}

    return read


def _not_to_come(at: datetime) -> None:
    """Lists tell what was; a day's grace for clocks elsewhere."""
    if at > datetime.now(UTC) + timedelta(days=1):
        raise BadInput("date", f"{at.date().isoformat()} is still to come")


def _readings(known: Known, order: values.DateOrder) -> Reader:
    return _entry(known, order, _heard)


def _heard(cells: Cells, instrument: Instrument, string: str) -> dict[str, Any]:
    """A frequency, a note with cents, or cents of the string's own note."""
    spread = values.figure(cells["spread"], "spread") if cells.get("spread") else None
    if cells.get("hz"):
        heard = check_heard(Heard(hz=values.figure(cells["hz"], "hz")))
    else:
        if not cells.get("cents") and not cells.get("shown"):
            raise BadInput("cents", "neither cents nor Hz are given")
        note = cells.get("shown") or name_of(instrument.string(string).note_number)
        cents = values.figure(cells["cents"], "cents") if cells.get("cents") else 0.0
        heard = check_heard(Heard(note=note, cents=cents))
    return {"note": heard.note, "cents": heard.cents, "hz": heard.hz, "spread_cents": spread}


def _moves(known: Known, order: values.DateOrder) -> Reader:
    return _entry(known, order, _moved)


def _moved(cells: Cells, instrument: Instrument, string: str) -> dict[str, Any]:
    words = {"screw": "fine-tuner", "fine tuner": "fine-tuner", "adjuster": "fine-tuner"}
    mechanism = words.get(_needed(cells, "mechanism").casefold(), cells["mechanism"].casefold())
    mechanism = _one_of(mechanism, ("peg", "fine-tuner"), "mechanism")
    direction = {"up": "raise", "down": "lower"}.get(
        _needed(cells, "direction").casefold(), cells["direction"].casefold()
    )
    direction = _one_of(direction, ("raise", "lower"), "direction")
    amount = values.figure(_needed(cells, "amount"), "amount")
    unit = "degree" if mechanism == "peg" else "turn"
    if cells.get("unit") and cells["unit"].casefold().rstrip("s") not in (unit, "°"):
        raise BadInput("unit", f"a {mechanism} is counted in {unit}s, not in “{cells['unit']}”")
    check_recent_move(RecentMove(mechanism, direction, amount, unit, 0.0), FineTuner())  # type: ignore[arg-type]
    return {"mechanism": mechanism, "direction": direction, "amount": amount, "unit": unit}


def _room(known: Known, order: values.DateOrder) -> Reader:
    def read(cells: Cells, line: int) -> dict[str, Any]:
        text = _needed(cells, "date")
        at = values.moment(text, cells.get("time", ""), order)
        humidity = values.figure(cells["humidity"], "humidity") if cells.get("humidity") else None
        celsius = values.figure(cells["celsius"], "celsius") if cells.get("celsius") else None
        check_air(humidity, celsius)
        at = at or datetime.combine(values.day(text, order), MORNING, tzinfo=UTC)
        _not_to_come(at)
        return {"at": at, "humidity": humidity, "celsius": celsius}

    return read


def _care(known: Known, order: values.DateOrder) -> Reader:
    def read(cells: Cells, line: int) -> dict[str, Any]:
        instrument_id, instrument = _instrument_of(cells, known)
        kind = _needed(cells, "kind").casefold().replace(" ", "-")
        kind = {"new-string": "string-changed", "string": "string-changed"}.get(kind, kind)
        kind = _one_of(kind, CARE_KINDS, "kind")
        sign = _one_of(_needed(cells, "sign"), tuple(SIGNS), "fault") if kind == "fault" else None
        string = _string_of(cells, instrument) if cells.get("string") else None
        if string is None and of_string(kind, sign):  # type: ignore[arg-type]
            raise BadInput("string", "its string is empty")
        text = _needed(cells, "date")
        at = values.moment(text, "", order) or datetime.combine(values.day(text, order), time(12), tzinfo=UTC)
        _not_to_come(at)
        due = values.day(cells["due"], order) if cells.get("due") else None
        return {
            "instrument_id": instrument_id,
            "at": at,
            "kind": kind,
            "sign": sign,
            "string": string,
            "said": _short(cells, "said", 500),
            "due": due,
        }

    return read


_READERS: dict[ListKind, Callable[[Known, values.DateOrder], Reader]] = {
    "roll": _roll,
    "people": _people,
    "readings": _readings,
    "moves": _moves,
    "room": _room,
    "care": _care,
}

"""Which column is what: headers as teachers write them, recognised or asked for."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from pondus.core.entries.instruments import DETAILS
from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS, ROMANS

ListKind = Literal["roll", "people", "readings", "moves", "room", "care"]


@dataclass(frozen=True)
class Field:
    """Something a list can hold: its name, how it is said, whether it must be there, headers it is known by."""

    name: str
    said: str
    needed: bool
    known_by: tuple[str, ...]


def _field(name: str, said: str, *known_by: str, needed: bool = False) -> Field:
    return Field(name, said, needed, (name, said, *known_by))


_LABEL = _field(
    "label",
    "label",
    "instrument label",
    "inventory",
    "inventory no",
    "inventory number",
    "inv nr",
    "inv no",
    "inventarnummer",
    "numéro",
    "numero",
    "number",
    "no",
    "nr",
    "name",
    "id",
    "tag",
    needed=True,
)
_STRING = _field("string", "string", "saite", needed=True)
_DATE = _field("date", "date", "day", "when", "at", "datum", "tag der messung", "timestamp", needed=True)
_TIME = _field("time", "time", "clock", "uhrzeit", "zeit")
_NOTE = _field("note", "note", "notes", "remark", "remarks", "comment", "comments", "bemerkung", "bemerkungen", "remarque")

_FIRST_NAME = _field("first_name", "first name", "vorname", "prénom", "prenom", "given name", "forename")
_LAST_NAME = ("last name", "surname", "family name", "nachname", "familienname", "zuname", "nom", "nom de famille")

PLACES = tuple(reversed(ROMANS[: max(len(instrument.strings) for instrument in INSTRUMENTS.values())]))
"""The places of strings, the thickest of whichever instrument has most first."""
_OF_PLACE = (
    ("put_on", "put on"),
    ("core", "core"),
    ("fine_tuner", "fine tuner"),
    ("screw", "screw turns"),
    ("peg", "peg"),
    ("peg_state", "peg state"),
    ("winding", "winding"),
)
_PER_PLACE = tuple(_field(f"{place} {name}", f"{place} {said}") for place in PLACES for name, said in _OF_PLACE)

FIELDS: dict[ListKind, tuple[Field, ...]] = {
    "roll": (
        _LABEL,
        _field("kind", "kind", "type", "instrument", "art", "instrument type", "instrumente", needed=True),
        _field("size", "size", "grösse", "größe", "groesse", "taille"),
        _field(
            "player",
            "who has it",
            "who",
            "player",
            "student",
            "pupil",
            "held by",
            "schüler",
            "spieler",
            "borrower",
            "élève",
            "eleve",
            *_LAST_NAME,
        ),
        _FIRST_NAME,
        _field("hours", "hours a week", "hours", "hours per week", "practice hours"),
        _field("put_on", "strings put on", "strings since", "string date", "new strings", "saiten seit"),
        _field("core", "core", "string core"),
        _field("fine_tuners", "fine tuners", "adjusters", "feinstimmer"),
        *(_field(name, detail.said, *detail.headers) for name, detail in DETAILS.items()),
        _NOTE,
        *_PER_PLACE,
    ),
    "people": (
        _field("name", "name", "person", "player", "student", "schüler", "élève", "initials", *_LAST_NAME, needed=True),
        _FIRST_NAME,
        _field("role", "role", "as", "rolle"),
        _field("cleared", "cleared for", "cleared", "stages", "stage", "clearance", "clearances"),
        _NOTE,
    ),
    "readings": (
        _LABEL,
        _STRING,
        _DATE,
        _TIME,
        _field("shown", "note", "note shown", "pitch"),
        _field("cents", "cents", "cent", "ct", "off"),
        _field("hz", "hz", "frequency", "frequenz"),
        _field("side", "side", "shown side"),
        _field("spread", "spread cents", "spread"),
    ),
    "moves": (
        _LABEL,
        _STRING,
        _DATE,
        _TIME,
        _field("mechanism", "mechanism", "what", "turned", needed=True),
        _field("direction", "direction", "way", needed=True),
        _field("amount", "amount", "how much", needed=True),
        _field("unit", "unit"),
    ),
    "room": (
        _DATE,
        _TIME,
        _field("humidity", "humidity", "rh", "relative humidity", "humidity %", "feuchte", "luftfeuchte"),
        _field("celsius", "celsius", "temperature", "temp", "°c", "degrees", "temperatur"),
    ),
    "care": (
        _LABEL,
        _DATE,
        _field("kind", "kind", "what", "event", needed=True),
        _field("string", "string", "saite"),
        _field("sign", "fault", "sign"),
        _field("said", "in words", "note", "notes", "remark"),
        _field("due", "back by", "due"),
    ),
}


def recognised(headers: Sequence[str], kind: ListKind) -> list[str | None]:
    """The field of each column, by its header, None where it isn't known; each field once, the surest header first. A *Name*
    that is nothing else is whoever has the instrument.

    >>> recognised(["Instrument label", "Art", "Größe", "Miete"], "roll")
    ['label', 'kind', 'size', None]
    >>> recognised(["Inv.-Nr.", "Name", "Vorname", "Instrument"], "roll")
    ['label', 'player', 'first_name', 'kind']
    """
    plain = [_plain(header) for header in headers]
    found: list[str | None] = [None] * len(headers)
    for place in range(max(len(field.known_by) for field in FIELDS[kind])):
        for field in FIELDS[kind]:
            if place < len(field.known_by) and field.name not in found:
                known = _plain(field.known_by[place])
                at = next((at for at, one in enumerate(plain) if found[at] is None and one == known), None)
                if at is not None:
                    found[at] = field.name
    if kind == "roll" and "player" not in found:
        at = next((at for at, one in enumerate(plain) if found[at] is None and one == "name"), None)
        if at is not None:
            found[at] = "player"
    return found


def guessed_kind(headers: Sequence[str]) -> ListKind:
    """The kind of list these headers speak of: all that it needs, and the most of them recognised.

    >>> guessed_kind(["date", "humidity", "temp"]), guessed_kind(["label", "kind", "size"])
    ('room', 'roll')
    """

    def fits(kind: ListKind) -> tuple[bool, int]:
        fields = recognised(headers, kind)
        return not missing(kind, fields), sum(field is not None for field in fields)

    return max(FIELDS, key=fits)


def missing(kind: ListKind, fields: Iterable[str | None]) -> list[Field]:
    """What a list of that kind must have and these fields don't. A first name is a name."""
    there = set(fields)
    if "first_name" in there:
        there.add("name")
    return [field for field in FIELDS[kind] if field.needed and field.name not in there]


def checked_columns(columns: Sequence[str | None], width: int, kind: ListKind) -> list[str | None]:
    """Which of ``width`` columns is what, in their order, as someone said it. Raises BadInput for a field there isn't, one said
    twice, or more columns than the list has.
    """
    names = {field.name for field in FIELDS[kind]}
    if len(columns) > width:
        raise BadInput("columns", f"The list has {width} columns; {len(columns)} are named.")
    unknown = next((column for column in columns if column is not None and column not in names), None)
    if unknown is not None:
        raise BadInput("columns", f"“{unknown}” is nothing this list can hold; leave that column out.")
    told = [column for column in columns if column is not None]
    twice = next((word for word in told if told.count(word) > 1), None)
    if twice is not None:
        raise BadInput("columns", f"Two columns can't both be “{twice}”; choose one.")
    return [*columns, *[None] * (width - len(columns))]


def _plain(header: str) -> str:
    return re.sub(r"[\s_.:()\-/]+", " ", header.casefold()).strip()

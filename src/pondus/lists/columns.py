"""Which column is what: headers as teachers write them, recognised or asked for."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from pondus.core.errors import BadInput

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
_NOTE = _field(
    "note", "note", "notes", "remark", "remarks", "comment", "comments", "bemerkung", "bemerkungen", "remarque"
)

PLACES = ("IV", "III", "II", "I")
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
        ),
        _field("hours", "hours a week", "hours", "hours per week", "practice hours"),
        _field("put_on", "strings put on", "strings since", "string date", "new strings", "saiten seit"),
        _field("core", "core", "string core"),
        _field("fine_tuners", "fine tuners", "adjusters", "feinstimmer"),
        _NOTE,
        *_PER_PLACE,
    ),
    "people": (
        _field("name", "name", "person", "player", "student", "schüler", "élève", "initials", needed=True),
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


def recognised(headers: Sequence[str], kind: ListKind) -> dict[str, str]:
    """The field of each header that is known; each field once, the surest header first.

    >>> recognised(["Instrument label", "Art", "Größe", "Miete"], "roll")
    {'Instrument label': 'label', 'Art': 'kind', 'Größe': 'size'}
    """
    found: dict[str, str] = {}
    for place in range(max(len(each.known_by) for each in FIELDS[kind])):
        for each in FIELDS[kind]:
            if place < len(each.known_by) and each.name not in found.values():
                known = _plain(each.known_by[place])
                header = next((one for one in headers if one not in found and _plain(one) == known), None)
                if header is not None:
                    found[header] = each.name
    return {header: found[header] for header in headers if header in found}


def guessed_kind(headers: Sequence[str]) -> ListKind:
    """The kind of list these headers speak of: all that it needs, and the most of them recognised.

    >>> guessed_kind(["date", "humidity", "temp"]), guessed_kind(["label", "kind", "size"])
    ('room', 'roll')
    """

    def fits(kind: ListKind) -> tuple[bool, int]:
        fields = recognised(headers, kind).values()
        return not missing(kind, fields), len(fields)

    return max(FIELDS, key=fits)


def missing(kind: ListKind, fields: Iterable[str]) -> list[Field]:
    """What a list of that kind must have and these fields don't."""
    there = set(fields)
    return [each for each in FIELDS[kind] if each.needed and each.name not in there]


def checked_columns(columns: Mapping[str, str], headers: Sequence[str], kind: ListKind) -> dict[str, str]:
    """Which column is what, as someone said it. Raises BadInput for a header or field there isn't, or a field said twice."""
    names = {each.name for each in FIELDS[kind]}
    for header, field in columns.items():
        if header not in headers:
            raise BadInput("columns", f"The list has no column “{header}”; it has {', '.join(headers)}.")
        if field not in names:
            raise BadInput("columns", f"“{field}” is nothing this list can hold; leave “{header}” out.")
    fields = list(columns.values())
    twice = next((each for each in fields if fields.count(each) > 1), None)
    if twice is not None:
        raise BadInput("columns", f"Two columns can't both be “{twice}”; choose one.")
    return dict(columns)


def _plain(header: str) -> str:
    return re.sub(r"[\s_.:()\-/]+", " ", header.casefold()).strip()

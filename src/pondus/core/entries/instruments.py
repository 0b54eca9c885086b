"""Instruments and what is on them, as they are entered."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any, Literal, get_args

from pondus.core.clock import Clock, check_day
from pondus.core.entries.texts import DETAIL_LETTERS, LABEL_LETTERS, NOTE_LETTERS, check_text
from pondus.core.errors import BadInput
from pondus.core.instruments import Instrument, Kind, StringCore, instrument_named
from pondus.core.instruments.holds import Stance
from pondus.core.judgement.situation import FineTuner, PegKind, PegState, StringPlace, Winding, check_fine_tuner, check_stance
from pondus.core.upkeep.care import check_hours

CHOICES: dict[str, tuple[str, ...]] = {
    "core": get_args(StringCore),
    "peg_kind": get_args(PegKind),
    "peg_state": get_args(PegState),
    "winding": get_args(Winding),
    "state": get_args(StringPlace),
}


@dataclass(frozen=True)
class Detail:
    """One thing a school may keep of an instrument, in words. ``said``: what pages and saved lists call it; ``headers``: what
    else it is called in lists, in small letters; ``of_nobody``: it speaks of no person, so that students and helpers read it.
    """

    said: str
    headers: tuple[str, ...] = ()
    of_nobody: bool = False


DETAILS: dict[str, Detail] = {
    "class": Detail("class", ("group", "klasse", "gruppe", "classe", "groupe", "year", "form"), of_nobody=True),
    "teacher": Detail("teacher", ("lehrer", "lehrerin", "lehrkraft", "professeur", "prof")),
    "place": Detail(
        "where it is kept", ("place", "room", "kept in", "location", "shelf", "ort", "raum", "lieu", "salle"), of_nobody=True
    ),
    "case": Detail("case", ("case no", "koffer", "etui", "étui"), of_nobody=True),
    "serial": Detail("serial number", ("serial", "serial no", "seriennummer", "numéro de série")),
}
"""What a school may keep of an instrument besides: by these its instruments are found and grouped. Another is a line here."""


@dataclass(frozen=True)
class StringEntry:
    """What is on one string's place. Turns from the screw's middle, + screwed in (``screw_seen``: somebody has looked);
    ``put_on`` None: not known.
    """

    core: StringCore = "steel"
    put_on: date | None = None
    has_fine_tuner: bool = True
    screw_turns: float = 0.0
    screw_reach_turns: float = 4.0
    screw_seen: bool = False
    peg_kind: PegKind = "friction"
    peg_state: PegState = "ok"
    winding: Winding = "normal"
    state: StringPlace = "on"


@dataclass(frozen=True)
class InstrumentEntry:
    """An instrument, its strings by name. ``hours_per_week`` of playing; None: not known. ``details``: those that are known."""

    label: str
    kind: Kind
    size: str
    note: str = ""
    stance: Stance | None = None
    hours_per_week: float | None = None
    details: Mapping[str, str] = field(default_factory=dict)
    strings: Mapping[str, StringEntry] = field(default_factory=dict)


def string_entry(given: Mapping[str, object], clock: Clock, *, over: StringEntry = StringEntry()) -> StringEntry:
    """What is told of a string over what it was; names are the entry's. Raises BadInput."""
    for name, choices in CHOICES.items():
        if name in given and given[name] not in choices:
            raise BadInput(name, f"“{given[name]}” isn't a valid {name.replace('_', ' ')}; choose from {', '.join(choices)}.")
    entry = StringEntry(**{**over.__dict__, **given})
    if entry.put_on is not None:
        check_day(entry.put_on, clock, field="put_on")
    check_fine_tuner(FineTuner(entry.screw_turns, entry.screw_reach_turns))
    return replace(entry, screw_seen=entry.screw_seen or "screw_turns" in given)


def instrument_entry(
    *, kind: str, clock: Clock, label: str, strings: Mapping[str, Mapping[str, object]] | None = None, **told: Any
) -> InstrumentEntry:
    """An instrument, checked; without a label it is called by its kind. ``told``: the rest of the entry, as far as it is known.
    Raises BadInput.
    """
    instrument = instrument_named(kind, field="kind")
    given = strings or {}
    for name in given:
        instrument.string(name, field="strings")
    return InstrumentEntry(
        kind=instrument.kind,
        strings={name: string_entry(given.get(name, {}), clock) for name in instrument.string_names},
        **{"size": instrument.size(None), **checked(instrument, {"label": label, **told})},
    )


def checked(instrument: Instrument, told: Mapping[str, Any]) -> dict[str, Any]:
    """What is told of an instrument, checked one by one; what needs no check goes through, what is None says nothing.

    Raises BadInput.
    """
    checks: dict[str, Callable[[Any], Any]] = {
        "label": lambda label: check_text(label, field="label", most=LABEL_LETTERS) or instrument.kind,
        "size": instrument.size,
        "note": lambda note: check_text(note, field="note", most=NOTE_LETTERS),
        "stance": lambda stance: check_stance(instrument, stance),
        "hours_per_week": check_hours,
        "details": check_details,
    }
    return {name: checks[name](value) if name in checks else value for name, value in told.items() if value is not None}


def check_details(given: Mapping[str, str]) -> dict[str, str]:
    """What a school keeps of an instrument besides; what is empty is left out. Raises BadInput.

    >>> check_details({"class": " 3b ", "case": ""})
    {'class': '3b'}
    """
    unknown = next((name for name in given if name not in DETAILS), None)
    if unknown is not None:
        raise BadInput("details", f"“{unknown}” isn't kept of an instrument; choose from {', '.join(DETAILS)}.")
    details = {
        name: check_text(given[name], field=detail.said, most=DETAIL_LETTERS)
        for name, detail in DETAILS.items()
        if name in given
    }
    return {name: text for name, text in details.items() if text}


Fitting = Literal[
    "core", "put_on", "has_fine_tuner", "screw_turns", "screw_reach_turns", "peg_kind", "peg_state", "winding", "state"
]

"""The group's morning: every instrument sorted, who is there, who does which in what order."""

from typing import Annotated
from uuid import UUID

from pydantic import Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.contracts.bench import Source
from pondus.contracts.people import Name, Pace
from pondus.core.group.jobs import Clearance
from pondus.core.group.triage import Group
from pondus.core.judgement.heard import Heard

LATEST_MINUTES = 600.0
Minutes = Annotated[float, Field(ge=0.0, lt=LATEST_MINUTES)]


class TriagedOut(Result):
    """One instrument of the morning. ``heard``: strings read today that still hold; ``waits``: it still wants
    someone's hands.
    """

    id: UUID
    label: str
    kind: str
    size: str
    player: str | None
    strings: list[str]
    heard: int
    group: Group
    waits: bool
    needs: Clearance | None
    moves: int
    minutes: float
    said: str


class SweptReading(Result):
    """A reading that was kept, and how it is said of its string."""

    id: UUID
    string: str
    said: str


class SweptOut(TriagedOut):
    """How an instrument is sorted, by the readings that were just kept among others."""

    readings: list[SweptReading]


class MorningOut(Result):
    """Every instrument, sorted: first those that need the teacher."""

    instruments: list[TriagedOut]
    counts: dict[Group, int]


class StringHeard(Contract):
    """One string as it was heard."""

    id: ClientId
    string: str
    heard: Heard
    spread_cents: float | None = None


class InstrumentHeard(Contract):
    """A whole instrument's strings: as one ``line`` of typing, or each as ``heard``. ``id`` begins today's tuning where there
    is none, and tells a line sent twice from another.
    """

    id: ClientId
    instrument_id: ClientId
    line: Annotated[str, Field(max_length=200)] | None = None
    heard: Annotated[list[StringHeard], Field(max_length=8)] = Field(default_factory=list)
    source: Source = "typed"


class NewStation(Contract):
    """Someone who is there: from the roll (``person_id``), or by name and what they may turn. ``pace``: how they compare with a
    practised hand; left out, as their tunings have it. ``own_only``: a player who tunes no instrument but their own.
    """

    id: ClientId
    person_id: ClientId | None = None
    name: Name | None = None
    may: Clearance | None = None
    pace: Pace | None = None
    comes_in_minutes: Minutes = 0.0
    own_only: bool = False


class StationChange(Contract):
    """What changes of someone who is there; what is left out stays."""

    name: Name | None = None
    may: Clearance | None = None
    pace: Pace | None = None
    comes_in_minutes: Minutes | None = None
    own_only: bool | None = None


class Take(Contract):
    """An instrument taken in hand (null: laid down). ``tuning_id`` begins today's tuning where there is none."""

    instrument_id: ClientId | None
    tuning_id: ClientId | None = None
    take_over: bool = False


class SlotOut(Result):
    """One instrument at one station, in minutes from now. ``in_hand``: they are in the middle of it."""

    id: UUID
    label: str
    starts: float
    ends: float
    said: str
    in_hand: bool


class Come(Contract):
    """Whoever holds this device is there this morning; ``id`` is their place's."""

    id: ClientId


class StationOut(Result):
    """One person's slots in order. ``away_minutes``: they hold an instrument, and their device has shown no sign for
    so long. ``recalled_said``: why their next instrument is another than they were told, empty where it is the same.
    """

    id: UUID
    name: str
    may: Clearance
    person_id: UUID | None
    comes_in_minutes: float
    own_only: bool
    pace: float
    in_hand: UUID | None
    away_minutes: int | None
    slots: list[SlotOut]
    recalled_said: str


class PlannedOut(Result):
    """The plan: who does what, when all are done (minutes from now), the least it could be, instruments nobody here may do,
    how many are still to hear.
    """

    stations: list[StationOut]
    ends: float
    bound: float
    nobody: list[str]
    to_hear: int

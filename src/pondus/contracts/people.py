"""People of the studio, and what each is cleared for."""

from typing import Annotated
from uuid import UUID

from pydantic import Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.contracts.instruments import Note
from pondus.core.entries.people import SLOWEST_PACE
from pondus.core.entries.texts import LABEL_LETTERS
from pondus.core.group.jobs import Clearance
from pondus.core.group.people import Role

Name = Annotated[str, Field(min_length=1, max_length=LABEL_LETTERS)]
Pace = Annotated[float, Field(gt=0.0, lt=SLOWEST_PACE)]


class NewPerson(Contract):
    """Someone for the roll; their id is made by the client. ``cleared``: stages of tuning, 1 to 7."""

    id: ClientId
    name: Name
    role: Role = "player"
    cleared: list[int] = Field(default_factory=list)
    pace: Pace | None = None
    note: Note = ""


class PersonChange(Contract):
    """What changes of a person; what is left out stays. ``pace`` null: as their tunings have it."""

    name: Name | None = None
    role: Role | None = None
    cleared: list[int] | None = None
    pace: Pace | None = None
    note: Note | None = None
    retired: bool | None = None


class PersonOut(Result):
    """One person. ``may``: what they may turn on their own (null: nothing yet)."""

    id: UUID
    name: str
    role: Role
    cleared: list[int]
    may: Clearance | None
    pace: float | None
    note: str
    retired: bool


class StageOut(Result):
    """One stage of a player's tuning."""

    stage: int
    said: str


class PersonList(Result):
    """Everyone on the roll, staff first; and the stages there are."""

    people: list[PersonOut]
    stages: list[StageOut]


class Place(Result):
    """One place that holds a person's name. ``field`` of a record of ``table``; ``text`` as it stands there."""

    table: str
    id: UUID
    field: str
    where: str
    text: str
    sure: bool


class PlaceList(Result):
    """Every place that holds a person's name: ``sure`` ones are theirs, of the others someone must say."""

    name: str
    places: list[Place]


class PlaceRef(Contract):
    """One of those places."""

    table: str
    id: ClientId
    field: str


class Erase(Contract):
    """Erase a person for good. ``also``: places beside their own records that mean them; their name is taken out there."""

    name: Name
    also: Annotated[list[PlaceRef], Field(max_length=10_000)] = Field(default_factory=list)


class Erased(Result):
    """What was done."""

    said: str
    places: int

"""A class that tunes together, the steps of its routine; and before a stage."""

from pondus.contracts.base import Result
from pondus.core.figures import Cents, Hz
from pondus.core.group.class_routine import Part


class StepOut(Result):
    """One note: its letter, the pitches that sound together with their partials' levels, for how long, and what each does."""

    letter: str
    hz: list[Hz]
    seconds: float
    parts: list[Part]


class ClassOut(Result):
    """The routine; ``lengths_s``: how long a string may be given, to choose from; ``partials``: each partial's level of a
    tone, relative to the first; ``level``: its peak, re full scale.
    """

    a4: float
    lengths_s: list[float]
    partials: list[float]
    level: float
    steps: list[StepOut]


class RoomOut(Result):
    """How far a room is spread that plays its A: its middle beside the A, and who stands apart."""

    off_cents: Cents
    spread_cents: Cents
    plus_minus_cents: Cents
    far_cents: list[Cents]
    said: str


class StagePartOut(Result):
    """A place, and what is done there, in order."""

    title: str
    lines: list[str]


class StageOut(Result):
    """Before a stage."""

    parts: list[StagePartOut]

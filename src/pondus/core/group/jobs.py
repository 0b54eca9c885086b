"""What is shared out on a morning: jobs (instruments), those who tune, and who has which when."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

Clearance = Literal["fine-tuners", "pegs", "teacher"]
RANK: dict[Clearance, int] = {"fine-tuners": 0, "pegs": 1, "teacher": 2}


@dataclass(frozen=True)
class Job:
    """One instrument to be tuned: how long it takes a practised hand, and what its turns need. ``whose``: the station of the
    player who holds it, if they have one.
    """

    name: str
    minutes: float
    needs: Clearance = "fine-tuners"
    whose: str | None = None


@dataclass(frozen=True)
class Tuner:
    """One person who tunes. ``pace``: how many times as long as a practised hand. ``from_minutes``: when they are free.
    ``own_only``: a player who does no instrument but their own. ``holds``: the job they are in the middle of.
    """

    name: str
    may: Clearance
    pace: float = 1.0
    from_minutes: float = 0.0
    own_only: bool = False
    holds: str | None = None

    def may_take(self, job: Job) -> bool:
        """Whether this person may tune that instrument."""
        if self.own_only and job.whose != self.name:
            return False
        return RANK[self.may] >= RANK[job.needs]

    def minutes_for(self, job: Job) -> float:
        """How long it takes this person."""
        return job.minutes * self.pace


@dataclass(frozen=True)
class Slot:
    """One job at one station, from when to when, in minutes from now."""

    job: Job
    station: str
    starts: float
    ends: float


Held = dict[str, list[Job]]
"""The jobs of each, in their order."""


def load(station: Tuner, jobs: Sequence[Job]) -> float:
    """When they are free who do all these, in minutes from now."""
    return station.from_minutes + sum(station.minutes_for(job) for job in jobs)


def ends_of(held: Held, stations: Sequence[Tuner]) -> float:
    """When all are done, in minutes from now; 0 where there is nothing to do."""
    return max((load(station, held[station.name]) for station in stations if held[station.name]), default=0.0)

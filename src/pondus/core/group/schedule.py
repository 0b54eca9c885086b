"""A morning with a whole group: who does which instrument, in which order, so that all are done soonest.

Jobs (instruments) go to stations (people); who may turn what decides which station may take a job. How they are shared out is
`assigned`; how far a plan is from the least it could be is told with it.

People walk by a plan: what was told stays so. Whoever is called next for an instrument stays called, and the rest stays in its
order, unless all are done clearly sooner otherwise (R127); what changed, and why, is told.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from pondus.core.errors import BadInput
from pondus.core.group.assigned import best_of_several, greedy, in_order, least_end
from pondus.core.group.jobs import Held, Job, Slot, Tuner, ends_of, load

MOVES_WORTH_MINUTES, CALLS_WORTH_MINUTES = 1.0, 2.5
"""R127: what was told is laid anew for no less, and who is called is called to another for no less."""


@dataclass(frozen=True)
class Recall:
    """Someone's next instrument is another than the one (``job``) they were told. ``why``: it is done (or away), in ``other``'s
    hands, needs more than they may turn, or all are done so many minutes sooner when ``other`` does it.
    """

    job: str
    why: Literal["done", "in-hand", "needs-more", "sooner"]
    other: str = ""
    minutes: float = 0.0

    def said(self, job: str, other: str) -> str:
        """In words, with the job and the other person as they are called.

        >>> Recall("1", "sooner", "2", 3.2).said("Knot", "Mina")
        'Knot is Mina’s now: all are done 3 minutes sooner so.'
        """
        minutes = f"{self.minutes:.0f} minute{'' if round(self.minutes) == 1 else 's'}"
        return {
            "done": f"{job} needs nobody now.",
            "in-hand": f"{other} has {job} in hand.",
            "needs-more": f"{job} needs more than was known: {other or 'a teacher'} turns it.",
            "sooner": f"{job} is {other}’s now: all are done {minutes} sooner so.",
        }[self.why]


@dataclass(frozen=True)
class Morning:
    """The plan: slots in order per tuner, when all are done, the least it could be, jobs nobody here may do, and who is called
    to another instrument than was told.
    """

    slots: dict[str, tuple[Slot, ...]]
    ends: float
    bound: float
    nobody: tuple[Job, ...]
    recalled: Mapping[str, Recall] = field(default_factory=dict)

    @property
    def over_bound(self) -> float:
        """How far the plan ends after the bound, as a share of it; 0 for nothing to do."""
        return 0.0 if self.bound <= 0.0 else self.ends / self.bound - 1.0


def plan_morning(
    jobs: Sequence[Job], stations: Sequence[Tuner], *, said_before: Mapping[str, Sequence[str]] | None = None
) -> Morning:
    """Give every job to a station that may take it, for the least finish time. What someone is in the middle of stays with
    them, as long as they may do it. ``said_before``: the jobs each was told to do, in their order, by the plan before this one.

    Raises BadInput for jobs or stations of one name, or times that can't be.

    >>> teacher, helper = Tuner("teacher", "teacher"), Tuner("helper", "fine-tuners")
    >>> jobs = [Job("Knot", 4, "pegs"), Job("Ruff", 2), Job("Smew", 2), Job("Teal", 1)]
    >>> morning = plan_morning(jobs, [teacher, helper])
    >>> morning.ends, morning.bound, [slot.job.name for slot in morning.slots["teacher"]]
    (5.0, 4.5, ['Knot', 'Teal'])
    >>> again = plan_morning(jobs, [teacher, helper], said_before={"teacher": ["Knot"], "helper": ["Smew", "Ruff", "Teal"]})
    >>> again.ends, [slot.job.name for slot in again.slots["helper"]]
    (5.0, ['Smew', 'Ruff', 'Teal'])
    """
    _check(jobs, stations)
    under_way = _under_way(jobs, stations)
    taken = {slot.job.name for slot in under_way.values()}
    rest = [job for job in jobs if job.name not in taken]
    free = [
        replace(station, from_minutes=under_way[station.name].ends) if station.name in under_way else station
        for station in stations
    ]
    nobody = tuple(job for job in rest if not any(tuner.may_take(job) for tuner in free))
    doable = [job for job in rest if job not in nobody]
    bound = max([least_end(doable, free), *(slot.ends for slot in under_way.values())])
    laid, sooner = _laid(doable, free, said_before or {}, bound=bound)
    slots = {
        tuner.name: (*([under_way[tuner.name]] if tuner.name in under_way else []), *_one_by_one(tuner, laid[tuner.name]))
        for tuner in free
    }
    ends = max((slot[-1].ends for slot in slots.values() if slot), default=0.0)
    return Morning(slots, ends, bound, nobody, _recalled(slots, jobs, free, said_before or {}, sooner))


def _laid(
    jobs: Sequence[Job], stations: Sequence[Tuner], said_before: Mapping[str, Sequence[str]], *, bound: float
) -> tuple[Held, float]:
    """R127: as it was told, with what is new; else laid anew around those who are called; else all anew, as far as that is
    worth it. And by how many minutes sooner all are done than as it was told.
    """
    anew = in_order(best_of_several(jobs, stations, bound=bound))
    kept = _as_told(jobs, stations, said_before)
    if not any(kept.values()):
        return anew, 0.0
    new = [job for job in jobs if not any(job in own for own in kept.values())]
    added = in_order(greedy(new, _after(stations, kept), dict.fromkeys((job.name for job in new), 1.0)))
    same = {name: [*own, *added[name]] for name, own in kept.items()}
    called = {name: own[:1] for name, own in kept.items()}
    others = [job for job in jobs if not any(job in own for own in called.values())]
    rest = in_order(best_of_several(others, _after(stations, called), bound=bound))
    around = {name: [*own, *rest[name]] for name, own in called.items()}
    as_told, best = ends_of(same, stations), min(ends_of(jobs_of, stations) for jobs_of in (same, around, anew))
    if as_told <= best + MOVES_WORTH_MINUTES:
        return same, 0.0
    laid = around if ends_of(around, stations) <= best + CALLS_WORTH_MINUTES else anew
    return laid, as_told - ends_of(laid, stations)


def _after(stations: Sequence[Tuner], held: Held) -> list[Tuner]:
    """The same people, free once they have done these."""
    return [replace(station, from_minutes=load(station, held[station.name])) for station in stations]


def _as_told(jobs: Sequence[Job], stations: Sequence[Tuner], said_before: Mapping[str, Sequence[str]]) -> Held:
    by_name, taken, seen = {job.name: job for job in jobs}, {}, set()
    for station in stations:
        names = [name for name in said_before.get(station.name, ()) if name in by_name and name not in seen]
        taken[station.name] = [by_name[name] for name in names if station.may_take(by_name[name])]
        seen |= {job.name for job in taken[station.name]}
    return taken


def _recalled(
    slots: Mapping[str, Sequence[Slot]],
    jobs: Sequence[Job],
    stations: Sequence[Tuner],
    said_before: Mapping[str, Sequence[str]],
    sooner: float,
) -> dict[str, Recall]:
    """Whose next instrument is another than they were told, and why; ``sooner``: what that saves, in minutes."""
    by_name = {job.name: job for job in jobs}
    at = {slot.job.name: slot.station for own in slots.values() for slot in own}
    recalls = {}
    for tuner in stations:
        own = [slot.job.name for slot in slots[tuner.name]]
        waiting = own[1:] if own and own[0] == tuner.holds else own
        was = next((name for name in said_before.get(tuner.name, ()) if name != tuner.holds), None)
        if was is None or was == (waiting[0] if waiting else None):
            continue
        job, other = by_name.get(was), at.get(was, "")
        if job is None:
            recalls[tuner.name] = Recall(was, "done")
        elif any(station.holds == was for station in stations):
            recalls[tuner.name] = Recall(was, "in-hand", other)
        elif not tuner.may_take(job):
            recalls[tuner.name] = Recall(was, "needs-more", other)
        else:
            recalls[tuner.name] = Recall(was, "sooner", other, round(sooner, 1))
    return recalls


def _under_way(jobs: Sequence[Job], stations: Sequence[Tuner]) -> dict[str, Slot]:
    """What is in someone's hands already, by station; the first of two who hold the same."""
    by_name = {job.name: job for job in jobs}
    slots: dict[str, Slot] = {}
    for station in stations:
        job = by_name.get(station.holds or "")
        if job is not None and station.may_take(job) and all(slot.job is not job for slot in slots.values()):
            slots[station.name] = Slot(job, station.name, station.from_minutes, station.from_minutes + station.minutes_for(job))
    return slots


def _check(jobs: Sequence[Job], stations: Sequence[Tuner]) -> None:
    for which, names in (("jobs", [job.name for job in jobs]), ("stations", [station.name for station in stations])):
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice is not None:
            raise BadInput(which, f"“{twice}” is there twice; give each a name of its own.")
    for job in jobs:
        if not 0.0 < job.minutes < 600.0:
            raise BadInput("minutes", f"{job.name} can't take {job.minutes:g} minutes; give more than 0, under 600.")
    for tuner in stations:
        if not (0.0 < tuner.pace < 20.0 and 0.0 <= tuner.from_minutes < 600.0):
            raise BadInput(
                "stations", f"{tuner.name}: a pace of {tuner.pace:g} from minute {tuner.from_minutes:g} can't be right."
            )


def _one_by_one(station: Tuner, jobs: Sequence[Job]) -> tuple[Slot, ...]:
    slots, at = [], station.from_minutes
    for job in jobs:
        ends = at + station.minutes_for(job)
        slots.append(Slot(job, station.name, at, ends))
        at = ends
    return tuple(slots)

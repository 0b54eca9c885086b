"""A morning with a whole group: who does which instrument, in which order, so that all are done soonest.

Jobs (instruments) go to stations (people); who may turn what decides which station may take a job. That is scheduling on
parallel machines with eligibility, least finish time. The method: longest processing time first, the jobs with the fewest
choices before the others (Graham, 1969; within 4/3 of the best on equal machines), then moves and swaps away from the
latest station while they help; what is then left to gain is looked for by trying out, as far as that is soon done: all of a
small morning, a little of a large one. The bound: jobs could at best be split between stations at will (a linear program),
and none is done before whoever is soonest has done it. How far a plan is from its bound is told with it.

People walk by a plan: what was told stays so. Whoever is called next for an instrument stays called, and the rest stays in its
order, unless all are done clearly sooner otherwise (R127); what changed, and why, is told.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from pondus.core.errors import BadInput

Clearance = Literal["fine-tuners", "pegs", "teacher"]
RANK: dict[Clearance, int] = {"fine-tuners": 0, "pegs": 1, "teacher": 2}
MOST_ROUNDS = 400
HELPS_MINUTES = 1e-9
ORDERS_TRIED, SHAKEN_BY = 10, 0.3
MOVES_WORTH_MINUTES, CALLS_WORTH_MINUTES = 1.0, 2.5
"""R127: what was told is laid anew for no less, and who is called is called to another for no less."""
PLACES_TRIED, WORTH_TRYING = 6000, 0.01
"""Of a job at a station, when trying out: some 30 ms; done where the plan ends by more than that share past the bound."""


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


Held = dict[str, list[Job]]


def plan_morning(
    jobs: Sequence[Job], stations: Sequence[Tuner], *, told: Mapping[str, Sequence[str]] | None = None
) -> Morning:
    """Give every job to a station that may take it, for the least finish time. What someone is in the middle of stays with
    them, as long as they may do it. ``told``: the jobs each was told to do, in their order, by the plan before this one.

    Raises BadInput for jobs or stations of one name, or times that can't be.

    >>> teacher, helper = Tuner("teacher", "teacher"), Tuner("helper", "fine-tuners")
    >>> jobs = [Job("Knot", 4, "pegs"), Job("Ruff", 2), Job("Smew", 2), Job("Teal", 1)]
    >>> morning = plan_morning(jobs, [teacher, helper])
    >>> morning.ends, morning.bound, [slot.job.name for slot in morning.slots["teacher"]]
    (5.0, 4.5, ['Knot', 'Teal'])
    >>> again = plan_morning(jobs, [teacher, helper], told={"teacher": ["Knot"], "helper": ["Smew", "Ruff", "Teal"]})
    >>> again.ends, [slot.job.name for slot in again.slots["helper"]]
    (5.0, ['Smew', 'Ruff', 'Teal'])
    """
    _check(jobs, stations)
    under_way = _under_way(jobs, stations)
    taken = {slot.job.name for slot in under_way.values()}
    rest = [job for job in jobs if job.name not in taken]
    free = [
        replace(each, from_minutes=under_way[each.name].ends) if each.name in under_way else each for each in stations
    ]
    nobody = tuple(job for job in rest if not any(each.may_take(job) for each in free))
    doable = [job for job in rest if job not in nobody]
    bound = max([_bound(doable, free), *(slot.ends for slot in under_way.values())])
    laid, sooner = _laid(doable, free, told or {}, bound=bound)
    slots = {
        each.name: (*([under_way[each.name]] if each.name in under_way else []), *_one_by_one(each, laid[each.name]))
        for each in free
    }
    ends = max((each[-1].ends for each in slots.values() if each), default=0.0)
    return Morning(slots, ends, bound, nobody, _recalled(slots, jobs, free, told or {}, sooner))


def _laid(
    jobs: Sequence[Job], stations: Sequence[Tuner], told: Mapping[str, Sequence[str]], *, bound: float
) -> tuple[Held, float]:
    """R127: as it was told, with what is new; else laid anew around those who are called; else all anew, as far as that is
    worth it. And by how many minutes sooner all are done than as it was told.
    """
    anew = _in_order(_best_of_several(jobs, stations, bound=bound))
    kept = _as_told(jobs, stations, told)
    if not any(kept.values()):
        return anew, 0.0
    new = [job for job in jobs if not any(job in own for own in kept.values())]
    added = _in_order(_greedy(new, _after(stations, kept), dict.fromkeys((job.name for job in new), 1.0)))
    same = {name: [*own, *added[name]] for name, own in kept.items()}
    called = {name: own[:1] for name, own in kept.items()}
    others = [job for job in jobs if not any(job in own for own in called.values())]
    rest = _in_order(_best_of_several(others, _after(stations, called), bound=bound))
    around = {name: [*own, *rest[name]] for name, own in called.items()}
    as_told, best = _ends(same, stations), min(_ends(each, stations) for each in (same, around, anew))
    if as_told <= best + MOVES_WORTH_MINUTES:
        return same, 0.0
    laid = around if _ends(around, stations) <= best + CALLS_WORTH_MINUTES else anew
    return laid, as_told - _ends(laid, stations)


def _after(stations: Sequence[Tuner], held: Held) -> list[Tuner]:
    """The same people, free once they have done these."""
    return [replace(each, from_minutes=_load(each, held[each.name])) for each in stations]


def _ends(held: Held, stations: Sequence[Tuner]) -> float:
    return max((_load(each, held[each.name]) for each in stations if held[each.name]), default=0.0)


def _as_told(jobs: Sequence[Job], stations: Sequence[Tuner], told: Mapping[str, Sequence[str]]) -> Held:
    by_name, found, seen = {job.name: job for job in jobs}, {}, set()
    for each in stations:
        names = [name for name in told.get(each.name, ()) if name in by_name and name not in seen]
        found[each.name] = [by_name[name] for name in names if each.may_take(by_name[name])]
        seen |= {job.name for job in found[each.name]}
    return found


def _recalled(
    slots: Mapping[str, Sequence[Slot]],
    jobs: Sequence[Job],
    stations: Sequence[Tuner],
    told: Mapping[str, Sequence[str]],
    sooner: float,
) -> dict[str, Recall]:
    """Whose next instrument is another than they were told, and why; ``sooner``: what that saves, in minutes."""
    by_name = {job.name: job for job in jobs}
    at = {slot.job.name: slot.station for own in slots.values() for slot in own}
    found = {}
    for each in stations:
        own = [slot.job.name for slot in slots[each.name]]
        waiting = own[1:] if own and own[0] == each.holds else own
        was = next((name for name in told.get(each.name, ()) if name != each.holds), None)
        if was is None or was == (waiting[0] if waiting else None):
            continue
        job, other = by_name.get(was), at.get(was, "")
        if job is None:
            found[each.name] = Recall(was, "done")
        elif any(station.holds == was for station in stations):
            found[each.name] = Recall(was, "in-hand", other)
        elif not each.may_take(job):
            found[each.name] = Recall(was, "needs-more", other)
        else:
            found[each.name] = Recall(was, "sooner", other, round(sooner, 1))
    return found


def _under_way(jobs: Sequence[Job], stations: Sequence[Tuner]) -> dict[str, Slot]:
    """What is in someone's hands already, by station; the first of two who hold the same."""
    by_name = {job.name: job for job in jobs}
    slots: dict[str, Slot] = {}
    for each in stations:
        job = by_name.get(each.holds or "")
        if job is not None and each.may_take(job) and all(slot.job is not job for slot in slots.values()):
            slots[each.name] = Slot(job, each.name, each.from_minutes, each.from_minutes + each.minutes_for(job))
    return slots


def _check(jobs: Sequence[Job], stations: Sequence[Tuner]) -> None:
    for which, names in (("jobs", [each.name for each in jobs]), ("stations", [each.name for each in stations])):
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice is not None:
            raise BadInput(which, f"“{twice}” stands there twice; give each a name of its own.")
    for job in jobs:
        if not 0.0 < job.minutes < 600.0:
            raise BadInput("minutes", f"{job.name} can't take {job.minutes:g} minutes; give more than 0, under 600.")
    for each in stations:
        if not (0.0 < each.pace < 20.0 and 0.0 <= each.from_minutes < 600.0):
            raise BadInput(
                "stations", f"{each.name}: a pace of {each.pace:g} from minute {each.from_minutes:g} can't be."
            )


def _best_of_several(jobs: Sequence[Job], stations: Sequence[Tuner], *, bound: float) -> Held:
    """The method from several orders: the plain one, and some in which jobs are taken to last a little more or less. It ends
    as soon as one is done by ``bound`` (minutes), before which none can be.
    """
    by_name = {each.name: each for each in stations}
    chance = np.random.default_rng(0)
    best: tuple[float, Held] | None = None
    for attempt in range(ORDERS_TRIED):
        shaken = chance.uniform(1.0 - SHAKEN_BY, 1.0 + SHAKEN_BY, len(jobs)) if attempt else np.ones(len(jobs))
        held = _greedy(jobs, stations, {job.name: float(by) for job, by in zip(jobs, shaken, strict=True)})
        _improve(held, by_name)
        ends = _ends(held, stations)
        if best is None or ends < best[0] - HELPS_MINUTES:
            best = (ends, held)
        if best[0] <= bound + HELPS_MINUTES:
            break
    assert best is not None
    ends, held = best
    if ends > bound * (1.0 + WORTH_TRYING):
        held = _TryingOut(jobs, stations, bound=bound, ends=ends, held=held).best()
    return held


class _TryingOut:
    """Branch and bound from a plan that is known: every job at every station that may take it, the longest jobs first, leaving
    out what can't end sooner. It is over when all is tried, when an end at the bound is found, or after so many places.
    """

    def __init__(
        self, jobs: Sequence[Job], stations: Sequence[Tuner], *, bound: float, ends: float, held: Held
    ) -> None:
        self.stations = stations
        self.jobs = sorted(jobs, key=lambda job: -min(each.minutes_for(job) for each in stations if each.may_take(job)))
        least = [min(each.minutes_for(job) for each in stations if each.may_take(job)) for job in self.jobs]
        self.still = [sum(least[place:]) for place in range(len(least) + 1)]
        self.bound, self.ends, self.held = bound, ends, held
        self.free = [each.from_minutes for each in stations]
        self.taken: list[int] = []
        self.left = PLACES_TRIED

    def best(self) -> Held:
        """The soonest plan found; the known one, where none is sooner."""
        self._go_on(0.0)
        return self.held

    def _go_on(self, latest: float) -> None:
        if len(self.taken) == len(self.jobs):
            self.ends = latest
            self.held = {each.name: [] for each in self.stations}
            for job, at in zip(self.jobs, self.taken, strict=True):
                self.held[self.stations[at].name].append(job)
            return
        job, until = self.jobs[len(self.taken)], self.ends - HELPS_MINUTES
        room = sum(max(0.0, until - free) for free in self.free)
        if room < self.still[len(self.taken)]:
            return
        places = [
            (self.free[at] + each.minutes_for(job), at) for at, each in enumerate(self.stations) if each.may_take(job)
        ]
        for ends, at in sorted(places):
            if ends >= self.ends - HELPS_MINUTES or self.left <= 0 or self.ends <= self.bound + HELPS_MINUTES:
                return
            self.left -= 1
            before, self.free[at] = self.free[at], ends
            self.taken.append(at)
            self._go_on(max(latest, ends))
            self.taken.pop()
            self.free[at] = before


def _greedy(jobs: Sequence[Job], stations: Sequence[Tuner], shaken: dict[str, float]) -> Held:
    """Fewest choices first, longest first; each to where it ends soonest."""
    held: Held = {each.name: [] for each in stations}
    free = {each.name: each.from_minutes for each in stations}

    def by_choice(job: Job) -> tuple[int, float]:
        return sum(each.may_take(job) for each in stations), -job.minutes * shaken[job.name]

    for job in sorted(jobs, key=by_choice):
        best = min(
            (each for each in stations if each.may_take(job)), key=lambda each: free[each.name] + each.minutes_for(job)
        )
        held[best.name].append(job)
        free[best.name] += best.minutes_for(job)
    return held


def _load(station: Tuner, jobs: Iterable[Job]) -> float:
    return station.from_minutes + sum(station.minutes_for(job) for job in jobs)


def _improve(held: Held, stations: dict[str, Tuner]) -> None:
    """Take work from the latest station, handing on what that displaces, while that makes the latest of them earlier."""
    for _ in range(MOST_ROUNDS):
        busy = [name for name, jobs in held.items() if jobs]
        if not busy:
            return
        latest = max(busy, key=lambda name: _load(stations[name], held[name]))
        if not _relieve(held, stations, latest):
            return


@dataclass(frozen=True)
class _Handing:
    """``job`` goes from the latest station to ``to``, which hands ``back`` (if any) on to ``on``: the latest, or a third.
    ``ends``: when the latest of them is done then.
    """

    ends: float
    job: Job
    to: str
    back: Job | None = None
    on: str = ""


def _relieve(held: Held, stations: dict[str, Tuner], latest: str) -> bool:
    """The best single handing over off the latest station; whether there was one that helps."""
    best = min(_handings(held, stations, latest), key=lambda handing: handing.ends, default=None)
    if best is None:
        return False
    held[latest].remove(best.job)
    held[best.to].append(best.job)
    if best.back is not None:
        held[best.to].remove(best.back)
        held[best.on].append(best.back)
    return True


def _handings(held: Held, stations: dict[str, Tuner], latest: str) -> Iterator[_Handing]:
    """Those that help."""
    loads = {name: _load(stations[name], jobs) for name, jobs in held.items()}
    until = loads[latest] - HELPS_MINUTES
    for to, other in stations.items():
        if to == latest:
            continue
        for job in (each for each in held[latest] if other.may_take(each)):
            without = {**loads, latest: loads[latest] - stations[latest].minutes_for(job)}
            taken = loads[to] + other.minutes_for(job)
            if max(without[latest], taken) < until:
                yield _Handing(max(without[latest], taken), job, to)
            for back in held[to]:
                relieved = max(without[latest], taken - other.minutes_for(back))
                for on, third in stations.items() if relieved < until else ():
                    if on == to or not third.may_take(back):
                        continue
                    ends = max(relieved, without[on] + third.minutes_for(back))
                    if ends < until:
                        yield _Handing(ends, job, to, back, on)


def _in_order(held: Held) -> Held:
    """Those that need the most first: slack and far-off instruments want settling time; then the longest."""
    return {name: sorted(own, key=lambda job: (-RANK[job.needs], -job.minutes, job.name)) for name, own in held.items()}


def _one_by_one(station: Tuner, jobs: Sequence[Job]) -> tuple[Slot, ...]:
    slots, at = [], station.from_minutes
    for job in jobs:
        ends = at + station.minutes_for(job)
        slots.append(Slot(job, station.name, at, ends))
        at = ends
    return tuple(slots)


def _bound(jobs: Sequence[Job], stations: Sequence[Tuner]) -> float:
    """The least finish time there can be: no job before it is done by whoever is soonest, and not before all would be done if
    jobs could be split between stations at will (a linear program).
    """
    if not jobs:
        return 0.0
    alone = max(
        min(each.from_minutes + each.minutes_for(job) for each in stations if each.may_take(job)) for job in jobs
    )
    # The best plan leaves out whoever comes only after its end: the least over the first comers, however many.
    comers = [
        [each for each in stations if each.from_minutes <= latest]
        for latest in sorted({each.from_minutes for each in stations})
    ]
    split = [least for group in comers if (least := _split_at_will(jobs, group)) is not None]
    return max(alone, min(split, default=0.0))


def _split_at_will(jobs: Sequence[Job], stations: Sequence[Tuner]) -> float | None:
    """Least T with, per station, its shares of work after its start within T, each job shared out whole; None where some job
    is for none of them.
    """
    from scipy.optimize import linprog  # takes most of a second to load; only planning needs it

    pairs = [
        (job, place) for job in range(len(jobs)) for place, each in enumerate(stations) if each.may_take(jobs[job])
    ]
    if {job for job, _ in pairs} != set(range(len(jobs))):
        return None
    count = len(pairs) + 1
    work, whole = np.zeros((len(stations), count)), np.zeros((len(jobs), count))
    for column, (job, place) in enumerate(pairs):
        work[place, column] = stations[place].minutes_for(jobs[job])
        whole[job, column] = 1.0
    work[:, count - 1] = -1.0
    cost = np.zeros(count)
    cost[-1] = 1.0
    starts = np.array([-each.from_minutes for each in stations])
    used = sorted({place for _, place in pairs})
    found = linprog(cost, A_ub=work[used], b_ub=starts[used], A_eq=whole, b_eq=np.ones(len(jobs)), method="highs")
    return float(found.fun or 0.0) if found.success else None

"""A morning with a whole group: who does which instrument, in which order, so that all are done soonest.

Jobs (instruments) go to stations (people); who may turn what decides which station may take a job. That is scheduling on
parallel machines with eligibility, least finish time. The method: longest processing time first, the jobs with the fewest
choices before the others (Graham, 1969; within 4/3 of the best on equal machines), then moves and swaps away from the
latest station while they help; what is then left to gain is looked for by trying out, as far as that is soon done: all of a
small morning, a little of a large one. The bound: jobs could at best be split between stations at will (a linear program),
and none is done before whoever is soonest has done it. How far a plan is from its bound is told with it.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.judgement.plan import PEG_SECONDS, SCREW_SECONDS, SWEEP_SECONDS

Clearance = Literal["fine-tuners", "pegs", "teacher"]
RANK: dict[Clearance, int] = {"fine-tuners": 0, "pegs": 1, "teacher": 2}
USUAL_PACE: dict[Clearance, float] = {"fine-tuners": 1.5, "pegs": 1.0, "teacher": 1.0}
"""How many times as long as a practised hand, where nothing else is known of a person."""
MOST_ROUNDS = 400
HISTORY_COUNTS_FROM = 2.0
HELPS_MINUTES = 1e-9
LEFT_LYING = 8.0
"""Times the usual: past that a tuning was interrupted, and says nothing of its pace."""
ORDERS_TRIED, SHAKEN_BY = 10, 0.3
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
class Morning:
    """The plan: slots in order per tuner, when all are done, the least it could be, and jobs nobody here may do."""

    slots: dict[str, tuple[Slot, ...]]
    ends: float
    bound: float
    nobody: tuple[Job, ...]

    @property
    def over_bound(self) -> float:
        """How far the plan ends after the bound, as a share of it; 0 for nothing to do."""
        return 0.0 if self.bound <= 0.0 else self.ends / self.bound - 1.0


def plan_morning(jobs: Sequence[Job], stations: Sequence[Tuner]) -> Morning:
    """Give every job to a station that may take it, for the least finish time. What someone is in the middle of stays with
    them, as long as they may do it.

    Raises BadInput for jobs or stations of one name, or times that can't be.

    >>> teacher, helper = Tuner("teacher", "teacher"), Tuner("helper", "fine-tuners")
    >>> jobs = [Job("Knot", 4, "pegs"), Job("Ruff", 2), Job("Smew", 2), Job("Teal", 1)]
    >>> morning = plan_morning(jobs, [teacher, helper])
    >>> morning.ends, morning.bound, [slot.job.name for slot in morning.slots["teacher"]]
    (5.0, 4.5, ['Knot', 'Teal'])
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
    held = _best_of_several(doable, free, bound=bound)
    slots = {
        each.name: (*([under_way[each.name]] if each.name in under_way else []), *_in_order(each, held[each.name]))
        for each in free
    }
    ends = max((each[-1].ends for each in slots.values() if each), default=0.0)
    return Morning(slots, ends, bound, nobody)


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
    for field, names in (("jobs", [each.name for each in jobs]), ("stations", [each.name for each in stations])):
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice is not None:
            raise BadInput(field, f"“{twice}” stands there twice; give each a name of its own.")
    for job in jobs:
        if not 0.0 < job.minutes < 600.0:
            raise BadInput("minutes", f"{job.name} can't take {job.minutes:g} minutes; give more than 0, under 600.")
    for each in stations:
        if not (0.0 < each.pace < 20.0 and 0.0 <= each.from_minutes < 600.0):
            raise BadInput(
                "stations", f"{each.name}: a pace of {each.pace:g} from minute {each.from_minutes:g} can't be."
            )


Held = dict[str, list[Job]]


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
        ends = max((_load(by_name[name], done) for name, done in held.items() if done), default=0.0)
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


def _in_order(station: Tuner, jobs: list[Job]) -> tuple[Slot, ...]:
    """Those that need the most first: slack and far-off instruments want settling time; then the longest."""
    slots, at = [], station.from_minutes
    for job in sorted(jobs, key=lambda job: (-RANK[job.needs], -job.minutes, job.name)):
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


@dataclass(frozen=True)
class Done:
    """One tuning of an instrument as it went: moves made, and minutes from its first to its last entry."""

    screw_moves: int
    peg_moves: int
    minutes: float


def expected_minutes(history: Sequence[Done], *, screw_moves: int, peg_moves: int, rounds: int = 1) -> float:
    """How long a tuning will take: the usual seconds a move, drawn towards what this instrument's own tunings took.

    >>> round(expected_minutes([], screw_moves=4, peg_moves=1), 2)
    2.58
    >>> slow = [Done(4, 1, 6.0)] * 6
    >>> expected_minutes(slow, screw_moves=4, peg_moves=1) > 4.5
    True
    """
    usual = _usual_minutes(screw_moves, peg_moves, rounds)
    return usual * learned_pace(history, usual=1.0)


def _ratios(history: Sequence[Done]) -> list[float]:
    """Minutes taken over usual minutes, of tunings that turned something; what lasted absurdly long was left lying."""
    ratios = [
        each.minutes / _usual_minutes(each.screw_moves, each.peg_moves, 1)
        for each in history
        if each.minutes > 0.0 and each.screw_moves + each.peg_moves > 0
    ]
    return [each for each in ratios if each <= LEFT_LYING]


def _usual_minutes(screw_moves: int, peg_moves: int, rounds: int) -> float:
    return (SCREW_SECONDS * screw_moves + PEG_SECONDS * peg_moves + SWEEP_SECONDS * (rounds + 1)) / 60.0


def pace_of(
    may: Clearance, *, here: float | None = None, own: float | None = None, history: Sequence[Done] = ()
) -> float:
    """R68: how many times as long as a practised hand someone takes this morning: as it was set for it (``here``), else as the
    roll has it (``own``), else as their own tunings went.

    >>> pace_of("pegs", here=1.5, own=2.0), pace_of("pegs", own=2.0), pace_of("fine-tuners")
    (1.5, 2.0, 1.5)
    """
    if here is not None:
        return here
    return own if own is not None else learned_pace(history, usual=USUAL_PACE[may])


def learned_pace(history: Sequence[Done], *, usual: float) -> float:
    """How many times as long as a practised hand someone takes: the usual for what they may do, drawn towards what they took.

    >>> learned_pace([], usual=1.5), learned_pace([Done(4, 0, 2.8)] * 8, usual=1.0) > 1.2
    (1.5, True)
    """
    ratios = _ratios(history)
    return (HISTORY_COUNTS_FROM * usual + sum(ratios)) / (HISTORY_COUNTS_FROM + len(ratios))

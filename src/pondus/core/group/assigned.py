"""The soonest way to share jobs out among those who may do them: from several orders, moves and swaps that help, and trying out
what is then left to gain; and the least it could be.

Scheduling on parallel machines with eligibility, least finish time. Longest processing time first, the jobs with the fewest
choices before the others (Graham, 1969; within 4/3 of the best on equal machines). The bound: jobs could at best be split
between stations at will (a linear program), and none is done before whoever is soonest has done it.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from pondus.core.group.jobs import RANK, Held, Job, Tuner, ends_of, load

MOST_ROUNDS = 400
HELPS_MINUTES = 1e-9
ORDERS_TRIED, SHAKEN_BY = 10, 0.3
PLACES_TRIED, WORTH_TRYING = 6000, 0.01
"""Of a job at a station, when trying out: some 30 ms; done where the plan ends by more than that share past the bound."""


def best_of_several(jobs: Sequence[Job], stations: Sequence[Tuner], *, bound: float) -> Held:
    """The method from several orders: the plain one, and some in which jobs are taken to last a little more or less. It ends
    as soon as one is done by ``bound`` (minutes), before which none can be.
    """
    by_name = {station.name: station for station in stations}
    chance = np.random.default_rng(0)
    best: tuple[float, Held] | None = None
    for attempt in range(ORDERS_TRIED):
        shaken = chance.uniform(1.0 - SHAKEN_BY, 1.0 + SHAKEN_BY, len(jobs)) if attempt else np.ones(len(jobs))
        held = greedy(jobs, stations, {job.name: float(by) for job, by in zip(jobs, shaken, strict=True)})
        _improve(held, by_name)
        ends = ends_of(held, stations)
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

    def __init__(self, jobs: Sequence[Job], stations: Sequence[Tuner], *, bound: float, ends: float, held: Held) -> None:
        self.stations = stations
        self.jobs = sorted(
            jobs, key=lambda job: -min(station.minutes_for(job) for station in stations if station.may_take(job))
        )
        least = [min(station.minutes_for(job) for station in stations if station.may_take(job)) for job in self.jobs]
        self.still = [sum(least[place:]) for place in range(len(least) + 1)]
        self.bound, self.ends, self.held = bound, ends, held
        self.free = [station.from_minutes for station in stations]
        self.taken: list[int] = []
        self.left = PLACES_TRIED

    def best(self) -> Held:
        """The soonest plan found; the known one, where none is sooner."""
        self._go_on(0.0)
        return self.held

    def _go_on(self, latest: float) -> None:
        if len(self.taken) == len(self.jobs):
            self.ends = latest
            self.held = {station.name: [] for station in self.stations}
            for job, at in zip(self.jobs, self.taken, strict=True):
                self.held[self.stations[at].name].append(job)
            return
        job, until = self.jobs[len(self.taken)], self.ends - HELPS_MINUTES
        room = sum(max(0.0, until - free) for free in self.free)
        if room < self.still[len(self.taken)]:
            return
        places = [(self.free[at] + tuner.minutes_for(job), at) for at, tuner in enumerate(self.stations) if tuner.may_take(job)]
        for ends, at in sorted(places):
            if ends >= self.ends - HELPS_MINUTES or self.left <= 0 or self.ends <= self.bound + HELPS_MINUTES:
                return
            self.left -= 1
            before, self.free[at] = self.free[at], ends
            self.taken.append(at)
            self._go_on(max(latest, ends))
            self.taken.pop()
            self.free[at] = before


def greedy(jobs: Sequence[Job], stations: Sequence[Tuner], shaken: dict[str, float]) -> Held:
    """Fewest choices first, longest first; each to where it ends soonest."""
    held: Held = {station.name: [] for station in stations}
    free = {station.name: station.from_minutes for station in stations}

    def by_choice(job: Job) -> tuple[int, float]:
        return sum(station.may_take(job) for station in stations), -job.minutes * shaken[job.name]

    for job in sorted(jobs, key=by_choice):
        best = min(
            (station for station in stations if station.may_take(job)),
            key=lambda tuner: free[tuner.name] + tuner.minutes_for(job),
        )
        held[best.name].append(job)
        free[best.name] += best.minutes_for(job)
    return held


def _improve(held: Held, stations: dict[str, Tuner]) -> None:
    """Take work from the latest station, handing on what that displaces, while that makes the latest of them earlier."""
    for _ in range(MOST_ROUNDS):
        busy = [name for name, jobs in held.items() if jobs]
        if not busy:
            return
        latest = max(busy, key=lambda name: load(stations[name], held[name]))
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
    loads = {name: load(stations[name], jobs) for name, jobs in held.items()}
    until = loads[latest] - HELPS_MINUTES
    for to, other in stations.items():
        if to == latest:
            continue
        for job in (job for job in held[latest] if other.may_take(job)):
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


def in_order(held: Held) -> Held:
    """Those that need the most first: slack and far-off instruments want settling time; then the longest."""
    return {name: sorted(own, key=lambda job: (-RANK[job.needs], -job.minutes, job.name)) for name, own in held.items()}


def least_end(jobs: Sequence[Job], stations: Sequence[Tuner]) -> float:
    """The least finish time there can be: no job before it is done by whoever is soonest, and not before all would be done if
    jobs could be split between stations at will (a linear program).
    """
    if not jobs:
        return 0.0
    alone = max(
        min(station.from_minutes + station.minutes_for(job) for station in stations if station.may_take(job)) for job in jobs
    )
    # The best plan leaves out whoever comes only after its end: the least over the first comers, however many.
    comers = [
        [station for station in stations if station.from_minutes <= latest]
        for latest in sorted({station.from_minutes for station in stations})
    ]
    split = [least for group in comers if (least := _split_at_will(jobs, group)) is not None]
    return max(alone, min(split, default=0.0))


def _split_at_will(jobs: Sequence[Job], stations: Sequence[Tuner]) -> float | None:
    """Least T with, per station, its shares of work after its start within T, each job shared out whole; None where some job
    is for none of them.
    """
    from scipy.optimize import linprog  # takes most of a second to load; only planning needs it

    pairs = [(job, place) for job in range(len(jobs)) for place, tuner in enumerate(stations) if tuner.may_take(jobs[job])]
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
    starts = np.array([-station.from_minutes for station in stations])
    used = sorted({place for _, place in pairs})
    solution = linprog(cost, A_ub=work[used], b_ub=starts[used], A_eq=whole, b_eq=np.ones(len(jobs)), method="highs")
    return float(solution.fun or 0.0) if solution.success else None

"""A morning's plan beside its lower bound: 30 instruments, 5 stations, random needs, paces and late arrivals.

Run: ``bin/pondus bench stations [--mornings 300]``.
"""

import argparse
import time

import numpy as np

from pondus.core.group.jobs import Clearance, Job, Tuner
from pondus.core.group.schedule import plan_morning


def morning(rng: np.random.Generator, *, instruments: int, stations: int) -> tuple[list[Job], list[Tuner]]:
    """A random morning: about half need nothing but screws, a third pegs, the rest the teacher."""
    people = [Tuner("teacher", "teacher")]
    for number in range(1, stations):
        may: Clearance = "pegs" if rng.uniform() < 0.5 else "fine-tuners"
        late = float(rng.uniform(0, 4)) if rng.uniform() < 0.3 else 0.0
        people.append(Tuner(f"helper {number}", may, float(rng.uniform(1.0, 1.8)), late))
    jobs = []
    for number in range(instruments):
        needs: Clearance = rng.choice(["fine-tuners", "pegs", "teacher"], p=[0.55, 0.33, 0.12])  # type: ignore[assignment]
        minutes = float(rng.gamma(3.0, 0.5) + {"fine-tuners": 0.8, "pegs": 1.8, "teacher": 2.5}[needs])
        jobs.append(Job(f"instrument {number}", minutes, needs))
    return jobs, people


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--mornings", type=int, default=300)
    options.add_argument("--instruments", type=int, default=30)
    options.add_argument("--stations", type=int, default=5)
    given = options.parse_args()
    plan_morning(*morning(np.random.default_rng(1), instruments=3, stations=2))  # loads scipy, as the server does at its start
    rng = np.random.default_rng(7)
    over, spent = [], []
    for _ in range(given.mornings):
        jobs, people = morning(rng, instruments=given.instruments, stations=given.stations)
        started = time.perf_counter()
        planned = plan_morning(jobs, people)
        spent.append(1000.0 * (time.perf_counter() - started))
        over.append(100.0 * planned.over_bound)
    print(
        f"{given.mornings} mornings of {given.instruments} instruments at {given.stations} stations: over the bound by"
        f" {np.median(over):.2f} % (median), {np.percentile(over, 95):.2f} % (95 %), {max(over):.2f} % (worst);"
        f" planned in {np.median(spent):.1f} ms (median), {max(spent):.1f} ms (worst)."
    )


if __name__ == "__main__":
    main()

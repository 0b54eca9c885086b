"""Judgement: how long one advice, one plan and one learning take.

Run: ``bin/pondus bench judgement``.
"""

import time
from collections.abc import Callable

import numpy as np

from pondus.core.hands.learned import learn_rate
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.mechanics import Rate
from pondus.core.judgement.advise import advise
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import StringAsked, plan
from pondus.core.judgement.situation import FineTuner, Peg, situation


def timed(name: str, work: Callable[[], object], wanted_ms: float, times: int) -> None:
    work()
    taken = []
    for _ in range(times):
        started = time.perf_counter()
        work()
        taken.append(1000 * (time.perf_counter() - started))
    print(f"{name:42s} {np.median(taken):8.3f} ms median {np.percentile(taken, 95):8.3f} ms 95 %   (wanted < {wanted_ms:g} ms)")


def main() -> None:
    cello = INSTRUMENTS["cello"]
    facts = {name: situation(cello, name, fine_tuner=FineTuner(3.0), peg=Peg()) for name in cello.string_names}
    timed("advise, screw", lambda: advise(facts["A"], Heard(note="A3", cents=-12.0)), 1.0, 500)
    timed("advise, peg and screw at its end", lambda: advise(facts["C"], Heard(note="C2", cents=-45.0)), 1.0, 500)
    off = {"C": 60.0, "G": 95.0, "D": 150.0, "A": 212.0}
    mixed = {name: StringAsked(facts[name], Heard(hz=hz)) for name, hz in off.items()}
    timed("plan, four strings with pegs", lambda: plan(mixed, instrument=cello), 10.0, 200)
    slack = {name: StringAsked(facts[name], Heard(hz=hz * 0.55)) for name, hz in off.items()}
    timed("plan, all slack", lambda: plan(slack, instrument=cello), 10.0, 200)
    rng = np.random.default_rng(1)
    turns = rng.uniform(-0.5, 0.5, 10_000)
    change = 38.0 * turns * (1 + rng.normal(0, 0.15, 10_000)) + rng.normal(0, 1, 10_000)
    timed("learning from 10,000 moves", lambda: learn_rate(turns, change, prior=Rate(30, 10), hand_error=0.15), 100.0, 50)


if __name__ == "__main__":
    main()

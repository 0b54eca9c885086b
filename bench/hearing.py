"""Hearing: errors, refusals and speed, beside two well-known estimators on the same sounds and the theoretical bound.

Run: ``bin/pondus bench hearing [--each 8] [--pyin-every 12]``.
"""

import argparse
import time
from collections.abc import Callable

import librosa
import numpy as np

from bench.sounds import BAD, GOOD, Case, bad_cases, bound_cases, good_cases
from pondus.core.hearing.hear import Refusal, hear
from pondus.core.hearing.live import Listener
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between

Estimate = Callable[[Case], float | None]


def _ours(case: Case) -> float | None:
    heard = hear(sound_from(case.samples, case.rate_hz), INSTRUMENTS[case.kind])
    return None if isinstance(heard, Refusal) else heard.hz


def _range(case: Case) -> tuple[float, float]:
    hz = targets_hz(INSTRUMENTS[case.kind]).values()
    return min(hz) * 0.8, max(hz) * 1.25


def _yin(case: Case) -> float | None:
    low, high = _range(case)
    frames = librosa.yin(case.samples, fmin=low, fmax=high, sr=case.rate_hz, frame_length=4096, trough_threshold=0.15)
    middle = frames[len(frames) // 5 : -len(frames) // 5 or None]
    return float(np.median(middle)) if len(middle) else None


def _pyin(case: Case) -> float | None:
    low, high = _range(case)
    frames, voiced, _ = librosa.pyin(case.samples, fmin=low, fmax=high, sr=case.rate_hz)
    return float(np.median(frames[voiced])) if voiced.any() else None


class Tally:
    """Errors in cents, refusals and time of one estimator on one kind of sound."""

    def __init__(self) -> None:
        self.errors: list[float] = []
        self.refused = 0
        self.seconds = 0.0
        self.sound_seconds = 0.0

    def add(self, case: Case, estimate: Estimate) -> None:
        started = time.perf_counter()
        hz = estimate(case)
        self.seconds += time.perf_counter() - started
        self.sound_seconds += len(case.samples) / case.rate_hz
        if hz is None:
            self.refused += 1
        elif case.hz is not None:
            self.errors.append(abs(cents_between(hz, case.hz)))

    def line(self) -> str:
        errors = np.array(self.errors or [np.nan])
        gross = int((errors > 50).sum())
        octaves = int((np.abs(errors - 1200) < 60).sum())
        speed = 1000 * self.seconds / max(self.sound_seconds, 1e-9)
        return (
            f"{np.median(errors):8.3f} {np.percentile(errors, 95):9.3f} {octaves:5d} {gross:5d}"
            f" {self.refused:6d}/{len(self.errors) + self.refused:<5d}{speed:8.1f}"
        )


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--each", type=int, default=8, help="sounds per string and kind")
    options.add_argument("--pyin-every", type=int, default=12, help="pyin hears every n-th sound only: it is slow")
    options.add_argument("--seed", type=int, default=2026)
    given = options.parse_args()
    rng = np.random.default_rng(given.seed)
    warm = good_cases("bowed", 1, rng)[0]
    for estimate in (_ours, _yin, _pyin):
        estimate(warm)

    totals: dict[str, Tally] = {"pondus": Tally(), "yin": Tally(), "pyin": Tally()}
    print(f"{'sound':22s}{'by':8s}{'median':>8s} {'95 %':>9s} {'oct.':>5s} {'>50c':>5s} {'refused':>9s}   {'ms per s':>8s}")
    for name in GOOD:
        _compare(name, good_cases(name, given.each, rng), totals, given.pyin_every)
    bound = bound_cases(given.each, rng)
    _compare("steady in noise, 10 dB", bound, totals, given.pyin_every)
    print(
        f"{'':22s}{'bound':8s}{np.median([case.bound_cents for case in bound if case.bound_cents]):8.4f} (Cramér-Rao, median)"
    )

    print("\nNo string in it (called usable / all):")
    for name in BAD:
        cases = bad_cases(name, max(2, given.each), rng)
        called = {label: sum(by(case) is not None for case in cases) for label, by in (("pondus", _ours), ("yin", _yin))}
        print(f"  {name:20s} pondus {called['pondus']:3d}/{len(cases)}   yin {called['yin']:3d}/{len(cases)}")

    speeds = {label: tally.seconds / tally.sound_seconds for label, tally in totals.items()}
    print(f"\nWhole recordings: {speeds['yin'] / speeds['pondus']:.1f} times as fast as yin,"
          f" {speeds['pyin'] / speeds['pondus']:.0f} times as fast as pyin.")  # fmt: skip
    _one_look(rng)


def _compare(name: str, cases: list[Case], totals: dict[str, Tally], pyin_every: int) -> None:
    for label, estimate, every in (("pondus", _ours, 1), ("yin", _yin, 1), ("pyin", _pyin, pyin_every)):
        tally = Tally()
        for case in cases[::every]:
            tally.add(case, estimate)
        totals[label].seconds += tally.seconds
        totals[label].sound_seconds += tally.sound_seconds
        print(f"{name if label == 'pondus' else '':22s}{label:8s}{tally.line()}")


def _one_look(rng: np.random.Generator) -> None:
    times = []
    for case in good_cases("bowed", 1, rng):
        listener = Listener(INSTRUMENTS[case.kind], rate_hz=case.rate_hz)
        step = case.rate_hz // 20
        for start in range(0, len(case.samples), step):
            started = time.perf_counter()
            listener.feed(case.samples[start : start + step])
            times.append(1000 * (time.perf_counter() - started))
    print(f"One live look: {np.median(times):.2f} ms (median), {np.percentile(times, 95):.2f} ms (95 %).")


if __name__ == "__main__":
    main()

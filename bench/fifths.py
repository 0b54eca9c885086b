"""Double stops: error of the interval and of the beats, wrong directions, and what is refused.

Run: ``bin/pondus bench fifths [--each 12]``.
"""

import argparse
import time
from collections import Counter

import numpy as np

from bench.double_stop_sounds import PAIRS, Pair, double_stop, single
from pondus.core.fifths.beats import fifth_between
from pondus.core.hearing.double_stop import DoubleStop, FifthRefusal, hear_fifth
from pondus.core.hearing.sound import Sound, sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.core.simulated.sound import talk, white_noise

SIGN_MATTERS_CENTS = 1.0


def _hear(pair: Pair) -> DoubleStop | FifthRefusal:
    return hear_fifth(sound_from(pair.samples, pair.rate_hz), INSTRUMENTS[pair.kind], strings=pair.strings)


def _accuracy(how: str, each: int, rng: np.random.Generator) -> None:
    cents, beats, wrong, within, seconds = [], [], 0, 0, 0.0
    refused: Counter[str] = Counter()
    for kind, strings in PAIRS:
        for _ in range(each):
            pair = double_stop(how, kind, strings, rng)
            true = fifth_between(pair.lower_hz, pair.upper_hz)
            started = time.perf_counter()
            heard = _hear(pair)
            seconds += time.perf_counter() - started
            if isinstance(heard, FifthRefusal):
                refused[heard.reason] += 1
                continue
            error = abs(heard.fifth.from_pure_cents - true.from_pure_cents)
            cents.append(error)
            within += error <= 2.0 * heard.plus_minus_cents
            beats.append(abs(heard.fifth.beats_hz - true.beats_hz))
            wrong += abs(true.from_pure_cents) > SIGN_MATTERS_CENTS and heard.fifth.from_pure_cents * true.from_pure_cents < 0
    total = len(cents) + sum(refused.values())
    print(
        f"{how:14s} {np.median(cents):8.3f} {np.percentile(cents, 95):8.3f} {max(cents):8.3f}"
        f" {np.percentile(beats, 95):9.3f} {wrong:6d} {within / len(cents):10.0%}"
        f" {sum(refused.values()):5d}/{total:<5d} {1000 * seconds / total:8.1f}  {dict(refused) or ''}"
    )


def _no_fifth(each: int, rng: np.random.Generator) -> None:
    print("\nNo such pair (called usable / all, reasons):")
    for name in ("wrong pair", "one string", "noise", "talk", "silence"):
        called, reasons = 0, Counter[str]()
        for kind, strings in PAIRS:
            for _ in range(each):
                heard = hear_fifth(_wrong(name, kind, strings, rng), INSTRUMENTS[kind], strings=strings)
                if isinstance(heard, FifthRefusal):
                    reasons[heard.reason] += 1
                else:
                    called += 1
        print(f"  {name:12s} {called:3d}/{called + sum(reasons.values()):<4d} {dict(reasons)}")


def _wrong(name: str, kind: str, strings: tuple[str, str], rng: np.random.Generator) -> Sound:
    if name == "wrong pair":
        others = [pair for each, pair in PAIRS if each == kind and pair != strings]
        pair = double_stop("bowed", kind, others[rng.integers(len(others))], rng)
        return sound_from(pair.samples, pair.rate_hz)
    if name == "one string":
        return sound_from(single(kind, str(rng.choice(list(INSTRUMENTS[kind].string_names))), rng), 44_100)
    samples = {"noise": white_noise(88_200, rng), "talk": talk(88_200, 44_100, rng), "silence": np.zeros(88_200)}[name]
    return sound_from(samples, 44_100)


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--each", type=int, default=12, help="sounds per pair of neighbours")
    options.add_argument("--seed", type=int, default=2026)
    given = options.parse_args()
    rng = np.random.default_rng(given.seed)
    print(
        f"{'sound':14s} {'median':>8s} {'95 %':>8s} {'worst':>8s} {'beats 95%':>9s} {'wrong':>6s} {'within ±2s':>10s}"
        f" {'refused':>11s} {'ms each':>8s}"
    )
    for how in ("bowed", "changing bow", "plucked"):
        _accuracy(how, given.each, rng)
    _no_fifth(max(2, given.each // 3), rng)


if __name__ == "__main__":
    main()

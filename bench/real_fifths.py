"""Double stops of real notes: two still notes put on neighbouring strings, up to 15 cents from a pure fifth, mixed within 6 dB.

Where each string lies is heard alone before they are mixed (`real` says how well); ``error`` is how far the fifth heard then
lies from that. ``alone``: single notes that are called a double stop, as played and beside another player at −15 dB.

Run: ``bin/pondus bench real_fifths [--source packed] [--pairs 200]``.
"""

import argparse
from collections import Counter, defaultdict

import numpy as np

from bench.real import ROOMS, SOURCES, STILL_CENTS, Measured, cases, measured, notes_of, put_on
from pondus.core.hearing.double_stop import FifthRefusal, hear_any_fifth, hear_fifth
from pondus.core.hearing.hear import Refusal, hear
from pondus.core.hearing.sound import Sound, sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, targets_hz
from pondus.core.pitch.notes import cents_between, shift_hz
from pondus.core.simulated.sound import Samples, mixed

RATE_HZ, FURTHEST_CENTS, WITHIN_DB = 44_100, 1900.0, 6.0


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--source", choices=list(SOURCES), default="packed")
    options.add_argument("--pairs", type=int, default=200)
    options.add_argument("--seed", type=int, default=2)
    given = options.parse_args()
    notes = [note for note in notes_of(given.source) if "section" not in note.sort]
    found = [each for each in map(measured, notes) if each.sway_cents < STILL_CENTS]
    by_kind: dict[str, list[Measured]] = defaultdict(list)
    for each in found:
        by_kind["plucked" if "plucked" in each.note.sort else "bowed"].append(each)
    rng = np.random.default_rng(given.seed)
    for how, of in by_kind.items():
        _pairs(how, of, given.pairs, rng)
    for room in ("as played", "another at −15 dB"):
        calls = Counter(_called(found_fifth) for found_fifth in _alone(found, room, rng))
        print(f"single notes {room}: " + ", ".join(f"{what} {times}" for what, times in calls.most_common()))


def _pairs(how: str, found: list[Measured], count: int, rng: np.random.Generator) -> None:
    errors: list[float] = []
    refused: Counter[str] = Counter()
    for _ in range(count):
        kind = str(rng.choice(list(INSTRUMENTS)))
        targets = targets_hz(INSTRUMENTS[kind])
        place = int(rng.integers(0, len(targets) - 1))
        lower, upper = list(targets)[place : place + 2]
        one, other = (found[int(rng.integers(0, len(found)))] for _ in range(2))
        low = shift_hz(targets[lower], float(rng.uniform(-10.0, 10.0)))
        high = shift_hz(low, PURE_FIFTH_CENTS + float(rng.uniform(-15.0, 15.0)))
        if max(abs(cents_between(one.hz, low)), abs(cents_between(other.hz, high))) > FURTHEST_CENTS:
            continue
        below, above = put_on(one, low, RATE_HZ), put_on(other, high, RATE_HZ)
        length = min(len(below), len(above))
        alone = [hear(_sound(part[:length]), INSTRUMENTS[kind], string=name) for part, name in ((below, lower), (above, upper))]
        both = mixed(below[:length], above[:length], below_db=float(rng.uniform(-WITHIN_DB, WITHIN_DB)))
        heard = hear_fifth(_sound(both), INSTRUMENTS[kind], strings=(lower, upper))
        if isinstance(alone[0], Refusal) or isinstance(alone[1], Refusal):
            continue
        if isinstance(heard, FifthRefusal):
            refused[heard.reason] += 1
        else:
            errors.append(abs(cents_between(heard.upper_hz, heard.lower_hz) - cents_between(alone[1].hz, alone[0].hz)))
    why = ", ".join(f"{reason} {times}" for reason, times in refused.most_common())
    middle, most = np.percentile(errors or [np.nan], (50, 95))
    print(f"{how:8s} heard {len(errors)}, refused {sum(refused.values())} ({why}); error {middle:.2f}, 95 % {most:.2f}")


def _sound(samples: Samples) -> Sound:
    return sound_from(samples.astype(np.float32), RATE_HZ)


def _alone(found: list[Measured], room: str, rng: np.random.Generator) -> list[FifthRefusal | object]:
    return [
        hear_any_fifth(
            sound_from(ROOMS[room](case.samples, case.rate_hz, case.hz, rng).astype(np.float32), case.rate_hz),
            INSTRUMENTS[case.kind],
        )
        for case in cases(found, 1, rng)
    ]


def _called(heard: FifthRefusal | object) -> str:
    return heard.reason if isinstance(heard, FifthRefusal) else "a double stop"


if __name__ == "__main__":
    main()

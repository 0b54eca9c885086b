"""A room that plays its A: how far its players are spread, against the truth, in simulated rooms.

Six to twenty players, violins, violas and cellos, each at a distance of their own (levels 12 dB apart) with a bow, a body and a
stray of their own, in a room that rings half a second, with noise. Their spread is from 2 to 25 cents; in a third of the rooms
one stands 30 to 55 cents apart. Truth is the players' own standard deviation (who stands apart left out).

Run: ``bin/pondus bench whole_room [--rooms 60] [--first 1]``
"""

import argparse

import numpy as np
from scipy.signal import fftconvolve

from pondus.core.hearing.sound import sound_from
from pondus.core.hearing.whole_room import RoomHeard, hear_room
from pondus.core.simulated.sound import Samples, Tone, bowed, mixed, white_noise

RATE, SECONDS = 44_100, 5.0


def room(seed: int) -> tuple[Samples, float, float, float | None]:
    """Its sound, the players' middle and spread in cents, and who stands apart."""
    rng = np.random.default_rng([seed, 31])
    count = int(rng.integers(6, 21))
    offs = rng.normal(rng.uniform(-6.0, 6.0), np.exp(rng.uniform(np.log(2.0), np.log(25.0))), count)
    offs = np.clip(offs, -55.0, 55.0)
    apart = None
    if rng.uniform() < 1.0 / 3.0:
        apart = float(np.median(offs) + rng.choice([-1.0, 1.0]) * rng.uniform(30.0, 55.0))
    heard = np.zeros(int(SECONDS * RATE))
    for off in [*offs, *([] if apart is None else [apart])]:
        hz = (220.0 if rng.uniform() < 0.3 else 440.0) * 2.0 ** (off / 1200.0)
        tone = Tone(hz, SECONDS, RATE, partials=24)
        bows, sway = tuple(rng.uniform(0.5, 4.5, 2)), rng.uniform(0.5, 4.0)
        own = bowed(tone, rng, bow_changes_at=bows, flutter_cents=0.5, sway_cents=sway)
        heard += own * 10.0 ** (rng.uniform(-12.0, 0.0) / 20.0)
    ring = rng.normal(0.0, 1.0, int(0.7 * RATE)) * np.exp(-np.arange(int(0.7 * RATE)) / (0.5 * RATE / 6.9))
    ring /= np.sqrt(np.sum(ring**2))
    heard = heard + 0.7 * fftconvolve(heard, ring)[: len(heard)]
    heard = heard / np.abs(heard).max() * 0.6
    return mixed(heard, white_noise(len(heard), rng), below_db=25.0), float(np.median(offs)), float(np.std(offs)), apart


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--rooms", type=int, default=60)
    options.add_argument("--first", type=int, default=1)
    options.add_argument("--tell", action="store_true")
    given = options.parse_args()
    spread, middle, refused, apart_seen, apart_all, apart_false = [], [], 0, 0, 0, 0
    for seed in range(given.first, given.first + given.rooms):
        sound, off, true, apart = room(seed)
        found = hear_room(sound_from(sound.astype(np.float32), RATE), a4=440.0)
        if given.tell:
            print(seed, f"{true:5.1f} {off:5.1f}", apart, found, flush=True)
        if not isinstance(found, RoomHeard):
            refused += 1
            continue
        spread.append(found.spread_cents - true)
        middle.append(found.off_cents - off)
        apart_all += apart is not None
        apart_seen += apart is not None and any(abs(each - apart) < 15.0 for each in found.far_cents)
        apart_false += apart is None and bool(found.far_cents)
    print(f"rooms {given.rooms}, told unsure {refused}")
    for said, values in (("spread", spread), ("middle", middle)):
        half, most = np.percentile(np.abs(values), (50, 95))
        print(f"{said}: off by {half:.1f} cents at the median, {most:.1f} at 95 %, lies {np.mean(values):+.1f}")
    false = f"said where nobody was {apart_false} of {len(spread) - apart_all}"
    print(f"one apart: seen {apart_seen} of {apart_all}; {false}")


if __name__ == "__main__":
    main()

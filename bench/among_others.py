"""Live in a class: plucks and bows of real players, one string after the other, while others tune, talk and knock.

For each morning four real notes are put on the open strings of one instrument, in any order, 8 dB louder and softer than
each other, with pauses of half a second and more. Beside them, so many dB under them, without a pause: other players' strings
(bowed, plucked, of any instrument), talk, room noise, or a knock a second. Told are: how many soundings gave no reading,
one, more; of those one was asked about only because it was softer; and what was kept, or asked about, that was never played
on this instrument. What was kept before its own first string has nothing to be compared with and is told apart.

Run: ``bin/pondus bench among_others [--source packed] [--mornings 20] [--beside "player, -15 dB"]``.
"""

import argparse
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from bench.packed import BOWED_BASS
from bench.real import SOURCES, STILL_CENTS, Measured, measured, notes_of, put_on
from bench.soundfonts import OTHER_PLUCKED
from pondus.core.hearing.hear import Reading, hear
from pondus.core.hearing.live import Listener
from pondus.core.hearing.look import Settled
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS, KINDS, Kind
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between
from pondus.core.simulated.sound import Samples, Tone, bowed, plucked, talk, white_noise

RATE = 44_100
LATEST_SECONDS, SOONEST_SECONDS = 0.3, 0.25
"""A reading that comes so long after a sounding's end, or so soon after its beginning, is not of it."""
SAME_CENTS = 60.0
Beside = Callable[[int, np.random.Generator], Samples]


@dataclass(frozen=True)
class Sounding:
    """One string of the instrument at hand: from when to when (s), and what is heard of it alone (Hz)."""

    begins: float
    ends: float
    hz: float


def morning(notes: list[Measured], kind: Kind, rng: np.random.Generator) -> tuple[Samples, list[Sounding]]:
    """Four strings in any order, by whichever notes lie near; only what can be heard alone counts as a sounding."""
    parts, at, soundings = [np.zeros(RATE // 2)], RATE // 2, []
    instrument = INSTRUMENTS[kind]
    targets = list(targets_hz(instrument).values())
    rng.shuffle(targets)
    for target in targets:
        near = sorted(notes, key=lambda note: abs(cents_between(note.hz, target)))[:8]
        sound = put_on(near[rng.integers(0, len(near))], target * 2.0 ** (rng.uniform(-40.0, 40.0) / 1200.0), RATE)
        sound = sound[: int(rng.uniform(1.0, 2.2) * RATE)] * 0.8 * 10.0 ** (np.clip(rng.normal(0.0, 4.0), -8, 6) / 20.0)
        fades = min(2000, len(sound))
        sound[-fades:] *= np.linspace(1.0, 0.0, fades)
        pause = np.zeros(int(rng.uniform(0.5, 1.2) * RATE))
        alone = hear(sound_from(sound.astype(np.float32), RATE), instrument)
        if isinstance(alone, Reading):
            soundings.append(Sounding(at / RATE, (at + len(sound)) / RATE, alone.hz))
        parts += [sound, pause]
        at += len(sound) + len(pause)
    return np.concatenate(parts), soundings


def players(count: int, rng: np.random.Generator) -> Samples:
    """Others who tune, one string after the other, hardly pausing."""
    parts, so_far = [], 0
    everyones = [hz for each in INSTRUMENTS.values() for hz in targets_hz(each).values()]
    while so_far < count:
        hz = float(rng.choice(everyones)) * 2.0 ** (rng.uniform(-40.0, 40.0) / 1200.0)
        sounded = (bowed if rng.random() < 0.6 else plucked)(Tone(hz, rng.uniform(0.8, 2.5), RATE), rng)
        parts += [sounded, np.zeros(int(rng.uniform(0.0, 0.4) * RATE))]
        so_far += len(parts[-1]) + len(parts[-2])
    return np.concatenate(parts)[:count]


def knocks(count: int, rng: np.random.Generator) -> Samples:
    """A knock a second: a stand, a bow put down, the peg box."""
    out = np.zeros(count)
    time = np.arange(RATE // 4) / RATE
    for at in rng.integers(0, count - len(time), count // RATE):
        ring = np.sin(2.0 * np.pi * rng.uniform(60.0, 250.0) * time) * np.exp(-time / rng.uniform(0.02, 0.06))
        out[at : at + len(time)] += ring + 0.6 * rng.normal(0.0, 1.0, len(time)) * np.exp(-time / 0.008)
    return out


def _noise(count: int, rng: np.random.Generator) -> Samples:
    return white_noise(count, rng)


def _talk(count: int, rng: np.random.Generator) -> Samples:
    return talk(count, RATE, rng)


BESIDE: dict[str, tuple[Beside, float]] = {
    "nobody": (_noise, 45.0),
    "player, -25 dB": (players, 25.0),
    "player, -20 dB": (players, 20.0),
    "player, -15 dB": (players, 15.0),
    "player, -10 dB": (players, 10.0),
    "talk, -20 dB": (_talk, 20.0),
    "talk, -10 dB": (_talk, 10.0),
    "noise, -20 dB": (_noise, 20.0),
    "knocks, -10 dB": (knocks, 10.0),
    "knocks, 0 dB": (knocks, 0.0),
}


def in_the_room(own: Samples, beside: str, rng: np.random.Generator) -> Samples:
    """The instrument with what is beside it, so far under its strings while they sound; knocks by their peak."""
    make, below_db = BESIDE[beside]
    other = make(len(own), rng)
    loud = float(np.sqrt(np.mean(np.square(own[np.abs(own) > 0.02]))))
    scale = 1.0 if make is knocks else loud / float(np.sqrt(np.mean(np.square(other))))
    quiet = 0.005 * loud * rng.normal(0.0, 1.0, len(own))
    return np.asarray(own + quiet + other * scale * 10.0 ** (-below_db / 20.0))


def heard(samples: Samples, kind: Kind) -> list[tuple[float, Settled]]:
    """All that settles, and when (s)."""
    listener, said, step = Listener(INSTRUMENTS[kind], rate_hz=RATE), [], RATE // 20
    for start in range(0, len(samples), step):
        for each in listener.feed(samples[start : start + step].astype(np.float32)):
            if isinstance(each, Settled):
                said.append(((start + step) / RATE, each))
    return said


def counted(said: list[tuple[float, Settled]], soundings: list[Sounding]) -> Counter[str]:
    """What came of the soundings, and what was never played."""
    outcome: Counter[str] = Counter()
    of: dict[int, list[Settled]] = {place: [] for place in range(len(soundings))}
    for at, settled in said:
        began = [place for place, each in enumerate(soundings) if at > each.begins + SOONEST_SECONDS]
        its = began[-1] if began and at <= soundings[began[-1]].ends + LATEST_SECONDS else None
        if its is not None and abs(cents_between(settled.reading.hz, soundings[its].hz)) < SAME_CENTS:
            of[its].append(settled)
        elif settled.ask is not None:
            outcome["not its own: asked"] += 1
        else:
            outcome["not its own: kept" if began else "before its first: kept"] += 1
    for readings in of.values():
        outcome[{0: "none", 1: "one"}.get(len(readings), "more")] += 1
        outcome["asked as softer"] += any(each.ask == "softer" for each in readings[:1])
    return outcome


COLUMNS = (
    "none", "one", "more", "asked as softer", "not its own: kept", "not its own: asked", "before its first: kept",
)  # fmt: skip


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--source", choices=list(SOURCES), default="packed")
    options.add_argument("--mornings", type=int, default=20)
    options.add_argument("--beside", choices=list(BESIDE), help="this alone")
    options.add_argument("--seed", type=int, default=11)
    given = options.parse_args()
    notes = [
        each
        for each in map(measured, notes_of(given.source))
        if each.note.sort == OTHER_PLUCKED or (each.sway_cents < STILL_CENTS and each.note.sort in (*INSTRUMENTS, BOWED_BASS))
    ]
    print(f"{len(notes)} notes\n{'beside':16s}{'soundings':>10s}  " + "  ".join(COLUMNS))
    for beside in BESIDE if given.beside is None else [given.beside]:
        rng, outcome = np.random.default_rng(given.seed), Counter[str]()
        for place in range(given.mornings):
            kind = KINDS[place % len(KINDS)]
            own, soundings = morning(notes, kind, rng)
            outcome += counted(heard(in_the_room(own, beside, rng), kind), soundings)
        count = outcome["none"] + outcome["one"] + outcome["more"]
        print(f"{beside:16s}{count:10d}  " + "  ".join(f"{outcome[each]:{len(each)}d}" for each in COLUMNS), flush=True)


if __name__ == "__main__":
    main()

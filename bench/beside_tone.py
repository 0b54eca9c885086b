"""A string beside its reference tone out of a small loudspeaker: how far from the truth it is heard, and how often not at all.

The tone is distorted (by up to 3 % of each order), cut off below by the loudspeaker, and rings in a room; the string is bowed
or plucked, within 10, 60 or 180 cents of it, the tone up to 12 dB louder than the string. ``alone``: the tone by itself
was taken for a string. ``--source``: notes of real players, put on the strings by known factors, instead of Pondus's own;
how far off is then the distance to what is heard of the same note without a tone.

Run: ``bin/pondus bench beside_tone [--seeds 0 60] [--source packed]``.
"""

import argparse

import numpy as np
from scipy.signal import butter, fftconvolve, sosfilt

from bench.real import SOURCES, STILL_CENTS, Measured, measured, notes_of, put_on
from pondus.core.hearing.beside_tone import hear_beside
from pondus.core.hearing.hear import Reading, hear
from pondus.core.hearing.sound import Sound
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between, shift_hz
from pondus.core.pitch.tones import FOLLOWED_ORDERS, partial_levels
from pondus.core.simulated.sound import Samples, Tone, bowed, plucked, white_noise

RATE, SECONDS = 44_100, 1.2
SPANS, TONES_DB, NOISE_DB = (10.0, 60.0, 180.0), (-6.0, 0.0, 6.0, 12.0), -30.0
DIFFERS_CENTS = 15.0


def tone_in_room(hz: float, count: int, rng: np.random.Generator) -> Samples:
    """The followed tone as a microphone in the room gets it: shape (count,), power 1."""
    time = np.arange(count) / RATE
    levels = partial_levels(hz, followed=True)
    out = sum(level * np.sin(2 * np.pi * (k * hz * time + rng.random())) for k, level in enumerate(levels, 1))
    out = np.asarray(out) / np.abs(out).max()
    out = out + 2.0 * rng.uniform(0.005, 0.03) * out**2 + 2.0 * rng.uniform(0.005, 0.03) * out**3
    out = sosfilt(butter(2, rng.uniform(100.0, 300.0), "high", fs=RATE, output="sos"), out)
    echo = rng.normal(0.0, 1.0, int(0.4 * RATE)) * np.exp(-np.arange(int(0.4 * RATE)) / (0.1 * RATE))
    echo[0] = 12.0
    return of_power(fftconvolve(out, echo)[:count])


def of_power(sound: Samples, db: float = 0.0) -> Samples:
    """The same sound, its power so many dB re 1."""
    return np.asarray(sound / np.sqrt(np.mean(np.square(sound)) + 1e-30) * 10.0 ** (db / 20.0))


def own_string(hz: float, rng: np.random.Generator) -> Samples:
    """A bowed or plucked string of Pondus's own."""
    weak = -30.0 if hz < 140.0 else 0.0
    is_bowed = rng.random() < 0.6
    of = Tone(hz, SECONDS, RATE, weak_fundamental_db=weak, stiffness=0.0 if is_bowed else float(rng.uniform(0.0, 3e-4)))
    return bowed(of, rng) if is_bowed else plucked(of, rng)


def still_notes(source: str) -> list[Measured]:
    """The notes of a source that sway by less than 12 cents."""
    return [each for each in map(measured, notes_of(source)) if each.sway_cents < STILL_CENTS]


def string_for(of: Measured | None, rng: np.random.Generator) -> tuple[str, str]:
    """An instrument and its string: any, or one near a note."""
    strings = [(kind, name, hz) for kind in INSTRUMENTS for name, hz in targets_hz(INSTRUMENTS[kind]).items()]
    near = strings if of is None else sorted(strings, key=lambda each: abs(cents_between(each[2], of.hz)))[:3]
    kind, name, _ = near[int(rng.integers(0, len(near)))]
    return kind, name


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--seeds", type=int, nargs=2, default=(0, 60), metavar=("FIRST", "END"))
    options.add_argument("--source", choices=SOURCES)
    given = options.parse_args()
    still = [] if given.source is None else still_notes(given.source)
    print(f"{'within':>7s} {'tone':>6s} {'heard':>6s} {'not':>5s} {'alone':>6s} {'median':>7s} {'95 %':>6s} {'over 15':>8s}")
    for span in SPANS:
        for tone_db in TONES_DB:
            off, missed, alone = [], 0, 0
            for seed in range(*given.seeds):
                rng = np.random.default_rng(seed)
                of = still[seed % len(still)] if still else None
                kind, name = string_for(of, rng)
                targets = targets_hz(INSTRUMENTS[kind])
                hz = shift_hz(targets[name], rng.uniform(-span, span))
                string = own_string(hz, rng) if of is None else put_on(of, hz, RATE)
                string = of_power(string[: int(SECONDS * RATE)])
                plain = hear(Sound(string, RATE), INSTRUMENTS[kind], string=name)
                if not isinstance(plain, Reading):
                    continue
                true = cents_between(hz, targets[name]) if of is None else plain.string_cents
                tone_hz = targets[name] * 2.0 ** (int(rng.integers(0, 2)) if targets[name] < 200.0 else 0)
                room = tone_in_room(tone_hz, len(string), rng)
                room = of_power(room, tone_db) + of_power(white_noise(len(string), rng), NOISE_DB)
                how = {"string_hz": targets[name], "tone_hz": tone_hz, "tone_orders": FOLLOWED_ORDERS}
                heard = hear_beside(Sound(string + room, RATE), **how)  # type: ignore[arg-type]
                alone += hear_beside(Sound(room, RATE), **how) is not None  # type: ignore[arg-type]
                missed += heard is None
                if heard is not None:
                    off.append(abs(heard.cents - true))
            far = np.asarray(off or [np.nan])
            print(
                f"{span:7.0f} {tone_db:+6.0f} {len(off):6d} {missed:5d} {alone:6d} {np.median(far):7.2f}"
                f" {np.percentile(far, 95):6.2f} {int((far > DIFFERS_CENTS).sum()):8d}"
            )


if __name__ == "__main__":
    main()

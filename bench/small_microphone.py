"""Low strings through a small microphone: bowed and plucked, in tune and slack, with hardly any first partial left.

Each partial is some 6 to 12 dB up or down by chance (a body's gaps), then all under 200 to 260 Hz is cut off (12 to 24 dB
an octave), for some over 3.4 kHz too, and noise comes on top. Told are refusals, readings of another octave or twelfth, and how
many of those are surer than 0.3; unnamed and with the string named.

Run: ``bin/pondus bench small_microphone [--seeds 200 260]``.
"""

import argparse

import numpy as np
from scipy.signal import butter, sosfilt

from pondus.core.hearing.hear import Reading, hear
from pondus.core.hearing.sound import Sound
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between, shift_hz
from pondus.core.simulated.sound import Samples

RATE, SECONDS, PARTIALS = 44_100, 1.6, 40
LOW = (("viola", "CG"), ("cello", "CGD"), ("violin", "GD"))
GROSS_CENTS, SURE = 50.0, 0.3


def sounded(hz: float, rng: np.random.Generator) -> Samples:
    """One sounding of a string, as such a microphone hears it: shape (samples,)."""
    time, orders = np.arange(int(SECONDS * RATE)) / RATE, np.arange(1, PARTIALS + 1)
    plucked = rng.random() < 0.5
    stiffness = rng.uniform(0.0, 4e-4) if plucked else 0.0
    at = hz * orders * np.sqrt((1.0 + stiffness * orders**2) / (1.0 + stiffness))
    levels = 10.0 ** (rng.normal(0.0, rng.choice([6.0, 9.0, 12.0]), PARTIALS) / 20.0) / orders
    levels[0] *= 10.0 ** (rng.choice([0.0, -15.0, -30.0]) / 20.0)
    dies = rng.uniform(0.5, 1.5) + 0.25 * orders if plucked else np.zeros(PARTIALS)
    envelopes = np.exp(-dies[:, None] * time) * np.minimum(1.0, time / (0.004 if plucked else 0.06))
    turns = at[:, None] * time + rng.uniform(0.0, 1.0, (PARTIALS, 1))
    out = np.sum(levels[:, None] * envelopes * np.sin(2.0 * np.pi * turns), axis=0)
    out = sosfilt(butter(int(rng.choice([2, 3, 4])), rng.uniform(200.0, 260.0), "high", fs=RATE, output="sos"), out)
    if rng.random() < 0.4:
        out = sosfilt(butter(6, 3400.0, "low", fs=RATE, output="sos"), out)
    noise = rng.normal(0.0, 0.1 * 10.0 ** (-rng.uniform(35.0, 60.0) / 20.0), len(out))
    return np.asarray(0.4 * out / np.abs(out).max() + noise)


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--seeds", type=int, nargs=2, default=(200, 260), metavar=("FIRST", "END"))
    given = options.parse_args()
    print(f"{'':22s}{'heard':>6s} {'refused':>8s} {'gross':>6s} {'and sure':>9s}")
    for slack in (False, True):
        for named in (False, True):
            count = refused = gross = sure = 0
            for seed in range(*given.seeds):
                rng = np.random.default_rng(seed)
                for kind, strings in LOW:
                    instrument = INSTRUMENTS[kind]
                    for name in strings:
                        off = rng.uniform(-650.0, -300.0) if slack else rng.uniform(-60.0, 60.0)
                        hz = shift_hz(targets_hz(instrument)[name], off)
                        heard = hear(Sound(sounded(hz, rng), RATE), instrument, string=name if named else None)
                        count += 1
                        if not isinstance(heard, Reading):
                            refused += 1
                        elif abs(cents_between(heard.hz, hz)) > GROSS_CENTS:
                            gross += 1
                            sure += heard.confidence > SURE
            what = f"{'300 to 650 flat' if slack else 'within 60'}{', named' if named else ''}"
            print(f"{what:22s}{count:6d} {refused:8d} {gross:6d} {sure:9d}")


if __name__ == "__main__":
    main()

"""The sounds the hearing benchmark is run on: strings of known pitch in rooms of known noise, and what is no string."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.simulated.sound import Samples, Tone, bowed, glide, hum, mixed, plucked, talk, white_noise

SEMITONES_AROUND = 3.0
SECONDS = 2.0


@dataclass(frozen=True)
class Case:
    """One sound; ``hz`` is its true first partial, None where nothing should be heard. ``bound_cents``: Cramér-Rao."""

    kind: str
    samples: Samples
    rate_hz: int
    hz: float | None
    bound_cents: float | None = None


def _tone(hz: float, rate: int, **more: float) -> Tone:
    weak = -30.0 if hz < 140.0 else 0.0
    return Tone(hz, SECONDS, rate, weak_fundamental_db=weak, **more)  # type: ignore[arg-type]


def _pluck(hz: float, rate: int, rng: np.random.Generator) -> Samples:
    return plucked(_tone(hz, rate, stiffness=rng.uniform(0, 4e-4)), rng)


def _second(hz: float, rate: int, rng: np.random.Generator) -> Samples:
    other = hz * 2.0 ** (rng.uniform(-1200, 1200) / 1200)
    return mixed(bowed(_tone(hz, rate), rng), bowed(Tone(other, SECONDS + 0.1, rate), rng), below_db=15)


def _in_room(below_db: float, room: Callable[[int, int, np.random.Generator], Samples], how: str):
    def make(hz: float, rate: int, rng: np.random.Generator) -> Samples:
        clean = _pluck(hz, rate, rng) if how == "plucked" else bowed(_tone(hz, rate), rng)
        return mixed(clean, room(len(clean), rate, rng), below_db=below_db)

    return make


GOOD: dict[str, Callable[[float, int, np.random.Generator], Samples]] = {
    "bowed": lambda hz, rate, rng: bowed(_tone(hz, rate), rng),
    "changing bow": lambda hz, rate, rng: bowed(_tone(hz, rate), rng, bow_changes_at=(0.7, 1.4)),
    "plucked": _pluck,
    "hum, 20 dB": _in_room(20.0, lambda n, rate, rng: hum(n, rate, rng, mains_hz=float(rng.choice([50, 60]))), "plucked"),
    "talk, 10 dB": _in_room(10.0, talk, "bowed"),
    "white noise, 10 dB": _in_room(10.0, lambda n, rate, rng: white_noise(n, rng), "bowed"),
    "second at −15 dB": _second,
    "clipped": lambda hz, rate, rng: np.clip(5.0 * bowed(_tone(hz, rate), rng), -1, 1),
}


def _clicks(rate: int, rng: np.random.Generator) -> Samples:
    out = np.zeros(2 * rate)
    for at in rng.integers(0, len(out) - 400, 12):
        out[at : at + 400] += rng.normal(0, 0.5, 400) * np.exp(-np.arange(400) / 60)
    return out


def _any_hz(kind: str, rng: np.random.Generator) -> float:
    return float(rng.choice(list(targets_hz(INSTRUMENTS[kind]).values()))) * 2.0 ** (rng.uniform(-3, 3) / 12)


BAD: dict[str, Callable[[str, int, np.random.Generator], Samples]] = {
    "silence": lambda kind, rate, rng: np.zeros(rate),
    "noise": lambda kind, rate, rng: white_noise(rate, rng),
    "talk": lambda kind, rate, rng: talk(2 * rate, rate, rng),
    "hum only": lambda kind, rate, rng: hum(2 * rate, rate, rng, mains_hz=float(rng.choice([50, 60]))),
    "clicks": lambda kind, rate, rng: _clicks(rate, rng),
    "glide": lambda kind, rate, rng: glide(
        Tone(_any_hz(kind, rng), SECONDS, rate), rng, by_cents=float(rng.choice([-1, 1]) * rng.uniform(60, 600))
    ),
    "scrap of 100 ms": lambda kind, rate, rng: bowed(Tone(_any_hz(kind, rng), 0.1, rate), rng),
}


def good_cases(name: str, each: int, rng: np.random.Generator) -> list[Case]:
    """``each`` sounds per string of every instrument, up to three semitones either way, at 44.1 and 48 kHz."""
    cases = []
    for kind, instrument in INSTRUMENTS.items():
        for target in targets_hz(instrument).values():
            for _ in range(each):
                rate = int(rng.choice([44_100, 48_000]))
                hz = target * 2.0 ** (rng.uniform(-SEMITONES_AROUND, SEMITONES_AROUND) / 12)
                cases.append(Case(kind, GOOD[name](hz, rate, rng), rate, hz))
    return cases


def bad_cases(name: str, each: int, rng: np.random.Generator) -> list[Case]:
    """``each`` sounds per instrument that hold no string."""
    cases = []
    for kind in INSTRUMENTS:
        for _ in range(each):
            rate = int(rng.choice([44_100, 48_000]))
            cases.append(Case(kind, BAD[name](kind, rate, rng), rate, None))
    return cases


def bound_cases(each: int, rng: np.random.Generator) -> list[Case]:
    """Steady partials of known level in white noise at 10 dB, with the Cramér-Rao bound of each.

    For a harmonic sound in white noise ``var(w1) >= 24 s^2 / (N^3 sum k^2 A_k^2)`` radians per sample squared.
    """
    cases = []
    for kind, instrument in INSTRUMENTS.items():
        for target in targets_hz(instrument).values():
            for _ in range(each):
                rate = 44_100
                hz = target * 2.0 ** (rng.uniform(-SEMITONES_AROUND, SEMITONES_AROUND) / 12)
                n = int(SECONDS * rate)
                orders = np.arange(1, min(14, int(5000 // hz)) + 1)
                levels = 0.3 / orders
                turns = hz * np.arange(n) / rate
                clean = sum(
                    level * np.sin(2 * np.pi * (order * turns + rng.uniform()))
                    for order, level in zip(orders, levels, strict=True)
                )
                spread = float(np.sqrt(np.mean(np.square(clean)))) * 10.0 ** (-10.0 / 20.0)
                variance = 24.0 * spread**2 / (float(n) ** 3 * float(np.sum(orders**2 * levels**2)))
                hz_error = np.sqrt(variance) * rate / (2 * np.pi)
                bound = 1200.0 / np.log(2.0) * hz_error / hz
                cases.append(Case(kind, clean + rng.normal(0, spread, n), rate, hz, float(bound)))
    return cases

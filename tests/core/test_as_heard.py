"""A few seconds of many sounds are heard as they were: to a hundredth of a cent, each look and each refusal.

What is right is held by the other tests of hearing; this one shows that a change changes nothing else. Where it is meant to,
look through what differs and keep it anew: ``python -m tests.core.test_as_heard``.
"""

import json
import unittest
from collections.abc import Callable, Iterator
from dataclasses import asdict, is_dataclass
from pathlib import Path
from typing import Any

import numpy as np

from pondus.core.hearing.beside_tone import hear_beside
from pondus.core.hearing.double_stop import hear_any_fifth, hear_fifth
from pondus.core.hearing.hear import Refusal, hear, hear_tone
from pondus.core.hearing.live import Listener
from pondus.core.hearing.live_beside import BesideToneListener
from pondus.core.hearing.live_fifth import FifthListener
from pondus.core.hearing.microphone_check import check_microphone
from pondus.core.hearing.sound import Samples, Sound
from pondus.core.hearing.whole_room import hear_room
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import shift_hz
from pondus.core.pitch.tones import FOLLOWED_ORDERS, partial_levels
from pondus.core.simulated.sound import Tone, bowed, glide, hum, mixed, plucked, talk, white_noise

KEPT = Path(__file__).with_name("as_heard.json")
RATE, RANDOM = 24_000, 72
WITHIN = {"hz": 2e-5, "cents": 0.02, "db": 0.05}
Heard = dict[str, Any]


class Sounds:
    """Sounds of strings, always the same ones for the same seed."""

    def __init__(self, seed: int, kind: str = "violin") -> None:
        self.rng = np.random.default_rng([seed, 2026])
        self.targets = targets_hz(INSTRUMENTS[kind])

    def tone(self, string: str, off: float = 0.0, seconds: float = 1.3, **more: float) -> Tone:
        hz = shift_hz(self.targets[string], off)
        return Tone(hz, seconds, RATE, weak_fundamental_db=-25.0 if hz < 140.0 else 0.0, **more)  # type: ignore[arg-type]

    def bow(self, string: str, off: float = 0.0, seconds: float = 1.3, **more: Any) -> Samples:
        return bowed(self.tone(string, off, seconds), self.rng, **more)

    def pluck(self, string: str, off: float = 0.0, seconds: float = 1.3, **more: Any) -> Samples:
        return plucked(self.tone(string, off, seconds, stiffness=2e-4), self.rng, **more)

    def rest(self, seconds: float) -> Samples:
        return white_noise(int(seconds * RATE), self.rng) * 1e-4


def single(seed: int, make: Callable[[Sounds], Samples], kind: str = "violin", **more: Any) -> Heard:
    return plain(hear(Sound(make(Sounds(seed, kind)), RATE), INSTRUMENTS[kind], **more))


def knocked(sounds: Sounds) -> Samples:
    own = sounds.bow("A", 9.0)
    own[15_000:15_400] += 8.0 * np.abs(own).max() * np.exp(-np.arange(400) / 80.0)
    return own


def faded(sounds: Sounds) -> Samples:
    """A pluck that another's string takes the place of as it dies away."""
    own, other = sounds.pluck("G", 12.0, 1.6, decay_seconds=0.15), sounds.bow("D", 60.0, 1.6)
    return own / np.abs(own).max() + 0.05 * other / np.abs(other).max()


ROOMS: dict[str, Callable[[Sounds], Samples]] = {
    "noise": lambda one: mixed(one.bow("D", -33.0), white_noise(40_000, one.rng), below_db=10.0),
    "loud noise": lambda one: mixed(one.bow("D", -33.0), white_noise(40_000, one.rng), below_db=-3.0),
    "talk": lambda one: mixed(one.bow("A", 21.0), talk(40_000, RATE, one.rng), below_db=12.0),
    "hum": lambda one: mixed(one.pluck("G", 14.0), hum(40_000, RATE, one.rng), below_db=18.0),
    "another, soft": lambda one: mixed(one.bow("A", 7.0), one.bow("D", 80.0, 1.5), below_db=16.0),
    "another, loud": lambda one: mixed(one.bow("A", 7.0), one.bow("D", 80.0, 1.5), below_db=3.0),
    "its neighbour": lambda one: mixed(one.pluck("D", 7.0), one.pluck("A", -4.0, 1.5), below_db=5.0),
    "an octave over": lambda one: mixed(one.bow("D", 7.0), bowed(Tone(592.0, 1.4, RATE), one.rng), below_db=9.0),
}
ODD: dict[str, Callable[[Sounds], Samples]] = {
    "silence": lambda one: np.zeros(RATE),
    "noise": lambda one: white_noise(RATE, one.rng),
    "talk": lambda one: talk(2 * RATE, RATE, one.rng),
    "hum": lambda one: hum(2 * RATE, RATE, one.rng),
    "glide": lambda one: glide(one.tone("A", 0.0, 1.5), one.rng, by_cents=140.0),
    "vibrato": lambda one: one.bow("A", 5.0, 1.8, vibrato_cents=25.0),
    "sways": lambda one: one.bow("A", 5.0, 1.8, sway_cents=6.0),
    "changes": lambda one: one.bow("D", 5.0, 2.0, bow_changes_at=(0.8, 1.4)),
    "slides": lambda one: one.pluck("D", -8.0, 1.6, slide_cents=20.0),
    "beats": lambda one: one.pluck("D", -8.0, 1.6, beats_cents=8.0),
    "clipped": lambda one: np.clip(6.0 * one.bow("E", -11.0), -1.0, 1.0),
    "short": lambda one: one.pluck("E", -11.0, 0.45),
    "too short": lambda one: one.bow("E", -11.0, 0.2),
    "soft": lambda one: 0.003 * one.bow("G", 30.0),
    "too soft": lambda one: 3e-4 * one.bow("G", 30.0),
    "knock": knocked,
    "faded": faded,
    "far over": lambda one: bowed(Tone(1900.0, 1.2, RATE), one.rng),
    "far under": lambda one: bowed(Tone(62.0, 1.2, RATE), one.rng),
    "a harmonic": lambda one: bowed(Tone(587.4, 1.2, RATE, partials=3), one.rng),
    "slack": lambda one: one.pluck("G", -900.0, 1.6),
    "one partial": lambda one: bowed(Tone(440.9, 1.2, RATE, partials=1), one.rng),
}


def recorded() -> Iterator[tuple[str, Heard]]:
    """Whole recordings of single strings."""
    for kind, instrument in INSTRUMENTS.items():
        for place, string in enumerate(instrument.string_names):
            off = (-72.0, -9.3, 4.6, 38.0)[place]
            yield f"{kind} {string} bowed", single(place, lambda one, s=string, o=off: one.bow(s, o), kind)
            yield f"{kind} {string} plucked", single(place + 10, lambda one, s=string, o=-off / 2: one.pluck(s, o), kind)
    for name, make in ROOMS.items():
        yield f"room: {name}", single(21, make)
        yield (
            f"room: {name}, told",
            single(21, make, string="A" if "A" in name or "another" in name else "D", fifth_cents=701.955),
        )
    for name, make in ODD.items():
        yield f"odd: {name}", single(33, make)
    for name in ("a harmonic", "slack", "far under"):
        yield f"odd: {name}, told", single(34, ODD[name], string="G", a4=442.0, spelling="flats")
    yield "viola, another string than told", single(35, lambda one: one.bow("D", -30.0), "viola", string="G")
    yield (
        "cello in noise",
        single(36, lambda one: mixed(one.pluck("C", 18.0), white_noise(40_000, one.rng), below_db=6.0), "cello"),
    )
    for near, within in ((440.0, 250.0), (300.0, 250.0), (440.0, 3.0)):
        yield (
            f"tone within {within} of {near}",
            plain(hear_tone(Sound(Sounds(41).bow("A", 12.0), RATE), near_hz=near, within_cents=within)),
        )


def any_sound(seed: int) -> tuple[str, Samples]:
    """A string of some instrument, played somehow in some room; all chance is the seed's."""
    rng = np.random.default_rng([seed, 3030])
    kind = str(rng.choice(list(INSTRUMENTS)))
    one = Sounds(seed, kind)
    string, seconds = str(rng.choice(list(one.targets))), float(rng.uniform(0.25, 1.6))
    off = float(rng.normal(0.0, 40.0))
    how = int(rng.integers(4))
    if how == 0:
        own = one.bow(string, off, seconds, sway_cents=float(rng.uniform(0.0, 4.0)))
    elif how == 1:
        own = one.bow(string, off, seconds, bow_changes_at=(seconds / 3.0, 0.6 * seconds), flutter_cents=1.5)
    else:
        own = one.pluck(
            string, off, seconds, decay_seconds=float(rng.uniform(0.1, 1.0)), slide_cents=float(rng.uniform(0.0, 9.0))
        )
    rooms: tuple[Callable[[int], Samples], ...] = (
        lambda n: white_noise(n, rng),
        lambda n: hum(n, RATE, rng),
        lambda n: talk(n, RATE, rng),
        lambda n: bowed(Tone(float(rng.uniform(60.0, 800.0)), n / RATE + 0.1, RATE), rng),
        lambda n: plucked(Tone(float(rng.uniform(60.0, 800.0)), n / RATE + 0.1, RATE), rng),
    )
    room = rooms[int(rng.integers(len(rooms)))](len(own) + RATE)
    return kind, float(10.0 ** rng.uniform(-2.5, 0.2)) * mixed(own, room, below_db=float(rng.uniform(-2.0, 30.0)))


def at_random() -> Iterator[tuple[str, Heard]]:
    """Many more, in one line each."""
    for seed in range(RANDOM):
        kind, samples = any_sound(seed)
        heard = hear(Sound(samples, RATE), INSTRUMENTS[kind])
        if isinstance(heard, Refusal):
            yield f"any {seed}", {"reason": heard.reason}
        else:
            figures = heard.string_cents, heard.spread_cents, heard.seconds_steady, heard.confidence
            yield f"any {seed}", {"string": heard.string, "figures": plain(figures)}
    for seed in range(RANDOM // 3):
        one, rng = Sounds(seed), np.random.default_rng([seed, 3131])
        name, octaves, off = str(rng.choice(list(one.targets))), int(rng.integers(-1, 2)), float(rng.normal(0.0, 60.0))
        tone_hz = one.targets[name] * 2.0**octaves
        time = np.arange(RATE) / RATE
        sound = sum(0.1 / order * np.sin(2.0 * np.pi * order * tone_hz * time) for order in FOLLOWED_ORDERS)
        own = float(10.0 ** rng.uniform(-2.0, 0.3)) * (one.bow(name, off, 1.0) if seed % 2 else one.pluck(name, off, 1.0))
        asked = {"string_hz": one.targets[name], "tone_hz": tone_hz, "tone_orders": FOLLOWED_ORDERS}
        beside = hear_beside(Sound(np.asarray(sound) + own[:RATE], RATE), **asked)  # type: ignore[arg-type]
        yield f"beside {seed}", {"heard": plain(None if beside is None else (beside.cents, beside.plus_minus_cents))}


def looked(listener: Any, samples: Samples) -> Heard:
    """All that a listener says, look by look."""
    step = RATE // 20
    events = [event for start in range(0, len(samples), step) for event in listener.feed(samples[start : start + step])]
    return {"events": plain(events), "told": plain(listener.told), "silent": listener.is_silent}


def live() -> Iterator[tuple[str, Heard]]:
    """What is said while it sounds."""
    violin = INSTRUMENTS["violin"]

    def around(*parts: Samples) -> Samples:
        return np.concatenate(parts).astype(np.float32)

    one = Sounds(51)
    yield (
        "live: strings one after the other",
        looked(
            Listener(violin, rate_hz=RATE),
            around(one.rest(0.3), one.bow("A", -9.0, 1.2), one.rest(0.5), one.pluck("D", 24.0, 1.4), one.bow("D", 12.0, 1.2)),
        ),
    )
    yield (
        "live: a softer one, and another than told",
        looked(
            Listener(violin, rate_hz=RATE, string="A", a4=441.0, own_levels_db=(-8.0, -9.0, -7.5)),
            around(
                one.bow("A", 3.0, 1.2), one.rest(0.6), 0.02 * one.bow("D", 55.0, 1.2), one.rest(0.4), one.bow("E", 0.0, 1.0)
            ),
        ),
    )
    yield (
        "live: a room that is nearly as loud",
        looked(
            Listener(violin, rate_hz=RATE),
            around(one.rest(0.4), mixed(one.bow("G", 3.0, 3.0), talk(90_000, RATE, one.rng), below_db=-4.0), one.rest(0.3)),
        ),
    )
    yield (
        "live: turned while it sounds",
        looked(
            Listener(violin, rate_hz=RATE),
            around(glide(one.tone("D", -60.0, 2.5), one.rng, by_cents=60.0), one.bow("D", 0.0, 0.8)),
        ),
    )
    time, levels = np.arange(3 * RATE) / RATE, partial_levels(one.targets["D"], followed=True)
    turns = [(order * one.targets["D"], level) for order, level in enumerate(levels, start=1)]
    followed = 0.1 * np.asarray(sum(level * np.sin(2.0 * np.pi * hz * time) for hz, level in turns))
    beside = followed + np.concatenate([np.zeros(RATE // 2), 0.3 * one.bow("D", -31.0, 2.5)])[: 3 * RATE]
    yield (
        "live: beside its tone",
        looked(BesideToneListener(violin, rate_hz=RATE, string="D", octaves_up=0), beside.astype(np.float32)),
    )
    two = one.bow("D", 5.0, 2.4) + one.bow("A", -3.0, 2.4)
    yield "live: a fifth", looked(FifthListener(violin, rate_hz=RATE), around(one.rest(0.2), two, one.rest(0.4)))
    yield (
        "live: a fifth that is told",
        looked(
            FifthListener(violin, rate_hz=RATE, strings=("D", "A"), fifth_cents=701.955),
            around(two, one.rest(0.4), one.bow("A", 0, 1)),
        ),
    )


def several() -> Iterator[tuple[str, Heard]]:
    """Two strings together, a room full, a microphone tried."""
    for kind, pair, offs in (
        ("violin", ("G", "D"), (4.0, -6.0)),
        ("viola", ("D", "A"), (0.0, 9.0)),
        ("cello", ("C", "G"), (-3.0, 2.0)),
    ):
        one, instrument = Sounds(61, kind), INSTRUMENTS[kind]
        sound = Sound(one.bow(pair[0], offs[0], 2.0) + 0.8 * one.bow(pair[1], offs[1], 2.0), RATE)
        yield f"{kind} {pair} together", plain(hear_fifth(sound, instrument, strings=pair))
        yield f"{kind} {pair} found", plain(hear_any_fifth(sound, instrument))
    one, violin = Sounds(62), INSTRUMENTS["violin"]
    after = Sound(np.concatenate([one.bow("D", 2.0, 1.2), one.bow("A", 1.0, 1.2)]), RATE)
    yield "one after the other", plain(hear_fifth(after, violin, strings=("D", "A")))
    yield "one of them alone", plain(hear_fifth(Sound(one.bow("D", 2.0, 1.6), RATE), violin, strings=("D", "A")))
    yield "far from a fifth", plain(hear_any_fifth(Sound(one.bow("D", 95.0, 1.6) + one.bow("A", -95.0, 1.6), RATE), violin))
    players = [one.bow("A", off, 4.0) for off in (-14.0, -3.0, 0.0, 2.0, 5.0, 6.0, 31.0)]
    yield "a room", plain(hear_room(Sound(np.asarray(sum(players)), RATE), a4=440.0))
    yield "a room without an A", plain(hear_room(Sound(one.bow("G", 0.0, 4.0), RATE), a4=440.0))
    yield "a room, too short", plain(hear_room(Sound(one.bow("A", 0.0, 1.0), RATE), a4=440.0))
    for name, level in (("near", 1.0), ("far", 0.02), ("loud", 9.0)):
        tried = np.concatenate([one.rest(2.5) * 30.0, level * one.bow("A", 3.0, 2.6), level * one.bow("D", 0.0, 2.6)]).clip(
            -1, 1
        )
        yield f"microphone {name}", plain(check_microphone(Sound(tried, RATE), violin, first_at=2.5, second_at=5.0))


def plain(told: Any) -> Any:
    """As JSON has it."""
    if is_dataclass(told) and not isinstance(told, type):
        return {type(told).__name__: plain(asdict(told))}
    if isinstance(told, dict):
        return {name: plain(value) for name, value in told.items() if value is not None and value is not False}
    if isinstance(told, list | tuple):
        return [plain(value) for value in told]
    if isinstance(told, float | np.floating):
        return float(f"{told:.6g}")
    return told


def everything() -> dict[str, Heard]:
    return dict([*recorded(), *at_random(), *live(), *several()])


def differs(kept: Any, now: Any, at: str) -> Iterator[str]:
    """Where two answers aren't the same, but for what another processor rounds otherwise."""
    if isinstance(kept, dict) and isinstance(now, dict) and kept.keys() == now.keys():
        for name in kept:
            yield from differs(kept[name], now[name], f"{at} {name}")
    elif isinstance(kept, list) and isinstance(now, list) and len(kept) == len(now):
        for place, (one, other) in enumerate(zip(kept, now, strict=True)):
            yield from differs(one, other, f"{at} {place}")
    elif isinstance(kept, float) and isinstance(now, float | int):
        name = at.rsplit(" ", 1)[-1]
        within = WITHIN["hz"] * abs(kept) if "hz" in name else WITHIN["db"] if "db" in name else WITHIN["cents"]
        if not abs(kept - now) <= within:
            yield f"{at}: {kept} was heard, now {now}"
    elif kept != now:
        yield f"{at}: {kept} was heard, now {now}"


class TestAsHeard(unittest.TestCase):
    def test_all_is_heard_as_it_was(self) -> None:
        kept = json.loads(KEPT.read_text(encoding="utf-8"))
        now = everything()
        self.assertEqual(kept.keys(), now.keys())
        for name, heard in now.items():
            with self.subTest(name):
                self.assertEqual(list(differs(kept[name], json.loads(json.dumps(heard)), "")), [])


if __name__ == "__main__":
    KEPT.write_text(json.dumps(everything(), ensure_ascii=False, separators=(",", ":")) + "\n", encoding="utf-8")

"""Time and weather on a simulated instrument: nights, warmth, humidity, and the states a morning may begin in."""

import math
from dataclasses import replace
from typing import Literal

from pondus.core.simulated.turning import settled
from pondus.core.simulated.wood import Wood, cents_of, tension_at

Start = Literal["morning", "one-far-off", "screw-at-end", "all-slack", "new-strings", "sharp"]
STARTS: tuple[Start, ...] = ("morning", "one-far-off", "screw-at-end", "all-slack", "new-strings", "sharp")
CENTS_PER_PERCENT_HUMIDITY = -0.25
"""Wood swells in damp and the body gives; strings go a little flat."""
STRETCH_DAYS = 2.0


def days_later(wood: Wood, days: float, *, humidity: float | None = None, celsius: float | None = None) -> Wood:
    """So many days on, in that room: each string drifts, mostly flat; new ones stretch; steel goes flat as it warms."""
    chance = wood.chance()
    damp = wood.humidity if humidity is None else humidity
    warm = wood.celsius if celsius is None else celsius
    now = {}
    for name, string in wood.now.items():
        true = wood.true[name]
        stretched = string.stretch_left_cents * (1.0 - math.exp(-days / STRETCH_DAYS))
        drift = chance.normal(-0.5, 1.0) * true.drifts_cents * math.sqrt(days)
        weather = (wood.celsius - warm) * true.flattens_per_celsius
        weather += (damp - wood.humidity) * CENTS_PER_PERCENT_HUMIDITY
        if string.broken:
            now[name] = string
            continue
        cents = cents_of(string.tension) + drift + weather - stretched
        now[name] = replace(string, tension=tension_at(cents), stretch_left_cents=string.stretch_left_cents - stretched)
    return settled(replace(wood, now=now, humidity=damp, celsius=warm))


def slipped(wood: Wood, name: str, to_cents: float) -> Wood:
    """A peg gave way overnight: the string stands so many cents from its target."""
    return wood.with_string(name, tension=tension_at(to_cents), held=0.0)


def begun(wood: Wood, start: Start) -> Wood:
    """The instrument as a morning finds it, in one of the states there are."""
    chance = wood.chance()
    names = list(wood.now)
    fresh = replace(wood, step=wood.step + 1)
    if start == "morning":
        return days_later(fresh, 3.0, celsius=wood.celsius + chance.normal(0.0, 1.5))
    if start == "one-far-off":
        name = names[int(chance.integers(len(names)))]
        return slipped(days_later(fresh, 2.0), name, float(-chance.uniform(80.0, 600.0)))
    if start == "screw-at-end":
        return _screw_at_end(fresh, names[int(chance.integers(len(names)))])
    if start == "all-slack":
        for name in names:
            fresh = slipped(fresh, name, float(-chance.uniform(750.0, 1150.0)))
        return fresh
    if start == "new-strings":
        return _new_strings(fresh)
    return days_later(fresh, 1.0, celsius=wood.celsius - float(chance.uniform(4.0, 9.0)))


def _screw_at_end(wood: Wood, name: str) -> Wood:
    chance, true = wood.chance(), wood.true[name]
    drifted = days_later(wood, 2.0)
    end = chance.choice([-1.0, 1.0])
    off = -end * float(chance.uniform(15.0, 50.0))
    placed = slipped(drifted, name, off)
    return placed if true.cents_per_turn is None else placed.with_string(name, screw_turns=end * true.reach_turns)


def _new_strings(wood: Wood) -> Wood:
    chance = wood.chance()
    for name in wood.now:
        wood = slipped(wood, name, float(-chance.uniform(60.0, 300.0)))
        wood = wood.with_string(name, stretch_left_cents=float(chance.uniform(15.0, 60.0)))
    return wood

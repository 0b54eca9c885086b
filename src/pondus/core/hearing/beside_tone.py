"""A string beside a reference tone that sounds out of the same room, so that tuning to a tone by ear can be followed.

Nothing need be subtracted, and nothing known of loudspeaker or room: a tone that is followed is made of a few partials only
(`core.tones.FOLLOWED_ORDERS`), and the string is sought on those of its own partials that the tone leaves free. A loudspeaker's
distortion sounds there too, but exactly at the tone's multiples, and far softer than the tone.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pondus.core.hearing.sound import Sound, at_working_rate

Floats = NDArray[np.floating]

WINDOW_SECONDS = 0.7
WITHIN_CENTS = 220.0
"""So far from the tone a string is sought: further off its partials lie among the tone's."""
HIGHEST_ORDER, HIGHEST_HZ = 20, 5_000.0
WINDOW_COSINES, LOBE_BINS = (0.35875, 0.48829, 0.14128, 0.01168), 4.3
"""A window whose lines are 92 dB down beside themselves (Harris, 1978), and half their width in bins: so near to one of the
tone's nothing is the string's.
"""
OVER_FLOOR = 8.0
"""So much louder than what is between, in amplitude, a line of the string is."""
OVER_TONE_DB, AT_TONE_CENTS, AT_TONE_DB = -40.0, 2.0, -12.0
"""So far under the tone's own partials nothing is taken for a string; where it stands right on the tone, where a loudspeaker's
distortion lies too, what is louder than that may be.
"""
BESIDE_LOUDEST = 0.03
"""A line that much softer than its loudest may be a skirt of one that the tone covers."""
LINES_AT_LEAST, LINES_FOR_STRETCH = 3, 5
AGREE_CENTS = 7.0
LEAST_CENTS, NEAR_CENTS, PULLED_CENTS = 0.5, 8.0, 1.5
"""How sure a place is at best; so near to the tone its distortion pulls the string's lines towards it."""
STRETCHED_AT_MOST = 0.35
"""Cents by which a stiff string's partial lies higher, over its order squared."""


@dataclass(frozen=True)
class Beside:
    """How far the string lies from its tone, in cents, and how far its partials are from agreeing on that."""

    cents: float
    plus_minus_cents: float


def hear_beside(sound: Sound, *, string_hz: float, tone_hz: float, tone_orders: tuple[int, ...]) -> Beside | None:
    """The string near ``string_hz`` while a tone of ``tone_hz`` with those partials sounds; None where nothing but the tone,
    or nothing that agrees, is heard. The last `WINDOW_SECONDS` count.
    """
    slower = at_working_rate(sound)
    count = int(WINDOW_SECONDS * slower.rate_hz)
    if len(slower.samples) < count:
        return None
    turns = 2.0 * np.pi * np.arange(count) / count
    window = sum((-1) ** order * share * np.cos(order * turns) for order, share in enumerate(WINDOW_COSINES))
    padded = 1 << int(np.ceil(np.log2(4 * count)))
    power = np.abs(np.fft.rfft(slower.samples[-count:] * window, padded))
    bin_hz = slower.rate_hz / padded
    lobe_hz = LOBE_BINS * slower.rate_hz / count
    tones_hz = tone_hz * np.asarray(tone_orders)
    lines = _lines(power, bin_hz, string_hz, tones_hz, lobe_hz)
    if len(lines) < LINES_AT_LEAST:
        return None
    tone_level = max(float(power[_around(tone_hz, lobe_hz, bin_hz)].max()) for tone_hz in tones_hz)
    return _agreed(lines, tone_level)


@dataclass(frozen=True)
class _Line:
    order: int
    cents: float
    level: float


def _around(hz: float, width_hz: float, bin_hz: float) -> slice:
    return slice(max(0, int((hz - width_hz) / bin_hz)), int((hz + width_hz) / bin_hz) + 2)


def _lines(power: Floats, bin_hz: float, string_hz: float, tones_hz: Floats, lobe_hz: float) -> list[_Line]:
    """The loudest lines near each of the string's partials that aren't the tone's, up to three of each."""
    lines = []
    top_hz = min(HIGHEST_HZ, bin_hz * (len(power) - 3))
    for order in range(1, HIGHEST_ORDER + 1):
        low, high = (order * string_hz * 2.0 ** (side * WITHIN_CENTS / 1200.0) for side in (-1, 1))
        high = min(high, top_hz)
        if order * string_hz > 0.98 * top_hz:
            break
        place = _around((low + high) / 2.0, (high - low) / 2.0, bin_hz)
        here = power[place]
        at_hz = bin_hz * np.arange(place.start, place.start + len(here))
        floor = float(np.median(here))
        free = np.all(np.abs(at_hz[:, None] - tones_hz) > lobe_hz, axis=1)
        peaks = (here[1:-1] > here[:-2]) & (here[1:-1] >= here[2:]) & free[1:-1] & (here[1:-1] > OVER_FLOOR * floor)
        for peak in sorted(np.flatnonzero(peaks) + 1, key=lambda at: -here[at])[:3]:
            below, middle, above = np.log(here[peak - 1 : peak + 2] + 1e-30)
            hz = at_hz[peak] + bin_hz * 0.5 * (below - above) / (below - 2.0 * middle + above)
            lines.append(_Line(order, float(1200.0 * np.log2(hz / (order * string_hz))), float(here[peak])))
    return lines


def _agreed(lines: list[_Line], tone_level: float) -> Beside | None:
    """The place where most lines, by their root of level, agree; a pluck's partials stretch with their order."""
    best: tuple[float, list[_Line]] = (0.0, [])
    for one in lines:
        near: dict[int, _Line] = {}
        for line in lines:
            if abs(line.cents - one.cents) <= AGREE_CENTS and line.level > near.get(line.order, _NOTHING).level:
                near[line.order] = line
        score = sum(np.sqrt(line.level) for line in near.values())
        if score > best[0]:
            best = score, list(near.values())
    loudest = max((line.level for line in best[1]), default=0.0)
    together = [line for line in best[1] if line.level > BESIDE_LOUDEST * loudest]
    if len(together) < LINES_AT_LEAST:
        return None
    level = float(np.sqrt(sum(line.level**2 for line in together)))
    weights = np.sqrt([line.level for line in together])
    cents, squared = np.asarray([line.cents for line in together]), np.asarray([line.order**2 for line in together])
    middle = float(np.average(cents, weights=weights))
    slope = _slope(cents, squared, weights) if len(together) >= LINES_FOR_STRETCH else 0.0
    middle -= slope * float(np.average(squared, weights=weights))
    apart = float(np.sqrt(np.average((cents - slope * squared - middle) ** 2, weights=weights)))
    over_tone_db = 20.0 * np.log10(level / max(tone_level, 1e-30))
    if over_tone_db < (AT_TONE_DB if abs(middle) < AT_TONE_CENTS else OVER_TONE_DB):
        return None
    return Beside(middle, apart + (PULLED_CENTS if abs(middle) < NEAR_CENTS else LEAST_CENTS))


def _slope(cents: Floats, squared: Floats, weights: Floats) -> float:
    """How much higher partials lie with their order squared: none of a bowed string, some of a stiff one that is plucked."""
    away = squared - np.average(squared, weights=weights)
    slope = float((weights * away * cents).sum() / max(1e-9, (weights * away**2).sum()))
    return min(max(0.0, slope), STRETCHED_AT_MOST)


_NOTHING = _Line(0, 0.0, 0.0)

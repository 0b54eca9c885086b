"""What may have happened to a string between two readings of it, and how likely each is (Bayes' rule over a handful).

Cents, positive up. A press or an answer isn't needed: what was shown makes a move likely, the figure that follows decides. The
shares below are chosen, not measured on people; none is so sharp that a figure can't overrule it.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from pondus.core.hands.interval import Interval

Happened = Literal["nothing", "as-shown", "part", "more", "no-effect", "wrong-way", "gave-way", "next-ones", "else"]
"""``next-ones``: the shown move and those listed after it. ``gave-way``: turned, and it sprang or slipped back."""
TURNED: frozenset[Happened] = frozenset({"as-shown", "part", "more", "no-effect", "wrong-way", "gave-way", "next-ones"})

FOLLOWS, LISTENS, PASSES_BY, PLAYS_FIRST, SEATS = 0.9, 0.4, 0.3, 0.05, 0.4
"""How likely what was shown was done: the string was the one to turn, and a figure was entered; a microphone took it, which
hears a string again and again (more, the oftener it stood still); another string was the one to turn; it was to be played
first, or with its neighbour, or whoever tunes tells of each move; or a peg was turned just before, and the string is pulled and
read again.
"""
_AS_TURNED: dict[Happened, float] = {
    "as-shown": 0.66,
    "part": 0.10,
    "more": 0.06,
    "no-effect": 0.06,
    "wrong-way": 0.05,
    "gave-way": 0.03,
    "next-ones": 0.04,
}
_BY_ITSELF, _SLIPS_CENTS = 0.05, 60.0
"""Of a string that nobody turned: how often it goes down by itself, and how far at most."""
_ELSE, _ANYWHERE_CENTS = 0.02, 1800.0
"""A wrong note, another string's reading, a turn nobody showed: anywhere."""
_NEVER = 1e-300


@dataclass(frozen=True)
class Due:
    """What a shown move should do: ``cents`` (signed), give or take one standard deviation; ``aim_only``: it ends at an aim,
    however far that is, and may be stopped before.
    """

    cents: float
    plus_minus: float
    aim_only: bool = False


@dataclass(frozen=True)
class Likely:
    """What most likely happened; ``shares`` of all that may have; ``listed``: how many of the moves due were made."""

    happened: Happened
    shares: dict[Happened, float]
    listed: int = 1

    @property
    def turned(self) -> float:
        """How likely it is that something shown was turned at all."""
        return sum(share for happened, share in self.shares.items() if happened in TURNED)


def likely(change: Interval, due: Sequence[Due], *, prior: float) -> Likely:
    """What happened between two readings. ``change``: how far the string went, the others' pull taken off. ``due``: what each
    of the listed moves should do, in their order; empty where nothing was shown that turns. ``prior``: how likely it is that
    what was shown was done.

    >>> quarter = [Due(10.0, 4.0)]
    >>> [likely(Interval(c, c), quarter, prior=FOLLOWS).happened for c in (11.0, -10.0, -300.0)]
    ['as-shown', 'wrong-way', 'else']
    >>> round(likely(Interval(0.0, 0.0), quarter, prior=FOLLOWS).shares["no-effect"], 1)
    0.3
    """
    weights: dict[Happened, float] = {"else": _ELSE / _ANYWHERE_CENTS}
    turned = prior if due else 0.0
    weights["nothing"] = (1.0 - turned) * (
        (1.0 - _BY_ITSELF) * _normal(change, 0.0, 0.0) + _BY_ITSELF * _even(change, -_SLIPS_CENTS, 0.0)
    )
    listed = 1
    if due:
        first, spread = due[0].cents, due[0].plus_minus
        shapes: dict[Happened, float] = {
            "as-shown": _normal(change, first, spread),
            "part": _even(change, 0.0, first),
            "more": _even(change, first, 3.0 * first),
            "no-effect": _normal(change, 0.0, 0.0),
            "wrong-way": _even(change, -1.5 * first, 0.0) if due[0].aim_only else _normal(change, -first, spread),
            "gave-way": _even(change, -1.5 * first, 0.0) if first > 0.0 else 0.0,
        }
        shapes["next-ones"], listed = _furthest(change, due)
        for happened, density in shapes.items():
            weights[happened] = turned * _AS_TURNED[happened] * density
    total = max(sum(weights.values()), _NEVER)
    shares = {happened: weight / total for happened, weight in weights.items()}
    return Likely(max(shares, key=lambda happened: shares[happened]), shares, listed)


def _furthest(change: Interval, due: Sequence[Due]) -> tuple[float, int]:
    """How well the first and the next ones together fit, and how many of them do best."""
    best, listed, cents, variance = 0.0, 1, due[0].cents, due[0].plus_minus ** 2
    for count, one in enumerate(due[1:], start=2):
        cents, variance = cents + one.cents, variance + one.plus_minus**2
        fits = _normal(change, cents, math.sqrt(variance))
        if fits > best:
            best, listed = fits, count
    return best, listed


def _below(cents: float, middle: float, spread: float) -> float:
    return 0.5 * (1.0 + math.erf((cents - middle) / (spread * math.sqrt(2.0))))


def _normal(change: Interval, middle: float, spread: float) -> float:
    """How dense a normal about ``middle`` is at a change, over its whole interval."""
    sigma = math.hypot(spread, change.error)
    wide = change.high - change.low
    if wide < sigma / 10.0:
        return math.exp(-0.5 * ((change.middle - middle) / sigma) ** 2) / (sigma * math.sqrt(2.0 * math.pi))
    return (_below(change.high, middle, sigma) - _below(change.low, middle, sigma)) / wide


def _even(change: Interval, one: float, other: float) -> float:
    """How dense an even spread between two changes is at a change."""
    low, high = min(one, other), max(one, other)
    wide = max(high - low, 1e-6)
    if change.is_figure or change.high - change.low < change.error / 10.0:
        return (_below(change.middle, low, change.error) - _below(change.middle, high, change.error)) / wide
    within = max(0.0, min(high, change.high) - max(low, change.low))
    return within / wide / (change.high - change.low)

"""How far the others' turns pulled a string between two places of the log (cents; R48's couplings).

A string's reading is as old as the last time it was played: what was turned on the others since has let it down or up. Without
that, the pull would be taken for what the string's own next turn did.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from pondus.core.judgement.coupling import Coupling


@dataclass(frozen=True)
class Turned:
    """What a string's turns did together, between the readings before and after them. ``cents`` None: nobody knows."""

    string: str
    seqs: tuple[float, ...]
    cents: float | None


def pull_cents(turned: Iterable[Turned], coupling: Coupling, string: str, *, since: float, until: float) -> float | None:
    """How far the others pulled ``string`` between these two places of the log, in cents; None where nobody knows.

    >>> turned = [Turned("G", (5,), 400.0), Turned("A", (7,), None)]
    >>> pull_cents(turned, {"G": {"D": -0.03}}, "D", since=2, until=6)
    -12.0
    >>> pull_cents(turned, {"G": {"D": -0.03}}, "D", since=2, until=8) is None
    True
    """
    pull = 0.0
    for move in turned:
        inside = [seq for seq in move.seqs if since < seq < until]
        if move.string == string or not inside:
            continue
        if move.cents is None:
            return None
        # Studios of long ago may hold entries of a string their instrument hasn't; it pulls on nothing.
        share = coupling.get(move.string, {}).get(string, 0.0)
        pull += share * move.cents * len(inside) / len(move.seqs)
    return pull

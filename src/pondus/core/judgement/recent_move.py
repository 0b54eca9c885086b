"""The last thing that was done to a string, and what was expected of it."""

import math
from dataclasses import dataclass, fields
from typing import Any, Literal

from pondus.core.errors import BadInput
from pondus.core.judgement.heard import ShownSide
from pondus.core.judgement.situation import FineTuner, Mechanism, Pitch, Unit

Done = Literal["fine-tuner", "peg", "tug"]
Answer = Literal["other-peg", "sprang-back", "not-turned", "wound-other-way", "end-or-loose", "moved", "none"]

FARTHEST_CENTS = 12000.0
MOST_REPEATS = 100


@dataclass(frozen=True, kw_only=True)
class Turn:
    """What was turned, which way and how far, and what was expected of it in cents. ``amount`` in ``unit``: turns of a fine
    tuner, degrees of a peg's head; of a tug, how many pulls (``unit`` says nothing there).
    """

    mechanism: Done
    direction: Pitch
    amount: float
    unit: Unit
    expect_cents: float | None = None
    expect_plus_minus: float | None = None


def as_turn(made: Turn) -> dict[str, Any]:
    """What a record of a turn says of the turn itself, by name."""
    return {known.name: getattr(made, known.name) for known in fields(Turn)}


@dataclass(frozen=True)
class RecentMove:
    """The last move on this string, and where the string stood before it: ``from_cents`` off its target, or ``from_side``
    where the tuner showed no figure.

    ``expect_cents`` is what it (and moves before it that had no effect) should have made, give or take
    ``expect_plus_minus``; None: what ``amount`` makes. ``arrived`` false: turned twice as far without reaching its aim.
    ``repeats``: how often in a row before this it had no effect. ``effect_known`` false: the string was read, tugged or
    pulled since, so that nothing can be said of what the move did. ``from_give_or_take``: how far off ``from_cents`` may be,
    where a letter was all there was. ``shown``: the amount that was shown for it, in its own unit, where ``amount`` was
    reckoned from what it did.
    """

    mechanism: Done
    direction: Pitch
    amount: float | None = None
    unit: Unit | None = None
    from_cents: float | None = None
    effect_known: bool = True
    from_give_or_take: float = 0.0
    from_side: ShownSide | None = None
    expect_cents: float | None = None
    expect_plus_minus: float | None = None
    arrived: bool = True
    repeats: int = 0
    shown: float | None = None

    @property
    def turned(self) -> Mechanism | None:
        """What was turned; None for a tug."""
        return None if self.mechanism == "tug" else self.mechanism

    @property
    def amount_in_own_unit(self) -> float | None:
        """Turns for a fine tuner, degrees for a peg, whichever unit it was told in; None where that isn't known."""
        own: Unit = "degree" if self.mechanism == "peg" else "turn"
        if self.amount is None or self.unit in (own, None):
            return self.amount
        return self.amount * 360.0 if own == "degree" else self.amount / 360.0


def check_recent_move(move: RecentMove | None, fine_tuner: FineTuner | None, *, prefix: str = "") -> None:
    """Refuse a move that can't have been made: no amount, or a screw turned where none is fitted.

    Raises BadInput.
    """
    if move is None:
        return
    _check_amounts(move, f"{prefix}recent_move.")
    _check_from(move, prefix)
    _check_cents(move, f"{prefix}recent_move.")
    if move.mechanism == "tug" and move.direction == "raise":
        raise BadInput(f"{prefix}recent_move.direction", "A tug lets a string down; its direction is lower.")
    if not 0 <= move.repeats <= MOST_REPEATS:
        raise BadInput(f"{prefix}recent_move.repeats", f"{move.repeats} times in a row can't be right; give 0 or more.")
    if move.mechanism == "fine-tuner" and fine_tuner is None:
        raise BadInput(
            f"{prefix}recent_move.mechanism",
            "The last move was with a fine tuner, but this string has none; say which it was, or fit one.",
        )


def _check_amounts(move: RecentMove, prefix: str) -> None:
    if move.amount is not None and not 0.0 < move.amount < math.inf:
        raise BadInput(
            f"{prefix}amount", f"A move of {move.amount:g} {move.unit}s isn't a move; give how far it was turned, more than 0."
        )
    if move.amount is not None and move.unit is None and move.mechanism != "tug":
        raise BadInput(f"{prefix}unit", f"{move.amount:g} of what? Give turn or degree.")
    if move.shown is not None and not 0.0 < move.shown < math.inf:
        raise BadInput(f"{prefix}shown", f"{move.shown:g} can't have been shown; give more than 0, or leave it out.")


def _check_cents(move: RecentMove, prefix: str) -> None:
    if move.expect_cents is not None and not abs(move.expect_cents) <= FARTHEST_CENTS:
        raise BadInput(f"{prefix}expect_cents", f"{move.expect_cents:g} cents can't have been expected of one move.")
    for name, value in (("expect_plus_minus", move.expect_plus_minus), ("from_give_or_take", move.from_give_or_take)):
        if value is not None and not 0.0 <= value <= FARTHEST_CENTS:
            raise BadInput(f"{prefix}{name}", f"Give or take {value:g} cents can't be right; give 0 or more, or leave it out.")


def _check_from(move: RecentMove, prefix: str) -> None:
    if move.from_cents is None:
        if move.from_side is None:
            raise BadInput(
                f"{prefix}recent_move.from_cents",
                "Where did the string stand before that move? Give from_cents, or from_side where no figure was shown.",
            )
        return
    if not abs(move.from_cents) <= FARTHEST_CENTS:
        raise BadInput(
            f"{prefix}recent_move.from_cents",
            f"{move.from_cents:g} cents before the move can't be right; give the reading before it, in cents.",
        )

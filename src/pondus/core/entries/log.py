"""Readings and moves as they are entered."""

import math
from dataclasses import dataclass
from typing import Literal, get_args

from pondus.core.errors import BadInput
from pondus.core.instruments import StringData
from pondus.core.judgement.heard import Heard, check_heard
from pondus.core.judgement.recent_move import Done, RecentMove, Turn, check_recent_move
from pondus.core.judgement.situation import FineTuner, PegKind, Pitch, Turning, Unit

Source = Literal["typed", "microphone", "recording", "simulated", "list"]
SOURCES: tuple[Source, ...] = get_args(Source)
LARGEST_SCREW_MOVE_TURNS = 40.0
"""From one end to the other of the longest screw there is (reach 20 turns either way)."""
LARGEST_PEG_MOVE_DEGREES = 7200.0
"""Twenty times round: a string wound on from nothing."""
MOST_PULLS = 10.0
LARGEST_EXPECTED_CENTS = 12_000.0
LARGEST_SPREAD_CENTS = 1_200.0


@dataclass(frozen=True)
class ReadingEntry:
    """One string as it was heard. ``spread_cents``: how far the pitch swayed, where that was measured."""

    string: str
    heard: Heard
    source: Source = "typed"
    spread_cents: float | None = None
    sure_of_string: bool = False


@dataclass(frozen=True)
class MoveEntry(Turn):
    """One turn. ``amount_known`` false: it was turned until the string was where it should be, and the amount is what was
    shown.
    """

    string: str
    amount_known: bool = True


def reading_entry(
    string: StringData,
    heard: Heard,
    *,
    source: str = "typed",
    spread_cents: float | None = None,
    sure_of_string: bool = False,
    prefix: str = "heard",
) -> ReadingEntry:
    """A reading, checked. Raises BadInput."""
    known = next((one for one in SOURCES if one == source), None)
    if known is None:
        raise BadInput("source", f"“{source}” isn't a valid source of a reading; choose from {', '.join(SOURCES)}.")
    if spread_cents is not None and not 0.0 <= spread_cents <= LARGEST_SPREAD_CENTS:
        raise BadInput(
            "spread_cents", f"A spread of {spread_cents:g} cents can't be right; give 0 to {LARGEST_SPREAD_CENTS:g}, or none."
        )
    return ReadingEntry(string.name, check_heard(heard, prefix=prefix), known, spread_cents, sure_of_string)


def move_entry(
    string: StringData,
    *,
    mechanism: str,
    direction: str,
    amount: float,
    unit: str,
    has_fine_tuner: bool,
    peg_kind: PegKind = "friction",
    expect_cents: float | None = None,
    expect_plus_minus: float | None = None,
    turning: Turning = "step-by-step",
) -> MoveEntry:
    """A move, checked, its amount in the mechanism's own unit: 90 degrees of a screw are a quarter turn. Told as it was shown
    (with what was expected of it) by whoever turns while the string sounds (``turning``), its amount isn't known.

    Raises BadInput: no amount or one that no hand makes, a screw where none is fitted, figures that can't be expected.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> a = INSTRUMENTS["violin"].string("A")
    >>> moved = move_entry(a, mechanism="fine-tuner", direction="raise", amount=90.0, unit="degree", has_fine_tuner=True)
    >>> moved.amount, moved.unit
    (0.25, 'turn')
    """
    turned, way = _mechanism(mechanism), _direction(direction)
    if turned == "tug":
        unit = "turn"
    if unit not in get_args(Unit):
        raise BadInput("unit", f"“{unit}” isn't a valid unit of a turn; choose from turn and degree.")
    told: Unit = "turn" if unit == "turn" else "degree"
    move = RecentMove(turned, way, amount, told, from_cents=0.0)
    check_recent_move(move, FineTuner() if has_fine_tuner else None)
    own: Unit = "degree" if turned == "peg" else "turn"
    made = move.amount_in_own_unit or 0.0
    if turned == "tug" and made > MOST_PULLS:
        raise BadInput("amount", f"{made:g} pulls at once can't be right; give 1 or 2.")
    most = LARGEST_SCREW_MOVE_TURNS if own == "turn" else LARGEST_PEG_MOVE_DEGREES * (4.0 if peg_kind == "geared" else 1.0)
    if made > most:
        raise BadInput("amount", f"{made:g} {own}s at once can't be right; a {turned.replace('-', ' ')} goes {most:g} at most.")
    _check_expected(expect_cents, expect_plus_minus)
    known = turning == "step-by-step" or expect_cents is None
    return MoveEntry(
        string.name,
        known,
        mechanism=turned,
        direction=way,
        amount=made if told == own else round(made, 6),
        unit=own,
        expect_cents=expect_cents,
        expect_plus_minus=expect_plus_minus,
    )


def _check_expected(cents: float | None, plus_minus: float | None) -> None:
    for field, value in (("expect_cents", cents), ("expect_plus_minus", plus_minus)):
        if value is not None and not (math.isfinite(value) and abs(value) <= LARGEST_EXPECTED_CENTS):
            raise BadInput(field, f"{field} = {value:g} can't be right; give cents, or leave it out.")
    if plus_minus is not None and plus_minus < 0.0:
        raise BadInput("expect_plus_minus", f"An uncertainty of {plus_minus:g} cents can't be right; give 0 or more.")


def _mechanism(text: str) -> Done:
    by_name: dict[str, Done] = {"fine-tuner": "fine-tuner", "peg": "peg", "tug": "tug"}
    if text not in by_name:
        raise BadInput("mechanism", f"“{text}” isn't something that is turned; choose from fine-tuner, peg and tug.")
    return by_name[text]


def _direction(text: str) -> Pitch:
    by_name: dict[str, Pitch] = {"raise": "raise", "lower": "lower"}
    if text not in by_name:
        raise BadInput("direction", f"“{text}” isn't a valid direction; choose from raise and lower.")
    return by_name[text]

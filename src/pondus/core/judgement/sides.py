"""A tuner without figures: which way, and by halving how far. Rule R80."""

from pondus.core.judgement import words
from pondus.core.judgement.amounts import (
    LARGEST_NUDGE_DEGREES,
    LARGEST_SCREW_MOVE_TURNS,
    SMALLEST_NUDGE_DEGREES,
    SMALLEST_SCREW_MOVE_TURNS,
)
from pondus.core.judgement.direction import Turn, peg_turn, screw_turn
from pondus.core.judgement.heard import ShownSide
from pondus.core.judgement.mechanism import Choice, choose
from pondus.core.judgement.permitted import Wanted, permitted
from pondus.core.judgement.procedure import Procedure
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import Pitch, Situation
from pondus.core.judgement.steps import Do, Step
from pondus.core.mechanics import Rate


def steps_by_side(situation: Situation, side: ShownSide, recent: RecentMove | None) -> tuple[Choice, tuple[Step, ...]]:
    """The move for a string that is shown flat or sharp and no more."""
    pitch: Pitch = "raise" if side == "flat" else "lower"
    guess = LARGEST_SCREW_MOVE_TURNS * situation.screw_rate.cents
    choice = choose(situation, -guess if pitch == "raise" else guess)
    if situation.by_peg_alone:
        tugged = recent is not None and recent.mechanism == "tug"
        pulls = pitch == "lower" and not tugged and situation.pulls_down
        choice = Choice("peg", pitch, "tug" if pulls else "no-fine-tuner")
    found = permitted(situation, Wanted("tug" if choice.reason == "tug" else choice.mechanism))
    if found.permission == "fetch":
        say = words.fetch_teacher(situation, None, needs=f"is {side} and {found.needs}")
        return choice, (Step("fetch-teacher", say),)
    if choice.reason == "tug":
        laid = Procedure(situation, guess, None)
        laid.tug_down()
        return choice, tuple(laid.steps)
    if choice.mechanism == "peg":
        return choice, (_peg(situation, pitch), Step("check", words.check(pitch)))
    return choice, (_screw(situation, pitch, side, recent), Step("check", words.check(pitch)))


def _screw(situation: Situation, pitch: Pitch, side: ShownSide, recent: RecentMove | None) -> Step:
    tuner = situation.fine_tuner
    assert tuner is not None
    left = tuner.reach_turns - tuner.turns_from_middle * (1.0 if pitch == "raise" else -1.0)
    amount = min(_halved(side, recent), left)
    turn = screw_turn(pitch, stance=situation.stance)
    said = words.by_side(situation, turn, pitch, words.turns(amount))
    return _step(situation, "turn-fine-tuner", said, pitch, amount, turn, situation.screw_rate)


def _peg(situation: Situation, pitch: Pitch) -> Step:
    turn = peg_turn(pitch, side=situation.string.side, stance=situation.stance, winding=situation.peg.winding)
    amount = LARGEST_NUDGE_DEGREES if situation.while_sounding else SMALLEST_NUDGE_DEGREES
    said = words.by_side(situation, turn, pitch, words.degrees(amount))
    return _step(situation, "turn-peg", said, pitch, amount, turn, situation.peg_rate)


def _step(situation: Situation, do: Do, say: str, pitch: Pitch, amount: float, turn: Turn, rate: Rate) -> Step:
    sounding = situation.while_sounding
    return Step(
        do=do,
        say=say,
        pitch=pitch,
        amount=amount,
        unit="degree" if do == "turn-peg" else "turn",
        rotation=turn.rotation,
        top_moves=turn.top_moves,
        aim_cents=0.0 if sounding else None,
        until=words.until(situation, 0.0) if sounding else None,
        expect_cents=amount * rate.cents * (1.0 if pitch == "raise" else -1.0),
        expect_plus_minus=amount * rate.plus_minus,
    )


def _halved(side: ShownSide, recent: RecentMove | None) -> float:
    """Half a turn at first; the last amount again, or half of it where the side has changed."""
    last = None if recent is None or recent.mechanism != "fine-tuner" else recent.amount_in_own_unit
    if recent is None or last is None or recent.from_side is None:
        return LARGEST_SCREW_MOVE_TURNS
    again = min(last, LARGEST_SCREW_MOVE_TURNS)
    return max(SMALLEST_SCREW_MOVE_TURNS, again if recent.from_side == side else again / 2.0)

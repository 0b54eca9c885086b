"""A tuner without figures: which way, and by halving how far. Rule R80. An ear beside a tone: the same, and whether it is far,
which is the peg's. Rule R129.
"""

from dataclasses import replace

from pondus.core.instruments.mechanics import Rate, is_violin_e
from pondus.core.judgement import words
from pondus.core.judgement.amounts import (
    LARGEST_NUDGE_DEGREES,
    LARGEST_SCREW_MOVE_TURNS,
    SMALLEST_NUDGE_DEGREES,
    SMALLEST_SCREW_MOVE_TURNS,
)
from pondus.core.judgement.direction import Turn, peg_turn, screw_turn
from pondus.core.judgement.heard import BY_EAR, FAR, WAYS, ShownSide
from pondus.core.judgement.mechanism import Choice, choose
from pondus.core.judgement.permitted import Wanted, permitted
from pondus.core.judgement.procedure import Procedure
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import Pitch, Situation
from pondus.core.judgement.steps import Do, Goal, Step

FAR_CENTS = 200.0
"""R129: a string that sounds much lower or higher than its tone is taken to be so far off: the peg's, where pegs are taken."""

PULLS_AFTER_PUSH = 8
"""R133: a peg that went past with its least push would go past again on its way up: pulls bring the string down, 2 to 10 cents
each, so often at most.
"""


def pulls_bring_it(situation: Situation, side: ShownSide, recent: RecentMove | None) -> bool:
    """R133: whether pulls are tried on a string that only a peg turns: they let it down, by less than a push does."""
    pulled = situation.pulled or int(recent is not None and recent.mechanism == "tug")
    enough = PULLS_AFTER_PUSH if situation.went_past else 1
    return WAYS[side] == "sharp" and side not in FAR and pulled < enough and situation.pulls_down


def steps_by_side(situation: Situation, side: ShownSide, recent: RecentMove | None) -> tuple[Choice, tuple[Step, ...]]:
    """The move for a string that is shown flat or sharp and no more, or heard so beside its tone."""
    pitch: Pitch = "raise" if WAYS[side] == "flat" else "lower"
    guess = FAR_CENTS if side in FAR else LARGEST_SCREW_MOVE_TURNS * situation.screw_rate.cents
    choice = choose(situation, -guess if pitch == "raise" else guess)
    if situation.by_peg_alone:
        choice = Choice("peg", pitch, "tug" if pulls_bring_it(situation, side, recent) else "no-fine-tuner")
    row = permitted(situation, Wanted("tug" if choice.reason == "tug" else choice.mechanism))
    if row.permission == "fetch" and side in FAR and choice.mechanism == "peg" and _turns_left(situation, pitch) >= 1.0:
        choice = Choice("fine-tuner", pitch, "within-reach")  # far may be no more than the screw can do
        row = permitted(situation, Wanted("fine-tuner"))
    if row.permission == "fetch":
        how = f"{side.replace('-', ' ')} than its tone" if side in BY_EAR else side
        say = words.fetch_teacher(situation, None, needs=f"is {how} and {row.needs}")
        return choice, (Step("fetch-teacher", say),)
    if choice.reason == "tug":
        laid = Procedure(situation, guess, None)
        laid.tug_down()
        return choice, tuple(laid.steps)
    if choice.mechanism == "peg":
        if situation.winding_doubted:  # one push, and then it is told which way it went: no light would
            situation = replace(situation, turning="step-by-step")
        elif side in FAR:  # its tone sounds all the while: whoever hears it needs no step to be told
            situation = replace(situation, turning="while-sounding")
        return choice, (_peg(situation, pitch, side), Step("check", words.check(pitch)))
    return choice, (_screw(situation, pitch, side, recent), Step("check", words.check(pitch)))


def _goal(situation: Situation, pitch: Pitch, side: ShownSide, *, by_peg: bool) -> Goal:
    """What ends the turn: a light, or the tone."""
    if side not in BY_EAR:
        return "middle"
    if pitch == "raise":
        return "just-under-tone" if by_peg and situation.fine_tuner is not None else "tone"
    return "tone-from-below"


def _screw(situation: Situation, pitch: Pitch, side: ShownSide, recent: RecentMove | None) -> Step:
    amount = min(_halved(side, recent), _turns_left(situation, pitch))
    turn = screw_turn(pitch, stance=situation.stance)
    goal = _goal(situation, pitch, side, by_peg=False)
    say = words.by_side(situation, turn, pitch, words.turns(amount), goal=goal)
    return _step(situation, "turn-fine-tuner", say, pitch, amount, turn, situation.screw_rate, goal)


def _turns_left(situation: Situation, pitch: Pitch) -> float:
    tuner = situation.fine_tuner
    if tuner is None:
        return 0.0
    return tuner.reach_turns - tuner.turns_from_middle * (1.0 if pitch == "raise" else -1.0)


def _peg(situation: Situation, pitch: Pitch, side: ShownSide) -> Step:
    turn = peg_turn(pitch, side=situation.string.side, stance=situation.stance, winding=situation.peg.winding)
    far = side in FAR and not situation.winding_doubted
    delicate = situation.winding_doubted or is_violin_e(situation.instrument, situation.string)
    by_more = situation.while_sounding and not delicate
    amount = LARGEST_NUDGE_DEGREES if by_more else SMALLEST_NUDGE_DEGREES
    if far:
        amount = FAR_CENTS / situation.peg_rate.cents
    goal = _goal(situation, pitch, side, by_peg=True)
    say = words.by_side(situation, turn, pitch, words.degrees(amount), goal=goal)
    return _step(situation, "turn-peg", say, pitch, amount, turn, situation.peg_rate, goal)


def _step(situation: Situation, do: Do, say: str, pitch: Pitch, amount: float, turn: Turn, rate: Rate, goal: Goal) -> Step:
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
        until=words.until(situation, 0.0) if sounding and goal == "middle" else None,
        ends=goal if sounding else None,
        expect_cents=amount * rate.cents * (1.0 if pitch == "raise" else -1.0),
        expect_plus_minus=amount * rate.plus_minus,
    )


def _halved(side: ShownSide, recent: RecentMove | None) -> float:
    """Half a turn at first; the last amount again, or half of it where the side has changed."""
    last = None if recent is None or recent.mechanism != "fine-tuner" else recent.amount_in_own_unit
    if recent is None or last is None or recent.from_side is None:
        return LARGEST_SCREW_MOVE_TURNS
    again = min(last, LARGEST_SCREW_MOVE_TURNS)
    return max(SMALLEST_SCREW_MOVE_TURNS, again if WAYS[recent.from_side] == WAYS[side] else again / 2.0)

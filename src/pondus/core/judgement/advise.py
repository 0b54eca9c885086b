"""One reading to the next move and the whole way to in tune."""

from dataclasses import dataclass
from typing import Literal

from pondus.core.judgement import words
from pondus.core.judgement.after_move import limit_after_overshoot, peg_is_stuck, went_wrong_way
from pondus.core.judgement.cautions import Caution, cautions_for, near_end
from pondus.core.judgement.mechanism import Choice, choose, travel_left_cents
from pondus.core.judgement.procedure import WORTH_CENTRING_TURNS, procedure
from pondus.core.judgement.reading import Candidate, Judged, State, judge
from pondus.core.judgement.situation import (
    Heard,
    Pitch,
    RecentMove,
    Situation,
    check_heard,
    check_recent_move,
)
from pondus.core.judgement.steps import Step
from pondus.core.mechanics import break_margin_cents


@dataclass(frozen=True)
class Advice:
    """What to do about one string. ``cents_off`` and ``break_margin_cents`` are None when the reading is unsure.

    ``mechanism`` and ``pitch`` name the main move the string needs, not the first step. Empty ``steps`` means leave it.
    ``confirmable``: a person's "yes, it is that string" would settle the doubt (R1, R2); a height that can't be true stays so.
    """

    state: State
    cents_off: float | None
    mechanism: Literal["none", "fine-tuner", "peg"]
    pitch: Pitch | None
    candidates: tuple[Candidate, ...]
    steps: tuple[Step, ...]
    cautions: tuple[Caution, ...]
    break_margin_cents: float | None
    why: str
    confirmable: bool = False


def advise(
    situation: Situation,
    heard: Heard,
    *,
    sure_of_string: bool = False,
    recent_move: RecentMove | None = None,
) -> Advice:
    """Judge one reading. Raises BadInput for a reading or a recent move that can't be meant.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.judgement.situation import FineTuner, Peg, situation
    >>> a = situation(INSTRUMENTS["violin"], "A", fine_tuner=FineTuner(), peg=Peg())
    >>> advice = advise(a, Heard(note="A4", cents=-12.0))
    >>> advice.mechanism, advice.steps[0].rotation, round(advice.steps[0].amount, 2)
    ('fine-tuner', 'clockwise', 0.3)
    >>> g = situation(INSTRUMENTS["violin"], "G", fine_tuner=FineTuner(), peg=Peg())
    >>> advise(g, Heard(note="A3", cents=0.0)).pitch
    'lower'
    """
    check_heard(heard)
    check_recent_move(recent_move, situation.fine_tuner)
    judged = judge(situation, heard, sure=sure_of_string, recent=recent_move)
    if judged.state in ("unsure", "other-string"):
        return _asking(situation, judged)
    assert judged.cents_off is not None
    if judged.state == "in-tune":
        return _leaving(situation, judged, judged.cents_off)
    return _moving(situation, judged, judged.cents_off, recent_move)


def _asking(situation: Situation, judged: Judged) -> Advice:
    if judged.doubt == "octave-unknown":
        step = Step(do="play-reference", say=_reference_question(situation, judged))
    else:
        step = Step(do="play-again", say=_again(situation, judged))
    margin = None if judged.cents_off is None else _margin(situation, judged.cents_off)
    why = _why_asking(situation, judged)
    confirmable = judged.state == "other-string" or judged.doubt == "octave-slip"
    return Advice(
        judged.state, judged.cents_off, "none", None, judged.candidates, (step,), (), margin, why, confirmable
    )


def _leaving(situation: Situation, judged: Judged, off: float) -> Advice:
    tuner = situation.fine_tuner
    ends_near = tuner is not None and near_end(tuner, tuner.turns_from_middle)
    why = f"{words.off(off).capitalize()}: within the ±{situation.tolerance_cents:g} that counts as good enough, so leave it."
    if ends_near:
        why += " Its screw stands near its end; recentre it next time."
    return Advice(
        "in-tune",
        off,
        "none",
        None,
        judged.candidates,
        (),
        ("recentre-later",) if ends_near else (),
        _margin(situation, off),
        why,
    )


def _moving(situation: Situation, judged: Judged, off: float, recent: RecentMove | None) -> Advice:
    choice = choose(situation, off, recent=recent)
    steps, ends = _steps(situation, choice, off, recent)
    cautions = cautions_for(
        situation,
        choice,
        steps,
        cents_off=off,
        slack=judged.state == "slack",
        octave_guess=not judged.octave_known,
        screw_ends=ends,
    )
    if recent is not None and went_wrong_way(recent, off) and recent.mechanism == "peg":
        first: tuple[Caution, ...] = ("push-in", "wrong-peg") if recent.direction == "raise" else ("wrong-peg",)
        cautions = first + tuple(each for each in cautions if each not in first)
    return Advice(
        judged.state,
        off,
        choice.mechanism,
        choice.pitch,
        judged.candidates,
        steps,
        cautions,
        _margin(situation, off),
        _why_moving(situation, judged, choice, off),
    )


def _steps(
    situation: Situation, choice: Choice, off: float, recent: RecentMove | None
) -> tuple[tuple[Step, ...], list[float]]:
    if recent is not None and went_wrong_way(recent, off):
        say = words.check(recent.direction, wrong_way=True, mechanism_is_peg=recent.mechanism == "peg")
        return (Step(do="check", say=say),), []
    if choice.mechanism == "peg" and situation.who == "student-fine-tuners":
        return (Step(do="fetch-teacher", say=words.fetch_teacher(situation, off)),), []
    if choice.mechanism == "peg" and peg_is_stuck(situation, recent, off):
        say = f"The {situation.string.name} peg won't move: don't force it and no pliers; it goes to the luthier."
        return (Step(do="luthier", say=say),), []
    laid = procedure(situation, choice, off, at_most=limit_after_overshoot(recent, choice, off))
    return tuple(laid.steps), laid.screw_ends


def _margin(situation: Situation, off: float) -> float:
    return break_margin_cents(
        situation.instrument, situation.string, cents_off=off, string_age_days=situation.string_age_days
    )


def _reference_question(situation: Situation, judged: Judged) -> str:
    names = " or ".join(f"{each.note} ({words.off(each.cents_off)})" for each in judged.candidates)
    question = f"Listen to the reference {situation.string.name}: is your string higher or lower than this?"
    return f"It could be {names}. {question}"


def _again(situation: Situation, judged: Judged) -> str:
    name = situation.string.name
    if judged.other is not None:
        return f"That sounds like the {judged.other} string. Is it really the {name}? Play the {name} string again."
    return f"Play the {name} string again, softly and evenly, and read it once more before anything is turned."


def _why_asking(situation: Situation, judged: Judged) -> str:
    name, heard = situation.string.name, judged.candidates[0]
    if judged.other is not None:
        return (
            f"{heard.note} is the pitch of the open {judged.other} string; either that string was played or the tuner"
            f" is set to it, or the {name} string has slipped far. Say which before anything is turned."
        )
    if judged.doubt == "octave-unknown":
        return "Without the octave both are as likely, and winding the wrong one up would snap the string."
    if judged.doubt == "too-high":
        return (
            f"{heard.note} is {words.off(heard.cents_off)} on the {name} string: it would have snapped. The tuner caught"
            " a harmonic, most likely."
        )
    if judged.doubt == "against-last-move":
        return f"{heard.note} doesn't fit the last move: a string does not tighten itself. Read it with its octave."
    return f"{heard.note} is about an octave from the {name} string; tuners slip an octave easily, so read it again."


def _why_moving(situation: Situation, judged: Judged, choice: Choice, off: float) -> str:
    guess = ""
    if not judged.octave_known:
        guess = f" The octave is a guess: {judged.candidates[0].note} is nearest; make sure before you turn."
    if judged.state == "slack":
        far = words.off(off).capitalize()
        return f"{far} is a slack string: bring it up in rounds, by three semitones under, then one."
    return f"{words.off(off).capitalize()}: {_reason(situation, choice, off)}{guess}"


def _reason(situation: Situation, choice: Choice, off: float) -> str:
    name, tuner = situation.string.name, situation.fine_tuner
    left = 0.0 if tuner is None else travel_left_cents(situation, tuner, choice.pitch)
    at_end = f"has only about {words.cents(left)} left that way" if left >= 1.0 else "has no travel left that way"
    off_centre = tuner is not None and abs(tuner.turns_from_middle) >= WORTH_CENTRING_TURNS
    limit = situation.taken_by.peg_past_cents
    return {
        "no-fine-tuner": f"the {name} string has no fine tuner, so its peg.",
        "screw-recentres": "the fine tuner brings it in and ends no further from its middle.",
        "peg-under-way": "the peg is being turned, and its next nudge does more than a move of the screw.",
        "within-reach": f"within what the fine tuner can give that way (about {words.cents(left)}), so no peg is touched.",
        "violin-e": "a violin's E is tuned with its fine tuner; its peg is too coarse and the string too thin.",
        "violin-e-too-far": "too far for the E string's fine tuner, so its peg, with great care: it is the first to snap.",
        "pegs-only": "this approach uses pegs alone and leaves the screws where they are.",
        "no-travel": f"the screw {at_end}, so the peg must move"
        + (" and the screw be recentred." if off_centre else "."),
        "past-threshold": f"more than {limit:g} cents, where this approach takes the peg.",
    }[choice.reason]

"""One reading to the next move and the whole way to in tune."""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from pondus.core.errors import BadInput
from pondus.core.figures import Cents
from pondus.core.instruments.mechanics import break_margin_cents
from pondus.core.judgement import words
from pondus.core.judgement.after_move import Sign, limit_after_overshoot, sign_of
from pondus.core.judgement.answered import after_answer, question_about_move
from pondus.core.judgement.cautions import Caution, cautions_for, near_end
from pondus.core.judgement.heard import BY_EAR, FAR, WAYS, Heard, ShownSide, check_heard
from pondus.core.judgement.mechanism import TUG_UP_TO_CENTS, Choice, choose, travel_left_cents
from pondus.core.judgement.no_reading import without_reading
from pondus.core.judgement.permitted import Wanted, permitted
from pondus.core.judgement.procedure import STAGES_BELOW_CENTS, WORTH_CENTRING_TURNS, aim_for, procedure
from pondus.core.judgement.questions import about_reading, tone_octaves
from pondus.core.judgement.reading import ROUNDING_CENTS, Candidate, Judged, State, judge, state_of, tolerance_of
from pondus.core.judgement.recent_move import Answer, RecentMove, check_recent_move
from pondus.core.judgement.sides import pulls_bring_it, steps_by_side
from pondus.core.judgement.situation import Pitch, Situation
from pondus.core.judgement.steps import Step
from pondus.core.pitch.notes import spelling_of


@dataclass(frozen=True)
class Advice:
    """What to do about one string. ``cents_off`` and ``break_margin_cents`` are None when the reading is unsure, or only a side
    is known (``side``).

    ``mechanism`` and ``pitch`` name the main move the string needs, not the first step. Empty ``steps`` means leave it.
    """

    state: State
    cents_off: Cents | None
    mechanism: Literal["none", "fine-tuner", "peg"]
    pitch: Pitch | None
    candidates: tuple[Candidate, ...]
    steps: tuple[Step, ...]
    cautions: tuple[Caution, ...]
    break_margin_cents: Cents | None
    why: str
    side: ShownSide | None = None

    @property
    def question(self) -> Step | None:
        """What is asked, if something is."""
        return next((step for step in self.steps if step.do == "ask"), None)


def advise(
    situation: Situation,
    heard: Heard | None,
    *,
    sure_of_string: bool = False,
    recent_move: RecentMove | None = None,
    answer: Answer | None = None,
    pulls_to_come: float = 0.0,
) -> Advice:
    """Judge one reading, or a string that has none. ``answer`` is to the question about the last move. ``pulls_to_come``: by
    how many cents the moves still to come on the other strings will pull this one; its screw leaves it so much the other way,
    5 cents at most, and it is left alone where they will bring it in.

    Raises BadInput for a reading, a recent move or an answer that can't be meant.

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
    _check(situation, heard, recent_move, answer)
    if situation.string_state != "on" or situation.peg.state == "out":
        return _winding(situation)
    assert heard is not None
    spelling = spelling_of(heard.note, situation.spelling)
    if spelling != situation.spelling:
        situation = replace(situation, spelling=spelling)
    judged = judge(situation, heard, sure=sure_of_string, recent=recent_move)
    if situation.bridge in ("moved", "fallen"):
        return _stopped(situation, judged)
    if judged.state in ("unsure", "other-string"):
        _refuse_answer(answer)
        return _asking(situation, judged, heard)
    if judged.state == "in-tune":
        _refuse_answer(answer)
        return _leaving(situation, judged, judged.cents_off)
    if judged.cents_off is None:
        return _by_side(situation, judged, recent_move, answer)
    return _moving(situation, judged, judged.cents_off, recent_move, answer, pulls_to_come)


def jumped(situation: Situation, heard: Heard, *, sure: bool, from_cents: float) -> Advice:
    """R122: a figure that nothing explains is played again before anything is turned. ``from_cents``: where it stood."""
    judged = judge(situation, heard, sure=sure, recent=None)
    name = situation.string.name
    here = judged.candidates[0].note if judged.candidates else "that"
    why = f"It read {words.off(from_cents)} before, and nothing was turned: either it slipped, or that was another note."
    say = f"{here}? Play the {name} string again, softly and evenly."
    return Advice("unsure", None, "none", None, judged.candidates, (Step("play-again", say),), (), None, why)


WORTH_SAYING_CENTS = 0.5
DOUBTED = "If it goes the wrong way once more, it is wound the other way; then the arrows are turned round."
REMEMBERED = 2048
advise_of = lru_cache(maxsize=REMEMBERED)(advise)
"""`advise`, remembered: an entry on one string leaves what is advised for the others, and a bench and its plan ask the same."""


def _check(situation: Situation, heard: Heard | None, recent: RecentMove | None, answer: Answer | None) -> None:
    check_recent_move(recent, situation.fine_tuner)
    if situation.peg.state == "out" and recent is not None and recent.mechanism == "peg":
        raise BadInput("recent_move", "A peg that has popped out wasn't turned; put it back first, or say it holds.")
    if situation.string_state != "on":
        if heard is not None:
            state = {"floppy": "A floppy", "broken": "A broken", "off": "A missing"}[situation.string_state]
            raise BadInput("heard", f"{state} string has no pitch; leave heard out, or say that the string is on.")
        _refuse_answer(answer)
    elif heard is None:
        if situation.peg.state != "out":
            raise BadInput("heard", "What does the tuner show? Give heard, or say what became of the string.")
        _refuse_answer(answer)
    else:
        check_heard(heard)


def _refuse_answer(answer: Answer | None) -> None:
    if answer is not None:
        raise BadInput("answer", f"Nothing was asked that “{answer}” would answer; leave answer out.")


def _winding(situation: Situation) -> Advice:
    """R85: broken, missing, floppy, or its peg out: no reading, and a way of its own."""
    state, steps, cautions, why = without_reading(situation)
    turns = steps[0].do != "luthier"
    return Advice(state, None, "peg" if turns else "none", "raise" if turns else None, (), steps, cautions, None, why)


def _stopped(situation: Situation, judged: Judged) -> Advice:
    """R86: nothing is turned while the bridge doesn't stand."""
    which = "has fallen" if situation.bridge == "fallen" else "has moved"
    say = (
        f"Turn nothing: the bridge {which}. It goes to the luthier as it is; the soundpost inside may have fallen too, and"
        " must not be tuned up."
    )
    return Advice(
        judged.state, judged.cents_off, "none", None, judged.candidates, (Step("luthier", say),), ("bridge",), None, say
    )


def _asking(situation: Situation, judged: Judged, heard: Heard) -> Advice:
    question = about_reading(situation, judged, heard)
    if judged.doubt in ("octave-unknown", "this-or-neighbour"):
        steps = [Step("play-reference", _reference(situation, judged), tone_octaves=tone_octaves(judged))]
    elif judged.doubt == "which-side":
        steps = []
    else:
        steps = [Step("play-again", _again(situation, judged))]
    margin = None if judged.cents_off is None else _margin(situation, judged.cents_off)
    return Advice(
        judged.state,
        judged.cents_off,
        "none",
        None,
        judged.candidates,
        tuple(steps if question is None else [*steps, question]),
        (),
        margin,
        _why_asking(situation, judged),
    )


def _by_side(situation: Situation, judged: Judged, recent: RecentMove | None, answer: Answer | None) -> Advice:
    """R80: direction and no distance."""
    assert judged.side is not None
    sign = sign_of(situation, recent, judged)
    if recent is None or sign is None:
        _refuse_answer(answer)
    else:
        answered = _about_last(situation, judged, None, recent, answer, sign)
        if isinstance(answered, Advice):
            return answered
        situation, recent = answered, None
    if situation.as_near_as_it_gets and judged.side not in FAR and not pulls_bring_it(situation, judged.side, recent):
        return _as_near_as_it_gets(situation, judged)
    choice, steps = steps_by_side(situation, judged.side, recent)
    cautions = cautions_for(
        situation, choice, steps, cents_off=0.0, slack=False, octave_guess=not judged.octave_known, screw_ends=()
    )
    why = f"The tuner shows {judged.side} and no figure: the smallest sensible move, halved each time the side changes."
    if judged.side in BY_EAR:
        part = "peg" if choice.mechanism == "peg" else "fine tuner"
        far = f"so far that it is the {part}’s" if judged.side in FAR else f"so the {part}, by little"
        if judged.side in FAR and choice.reason == "within-reach":
            far = "the fine tuner first; if it is still far then, its peg"
        why = f"Heard {judged.side.replace('-', ' ')} than its tone: {far}. From below the ear tells best when two are one."
    if situation.winding_doubted:
        why = f"{DOUBTED} {why}"
    mechanism = "none" if choice.reason == "tug" else choice.mechanism
    return Advice(
        WAYS[judged.side], None, mechanism, choice.pitch, judged.candidates, steps, cautions, None, why, side=judged.side
    )


def _as_near_as_it_gets(situation: Situation, judged: Judged) -> Advice:
    """R133: a peg whose least push is wider than the middle of the light. It is left; nothing but its fifth tells which side is
    the nearer.
    """
    name = situation.string.name
    why = (
        f"The {name} peg goes past the middle with its least push, up and down: it comes no nearer. Leave it"
        " where its fifth with its neighbour sounds stiller. Peg compound on its contact rings lets it move by less; a fine"
        " tuner would end it."
    )
    return Advice(judged.state, judged.cents_off, "none", None, judged.candidates, (), (), None, why, side=judged.side)


def _leaving(situation: Situation, judged: Judged, off: float | None) -> Advice:
    tuner = situation.fine_tuner
    ends_near = tuner is not None and near_end(tuner, tuner.turns_from_middle)
    why = "It is one with its tone, so leave it." if judged.side == "same" else "The tuner shows it in tune, so leave it."
    if off is not None:
        within = tolerance_of(situation)
        counts = "that counts as good enough"
        if within > situation.tolerance_cents and abs(off) > situation.tolerance_cents:
            counts = "that a peg alone can do; see to the fifths"
        why = f"{words.off(off).capitalize()}: within the ±{within:g} {counts}, so leave it."
    if ends_near:
        why += " Its fine tuner stands near its end; recentre it next time."
    return Advice(
        "in-tune",
        off,
        "none",
        None,
        judged.candidates,
        (),
        ("recentre-later",) if ends_near else (),
        None if off is None else _margin(situation, off),
        why,
        side=judged.side,
    )


def _left_to_pulls(situation: Situation, judged: Judged, off: float) -> Advice:
    """R46: what is still to be turned on the others brings it in."""
    way = "down" if off > 0 else "up"
    why = f"{words.off(off).capitalize()}: what is still to be turned on the others will bring it {way}."
    return Advice(judged.state, off, "none", None, judged.candidates, (), (), _margin(situation, off), why, side=judged.side)


def _moving(
    situation: Situation, judged: Judged, off: float, recent: RecentMove | None, answer: Answer | None, pulls: float
) -> Advice:
    sign = sign_of(situation, recent, judged)
    if recent is None or sign is None:
        _refuse_answer(answer)
    else:
        answered = _about_last(situation, judged, off, recent, answer, sign)
        if isinstance(answered, Advice):
            return answered
        situation, recent = answered, None
    aim = aim_for(pulls) if judged.octave_known and judged.state != "slack" else 0.0
    if aim and (state_of(situation, off + pulls) == "in-tune" or (aim - off) * off > 0.0):
        return _left_to_pulls(situation, judged, off)
    choice = choose(situation, off, recent=recent)
    if judged.give_or_take:
        situation = replace(situation, by_letters=True)
    steps, ends = _steps(situation, judged, choice, off, recent, aim)
    slack = judged.state == "slack"
    cautions = cautions_for(
        situation, choice, steps, cents_off=off, slack=slack, octave_guess=not judged.octave_known, screw_ends=ends
    )
    why = _why_moving(situation, judged, choice, off)
    if aim:
        why += _left_over(steps)
    if situation.winding_doubted:
        why += f" {DOUBTED}"
    if answer == "end-or-loose":
        why += " A fine tuner that turns loosely is stripped: that one goes to the luthier."
    return _main_move(situation, judged, judged.state, off, choice, steps, cautions, why)


def _left_over(steps: tuple[Step, ...]) -> str:
    """R46: why the screw leaves the string a little over or under."""
    aims = [step.aim_cents for step in steps if step.do == "turn-fine-tuner" and step.aim_cents is not None]
    if not aims or abs(aims[-1]) < WORTH_SAYING_CENTS:
        return ""
    way = "down" if aims[-1] > 0 else "up"
    return f" Left {words.off(aims[-1])}: what is still to be turned on the others brings it {way} again."


def _main_move(
    situation: Situation,
    judged: Judged,
    state: State,
    off: float,
    choice: Choice,
    steps: tuple[Step, ...],
    cautions: tuple[Caution, ...],
    why: str,
) -> Advice:
    """Advice that names the main move the string needs, whatever the first step is."""
    mechanism = "none" if choice.reason == "tug" else choice.mechanism
    margin = _margin(situation, off)
    return Advice(state, off, mechanism, choice.pitch, judged.candidates, steps, cautions, margin, why)


def _about_last(
    situation: Situation, judged: Judged, off: float | None, recent: RecentMove, answer: Answer | None, sign: Sign
) -> Advice | Situation:
    """R23, R25: what is asked about the last move, or what its answer leaves to do; else the situation as the answer leaves it,
    to be advised anew.
    """
    if answer is None:
        return _about_move(situation, judged, off, recent, question_about_move(situation, sign, recent, off), sign)
    after = after_answer(situation, sign, recent, answer, off)
    return _about_move(situation, judged, off, recent, after.steps, sign) if after.steps else after.situation


def _about_move(
    situation: Situation, judged: Judged, off: float | None, recent: RecentMove, steps: tuple[Step, ...], sign: Sign
) -> Advice:
    """R23, R25: no turn until it is known what the last one did. ``off``: None where only a side is known."""
    cautions: tuple[Caution, ...] = ()
    if recent.turned == "peg":
        cautions = ("push-in", "wrong-peg") if situation.peg.kind == "friction" else ("wrong-peg",)
    why = {
        "no-effect": "A turn without effect is the sign before a string snaps: often another string's peg is in hand.",
        "wrong-way": "It went against the turn; until it is known why, nothing more is turned.",
    }[sign]
    if off is None:
        mechanism = recent.turned or "none"
        pitch: Pitch = "raise" if judged.side is not None and WAYS[judged.side] == "flat" else "lower"
        return Advice(sign, None, mechanism, pitch, judged.candidates, steps, cautions, None, why, side=judged.side)
    return _main_move(situation, judged, sign, off, choose(situation, off), steps, cautions, why)


def _steps(
    situation: Situation, judged: Judged, choice: Choice, off: float, recent: RecentMove | None, aim: float
) -> tuple[tuple[Step, ...], list[float]]:
    slack = judged.state == "slack"
    row = permitted(situation, Wanted("tug" if choice.reason == "tug" else choice.mechanism, slack))
    if row.permission == "fetch":
        return (Step("fetch-teacher", words.fetch_teacher(situation, off, needs=row.needs)),), []
    limit = limit_after_overshoot(recent, choice, off)
    laid = procedure(situation, choice, off, at_most=limit, aim=aim, slack=slack or off < STAGES_BELOW_CENTS)
    first = (Step("look-at-bridge", words.BRIDGE_LEANS),) if situation.bridge == "leans" else ()
    return (*first, *laid.steps), laid.screw_ends


def _margin(situation: Situation, off: float) -> float:
    return break_margin_cents(situation.instrument, situation.string, cents_off=off, string_age_days=situation.string_age_days)


def _reference(situation: Situation, judged: Judged) -> str:
    names = " or ".join(f"{candidate.note} ({words.off(candidate.cents_off)})" for candidate in judged.candidates)
    return f"It could be {names}. Listen to {words.reference(situation.string.name, tone_octaves(judged))}."


def _again(situation: Situation, judged: Judged) -> str:
    name = situation.string.name
    if judged.other is not None:
        return f"That sounds like the {judged.other} string. Is it really the {name}? Play the {name} string again."
    return f"Play the {name} string again, softly and evenly, and read it once more before anything is turned."


def _why_asking(situation: Situation, judged: Judged) -> str:
    name, heard = situation.string.name, judged.candidates[0]
    if judged.doubt == "this-or-neighbour":
        return (
            f"Without its octave that name is also the open {judged.other} string's; say which was played before anything"
            " is turned."
        )
    if judged.other is not None:
        return (
            f"{heard.note} is the pitch of the open {judged.other} string; either that string was played or the tuner"
            f" is set to it, or the {name} string has slipped far. Say which before anything is turned."
        )
    if judged.doubt == "which-side":
        return f"A name alone doesn't tell the side: {heard.note} may be flat, in tune or sharp."
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
        return f"{far} and slack: bring it up in rounds, by three semitones under, then one.{_new(situation)}"
    far = f"{words.off(off).capitalize()}, give or take {judged.give_or_take:.0f}" if judged.give_or_take else ""
    return f"{far or words.off(off).capitalize()}: {_reason(situation, choice, off)}{guess}{_new(situation)}"


def _new(situation: Situation) -> str:
    """What a new string does."""
    if not situation.is_new:
        return ""
    return (
        " A new string stretches for days: several rounds today, a gentle pull along it, and tune it again before it is put"
        " away; it isn't a slipping peg."
    )


def _reason(situation: Situation, choice: Choice, off: float) -> str:
    name, tuner = situation.string.name, situation.fine_tuner
    left = 0.0 if tuner is None else travel_left_cents(situation, tuner, choice.pitch)
    at_end = f"has only about {words.cents(left)} left that way" if left >= 1.0 else "has no travel left that way"
    off_centre = tuner is not None and abs(tuner.turns_from_middle) >= WORTH_CENTRING_TURNS
    limit = situation.taken_by.peg_past_cents
    return {
        "tug": "a peg can't let it down by so little; a pull can, so no peg is touched."
        if off <= TUG_UP_TO_CENTS + ROUNDING_CENTS
        else "this peg goes by leaps: let down, it would go past again on its way up; pulls bring it down.",
        "no-fine-tuner": f"the {name} string has no fine tuner, so its peg.",
        "screw-recentres": "the fine tuner brings it in and ends no further from its middle.",
        "peg-under-way": "the peg is being turned, and its next nudge does more than the fine tuner.",
        "within-reach": f"within what the fine tuner can give that way (about {words.cents(left)}), so no peg is touched.",
        "violin-e": "a violin's E is tuned with its fine tuner; its peg is too coarse and the string too thin.",
        "violin-e-too-far": "too far for the E string's fine tuner, so its peg, with great care: it is the first to snap.",
        "pegs-only": "this approach uses pegs alone and leaves the fine tuners where they are.",
        "no-travel": f"the fine tuner {at_end}, so the peg must move"
        + (" and the fine tuner be recentred." if off_centre else "."),
        "used-up": "the fine tuner would be left at its very end, so the peg does most of it.",
        "past-threshold": f"more than {limit:g} cents, where this approach takes the peg.",
    }[choice.reason]

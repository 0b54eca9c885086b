"""Where each string stands by the log: the last reading that counts, the move before it, and the advice on both."""

import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from uuid import UUID

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.core.instruments import StringData
from pondus.core.judgement.advise import Advice, advise_of
from pondus.core.judgement.after_move import move_made_unseen
from pondus.core.judgement.coupling import Coupling, default_coupling
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import StringAsked
from pondus.core.judgement.reading import SLACK_CENTS, SLACK_UNTIL_CENTS, judge, state_of
from pondus.core.judgement.recent_move import Answer, RecentMove
from pondus.core.judgement.round import FAR_DOWN_CENTS, FAR_DOWN_STRINGS
from pondus.core.judgement.situation import Situation
from pondus.core.judgement.steps import Step
from pondus.core.log.learned import LearnedRates, MoveLog, learned_rates, with_learned
from pondus.core.log.moves import one_move, recent_move, segments_of
from pondus.core.log.pulls import Entry, Turned, pull_cents, turned_strings
from pondus.core.log.records import FittedInstrument, FittedString, Move, Reading, TuningLog, situation_of
from pondus.core.pitch import shift_hz

OUTDATED_CENTS = 1.5
"""R114: when the others have pulled a string by more than that since it was read, it is played again before it is turned."""
LEAST_PULL_CENTS = 0.5
"""R46: less than that is not anticipated."""


@dataclass(frozen=True)
class StringState:
    """One string. ``before`` is the advice on the reading before the last move (``moved``), ``pending`` a move not yet read
    again, ``recent`` what the advice was told of the last move, ``pulled_cents`` how far turns of the others moved the string
    between the readings beside it (None: nobody knows), ``pulled_since`` how far since its last reading, and ``outdated_by``
    the others that were turned since, where that is more than its figure is good for.
    """

    string: StringData
    fitted: FittedString
    situation: Situation
    learned: LearnedRates
    reading: Reading | None = None
    advice: Advice | None = None
    moved: Move | None = None
    before: Advice | None = None
    pending: Move | None = None
    recent: RecentMove | None = None
    answer: Answer | None = None
    pulled_cents: float | None = 0.0
    pulled_since: float = 0.0
    outdated_by: tuple[str, ...] = ()

    @property
    def hz(self) -> float | None:
        """Where the string sounds, by its last reading, in Hz; None where that is not known."""
        if self.advice is None or self.advice.cents_off is None or self.advice.state == "other-string":
            return None
        return shift_hz(self.situation.target_hz, self.advice.cents_off)

    @property
    def did_cents(self) -> float | None:
        """What the last move did, in cents; None where that can't be told."""
        if self.before is None or self.advice is None or self.pulled_cents is None:
            return None
        then, here = self.before.cents_off, self.advice.cents_off
        return None if then is None or here is None else here - then - self.pulled_cents

    @property
    def to_hear_again(self) -> bool:
        """R114: whether it was in tune when it was read, and the others have pulled it out since, as far as one knows."""
        advice = self.advice
        if not self.outdated_by or advice is None or advice.state != "in-tune" or advice.cents_off is None:
            return False
        return state_of(self.situation, advice.cents_off + self.pulled_since) != "in-tune"

    @property
    def is_far_down(self) -> bool:
        """Whether it is known to be far under its target, or gives no pitch for slackness."""
        if not self.fitted.sounds:
            return self.situation.string_state in ("on", "floppy")
        off = None if self.advice is None else self.advice.cents_off
        return off is not None and off < -FAR_DOWN_CENTS

    @property
    def is_outdated(self) -> bool:
        """Whether it is to be played before its figure tells anything: it was turned since, or pulled out of tune."""
        return self.pending is not None or self.to_hear_again

    def asked(self, *, for_teacher: bool = False) -> StringAsked:
        """As a plan takes it: one that was turned and not heard since is to be heard. ``for_teacher``: whoever turns."""
        facts = replace(self.situation, who="teacher") if for_teacher else self.situation
        if self.reading is None or self.pending is not None:
            return StringAsked(facts, None)
        if self.answer is not None and self.advice is not None and self.advice.state not in ("no-effect", "wrong-way"):
            return StringAsked(facts, self.reading.heard, self.reading.sure_of_string, None, self.pulled_since)
        return StringAsked(facts, self.reading.heard, self.reading.sure_of_string, self.recent, self.pulled_since)


def string_states(
    instrument: FittedInstrument, log: TuningLog, measured: MoveLog, *, clock: Clock
) -> list[StringState]:
    """All strings that are on an instrument in one tuning, thickest first. ``measured``: what its whole log taught."""
    states = []
    turned = turned_strings(
        [
            *(Entry(each.seq, each.string, each.hz(log.tuning.a4)) for each in log.counting_readings),
            *(Entry(each.seq, each.string, turned=True) for each in log.counting_moves),
        ]
    )
    coupling = default_coupling(instrument.facts)
    for string in instrument.facts.strings:
        fitted = instrument.fitted(string.name)
        if fitted is not None:
            plain = situation_of(instrument, log.tuning, fitted, today=clock.today)
            learned = learned_rates(fitted, plain, measured.moves.get(string.name, ()), clock=clock)
            pulled = partial(_pulled, turned, coupling, string.name)
            state = _state(string, fitted, with_learned(plain, learned), learned, log, pulled)
            states.append(_with_pulls_since(state, turned, pulled))
    return _far_down_together(states)


def _far_down_together(states: list[StringState]) -> list[StringState]:
    """R84: strings that are far down at once are nobody's but an adult's, whichever of them is looked at."""
    far = {state.string.name for state in states if state.is_far_down}
    if len(far) < FAR_DOWN_STRINGS:
        return states
    return [_advised_anew(state) if state.string.name in far else state for state in states]


def _advised_anew(state: StringState) -> StringState:
    facts = replace(state.situation, far_down_together=True)
    if state.reading is None:
        return replace(state, situation=facts)
    return replace(state, situation=facts, advice=_answered(facts, state.reading, state.recent, state.answer))


def anticipating(state: StringState, pulls_to_come: float) -> StringState:
    """The same string, advised with what is still to be turned on the others in mind (R46)."""
    moves = state.advice is not None and state.advice.cents_off is not None and state.advice.state in ("flat", "sharp")
    if not moves or state.reading is None or abs(pulls_to_come) < LEAST_PULL_CENTS:
        return state
    advice = _answered(state.situation, state.reading, state.recent, state.answer, pulls_to_come)
    return replace(state, advice=advice)


def check_answer(state: StringState | None, move_id: UUID, answer: Answer) -> None:
    """An answer fits if it is among those offered about that move now, and the string was not read or turned since.

    Raises BadInput.
    """
    asked = None if state is None or state.advice is None or state.pending is not None else state.advice
    about = state is not None and state.moved is not None and state.moved.id == move_id
    options = () if asked is None or asked.question is None else asked.question.options
    offered = [option.answer for option in options if "string" not in option.set and "heard" not in option.set]
    if not about or answer not in offered:
        raise BadInput("answer", "That isn't asked any more: the string was read or turned since. Look at it anew.")


def unseen_move(states: Sequence[StringState], string: str, heard: Heard, *, sure_of_string: bool) -> Step | None:
    """The shown move that a hands-free reading tells was made, though nobody pressed a button; None where none was."""
    before = next((state for state in states if state.string.name == string), None)
    if before is None or before.advice is None or before.pending is not None:
        return None
    now = advise_of(before.situation, heard, sure_of_string=sure_of_string)
    if now.cents_off is None:
        return None
    return move_made_unseen(before.advice.steps, before_cents=before.advice.cents_off, now_cents=now.cents_off)


def _pulled(turned: Sequence[Turned], coupling: Coupling, string: str, since: int, until: int) -> float | None:
    return pull_cents(turned, coupling, string, since=since, until=until)


def _with_pulls_since(
    state: StringState, turned: Sequence[Turned], pulled: Callable[[int, int], float | None]
) -> StringState:
    if state.reading is None or state.pending is not None:
        return state
    read_at = state.reading.seq
    pull = pulled(read_at, sys.maxsize) or 0.0
    others = [each.string for each in turned if each.string != state.string.name and max(each.seqs) > read_at]
    outdated = abs(pull) > OUTDATED_CENTS
    return replace(state, pulled_since=pull, outdated_by=tuple(dict.fromkeys(others)) if outdated else ())


def _state(
    string: StringData,
    fitted: FittedString,
    facts: Situation,
    learned: LearnedRates,
    log: TuningLog,
    pulled: Callable[[int, int], float | None],
) -> StringState:
    readings = [reading for reading in log.counting_readings if reading.string == string.name]
    moves = [move for move in log.counting_moves if move.string == string.name]
    if not fitted.sounds:
        return StringState(string, fitted, facts, learned, advice=advise_of(facts, None))
    facts = replace(facts, slack=_is_slack(fitted, facts, readings))
    if not readings:
        return StringState(string, fitted, facts, learned, pending=moves[-1] if moves else None)
    last = readings[-1]
    pending = [move for move in moves if move.seq > last.seq]
    segments = segments_of(readings, moves, pulled)
    recent = recent_move(facts, segments)
    turned = next((each for each in reversed(segments) if each.moves), None)
    if turned is not None and turned.after is not last and recent is None:
        turned = None  # it was read more than once since, and nothing is open about it
    answer = None if turned is None or recent is None else turned.moves[-1].answer
    if answer == "wound-other-way":  # that is kept of the string; the move tells nothing more
        recent = answer = None
    if turned is None and moves:
        recent = _earlier(readings, moves[-1], facts)
    return StringState(
        string,
        fitted,
        facts,
        learned,
        reading=last,
        advice=_answered(facts, last, recent, answer),
        moved=None if turned is None else turned.moves[-1],
        before=None if turned is None else _judged(facts, turned.before),
        pending=pending[-1] if pending else None,
        recent=recent,
        answer=answer,
        pulled_cents=0.0 if turned is None else turned.pulled_cents,
    )


def _is_slack(fitted: FittedString, facts: Situation, readings: Sequence[Reading]) -> bool:
    """Whether the string comes up from slack: it was far down or gave no pitch, and has not been within 100 cents since."""
    far_down_hz = shift_hz(facts.target_hz, -SLACK_CENTS)
    heard = (reading.hz(facts.a4) for reading in readings)
    if fitted.slack_since is None and all(hz is None or hz >= far_down_hz for hz in heard):
        return False
    slack = False
    since = next((each for each in readings if fitted.slack_since is not None and each.at >= fitted.slack_since), None)
    for reading in readings:
        off = judge(facts, reading.heard, sure=reading.sure_of_string, recent=None).cents_off
        slack = slack or reading is since
        if off is not None:
            slack = off < -SLACK_CENTS or (slack and off < -SLACK_UNTIL_CENTS)
    return slack


def _judged(
    facts: Situation,
    reading: Reading,
    recent: RecentMove | None = None,
    answer: Answer | None = None,
    pulls: float = 0.0,
) -> Advice:
    return advise_of(
        facts,
        reading.heard,
        sure_of_string=reading.sure_of_string,
        recent_move=recent,
        answer=answer,
        pulls_to_come=pulls,
    )


def _answered(
    facts: Situation, reading: Reading, recent: RecentMove | None, answer: Answer | None, pulls: float = 0.0
) -> Advice:
    """With the answer, where it still answers something."""
    asked = _judged(facts, reading, recent, pulls=pulls)
    if answer is None or asked.state not in ("no-effect", "wrong-way"):
        return asked
    options = () if asked.question is None else asked.question.options
    if answer not in [option.answer for option in options]:
        return asked
    return _judged(facts, reading, recent, answer, pulls)


def _earlier(readings: Sequence[Reading], move: Move, facts: Situation) -> RecentMove | None:
    """The last move, where the string was read more than once since: it tells what was turned, not what it did."""
    before = next((reading for reading in reversed(readings) if reading.seq < move.seq), None)
    if before is None or move.seq > readings[-1].seq:
        return None
    was = one_move(move, _judged(facts, before))
    return None if was is None else replace(was, effect_known=False)

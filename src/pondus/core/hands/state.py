"""Where each string stands by the log: the last reading that counts, the move before it, and the advice on both."""

from dataclasses import dataclass, replace
from uuid import UUID

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.core.hands.in_hand import InHand
from pondus.core.hands.last_move import advice_on, answered
from pondus.core.hands.learned import LearnedRates, MoveLog, learned_rates, with_learned
from pondus.core.hands.records import (
    FittedInstrument,
    FittedString,
    Move,
    Reading,
    TuningLog,
    situation_of,
    with_screw_at_start,
)
from pondus.core.hands.taken import OUTDATED_CENTS
from pondus.core.hands.understood import Understood, understood
from pondus.core.instruments import StringData
from pondus.core.judgement.advise import Advice, advise_of
from pondus.core.judgement.coupling import default_coupling
from pondus.core.judgement.plan import StringAsked
from pondus.core.judgement.reading import state_of
from pondus.core.judgement.recent_move import Answer, RecentMove
from pondus.core.judgement.round import FAR_DOWN_CENTS, FAR_DOWN_STRINGS
from pondus.core.judgement.situation import Situation
from pondus.core.pitch.notes import shift_hz

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
    def is_in_tune(self) -> bool:
        """Whether it was in tune when it was read."""
        return self.advice is not None and self.advice.state == "in-tune"

    @property
    def to_hear_again(self) -> bool:
        """R114: whether it was in tune when it was read, and the others have pulled it out since, as far as one knows."""
        advice = self.advice
        if not self.outdated_by or not self.is_in_tune or advice is None or advice.cents_off is None:
            return False
        return state_of(self.situation, advice.cents_off + self.pulled_since) != "in-tune"

    @property
    def pulled_as_said(self) -> float:
        """R114: how far the others have pulled it since, in cents, as far as it is to be played again for that: what is left as
        in tune is left by a plan too.
        """
        return 0.0 if self.is_in_tune and not self.to_hear_again else self.pulled_since

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
        advice = self.advice
        is_answered = self.answer is not None and advice is not None and advice.state not in ("no-effect", "wrong-way")
        recent = None if is_answered else self.recent
        return StringAsked(facts, self.reading.heard, self.reading.sure_of_string, recent, self.pulled_as_said)


@dataclass(frozen=True)
class TuningNow:
    """A tuning as it stands: its strings, thickest first, and its log with the moves that nobody told of."""

    states: list[StringState]
    log: TuningLog


def tuning_now(
    instrument: FittedInstrument, log: TuningLog, measured: MoveLog, *, clock: Clock, as_understood: Understood | None = None
) -> TuningNow:
    """A tuning as it stands. ``measured``: what the instrument's whole log taught; ``as_understood``: the log understood,
    where that is known already.
    """
    log = log.as_spelled
    known = _facts(instrument, log, measured, clock)
    if as_understood is None:
        as_understood = understood(log, {name: facts for name, (facts, _) in known.items()}, default_coupling(instrument.facts))
    for name, hand in as_understood.strings.items():
        hand.facts = known[name][0][1]
    states = [
        _with_pulls_since(_state(instrument.facts.string(name), hand, known[name][1]), as_understood)
        for name, hand in as_understood.strings.items()
    ]
    return TuningNow(_far_down_together(states), as_understood.log)


def understand(instrument: FittedInstrument, log: TuningLog, measured: MoveLog, *, clock: Clock) -> Understood:
    """A tuning's log as it is understood. ``measured``: what the tunings before it taught."""
    log = log.as_spelled
    known = _facts(instrument, log, measured, clock)
    return understood(log, {name: facts for name, (facts, _) in known.items()}, default_coupling(instrument.facts))


def _facts(
    instrument: FittedInstrument, log: TuningLog, measured: MoveLog, clock: Clock
) -> dict[str, tuple[tuple[FittedString, Situation], LearnedRates]]:
    """Each string that is on, with its facts before the first entry and what was learned of it."""
    known = {}
    for name in instrument.facts.string_names:
        string = instrument.fitted(name)
        if string is not None:
            plain = situation_of(instrument, log.tuning, string, today=clock.today)
            learned = learned_rates(string, plain, measured.moves.get(name, ()), clock=clock)
            known[name] = (string, with_screw_at_start(with_learned(plain, learned), string)), learned
    return known


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
    return replace(state, situation=facts, advice=answered(facts, state.reading, state.recent, state.answer))


def anticipating(state: StringState, pulls_to_come: float) -> StringState:
    """The same string, advised with what is still to be turned on the others in mind (R46)."""
    moves = state.advice is not None and state.advice.cents_off is not None and state.advice.state in ("flat", "sharp")
    if not moves or state.reading is None or abs(pulls_to_come) < LEAST_PULL_CENTS:
        return state
    advice = answered(state.situation, state.reading, state.recent, state.answer, pulls_to_come)
    return replace(state, advice=advice)


def denials(move: Move) -> tuple[Answer, ...]:
    """What can be said, unasked, of a move that nobody told of: that it wasn't made; of a peg's where no figure shows what it
    did, that it went the other way.
    """
    if not move.taken or move.answer == "wound-other-way":
        return ()
    unseen = move.mechanism == "peg" and move.expect_cents is not None and not move.exact
    return ("not-turned", "wound-other-way") if unseen else ("not-turned",)


def check_answer(state: StringState | None, move_id: UUID, answer: Answer) -> None:
    """An answer fits if it is among those offered about that move now, or is said unasked (`denials`), and the string was not
    read or turned since.

    Raises BadInput.
    """
    advice = None if state is None or state.advice is None or state.pending is not None else state.advice
    about = state is not None and state.moved is not None and state.moved.id == move_id
    options = () if advice is None or advice.question is None else advice.question.options
    offered = [option.answer for option in options if "string" not in option.set and "heard" not in option.set]
    moved = None if state is None else state.moved
    denied = moved is not None and answer in denials(moved)
    if moved is None or not about or (answer not in offered and not denied):
        raise BadInput("answer", "That isn't asked any more: the string was read or turned since. Look at it anew.")


def _with_pulls_since(state: StringState, as_understood: Understood) -> StringState:
    if state.reading is None or state.pending is not None:
        return state
    read_at, name = state.reading.seq, state.string.name
    pull = as_understood.pulled(name, since=read_at) or 0.0
    others = [turn.string for turn in as_understood.turns if turn.string != name and max(turn.seqs) > read_at]
    outdated = abs(pull) > OUTDATED_CENTS
    return replace(state, pulled_since=pull, outdated_by=tuple(dict.fromkeys(others)) if outdated else ())


def _state(string: StringData, hand: InHand, learned: LearnedRates) -> StringState:
    fitted, facts = hand.fitted, hand.now
    if not fitted.sounds:
        return StringState(string, fitted, facts, learned, advice=advise_of(facts, None))
    pending = hand.waiting[-1] if hand.waiting else None
    if not hand.readings:
        return StringState(string, fitted, facts, learned, pending=pending)
    now, last = hand.advised(), hand.readings[-1]
    return StringState(
        string,
        fitted,
        facts,
        learned,
        reading=last,
        advice=now.advice,
        moved=None if now.turned is None else now.turned.moves[-1],
        before=None if now.turned is None else advice_on(facts, now.turned.before),
        pending=pending,
        recent=now.recent,
        answer=now.answer,
        pulled_cents=0.0 if now.turned is None else now.turned.pulled_cents,
    )

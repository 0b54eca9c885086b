"""Where each string stands by the log: the last reading that counts, the move before it, and the advice on both."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from pondus.core.clock import Clock
from pondus.core.instruments import StringData
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.after_move import move_made_unseen
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import StringAsked
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import Situation
from pondus.core.judgement.steps import Step
from pondus.core.log.learned import LearnedRates, MoveLog, learned_rates, with_learned
from pondus.core.log.records import FittedInstrument, FittedString, Move, Reading, TuningLog, situation_of
from pondus.core.pitch import shift_hz


@dataclass(frozen=True)
class StringState:
    """One string. ``before`` is the advice on the reading before the last move (``moved``), ``pending`` a move not yet read
    again, ``recent`` what the advice was told of the last move.
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

    @property
    def hz(self) -> float | None:
        """Where the string sounds, by its last reading, in Hz; None where that is not known."""
        if self.advice is None or self.advice.cents_off is None or self.advice.state == "other-string":
            return None
        return shift_hz(self.situation.target_hz, self.advice.cents_off)

    @property
    def did_cents(self) -> float | None:
        """What the last move did, in cents; None where that can't be told."""
        if self.before is None or self.advice is None:
            return None
        then, here = self.before.cents_off, self.advice.cents_off
        return None if then is None or here is None else here - then

    def asked(self, *, for_teacher: bool = False) -> StringAsked:
        """As a plan takes it: one that was turned and not heard since is to be heard. ``for_teacher``: whoever turns."""
        facts = replace(self.situation, who="teacher") if for_teacher else self.situation
        if self.reading is None or self.pending is not None:
            return StringAsked(facts, None)
        return StringAsked(facts, self.reading.heard, self.reading.sure_of_string, self.recent)


def string_states(
    instrument: FittedInstrument, log: TuningLog, measured: MoveLog, *, clock: Clock
) -> list[StringState]:
    """All strings that are on an instrument in one tuning, thickest first. ``measured``: what its whole log taught."""
    states = []
    for string in instrument.facts.strings:
        fitted = instrument.fitted(string.name)
        if fitted is not None:
            plain = situation_of(instrument, log.tuning, fitted, today=clock.today)
            learned = learned_rates(fitted, plain, measured.moves.get(string.name, ()), clock=clock)
            states.append(_state(string, fitted, with_learned(plain, learned), learned, log))
    return states


def unseen_move(states: Sequence[StringState], string: str, heard: Heard, *, sure_of_string: bool) -> Step | None:
    """The shown move that a hands-free reading tells was made, though nobody pressed a button; None where none was."""
    before = next((state for state in states if state.string.name == string), None)
    if before is None or before.advice is None or before.pending is not None:
        return None
    now = advise(before.situation, heard, sure_of_string=sure_of_string)
    if now.cents_off is None:
        return None
    return move_made_unseen(before.advice.steps, before_cents=before.advice.cents_off, now_cents=now.cents_off)


def _state(
    string: StringData, fitted: FittedString, facts: Situation, learned: LearnedRates, log: TuningLog
) -> StringState:
    readings = [reading for reading in log.counting_readings if reading.string == string.name]
    moves = [move for move in log.counting_moves if move.string == string.name]
    if not readings:
        return StringState(string, fitted, facts, learned, pending=moves[-1] if moves else None)
    last = readings[-1]
    pending = [move for move in moves if move.seq > last.seq]
    earlier = readings[-2] if len(readings) > 1 else None
    between = [move for move in moves if earlier is not None and earlier.seq < move.seq < last.seq]
    before = None
    recent = None
    if earlier is not None and between:
        before = _judged(facts, earlier)
        recent = _recent(between, before)
    if recent is None and moves and not between:
        recent = _earlier(readings, moves[-1], facts)
    return StringState(
        string,
        fitted,
        facts,
        learned,
        reading=last,
        advice=_judged(facts, last, recent),
        moved=between[-1] if between else None,
        before=before,
        pending=pending[-1] if pending else None,
        recent=recent,
    )


def _judged(facts: Situation, reading: Reading, recent: RecentMove | None = None) -> Advice:
    return advise(facts, reading.heard, sure_of_string=reading.sure_of_string, recent_move=recent)


def _earlier(readings: Sequence[Reading], move: Move, facts: Situation) -> RecentMove | None:
    """The last move, where the string was read more than once since: it tells what was turned, not what it did."""
    before = next((reading for reading in reversed(readings) if reading.seq < move.seq), None)
    if before is None or move.seq > readings[-1].seq:
        return None
    was = _recent([move], _judged(facts, before))
    return None if was is None else replace(was, effect_known=False)


def _recent(between: Sequence[Move], before: Advice) -> RecentMove | None:
    """The one move between two readings; where there were several, none can be held to account."""
    if len(between) != 1 or before.cents_off is None or before.state == "other-string":
        return None
    move = between[0]
    return RecentMove(move.mechanism, move.direction, move.amount, move.unit, before.cents_off)

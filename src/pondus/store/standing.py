"""Where each string stands by the log: the last reading that counts, the move before it, and the advice on both."""

from dataclasses import dataclass, replace
from datetime import date
from uuid import UUID, uuid5

from sqlmodel import Session

from pondus.core.instruments import StringData, instrument_named
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.after_move import move_made_unseen
from pondus.core.judgement.situation import FineTuner, Heard, Peg, RecentMove, Situation, situation
from pondus.core.pitch import shift_hz
from pondus.store.instruments import InstrumentRecord, age_days, instrument
from pondus.store.learned import LearnedRates, MoveLog, learned_rates, measured_moves
from pondus.store.tables import MoveRow, ReadingRow, StringRow, TuningRow
from pondus.store.tunings import TuningRecord, screw_moves_since, tuning


@dataclass(frozen=True)
class Standing:
    """One string. ``before`` is the advice on the reading before the last move, ``pending`` a move not yet read again."""

    row: StringRow
    string: StringData
    situation: Situation
    reading: ReadingRow | None
    advice: Advice | None
    moved: MoveRow | None
    before: Advice | None
    pending: MoveRow | None
    learned: LearnedRates
    recent: RecentMove | None = None

    @property
    def hz(self) -> float | None:
        """Where the string sounds, by its last reading; None when that is not known."""
        if self.advice is None or self.advice.cents_off is None or self.advice.state == "other-string":
            return None
        return shift_hz(self.situation.target_hz, self.advice.cents_off)


def standings(
    session: Session, record: InstrumentRecord, log: TuningRecord, *, today: date, measured: MoveLog | None = None
) -> list[Standing]:
    """All strings of an instrument in one tuning, thickest first. ``measured``: the log, where it was read already."""
    kind = instrument_named(record.instrument.kind)
    rows = {row.name: row for row in record.strings}
    measured = measured or measured_moves(session, record.instrument.id)
    found = []
    for string in kind.strings:
        if string.name in rows:
            row = rows[string.name]
            tuner = _fine_tuner(session, row)
            facts = string_situation(record, log.tuning, row, fine_tuner=tuner, today=today)
            learned = learned_rates(row, facts, measured.moves.get(string.name, []))
            found.append(_standing(row, string, _with_learned(facts, learned), log, learned))
    return found


def _with_learned(facts: Situation, learned: LearnedRates) -> Situation:
    """The situation with what the log teaches in place of the priors, where there is anything."""
    tuner, peg = facts.fine_tuner, facts.peg
    if tuner is not None and learned.screw.count:
        tuner = replace(tuner, cents_per_turn=learned.screw.value, cents_per_turn_plus_minus=learned.screw.plus_minus)
    if learned.peg.count:
        peg = replace(peg, cents_per_degree=learned.peg.value, least_cents=learned.peg_least_cents)
    return replace(facts, fine_tuner=tuner, peg=peg)


def unseen_move(session: Session, tuning_id: UUID, reading: ReadingRow, *, today: date) -> MoveRow | None:
    """The move that a hands-free reading shows was made, not stored yet; None where none was. Raises NotFound."""
    log = tuning(session, tuning_id)
    record = instrument(session, log.tuning.instrument_id)
    before = next(
        (each for each in standings(session, record, log, today=today) if each.string.name == reading.string), None
    )
    if before is None or before.advice is None or before.pending is not None:
        return None
    heard = advise(before.situation, heard_of(reading), sure_of_string=reading.sure_of_string)
    if heard.cents_off is None:
        return None
    step = move_made_unseen(before.advice.steps, before_cents=before.advice.cents_off, now_cents=heard.cents_off)
    if step is None:
        return None
    return MoveRow(
        id=uuid5(reading.id, "unseen-move"),
        tuning_id=tuning_id,
        string=reading.string,
        at=reading.at,
        mechanism="peg" if step.do == "turn-peg" else "fine-tuner",
        direction=step.pitch or "raise",
        amount=step.amount or 0.0,
        unit=step.unit or "turn",
        expect_cents=step.expect_cents,
        expect_plus_minus=step.expect_plus_minus,
    )


def heard_of(reading: ReadingRow) -> Heard:
    """The core's form of a stored reading: as the tuner showed it; Hz where it was measured."""
    if reading.hz is not None:
        return Heard(hz=reading.hz)
    return Heard(note=reading.note, cents=reading.cents)


def string_situation(
    record: InstrumentRecord, how: TuningRow, row: StringRow, *, fine_tuner: FineTuner | None, today: date
) -> Situation:
    """One string as it is fitted, tuned as ``how`` has it."""
    return situation(
        instrument_named(record.instrument.kind),
        row.name,
        size=record.instrument.size,
        core=row.core,  # type: ignore[arg-type]
        a4=how.a4,
        fifth_cents=how.fifth_cents,
        approach=how.approach,  # type: ignore[arg-type]
        tolerance_cents=how.tolerance_cents,
        fine_tuner=fine_tuner,
        peg=Peg(row.peg_kind, row.peg_state, row.winding),  # type: ignore[arg-type]
        stance=how.stance,  # type: ignore[arg-type]
        who=how.who,  # type: ignore[arg-type]
        string_age_days=age_days(row.put_on, today),
        spelling=how.spelling,  # type: ignore[arg-type]
    )


def _fine_tuner(session: Session, row: StringRow) -> FineTuner | None:
    """Where the screw stands now: as last set, and moved since. Past its end it stands at its end."""
    if not row.has_fine_tuner:
        return None
    turns = row.screw_turns + screw_moves_since(session, row)
    reach = row.screw_reach_turns
    return FineTuner(turns_from_middle=max(-reach, min(reach, turns)), reach_turns=reach)


def _standing(
    row: StringRow, string: StringData, facts: Situation, log: TuningRecord, learned: LearnedRates
) -> Standing:
    readings = [each for each in log.readings if each.string == row.name and each.struck_at is None]
    moves = [each for each in log.moves if each.string == row.name and each.struck_at is None]
    if not readings:
        return Standing(row, string, facts, None, None, None, None, moves[-1] if moves else None, learned)
    last = readings[-1]
    pending = [move for move in moves if move.at > last.at]
    earlier = readings[-2] if len(readings) > 1 else None
    between = [move for move in moves if earlier is not None and earlier.at < move.at <= last.at]
    before = None
    recent = None
    if earlier is not None and between:
        before = advise(facts, heard_of(earlier), sure_of_string=earlier.sure_of_string)
        recent = _recent(between, before)
    if recent is None and moves and not between:
        recent = _earlier(readings, moves[-1], facts)
    advice = advise(facts, heard_of(last), sure_of_string=last.sure_of_string, recent_move=recent)
    moved = between[-1] if between else None
    waiting = pending[-1] if pending else None
    return Standing(row, string, facts, last, advice, moved, before, waiting, learned, recent)


def _earlier(readings: list[ReadingRow], move: MoveRow, facts: Situation) -> RecentMove | None:
    """The last move, where the string was read more than once since: it tells what was turned, not what it did."""
    before = next((each for each in reversed(readings) if each.at < move.at), None)
    if before is None or move.at > readings[-1].at:
        return None
    was = _recent([move], advise(facts, heard_of(before), sure_of_string=before.sure_of_string))
    return None if was is None else replace(was, effect_known=False)


def _recent(between: list[MoveRow], before: Advice) -> RecentMove | None:
    """The one move between two readings; where there were several, none can be held to account."""
    if len(between) != 1 or before.cents_off is None or before.state == "other-string":
        return None
    move = between[0]
    return RecentMove(
        move.mechanism,  # type: ignore[arg-type]
        move.direction,  # type: ignore[arg-type]
        move.amount,
        move.unit,  # type: ignore[arg-type]
        before.cents_off,
    )

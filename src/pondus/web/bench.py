"""The bench at a look: what the screen shows, computed here so that the front end decides nothing."""

from dataclasses import asdict
from datetime import date, datetime
from itertools import pairwise
from typing import Literal
from uuid import UUID

from sqlmodel import Session

from pondus.contracts.advice import AdviceResult, HeardContract, hundredth
from pondus.contracts.base import Result
from pondus.core.fifths import fifth_between
from pondus.core.instruments import Roman, Side, instrument_named
from pondus.core.judgement import words
from pondus.core.judgement.advise import Advice
from pondus.core.judgement.cautions import CAUTION_SAID, Caution, near_end
from pondus.core.judgement.plan import OrderSchool, StringAsked, order_of, plan
from pondus.core.judgement.situation import Approach, FineTuner, Mechanism, Pitch, Stance, Unit, Who
from pondus.core.judgement.steps import Step
from pondus.core.pitch import Spelling, name_of, spelled
from pondus.core.targets import offset_cents
from pondus.store.instruments import InstrumentRecord
from pondus.store.learned import LearnedRates, MoveLog, learned_pull, measured_moves
from pondus.store.standing import Standing, heard_of, standings
from pondus.store.tables import MoveRow, ReadingRow
from pondus.store.tunings import TuningRecord
from pondus.web.instruments import InstrumentOut, instrument_out


class TuningOut(Result):
    """How a tuning is done."""

    id: UUID
    instrument_id: UUID
    started_at: datetime
    a4: float
    fifth_cents: float
    approach: Approach
    tolerance_cents: float
    stance: Stance
    who: Who
    spelling: Spelling
    order: OrderSchool


class TuningList(Result):
    """An instrument's tunings, newest first."""

    tunings: list[TuningOut]


class ScrewOut(Result):
    """Where a screw stands, in turns from the middle (+ screwed in), and how far it reaches either way."""

    turns_from_middle: float
    reach_turns: float
    near_end: bool


class ReadingOut(Result):
    """The last reading that counts, as shown and as heard."""

    id: UUID
    at: datetime
    shown: str
    source: str
    spread_cents: float | None
    sure_of_string: bool


class MoveOut(Result):
    """A move as made, what was expected of it and, once read again, what it did (cents)."""

    id: UUID
    at: datetime
    mechanism: Mechanism
    direction: Pitch
    amount: float
    unit: Unit
    expect_cents: float | None
    expect_plus_minus: float | None
    did_cents: float | None
    said: str


class LearnedOut(Result):
    """What the log teaches of a string: cents per turn (screw) and per degree (peg), with their uncertainty and count."""

    screw_cents_per_turn: float
    screw_plus_minus: float
    screw_moves: int
    peg_cents_per_degree: float
    peg_plus_minus: float
    peg_moves: int


class PlanLine(Result):
    """One string of the rest of the round: its moves in short lines."""

    string: str
    lines: list[str]


class PlanOut(Result):
    """The rest of the round: strings in order with their moves, how many, how long; strings still to hear."""

    ask: list[str]
    lines: list[PlanLine]
    total_moves: int
    minutes: int
    refer: str | None
    why: str


class StringBench(Result):
    """One strand of the board. ``thickness`` 0 (thinnest) to 1; ``ghost_cents`` where the next move should bring it."""

    name: str
    roman: Roman
    side: Side
    thickness: float
    target_note: str
    target_hz: float
    tuner_shows_cents: float
    fine_tuner: ScrewOut | None
    peg_kind: Literal["friction", "geared"]
    reading: ReadingOut | None
    advice: AdviceResult | None
    headline: str
    confirmable: bool
    later: list[str]
    cautions_said: list[str]
    words: str
    ghost_cents: float | None
    moved: MoveOut | None
    pending: MoveOut | None
    learned: LearnedOut


class FifthBench(Result):
    """The span between two neighbours; figures are null until both strings are known."""

    lower: str
    upper: str
    interval_cents: float | None
    from_school_cents: float | None
    from_pure_cents: float | None
    beats_hz: float | None


class HistoryEntry(Result):
    """One line of this tuning's history."""

    id: UUID
    kind: Literal["reading", "move"]
    string: str
    at: datetime
    text: str
    source: str | None
    struck: bool
    struck_reason: str | None


class BenchOut(Result):
    """Everything the bench shows."""

    tuning: TuningOut
    instrument: InstrumentOut
    strings: list[StringBench]
    fifths: list[FifthBench]
    history: list[HistoryEntry]
    next_string: str | None
    last_heard: dict[str, HeardContract]
    plan: PlanOut


_THICKNESS = {"IV": 1.0, "III": 0.7, "II": 0.45, "I": 0.2}


def bench_out(session: Session, record: InstrumentRecord, log: TuningRecord, *, today: date) -> BenchOut:
    """Serialise the bench."""
    measured = measured_moves(session, record.instrument.id)
    found = standings(session, record, log, today=today, measured=measured)
    return BenchOut(
        tuning=TuningOut.model_validate(log.tuning),
        instrument=instrument_out(record),
        strings=[_string(each) for each in found],
        fifths=_fifths(found, log.tuning.fifth_cents),
        history=_history(log),
        next_string=_next_string(found, order_of(instrument_named(record.instrument.kind), log.tuning.order)),  # type: ignore[arg-type]
        plan=_plan(record.instrument.kind, found, log, measured),
        last_heard={
            each.string.name: HeardContract(**asdict(heard_of(each.reading)))
            for each in found
            if each.reading is not None
        },
    )


def _string(standing: Standing) -> StringBench:
    facts = standing.situation
    advice = None if standing.advice is None else AdviceResult.of(standing.advice)
    return StringBench(
        name=standing.string.name,
        roman=standing.string.roman,
        side=standing.string.side,
        thickness=_THICKNESS[standing.string.roman],
        target_note=name_of(standing.string.note_number, spelling=facts.spelling),
        target_hz=round(facts.target_hz, 3),
        tuner_shows_cents=hundredth(offset_cents(standing.string, fifth_cents=facts.fifth_cents)) or 0.0,
        fine_tuner=_screw(facts.fine_tuner),
        peg_kind=facts.peg.kind,
        reading=None if standing.reading is None else _reading(standing.reading, facts.spelling),
        advice=advice,
        headline=_headline(standing),
        confirmable=standing.advice is not None and standing.advice.confirmable,
        later=[] if standing.advice is None else words.later(standing.advice.steps[1:]),
        cautions_said=cautions_now(standing.advice),
        words=_words(standing),
        ghost_cents=_ghost(standing),
        moved=None if standing.moved is None else _move(standing.moved, did=_did(standing)),
        pending=None if standing.pending is None else _move(standing.pending, did=None),
        learned=learned_out(standing.learned),
    )


_OF_PEG_MOVES: tuple[Caution, ...] = ("push-in", "face-away", "wrong-peg", "e-string", "adult")


def cautions_now(advice: Advice | None) -> list[str]:
    """The cautions that apply to the step shown and no others; easing down is in a peg step's own sentence."""
    if advice is None or not advice.steps:
        return [] if advice is None else [CAUTION_SAID[each] for each in advice.cautions]
    not_yet = _OF_PEG_MOVES if advice.steps[0].is_move and advice.steps[0].do != "turn-peg" else ()
    return [CAUTION_SAID[each] for each in advice.cautions if each not in not_yet and each != "ease-down-first"]


def learned_out(learned: LearnedRates) -> LearnedOut:
    """What the log teaches of a string, serialised."""
    screw, peg = learned.screw, learned.peg
    return LearnedOut(
        screw_cents_per_turn=round(screw.value, 1),
        screw_plus_minus=round(screw.plus_minus, 1),
        screw_moves=screw.count,
        peg_cents_per_degree=round(peg.value, 1),
        peg_plus_minus=round(peg.plus_minus, 1),
        peg_moves=peg.count,
    )


def _plan(kind: str, found: list[Standing], log: TuningRecord, measured: MoveLog) -> PlanOut:
    """The rest of the round; a string that was turned and not heard since must be heard first."""
    asked = {each.string.name: _asked(each) for each in found}
    instrument = instrument_named(kind)
    pull = learned_pull(instrument, measured)
    planned = plan(asked, instrument=instrument, order=log.tuning.order, pull=pull)  # type: ignore[arg-type]
    by_string: dict[str, list[Step]] = {name: [] for name in planned.order}
    for move in planned.moves:
        by_string[move.string].append(move.step)
    return PlanOut(
        ask=list(planned.ask),
        lines=[PlanLine(string=name, lines=words.later(steps)) for name, steps in by_string.items()],
        total_moves=planned.total_moves,
        minutes=-(-planned.seconds // 60),
        refer=planned.refer,
        why=planned.why,
    )


def _asked(standing: Standing) -> StringAsked:
    reading = standing.reading
    if reading is None or standing.pending is not None:
        return StringAsked(standing.situation, None)
    return StringAsked(standing.situation, heard_of(reading), reading.sure_of_string, standing.recent)


def _screw(tuner: FineTuner | None) -> ScrewOut | None:
    if tuner is None:
        return None
    return ScrewOut(
        turns_from_middle=round(tuner.turns_from_middle, 3),
        reach_turns=tuner.reach_turns,
        near_end=near_end(tuner, tuner.turns_from_middle),
    )


def _reading(row: ReadingRow, spelling: Spelling) -> ReadingOut:
    return ReadingOut(
        id=row.id,
        at=row.at,
        shown=shown(row, spelling),
        source=row.source,
        spread_cents=row.spread_cents,
        sure_of_string=row.sure_of_string,
    )


def shown(row: ReadingRow, spelling: Spelling) -> str:
    """A reading as a tuner shows it, accidentals spelled as the studio prefers."""
    if row.hz is not None:
        return f"{row.hz:.2f} Hz"
    note = spelled(row.note or "", spelling=spelling)
    return f"{note} {row.cents:+g}".replace("-", "−") if row.cents else f"{note} 0"


def _words(standing: Standing) -> str:
    """The word beside the weight."""
    if standing.pending is not None:
        return "moved; play it"
    if standing.advice is None:
        return "not heard yet"
    return {
        "in-tune": "settled",
        "flat": "flat",
        "sharp": "sharp",
        "slack": "slack",
        "unsure": "unsure",
        "other-string": "another string?",
    }[standing.advice.state]


def _headline(standing: Standing) -> str:
    """What to do now, in a few words."""
    name = standing.string.name
    if standing.pending is not None:
        return f"Play the {name} string again"
    if standing.advice is None:
        return f"Play the {name} string"
    if not standing.advice.steps:
        return "Leave it: it is in tune"
    return words.headline(standing.advice.steps[0], name)


def _ghost(standing: Standing) -> float | None:
    """Where the next move (or the one just made) should bring the weight."""
    advice = standing.advice
    if advice is None or advice.cents_off is None:
        return None
    if standing.pending is not None:
        expect = standing.pending.expect_cents
        return None if expect is None else hundredth(advice.cents_off + expect)
    step = next((each for each in advice.steps if each.is_move), None)
    if step is None or step is not advice.steps[0] or step.expect_cents is None:
        return None
    return hundredth(advice.cents_off + step.expect_cents)


def _did(standing: Standing) -> float | None:
    if standing.before is None or standing.advice is None:
        return None
    then, here = standing.before.cents_off, standing.advice.cents_off
    return None if then is None or here is None else here - then


def _move(row: MoveRow, *, did: float | None) -> MoveOut:
    return MoveOut.model_validate({**row.model_dump(), "did_cents": hundredth(did), "said": _move_words(row)})


def _move_words(row: MoveRow) -> str:
    what = "fine tuner" if row.mechanism == "fine-tuner" else "peg"
    way = "up" if row.direction == "raise" else "down"
    amount = words.turns(row.amount) if row.unit == "turn" else words.degrees(row.amount)
    return f"{what} {way}, {amount}"


def _fifths(found: list[Standing], school_cents: float) -> list[FifthBench]:
    spans = []
    for lower, upper in pairwise(found):
        low, high = lower.hz, upper.hz
        fifth = None if low is None or high is None else fifth_between(low, high)
        spans.append(
            FifthBench(
                lower=lower.string.name,
                upper=upper.string.name,
                interval_cents=None if fifth is None else hundredth(fifth.interval_cents),
                from_school_cents=None if fifth is None else hundredth(fifth.interval_cents - school_cents),
                from_pure_cents=None if fifth is None else hundredth(fifth.from_pure_cents),
                beats_hz=None if fifth is None else round(fifth.beats_hz, 3),
            )
        )
    return spans


def _history(log: TuningRecord) -> list[HistoryEntry]:
    readings = [
        HistoryEntry(
            id=row.id,
            kind="reading",
            string=row.string,
            at=row.at,
            text=shown(row, log.tuning.spelling),  # type: ignore[arg-type]
            source=row.source,
            struck=row.struck_at is not None,
            struck_reason=row.struck_reason,
        )
        for row in log.readings
    ]
    moves = [
        HistoryEntry(
            id=row.id,
            kind="move",
            string=row.string,
            at=row.at,
            text=_move_words(row),
            source=None,
            struck=row.struck_at is not None,
            struck_reason=row.struck_reason,
        )
        for row in log.moves
    ]
    return sorted(readings + moves, key=lambda entry: entry.at, reverse=True)


def _next_string(found: list[Standing], school: tuple[str, ...]) -> str | None:
    """Where to go on, in the order of the school: the first string that is neither settled nor waiting."""
    by_name = {each.string.name: each for each in found}
    for name in school:
        each = by_name.get(name)
        if each is not None and (each.advice is None or each.advice.state != "in-tune" or each.pending is not None):
            return name
    return None

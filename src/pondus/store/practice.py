"""Goes at drills: begun, answered, ended; and all of one person's, as the core takes them.

A question is answered once: an answer's id is the client's, its number is its place in the go, and both are unique.
Two devices on one person's drill share a go, and the second answer to the same question is told so.
"""

from collections.abc import Collection
from dataclasses import asdict, dataclass, replace
from typing import Any
from uuid import UUID

from pydantic import TypeAdapter
from sqlmodel import Session, col, select

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.core.practice.drills import DRILLS, Drill, drill_named
from pondus.core.practice.questions import Answer, Judged, Outcome, Setup, setup
from pondus.core.practice.run import Go, Record, judge, record_of
from pondus.core.practice.shown import Gone, Known, known_of
from pondus.core.practice.threshold import Threshold
from pondus.store.errors import Conflict, NotFound
from pondus.store.people import person
from pondus.store.practice_tables import PracticeAnswerRow, PracticeRow
from pondus.store.tables import InstrumentRow

OVER = "This go is over; begin another."
ANSWERED = "That question was answered already, on another device maybe; here is the next."
SECONDS_MOST = 86_400.0
_OUTCOME = TypeAdapter(Outcome)
_THRESHOLD = TypeAdapter(Threshold)
_ANSWER = TypeAdapter(Answer)


@dataclass(frozen=True)
class KeptGo:
    """A go as it is kept: its row, and itself."""

    row: PracticeRow
    go: Go


@dataclass(frozen=True)
class Answered:
    """A go after an answer, and how that was judged."""

    kept: KeptGo
    judged: Judged


def begin_go(session: Session, go_id: UUID, *, person_id: UUID, drill: Drill, on: Setup, seed: int, clock: Clock) -> KeptGo:
    """Begin a go; the same id again, or an unfinished go of today at the same drill on the same instrument, is that one.

    Raises NotFound for a person who isn't on the roll, Conflict for an id that is another's.
    """
    person(session, person_id)
    kept = session.get(PracticeRow, go_id)
    if kept is not None:
        if (kept.person_id, kept.drill) != (person_id, drill.name):
            raise Conflict("That id belongs to another go already; give the new one an id of its own.")
        return _with_answers(session, kept)
    plain = asdict(on)
    unfinished = session.exec(
        select(PracticeRow)
        .where(
            PracticeRow.person_id == person_id,
            PracticeRow.drill == drill.name,
            PracticeRow.day == clock.today,
            col(PracticeRow.ended_at).is_(None),
        )
        .order_by(col(PracticeRow.began_at).desc())
    ).all()
    for row in unfinished:
        if row.setup == plain:
            return _with_answers(session, row)
    known = known_of(drill, goes_of(session, [person_id]).get(person_id, ()), today=clock.today)
    row = PracticeRow(
        id=go_id,
        person_id=person_id,
        drill=drill.name,
        setup=plain,
        seed=seed,
        known=asdict(known),
        reached={"level": min(known.begins, drill.levels), "threshold": None},
        day=clock.today,
        began_at=clock.now,
    )
    session.add(row)
    session.flush()
    return _with_answers(session, row)


def go_kept(session: Session, go_id: UUID, *, lock: bool = False) -> KeptGo:
    """A go as it stands; ``lock``: nobody else changes it meanwhile. Raises NotFound."""
    row = session.get(PracticeRow, go_id, with_for_update=lock)
    if row is None:
        raise NotFound("There is no such go at a drill; begin one.")
    return _with_answers(session, row)


def add_answer(
    session: Session, go_id: UUID, *, answer_id: UUID, number: int, answer: Answer, clock: Clock, seconds: float | None = None
) -> Answered:
    """Judge an answer and keep it, once. One that couldn't be judged is not kept, and its question stays.

    Raises NotFound, BadInput for an answer that can't be to this question, Conflict for a go that is over or a
    question that was answered already.
    """
    kept = go_kept(session, go_id, lock=True)
    before = session.get(PracticeAnswerRow, answer_id)
    if before is not None:
        if (before.practice_id, before.number) != (go_id, number):
            raise Conflict("That id belongs to another answer already; give this one an id of its own.")
        return Answered(kept, Judged(before.right, before.said, _outcome_of(before)))
    if kept.go.is_over:
        raise Conflict(OVER)
    if number != len(kept.go.records):
        raise Conflict(ANSWERED)
    answered = answer_to(session, kept, answer_id=answer_id, answer=answer, clock=clock, seconds=seconds)
    session.flush()
    return answered


def answer_to(
    session: Session, kept: KeptGo, *, answer_id: UUID, answer: Answer, clock: Clock, seconds: float | None = None
) -> Answered:
    """Judge an answer to the question that is asked now, and put it into the session. Raises BadInput, Conflict."""
    question = kept.go.question()
    if question is None:
        raise Conflict(OVER)
    if seconds is not None and not 0.0 <= seconds <= SECONDS_MOST:
        raise BadInput("seconds", f"{seconds:g} seconds can't be what an answer took; leave it out.")
    judged = judge(kept.go, question, answer)
    if judged.right is None:
        return Answered(kept, judged)
    record = record_of(question, judged, answer)
    session.add(
        PracticeAnswerRow(
            id=answer_id,
            practice_id=kept.row.id,
            number=len(kept.go.records),
            item=record.item,
            answer=_ANSWER.dump_python(answer, mode="json", exclude_defaults=True),
            right=record.right,
            said=judged.said[:2000],
            cents=record.cents,
            outcome=None if judged.outcome is None else asdict(judged.outcome),
            seconds=seconds,
            at=clock.now,
        )
    )
    go = replace(kept.go, records=(*kept.go.records, record))
    known = go.threshold
    kept.row.reached = {"level": go.level, "threshold": None if known is None else asdict(known)}
    if go.is_over:
        kept.row.ended_at = clock.now
    session.add(kept.row)
    return Answered(KeptGo(kept.row, go), judged)


def end_go(session: Session, go_id: UUID, *, clock: Clock) -> KeptGo:
    """End a go before its last question; what was answered stays. Raises NotFound."""
    kept = go_kept(session, go_id, lock=True)
    if kept.row.ended_at is None:
        kept.row.ended_at = clock.now
        session.add(kept.row)
        session.flush()
    return KeptGo(kept.row, replace(kept.go, stopped=True))


def goes_of(session: Session, person_ids: Collection[UUID]) -> dict[UUID, tuple[Gone, ...]]:
    """All goes of these people with at least one answer, oldest first."""
    if not person_ids:
        return {}
    rows = session.exec(
        select(PracticeRow).where(col(PracticeRow.person_id).in_(person_ids)).order_by(col(PracticeRow.began_at))
    ).all()
    answers = _answers_of(session, [row.id for row in rows])
    found: dict[UUID, list[Gone]] = {}
    for row in rows:
        records = answers.get(row.id, [])
        if records and row.drill in DRILLS:
            threshold = row.reached.get("threshold")
            found.setdefault(row.person_id, []).append(
                Gone(
                    row.drill,
                    row.day,
                    tuple(records),
                    None if threshold is None else _THRESHOLD.validate_python(threshold),
                    int(row.reached.get("level", 1)),
                )
            )
    return {key: tuple(goes) for key, goes in found.items()}


def _answers_of(session: Session, go_ids: Collection[UUID]) -> dict[UUID, list[Record]]:
    if not go_ids:
        return {}
    rows = session.exec(
        select(PracticeAnswerRow)
        .where(col(PracticeAnswerRow.practice_id).in_(go_ids))
        .order_by(col(PracticeAnswerRow.practice_id), col(PracticeAnswerRow.number))
    ).all()
    found: dict[UUID, list[Record]] = {}
    for row in rows:
        found.setdefault(row.practice_id, []).append(
            Record(row.item, row.right, row.cents, _outcome_of(row), seconds=row.seconds)
        )
    return found


def _outcome_of(row: PracticeAnswerRow) -> Outcome | None:
    return None if row.outcome is None else _OUTCOME.validate_python(row.outcome)


def _with_answers(session: Session, row: PracticeRow) -> KeptGo:
    records = tuple(_answers_of(session, [row.id]).get(row.id, []))
    known = known_from(row.known)
    go = Go(
        drill_named(row.drill),
        setup_from(row.setup),
        row.seed,
        records,
        returns=known.returns,
        before=known.before,
        begins=known.begins,
        stopped=row.ended_at is not None,
    )
    return KeptGo(row, go)


def setup_from(plain: dict[str, Any]) -> Setup:
    """What was practised on, checked. Raises BadInput."""
    try:
        return setup(**plain)
    except TypeError:
        raise BadInput("setup", "That is nothing to practise on; it wants a kind of instrument.") from None


def known_from(plain: dict[str, Any]) -> Known:
    """What a go began with."""
    before = plain.get("before")
    return Known(
        tuple(plain.get("returns", ())),
        None if before is None else _THRESHOLD.validate_python(before),
        int(plain.get("begins", 1)),
    )


def instruments_of_people(session: Session) -> dict[UUID, InstrumentRow]:
    """One instrument that each person has, of those in use."""
    rows = session.exec(
        select(InstrumentRow)
        .where(
            col(InstrumentRow.player_id).is_not(None),
            col(InstrumentRow.retired_at).is_(None),
            col(InstrumentRow.simulated_of).is_(None),
        )
        .order_by(col(InstrumentRow.label).desc())
    ).all()
    return {row.player_id: row for row in rows if row.player_id is not None}

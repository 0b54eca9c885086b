"""Weeks of practice at the camp: each player goes at the drills of their stage, some mornings, and gets better at them."""

from datetime import UTC, datetime, time, timedelta
from uuid import UUID

import numpy as np
from sqlmodel import Session

from pondus.core.clock import Clock
from pondus.core.group.people import STAGES, stage_at
from pondus.core.practice.drills import Drill, drills_of_stage
from pondus.core.practice.learner import Learner
from pondus.core.practice.questions import setup
from pondus.demo.camp import LOANS, PEOPLE, Member, demo_id
from pondus.demo.weeks import DAYS, SUNDAY
from pondus.store.practice import answer_to, begin_go

PRACTISED_AT = time(8, 40)
FIRST_DAY, DAYS_WITH_PRACTICE = 20, 0.2
READY = frozenset({"Lene", "Runa"})
"""Players who have just shown all that is wanted for their next stage."""
SHORT_OF_IT = 0.5


def fill_practice(session: Session, now: datetime) -> None:
    """Goes of everyone who plays."""
    kinds = {loan.player: (loan.kind, loan.size) for loan in LOANS if loan.player is not None}
    for place, member in enumerate(member for member in PEOPLE if member.role == "player"):
        kind, size = kinds.get(member.name, ("violin", None))
        _weeks_of(session, member, place, kind=kind, size=size, now=now)


def _weeks_of(session: Session, member: Member, place: int, *, kind: str, size: str | None, now: datetime) -> None:
    stage = stage_at(member.cleared) or max(STAGES)
    drills = [drill for drill in drills_of_stage(stage) if drill.way != "microphone"]
    rng = np.random.default_rng([4711, place])
    begun_at, gains = rng.uniform(0.45, 0.65), rng.uniform(0.2, 0.35)
    ears = float(rng.uniform(9.0, 16.0))
    for day in range(FIRST_DAY, DAYS):
        on = now.date() - timedelta(days=DAYS - day)
        if on.weekday() == SUNDAY or (rng.uniform() > DAYS_WITH_PRACTICE and not _last_days(member, day)):
            continue
        grown = (day - FIRST_DAY) / (DAYS - FIRST_DAY)
        knows = min(0.99, begun_at + gains * grown)
        if member.name not in READY:
            knows = min(knows, SHORT_OF_IT + 0.1 * grown)
        elif _last_days(member, day):
            knows = 1.0
        learner = Learner(rng, knows, ears * (1.0 - 0.45 * grown), 0.35 - 0.25 * grown)
        todays = drills if _last_days(member, day) else [drills[(day + place) % len(drills)]]
        at = datetime.combine(on, PRACTISED_AT, tzinfo=UTC) + timedelta(minutes=3 * place)
        for drill in todays:
            _go(session, member, drill, learner, kind=kind, size=size, at=at)


def _last_days(member: Member, day: int) -> bool:
    """The week in which someone shows all of it."""
    return member.name in READY and day >= DAYS - 4


def _go(session: Session, member: Member, drill: Drill, learner: Learner, *, kind: str, size: str | None, at: datetime) -> None:
    """One go, from its first question to its last."""
    go_id = demo_id(f"{member.name}:{drill.name}:{at.isoformat()}")
    clock = Clock(at)
    kept = begin_go(
        session, go_id, person_id=demo_id(member.name), drill=drill, on=setup(kind, size=size), seed=go_id.int % 2**52,
        clock=clock,
    )  # fmt: skip
    while (question := kept.go.question()) is not None:
        at += timedelta(seconds=9)
        kept = answer_to(
            session,
            kept,
            answer_id=UUID(int=go_id.int ^ (len(kept.go.records) + 1)),
            answer=learner.answer(kept.go, question),
            seconds=9.0,
            clock=Clock(at),
        ).kept
    kept.row.ended_at = at
    session.flush()

"""What people have shown by practice: the room with its drills, who is ready for more, five minutes of a lesson."""

from collections.abc import Mapping
from datetime import timedelta
from typing import Annotated
from uuid import UUID

from apiflask import APIBlueprint
from pydantic import BaseModel, Field
from sqlmodel import Session

from pondus.contracts.practice import (
    DrillOut,
    EvidenceOut,
    LessonDrillOut,
    LessonOut,
    LessonPerson,
    NextDrill,
    PracticeOut,
    PractiserOut,
    ReadyList,
    ReadyOut,
    StageShownOut,
)
from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.core.group.people import stage_at
from pondus.core.practice.at_bench import LOOKED_AT_DAYS, TUNINGS_LOOKED_AT, Stumble, said_of, stumbles_of
from pondus.core.practice.drills import Drill, drill_named
from pondus.core.practice.lesson import LESSON_MINUTES, MINUTES, Learner, lesson_for, wanted_drills, who_is_there
from pondus.core.practice.shown import DrillShown, next_stage, shown_by, stages_shown
from pondus.core.views.access import DeviceFacts
from pondus.store import people as people_store
from pondus.store import practice as practice_store
from pondus.store import tunings as tuning_store
from pondus.store.settings import studio_clock
from pondus.store.stations import stations_of
from pondus.store.tables import InstrumentRow, PersonRow
from pondus.web.access import device_here, shown_name
from pondus.web.bench import load
from pondus.web.practice import must_be_theirs
from pondus.web.transaction import looking

blueprint = APIBlueprint("practice_progress", __name__, tag="Practice")


class WhoQuery(BaseModel):
    """Whose progress; nobody: the drills alone."""

    person_id: UUID | None = None


@blueprint.get("/practice")
@blueprint.input(WhoQuery, location="query", arg_name="query")
@blueprint.output(PracticeOut)
def practice_room(query: WhoQuery) -> PracticeOut:
    """All drills; whom one may choose here; and what the one that is chosen has shown.

    Raises NotFound or TurnedAway.
    """
    device = device_here()
    person_id = query.person_id
    if person_id is None and device.person is not None and device.role != "teacher":
        person_id = device.person
    if person_id is not None:
        must_be_theirs(device, person_id)
    with looking() as session:
        people = _choosable(session, device)
        row = None if person_id is None else people_store.person(session, person_id)
        goes = () if person_id is None else practice_store.goes_of(session, [person_id]).get(person_id, ())
        clock = studio_clock(session)
        stumbles = {} if row is None else _stumbles(session, row, clock)
    shown = shown_by(goes)
    cleared = [] if row is None else row.cleared
    learner = None if row is None else Learner(str(row.id), tuple(cleared), goes, stumbles)
    wanted = {} if learner is None else wanted_drills(learner, today=clock.today)
    return PracticeOut(
        people=people,
        person_id=person_id,
        kept=person_id is not None,
        at_bench=list(said_of(stumbles)) if device.role == "teacher" else [],
        next=next((_next(drill_named(name), why) for name, why in wanted.items()), None),
        drills=[_drill(drill_shown) for drill_shown in shown.values()],
        stages=[
            StageShownOut.filled(
                stage_shown, cleared=stage_shown.stage in cleared, drills=[drill.drill.name for drill in stage_shown.drills]
            )
            for stage_shown in stages_shown(shown)
        ],
    )


def _stumbles(session: Session, row: PersonRow, clock: Clock) -> Mapping[Stumble, int]:
    """What someone does again and again: from the newest of what they tuned, their own instrument's and others'."""
    since = clock.now - timedelta(days=LOOKED_AT_DAYS)
    ids = tuning_store.tunings_by(session, row.id, since=since, most=TUNINGS_LOOKED_AT)
    return stumbles_of((load(session, number).found for number in ids), row.id)


def _next(drill: Drill, why: str) -> NextDrill:
    return NextDrill.filled(drill, drill=drill.name, why=why)


def _drill(shown: DrillShown) -> DrillOut:
    told = {"minutes": MINUTES[shown.drill.way], "shown": shown.said}
    return DrillOut.filled(shown.drill, shown, **told)


def _choosable(session: Session, device: DeviceFacts) -> list[PractiserOut]:
    """Whom a device may choose: a teacher everyone, the others themselves."""
    rows = people_store.people(session)
    if device.role != "teacher":
        rows = [row for row in rows if row.id == device.person]
    has = practice_store.instruments_of_people(session)
    return [_practiser(row, has.get(row.id)) for row in rows]


def _practiser(row: PersonRow, has: InstrumentRow | None) -> PractiserOut:
    return PractiserOut(
        id=row.id,
        name=row.name,
        stage=stage_at(row.cleared),
        kind=None if has is None else has.kind,
        instrument_id=None if has is None else has.id,
        staff=row.role != "player",
    )


@blueprint.get("/practice/ready")
@blueprint.output(ReadyList)
def ready() -> ReadyList:
    """Players by how near they are to the next clearance, with what stands for it; a teacher clears, nothing here does."""
    with looking() as session:
        players = [row for row in people_store.people(session) if row.role == "player"]
        goes = practice_store.goes_of(session, [row.id for row in players])
    found = []
    for row in players:
        if row.id not in goes:
            continue
        stage = next_stage(stages_shown(shown_by(goes[row.id])), row.cleared)
        if stage is None:
            continue
        evidence = [
            EvidenceOut(drill=drill.drill.name, said=drill.drill.said, managed=drill.managed, shown=drill.said)
            for drill in stage.drills
        ]
        found.append(
            ReadyOut(
                person_id=row.id, name=row.name, stage=stage.stage, stage_said=stage.said, ready=stage.ready, evidence=evidence
            )
        )
    # Who is ready comes first, then by name: no order of merit.
    return ReadyList(people=sorted(found, key=lambda row: (not row.ready, row.name.casefold())))


class LessonQuery(BaseModel):
    """Who is there (ids with commas between; nobody named: this morning's players); ``quiet``: whether there is quiet
    to listen; ``devices``: at how many devices.
    """

    people: str = ""
    quiet: bool = True
    devices: Annotated[int, Field(ge=1, le=40)] = 1


@blueprint.get("/practice/lesson")
@blueprint.input(LessonQuery, location="query", arg_name="query")
@blueprint.output(LessonOut)
def lesson(query: LessonQuery) -> LessonOut:
    """Five minutes of drills for those present. Raises BadInput."""
    with looking() as session:
        clock = studio_clock(session)
        rows = _present(session, query.people)
        goes = practice_store.goes_of(session, [row.id for row in rows])
    present = [Learner(str(row.id), tuple(row.cleared), goes.get(row.id, ())) for row in rows]
    names = {str(row.id): shown_name(row.name) for row in rows}
    found = lesson_for(present, today=clock.today, quiet=query.quiet, devices=query.devices)
    return LessonOut(
        minutes=LESSON_MINUTES,
        drills=[
            LessonDrillOut(
                drill=drill.drill.name,
                said=drill.drill.said,
                does=drill.drill.does,
                minutes=drill.minutes,
                people=[LessonPerson(id=UUID(key), name=names[key], why=drill.why[key]) for key in drill.who],
            )
            for drill in found.drills
        ],
        not_today=[names[key] for key in found.not_today],
    )


def _present(session: Session, told: str) -> list[PersonRow]:
    players = {row.id: row for row in people_store.people(session) if row.role == "player"}
    here = {row.person_id for row in stations_of(session, studio_clock(session).today) if row.person_id is not None}
    return [players[number] for number in who_is_there(list(players), named=_named(told), here=here)]


def _named(told: str) -> set[UUID]:
    if not told.strip():
        return set()
    try:
        return {UUID(part.strip()) for part in told.split(",")}
    except ValueError:
        raise BadInput("people", "Who is there? Give ids of people on the roll, with commas between.") from None

"""Who is there this morning, who does which instrument in what order, and when all are done."""

from datetime import datetime, timedelta
from typing import Annotated, Any
from uuid import UUID, uuid4

from apiflask import APIBlueprint
from pydantic import Field
from sqlmodel import Session

from pondus.contracts.base import ClientId, Contract, Result
from pondus.core.errors import BadInput
from pondus.core.people import advised_as, may_turn
from pondus.core.stations import USUAL_PACE, Clearance, Job, Morning, Station, learned_pace, plan_morning
from pondus.store import morning as swept_store
from pondus.store import people as people_store
from pondus.store import stations as kept
from pondus.store.tables import StationRow, now
from pondus.store.tunings import change_tuning
from pondus.web.tunings import sitting, today
from pondus.web.unit import work

blueprint = APIBlueprint("stations", __name__, tag="Morning")
LATEST_MINUTES = 600.0
Minutes = Annotated[float, Field(ge=0.0, lt=LATEST_MINUTES)]


class NewStation(Contract):
    """Someone who is there: from the roll (``person_id``), or by name and what they may turn. ``pace``: how they compare with a
    practised hand; left out, as their tunings have it. ``own_only``: a player who tunes no instrument but their own.
    """

    id: ClientId
    person_id: ClientId | None = None
    name: Annotated[str, Field(min_length=1, max_length=80)] | None = None
    may: Clearance | None = None
    pace: Annotated[float, Field(gt=0.0, lt=20.0)] | None = None
    comes_in_minutes: Minutes = 0.0
    own_only: bool = False


class StationChange(Contract):
    """What changes of someone who is there; what is left out stays."""

    name: Annotated[str, Field(min_length=1, max_length=80)] | None = None
    may: Clearance | None = None
    pace: Annotated[float, Field(gt=0.0, lt=20.0)] | None = None
    comes_in_minutes: Minutes | None = None
    own_only: bool | None = None


class Take(Contract):
    """An instrument taken in hand (null: laid down). ``tuning_id`` begins today's tuning where there is none."""

    instrument_id: ClientId | None
    tuning_id: ClientId | None = None
    take_over: bool = False


class TurnOut(Result):
    """One instrument at one station, in minutes from now. ``in_hand``: they are in the middle of it."""

    id: UUID
    label: str
    starts: float
    ends: float
    said: str
    in_hand: bool


class StationOut(Result):
    """One person's turns in order."""

    id: UUID
    name: str
    may: Clearance
    person_id: UUID | None
    comes_in_minutes: float
    own_only: bool
    pace: float
    in_hand: UUID | None
    turns: list[TurnOut]


class PlannedOut(Result):
    """The plan: who does what, when all are done (minutes from now), the least it could be, instruments nobody here may do,
    how many are still to hear.
    """

    stations: list[StationOut]
    ends: float
    bound: float
    nobody: list[str]
    to_hear: int


@blueprint.get("/morning/plan")
@blueprint.output(PlannedOut)
def plan() -> PlannedOut:
    """Who does which instrument, in which order, for the least time until all are done; what is done is left out by itself."""
    with work() as session:
        return _planned(session)


@blueprint.post("/morning/stations")
@blueprint.input(NewStation, arg_name="new")
@blueprint.output(PlannedOut)
def add_station(new: NewStation) -> PlannedOut:
    """Someone is there."""
    with work() as session:
        name, may = _who(session, new)
        kept.add_station(
            session,
            StationRow(
                id=new.id,
                day=today(),
                name=name,
                may=may,
                person_id=new.person_id,
                pace=new.pace,
                own_only=new.own_only,
                comes_at=_in(new.comes_in_minutes),
            ),
        )
        return _planned(session)


def _who(session: Session, new: NewStation) -> tuple[str, Clearance]:
    if new.person_id is None:
        if new.name is None or new.may is None:
            raise BadInput("name", "Who is it, and what may they turn? Give a name and may, or someone of the roll.")
        return new.name.strip() or new.may, new.may
    row = people_store.person(session, new.person_id)
    may = new.may or may_turn(row.role, row.cleared)  # type: ignore[arg-type]
    if may is None:
        raise BadInput("person_id", f"{row.name} isn't cleared to turn anything yet; clear them for a stage first.")
    return new.name or row.name, may


@blueprint.post("/morning/stations/as-last-time")
@blueprint.output(PlannedOut)
def as_last_time() -> PlannedOut:
    """The same people as on the last morning."""
    with work() as session:
        day = kept.last_day(session, today())
        if day is None:
            raise BadInput("day", "There was no morning before this one; add who is there.")
        there = {each.name.casefold() for each in kept.stations_of(session, today())}
        for each in kept.stations_of(session, day):
            if each.name.casefold() not in there:
                again = {**each.model_dump(exclude={"id", "day", "comes_at", "instrument_id", "since"})}
                kept.add_station(session, StationRow(id=uuid4(), day=today(), **again))
        return _planned(session)


@blueprint.patch("/morning/stations/<uuid:station_id>")
@blueprint.input(StationChange, arg_name="change")
@blueprint.output(PlannedOut)
def change_station(station_id: UUID, change: StationChange) -> PlannedOut:
    """Someone is late, or may turn something else."""
    changes: dict[str, Any] = {
        key: getattr(change, key) for key in change.model_fields_set if getattr(change, key) is not None
    }
    if "comes_in_minutes" in changes:
        changes["comes_at"] = _in(changes.pop("comes_in_minutes"))
    with work() as session:
        kept.change_station(session, station_id, changes)
        return _planned(session)


@blueprint.delete("/morning/stations/<uuid:station_id>")
@blueprint.output(PlannedOut, status_code=200)
def remove_station(station_id: UUID) -> PlannedOut:
    """Someone is not there."""
    with work() as session:
        kept.remove_station(session, station_id)
        return _planned(session)


@blueprint.post("/morning/stations/<uuid:station_id>/take")
@blueprint.input(Take, arg_name="take")
@blueprint.output(PlannedOut)
def take(station_id: UUID, take: Take) -> PlannedOut:
    """Someone takes an instrument in hand: the plan leaves it with them, and the advice speaks to them."""
    with work() as session:
        swept = swept_store.swept(session, today=today())
        undone = {each.id for each in swept if each.sorted.waits}
        row = kept.take(session, station_id, take.instrument_id, still_held=undone, take_over=take.take_over)
        if take.instrument_id is not None and take.tuning_id is not None:
            log = sitting(session, take.instrument_id, take.tuning_id)
            person = None if row.person_id is None else people_store.person(session, row.person_id)
            who = advised_as(person.role if person else None, row.may)  # type: ignore[arg-type]
            change_tuning(session, log.tuning.id, {"who": who, "done_by": row.person_id})
        return _planned(session)


def _in(minutes: float) -> datetime:
    return now() + timedelta(minutes=minutes)


def _planned(session: Session) -> PlannedOut:
    swept = {str(each.id): each for each in swept_store.swept(session, today=today())}
    rows = kept.stations_of(session, today())
    player = {each.person_id: each.name for each in rows if each.person_id is not None}
    jobs = [
        Job(key, each.minutes, each.sorted.needs, player.get(each.player_id) if each.player_id else None)
        for key, each in swept.items()
        if each.sorted.needs is not None and each.minutes > 0.0
    ]
    morning = plan_morning(jobs, [_station(session, each) for each in rows])
    return _out(morning, rows, swept, session)


def _station(session: Session, row: StationRow) -> Station:
    holds = None if row.instrument_id is None else str(row.instrument_id)
    return Station(row.name, row.may, _pace(session, row), _comes_in(row), row.own_only, holds)  # type: ignore[arg-type]


def _pace(session: Session, row: StationRow) -> float:
    """As set, or as their tunings have it."""
    if row.pace is not None:
        return row.pace
    usual = USUAL_PACE[row.may]  # type: ignore[index]
    if row.person_id is None:
        return usual
    person = people_store.person(session, row.person_id)
    return person.pace or learned_pace(people_store.tuned_by(session, row.person_id), usual=usual)


def _comes_in(row: StationRow) -> float:
    minutes = (row.comes_at - now()).total_seconds() / 60.0
    return min(LATEST_MINUTES - 1.0, max(0.0, minutes))


def _out(morning: Morning, rows: list[StationRow], swept: dict[str, swept_store.Swept], session: Session) -> PlannedOut:
    stations = []
    for row in rows:
        turns = [
            TurnOut(
                id=swept[turn.job.name].id,
                label=swept[turn.job.name].label,
                starts=round(turn.starts, 2),
                ends=round(turn.ends, 2),
                said=swept[turn.job.name].sorted.said,
                in_hand=turn.job.name == str(row.instrument_id),
            )
            for turn in morning.turns[row.name]
        ]
        held = swept.get(str(row.instrument_id))
        stations.append(
            StationOut(
                id=row.id,
                name=row.name,
                may=row.may,
                person_id=row.person_id,
                comes_in_minutes=round(_comes_in(row), 1),
                own_only=row.own_only,
                pace=round(_pace(session, row), 2),
                in_hand=held.id if held is not None and held.sorted.waits else None,
                turns=turns,
            )
        )
    return PlannedOut(
        stations=stations,
        ends=round(morning.ends, 2),
        bound=round(morning.bound, 2),
        nobody=[swept[job.name].label for job in morning.nobody],
        to_hear=sum(each.sorted.group == "not-heard" for each in swept.values()),
    )

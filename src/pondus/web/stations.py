"""Who is there this morning, who does which instrument in what order, and when all are done."""

from dataclasses import asdict
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from apiflask import APIBlueprint
from flask import Response
from sqlmodel import Session

from pondus.contracts.morning import LATEST_MINUTES, Come, NewStation, PlannedOut, SlotOut, StationChange, StationOut, Take
from pondus.core.clock import Clock
from pondus.core.entries.people import check_name
from pondus.core.errors import BadInput
from pondus.core.group.jobs import Clearance, Job, Slot, Tuner
from pondus.core.group.pace import pace_of
from pondus.core.group.people import advised_as, may_turn
from pondus.core.group.schedule import Morning, Recall, plan_morning
from pondus.core.views.access import minutes_away, reach_of
from pondus.store import morning as morning_store
from pondus.store import people as people_store
from pondus.store import stations as station_store
from pondus.store.database import session_on
from pondus.store.devices import last_seen
from pondus.store.settings import studio_clock
from pondus.store.tables import StationRow
from pondus.store.tunings import change_tuning
from pondus.web.access import NOT_YOURS, device_here, shown_name
from pondus.web.devices import is_place_of
from pondus.web.doors import TurnedAway
from pondus.web.remembered import Lag, remembered
from pondus.web.transaction import engine_of_app, looking, looking_later, transaction
from pondus.web.tunings import todays_tuning

SAME_FOR_SECONDS = 5.0
"""A plan counts minutes from now; it may be as old as that."""
HISTORY_FOR_SECONDS = 60.0
"""How fast people were in their last tunings may be as old as that."""
blueprint = APIBlueprint("stations", __name__, tag="Morning")


@blueprint.get("/morning/plan")
@blueprint.input(Lag, location="query", arg_name="lag")
@blueprint.output(PlannedOut)
def plan(lag: Lag) -> Response:
    """Who does which instrument, in which order, for the least time until all are done; what is done is left out by itself.

    Raises BadInput or NotFound.
    """
    with looking_later() as look:
        return remembered().answer(
            f"plan for {device_here().role}",
            lambda: morning_store.morning_version(look().session, look().clock.today),
            lambda: planned(look().session, look().clock),
            for_seconds=SAME_FOR_SECONDS,
            may_lag=lag.may_lag,
        )


def call_who_waits() -> None:
    """Whoever is there and was told nothing yet is called to what the plan has for them now, and stays called."""
    with looking() as session:
        waits = [not row.planned for row in station_store.stations_of(session, studio_clock(session).today)]
    if any(waits):
        _plan_now()


def _plan_now() -> PlannedOut:
    """The plan as it is told from now on: what each is to do next is kept, so that whoever walks by it isn't sent elsewhere."""
    with session_on(engine_of_app()) as session:  # every page hears of what changed, and need not hear of this
        clock = studio_clock(session)
        station_store.hold_day(session, clock.today)
        now, recalls = _planned(session, clock)
        left = {station.id: [slot.id for slot in station.slots if not slot.in_hand] for station in now.stations}
        station_store.keep_told(session, {key: (left[key], recalls[key]) for key in left})
        return now


@blueprint.post("/morning/stations")
@blueprint.input(NewStation, arg_name="new")
@blueprint.output(PlannedOut)
def add_station(new: NewStation) -> PlannedOut:
    """Someone is there. Raises BadInput or NotFound."""
    with transaction() as session:
        clock = studio_clock(session)
        name, may = _who(session, new)
        station_store.add_station(
            session,
            StationRow(
                id=new.id,
                day=clock.today,
                name=name,
                may=may,
                person_id=new.person_id,
                pace=new.pace,
                own_only=new.own_only,
                comes_at=clock.now + timedelta(minutes=new.comes_in_minutes),
            ),
        )
    return _plan_now()


def _who(session: Session, new: NewStation) -> tuple[str, Clearance]:
    if new.person_id is None:
        if new.name is None or new.may is None:
            raise BadInput("name", "Who is it, and what may they turn? Give a name and may, or someone of the roll.")
        return check_name(new.name), new.may
    row = people_store.person(session, new.person_id)
    may = new.may or may_turn(row.role, row.cleared)
    if may is None:
        raise BadInput("person_id", f"{row.name} isn't cleared to turn anything yet; clear them for a stage first.")
    return (check_name(new.name) if new.name else row.name), may


@blueprint.post("/morning/stations/as-last-time")
@blueprint.output(PlannedOut)
def as_last_time() -> PlannedOut:
    """The same people as on the last morning. Raises BadInput or NotFound."""
    with transaction() as session:
        clock = studio_clock(session)
        day = station_store.last_day(session, clock.today)
        if day is None:
            raise BadInput("day", "There was no morning before this one; add who is there.")
        station_store.hold_day(session, clock.today)
        there = {station_row.name.casefold() for station_row in station_store.stations_of(session, clock.today)}
        for station_row in station_store.stations_of(session, day):
            if station_row.name.casefold() not in there:
                again = {**station_row.model_dump(exclude={"id", "day", "comes_at", "instrument_id", "since"})}
                station_store.add_station(session, StationRow(id=uuid4(), day=clock.today, **again))
    return _plan_now()


@blueprint.post("/morning/come")
@blueprint.input(Come, arg_name="asked")
@blueprint.output(PlannedOut)
def come(asked: Come) -> PlannedOut:
    """Whoever holds this device is there, and may turn what they are cleared for; they come once, however often they say so.

    Raises BadInput or NotFound.
    """
    device = device_here()
    if device.session is None:
        raise BadInput("device", "Nobody is signed in on this device; add who is there by name.")
    if device.may is None:
        raise BadInput("device", f"{device.name} isn't cleared to turn anything yet; a teacher does that.")
    with transaction() as session:
        clock = studio_clock(session)
        station_store.hold_day(session, clock.today)
        if not any(is_place_of(row, device) for row in station_store.stations_of(session, clock.today)):
            station_store.add_station(
                session,
                StationRow(
                    id=asked.id, day=clock.today, name=device.name, may=device.may, person_id=device.person, comes_at=clock.now
                ),
            )
    return _plan_now()


def _check_own_place(row: StationRow) -> None:
    """A helper's device speaks for its own person alone."""
    device = device_here()
    if reach_of(device.role, "take-in-hand") == "own" and not is_place_of(row, device):
        raise TurnedAway(403, NOT_YOURS)


@blueprint.patch("/morning/stations/<uuid:station_id>")
@blueprint.input(StationChange, arg_name="change")
@blueprint.output(PlannedOut)
def change_station(station_id: UUID, change: StationChange) -> PlannedOut:
    """Someone is late, or may turn something else. Raises BadInput or NotFound."""
    changes: dict[str, Any] = {key: getattr(change, key) for key in change.model_fields_set if getattr(change, key) is not None}
    if change.name is not None:
        changes["name"] = check_name(change.name)
    with transaction() as session:
        if "comes_in_minutes" in changes:
            minutes = timedelta(minutes=changes.pop("comes_in_minutes"))
            changes["comes_at"] = studio_clock(session).now + minutes
        station_store.change_station(session, station_id, changes)
    return _plan_now()


@blueprint.delete("/morning/stations/<uuid:station_id>")
@blueprint.output(PlannedOut, status_code=200)
def remove_station(station_id: UUID) -> PlannedOut:
    """Someone is not there. Raises BadInput or NotFound."""
    with transaction() as session:
        station_store.remove_station(session, station_id)
    return _plan_now()


@blueprint.post("/morning/stations/<uuid:station_id>/take")
@blueprint.input(Take, arg_name="take")
@blueprint.output(PlannedOut)
def take(station_id: UUID, take: Take) -> PlannedOut:
    """Someone takes an instrument in hand: the plan leaves it with them, and the advice speaks to them.

    Raises BadInput, NotFound, Conflict or TurnedAway.
    """
    with transaction() as session:
        clock = studio_clock(session)
        undone = morning_store.waiting(morning_store.triaged(session, clock=clock))
        _check_own_place(station_store.station(session, station_id))
        row = station_store.take(
            session, station_id, take.instrument_id, still_held=undone, take_over=take.take_over, known_as=shown_name
        )
        if take.instrument_id is not None and take.tuning_id is not None:
            tuning = todays_tuning(session, take.instrument_id, take.tuning_id, clock=clock)
            person = None if row.person_id is None else people_store.person(session, row.person_id)
            who = advised_as(person.role if person else None, row.may)
            change_tuning(session, tuning.id, {"who": who, "done_by": row.person_id})
    return _plan_now()


def planned(session: Session, clock: Clock) -> PlannedOut:
    """Who does what this morning, as it stands."""
    return _planned(session, clock)[0]


def _planned(session: Session, clock: Clock) -> tuple[PlannedOut, dict[UUID, dict[str, Any] | None]]:
    """And of each station why its next instrument is another than was told."""
    triaged = {str(job.id): job for job in morning_store.triaged(session, clock=clock)}
    rows = station_store.stations_of(session, clock.today)
    player = {row.person_id: row.name for row in rows if row.person_id is not None}
    jobs = [
        Job(key, job.minutes, job.sorted.needs, player.get(job.player_id) if job.player_id else None)
        for key, job in triaged.items()
        if job.sorted.needs is not None and job.minutes > 0.0
    ]
    paces = _paces(session, rows)
    told = {row.name: row.planned for row in rows}
    morning = plan_morning(jobs, [_tuner(row, paces[row.id], clock) for row in rows], said_before=told)
    recalls = {row.id: _recall(row, rows, morning) for row in rows}
    said = {row.id: _recalled_said(recalls[row.id], rows, triaged) for row in rows}
    return _out(morning, rows, triaged, paces, clock, _away(session, rows, clock), said), recalls


def _away(session: Session, rows: list[StationRow], clock: Clock) -> dict[UUID, int]:
    """R98: whose device has shown no sign for a while though they have an instrument in hand, and for how many minutes."""
    seen = last_seen(session)
    found = {}
    for row in rows:
        at = seen.get(row.person_id or row.name)
        gone = None if at is None or row.instrument_id is None else minutes_away(at, clock.now)
        if gone is not None:
            found[row.id] = gone
    return found


def _tuner(row: StationRow, pace: float, clock: Clock) -> Tuner:
    holds = None if row.instrument_id is None else str(row.instrument_id)
    return Tuner(row.name, row.may, pace, _comes_in(row, clock), row.own_only, holds)


def _paces(session: Session, rows: list[StationRow]) -> dict[UUID, float]:
    """How fast each who is there works."""
    asked = {row.person_id for row in rows if row.pace is None and row.person_id is not None}
    own = {key: people_store.person(session, key).pace for key in asked}
    paced = frozenset(key for key, pace in own.items() if pace is None)
    done = remembered().value("tuned by", paced, lambda: people_store.tuned_by(session, paced), for_seconds=HISTORY_FOR_SECONDS)
    return {
        row.id: pace_of(row.may, here=row.pace)
        if row.person_id is None
        else pace_of(row.may, here=row.pace, own=own.get(row.person_id), history=done.get(row.person_id, ()))
        for row in rows
    }


def _comes_in(row: StationRow, clock: Clock) -> float:
    minutes = (row.comes_at - clock.now).total_seconds() / 60.0
    return min(LATEST_MINUTES - 1.0, max(0.0, minutes))


def _out(
    morning: Morning,
    rows: list[StationRow],
    triaged: dict[str, morning_store.Triaged],
    paces: dict[UUID, float],
    clock: Clock,
    away: dict[UUID, int],
    recalled_said: dict[UUID, str],
) -> PlannedOut:
    stations = []
    for row in rows:
        slots = [_slot(slot, triaged[slot.job.name], row) for slot in morning.slots[row.name]]
        held = triaged.get(str(row.instrument_id))
        stations.append(
            StationOut.filled(
                row,
                name=shown_name(row.name),
                away_minutes=away.get(row.id),
                comes_in_minutes=round(_comes_in(row, clock), 1),
                pace=round(paces[row.id], 2),
                in_hand=held.id if held is not None and held.sorted.waits else None,
                slots=slots,
                recalled_said=recalled_said[row.id],
            )
        )
    return PlannedOut(
        stations=stations,
        ends=round(morning.ends, 2),
        bound=round(morning.bound, 2),
        nobody=[triaged[job.name].label for job in morning.nobody],
        to_hear=sum(job.sorted.group == "not-heard" for job in triaged.values()),
    )


def _slot(slot: Slot, of: morning_store.Triaged, row: StationRow) -> SlotOut:
    return SlotOut(
        id=of.id,
        label=of.label,
        starts=round(slot.starts, 2),
        ends=round(slot.ends, 2),
        said=of.sorted.said,
        in_hand=slot.job.name == str(row.instrument_id),
    )


def _recall(row: StationRow, rows: list[StationRow], morning: Morning) -> dict[str, Any] | None:
    """Why someone's next instrument is another than they were told: just now, or as it was told before of the same one."""
    recall = morning.recalled.get(row.name)
    if recall is not None:
        other = next((str(row.id) for row in rows if row.name == recall.other), "")
        return {**asdict(recall), "other": other}
    waiting = next((slot.job.name for slot in morning.slots[row.name] if slot.job.name != str(row.instrument_id)), None)
    return row.recalled if row.planned[:1] == [waiting] else None


def _recalled_said(kept: dict[str, Any] | None, rows: list[StationRow], triaged: dict[str, morning_store.Triaged]) -> str:
    if kept is None or kept["job"] not in triaged:
        return ""
    other = next((shown_name(row.name) for row in rows if str(row.id) == kept["other"]), "")
    return Recall(**kept).said(triaged[kept["job"]].label, other)

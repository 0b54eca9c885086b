"""Care: string ages and what to buy, faults and referrals, the luthier, the room's air, a calendar of what is due."""

from datetime import UTC, date, datetime, time
from typing import Annotated, Literal
from uuid import UUID

from apiflask import APIBlueprint
from flask import Response
from pydantic import Field
from sqlmodel import Session

from pondus.calendars import calendar_of
from pondus.contracts.base import ClientId, Contract, Result
from pondus.core.care import (
    LEAST_LIFE_MONTHS,
    MOST_LIFE_MONTHS,
    SIGNS,
    SOON_DAYS,
    CareKind,
    Sign,
    check_life_months,
    of_string,
    shopping_list,
)
from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS, Core, instrument_named
from pondus.core.room import COMFORTABLE_HUMIDITY, air_said, check_air
from pondus.store import care as kept
from pondus.store import instruments as kept_instruments
from pondus.store import room as kept_room
from pondus.store.settings import change_settings
from pondus.store.tables import CareRow, RoomRow, now
from pondus.web.entries import Strike
from pondus.web.tunings import today
from pondus.web.unit import work

blueprint = APIBlueprint("care", __name__, tag="Care")
SHOWN_AIR = 60
Day = Annotated[date, Field(strict=False)]
Moment = Annotated[datetime, Field(strict=False)]


class NewCare(Contract):
    """Something done to an instrument or noticed of it. ``on`` left out: now. ``sign``: of a fault; ``core``: of a new string;
    ``due``: when it is to be back from the luthier.
    """

    id: ClientId
    kind: CareKind
    string: str | None = None
    on: Day | None = None
    sign: Sign | None = None
    core: Core | None = None
    said: Annotated[str, Field(max_length=500)] = ""
    due: Day | None = None


class CareOut(Result):
    """One entry, newest first; struck ones stay."""

    id: UUID
    instrument_id: UUID
    at: datetime
    kind: CareKind
    string: str | None
    sign: Sign | None
    core: Core | None
    said: str
    due: date | None
    headline: str
    struck: bool
    struck_reason: str | None


class StringAge(Result):
    """One string: since when it is on, when it wants replacing and why. ``soon``: it is on the shopping list."""

    name: str
    core: Core
    put_on: date | None
    due: date | None
    days_left: int | None
    soon: bool
    why: str


class ReferralOut(Result):
    """A fault that isn't mended by hand."""

    sign: Sign
    said: str
    string: str | None
    to: Literal["luthier", "new-string"]
    why: str


class WatchedOut(Result):
    """A fault that may still be mended by hand, how often it was seen, and what to do about it."""

    sign: Sign
    said: str
    string: str | None
    count: int
    last: date
    do: str


class InstrumentCare(Result):
    """One instrument's care. ``out``: its way to the luthier's, while it is there."""

    id: UUID
    label: str
    kind: str
    size: str
    hours_per_week: float | None
    strings: list[StringAge]
    referrals: list[ReferralOut]
    watched: list[WatchedOut]
    out: CareOut | None


class WantedOut(Result):
    """Strings to buy."""

    kind: str
    size: str
    string: str
    core: Core
    count: int
    labels: list[str]


class SignOut(Result):
    """A sign of a fault, what it likely comes from and what to do."""

    sign: Sign
    said: str
    likely: str
    do: str
    of_string: bool


class AirOut(Result):
    """One measurement of the room, and what its humidity means."""

    id: UUID
    at: datetime
    humidity: float | None
    celsius: float | None
    source: str
    said: str | None


class ComfortOut(Result):
    """The humidity that wood likes, in per cent."""

    low: float
    high: float


class CareBook(Result):
    """The studio's care: every instrument, what to buy within ``soon_days``, the newest air, the setting of string life."""

    instruments: list[InstrumentCare]
    shopping: list[WantedOut]
    soon_days: int
    signs: list[SignOut]
    air: list[AirOut]
    comfortable: ComfortOut
    string_life_months: float
    least_life_months: float
    most_life_months: float


COMFORT = ComfortOut(low=COMFORTABLE_HUMIDITY[0], high=COMFORTABLE_HUMIDITY[1])


class NewAir(Contract):
    """A measurement of the room; one of the two is enough. ``at`` left out: now."""

    id: ClientId
    humidity: float | None = None
    celsius: float | None = None
    at: Moment | None = None


class CareSettings(Contract):
    """How long strings last in this studio, where playing hours aren't known."""

    string_life_months: float


def care_out(row: CareRow) -> CareOut:
    """One entry, serialised."""
    return CareOut.model_validate({**row.model_dump(), "headline": _headline(row), "struck": row.struck_at is not None})


def air_out(row: RoomRow) -> AirOut:
    """One measurement, serialised, with what it means."""
    said = None if row.humidity is None else air_said(row.humidity)
    return AirOut.model_validate({**row.model_dump(), "said": said})


def _headline(row: CareRow) -> str:
    if row.kind == "string-changed":
        return f"New {row.string} string"
    if row.kind == "fault" and row.sign in SIGNS:
        where = "" if row.string is None else f"{row.string}: "
        return where + SIGNS[row.sign].said
    return {"luthier-out": "To the luthier", "luthier-in": "Back from the luthier"}.get(row.kind, "Note")


@blueprint.get("/care")
@blueprint.output(CareBook)
def care_book() -> CareBook:
    """Everything that wants care."""
    with work() as session:
        return _book(session)


def _book(session: Session) -> CareBook:
    found = kept.studio_care(session)
    wanted = shopping_list((string for each in found for string in each.in_use()), today=today())
    return CareBook(
        instruments=[_instrument(each) for each in found],
        shopping=[WantedOut.model_validate(each) for each in wanted],
        soon_days=SOON_DAYS,
        signs=[
            SignOut(sign=sign, said=facts.said, likely=facts.likely, do=facts.do, of_string=facts.of_string)
            for sign, facts in SIGNS.items()
        ],
        air=[air_out(row) for row in kept_room.room_log(session)[-SHOWN_AIR:]],
        comfortable=COMFORT,
        string_life_months=kept.life_setting(session),
        least_life_months=LEAST_LIFE_MONTHS,
        most_life_months=MOST_LIFE_MONTHS,
    )


def _instrument(each: kept.CaredFor) -> InstrumentCare:
    row = each.record.instrument
    order = INSTRUMENTS[row.kind].string_names
    strings = sorted(each.record.strings, key=lambda string: order.index(string.name))
    return InstrumentCare(
        id=row.id,
        label=row.label,
        kind=row.kind,
        size=row.size,
        hours_per_week=row.hours_per_week,
        strings=[
            StringAge(
                name=string.name,
                core=string.core,
                put_on=string.put_on,
                due=each.due[string.name].due,
                days_left=each.due[string.name].days_left(today()),
                soon=each.due[string.name].soon(today()),
                why=each.due[string.name].why,
            )
            for string in strings
        ],
        referrals=[
            ReferralOut(
                sign=referral.sign,
                said=SIGNS[referral.sign].said,
                string=referral.string,
                to=referral.to,
                why=referral.why,
            )
            for referral in each.referrals
        ],
        watched=[
            WatchedOut(
                sign=one.sign,
                said=SIGNS[one.sign].said,
                string=one.string,
                count=one.count,
                last=one.last,
                do=SIGNS[one.sign].do,
            )
            for one in each.watched
        ],
        out=None if each.out is None else care_out(each.out),
    )


@blueprint.post("/instruments/<uuid:instrument_id>/care")
@blueprint.input(NewCare, arg_name="new")
@blueprint.output(CareOut)
def add_care(instrument_id: UUID, new: NewCare) -> CareOut:
    """Keep something done or noticed; sent twice, it is kept once."""
    if new.kind == "fault" and new.sign is None:
        raise BadInput("sign", "Which fault is it? Give its sign.")
    if new.on is not None and new.on > today():
        raise BadInput("on", f"{new.on.isoformat()} is still to come; give a day up to today.")
    with work() as session:
        kind = kept_instruments.instrument(session, instrument_id).instrument.kind
        if new.string is not None:
            instrument_named(kind).string(new.string, field="string")
        elif of_string(new.kind, new.sign):
            raise BadInput("string", "Which string is it? Give its letter.")
        row = CareRow(
            id=new.id,
            instrument_id=instrument_id,
            at=_moment(new.on),
            **new.model_dump(exclude={"id", "on"}),
        )
        return care_out(kept.add_care(session, row))


def _moment(day: date | None) -> datetime:
    """That day at noon; now for today."""
    if day is None or day == today():
        return now()
    return datetime.combine(day, time(12), tzinfo=UTC)


@blueprint.post("/care/<uuid:care_id>/strike")
@blueprint.input(Strike, arg_name="strike")
@blueprint.output(CareOut)
def strike_care(care_id: UUID, strike: Strike) -> CareOut:
    """Strike an entry out, with a reason; it stays to be seen."""
    with work() as session:
        return care_out(kept.strike_care(session, care_id, reason=strike.reason))


@blueprint.delete("/care/<uuid:care_id>/strike")
@blueprint.output(CareOut, status_code=200)
def restore_care(care_id: UUID) -> CareOut:
    """Bring a struck entry back."""
    with work() as session:
        return care_out(kept.strike_care(session, care_id, reason=None))


@blueprint.post("/room")
@blueprint.input(NewAir, arg_name="new")
@blueprint.output(AirOut)
def add_air(new: NewAir) -> AirOut:
    """Keep a measurement of the room; sent twice, it is kept once."""
    check_air(new.humidity, new.celsius)
    at = new.at or now()
    row = RoomRow(id=new.id, humidity=new.humidity, celsius=new.celsius, at=at.replace(tzinfo=at.tzinfo or UTC))
    with work() as session:
        return air_out(kept_room.add_room(session, row))


@blueprint.post("/room/<uuid:room_id>/strike")
@blueprint.input(Strike, arg_name="strike")
@blueprint.output(AirOut)
def strike_air(room_id: UUID, strike: Strike) -> AirOut:
    """Strike a measurement out, with a reason."""
    with work() as session:
        return air_out(kept_room.strike_room(session, room_id, reason=strike.reason))


@blueprint.patch("/care/settings")
@blueprint.input(CareSettings, arg_name="settings")
@blueprint.output(CareBook)
def change_care_settings(settings: CareSettings) -> CareBook:
    """How long strings last in this studio."""
    check_life_months(settings.string_life_months)
    with work() as session:
        change_settings(session, None, {"string_life_months": settings.string_life_months})
        return _book(session)


@blueprint.get("/care/calendar.ics")
@blueprint.doc(description="What is due, as a calendar file: string changes, instruments back from the luthier.")
def care_calendar() -> Response:
    """A calendar that common calendar programs read."""
    with work() as session:
        page = calendar_of(kept.studio_care(session), made_at=now())
    headers = {"Content-Disposition": "attachment; filename=pondus-care.ics"}
    return Response(page, mimetype="text/calendar; charset=utf-8", headers=headers)

"""Care: string ages and what to buy, faults and referrals, the luthier, the room's air, a calendar of what is due."""

from datetime import date
from uuid import UUID

from apiflask import APIBlueprint
from flask import Response
from sqlmodel import Session

from pondus.calendars import calendar_of
from pondus.contracts.bench import Strike
from pondus.contracts.care import (
    AirOut,
    CareBook,
    CareOut,
    CareSettings,
    ComfortOut,
    InstrumentCare,
    NewAir,
    NewCare,
    ReferralOut,
    StringAge,
    SymptomOut,
    WatchedOut,
)
from pondus.core.clock import Clock, moment_done
from pondus.core.entries.upkeep import care_entry, climate_entry
from pondus.core.hands.records import FittedString
from pondus.core.instruments import instrument_named
from pondus.core.upkeep.care import LEAST_LIFE_MONTHS, MOST_LIFE_MONTHS, SOON_DAYS, SYMPTOMS, StringDue, check_life_months
from pondus.core.upkeep.climate import COMFORTABLE_HUMIDITY, air_said
from pondus.core.upkeep.studio import CaredFor, CareKept
from pondus.lists.writing import size_for_a_cell, written
from pondus.store import care as care_store
from pondus.store import climate as climate_store
from pondus.store import instruments as instrument_store
from pondus.store.settings import change_settings, studio_clock
from pondus.store.tables import CareRow, RoomRow
from pondus.web.described import file_of
from pondus.web.entries import struck_reason
from pondus.web.transaction import looking, transaction

blueprint = APIBlueprint("care", __name__, tag="Care")
SHOWN_AIR = 60
COMFORT = ComfortOut(low=COMFORTABLE_HUMIDITY[0], high=COMFORTABLE_HUMIDITY[1])


def care_out(entry: CareKept, instrument_id: UUID) -> CareOut:
    """One entry, serialised."""
    told = {"sign": entry.symptom, "struck": entry.voided, "struck_reason": entry.void_reason}
    return CareOut.filled(entry, instrument_id=instrument_id, **told)


def _row_out(row: CareRow) -> CareOut:
    return care_out(care_store.care_record(row), row.instrument_id)


def air_out(row: RoomRow) -> AirOut:
    """One measurement, serialised, with what it means."""
    said = None if row.humidity is None else air_said(row.humidity)
    return AirOut.model_validate({**row.model_dump(), "said": said})


@blueprint.get("/care")
@blueprint.output(CareBook)
def care_book() -> CareBook:
    """Everything that wants care. Raises BadInput or NotFound."""
    with looking() as session:
        return _book(session)


@blueprint.get("/care/shopping.csv")
@blueprint.doc(description="The strings to buy, as CSV.", responses=file_of("text/csv", said="The list."))
def shopping_csv() -> Response:
    """What to buy, to be sent to a shop. Raises BadInput or NotFound."""
    with looking() as session:
        clock = studio_clock(session)
        wanted = care_store.wanted_strings(care_store.studio_care(session, clock=clock), clock)
    rows = [
        (string.count, string.string, string.kind, size_for_a_cell(string.size), string.core, ", ".join(string.labels))
        for string in wanted
    ]
    heads = ("count", "string", "kind", "size", "core", "for")
    headers = {"Content-Disposition": "attachment; filename=pondus-strings-to-buy.csv"}
    return Response("".join(written(heads, rows)), mimetype="text/csv", headers=headers)


def _book(session: Session) -> CareBook:
    clock = studio_clock(session)
    found = care_store.studio_care(session, clock=clock)
    wanted = care_store.wanted_strings(found, clock)
    return CareBook(
        instruments=[_instrument(row, clock) for row in found],
        shopping=list(wanted),
        soon_days=SOON_DAYS,
        signs=[SymptomOut.filled(facts, sign=symptom) for symptom, facts in SYMPTOMS.items()],
        air=[air_out(row) for row in climate_store.room_log(session)[-SHOWN_AIR:]],
        comfortable=COMFORT,
        string_life_months=care_store.life_setting(session),
        least_life_months=LEAST_LIFE_MONTHS,
        most_life_months=MOST_LIFE_MONTHS,
    )


def _instrument(cared: CaredFor, clock: Clock) -> InstrumentCare:
    of = cared.instrument
    return InstrumentCare.filled(
        of,
        strings=[_age(string, cared.due[string.name], clock.today) for string in of.strings],
        referrals=[ReferralOut.filled(one, SYMPTOMS[one.symptom], sign=one.symptom) for one in cared.referrals],
        watched=[WatchedOut.filled(one, SYMPTOMS[one.symptom], sign=one.symptom) for one in cared.watched],
        out=None if cared.out is None else care_out(cared.out, of.id),
    )


def _age(string: FittedString, told: StringDue, today: date) -> StringAge:
    return StringAge.filled(string, told, days_left=told.days_left(today), soon=told.soon(today))


@blueprint.post("/instruments/<uuid:instrument_id>/care")
@blueprint.input(NewCare, arg_name="new")
@blueprint.output(CareOut)
def add_care(instrument_id: UUID, new: NewCare) -> CareOut:
    """Keep something done or noticed; sent twice, it is kept once. Raises BadInput, NotFound or Conflict."""
    with transaction() as session:
        clock = studio_clock(session)
        kind = instrument_store.instrument(session, instrument_id).instrument.kind
        entry = care_entry(
            instrument_named(kind),
            kind=new.kind,
            at=moment_done(new.on, clock),
            clock=clock,
            string=new.string,
            symptom=new.sign,
            core=new.core,
            said=new.said,
            due=new.due,
        )
        told = {name: value for name, value in vars(entry).items() if name != "symptom"}
        row = CareRow(id=new.id, instrument_id=instrument_id, sign=entry.symptom, **told)
        return _row_out(care_store.add_care(session, row, clock=clock))


@blueprint.post("/care/<uuid:care_id>/strike")
@blueprint.input(Strike, arg_name="strike")
@blueprint.output(CareOut)
def strike_care(care_id: UUID, strike: Strike) -> CareOut:
    """Strike an entry out, with a reason; it stays to be seen. Raises BadInput or NotFound."""
    return _strike(care_id, struck_reason(strike))


@blueprint.delete("/care/<uuid:care_id>/strike")
@blueprint.output(CareOut, status_code=200)
def restore_care(care_id: UUID) -> CareOut:
    """Bring a struck entry back. Raises BadInput or NotFound."""
    return _strike(care_id, None)


def _strike(care_id: UUID, reason: str | None) -> CareOut:
    with transaction() as session:
        return _row_out(care_store.strike_care(session, care_id, reason=reason, clock=studio_clock(session)))


@blueprint.post("/room")
@blueprint.input(NewAir, arg_name="new")
@blueprint.output(AirOut)
def add_air(new: NewAir) -> AirOut:
    """Keep a measurement of the room; sent twice, it is kept once. Raises BadInput or Conflict."""
    with transaction() as session:
        clock = studio_clock(session)
        entry = climate_entry(at=new.at or clock.now, clock=clock, humidity=new.humidity, celsius=new.celsius)
        row = RoomRow(id=new.id, humidity=entry.humidity, celsius=entry.celsius, at=entry.at)
        return air_out(climate_store.add_room(session, row))


@blueprint.post("/room/<uuid:room_id>/strike")
@blueprint.input(Strike, arg_name="strike")
@blueprint.output(AirOut)
def strike_air(room_id: UUID, strike: Strike) -> AirOut:
    """Strike a measurement out, with a reason. Raises BadInput or NotFound."""
    with transaction() as session:
        return air_out(climate_store.strike_room(session, room_id, reason=struck_reason(strike)))


@blueprint.patch("/care/settings")
@blueprint.input(CareSettings, arg_name="settings")
@blueprint.output(CareBook)
def change_care_settings(settings: CareSettings) -> CareBook:
    """How long strings last in this studio. Raises BadInput or NotFound."""
    check_life_months(settings.string_life_months)
    with transaction() as session:
        change_settings(session, None, {"string_life_months": settings.string_life_months})
    with looking() as session:
        return _book(session)


@blueprint.get("/care/calendar.ics")
@blueprint.doc(
    description="What is due, as a calendar file: string changes, instruments back from the luthier.",
    responses=file_of("text/calendar", said="A calendar (RFC 5545)."),
)
def care_calendar() -> Response:
    """A calendar that common calendar programs read. Raises BadInput or NotFound."""
    with looking() as session:
        clock = studio_clock(session)
        page = calendar_of(care_store.studio_care(session, clock=clock), made_at=clock.now)
    headers = {"Content-Disposition": "attachment; filename=pondus-care.ics"}
    return Response(page, mimetype="text/calendar", headers=headers)

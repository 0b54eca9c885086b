"""Puts the camp on Tern Island into a database: the roll, eight weeks of mornings, and this one half done.

What is there already stays as it is; on a later day only that morning's sweep is added.
"""

from collections import defaultdict
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from uuid import UUID

import numpy as np
from sqlalchemy import insert, text
from sqlmodel import Session, select

from pondus.core.clock import Clock
from pondus.core.group.people import may_turn
from pondus.core.instruments import instrument_named
from pondus.core.simulated.wood import Wood
from pondus.core.upkeep.care import CareKind
from pondus.demo.camp import LOANS, PEOPLE, Loan, demo_id, ids_of
from pondus.demo.practice import fill_practice
from pondus.demo.weeks import DAYS, NewString, air_on, tuning_row, weeks_of
from pondus.store.care import add_care
from pondus.store.database import engine_for, session_on
from pondus.store.devices import sign_in_row
from pondus.store.instruments import add_instrument, next_version
from pondus.store.morning import keep_triaged
from pondus.store.settings import change_settings
from pondus.store.summaries import keep_summaries
from pondus.store.tables import (
    CareRow,
    InstrumentRow,
    MoveRow,
    PersonRow,
    ReadingRow,
    RoomRow,
    StationRow,
    StringRow,
    TuningRow,
)

CHANGED = {
    "Whimbrel": (NewString("E", 18),),
    "Greenshank": (NewString("A", 33),),
    "Fulmar": (NewString("A", 5), NewString("D", 5)),
}
AWAY = {"Lapwing": range(DAYS - 9, DAYS), "Sanderling": range(14, 22)}
TUNED_ALREADY = ("Godwit", "Ruff", "Phalarope", "Whimbrel")
STILL_TO_HEAR = ("Redshank", "Stint", "Curlew", "Petrel", "Snipe")
FAULTS = (
    ("Knot", "peg-slips", "D", 20, "slipped twice while tuning"),
    ("Knot", "peg-slips", "D", 11, "chalked it"),
    ("Knot", "peg-slips", "D", 3, "slipped again, with chalk on"),
    ("Eider", "peg-sticks", "G", 6, "came free after a wiggle"),
    ("Petrel", "string-false", "C", 4, "winding coming off near the bridge"),
    ("Ruff", "screw-stiff", "E", 2, ""),
    ("Gannet", "pitch-jumps", "D", 12, "soft pencil put in the nut groove"),
)


def fill_own(url: str) -> None:
    """As `fill`, with ids that no other demo has; a demo of an earlier Pondus goes on with those it has."""
    engine = engine_for(url)
    with session_on(engine) as session:
        is_older = session.get(InstrumentRow, demo_id(LOANS[0].label)) is not None
        studio = "" if is_older else sign_in_row(session).studio
    engine.dispose()
    with ids_of(studio):
        fill(url)


def fill(url: str) -> None:
    """Put the demo studio into a database; what is there already stays as it is."""
    engine = engine_for(url)
    now = datetime.now(UTC)
    with session_on(engine) as session:
        if session.get(InstrumentRow, demo_id(LOANS[0].label)) is None:
            _roll(session, now)
            left = _weeks(session, now)
            _air(session, now)
            _care(session, now)
            fill_practice(session, now)
        else:
            left = {}
    with session_on(engine) as session:
        there = session.exec(select(StationRow.id).where(StationRow.day == now.date()).limit(1)).first()
        if there is None:
            _this_morning(session, now, left)
        for loan in LOANS:
            keep_summaries(session, demo_id(loan.label))
            keep_triaged(session, demo_id(loan.label), clock=Clock(now))
    engine.dispose()


def _roll(session: Session, now: datetime) -> None:
    long_ago = now - timedelta(days=DAYS + 10)
    session.add_all(
        PersonRow(id=demo_id(member.name), name=member.name, role=member.role, cleared=[*member.cleared], created_at=long_ago)
        for member in PEOPLE
    )
    session.flush()
    for loan in LOANS:
        row = InstrumentRow(
            id=demo_id(loan.label),
            label=loan.label,
            kind=loan.kind,
            size=loan.size,
            note=loan.note,
            player_id=None if loan.player is None else demo_id(loan.player),
            hours_per_week=loan.hours,
            details=_details(loan),
            created_at=long_ago,
        )
        put_on = (now - timedelta(days=loan.age_days)).date()
        strings = [
            StringRow(
                screw_seen=True,
                id=demo_id(f"{loan.label}:{name}"),
                instrument_id=row.id,
                name=name,
                put_on=put_on,
                screw_set_at=_screw_seen(loan, name, now),
                **loan.fittings.get(name, {}),
            )
            for name in instrument_named(loan.kind).string_names
        ]
        add_instrument(session, row, strings)
        if loan.fifth_cents is not None:
            change_settings(session, row.id, {"fifth_cents": loan.fifth_cents})


def _details(loan: Loan) -> dict[str, str]:
    """Two groups of the camp, and the hut where each kind is kept."""
    group = ("Reed", "Shore")[LOANS.index(loan) // 2 % 2]
    return {"class": group, "place": f"hut {1 + ('violin', 'viola', 'cello').index(loan.kind)}"}


def _screw_seen(loan: Loan, name: str, now: datetime) -> datetime:
    """When someone last looked where the screw stands: before the weeks, or only just."""
    told = "screw_turns" in loan.fittings.get(name, {})
    return now - timedelta(minutes=30) if told else now - timedelta(days=DAYS + 10)


def _weeks(session: Session, now: datetime) -> dict[str, Wood]:
    left = {}
    tunings: list[dict[str, Any]] = []
    readings: list[dict[str, Any]] = []
    moves: list[dict[str, Any]] = []
    for place, loan in enumerate(LOANS):
        rows, left[loan.label] = weeks_of(
            loan,
            place,
            today=now,
            changed=CHANGED.get(loan.label, ()),
            away=AWAY.get(loan.label, range(0)),
            tuned_at=_begun(now) + timedelta(minutes=place / 4) if loan.label in TUNED_ALREADY else None,
        )
        tunings += rows.tunings
        readings += rows.readings
        moves += rows.moves
    _number(session, tunings, readings, moves)
    for table, found in ((TuningRow, tunings), (ReadingRow, readings), (MoveRow, moves)):
        session.execute(insert(table), found)
    session.execute(_SEEN_SINCE)
    return left


def _number(
    session: Session, tunings: list[dict[str, Any]], readings: list[dict[str, Any]], moves: list[dict[str, Any]]
) -> None:
    """Give entries their places in their instruments' logs, as they came."""
    of = {tuning["id"]: tuning["instrument_id"] for tuning in tunings}
    by_instrument: dict[UUID, list[dict[str, Any]]] = defaultdict(list)
    for made in sorted([*readings, *moves], key=lambda entry: (entry["at"], "amount" in entry)):
        by_instrument[of[made["tuning_id"]]].append(made)
    for instrument_id, entries in by_instrument.items():
        begins = next_version(session, instrument_id, places=len(entries)) - len(entries)
        for place, entry in enumerate(entries):
            entry["seq"] = begins + place + 1


_SEEN_SINCE = text(
    """
    update string s set screw_set_seq = coalesce((
        select max(m.seq) from move m join tuning t on t.id = m.tuning_id
        where t.instrument_id = s.instrument_id and m.at < s.screw_set_at
    ), 0)
    """
)
"""Where a screw was looked at after the weeks, their moves no longer add to it."""


def _air(session: Session, now: datetime) -> None:
    for day in range(DAYS + 1):
        at = datetime.combine(now.date() - timedelta(days=DAYS - day), time(8), tzinfo=UTC)
        humidity, celsius = air_on(day)
        row = RoomRow(id=demo_id(f"air:{at.date()}"), at=min(at, now), humidity=humidity, celsius=celsius, source="simulated")
        session.add(row)
    session.flush()


def _care(session: Session, now: datetime) -> None:
    def entry(label: str, what: str, days_ago: int, kind: CareKind, **more: Any) -> None:
        at = datetime.combine(now.date() - timedelta(days=days_ago), time(7, 45), tzinfo=UTC)
        row = CareRow(id=demo_id(f"{label}:{what}:{days_ago}"), instrument_id=demo_id(label), at=at, kind=kind, **more)
        add_care(session, row, clock=Clock(now))

    for label, changed in CHANGED.items():
        for new_string in changed:
            entry(label, new_string.name, new_string.days_ago, "string-changed", string=new_string.name)
    for label, sign, string, days_ago, said in FAULTS:
        entry(label, sign, days_ago, "fault", sign=sign, string=string, said=said)
    entry("Sanderling", "out", DAYS - 14, "luthier-out", said="soundpost had moved")
    entry("Sanderling", "in", DAYS - 22, "luthier-in", said="soundpost set, new E fine tuner")
    back = (now + timedelta(days=3)).date()
    entry("Lapwing", "out", 9, "luthier-out", said="bridge warped, a new one is being cut", due=back)


def _this_morning(session: Session, now: datetime, left: dict[str, Wood]) -> None:
    """Most are heard, some tuned already; two staff and a student are at it."""
    begun = _begun(now)
    readings: list[dict[str, Any]] = []
    tunings: list[dict[str, Any]] = []
    for place, loan in enumerate(LOANS):
        if loan.label in STILL_TO_HEAR or loan.label == "Lapwing" or (left and loan.label in TUNED_ALREADY):
            continue
        at = begun + (now - begun) * (place / len(LOANS))
        tuning = demo_id(f"{loan.label}:{now.date()}")
        tunings.append(tuning_row(tuning, loan, at, who="teacher", by=demo_id("Maren")))
        for number, (name, shown) in enumerate(_shown(loan, left.get(loan.label), place, now.date()).items()):
            own = {
                "id": demo_id(f"{tuning}:{name}"),
                "tuning_id": tuning,
                "string": name,
                "at": at + timedelta(milliseconds=20 * number),
                "sure_of_string": False,
            }
            readings.append({**own, "note": None, "cents": None, "hz": None, "source": "simulated", **shown})
    _number(session, tunings, readings, [])
    session.execute(insert(TuningRow), tunings)
    session.execute(insert(ReadingRow), readings)
    _stations(session, now)


def _begun(now: datetime) -> datetime:
    """When this morning's sweep began."""
    return max(now - timedelta(minutes=12), datetime.combine(now.date(), time(), tzinfo=UTC))


def _shown(loan: Loan, wood: Wood | None, place: int, day: date) -> dict[str, dict[str, Any]]:
    """What was heard of an instrument: as the camp has it, or as its weeks left it."""
    if loan.heard_today:
        return {name: {"note": note, "cents": cents, "source": "typed"} for name, (note, cents) in loan.heard_today.items()}
    instrument = instrument_named(loan.kind)
    if wood is not None:
        return {name: {"hz": round(wood.hz(name), 4)} for name in instrument.string_names}
    rng = np.random.default_rng([place, day.toordinal()])
    return {
        string.name: {"hz": round(440.0 * 2 ** ((string.note_number - 69) / 12 + rng.normal(-4.0, 6.0) / 1200), 4)}
        for string in instrument.strings
    }


def _stations(session: Session, now: datetime) -> None:
    by_name = {member.name: member for member in PEOPLE}
    for name, minutes in (("Maren", 0), ("Joost", 2), ("Ida", 0), ("Tjark", 0)):
        member = by_name[name]
        session.add(
            StationRow(
                id=demo_id(f"{name}:{now.date()}"),
                day=now.date(),
                name=name,
                may=may_turn(member.role, member.cleared) or "fine-tuners",
                person_id=demo_id(name),
                comes_at=now + timedelta(minutes=minutes),
            )
        )
    session.flush()

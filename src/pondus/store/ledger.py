"""An instrument's ledger: every tuning, what the weeks did to its strings, what is learned, and next morning's forecast."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from itertools import pairwise
from math import nan
from uuid import UUID

from sqlmodel import Session, select

from pondus.core.forecast import Forecast, Night, forecast
from pondus.core.instruments import instrument_named
from pondus.core.judgement.situation import Situation
from pondus.core.pitch import cents_between
from pondus.core.slips import SlipRate, Tuned, slip_rates
from pondus.store.care import care_of, put_on_days, slips_of, string_age
from pondus.store.digests import Digest, digests
from pondus.store.instruments import InstrumentRecord, instrument
from pondus.store.learned import LearnedRates, learned_rates, move_log
from pondus.store.room import Air, room_log
from pondus.store.settings import usual_tuning
from pondus.store.standing import string_situation
from pondus.store.tables import CareRow, PersonRow, StringRow


@dataclass(frozen=True)
class LedgerTuning:
    """One tuning with the room's air, and who did it."""

    digest: Digest
    by: str | None
    humidity: float | None
    celsius: float | None


@dataclass(frozen=True)
class LedgerString:
    """One string: what its moves taught, where it is told to stand next morning (None: never heard), and as it was found every
    time, in cents, oldest first.
    """

    name: str
    situation: Situation
    learned: LearnedRates
    forecast: Forecast | None
    found_cents: tuple[float, ...]


@dataclass(frozen=True)
class Ledger:
    """One instrument's. Tunings oldest first, those without an entry left out."""

    record: InstrumentRecord
    tunings: tuple[LedgerTuning, ...]
    strings: tuple[LedgerString, ...]
    care: tuple[CareRow, ...]
    slips: tuple[SlipRate, ...]
    forecast_for: date


def ledger(session: Session, instrument_id: UUID, *, today: date) -> Ledger:
    """The ledger of one instrument. Raises NotFound."""
    record = instrument(session, instrument_id)
    past = [each for each in digests(session, instrument_id) if each.strings]
    air = Air(room_log(session, since=past[0].started_at - timedelta(days=1)) if past else [])
    names = dict(session.exec(select(PersonRow.id, PersonRow.name)).all())
    tunings = []
    for each in past:
        room = air.at(each.started_at)
        by = names.get(each.done_by) if each.done_by is not None else None
        tunings.append(
            LedgerTuning(each, by, None if room is None else room.humidity, None if room is None else room.celsius)
        )
    return Ledger(
        record=record,
        tunings=tuple(tunings),
        strings=tuple(_strings(session, record, tunings, today)),
        care=tuple(care_of(session, instrument_id)),
        slips=tuple(slip_rates(_tuned(record, tunings))),
        forecast_for=today + timedelta(days=1),
    )


def _strings(
    session: Session, record: InstrumentRecord, tunings: Sequence[LedgerTuning], today: date
) -> list[LedgerString]:
    kind = instrument_named(record.instrument.kind)
    how = usual_tuning(session, record.instrument)
    measured = move_log(each.digest for each in tunings)
    rows = {row.name: row for row in record.strings}
    found = []
    for name in kind.string_names:
        if name in rows:
            facts = string_situation(record, how, rows[name], fine_tuner=None, today=today)
            learned = learned_rates(rows[name], facts, measured.moves.get(name, []))
            told = next_morning(tunings, rows[name], today=today)
            came = [cents for each in tunings if (cents := _cents(each, name, "found_hz")) is not None]
            found.append(LedgerString(name, facts, learned, told, tuple(came)))
    return found


def next_morning(tunings: Sequence[LedgerTuning], row: StringRow, *, today: date) -> Forecast | None:
    """Where a string will stand on the morning after ``today``, if nobody turns it; None where it was never heard."""
    heard = [each for each in tunings if _cents(each, row.name, "left_hz") is not None]
    if not heard:
        return None
    last = heard[-1]
    morning = (
        datetime.combine(today, time(), tzinfo=UTC) + timedelta(days=1) + (last.digest.started_at - _midnight(last))
    )
    days = max(0.25, (morning - last.digest.started_at) / timedelta(days=1))
    ahead = Night(
        days,
        _cents(last, row.name, "left_hz") or 0.0,
        nan,
        string_age_days=string_age(last.digest.started_at.date(), row.put_on),
    )
    return forecast(nights(tunings, row), ahead)


def nights(tunings: Sequence[LedgerTuning], row: StringRow) -> list[Night]:
    """A string's nights since it was put on, oldest first."""
    found = []
    for before, after in pairwise(tunings):
        left, came = _cents(before, row.name, "left_hz"), _cents(after, row.name, "found_hz", against=before)
        if left is None or came is None or (row.put_on is not None and before.digest.started_at.date() < row.put_on):
            continue
        days = (after.digest.started_at - before.digest.started_at) / timedelta(days=1)
        found.append(
            Night(
                days,
                left,
                came,
                _change(before.celsius, after.celsius),
                _change(before.humidity, after.humidity),
                string_age(before.digest.started_at.date(), row.put_on),
            )
        )
    return found


def _midnight(each: LedgerTuning) -> datetime:
    return datetime.combine(each.digest.started_at.date(), time(), tzinfo=UTC)


def _cents(each: LedgerTuning, name: str, which: str, *, against: LedgerTuning | None = None) -> float | None:
    """Found or left, in cents from the target of its own tuning, or of another."""
    string = each.digest.strings.get(name)
    hz = None if string is None else getattr(string, which)
    if string is None or hz is None:
        return None
    other = None if against is None else against.digest.strings.get(name)
    return cents_between(hz, (other or string).target_hz)


def _change(before: float | None, after: float | None) -> float | None:
    return None if before is None or after is None else after - before


def _tuned(record: InstrumentRecord, tunings: Sequence[LedgerTuning]) -> list[Tuned]:
    slipped = slips_of([each.digest for each in tunings], put_on_days(record))
    return [
        Tuned(each.humidity, len(each.digest.strings), len(gave_way))
        for each, gave_way in zip(tunings, slipped, strict=True)
    ]

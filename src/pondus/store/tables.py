"""The tables. Times are UTC; frequencies Hz; screw positions in turns from the middle, positive screwed in."""

from datetime import UTC, date, datetime
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import BigInteger, DateTime, Index, LargeBinary, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, SQLModel


def now() -> datetime:
    """The present moment, UTC."""
    return datetime.now(UTC)


def _time(*, nullable: bool = False, default: bool = True) -> Any:
    kind = DateTime(timezone=True)
    if default:
        return Field(default_factory=now, sa_type=kind, nullable=nullable)
    return Field(default=None, sa_type=kind, nullable=True)


class ImportRow(SQLModel, table=True):
    """A file someone brought: its bytes as they came, which column is what, and what became of it (``looked-at``, ``stored``,
    ``undone``). What it stored carries its id.
    """

    __tablename__ = "import"
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    kind: str = Field(max_length=12)
    file_name: str = Field(max_length=200)
    content: bytes = Field(sa_type=LargeBinary)
    columns: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    state: str = Field(default="looked-at", max_length=12)
    rows_stored: int = 0
    at: datetime = _time()
    stored_at: datetime | None = _time(default=False)


def _import_id() -> Any:
    return Field(default=None, foreign_key="import.id", index=True)


class PersonRow(SQLModel, table=True):
    """Someone who tunes or plays: a name, a role, the stages of tuning they are cleared for (1 to 7), and no more than that.

    ``pace``: how many times as long as a practised hand; None: as usual for what they may do.
    """

    __tablename__ = "person"
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    name: str = Field(max_length=80)
    role: str = Field(default="player", max_length=10)
    cleared: list[int] = Field(default_factory=list, sa_type=JSONB)
    pace: float | None = None
    note: str = Field(default="", max_length=500)
    created_at: datetime = _time()
    retired_at: datetime | None = _time(default=False)
    import_id: UUID | None = _import_id()


class InstrumentRow(SQLModel, table=True):
    """A violin, viola or cello of the studio; or, with ``simulated_of``, the simulated one that stands in for it: fitted
    alike, with a log and a learning of its own, so that practice never mixes with the real one's.

    ``log_version`` counts changes to its log and fittings: whatever was worked out from them at a lower count is out of date.
    """

    __tablename__ = "instrument"
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    label: str = Field(max_length=80)
    kind: str = Field(max_length=10)
    size: str = Field(max_length=8)
    note: str = Field(default="", max_length=500)
    stance: str | None = Field(default=None, max_length=10)
    simulated_of: UUID | None = Field(default=None, foreign_key="instrument.id")
    player_id: UUID | None = Field(default=None, foreign_key="person.id")
    hours_per_week: float | None = None
    log_version: int = Field(default=0, sa_type=BigInteger, sa_column_kwargs={"server_default": "0"})
    created_at: datetime = _time()
    retired_at: datetime | None = _time(default=False)
    import_id: UUID | None = _import_id()


class StringRow(SQLModel, table=True):
    """What is on one string's place, with its peg and fine tuner.

    ``screw_turns`` is where the screw stood at ``screw_set_at``; moves since then add to it. ``fitted_at``: when its fittings
    last changed; what was learned before then no longer counts.
    """

    __tablename__ = "string"
    __table_args__ = (UniqueConstraint("instrument_id", "name"),)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    instrument_id: UUID = Field(foreign_key="instrument.id", index=True)
    name: str = Field(max_length=1)
    core: str = Field(default="steel", max_length=10)
    put_on: date | None = None
    has_fine_tuner: bool = True
    screw_turns: float = 0.0
    screw_reach_turns: float = 4.0
    screw_set_at: datetime = _time()
    fitted_at: datetime | None = _time(default=False)
    peg_kind: str = Field(default="friction", max_length=10)
    peg_state: str = Field(default="ok", max_length=10)
    winding: str = Field(default="normal", max_length=10)


class TuningRow(SQLModel, table=True):
    """One sitting with one instrument, with the reference and the school it followed."""

    __tablename__ = "tuning"
    __table_args__ = (Index("tuning_of_instrument", "instrument_id", "started_at"), Index("tuning_at", "started_at"))
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    instrument_id: UUID = Field(foreign_key="instrument.id")
    started_at: datetime = _time()
    a4: float = 440.0
    fifth_cents: float = 700.0
    approach: str = Field(default="fine-tuner-first", max_length=20)
    tolerance_cents: float = 3.0
    stance: str = Field(max_length=10)
    who: str = Field(default="teacher", max_length=20)
    spelling: str = Field(default="sharps", max_length=10)
    order: str = Field(default="A-outward", max_length=10, sa_column_kwargs={"server_default": "A-outward"})
    done_by: UUID | None = Field(default=None, foreign_key="person.id")
    import_id: UUID | None = _import_id()


class ReadingRow(SQLModel, table=True):
    """What was heard of one string: a note with cents, or Hz. Never edited; struck out with a reason."""

    __tablename__ = "reading"
    __table_args__ = (Index("reading_of_tuning", "tuning_id", "at"),)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    tuning_id: UUID = Field(foreign_key="tuning.id")
    string: str = Field(max_length=1)
    at: datetime = _time()
    note: str | None = Field(default=None, max_length=8)
    cents: float | None = None
    hz: float | None = None
    spread_cents: float | None = None
    source: str = Field(default="typed", max_length=12)
    sure_of_string: bool = False
    struck_at: datetime | None = _time(default=False)
    struck_reason: str | None = Field(default=None, max_length=200)


class MoveRow(SQLModel, table=True):
    """One turn of a peg or a screw, between two readings. Never edited; struck out with a reason."""

    __tablename__ = "move"
    __table_args__ = (Index("move_of_tuning", "tuning_id", "at"),)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    tuning_id: UUID = Field(foreign_key="tuning.id")
    string: str = Field(max_length=1)
    at: datetime = _time()
    mechanism: str = Field(max_length=12)
    direction: str = Field(max_length=6)
    amount: float
    unit: str = Field(max_length=8)
    expect_cents: float | None = None
    expect_plus_minus: float | None = None
    struck_at: datetime | None = _time(default=False)
    struck_reason: str | None = Field(default=None, max_length=200)


class FifthCheckRow(SQLModel, table=True):
    """One check of a fifth: as a double stop, by its harmonics, or by tapped beats. Never edited; struck out with a reason.

    ``from_pure_cents`` (positive: wide) is null while the direction of tapped beats isn't known. Where both pitches were
    heard, they are kept as readings too, under ids made from this one.
    """

    __tablename__ = "fifth_check"
    __table_args__ = (Index("fifth_check_of_tuning", "tuning_id", "at"),)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    tuning_id: UUID = Field(foreign_key="tuning.id")
    lower: str = Field(max_length=1)
    upper: str = Field(max_length=1)
    at: datetime = _time()
    way: str = Field(max_length=12)
    source: str = Field(max_length=12)
    lower_hz: float | None = None
    upper_hz: float | None = None
    from_pure_cents: float | None = None
    beats_hz: float
    plus_minus_cents: float | None = None
    struck_at: datetime | None = _time(default=False)
    struck_reason: str | None = Field(default=None, max_length=200)


class SimulatedRow(SQLModel, table=True):
    """The simulated instrument that stands in for one of the studio's: its whole state, true values and all. Only what
    makes it sound and turn reads it; the advice never does.
    """

    __tablename__ = "simulated"
    instrument_id: UUID = Field(foreign_key="instrument.id", primary_key=True)
    wood: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    changed_at: datetime = _time()


class SettingsRow(SQLModel, table=True):
    """How tunings are done by default: the studio's (``instrument_id`` None), or one instrument's own."""

    __tablename__ = "settings"
    __table_args__ = (UniqueConstraint("instrument_id", postgresql_nulls_not_distinct=True),)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    instrument_id: UUID | None = Field(default=None, foreign_key="instrument.id")
    values: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    changed_at: datetime = _time()


class DigestRow(SQLModel, table=True):
    """What one tuning came to, worked out from its entries so that years of them need not be read again. Gone as soon as one
    of its entries changes; made anew when next asked for.
    """

    __tablename__ = "digest"
    __table_args__ = (Index("digest_of_instrument", "instrument_id", "started_at"),)
    tuning_id: UUID = Field(foreign_key="tuning.id", primary_key=True)
    instrument_id: UUID = Field(foreign_key="instrument.id")
    started_at: datetime = _time()
    content: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)


class SweptRow(SQLModel, table=True):
    """How an instrument was sorted on a day, at a count of its ``log_version``."""

    __tablename__ = "swept"
    instrument_id: UUID = Field(foreign_key="instrument.id", primary_key=True)
    day: date
    log_version: int = Field(sa_type=BigInteger)
    sorted: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)


class StationRow(SQLModel, table=True):
    """One person at a morning: what they may turn, when they come, and the instrument in their hands since when."""

    __tablename__ = "station"
    __table_args__ = (UniqueConstraint("day", "name"),)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    day: date = Field(index=True)
    name: str = Field(max_length=80)
    may: str = Field(max_length=12)
    person_id: UUID | None = Field(default=None, foreign_key="person.id")
    pace: float | None = None
    own_only: bool = False
    comes_at: datetime = _time()
    instrument_id: UUID | None = Field(default=None, foreign_key="instrument.id")
    since: datetime | None = _time(default=False)


class RoomRow(SQLModel, table=True):
    """Air of the room: relative humidity in per cent, temperature in degrees Celsius."""

    __tablename__ = "room"
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    at: datetime = _time()
    humidity: float | None = None
    celsius: float | None = None
    source: str = Field(default="typed", max_length=12)
    struck_at: datetime | None = _time(default=False)
    struck_reason: str | None = Field(default=None, max_length=200)
    import_id: UUID | None = _import_id()
    __table_args__ = (Index("room_at", "at"),)


class CareRow(SQLModel, table=True):
    """Something done to an instrument or noticed of it: a string changed (``was``: what it was before), a fault seen, out to
    the luthier (``due`` back) and in again. Never edited; struck out with a reason.
    """

    __tablename__ = "care"
    __table_args__ = (Index("care_of_instrument", "instrument_id", "at"),)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    instrument_id: UUID = Field(foreign_key="instrument.id")
    string: str | None = Field(default=None, max_length=1)
    at: datetime = _time()
    kind: str = Field(max_length=16)
    sign: str | None = Field(default=None, max_length=20)
    core: str | None = Field(default=None, max_length=10)
    said: str = Field(default="", max_length=500)
    due: date | None = None
    was: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    struck_at: datetime | None = _time(default=False)
    struck_reason: str | None = Field(default=None, max_length=200)
    import_id: UUID | None = _import_id()

"""The tables. Times are UTC; frequencies Hz; screw positions in turns from the middle, positive screwed in.

Columns of few values are typed by the core's own names and checked by the database too. ``seq`` is an entry's place in its
instrument's log: the instrument's ``log_version`` when it was stored, counted up under the instrument's row lock.
"""

from datetime import UTC, date, datetime
from typing import Any, Literal, get_args
from uuid import UUID, uuid4

from sqlalchemy import BigInteger, CheckConstraint, DateTime, Index, LargeBinary, String, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, SQLModel

from pondus.core.entries.fifth_checks import CheckSource
from pondus.core.entries.log import Source
from pondus.core.group.jobs import Clearance
from pondus.core.group.people import Role
from pondus.core.hands.records import CheckWay
from pondus.core.instruments import Kind, StringCore
from pondus.core.instruments.holds import Stance
from pondus.core.judgement.heard import ShownSide
from pondus.core.judgement.recent_move import Answer, Done
from pondus.core.judgement.situation import BridgeState, PegKind, PegState, Pitch, StringPlace, Turning, Unit, Who, Winding
from pondus.core.judgement.string_order import StringOrder
from pondus.core.pitch.notes import Spelling
from pondus.core.upkeep.care import CareKind, Symptom
from pondus.lists.columns import ListKind

RoomSource = Literal["typed", "list", "simulated"]
ImportState = Literal["looked-at", "stored", "undone"]


def now() -> datetime:
    """The present moment, UTC."""
    return datetime.now(UTC)


def one_of(values: Any, length: int, *, default: Any = ..., nullable: bool = False) -> Any:
    """A text column that holds one of a ``Literal``'s values, ``length`` letters at most."""
    more = {} if default is ... else {"default": default}
    return Field(sa_type=String(length), nullable=nullable, **more)


def _server_default(length: int, value: str) -> Any:
    """A text column that rows kept before it have ``value`` in."""
    return Field(default=value, sa_type=String(length), nullable=False, sa_column_kwargs={"server_default": value})


def checked(table: str, **columns: Any) -> tuple[CheckConstraint, ...]:
    """The database's own check of each of those columns: one of its ``Literal``'s values, or null."""
    return tuple(
        CheckConstraint(f""""{name}" in ({", ".join(f"'{value}'" for value in get_args(values))})""", f"{table}_{name}")
        for name, values in columns.items()
    )


FROM_1990 = "'1990-01-01 00:00:00+00'"


def moment(*, nullable: bool = False, default: bool = True) -> Any:
    """A column of times with their zone; now, unless ``default`` is false: then empty."""
    kind = DateTime(timezone=True)
    if default:
        return Field(default_factory=now, sa_type=kind, nullable=nullable)
    return Field(default=None, sa_type=kind, nullable=True)


class ImportRow(SQLModel, table=True):
    """A file someone brought: its bytes as they came, which column is what, and what became of it (``looked-at``, ``stored``,
    ``undone``). What it stored carries its id.
    """

    __tablename__ = "import"
    __table_args__ = checked("import", kind=ListKind, state=ImportState)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    kind: ListKind = one_of(ListKind, 12)
    file_name: str = Field(max_length=200)
    content: bytes = Field(sa_type=LargeBinary)
    columns: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    state: ImportState = one_of(ImportState, 12, default="looked-at")
    rows_stored: int = 0
    at: datetime = moment()
    stored_at: datetime | None = moment(default=False)


def _import_id() -> Any:
    return Field(default=None, foreign_key="import.id", index=True)


class PersonRow(SQLModel, table=True):
    """Someone who tunes or plays: a name, a role, the stages of tuning they are cleared for (1 to 7), and no more than that.

    ``pace``: how many times as long as a practised hand; None: as usual for what they may do.
    """

    __tablename__ = "person"
    __table_args__ = checked("person", role=Role)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    name: str = Field(max_length=80)
    role: Role = one_of(Role, 10, default="player")
    cleared: list[int] = Field(default_factory=list, sa_type=JSONB)
    pace: float | None = None
    note: str = Field(default="", max_length=500)
    created_at: datetime = moment()
    retired_at: datetime | None = moment(default=False)
    import_id: UUID | None = _import_id()


class InstrumentRow(SQLModel, table=True):
    """A violin, viola or cello of the studio; or, with ``simulated_of``, the simulated one that stands in for it: fitted
    alike, with a log and a learning of its own, so that practice never mixes with the real one's.

    ``log_version`` counts changes to its log and fittings: whatever was worked out from them at a lower count is out of date.
    """

    __tablename__ = "instrument"
    __table_args__ = checked("instrument", kind=Kind, stance=Stance, bridge=BridgeState)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    label: str = Field(max_length=80)
    kind: Kind = one_of(Kind, 10)
    size: str = Field(max_length=8)
    note: str = Field(default="", max_length=500)
    stance: Stance | None = one_of(Stance, 10, default=None, nullable=True)
    bridge: BridgeState = _server_default(8, "stands")
    simulated_of: UUID | None = Field(default=None, foreign_key="instrument.id")
    player_id: UUID | None = Field(default=None, foreign_key="person.id")
    hours_per_week: float | None = None
    details: dict[str, str] = Field(default_factory=dict, sa_type=JSONB, sa_column_kwargs={"server_default": "{}"})
    log_version: int = Field(default=0, sa_type=BigInteger, sa_column_kwargs={"server_default": "0"})
    created_at: datetime = moment()
    retired_at: datetime | None = moment(default=False)
    import_id: UUID | None = _import_id()


class StringRow(SQLModel, table=True):
    """What is on one string's place, with its peg and fine tuner.

    ``screw_turns`` is where the screw stood at ``screw_set_at``, when the log was at ``screw_set_seq``; moves since
    then add to it; ``screw_seen``: whether anybody has looked.
    ``fitted_at``: when its fittings last changed; what was learned before then no longer counts.
    ``slack_since``: when it last began to sound after it had been floppy, broken, off or its peg out.
    """

    __tablename__ = "string"
    __table_args__ = (
        UniqueConstraint("instrument_id", "name"),
        *checked("string", core=StringCore, peg_kind=PegKind, peg_state=PegState, winding=Winding, state=StringPlace),
        CheckConstraint("abs(screw_turns) <= screw_reach_turns and screw_reach_turns <= 20", "string_screw"),
        CheckConstraint("put_on >= '1990-01-01' and put_on < '2200-01-01'", "string_put_on"),
    )
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    instrument_id: UUID = Field(foreign_key="instrument.id", index=True)
    name: str = Field(max_length=1)
    core: StringCore = one_of(StringCore, 10, default="steel")
    put_on: date | None = None
    has_fine_tuner: bool = True
    screw_turns: float = 0.0
    screw_reach_turns: float = 4.0
    screw_set_at: datetime = moment()
    screw_set_seq: int = Field(default=0, sa_type=BigInteger, sa_column_kwargs={"server_default": "0"})
    screw_seen: bool = Field(default=False, sa_column_kwargs={"server_default": "false"})
    fitted_at: datetime | None = moment(default=False)
    peg_kind: PegKind = one_of(PegKind, 10, default="friction")
    peg_state: PegState = one_of(PegState, 10, default="ok")
    winding: Winding = one_of(Winding, 10, default="normal")
    state: StringPlace = _server_default(8, "on")
    slack_since: datetime | None = moment(default=False)


class TuningRow(SQLModel, table=True):
    """One sitting with one instrument, with the reference and the school it followed."""

    __tablename__ = "tuning"
    __table_args__ = (
        Index("tuning_of_instrument", "instrument_id", "started_at"),
        Index("tuning_at", "started_at"),
        *checked("tuning", stance=Stance, who=Who, spelling=Spelling, order=StringOrder, turning=Turning),
        CheckConstraint(f"started_at >= {FROM_1990}", "tuning_started_at"),
        CheckConstraint("a4 between 415 and 446 and fifth_cents between 700 and 701.9551", "tuning_pitch"),
    )
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    instrument_id: UUID = Field(foreign_key="instrument.id")
    started_at: datetime = moment()
    a4: float = 440.0
    fifth_cents: float = 700.0
    approach: str = Field(default="fine-tuner-first", max_length=20)
    tolerance_cents: float = 3.0
    stance: Stance = one_of(Stance, 10)
    who: Who = one_of(Who, 20, default="teacher")
    spelling: Spelling = one_of(Spelling, 16, default="sharps")
    order: StringOrder = one_of(StringOrder, 10, default="A-outward")
    turning: Turning | None = one_of(Turning, 16, default=None, nullable=True)
    habits: list[str] = Field(default_factory=list, sa_type=JSONB)
    done_by: UUID | None = Field(default=None, foreign_key="person.id")
    import_id: UUID | None = _import_id()


class EntryRow(SQLModel):
    """What every entry of a tuning has: when it was made, its place in the log, on which state and by whom, whether it counts.
    Never edited; struck out with a reason.
    """

    id: UUID = Field(default_factory=uuid4, primary_key=True)
    tuning_id: UUID = Field(foreign_key="tuning.id")
    at: datetime = moment()
    seq: int = Field(default=0, sa_type=BigInteger, sa_column_kwargs={"server_default": "0"})
    made_on: int | None = Field(default=None, sa_type=BigInteger)
    device: UUID | None = None
    entered_by: UUID | None = Field(default=None, foreign_key="person.id")
    late: bool = Field(default=False, sa_column_kwargs={"server_default": "false"})
    struck_at: datetime | None = moment(default=False)
    struck_reason: str | None = Field(default=None, max_length=200)


class ReadingRow(EntryRow, table=True):
    """What was heard of one string: a note with cents, Hz, or a side. Never edited; struck out with a reason. ``turn_answer``:
    what was said of the turn that this reading was taken to stand for; ``a4``: the reference then, where that is known.
    """

    __tablename__ = "reading"
    __table_args__ = (
        Index("reading_of_tuning", "tuning_id", "seq"),
        *checked("reading", source=Source, side=ShownSide, turn_answer=Answer),
        CheckConstraint(f"at >= {FROM_1990}", "reading_at"),
        CheckConstraint("hz between 20 and 5000", "reading_hz"),
        CheckConstraint("cents between -50 and 50", "reading_cents"),
        CheckConstraint("a4 between 415 and 446", "reading_a4"),
        CheckConstraint(
            "(note is null or hz is null) and (note is not null or hz is not null or side is not null)"
            " and (cents is null or (note is not null and side is null)) and (side is null or hz is null)",
            "reading_heard",
        ),
    )
    string: str = Field(max_length=1)
    note: str | None = Field(default=None, max_length=8)
    cents: float | None = None
    hz: float | None = None
    side: ShownSide | None = one_of(ShownSide, 12, default=None, nullable=True)
    spread_cents: float | None = None
    source: Source = one_of(Source, 12, default="typed")
    sure_of_string: bool = False
    turn_answer: Answer | None = one_of(Answer, 16, default=None, nullable=True)
    a4: float | None = None


class MoveRow(EntryRow, table=True):
    """One turn of a peg or a screw, or a tug, between two readings. Never edited; struck out with a reason. ``answer``: what
    was said when it had no effect or went the wrong way; ``amount_known``: whether it was turned by that amount, or until it
    was where it should be.
    """

    __tablename__ = "move"
    __table_args__ = (
        Index("move_of_tuning", "tuning_id", "seq"),
        *checked("move", mechanism=Done, direction=Pitch, unit=Unit, answer=Answer),
        CheckConstraint(f"at >= {FROM_1990}", "move_at"),
        CheckConstraint("amount > 0 and amount < 'Infinity'::float8", "move_amount"),
        CheckConstraint("mechanism = 'tug' or (unit = 'turn') = (mechanism = 'fine-tuner')", "move_own_unit"),
    )
    string: str = Field(max_length=1)
    mechanism: Done = one_of(Done, 12)
    direction: Pitch = one_of(Pitch, 6)
    amount: float
    unit: Unit = one_of(Unit, 8)
    expect_cents: float | None = None
    expect_plus_minus: float | None = None
    amount_known: bool = Field(default=True, sa_column_kwargs={"server_default": "true"})
    answer: Answer | None = one_of(Answer, 16, default=None, nullable=True)


class FifthCheckRow(EntryRow, table=True):
    """One check of a fifth: as a double stop, by its harmonics, or by tapped beats. Never edited; struck out with a reason.

    ``from_pure_cents`` (positive: wide) is null while the direction of tapped beats isn't known. Where both pitches were
    heard, they are kept as readings too, under ids made from this one.
    """

    __tablename__ = "fifth_check"
    __table_args__ = (
        Index("fifth_check_of_tuning", "tuning_id", "seq"),
        *checked("fifth_check", way=CheckWay, source=CheckSource),
        CheckConstraint(f"at >= {FROM_1990}", "fifth_check_at"),
    )
    lower: str = Field(max_length=1)
    upper: str = Field(max_length=1)
    way: CheckWay = one_of(CheckWay, 12)
    source: CheckSource = one_of(CheckSource, 12)
    lower_hz: float | None = None
    upper_hz: float | None = None
    from_pure_cents: float | None = None
    beats_hz: float
    plus_minus_cents: float | None = None


class SimulatedRow(SQLModel, table=True):
    """The simulated instrument that stands in for one of the studio's: its whole state, true values and all. Only what
    makes it sound and turn reads it; the advice never does.
    """

    __tablename__ = "simulated"
    instrument_id: UUID = Field(foreign_key="instrument.id", primary_key=True)
    wood: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    changed_at: datetime = moment()


class SettingsRow(SQLModel, table=True):
    """How tunings are done by default: the studio's (``instrument_id`` None), or one instrument's own."""

    __tablename__ = "settings"
    __table_args__ = (UniqueConstraint("instrument_id", postgresql_nulls_not_distinct=True),)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    instrument_id: UUID | None = Field(default=None, foreign_key="instrument.id")
    values: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    changed_at: datetime = moment()


class SummaryRow(SQLModel, table=True):
    """What one tuning came to, worked out from its entries so that years of them need not be read again. Gone as soon as one
    of its entries changes; kept anew by whoever changes something next.
    """

    __tablename__ = "tuning_summary"
    __table_args__ = (Index("summary_of_instrument", "instrument_id", "started_at"),)
    tuning_id: UUID = Field(foreign_key="tuning.id", primary_key=True)
    instrument_id: UUID = Field(foreign_key="instrument.id")
    started_at: datetime = moment()
    content: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)


class TriagedRow(SQLModel, table=True):
    """How an instrument was sorted on a day, at a count of its ``log_version``."""

    __tablename__ = "triaged"
    instrument_id: UUID = Field(foreign_key="instrument.id", primary_key=True)
    day: date
    log_version: int = Field(sa_type=BigInteger)
    sorted: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)


class SetAsideRow(SQLModel, table=True):
    """A record that can't be used as it stands (a day before there were tuners, an instrument of an unknown kind): whole, with
    the reason. It goes with the studio's file.
    """

    __tablename__ = "set_aside"
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    of_table: str = Field(max_length=40)
    reason: str = Field(max_length=500)
    content: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    at: datetime = moment()


class CountRow(SQLModel, table=True):
    """How often something was asked for in a minute, by everyone and all workers together."""

    __tablename__ = "asked_count"
    bucket: str = Field(max_length=80, primary_key=True)
    minute: datetime = Field(sa_type=DateTime(timezone=True), primary_key=True)
    count: int = 0


class StationRow(SQLModel, table=True):
    """One person at a morning: what they may turn, when they come, the instrument in their hands since when; the instruments
    they were told to do (``planned``), and why the next is another than was told before (of a `schedule.Recall`; whose it is
    now as that station's id).
    """

    __tablename__ = "station"
    __table_args__ = (UniqueConstraint("day", "name"), *checked("station", may=Clearance))
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    day: date = Field(index=True)
    name: str = Field(max_length=80)
    may: Clearance = one_of(Clearance, 12)
    person_id: UUID | None = Field(default=None, foreign_key="person.id")
    pace: float | None = None
    own_only: bool = False
    comes_at: datetime = moment()
    instrument_id: UUID | None = Field(default=None, foreign_key="instrument.id")
    since: datetime | None = moment(default=False)
    planned: list[str] = Field(default_factory=list, sa_type=JSONB)
    recalled: dict[str, Any] | None = Field(default=None, sa_type=JSONB(none_as_null=True))


class RoomRow(SQLModel, table=True):
    """Air of the room: relative humidity in per cent, temperature in degrees Celsius."""

    __tablename__ = "room"
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    at: datetime = moment()
    humidity: float | None = None
    celsius: float | None = None
    source: RoomSource = one_of(RoomSource, 12, default="typed")
    struck_at: datetime | None = moment(default=False)
    struck_reason: str | None = Field(default=None, max_length=200)
    import_id: UUID | None = _import_id()
    __table_args__ = (
        Index("room_at", "at"),
        *checked("room", source=RoomSource),
        CheckConstraint(f"at >= {FROM_1990}", "room_at_since"),
        CheckConstraint("humidity between 0 and 100 and celsius between -30 and 55", "room_air"),
    )


class CareRow(SQLModel, table=True):
    """Something done to an instrument or noticed of it: a string changed (``was``: what it was before), a fault seen, out to
    the luthier (``due`` back) and in again. Never edited; struck out with a reason.
    """

    __tablename__ = "care"
    __table_args__ = (
        Index("care_of_instrument", "instrument_id", "at"),
        *checked("care", kind=CareKind, sign=Symptom, core=StringCore),
        CheckConstraint(f"at >= {FROM_1990}", "care_at"),
    )
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    instrument_id: UUID = Field(foreign_key="instrument.id")
    string: str | None = Field(default=None, max_length=1)
    at: datetime = moment()
    kind: CareKind = one_of(CareKind, 16)
    sign: Symptom | None = one_of(Symptom, 20, default=None, nullable=True)
    core: StringCore | None = one_of(StringCore, 10, default=None, nullable=True)
    said: str = Field(default="", max_length=500)
    due: date | None = None
    was: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    struck_at: datetime | None = moment(default=False)
    struck_reason: str | None = Field(default=None, max_length=200)
    import_id: UUID | None = _import_id()

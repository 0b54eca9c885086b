"""Care: string ages and what to buy, faults and referrals, the luthier, the room's air."""

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.contracts.instruments import Day, Note
from pondus.core.instruments import StringCore
from pondus.core.upkeep.care import CareKind, Symptom, Wanted

Moment = Annotated[datetime, Field(strict=False)]


class NewCare(Contract):
    """Something done to an instrument or noticed of it. ``on`` left out: now. ``sign``: of a fault; ``core``: of a new string;
    ``due``: when it is to be back from the luthier.
    """

    id: ClientId
    kind: CareKind
    string: str | None = None
    on: Day | None = None
    sign: Symptom | None = None
    core: StringCore | None = None
    said: Note = ""
    due: Day | None = None


class CareOut(Result):
    """One entry, newest first; struck ones stay."""

    id: UUID
    instrument_id: UUID
    at: datetime
    kind: CareKind
    string: str | None
    sign: Symptom | None
    core: StringCore | None
    said: str
    due: date | None
    headline: str
    struck: bool
    struck_reason: str | None


class StringAge(Result):
    """One string: since when it is on, when it wants replacing and why. ``soon``: it is on the shopping list."""

    name: str
    core: StringCore
    put_on: date | None
    due: date | None
    days_left: int | None
    soon: bool
    why: str


class ReferralOut(Result):
    """A fault that isn't mended by hand."""

    sign: Symptom
    said: str
    string: str | None
    to: Literal["luthier", "new-string"]
    why: str


class WatchedOut(Result):
    """A fault that may still be mended by hand, how often it was seen, and what to do about it."""

    sign: Symptom
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


class SymptomOut(Result):
    """A sign of a fault, what it likely comes from and what to do."""

    sign: Symptom
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
    shopping: list[Wanted]
    soon_days: int
    signs: list[SymptomOut]
    air: list[AirOut]
    comfortable: ComfortOut
    string_life_months: float
    least_life_months: float
    most_life_months: float


class NewAir(Contract):
    """A measurement of the room; one of the two is enough. ``at`` left out: now."""

    id: ClientId
    humidity: float | None = None
    celsius: float | None = None
    at: Moment | None = None


class CareSettings(Contract):
    """How long strings last in this studio, where playing hours aren't known."""

    string_life_months: float

"""How tunings are done by default, and where the studio is."""

from typing import Annotated

from pydantic import Field

from pondus.contracts.base import ApproachName, Contract, Result
from pondus.contracts.bench import TuningSettings
from pondus.core.instruments.holds import Stance
from pondus.core.judgement.habits import Habit
from pondus.core.judgement.situation import Turning, Who
from pondus.core.judgement.string_order import StringOrder
from pondus.core.pitch.notes import Spelling

ZoneName = Annotated[str, Field(min_length=1, max_length=60)]


class StudioSettings(TuningSettings):
    """The studio's settings; ``zone`` is the time zone whose days it lives by, as in Pacific/Auckland."""

    zone: ZoneName | None = None


class FirstZone(Contract):
    """The zone of a browser; it is the studio's where none was told before."""

    zone: ZoneName


class ZoneOut(Result):
    """The studio's time zone."""

    zone: str


class A4Today(Contract):
    """The A everything takes today, in Hz; null: the studio's own again."""

    a4: float | None


class SettingsOut(Result):
    """What is set; null: not set here. ``a4_today``: the A that was taken from outside for today, in Hz."""

    a4_today: float | None = None

    a4: float | None = None
    fifth_cents: float | None = None
    approach: ApproachName | None = None
    tolerance_cents: float | None = None
    stance: Stance | None = None
    who: Who | None = None
    spelling: Spelling | None = None
    order: StringOrder | None = None
    turning: Turning | None = None
    habits: list[Habit] | None = None
    zone: str | None = None

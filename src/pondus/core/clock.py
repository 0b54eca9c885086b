"""What time it is, handed in: a moment, and the time zone whose days a studio lives by.

The core asks no clock. Whoever calls it hands a `Clock` over, so that a morning in Auckland is that morning everywhere, and a
test can say what time it is. Moments are aware datetimes; days are the studio's.
"""

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, tzinfo

from pondus.core.errors import BadInput

EARLIEST = datetime(1990, 1, 1, tzinfo=UTC)
AHEAD = timedelta(days=1)
"""A day's grace for clocks that are wrong and zones elsewhere."""
NOON, MORNING = time(12), time(8)


@dataclass(frozen=True)
class Clock:
    """A moment, and the zone that days are counted in."""

    now: datetime
    zone: tzinfo = UTC

    @property
    def today(self) -> date:
        """The studio's day.

        >>> from zoneinfo import ZoneInfo
        >>> Clock(datetime(2026, 5, 3, 20, 0, tzinfo=UTC), ZoneInfo("Pacific/Auckland")).today
        datetime.date(2026, 5, 4)
        """
        return self.day_of(self.now)

    def day_of(self, moment: datetime) -> date:
        """The studio's day of a moment."""
        return moment.astimezone(self.zone).date()

    def at(self, day: date, clock_time: time) -> datetime:
        """That time on the studio's clock, in UTC."""
        return datetime.combine(day, clock_time, tzinfo=self.zone).astimezone(UTC)

    def begins(self, day: date) -> datetime:
        """When a day of the studio begins, in UTC."""
        return self.at(day, time())

    @property
    def day_ends(self) -> datetime:
        """When the studio's day ends, in UTC. What is dated later was kept while a clock was wrong, and is left aside."""
        return self.begins(self.today + timedelta(days=1))

    def since_midnight(self, moment: datetime) -> timedelta:
        """How long after its day began a moment was."""
        return moment - self.begins(self.day_of(moment))


def check_moment(moment: datetime, clock: Clock, *, field: str = "at") -> datetime:
    """A moment that something can have been entered for, in UTC; without a zone, the studio's is meant.

    Raises BadInput before 1990 or more than a day ahead.

    >>> clock = Clock(datetime(2026, 5, 3, tzinfo=UTC))
    >>> check_moment(datetime(2026, 5, 1, 8, 0), clock).isoformat()
    '2026-05-01T08:00:00+00:00'
    >>> check_moment(datetime(1, 1, 1, tzinfo=UTC), clock)
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: 1 January 1 lies too far back; give a time from 1990 on.
    """
    aware = moment if moment.tzinfo is not None else moment.replace(tzinfo=clock.zone)
    # Near the calendar's ends a zone's hours would lead out of it.
    if aware.year < EARLIEST.year:
        raise BadInput(field, f"{said_day(aware)} lies too far back; give a time from {EARLIEST.year} on.")
    if aware.year > 9000 or aware > clock.now + AHEAD:
        raise BadInput(field, f"{said_day(aware)} is still to come; give a time up to now.")
    return aware.astimezone(UTC)


def check_day(day: date, clock: Clock, *, field: str) -> date:
    """A day on which something happened. Raises BadInput before 1990 or more than a day ahead.

    >>> check_day(date(9999, 1, 1), Clock(datetime(2026, 5, 3, tzinfo=UTC)), field="put_on")
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: 1 January 9999 is still to come; give a day up to today.
    """
    if day < EARLIEST.date():
        raise BadInput(field, f"{said_day(day)} lies too far back; give a day from {EARLIEST.year} on.")
    if day > clock.today + AHEAD:
        raise BadInput(field, f"{said_day(day)} is still to come; give a day up to today.")
    return day


def moment_done(day: date | None, clock: Clock, *, field: str = "on") -> datetime:
    """When something was done that is told of a day: now, for today or where no day is told; else that day's noon.

    Raises BadInput for a day to come.

    >>> clock = Clock(datetime(2026, 5, 3, 9, 30, tzinfo=UTC))
    >>> moment_done(None, clock) == moment_done(date(2026, 5, 3), clock) == clock.now
    True
    >>> moment_done(date(2026, 5, 1), clock).isoformat()
    '2026-05-01T12:00:00+00:00'
    """
    if day is None or day == clock.today:
        return clock.now
    if day > clock.today:
        raise BadInput(field, f"{said_day(day)} is still to come; give a day up to today.")
    return clock.at(check_day(day, clock, field=field), NOON)


def check_due(day: date, clock: Clock, *, field: str = "due") -> date:
    """A day on which something is due: from 1990 to ten years ahead. Raises BadInput."""
    if not EARLIEST.date() <= day <= clock.today + timedelta(days=3653):
        raise BadInput(field, f"{said_day(day)} can't be right; give a day within ten years.")
    return day


_MONTHS = (
    "January", "February", "March", "April", "May", "June",
    "July", "August", "September", "October", "November", "December",
)  # fmt: skip


def said_day(day: date) -> str:
    """A day as people say it.

    >>> said_day(date(2026, 5, 3))
    '3 May 2026'
    """
    return f"{day.day} {_MONTHS[day.month - 1]} {day.year}"

"""Days are the studio's; moments that can't be are refused."""

import unittest
from datetime import UTC, date, datetime, time, timedelta, timezone
from zoneinfo import ZoneInfo

from pondus.core.clock import Clock, check_day, check_due, check_moment
from pondus.core.errors import BadInput

AUCKLAND = ZoneInfo("Pacific/Auckland")
MORNING_THERE = datetime(2026, 11, 24, 19, 0, tzinfo=UTC)
"""8 in the morning of the 25th in Auckland."""


class TestDays(unittest.TestCase):
    def test_the_morning_in_auckland_is_todays(self) -> None:
        there, greenwich = Clock(MORNING_THERE, AUCKLAND), Clock(MORNING_THERE)
        self.assertEqual((there.today, greenwich.today), (date(2026, 11, 25), date(2026, 11, 24)))
        self.assertEqual(there.begins(there.today), datetime(2026, 11, 24, 11, 0, tzinfo=UTC))
        self.assertEqual(there.since_midnight(MORNING_THERE), timedelta(hours=8))

    def test_a_day_with_a_changed_clock_has_its_own_length(self) -> None:
        berlin = Clock(datetime(2026, 3, 29, 10, tzinfo=UTC), ZoneInfo("Europe/Berlin"))
        day = berlin.begins(date(2026, 3, 30)) - berlin.begins(date(2026, 3, 29))
        self.assertEqual(day, timedelta(hours=23))
        self.assertEqual(berlin.at(date(2026, 3, 29), time(12)), datetime(2026, 3, 29, 10, tzinfo=UTC))


class TestBounds(unittest.TestCase):
    clock = Clock(MORNING_THERE, AUCKLAND)

    def test_from_1990_to_one_day_ahead(self) -> None:
        for moment in (datetime(1990, 1, 1, tzinfo=UTC), MORNING_THERE, MORNING_THERE + timedelta(days=1)):
            self.assertEqual(check_moment(moment, self.clock), moment)
        self.assertEqual(check_day(date(2026, 11, 26), self.clock, field="on"), date(2026, 11, 26))

    def test_what_lies_outside_is_refused_with_the_way_out(self) -> None:
        year_one = datetime(1, 1, 1, 0, 30, tzinfo=timezone(timedelta(hours=2)))
        for moment in (year_one, datetime(1989, 12, 31, 23, 59, tzinfo=UTC)):
            with self.assertRaises(BadInput) as caught:
                check_moment(moment, self.clock, field="at")
            self.assertEqual(caught.exception.field, "at")
            self.assertIn("from 1990 on", caught.exception.message)
        last = datetime(9999, 12, 31, 23, 59, tzinfo=timezone(-timedelta(hours=12)))
        for moment in (last, MORNING_THERE + timedelta(days=1, seconds=1)):
            with self.assertRaisesRegex(BadInput, "still to come"):
                check_moment(moment, self.clock)
        for day in (date(1989, 12, 31), date(2026, 11, 27), date(9999, 12, 31)):
            with self.assertRaises(BadInput):
                check_day(day, self.clock, field="put_on")
        for day in (date(1989, 12, 31), date(2037, 1, 1)):
            with self.assertRaises(BadInput):
                check_due(day, self.clock)

    def test_without_a_zone_the_studios_is_meant(self) -> None:
        self.assertEqual(check_moment(datetime(2026, 11, 25, 8, 0), self.clock), datetime(2026, 11, 24, 19, 0, tzinfo=UTC))

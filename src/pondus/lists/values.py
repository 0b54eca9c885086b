"""What a cell means: figures with commas or points, dates in three styles, yes and no. Raises BadInput naming the cell."""

import re
from collections.abc import Iterable
from datetime import UTC, date, datetime, time, tzinfo
from typing import Literal

from pondus.core.errors import BadInput
from pondus.lists.words import MONTHS

DateOrder = Literal["year-first", "day-first", "month-first"]
_YES = frozenset({"yes", "y", "true", "1", "x", "ja", "j", "oui", "si", "sí", "✓"})
_NO = frozenset({"no", "n", "false", "0", "-", "nein", "non", ""})
_NAMED = re.compile(
    r"^(?:(?P<first>\d{1,2})(?:st|nd|rd|th)?[.\s\-]+(?P<month>[^\W\d]{3,})|(?P<named>[^\W\d]{3,})\.?\s+(?P<second>\d{1,2})"
    r"(?:st|nd|rd|th)?)[.,\s\-]+(?P<year>\d{4}|\d{2})\b"
)
_PARTS = re.compile(r"^(\d{1,4})[./\-](\d{1,2})[./\-](\d{1,4})$")
_CLOCK = re.compile(r"^(\d{1,2})[:.h](\d{2})(?:[:.](\d{2})(?:[.,](\d{1,6}))?)?\s*(am|pm)?$", re.IGNORECASE)
EARLIEST_YEAR = 1950
LONGEST_FIGURE = 40


def figure(text: str, field: str) -> float:
    """A figure as people write it: a decimal comma or point, thousands separated, a true minus sign, a unit after it.

    Raises BadInput naming ``field``, where it is none.

    >>> figure("1.234,5", "hz"), figure("1,234.5", "hz"), figure("−12", "cents"), figure("55 %", "humidity")
    (1234.5, 1234.5, -12.0, 55.0)
    >>> figure("0,5", "cents"), figure("1'000", "hz"), figure("440.000", "hz")
    (0.5, 1000.0, 440.0)
    """
    plain = text.strip().replace("−", "-").replace("–", "-")
    plain = re.sub(r"\s*(?:%|°c|°|hz|cents?|ct|h|hours?)$", "", plain, flags=re.IGNORECASE)
    plain = re.sub(r"(?<=\d)[\s'’\u00a0\u202f](?=\d{3}\b)", "", plain)
    comma, point = plain.rfind(","), plain.rfind(".")
    if comma >= 0 and point >= 0:
        thousands = "." if comma > point else ","
        plain = plain.replace(thousands, "")
    if plain.count(",") > 1:
        plain = plain.replace(",", "")
    plain = plain.replace(",", ".")
    if not re.fullmatch(r"[+-]?(?:\d+\.?\d*|\.\d+)", plain):
        raise BadInput(field, f"“{text.strip()}” is not a figure")
    if len(plain) > LONGEST_FIGURE:
        raise BadInput(field, f"“{plain[:12]}…” is too long for a figure")
    return float(plain)


def yes(text: str, field: str) -> bool:
    """Yes or no, in a few languages and marks. Raises BadInput for anything else.

    >>> yes("Ja", "fine tuner"), yes("x", "fine tuner"), yes("no", "fine tuner")
    (True, True, False)
    """
    plain = text.strip().casefold()
    if plain in _YES:
        return True
    if plain in _NO:
        return False
    raise BadInput(field, f"“{text.strip()}” is neither yes nor no")


def date_order(cells: Iterable[str]) -> DateOrder | None:
    """In which order a column's dates stand; None where every one of them could be read in two ways.

    >>> date_order(["3/4/2026", "25/4/2026"]), date_order(["3/25/2026"]), date_order(["2026-04-03"]), date_order(["3/4/2026"])
    ('day-first', 'month-first', 'year-first', None)
    >>> date_order(["3.4.2026"]), date_order(["2026-04-03", "3/4/2026"]), date_order(["25/4/2026", "4/25/2026"])
    ('day-first', None, None)
    """
    either: set[DateOrder] = {"day-first", "month-first"}
    fits, met = set(either), False
    for cell in cells:
        match = _PARTS.match(_split(cell)[0])
        if match is None or len(match[1]) == 4:
            continue
        met = True
        first, second = int(match[1]), int(match[2])
        if first > 12 or "." in cell.split()[0]:
            fits.discard("month-first")
        elif second > 12:
            fits.discard("day-first")
    if not met:
        return "year-first"
    return fits.pop() if len(fits) == 1 else None


def day(text: str, order: DateOrder, field: str = "date") -> date:
    """A day: 2026-04-25, 25.4.2026, 25/04/26 or 4/25/2026 by the order that its column has, or with its month's name.

    Raises BadInput where there is no such day.

    >>> day("25.4.2026", "day-first"), day("4/25/26", "month-first"), day("2026-04-25", "day-first")
    (datetime.date(2026, 4, 25), datetime.date(2026, 4, 25), datetime.date(2026, 4, 25))
    >>> day("5 Mar 2026", "day-first") == day("5. März 2026", "day-first") == day("March 5th, 2026", "month-first")
    True
    """
    found = _by_name(_split(text)[0])
    if found is not None:
        return _not_too_far(found, text, field)
    match = _PARTS.match(_split(text)[0])
    if match is None:
        raise BadInput(field, f"“{text.strip()}” is not a date such as 2026-04-25, 25.4.2026 or 4/25/2026")
    if len(match[1]) != 4 and len(match[3]) not in (2, 4):
        raise BadInput(field, f"“{text.strip()}” has no year of two or four figures")
    parts = [int(group) for group in match.groups()]
    if len(match[1]) == 4:
        year, month, of_month = parts
    elif order == "month-first":
        month, of_month, year = parts
    else:
        of_month, month, year = parts
    year += 2000 if year < 100 else 0
    try:
        found = date(year, month, of_month)
    except ValueError:
        swapped = "; month and day seem swapped" if month > 12 >= of_month else ""
        raise BadInput(field, f"“{text.strip()}” isn't a day in the calendar, {_SAID[order]}{swapped}") from None
    return _not_too_far(found, text, field)


def _by_name(text: str) -> date | None:
    """A day whose month is a word; None where it is none."""
    match = _NAMED.match(text.casefold())
    month = None if match is None else MONTHS.get((match["month"] or match["named"]).rstrip("."))
    if match is None or month is None:
        return None
    year = int(match["year"])
    try:
        return date(year + (2000 if year < 100 else 0), month, int(match["first"] or match["second"]))
    except ValueError:
        return None


def _not_too_far(found: date, text: str, field: str) -> date:
    if not EARLIEST_YEAR <= found.year <= 2200:
        raise BadInput(field, f"“{text.strip()}” lies too far away; give the year in four figures")
    return found


_SAID: dict[DateOrder, str] = {"year-first": "year first", "day-first": "read day first", "month-first": "read month first"}


def moment(text: str, clock: str, order: DateOrder, *, zone: tzinfo = UTC) -> datetime | None:
    """A day with its time, from one cell or two; where no zone is given, ``zone`` is meant. None for the time not
    given: the day alone counts. Raises BadInput where there is no such day or time.

    >>> moment("2026-04-25T08:20:00+00:00", "", "year-first").hour, moment("25.4.2026", "8:20", "day-first").minute
    (8, 20)
    """
    cell = text.strip()
    if not clock.strip() and re.match(r"^\d{4}-\d\d-\d\d[T ]\d\d:\d\d", cell):
        try:
            found = datetime.fromisoformat(cell.replace("Z", "+00:00"))
        except ValueError:
            raise BadInput("date", f"“{cell}” is not a date with a time") from None
        return found if found.tzinfo is not None else found.replace(tzinfo=zone)
    on = day(cell, order)
    at = clock.strip() or _split(cell)[1]
    return None if not at else datetime.combine(on, _clock(at), tzinfo=zone)


def _clock(text: str) -> time:
    match = _CLOCK.match(re.sub(r"\s*(?:uhr|h|heures)$", "", text.strip(), flags=re.IGNORECASE))
    if match is None:
        raise BadInput("time", f"“{text.strip()}” is not a time such as 8:20")
    hour, minute, second = int(match[1]), int(match[2]), int(match[3] or 0)
    if match[5] is not None:
        hour = hour % 12 + (12 if match[5].lower() == "pm" else 0)
    try:
        return time(hour, minute, second, int((match[4] or "0").ljust(6, "0")))
    except ValueError:
        raise BadInput("time", f"“{text.strip()}” isn't a time of day") from None


def _split(cell: str) -> tuple[str, str]:
    """A cell's day, and the time behind it."""
    plain = cell.strip()
    named = _NAMED.match(plain.casefold())
    if named is not None:
        return plain[: named.end()], plain[named.end() :].strip(" ,T")
    day_part, _, rest = re.sub(r"[T\s]", " ", plain, count=1).partition(" ")
    return day_part, rest.strip()

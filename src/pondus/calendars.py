"""What is due, as a calendar file (RFC 5545): string changes by instrument and day, instruments back from the luthier."""

from collections import defaultdict
from collections.abc import Sequence
from datetime import date, datetime, timedelta
from uuid import UUID, uuid5

from icalendar import Calendar, Event

from pondus.core.upkeep.studio import CaredFor


def calendar_of(instruments: Sequence[CaredFor], *, made_at: datetime) -> bytes:
    """The calendar, as UTF-8. Entries keep their UID, so that fetching it again replaces them. No people's names in it."""
    calendar = Calendar()
    calendar.add("prodid", "-//Pondus//care//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "Instruments due")
    for instrument in instruments:
        row = instrument.instrument
        for day, strings in sorted(_due(instrument).items()):
            names = " ".join(strings)
            plural = "string" if len(strings) == 1 else "strings"
            title = f"{row.label}: new {names} {plural}"
            event = _event(row.id, f"strings {names}", title, day, made_at)
            event.add("description", f"{row.kind} {row.size}. {'; '.join(sorted({instrument.due[n].why for n in strings}))}.")
            calendar.add_component(event)
        if instrument.out is not None and instrument.out.due is not None:
            event = _event(
                row.id, f"luthier {instrument.out.id}", f"{row.label}: back from the luthier", instrument.out.due, made_at
            )
            if instrument.out.said:
                event.add("description", instrument.out.said)
            calendar.add_component(event)
    return bytes(calendar.to_ical())


def _due(instrument: CaredFor) -> dict[date, list[str]]:
    days: dict[date, list[str]] = defaultdict(list)
    for name, string in instrument.due.items():
        if string.due is not None:
            days[string.due].append(name)
    return days


def _event(instrument_id: UUID, what: str, title: str, day: date, made_at: datetime) -> Event:
    event = Event()
    event.add("uid", f"{uuid5(instrument_id, what)}@pondus")
    event.add("dtstamp", made_at)
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    event.add("summary", title)
    event.add("transp", "TRANSPARENT")
    return event

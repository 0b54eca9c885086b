"""How tunings are done by default: the studio's settings, and an instrument's own over them."""

from datetime import UTC
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from sqlmodel import Session, select

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.core.hands.records import Tuning
from pondus.core.instruments import instrument_named
from pondus.core.judgement.situation import check_stance
from pondus.core.pitch.notes import check_a4
from pondus.store.records import tuning_of
from pondus.store.tables import InstrumentRow, SettingsRow, TuningRow, now

OF_STUDIO = frozenset({"string_life_months", "zone", "a4_today"})
"""Settings of the studio that aren't of a tuning."""


def settings_of(session: Session, instrument_id: UUID | None) -> dict[str, Any]:
    """What was set for the studio (None) or for one instrument; empty where nothing was."""
    row = _row(session, instrument_id)
    return {} if row is None else dict(row.values)


def change_settings(session: Session, instrument_id: UUID | None, changes: dict[str, Any]) -> dict[str, Any]:
    """Set some values; None takes a value back to what is in force without it."""
    row = _row(session, instrument_id) or SettingsRow(instrument_id=instrument_id)
    merged = {**row.values, **changes}
    row.values = {key: value for key, value in merged.items() if value is not None}
    row.changed_at = now()
    session.add(row)
    session.flush()
    session.info.pop(_READ, None)
    return dict(row.values)


def in_force(session: Session, instrument: InstrumentRow) -> dict[str, Any]:
    """What a new tuning of this instrument starts from: the studio's settings, the instrument's over them.

    A studio's stance that doesn't fit the instrument is left out.
    """
    studio = settings_of(session, None)
    if studio.get("stance") not in instrument_named(instrument.kind).stances:
        studio.pop("stance", None)
    merged = {**studio, **settings_of(session, instrument.id)}
    given = a4_today(session)
    if given is not None:
        merged["a4"] = given
    return {key: value for key, value in merged.items() if key not in OF_STUDIO}


def a4_today(session: Session) -> float | None:
    """The A that was taken from outside (an oboe, a piano) for today, in Hz; None: none was."""
    kept = settings_of(session, None).get("a4_today")
    if kept is None or kept["day"] != studio_clock(session).today.isoformat():
        return None
    return float(kept["a4"])


def take_a4_today(session: Session, a4: float | None) -> None:
    """Everything that is tuned today takes this A (Hz); None: the studio's own again. Raises BadInput."""
    kept = None if a4 is None else {"day": studio_clock(session).today.isoformat(), "a4": check_a4(a4)}
    change_settings(session, None, {"a4_today": kept})


def studio_values(session: Session) -> dict[str, Any]:
    """What is set for the studio, its A as it is today."""
    values = settings_of(session, None)
    given = a4_today(session)
    return values if given is None else {**values, "a4": given}


def usual_tuning(session: Session, instrument: InstrumentRow) -> TuningRow:
    """A tuning of this instrument as it usually is done; not stored."""
    how = {"stance": instrument.stance, **in_force(session, instrument)}
    how["stance"] = check_stance(instrument_named(instrument.kind), how["stance"])
    return TuningRow(instrument_id=instrument.id, **how)


def usual(session: Session, instrument: InstrumentRow) -> Tuning:
    """How this instrument usually is tuned, as the core takes it."""
    return tuning_of(usual_tuning(session, instrument))


def studio_clock(session: Session) -> Clock:
    """The present moment, with the studio's zone; UTC until a browser or a setting has told it."""
    name = settings_of(session, None).get("zone")
    return Clock(now(), UTC if name is None else zone_named(name))


def first_zone(session: Session, name: str) -> str:
    """The studio's zone: this one, where none was told before. Raises BadInput for a zone there isn't."""
    zone_named(name)
    kept = settings_of(session, None).get("zone")
    return str(change_settings(session, None, {"zone": name})["zone"] if kept is None else kept)


def zone_named(name: str) -> ZoneInfo:
    """A time zone by its name, as in Pacific/Auckland. Raises BadInput."""
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise BadInput("zone", f"“{name[:60]}” isn't a time zone; give one as in Europe/Berlin or Pacific/Auckland.") from None


def read_all_settings(session: Session) -> None:
    """Read the settings of every instrument at once: whoever looks at hundreds asks for none of them again in this session."""
    rows = {row.instrument_id: row for row in session.exec(select(SettingsRow)).all()}
    session.info[_READ] = {None: None} | {key: None for key in session.exec(select(InstrumentRow.id)).all()} | rows


_READ = "settings"


def _row(session: Session, instrument_id: UUID | None) -> SettingsRow | None:
    read: dict[UUID | None, SettingsRow | None] = session.info.get(_READ, {})
    if instrument_id in read:
        return read[instrument_id]
    return session.exec(select(SettingsRow).where(SettingsRow.instrument_id == instrument_id)).first()

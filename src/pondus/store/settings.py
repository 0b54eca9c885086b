"""How tunings are done by default: the studio's settings, and an instrument's own over them."""

from typing import Any
from uuid import UUID

from sqlmodel import Session, select

from pondus.core.instruments import instrument_named
from pondus.core.judgement.situation import STANCES, check_stance
from pondus.store.tables import InstrumentRow, SettingsRow, TuningRow, now

OF_CARE = frozenset({"string_life_months"})
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
    return dict(row.values)


def in_force(session: Session, instrument: InstrumentRow) -> dict[str, Any]:
    """What a new tuning of this instrument starts from: the studio's settings, the instrument's over them.

    A studio's stance that doesn't fit the instrument is left out.
    """
    studio = settings_of(session, None)
    if studio.get("stance") not in STANCES[instrument.kind]:
        studio.pop("stance", None)
    merged = {**studio, **settings_of(session, instrument.id)}
    return {key: value for key, value in merged.items() if key not in OF_CARE}


def usual_tuning(session: Session, instrument: InstrumentRow) -> TuningRow:
    """A tuning of this instrument as it usually is done; not stored."""
    how = {"stance": instrument.stance, **in_force(session, instrument)}
    how["stance"] = check_stance(instrument_named(instrument.kind), how["stance"])
    return TuningRow(instrument_id=instrument.id, **how)


def _row(session: Session, instrument_id: UUID | None) -> SettingsRow | None:
    where = SettingsRow.instrument_id == instrument_id
    return session.exec(select(SettingsRow).where(where)).first()

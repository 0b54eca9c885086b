"""How tunings are done by default: for the studio, and for one instrument; and where the studio is."""

from typing import Any
from uuid import UUID

from apiflask import APIBlueprint
from sqlmodel import Session

from pondus.contracts.bench import TuningSettings
from pondus.contracts.settings import A4Today, FirstZone, SettingsOut, StudioSettings, ZoneOut
from pondus.core.instruments import Instrument, instrument_named
from pondus.store import instruments as instrument_store
from pondus.store import settings as settings_store
from pondus.store.tunings import take_reference
from pondus.web.transaction import looking, transaction
from pondus.web.tunings import checked_settings

blueprint = APIBlueprint("settings", __name__, tag="Settings")


@blueprint.get("/settings")
@blueprint.output(SettingsOut)
def studio_settings() -> SettingsOut:
    """The studio's settings. Raises BadInput."""
    with looking() as session:
        return _studio(session)


def _studio(session: Session) -> SettingsOut:
    values = settings_store.settings_of(session, None)
    return SettingsOut(**{**values, "a4_today": settings_store.a4_today(session)})


@blueprint.post("/settings/a4-today")
@blueprint.input(A4Today, arg_name="told")
@blueprint.output(SettingsOut)
def take_a4_today(told: A4Today) -> SettingsOut:
    """Take an A from outside for everything that is tuned today, on every device; tomorrow the studio's own counts again.

    Raises BadInput.
    """
    with transaction() as session:
        settings_store.take_a4_today(session, told.a4)
        take_reference(session, settings_store.studio_clock(session))
        return _studio(session)


@blueprint.patch("/settings")
@blueprint.input(StudioSettings, arg_name="settings")
@blueprint.output(SettingsOut)
def change_studio_settings(settings: StudioSettings) -> SettingsOut:
    """Change the studio's settings; null takes one back. Raises BadInput."""
    changes = _changes(settings, None)
    if changes.get("zone") is not None:
        settings_store.zone_named(changes["zone"])
    with transaction() as session:
        settings_store.change_settings(session, None, changes)
        return _studio(session)


@blueprint.post("/settings/first-zone")
@blueprint.input(FirstZone, arg_name="told")
@blueprint.output(ZoneOut)
def first_zone(told: FirstZone) -> ZoneOut:
    """The time zone of a browser: the studio's from now on, where none was told before. Raises BadInput."""
    with transaction() as session:
        return ZoneOut(zone=settings_store.first_zone(session, told.zone))


@blueprint.get("/instruments/<uuid:instrument_id>/settings")
@blueprint.output(SettingsOut)
def instrument_settings(instrument_id: UUID) -> SettingsOut:
    """One instrument's own settings. Raises NotFound."""
    with looking() as session:
        instrument_store.instrument(session, instrument_id)
        return SettingsOut(**settings_store.settings_of(session, instrument_id))


@blueprint.patch("/instruments/<uuid:instrument_id>/settings")
@blueprint.input(TuningSettings, arg_name="settings")
@blueprint.output(SettingsOut)
def change_instrument_settings(instrument_id: UUID, settings: TuningSettings) -> SettingsOut:
    """Change one instrument's own settings; null takes one back to the studio's. Raises BadInput or NotFound."""
    with transaction() as session:
        record = instrument_store.instrument(session, instrument_id, hold=True)
        changes = _changes(settings, instrument_named(record.instrument.kind))
        return SettingsOut(**settings_store.change_settings(session, instrument_id, changes))


def _changes(settings: TuningSettings, instrument: Instrument | None) -> dict[str, Any]:
    """What was sent, checked; nulls are kept, they take a value back."""
    taken_back = {
        "fifth_cents" if key == "target" else key: None for key in settings.model_fields_set if getattr(settings, key) is None
    }
    given = type(settings)(**settings.model_dump(exclude_none=True))
    return {**taken_back, **checked_settings(given, instrument)}

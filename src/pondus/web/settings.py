"""How tunings are done by default: for the studio, and for one instrument."""

from typing import Any
from uuid import UUID

from apiflask import APIBlueprint

from pondus.contracts.base import Result
from pondus.core.judgement.plan import OrderSchool
from pondus.core.judgement.situation import Approach, Stance, Who
from pondus.core.pitch import Spelling
from pondus.store import instruments as kept_instruments
from pondus.store import settings as kept
from pondus.web.tunings import TuningSettings, checked
from pondus.web.unit import work

blueprint = APIBlueprint("settings", __name__, tag="Settings")


class SettingsOut(Result):
    """What is set; null: not set here."""

    a4: float | None = None
    fifth_cents: float | None = None
    approach: Approach | None = None
    tolerance_cents: float | None = None
    stance: Stance | None = None
    who: Who | None = None
    spelling: Spelling | None = None
    order: OrderSchool | None = None


@blueprint.get("/settings")
@blueprint.output(SettingsOut)
def studio_settings() -> SettingsOut:
    """The studio's settings."""
    with work() as session:
        return SettingsOut(**kept.settings_of(session, None))


@blueprint.patch("/settings")
@blueprint.input(TuningSettings, arg_name="settings")
@blueprint.output(SettingsOut)
def change_studio_settings(settings: TuningSettings) -> SettingsOut:
    """Change the studio's settings; null takes one back."""
    with work() as session:
        return SettingsOut(**kept.change_settings(session, None, _changes(settings, None)))


@blueprint.get("/instruments/<uuid:instrument_id>/settings")
@blueprint.output(SettingsOut)
def instrument_settings(instrument_id: UUID) -> SettingsOut:
    """One instrument's own settings."""
    with work() as session:
        kept_instruments.instrument(session, instrument_id)
        return SettingsOut(**kept.settings_of(session, instrument_id))


@blueprint.patch("/instruments/<uuid:instrument_id>/settings")
@blueprint.input(TuningSettings, arg_name="settings")
@blueprint.output(SettingsOut)
def change_instrument_settings(instrument_id: UUID, settings: TuningSettings) -> SettingsOut:
    """Change one instrument's own settings; null takes one back to the studio's."""
    with work() as session:
        kind = kept_instruments.instrument(session, instrument_id).instrument.kind
        return SettingsOut(**kept.change_settings(session, instrument_id, _changes(settings, kind)))


def _changes(settings: TuningSettings, kind: str | None) -> dict[str, Any]:
    """What was sent, checked; nulls are kept, they take a value back."""
    taken_back = {
        "fifth_cents" if key == "target" else key: None
        for key in settings.model_fields_set
        if getattr(settings, key) is None
    }
    given = TuningSettings(**settings.model_dump(exclude_none=True))
    return {**taken_back, **checked(given, kind)}

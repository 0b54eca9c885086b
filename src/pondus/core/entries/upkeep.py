"""What is done to instruments or noticed of them, and the room's air, as they are entered."""

from dataclasses import dataclass
from datetime import date, datetime
from typing import get_args

from pondus.core.clock import Clock, check_due, check_moment
from pondus.core.entries.texts import NOTE_LETTERS, check_text
from pondus.core.errors import BadInput
from pondus.core.instruments import Instrument, StringCore
from pondus.core.upkeep.care import CARE_KINDS, SYMPTOMS, CareKind, Symptom, of_string
from pondus.core.upkeep.climate import check_air


@dataclass(frozen=True)
class CareEntry:
    """One thing done or noticed. ``symptom``: of a fault; ``core``: of a new string; ``due``: back from the luthier."""

    kind: CareKind
    at: datetime
    string: str | None = None
    symptom: Symptom | None = None
    core: StringCore | None = None
    said: str = ""
    due: date | None = None


@dataclass(frozen=True)
class ClimateEntry:
    """The room's air: relative humidity in per cent, temperature in degrees Celsius; one of them may be None."""

    at: datetime
    humidity: float | None = None
    celsius: float | None = None


def care_entry(
    instrument: Instrument,
    *,
    kind: str,
    at: datetime,
    clock: Clock,
    string: str | None = None,
    symptom: str | None = None,
    core: str | None = None,
    said: str = "",
    due: date | None = None,
) -> CareEntry:
    """Something of an instrument, checked. Raises BadInput."""
    what = next((known for known in CARE_KINDS if known == kind), None)
    if what is None:
        raise BadInput("kind", f"“{kind}” isn't something entered here; choose from {', '.join(CARE_KINDS)}.")
    fault = next((known for known in SYMPTOMS if known == symptom), None)
    if symptom is not None and fault is None:
        raise BadInput("sign", f"“{symptom}” isn't a valid fault; choose from {', '.join(SYMPTOMS)}.")
    if what == "fault" and fault is None:
        raise BadInput("sign", "Which fault is it? Give its sign.")
    if string is not None:
        instrument.string(string, field="string")
    elif of_string(what, fault):
        raise BadInput("string", "Which string is it? Give its letter.")
    material = next((known for known in get_args(StringCore) if known == core), None)
    if core is not None and material is None:
        raise BadInput("core", f"“{core}” isn't a valid core of a string; choose from {', '.join(get_args(StringCore))}.")
    return CareEntry(
        what,
        check_moment(at, clock, field="on"),
        string,
        fault,
        material,
        check_text(said, field="said", most=NOTE_LETTERS),
        None if due is None else check_due(due, clock),
    )


def climate_entry(*, at: datetime, clock: Clock, humidity: float | None, celsius: float | None) -> ClimateEntry:
    """A measurement of the room, checked. Raises BadInput."""
    check_air(humidity, celsius)
    return ClimateEntry(check_moment(at, clock), humidity, celsius)

"""Care of one instrument of the studio: its entries put together with what its pegs did."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from pondus.core.clock import Clock
from pondus.core.hands.records import FittedInstrument
from pondus.core.instruments import StringCore
from pondus.core.judgement.situation import StringPlace
from pondus.core.upkeep.care import (
    SYMPTOMS,
    CareKind,
    Referral,
    Seen,
    StringDue,
    StringInUse,
    Symptom,
    Watched,
    referrals,
    still_open,
    string_due,
    watched,
)


@dataclass(frozen=True)
class CareKept:
    """One thing done or noticed, as it is kept; a voided one stays and doesn't count."""

    id: UUID
    kind: CareKind
    at: datetime
    string: str | None = None
    symptom: Symptom | None = None
    core: StringCore | None = None
    said: str = ""
    due: date | None = None
    voided: bool = False
    void_reason: str | None = None

    @property
    def headline(self) -> str:
        """What it is, in a few words."""
        if self.kind == "string-changed":
            return f"New {self.string} string"
        if self.kind == "fault" and self.symptom is not None:
            where = "" if self.string is None else f"{self.string}: "
            return where + SYMPTOMS[self.symptom].said
        return {"luthier-out": "To the luthier", "luthier-in": "Back from the luthier"}.get(self.kind, "Note")


@dataclass(frozen=True)
class CaredFor:
    """One instrument: when each string is due, faults that are referred and faults to watch, its entries newest first."""

    instrument: FittedInstrument
    due: dict[str, StringDue]
    referrals: tuple[Referral, ...]
    watched: tuple[Watched, ...]
    entries: tuple[CareKept, ...]

    @property
    def out(self) -> CareKept | None:
        """Its way to the luthier's, while it is there."""
        last = next((one for one in self.entries if one.kind.startswith("luthier") and not one.voided), None)
        return last if last is not None and last.kind == "luthier-out" else None

    def strings_in_use(self) -> list[StringInUse]:
        """Its strings, as far as buying goes. A string worn early is due, whenever it was put on."""
        of = self.instrument
        return [
            StringInUse(of.label, of.kind, of.size, string.name, string.core, self.due[string.name]) for string in of.strings
        ]


_GONE: dict[StringPlace, str] = {"broken": "broken", "off": "missing"}
"""Strings to buy now, and why."""


def cared_for(
    instrument: FittedInstrument, entries: Sequence[CareKept], months: float, slipped: Sequence[frozenset[str]], *, clock: Clock
) -> CaredFor:
    """One instrument's care. ``entries`` newest first; ``months`` strings usually last; ``slipped``: of each of its
    last tunings, oldest first, the strings whose peg gave way.
    """
    standing = [one for one in entries if not one.voided]
    changed = {string.name: string.put_on for string in instrument.strings if string.put_on is not None}
    mended = next((clock.day_of(one.at) for one in standing if one.kind == "luthier-in"), None)
    seen = [
        Seen(one.symptom, one.string, clock.day_of(one.at))
        for one in reversed(standing)
        if one.kind == "fault" and one.symptom is not None
    ]
    referred = referrals(seen, slipped=slipped, changed=changed, mended=mended)
    if instrument.bridge in ("moved", "fallen") and all(one.symptom != "bridge-moved" for one in referred):
        how = "has fallen" if instrument.bridge == "fallen" else "has moved"
        referred = [*referred, Referral("bridge-moved", None, "luthier", f"the bridge {how}")]
    still = still_open(seen, changed=changed, mended=mended)
    worn = {one.string: one.on for one in reversed(still) if one.symptom == "string-false"}
    due = {
        string.name: StringDue(clock.today, _GONE[string.state])
        if string.state in _GONE
        else string_due(
            string.put_on, hours_per_week=instrument.hours_per_week, usual_months=months, worn_on=worn.get(string.name)
        )
        for string in instrument.strings
    }
    return CaredFor(instrument, due, tuple(referred), tuple(watched(still, referred)), tuple(entries))

"""Care of instruments: how long strings last, what faults mean, and when an instrument goes to the luthier.

Strings last 6 to 12 months of daily playing and about 24 of little; where the hours are known that is the same as so many
hours of playing, between those ends. Rust, a layer coming off or falseness end a string's life at once.
"""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS, StringCore, instrument_named

USUAL_LIFE_MONTHS, LEAST_LIFE_MONTHS, MOST_LIFE_MONTHS = 9.0, 6.0, 24.0
LIFE_HOURS = 182.0
"""Half an hour a day for a year, or an hour a day for half of one."""
DAYS_IN_MONTH = 30.44
SOON_DAYS = 28
"""Strings due within this are on the shopping list already."""
SLIPS_IN_A_ROW = 3
SETTLED_AFTER_DAYS = 7
"""A new string may go flat for so long; after that, not staying is a fault."""
JUMPS_PERSIST = 2

Symptom = Literal[
    "peg-slips",
    "peg-sticks",
    "peg-stuck",
    "screw-at-end",
    "screw-stiff",
    "pitch-jumps",
    "wont-stay",
    "string-false",
    "bridge-moved",
]
CareKind = Literal["string-changed", "fault", "luthier-out", "luthier-in", "note"]
CARE_KINDS: tuple[CareKind, ...] = ("string-changed", "fault", "luthier-out", "luthier-in", "note")


@dataclass(frozen=True)
class SymptomFacts:
    """A symptom in words, what it likely comes from, and what to do. ``of_string``: one string's, not the whole
    instrument's.
    """

    said: str
    likely: str
    do: str
    of_string: bool = True


SYMPTOMS: dict[Symptom, SymptomFacts] = {
    "peg-slips": SymptomFacts(
        "the peg slips back",
        "not pushed in, dry air, or worn",
        "push it in while turning; a little chalk or peg compound on the contact rings",
    ),
    "peg-sticks": SymptomFacts(
        "the peg sticks",
        "damp swells the wood",
        "ease it out with a wiggle, one small turn, compound; never force, never pliers",
    ),
    "peg-stuck": SymptomFacts("an adult can’t move the peg", "damp, or grown in", "leave it as it is"),
    "screw-at-end": SymptomFacts(
        "the fine tuner won’t turn further", "out of travel", "set it to the middle, then tune with the peg"
    ),
    "screw-stiff": SymptomFacts("the fine tuner is stiff", "worn or rusty", "have it replaced; no force"),
    "pitch-jumps": SymptomFacts(
        "the pitch jumps after loud playing",
        "the string catches in a groove",
        "a gentle pull, and soft pencil in the grooves of nut and bridge",
    ),
    "wont-stay": SymptomFacts(
        "it won’t stay a day",
        "a new or an old string, a slipping peg, the weather",
        "look at the string’s age, the peg’s log and the humidity",
    ),
    "string-false": SymptomFacts("the string is false, whistles or unravels", "worn", "put a new one on"),
    "bridge-moved": SymptomFacts(
        "the bridge leans, has moved or cracked", "tension", "stop playing it; don’t set it up yourself", of_string=False
    ),
}


def of_string(kind: CareKind, symptom: Symptom | None) -> bool:
    """Whether such an entry must name a string.

    >>> of_string("string-changed", None), of_string("fault", "bridge-moved"), of_string("note", None)
    (True, False, False)
    """
    return kind == "string-changed" or (kind == "fault" and symptom is not None and SYMPTOMS[symptom].of_string)


@dataclass(frozen=True)
class StringDue:
    """When a string wants replacing (None: not known when it was put on), and why."""

    due: date | None
    why: str

    def days_left(self, today: date) -> int | None:
        """Days until then, negative after; None where it isn't known."""
        return None if self.due is None else (self.due - today).days

    def soon(self, today: date, within_days: int = SOON_DAYS) -> bool:
        """Whether it is time to buy one."""
        left = self.days_left(today)
        return left is not None and left <= within_days


def check_life_months(months: float) -> float:
    """The setting of how long strings last. Raises BadInput."""
    if not LEAST_LIFE_MONTHS <= months <= MOST_LIFE_MONTHS:
        raise BadInput(
            "string_life_months",
            f"Strings don’t last {months:g} months as a rule; give {LEAST_LIFE_MONTHS:g} to {MOST_LIFE_MONTHS:g}.",
        )
    return months


def check_hours(hours_per_week: float) -> float:
    """Hours of playing a week. Raises BadInput."""
    if not 0.0 <= hours_per_week <= 80.0:
        raise BadInput("hours_per_week", f"{hours_per_week:g} hours a week can’t be right; give 0 to 80.")
    return hours_per_week


def life_months(hours_per_week: float | None, *, usual_months: float = USUAL_LIFE_MONTHS) -> float:
    """How long a string lasts, by the hours it is played a week, if they are known.

    >>> [round(life_months(hours)) for hours in (7.0, 3.5, 0.5, None)]
    [6, 12, 24, 9]
    """
    if hours_per_week is None:
        return usual_months
    if hours_per_week <= 0.0:
        return MOST_LIFE_MONTHS
    months = LIFE_HOURS / hours_per_week * 7.0 / DAYS_IN_MONTH
    return min(MOST_LIFE_MONTHS, max(LEAST_LIFE_MONTHS, months))


def string_due(
    put_on: date | None,
    *,
    hours_per_week: float | None = None,
    usual_months: float = USUAL_LIFE_MONTHS,
    worn_on: date | None = None,
) -> StringDue:
    """When a string wants replacing. ``worn_on``: when it was found rusty, false or unravelling.

    >>> string_due(date(2026, 1, 1), hours_per_week=7.0).due
    datetime.date(2026, 7, 3)
    >>> string_due(date(2026, 1, 1), worn_on=date(2026, 2, 1)).why
    'worn'
    """
    if worn_on is not None:
        return StringDue(worn_on, "worn")
    if put_on is None:
        return StringDue(None, "nobody knows when it was put on")
    months = life_months(hours_per_week, usual_months=usual_months)
    by = "" if hours_per_week is None else f" at {hours_per_week:g} hours a week"
    return StringDue(put_on + timedelta(days=round(months * DAYS_IN_MONTH)), f"{months:.0f} months{by}")


@dataclass(frozen=True)
class Wanted:
    """A string to buy, and for which instruments."""

    kind: str
    size: str
    string: str
    core: StringCore
    count: int
    labels: tuple[str, ...]


@dataclass(frozen=True)
class StringInUse:
    """One string of one instrument, as far as buying goes."""

    label: str
    kind: str
    size: str
    string: str
    core: StringCore
    due: StringDue


def shopping_list(strings: Iterable[StringInUse], *, today: date) -> list[Wanted]:
    """What to buy for strings due by then, by instrument, size and string.

    >>> a = StringInUse("Knot", "violin", "3/4", "E", "steel", StringDue(date(2026, 5, 1), "9 months"))
    >>> [(string.string, string.count) for string in shopping_list([a, a], today=date(2026, 4, 20))]
    [('E', 2)]
    """
    due = [string for string in strings if string.due.soon(today)]
    counts = Counter((string.kind, string.size, string.string, string.core) for string in due)
    return [
        Wanted(*key, count, tuple(dict.fromkeys(string.label for string in due if _key(string) == key)))
        for key, count in sorted(counts.items(), key=lambda item: _as_hung_up(*item[0]))
    ]


def _as_hung_up(kind: str, size: str, string: str, core: str) -> tuple[int, int, str, int]:
    """Violins before cellos, large before small, thick strings first."""
    instrument = instrument_named(kind)
    sizes, names = list(instrument.lengths_mm), instrument.string_names
    place = sizes.index(size) if size in sizes else len(sizes)
    return list(INSTRUMENTS).index(instrument.kind), place, core, names.index(string)


def _key(string: StringInUse) -> tuple[str, str, str, str]:
    return string.kind, string.size, string.string, string.core


@dataclass(frozen=True)
class Seen:
    """A fault someone noticed, on one string or (None) the whole instrument."""

    symptom: Symptom
    string: str | None
    on: date


@dataclass(frozen=True)
class Referral:
    """What is to be done about a fault: the luthier, or a new string; and why."""

    symptom: Symptom
    string: str | None
    to: Literal["luthier", "new-string"]
    why: str


def referrals(
    seen: Sequence[Seen],
    *,
    slipped: Sequence[frozenset[str]] = (),
    changed: dict[str, date] | None = None,
    mended: date | None = None,
) -> list[Referral]:
    """What the faults of an instrument come to.

    ``slipped``: of each tuning, oldest first, the strings whose peg gave way in it or the night before. ``changed``: when each
    string was last put on. ``mended``: when the luthier last gave the instrument back; what was before is done with.

    >>> [referral.to for referral in referrals([], slipped=[frozenset("G")] * 3)]
    ['luthier']
    """
    changed = changed or {}
    open_faults = still_open(seen, changed=changed, mended=mended)
    reasons: dict[tuple[Symptom, str | None], Referral] = {}
    for fault in open_faults:
        why = _why(fault, open_faults, changed)
        if why is not None:
            to: Literal["luthier", "new-string"] = "new-string" if fault.symptom == "string-false" else "luthier"
            reasons.setdefault((fault.symptom, fault.string), Referral(fault.symptom, fault.string, to, why))
    for string in slips_in_a_row(slipped):
        why = f"slipped at {SLIPS_IN_A_ROW} tunings in a row"
        reasons.setdefault(("peg-slips", string), Referral("peg-slips", string, "luthier", why))
    return list(reasons.values())


def still_open(seen: Sequence[Seen], *, changed: dict[str, date], mended: date | None) -> list[Seen]:
    """Faults seen since the luthier gave the instrument back, and since their string was put on."""
    return [
        fault
        for fault in seen
        if (mended is None or fault.on > mended)
        and (fault.string is None or fault.string not in changed or fault.on >= changed[fault.string])
    ]


@dataclass(frozen=True)
class Watched:
    """A fault that may still be mended by hand: how often it was seen, and when last."""

    symptom: Symptom
    string: str | None
    count: int
    last: date


def watched(open_faults: Sequence[Seen], referred: Iterable[Referral]) -> list[Watched]:
    """Open faults that aren't referred, the most frequent first.

    >>> seen = [Seen("peg-sticks", "G", date(2026, 5, 1)), Seen("peg-sticks", "G", date(2026, 5, 3))]
    >>> [(watch.count, watch.last.day) for watch in watched(seen, [])]
    [(2, 3)]
    """
    gone = {(referral.symptom, referral.string) for referral in referred}
    left = [fault for fault in open_faults if (fault.symptom, fault.string) not in gone]
    kinds = dict.fromkeys((fault.symptom, fault.string) for fault in left)
    watched_now = []
    for symptom, string in kinds:
        days = [fault.on for fault in left if (fault.symptom, fault.string) == (symptom, string)]
        watched_now.append(Watched(symptom, string, len(days), max(days)))
    return sorted(watched_now, key=lambda seen: (-seen.count, -seen.last.toordinal()))


def _why(fault: Seen, faults: Sequence[Seen], changed: dict[str, date]) -> str | None:
    """Why a fault someone noticed is to be referred; None while it may be mended by hand."""
    at_once: dict[Symptom, str] = {
        "peg-stuck": "an adult can’t move it",
        "screw-stiff": "a stiff fine tuner is always replaced",
        "string-false": "worn",
        "bridge-moved": "the bridge is the luthier’s",
    }
    if fault.symptom in at_once:
        return at_once[fault.symptom]
    same = {other.on for other in faults if (other.symptom, other.string) == (fault.symptom, fault.string)}
    if fault.symptom == "pitch-jumps" and len(same) >= JUMPS_PERSIST:
        return "it goes on after pencil in the grooves"
    if fault.symptom == "peg-slips" and len(same) >= SLIPS_IN_A_ROW:
        return f"seen {len(same)} times"
    if fault.symptom == "wont-stay" and fault.string is not None and fault.string in changed:
        settled = changed[fault.string] + timedelta(days=SETTLED_AFTER_DAYS)
        return "still so a week after a new string" if fault.on >= settled else None
    return None


def slips_in_a_row(slipped: Sequence[frozenset[str]]) -> list[str]:
    """Strings whose peg gave way in each of the last tunings.

    >>> slips_in_a_row([frozenset("GD"), frozenset("G"), frozenset("GA")])
    ['G']
    """
    last = slipped[-SLIPS_IN_A_ROW:]
    return sorted(frozenset.intersection(*last)) if len(last) == SLIPS_IN_A_ROW else []

"""What stands on paper beside the cards: the letters around a string and what they mean, what belongs in a case."""

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Literal

from pondus.core.instruments import Instrument
from pondus.core.judgement import words
from pondus.core.judgement.reading import SLACK_CENTS
from pondus.core.judgement.situation import FineTuner, Peg, PegKind, PegState, StringPlace, situation
from pondus.core.pitch.notes import A4_HZ, Spelling, name_of, shift_hz
from pondus.core.upkeep.care import SYMPTOMS, Symptom
from pondus.core.upkeep.studio import CaredFor, CareKept
from pondus.core.views.cards import Meaning, meaning_of

LetterMeaning = Literal["slack", "peg", "fine-tuner", "right", "stop"]
LOWEST_LETTER, HIGHEST_LETTER = -8, 2
"""Semitones around a string that a chart shows."""
SEMITONE_CENTS = 100.0


@dataclass(frozen=True)
class Letter:
    """One letter a tuner may show of a string, and what it means."""

    said: str
    semitones: int
    meaning: LetterMeaning


@dataclass(frozen=True)
class ChartString:
    """One string of a wall chart: its name and note, its frequency in Hz, and the letters around it, low to high."""

    name: str
    note: str
    hz: float
    letters: tuple[Letter, ...]


def chart_strings(instrument: Instrument, *, a4: float = A4_HZ, spelling: Spelling = "sharps") -> tuple[ChartString, ...]:
    """A chart's strings, thickest first: a letter stands for readings right at it, on strings as they are usually fitted.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> [(each.said, each.meaning) for each in chart_strings(INSTRUMENTS["violin"])[2].letters][-4:]
    [('G♯4', 'fine-tuner'), ('A4', 'right'), ('A♯4', 'fine-tuner'), ('B4', 'stop')]
    """
    strings = []
    for string in instrument.strings:
        facts = situation(instrument, string.name, fine_tuner=FineTuner(), peg=Peg(), a4=a4)
        letters = tuple(
            Letter(
                name_of(string.note_number + semitones, spelling=spelling),
                semitones,
                _letter_meaning(meaning_of(facts, SEMITONE_CENTS * semitones), semitones),
            )
            for semitones in range(LOWEST_LETTER, HIGHEST_LETTER + 1)
        )
        note = name_of(string.note_number, spelling=spelling)
        strings.append(ChartString(string.name, note, shift_hz(facts.target_hz, 0.0), letters))
    return tuple(strings)


def _letter_meaning(meaning: Meaning, semitones: int) -> LetterMeaning:
    if SEMITONE_CENTS * semitones < -SLACK_CENTS:
        return "slack"
    if semitones > 1:
        return "stop"  # on a wall, for everyone: more likely another string, or another octave
    meanings: dict[Meaning, LetterMeaning] = {"leave": "right", "fine-tuner": "fine-tuner", "peg": "peg"}
    return meanings.get(meaning, "stop")


@dataclass(frozen=True)
class CaseString:
    """What Pondus knows of one string: put on when, due when, whether it has a screw, its peg."""

    name: str
    core: str
    has_fine_tuner: bool
    peg_kind: PegKind
    due: date | None = None


@dataclass(frozen=True)
class CaseItem:
    """One thing that belongs in the case, and why, if that isn't plain."""

    said: str
    why: str = ""


SOON_DAYS = 60


def case_items(
    instrument: Instrument, size: str, strings: Sequence[CaseString], *, faults: Collection[Symptom], today: date
) -> tuple[CaseItem, ...]:
    """What belongs in this instrument's case.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> violin = INSTRUMENTS["violin"]
    >>> strings = [CaseString(name, "steel", True, "friction") for name in violin.string_names]
    >>> [item.said for item in case_items(violin, "1/2", strings, faults=["peg-slips"], today=date(2026, 7, 1))][:2]
    ['spare E string, violin 1/2, steel', 'a soft pencil']
    """
    items = [
        CaseItem(f"spare {string.name} string, {instrument.kind} {size}, {string.core}", _spare_why(instrument, string, today))
        for string in reversed(strings)
        if _wants_spare(instrument, string, today)
    ]
    items.append(CaseItem("a soft pencil", "for the grooves of nut and bridge"))
    items.append(CaseItem("a dry cloth", "for strings and rosin dust"))
    items.append(CaseItem("a tuner, and a spare battery for it"))
    if any(string.peg_kind == "friction" for string in strings):
        why = (
            "a peg here slips"
            if "peg-slips" in faults
            else "a peg here sticks"
            if _sticks(faults)
            else "for pegs that slip or stick"
        )
        items.append(CaseItem("peg compound or chalk, for an adult", why))
    items.append(CaseItem("a spare bridge, cut for this instrument", "a blank from a shop doesn't fit; the luthier sets it up"))
    items.append(CaseItem("this instrument’s card, and its card for home"))
    return tuple(items)


def _sticks(faults: Collection[Symptom]) -> bool:
    return "peg-sticks" in faults or "peg-stuck" in faults


def _wants_spare(instrument: Instrument, string: CaseString, today: date) -> bool:
    """The one that snaps first, and whatever is due soon."""
    first = instrument.delicate_string or instrument.string_names[-1]
    return string.name == first or (string.due is not None and (string.due - today).days <= SOON_DAYS)


def _spare_why(instrument: Instrument, string: CaseString, today: date) -> str:
    if string.due is None or (string.due - today).days > SOON_DAYS:
        return "the first to snap"
    late = (today - string.due).days
    return "overdue" if late > 0 else f"due in {-late} days"


@dataclass(frozen=True)
class StandsNow:
    """One string as it stood when it was last tuned, or what became of it."""

    name: str
    off_cents: float | None
    state: StringPlace = "on"
    peg: PegState = "ok"


@dataclass(frozen=True)
class Told:
    """What one tells a parent or a luthier of one instrument: what is wrong and since when, what was tried, what to ask for.
    Each a list of sentences.
    """

    wrong: tuple[str, ...]
    tried: tuple[str, ...]
    ask: tuple[str, ...]
    strings: tuple[str, ...]


_ASK: Mapping[Symptom, str] = {
    "peg-slips": "Fit the pegs anew, or peg compound; ask whether other pegs would hold better.",
    "peg-sticks": "Free the peg and treat it, so that a child can’t force it.",
    "peg-stuck": "Free the peg; nobody here has forced it.",
    "screw-at-end": "Look at the tailpiece and string length: the fine tuner has no travel left.",
    "screw-stiff": "A new fine tuner.",
    "pitch-jumps": "Look at the grooves of nut and bridge.",
    "wont-stay": "Look why the pitch doesn’t stay: pegs, grooves, strings.",
    "string-false": "A new string.",
    "bridge-moved": "Set up the bridge, and look whether the soundpost stands; nothing was tuned up.",
}
_PEG_SAID: Mapping[PegState, tuple[str, str]] = {
    "slips": ("peg slips back", _ASK["peg-slips"]),
    "sticks": ("peg sticks", _ASK["peg-sticks"]),
    "out": ("peg has popped out", "Set the peg in again, and look whether it holds."),
}
FAR_OFF_CENTS = 50.0
"""A string left further off than this doesn't only want a touch before playing."""
_STATE_SAID: Mapping[StringPlace, str] = {"floppy": "floppy", "broken": "broken", "off": "missing"}


def told_of(
    cared: CaredFor,
    strings: Sequence[StandsNow],
    *,
    today: date,
    zone_day: Callable[[datetime], date],
    say_day: Callable[[date], str],
) -> Told:
    """What is told of an instrument ``today``. ``zone_day``: the studio's day of a moment; ``say_day``: a day in words."""

    def day_said(at: datetime) -> str:
        return say_day(zone_day(at))

    standing = [one for one in cared.entries if not one.voided]
    wrong = [*_whole_is_wrong(cared, standing, day_said), *(fault for one in strings for fault in _string_is_wrong(one))]
    tried = [
        f"{day_said(one.at)}: {one.headline}{f', {one.said}' if one.said else ''}."
        for one in standing
        if one.kind in ("fault", "string-changed", "luthier-in", "luthier-out") and (one.said or one.kind != "fault")
    ]
    ask = [mend for _, mend in wrong]
    ask += [f"A new {name} string." for name, when in cared.due.items() if when.soon(today, within_days=0)]
    stands = tuple(f"{one.name}: {_stands_said(one)}" for one in strings)
    return Told(tuple(said for said, _ in wrong), tuple(tried[:12]), tuple(dict.fromkeys(ask)), stands)


def _whole_is_wrong(
    cared: CaredFor, standing: Sequence[CareKept], day_said: Callable[[datetime], str]
) -> Iterator[tuple[str, str]]:
    """What is wrong with an instrument as far as it was noted, and what is asked for it."""
    if cared.out is not None:
        why = f": {cared.out.said}" if cared.out.said else ""
        out = f"It is at the luthier’s since {day_said(cared.out.at)}{why}."
        yield out, "Whether it is done, and whether it can be played."
    referred = [(referral.symptom, referral.string) for referral in cared.referrals]
    for symptom, string in dict.fromkeys([*referred, *((seen.symptom, seen.string) for seen in cared.watched)]):
        noted = [one.at for one in standing if (one.kind, one.symptom, one.string) == ("fault", symptom, string)]
        where = "" if string is None else f"{string} string: "
        when = f", since {day_said(min(noted))}" if noted else ""
        yield f"{where}{SYMPTOMS[symptom].said}{when}.", _ASK[symptom]
    if cared.instrument.bridge == "leans":
        yield "The bridge leans a little.", "Set the bridge upright before it warps."


def _string_is_wrong(one: StandsNow) -> Iterator[tuple[str, str]]:
    if one.state in _STATE_SAID:
        mend = f"Tune the {one.name} string up slowly." if one.state == "floppy" else f"A new {one.name} string."
        yield f"The {one.name} string is {_STATE_SAID[one.state]}.", mend
    elif one.off_cents is not None and abs(one.off_cents) > FAR_OFF_CENTS:
        yield f"The {one.name} string was left {words.off(one.off_cents)}.", "Tune it before it is played."
    if one.peg in _PEG_SAID:
        said, mend = _PEG_SAID[one.peg]
        yield f"The {one.name} {said}.", mend


def _stands_said(one: StandsNow) -> str:
    if one.state in _STATE_SAID:
        return _STATE_SAID[one.state]
    return "not known" if one.off_cents is None else words.off(one.off_cents)

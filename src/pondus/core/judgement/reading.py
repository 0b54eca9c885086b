"""From what the tuner said to where the string stands: candidates, the chosen one, and the state.

The rules, each with its number in docs/RULES.md: R1 other string, R2 octave slip, R3 impossible height, R4 unknown
octave, R5 tolerance, R6 slack.
"""

from dataclasses import dataclass
from typing import Literal

from pondus.core.judgement.situation import Heard, RecentMove, Situation
from pondus.core.mechanics import is_violin_e
from pondus.core.pitch import cents_between, name_of, nearest_note, parse_note, shift_hz
from pondus.core.targets import offset_cents, targets_hz

State = Literal["in-tune", "flat", "sharp", "slack", "unsure", "other-string"]
Doubt = Literal["octave-unknown", "octave-slip", "too-high", "against-last-move"]

OTHER_STRING_CENTS = 60.0
OCTAVE_SLIP_CENTS = 60.0
IMPOSSIBLE_CENTS, IMPOSSIBLE_CENTS_VIOLIN_E = 800.0, 500.0
UNDECIDED_FROM_CENTS = 450.0
SLACK_CENTS = 700.0
ROUNDING_CENTS = 1e-6
"""Float noise only: a reading typed as exactly 3 cents is within 3 cents."""


@dataclass(frozen=True)
class Candidate:
    """One pitch a reading can mean: the note with its octave, and its distance to the asked string's target."""

    note: str
    cents_off: float


@dataclass(frozen=True)
class Judged:
    """Where the string stands. ``cents_off`` is None when unsure; ``other`` names the string it sounds like."""

    state: State
    cents_off: float | None
    candidates: tuple[Candidate, ...]
    octave_known: bool
    doubt: Doubt | None = None
    other: str | None = None


def judge(situation: Situation, heard: Heard, *, sure: bool, recent: RecentMove | None) -> Judged:
    """Where the string stands, or why that can't be told yet."""
    octave_known = heard.hz is not None or parse_note(heard.note or "").number is not None
    candidates = _candidates(situation, heard)
    chosen = candidates[0]
    off = chosen.cents_off
    other = None if sure else sounding_string(situation, off)
    if other is not None:
        return Judged("other-string", off, candidates, octave_known, other=other)
    doubt = _doubt(situation, candidates, octave_known=octave_known, sure=sure, recent=recent)
    if doubt is not None:
        return Judged("unsure", None, candidates, octave_known, doubt=doubt)
    return Judged(state_of(situation, off, octave_known=octave_known), off, candidates, octave_known)


def state_of(
    situation: Situation, cents_off: float, *, octave_known: bool = True
) -> Literal["in-tune", "flat", "sharp", "slack"]:
    """R5, R6: within the tolerance it is in tune; more than 700 cents under, octave known, it is slack."""
    if abs(cents_off) <= situation.tolerance_cents + ROUNDING_CENTS:
        return "in-tune"
    if octave_known and cents_off < -SLACK_CENTS - ROUNDING_CENTS:
        return "slack"
    return "flat" if cents_off < 0 else "sharp"


def _candidates(situation: Situation, heard: Heard) -> tuple[Candidate, ...]:
    """Nearest first. One with a known octave; else the nearest, and the next octave's where that can be true too."""
    if heard.hz is not None:
        name = nearest_note(heard.hz, a4=situation.a4, spelling=situation.spelling).name
        return (Candidate(name, cents_between(heard.hz, situation.target_hz)),)
    assert heard.note is not None and heard.cents is not None
    note = parse_note(heard.note)
    if note.number is not None:
        return (_candidate(situation, note.number, heard.cents),)
    return _octaves(situation, note.pitch_class, heard.cents)


def _candidate(situation: Situation, number: int, cents: float) -> Candidate:
    """A written note and cents against the target, exact in cents (no way round by Hz)."""
    offset = offset_cents(situation.string, fifth_cents=situation.fifth_cents)
    off = 100.0 * (number - situation.string.note_number) + cents - offset
    return Candidate(name_of(number, spelling=situation.spelling), off)


def _octaves(situation: Situation, pitch_class: int, cents: float) -> tuple[Candidate, ...]:
    """R4: the readings of a note without octave that lie nearest above and below the target, nearest first."""
    base = situation.string.note_number
    number = base + (pitch_class - base) % 12
    found = [_candidate(situation, number + 12 * octave, cents) for octave in (-1, 0, 1)]
    found.sort(key=lambda candidate: (abs(candidate.cents_off), -candidate.cents_off))
    nearest, second = found[0], found[1]
    undecided = abs(nearest.cents_off) >= UNDECIDED_FROM_CENTS - ROUNDING_CENTS
    fits = abs(second.cents_off) < 1200.0 - OCTAVE_SLIP_CENTS and second.cents_off <= highest_cents(situation)
    return (nearest, second) if undecided or fits else (nearest,)


def highest_cents(situation: Situation) -> float:
    """R3: past this a string would have snapped: 800 cents sharp, a violin's E 500."""
    return IMPOSSIBLE_CENTS_VIOLIN_E if is_violin_e(situation.instrument, situation.string) else IMPOSSIBLE_CENTS


def sounding_string(situation: Situation, cents_off: float) -> str | None:
    """R1: the other open string within 60 cents of the reading, if any."""
    heard_hz = shift_hz(situation.target_hz, cents_off)
    targets = targets_hz(situation.instrument, a4=situation.a4, fifth_cents=situation.fifth_cents)
    for name, hz in targets.items():
        if name != situation.string.name and abs(cents_between(heard_hz, hz)) <= OTHER_STRING_CENTS + ROUNDING_CENTS:
            return name
    return None


def _doubt(
    situation: Situation,
    candidates: tuple[Candidate, ...],
    *,
    octave_known: bool,
    sure: bool,
    recent: RecentMove | None,
) -> Doubt | None:
    """Why the nearest candidate can't be taken, if it can't."""
    off = candidates[0].cents_off
    if not octave_known:
        if abs(off) >= UNDECIDED_FROM_CENTS - ROUNDING_CENTS:
            return "octave-unknown"
        if recent is not None and off > _highest_after(situation, recent):
            return "against-last-move"
    if off > highest_cents(situation) + ROUNDING_CENTS:
        return "too-high"
    if not sure and abs(abs(off) - 1200.0) <= OCTAVE_SLIP_CENTS + ROUNDING_CENTS:
        return "octave-slip"
    return None


def _highest_after(situation: Situation, recent: RecentMove) -> float:
    """The sharpest a string can stand after its last move: a string does not tighten itself.

    Twice the expected effect of a raise, and 100 cents of grace for weather, misreading and rounding.
    """
    rate = situation.screw_rate if recent.mechanism == "fine-tuner" else situation.peg_rate
    raised = 2.0 * rate.cents * recent.amount_in_own_unit if recent.direction == "raise" else 0.0
    return recent.from_cents + raised + 100.0

"""From what the tuner said to where the string stands: candidates, the chosen one, and the state.

The rules, each with its number in docs/RULES.md: R1 other string, R2 octave slip, R3 impossible height, R4 unknown
octave, R5 tolerance, R6 slack, R80 sides and bare letters.
"""

from dataclasses import dataclass, replace
from typing import Literal

from pondus.core.figures import Cents
from pondus.core.instruments.mechanics import breaking_point_cents, is_violin_e
from pondus.core.instruments.targets import offset_cents, targets_hz
from pondus.core.judgement.heard import WAYS, Heard, ShownSide
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import Situation
from pondus.core.pitch.notes import cents_between, name_of, nearest_note, parse_note, shift_hz

State = Literal["in-tune", "flat", "sharp", "slack", "unsure", "other-string", "no-effect", "wrong-way", "broken", "off"]
Doubt = Literal["octave-unknown", "octave-slip", "too-high", "against-last-move", "this-or-neighbour", "which-side"]

OTHER_STRING_CENTS = 60.0
OCTAVE_SLIP_CENTS = 60.0
IMPOSSIBLE_CENTS, IMPOSSIBLE_CENTS_VIOLIN_E = 800.0, 500.0
UNDECIDED_FROM_CENTS = 450.0
GUESSED_UP_TO_CENTS, CAME_DOWN_FROM_CENTS = 250.0, 100.0
"""R4: sharper than the first, a letter without octave is asked about; a string that came down on a guess from past the second
is asked about once before it counts as in tune.
"""
OWN_NOTE_CENTS = 50.0
"""A letter this near the target is the string's own note."""
SLACK_CENTS, SLACK_UNTIL_CENTS = 700.0, 100.0
PEG_CANT_DO_BETTER_CENTS = 5.0
"""R82: how near a friction peg alone gets; within this it is left, whatever the tolerance."""
ROUNDING_CENTS = 1e-6
"""Float noise only: a reading typed as exactly 3 cents is within 3 cents."""


@dataclass(frozen=True)
class Candidate:
    """One pitch a reading can mean: the note with its octave, and its distance to the asked string's target."""

    note: str
    cents_off: Cents


@dataclass(frozen=True)
class Judged:
    """Where the string stands. ``cents_off`` is None when unsure, or where only a ``side`` is known; ``other`` names the string
    it sounds like. ``give_or_take``: how far off ``cents_off`` may be, where a letter was all there was.
    """

    state: State
    cents_off: float | None
    candidates: tuple[Candidate, ...]
    octave_known: bool
    doubt: Doubt | None = None
    other: str | None = None
    side: ShownSide | None = None
    give_or_take: float = 0.0


def judge(situation: Situation, heard: Heard, *, sure: bool, recent: RecentMove | None) -> Judged:
    """Where the string stands, or why that can't be told yet."""
    if heard.note is None and heard.hz is None:
        assert heard.side is not None
        return Judged(WAYS[heard.side], None, (), True, side=heard.side)
    octave_known = heard.hz is not None or parse_note(heard.note or "").number is not None
    candidates = _candidates(situation, heard)
    off = candidates[0].cents_off
    if not heard.has_figure and abs(off) <= OWN_NOTE_CENTS + ROUNDING_CENTS:
        if not octave_known and (situation.octave_guessed or situation.octave_in_doubt):
            both = (*_octave_below(situation, candidates[0]), candidates[0])
            return Judged("unsure", None, both, octave_known, doubt="octave-unknown")
        own = candidates[:1]
        if heard.side is None:
            return Judged("unsure", None, own, octave_known, doubt="which-side")
        return Judged(WAYS[heard.side], None, own, octave_known, side=heard.side)
    judged = _judged(situation, candidates, octave_known=octave_known, sure=sure, recent=recent)
    return judged if heard.has_figure else replace(judged, give_or_take=OWN_NOTE_CENTS)


def _judged(
    situation: Situation, candidates: tuple[Candidate, ...], *, octave_known: bool, sure: bool, recent: RecentMove | None
) -> Judged:
    off = min((candidate.cents_off for candidate in candidates), key=abs)
    other = None if sure else sounding_string(situation, off)
    if other is not None:
        return Judged("other-string", off, candidates, octave_known, other=other)
    doubt = _doubt(situation, candidates, octave_known=octave_known, sure=sure, recent=recent)
    if doubt is not None:
        other = _neighbour(situation, candidates) if doubt == "this-or-neighbour" else None
        if doubt == "octave-unknown" and len(candidates) == 1:
            candidates = (*_octave_below(situation, candidates[0]), *candidates)
        return Judged("unsure", None, candidates, octave_known, doubt=doubt, other=other)
    slack = is_slack(situation, off, octave_known=octave_known, recent=recent)
    return Judged("slack" if slack else state_of(situation, off), off, candidates, octave_known)


def tolerance_of(situation: Situation) -> float:
    """R5, R82: within so many cents of its target a string is left as it is."""
    own = situation.tolerance_cents
    return max(own, PEG_CANT_DO_BETTER_CENTS) if situation.by_peg_alone else own


def state_of(situation: Situation, cents_off: float) -> Literal["in-tune", "flat", "sharp", "slack"]:
    """R5, R6: within the tolerance it is in tune; more than 700 cents under it is slack."""
    if abs(cents_off) <= tolerance_of(situation) + ROUNDING_CENTS:
        return "in-tune"
    if cents_off < -SLACK_CENTS - ROUNDING_CENTS:
        return "slack"
    return "flat" if cents_off < 0 else "sharp"


def is_slack(situation: Situation, cents_off: float, *, octave_known: bool = True, recent: RecentMove | None = None) -> bool:
    """R6: slack begins more than 700 cents under (octave known), and lasts until the string is within 100 cents."""
    if cents_off >= -SLACK_UNTIL_CENTS - ROUNDING_CENTS:
        return False
    came = recent is not None and recent.from_cents is not None and recent.from_cents < -SLACK_CENTS - ROUNDING_CENTS
    return situation.slack or came or (octave_known and cents_off < -SLACK_CENTS - ROUNDING_CENTS)


def _candidates(situation: Situation, heard: Heard) -> tuple[Candidate, ...]:
    """Nearest first. One with a known octave; else the nearest, and the next octave's where that can be true too."""
    if heard.hz is not None:
        name = nearest_note(heard.hz, a4=situation.a4, spelling=situation.spelling).name
        return (Candidate(name, cents_between(heard.hz, situation.target_hz)),)
    assert heard.note is not None
    note = parse_note(heard.note)
    if note.number is not None:
        return (_candidate(situation, note.number, heard.cents or 0.0),)
    return _octaves(situation, note.pitch_class, heard.cents or 0.0)


def _candidate(situation: Situation, number: int, cents: float) -> Candidate:
    """A written note and cents against the target, exact in cents (no way round by Hz)."""
    offset = offset_cents(situation.string, fifth_cents=situation.fifth_cents)
    off = 100.0 * (number - situation.string.note_number) + cents - offset
    return Candidate(name_of(number, spelling=situation.spelling), off)


def _octaves(situation: Situation, pitch_class: int, cents: float) -> tuple[Candidate, ...]:
    """R4: the readings of a note without octave that can be, nearest first: none past breaking but another open string's own
    pitch. Where both are far, the lower first: a string does not tighten itself.
    """
    base = situation.string.note_number
    number = base + (pitch_class - base) % 12
    highest = breaking_cents(situation)
    candidates = [_candidate(situation, number + 12 * octave, cents) for octave in (-2, -1, 0, 1)]
    candidates = [
        candidate
        for candidate in candidates
        if candidate.cents_off <= highest + ROUNDING_CENTS or sounding_string(situation, candidate.cents_off) is not None
    ]
    candidates.sort(key=lambda candidate: (abs(candidate.cents_off), candidate.cents_off))
    nearest, second = candidates[0], candidates[1]
    if abs(nearest.cents_off) >= UNDECIDED_FROM_CENTS - ROUNDING_CENTS:
        both = abs(second.cents_off) <= 1200.0 - UNDECIDED_FROM_CENTS + ROUNDING_CENTS
        return tuple(sorted(candidates[:2], key=lambda candidate: candidate.cents_off)) if both else (nearest,)
    return (nearest, second) if abs(second.cents_off) < 1200.0 - OCTAVE_SLIP_CENTS else (nearest,)


def _octave_below(situation: Situation, candidate: Candidate) -> tuple[Candidate, ...]:
    note = parse_note(candidate.note)
    assert note.number is not None
    below = name_of(note.number - 12, spelling=situation.spelling)
    return (Candidate(below, candidate.cents_off - 1200.0),)


def breaking_cents(situation: Situation) -> float:
    """How far above its target the string may be expected to snap."""
    return breaking_point_cents(situation.instrument, situation.string, string_age_days=situation.string_age_days)


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


def _neighbour(situation: Situation, candidates: tuple[Candidate, ...]) -> str | None:
    """R4: the other string whose own pitch is among what a letter without octave may mean here."""
    others = (sounding_string(situation, candidate.cents_off) for candidate in candidates)
    return next((other for other in others if other is not None), None)


def _doubt(
    situation: Situation, candidates: tuple[Candidate, ...], *, octave_known: bool, sure: bool, recent: RecentMove | None
) -> Doubt | None:
    """Why the nearest candidate can't be taken, if it can't."""
    off = min((candidate.cents_off for candidate in candidates), key=abs)
    if not octave_known:
        if situation.octave_in_doubt or _came_down_on_a_guess(situation, off, recent):
            return "octave-unknown"
        if abs(off) >= UNDECIDED_FROM_CENTS - ROUNDING_CENTS:
            if not sure and _neighbour(situation, candidates) is not None:
                return "this-or-neighbour"
            if len(candidates) > 1:
                return "octave-unknown"
        elif off > _guessed_up_to(situation) + ROUNDING_CENTS and len(candidates) > 1:
            return "octave-unknown"
        if recent is not None and _is_against(situation, recent, off):
            return "against-last-move"
    if off > highest_cents(situation) + ROUNDING_CENTS:
        return "too-high"
    if not sure and abs(abs(off) - 1200.0) <= OCTAVE_SLIP_CENTS + ROUNDING_CENTS:
        return "octave-slip"
    return None


def _guessed_up_to(situation: Situation) -> float:
    return CAME_DOWN_FROM_CENTS / 2.0 if situation.others_far_down else GUESSED_UP_TO_CENTS


def _came_down_on_a_guess(situation: Situation, off: float, recent: RecentMove | None) -> bool:
    """R4: whether the string was let down from a height that was no more than a guess, and would count as in tune now: by then
    it may be a whole octave low.
    """
    if state_of(situation, off) != "in-tune":
        return False
    if situation.octave_guessed is not None:
        return situation.octave_guessed
    return recent is not None and recent.direction == "lower" and (recent.from_cents or 0.0) >= CAME_DOWN_FROM_CENTS


def _is_against(situation: Situation, recent: RecentMove, cents_off: float) -> bool:
    """Whether the string would stand higher than its last move can have brought it: twice the expected effect of a raise, and
    100 cents of grace for weather, misreading and rounding. A string does not tighten itself.
    """
    amount = recent.amount_in_own_unit
    if recent.from_cents is None or (amount is None and recent.direction == "raise"):
        return False
    rate = situation.screw_rate if recent.mechanism == "fine-tuner" else situation.peg_rate
    raised = 2.0 * rate.cents * amount if recent.direction == "raise" and amount is not None else 0.0
    return cents_off > recent.from_cents + raised + 100.0

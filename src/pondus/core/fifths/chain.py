"""The chain of fifths from A: each string against its target and each fifth against the school, and what mends most.

Errors add up string by string from A, the reference. Too wide a fifth has a flat lower string (raise it), or, above A, a
sharp upper one (the violin's E: lower it). Rules R52 to R56.
"""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

from pondus.core.fifths.beats import Fifth, fifth_between, fifth_from_pure
from pondus.core.instruments import Instrument
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS, targets_hz
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.mechanism import Choice
from pondus.core.judgement.procedure import procedure
from pondus.core.judgement.reading import PEG_CANT_DO_BETTER_CENTS
from pondus.core.judgement.situation import Situation
from pondus.core.judgement.string_order import order_of
from pondus.core.pitch.notes import A4_HZ, cents_between, shift_hz

Pair = tuple[str, str]
Verdict = Literal["right", "wide", "narrow"]
WORTH_CENTS = 1.5
WORTH_A_PULL_CENTS = 3.0
"""R54: a pull lets a string down by 2 to 10 cents."""


@dataclass(frozen=True)
class Link:
    """One fifth of the chain. ``from_temperament_cents`` positive: wider than the school has it. ``lower_hz``: where its lower
    string stands, or should where that isn't known.
    """

    lower: str
    upper: str
    lower_hz: float
    fifth: Fifth
    from_temperament_cents: float
    verdict: Verdict


@dataclass(frozen=True)
class Chain:
    """All that is known: ``strings`` cents off target of each known string, ``links`` the fifths between known ones."""

    strings: dict[str, float]
    links: tuple[Link, ...]

    def link(self, lower: str, upper: str) -> Link | None:
        """The fifth between two strings, if known."""
        return next((link for link in self.links if (link.lower, link.upper) == (lower, upper)), None)


@dataclass(frozen=True)
class Correction:
    """The one move that mends most: bring ``string`` by ``change_cents`` (positive raises) so that ``right`` comes right.

    ``right`` is the fifth it mends, None when the string goes to its own target. ``other`` is the fifth that shares the
    string, and ``other_after_cents`` how far from the school that one will be. ``total_before_cents`` and
    ``total_after_cents`` add up all fifths' and strings' distances.
    """

    string: str
    change_cents: float
    right: Pair | None
    other: Pair | None
    other_after_cents: float | None
    total_before_cents: float
    total_after_cents: float


def chain(
    instrument: Instrument,
    hz: Mapping[str, float],
    *,
    a4: float = A4_HZ,
    fifth_cents: float = TEMPERED_FIFTH_CENTS,
    tolerance_cents: float = 3.0,
    heard_from_pure: Mapping[Pair, float] | None = None,
) -> Chain:
    """The chain of the strings known in Hz. ``heard_from_pure``: fifths measured together (double stop, beats), which count
    more than what two single readings make.
    """
    targets = targets_hz(instrument, a4=a4, fifth_cents=fifth_cents)
    heard = heard_from_pure or {}
    links = []
    for lower, upper in pairwise(instrument.string_names):
        fifth = _fifth(lower, upper, hz, heard, targets)
        if fifth is not None:
            off = fifth.interval_cents - fifth_cents
            links.append(Link(lower, upper, hz.get(lower, targets[lower]), fifth, off, _verdict(off, tolerance_cents)))
    strings = {name: cents_between(hz[name], targets[name]) for name in instrument.string_names if name in hz}
    return Chain(strings, tuple(links))


def _fifth(
    lower: str, upper: str, hz: Mapping[str, float], heard: Mapping[Pair, float], targets: Mapping[str, float]
) -> Fifth | None:
    if (lower, upper) in heard:
        return fifth_from_pure(hz.get(lower, targets[lower]), heard[lower, upper])
    if lower in hz and upper in hz:
        return fifth_between(hz[lower], hz[upper])
    return None


def _verdict(off: float, tolerance_cents: float) -> Verdict:
    if abs(off) <= tolerance_cents + 1e-9:
        return "right"
    return "wide" if off > 0 else "narrow"


def towards_a(instrument: Instrument, string: str) -> Pair | None:
    """R52: the fifth that fixes a string: with its neighbour nearer to A, lower first. A itself has none.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> towards_a(INSTRUMENTS["violin"], "E"), towards_a(INSTRUMENTS["violin"], "G")
    (('A', 'E'), ('G', 'D'))
    """
    names = instrument.string_names
    place, a = names.index(string), names.index("A")
    if place == a:
        return None
    return (names[place], names[place + 1]) if place < a else (names[place - 1], names[place])


def change_to_mend(string: str, link: Link) -> float:
    """R53: cents by which a string must go (positive: up) for its fifth to come right: a wide fifth wants its lower string
    raised, or its upper one lowered.
    """
    return link.from_temperament_cents if string == link.lower else -link.from_temperament_cents


def next_correction(
    instrument: Instrument, now: Chain, *, tolerance_cents: float, coarse: Collection[str] = (), pulls: bool = True
) -> Correction | None:
    """R54: A first where it is off its target, for it is the reference; then the move that leaves the least, all fifths and
    strings taken together. ``coarse`` names strings that only a friction peg turns: left alone unless they are off
    themselves, or a pull can let them down (``pulls``: this house pulls). None when nothing is out by more than the
    tolerance, or too little is known.
    """
    a_off = now.strings.get("A")
    if a_off is not None and abs(a_off) > tolerance_cents + 1e-9:
        return _mend(instrument, now, "A", -a_off, None)
    left_within = max(tolerance_cents, PEG_CANT_DO_BETTER_CENTS)
    choices = [
        _mend(instrument, now, name, change, pair)
        for name in order_of(instrument, "A-outward")
        for pair, change in _changes(instrument, now, name)
        if abs(change) > min(WORTH_CENTS, tolerance_cents)
        and (name not in coarse or abs(now.strings.get(name, 0.0)) > left_within or (pulls and change <= -WORTH_A_PULL_CENTS))
    ]
    whole = len(now.links) == len(instrument.string_names) - 1
    wrong = any(link.verdict != "right" for link in now.links)
    off = any(abs(string) > tolerance_cents + 1e-9 for string in now.strings.values())
    # Fifths that are right ask for nothing: what a string alone reads off then is their school, or adds up from A.
    if not (wrong or (off and not whole)) or not choices:
        return None
    best = min(choices, key=lambda correction: round(correction.total_after_cents, 3))
    return best if best.total_before_cents - best.total_after_cents > WORTH_CENTS else None


MENDED_WITHIN_CENTS = 0.5


def only_coarse(situations: Iterable[Situation]) -> tuple[str, ...]:
    """The strings that only a friction peg turns: they go by jumps, and can't be brought a cent or two."""
    return tuple(
        situation.string.name for situation in situations if situation.fine_tuner is None and situation.peg.kind == "friction"
    )


def facts_to_correct(facts: Situation, right: Pair | None) -> Situation:
    """The string's situation with a tolerance fine enough for a mend: a fifth may be out though both strings are good. Where a
    fifth is to come right (``right``), that is what is listened to while it turns, and no tuner.
    """
    tolerance = min(facts.tolerance_cents, MENDED_WITHIN_CENTS)
    other = None if right is None else next(name for name in right if name != facts.string.name)
    return replace(facts, tolerance_cents=tolerance, fifth_with=other)


def advice_to_correct(facts: Situation, change_cents: float, right: Pair | None = None) -> Advice:
    """How a string is brought so far (positive: up): its own advice, as if it were off by what its fifth wants; one that only a
    peg turns, and that is well by itself, is let down by a pull.
    """
    fine = facts_to_correct(facts, right)
    advice = advise(fine, Heard(hz=shift_hz(fine.target_hz, -change_cents)), sure_of_string=True)
    if advice.steps or change_cents > -WORTH_A_PULL_CENTS or not fine.pulls_down:
        return advice
    laid = procedure(fine, Choice("peg", "lower", "tug"), -change_cents)
    return replace(advice, state="sharp", pitch="lower", steps=tuple(laid.steps))


def _changes(instrument: Instrument, now: Chain, name: str) -> list[tuple[Pair | None, float]]:
    """What may be done with a string: bring its fifth towards A right, or the string to its own target."""
    pair = towards_a(instrument, name)
    link = None if pair is None else now.link(*pair)
    changes: list[tuple[Pair | None, float]] = []
    if link is not None:
        changes.append((pair, change_to_mend(name, link)))
    if name in now.strings:
        changes.append((None, -now.strings[name]))
    return changes


def _mend(instrument: Instrument, now: Chain, name: str, change: float, right: Pair | None) -> Correction:
    after = moved(now, name, change)
    other = next((link for link in now.links if name in (link.lower, link.upper) and _pair(link) != right), None)
    shared = None if other is None else after.link(other.lower, other.upper)
    return Correction(
        name,
        change,
        right,
        None if other is None else _pair(other),
        None if shared is None else shared.from_temperament_cents,
        _total(now),
        _total(after),
    )


def moved(now: Chain, name: str, change_cents: float) -> Chain:
    """R55: the chain after one string has gone so far: its own distance, and both fifths that share it. Verdicts stay as
    they were; the figures are what counts here.
    """
    strings = {string: off + (change_cents if string == name else 0.0) for string, off in now.strings.items()}
    links = []
    for link in now.links:
        wider = change_cents * ((link.upper == name) - (link.lower == name))
        fifth = fifth_from_pure(link.lower_hz, link.fifth.from_pure_cents + wider)
        links.append(replace(link, fifth=fifth, from_temperament_cents=link.from_temperament_cents + wider))
    return Chain(strings, tuple(links))


def _pair(link: Link) -> Pair:
    return (link.lower, link.upper)


def _total(now: Chain) -> float:
    return sum(abs(link.from_temperament_cents) for link in now.links) + sum(abs(off) for off in now.strings.values())


def pure_reads_off(instrument: Instrument, string: str, fifth_cents: float) -> str | None:
    """R56: one line where a right string reads off on a tuner, so that nobody corrects it. None where it doesn't.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> pure_reads_off(INSTRUMENTS["violin"], "D", PURE_FIFTH_CENTS)
    'A tuner shows D at −2.0 when it is right: a pure fifth is 2 cents wider than the tuner’s. Leave it.'
    """
    data = instrument.string(string)
    off = (fifth_cents - TEMPERED_FIFTH_CENTS) * data.fifths_above_a
    if abs(off) < 0.05:
        return None
    shown = f"{off:+.1f}".replace("-", "−")
    wider = fifth_cents - TEMPERED_FIFTH_CENTS
    which = "a pure fifth" if fifth_cents >= PURE_FIFTH_CENTS - 0.01 else "this school’s fifth"
    amount = "2 cents" if abs(wider - 1.955) < 0.06 else f"{wider:.1f} cents"
    return f"A tuner shows {string} at {shown} when it is right: {which} is {amount} wider than the tuner’s. Leave it."

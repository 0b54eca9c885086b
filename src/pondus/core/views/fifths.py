"""What the fifths screen says of a tuning: the chain, the correction that mends most, each fifth to listen to. Plain data.

Cents of a fifth are positive where it is wide; of a string where it is sharp. Frequencies in Hz, beats per second.
"""

from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Literal
from uuid import UUID

from pondus.core.fifths import chain_words
from pondus.core.fifths.beats import fifth_between, fifth_from_pure, harmonics_of, too_slow_to_count
from pondus.core.fifths.chain import (
    Chain,
    Correction,
    Pair,
    Verdict,
    advice_to_correct,
    chain,
    next_correction,
    only_coarse,
    pure_reads_off,
    towards_a,
)
from pondus.core.figures import Cents, Hz
from pondus.core.hands.fifth_checks import disagreements, holding_checks
from pondus.core.hands.records import FifthCheck, FittedInstrument
from pondus.core.hands.state import StringState, TuningNow
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS
from pondus.core.judgement.steps import Step
from pondus.core.pitch.notes import A4_HZ, name_of, shift_hz
from pondus.core.pitch.tones import LEVEL, partial_levels
from pondus.core.views.bench import HoldView, hold_view
from pondus.core.views.bench_words import cautions_now

SoundName = Literal["as it is", "as it should be", "pure, as it should be", "tempered, as it should be", "pure", "tempered"]
Way = Literal["two-readings", "double-stop", "harmonics", "tapped", "by-ear"]
SAME_WIDTH_CENTS = 0.01


@dataclass(frozen=True)
class SoundView:
    """A fifth to listen to: both pitches and what they beat; levels of partials, 0 to 1."""

    name: SoundName
    lower_hz: float
    upper_hz: float
    beats_hz: float
    lower_partials: list[float]
    upper_partials: list[float]
    level: float


@dataclass(frozen=True)
class ChainStringView:
    """One string of the chain; ``cents_off`` None: not known. ``pending``: turned and not heard since."""

    name: str
    note: str
    target_hz: Hz
    hz: Hz | None
    cents_off: Cents | None
    pending: bool
    tuner_line: str | None


@dataclass(frozen=True)
class HarmonicsView:
    """The two harmonics of a fifth: how to sound them, where they should be (Hz), and how far apart they are now."""

    how: str
    octave_hz: Cents
    twelfth_hz: Cents
    twelfth_above_octave_cents: Cents | None
    should_be_cents: Cents


@dataclass(frozen=True)
class LinkView:
    """One fifth. Figures are None until it is known. ``temperament_beats_hz``: what it beats when it is right."""

    lower: str
    upper: str
    interval_cents: Cents | None
    from_pure_cents: Cents | None
    from_temperament_cents: Cents | None
    verdict: Verdict | None
    beats_hz: float | None
    temperament_beats_hz: Hz
    temperament_beats_said: str
    way: Way | None
    plus_minus_cents: Cents | None
    said: str
    beats_said: str
    slow_said: str | None
    ask_small_move: str | None
    harmonics: HarmonicsView
    sounds: list[SoundView]


@dataclass(frozen=True)
class CorrectionView:
    """The one move that mends most: what and why, and how to turn it."""

    string: str
    change_cents: Cents
    play: list[str]
    said: str
    why: str
    step: Step | None
    cautions_said: list[str]
    later: int


@dataclass(frozen=True)
class CheckLine:
    """One line of the checks made."""

    id: UUID
    at: datetime
    lower: str
    upper: str
    text: str
    struck: bool
    late: bool


@dataclass(frozen=True)
class FifthsView:
    """Everything the fifths screen says. ``to_play``: the two strings to bow together next, lower first; empty where it doesn't
    matter. ``..._from_temperament_cents``: where a pure and a tempered fifth stand against the chosen width.
    """

    hold: HoldView
    strings: list[ChainStringView]
    links: list[LinkView]
    mend: CorrectionView | None
    to_play: list[str]
    said: str
    pure_from_temperament_cents: float
    tempered_from_temperament_cents: float
    checks: list[CheckLine]


def fifths_view(instrument: FittedInstrument, now: TuningNow) -> FifthsView:
    """The chain of a tuning."""
    view, log = _View(instrument, now), now.log
    mend = view.correction()
    return FifthsView(
        hold=hold_view(log.tuning.stance, instrument.facts),
        strings=[view.string(state) for state in view.states.values()],
        links=[view.link(pair) for pair in pairwise(view.instrument.string_names)],
        mend=mend,
        to_play=view.to_play(mend),
        said=view.said(),
        pure_from_temperament_cents=PURE_FIFTH_CENTS - log.tuning.fifth_cents,
        tempered_from_temperament_cents=TEMPERED_FIFTH_CENTS - log.tuning.fifth_cents,
        checks=[_check(check) for check in reversed(log.checks)],
    )


class _View:
    """One tuning's chain, worked out once."""

    def __init__(self, instrument: FittedInstrument, now: TuningNow) -> None:
        log = now.log
        self.tuning = log.tuning
        self.instrument = instrument.facts
        self.states: dict[str, StringState] = {state.string.name: state for state in now.states}
        self.targets = {name: state.situation.target_hz for name, state in self.states.items()}
        self.holding = holding_checks(log, self.instrument)
        self.hz = {name: state.hz for name, state in self.states.items() if state.hz is not None}
        heard = {pair: check.from_pure_cents for pair, check in self.holding.items() if check.from_pure_cents is not None}
        self.chain: Chain = chain(
            self.instrument,
            self.hz,
            a4=self.tuning.a4,
            fifth_cents=self.tuning.fifth_cents,
            tolerance_cents=self.tuning.tolerance_cents,
            heard_from_pure=heard,
        )
        self.turned = [name for name, state in self.states.items() if state.pending is not None]
        self.disagree = {disagreement.pair: disagreement for disagreement in disagreements(log, self.instrument)}
        coarse = only_coarse(state.situation for state in self.states.values())
        self.next: Correction | None = (
            None
            if self.turned or self.disagree
            else next_correction(
                self.instrument,
                self.chain,
                tolerance_cents=self.tuning.tolerance_cents,
                coarse=coarse,
                pulls="peg-back" not in self.tuning.habits,
            )
        )

    def string(self, state: StringState) -> ChainStringView:
        """One string."""
        name = state.string.name
        return ChainStringView(
            name=name,
            note=name_of(state.string.note_number, spelling=state.situation.spelling),
            target_hz=state.situation.target_hz,
            hz=state.hz,
            cents_off=self.chain.strings.get(name),
            pending=state.pending is not None,
            tuner_line=pure_reads_off(self.instrument, name, self.tuning.fifth_cents),
        )

    def link(self, pair: Pair) -> LinkView:
        """One fifth."""
        lower, upper = pair
        known = self.chain.link(lower, upper)
        low_hz = self._target(lower)
        right = fifth_from_pure(low_hz, self.tuning.fifth_cents - PURE_FIFTH_CENTS)
        holding = self.holding.get(pair)
        undecided = holding if holding is not None and holding.from_pure_cents is None else None
        fifth = None if known is None else known.fifth
        tolerance = self.tuning.tolerance_cents
        return LinkView(
            lower=lower,
            upper=upper,
            interval_cents=None if fifth is None else fifth.interval_cents,
            from_pure_cents=None if fifth is None else fifth.from_pure_cents,
            from_temperament_cents=None if known is None else known.from_temperament_cents,
            verdict=None if known is None else known.verdict,
            beats_hz=None if fifth is None else fifth.beats_hz,
            temperament_beats_hz=right.beats_hz,
            temperament_beats_said=chain_words.beats(right.beats_hz),
            way=None if known is None else _way(holding),
            plus_minus_cents=None if holding is None else holding.plus_minus_cents,
            said="not known yet"
            if known is None
            else chain_words.width(known.from_temperament_cents, tolerance_cents=tolerance),
            beats_said="" if fifth is None else chain_words.beats(fifth.beats_hz),
            slow_said=chain_words.slow(lower, upper, low_hz) if too_slow_to_count(low_hz, tolerance_cents=tolerance) else None,
            ask_small_move=None if undecided is None else chain_words.small_move(pair, undecided.beats_hz, low_hz),
            harmonics=self._harmonics(pair),
            sounds=self._sounds(pair),
        )

    def _target(self, name: str) -> float:
        """Where a string should be; by its last pitch where it is taken off."""
        return self.targets.get(name) or self.hz.get(name) or A4_HZ

    def _harmonics(self, pair: Pair) -> HarmonicsView:
        lower, upper = pair
        should = harmonics_of(self._target(lower), self._target(upper))
        both = lower in self.hz and upper in self.hz
        apart = harmonics_of(self.hz[lower], self.hz[upper]).twelfth_above_octave_cents if both else None
        return HarmonicsView(
            how=chain_words.harmonics(lower, upper, should.octave_hz, a4=self.tuning.a4, spelling=self.tuning.spelling),
            octave_hz=should.octave_hz,
            twelfth_hz=should.twelfth_hz,
            twelfth_above_octave_cents=apart,
            should_be_cents=should.twelfth_above_octave_cents,
        )

    def _sounds(self, pair: Pair) -> list[SoundView]:
        """The fifth as it is, as it should be, pure and tempered, all around the string that stays."""
        lower, upper = pair
        stays_upper = towards_a(self.instrument, lower) == pair
        fixed = self.hz.get(upper if stays_upper else lower, self._target(upper if stays_upper else lower))
        widths: list[tuple[SoundName, float]] = [("pure", PURE_FIFTH_CENTS), ("tempered", TEMPERED_FIFTH_CENTS)]
        temperament = self.tuning.fifth_cents
        if all(abs(width - temperament) > SAME_WIDTH_CENTS for _, width in widths):
            widths.insert(0, ("as it should be", temperament))
        else:
            widths.sort(key=lambda named: abs(named[1] - temperament))
            right: SoundName = "pure, as it should be" if widths[0][0] == "pure" else "tempered, as it should be"
            widths[0] = (right, temperament)
        known = self.chain.link(lower, upper)
        if known is not None:
            widths.insert(0, ("as it is", known.fifth.interval_cents))
        return [_sound(name, fixed, width, stays_upper=stays_upper) for name, width in widths]

    def correction(self) -> CorrectionView | None:
        """The next move, with how to turn it: the string's own advice, as if it were off by what its fifth wants; where the
        bench turns nothing on that string (another's hands, a question, a look), what the bench says. A move that had no
        effect or went the wrong way is asked about first.
        """
        correction = self._asked()
        if correction is not None:
            return correction
        if self.next is None:
            return None
        state = self.states[self.next.string]
        advice = state.advice
        if advice is None or not advice.steps or advice.steps[0].is_counted:
            advice = advice_to_correct(state.situation, self.next.change_cents, self.next.right)
        return CorrectionView(
            string=self.next.string,
            change_cents=self.next.change_cents,
            play=list(self._to_play(self.next.string)),
            said=chain_words.mend(self.next),
            why=chain_words.mend_why(self.next, self.chain),
            step=advice.steps[0] if advice.steps else None,
            cautions_said=cautions_now(advice),
            later=max(0, sum(step.is_move for step in advice.steps) - 1),
        )

    def _asked(self) -> CorrectionView | None:
        for state in self.states.values():
            advice = state.advice
            if state.pending is not None or advice is None or advice.state not in ("no-effect", "wrong-way"):
                continue
            return CorrectionView(
                string=state.string.name,
                change_cents=0.0,
                play=list(self._to_play(state.string.name)),
                said=advice.why,
                why=advice.why,
                step=advice.steps[0],
                cautions_said=cautions_now(advice),
                later=0,
            )
        return None

    def _to_play(self, name: str) -> Pair:
        return towards_a(self.instrument, name) or next(pair for pair in pairwise(self.instrument.string_names) if name in pair)

    def to_play(self, mend: CorrectionView | None) -> list[str]:
        """The two strings to bow together: of what was turned, else of what is to be mended."""
        if self.turned:
            return list(self._to_play(self.turned[0]))
        if self.disagree:
            return list(next(iter(self.disagree)))
        return [] if mend is None else mend.play

    def said(self) -> str:
        """The state of the chain in one sentence."""
        if self.turned:
            lower, upper = self._to_play(self.turned[0])
            pending = self.states[self.turned[0]].pending
            done = "pulled" if pending is not None and pending.mechanism == "tug" else "turned"
            return f"The {self.turned[0]} was {done}: bow {lower} and {upper} together again."
        if self.disagree:
            return next(iter(self.disagree.values())).said
        if self.next is not None:
            return chain_words.mend(self.next)
        count = len(self.instrument.string_names) - 1
        return chain_words.verdict(self.chain.links, count=count, fifth_cents=self.tuning.fifth_cents)


def _way(holding: FifthCheck | None) -> Way:
    if holding is None or holding.from_pure_cents is None:
        return "two-readings"
    return holding.way


def _sound(name: SoundName, fixed_hz: float, width: float, *, stays_upper: bool) -> SoundView:
    lower = shift_hz(fixed_hz, -width) if stays_upper else fixed_hz
    upper = fixed_hz if stays_upper else shift_hz(fixed_hz, width)
    return SoundView(
        name=name,
        lower_hz=lower,
        upper_hz=upper,
        beats_hz=fifth_between(lower, upper).beats_hz,
        lower_partials=partial_levels(lower),
        upper_partials=partial_levels(upper),
        level=LEVEL / 2.0,
    )


def _check(check: FifthCheck) -> CheckLine:
    way = {"double-stop": "double stop", "by-ear": "by ear"}.get(check.way, check.way)
    if check.from_pure_cents is None:
        text = f"{way}: {chain_words.beats(check.beats_hz)}, direction not known"
    else:
        side = "wider" if check.from_pure_cents > 0 else "narrower"
        text = f"{way}: {abs(check.from_pure_cents):.1f} cents {side} than pure, {chain_words.beats(check.beats_hz)}"
    return CheckLine(check.id, check.at, check.string, check.upper, text, check.voided, check.late)

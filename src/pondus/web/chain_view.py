"""The chain of fifths as the fifths screen shows it; computed here so that the front end decides nothing."""

from datetime import date, datetime
from itertools import pairwise
from typing import Literal
from uuid import UUID

from sqlmodel import Session

from pondus.contracts.advice import StepResult, hundredth, round_step
from pondus.contracts.base import Result
from pondus.core import chain_words
from pondus.core.chain import Chain, Mend, Pair, chain, facts_to_mend, next_mend, only_coarse, pure_reads_off, towards_a
from pondus.core.ensemble import school_effect
from pondus.core.fifths import (
    fifth_between,
    fifth_from_pure,
    harmonics_of,
    too_slow_to_count,
)
from pondus.core.instruments import instrument_named
from pondus.core.judgement.advise import advise
from pondus.core.judgement.situation import Heard
from pondus.core.judgement.steps import Step
from pondus.core.pitch import name_of, shift_hz
from pondus.core.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS
from pondus.core.tones import LEVEL, partial_levels
from pondus.store.fifths import FifthLog, fifth_log
from pondus.store.instruments import InstrumentRecord
from pondus.store.standing import Standing, standings
from pondus.store.tables import FifthCheckRow
from pondus.store.tunings import TuningRecord
from pondus.web.bench import TuningOut, cautions_now
from pondus.web.instruments import InstrumentOut, instrument_out

SoundName = Literal[
    "as it is", "as it should be", "pure, as it should be", "tempered, as it should be", "pure", "tempered"
]
SAME_WIDTH_CENTS = 0.01
Way = Literal["two-readings", "double-stop", "harmonics", "tapped"]


class SoundOut(Result):
    """A fifth to listen to: both pitches and what they beat."""

    name: SoundName
    lower_hz: float
    upper_hz: float
    beats_hz: float
    lower_partials: list[float]
    upper_partials: list[float]
    level: float


class ChainString(Result):
    """One string of the chain; ``cents_off`` null: not known. ``pending``: turned and not heard since."""

    name: str
    note: str
    target_hz: float
    hz: float | None
    cents_off: float | None
    pending: bool
    tuner_line: str | None


class HarmonicsOut(Result):
    """The two harmonics of a fifth: how to sound them, where they should be (Hz), and how far apart they are now."""

    how: str
    octave_hz: float
    twelfth_hz: float
    twelfth_above_octave_cents: float | None
    should_be_cents: float


class ChainLink(Result):
    """One fifth. Figures are null until it is known. ``school_beats_hz``: what it beats when it is right."""

    lower: str
    upper: str
    interval_cents: float | None
    from_pure_cents: float | None
    from_school_cents: float | None
    verdict: Literal["right", "wide", "narrow"] | None
    beats_hz: float | None
    school_beats_hz: float
    school_beats_said: str
    way: Way | None
    plus_minus_cents: float | None
    said: str
    beats_said: str
    slow_said: str | None
    ask_small_move: str | None
    harmonics: HarmonicsOut
    sounds: list[SoundOut]


class MendOut(Result):
    """The one move that mends most: what and why, and how to turn it."""

    string: str
    change_cents: float
    play: list[str]
    said: str
    why: str
    step: StepResult | None
    cautions_said: list[str]
    later: int


class SchoolEffectOut(Result):
    """What a width of fifths does to the lowest C, the violin's E, and the third between them (cents)."""

    fifth_cents: float
    lowest_c_cents: float
    violin_e_cents: float
    third_from_pure_cents: float


class CheckOut(Result):
    """One line of the checks made."""

    id: UUID
    at: datetime
    lower: str
    upper: str
    text: str
    struck: bool


class FifthsOut(Result):
    """Everything the fifths screen shows. ``..._from_school_cents``: where a pure and a tempered fifth stand against the
    chosen width.
    """

    tuning: TuningOut
    instrument: InstrumentOut
    strings: list[ChainString]
    links: list[ChainLink]
    mend: MendOut | None
    said: str
    pure_from_school_cents: float
    tempered_from_school_cents: float
    effect: SchoolEffectOut
    checks: list[CheckOut]


def fifths_out(session: Session, record: InstrumentRecord, log: TuningRecord, *, today: date) -> FifthsOut:
    """Serialise the chain."""
    view = _View(session, record, log, today)
    return FifthsOut(
        tuning=TuningOut.model_validate(log.tuning),
        instrument=instrument_out(record),
        strings=[view.string(each) for each in view.found.values()],
        links=[view.link(pair) for pair in pairwise(view.instrument.string_names)],
        mend=view.mend(),
        said=view.said(),
        pure_from_school_cents=round(PURE_FIFTH_CENTS - log.tuning.fifth_cents, 3),
        tempered_from_school_cents=round(TEMPERED_FIFTH_CENTS - log.tuning.fifth_cents, 3),
        effect=SchoolEffectOut.model_validate(school_effect(log.tuning.fifth_cents)),
        checks=[_check(each) for each in reversed(view.checks.every)],
    )


class _View:
    """One tuning's chain, read once."""

    def __init__(self, session: Session, record: InstrumentRecord, log: TuningRecord, today: date) -> None:
        self.tuning = log.tuning
        self.instrument = instrument_named(record.instrument.kind)
        self.found: dict[str, Standing] = {
            each.string.name: each for each in standings(session, record, log, today=today)
        }
        self.targets = {name: each.situation.target_hz for name, each in self.found.items()}
        self.checks: FifthLog = fifth_log(session, log, self.instrument)
        self.hz = {name: each.hz for name, each in self.found.items() if each.hz is not None}
        heard = {
            pair: row.from_pure_cents for pair, row in self.checks.holding.items() if row.from_pure_cents is not None
        }
        self.chain: Chain = chain(
            self.instrument,
            self.hz,
            a4=self.tuning.a4,
            fifth_cents=self.tuning.fifth_cents,
            tolerance_cents=self.tuning.tolerance_cents,
            heard_from_pure=heard,
        )
        self.turned = [name for name, each in self.found.items() if each.pending is not None]
        coarse = only_coarse(each.situation for each in self.found.values())
        self.next: Mend | None = (
            None
            if self.turned
            else next_mend(self.instrument, self.chain, tolerance_cents=self.tuning.tolerance_cents, coarse=coarse)
        )

    def string(self, each: Standing) -> ChainString:
        """One string."""
        name = each.string.name
        off = self.chain.strings.get(name)
        return ChainString(
            name=name,
            note=name_of(each.string.note_number, spelling=each.situation.spelling),
            target_hz=round(each.situation.target_hz, 3),
            hz=None if each.hz is None else round(each.hz, 3),
            cents_off=hundredth(off),
            pending=each.pending is not None,
            tuner_line=pure_reads_off(self.instrument, name, self.tuning.fifth_cents),
        )

    def link(self, pair: Pair) -> ChainLink:
        """One fifth."""
        lower, upper = pair
        known = self.chain.link(lower, upper)
        low_hz = self._target(lower)
        school = fifth_from_pure(low_hz, self.tuning.fifth_cents - PURE_FIFTH_CENTS)
        holding = self.checks.holding.get(pair)
        undecided = holding if holding is not None and holding.from_pure_cents is None else None
        fifth = None if known is None else known.fifth
        tolerance = self.tuning.tolerance_cents
        return ChainLink(
            lower=lower,
            upper=upper,
            interval_cents=None if fifth is None else hundredth(fifth.interval_cents),
            from_pure_cents=None if fifth is None else hundredth(fifth.from_pure_cents),
            from_school_cents=None if known is None else hundredth(known.from_school_cents),
            verdict=None if known is None else known.verdict,
            beats_hz=None if fifth is None else fifth.beats_hz,
            school_beats_hz=round(school.beats_hz, 3),
            school_beats_said=chain_words.beats(school.beats_hz),
            way=None if known is None else self._way(holding),
            plus_minus_cents=None if holding is None else hundredth(holding.plus_minus_cents),
            said="not known yet"
            if known is None
            else chain_words.width(known.from_school_cents, tolerance_cents=tolerance),
            beats_said="" if fifth is None else chain_words.beats(fifth.beats_hz),
            slow_said=chain_words.slow(lower, upper, low_hz)
            if too_slow_to_count(low_hz, tolerance_cents=tolerance)
            else None,
            ask_small_move=None if undecided is None else chain_words.small_move(pair, undecided.beats_hz, low_hz),
            harmonics=self._harmonics(pair),
            sounds=self._sounds(pair),
        )

    def _way(self, holding: FifthCheckRow | None) -> Way:
        if holding is None or holding.from_pure_cents is None:
            return "two-readings"
        return holding.way  # type: ignore[return-value]

    def _target(self, name: str) -> float:
        """Where a string should be; by the instrument where it is taken off."""
        return self.targets.get(name) or self.hz.get(name) or 440.0

    def _harmonics(self, pair: Pair) -> HarmonicsOut:
        lower, upper = pair
        should = harmonics_of(self._target(lower), self._target(upper))
        both = lower in self.hz and upper in self.hz
        apart = harmonics_of(self.hz[lower], self.hz[upper]).twelfth_above_octave_cents if both else None
        spelling = next(iter(self.found.values())).situation.spelling
        return HarmonicsOut(
            how=chain_words.harmonics(lower, upper, should.octave_hz, a4=self.tuning.a4, spelling=spelling),
            octave_hz=round(should.octave_hz, 2),
            twelfth_hz=round(should.twelfth_hz, 2),
            twelfth_above_octave_cents=hundredth(apart),
            should_be_cents=hundredth(should.twelfth_above_octave_cents) or 0.0,
        )

    def _sounds(self, pair: Pair) -> list[SoundOut]:
        """The fifth as it is, as it should be, pure and tempered, all around the string that stays."""
        lower, upper = pair
        stays_upper = towards_a(self.instrument, lower) == pair
        fixed = self.hz.get(upper if stays_upper else lower, self._target(upper if stays_upper else lower))
        widths: list[tuple[SoundName, float]] = [("pure", PURE_FIFTH_CENTS), ("tempered", TEMPERED_FIFTH_CENTS)]
        school = self.tuning.fifth_cents
        if all(abs(width - school) > SAME_WIDTH_CENTS for _, width in widths):
            widths.insert(0, ("as it should be", school))
        else:
            widths.sort(key=lambda named: abs(named[1] - school))
            widths[0] = ("pure, as it should be" if widths[0][0] == "pure" else "tempered, as it should be", school)
        known = self.chain.link(lower, upper)
        if known is not None:
            widths.insert(0, ("as it is", known.fifth.interval_cents))
        return [_sound(name, fixed, width, stays_upper=stays_upper) for name, width in widths]

    def mend(self) -> MendOut | None:
        """The next move, with how to turn it: the string's own advice, as if it were off by what its fifth wants."""
        if self.next is None:
            return None
        standing = self.found[self.next.string]
        wanted = Heard(hz=shift_hz(standing.situation.target_hz, -self.next.change_cents))
        advice = advise(facts_to_mend(standing.situation), wanted, sure_of_string=True)
        step: Step | None = advice.steps[0] if advice.steps else None
        shown = None if step is None else StepResult.model_validate(step, from_attributes=True)
        if shown is not None:
            round_step(shown)
        return MendOut(
            string=self.next.string,
            change_cents=hundredth(self.next.change_cents) or 0.0,
            play=list(self._to_play(self.next.string)),
            said=chain_words.mend(self.next),
            why=chain_words.mend_why(self.next, self.chain),
            step=shown,
            cautions_said=cautions_now(advice),
            later=max(0, sum(each.is_move for each in advice.steps) - 1),
        )

    def _to_play(self, name: str) -> Pair:
        return towards_a(self.instrument, name) or next(
            pair for pair in pairwise(self.instrument.string_names) if name in pair
        )

    def said(self) -> str:
        """The state of the chain in one sentence."""
        if self.turned:
            lower, upper = self._to_play(self.turned[0])
            return f"The {self.turned[0]} was turned: bow {lower} and {upper} together again."
        if self.next is not None:
            return chain_words.mend(self.next)
        count = len(self.instrument.string_names) - 1
        return chain_words.verdict(self.chain.links, count=count, fifth_cents=self.tuning.fifth_cents)


def _sound(
    name: SoundName,
    fixed_hz: float,
    width: float,
    *,
    stays_upper: bool,
) -> SoundOut:
    lower = shift_hz(fixed_hz, -width) if stays_upper else fixed_hz
    upper = fixed_hz if stays_upper else shift_hz(fixed_hz, width)
    return SoundOut(
        name=name,
        lower_hz=lower,
        upper_hz=upper,
        beats_hz=fifth_between(lower, upper).beats_hz,
        lower_partials=partial_levels(lower),
        upper_partials=partial_levels(upper),
        level=LEVEL / 2.0,
    )


def _check(row: FifthCheckRow) -> CheckOut:
    way = {"double-stop": "double stop", "harmonics": "harmonics", "tapped": "tapped"}[row.way]
    if row.from_pure_cents is None:
        text = f"{way}: {chain_words.beats(row.beats_hz)}, direction not known"
    else:
        side = "wider" if row.from_pure_cents > 0 else "narrower"
        text = f"{way}: {abs(row.from_pure_cents):.1f} cents {side} than pure, {chain_words.beats(row.beats_hz)}"
    return CheckOut(id=row.id, at=row.at, lower=row.lower, upper=row.upper, text=text, struck=row.struck_at is not None)

"""The fifths screen, and what is asked there."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from pondus.contracts.advice import StepResult, Target
from pondus.contracts.base import Cents, Contract, Hz, Result
from pondus.contracts.bench import HoldOut, TuningOut
from pondus.contracts.instruments import InstrumentOut
from pondus.core.chain import Verdict
from pondus.core.entries.texts import LABEL_LETTERS
from pondus.core.fifths_view import SoundName, Way
from pondus.core.instruments import Kind


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
    target_hz: Hz
    hz: Hz | None
    cents_off: Cents | None
    pending: bool
    tuner_line: str | None


class HarmonicsOut(Result):
    """The two harmonics of a fifth: how to sound them, where they should be (Hz), and how far apart they are now."""

    how: str
    octave_hz: Cents
    twelfth_hz: Cents
    twelfth_above_octave_cents: Cents | None
    should_be_cents: Cents


class ChainLink(Result):
    """One fifth. Figures are null until it is known. ``temperament_beats_hz``: what it beats when it is right."""

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
    harmonics: HarmonicsOut
    sounds: list[SoundOut]


class CorrectionOut(Result):
    """The one move that mends most: what and why, and how to turn it."""

    string: str
    change_cents: Cents
    play: list[str]
    said: str
    why: str
    step: StepResult | None
    cautions_said: list[str]
    later: int


class TemperamentEffectOut(Result):
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
    late: bool


class FifthsOut(Result):
    """Everything the fifths screen shows. ``to_play``: the two strings to bow together next, if it matters.
    ``..._from_temperament_cents``: where a pure and a tempered fifth stand against the chosen width.
    """

    tuning: TuningOut
    instrument: InstrumentOut
    log_version: int
    hold: HoldOut
    strings: list[ChainString]
    links: list[ChainLink]
    mend: CorrectionOut | None
    to_play: list[str]
    said: str
    pure_from_temperament_cents: Hz
    tempered_from_temperament_cents: Hz
    effect: TemperamentEffectOut
    checks: list[CheckOut]


class MemberIn(Contract):
    """One player of an ensemble."""

    name: Annotated[str, Field(min_length=1, max_length=LABEL_LETTERS)]
    instrument: Kind
    a4: float = 440.0
    target: Target = "tempered"


class EnsembleIn(Contract):
    """Several players, and the reference they are compared at."""

    members: Annotated[list[MemberIn], Field(max_length=60)]
    a4: float = 440.0


class LetterOut(Result):
    """One letter across the ensemble, in cents against the tempered pitch of the reference; who is furthest apart."""

    letter: Literal["C", "G", "D", "A", "E"]
    cents: dict[str, float]
    apart_cents: float
    beats_hz: float
    between: list[str] | None


class EnsembleOut(Result):
    """Where an ensemble clashes."""

    letters: list[LetterOut]
    said: str


class TemperamentsOut(Result):
    """What each width of fifths does to the lowest C and the violin's E."""

    effects: list[TemperamentEffectOut]

"""The fifths screen, and what is asked there."""

from typing import Annotated

from pydantic import Field

from pondus.contracts.advice import Target
from pondus.contracts.base import Contract, Result
from pondus.contracts.bench import TuningOut
from pondus.contracts.instruments import InstrumentOut
from pondus.core.entries.texts import LABEL_LETTERS
from pondus.core.fifths.ensemble import LetterClash, TemperamentEffect
from pondus.core.figures import Hz
from pondus.core.instruments import Kind
from pondus.core.views.bench import HoldView
from pondus.core.views.fifths import ChainStringView, CheckLine, CorrectionView, LinkView


class FifthsOut(Result):
    """Everything the fifths screen shows. ``to_play``: the two strings to bow together next, if it matters.
    ``..._from_temperament_cents``: where a pure and a tempered fifth stand against the chosen width.
    """

    tuning: TuningOut
    instrument: InstrumentOut
    log_version: int
    hold: HoldView
    strings: list[ChainStringView]
    links: list[LinkView]
    mend: CorrectionView | None
    to_play: list[str]
    said: str
    pure_from_temperament_cents: Hz
    tempered_from_temperament_cents: Hz
    effect: TemperamentEffect
    checks: list[CheckLine]


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


class EnsembleOut(Result):
    """Where an ensemble clashes."""

    letters: list[LetterClash]
    said: str


class TemperamentsOut(Result):
    """What each width of fifths does to the lowest C and the violin's E."""

    effects: list[TemperamentEffect]

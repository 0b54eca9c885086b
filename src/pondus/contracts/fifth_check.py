"""A check of a fifth as a client sends it: a double stop, two harmonics, tapped beats, or how it sounds."""

from typing import Annotated, Literal

from pydantic import Field

from pondus.contracts.base import ClientId, Contract
from pondus.contracts.bench import MadeOn, Source
from pondus.core.entries.fifth_checks import LARGEST_UNCERTAINTY_CENTS, Compared, FifthHeard
from pondus.core.fifths.tapping import MOST_TAPS, Moved
from pondus.core.judgement.situation import Pitch


class DoubleStopCheck(Contract):
    """Both strings heard together, in Hz."""

    way: Literal["double-stop"]
    lower_hz: float
    upper_hz: float
    plus_minus_cents: Annotated[float, Field(ge=0.0, le=LARGEST_UNCERTAINTY_CENTS)] | None = None
    source: Source = "recording"


class HarmonicsCheck(Contract):
    """The upper string's octave harmonic and the lower's twelfth, as typed off a tuner or in Hz ("440.2 Hz")."""

    way: Literal["harmonics"]
    octave: Annotated[str, Field(max_length=200)]
    twelfth: Annotated[str, Field(max_length=200)]
    source: Source = "typed"


class SmallMove(Contract):
    """What was turned a hair since the beats were tapped last."""

    moved: Moved
    pitch: Pitch


class TappedCheck(Contract):
    """Moments of taps in seconds, one for each beat. ``small_move``: what was turned a hair since the last tapping, which
    tells the direction.
    """

    way: Literal["tapped"]
    taps: Annotated[list[float], Field(max_length=MOST_TAPS)]
    small_move: SmallMove | None = None


class ByEarCheck(Contract):
    """How it sounds, bowed together. ``compared``: beside what it was before the small move."""

    way: Literal["by-ear"]
    heard: FifthHeard
    compared: Compared | None = None
    small_move: SmallMove | None = None


Check = Annotated[DoubleStopCheck | HarmonicsCheck | TappedCheck | ByEarCheck, Field(discriminator="way")]


class NewFifthCheck(MadeOn):
    """One check of the fifth between two neighbours, lower first; its id is made by the client."""

    id: ClientId
    lower: str
    upper: str
    check: Check

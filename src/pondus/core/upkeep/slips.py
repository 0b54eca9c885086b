"""How often pegs give way in dry air, damp air and between.

Rates are shares of strings tuned, with a Beta prior of about one in twenty-five that counts as twelve strings, so that one
slip in three mornings isn't told as a third.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from math import sqrt
from typing import Literal

from pondus.core.upkeep.climate import DAMP_ABOVE, DRY_BELOW

PRIOR_SLIPS, PRIOR_STRINGS = 0.5, 12.0

Band = Literal["dry", "between", "damp"]
BANDS: tuple[Band, ...] = ("dry", "between", "damp")


@dataclass(frozen=True)
class Tuned:
    """One tuning: the humidity if anyone measured it, strings heard, strings whose peg gave way."""

    humidity: float | None
    strings: int
    slipped: int


@dataclass(frozen=True)
class SlipRate:
    """Of strings tuned in such air, the share whose peg gave way, with one standard deviation; and how many there were."""

    band: Band
    rate: float
    plus_minus: float
    slipped: int
    strings: int


def band_of(humidity: float) -> Band:
    """Which air that is.

    >>> band_of(30.0), band_of(50.0), band_of(72.0)
    ('dry', 'between', 'damp')
    """
    return "dry" if humidity < DRY_BELOW else "damp" if humidity > DAMP_ABOVE else "between"


def slip_rates(tunings: Iterable[Tuned]) -> list[SlipRate]:
    """The rate in each band of air; tunings without a measured humidity don't count.

    >>> [(each.band, round(each.rate, 2)) for each in slip_rates([Tuned(30.0, 4, 2)] * 5)]
    [('dry', 0.33), ('between', 0.04), ('damp', 0.04)]
    """
    counted = list(tunings)
    rates = []
    for band in BANDS:
        ours = [tuning for tuning in counted if tuning.humidity is not None and band_of(tuning.humidity) == band]
        slipped, strings = sum(tuning.slipped for tuning in ours), sum(tuning.strings for tuning in ours)
        share = (slipped + PRIOR_SLIPS) / (strings + PRIOR_STRINGS)
        spread = sqrt(share * (1.0 - share) / (strings + PRIOR_STRINGS + 1.0))
        rates.append(SlipRate(band, share, spread, slipped, strings))
    return rates

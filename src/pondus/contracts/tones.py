"""Reference tones."""

from pondus.contracts.base import Result


class ToneOut(Result):
    """A tone to sound: its pitch, each partial's level relative to the first, and the peak level re full scale."""

    hz: float
    partials: list[float]
    level: float

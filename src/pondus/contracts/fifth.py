"""`fifth`: a recording of a double stop in, both pitches and their interval or a refusal out."""

from pondus.contracts.base import Result
from pondus.core.errors import BadInput
from pondus.core.hearing.double_stop import DoubleStop, FifthReason, FifthRefusal


class FifthResult(Result):
    """What was heard of two neighbouring strings. Where ``usable`` is false, ``reason`` says why and figures are null."""

    file: str | None
    usable: bool
    reason: FifthReason | None = None
    lower_hz: float | None = None
    upper_hz: float | None = None
    interval_cents: float | None = None
    from_pure_cents: float | None = None
    beats_hz: float | None = None

    @classmethod
    def of(cls, heard: DoubleStop | FifthRefusal, *, file: str | None) -> "FifthResult":
        """From the core's double stop or refusal; Hz to four places, cents and beats to three."""
        if isinstance(heard, FifthRefusal):
            return cls(file=file, usable=False, reason=heard.reason)
        return cls(
            file=file,
            usable=True,
            lower_hz=round(heard.lower_hz, 4),
            upper_hz=round(heard.upper_hz, 4),
            interval_cents=round(heard.fifth.interval_cents, 3),
            from_pure_cents=round(heard.fifth.from_pure_cents, 3),
            beats_hz=round(heard.fifth.beats_hz, 3),
        )


def pair_of(text: str) -> tuple[str, str]:
    """Two strings as written, lower first: "D,A". Raises BadInput.

    >>> pair_of("D, A")
    ('D', 'A')
    """
    names = [part.strip() for part in text.split(",")]
    if len(names) != 2 or not all(names):
        raise BadInput("strings", f"“{text}” isn't a pair of strings; name two neighbours, lower first, as in D,A.")
    return names[0], names[1]

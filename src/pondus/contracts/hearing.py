"""`hear`: a recording in, a reading or a refusal out."""

from pondus.contracts.base import Result, hundredth
from pondus.core.hearing.hear import Reading, Reason, Refusal


class HearingResult(Result):
    """What was heard in one file. Where ``usable`` is false, ``reason`` says why and the figures are null.

    ``note`` and ``cents`` are the nearest equal-tempered note at that A4 (±50); ``string_cents`` is the distance to the
    target of ``string``.
    """

    file: str | None
    usable: bool
    reason: Reason | None = None
    hz: float | None = None
    note: str | None = None
    cents: float | None = None
    string: str | None = None
    string_cents: float | None = None
    spread_cents: float | None = None
    seconds_steady: float | None = None
    confidence: float | None = None

    @classmethod
    def of(cls, heard: Reading | Refusal, *, file: str | None) -> "HearingResult":
        """From the core's reading or refusal; Hz to four places, cents to three."""
        if isinstance(heard, Refusal):
            return cls(file=file, usable=False, reason=heard.reason)
        return cls(
            file=file,
            usable=True,
            hz=round(heard.hz, 4),
            note=heard.note.name,
            cents=round(heard.note.cents, 3),
            string=heard.string,
            string_cents=round(heard.string_cents, 3),
            spread_cents=round(heard.spread_cents, 3),
            seconds_steady=hundredth(heard.seconds_steady),
            confidence=hundredth(heard.confidence),
        )


class HarmonicOut(Result):
    """Where a harmonic sounds."""

    hz: float

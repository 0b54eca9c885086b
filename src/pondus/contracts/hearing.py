"""`hear`: a recording in, a reading or a refusal out."""

from pondus.contracts.base import Result
from pondus.core.figures import Hundredth
from pondus.core.hearing.hear import UNSURE_BELOW, Reading, Reason, Refusal
from pondus.core.hearing.said import PLAY_AGAIN_SAID, UNSURE_SAID


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
    seconds_steady: Hundredth | None = None
    confidence: Hundredth | None = None

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
            seconds_steady=heard.seconds_steady,
            confidence=heard.confidence,
        )


class HarmonicOut(Result):
    """Where a harmonic sounds."""

    hz: float


class RecordingHeard(HearingResult):
    """What was heard in a recording brought to the bench. ``said``: what to do, where there is no reading or one that is hardly
    sure. ``keep``: it may be kept as a reading; one that is hardly sure is not, so that no peg is turned on it.
    """

    said: str | None
    keep: bool

    @classmethod
    def brought(cls, heard: Reading | Refusal, *, file: str | None) -> "RecordingHeard":
        """From the core's reading or refusal."""
        plain = HearingResult.of(heard, file=file).model_dump()
        if isinstance(heard, Refusal):
            return cls(**plain, said=PLAY_AGAIN_SAID[heard.reason], keep=False)
        sure = heard.confidence >= UNSURE_BELOW
        return cls(**plain, said=None if sure else UNSURE_SAID, keep=sure)

"""Listening to a double stop as sound comes in: a look every 50 ms, and a fifth once it has held.

Every sixth of a second the last second is heard as a recording would be (`double_stop`). When two such hearings of the
same two strings agree, that fifth is settled; once told, the next needs a pause or a change of more than a cent.
"""

from dataclasses import dataclass
from typing import Literal

from pondus.core.hearing.double_stop import DoubleStop, FifthReason, FifthRefusal, hear_any_fifth, hear_fifth
from pondus.core.hearing.sound import Samples
from pondus.core.hearing.stream import LOOK_EVERY_SECONDS, QUIET_BELOW_DB, Stream, is_clipping, level_db
from pondus.core.instruments import Instrument
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS
from pondus.core.pitch.notes import A4_HZ

HearsFifth = Literal["quiet", "listening", "fifth"]
KEPT_SECONDS = 1.2
FIRST_TRY_LOOKS, TRY_EVERY_LOOKS = 9, 3
AGREE_CENTS, NEW_FIFTH_CENTS = 0.5, 1.0
SURE_CENTS = 0.6
SILENT_LOOKS = 4


@dataclass(frozen=True)
class FifthLook:
    """One look. ``strings`` and ``heard`` are the last fifth heard in this sounding; ``reason`` why there is none yet."""

    hears: HearsFifth
    level_db: float
    clipping: bool
    strings: tuple[str, str] | None = None
    heard: DoubleStop | None = None
    reason: FifthReason | None = None


@dataclass(frozen=True)
class FifthSettled:
    """A fifth that has held."""

    strings: tuple[str, str]
    heard: DoubleStop

    @property
    def as_told(self) -> "ToldFifth":
        """What is remembered of it while the sounding goes on."""
        return ToldFifth(self.strings, self.heard.fifth.from_pure_cents)


@dataclass(frozen=True)
class ToldFifth:
    """The fifth that a sounding gave already: its strings, lower first, and how far it lay from pure, in cents."""

    strings: tuple[str, str]
    from_pure_cents: float


class FifthListener:
    """Hears double stops of one instrument live; ``strings`` None: whichever two neighbours sound. ``told``: the sound goes on
    in a sounding that has given a fifth already.
    """

    def __init__(
        self,
        instrument: Instrument,
        *,
        rate_hz: int,
        strings: tuple[str, str] | None = None,
        a4: float = A4_HZ,
        fifth_cents: float = TEMPERED_FIFTH_CENTS,
        told: ToldFifth | None = None,
    ) -> None:
        self.instrument, self.strings, self.rate_hz = instrument, strings, rate_hz
        self.a4, self.fifth_cents = a4, fifth_cents
        self._stream = Stream(rate_hz, kept_seconds=KEPT_SECONDS)
        self._sounding = self._silent = 0
        self._last: FifthSettled | None = None
        self.told = told
        """The fifth that the present sounding gave; None: it has given none yet."""
        self._reason: FifthReason | None = None

    @property
    def is_silent(self) -> bool:
        """Whether nothing sounds, and the sounding before is over."""
        return self._sounding == 0

    def feed(self, samples: Samples, *, at_most: int | None = None) -> list[FifthLook | FifthSettled]:
        """Take in sound and give what there is to say: a look for every 50 ms, and settled fifths. ``at_most``: only so many of
        the last looks hear; what comes before is only kept.
        """
        events: list[FifthLook | FifthSettled] = []
        passed_over = 0 if at_most is None else max(0, self._stream.count(samples) - at_most)
        for place, newest in enumerate(self._stream.looks(samples)):
            level = level_db(newest)
            quiet = level < QUIET_BELOW_DB
            self._follow(quiet)
            settled = None if quiet or place < passed_over else self._settle()
            hears: HearsFifth = "quiet" if quiet else "fifth" if self._last else "listening"
            strings, heard = (None, None) if self._last is None else (self._last.strings, self._last.heard)
            events.append(FifthLook(hears, level, is_clipping(newest), strings, heard, self._reason))
            if settled is not None:
                events.append(settled)
        return events

    def _follow(self, quiet: bool) -> None:
        """Notice where one sounding ends and the next begins."""
        self._silent = self._silent + 1 if quiet else 0
        self._sounding += not quiet
        if self._silent >= SILENT_LOOKS:
            self._sounding, self._last, self.told, self._reason = 0, None, None, None

    def _settle(self) -> FifthSettled | None:
        tries = self._sounding - FIRST_TRY_LOOKS
        if tries < 0 or tries % TRY_EVERY_LOOKS:
            return None
        heard = self._hear(min(KEPT_SECONDS, self._sounding * LOOK_EVERY_SECONDS))
        before, self._last = self._last, heard
        if heard is None or before is None or not _same(before.as_told, heard, AGREE_CENTS):
            return None
        if self.told is not None and _same(self.told, heard, NEW_FIFTH_CENTS):
            return None
        if heard.heard.plus_minus_cents > SURE_CENTS:
            return None
        self.told = heard.as_told
        return heard

    def _hear(self, seconds: float) -> FifthSettled | None:
        sound = self._stream.last(seconds)
        if self.strings is None:
            pair_heard = hear_any_fifth(sound, self.instrument, a4=self.a4, fifth_cents=self.fifth_cents)
        else:
            heard = hear_fifth(sound, self.instrument, strings=self.strings, a4=self.a4, fifth_cents=self.fifth_cents)
            pair_heard = heard if isinstance(heard, FifthRefusal) else (self.strings, heard)
        if isinstance(pair_heard, FifthRefusal):
            self._reason = pair_heard.reason
            return None
        self._reason = None
        return FifthSettled(*pair_heard)


def _same(one: ToldFifth, other: FifthSettled, cents: float) -> bool:
    apart = one.from_pure_cents - other.heard.fifth.from_pure_cents
    return one.strings == other.strings and abs(apart) <= cents

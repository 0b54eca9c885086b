"""Listening as sound comes in: a look every 50 ms, and a reading once it has settled.

A look is quick and rough: the level, whether there is a pitch, and the pitch to a fraction of a cent over the last fifth
of a second. When the looks of the last third of a second agree within two cents, the whole sounding so far is heard
as a recording would be (`hear`), octave and all; that is the settled reading. One sounding gives one settled reading: the
next needs silence, another string, or a new start of the sound at another pitch.
"""

from collections import deque
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from pondus.core.hearing.hear import Reading, Refusal, hear
from pondus.core.hearing.partials import quick_hz
from pondus.core.hearing.periodicity import frame_periods
from pondus.core.hearing.sound import Samples
from pondus.core.hearing.steadiness import PERIODIC_BELOW
from pondus.core.hearing.stream import LOOK_EVERY_SECONDS, QUIET_BELOW_DB, Stream, is_clipping, level_db
from pondus.core.instruments import Instrument
from pondus.core.pitch import A4_HZ, Spelling, cents_between, nearest_note, shift_hz
from pondus.core.targets import TEMPERED_FIFTH_CENTS, targets_hz

Hears = Literal["quiet", "noise", "wavering", "steady"]
Ask = Literal["between-strings", "octave"]

LOOK_SECONDS = 0.20
KEPT_SECONDS = 1.6
AGREE_LOOKS = 6
AGREE_CENTS = 2.0
NEW_SOUND_RISE_DB = 8.0
SILENT_LOOKS = 3
SAME_READING_CENTS = 2.0
OTHER_PITCH_CENTS, TURNED_CENTS = 60.0, 3.0
SURE_WITHIN_CENTS = 300.0
OCTAVE_WITHIN_CENTS, PLAUSIBLE_CENTS = 60.0, 100.0
SEARCHED_CENTS = 800.0
PERIOD_SECONDS = 0.11
SAME_PITCH_CENTS = 50.0
FIRST_TRY_SECONDS, TRY_AGAIN_SECONDS = 0.38, 0.14
"""A whole hearing costs ten looks: it waits until there is enough to hear."""


@dataclass(frozen=True)
class Look:
    """One look: level in dB re full scale; pitch figures are None where no pitch was found.

    ``string`` is the asked string or the nearest one, ``string_cents`` the distance to its target.
    """

    hears: Hears
    level_db: float
    clipping: bool
    hz: float | None = None
    note: str | None = None
    cents: float | None = None
    string: str | None = None
    string_cents: float | None = None


@dataclass(frozen=True)
class Settled:
    """A reading that has held. ``ask`` says why a person should confirm it before it is kept; None: keep it."""

    reading: Reading
    ask: Ask | None


class Listener:
    """Hears one instrument live. Feed it sound of one channel, full scale ±1, at ``rate_hz``."""

    def __init__(
        self,
        instrument: Instrument,
        *,
        rate_hz: int,
        string: str | None = None,
        a4: float = A4_HZ,
        fifth_cents: float = TEMPERED_FIFTH_CENTS,
        spelling: Spelling = "sharps",
    ) -> None:
        if string is not None:
            instrument.string(string)
        self.instrument, self.string, self.rate_hz = instrument, string, rate_hz
        self.a4, self.fifth_cents, self.spelling = a4, fifth_cents, spelling
        self._targets = targets_hz(instrument, a4=a4, fifth_cents=fifth_cents)
        self._stream = Stream(rate_hz, kept_seconds=KEPT_SECONDS)
        self._lowest_hz = shift_hz(min(self._targets.values()), -SEARCHED_CENTS)
        self._highest_hz = shift_hz(max(self._targets.values()), SEARCHED_CENTS)
        self._looks: deque[Look] = deque(maxlen=AGREE_LOOKS)
        self._sounding, self._try_at = 0.0, FIRST_TRY_SECONDS
        self._silent = SILENT_LOOKS
        self._told: float | None = None
        self._armed = True

    def feed(self, samples: Samples, *, at_most: int | None = None) -> list[Look | Settled]:
        """Take in sound and give what there is to say: a look for every 50 ms, and settled readings. ``at_most``: no more looks
        than that, the last ones, for whoever has fallen behind; what comes before is only kept.
        """
        said: list[Look | Settled] = []
        passed_over = 0 if at_most is None else max(0, self._stream.count(samples) - at_most)
        for place, newest in enumerate(self._stream.looks(samples)):
            if place >= passed_over:
                said.extend(self._look(newest))
            elif self._sounding > 0.0:
                self._sounding += LOOK_EVERY_SECONDS
        return said

    def _look(self, newest: NDArray[np.float32]) -> list[Look | Settled]:
        look = self._seen(newest)
        self._follow(look)
        settled = self._settle(look)
        return [look] if settled is None else [look, settled]

    def _seen(self, newest: NDArray[np.float32]) -> Look:
        level, clipping = level_db(newest), is_clipping(newest)
        if level < QUIET_BELOW_DB:
            return Look("quiet", level, clipping)
        hz = self._pitch()
        if hz is None:
            return Look("noise", level, clipping)
        note = nearest_note(hz, a4=self.a4, spelling=self.spelling)
        name = self.string or min(self._targets, key=lambda each: abs(cents_between(hz, self._targets[each])))
        off = cents_between(hz, self._targets[name])
        steady = self._agreeing(hz)
        return Look("steady" if steady else "wavering", level, clipping, hz, note.name, note.cents, name, off)

    def _pitch(self) -> float | None:
        """The pitch of the last fifth of a second, or None."""
        sound = self._stream.last(LOOK_SECONDS)
        frames = frame_periods(
            self._stream.last(PERIOD_SECONDS), lowest_hz=self._lowest_hz, highest_hz=self._highest_hz
        )
        periodic = frames.aperiodicity < PERIODIC_BELOW
        if periodic.sum() < 2:
            return None
        hz = float(np.median(frames.hz[periodic]))
        finer = quick_hz(sound, hz)
        return finer if abs(cents_between(finer, hz)) <= SAME_PITCH_CENTS else hz

    def _agreeing(self, hz: float) -> bool:
        """Whether this look and the ones before it agree."""
        before = [look.hz for look in self._looks]
        if len(before) < AGREE_LOOKS or None in before:
            return False
        return all(abs(cents_between(each, hz)) <= AGREE_CENTS for each in before[1:] if each is not None)

    def _follow(self, look: Look) -> None:
        """Notice where one sounding ends and the next begins."""
        previous = self._looks[-1] if self._looks else None
        self._silent = self._silent + 1 if look.hz is None else 0
        if look.hz is None:
            self._sounding = 0.0
            if self._silent >= SILENT_LOOKS:
                self._armed, self._told = True, None
        elif previous is None or previous.hz is None or self._starts_anew(previous, look):
            self._sounding, self._try_at = LOOK_EVERY_SECONDS, FIRST_TRY_SECONDS
            self._looks.clear()
            self._armed = True
        else:
            self._sounding += LOOK_EVERY_SECONDS
        self._looks.append(look)
        self._follow_turning(look)

    def _follow_turning(self, look: Look) -> None:
        """A string turned while it sounds: once steady somewhere else it is a new reading, of what sounds since then."""
        if self._told is None or self._armed or look.hears != "steady" or look.hz is None:
            return
        if abs(cents_between(look.hz, self._told)) > TURNED_CENTS:
            self._armed = True
            self._sounding = self._try_at = AGREE_LOOKS * LOOK_EVERY_SECONDS

    @staticmethod
    def _starts_anew(previous: Look, look: Look) -> bool:
        assert previous.hz is not None and look.hz is not None
        moved = abs(cents_between(look.hz, previous.hz)) > OTHER_PITCH_CENTS
        return moved or look.level_db > previous.level_db + NEW_SOUND_RISE_DB

    def _settle(self, look: Look) -> Settled | None:
        if look.hears != "steady" or not self._armed or look.hz is None:
            return None
        if self._told is not None and abs(cents_between(look.hz, self._told)) <= SAME_READING_CENTS:
            return None
        if self._sounding < self._try_at:
            return None
        self._try_at = self._sounding + TRY_AGAIN_SECONDS
        seconds = min(self._sounding + LOOK_SECONDS, KEPT_SECONDS)
        heard = hear(
            self._stream.last(seconds),
            self.instrument,
            string=self.string,
            a4=self.a4,
            fifth_cents=self.fifth_cents,
            spelling=self.spelling,
        )
        if isinstance(heard, Refusal):
            return None
        self._armed, self._told = False, heard.hz
        return Settled(heard, ask_about(heard, self._targets) if self.string is None else None)


def ask_about(reading: Reading, targets: dict[str, float]) -> Ask | None:
    """Why a reading of an unnamed string should be confirmed before it is kept, if it should.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.pitch import nearest_note
    >>> violin = targets_hz(INSTRUMENTS["violin"])
    >>> def at(hz: float, string: str) -> Reading:
    ...     off = cents_between(hz, violin[string])
    ...     return Reading(hz, nearest_note(hz), string, off, 0.1, 0.5, 0.9)
    >>> ask_about(at(441.0, "A"), violin), ask_about(at(392.0, "A"), violin), ask_about(at(358.0, "A"), violin)
    (None, 'octave', 'between-strings')
    """
    if abs(reading.string_cents) > PLAUSIBLE_CENTS:
        for hz in targets.values():
            if abs(abs(cents_between(reading.hz, hz)) - 1200.0) <= OCTAVE_WITHIN_CENTS:
                return "octave"
    return "between-strings" if abs(reading.string_cents) > SURE_WITHIN_CENTS else None

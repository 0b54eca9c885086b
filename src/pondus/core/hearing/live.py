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

from pondus.core.hearing.hear import Reading, Refusal, hear
from pondus.core.hearing.partials import demodulate, fit
from pondus.core.hearing.periodicity import frame_periods
from pondus.core.hearing.sound import Samples, Sound, at_working_rate
from pondus.core.hearing.steadiness import PERIODIC_BELOW
from pondus.core.instruments import Instrument
from pondus.core.pitch import A4_HZ, Spelling, cents_between, nearest_note, shift_hz
from pondus.core.targets import TEMPERED_FIFTH_CENTS, targets_hz

Hears = Literal["quiet", "noise", "wavering", "steady"]
Ask = Literal["between-strings", "octave"]

LOOK_EVERY_SECONDS = 0.05
LOOK_SECONDS = 0.20
KEPT_SECONDS = 1.6
QUIET_BELOW_DB = -58.0
CLIPPING_FROM = 0.999
AGREE_LOOKS = 6
AGREE_CENTS = 2.0
NEW_SOUND_RISE_DB = 8.0
SILENT_LOOKS = 3
SAME_READING_CENTS = 2.0
OTHER_PITCH_CENTS = 60.0
SURE_WITHIN_CENTS = 300.0
OCTAVE_WITHIN_CENTS, PLAUSIBLE_CENTS = 60.0, 100.0
SEARCHED_CENTS = 800.0


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
        self._kept: Samples = np.zeros(0, dtype=np.float32)
        self._pending = 0
        self._looks: deque[Look] = deque(maxlen=AGREE_LOOKS)
        self._sounding = 0.0
        self._silent = SILENT_LOOKS
        self._told: float | None = None
        self._armed = True

    def feed(self, samples: Samples) -> list[Look | Settled]:
        """Take in sound and give what there is to say: a look for every 50 ms, and settled readings."""
        said: list[Look | Settled] = []
        step = int(LOOK_EVERY_SECONDS * self.rate_hz)
        taken = 0
        while self._pending + len(samples) - taken >= step:
            part = samples[taken : taken + step - self._pending]
            taken += len(part)
            self._pending = 0
            self._keep(part)
            said.extend(self._look())
        self._keep(samples[taken:])
        self._pending += len(samples) - taken
        return said

    def _keep(self, samples: Samples) -> None:
        most = int(KEPT_SECONDS * self.rate_hz)
        self._kept = np.concatenate([self._kept, samples.astype(np.float32)])[-most:]

    def _look(self) -> list[Look | Settled]:
        look = self._seen()
        self._follow(look)
        settled = self._settle(look)
        return [look] if settled is None else [look, settled]

    def _seen(self) -> Look:
        newest = self._kept[-int(LOOK_EVERY_SECONDS * self.rate_hz) :]
        level = 10.0 * float(np.log10(np.mean(np.square(newest)) + 1e-12))
        clipping = bool((np.abs(newest) >= CLIPPING_FROM).sum() >= 3)
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
        sound = at_working_rate(Sound(self._kept[-int(LOOK_SECONDS * self.rate_hz) :], self.rate_hz))
        lowest, highest = min(self._targets.values()), max(self._targets.values())
        frames = frame_periods(
            sound, lowest_hz=shift_hz(lowest, -SEARCHED_CENTS), highest_hz=shift_hz(highest, SEARCHED_CENTS)
        )
        periodic = frames.aperiodicity < PERIODIC_BELOW
        if periodic.sum() < 2:
            return None
        hz = float(np.median(frames.hz[periodic]))
        demodulated = demodulate(sound, hz, most=6)
        fitted = fit(demodulated, np.ones(len(demodulated.seconds), dtype=bool), longest_lag=2)
        return hz if fitted is None or abs(cents_between(fitted.hz, hz)) > 50.0 else fitted.hz

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
            self._sounding = LOOK_EVERY_SECONDS
            self._looks.clear()
            self._armed = True
        else:
            self._sounding += LOOK_EVERY_SECONDS
        self._looks.append(look)

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
        seconds = min(self._sounding + LOOK_SECONDS, KEPT_SECONDS)
        sound = Sound(self._kept[-int(seconds * self.rate_hz) :], self.rate_hz)
        heard = hear(
            sound,
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

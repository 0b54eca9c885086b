"""Listening while a string's reference tone sounds out of the same device: looks, and readings that have held, as in `live`."""

from collections import deque

import numpy as np
from numpy.typing import NDArray

from pondus.core.errors import BadInput
from pondus.core.hearing.beside_tone import WINDOW_SECONDS, Beside, hear_beside
from pondus.core.hearing.hear import Reading
from pondus.core.hearing.look import Look, Settled
from pondus.core.hearing.sound import Samples
from pondus.core.hearing.stream import LOOK_EVERY_SECONDS, QUIET_BELOW_DB, Stream, is_clipping, level_db
from pondus.core.hearing.told import Told
from pondus.core.instruments import Instrument
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS, target_hz
from pondus.core.pitch.notes import A4_HZ, Spelling, cents_between, nearest_note, shift_hz
from pondus.core.pitch.tones import FOLLOWED_ORDERS

HEARD_EVERY_LOOKS = 2
AGREE_TIMES, AGREE_CENTS = 5, 3.0
GONE_TIMES = 3
TURNED_CENTS = 3.0
CONFIDENCE = 0.6
OCTAVES = (-1, 0, 1, 2)


class BesideToneListener:
    """Hears one string of an instrument live while its tone, so many octaves up, sounds beside it. Raises BadInput."""

    def __init__(
        self,
        instrument: Instrument,
        *,
        rate_hz: int,
        string: str,
        octaves_up: int,
        a4: float = A4_HZ,
        fifth_cents: float = TEMPERED_FIFTH_CENTS,
        spelling: Spelling = "sharps",
        told: Told | None = None,
    ) -> None:
        if octaves_up not in OCTAVES:
            raise BadInput("beside_tone", f"A tone {octaves_up} octaves up isn't followed; give -1 to 2.")
        self.instrument, self.string, self.rate_hz = instrument, string, rate_hz
        self.a4, self.spelling = a4, spelling
        self._string_hz = target_hz(instrument.string(string), a4=a4, fifth_cents=fifth_cents)
        self._tone_hz = self._string_hz * 2.0**octaves_up
        self._stream = Stream(rate_hz, kept_seconds=WINDOW_SECONDS + LOOK_EVERY_SECONDS)
        self._heard: deque[Beside | None] = deque(maxlen=AGREE_TIMES)
        self._looks, self._is_quiet = 0, False
        self._told = told

    @property
    def told(self) -> Told | None:
        """The reading that the present sounding gave; None: it has given none yet."""
        return self._told

    @property
    def is_silent(self) -> bool:
        """Whether not even the tone sounds; as long as it does, what sounded before is needed to tell a string from it."""
        return self._is_quiet

    @property
    def own_levels_db(self) -> tuple[float, ...]:
        """How loud its readings were: none is kept, since the tone is in all of them."""
        return ()

    def feed(self, samples: Samples, *, at_most: int | None = None) -> list[Look | Settled]:
        """As `Listener.feed`."""
        events: list[Look | Settled] = []
        passed_over = 0 if at_most is None else max(0, self._stream.count(samples) - at_most)
        for place, newest in enumerate(self._stream.looks(samples)):
            if place >= passed_over:
                events.extend(self._look(newest))
        return events

    def _look(self, newest: NDArray[np.float32]) -> list[Look | Settled]:
        level, clipping = level_db(newest), is_clipping(newest)
        self._is_quiet = level < QUIET_BELOW_DB
        self._looks += 1
        is_new = self._looks % HEARD_EVERY_LOOKS == 0
        if is_new:
            self._heard.append(None if self._is_quiet else self._beside())
        beside = self._heard[-1] if self._heard else None
        if beside is None:
            if not any(list(self._heard)[-GONE_TIMES:]):
                self._told = None
            return [Look("quiet" if self._is_quiet else "noise", level, clipping, is_beside_tone=True)]
        hz = shift_hz(self._string_hz, beside.cents)
        note = nearest_note(hz, a4=self.a4, spelling=self.spelling)
        steady = self._agrees()
        look = Look(
            "steady" if steady else "wavering",
            level,
            clipping,
            hz,
            note.name,
            note.cents,
            self.string,
            beside.cents,
            is_beside_tone=True,
        )
        return [look, *self._settled(level)] if is_new and steady else [look]

    def _beside(self) -> Beside | None:
        return hear_beside(
            self._stream.last(WINDOW_SECONDS + LOOK_EVERY_SECONDS),
            string_hz=self._string_hz,
            tone_hz=self._tone_hz,
            tone_orders=FOLLOWED_ORDERS,
        )

    def _agrees(self) -> bool:
        cents = [beside.cents for beside in self._heard if beside is not None]
        return len(cents) == AGREE_TIMES and max(cents) - min(cents) <= AGREE_CENTS

    def _settled(self, level: float) -> list[Settled]:
        """The reading of a sounding that gave none yet, or that was turned since."""
        heard = [beside for beside in self._heard if beside is not None]
        cents = float(np.median([beside.cents for beside in heard]))
        spread = max(float(np.ptp([beside.cents for beside in heard])) / 2.0, heard[-1].plus_minus_cents)
        hz = shift_hz(self._string_hz, cents)
        if self._told is not None and abs(cents_between(hz, self._told.hz)) <= max(TURNED_CENTS, 2.0 * spread):
            return []
        self._told = Told(hz, spread, level)
        note = nearest_note(hz, a4=self.a4, spelling=self.spelling)
        steady_seconds = AGREE_TIMES * HEARD_EVERY_LOOKS * LOOK_EVERY_SECONDS
        return [Settled(Reading(hz, note, self.string, cents, spread, steady_seconds, CONFIDENCE), None)]

"""Listening as sound comes in: a look every 50 ms, and a reading once it has settled.

A look is quick and rough: the level, whether there is a pitch, and the pitch to a fraction of a cent over the last fifth
of a second. When the looks of the last third of a second agree within two cents, or have gone on for a second without (a
player's bow sways), the whole sounding so far is heard as a recording would be (`hear`), octave and all; that is the settled
reading, or there is a reason why there is none yet. One sounding gives one settled reading, however it sways or dies
away (`sounding`).
"""

from collections import deque
from collections.abc import Iterable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from pondus.core.hearing.arrays import middle
from pondus.core.hearing.hear import UNSURE_BELOW, Reading, Refusal, hear
from pondus.core.hearing.look import Ask, Look, Settled, ask_about
from pondus.core.hearing.onset import HEARD_SECONDS, brightened_db
from pondus.core.hearing.own_level import OwnLevel, RoomLevel
from pondus.core.hearing.partials import quick_hz
from pondus.core.hearing.periodicity import frame_periods
from pondus.core.hearing.sound import Samples, Sound
from pondus.core.hearing.sounding import State, ToHear
from pondus.core.hearing.steadiness import PERIODIC_BELOW
from pondus.core.hearing.stream import LOOK_EVERY_SECONDS, QUIET_BELOW_DB, Stream, is_clipping, level_db
from pondus.core.hearing.told import Told
from pondus.core.instruments import Instrument
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS, targets_hz
from pondus.core.pitch.notes import A4_HZ, Spelling, cents_between, nearest_note, shift_hz

LOOK_SECONDS = 0.20
KEPT_SECONDS = 1.6
UNREAD_LOOKS, UNREAD_OF_LOOKS = 18, 36
"""So many of the last looks were of what gave no reading, before it is said that the room is nearly as loud."""
SEARCHED_CENTS = 800.0
PERIOD_SECONDS = 0.11
SAME_PITCH_CENTS = 50.0


class Listener:
    """Hears one instrument live. Feed it sound of one channel, full scale ±1, at ``rate_hz``. ``told``: the sound goes on in a
    sounding that has given a reading already. ``own_levels_db``: how loud the last readings were, where another listener kept
    them.
    """

    def __init__(
        self,
        instrument: Instrument,
        *,
        rate_hz: int,
        string: str | None = None,
        a4: float = A4_HZ,
        fifth_cents: float = TEMPERED_FIFTH_CENTS,
        spelling: Spelling = "sharps",
        told: Told | None = None,
        own_levels_db: Iterable[float] = (),
    ) -> None:
        if string is not None:
            instrument.string(string)
        self.instrument, self.string, self.rate_hz = instrument, string, rate_hz
        self.a4, self.fifth_cents, self.spelling = a4, fifth_cents, spelling
        self._targets = targets_hz(instrument, a4=a4, fifth_cents=fifth_cents)
        self._stream = Stream(rate_hz, kept_seconds=KEPT_SECONDS)
        self._lowest_hz = shift_hz(min(self._targets.values()), -SEARCHED_CENTS)
        self._highest_hz = shift_hz(max(self._targets.values()), SEARCHED_CENTS)
        self._state = State() if told is None else State(told=told, silent_looks=0)
        self._unread: deque[bool] = deque(maxlen=UNREAD_OF_LOOKS)
        self._own, self._room = OwnLevel(own_levels_db), RoomLevel()

    @property
    def own_levels_db(self) -> tuple[float, ...]:
        """How loud the last readings that were kept sounded, in dB re full scale, oldest first."""
        return self._own.levels_db

    @property
    def told(self) -> Told | None:
        """The reading that the present sounding gave; None: it has given none yet."""
        return self._state.told

    @property
    def is_silent(self) -> bool:
        """Whether no string sounds, and what sounded before is over."""
        return self._state.silent_looks > 0 and self._state.told is None

    def feed(self, samples: Samples, *, at_most: int | None = None) -> list[Look | Settled]:
        """Take in sound and give what there is to say: a look for every 50 ms, and settled readings. ``at_most``: no more looks
        than that, the last ones, for whoever has fallen behind; what comes before is only kept.
        """
        events: list[Look | Settled] = []
        passed_over = 0 if at_most is None else max(0, self._stream.count(samples) - at_most)
        for place, newest in enumerate(self._stream.looks(samples)):
            if place >= passed_over:
                events.extend(self._look(newest))
            else:
                self._state = self._state.passed_over()
        return events

    def _look(self, newest: NDArray[np.float32]) -> list[Look | Settled]:
        look, bright_db = self._seen(newest), brightened_db(self._stream.last(HEARD_SECONDS))
        self._room.add(look.level_db)
        self._state, over = self._state.after(look, bright_db)
        is_softer = look.hz is not None and self._own.is_much_softer(self._state.level.loudest_db)
        settled = self._settle(look, over)
        self._state = self._state.played_again(look, bright_db, is_new=settled is not None)
        is_among_others = settled is None and self._is_among_others(look, is_softer=is_softer)
        if settled is not None:
            self._unread.clear()
        seen = replace(
            look,
            room_db=self._room.level_db,
            is_softer=is_softer,
            is_again=self._state.again_for > 0,
            is_among_others=is_among_others,
            reason=None if settled is not None or is_among_others else self._state.why(look),
        )
        return [seen] if settled is None else [seen, settled]

    def _is_among_others(self, look: Look, *, is_softer: bool) -> bool:
        sounds = look.hz is not None or (look.hears != "quiet" and self._room.is_under(look.level_db))
        self._unread.append(sounds and self._state.told is None and not is_softer)
        return sum(self._unread) >= UNREAD_LOOKS and self._room.is_nearly_as_loud(self._state.level.loudest_db)

    def _seen(self, newest: NDArray[np.float32]) -> Look:
        level, clipping = level_db(newest), is_clipping(newest)
        if level < QUIET_BELOW_DB:
            return Look("quiet", level, clipping)
        hz = self._pitch()
        if hz is None:
            return Look("noise", level, clipping)
        note = nearest_note(hz, a4=self.a4, spelling=self.spelling)
        name = self.string or min(self._targets, key=lambda name: abs(cents_between(hz, self._targets[name])))
        off = cents_between(hz, self._targets[name])
        steady = self._state.agrees(hz)
        return Look("steady" if steady else "wavering", level, clipping, hz, note.name, note.cents, name, off)

    def _pitch(self) -> float | None:
        """The pitch of the last fifth of a second, or None."""
        sound = self._stream.last(LOOK_SECONDS)
        frames = frame_periods(self._stream.last(PERIOD_SECONDS), lowest_hz=self._lowest_hz, highest_hz=self._highest_hz)
        periodic = frames.aperiodicity < PERIODIC_BELOW
        if periodic.sum() < 2:
            return None
        hz = middle(frames.hz[periodic])
        finer = quick_hz(sound, hz)
        return finer if abs(cents_between(finer, hz)) <= SAME_PITCH_CENTS else hz

    def _settle(self, look: Look, over: ToHear | None) -> Settled | None:
        what = over
        if what is None:
            self._state, what = self._state.due(look)
        if what is None:
            return None
        heard = self._hear(what)
        self._state, is_new = self._state.heard(heard, what, look)
        if isinstance(heard, Refusal) or not is_new:
            return None
        ask = self._ask(heard, what.loudest_db)
        if ask is None:
            self._own.keep(what.loudest_db)
        return Settled(heard, ask)

    def _hear(self, what: ToHear) -> Reading | Refusal:
        """Hear a sounding as a recording."""
        since = what.looks_since * LOOK_EVERY_SECONDS
        sound = self._stream.last(min(what.seconds + LOOK_SECONDS + since, KEPT_SECONDS))
        whole = len(sound.samples) - round(since * sound.rate_hz)
        return hear(
            Sound(sound.samples[: max(0, whole)], sound.rate_hz),
            self.instrument,
            string=self.string,
            a4=self.a4,
            fifth_cents=self.fifth_cents,
            spelling=self.spelling,
        )

    def _ask(self, heard: Reading, loudest_db: float) -> Ask | None:
        if self._own.is_much_softer(loudest_db):
            return "softer"
        question = ask_about(heard, self._targets) if self.string is None else None
        return question or ("unsure" if heard.confidence < UNSURE_BELOW else None)

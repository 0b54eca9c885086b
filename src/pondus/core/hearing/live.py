"""Listening as sound comes in: a look every 50 ms, and a reading once it has settled.

A look is quick and rough: the level, whether there is a pitch, and the pitch to a fraction of a cent over the last fifth
of a second. When the looks of the last third of a second agree within two cents, or have gone on for a second without (a
player's bow sways), the whole sounding so far is heard as a recording would be (`hear`), octave and all; that is the settled
reading, or there is a reason why there is none yet. One sounding gives one settled reading, however it sways or dies
away: the next needs silence, a new start of the sound, another string, or a long move of the pitch, as when it is turned.
"""

import math
from collections import deque
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from pondus.core.hearing.arrays import middle
from pondus.core.hearing.hear import UNSURE_BELOW, Reading, Reason, Refusal, hear
from pondus.core.hearing.onset import HEARD_SECONDS, brightened_db
from pondus.core.hearing.own_level import LastingLevel, OwnLevel, RoomLevel
from pondus.core.hearing.partials import quick_hz
from pondus.core.hearing.periodicity import frame_periods
from pondus.core.hearing.sound import Samples, Sound
from pondus.core.hearing.steadiness import PERIODIC_BELOW
from pondus.core.hearing.stream import LOOK_EVERY_SECONDS, QUIET_BELOW_DB, Stream, is_clipping, level_db
from pondus.core.hearing.told import DEAD_DB, DYING_DB, Over, Rang, Told
from pondus.core.instruments import Instrument
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS, targets_hz
from pondus.core.pitch.notes import A4_HZ, Spelling, cents_between, nearest_note, shift_hz

Hears = Literal["quiet", "noise", "wavering", "steady"]
Ask = Literal["between-strings", "octave", "unsure", "softer"]

LOOK_SECONDS = 0.20
KEPT_SECONDS = 1.6
AGREE_LOOKS = 6
AGREE_CENTS = 2.0
NEW_SOUND_RISE_DB, RISE_WITHIN_LOOKS, RISE_HOLDS_LOOKS = 8.0, 3, 2
"""A level that jumps so much within so many looks, and stays there for so many, is a new pluck or stroke."""
STRUCK_DB, STRUCK_WHILE_DYING_DB = 6.5, 4.0
"""Or a brightness that comes back at once: by less in a pluck that is dying away, whose level alone says nothing (it comes and
goes by itself); a bow that swells brings nearly as much.
"""
SILENT_LOOKS = 3
OTHER_PITCH_CENTS = 60.0
HELD_LOOKS, FAR_CENTS = 8, 12.0
"""A small move must hold for so many looks after it agrees: a bow that sways soon comes back."""
AGAIN_DB, AGAIN_LOOKS = 2.5, 24
"""So much brighter at once, near its pitch, a string that was read has been played again; so many looks long it is said."""
TAIL_GONE_LOOKS, TAIL_CENTS = 10, 20.0
"""After so long a silence, or so far from where it was, even a faint sound is a new one."""
UNREAD_LOOKS, UNREAD_OF_LOOKS = 18, 36
"""So many of the last looks were of what gave no reading, before it is said that the room is nearly as loud."""
SURE_WITHIN_CENTS = 300.0
OCTAVE_WITHIN_CENTS, PLAUSIBLE_CENTS = 60.0, 100.0
HARMONICS_CENTS = (-1200.0, 1200.0, 1902.0, 2400.0)
SEARCHED_CENTS = 800.0
PERIOD_SECONDS = 0.11
SAME_PITCH_CENTS = 50.0
FIRST_TRY_SECONDS, TRY_AGAIN_SECONDS, ENDED_TRY_SECONDS = 0.38, 0.14, 0.25
OVER_LOOKS, ANOTHER_CENTS = 2, 150.0
"""Where another sounding ends it, so far away, so many of the last looks are that one's."""
SWAYING_TRY_SECONDS, SWAYING_AGAIN_SECONDS = 0.7, 0.25
"""A whole hearing costs ten looks: it waits until there is enough to hear, and longer where the looks don't agree; less of a
sounding that is over, as a short pluck soon is.
"""
REASON_AFTER_SECONDS = 1.2
"""So long a sounding without a reading is told why."""


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
    reason: Reason | None = None
    """Why this sounding has given no reading yet, though it has gone on for a while, or gave none though it is over."""
    is_softer: bool = False
    """Whether this sounding is so much softer than the instrument's own strings that it is taken for another's."""
    is_again: bool = False
    """Whether what was read already has just been heard again, and is the same."""
    room_db: float | None = None
    """How loud the room is around it, in dB re full scale; None: not known yet."""
    is_among_others: bool = False
    """Whether something has sounded for a while without a reading, and hardly stands out of the room."""
    is_beside_tone: bool = False
    """Whether the string's reference tone sounds with it."""


@dataclass(frozen=True)
class Settled:
    """A reading that has held. ``ask`` says why a person should confirm it before it is kept, or play again; None: keep it."""

    reading: Reading
    ask: Ask | None


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
        self._looks: deque[Look] = deque(maxlen=AGREE_LOOKS)
        self._sounding, self._try_at = 0.0, FIRST_TRY_SECONDS
        self._silent = SILENT_LOOKS if told is None else 0
        self._told: Told | None = told
        self._before: Told | None = None
        self._rang: Rang | None = None
        self._least_db = 0.0
        self._reason: Reason | None = None
        self._armed, self._held = told is None, 0
        self._over: Over | None = None
        self._struck_for, self._bright_db, self._again_for = 0, -math.inf, 0
        self._unread: deque[bool] = deque(maxlen=UNREAD_OF_LOOKS)
        self._own, self._level, self._room = OwnLevel(own_levels_db), LastingLevel(), RoomLevel()

    @property
    def own_levels_db(self) -> tuple[float, ...]:
        """How loud the last readings that were kept sounded, in dB re full scale, oldest first."""
        return self._own.levels_db

    @property
    def told(self) -> Told | None:
        """The reading that the present sounding gave; None: it has given none yet."""
        return self._told

    @property
    def is_silent(self) -> bool:
        """Whether no string sounds, and what sounded before is over."""
        return self._silent > 0 and self._told is None

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
        self._room.add(look.level_db)
        look = replace(look, room_db=self._room.level_db)
        self._follow(look)
        if look.hz is not None and self._own.is_much_softer(self._level.loudest_db):
            look = replace(look, is_softer=True)
        settled = self._settle(look)
        self._again_for = 0 if settled is not None or look.hz is None else max(0, self._again_for - 1)
        if self._is_again(look):
            self._again_for = AGAIN_LOOKS
        look = replace(look, is_again=True) if self._again_for > 0 else look
        if settled is not None:
            self._unread.clear()
            return [look, settled]
        waits = self._armed and (look.hz is None or self._sounding >= REASON_AFTER_SECONDS)
        return [replace(look, reason=self._reason if waits else None, is_among_others=self._is_among_others(look))]

    def _is_among_others(self, look: Look) -> bool:
        sounds = look.hz is not None or (look.hears != "quiet" and self._room.is_under(look.level_db))
        self._unread.append(sounds and self._told is None and not look.is_softer)
        return sum(self._unread) >= UNREAD_LOOKS and self._room.is_nearly_as_loud(self._level.loudest_db)

    def _is_again(self, look: Look) -> bool:
        """Whether what was read has just been played again, and softly enough to be no new sounding."""
        if self._told is None or self._armed or look.hz is None or self._bright_db < AGAIN_DB:
            return False
        return abs(cents_between(look.hz, self._told.hz)) <= TAIL_CENTS

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
        hz = middle(frames.hz[periodic])
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
        after_silence = self._silent >= SILENT_LOOKS
        self._silent = self._silent + 1 if look.hz is None else 0
        self._struck_for = RISE_WITHIN_LOOKS if self._is_struck() else max(0, self._struck_for - 1)
        self._over = None
        if look.hz is None:
            self._over, self._sounding = self._just_over(0), 0.0
            if self._silent >= (SILENT_LOOKS if self._told is None else TAIL_GONE_LOOKS):
                self._armed, self._told, self._before, self._rang = True, None, None, None
        elif self._told is not None and previous is None:
            self._sounding = LOOK_EVERY_SECONDS  # it goes on from where another listener left it
        elif previous is None or previous.hz is None or self._starts_anew(previous, look):
            begins = (after_silence and not self._is_tail(look)) or self._begins(look)
            self._over = None if self._wavers(previous, look) else self._just_over(OVER_LOOKS, next_begins=begins)
            self._sounding, self._try_at = LOOK_EVERY_SECONDS, FIRST_TRY_SECONDS
            self._reason, self._level = None, LastingLevel()
            if begins:
                if self._told is not None:
                    self._rang = Rang(self._told, self._least_db)
                self._looks.clear()
                self._armed, self._told, self._before = True, None, None
        else:
            self._sounding += LOOK_EVERY_SECONDS
        self._level.add(look.level_db)
        self._least_db = look.level_db if self._told is None else min(self._least_db, look.level_db)
        self._looks.append(look)
        self._held = self._held + 1 if look.hears == "steady" else 0
        self._follow_turning(look)

    def _wavers(self, previous: Look | None, look: Look) -> bool:
        """Whether it is still the same string's: a finger sways, or the bow turns, and the pitch bends with it."""
        if previous is None or previous.hz is None or look.hz is None:
            return False
        return abs(cents_between(look.hz, previous.hz)) < ANOTHER_CENTS

    def _just_over(self, looks_since: int, *, next_begins: bool = False) -> Over | None:
        """The sounding that this look has ended, if it gave no reading and was long enough to give one."""
        if not self._armed or self._sounding < ENDED_TRY_SECONDS:
            return None
        last_db = self._looks[-1].level_db
        return Over(self._sounding, looks_since, next_begins, last_db, self._level.loudest_db, self._before)

    def _follow_turning(self, look: Look) -> None:
        """A string turned while it sounds: once it is somewhere else for a while it is a new reading, of what sounds
        since then.
        """
        if self._told is None or self._armed or look.hz is None or len(self._looks) < AGREE_LOOKS:
            return
        if self._rises(look):  # what held elsewhere was softer, and not this
            return
        pitches = [each.hz for each in self._looks if each.hz is not None]
        if len(pitches) < AGREE_LOOKS:
            return
        now = middle(np.array(pitches))
        if self._told.is_left_of(now):
            return
        moved = abs(cents_between(now, self._told.hz))
        holds = self._held >= (HELD_LOOKS if moved < FAR_CENTS else 1)
        together = all(abs(cents_between(each, now)) < OTHER_PITCH_CENTS for each in pitches)
        if moved > self._told.turned_beyond(look.level_db) and (holds or (moved > OTHER_PITCH_CENTS and together)):
            self._armed, self._told, self._before = True, None, self._told
            self._sounding = self._try_at = AGREE_LOOKS * LOOK_EVERY_SECONDS
            self._level = LastingLevel(each.level_db for each in self._looks)

    def _starts_anew(self, previous: Look, look: Look) -> bool:
        assert previous.hz is not None and look.hz is not None
        return abs(cents_between(look.hz, previous.hz)) > OTHER_PITCH_CENTS or self._begins(look)

    def _begins(self, look: Look) -> bool:
        """Whether this is a new pluck or stroke: its level has just jumped, or it was struck."""
        if not self._looks:
            return False
        louder_than_told = self._told is None or look.level_db > self._told.level_db + NEW_SOUND_RISE_DB
        rises = self._rises(look) and (louder_than_told or not self._is_dying())
        return rises or self._struck_for > 0

    def _rises(self, look: Look) -> bool:
        """Whether its level has just jumped, and stays: a knock doesn't last so long."""
        levels = [each.level_db for each in self._looks] + [look.level_db]
        lately, since = levels[-RISE_HOLDS_LOOKS - RISE_WITHIN_LOOKS : -RISE_HOLDS_LOOKS], levels[-RISE_HOLDS_LOOKS:]
        return bool(lately) and min(since) > min(lately) + NEW_SOUND_RISE_DB

    def _is_tail(self, look: Look) -> bool:
        """Whether this is only what is left of a pluck that was read: its beats take it under what is heard, and back."""
        if self._told is None or look.hz is None or look.level_db > self._told.level_db - DEAD_DB:
            return False
        return abs(cents_between(look.hz, self._told.hz)) < TAIL_CENTS or self._told.is_left_of(look.hz)

    def _is_struck(self) -> bool:
        least = STRUCK_WHILE_DYING_DB if self._is_dying() else STRUCK_DB
        self._bright_db = brightened_db(self._stream.last(HEARD_SECONDS))
        return self._bright_db > least

    def _is_dying(self) -> bool:
        """Whether what gave a reading has been dying away since."""
        earlier = [each.level_db for each in list(self._looks)[:-RISE_WITHIN_LOOKS]]
        return self._told is not None and bool(earlier) and max(earlier) < self._told.level_db - DYING_DB

    def _is_time(self, look: Look) -> bool:
        """Whether to hear the sounding so far: it has held, or gone on for a while."""
        agree = look.hears == "steady"
        if look.hz is None or self._sounding < self._try_at or not (agree or self._sounding >= SWAYING_TRY_SECONDS):
            return False
        self._try_at = self._sounding + (TRY_AGAIN_SECONDS if agree else SWAYING_AGAIN_SECONDS)
        return True

    def _settle(self, look: Look) -> Settled | None:
        if self._over is not None:
            return self._settle_over(self._over, look)
        if not self._armed or not self._is_time(look):
            return None
        heard = self._hear(self._sounding)
        if isinstance(heard, Refusal):
            self._reason = heard.reason
            return None
        told = Told(heard.hz, heard.spread_cents, look.level_db)
        same = self._same_as(told, self._before, self._level.loudest_db)
        self._armed, self._told, self._before, self._reason = False, same or told, None, None
        self._again_for = 0 if same is None else AGAIN_LOOKS
        return None if same is not None else self._settled(heard, self._level.loudest_db)

    def _settle_over(self, over: Over, look: Look) -> Settled | None:
        """Hear a sounding that is over, by silence or because another sounds now. That one goes on as it began."""
        heard = self._hear(over.seconds, looks_since=over.looks_since)
        if isinstance(heard, Refusal):
            if look.hz is None:
                self._reason = heard.reason
            return None
        told = Told(heard.hz, heard.spread_cents, over.last_db)
        same = self._same_as(told, over.before, over.loudest_db)
        if not over.next_begins:
            self._armed, self._told, self._before, self._reason = False, same or told, None, None
        return None if same is not None else self._settled(heard, over.loudest_db)

    def _same_as(self, told: Told, before: Told | None, loudest_db: float) -> Told | None:
        """What has been told already and only seemed to be turned, or to be struck again (a knock); None: it is new."""
        if before is not None and before.is_still(told):
            return before
        rang = self._rang
        return rang.told if rang is not None and rang.goes_on_as(told, loudest_db=loudest_db) else None

    def _hear(self, seconds: float, *, looks_since: int = 0) -> Reading | Refusal:
        """Hear the last so many seconds as a recording, without the last looks, in which something else sounds."""
        since = looks_since * LOOK_EVERY_SECONDS
        sound = self._stream.last(min(seconds + LOOK_SECONDS + since, KEPT_SECONDS))
        whole = len(sound.samples) - round(since * sound.rate_hz)
        return hear(
            Sound(sound.samples[: max(0, whole)], sound.rate_hz),
            self.instrument,
            string=self.string,
            a4=self.a4,
            fifth_cents=self.fifth_cents,
            spelling=self.spelling,
        )

    def _settled(self, heard: Reading, loudest_db: float) -> Settled:
        ask = self._ask(heard, loudest_db)
        if ask is None:
            self._own.keep(loudest_db)
        return Settled(heard, ask)

    def _ask(self, heard: Reading, loudest_db: float) -> Ask | None:
        if self._own.is_much_softer(loudest_db):
            return "softer"
        asked = ask_about(heard, self._targets) if self.string is None else None
        return asked or ("unsure" if heard.confidence < UNSURE_BELOW else None)


def ask_about(reading: Reading, targets: dict[str, float]) -> Ask | None:
    """Why a reading of an unnamed string should be confirmed before it is kept, if it should.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.pitch.notes import nearest_note
    >>> violin = targets_hz(INSTRUMENTS["violin"])
    >>> def at(hz: float, string: str) -> Reading:
    ...     off = cents_between(hz, violin[string])
    ...     return Reading(hz, nearest_note(hz), string, off, 0.1, 0.5, 0.9)
    >>> ask_about(at(441.0, "A"), violin), ask_about(at(392.0, "A"), violin), ask_about(at(358.0, "A"), violin)
    (None, 'octave', 'between-strings')
    """
    if abs(reading.string_cents) > PLAUSIBLE_CENTS:
        away = [cents_between(reading.hz, hz) for hz in targets.values()]
        if any(abs(each - harmonic) <= OCTAVE_WITHIN_CENTS for each in away for harmonic in HARMONICS_CENTS):
            return "octave"
    return "between-strings" if abs(reading.string_cents) > SURE_WITHIN_CENTS else None

"""What a listener remembers from look to look, and how each look changes it.

A string is silent; or it sounds and has given no reading yet (``told`` None); or it has (``told``), and goes on; or it was
turned since (``before``), and is to be read again. `State.after` is every way from one to the next: the next sounding
needs silence, a new start of the sound, another string, or a pitch that holds elsewhere. No sound is looked at here.
"""

from dataclasses import dataclass, field, replace

import numpy as np

from pondus.core.hearing.arrays import middle
from pondus.core.hearing.hear import Reading, Reason, Refusal
from pondus.core.hearing.look import Look
from pondus.core.hearing.own_level import LastingLevel
from pondus.core.hearing.stream import LOOK_EVERY_SECONDS
from pondus.core.hearing.told import DEAD_DB, DYING_DB, Rang, Told
from pondus.core.pitch.notes import cents_between

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
class State:
    """What is remembered. ``told``: the reading that the present sounding gave; None: none yet, or silence. ``before``: what it
    had told before it was turned; ``rang`` what rings on under it. Of the sounding: for how long it goes on (``seconds``),
    when it is to be heard whole (``try_at``, seconds since it began), how loud it is, the softest since it was read
    (``least_db``), why it gave no reading. ``looks`` the last ones, oldest first; for how many in a row there is silence
    (``silent_looks``) or they agree (``held_looks``); for how many more it counts as struck, or is said to be the same again.
    """

    told: Told | None = None
    before: Told | None = None
    rang: Rang | None = None
    looks: tuple[Look, ...] = ()
    silent_looks: int = SILENT_LOOKS
    held_looks: int = 0
    struck_for: int = 0
    again_for: int = 0
    seconds: float = 0.0
    try_at: float = FIRST_TRY_SECONDS
    level: LastingLevel = field(default_factory=LastingLevel)
    least_db: float = 0.0
    reason: Reason | None = None

    def agrees(self, hz: float) -> bool:
        """Whether a look at this pitch and those before it agree."""
        before = [look.hz for look in self.looks]
        if len(before) < AGREE_LOOKS or None in before:
            return False
        return all(abs(cents_between(look, hz)) <= AGREE_CENTS for look in before[1:] if look is not None)

    def passed_over(self) -> "State":
        """The state after a look that nobody had time for."""
        return replace(self, seconds=self.seconds + LOOK_EVERY_SECONDS) if self.seconds > 0.0 else self

    def after(self, look: Look, bright_db: float) -> "tuple[State, ToHear | None]":
        """The state after a look, and the sounding that it ended, which is to be heard. ``bright_db``: how much brighter the
        sound got at once.
        """
        previous = self.looks[-1] if self.looks else None
        least = STRUCK_WHILE_DYING_DB if self._is_dying() else STRUCK_DB
        struck_for = RISE_WITHIN_LOOKS if bright_db > least else max(0, self.struck_for - 1)
        now = self if struck_for == self.struck_for else replace(self, struck_for=struck_for)
        over = None
        if look.hz is None:
            now, over = now._fallen_silent()
        elif self.told is not None and previous is None:
            now = replace(now, seconds=LOOK_EVERY_SECONDS)  # it goes on from where another listener left it
        elif previous is None or previous.hz is None or now._starts_anew(previous, look):
            now, over = now._started(previous, look)
        else:
            now = replace(now, seconds=self.seconds + LOOK_EVERY_SECONDS)
        return now._with(look)._turned(look), over

    def _fallen_silent(self) -> "tuple[State, ToHear | None]":
        over, silent = self._just_over(0), self.silent_looks + 1
        now = replace(self, seconds=0.0, silent_looks=silent)
        if silent >= (SILENT_LOOKS if self.told is None else TAIL_GONE_LOOKS):
            now = replace(now, told=None, before=None, rang=None)
        return now, over

    def _started(self, previous: Look | None, look: Look) -> "tuple[State, ToHear | None]":
        """Another pitch than before, or a new start; a new sounding only if it begins so."""
        begins = (self.silent_looks >= SILENT_LOOKS and not self._is_tail(look)) or self._begins(look)
        over = None if _wavers(previous, look) else self._just_over(OVER_LOOKS, next_begins=begins)
        now = replace(
            self, seconds=LOOK_EVERY_SECONDS, try_at=FIRST_TRY_SECONDS, reason=None, level=LastingLevel()
        )  # fmt: skip
        if begins:
            rang = self.rang if self.told is None else Rang(self.told, self.least_db)
            now = replace(now, looks=(), told=None, before=None, rang=rang)
        return now, over

    def _with(self, look: Look) -> "State":
        return replace(
            self,
            looks=(*self.looks, look)[-AGREE_LOOKS:],
            silent_looks=self.silent_looks if look.hz is None else 0,
            held_looks=self.held_looks + 1 if look.hears == "steady" else 0,
            level=self.level.and_then(look.level_db),
            least_db=look.level_db if self.told is None else min(self.least_db, look.level_db),
        )

    def _turned(self, look: Look) -> "State":
        """A string turned while it sounds: once it is elsewhere for a while it is to be read again, of what sounds since."""
        pitches = [look.hz for look in self.looks if look.hz is not None]
        if self.told is None or look.hz is None or len(pitches) < AGREE_LOOKS:
            return self
        now = middle(np.array(pitches))
        if self._rises(look) or self.told.is_left_of(now):  # what held elsewhere was softer, and not this
            return self
        moved = abs(cents_between(now, self.told.hz))
        holds = self.held_looks >= (HELD_LOOKS if moved < FAR_CENTS else 1)
        together = all(abs(cents_between(pitch, now)) < OTHER_PITCH_CENTS for pitch in pitches)
        if moved <= self.told.turned_beyond(look.level_db) or not (holds or (moved > OTHER_PITCH_CENTS and together)):
            return self
        so_far = AGREE_LOOKS * LOOK_EVERY_SECONDS
        level = LastingLevel.of(look.level_db for look in self.looks)
        return replace(self, told=None, before=self.told, seconds=so_far, try_at=so_far, level=level)

    def _just_over(self, looks_since: int, *, next_begins: bool = False) -> "ToHear | None":
        """The sounding that this look has ended, if it gave no reading and was long enough to give one."""
        if self.told is not None or self.seconds < ENDED_TRY_SECONDS:
            return None
        last_db, loudest_db = self.looks[-1].level_db, self.level.loudest_db
        return ToHear(self.seconds, last_db, loudest_db, self.before, looks_since, next_begins, is_over=True)

    def _starts_anew(self, previous: Look, look: Look) -> bool:
        assert previous.hz is not None and look.hz is not None
        return abs(cents_between(look.hz, previous.hz)) > OTHER_PITCH_CENTS or self._begins(look)

    def _begins(self, look: Look) -> bool:
        """Whether this is a new pluck or stroke: its level has just jumped, or it was struck."""
        if not self.looks:
            return False
        louder_than_told = self.told is None or look.level_db > self.told.level_db + NEW_SOUND_RISE_DB
        rises = self._rises(look) and (louder_than_told or not self._is_dying())
        return rises or self.struck_for > 0

    def _rises(self, look: Look) -> bool:
        """Whether its level has just jumped, and stays: a knock doesn't last so long."""
        levels = [look.level_db for look in self.looks] + [look.level_db]
        lately, since = levels[-RISE_HOLDS_LOOKS - RISE_WITHIN_LOOKS : -RISE_HOLDS_LOOKS], levels[-RISE_HOLDS_LOOKS:]
        return bool(lately) and min(since) > min(lately) + NEW_SOUND_RISE_DB

    def _is_tail(self, look: Look) -> bool:
        """Whether this is only what is left of a pluck that was read: its beats take it under what is heard, and back."""
        if self.told is None or look.hz is None or look.level_db > self.told.level_db - DEAD_DB:
            return False
        return abs(cents_between(look.hz, self.told.hz)) < TAIL_CENTS or self.told.is_left_of(look.hz)

    def _is_dying(self) -> bool:
        """Whether what gave a reading has been dying away since."""
        earlier = [look.level_db for look in self.looks[:-RISE_WITHIN_LOOKS]]
        return self.told is not None and bool(earlier) and max(earlier) < self.told.level_db - DYING_DB

    def due(self, look: Look) -> "tuple[State, ToHear | None]":
        """The sounding so far, where it is time to hear it: it has held, or gone on for a while."""
        agree = look.hears == "steady"
        if self.told is not None or look.hz is None or self.seconds < self.try_at:
            return self, None
        if not (agree or self.seconds >= SWAYING_TRY_SECONDS):
            return self, None
        now = replace(self, try_at=self.seconds + (TRY_AGAIN_SECONDS if agree else SWAYING_AGAIN_SECONDS))
        return now, ToHear(self.seconds, look.level_db, self.level.loudest_db, self.before)

    def heard(self, heard: Reading | Refusal, what: "ToHear", look: Look) -> "tuple[State, bool]":
        """The state once a sounding was heard, and whether that is a reading which was not told before."""
        if isinstance(heard, Refusal):
            speaks = not what.is_over or look.hz is None
            return (replace(self, reason=heard.reason) if speaks else self), False
        reading = Told(heard.hz, heard.spread_cents, what.last_db)
        same = self._same_as(reading, what)
        now = self if what.next_begins else replace(self, told=same or reading, before=None, reason=None)
        if not what.is_over:
            now = replace(now, again_for=0 if same is None else AGAIN_LOOKS)
        return now, same is None

    def _same_as(self, told: Told, what: "ToHear") -> Told | None:
        """What has been told already and only seemed to be turned, or to be struck again (a knock); None: it is new."""
        if what.before is not None and what.before.is_still(told):
            return what.before
        rang = self.rang
        return rang.told if rang is not None and rang.goes_on_as(told, loudest_db=what.loudest_db) else None

    def played_again(self, look: Look, bright_db: float, *, is_new: bool) -> "State":
        """The state once a look is told: whether what was read has just been played again, so softly that it is no new
        sounding. ``is_new``: with it goes a reading.
        """
        near = self.told and look.hz and abs(cents_between(look.hz, self.told.hz)) <= TAIL_CENTS
        if near and bright_db >= AGAIN_DB:
            return replace(self, again_for=AGAIN_LOOKS)
        again_for = 0 if is_new or look.hz is None else max(0, self.again_for - 1)
        return self if again_for == self.again_for else replace(self, again_for=again_for)

    def why(self, look: Look) -> Reason | None:
        """Why it has given no reading, once it is time to say so."""
        waits = self.told is None and (look.hz is None or self.seconds >= REASON_AFTER_SECONDS)
        return self.reason if waits else None


@dataclass(frozen=True)
class ToHear:
    """A sounding that is to be heard whole, as a recording would be: its last so many ``seconds``, without the last looks,
    which are another's (``looks_since``); how loud it was at last and at its loudest; what had been told before it seemed to be
    turned. ``is_over``: another sounds now, or nothing; ``next_begins``: and that is a new sounding.
    """

    seconds: float
    last_db: float
    loudest_db: float
    before: Told | None
    looks_since: int = 0
    next_begins: bool = False
    is_over: bool = False


def _wavers(previous: Look | None, look: Look) -> bool:
    """Whether it is still the same string's: a finger sways, or the bow turns, and the pitch bends with it."""
    if previous is None or previous.hz is None or look.hz is None:
        return False
    return abs(cents_between(look.hz, previous.hz)) < ANOTHER_CENTS

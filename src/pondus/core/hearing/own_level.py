"""How loud the instrument at hand sounds, and the room around it: what is much softer is played further away, by another of
the class.

Levels are in dB re full scale, of looks of 50 ms.
"""

import math
from collections import deque
from collections.abc import Iterable
from dataclasses import dataclass
from functools import reduce

from pondus.core.hearing.stream import LOOK_EVERY_SECONDS, QUIET_BELOW_DB

SOFTER_DB = 12.0
"""So much softer than the instrument's own strings is another's. Its own differ by some 6 dB, and a neighbour's that is
a bow's length further from the microphone by as much; what lies between can't be told by level.
"""
LEVELS_KEPT = 4
LASTING_LOOKS = 3
ROOM_LOOKS, ROOM_LEAST_LOOKS, ROOM_SHARE = round(8.0 / LOOK_EVERY_SECONDS), round(2.0 / LOOK_EVERY_SECONDS), 0.15
"""So much of the last eight seconds are pauses of whoever tunes: they are as loud as the room."""
SOUNDS_OVER_DB, STANDS_OUT_DB = 2.0, 15.0
"""What stands out less is played among others who are nearly as loud: one in five gives no reading (docs/HEARING.md)."""


@dataclass(frozen=True)
class LastingLevel:
    """How loud a sounding is while it is loudest: the level that so many of its looks in a row reach. A knock is shorter.

    >>> LastingLevel.of([-30.0, -8.0, -31.0, -32.0]).loudest_db, LastingLevel.of([-30.0]).loudest_db
    (-31.0, -30.0)
    """

    last_db: tuple[float, ...] = ()
    lasted_db: float = -math.inf

    @classmethod
    def of(cls, levels_db: Iterable[float]) -> "LastingLevel":
        """Of looks of these levels."""
        return reduce(cls.and_then, levels_db, cls())

    @property
    def loudest_db(self) -> float:
        """That level; of fewer looks (of a busy machine some are passed over) the softest; minus infinity of none."""
        return self.lasted_db if math.isfinite(self.lasted_db) else min(self.last_db, default=-math.inf)

    def and_then(self, level_db: float) -> "LastingLevel":
        """With the next look's level."""
        last = (*self.last_db, level_db)[-LASTING_LOOKS:]
        return LastingLevel(last, max(self.lasted_db, min(last)) if len(last) == LASTING_LOOKS else self.lasted_db)


class OwnLevel:
    """Remembers how loud the last readings that were kept sounded."""

    def __init__(self, levels_db: Iterable[float] = ()) -> None:
        self._levels_db = deque(levels_db, maxlen=LEVELS_KEPT)

    @property
    def levels_db(self) -> tuple[float, ...]:
        """What is remembered, oldest first."""
        return tuple(self._levels_db)

    @property
    def usual_db(self) -> float:
        """How loud its strings are: the loudest of the last; minus infinity where none was kept yet."""
        return max(self._levels_db, default=-math.inf)

    def is_much_softer(self, level_db: float) -> bool:
        """Whether a sounding this loud is more likely another's.

        >>> own = OwnLevel([-20.0])
        >>> own.is_much_softer(-30.0), own.is_much_softer(-33.0), OwnLevel().is_much_softer(-33.0)
        (False, True, False)
        """
        return level_db < self.usual_db - SOFTER_DB

    def keep(self, level_db: float) -> None:
        """A reading of its own, this loud, was kept."""
        self._levels_db.append(level_db)


class RoomLevel:
    """How loud the room is in which a string is played, by the softest of the last eight seconds."""

    level_db: float | None = None
    """In dB re full scale; None until two seconds of it are known."""

    def __init__(self) -> None:
        self._levels_db: deque[float] = deque(maxlen=ROOM_LOOKS)

    def add(self, level_db: float) -> None:
        """The next look's level.

        >>> room = RoomLevel()
        >>> for level_db in [-50.0] * 20 + [-20.0] * 60:
        ...     room.add(level_db)
        >>> room.level_db, RoomLevel().level_db
        (-50.0, None)
        """
        self._levels_db.append(level_db)
        if len(self._levels_db) >= ROOM_LEAST_LOOKS:
            self.level_db = sorted(self._levels_db)[int(ROOM_SHARE * len(self._levels_db))]

    def is_under(self, level_db: float) -> bool:
        """Whether something this loud sounds besides the room."""
        return self.level_db is not None and level_db > self.level_db + SOUNDS_OVER_DB

    def is_nearly_as_loud(self, level_db: float) -> bool:
        """Whether a sounding this loud hardly stands out of it."""
        room_db = self.level_db
        return room_db is not None and room_db > QUIET_BELOW_DB and level_db < room_db + STANDS_OUT_DB

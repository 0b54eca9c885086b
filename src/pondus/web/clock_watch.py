"""Notices that the computer's clock was set: days and times of all that is kept go by it."""

import time
from collections.abc import Callable

JUMP_SECONDS = 120.0
"""What clocks are corrected by in passing is less."""


class ClockWatch:
    """Compares the clock on the wall with one that only goes forward. ``wall`` and ``steady``: both, in seconds."""

    def __init__(self, wall: Callable[[], float] = time.time, steady: Callable[[], float] = time.monotonic) -> None:
        self._wall, self._steady = wall, steady
        self._between = wall() - steady()

    def jump(self) -> float:
        """By how many seconds the clock was set since this was asked last, + ahead; 0 where it wasn't.

        >>> times = iter([1000.0, 1000.0 + 86_401.0, 90_000.0])
        >>> watch = ClockWatch(lambda: next(times), iter([0.0, 1.0, 2600.0]).__next__)
        >>> watch.jump(), watch.jump()
        (86400.0, 0.0)
        """
        between = self._wall() - self._steady()
        by = between - self._between
        if abs(by) < JUMP_SECONDS:
            return 0.0
        self._between = between
        return by


def jump_said(seconds: float) -> str:
    """
    >>> jump_said(-86_400.0)
    "This computer's clock was set back by 1 day. Look whether it is right: days and times go by it."
    >>> jump_said(7200.0)
    "This computer's clock was set ahead by 2 hours. Look whether it is right: days and times go by it."
    """
    size = abs(seconds)
    unit, length = next((unit, length) for unit, length in (("day", 86_400), ("hour", 3600), ("minute", 60)) if size >= length)
    count = round(size / length)
    way = "ahead" if seconds > 0 else "back"
    said = f"{count} {unit}{'' if count == 1 else 's'}"
    return f"This computer's clock was set {way} by {said}. Look whether it is right: days and times go by it."

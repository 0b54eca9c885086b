"""Answers that many pages ask for over and over: the last one of each kind, as long as nothing has changed.

Each of a server's processes keeps its own: shared between them they gained nothing in a crowded room (`bench crowd`).
"""

import time
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field, replace
from threading import Lock
from typing import Any

from flask import Response, current_app
from pydantic import BaseModel

from pondus.store.morning import MorningVersion

LAGS_SECONDS = 0.7
"""How old an answer may be that lags."""
WHILE_MADE_SECONDS = 2.0
"""How old an answer may be that lags while the next one is being worked out."""
YOUNG_SECONDS = 0.25
"""An answer that may lag and is no older isn't even compared with what is."""
ASK_AGAIN = "Pondus-Ask-Again"
"""The header of an answer that lags."""


class Lag(BaseModel):
    """``may_lag``: an answer from just before the last readings will do; it then has the header ``Pondus-Ask-Again``."""

    may_lag: bool = False


@dataclass(frozen=True)
class Kept:
    """An answer: what it was made of (``logs``, ``rest``), when, and its JSON. ``begun``: when what it was made of was last
    looked at; both in seconds of the machine's steady clock.
    """

    logs: str | None
    rest: str
    at: float
    content: bytes
    begun: float = 0.0

    def age(self) -> float:
        """Seconds since it was made."""
        return time.monotonic() - self.at


@dataclass
class Remembered:
    """The last answer of each kind. Whoever loses it works it out anew."""

    kept: dict[str, Kept] = field(default_factory=dict)
    values: dict[str, tuple[Hashable, float, Any]] = field(default_factory=dict)
    making: dict[str, Lock] = field(default_factory=dict)

    def answer(
        self,
        kind: str,
        version_now: Callable[[], MorningVersion],
        make: Callable[[], BaseModel],
        *,
        for_seconds: float,
        may_lag: bool,
    ) -> Response:
        """The answer made of ``version_now``, at most so many seconds old; of several who ask for the same at once the first
        makes it for all. ``may_lag``: an answer from just before the last readings will do; it says in a header that it is
        one, and is to be asked for again. So a room in which something is read ten times a second isn't worked out ten
        times a second.
        """
        if not may_lag:
            found = self._exact(kind, version_now, make, for_seconds)
            return Response(found.content, mimetype="application/json")
        young = self.kept.get(kind)
        if young is not None and young.age() <= YOUNG_SECONDS:
            return Response(young.content, mimetype="application/json", headers={ASK_AGAIN: "1"})
        version = version_now()
        rest = repr(version.rest)

        def serves(found: Kept | None) -> bool:
            if found is None or found.rest != rest:
                return False
            return found.age() <= (for_seconds if found.logs == version.logs else LAGS_SECONDS)

        def made() -> Kept:
            return Kept(version.logs, rest, time.monotonic(), make().model_dump_json().encode())

        def meanwhile() -> Kept | None:
            found = self.kept.get(kind)
            good = found is not None and found.rest == rest and found.age() <= WHILE_MADE_SECONDS
            return found if good else None

        found = self._answer(kind, serves, made, meanwhile())
        lags = found.logs != version.logs
        return Response(found.content, mimetype="application/json", headers={ASK_AGAIN: "1"} if lags else {})

    def _exact(
        self, kind: str, version_now: Callable[[], MorningVersion], make: Callable[[], BaseModel], for_seconds: float
    ) -> Kept:
        """An answer as things are, or were at some moment since it was asked for: those who wait for their turn take what was
        begun meanwhile, so that many who ask at once need one or two answers, and not one each.
        """
        asked_at = time.monotonic()
        with self.making.setdefault(kind, Lock()):
            found = self.kept.get(kind)
            if found is not None and found.begun >= asked_at:
                return found
            begun = time.monotonic()
            version = version_now()
            rest = repr(version.rest)
            if found is not None and (found.logs, found.rest) == (version.logs, rest) and found.age() <= for_seconds:
                found = replace(found, begun=begun)
            else:
                found = Kept(version.logs, rest, time.monotonic(), make().model_dump_json().encode(), begun)
            self.kept[kind] = found
            return found

    def _answer(
        self, kind: str, serves: Callable[[Kept | None], bool], made: Callable[[], Kept], meanwhile: Kept | None
    ) -> Kept:
        """What is kept where it serves, else one that is made for all; ``meanwhile``: what does while someone else makes it."""
        making = self.making.setdefault(kind, Lock())
        if not making.acquire(blocking=meanwhile is None):
            assert meanwhile is not None
            return meanwhile
        try:
            found = self.kept.get(kind)
            if found is None or not serves(found):
                found = self.kept[kind] = made()
            return found
        finally:
            making.release()

    def value(self, kind: str, version: Hashable, make: Callable[[], Any], *, for_seconds: float) -> Any:
        """Something that changes so seldom that it may be that old."""
        with self.making.setdefault(kind, Lock()):
            found = self.values.get(kind)
            if found is None or found[0] != version or time.monotonic() - found[1] > for_seconds:
                found = self.values[kind] = (version, time.monotonic(), make())
        return found[2]


def remembered() -> Remembered:
    """The running application's."""
    own: Remembered = current_app.extensions.setdefault("pondus_remembered", Remembered())
    return own

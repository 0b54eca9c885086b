"""Answers that many pages ask for over and over: the last one of each kind, as long as nothing has changed."""

import time
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from threading import Lock
from typing import Any

from flask import Response, current_app
from pydantic import BaseModel

from pondus.store.morning import MorningVersion

LAGS_SECONDS = 0.7
"""How old an answer may be that lags."""
ASK_AGAIN = "Pondus-Ask-Again"
"""The header of an answer that lags."""


class Lag(BaseModel):
    """``may_lag``: an answer from just before the last readings will do; it then has the header ``Pondus-Ask-Again``."""

    may_lag: bool = False


@dataclass
class Remembered:
    """The last answer of each kind, with what it was made of. One per process; whoever loses it works it out anew."""

    kept: dict[str, tuple[MorningVersion, float, bytes]] = field(default_factory=dict)
    values: dict[str, tuple[Hashable, float, Any]] = field(default_factory=dict)
    making: dict[str, Lock] = field(default_factory=dict)

    def answer(
        self, kind: str, version: MorningVersion, make: Callable[[], BaseModel], *, for_seconds: float, may_lag: bool
    ) -> Response:
        """The answer made of ``version``, at most so many seconds old; of several who ask for the same at once the first makes
        it for all. ``may_lag``: an answer from just before the last readings will do; it says in a header that it is
        one, and is to be asked for again. So a room in which something is read ten times a second isn't worked out ten
        times a second.
        """
        with self.making.setdefault(kind, Lock()):
            found = self.kept.get(kind)
            age = float("inf") if found is None else time.monotonic() - found[1]
            is_same = found is not None and found[0] == version and age <= for_seconds
            lags = found is not None and found[0].rest == version.rest and age <= LAGS_SECONDS and may_lag
            if found is None or not (is_same or lags):
                found = self.kept[kind] = (version, time.monotonic(), make().model_dump_json().encode())
                is_same = True
        return Response(found[2], mimetype="application/json", headers={} if is_same else {ASK_AGAIN: "1"})

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

"""Answers that many pages ask for over and over: the last one of each kind, as long as nothing has changed."""

import time
from collections.abc import Callable
from dataclasses import dataclass, field
from threading import Lock
from typing import Any

from flask import Response, current_app
from pydantic import BaseModel


@dataclass
class Remembered:
    """The last answer of each kind, with what it was made of. One per process; whoever loses it works it out anew."""

    kept: dict[str, tuple[Any, float, bytes]] = field(default_factory=dict)
    making: dict[str, Lock] = field(default_factory=dict)

    def answer(self, kind: str, version: Any, make: Callable[[], BaseModel], *, for_seconds: float) -> Response:
        """The answer made of ``version``, at most so many seconds old; of several who ask for the same at once the first makes
        it for all.
        """
        with self.making.setdefault(kind, Lock()):
            found = self.kept.get(kind)
            if found is None or found[0] != version or time.monotonic() - found[1] > for_seconds:
                found = self.kept[kind] = (version, time.monotonic(), make().model_dump_json().encode())
        return Response(found[2], mimetype="application/json")


def remembered() -> Remembered:
    """The running application's."""
    own: Remembered = current_app.extensions.setdefault("pondus_remembered", Remembered())
    return own

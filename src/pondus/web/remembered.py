"""Answers that many pages ask for over and over: the last one of each kind, as long as nothing has changed.

A server's processes share them in memory that no file has: one works an answer out, the others take it from there.
"""

import fcntl
import json
import os
import struct
import time
import zlib
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
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
    looked at; both in seconds of the machine's steady clock, which all its processes share.
    """

    logs: str | None
    rest: str
    at: float
    content: bytes
    begun: float = 0.0

    def age(self) -> float:
        """Seconds since it was made."""
        return time.monotonic() - self.at


class SharedMemory:
    """Where a server's processes share answers: memory without a name, made before they divide, gone with the last of them.

    Each kind has a place by its name's checksum; two of one place take turns. A place is held by a lock that the system takes
    back from a process that dies; what was half written is known by its checksum.
    """

    PLACES, LARGEST_BYTES = 16, 8 * 1024 * 1024
    _HEAD = struct.Struct("<III")

    def __init__(self) -> None:
        self._places = [os.memfd_create(f"pondus-answers-{place}") for place in range(self.PLACES)]

    def place_of(self, kind: str) -> int:
        """Which place a kind has."""
        return zlib.crc32(kind.encode()) % self.PLACES

    @contextmanager
    def held(self, place: int, *, waits: bool = True) -> Iterator[bool]:
        """Hold a place against the other processes, and against other threads of this one. Where it doesn't wait it may not be
        held: that is told.
        """
        # Opened anew: a lock belongs to an opening of a file, and the processes were born with the same ones.
        opened = os.open(f"/proc/self/fd/{self._places[place]}", os.O_RDWR)
        try:
            try:
                fcntl.flock(opened, fcntl.LOCK_EX | (0 if waits else fcntl.LOCK_NB))
            except BlockingIOError:
                yield False
            else:
                yield True
        finally:
            os.close(opened)

    def read(self, place: int, kind: str) -> Kept | None:
        """What lies at a place that is held, if it is of this kind and whole."""
        memory = self._places[place]
        head = os.pread(memory, self._HEAD.size, 0)
        if len(head) < self._HEAD.size:
            return None
        about_size, size, checksum = self._HEAD.unpack(head)
        both = os.pread(memory, about_size + size, self._HEAD.size)
        if not about_size or zlib.crc32(both) != checksum:
            return None
        of, logs, rest, made_at, begun = json.loads(both[:about_size])
        return Kept(logs, rest, made_at, both[about_size:], begun) if of == kind else None

    def write(self, place: int, kind: str, kept: Kept) -> None:
        """Put an answer at a place that is held; one too large for it isn't shared."""
        about = json.dumps([kind, kept.logs, kept.rest, kept.at, kept.begun]).encode()
        both = about + kept.content
        if self._HEAD.size + len(both) <= self.LARGEST_BYTES:
            os.pwrite(self._places[place], self._HEAD.pack(len(about), len(kept.content), zlib.crc32(both)) + both, 0)


@dataclass
class Remembered:
    """The last answer of each kind. Whoever loses it works it out anew. ``shared``: with the server's other processes."""

    shared: SharedMemory | None = None
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
        with self.making.setdefault(kind, Lock()), self._held(kind) as place:
            found = self._newest(kind, place)
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
            if self.shared is not None and place is not None:
                self.shared.write(place, kind, found)
            return found

    @contextmanager
    def _held(self, kind: str) -> Iterator[int | None]:
        """The place of a kind in what the processes share, while it is held; None where nothing is shared."""
        if self.shared is None:
            yield None
            return
        place = self.shared.place_of(kind)
        with self.shared.held(place):
            yield place

    def _newest(self, kind: str, place: int | None) -> Kept | None:
        others = None if self.shared is None or place is None else self.shared.read(place, kind)
        return max(
            (found for found in (self.kept.get(kind), others) if found), key=lambda each: each.begun, default=None
        )

    def _answer(
        self, kind: str, serves: Callable[[Kept | None], bool], made: Callable[[], Kept], meanwhile: Kept | None
    ) -> Kept:
        """What is kept where it serves, else another process's, else one that is made for all; ``meanwhile``: what does while
        someone else makes it.
        """
        making = self.making.setdefault(kind, Lock())
        if not making.acquire(blocking=meanwhile is None):
            assert meanwhile is not None
            return meanwhile
        try:
            found = self.kept.get(kind)
            if found is None or not serves(found):
                found = self.kept[kind] = self._found_or_made(kind, serves, made, meanwhile)
            return found
        finally:
            making.release()

    def _found_or_made(
        self, kind: str, serves: Callable[[Kept | None], bool], made: Callable[[], Kept], meanwhile: Kept | None
    ) -> Kept:
        if self.shared is None:
            return made()
        place = self.shared.place_of(kind)
        with self.shared.held(place, waits=meanwhile is None) as is_held:
            if not is_held:
                assert meanwhile is not None
                return meanwhile
            found = self.shared.read(place, kind)
            if found is None or not serves(found):
                found = made()
                self.shared.write(place, kind, found)
        return found

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

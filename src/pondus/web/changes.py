"""`/api/changes`: server-sent events that tell every open page what changed, within a moment.

One connection to the database and one thread for each server process, begun by the first page; each page's stream waits
in a thread of its own. What a page missed while it wasn't connected it isn't told: it asks anew when it is again. Only what
changed a moment before is told with the stream's first event, for a page that has just asked doesn't ask again.
"""

import json
import logging
import time
from collections import deque
from collections.abc import Iterable, Iterator
from contextlib import suppress
from queue import Empty, Full, Queue
from threading import Event, Lock, Thread
from typing import Any
from uuid import UUID

import psycopg
from apiflask import APIBlueprint
from flask import Response, current_app, stream_with_context
from sqlalchemy.engine import Engine

from pondus.store.changes import hearing
from pondus.store.errors import StoreAway
from pondus.web.access import own_instruments, still_in

blueprint = APIBlueprint("changes", __name__, tag="Changes")

BEAT_SECONDS = 5.0
"""How often a quiet stream says that it is still there; a page that is gone is noticed then."""
AGAIN_SECONDS = 1.0
MOST_UNREAD = 200
"""A page that takes nothing in for so long is told to ask anew."""
JUST_BEFORE_SECONDS = 10.0
"""A page asks for what it shows, then opens its stream: what changed in between is told it first. So long a slow page takes."""
MISSED = json.dumps({"missed": True, "live": True})
"""Something may have changed that wasn't told; from now on it is."""


class Stream:
    """One page's share of what changes."""

    def __init__(self, just_before: str = "{}") -> None:
        self.just_before = just_before
        self.waiting: Queue[str] = Queue(MOST_UNREAD)

    def put(self, told: str) -> None:
        """Pass something on; a page that has fallen far behind loses the oldest, and learns that it missed something."""
        try:
            self.waiting.put_nowait(told)
        except Full:
            with suppress(Empty):
                while True:
                    self.waiting.get_nowait()
            self.waiting.put_nowait(MISSED)

    def events(self, live: Event) -> Iterator[str]:
        """The stream as text, without end."""
        yield f"retry: 1000\nevent: {'live' if live.is_set() else 'deaf'}\ndata: {self.just_before}\n\n"
        while True:
            try:
                told = self.waiting.get(timeout=BEAT_SECONDS)
            except Empty:
                yield ": still here\n\n"
                continue
            yield f"data: {told}\n\n"


class Changes:
    """What this process hears of changes, passed on to all its streams."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._streams: set[Stream] = set()
        self._turn = Lock()
        self._thread: Thread | None = None
        self._recent: deque[tuple[float, str]] = deque()
        self.live = Event()
        """Whether the database tells of changes now."""

    def begin(self) -> None:
        """Hear from now on; once is enough."""
        with self._turn:
            if self._thread is None:
                self._recent.append((time.monotonic(), MISSED))
                self._thread = Thread(target=self._hear, name="changes", daemon=True)
                self._thread.start()

    def open(self) -> Stream:
        """A new page's stream."""
        self.begin()
        self.live.wait(timeout=AGAIN_SECONDS)
        with self._turn:
            stream = Stream(together(told for _, told in self._lately()))
            self._streams.add(stream)
        return stream

    def close(self, stream: Stream) -> None:
        """A page is gone."""
        with self._turn:
            self._streams.discard(stream)

    def _hear(self) -> None:
        while True:
            try:
                self._listen()
            except (StoreAway, psycopg.Error):
                logging.getLogger("pondus").info("the database doesn't tell of changes just now")
            self.live.clear()
            time.sleep(AGAIN_SECONDS)

    def _listen(self) -> None:
        with hearing(self._engine) as connection:
            self.live.set()
            self._pass_on(MISSED)  # whatever happened before
            for told in connection.notifies():
                self._pass_on(told.payload)

    def _pass_on(self, told: str) -> None:
        with self._turn:
            self._lately().append((time.monotonic(), told))
            streams = list(self._streams)
        for stream in streams:
            stream.put(told)

    def _lately(self) -> deque[tuple[float, str]]:
        """What was told of late; the turn is held."""
        while self._recent and self._recent[0][0] < time.monotonic() - JUST_BEFORE_SECONDS:
            self._recent.popleft()
        return self._recent


def together(all_told: Iterable[str]) -> str:
    """Several changes, oldest first, as one; ``{}`` for none.

    >>> together(['{"reach": "log", "instruments": {"a": 3}}', '{"reach": "log", "instruments": {"a": 4, "b": 1}}'])
    '{"reach": "log", "instruments": {"a": 4, "b": 1}}'
    >>> together([])
    '{}'
    """
    changes = [json.loads(told) for told in all_told]
    whole: dict[str, Any] = {"missed": True} if any(change.get("missed") for change in changes) else {}
    reaches = {change["reach"] for change in changes if "reach" in change}
    if reaches:
        whole["reach"] = "studio" if "studio" in reaches else "log"
        whole["instruments"] = {
            key: version for change in changes for key, version in change.get("instruments", {}).items()
        }
    return json.dumps(whole)


def narrowed(event: str) -> Iterator[str]:
    """An event as far as it concerns the device that asks: a student's learns of their own instruments alone."""
    own = own_instruments()
    head, marked, data = event.partition("data: ")
    if own is None or not marked:
        yield event
        return
    told = json.loads(data)
    if "instruments" in told:
        told["instruments"] = {key: version for key, version in told["instruments"].items() if UUID(key) in own}
    if told.get("instruments") or told.get("reach") != "log" or head:
        yield f"{head}data: {json.dumps(told)}\n\n"


@blueprint.get("/changes")
@blueprint.doc(hide=True)  # without end, like the sockets: no call that a client makes and waits for
def changes() -> Response:
    """Tell of every change from now on: ``{"reach": "log" | "studio", "instruments": {id: log_version}}``, or
    ``{"missed": true}`` where something may have changed that wasn't told. The first event tells the like of the last seconds.

    Raises BadInput or Conflict.
    """
    hub: Changes = current_app.extensions["pondus_changes"]
    stream = hub.open()

    def told() -> Iterator[str]:
        try:
            looked_at = time.monotonic()
            for event in stream.events(hub.live):
                if time.monotonic() - looked_at >= BEAT_SECONDS:
                    looked_at = time.monotonic()
                    if not still_in():
                        yield "event: ended\ndata: {}\n\n"
                        return
                yield from narrowed(event)
        finally:
            hub.close(stream)

    return Response(stream_with_context(told()), mimetype="text/event-stream", headers={"X-Accel-Buffering": "no"})

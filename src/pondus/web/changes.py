"""`/api/changes`: server-sent events that tell every open page what changed, within a moment.

One connection to the database and one thread of each server process hear of changes, begun by the first page; the pages'
streams are written by another (`web.streams`), whichever their number. What a page missed while it wasn't connected it isn't
told: it asks anew when it is again. Only what changed a moment before is told with the stream's first event, for a page
that has just asked doesn't ask again.
"""

import json
import logging
import time
from collections import deque
from collections.abc import Iterable, Iterator
from functools import partial
from threading import Event, Lock, Thread
from typing import Any

import psycopg
from apiflask import APIBlueprint
from flask import Response, current_app, request
from sqlalchemy.engine import Engine

from pondus.store.changes import hearing
from pondus.store.errors import StoreAway
from pondus.web.access import device_here, own_instruments
from pondus.web.at_once import AtOnce
from pondus.web.streams import Streams, Watcher, narrowed

blueprint = APIBlueprint("changes", __name__, tag="Changes")

AGAIN_SECONDS = 1.0
JUST_BEFORE_SECONDS = 10.0
"""A page asks for what it shows, then opens its stream: what changed in between is told it first. So long a slow page takes."""
MISSED = json.dumps({"missed": True, "live": True})
"""Something may have changed that wasn't told; from now on it is."""
DETACH = "pondus.detach"
"""Under this name the server hands a view what takes its connection out of its thread (`running.worker`)."""


class Changes:
    """What this process hears of changes, passed on to all its streams."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._turn = Lock()
        self._thread: Thread | None = None
        self._recent: deque[tuple[float, str]] = deque()
        self.streams = Streams(engine)
        self.live = Event()
        """Whether the database tells of changes now."""

    def begin(self) -> None:
        """Hear from now on; once is enough."""
        with self._turn:
            if self._thread is None:
                self._recent.append((time.monotonic(), MISSED))
                self._thread = Thread(target=self._hear, name="changes", daemon=True)
                self._thread.start()
                self.streams.begin()

    def join(self, watcher: Watcher) -> str:
        """Tell a new page of what changes from now on; what changed of late, as one change."""
        self.begin()
        self.live.wait(timeout=AGAIN_SECONDS)
        with self._turn:
            self.streams.expect(watcher)
            return together(told for _, told in self._lately())

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
            self.streams.tell(told)

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
        whole["instruments"] = {key: version for change in changes for key, version in change.get("instruments", {}).items()}
    return json.dumps(whole)


@blueprint.get("/changes")
@blueprint.doc(hide=True)  # without end, like the sockets: no call that a client makes and waits for
def changes() -> Response:
    """Tell of every change from now on: ``{"reach": "log" | "studio", "instruments": {id: log_version}}``, or
    ``{"missed": true}`` where something may have changed that wasn't told. The first event tells the like of the last seconds.

    Raises BadInput, Conflict or TooOften.
    """
    hub: Changes = current_app.extensions["pondus_changes"]
    at_once: AtOnce = current_app.extensions["pondus_at_once"]
    detach = request.environ.get(DETACH) if request.method == "GET" else None
    own = own_instruments()
    is_chunked = request.environ.get("SERVER_PROTOCOL") != "HTTP/1.0"
    watcher = Watcher(device_here(), own, at_once.take("stream"), is_chunked)
    before = narrowed(hub.join(watcher), own) or "{}"

    def told() -> Iterator[str]:
        is_kept = False
        try:
            yield f"retry: 1000\nevent: {'live' if hub.live.is_set() else 'deaf'}\ndata: {before}\n\n"
            if detach is not None:  # it raises: the answer goes on elsewhere, and this thread is free
                is_kept = True
                detach(partial(hub.streams.keep, watcher))
        finally:
            if not is_kept:
                hub.streams.let_go(watcher)

    return Response(told(), mimetype="text/event-stream", headers={"X-Accel-Buffering": "no"})

"""Every page's stream of changes, written by one thread of a server process, however many there are.

A stream begins as any answer does; then its connection leaves the thread that answered (`running.worker`) and is kept here:
told of changes, each as far as it concerns its device, given a sign of life every few seconds, ended when its device is
signed out, dropped when its page is gone or takes nothing in.
"""

import json
import logging
import selectors
import socket
import ssl
import time
from collections import deque
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from threading import Lock, Thread
from uuid import UUID

from sqlalchemy.engine import Engine

from pondus.core.errors import PondusError
from pondus.core.views.access import DeviceFacts
from pondus.store import devices as device_store
from pondus.store.database import session_on
from pondus.web.at_once import Place
from pondus.web.clock_watch import ClockWatch, jump_said

BEAT_SECONDS = 5.0
"""How often a stream says that it is still there, and it is looked whether its device is signed in."""
MOST_UNTAKEN_BYTES = 256 * 1024
"""A page that takes nothing in for so long is let go; it asks anew when it is back."""
HANDED_OVER_WITHIN_SECONDS = 60.0


@dataclass(eq=False)
class Watcher:
    """One page's stream. ``own``: the instruments its device is told of, None: all. ``out``: what its page hasn't taken yet;
    ``after``: how many changes were told before it was there.
    """

    device: DeviceFacts
    own: frozenset[UUID] | None
    place: Place
    is_chunked: bool
    waiting: deque[str] = field(default_factory=deque)
    out: bytearray = field(default_factory=bytearray)
    sock: socket.socket | None = None
    over: Callable[[], None] | None = None
    since: float = field(default_factory=time.monotonic)
    after: int = 0

    def write(self, text: str) -> None:
        """Add to what its page is to take."""
        data = text.encode()
        self.out += b"%x\r\n%b\r\n" % (len(data), data) if self.is_chunked else data


class Streams:
    """The streams of this process, and the thread that writes them."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._turn = Lock()
        self._watchers: set[Watcher] = set()
        self._told: deque[tuple[int, str]] = deque()
        self._count = 0
        self._arrived: deque[tuple[Watcher, socket.socket]] = deque()
        self._wakes: socket.socket | None = None
        self._clock = ClockWatch()

    def begin(self) -> None:
        """Write from now on."""
        self._poller = selectors.DefaultSelector()
        self._wakes, self._woken = socket.socketpair()
        self._wakes.setblocking(False)
        self._woken.setblocking(False)
        self._poller.register(self._woken, selectors.EVENT_READ)
        Thread(target=self._run, name="streams", daemon=True).start()

    def expect(self, watcher: Watcher) -> None:
        """What changes from now on waits for this one, until it is kept or let go."""
        with self._turn:
            self._watchers.add(watcher)
            watcher.after = self._count

    def keep(self, watcher: Watcher, sock: socket.socket, over: Callable[[], None]) -> None:
        """Its connection is here now; ``over`` is called when it is done with."""
        watcher.over = over
        with self._turn:
            self._arrived.append((watcher, sock))
        self._wake()

    def tell(self, told: str) -> None:
        """Pass on what changed, as JSON."""
        with self._turn:
            self._count += 1
            self._told.append((self._count, told))
        self._wake()

    def let_go(self, watcher: Watcher) -> None:
        """Its page is gone, or was never there."""
        with self._turn:
            self._watchers.discard(watcher)
        watcher.place.give_back()
        if watcher.sock is not None:
            with suppress(KeyError, ValueError):
                self._poller.unregister(watcher.sock)
        if watcher.over is not None:
            watcher.over()

    def _wake(self) -> None:
        if self._wakes is not None:
            with suppress(BlockingIOError):
                self._wakes.send(b"!")

    # --- in the thread --------------------------------------------------------------------------------------------------

    def _run(self) -> None:
        beat = time.monotonic() + BEAT_SECONDS
        while True:
            try:
                self._wait(max(0.0, beat - time.monotonic()))
                self._pass_on()
                if time.monotonic() >= beat:
                    beat = time.monotonic() + BEAT_SECONDS
                    self._beat()
            except Exception:
                logging.getLogger("pondus").exception("streams of changes stumbled, and go on")
                time.sleep(1.0)

    def _wait(self, seconds: float) -> None:
        for key, event in self._poller.select(seconds):
            watcher: Watcher | None = key.data
            if watcher is None:
                with suppress(BlockingIOError):
                    self._woken.recv(4096)
            elif not (event & selectors.EVENT_READ and self._is_gone(watcher)):
                self._flush(watcher)

    def _is_gone(self, watcher: Watcher) -> bool:
        """Whether a page that can be read from has left; it has nothing to say."""
        assert watcher.sock is not None
        try:
            gone = not watcher.sock.recv(4096)
        except (BlockingIOError, ssl.SSLWantReadError, ssl.SSLWantWriteError):
            gone = False
        except OSError:
            gone = True
        if gone:
            self.let_go(watcher)
        return gone

    def _pass_on(self) -> None:
        with self._turn:
            arrived, told = list(self._arrived), list(self._told)
            self._arrived.clear()
            self._told.clear()
            watchers = set(self._watchers)
        for watcher, sock in arrived:
            if watcher not in watchers:  # it came too late
                self.let_go(watcher)
                continue
            sock.setblocking(False)
            watcher.sock = sock
            self._poller.register(sock, selectors.EVENT_READ, watcher)
        if any(json.loads(one).get("reach") != "log" for _, one in told):
            self._look_who_has_what(watchers)
        for watcher in watchers:
            watcher.waiting.extend(one for place, one in told if place > watcher.after)
            if watcher.sock is not None and watcher.waiting:
                while watcher.waiting:
                    said = narrowed(watcher.waiting.popleft(), watcher.own)
                    if said is not None:
                        watcher.write(f"data: {said}\n\n")
                self._flush(watcher)

    def _look_who_has_what(self, watchers: set[Watcher]) -> None:
        """An instrument may have got into other hands. While the database is away all stays as it was."""
        students = [watcher for watcher in watchers if watcher.own is not None]
        if not students:
            return
        with suppress(PondusError), session_on(self._engine) as session:
            for student in students:
                if student.device.person is not None:
                    student.own = frozenset(device_store.instruments_of(session, student.device.person))

    def _beat(self) -> None:
        jump = self._clock.jump()
        if jump:
            self.tell(json.dumps({"missed": True, "clock": jump_said(jump)}))
        with self._turn:
            watchers = list(self._watchers)
        moment = time.monotonic()
        for watcher in watchers:
            if watcher.sock is None and moment - watcher.since > HANDED_OVER_WITHIN_SECONDS:
                self.let_go(watcher)
        kept = [watcher for watcher in watchers if watcher.sock is not None]
        ended = self._signed_out(kept)
        for watcher in kept:
            watcher.write("event: ended\ndata: {}\n\n" if watcher in ended else ": still here\n\n")
            self._flush(watcher)
            if watcher in ended:
                self.let_go(watcher)

    def _signed_out(self, watchers: list[Watcher]) -> set[Watcher]:
        """Those whose device may be here no more. While the database is away: none."""
        if not watchers:
            return set()
        try:
            with session_on(self._engine) as session:
                known = {watcher.device.session for watcher in watchers if watcher.device.session is not None}
                here = device_store.still_signed_in(session, known)
                locked = device_store.sign_in_row(session).locked
        except PondusError:
            return set()
        return {
            watcher
            for watcher in watchers
            if (locked if watcher.device.session is None else watcher.device.session not in here)
        }

    def _flush(self, watcher: Watcher) -> None:
        """Send what its page takes just now; the rest when it takes more."""
        if watcher.sock is None or watcher not in self._watchers:
            return
        try:
            while watcher.out:
                sent = watcher.sock.send(watcher.out)
                del watcher.out[:sent]
        except (BlockingIOError, ssl.SSLWantWriteError, ssl.SSLWantReadError):
            if len(watcher.out) > MOST_UNTAKEN_BYTES:
                self.let_go(watcher)
                return
        except OSError:
            self.let_go(watcher)
            return
        events = selectors.EVENT_READ | (selectors.EVENT_WRITE if watcher.out else 0)
        with suppress(KeyError):
            self._poller.modify(watcher.sock, events, watcher)


def narrowed(told: str, own: frozenset[UUID] | None) -> str | None:
    """A change as far as it concerns a device; None: not at all. A student's learns of their own instruments alone.

    >>> narrowed('{"reach": "log", "instruments": {"00000000-0000-0000-0000-000000000007": 3}}', frozenset())
    >>> narrowed('{"missed": true}', frozenset())
    '{"missed": true}'
    """
    if own is None:
        return told
    change = json.loads(told)
    if "instruments" in change:
        change["instruments"] = {key: version for key, version in change["instruments"].items() if UUID(key) in own}
    if change.get("reach") == "log" and not change["instruments"]:
        return None
    return json.dumps(change)

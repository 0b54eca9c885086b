"""Listening goes on in a process beside each of the server's: hearing is steady arithmetic, and in one process with the
pages each would wait for the other's turn at the interpreter. There all listeners take turns, none in the other's way.

The two speak over a pair of sockets. The child ends when its parent does, however that ends; a child that has ended is
replaced at the next sound, and its listeners go on with what sounds from then.
"""

import os
import signal
import socket
import subprocess
import sys
from contextlib import suppress
from dataclasses import dataclass
from multiprocessing.connection import Connection
from threading import Lock

import numpy as np

from pondus.contracts.listening import ListenRequest, message_of
from pondus.core.errors import BadInput
from pondus.core.hearing.live import Listener
from pondus.core.hearing.live_beside import BesideToneListener
from pondus.core.hearing.live_fifth import FifthListener
from pondus.core.hearing.sound import Reducer

BEHIND_SECONDS, LOOKS_WHEN_BEHIND = 0.7, 12
"""When more sound than that has waited, the machine is too busy to look at all of it: what sounds now comes first."""
GIVES_WAY = 5
"""How much less urgent than the pages listening is to the operating system (`nice`)."""
AnyListener = Listener | FifthListener | BesideToneListener
USUAL_RATE_HZ = 48_000
"""What browsers' microphones give."""


@dataclass
class Ear:
    """One listener. ``first``: what it was asked to hear, as JSON; ``born``: which child it listens in."""

    key: int
    first: str
    born: int = 0


class Ears:
    """The child of this process, started by the first sound if not before."""

    def __init__(self) -> None:
        self._turn = Lock()
        self._child: subprocess.Popen[bytes] | None = None
        self._line: Connection | None = None
        self._children, self._opened = 0, 0

    @property
    def child_id(self) -> int | None:
        """The process that listens, if one does."""
        return None if self._child is None else self._child.pid

    def begin(self) -> None:
        """Start the child now, so that the first sound needn't wait for it."""
        with self._turn:
            if self._line is None:
                self._begun()

    def open(self, request: ListenRequest) -> Ear:
        """A listener for what was asked, which must be valid."""
        with self._turn:
            self._opened += 1
            return Ear(self._opened, request.model_dump_json())

    def hear(self, ear: Ear, sound: bytes) -> list[str]:
        """What there is to say of this sound (16-bit little-endian PCM), as JSON. Raises BadInput if hearing fails twice."""
        with self._turn:
            try:
                return self._heard(ear, sound)
            except (OSError, EOFError):
                self._end()
            try:
                return self._heard(ear, sound)
            except (OSError, EOFError) as error:
                self._end()
                raise BadInput("sound", "Listening has stopped on the server. Start it again.") from error

    def close(self, ear: Ear) -> None:
        """Nothing more comes for this one."""
        with self._turn, suppress(OSError):
            if self._line is not None and ear.born == self._children:
                self._line.send((ear.key, None, None))

    def end(self) -> None:
        """End the child."""
        with self._turn:
            self._end()

    def _heard(self, ear: Ear, sound: bytes) -> list[str]:
        line = self._line or self._begun()
        opens = None if ear.born == self._children else ear.first
        ear.born = self._children
        line.send((ear.key, opens, sound))
        said: list[str] = line.recv()
        return said

    def _begun(self) -> Connection:
        ours, theirs = socket.socketpair()
        with theirs:
            command = [sys.executable, "-m", __name__, str(theirs.fileno())]
            self._child = subprocess.Popen(command, pass_fds=[theirs.fileno()], stdin=subprocess.DEVNULL)
        self._line = Connection(ours.detach())
        self._children += 1
        return self._line

    def _end(self) -> None:
        if self._line is not None:
            self._line.close()
        if self._child is not None:
            self._child.kill()
            self._child.wait()
        self._line = self._child = None


def listen(line: Connection) -> None:
    """The child: hear what comes, listener by listener, until the other end is gone."""
    Reducer(USUAL_RATE_HZ)  # loads and designs its filter now, and not while the first string waits
    listeners: dict[int, AnyListener] = {}
    while True:
        try:
            key, opens, sound = line.recv()
            if opens is not None:
                listeners[key] = ListenRequest.model_validate_json(opens).listener()
            if sound is None:
                listeners.pop(key, None)
            else:
                line.send(_said(listeners[key], sound))
        except (EOFError, OSError):
            return


def _said(listener: AnyListener, sound: bytes) -> list[str]:
    samples = np.frombuffer(sound, dtype="<i2").astype(np.float32) / 32768.0
    if isinstance(listener, FifthListener):
        return [message_of(event).model_dump_json() for event in listener.feed(samples)]
    behind = len(samples) > BEHIND_SECONDS * listener.rate_hz
    events = listener.feed(samples, at_most=LOOKS_WHEN_BEHIND if behind else None)
    return [message_of(event).model_dump_json() for event in events]


if __name__ == "__main__":
    os.nice(GIVES_WAY)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C is for the server; this ends with it
    listen(Connection(int(sys.argv[1])))

"""How many streams and sockets stay open at once: of one device, from one address, in one process of the server.

What stays open is bounded, so that one device that misbehaves never takes the place of the others. Each process counts its
own; a server has several, so a device may have some times as many.
"""

from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from threading import Lock
from typing import Literal

from flask import current_app, request

from pondus.store.errors import TooOften
from pondus.web.access import device_here
from pondus.web.addresses import counted_address

Kind = Literal["stream", "socket"]


@dataclass(frozen=True)
class Limits:
    """How many may be open: of one device, from one address, of all. On loopback all come from one address."""

    of_device: int
    of_address: int
    of_all: int


LIMITS: dict[Kind, Limits] = {"stream": Limits(8, 64, 400), "socket": Limits(4, 24, 48)}
"""A stream costs a connection and nothing else; a socket two threads of 160."""
AGAIN_SECONDS = 10


class AtOnce:
    """What is open in this process."""

    def __init__(self) -> None:
        self._open = Counter[tuple[Kind, str]]()
        self._turn = Lock()

    def take(self, kind: Kind) -> "Place":
        """A place for the device that asks, until it is given back. Raises TooOften where it has enough."""
        device, limits = device_here(), LIMITS[kind]
        bounds = {"all": limits.of_all}
        if device.session is not None:
            bounds[str(device.session)] = limits.of_device
            bounds[counted_address(request.remote_addr)] = limits.of_address
        keys = [(kind, who) for who in bounds]
        with self._turn:
            if any(self._open[key] >= bounds[key[1]] for key in keys):
                raise TooOften(
                    "This device has enough of these open already; close other pages of Pondus and try again.",
                    again_seconds=AGAIN_SECONDS,
                )
            self._open.update(keys)
        return Place(self, keys)

    def give_back(self, keys: list[tuple[Kind, str]]) -> None:
        """These are closed."""
        with self._turn:
            self._open.subtract(keys)
            for key in keys:
                if self._open[key] <= 0:
                    del self._open[key]


class Place:
    """One thing that is open, until `give_back`; twice does no harm."""

    def __init__(self, at_once: AtOnce, keys: list[tuple[Kind, str]]) -> None:
        self._at_once, self._keys = at_once, keys

    def give_back(self) -> None:
        """It is closed."""
        keys, self._keys = self._keys, []
        self._at_once.give_back(keys)


@contextmanager
def place_for(kind: Kind) -> Iterator[None]:
    """A place for as long as a view has it. Raises TooOften."""
    at_once: AtOnce = current_app.extensions["pondus_at_once"]
    place = at_once.take(kind)
    try:
        yield
    finally:
        place.give_back()

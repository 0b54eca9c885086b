"""What one device without manners does to a server, for `bench crowd --attack`: from an address of its own (127.0.0.2), at
nothing but this machine's loopback, bounded in number and in time.
"""

import json
import socket
import ssl
from collections.abc import Callable
from contextlib import suppress
from multiprocessing.synchronize import Event

from bench.listening import Way

FROM = "127.0.0.2"
WITHIN_SECONDS = 3.0
_HEAD = "GET {path} HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\n{more}\r\n"
_UPGRADE = (
    "Upgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: MDEyMzQ1Njc4OWFiY2RlZg==\r\n"
)


class Attacker:
    """Opens connections from an address of its own, and keeps count of them."""

    def __init__(self, way: Way, ended: Event) -> None:
        self.way, self.ended = way, ended
        self.opened: list[socket.socket] = []

    def connect(self, *, speaks_tls: bool = True) -> socket.socket | None:
        """One more; None where the server let it in no more."""
        try:
            made = socket.create_connection(("127.0.0.1", self.way.port), WITHIN_SECONDS, source_address=(FROM, 0))
            if speaks_tls and self.way.authority is not None:
                trusting = ssl.create_default_context(cafile=self.way.authority)
                made = trusting.wrap_socket(made, server_hostname="127.0.0.1")
        except OSError:
            return None
        self.opened.append(made)
        return made

    def say(self, made: socket.socket | None, data: bytes) -> bool:
        """Whether it could be said."""
        if made is None:
            return False
        with suppress(OSError):
            made.sendall(data)
            return True
        return False

    def head(self, path: str, more: str = "") -> bytes:
        """A request's head, signed in where devices sign in."""
        told = "".join(f"{name}: {value}\r\n" for name, value in self.way.headers.items())
        return _HEAD.format(path=path, port=self.way.port, more=told + more).encode()

    def upgrade(self) -> socket.socket | None:
        """A socket for sound, opened."""
        made = self.connect()
        if self.say(made, self.head("/api/listen", _UPGRADE)) and made is not None:
            with suppress(OSError):
                made.recv(4096)
        return made

    def let_go(self) -> None:
        """All at once."""
        for each in self.opened:
            each.close()
        self.opened = []


def one_byte(attacker: Attacker) -> None:
    """704 connections that send one byte and no more."""
    for _ in range(704):
        attacker.say(attacker.connect(speaks_tls=False), b"G")
    attacker.ended.wait()


def drip(attacker: Attacker) -> None:
    """500 requests (by TLS where it is spoken) that go on by a byte every few seconds."""
    for _ in range(500):
        attacker.say(attacker.connect(), b"POST /api/me HTTP/1.1\r\n")
    while not attacker.ended.wait(9.0):
        for each in attacker.opened:
            attacker.say(each, b"x")


def slow_body(attacker: Attacker) -> None:
    """300 requests whose head is whole and whose body comes by a byte every few seconds."""
    head = attacker.head("/api/advise", "Content-Type: application/json\r\nContent-Length: 900\r\n")
    for _ in range(300):
        attacker.say(attacker.connect(), head.replace(b"GET", b"POST") + b"{")
    while not attacker.ended.wait(9.0):
        for each in attacker.opened:
            attacker.say(each, b" ")


def streams(attacker: Attacker) -> None:
    """661 streams of changes of one device."""
    for _ in range(661):
        attacker.say(attacker.connect(), attacker.head("/api/changes"))
    attacker.ended.wait()


def hello(attacker: Attacker) -> None:
    """200 sockets that say hello, send nothing, and are let go at once, over and over."""
    said = json.dumps({"instrument": "violin", "string": None, "a4": 440, "target": "tempered", "sample_rate": 48000})
    frame = b"\x81" + bytes([0x80 | 126]) + len(said).to_bytes(2, "big") + b"\0\0\0\0" + said.encode()
    while not attacker.ended.is_set():
        for _ in range(200):
            attacker.say(attacker.upgrade(), frame)
            if attacker.ended.is_set():
                break
        attacker.ended.wait(3.0)
        attacker.let_go()


def silent(attacker: Attacker) -> None:
    """700 sockets that are opened and say nothing."""
    while not attacker.ended.is_set():
        for _ in range(700):
            attacker.upgrade()
            if attacker.ended.is_set():
                break
        attacker.ended.wait(20.0)
        attacker.let_go()


ATTACKS: dict[str, Callable[[Attacker], None]] = {
    "one-byte": one_byte,
    "drip": drip,
    "slow-body": slow_body,
    "streams": streams,
    "hello": hello,
    "silent": silent,
}


def attack(way: Way, name: str, ended: Event) -> None:
    """A process of one attack, until it is told to end."""
    attacker = Attacker(way.of(-1), ended)
    try:
        ATTACKS[name](attacker)
    finally:
        attacker.let_go()

"""Pondus shared with a room, for tests: on loopback alone, by HTTPS, with an authority of its own."""

import json
import ssl
import tempfile
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any
from urllib.error import HTTPError, URLError

from sqlmodel import Session

from pondus.running.places import Home
from pondus.running.scratch_studio import RunningServer, free_port
from pondus.running.sharing import ShareOptions, Sharing
from pondus.running.studio import shared_server
from pondus.store import devices as device_store
from pondus.store.database import engine_for, session_on
from pondus.web.app import WebConfig

PASSPHRASE = "four words of mine"


@contextmanager
def shared_room(
    database_url: str, *, port_file: Path | None = None, workers: int = 2
) -> Iterator[tuple[RunningServer, Sharing]]:
    """A running HTTPS server on a database, and its sharing."""
    with tempfile.TemporaryDirectory(prefix="pondus-room-") as folder:
        sharing = Sharing(Home(Path(folder)), ShareOptions(port=free_port(), on="127.0.0.1"))
        sharing.begin()
        watched = shared_server(WebConfig(database_url=database_url, port_file=port_file), sharing)
        server = RunningServer(database_url, workers=workers, config=watched.config, bind=watched.bind)
        server.start()
        try:
            yield server, sharing
        finally:
            server.stop()
            sharing.end()


@contextmanager
def store_of(database_url: str) -> Iterator[Session]:
    """A unit of work on the studio behind a server."""
    engine = engine_for(database_url)
    try:
        with session_on(engine) as session:
            yield session
    finally:
        engine.dispose()


def set_teacher(database_url: str, name: str = "Runa", passphrase: str = PASSPHRASE) -> None:
    """A teacher who can sign in."""
    with store_of(database_url) as session:
        device_store.set_passphrase(session, name, passphrase)


class Device:
    """A device that asks over TLS and keeps its cookies; it trusts the authority and nothing else."""

    def __init__(self, address: str, authority: Path | None = None) -> None:
        self.address = address
        self.jar = CookieJar()
        self.context = ssl.create_default_context(cafile=None if authority is None else str(authority))
        self._opener = urllib.request.build_opener(
            urllib.request.HTTPSHandler(context=self.context), urllib.request.HTTPCookieProcessor(self.jar)
        )

    def ask(self, method: str, path: str, body: Any = None, *, headers: dict[str, str] | None = None) -> tuple[int, Any]:
        """Status, and the answer if it is JSON."""
        sent = {"Content-Type": "application/json", "Origin": self.address, **(headers or {})}
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self.address + path, method=method, data=data, headers=sent)
        try:
            with self._opened(request) as answer:
                return answer.status, _json(answer.read())
        except HTTPError as error:
            return error.code, _json(error.read())

    def _opened(self, request: urllib.request.Request) -> Any:
        """The answer; a handshake that broke off is begun anew once, as a browser does. A certificate that isn't trusted stays
        so.
        """
        try:
            return self._opener.open(request, timeout=30)
        except HTTPError:
            raise
        except URLError as error:
            if not isinstance(error.reason, ssl.SSLError) or isinstance(error.reason, ssl.SSLCertVerificationError):
                raise
            return self._opener.open(request, timeout=30)

    def sign_in(self, name: str = "Runa", passphrase: str = PASSPHRASE) -> tuple[int, Any]:
        """Sign in as a teacher."""
        return self.ask("POST", "/api/sign-in", {"name": name, "passphrase": passphrase})

    def let_in(self, other: "Device", **who: Any) -> str:
        """Let another device in by a code that this one shows; the code."""
        status, invitation = self.ask("POST", "/api/invitations", who)
        assert status == 200, invitation
        status, told = other.ask("POST", "/api/join", {"code": invitation["code"]})
        assert status == 200, told
        code: str = invitation["code"]
        return code

    @property
    def cookie(self) -> str:
        """Its cookies, as a header."""
        return "; ".join(f"{each.name}={each.value}" for each in self.jar)


def _json(content: bytes) -> Any:
    try:
        return json.loads(content)
    except ValueError:
        return None

"""Who may come in: known host names, pages of Pondus's own origin, JSON (or a form with files where files are meant), and no
more of it than can be meant. All of it is looked at before anything is decoded.
"""

import json
from collections.abc import Callable, Iterable
from functools import wraps
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar
from urllib.parse import urlsplit

from flask import Flask, Request, Response, current_app, request
from werkzeug.middleware.proxy_fix import ProxyFix

from pondus.core.entries.texts import nesting
from pondus.core.errors import PondusError
from pondus.store.database import session_on
from pondus.store.limits import count_asked

if TYPE_CHECKING:
    from _typeshed.wsgi import StartResponse, WSGIApplication, WSGIEnvironment

LOOPBACK_HOSTS = frozenset({"127.0.0.1", "localhost", "[::1]"})
LARGEST_JSON_BYTES = 1024 * 1024
MOST_NESTED = 32
A_MINUTE = {"recordings": 240, "lists": 60, "sound": 1200}
"""How often a minute the dear things may be asked for, by all together."""
SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
CONTENT_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; media-src 'self' blob:; style-src 'self' 'unsafe-inline';"
    " script-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": CONTENT_POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "microphone=(self), camera=(), geolocation=()",
}

View = TypeVar("View", bound=Callable[..., Any])


class TurnedAway(PondusError):
    """A request that doesn't come in; ``status`` is the HTTP status that says why."""

    def __init__(self, status: int, message: str) -> None:
        super().__init__(message)
        self.status = status


def uploads(view: View) -> View:
    """A view that takes a form with files, and nothing else."""
    view.takes_files = True  # type: ignore[attr-defined]
    return view


def at_most(bucket: str) -> Callable[[View], View]:
    """A view that does dear work: how often it is asked for is counted before. Raises TooOften."""

    def counted(view: View) -> View:
        @wraps(view)
        def first(*arguments: Any, **named: Any) -> Any:
            with session_on(current_app.extensions["pondus_engine"]) as session:
                count_asked(session, bucket, at_most=A_MINUTE[bucket])
            return view(*arguments, **named)

        return first  # type: ignore[return-value]

    return counted


class KnownHosts:
    """The names Pondus is known under: those it was told, and those under which it is shared just now (``share_file``)."""

    def __init__(self, hosts: frozenset[str], share_file: Path | None) -> None:
        self._hosts, self._file = hosts, share_file
        self._read_at = 0
        self._shared: frozenset[str] = frozenset()

    def __contains__(self, name: str) -> bool:
        return name in self._hosts or name in self._now()

    def _now(self) -> frozenset[str]:
        if self._file is None:
            return frozenset()
        try:
            written = self._file.stat().st_mtime_ns
            if written != self._read_at:
                told = json.loads(self._file.read_text())
                bare = [told["name"].lower(), *told["addresses"]]
                self._shared = frozenset(f"[{key}]" if ":" in key else key for key in bare if key)
                self._read_at = written
        except (OSError, ValueError, KeyError):
            return self._shared
        return self._shared

    def __str__(self) -> str:
        return ", ".join(sorted(self._now() or self._hosts))


class TrustedProxies:
    """Takes a reverse proxy's word for where a request came from and how, and nobody else's."""

    def __init__(self, app: "WSGIApplication", proxies: frozenset[str]) -> None:
        self._plain, self._proxies = app, proxies
        self._told = ProxyFix(app, x_for=1, x_proto=1, x_host=1)

    def __call__(self, environ: "WSGIEnvironment", start_response: "StartResponse") -> Iterable[bytes]:
        """One request."""
        proxied = environ.get("REMOTE_ADDR") in self._proxies
        return (self._told if proxied else self._plain)(environ, start_response)


def keep_doors(app: Flask, *, knows: KnownHosts) -> None:
    """Look at the name and the origin of every request, and send what keeps pages safe with every answer. The look raises
    TurnedAway, which is answered in words.
    """

    @app.before_request
    def look() -> None:
        check_host(request, knows)
        if request.method not in SAFE or request.headers.get("Upgrade", "").lower() == "websocket":
            check_origin(request)

    @app.after_request
    def send(response: Response) -> Response:
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response


def keep_bodies(app: Flask, *, largest_upload_bytes: int) -> None:
    """Look at what comes with a request before it is decoded; ``largest_upload_bytes`` bounds what is not JSON. The look raises
    TurnedAway.
    """

    @app.before_request
    def look() -> None:
        view = app.view_functions.get(request.endpoint or "")
        takes_files = bool(getattr(view, "takes_files", False))
        request.max_content_length = largest_upload_bytes if takes_files else LARGEST_JSON_BYTES
        if request.method not in SAFE:
            check_body(request, takes_files=takes_files)


def check_host(asked: Request, knows: KnownHosts) -> None:
    """Only names that are Pondus's own: another, led here by a name server, would read along. Raises TurnedAway."""
    name = asked.host.rsplit(":", 1)[0] if not asked.host.endswith("]") else asked.host
    if name.lower() not in knows:
        raise TurnedAway(403, f"Pondus isn't known as “{name[:80]}” here; it is {knows}.")


def check_origin(asked: Request) -> None:
    """Only Pondus's own pages change something or listen in; a shell on this machine sends no origin. Raises TurnedAway."""
    origin = asked.headers.get("Origin")
    if origin is None:
        if current_app.extensions["pondus_door"] != "loopback":
            raise TurnedAway(403, "Only Pondus's own pages change something from here.")
        if asked.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
            raise TurnedAway(403, "Another page asked for this; only Pondus's own pages may.")
        return
    try:
        parts = urlsplit(origin)
    except ValueError:
        parts = urlsplit("")
    if parts.scheme != asked.scheme or parts.netloc.lower() != asked.host.lower():
        raise TurnedAway(403, "A page of another origin asked for this; only Pondus's own pages may.")


def check_body(asked: Request, *, takes_files: bool) -> None:
    """JSON, or a form with files, as the view has it. Raises TurnedAway."""
    length = asked.content_length
    if length is not None and asked.max_content_length is not None and length > asked.max_content_length:
        most = asked.max_content_length // 1024**2
        raise TurnedAway(413, f"That is larger than {most} MB; cut the recording to one string, or split the list.")
    if not asked.content_type and not length:
        return
    if takes_files:
        if asked.mimetype != "multipart/form-data":
            raise TurnedAway(415, "Send this as a form with a file.")
        for field in asked.form.values():
            _check_nesting(field.encode(errors="replace"))
        return
    if asked.mimetype != "application/json":
        raise TurnedAway(415, "Send this as JSON.")
    _check_nesting(asked.get_data(cache=True))


def _check_nesting(content: bytes) -> None:
    if content.count(b"[") + content.count(b"{") > MOST_NESTED and nesting(content) > MOST_NESTED:
        raise TurnedAway(400, "That is nested far too deep.")

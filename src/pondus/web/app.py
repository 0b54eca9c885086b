"""`create_app` builds everything: API, pages, doors, error sentences."""

import errno
import gzip
from dataclasses import dataclass
from http import HTTPStatus
from mimetypes import guess_type
from pathlib import Path
from typing import Any

from apiflask import APIFlask, HTTPError
from flask import Response, jsonify, request, send_from_directory
from flask_compress import Compress
from werkzeug.exceptions import HTTPException

from pondus import __version__
from pondus.core.errors import BadInput, PondusError, SoundTooLarge
from pondus.recordings import LARGEST_BYTES
from pondus.store.database import engine_for
from pondus.store.errors import Conflict, NotFound, StoreAway, StoreFull, TooOften
from pondus.web.access import Door, keep_strangers_out, keep_to_roles
from pondus.web.at_once import AtOnce
from pondus.web.described import describe_refusals
from pondus.web.doors import LOOPBACK_HOSTS, KnownHosts, TrustedProxies, TurnedAway, keep_bodies, keep_doors
from pondus.web.ears import Ears
from pondus.web.logging import log_unforeseen
from pondus.web.transaction import UNFORESEEN

PAGES = Path(__file__).parents[3] / "frontend" / "dist"
SMALLEST_COMPRESSED = 4_000
"""Bytes: a bench's answer goes out at once, a roll of hundreds is worth a few milliseconds."""
COMPRESSED = frozenset({".js", ".css", ".html", ".svg", ".json", ".webmanifest"})


@dataclass(frozen=True)
class WebConfig:
    """What the web side needs to know: where the database is, where the built pages lie, under which names it is known.

    ``port_file``: where whoever restarts the database writes its port. ``door``: where this server listens, and so
    whether people sign in; ``share_file``: where whoever shares Pondus with the room writes under which names and
    addresses; ``proxies``: the addresses of reverse proxies whose word is taken for where a request came from;
    ``ears_at_once``: whether the processes that hear start with the server, or with the first sound. ``run``: what it says
    of itself to whoever started it.
    """

    database_url: str
    pages: Path = PAGES
    largest_upload_bytes: int = LARGEST_BYTES + 1024 * 1024
    port_file: Path | None = None
    hosts: frozenset[str] = LOOPBACK_HOSTS
    door: Door = "loopback"
    share_file: Path | None = None
    proxies: frozenset[str] = frozenset()
    ears_at_once: bool = True
    run: str = ""


def create_app(config: WebConfig) -> APIFlask:
    """Build the application; nothing is global."""
    from pondus.web.views import BLUEPRINTS, Changes, listening

    app = APIFlask(__name__, title="Pondus", version=__version__, spec_path="/api/openapi.json", docs_path=None)
    app.config["MAX_CONTENT_LENGTH"] = config.largest_upload_bytes
    app.config["MAX_FORM_MEMORY_SIZE"] = 512 * 1024
    app.config["MAX_FORM_PARTS"] = 20
    app.config["SOCK_SERVER_OPTIONS"] = {"max_message_size": listening.LARGEST_MESSAGE_BYTES}
    app.config["COMPRESS_MIMETYPES"], app.config["COMPRESS_MIN_SIZE"] = ["application/json"], SMALLEST_COMPRESSED
    app.config["COMPRESS_ALGORITHM"], app.config["COMPRESS_LEVEL"] = ["gzip"], 5
    app.config["VALIDATION_ERROR_DESCRIPTION"] = "A field that can't be right"
    app.extensions["pondus_engine"] = engine_for(config.database_url, port_file=config.port_file)
    app.extensions["pondus_ears"] = Ears()
    app.extensions["pondus_changes"] = Changes(app.extensions["pondus_engine"])
    app.extensions["pondus_share_file"] = config.share_file
    app.extensions["pondus_run"] = config.run
    app.extensions["pondus_at_once"] = AtOnce()
    keep_doors(app, knows=KnownHosts(config.hosts, config.share_file))
    keep_strangers_out(app, config.door)
    keep_bodies(app, largest_upload_bytes=config.largest_upload_bytes)
    keep_to_roles(app)
    if config.proxies:
        app.wsgi_app = TrustedProxies(app.wsgi_app, config.proxies)  # type: ignore[method-assign]
    for blueprint in BLUEPRINTS:
        app.register_blueprint(blueprint, url_prefix="/api")
    listening.sock.init_app(app)
    Compress(app)
    _add_error_sentences(app)
    describe_refusals(app)
    _add_pages(app, config.pages)
    return app


def problem(status: int, message: str, field: str | None = None, *, again_seconds: int | None = None) -> tuple[Response, int]:
    """The one shape of an error: a sentence, and the field it speaks of if any; when it may be tried again, as a header."""
    answer = jsonify({"error": {"message": message, "field": field}})
    if again_seconds is not None:
        answer.headers["Retry-After"] = str(again_seconds)
    return answer, status


_HTTP_SENTENCES = {
    400: "That request arrived incomplete or garbled; send it again.",
    404: "There is nothing at this address.",
    408: "That came in too slowly, or broke off; send it again.",
    405: "That can't be done at this address.",
    413: f"That is larger than {LARGEST_BYTES // 1024**2} MB; cut the recording to one string, or split the list.",
    415: "Send this as JSON.",
}
_STATUS = (
    (SoundTooLarge, HTTPStatus.REQUEST_ENTITY_TOO_LARGE),
    (NotFound, HTTPStatus.NOT_FOUND),
    (Conflict, HTTPStatus.CONFLICT),
    (TooOften, HTTPStatus.TOO_MANY_REQUESTS),
    (StoreAway, HTTPStatus.SERVICE_UNAVAILABLE),
)


def _add_error_sentences(app: APIFlask) -> None:
    @app.errorhandler(PondusError)
    def domain_error(error: PondusError) -> tuple[Response, int]:
        if isinstance(error, TurnedAway):
            return problem(error.status, error.message)
        field = error.field if isinstance(error, BadInput) else None
        status = next((code for kind, code in _STATUS if isinstance(error, kind)), HTTPStatus.UNPROCESSABLE_ENTITY)
        return problem(status, error.message, field, again_seconds=getattr(error, "again_seconds", None))

    @app.error_processor
    def shape_error(error: HTTPError) -> tuple[dict[str, Any], int, Any]:
        """A query or form that pydantic refused: the first field it names, in our one shape."""
        field, why = _refused_field(error)
        message = f"{field} can't be used: {why}." if field else _HTTP_SENTENCES.get(error.status_code, error.message)
        return {"error": {"message": message, "field": field}}, error.status_code, error.headers

    @app.errorhandler(HTTPException)
    def http_error(error: HTTPException) -> tuple[Response, int]:
        code = error.code or 500
        return problem(code, _HTTP_SENTENCES.get(code, error.description or "That didn't work; try again."))

    @app.errorhandler(BlockingIOError)
    @app.errorhandler(TimeoutError)
    def too_slow(error: OSError) -> tuple[Response, int]:
        return problem(408, _HTTP_SENTENCES[408])

    @app.errorhandler(OSError)
    def no_room(error: OSError) -> tuple[Response, int]:
        if error.errno in (errno.ENOSPC, errno.EDQUOT):
            return domain_error(StoreFull())
        return unforeseen(error)

    @app.errorhandler(Exception)
    def unforeseen(error: Exception) -> tuple[Response, int]:
        log_unforeseen(error)
        return problem(500, UNFORESEEN)


def _refused_field(error: HTTPError) -> tuple[str | None, str]:
    """The first field that it names, and why."""
    detail = error.detail if isinstance(error.detail, dict) else {}
    fields = next((messages for messages in detail.values() if isinstance(messages, dict)), {})
    field = next(iter(fields), None)
    return field, fields[field][0] if field else ""


def _add_pages(app: APIFlask, pages: Path) -> None:
    compressed: dict[str, bytes] = {}

    @app.get("/", defaults={"path": "index.html"})
    @app.get("/<path:path>")
    @app.doc(hide=True)
    def page(path: str) -> Response | tuple[Response, int]:
        if path.startswith("api/") or any(part.startswith(".") for part in path.split("/")) or "\x00" in path:
            return problem(404, _HTTP_SENTENCES[404])
        if not (pages / path).is_file():
            if path.startswith("assets/"):
                return problem(404, _HTTP_SENTENCES[404])
            path = "index.html"
        response = send_from_directory(pages, path)
        immutable = path.startswith("assets/")
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable" if immutable else "no-cache"
        if Path(path).suffix not in COMPRESSED or "gzip" not in request.headers.get("Accept-Encoding", ""):
            return response
        if response.status_code != HTTPStatus.OK:
            return response
        key = f"{path} {response.headers.get('ETag')}"
        if key not in compressed:
            compressed[key] = gzip.compress((pages / path).read_bytes(), 9, mtime=0)
        headers = {name: response.headers[name] for name in ("Cache-Control", "ETag") if name in response.headers}
        response.close()
        return Response(
            compressed[key],
            mimetype=guess_type(path)[0] or "application/octet-stream",
            headers={**headers, "Content-Encoding": "gzip", "Vary": "Accept-Encoding"},
        )

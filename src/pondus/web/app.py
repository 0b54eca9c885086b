"""`create_app` builds everything: API, pages, error sentences."""

import logging
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from apiflask import APIFlask, HTTPError
from flask import Response, jsonify, send_from_directory
from werkzeug.exceptions import HTTPException

from pondus.core.errors import BadInput, PondusError, SoundTooLarge
from pondus.recordings import LARGEST_BYTES
from pondus.store.database import engine_for
from pondus.store.errors import Conflict, NotFound, StoreAway
from pondus.web.unit import UNFORESEEN

PAGES = Path(__file__).parents[3] / "frontend" / "dist"


@dataclass(frozen=True)
class WebConfig:
    """What the web side needs to know: where the database is and where the built pages lie."""

    database_url: str
    pages: Path = PAGES
    largest_upload_bytes: int = LARGEST_BYTES + 1024 * 1024


def create_app(config: WebConfig) -> APIFlask:
    """Build the application; nothing is global."""
    from pondus.web import (
        cards,
        care,
        entries,
        fifths,
        hearing,
        instruments,
        judgement,
        ledger,
        listening,
        lists,
        morning,
        people,
        settings,
        simulated,
        stations,
        tones,
        tunings,
    )

    app = APIFlask(__name__, title="Pondus", version="0.1.0", spec_path="/api/openapi.json", docs_path=None)
    app.config["MAX_CONTENT_LENGTH"] = config.largest_upload_bytes
    app.config["SOCK_SERVER_OPTIONS"] = {"max_message_size": listening.LARGEST_MESSAGE_BYTES}
    app.config["VALIDATION_ERROR_DESCRIPTION"] = "A field that can't be meant"
    app.extensions["pondus_engine"] = engine_for(config.database_url)
    for module in (
        cards,
        care,
        instruments,
        ledger,
        lists,
        morning,
        people,
        tunings,
        entries,
        fifths,
        judgement,
        hearing,
        listening,
        settings,
        simulated,
        stations,
        tones,
    ):
        app.register_blueprint(module.blueprint, url_prefix="/api")
    listening.sock.init_app(app)
    _add_error_sentences(app)
    _add_pages(app, config.pages)
    return app


def problem(status: int, message: str, field: str | None = None) -> tuple[Response, int]:
    """The one shape of an error: a sentence, and the field it speaks of if any."""
    return jsonify({"error": {"message": message, "field": field}}), status


_HTTP_SENTENCES = {
    400: "That request arrived incomplete or garbled; send it again.",
    404: "There is nothing at this address.",
    405: "That can't be done at this address.",
    413: f"That file is larger than {LARGEST_BYTES // 1024**2} MB; cut the recording to one string, or split the list.",
    415: "Send this as JSON.",
}


def _add_error_sentences(app: APIFlask) -> None:
    @app.errorhandler(PondusError)
    def domain_error(error: PondusError) -> tuple[Response, int]:
        field = error.field if isinstance(error, BadInput) else None
        status = next(
            (
                code
                for kind, code in ((SoundTooLarge, 413), (NotFound, 404), (Conflict, 409), (StoreAway, 503))
                if isinstance(error, kind)
            ),
            422,
        )
        return problem(status, error.message, field)

    @app.error_processor
    def shape_error(error: HTTPError) -> tuple[dict[str, Any], int, Any]:
        """A query or form that pydantic refused: the first field it names, in our one shape."""
        detail = error.detail if isinstance(error.detail, dict) else {}
        fields = next((each for each in detail.values() if isinstance(each, dict)), {})
        field = next(iter(fields), None)
        message = (
            f"{field} can't be used: {fields[field][0]}."
            if field
            else _HTTP_SENTENCES.get(error.status_code, error.message)
        )
        return {"error": {"message": message, "field": field}}, error.status_code, error.headers

    @app.errorhandler(HTTPException)
    def http_error(error: HTTPException) -> tuple[Response, int]:
        code = error.code or 500
        return problem(code, _HTTP_SENTENCES.get(code, error.description or "That didn't work; try again."))

    @app.errorhandler(Exception)
    def unforeseen(error: Exception) -> tuple[Response, int]:
        logging.getLogger("pondus").exception("unforeseen error", exc_info=error)
        return problem(500, UNFORESEEN)


def _add_pages(app: APIFlask, pages: Path) -> None:
    @app.get("/", defaults={"path": "index.html"})
    @app.get("/<path:path>")
    @app.doc(hide=True)
    def page(path: str) -> Response | tuple[Response, int]:
        if path.startswith("api/"):
            return problem(404, _HTTP_SENTENCES[404])
        if (pages / path).is_file():
            response = send_from_directory(pages, path)
            if path.startswith("assets/"):
                response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
            return response
        return send_from_directory(pages, "index.html")

"""One request's unit of work on the database."""

from contextlib import AbstractContextManager

from flask import Response, current_app
from pydantic import BaseModel
from sqlmodel import Session

from pondus.store.database import session_on

UNFORESEEN = "Pondus ran into something unforeseen. What was saved is safe; try again."


def work() -> AbstractContextManager[Session]:
    """A session of the running application: ``with work() as session``."""
    return session_on(current_app.extensions["pondus_engine"])


def json_of(result: BaseModel) -> Response:
    """A large result as JSON, written at once."""
    return Response(result.model_dump_json(), mimetype="application/json")

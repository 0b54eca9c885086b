"""One request's unit of work on the database."""

from contextlib import AbstractContextManager

from flask import current_app
from sqlmodel import Session

from pondus.store.database import session_on


def work() -> AbstractContextManager[Session]:
    """A session of the running application: ``with work() as session``."""
    return session_on(current_app.extensions["pondus_engine"])

"""One request's unit of work on the database."""

import logging
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, ExitStack, contextmanager
from dataclasses import dataclass
from functools import cache

from flask import Response, current_app
from pydantic import BaseModel
from sqlalchemy.engine import Engine
from sqlmodel import Session

from pondus.core.clock import Clock
from pondus.core.errors import PondusError
from pondus.store.changes import tell
from pondus.store.database import CHANGED, session_on
from pondus.store.morning import keep_triaged
from pondus.store.settings import studio_clock

UNFORESEEN = "Pondus ran into something unforeseen. What was saved is safe; try again."
SORTED_AT_ONCE = 4
"""Instruments sorted right after a change; of more than that, each is sorted when it is looked at."""


def engine_of_app() -> Engine:
    """The running application's engine."""
    engine: Engine = current_app.extensions["pondus_engine"]
    return engine


@contextmanager
def transaction(*, sorts: bool = True) -> Iterator[Session]:
    """A session that may change something: ``with transaction() as session``. Every open page is told of it. What it changed
    is sorted afterwards; ``sorts`` false: whoever asks does so, and only an instrument's log has changed.

    Raises BadInput, Conflict or StoreAway for what the database refused or could not be asked.
    """
    engine = engine_of_app()
    with session_on(engine) as session:
        yield session
        tell(session, "studio" if sorts else "log")
    changed = session.info.get(CHANGED, {})
    if sorts and 0 < len(changed) <= SORTED_AT_ONCE:
        for instrument_id in sorted(changed):
            _sort(engine, instrument_id)


def _sort(engine: Engine, instrument_id: object) -> None:
    """Keep how an instrument is sorted now; if that can't be, whoever looks works it out."""
    try:
        with session_on(engine) as session:
            keep_triaged(session, instrument_id, clock=studio_clock(session))  # type: ignore[arg-type]
    except PondusError:
        logging.getLogger("pondus").info("an instrument could not be sorted just now")


def looking() -> AbstractContextManager[Session]:
    """A session that only reads, all of one moment: ``with looking() as session``. Raises StoreAway."""
    return session_on(engine_of_app(), snapshot=True)


@dataclass(frozen=True)
class Moment:
    """A session that only reads, and the studio's clock in it."""

    session: Session
    clock: Clock


@contextmanager
def looking_later() -> Iterator[Callable[[], Moment]]:
    """As `looking`, for whoever may not need it: the session is opened when it is first asked for."""
    with ExitStack() as opened:

        @cache
        def look() -> Moment:
            session = opened.enter_context(looking())
            return Moment(session, studio_clock(session))

        yield look


def json_of(result: BaseModel) -> Response:
    """A large result as JSON, written at once."""
    return Response(result.model_dump_json(), mimetype="application/json")

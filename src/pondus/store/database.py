"""Reaching the database: one engine, short sessions, and one sentence when it is away."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy.engine import Engine, make_url
from sqlalchemy.exc import IntegrityError, InterfaceError, OperationalError
from sqlmodel import Session, create_engine

from pondus.store.errors import Conflict, StoreAway

MIGRATIONS = Path(__file__).parent / "migrations"


def engine_for(url: str) -> Engine:
    """An engine for ``url`` that notices lost connections and gives up quickly. Takes plain postgresql:// URLs."""
    parsed = make_url(url)
    if parsed.drivername in ("postgresql", "postgres"):
        parsed = parsed.set(drivername="postgresql+psycopg")
    return create_engine(parsed, pool_pre_ping=True, pool_size=8, max_overflow=24, connect_args={"connect_timeout": 3})


def migrate(url: str) -> None:
    """Bring the database to the newest layout. Safe to run by several servers at once (an advisory lock orders them)."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["engine"] = engine_for(url)
    command.upgrade(config, "head")


@contextmanager
def session_on(engine: Engine) -> Iterator[Session]:
    """One unit of work: committed at the end, rolled back on any error.

    Raises Conflict when another session stored the same id first,
    StoreAway when the database can't be reached or goes away in the middle.
    """
    try:
        with Session(engine, expire_on_commit=False) as session:
            yield session
            session.commit()
    except IntegrityError as error:
        raise Conflict("Someone stored that same entry at this very moment; look again, it may be there.") from error
    except (OperationalError, InterfaceError) as error:
        raise StoreAway from error

"""Reaching the database: one engine, short sessions, and one sentence when it is away."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from alembic.util import CommandError
from sqlalchemy import Connection, event
from sqlalchemy.engine import Engine, make_url
from sqlalchemy.exc import DataError, IntegrityError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as NoneFree
from sqlmodel import Session, create_engine

from pondus.core.errors import BadInput
from pondus.store.errors import Conflict, NewerStudio, StoreAway, StoreFull

MIGRATIONS = Path(__file__).parent / "migrations"
CHANGED = "changed instruments"
"""Under this name a session's info holds the instruments whose log or fittings it changed, with their new count of changes."""
UNIQUE, MISSING, CHECKED, FULL = "23505", "23503", "23514", "53100"


def engine_for(url: str, *, port_file: Path | None = None) -> Engine:
    """An engine for ``url`` that notices lost connections and gives up quickly. Takes plain postgresql:// URLs.

    ``port_file``: where whoever restarts the database writes the port it then has; read at each new connection.
    """
    parsed = make_url(url)
    if parsed.drivername in ("postgresql", "postgres"):
        parsed = parsed.set(drivername="postgresql+psycopg")
    # Parameters stay out of errors, and so out of logs: they hold people's names.
    engine = create_engine(
        parsed,
        pool_pre_ping=True,
        pool_size=8,
        max_overflow=24,
        pool_timeout=10,
        hide_parameters=True,
        connect_args={"connect_timeout": 3},
    )
    if port_file is not None:

        @event.listens_for(engine, "do_connect")
        def find(dialect: object, record: object, arguments: object, how: dict[str, object]) -> None:
            try:
                how["port"] = int(port_file.read_text())
            except (OSError, ValueError):  # nobody has moved it
                return

    return engine


def _config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    return config


def migrate(url: str) -> None:
    """Bring the database to the newest layout. Safe to run by several servers at once (an advisory lock orders them).

    Raises NewerStudio for a database that a newer Pondus has changed.
    """
    config = _config()
    engine = engine_for(url)
    config.attributes["engine"] = engine
    try:
        command.upgrade(config, "head")
    except CommandError as error:
        if "Can't locate revision" in str(error):
            raise NewerStudio from None
        raise
    finally:
        engine.dispose()


def migrate_on(connection: Connection, revision: str = "head") -> None:
    """Bring what the connection's search path names to a layout, inside its transaction."""
    config = _config()
    config.attributes["connection"] = connection
    command.upgrade(config, revision)


def known_revisions() -> frozenset[str]:
    """Every layout this Pondus knows."""
    return frozenset(revision.revision for revision in ScriptDirectory.from_config(_config()).walk_revisions())


@contextmanager
def session_on(engine: Engine, *, snapshot: bool = False) -> Iterator[Session]:
    """One unit of work: committed at the end, rolled back on any error. ``snapshot``: all that it reads is of one moment.

    Raises Conflict when the database refuses what was to be stored, saying what it was; BadInput for a value it can't keep;
    StoreAway when it can't be reached, has no connection free, or goes away in the middle.
    """
    try:
        bound = engine.execution_options(isolation_level="REPEATABLE READ") if snapshot else engine
        with Session(bound, expire_on_commit=False) as session:
            yield session
            session.commit()
    except IntegrityError as error:
        raise Conflict(_refused(error)) from error
    except DataError as error:
        raise BadInput("request", "It holds a character or a figure that can't be kept; type it anew.") from error
    except (OperationalError, InterfaceError, NoneFree) as error:
        raise (StoreFull if getattr(getattr(error, "orig", None), "sqlstate", None) == FULL else StoreAway) from error


TABLES = {
    "person": "person", "instrument": "instrument", "string": "string", "tuning": "tuning", "reading": "reading",
    "move": "move", "fifth_check": "check of a fifth", "station": "place this morning", "room": "measurement",
    "care": "entry of care", "import": "list", "settings": "setting", "simulated": "simulated instrument",
    "practice": "go at a drill", "practice_answer": "answer",
}  # fmt: skip
"""What a person calls a record of each table."""


def _refused(error: IntegrityError) -> str:
    """What the database didn't take, in a sentence without the values."""
    facts = getattr(error.orig, "diag", None)
    table = TABLES.get(getattr(facts, "table_name", None) or "", "record")
    name = getattr(facts, "constraint_name", None) or ""
    code = getattr(error.orig, "sqlstate", None)
    if code == UNIQUE and name == "station_day_name_key":
        return "Someone of that name was added to this morning just now; look who is there."
    if code == UNIQUE:
        return f"That {table} was stored just now by someone else; look again, it is there."
    if code == MISSING:
        return f"What this {table} belongs to was removed meanwhile, or something still belongs to it; look again."
    if code == CHECKED:
        what = name.removeprefix(f"{getattr(facts, 'table_name', '')}_").replace("_", " ")
        return f"This {table} can't be kept: its {what} is out of bounds. Enter it anew."
    return f"This {table} lacks something that must be there; enter it anew."

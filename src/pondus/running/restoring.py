"""A backup brought back: its data into Pondus's own tables, and nothing else of it.

A backup file is a program for the database as much as it is data, and one that someone made up could run anything. So
none of it
is run: PostgreSQL's own tool prints it as text, of which only the rows of known tables are read, into tables that Pondus makes
itself, in the layout that the backup has. Those are brought to today's layout and put in place of the studio's, in one
transaction.
"""

import re
import secrets
import subprocess
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from psycopg import sql
from sqlalchemy import Connection, inspect, text
from sqlalchemy.engine import Engine
from sqlalchemy.exc import DBAPIError

from pondus.core.errors import BadInput
from pondus.running.cluster import PROGRAMS
from pondus.running.places import CannotStart
from pondus.store.database import known_revisions, migrate_on
from pondus.store.errors import NewerStudio

INCOMING = "incoming"
VERSION_TABLE = "alembic_version"
WAITS_SECONDS = 20
_COPY = re.compile(rb'^COPY (?:public\.)?"?(\w+)"? \(([^)]*)\) FROM stdin;$')
_IGNORED = re.compile(
    rb"^(?:--.*|SET [\w.]+ = .*;|SELECT pg_catalog\.set_config\('search_path', '', false\);|\\(?:un)?restrict \w+)?$"
)


@dataclass(frozen=True)
class _Begins:
    """The rows of a table follow."""

    table: str
    columns: tuple[str, ...]


def bring_back(engine: Engine, file: Path, *, is_another: Callable[[], bool] = lambda: False) -> None:
    """Put a backup in place of what is in the database, all or nothing. ``is_another``: asked where the backup is of another
    studio than this home's; whether it becomes a studio of its own, which takes nothing that waits for the one it was of.

    Raises BadInput for a file that holds anything else than a studio's rows, NewerStudio, CannotStart.
    """
    revision = _revision(file)
    if revision not in known_revisions():
        raise NewerStudio
    try:
        with engine.begin() as connection:
            connection.execute(text(f"set local lock_timeout = '{WAITS_SECONDS}s'"))
            connection.execute(text(f"drop schema if exists {INCOMING} cascade"))
            connection.execute(text(f"create schema {INCOMING}"))
            connection.execute(text(f"set local search_path to {INCOMING}"))
            migrate_on(connection, revision)
            _fill(connection, file)
            migrate_on(connection)
            for table in ("device_session", "invitation"):  # who was in then need not be who may come in now
                connection.execute(text(f"delete from {table}"))
            _settle_identity(connection, is_another)
            connection.execute(text("drop schema public cascade"))
            connection.execute(text(f"alter schema {INCOMING} rename to public"))
    except DBAPIError as error:
        reason = str(error.orig).strip().splitlines()[0]
        raise CannotStart(f"The backup could not be brought back: {reason}. Nothing was changed.") from None


def _settle_identity(connection: Connection, is_another: Callable[[], bool]) -> None:
    here = connection.execute(text("select studio from public.sign_in")).scalar()
    of_backup = connection.execute(text(f"select studio from {INCOMING}.sign_in")).scalar()
    if of_backup is None and here is not None:  # it is older than that
        connection.execute(
            text(f"insert into {INCOMING}.sign_in (id, studio, locked) values (1, :here, false)"), {"here": here}
        )
    elif of_backup != here and is_another():
        fresh = here or secrets.token_hex(4)
        connection.execute(text(f"update {INCOMING}.sign_in set studio = :fresh"), {"fresh": fresh})


def _revision(file: Path) -> str:
    """The layout that a backup has. Raises BadInput where it tells none."""
    table = ""
    for piece in _pieces(file):
        if isinstance(piece, _Begins):
            table = piece.table
        elif table == VERSION_TABLE:
            return piece.decode(errors="replace").strip()
    raise BadInput("file", f"{file} isn't a backup of a studio: its layout is missing.")


def _fill(connection: Connection, file: Path) -> None:
    """Every row of every known table. Keys between tables wait until all are there, in whatever order they come."""
    known = {
        name: {column["name"] for column in inspect(connection).get_columns(name, schema=INCOMING)}
        for name in inspect(connection).get_table_names(schema=INCOMING)
    }
    keys = connection.execute(
        text(
            "select conrelid::regclass::text, conname, pg_get_constraintdef(oid) from pg_constraint"
            " where contype = 'f' and connamespace = cast(:schema as regnamespace)"
        ),
        {"schema": INCOMING},
    ).all()
    for table, name, _ in keys:
        connection.execute(text(f'alter table {table} drop constraint "{name}"'))
    _copy_all(connection, file, known)
    for table, name, definition in keys:
        connection.execute(text(f'alter table {table} add constraint "{name}" {definition}'))


def _copy_all(connection: Connection, file: Path, known: dict[str, set[str]]) -> None:
    cursor = connection.connection.cursor()
    pieces = _pieces(file)
    begins = next(pieces, None)
    while begins is not None:
        assert isinstance(begins, _Begins)
        following: _Begins | None = None
        if begins.table == VERSION_TABLE:
            following = _skip(pieces)
        else:
            if begins.table not in known or not set(begins.columns) <= known[begins.table]:
                raise BadInput("file", f"{file} holds “{begins.table}”, which isn't a table of a studio; nothing was changed.")
            statement = sql.SQL("copy {} ({}) from stdin").format(
                sql.Identifier(INCOMING, begins.table), sql.SQL(", ").join(map(sql.Identifier, begins.columns))
            )
            with cursor.copy(statement) as copy:
                for piece in pieces:
                    if isinstance(piece, _Begins):
                        following = piece
                        break
                    copy.write(piece)
        begins = following


def _skip(pieces: "Iterator[_Begins | bytes]") -> _Begins | None:
    return next((piece for piece in pieces if isinstance(piece, _Begins)), None)


def _pieces(file: Path) -> "Iterator[_Begins | bytes]":
    """What a backup says of rows: which table's follow, and each as a line. Raises BadInput for anything else in it."""
    command = [str(PROGRAMS / "pg_restore"), "--data-only", "--no-owner", "--no-privileges", "--file=-", str(file)]
    try:
        process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
    except OSError as error:
        raise CannotStart(f"pg_restore can't be run: {error.strerror}.") from None
    assert process.stdout is not None
    try:
        yield from _read(process.stdout, file)
        if process.wait() != 0:
            raise BadInput("file", f"{file} can't be read to its end; is it damaged? Nothing was changed.")
    finally:
        process.kill()
        process.wait()
        process.stdout.close()


def _read(lines: IO[bytes], file: Path) -> "Iterator[_Begins | bytes]":
    in_rows = False
    for line in lines:
        plain = line.rstrip(b"\r\n")
        if in_rows:
            if plain == b"\\.":
                in_rows = False
            else:
                yield line
            continue
        match = _COPY.match(plain)
        if match is not None:
            columns = tuple(part.strip().strip(b'"').decode() for part in match[2].split(b",") if part.strip())
            in_rows = True
            yield _Begins(match[1].decode(), columns)
        elif not _IGNORED.match(plain):
            raise BadInput("file", f"{file} holds more than a studio's rows; it isn't a backup made by bin/pondus backup.")
    if in_rows:
        raise BadInput("file", f"{file} breaks off; nothing was changed.")

"""The passwords of a private cluster, and how one that was made without any is closed.

Each is made at the first start and kept in a file that its user alone can read. Clusters of earlier versions let anyone on the
machine in as their administrator (``trust``); they are taken over with all their objects: the application's role gets
what is in the databases, the administrator a password, and the door is closed.
"""

import os
import secrets
import shutil
import signal
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import psycopg
from psycopg import sql

ADMINISTRATOR, APPLICATION = "pondus", "pondus_app"
CLOSED = """# Pondus: with a password, on loopback, and not otherwise.
host all all 127.0.0.1/32 scram-sha-256
host all all ::1/128 scram-sha-256
"""
OPEN_FOR_OWNER = f"""# Pondus: for the moment in which lost passwords are made anew.
host all {ADMINISTRATOR} 127.0.0.1/32 trust
"""


class Secrets:
    """Where both passwords are kept."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    @property
    def administrator(self) -> str:
        """The administrator's; empty where none was made."""
        return self._read("administrator.password")

    @property
    def application(self) -> str:
        """The application's; empty where none was made."""
        return self._read("application.password")

    @property
    def are_kept(self) -> bool:
        """Whether both are there."""
        return bool(self.administrator and self.application)

    def make(self) -> None:
        """Make those that are missing."""
        for name in ("administrator.password", "application.password"):
            if not self._read(name):
                file = self.folder / name
                beside = self.folder / f"{name}.part"
                handle = os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
                with os.fdopen(handle, "w") as out:
                    out.write(secrets.token_urlsafe(32))
                beside.replace(file)

    @contextmanager
    def told_to(self, user: str | None) -> Iterator[Path]:
        """The administrator's password in a file that ``user`` alone can read, for as long as it is needed."""
        handle, name = tempfile.mkstemp(dir=self.folder, prefix=".told-")
        try:
            with os.fdopen(handle, "w") as out:
                out.write(f"{self.administrator}\n")
            if user is not None:
                shutil.chown(name, user)
            yield Path(name)
        finally:
            Path(name).unlink(missing_ok=True)

    def open_for_owner(self, data: Path, server: int | None) -> None:
        """Let the owner of the data in without a password, because it was lost; `take_over` closes it again."""
        _write(data / "pg_hba.conf", OPEN_FOR_OWNER)
        if server is not None:
            os.kill(server, signal.SIGHUP)

    def _read(self, name: str) -> str:
        try:
            return (self.folder / name).read_text().strip()
        except OSError:
            return ""


def is_closed(data: Path) -> bool:
    """Whether nobody gets into a cluster without a password."""
    try:
        lines = (data / "pg_hba.conf").read_text().splitlines()
    except OSError:
        return True
    return not any(line.split()[-1] == "trust" for line in lines if line.strip() and not line.lstrip().startswith("#"))


def take_over(data: Path, kept: Secrets, port: int) -> None:
    """Give a running cluster its roles and passwords, the application's role all that is in the databases, and close
    the door.
    """
    kept.make()

    def connected(database: str) -> psycopg.Connection:
        return psycopg.connect(
            host="127.0.0.1",
            port=port,
            dbname=database,
            user=ADMINISTRATOR,
            password=kept.administrator,
            connect_timeout=10,
            autocommit=True,
        )

    with connected("postgres") as connection:
        _roles(connection, kept)
        names = connection.execute("select datname from pg_database where datallowconn and not datistemplate").fetchall()
    for (name,) in names:
        if name != "postgres":
            with connected(name) as connection:
                _give(connection, name)
    _write(data / "pg_hba.conf", CLOSED)
    with connected("postgres") as connection:
        connection.execute("select pg_reload_conf()")


def _roles(connection: psycopg.Connection, kept: Secrets) -> None:
    connection.execute("set password_encryption = 'scram-sha-256'")
    there = connection.execute("select 1 from pg_roles where rolname = %s", (APPLICATION,)).fetchone()
    if there is None:
        connection.execute(sql.SQL("create role {} login").format(sql.Identifier(APPLICATION)))
    for role, password in ((APPLICATION, kept.application), (ADMINISTRATOR, kept.administrator)):
        connection.execute(
            sql.SQL("alter role {} password {}").format(sql.Identifier(role), sql.Literal(_scram(connection, role, password)))
        )
    connection.execute(
        sql.SQL("alter role {} nosuperuser nocreatedb nocreaterole noreplication nobypassrls").format(
            sql.Identifier(APPLICATION)
        )
    )


def _scram(connection: psycopg.Connection, role: str, password: str) -> str:
    """The password as the server keeps it, so that it itself is in no statement and no log."""
    return connection.pgconn.encrypt_password(password.encode(), role.encode(), b"scram-sha-256").decode()


def _give(connection: psycopg.Connection, database: str) -> None:
    """The application's role gets a database and all that is in it."""
    role = sql.Identifier(APPLICATION)
    connection.execute(sql.SQL("alter database {} owner to {}").format(sql.Identifier(database), role))
    found = connection.execute(
        """
        select c.relkind::text, n.nspname, c.relname from pg_class c join pg_namespace n on n.oid = c.relnamespace
        where n.nspname not like 'pg\\_%' and n.nspname <> 'information_schema' and c.relkind in ('r', 'p', 'v', 'm', 'S')
        and not exists (select 1 from pg_depend d where d.objid = c.oid and d.deptype in ('a', 'i') and c.relkind = 'S')
        order by c.relkind
        """
    ).fetchall()
    kinds = {"r": "table", "p": "table", "v": "view", "m": "materialized view", "S": "sequence"}
    for kind, schema, name in found:
        connection.execute(sql.SQL("alter {} {} owner to {}").format(sql.SQL(kinds[kind]), sql.Identifier(schema, name), role))
    schemas = connection.execute(
        "select nspname from pg_namespace where nspname not like 'pg\\_%' and nspname not in ('information_schema', 'public')"
    ).fetchall()
    for (schema,) in schemas:
        connection.execute(sql.SQL("alter schema {} owner to {}").format(sql.Identifier(schema), role))


def _write(file: Path, text: str) -> None:
    """Beside the file first, with its owner and mode."""
    was = file.stat()
    beside = file.with_name(f"{file.name}.part")
    beside.write_text(text)
    beside.chmod(was.st_mode & 0o777)
    if os.geteuid() == 0:
        os.chown(beside, was.st_uid, was.st_gid)
    beside.replace(file)

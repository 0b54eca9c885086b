"""Saving a studio and bringing it back, from the command line: open files, and PostgreSQL's own backup."""

import json
import os
import subprocess
import sys
from pathlib import Path
from uuid import uuid4

from rich.progress import Progress
from sqlalchemy.engine import make_url

from pondus.core.errors import BadInput
from pondus.lists.columns import ListKind, guessed_kind
from pondus.lists.text import read_table
from pondus.lists.writing import written
from pondus.running.cluster import PROGRAMS
from pondus.running.database import studio_database
from pondus.running.places import CannotStart
from pondus.running.restoring import bring_back
from pondus.store import imports
from pondus.store.database import engine_for, migrate, session_on
from pondus.store.exports import HEADERS, rows_of
from pondus.store.persons_data import everything_of, person_named
from pondus.store.settings import studio_clock
from pondus.store.tables import ImportRow
from pondus.store.whole import is_empty, restored, saved

SHOWN_BAD = 40


def export_studio(name: str, file: Path, kind: ListKind | None) -> None:
    """Write the whole studio (JSON), or one list of it (CSV). Raises BadInput, CannotStart."""
    with studio_database(name) as database:
        migrate(database.url)
        with session_on(engine_for(database.url), snapshot=True) as session:
            pieces = saved(session) if kind is None else written(HEADERS[kind], rows_of(session, kind))
            _write(file, pieces)


def export_person(name: str, file: Path, person: str) -> None:
    """Write all that is kept about one person (JSON). ``person``: a name or an id. Raises BadInput, NotFound, CannotStart."""
    with studio_database(name) as database:
        migrate(database.url)
        with session_on(engine_for(database.url), snapshot=True) as session:
            found = everything_of(session, person_named(session, person).id)
        _write(file, [json.dumps(found, ensure_ascii=False, indent=1), "\n"])


def _write(file: Path, pieces: object) -> None:
    """Write beside the file first, so that a full disk spoils nothing."""
    beside = file.with_name(file.name + ".part")
    try:
        with beside.open("w", encoding="utf-8", newline="") as out:
            for piece in pieces:  # type: ignore[attr-defined]
                out.write(piece)
        beside.replace(file)
    except OSError as error:
        beside.unlink(missing_ok=True)
        raise BadInput("file", f"{file} can't be written: {error.strerror}.") from None


def import_file(name: str, file: Path, kind: ListKind | None, *, leave_out_bad: bool, update: bool = False) -> str:
    """Bring a studio's file into an empty studio, or a CSV list into any; what was stored, in words.

    Raises BadInput, with each bad row and its reason.
    """
    try:
        content = file.read_bytes()
    except OSError as error:
        raise BadInput("file", f"{file} can't be read: {error.strerror}.") from None
    with studio_database(name) as database:
        migrate(database.url)
        if content.lstrip()[:1] == b"{":
            return _import_studio(database.url, content)
        return _import_list(database.url, file, content, kind, leave_out_bad=leave_out_bad, update=update)


def _import_studio(url: str, content: bytes) -> str:
    with session_on(engine_for(url)) as session:
        done = restored(session, content, clock=studio_clock(session))
        aside = [f"  {row.of_table}: {row.reason}" for row in done.aside[:SHOWN_BAD]]
    said = f"{done.stored} records of a whole studio are stored."
    if not done.aside:
        return said
    more = [f"  and {len(done.aside) - SHOWN_BAD} more"] if len(done.aside) > SHOWN_BAD else []
    head = f"{len(done.aside)} can't be used as they stand; they are set aside, and stay in the studio's file:"
    return "\n".join([said, head, *aside, *more])


def _import_list(url: str, file: Path, content: bytes, kind: ListKind | None, *, leave_out_bad: bool, update: bool) -> str:
    table = read_table(content, name=file.name)
    kind = kind or guessed_kind(table.headers)
    row = ImportRow(id=uuid4(), kind=kind, file_name=file.name, content=content)
    with session_on(engine_for(url)) as session, Progress(transient=True) as progress:
        clock = studio_clock(session)
        task = progress.add_task(f"{file.name}: {kind}", total=2 * len(table.rows))
        imports.bring(session, row)
        for looked in imports.preview(session, row, clock=clock):
            if isinstance(looked, int):
                progress.update(task, completed=looked)
            else:
                _refuse_bad(looked, leave_out_bad)
                _refuse_unasked(looked, update)
        for step in imports.confirm(session, row, leave_out_bad=leave_out_bad, clock=clock):
            if isinstance(step, imports.Progress) and step.doing == "storing":
                progress.update(task, completed=len(table.rows) + step.done)
    return f"{row.rows_stored} rows of {kind} are stored."


def _refuse_bad(found: imports.Preview, leave_out_bad: bool) -> None:
    bad = found.rows.bad
    if not bad or leave_out_bad:
        return
    lines = [f"line {bad_row.line}: {bad_row.said}" for bad_row in bad[:SHOWN_BAD]]
    more = [f"and {len(bad) - SHOWN_BAD} more"] if len(bad) > SHOWN_BAD else []
    last = "Nothing is stored. Mend them, or bring the rest with --leave-out-bad."
    raise BadInput("rows", "\n".join([*lines, *more, last]))


def _refuse_unasked(found: imports.Preview, update: bool) -> None:
    """What is on the roll changes only if that was asked for."""
    changing = found.rows.changing
    if not changing or update:
        return
    lines = [
        f"line {change.record.line}: {change.record.says['label']}, "
        + ", ".join(f"{one.said} {one.before or 'nothing'} -> {one.after}" for one in change.changes)
        for change in changing[:SHOWN_BAD]
    ]
    more = [f"and {len(changing) - SHOWN_BAD} more"] if len(changing) > SHOWN_BAD else []
    last = "That would change what is on the roll, so nothing is stored. If it is meant, bring it again with --update."
    raise BadInput("rows", "\n".join([*lines, *more, last]))


def backup(name: str, file: Path) -> None:
    """PostgreSQL's own backup of a studio. Raises CannotStart."""
    with studio_database(name) as database:
        migrate(database.url)
        beside = file.with_name(file.name + ".part")
        _dump(database.url, beside)
        try:
            beside.replace(file)
        except OSError as error:
            beside.unlink(missing_ok=True)
            raise BadInput("file", f"{file} can't be written: {error.strerror}.") from None


def _dump(url: str, file: Path) -> None:
    """Run pg_dump. The password goes by its environment, not by its arguments, which everyone on the machine can list."""
    parts = make_url(url.replace("postgresql+psycopg://", "postgresql://"))
    environment = {**os.environ, "PGPASSWORD": parts.password or ""}
    plain = parts._replace(password=None).render_as_string(hide_password=False)
    command = [
        str(PROGRAMS / "pg_dump"),
        f"--dbname={plain}",
        *("--format=custom", "--no-owner", "--no-privileges", f"--file={file}"),
    ]
    try:
        done = subprocess.run(command, capture_output=True, text=True, check=False, env=environment)
    except OSError as error:
        raise CannotStart(f"pg_dump can't be run: {error.strerror}.") from None
    if done.returncode != 0:
        said = done.stderr.strip().splitlines()
        raise CannotStart(f"pg_dump didn't finish: {said[-1] if said else 'no reason given'}. Nothing was changed.")


def restore(name: str, file: Path, *, replace: bool, another: bool | None = None) -> None:
    """Bring a backup back, all or nothing. What is in the studio is replaced only if asked for. ``another``: whether it becomes
    a studio of its own beside the one it is of; None: asked for at a terminal, else it takes that one's place.

    Raises BadInput for a studio that isn't empty or a file that is no backup, CannotStart.
    """
    try:
        with file.open("rb") as opened:
            head = opened.read(5)
    except OSError as error:
        raise BadInput("file", f"{file} can't be read: {error.strerror}.") from None
    if head != b"PGDMP":
        raise BadInput("file", f"{file} isn't a backup that bin/pondus backup wrote; a studio's JSON is brought with import.")
    with studio_database(name) as database:
        migrate(database.url)
        engine = engine_for(database.url)
        with session_on(engine) as session:
            if not replace and not is_empty(session):
                raise BadInput("file", "This studio isn't empty. Back it up, then restore with --replace to have it replaced.")
        bring_back(engine, file, is_another=lambda: _asked_whether_another() if another is None else another)


def _asked_whether_another() -> bool:
    if sys.stdin is None or not sys.stdin.isatty():
        return False
    print("This backup is of another studio than the one here. Browsers may hold entries that wait for that studio.")
    return input("Does this one take its place, so that they come here? [Y/n]: ").strip().lower() in ("n", "no")

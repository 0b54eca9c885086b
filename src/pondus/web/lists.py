"""Lists brought in and saved: CSV. A long one tells how far it is, line by line of JSON."""

import json
from collections.abc import Callable, Iterator
from dataclasses import asdict
from typing import Any, get_args
from uuid import UUID

from apiflask import APIBlueprint
from flask import Response, request
from pydantic import TypeAdapter, ValidationError
from sqlmodel import Session

from pondus.contracts.lists import (
    BadRowOut,
    BroughtList,
    ChangeOut,
    ChangingOut,
    ColumnOut,
    Confirm,
    FieldOut,
    FirstLine,
    LastList,
    ListChange,
    ListOut,
    SetAsideList,
    SetAsideOut,
)
from pondus.core.entries.texts import check_text
from pondus.core.errors import BadInput, PondusError
from pondus.lists.columns import FIELDS, ListKind, guessed_kind, missing
from pondus.lists.text import read_table
from pondus.lists.updates import Changing
from pondus.lists.writing import written
from pondus.store import imports as import_store
from pondus.store import set_aside as store_set_aside
from pondus.store.changes import tell
from pondus.store.database import CHANGED, session_on
from pondus.store.errors import NotFound
from pondus.store.exports import HEADERS, rows_of
from pondus.store.instruments import hold_instruments
from pondus.store.settings import studio_clock
from pondus.store.summaries import keep_summaries
from pondus.store.tables import ImportRow
from pondus.web.described import file_of
from pondus.web.doors import at_most, uploads
from pondus.web.logging import log_unforeseen
from pondus.web.transaction import UNFORESEEN, engine_of_app, looking, transaction

blueprint = APIBlueprint("lists", __name__, tag="Lists")
SHOWN_BAD, SHOWN_ROWS, LONGEST_LINE = 300, 5, 120
KINDS: tuple[ListKind, ...] = get_args(ListKind)
LINES = file_of("application/x-ndjson", said="Line by line of JSON: how far it is, and at last the result or the error.")
_ID = TypeAdapter(UUID)


@blueprint.post("/lists")
@uploads
@at_most("lists")
@blueprint.doc(
    responses=LINES,
    description="Bring a CSV file (form fields file, id, kind). Nothing is stored yet. Answers line by line (JSON): how far it"
    " is, and at last the list as it was looked through.",
)
def bring() -> Response:
    """Look through a list. Raises BadInput, NotFound, Conflict or TooOften."""
    upload = request.files.get("file")
    if upload is None:
        raise BadInput("file", "Bring a CSV file.")
    asked = _asked()
    name = check_text((upload.filename or "the list")[:200], field="file", most=200)
    row = ImportRow(id=asked.id, kind="roll", file_name=name, content=upload.read())
    table = read_table(row.content, name=row.file_name)
    kind = asked.kind or guessed_kind(table.headers)
    row.kind, row.columns = kind, {}
    with transaction() as session:
        import_store.bring(session, row)
    return _streamed(lambda session: _look(session, asked.id))


def _asked() -> BroughtList:
    try:
        key = _ID.validate_python(request.form.get("id", ""))
    except ValidationError:
        raise BadInput("id", "The list needs an id made by whoever brings it.") from None
    return BroughtList.model_validate({"id": key, "kind": request.form.get("kind") or None})


@blueprint.patch("/lists/<uuid:list_id>")
@blueprint.input(ListChange, arg_name="change")
@blueprint.doc(
    responses=LINES,
    description="Say what the list is; it is looked through anew, answering line by line as when it was brought.",
)
def change_list(list_id: UUID, change: ListChange) -> Response:
    """Say which column is what. Raises BadInput, NotFound or Conflict."""
    with transaction() as session:
        row = import_store.brought(session, list_id, hold=True)
        if row.state != "looked-at":
            raise BadInput("state", "This list is stored already; bring it again.")
        import_store.say(row, **change.model_dump())
        session.add(row)
    return _streamed(lambda session: _look(session, list_id))


@blueprint.post("/lists/<uuid:list_id>/confirm")
@blueprint.input(Confirm, arg_name="asked")
@blueprint.doc(
    responses=LINES,
    description="Store the list, all or nothing. Answers line by line (JSON): how far it is, and at last the list.",
)
def confirm(list_id: UUID, asked: Confirm) -> Response:
    """Store a list that was looked through. Raises BadInput, NotFound or Conflict."""
    return _streamed(lambda session: _store(session, list_id, asked))


@blueprint.post("/lists/<uuid:list_id>/undo")
@blueprint.output(LastList)
def undo(list_id: UUID) -> LastList:
    """Take back the list that was stored last; answers with the one before it.

    Raises BadInput, NotFound or Conflict.
    """
    with transaction() as session:
        import_store.undo(session, list_id, clock=studio_clock(session))
        return _last(session)


@blueprint.get("/lists/last")
@blueprint.output(LastList)
def last() -> LastList:
    """The list that can be taken back."""
    with looking() as session:
        return _last(session)


def _last(session: Session) -> LastList:
    row = import_store.last_stored(session)
    return LastList() if row is None else LastList.model_validate(row.model_dump())


@blueprint.get("/export/<name>.csv")
@blueprint.doc(
    description="A list of the studio as CSV: roll, people, readings, moves, room or care.",
    responses=file_of("text/csv", said="The list."),
)
def export(name: str) -> Response:
    """Save a list. Raises BadInput, NotFound or Conflict."""
    kind = next((kind for kind in KINDS if kind == name), None)
    if kind is None:
        raise NotFound(f"There is no list “{name}”; choose from {', '.join(KINDS)}.")
    engine = engine_of_app()

    def pieces() -> Iterator[str]:
        with session_on(engine) as session:
            yield from written(HEADERS[kind], rows_of(session, kind))

    headers = {"Content-Disposition": f"attachment; filename=pondus-{kind}.csv"}
    return Response(pieces(), mimetype="text/csv", headers=headers)


Lines = Iterator[dict[str, Any]]


def _streamed(lines: Callable[[Session], Lines]) -> Response:
    """One unit of work told line by line; an error is the last line, and nothing is stored then."""
    engine = engine_of_app()

    def pieces() -> Iterator[str]:
        waiting = None
        try:
            with session_on(engine) as session:
                # The last line is told only once the work is committed.
                for line in lines(session):
                    if waiting is not None:
                        yield waiting
                    waiting = json.dumps(line) + "\n"
                tell(session, "studio")
            changed = sorted(session.info.get(CHANGED, ()))
            for place, instrument_id in enumerate(changed):
                yield json.dumps({"doing": "working-out", "done": place, "of": len(changed)}) + "\n"
                with session_on(engine) as session:
                    hold_instruments(session, {instrument_id})
                    keep_summaries(session, instrument_id)
            if waiting is not None:
                yield waiting
        except PondusError as error:
            yield json.dumps({"error": {"message": error.message, "field": getattr(error, "field", None)}}) + "\n"
        except Exception as error:
            log_unforeseen(error)
            yield json.dumps({"error": {"message": UNFORESEEN, "field": None}}) + "\n"

    return Response(pieces(), mimetype="application/x-ndjson")


def _look(session: Session, list_id: UUID) -> Lines:
    row = import_store.brought(session, list_id)
    for progress in import_store.preview(session, row, clock=studio_clock(session)):
        if isinstance(progress, int):
            yield {"doing": "looking", "done": progress}
        else:
            yield {"list": _out(row, progress).model_dump(mode="json")}


def _store(session: Session, list_id: UUID, asked: Confirm) -> Lines:
    row = import_store.brought(session, list_id, hold=True)
    how: Any = {"leave_out_bad": asked.leave_out_bad, "leave_out": set(asked.leave_out)}
    for progress in import_store.confirm(session, row, **how, clock=studio_clock(session)):
        if isinstance(progress, import_store.Progress):
            yield asdict(progress)
        else:
            yield {"stored": LastList.model_validate(progress.model_dump()).model_dump(mode="json")}


def _out(row: ImportRow, found: import_store.Preview) -> ListOut:
    rows = found.rows
    return ListOut.filled(
        row,
        found,
        found.table,
        columns=_columns(found),
        fields=[FieldOut.model_validate(field, from_attributes=True) for field in FIELDS[found.kind]],
        missing=[field.said for field in missing(found.kind, found.columns)],
        has_dates=any(import_store.holds_dates(column) for column in found.columns),
        first_lines=[
            FirstLine(line=line, said=", ".join(filter(None, (cell.strip() for cell in cells)))[:LONGEST_LINE])
            for line, cells in found.table.first
        ],
        rows=len(found.table.rows),
        good=len(rows.new) + len(rows.changing) + len(rows.people),
        people_count=len(rows.people),
        new_names=rows.new_names[:SHOWN_BAD],
        new_names_count=len(rows.new_names),
        bad_count=len(rows.bad),
        bad=[BadRowOut.model_validate(bad) for bad in rows.bad[:SHOWN_BAD]],
        changing_count=len(rows.changing),
        changing=[_changing(change) for change in rows.changing[:SHOWN_BAD]],
        same=rows.same,
        kind=found.kind,
        absent_count=len(rows.absent),
        absent=rows.absent[:SHOWN_BAD],
    )


def _columns(found: import_store.Preview) -> list[ColumnOut]:
    first = [cells for _, cells in found.table.rows[:SHOWN_ROWS]]
    return [
        ColumnOut(
            header=header,
            field=found.columns[place],
            first=[cells[place].strip() if place < len(cells) else "" for cells in first],
        )
        for place, header in enumerate(found.table.headers)
    ]


def _changing(change: Changing) -> ChangingOut:
    changes = [ChangeOut.model_validate(one, from_attributes=True) for one in change.changes]
    return ChangingOut(line=change.record.line, label=change.record.says["label"], changes=changes)


@blueprint.get("/set-aside")
@blueprint.output(SetAsideList)
def set_aside() -> SetAsideList:
    """Records that can't be used as they stand; they go with the studio's file."""
    with looking() as session:
        return SetAsideList(records=[SetAsideOut.model_validate(set_aside) for set_aside in store_set_aside.set_aside(session)])

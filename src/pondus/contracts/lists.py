"""Lists brought in: what was found in one, what someone says of it, what became of it."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.lists.columns import ListKind
from pondus.lists.values import DateOrder


class FieldOut(Result):
    """Something such a list can hold."""

    name: str
    said: str
    needed: bool


class ColumnOut(Result):
    """A column of the list, what it is taken for (null: left out), and its first cells."""

    header: str
    field: str | None
    first: list[str]


class BadRowOut(Result):
    """A row that can't be stored, and why. ``word``: one of its ``field`` that isn't known and may be one of ``choices``."""

    line: int
    said: str
    field: str | None
    word: str | None
    choices: list[str]


class ChangeOut(Result):
    """What a row says otherwise than the roll does."""

    said: str
    before: str
    after: str


class ChangingOut(Result):
    """A row that changes an instrument of the roll."""

    line: int
    label: str
    changes: list[ChangeOut]


class FirstLine(Result):
    """One of the first lines, which may hold the names of the columns."""

    line: int
    said: str


class ListOut(Result):
    """A list looked through. ``order`` null: its dates could be read in two ways. ``bad``: the first of the bad rows;
    ``changing``: the first rows that change what is on the roll, ``same``: how many say what is known; ``absent``: the first
    labels of the roll that it lacks, which stay as they are. ``people_count``: rows of somebody new who has no instrument;
    ``new_names``: everybody whom nobody knows yet.
    """

    id: UUID
    kind: ListKind
    file_name: str
    state: Literal["looked-at", "stored", "undone"]
    columns: list[ColumnOut]
    fields: list[FieldOut]
    missing: list[str]
    order: DateOrder | None
    has_dates: bool
    header_line: int
    first_lines: list[FirstLine]
    rows: int
    good: int
    bad_count: int
    bad: list[BadRowOut]
    changing_count: int
    changing: list[ChangingOut]
    same: int
    people_count: int
    new_names: list[str]
    new_names_count: int
    absent_count: int
    absent: list[str]
    encoding: str
    separator: str
    rows_stored: int


class ListChange(Contract):
    """What someone says of a list: the line of its headers, its kind, which column is what (in their order; null: not read),
    the order of its dates, by field what words of it mean. Another line is looked at anew.
    """

    header_line: int | None = None
    kind: ListKind | None = None
    columns: Annotated[list[str | None], Field(max_length=200)] | None = None
    taken_as: dict[str, dict[str, str]] | None = None
    order: DateOrder | None = None


class Confirm(Contract):
    """Store the list; ``leave_out_bad``: without its bad rows; ``leave_out``: nor these lines."""

    leave_out_bad: bool = False
    leave_out: Annotated[list[int], Field(default_factory=list, max_length=10_000)]


class LastList(Result):
    """The list that was stored last and can be taken back, if any."""

    id: UUID | None = None
    kind: ListKind | None = None
    file_name: str | None = None
    rows_stored: int = 0


class BroughtList(Contract):
    """How a list is brought: as a form with ``file``, ``id`` made by the client, and ``kind`` if it is known."""

    id: ClientId
    kind: Annotated[ListKind | None, Field(default=None)]


class SetAsideOut(Result):
    """A record that can't be used as it stands, and why; it goes with the studio's file. ``said``: what it is, and whose."""

    id: UUID
    of_table: str
    said: str
    reason: str
    content: dict[str, object]


class SetAsideList(Result):
    """Every record that was set aside."""

    records: list[SetAsideOut]

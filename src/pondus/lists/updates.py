"""A list of the roll beside the roll: which rows are new, which change what stands there, which say what is known."""

from collections import Counter
from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from pondus.core.entries.instruments import DETAILS
from pondus.core.errors import BadInput
from pondus.lists.records import BadRow, Looked, Record, bad_row

NOBODY = "nobody"


@dataclass(frozen=True)
class Standing:
    """An instrument as it stands on the roll; ``player`` by name."""

    id: UUID
    label: str
    kind: str
    size: str
    player: str | None
    hours: float | None
    note: str
    details: Mapping[str, str]


@dataclass(frozen=True)
class Change:
    """What a row says otherwise than the roll does: the field, how it is called, and both as they are said."""

    name: str
    said: str
    before: str
    after: str


@dataclass(frozen=True)
class Changing:
    """A row that changes an instrument of the roll, and how."""

    record: Record
    of: UUID
    changes: tuple[Change, ...]


@dataclass(frozen=True)
class Beside:
    """A list beside the roll: its new rows, those that change something, how many say what stands there, those that can't be;
    rows of people who have no instrument, the names of all whom nobody knows yet; and the labels on the roll that it lacks.
    """

    new: list[Record] = field(default_factory=list)
    changing: list[Changing] = field(default_factory=list)
    people: list[Record] = field(default_factory=list)
    new_names: list[str] = field(default_factory=list)
    same: int = 0
    bad: list[BadRow] = field(default_factory=list)
    absent: list[str] = field(default_factory=list)


def beside_the_roll(looked: Looked, roll: Sequence[Standing], named: frozenset[str], people: Container[str]) -> Beside:
    """Good rows of a list beside the roll. In small letters: ``named``, every label in the list, of good rows and bad;
    ``people``, every name that is known.
    """
    count = Counter(standing.label.casefold() for standing in roll)
    by_label = {standing.label.casefold(): standing for standing in roll}
    new: list[Record] = []
    changing: list[Changing] = []
    bad: list[BadRow] = []
    same = 0
    without_instrument = [record for record in looked.records if record.says["label"] is None]
    names = {record.says["player"].casefold(): record.says["player"] for record in looked.records if record.says["player"]}
    for record in looked.records:
        if record.says["label"] is None:
            continue
        standing = by_label.get(record.says["label"].casefold())
        try:
            if standing is None:
                new.append(record)
                continue
            changes = _changes(standing, record, shared=count[standing.label.casefold()] > 1)
        except BadInput as error:
            bad.append(bad_row(record.line, error))
            continue
        if changes:
            changing.append(Changing(record, standing.id, changes))
        else:
            same += 1
    absent = [standing.label for standing in roll if standing.label.casefold() not in named]
    strangers = {key: name for key, name in names.items() if key not in people}
    arriving = [record for record in without_instrument if record.says["player"].casefold() in strangers]
    return Beside(
        new=new,
        changing=changing,
        people=arriving,
        new_names=list(strangers.values()),
        same=same + len(without_instrument) - len(arriving),
        bad=sorted([*looked.bad, *bad], key=lambda row: row.line),
        absent=absent,
    )


def _changes(standing: Standing, record: Record, *, shared: bool) -> tuple[Change, ...]:
    """What a row says otherwise than the roll; an empty cell says nothing. Raises BadInput for a label that more than one has
    (``shared``), and for another kind.
    """
    says = record.says
    if shared:
        raise BadInput("label", f"more than one on the roll is called “{says['label']}”; give each a label of its own there")
    if says["kind"] != standing.kind:
        raise BadInput("kind", f"“{standing.label}” is a {standing.kind} on the roll; a list can't make it a {says['kind']}")
    found = (
        Change("size", "size", standing.size, says["size"]),
        Change("player", "who has it", standing.player or NOBODY, says["player"] or NOBODY),
        Change("hours", "hours a week", _plain(standing.hours), _plain(says["hours"])),
        Change("note", "note", standing.note, says["note"]),
        *(
            Change(name, detail.said, standing.details.get(name, ""), says["details"].get(name, ""))
            for name, detail in DETAILS.items()
        ),
    )
    told = record.told | ({"player"} if "first_name" in record.told else set())
    return tuple(change for change in found if change.name in told and change.before.casefold() != change.after.casefold())


def _plain(figure: Any) -> str:
    return "" if figure is None else f"{figure:g}"

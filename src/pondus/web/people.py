"""People of the studio: staff and players, and what each is cleared for."""

from typing import Annotated, Any
from uuid import UUID

from apiflask import APIBlueprint
from pydantic import BaseModel, Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.core.errors import BadInput
from pondus.core.people import STAGES, Role, check_cleared, may_turn
from pondus.core.stations import Clearance
from pondus.store import people as kept
from pondus.store.tables import PersonRow
from pondus.web.unit import work

blueprint = APIBlueprint("people", __name__, tag="People")
Name = Annotated[str, Field(min_length=1, max_length=80)]
Note = Annotated[str, Field(max_length=500)]
Pace = Annotated[float, Field(gt=0.0, lt=20.0)]


class NewPerson(Contract):
    """Someone for the roll; their id is made by the client. ``cleared``: stages of tuning, 1 to 7."""

    id: ClientId
    name: Name
    role: Role = "player"
    cleared: list[int] = Field(default_factory=list)
    pace: Pace | None = None
    note: Note = ""


class PersonChange(Contract):
    """What changes of a person; what is left out stays. ``pace`` null: as their tunings have it."""

    name: Name | None = None
    role: Role | None = None
    cleared: list[int] | None = None
    pace: Pace | None = None
    note: Note | None = None
    retired: bool | None = None


class PersonOut(Result):
    """One person. ``may``: what they may turn on their own (null: nothing yet)."""

    id: UUID
    name: str
    role: Role
    cleared: list[int]
    may: Clearance | None
    pace: float | None
    note: str
    retired: bool


class StageOut(Result):
    """One stage of a player's tuning."""

    stage: int
    said: str


class PersonList(Result):
    """Everyone on the roll, staff first; and the stages there are."""

    people: list[PersonOut]
    stages: list[StageOut]


class PeopleQuery(BaseModel):
    """``retired``: also those who left."""

    retired: bool = False


def person_out(row: PersonRow) -> PersonOut:
    """One person, serialised."""
    may = may_turn(row.role, row.cleared)  # type: ignore[arg-type]
    return PersonOut.model_validate({**row.model_dump(), "may": may, "retired": row.retired_at is not None})


@blueprint.get("/people")
@blueprint.input(PeopleQuery, location="query", arg_name="query")
@blueprint.output(PersonList)
def list_people(query: PeopleQuery) -> PersonList:
    """Everyone on the roll."""
    with work() as session:
        found = [person_out(row) for row in kept.people(session, retired=query.retired)]
    return PersonList(people=found, stages=[StageOut(stage=stage, said=said) for stage, said in STAGES.items()])


@blueprint.post("/people")
@blueprint.input(NewPerson, arg_name="new")
@blueprint.output(PersonOut)
def add_person(new: NewPerson) -> PersonOut:
    """Someone joins the roll; sent twice, they join once."""
    row = PersonRow(**{**new.model_dump(), "name": _name(new.name), "cleared": check_cleared(new.cleared)})
    with work() as session:
        return person_out(kept.add_person(session, row))


@blueprint.patch("/people/<uuid:person_id>")
@blueprint.input(PersonChange, arg_name="change")
@blueprint.output(PersonOut)
def change_person(person_id: UUID, change: PersonChange) -> PersonOut:
    """Change someone's name, role, clearances; or let them leave and come back."""
    changes: dict[str, Any] = {key: getattr(change, key) for key in change.model_fields_set - {"retired"}}
    emptied = next((key for key, value in changes.items() if value is None and key != "pace"), None)
    if emptied is not None:
        raise BadInput(emptied, f"{emptied} can't be emptied; give a value or leave it out.")
    if change.cleared is not None:
        changes["cleared"] = check_cleared(change.cleared)
    if change.name is not None:
        changes["name"] = _name(change.name)
    with work() as session:
        row = kept.change_person(session, person_id, changes)
        if change.retired is not None:
            row = kept.retire_person(session, person_id, back=not change.retired)
        return person_out(row)


def _name(text: str) -> str:
    if not text.strip():
        raise BadInput("name", "Give a name, or initials.")
    return text.strip()

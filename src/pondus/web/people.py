"""People of the studio: staff and players, what each is cleared for; all that is kept of one, and its end."""

import json
from typing import Any
from uuid import UUID

from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel

from pondus.contracts.people import Erase, Erased, NewPerson, PersonChange, PersonList, PersonOut, Place, PlaceList, StageOut
from pondus.core.entries.people import check_name, check_pace, person_entry
from pondus.core.entries.texts import NOTE_LETTERS, check_text
from pondus.core.errors import BadInput
from pondus.core.group.people import STAGES, check_cleared, may_turn
from pondus.store import people as people_store
from pondus.store import persons_data
from pondus.store.tables import PersonRow
from pondus.web.described import file_of
from pondus.web.file_names import shown_as
from pondus.web.transaction import looking, transaction

blueprint = APIBlueprint("people", __name__, tag="People")


class PeopleQuery(BaseModel):
    """``retired``: also those who left."""

    retired: bool = False


def person_out(row: PersonRow) -> PersonOut:
    """One person, serialised."""
    may = may_turn(row.role, row.cleared)
    return PersonOut.model_validate({**row.model_dump(), "may": may, "retired": row.retired_at is not None})


@blueprint.get("/people")
@blueprint.input(PeopleQuery, location="query", arg_name="query")
@blueprint.output(PersonList)
def list_people(query: PeopleQuery) -> PersonList:
    """Everyone on the roll."""
    with looking() as session:
        found = [person_out(row) for row in people_store.people(session, retired=query.retired)]
    return PersonList(people=found, stages=[StageOut(stage=stage, said=said) for stage, said in STAGES.items()])


@blueprint.post("/people")
@blueprint.input(NewPerson, arg_name="new")
@blueprint.output(PersonOut)
def add_person(new: NewPerson) -> PersonOut:
    """Someone joins the roll; sent twice, they join once. Raises BadInput or Conflict."""
    entry = person_entry(name=new.name, role=new.role, cleared=new.cleared, pace=new.pace, note=new.note)
    row = PersonRow(id=new.id, name=entry.name, role=entry.role, cleared=list(entry.cleared), pace=entry.pace, note=entry.note)
    with transaction() as session:
        return person_out(people_store.add_person(session, row))


@blueprint.patch("/people/<uuid:person_id>")
@blueprint.input(PersonChange, arg_name="change")
@blueprint.output(PersonOut)
def change_person(person_id: UUID, change: PersonChange) -> PersonOut:
    """Change someone's name, role, clearances; or let them leave and come back. Raises BadInput or NotFound."""
    changes: dict[str, Any] = {key: getattr(change, key) for key in change.model_fields_set - {"retired"}}
    emptied = next((key for key, value in changes.items() if value is None and key != "pace"), None)
    if emptied is not None:
        raise BadInput(emptied, f"{emptied} can't be emptied; give a value or leave it out.")
    if change.cleared is not None:
        changes["cleared"] = check_cleared(change.cleared)
    if change.name is not None:
        changes["name"] = check_name(change.name)
    if change.pace is not None:
        check_pace(change.pace)
    if change.note is not None:
        changes["note"] = check_text(change.note, field="note", most=NOTE_LETTERS)
    with transaction() as session:
        row = people_store.change_person(session, person_id, changes)
        if change.retired is not None:
            row = people_store.retire_person(session, person_id, back=not change.retired)
        return person_out(row)


@blueprint.get("/people/<uuid:person_id>/data.json")
@blueprint.doc(
    description="All that is kept about one person, in one file.", responses=file_of("application/json", said="The file.")
)
def persons_file(person_id: UUID) -> Response:
    """Give me all about this person. Raises NotFound."""
    with looking() as session:
        found = persons_data.everything_of(session, person_id)
    headers = shown_as(f"{found['person']['name']}.json", "attachment")
    return Response(json.dumps(found, ensure_ascii=False, indent=1), mimetype="application/json", headers=headers)


@blueprint.get("/people/<uuid:person_id>/places")
@blueprint.output(PlaceList)
def places_of_person(person_id: UUID) -> PlaceList:
    """Every place that holds this person's name, free texts and lists too. Raises NotFound."""
    with looking() as session:
        name = people_store.person(session, person_id).name
        places = persons_data.places_of(session, person_id)
    return PlaceList(name=name, places=[Place.model_validate(place, from_attributes=True) for place in places])


@blueprint.post("/people/<uuid:person_id>/erase")
@blueprint.input(Erase, arg_name="asked")
@blueprint.output(Erased)
def erase_person(person_id: UUID, asked: Erase) -> Erased:
    """Erase a person for good: the one act without undo. ``name`` is theirs, typed anew.

    Raises BadInput or NotFound.
    """
    also = {(place_ref.table, place_ref.id, place_ref.field) for place_ref in asked.also}
    with transaction() as session:
        done = persons_data.erase(session, person_id, name=asked.name, also=also)
    return Erased(said=done.said, places=done.places)

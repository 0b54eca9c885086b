"""A class that tunes together to a sounding tone; and what is done before a stage."""

from apiflask import APIBlueprint
from apiflask.fields import UploadFile
from pydantic import BaseModel

from pondus.contracts.classes import ClassOut, RoomOut, StageOut, StepOut
from pondus.core.errors import BadInput
from pondus.core.group.class_routine import LENGTHS_S, USUAL_SECONDS, class_steps
from pondus.core.group.stage import STAGE
from pondus.core.hearing.whole_room import ROOM_REFUSED_SAID, RoomHeard, hear_room, said_of
from pondus.core.judgement.string_order import StringOrder
from pondus.core.pitch.tones import LEVEL, partial_levels
from pondus.store.settings import studio_values
from pondus.web.doors import at_most, uploads
from pondus.web.hearing import sound_in
from pondus.web.transaction import looking

blueprint = APIBlueprint("classes", __name__, tag="Class")


class ClassQuery(BaseModel):
    """Which kinds are in the room (with commas between), how long each string, in which order (left out: the studio's)."""

    kinds: str = "violin"
    seconds: float = USUAL_SECONDS
    order: StringOrder | None = None


@blueprint.get("/class")
@blueprint.input(ClassQuery, location="query", arg_name="query")
@blueprint.output(ClassOut)
def steps(query: ClassQuery) -> ClassOut:
    """What sounds, one after the other, and what everyone does. Raises BadInput."""
    with looking() as session:
        studio = studio_values(session)
    found = class_steps(
        [kind.strip() for kind in query.kinds.split(",") if kind.strip()],  # type: ignore[misc]
        order=query.order or studio.get("order", "A-outward"),
        seconds=query.seconds,
        a4=studio.get("a4", 440.0),
        fifth_cents=studio.get("fifth_cents", 700.0),
        spelling=studio.get("spelling", "sharps"),
    )
    return ClassOut(
        a4=studio.get("a4", 440.0),
        lengths_s=list(LENGTHS_S),
        partials=list(partial_levels(found[0].hz[0])),
        level=LEVEL,
        steps=[StepOut.model_validate(step) for step in found],
    )


class RoomForm(BaseModel):
    """A recording of a room that plays its A, three seconds or more."""

    file: UploadFile


@blueprint.post("/class/room")
@uploads
@at_most("recordings")
@blueprint.input(RoomForm, location="form_and_files", arg_name="form")
@blueprint.output(RoomOut)
def hear_class(form: RoomForm) -> RoomOut:
    """How far a room is spread that plays its A; refused with the reason where that can't be told.

    Raises BadInput, UnreadableSound, SoundTooLarge or TooOften.
    """
    sound, _ = sound_in(form.file)
    with looking() as session:
        a4 = studio_values(session).get("a4", 440.0)
    heard = hear_room(sound, a4=a4)
    if not isinstance(heard, RoomHeard):
        raise BadInput("file", f"{ROOM_REFUSED_SAID[heard].capitalize()}. All play the open A, and nothing else.")
    return RoomOut(**vars(heard), said=said_of(heard))


@blueprint.get("/stage")
@blueprint.output(StageOut)
def stage() -> StageOut:
    """What is done before a stage, where, and what is left alone."""
    return StageOut.model_validate({"parts": STAGE})

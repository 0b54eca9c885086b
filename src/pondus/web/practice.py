"""Practice: a go at a drill. One of someone on the roll is kept; one of nobody in particular travels with the page, whole, and
nothing of it is kept.
"""

import io
from collections.abc import Sequence
from dataclasses import dataclass, replace
from uuid import UUID

import numpy as np
import soundfile
from apiflask import APIBlueprint
from flask import Response
from sqlmodel import Session

from pondus.contracts.practice import AnswerGo, BeginGo, GoOut, HandsGo, HandsOut, LooseGo, OnWhat, SeenOut, SoundGo
from pondus.contracts.practice import Go as GoContract
from pondus.contracts.simulated import SimulatedString
from pondus.core.errors import BadInput
from pondus.core.fifths.beats import fifth_between
from pondus.core.pitch.notes import cents_between
from pondus.core.practice.drills import Drill, drill_named
from pondus.core.practice.foretell import told_of
from pondus.core.practice.hands import course_of
from pondus.core.practice.peg_seen import peg_seen
from pondus.core.practice.questions import Action, Answer, Question, Setup, Task, setup
from pondus.core.practice.run import Go, judge, record_of
from pondus.core.practice.sounds import RATE_HZ, rendered
from pondus.core.practice.whole import of_string, shown_of
from pondus.core.simulated.voice import sounded
from pondus.core.views.access import DeviceFacts
from pondus.store import instruments as instrument_store
from pondus.store import people as people_store
from pondus.store import practice as practice_store
from pondus.store.errors import Conflict
from pondus.store.settings import in_force, studio_clock, studio_values
from pondus.web.access import NOT_YOURS, device_here, own_instruments
from pondus.web.described import file_of
from pondus.web.doors import TurnedAway
from pondus.web.practice_told import go_out
from pondus.web.transaction import looking, transaction

blueprint = APIBlueprint("practice", __name__, tag="Practice")
STRING_SECONDS = {"pluck": 2.0, "bow": 1.8}
OF_STUDIO = ("a4", "fifth_cents", "tolerance_cents", "spelling")


def must_be_theirs(device: DeviceFacts, person_id: UUID) -> None:
    """A teacher's device reaches everyone's practice, another its person's alone. Raises TurnedAway."""
    if device.role != "teacher" and device.person != person_id:
        raise TurnedAway(403, NOT_YOURS)


@blueprint.post("/practice/begin")
@blueprint.input(BeginGo, arg_name="asked")
@blueprint.output(GoOut)
def begin(asked: BeginGo) -> GoOut:
    """Begin a go at a drill. With a person it is kept; an unfinished one of today's goes on.

    Raises BadInput, NotFound, Conflict or TurnedAway.
    """
    drill = drill_named(asked.drill)
    if asked.person_id is not None:
        must_be_theirs(device_here(), asked.person_id)
    seed = asked.id.int % 2**52
    if asked.person_id is None:
        with looking() as session:
            on = _setup(session, asked.on, drill)
        return go_out(Go(drill, on, seed))
    with transaction() as session:
        on = _setup(session, asked.on, drill)
        kept = practice_store.begin_go(
            session, asked.id, person_id=asked.person_id, drill=drill, on=on, seed=seed, clock=studio_clock(session)
        )
        name = people_store.person(session, asked.person_id).name
    return go_out(kept.go, kept=kept, name=name)


def _setup(session: Session, on: OnWhat, drill: Drill) -> Setup:
    """What is practised on: a studio's instrument as it is tuned, or a kind as the studio tunes."""
    if on.instrument_id is None:
        told = {key: value for key, value in studio_values(session).items() if key in OF_STUDIO}
        return setup(on.kind, size=on.size, stance=on.stance, who=drill.who, **told)
    own = own_instruments()
    if own is not None and on.instrument_id not in own:
        raise TurnedAway(403, NOT_YOURS)
    row = instrument_store.instrument(session, on.instrument_id).instrument
    force = in_force(session, row)
    told = {key: value for key, value in force.items() if key in OF_STUDIO}
    stance = on.stance or force.get("stance") or row.stance
    return setup(row.kind, size=row.size, stance=stance, who=drill.who, **told)


@dataclass(frozen=True)
class _Found:
    """A go that was asked for; where it is kept, its row and whose it is."""

    go: Go
    kept: practice_store.KeptGo | None = None
    name: str = ""


def _found(session: Session, asked: GoContract) -> _Found:
    """The go that a request speaks of. Raises BadInput, NotFound, TurnedAway."""
    if (asked.go_id is None) == (asked.loose is None):
        raise BadInput("go", "Which go? Give its go_id, or where nothing is kept the whole of it (loose): one of them.")
    if asked.loose is not None:
        return _Found(go=_loose(asked.loose))
    assert asked.go_id is not None
    kept = practice_store.go_kept(session, asked.go_id)
    must_be_theirs(device_here(), kept.row.person_id)
    return _Found(go=kept.go, kept=kept, name=people_store.person(session, kept.row.person_id).name)


def go_asked_for(session: Session, asked: GoContract) -> Go:
    """The go that a request speaks of, where it is this device's to see. Raises BadInput, NotFound, TurnedAway."""
    return _found(session, asked).go


def _loose(told: LooseGo) -> Go:
    return Go(drill_named(told.drill), setup(**vars(told.setup)), told.seed, tuple(told.records), stopped=told.stopped)


@blueprint.post("/practice/question")
@blueprint.input(GoContract, arg_name="asked")
@blueprint.output(GoOut)
def question(asked: GoContract) -> GoOut:
    """A go as it stands. Raises BadInput, NotFound or TurnedAway."""
    with looking() as session:
        found = _found(session, asked)
    return go_out(found.go, kept=found.kept, name=found.name)


@blueprint.post("/practice/answer")
@blueprint.input(AnswerGo, arg_name="asked")
@blueprint.output(GoOut)
def answer(asked: AnswerGo) -> GoOut:
    """Answer the question that is asked; the same answer again is the same, and none is scored twice.

    Raises BadInput, NotFound, Conflict or TurnedAway.
    """
    given = asked.answer
    if asked.go.loose is not None:
        return _answered_loose(asked, given)
    with looking() as session:
        before = _found(session, asked.go)
    assert before.kept is not None
    with transaction() as session:
        done = practice_store.add_answer(
            session,
            before.kept.row.id,
            answer_id=asked.id,
            number=asked.number,
            answer=given,
            seconds=asked.seconds,
            clock=studio_clock(session),
        )
    asked_then = _question_at(before.go, asked.number)
    return go_out(done.kept.go, kept=done.kept, name=before.name, judged=done.judged, to=asked_then)


def _answered_loose(asked: AnswerGo, given: Answer) -> GoOut:
    assert asked.go.loose is not None
    go = _loose(asked.go.loose)
    put = go.question()
    if put is None:
        raise Conflict(practice_store.OVER)
    if asked.number != len(go.records):
        raise Conflict(practice_store.ANSWERED)
    judged = judge(go, put, given)
    if judged.right is not None:
        go = replace(go, records=(*go.records, record_of(put, judged, given)))
    return go_out(go, judged=judged, to=put)


def _question_at(go: Go, number: int) -> Question | None:
    """The question that was asked then, made again."""
    return replace(go, records=go.records[:number], stopped=False).question()


@blueprint.post("/practice/end")
@blueprint.input(GoContract, arg_name="asked")
@blueprint.output(GoOut)
def end(asked: GoContract) -> GoOut:
    """End a go before its last question; what was answered stays. Raises BadInput, NotFound or TurnedAway."""
    with looking() as session:
        found = _found(session, asked)
    if found.kept is None:
        return go_out(replace(found.go, stopped=True))
    with transaction() as session:
        kept = practice_store.end_go(session, found.kept.row.id, clock=studio_clock(session))
    return go_out(kept.go, kept=kept, name=found.name)


@blueprint.post("/practice/hands")
@blueprint.input(HandsGo, arg_name="asked")
@blueprint.output(HandsOut)
def hands(asked: HandsGo) -> HandsOut:
    """The instrument in hand, after what was done to it so far. Raises BadInput, NotFound, Conflict or TurnedAway."""
    with looking() as session:
        go = _found(session, asked.go).go
    task = task_of(go)
    return hands_seen(go, task if asked.string is None else of_string(task, asked.string), tuple(asked.actions))


def hands_seen(go: Go, task: Task, actions: tuple[Action, ...]) -> HandsOut:
    """What eyes see of the instrument in hand, and its tuner."""
    course = course_of(task, actions)
    wood = course.now
    rng = np.random.default_rng([go.seed, len(go.records), len(actions)])
    text, cents = shown_of(go.setup, task, wood, rng) or (None, None)
    peg = peg_seen(course, actions)
    beats = None
    if task.fifth is not None and all(wood.sounds(string) for string in task.fifth):
        beats = fifth_between(wood.hz(task.fifth[0]), wood.hz(task.fifth[1])).beats_hz
    return HandsOut(
        shows=text,
        cents=cents,
        beats_hz=beats,
        strings=SimulatedString.all_of(wood),
        peg=peg,
        bridge=wood.bridge,
        foretold=told_of(task, course, actions),
        events=list(course.mishaps),
    )


def sounding_of(task: Task, asked: Sequence[str] | None) -> tuple[str, ...]:
    """Which strings sound: of a whole instrument those that are asked for. Raises BadInput."""
    if asked is None:
        return task.fifth or (task.string,)
    return tuple(of_string(task, name).string for name in asked)


def task_of(go: Go) -> Task:
    """What the question that is asked has for the hands. Raises BadInput, Conflict."""
    put = go.question()
    if put is None:
        raise Conflict(practice_store.OVER)
    if put.task is None:
        raise BadInput("go", "There is nothing to be turned in this question.")
    return put.task


@blueprint.post("/practice/sound")
@blueprint.input(SoundGo, arg_name="asked")
@blueprint.doc(description="What is to be heard, as a WAV file.", responses=file_of("audio/wav", said="A WAV file."))
def sound(asked: SoundGo) -> Response:
    """The question's sound, or the string in hand. Raises BadInput, NotFound, Conflict or TurnedAway."""
    with looking() as session:
        go = _found(session, asked.go).go
    if asked.of != "string":
        answered = asked.of == "beside" and asked.number is not None and asked.number < len(go.records)
        put = _question_at(go, asked.number) if answered and asked.number is not None else go.question()
        heard = () if put is None else put.beside if answered else put.heard if asked.of == "question" else ()
        if not heard:
            raise BadInput("go", "There is nothing to be heard in this question.")
        samples = rendered(heard, seed=go.seed)
    else:
        task = task_of(go)
        wood = course_of(task, tuple(asked.actions)).now
        names = sounding_of(task, asked.strings)
        samples = sounded(wood, names, how=asked.how, seconds=STRING_SECONDS[asked.how], hum_db=None)
    file = io.BytesIO()
    soundfile.write(file, np.clip(samples, -1.0, 1.0), RATE_HZ, format="WAV", subtype="PCM_16")
    return Response(file.getvalue(), mimetype="audio/wav")


@blueprint.post("/practice/seen")
@blueprint.input(GoContract, arg_name="asked")
@blueprint.output(SeenOut)
def seen(asked: GoContract) -> SeenOut:
    """What a question sounds like, for eyes. Raises BadInput, NotFound or TurnedAway."""
    with looking() as session:
        put = _found(session, asked).go.question()
    if put is None or not put.heard:
        raise BadInput("go", "There is nothing to be heard in this question.")
    first = put.heard[0].hz[0]
    if len(put.heard) == 1 and len(put.heard[0].hz) == 2:
        beats = fifth_between(*put.heard[0].hz).beats_hz
        return SeenOut(beats_hz=beats, offsets_cents=[], said="How the two strings beat together.")
    offsets = [cents_between(heard.hz[0], first) for heard in put.heard]
    return SeenOut(beats_hz=None, offsets_cents=offsets, said="How high each stands beside the first.")

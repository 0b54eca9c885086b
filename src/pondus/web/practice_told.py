"""A go at a drill as it is told to a page: the question without its answer, and how an answer was judged."""

from functools import partial

from pondus.contracts.practice import GoOut, JudgedOut, LooseGo, MissedOut, QuestionOut, StrandOut, TaskOut, TunedOut
from pondus.core.pitch.notes import name_of
from pondus.core.pitch.tones import partial_levels
from pondus.core.practice.questions import Judged, Question, Task
from pondus.core.practice.run import Go
from pondus.core.views.bench import hold_view
from pondus.store import practice as practice_store
from pondus.web.access import shown_name


def go_out(
    go: Go,
    *,
    kept: practice_store.KeptGo | None = None,
    name: str = "",
    judged: Judged | None = None,
    to: Question | None = None,
) -> GoOut:
    """A go as it stands; ``judged``: the answer that was just given, ``to`` which question."""
    put = go.question()
    stance = (None if put is None else put.picture.stance) or go.setup.stance
    return GoOut.filled(
        go.drill,
        go,
        go_id=None if kept is None else kept.row.id,
        loose=None if kept is not None else _as_loose(go),
        drill=go.drill.name,
        drill_sounds=go.drill.sounds,
        kind=go.setup.instrument.kind,
        strings=_strands(go),
        hold=hold_view(stance, go.setup.instrument),
        tuned=TunedOut.filled(go.setup),
        person_id=None if kept is None else kept.row.person_id,
        person=shown_name(name) if name else "",
        number=len(go.records),
        right=sum(record.right for record in go.records),
        question=None if put is None else _question(go, put),
        judged=None if judged is None else _judged(judged, to),
        missed=[] if put is not None else _missed(go),
    )


def _strands(go: Go) -> list[StrandOut]:
    note = partial(name_of, spelling=go.setup.spelling)
    return [StrandOut.filled(string, note=note(string.note_number)) for string in go.setup.instrument.strings]


def _missed(go: Go) -> list[MissedOut]:
    return [
        MissedOut(asked=question.say, right=question.because or question.right_said)
        for question in go.missed
        if question.choices
    ]


def _as_loose(go: Go) -> LooseGo:
    return LooseGo(drill=go.drill.name, setup=go.setup, seed=go.seed, records=list(go.records), stopped=go.stopped)


def _question(go: Go, put: Question) -> QuestionOut:
    task = put.task
    tone_hz = None if put.microphone is None else go.setup.facts(put.microphone).target_hz
    return QuestionOut.filled(
        put,
        sounds=bool(put.heard),
        beside=put.beside_said,
        figure=put.beats is not None and not put.choices,
        microphone_hz=tone_hz,
        tone_partials=[] if tone_hz is None else partial_levels(tone_hz),
        task=None if task is None else _task(task),
    )


def _task(task: Task) -> TaskOut:
    return TaskOut.filled(
        task,
        fifth=None if task.fifth is None else list(task.fifth),
        with_pegs=task.who != "student-fine-tuners",
        whole=bool(task.aims),
    )


def _judged(judged: Judged, to: Question | None) -> JudgedOut:
    return JudgedOut.filled(judged, rights=[] if to is None else sorted(to.right))

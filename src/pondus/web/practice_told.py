"""A go at a drill as it is told to a page: the question without its answer, and how an answer was judged."""

from pondus.contracts.practice import GoOut, JudgedOut, LooseGo, MissedOut, QuestionOut, StrandOut, TaskOut, TunedOut
from pondus.core.pitch.notes import name_of
from pondus.core.pitch.tones import partial_levels
from pondus.core.practice.questions import Judged, Question
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
    known = go.threshold
    stance = (None if put is None else put.picture.stance) or go.setup.stance
    return GoOut(
        go_id=None if kept is None else kept.row.id,
        loose=None if kept is not None else _as_loose(go),
        drill=go.drill.name,
        said=go.drill.said,
        does=go.drill.does,
        way=go.drill.way,
        drill_sounds=go.drill.sounds,
        stage=go.drill.stage,
        kind=go.setup.instrument.kind,
        strings=_strands(go),
        hold=hold_view(stance, go.setup.instrument),
        tuned=TunedOut(a4=go.setup.a4, fifth_cents=go.setup.fifth_cents, spelling=go.setup.spelling),
        person_id=None if kept is None else kept.row.person_id,
        person=shown_name(name) if name else "",
        number=len(go.records),
        questions=go.drill.questions,
        level=go.level,
        levels=go.drill.levels,
        right=sum(record.right for record in go.records),
        question=None if put is None else _question(go, put),
        judged=None if judged is None else _judged(judged, to),
        threshold=known,
        summary=go.summary,
        missed=[] if put is not None else _missed(go),
    )


def _strands(go: Go) -> list[StrandOut]:
    spelling = go.setup.spelling
    return [
        StrandOut(
            name=string.name,
            roman=string.roman,
            thickness=string.thickness,
            note=name_of(string.note_number, spelling=spelling),
        )
        for string in go.setup.instrument.strings
    ]


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
    return QuestionOut(
        say=put.say,
        choices=list(put.choices),
        picture=put.picture,
        sounds=bool(put.heard),
        beside=put.beside_said,
        figure=put.beats is not None and not put.choices,
        microphone=put.microphone,
        microphone_hz=tone_hz,
        tone_partials=[] if tone_hz is None else partial_levels(tone_hz),
        task=None
        if task is None
        else TaskOut(
            string=task.string,
            how=task.how,
            display=task.display,
            fifth=None if task.fifth is None else list(task.fifth),
            home_within_cents=task.home_within_cents,
            with_pegs=task.who != "student-fine-tuners",
            whole=bool(task.aims),
            shows=task.shows,
            foretells=task.foretells,
        ),
    )


def _judged(judged: Judged, to: Question | None) -> JudgedOut:
    rights = [] if to is None else sorted(to.right)
    return JudgedOut(right=judged.right, said=judged.said, rights=rights, outcome=judged.outcome)

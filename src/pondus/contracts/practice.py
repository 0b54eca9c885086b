"""Practice: drills, a go at one, what someone has shown by them, a lesson's five minutes."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.contracts.simulated import SimulatedString
from pondus.core.figures import Cents, Hz, Tenth
from pondus.core.instruments import Kind, Roman
from pondus.core.instruments.holds import Stance
from pondus.core.pitch.notes import Spelling
from pondus.core.practice.drills import EAR_QUESTIONS, Way
from pondus.core.practice.hands import MOST_ACTIONS
from pondus.core.practice.peg_seen import PegSeen
from pondus.core.practice.questions import Action, Answer, Choice, Outcome, Picture, Setup, Shows
from pondus.core.practice.run import Record
from pondus.core.practice.shown import Point
from pondus.core.practice.threshold import Threshold
from pondus.core.simulated.voice import How
from pondus.core.views.bench import HoldView

Name = Annotated[str, Field(min_length=1, max_length=24)]
Letter = Annotated[str, Field(min_length=1, max_length=1)]


class OnWhat(Contract):
    """What is practised on; what is left out is as usual for that kind, or as the studio has it. ``instrument_id``: as that
    instrument is.
    """

    kind: Kind = "violin"
    size: str | None = None
    stance: Stance | None = None
    instrument_id: Annotated[UUID | None, Field(strict=False)] = None


class LooseGo(Contract):
    """A go that nothing is kept of: all of it, as the page holds it."""

    drill: Name
    setup: Setup
    seed: Annotated[int, Field(ge=0, lt=2**53)]
    records: Annotated[list[Record], Field(max_length=EAR_QUESTIONS)] = Field(default_factory=list)
    stopped: bool = False


class Go(Contract):
    """Which go: one that is kept, by its id; or one that isn't, whole."""

    go_id: Annotated[UUID | None, Field(strict=False)] = None
    loose: LooseGo | None = None


class BeginGo(Contract):
    """Begin a go at a drill; ``person_id`` null: nothing is kept."""

    id: ClientId
    drill: Name
    person_id: Annotated[UUID | None, Field(strict=False)] = None
    on: OnWhat = Field(default_factory=OnWhat)


Sounding = Annotated[list[Letter] | None, Field(min_length=1, max_length=2)]
Actions = Annotated[list[Action], Field(max_length=MOST_ACTIONS)]


class AnswerGo(Contract):
    """The answer to the ``number``-th question of a go (from 0); its id is made by the client."""

    go: Go
    id: ClientId
    number: Annotated[int, Field(ge=0, lt=1000)]
    answer: Answer
    seconds: Annotated[float | None, Field(ge=0, le=86_400)] = None


class HandsGo(Contract):
    """What was done so far to the instrument of the question that is asked; ``string``: the one that is looked at, of a whole
    instrument.
    """

    go: Go
    actions: Actions = Field(default_factory=list)
    string: Letter | None = None


class SoundGo(Contract):
    """What is to be heard: what the question sounds like (``of`` question), what is heard beside the ``number``-th once that is
    answered, or the string in hand after ``actions``; of a whole instrument one string or two neighbours (``strings``).
    """

    go: Go
    of: Literal["question", "beside", "string"] = "question"
    how: How = "pluck"
    actions: Actions = Field(default_factory=list)
    strings: Sounding = None
    number: Annotated[int | None, Field(ge=0, lt=1000)] = None


class TaskOut(Result):
    """Something for the hands. ``fifth``: the two strings whose fifth is to be stilled. ``display`` false: by ear.
    ``with_pegs``: its pegs are meant to be turned; ``whole``: all its strings are, and ``shows`` what there is to go by;
    ``foretells``: before each turn it is said what it will do.
    """

    string: str
    how: How
    display: bool
    fifth: list[str] | None
    home_within_cents: Cents
    with_pegs: bool
    whole: bool
    shows: Shows
    foretells: bool


class QuestionOut(Result):
    """A question, without its answer. ``sounds``: something is to be heard; ``beside``: what may be heard beside it once it is
    answered, empty: nothing; ``figure``: beats a second are asked for;
    ``microphone``: the string to be played on one's own instrument, ``microphone_hz`` its reference tone, ``tone_partials`` the
    levels of that tone's partials relative to the first (empty where no tone is given).
    """

    say: str
    choices: list[Choice]
    picture: Picture
    sounds: bool
    beside: str
    figure: bool
    microphone: str | None
    microphone_hz: Hz | None
    tone_partials: list[float]
    task: TaskOut | None


class JudgedOut(Result):
    """An answer judged; ``right`` null: it couldn't be, and doesn't count."""

    right: bool | None
    said: str
    rights: list[str]
    outcome: Outcome | None


class StrandOut(Result):
    """One string to be drawn: its name, its place, how thick, and its note when it is right."""

    name: str
    roman: Roman
    thickness: float
    note: str


class TunedOut(Result):
    """How the studio tunes, for whoever listens."""

    a4: float
    fifth_cents: float
    spelling: Spelling


class MissedOut(Result):
    """A question that was missed: what was asked, and what is right."""

    asked: str
    right: str


class GoOut(Result):
    """A go as it stands. ``number``: which question is asked (from 0), of ``questions`` at most; ``question`` null: it is over,
    and ``missed`` says what was. ``hold``: how the instrument is held in this question. ``judged``: the answer that was sent.
    ``loose``: to be sent back, where nothing is kept.
    """

    go_id: UUID | None
    loose: LooseGo | None
    drill: str
    said: str
    does: str
    way: Way
    drill_sounds: bool
    stage: int
    kind: Kind
    strings: list[StrandOut]
    hold: HoldView
    tuned: TunedOut
    person_id: UUID | None
    person: str
    number: int
    questions: int
    level: int
    levels: int
    right: int
    question: QuestionOut | None
    judged: JudgedOut | None
    threshold: Threshold | None
    summary: str
    missed: list[MissedOut]


class HandsOut(Result):
    """The instrument in hand: what the tuner shows (null: no pitch, or hidden), in cents from where the string should
    be; what eyes see; ``peg``: the peg that was turned last thing; ``foretold``: what
    came of the last turn of which something was foretold; what happened, in sentences.
    """

    shows: str | None
    cents: Tenth | None
    beats_hz: Hz | None
    strings: list[SimulatedString]
    peg: PegSeen | None
    foretold: str | None
    bridge: Literal["up", "fallen"]
    events: list[str]


class SeenOut(Result):
    """What a question sounds like, for eyes: beats a second, or how each tone stands against the first, in cents."""

    beats_hz: Hz | None
    offsets_cents: list[Tenth]
    said: str


class DrillOut(Result):
    """One drill, with what someone has shown of it (no goes: not tried, or nobody is chosen);
    ``within_cents``: the threshold that is wanted, where one is."""

    name: str
    stage: int
    said: str
    does: str
    way: Way
    sounds: bool
    staff: bool
    minutes: float
    levels: int
    within_cents: float | None
    points: list[Point]
    managed: bool
    shown: str
    before: str


class StageShownOut(Result):
    """A stage: whether someone is cleared for it, and whether all that is wanted for it was shown."""

    stage: int
    said: str
    cleared: bool
    ready: bool
    drills: list[str]


class PractiserOut(Result):
    """Someone who may be chosen to practise on this device; ``instrument_id``: the instrument they have."""

    id: UUID
    name: str
    stage: int | None
    kind: Kind | None
    instrument_id: UUID | None
    staff: bool


class NextDrill(Result):
    """The drill that someone does next, and why."""

    drill: str
    said: str
    does: str
    why: str


class PracticeOut(Result):
    """The practice room: whom one may choose, all drills, what the one that is chosen has shown, and what comes next.
    ``at_bench``: what they do again and again there, for teachers alone.
    """

    people: list[PractiserOut]
    person_id: UUID | None
    kept: bool
    next: NextDrill | None
    at_bench: list[str]
    drills: list[DrillOut]
    stages: list[StageShownOut]


class EvidenceOut(Result):
    """What stands for one drill, in words."""

    drill: str
    said: str
    managed: bool
    shown: str


class ReadyOut(Result):
    """Someone who has shown all that is wanted for a stage they aren't cleared for, or is on the way to it."""

    person_id: UUID
    name: str
    stage: int
    stage_said: str
    ready: bool
    evidence: list[EvidenceOut]


class ReadyList(Result):
    """Players by how near they are to the next clearance."""

    people: list[ReadyOut]


class LessonPerson(Result):
    """One person at a lesson's drill, and why."""

    id: UUID
    name: str
    why: str


class LessonDrillOut(Result):
    """One drill of a lesson: who does it, and about how long it takes."""

    drill: str
    said: str
    does: str
    minutes: float
    people: list[LessonPerson]


class LessonOut(Result):
    """Five minutes for those present; ``not_today``: who has nothing this time."""

    minutes: int
    drills: list[LessonDrillOut]
    not_today: list[str]

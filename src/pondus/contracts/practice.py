"""Practice: drills, a go at one, what someone has shown by them, a lesson's five minutes."""

from datetime import date
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from pondus.contracts.base import Cents, ClientId, Contract, Hz, Result, Tenth
from pondus.contracts.bench import HoldOut
from pondus.core.instruments import Kind, Roman
from pondus.core.instruments.holds import Stance
from pondus.core.pitch import Spelling
from pondus.core.practice.drills import EAR_QUESTIONS, Way
from pondus.core.practice.hands import MOST_ACTIONS
from pondus.core.practice.questions import Shows
from pondus.core.simulated.voice import How

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


class OutcomeContract(Contract):
    """What hands came to, as it is sent back and forth."""

    ended_cents: float
    first_turn_right: bool | None = None
    overshoots: int | None = None
    turned_ratio: float | None = None
    foretold_off: float | None = None
    mishaps: Annotated[list[str], Field(max_length=20)] = Field(default_factory=list)


class RecordContract(Contract):
    """One question that was answered, of a go that nothing is kept of."""

    item: Annotated[str, Field(max_length=60)]
    right: bool
    cents: Annotated[float | None, Field(gt=0, le=1200)] = None
    outcome: OutcomeContract | None = None


class SetupContract(Contract):
    """What a go that nothing is kept of is on."""

    kind: Kind
    size: str
    stance: Stance
    a4: float
    fifth_cents: float
    tolerance_cents: float
    spelling: Spelling
    who: Literal["teacher", "adult", "student-pegs", "student-fine-tuners"]


class LooseGo(Contract):
    """A go that nothing is kept of: all of it, as the page holds it."""

    drill: Name
    setup: SetupContract
    seed: Annotated[int, Field(ge=0, lt=2**53)]
    records: Annotated[list[RecordContract], Field(max_length=EAR_QUESTIONS)] = Field(default_factory=list)
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


class ActionContract(Contract):
    """One thing a hand does: a screw (turns, clockwise positive), a peg's head (degrees, clockwise positive as seen from its
    end; ``pushed`` in), or a pull.
    """

    string: Letter
    turns: float | None = None
    degrees: float | None = None
    pushed: bool = True
    tug: bool = False
    foretold: Annotated[float | None, Field(ge=-1200, le=1200)] = None


Sounding = Annotated[list[Letter] | None, Field(min_length=1, max_length=2)]
Actions = Annotated[list[ActionContract], Field(max_length=MOST_ACTIONS)]


class AnswerContract(Contract):
    """An answer: a choice, a figure, what hands did (``stopped``: given to someone else), or what the microphone heard, in
    Hz. ``seen``: it was shown, not only heard.
    """

    choice: Annotated[str | None, Field(max_length=300)] = None
    figure: float | None = None
    taps: Annotated[list[float], Field(max_length=200)] | None = None
    actions: Actions | None = None
    stopped: bool = False
    heard_hz: float | None = None
    spread_cents: float | None = None
    seen: bool = False


class AnswerGo(Contract):
    """The answer to the ``number``-th question of a go (from 0); its id is made by the client."""

    go: Go
    id: ClientId
    number: Annotated[int, Field(ge=0, lt=1000)]
    answer: AnswerContract
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


class ChoiceOut(Result):
    """One answer that may be given."""

    answer: str
    say: str


class RowOut(Result):
    """One string, and what a tuner shows of it."""

    string: str
    shows: str


class PictureOut(Result):
    """What is drawn beside a question."""

    kind: Literal["none", "strings", "pegbox", "hold", "screw", "tuner", "class"]
    string: str | None
    shows: str | None
    stance: Stance | None
    winding: Literal["normal", "reversed"]
    rows: list[RowOut]


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
    choices: list[ChoiceOut]
    picture: PictureOut
    sounds: bool
    beside: str
    figure: bool
    microphone: str | None
    microphone_hz: Hz | None
    tone_partials: list[float]
    task: TaskOut | None


class OutcomeOut(Result):
    """What hands, or an ear, came to. ``ended_cents`` null: nothing that could be measured."""

    ended_cents: Cents | None
    first_turn_right: bool | None
    overshoots: int | None
    turned_ratio: float | None
    foretold_off: float | None
    mishaps: list[str]


class JudgedOut(Result):
    """An answer judged; ``right`` null: it couldn't be, and doesn't count."""

    right: bool | None
    said: str
    rights: list[str]
    outcome: OutcomeOut | None


class ThresholdOut(Result):
    """A threshold in cents; ``low`` to ``high`` holds it nine times in ten."""

    cents: Tenth
    low: Tenth
    high: Tenth
    trials: int


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
    hold: HoldOut
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
    threshold: ThresholdOut | None
    summary: str
    missed: list[MissedOut]


class StringInHand(Result):
    """What eyes see of one string of the instrument in hand."""

    name: str
    has_screw: bool
    screw_turns: float
    reach_turns: float
    broken: bool


class PegSeenOut(Result):
    """A peg that was turned just now: by how much, and how much of it stayed, in degrees clockwise from its end."""

    string: str
    turned: float
    stayed: float
    said: str


class HandsOut(Result):
    """The instrument in hand: what the tuner shows (null: no pitch, or hidden), in cents from where the string should
    be; what eyes see; ``peg``: the peg that was turned last thing; ``foretold``: what
    came of the last turn of which something was foretold; what happened, in sentences.
    """

    shows: str | None
    cents: Tenth | None
    beats_hz: Hz | None
    strings: list[StringInHand]
    peg: PegSeenOut | None
    foretold: str | None
    bridge: Literal["up", "fallen"]
    events: list[str]


class SeenOut(Result):
    """What a question sounds like, for eyes: beats a second, or how each tone stands against the first, in cents."""

    beats_hz: Hz | None
    offsets_cents: list[Tenth]
    said: str


class PointOut(Result):
    """One go in a plot."""

    day: date
    right: int
    asked: int
    level: int
    cents: Tenth | None
    low: Tenth | None
    high: Tenth | None
    overshoots: Tenth | None


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
    points: list[PointOut]
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

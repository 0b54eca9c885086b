"""The bench: a tuning, its strings, the rest of the round; what is entered there."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from pondus.contracts.advice import Target
from pondus.contracts.base import ApproachName, ClientId, Contract, Result
from pondus.contracts.instruments import InstrumentOut
from pondus.core.entries.texts import REASON_LETTERS
from pondus.core.instruments.holds import Stance
from pondus.core.judgement.habits import Habit
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.recent_move import Answer, Done
from pondus.core.judgement.situation import Pitch, Turning, Unit, Who
from pondus.core.judgement.string_order import StringOrder
from pondus.core.pitch.notes import Spelling
from pondus.core.views.bench import FifthView, GoesBy, HoldView, PlanView, StringView
from pondus.core.views.choices import TemperamentName

Source = Literal["typed", "microphone", "recording", "simulated"]
Reason = Annotated[str, Field(min_length=1, max_length=REASON_LETTERS)]


class TuningSettings(Contract):
    """How a tuning is done; what is left out stays as it is."""

    a4: float | None = None
    target: Target | None = None
    approach: ApproachName | None = None
    tolerance_cents: float | None = None
    stance: Stance | None = None
    who: Who | None = None
    spelling: Spelling | None = None
    order: StringOrder | None = None
    turning: Turning | None = None
    habits: list[Habit] | None = None


class NewTuning(TuningSettings):
    """A tuning to begin; its id is made by the client."""

    id: ClientId
    instrument_id: ClientId


class TodaysTuning(Contract):
    """To sit down to an instrument: the id of a new tuning, if none was begun today."""

    id: ClientId


class EmptyTuning(Contract):
    """A tuning that was begun and holds nothing, to be taken back."""

    id: ClientId


class MadeOn(Contract):
    """On which state an entry was made: the bench's ``log_version`` that was looked at, and the page that made it. Where its
    string was read or turned since by anyone else, it is kept as late and does not count. Left out: as of now.
    ``seconds_ago``: how long it waited to be sent.
    """

    made_on: Annotated[int, Field(ge=0, lt=2**62)] | None = None
    device: ClientId | None = None
    seconds_ago: Annotated[float, Field(ge=0.0)] = 0.0


class NewReading(MadeOn):
    """One reading: as typed off a tuner (``typed``), or as ``heard``.

    ``hands_free``: nobody could press a button; it changes nothing any more (what a reading stands for is worked out from the
    log), and is taken from pages that send it.
    """

    id: ClientId
    string: str
    typed: Annotated[str, Field(max_length=200)] | None = None
    heard: Heard | None = None
    spread_cents: float | None = None
    source: Source = "typed"
    sure_of_string: bool = False
    hands_free: bool = False


class NewMove(MadeOn):
    """One move as it was made, and what was expected of it. An amount told in the other unit is kept in the mechanism's own."""

    id: ClientId
    string: str
    mechanism: Done
    direction: Pitch
    amount: float
    unit: Unit
    expect_cents: float | None = None
    expect_plus_minus: float | None = None


class MoveAnswer(Contract):
    """What it was that had no effect, or went the wrong way."""

    answer: Answer


class Strike(Contract):
    """Why an entry is struck out."""

    reason: Reason = "entered by mistake"


class TuningOut(Result):
    """How a tuning is done. ``temperament``: which of the choices its fifths are. ``turns``: how a hand turns, by
    ``turning`` where that was set, else by who turns.
    """

    id: UUID
    instrument_id: UUID
    started_at: datetime
    a4: float
    fifth_cents: float
    temperament: TemperamentName
    approach: ApproachName
    tolerance_cents: float
    stance: Stance
    who: Who
    spelling: Spelling
    order: StringOrder
    turning: Turning | None
    turns: Turning
    habits: list[Habit]


class TuningList(Result):
    """An instrument's tunings, newest first."""

    tunings: list[TuningOut]


class HistoryEntry(Result):
    """One line of this tuning's history. ``late``: made on an older state of its string than there was; it doesn't count."""

    id: UUID
    kind: Literal["reading", "move"]
    string: str
    at: datetime
    text: str
    source: str | None
    struck: bool
    struck_reason: str | None
    late: bool
    taken: bool = False
    by: str | None = None


class BenchOut(Result):
    """Everything the bench shows. ``log_version``: the state of the instrument's log; entries say on which they were made.
    ``can_go_back``: this tuning holds nothing yet, and another was done today.
    """

    tuning: TuningOut
    instrument: InstrumentOut
    log_version: int
    can_go_back: bool
    hold: HoldView
    strings: list[StringView]
    fifths: list[FifthView]
    history: list[HistoryEntry]
    next_string: str | None
    last_heard: dict[str, Heard]
    notice: str | None
    plan: PlanView
    look_at_screws: list[str]
    goes_by: GoesBy | None

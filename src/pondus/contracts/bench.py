"""The bench: a tuning, its strings, the rest of the round; what is entered there."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from pondus.contracts.advice import AdviceResult, HeardContract, OptionResult, Target
from pondus.contracts.base import Amount, ApproachName, Cents, ClientId, Contract, Hz, Result, Tenth
from pondus.contracts.instruments import InstrumentOut
from pondus.core.choices import TemperamentName
from pondus.core.entries.texts import REASON_LETTERS
from pondus.core.instruments import Roman, Side
from pondus.core.instruments.holds import SeenFrom, Stance
from pondus.core.judgement.habits import Habit
from pondus.core.judgement.heard import ShownSide
from pondus.core.judgement.recent_move import Answer, Done
from pondus.core.judgement.situation import PegKind, Pitch, Turning, Unit, Who
from pondus.core.judgement.string_order import StringOrder
from pondus.core.pitch import Spelling

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
    """

    made_on: Annotated[int, Field(ge=0, lt=2**62)] | None = None
    device: ClientId | None = None


class NewReading(MadeOn):
    """One reading: as typed off a tuner (``typed``), or as ``heard``.

    ``hands_free``: nobody could press a button; it changes nothing any more (what a reading stands for is worked out from the
    log), and is taken from pages that send it.
    """

    id: ClientId
    string: str
    typed: Annotated[str, Field(max_length=200)] | None = None
    heard: HeardContract | None = None
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


class HoldOut(Result):
    """How the instrument is held: its strings from this person's left to right, and the side the pegbox is seen from."""

    stance: Stance
    said: str
    mirrored: bool
    seen_from: SeenFrom
    strings: list[str]


class ScrewOut(Result):
    """Where a screw stands, in turns from the middle (+ screwed in), and how far it reaches either way."""

    turns_from_middle: Amount
    reach_turns: float
    near_end: bool
    is_seen: bool


class ReadingOut(Result):
    """The last reading that counts, as shown and as heard."""

    id: UUID
    at: datetime
    shown: str
    source: str
    spread_cents: float | None
    sure_of_string: bool


class MoveOut(Result):
    """A move as made, what was expected of it and, once read again, what it did (cents). ``denials``: what somebody may say,
    unasked, against one that was taken as made.
    """

    id: UUID
    at: datetime
    mechanism: Done
    direction: Pitch
    amount: float
    unit: Unit
    expect_cents: float | None
    expect_plus_minus: float | None
    did_cents: Cents | None
    said: str
    taken: bool
    denials: list[OptionResult]


class LearnedOut(Result):
    """What the log teaches of a string: cents per turn (screw) and per degree (peg), with their uncertainty and count."""

    screw_cents_per_turn: Tenth
    screw_plus_minus: Tenth
    screw_moves: int
    peg_cents_per_degree: Tenth
    peg_plus_minus: Tenth
    peg_moves: int


class PlanLine(Result):
    """One string of the rest of the round: its moves in short lines."""

    string: str
    lines: list[str]


class PlanOut(Result):
    """The rest of the round: strings in order with their moves, how many, how long; strings still to hear."""

    ask: list[str]
    lines: list[PlanLine]
    total_moves: int
    minutes: int
    refer: str | None
    why: str
    offer_pure: bool


class StringBench(Result):
    """One strand of the board. ``thickness`` 0 (thinnest) to 1; ``ghost_cents`` where the next move should bring it. Where a
    tuner shows ``settles_from_cents`` to ``settles_to_cents`` of its own note it is well, and ``then`` comes next. A hand that
    turns while it sounds stops at ``stop_at_cents``. ``is_left``: nothing is to be done on it now, in tune or not;
    ``is_outdated``: it was turned, or pulled out of tune, since its figure was read.
    """

    name: str
    roman: Roman
    side: Side
    thickness: float
    target_note: str
    letters: list[str]
    letter: str | None
    cant_tell: str
    target_hz: Hz
    tuner_shows_cents: Cents
    fine_tuner: ScrewOut | None
    peg_kind: PegKind
    reading: ReadingOut | None
    advice: AdviceResult | None
    headline: str
    later: list[str]
    cautions_said: list[str]
    words: str
    ghost_cents: Cents | None
    moved: MoveOut | None
    pending: MoveOut | None
    learned: LearnedOut
    tolerance_cents: Cents
    settles_from_cents: Cents
    settles_to_cents: Cents
    then: str | None
    stop_at_cents: Cents | None
    is_left: bool
    is_outdated: bool


class FifthBench(Result):
    """The span between two neighbours; figures are null until both strings are known, and where no fifth is to be heard."""

    lower: str
    upper: str
    interval_cents: Cents | None
    from_temperament_cents: Cents | None
    from_pure_cents: Cents | None
    beats_hz: Hz | None
    beats_said: str | None


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


class HeardOut(Result):
    """A reading as it was heard: a note with cents, Hz, or a side."""

    note: str | None
    cents: float | None
    hz: float | None
    side: ShownSide | None


class BenchOut(Result):
    """Everything the bench shows. ``log_version``: the state of the instrument's log; entries say on which they were made.
    ``can_go_back``: this tuning holds nothing yet, and another was done today.
    """

    tuning: TuningOut
    instrument: InstrumentOut
    log_version: int
    can_go_back: bool
    hold: HoldOut
    strings: list[StringBench]
    fifths: list[FifthBench]
    history: list[HistoryEntry]
    next_string: str | None
    last_heard: dict[str, HeardOut]
    notice: str | None
    plan: PlanOut
    look_at_screws: list[str]

"""Instruments, their strings, and what there is to choose from."""

from datetime import date, datetime
from typing import Annotated, Generic, Literal, TypeVar
from uuid import UUID

from pydantic import BaseModel, Field

from pondus.contracts.base import ApproachName, ClientId, Contract, Result
from pondus.core.entries.texts import LABEL_LETTERS, NOTE_LETTERS
from pondus.core.group.jobs import Clearance
from pondus.core.group.people import Role
from pondus.core.instruments import Kind, StringCore
from pondus.core.instruments.holds import Stance
from pondus.core.judgement.habits import Habit
from pondus.core.judgement.situation import BridgeState, PegKind, PegState, StringPlace, Turning, Who, Winding
from pondus.core.judgement.string_order import StringOrder
from pondus.core.pitch.notes import Spelling

Day = Annotated[date, Field(strict=False)]
Label = Annotated[str, Field(min_length=1, max_length=LABEL_LETTERS)]
Note = Annotated[str, Field(max_length=NOTE_LETTERS)]
Details = dict[str, str]


class StringFittings(Contract):
    """What is on one string's place. What is left out stays as it is (a new string: steel, a screw at its middle). Turns of the
    screw from its middle, + screwed in.
    """

    core: StringCore | None = None
    put_on: Day | None = None
    has_fine_tuner: bool | None = None
    screw_turns: float | None = None
    screw_reach_turns: float | None = None
    peg_kind: PegKind | None = None
    peg_state: PegState | None = None
    winding: Winding | None = None
    state: StringPlace | None = None


class NewInstrument(Contract):
    """An instrument to keep; its id is made by the client."""

    id: ClientId
    label: Label
    kind: Kind
    size: str | None = None
    note: Note = ""
    stance: Stance | None = None
    player_id: ClientId | None = None
    hours_per_week: float | None = None
    details: Details = Field(default_factory=dict)
    strings: dict[str, StringFittings] = Field(default_factory=dict)


class InstrumentChange(Contract):
    """What changes of an instrument; what is left out stays. ``player_id`` null: nobody has it; ``hours_per_week`` null: not
    known; ``stance`` null: as usual for its kind; ``details``: all of them anew.
    ``retired``: it leaves the studio, or comes back; its log stays.
    """

    label: Label | None = None
    size: str | None = None
    note: Note | None = None
    stance: Stance | None = None
    player_id: ClientId | None = None
    hours_per_week: float | None = None
    details: Details | None = None
    retired: bool | None = None
    bridge: BridgeState | None = None


class StringOut(Result):
    """One string as it is fitted; turns of its screw from the middle, + screwed in, as last set by eye."""

    name: str
    core: StringCore
    put_on: date | None
    has_fine_tuner: bool
    screw_turns: float
    screw_reach_turns: float
    peg_kind: PegKind
    peg_state: PegState
    winding: Winding
    state: StringPlace


class InstrumentOut(Result):
    """An instrument with its strings, thickest first."""

    id: UUID
    label: str
    kind: Kind
    size: str
    note: str
    stance: Stance | None
    player_id: UUID | None
    hours_per_week: float | None
    details: Details
    retired: bool
    bridge: BridgeState
    strings: list[StringOut]


class OnRoll(InstrumentOut):
    """An instrument on the roll: who has it, when it was last tuned, whether it is at the luthier's."""

    player: str | None
    last_tuned: datetime | None
    at_luthier: bool


class InstrumentList(Result):
    """All instruments in use."""

    instruments: list[OnRoll]


class RollQuery(BaseModel):
    """``retired``: also those no longer in use."""

    retired: bool = False


class KindOut(Result):
    """One kind of instrument: its strings (thickest first), sizes (largest first) with their strings' lengths in mm, holds."""

    kind: Kind
    strings: list[str]
    sizes: list[str]
    lengths_mm: dict[str, float]
    full_size: str
    stances: list[Stance]
    usual_stance: Stance


T = TypeVar("T")


class ChoiceOut(Result, Generic[T]):
    """A value to choose, and how it is said. Figures: cents of tolerance, Hz of A4, a screw's place as a share of its reach."""

    value: T
    said: str


class ReasonedChoice(ChoiceOut[ApproachName]):
    """When the peg is taken, and why."""

    why: str


class TemperamentChoice(ChoiceOut[Literal["tempered", "between", "pure"]]):
    """How wide a fifth is, in cents."""

    fifth_cents: float


class HabitChoiceOut(ChoiceOut[Habit]):
    """A habit of a school, why it is taught, and which one it can't stand beside."""

    why: str
    instead_of: Habit | None


class Choices(Result):
    """Everything a person can choose from, in the order it is shown. ``a4`` and ``tolerances`` are the usual ones;
    others within the bounds can be sent.
    """

    stances: list[ChoiceOut[Stance]]
    approaches: list[ReasonedChoice]
    tolerances: list[ChoiceOut[float]]
    a4: list[ChoiceOut[float]]
    temperaments: list[TemperamentChoice]
    who: list[ChoiceOut[Who]]
    orders: list[ChoiceOut[StringOrder]]
    spellings: list[ChoiceOut[Spelling]]
    roles: list[ChoiceOut[Role]]
    clearances: list[ChoiceOut[Clearance]]
    cores: list[ChoiceOut[StringCore]]
    peg_kinds: list[ChoiceOut[PegKind]]
    peg_states: list[ChoiceOut[PegState]]
    windings: list[ChoiceOut[Winding]]
    screw_places: list[ChoiceOut[float]]
    string_states: list[ChoiceOut[StringPlace]]
    bridge_states: list[ChoiceOut[BridgeState]]
    turnings: list[ChoiceOut[Turning]]
    habits: list[HabitChoiceOut]
    details: list[ChoiceOut[str]]


class KindList(Result):
    """What Pondus can tune, and what can be chosen."""

    kinds: list[KindOut]
    choices: Choices

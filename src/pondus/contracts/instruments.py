"""Instruments, their strings, and what there is to choose from."""

from datetime import date, datetime
from typing import Annotated, Literal
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
from pondus.core.pitch import Spelling

Day = Annotated[date, Field(strict=False)]
Label = Annotated[str, Field(min_length=1, max_length=LABEL_LETTERS)]
Note = Annotated[str, Field(max_length=NOTE_LETTERS)]


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
    strings: dict[str, StringFittings] = Field(default_factory=dict)


class InstrumentChange(Contract):
    """What changes of an instrument; what is left out stays. ``player_id`` null: nobody has it; ``hours_per_week`` null: not
    known; ``stance`` null: as usual for its kind. ``retired``: it leaves the studio, or comes back; its log stays.
    """

    label: Label | None = None
    size: str | None = None
    note: Note | None = None
    stance: Stance | None = None
    player_id: ClientId | None = None
    hours_per_week: float | None = None
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


class StanceChoice(Result):
    """A hold, as a person says it."""

    value: Stance
    said: str


class ApproachChoice(Result):
    """When the peg is taken, and why."""

    value: ApproachName
    said: str
    why: str


class WhoChoice(Result):
    """Who turns."""

    value: Who
    said: str


class OrderChoice(Result):
    """In which order the strings come."""

    value: StringOrder
    said: str


class SpellingChoice(Result):
    """How accidentals are written."""

    value: Spelling
    said: str


class TemperamentChoice(Result):
    """How wide a fifth is, in cents; ``target`` is what to send."""

    value: Literal["tempered", "between", "pure"]
    said: str
    fifth_cents: float


class FigureChoice(Result):
    """A figure among those offered: cents of tolerance, Hz of A4, or a screw's place as a share of its reach."""

    value: float
    said: str


class RoleChoice(Result):
    """A role of someone on the roll."""

    value: Role
    said: str


class ClearanceChoice(Result):
    """What someone may turn."""

    value: Clearance
    said: str


class CoreChoice(Result):
    """What a string is made of inside."""

    value: StringCore
    said: str


class PegKindChoice(Result):
    """A kind of peg."""

    value: PegKind
    said: str


class PegStateChoice(Result):
    """How a peg turns."""

    value: PegState
    said: str


class WindingChoice(Result):
    """How a string is wound on its peg."""

    value: Winding
    said: str


class StringStateChoice(Result):
    """Whether a string is there and sounds."""

    value: StringPlace
    said: str


class BridgeStateChoice(Result):
    """How the bridge stands."""

    value: BridgeState
    said: str


class TurningChoice(Result):
    """How a hand turns."""

    value: Turning
    said: str


class HabitChoiceOut(Result):
    """A habit of a school, why it is taught, and which one it can't stand beside."""

    value: Habit
    said: str
    why: str
    instead_of: Habit | None


class Choices(Result):
    """Everything a person can choose from, in the order it is shown. ``a4`` and ``tolerances`` are the usual ones;
    others within the bounds can be sent.
    """

    stances: list[StanceChoice]
    approaches: list[ApproachChoice]
    tolerances: list[FigureChoice]
    a4: list[FigureChoice]
    temperaments: list[TemperamentChoice]
    who: list[WhoChoice]
    orders: list[OrderChoice]
    spellings: list[SpellingChoice]
    roles: list[RoleChoice]
    clearances: list[ClearanceChoice]
    cores: list[CoreChoice]
    peg_kinds: list[PegKindChoice]
    peg_states: list[PegStateChoice]
    windings: list[WindingChoice]
    screw_places: list[FigureChoice]
    string_states: list[StringStateChoice]
    bridge_states: list[BridgeStateChoice]
    turnings: list[TurningChoice]
    habits: list[HabitChoiceOut]


class KindList(Result):
    """What Pondus can tune, and what can be chosen."""

    kinds: list[KindOut]
    choices: Choices

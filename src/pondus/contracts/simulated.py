"""The simulated instrument: what is done to it, and what eyes see."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from pondus.contracts.base import Contract, Result
from pondus.core.simulated.voice import How
from pondus.core.simulated.weather import Start
from pondus.core.simulated.wood import Wood


class BeginSimulated(Contract):
    """Which instrument of its kind (``seed``), and the state it begins in; null: in tune."""

    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    start: Start | None = "morning"


class SimulatedAction(Contract):
    """One thing done to it: a screw turned (turns, positive clockwise facing it), a peg turned (degrees, positive clockwise as
    seen from the end of its head; ``pushed`` in or not), a string tugged, the bridge eased back, or all that broke put right.
    """

    string: str | None = None
    turns: float | None = None
    degrees: float | None = None
    pushed: bool = True
    tug: bool = False
    ease_bridge: bool = False
    put_right: bool = False


class SimulatedString(Result):
    """What eyes see of one string."""

    name: str
    has_screw: bool
    screw_turns: float
    reach_turns: float
    broken: bool

    @classmethod
    def all_of(cls, wood: Wood) -> "list[SimulatedString]":
        """Every string of an instrument."""
        return [
            cls(
                name=name,
                has_screw=wood.true[name].cents_per_turn is not None,
                screw_turns=round(now.screw_turns, 3),
                reach_turns=wood.true[name].reach_turns,
                broken=now.broken,
            )
            for name, now in wood.now.items()
        ]


class SimulatedOut(Result):
    """What eyes see of the instrument, and what happened to it, in sentences. ``begun`` false: there is none
    yet. ``instrument_id``: the one that is tuned in place of the real one.
    """

    instrument_id: UUID
    begun: bool = True
    strings: list[SimulatedString]
    bridge: Literal["up", "fallen"]
    bridge_leans: bool
    events: list[str]


class LiveHello(Contract):
    """The first message on the sound socket."""

    instrument_id: Annotated[UUID, Field(strict=False)]
    sample_rate: Annotated[int, Field(ge=8000, le=96_000)]


class LivePlay(Contract):
    """What is to sound from now on; no strings: nothing, the room alone."""

    strings: list[str]
    how: How = "bow"

"""Someone's first time with one instrument."""

from typing import Annotated, Generic, TypeVar

from pydantic import Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.core.first_time import FineTunersSeen
from pondus.core.instruments import Kind
from pondus.core.judgement.situation import BridgeState, StringPlace

Value = TypeVar("Value", bound=str)


class LookOut(Result, Generic[Value]):
    """What one may see, how it is said, and what to do where it stops everything (else empty)."""

    value: Value
    said: str
    stop: str


class LooksOut(Result):
    """What is looked at before a string is touched: which instrument, its bridge, its fine tuners, each string."""

    kinds: list[LookOut[Kind]]
    bridges: list[LookOut[BridgeState]]
    bridge_help: str
    fine_tuners: list[LookOut[FineTunersSeen]]
    strings: list[LookOut[StringPlace]]


class NewFirstTime(Contract):
    """What was seen; ``size`` null: nobody could tell; ``strings``: those that aren't tight. The id is made by the client."""

    id: ClientId
    kind: Kind
    size: Annotated[str, Field(min_length=1, max_length=20)] | None
    bridge: BridgeState
    strings: dict[str, StringPlace] = Field(default_factory=dict)
    adult: bool
    fine_tuners: FineTunersSeen = "unsure"

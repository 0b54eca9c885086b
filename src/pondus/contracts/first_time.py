"""Someone's first time with one instrument."""

from typing import Annotated

from pydantic import Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.core.instruments import Kind
from pondus.core.judgement.situation import BridgeState, StringPlace
from pondus.core.views.first_time import FineTunersSeen, Look


class LooksOut(Result):
    """What is looked at before a string is touched: which instrument, its bridge, its fine tuners, each string."""

    kinds: list[Look[Kind]]
    bridges: list[Look[BridgeState]]
    bridge_help: str
    fine_tuners: list[Look[FineTunersSeen]]
    strings: list[Look[StringPlace]]


class NewFirstTime(Contract):
    """What was seen; ``size`` null: nobody could tell; ``strings``: those that aren't tight. The id is made by the client."""

    id: ClientId
    kind: Kind
    size: Annotated[str, Field(min_length=1, max_length=20)] | None
    bridge: BridgeState
    strings: dict[str, StringPlace] = Field(default_factory=dict)
    adult: bool
    fine_tuners: FineTunersSeen = "unsure"

"""Cards that are wanted; and what is told of one instrument, as data."""

from datetime import date
from typing import Literal

from pydantic import Field

from pondus.contracts.base import ClientId, Contract, Result


class CardsWanted(Contract):
    """Which cards, on which paper, one or four a page; no ids: of all in use."""

    ids: list[ClientId] = Field(default_factory=list)
    paper: Literal["a4", "letter"] = "a4"
    per_page: Literal["1", "4"] = "1"


class ToldOut(Result):
    """How one instrument stands, in sentences: what is wrong and since when, what was done, what to ask for, and its
    strings as they were left on the day it was last tuned. Nothing of any person is in it.
    """

    label: str
    kind: str
    size: str
    last_tuned: date | None
    strings: list[str]
    wrong: list[str]
    tried: list[str]
    ask: list[str]

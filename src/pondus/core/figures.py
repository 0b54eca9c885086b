"""Figures as they are told: how many of their places mean something. What computes keeps them whole."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any


@dataclass(frozen=True)
class Told:
    """How many places of a figure are told. Whatever tells the core's records as JSON (Pydantic) asks this for its schema.

    >>> Told(2).rounded(-0.001)
    0.0
    """

    places: int

    def rounded(self, figure: float) -> float:
        """The figure as it is told, without a minus zero."""
        return round(figure, self.places) + 0.0

    def __get_pydantic_core_schema__(self, source: Any, handler: Callable[[Any], Any]) -> dict[str, Any]:
        """As any figure, and rounded where it is told."""
        rounds = {"type": "function-plain", "function": self.rounded, "return_schema": {"type": "float"}}
        return {**handler(source), "serialization": rounds}


Hundredth = Annotated[float, Told(2)]
"""A share of one, or seconds."""
Cents = Annotated[float, Told(2)]
"""Cents, to a hundredth."""
Hz = Annotated[float, Told(3)]
"""Hz or beats per second, to a thousandth."""
Amount = Annotated[float, Told(3)]
"""Turns or degrees, to a thousandth."""
Tenth = Annotated[float, Told(1)]
"""A figure of which more than a tenth would pretend."""

"""One step of the way to in tune, as a person does it."""

from dataclasses import dataclass
from typing import Literal

from pondus.core.instruments.holds import TopMoves
from pondus.core.judgement.direction import Rotation
from pondus.core.judgement.situation import Pitch, Unit

Do = Literal[
    "play-again",
    "play-reference",
    "set-fine-tuner-to-middle",
    "turn-fine-tuner",
    "turn-peg",
    "check",
    "tug",
    "fetch-teacher",
    "luthier",
]
MOVES: tuple[Do, ...] = ("set-fine-tuner-to-middle", "turn-fine-tuner", "turn-peg")


@dataclass(frozen=True)
class Step:
    """One step. Cents are from the target, negative flat.

    ``aim_cents`` is where the step (or its repeated nudges) should end; ``expect_cents`` the signed change one such
    turn should make, give or take ``expect_plus_minus``. Fields that a step has no use for are None.
    """

    do: Do
    say: str
    pitch: Pitch | None = None
    amount: float | None = None
    unit: Unit | None = None
    rotation: Rotation | None = None
    top_moves: TopMoves | None = None
    aim_cents: float | None = None
    expect_cents: float | None = None
    expect_plus_minus: float | None = None

    @property
    def is_move(self) -> bool:
        """Whether it turns something (turns and set-to-middle count as moves; checks and tugs don't)."""
        return self.do in MOVES

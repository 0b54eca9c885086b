"""One step of the way to in tune, as a person does it."""

from dataclasses import dataclass, field
from typing import Any, Literal

from pondus.core.figures import Amount, Cents
from pondus.core.instruments.holds import TopMoves
from pondus.core.judgement.direction import Rotation
from pondus.core.judgement.situation import Pitch, Unit

Do = Literal[
    "play-again",
    "play-reference",
    "ask",
    "set-fine-tuner-to-middle",
    "turn-fine-tuner",
    "turn-peg",
    "tug-down",
    "check",
    "tug",
    "look-at-bridge",
    "put-string-on",
    "fetch-teacher",
    "luthier",
]
Question = Literal["no-effect", "wrong-way", "which-octave", "which-string", "which-side"]
MOVES: tuple[Do, ...] = ("set-fine-tuner-to-middle", "turn-fine-tuner", "turn-peg")
COUNTED: tuple[Do, ...] = (*MOVES, "tug-down")


Goal = Literal["middle", "tone", "tone-from-below", "just-under-tone"]
"""What ends a turn while it sounds where no figure does: the light in the middle, or the string's tone."""


@dataclass(frozen=True)
class Until:
    """Where a turn while sounding ends, as an equal-tempered tuner shows it: a note, and cents from it within ±50."""

    note: str
    cents: Cents


@dataclass(frozen=True)
class Option:
    """One answer to a question: its name, how a person says it, and the fields of the request that it changes."""

    answer: str
    say: str
    set: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Step:
    """One step. Cents are from the target, negative flat.

    ``aim_cents`` is where the step (or its repeated nudges) should end; ``expect_cents`` the signed change one such
    turn should make, give or take ``expect_plus_minus``; ``until`` where a turn while sounding ends, its ``amount`` is then no
    more than an orientation; ``ends``: what ends it where no figure does. An "ask" has its ``question`` and ``options``;
    ``tone_octaves``: it is answered beside the string's own tone, so many octaves higher (negative: lower). Fields that a step
    has no use for are None.
    """

    do: Do
    say: str
    pitch: Pitch | None = None
    amount: Amount | None = None
    unit: Unit | None = None
    rotation: Rotation | None = None
    top_moves: TopMoves | None = None
    aim_cents: Cents | None = None
    expect_cents: Cents | None = None
    expect_plus_minus: Cents | None = None
    until: Until | None = None
    ends: Goal | None = None
    question: Question | None = None
    tone_octaves: int | None = None
    options: tuple[Option, ...] = ()

    @property
    def is_move(self) -> bool:
        """Whether it turns something (turns and set-to-middle; checks and tugs don't)."""
        return self.do in MOVES

    @property
    def is_counted(self) -> bool:
        """Whether a plan counts it: what turns, and a tug that lets a string down."""
        return self.do in COUNTED

"""Where the instrument is while someone tunes it, and what they see then. One row a hold.

Practitioners contradict each other about "which way", because they hold the instrument in different ways; which edge
of a peg or a screw is uppermost follows from the hold.
"""

from dataclasses import dataclass
from typing import Literal

Stance = Literal["lap", "playing", "helper", "guitar", "seated", "turned"]
TopMoves = Literal["away", "towards", "left", "right", "far-left", "far-right"]
SeenFrom = Literal["front", "behind", "scroll", "guitar"]


@dataclass(frozen=True)
class Hold:
    """One way to hold an instrument. ``said``: as a person says it of themselves; ``on_card``: as a card says it.

    ``peg_top`` and ``screw_top``: where the uppermost edge moves, as this person sees it, when that is turned to raise a string
    with normal winding (None: not said); of pegs that point up and down, as across the lap, it is the far edge that is said.
    ``mirrored``: the thickest string is on this person's right. ``seen_from``: the
    side that the pegbox is drawn from. ``sounds``: how the string is kept sounding while a hand turns.
    """

    stance: Stance
    said: str
    on_card: str
    peg_top: TopMoves
    screw_top: TopMoves | None
    mirrored: bool
    seen_from: SeenFrom
    sounds: str = "plucking all along"


HOLDS: dict[Stance, Hold] = {
    hold.stance: hold
    for hold in (
        Hold(
            "lap",
            "on my lap, strings towards me",
            "Turning ways for the instrument upright on the lap, strings towards you.",
            peg_top="away",
            screw_top="right",
            mirrored=False,
            seen_from="front",
        ),
        Hold(
            "playing",
            "under the chin",
            "Turning ways for playing position.",
            peg_top="away",
            screw_top=None,
            mirrored=False,
            seen_from="front",
            sounds="bowing all along",
        ),
        Hold(
            "helper",
            "in the player's lap, I sit at the scroll",
            "Turning ways for a helper at the scroll, the instrument lying strings up.",
            peg_top="towards",
            screw_top=None,
            mirrored=True,
            seen_from="scroll",
            sounds="while the player plucks or bows all along",
        ),
        Hold(
            "guitar",
            "across my lap like a guitar, scroll to my left",
            "Turning ways for the instrument across the lap like a guitar; the pegs are drawn as from its front.",
            peg_top="far-left",
            screw_top=None,
            mirrored=False,
            seen_from="guitar",
        ),
        Hold(
            "seated",
            "playing position, I sit behind it",
            "Turning ways for playing position, you behind the cello.",
            peg_top="towards",
            screw_top="left",
            mirrored=True,
            seen_from="behind",
            sounds="bowing all along",
        ),
        Hold(
            "turned",
            "facing me: turned round, or I stand before it",
            "Turning ways for the cello turned to face you.",
            peg_top="away",
            screw_top="right",
            mirrored=False,
            seen_from="front",
        ),
    )
}

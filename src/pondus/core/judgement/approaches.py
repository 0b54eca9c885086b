"""When the peg is taken instead of the fine tuner: one row an approach. A new one is a new row, and nothing else.

The four are the schools that practitioners teach; which one, a studio, an instrument or a tuning says (setting).
"""

from dataclasses import dataclass

from pondus.core.errors import BadInput


@dataclass(frozen=True)
class Approach:
    """One approach. ``said``: as a choice says it. ``peg_past_cents``: off by more than this, the peg is turned although the
    screw could still do it. ``uses_screw`` false: screws are left where they are. ``why`` it is taught.
    """

    name: str
    said: str
    peg_past_cents: float
    uses_screw: bool
    why: str


APPROACHES: dict[str, Approach] = {
    approach.name: approach
    for approach in (
        Approach(
            "fine-tuner-first",
            "only when the fine tuner can't",
            peg_past_cents=100.0,
            uses_screw=True,
            why="no peg is touched that need not be, however awful it sounds",
        ),
        Approach(
            "right-note-first",
            "past 50 cents",
            peg_past_cents=50.0,
            uses_screw=True,
            why="one plain rule beginners can follow: another note on the tuner means the peg",
        ),
        Approach(
            "save-travel",
            "past 20 cents, saving the fine tuner",
            peg_past_cents=20.0,
            uses_screw=True,
            why="keeps every fine tuner near its middle so that none runs out in a concert",
        ),
        Approach("pegs-only", "always", peg_past_cents=0.0, uses_screw=False, why="no fine tuners, or an advanced player"),
    )
}
USUAL_APPROACH = "fine-tuner-first"


def check_approach(name: str) -> str:
    """The approach's name if there is one. Raises BadInput naming those there are.

    >>> check_approach("save-travel")
    'save-travel'
    >>> check_approach("by-mood")  # doctest: +ELLIPSIS
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: There is no approach “by-mood”; choose from fine-tuner-first, right-note-first, ...
    """
    if name not in APPROACHES:
        raise BadInput("approach", f"There is no approach “{name}”; choose from {', '.join(APPROACHES)}.")
    return name

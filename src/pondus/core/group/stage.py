"""Before a stage: what is done in the quiet room, what on the stage, and what is left alone (DOMAIN §9)."""

from dataclasses import dataclass


@dataclass(frozen=True)
class StagePart:
    """One of the places, and what is done there, in order."""

    title: str
    lines: tuple[str, ...]


STAGE: tuple[StagePart, ...] = (
    StagePart(
        "In the quiet room",
        (
            "Tune everything in the quiet room, pegs too, and wait a few minutes: what was turned far settles.",
            "Pull each string gently away from the board, once, and read it again: what is going to give gives here.",
            "A string that creaks or jumps in its slot: a soft pencil’s graphite in the slots of nut and bridge.",
            "Go round once more; whatever still moves stays behind.",
            "Walk over with the cases closed: warmth makes steel go flat, cold sharp.",
        ),
    ),
    StagePart(
        "On the stage",
        (
            "One A for all, and each string to its own note: none to a neighbour alone, or the next wanders off with it.",
            "The A first, then from it outwards. Between movements tap or pluck softly; no bow.",
            "Fine tuners only, half a turn at most.",
            "What the bench calls in tune, leave.",
            "One at a time: nobody plays while another tunes.",
        ),
    ),
    StagePart(
        "Leave alone",
        (
            "Pegs. Whatever needs one goes off with its player.",
            "New strings: for ten days they go flat by themselves; take a spare instrument.",
            "A bridge that leans, a string that buzzes: not here, not now.",
        ),
    ),
)

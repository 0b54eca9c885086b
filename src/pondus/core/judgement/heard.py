"""What was heard of one string: a note with cents, a frequency, or no more than a side.

Many tuners show only left, middle or right (or red and green) beside a letter: that gives direction and no distance. A
letter alone doesn't even give the side. Who tunes to a tone by ear hears which of the two is lower, and whether by much.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from pondus.core.errors import BadInput
from pondus.core.pitch.notes import DISPLAY_LIMIT_CENTS, check_heard_hz, parse_note

Way = Literal["flat", "in-tune", "sharp"]
ShownSide = Literal["flat", "in-tune", "sharp", "much-lower", "lower", "same", "higher", "much-higher"]
WAYS: Mapping[ShownSide, Way] = {
    "flat": "flat", "in-tune": "in-tune", "sharp": "sharp",
    "much-lower": "flat", "lower": "flat", "same": "in-tune", "higher": "sharp", "much-higher": "sharp",
}  # fmt: skip
"""Which way each is: what a display shows, then what an ear hears beside the string's own tone."""
BY_EAR: tuple[ShownSide, ...] = ("much-lower", "lower", "same", "higher", "much-higher")
FAR: tuple[ShownSide, ...] = ("much-lower", "much-higher")


@dataclass(frozen=True)
class Heard:
    """A note name with ``cents``, or a frequency in Hz, or a ``side`` (of the note, or without one of the string's target), or
    a bare note.
    """

    note: str | None = None
    cents: float | None = None
    hz: float | None = None
    side: ShownSide | None = None

    @property
    def has_figure(self) -> bool:
        """Whether it says how far."""
        return self.hz is not None or self.cents is not None

    @property
    def is_bare(self) -> bool:
        """Whether it is a note and no more."""
        return self.note is not None and self.cents is None and self.side is None


def check_heard(heard: Heard, *, prefix: str = "heard") -> Heard:
    """Refuse a reading that says two things at once, nothing, or what no tuner shows. ``prefix``: its field's name.

    Raises BadInput.

    >>> check_heard(Heard(note="A4", cents=63.0))
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: 63 cents from A4 is past ±50, where the next note's name shows; read the tuner again.
    >>> check_heard(Heard(side="flat", cents=3.0))
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: A side and a figure together say it twice; give the cents alone, with their note.
    """
    if heard.side is not None and heard.has_figure:
        raise BadInput(f"{prefix}.side", "A side and a figure together say it twice; give the cents alone, with their note.")
    if heard.side in BY_EAR and heard.note is not None:
        raise BadInput(
            f"{prefix}.note", f"By ear it is {heard.side.replace('-', ' ')} than the string's tone; leave the note out."
        )
    if (heard.note is not None and heard.hz is not None) or heard == Heard():
        raise BadInput(
            prefix, "Give the note and cents the tuner shows, or a frequency in Hz, or the side it shows: one of them."
        )
    if heard.hz is not None:
        if heard.cents is not None:
            raise BadInput(f"{prefix}.cents", "Cents go with a note name; beside a frequency in Hz leave them out.")
        check_heard_hz(heard.hz, field=f"{prefix}.hz")
        return heard
    if heard.note is None:
        if heard.cents is not None:
            raise BadInput(f"{prefix}.note", f"{heard.cents:g} cents from which note? Give the name the tuner shows.")
        return heard
    parse_note(heard.note, field=f"{prefix}.note")
    if heard.cents is not None and not abs(heard.cents) <= DISPLAY_LIMIT_CENTS:
        raise BadInput(
            f"{prefix}.cents",
            f"{heard.cents:g} cents from {heard.note} is past ±50, where the next note's name shows; read the tuner again.",
        )
    return heard

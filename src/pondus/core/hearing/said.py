"""What whoever plays is told while it is listened: what to do where a sounding gives no reading, and what was heard again."""

from collections.abc import Mapping

from pondus.core.hearing.hear import PLAY_AGAIN_SAID
from pondus.core.hearing.look import Hears, Look

SOFT_BELOW_DB = -48.0
"""Softer than that, re full scale, a string hardly stands out of a room."""
TOO_SOFT = "Too soft: play closer to the microphone."
AMONG_OTHERS = "It hardly stands out of the room: hold it closer."
ONLY_THE_TONE = "Only the tone is heard: play the string with it."
_NOW: Mapping[Hears, str] = {
    "quiet": "Quiet: play any string.",
    "noise": "No clear note yet: play on.",
    "wavering": "Play on, softly and evenly…",
    "steady": "Steady.",
}


def said_of(look: Look) -> str | None:
    """What is said of a look before all else; None: nothing but what is heard just now (`now_said`).

    >>> said_of(Look("steady", -30.0, False, 440.0, "A4", 0.0, "A", 0.0, is_again=True))
    'The A again, the same as before.'
    """
    if look.is_again and look.string is not None:
        return f"The {look.string} again, the same as before."
    if look.is_among_others:
        return AMONG_OTHERS
    return None if look.reason is None else PLAY_AGAIN_SAID[look.reason]


def now_said(look: Look) -> str:
    """What is heard just now, in words.

    >>> now_said(Look("wavering", -50.0, False)), now_said(Look("noise", -20.0, False, is_beside_tone=True))
    ('Too soft: play closer to the microphone.', 'Only the tone is heard: play the string with it.')
    """
    if look.hears != "quiet" and look.is_beside_tone and look.hz is None:
        return ONLY_THE_TONE
    if look.hears != "quiet" and look.level_db < SOFT_BELOW_DB:
        return TOO_SOFT
    return _NOW[look.hears]

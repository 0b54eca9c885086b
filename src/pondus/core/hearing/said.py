"""What whoever plays is told: what to do where a sound gives no reading, and, while it is listened, what was heard again."""

from collections.abc import Mapping

from pondus.core.hearing.hear import Reason
from pondus.core.hearing.look import Hears, Look

HARMONIC_REFUSED_SAID: dict[Reason, str] = {
    "silent": "silent; record it closer",
    "noisy": "no clear tone, only noise; play on",
    "too-short": "too short; let it sound for a second",
    "unsteady": "the pitch wanders; one light touch, one long even bow",
    "swaying": "the pitch sways; no vibrato, one long even bow near the tip",
    "not-a-string": "not this harmonic; touch the string where it is named",
}
PLAY_AGAIN_SAID: dict[Reason, str] = {
    "silent": "Nothing is heard: play closer to the microphone.",
    "noisy": "No clear tone, only noise: play on, closer to the microphone.",
    "too-short": "Too short: one long bow, or let the pluck ring.",
    "unsteady": "The pitch wanders: one long, even bow, or let the pluck ring.",
    "swaying": "The pitch sways: is a finger on it? Bow slower, near the tip.",
    "not-a-string": "Two strings at once, or none of this instrument's: play one alone.",
}
"""What is said to whoever plays, where a sounding gives no reading."""
UNSURE_SAID = "Hardly sure: play it again, slower, near the tip of the bow."
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

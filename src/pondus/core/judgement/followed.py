"""An ear that a microphone follows while the string's tone sounds: when the two differ, and what is said then. Rule R137."""

from pondus.core.judgement.heard import ShownSide

EARS_DIFFER_CENTS, FAR_OVER_CENTS = 15.0, 150.0


def answers_beside(cents: float) -> tuple[ShownSide, ...]:
    """What an ear may say of a string that a microphone hears so many cents over its tone, without differing from it.

    >>> answers_beside(-40.0), answers_beside(9.0)
    (('much-lower', 'lower'), ('lower', 'same', 'higher'))
    """
    if abs(cents) <= EARS_DIFFER_CENTS:
        return ("lower", "same", "higher")
    return ("much-lower", "lower") if cents < 0.0 else ("higher", "much-higher")


def differs_said(string: str, cents: float) -> str:
    """What is said where the ear said something else.

    >>> differs_said("A", -24.0)
    'The microphone hears the A a little lower than its tone. Listen to both once more, or go by your ear.'
    """
    if abs(cents) <= EARS_DIFFER_CENTS:
        where = "nearly at its tone"
    else:
        where = f"{'' if abs(cents) > 50.0 else 'a little '}{'lower' if cents < 0.0 else 'higher'} than its tone"
    return f"The microphone hears the {string} {where}. Listen to both once more, or go by your ear."


def stop_said(string: str, cents: float) -> str | None:
    """What is said at once of a string that is far over its tone, where it might break.

    >>> stop_said("E", 40.0), stop_said("E", 160.0)
    (None, 'Stop: the E is far over its tone. Let it down before you go on.')
    """
    if cents <= FAR_OVER_CENTS:
        return None
    return f"Stop: the {string} is far over its tone. Let it down before you go on."

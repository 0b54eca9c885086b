"""Texts that people enter: names, labels, notes, reasons."""

from pondus.core.errors import BadInput

LABEL_LETTERS, NOTE_LETTERS, REASON_LETTERS = 80, 500, 200
_KEPT = frozenset("\n\t")


def check_text(text: str, *, field: str, most: int, needed: bool = False) -> str:
    """A text without its outer blanks. ``most``: letters it may have; ``needed``: it may not be empty.

    Raises BadInput, also for control characters, which nobody types and no file keeps.

    >>> check_text("  Knot ", field="label", most=80)
    'Knot'
    >>> check_text("Kn\\x00ot", field="label", most=80)
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: The label holds a character that can't be kept; type it anew.
    """
    plain = text.strip()
    if any((ord(each) < 32 and each not in _KEPT) or each == "\x7f" or 0xD800 <= ord(each) <= 0xDFFF for each in plain):
        raise BadInput(field, f"The {field} holds a character that can't be kept; type it anew.")
    if needed and not plain:
        raise BadInput(field, f"The {field} is empty; give one.")
    if len(plain) > most:
        raise BadInput(field, f"The {field} has {len(plain)} letters; keep to {most}.")
    return plain

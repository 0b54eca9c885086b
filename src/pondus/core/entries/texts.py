"""Texts that people enter: names, labels, notes, reasons; and how deep a text that programs send may be nested."""

from pondus.core.errors import BadInput

LABEL_LETTERS, DETAIL_LETTERS, NOTE_LETTERS, REASON_LETTERS = 80, 80, 500, 200
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
    if any(
        (ord(character) < 32 and character not in _KEPT) or character == "\x7f" or 0xD800 <= ord(character) <= 0xDFFF
        for character in plain
    ):
        raise BadInput(field, f"The {field} holds a character that can't be kept; type it anew.")
    if needed and not plain:
        raise BadInput(field, f"The {field} is empty; give one.")
    if len(plain) > most:
        raise BadInput(field, f"The {field} has {len(plain)} letters; keep to {most}.")
    return plain


def nesting(content: bytes) -> int:
    """How deep brackets are nested in JSON text, those within strings left out.

    >>> nesting(b'{"a": [1, {"b": "[[["}]}')
    3
    """
    deep = deepest = 0
    quoted = escaped = False
    for character in content:
        if quoted:
            if escaped:
                escaped = False
            elif character == 0x5C:
                escaped = True
            elif character == 0x22:
                quoted = False
        elif character == 0x22:
            quoted = True
        elif character in (0x5B, 0x7B):
            deep += 1
            deepest = max(deepest, deep)
        elif character in (0x5D, 0x7D):
            deep -= 1
    return deepest

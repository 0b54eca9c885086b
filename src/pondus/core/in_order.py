"""Names in the order in which people look for them: V 2 before V 10, Ärmel beside Arm, large letters as small ones."""

import re
import unicodedata

_FIGURES = re.compile(r"(\d+)")


def as_looked_for(name: str) -> tuple[tuple[int, int, str], ...]:
    """A key to sort names by: figures by their size, letters without accents, what differs by an accent only side by side.

    >>> sorted(["V 10", "zebra", "V 2", "Ärmel", "v 1", "Arm"], key=as_looked_for)
    ['Arm', 'Ärmel', 'v 1', 'V 2', 'V 10', 'zebra']
    """
    plain = "".join(
        character for character in unicodedata.normalize("NFKD", name.casefold()) if not unicodedata.combining(character)
    )
    pieces = [part for part in _FIGURES.split(plain) if part]
    key = tuple((0, int(piece), "") if piece.isdigit() else (1, 0, piece) for piece in pieces)
    return (*key, (-1, 0, name))

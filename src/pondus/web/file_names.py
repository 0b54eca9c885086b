"""What a file that is sent is called on the device that keeps it."""

import re
import unicodedata
from typing import Literal
from urllib.parse import quote

LONGEST = 80


def shown_as(name: str, how: Literal["inline", "attachment"] = "inline") -> dict[str, str]:
    """The header that names a file, plainly: no folders, no dots in front, nothing that a system would take for more.

    >>> shown_as("Sandpiper card.pdf")
    {'Content-Disposition': "inline; filename*=UTF-8''Sandpiper%20card.pdf"}
    >>> shown_as("../../x\\n.pdf", "attachment")
    {'Content-Disposition': "attachment; filename*=UTF-8''x%20n.pdf"}
    """
    return {"Content-Disposition": f"{how}; filename*=UTF-8''{quote(plain_name(name))}"}


def plain_name(name: str) -> str:
    """
    >>> plain_name("../../x card.pdf"), plain_name("CON:*?.pdf"), plain_name("...")
    ('x card.pdf', 'CON.pdf', 'pondus')
    """
    kept = "".join(" " if unicodedata.category(character)[0] == "C" else character for character in name)
    kept = re.sub(r"[/\\:*?\"<>|]+|\.{2,}", " ", kept)
    kept = re.sub(r"\s+", " ", kept).replace(" .", ".").strip(" .")
    stem, dot, ending = kept.rpartition(".")
    return (f"{stem[:LONGEST]}{dot}{ending}" if dot else kept[:LONGEST]) or "pondus"

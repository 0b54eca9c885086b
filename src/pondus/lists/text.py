"""From a file's bytes to rows of text: encodings, separators, and files that are no list at all."""

import csv
import io
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from pondus.core.errors import BadInput
from pondus.lists.columns import FIELDS, ListKind, recognised

LARGEST_BYTES = 30 * 1024 * 1024
MOST_LINES, MOST_CELLS = 250_000, 1_000
LONGEST_CELL, SEPARATOR_LOOKED_FOR = 100_000, 200_000
MOST_COLUMNS = 200
ENCODINGS = ("utf-8-sig", "cp1252")
SEPARATORS = (",", ";", "\t", "|")
_SEPARATOR_SAID = re.compile(r"^sep=(.)\r?\n", re.IGNORECASE)
TITLES_AT_MOST = 12
"""Rows above the one that names the columns: a school's name, a date, nothing."""
_NO_LISTS = (
    (b"\x89PNG", "a picture"),
    (b"\xff\xd8\xff", "a picture"),
    (b"GIF8", "a picture"),
    (b"RIFF", "a sound or a picture"),
    (b"fLaC", "a sound"),
    (b"OggS", "a sound"),
    (b"%PDF", "a PDF"),
    (b"\xd0\xcf\x11\xe0", "a spreadsheet file; save it as CSV in the program that made it"),
    (b"PK\x03\x04", "a spreadsheet or a zip file; save it as CSV in the program that made it"),
)


@dataclass(frozen=True)
class Table:
    """A list as text: its headers and the line they are in, its rows (each with the line it begins on), the first lines, which
    may hold the headers, and how it was written.
    """

    headers: tuple[str, ...]
    header_line: int
    rows: tuple[tuple[int, tuple[str, ...]], ...]
    first: tuple[tuple[int, tuple[str, ...]], ...]
    encoding: str
    separator: str


def _text_of(content: bytes, name: str) -> tuple[str, str]:
    """What a file says, and its encoding. Raises BadInput for what can't be a list."""
    if len(content) > LARGEST_BYTES:
        raise BadInput("file", f"{name} is larger than {LARGEST_BYTES // 1024**2} MB; split the list.")
    kind = next((said for start, said in _NO_LISTS if content.startswith(start)), None)
    if kind is not None:
        raise BadInput("file", f"{name} is {kind}, not a list. Save the list as CSV and bring that.")
    text, encoding = decoded(content, name)
    if "\x00" in text:
        raise BadInput("file", f"{name} isn't text, so it isn't a list. Save the list as CSV and bring that.")
    return text, encoding


def read_table(content: bytes, *, name: str = "the file", header_line: int | None = None) -> Table:
    """The rows of a CSV file. Empty rows are left out. ``header_line``: where its headers are; else they are looked for.

    Raises BadInput for what isn't a list: a picture, a spreadsheet, nothing at all, or one that breaks off in a quoted cell.

    >>> read_table("Label;Art\\nKnot;Violine\\n".encode()).headers
    ('Label', 'Art')
    >>> read_table(b"\\x89PNG...")
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: the file is a picture, not a list. Save the list as CSV and bring that.
    """
    text, encoding = _text_of(content, name)
    said = _SEPARATOR_SAID.match(text)
    separator = _separator(text) if said is None else said[1]
    try:
        lines = _rows(text, separator, name)
    except csv.Error as error:
        raise BadInput("file", f"{name} can't be read as a list: {error}. Save it as CSV anew.") from None
    if said is not None:
        lines = lines[1:]
    first = lines[:TITLES_AT_MOST]
    if not first:
        raise BadInput("file", f"{name} is empty; a list needs a first row with the names of its columns.")
    at = header_at([row for _, row in first])
    if header_line is not None:
        at = next((place for place, (line, _) in enumerate(first) if line == header_line), -1)
        if at < 0:
            raise BadInput("header_line", f"Line {header_line} isn’t among the first of {name}; choose one that is shown.")
    lines = lines[at:]
    headers = tuple(header.strip() for header in lines[0][1])
    if len(headers) > MOST_COLUMNS:
        raise BadInput("file", f"{name} has {len(headers)} columns; is it a list? Keep to under {MOST_COLUMNS}.")
    return Table(headers, lines[0][0], tuple(lines[1:]), tuple(first), encoding, separator)


def header_at(first: Sequence[Sequence[str]]) -> int:
    """Which of the first rows names the columns: the first that knows as many of them as any; titles may stand above it.

    >>> header_at([["Strings of the lower school", ""], ["Label", "Kind"], ["Knot", "violin"]]), header_at([["a"], ["b"]])
    (1, 0)
    """
    known = [max(_known([cell.strip() for cell in row], kind) for kind in FIELDS) for row in first]
    most = max(known, default=0)
    return known.index(most) if most > 1 else 0


def _known(headers: Sequence[str], kind: ListKind) -> int:
    return sum(field is not None for field in recognised(headers, kind))


def decoded(content: bytes, name: str) -> tuple[str, str]:
    """A file's text, and how it was encoded. Raises BadInput for what is no text."""
    if content.startswith((b"\xff\xfe", b"\xfe\xff")):
        try:
            return content.decode("utf-16"), "utf-16"
        except UnicodeDecodeError:
            raise BadInput("file", f"{name} breaks off in the middle; save it anew.") from None
    half = content[:4096]
    for place, encoding in ((1, "utf-16-le"), (0, "utf-16-be")):
        # Letters of two bytes each, without the mark that says so: every other byte is nothing.
        if len(half) > 7 and half[place::2].count(0) > 0.8 * len(half[place::2]) and half[1 - place :: 2].count(0) == 0:
            return content.decode(encoding, errors="replace"), encoding
    if b"\x00" in content[:4096]:
        raise BadInput("file", f"{name} isn't text, so it isn't a list. Save the list as CSV and bring that.")
    for encoding in ENCODINGS:
        try:
            return content.decode(encoding), encoding
        except UnicodeDecodeError:
            continue
    # Windows' old encoding leaves five bytes without meaning; Latin-1 has one for each.
    return content.decode("latin-1"), "latin-1"


def _separator(text: str) -> str:
    """The separator that the first lines agree on, outside quotes."""
    first = [line[:LONGEST_CELL] for line in text[:SEPARATOR_LOOKED_FOR].splitlines()[:20] if line.strip()]

    def fits(separator: str) -> tuple[int, int]:
        counts = Counter(len(row) for row in csv.reader(first, delimiter=separator) if len(row) > 1)
        return max(((alike, wide) for wide, alike in counts.items()), default=(0, 1))

    return max(SEPARATORS, key=fits)


def _rows(text: str, separator: str, name: str) -> list[tuple[int, tuple[str, ...]]]:
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator, strict=False)
    rows: list[tuple[int, tuple[str, ...]]] = []
    line = 1
    for row in reader:
        if len(rows) > MOST_LINES:
            raise BadInput("file", f"{name} has more than {MOST_LINES:,} rows; split the list.")
        if len(row) > MOST_CELLS:
            raise BadInput("file", f"{name}: line {line} has {len(row)} cells; is it a list?")
        if any(cell.strip() for cell in row):
            rows.append((line, tuple(cell.replace("\r\n", "\n").replace("\r", "\n") for cell in row)))
        line = reader.line_num + 1
    return rows

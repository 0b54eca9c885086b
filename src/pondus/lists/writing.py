"""Lists written as CSV: UTF-8 with a mark that spreadsheets know it by, headers that `columns` recognises again."""

import csv
import io
from collections.abc import Iterable, Iterator, Sequence

MARK = "\ufeff"
ROWS_TOGETHER = 1_000
_FORMULAS = ("=", "+", "-", "@", "\t", "\r", "\n")
GUARD = "'"


def written(headers: Sequence[str], rows: Iterable[Sequence[object]]) -> Iterator[str]:
    """The list, piece by piece. None is an empty cell; nothing begins a formula where it is opened.

    >>> "".join(written(["label", "note"], [["Knot", None], ["=1+1", "a;b"]]))
    "\\ufefflabel,note\\r\\nKnot,\\r\\n'=1+1,a;b\\r\\n"
    """
    buffer = io.StringIO()
    writer = csv.writer(buffer)
    buffer.write(MARK)
    writer.writerow(headers)
    for number, row in enumerate(rows):
        writer.writerow([_cell(cell) for cell in row])
        if number % ROWS_TOGETHER == ROWS_TOGETHER - 1:
            yield _emptied(buffer)
    yield _emptied(buffer)


def _cell(value: object) -> object:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return guarded(value) if isinstance(value, str) else value


def guarded(text: str) -> str:
    """A text that no spreadsheet runs: what would begin a formula gets an apostrophe before it. Figures aren't texts here.

    >>> guarded("=1+1"), guarded("-12 cents"), guarded("'=x"), guarded("Knot")
    ("'=1+1", "'-12 cents", "''=x", 'Knot')
    """
    return f"{GUARD}{text}" if text.lstrip(GUARD).startswith(_FORMULAS) else text


def unguarded(text: str) -> str:
    """The text as it was before `guarded`.

    >>> [unguarded(guarded(text)) for text in ("=1+1", "'=x", "Knot", "'tis")]
    ['=1+1', "'=x", 'Knot', "'tis"]
    """
    bare = text.lstrip(GUARD)
    return text[1:] if text.startswith(GUARD) and bare.startswith(_FORMULAS) else text


def size_for_a_cell(size: str) -> str:
    """A size that no spreadsheet takes for a date; `words.size_of` reads it back.

    >>> size_for_a_cell("1/2"), size_for_a_cell("15.5")
    ('1/2 size', '15.5 in')
    """
    return f"{size} size" if "/" in size else f"{size} in"


def _emptied(buffer: io.StringIO) -> str:
    text = buffer.getvalue()
    buffer.seek(0)
    buffer.truncate()
    return text

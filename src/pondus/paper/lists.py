"""Sheets that are read line by line: the morning's plan, a ledger's page, what belongs in a case, how one instrument stands.

Each is a title, and sections of lines in columns; what doesn't fit goes on to the next page.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field

from pondus.paper.sheet import PAGE_POINTS, Paper, Sheet, plain_text, wrapped

MARGIN, SIZE, LEADING = 48.0, 12.0, 1.35
HEAD_SIZE, TITLE_SIZE, FOOT_SIZE = 15.0, 26.0, 9.0
GAP = 12.0


@dataclass(frozen=True)
class Section:
    """A heading and its lines. ``columns``: each one's share of the width; ``boxes``: an empty box to tick before each line;
    ``empty``: what is said where there are no lines.
    """

    heading: str
    lines: Sequence[Sequence[str]] = ()
    columns: Sequence[float] = (1.0,)
    heads: Sequence[str] = ()
    boxes: bool = False
    empty: str = ""


@dataclass
class _Pages:
    title: str
    beneath: str
    paper: Paper
    foot: str
    sheets: list[Sheet] = field(default_factory=list)
    y: float = 0.0

    @property
    def sheet(self) -> Sheet:
        return self.sheets[-1]

    @property
    def inner(self) -> float:
        return self.sheet.width - 2 * MARGIN

    def begin(self) -> None:
        width, height = PAGE_POINTS[self.paper]
        sheet = Sheet(width, height, self.title)
        self.sheets.append(sheet)
        if len(self.sheets) == 1:
            sheet.text(MARGIN, MARGIN + 24.0, self.title, TITLE_SIZE, bold=True, most=width - 2 * MARGIN)
            self.y = sheet.paragraph(MARGIN, MARGIN + 46.0, self.beneath, 13.0, width - 2 * MARGIN)
        else:
            sheet.text(
                MARGIN, MARGIN + 12.0, f"{self.title}, page {len(self.sheets)}", 13.0, bold=True, most=width - 2 * MARGIN
            )
            self.y = MARGIN + 24.0
        sheet.line(MARGIN, self.y - 4.0, width - MARGIN, self.y - 4.0, wide=1.6)
        self.y += 8.0
        sheet.text(MARGIN, height - 26.0, self.foot, FOOT_SIZE, most=width - 2 * MARGIN)

    def need(self, points: float) -> None:
        """Go on to the next page where so much doesn't fit any more."""
        if self.y + points > self.sheet.height - MARGIN:
            self.begin()


def pages_of(title: str, beneath: str, sections: Sequence[Section], *, paper: Paper = "a4", foot: str = "") -> list[Sheet]:
    """The sheets of a list."""
    pages = _Pages(title, beneath, paper, foot)
    pages.begin()
    for section in sections:
        _section(pages, section)
    for sheet in pages.sheets:
        sheet.tell_lacking(MARGIN, sheet.height - 14.0)
    return pages.sheets


def _section(pages: _Pages, section: Section) -> None:
    pages.need(HEAD_SIZE + 3 * SIZE * LEADING)
    pages.y += HEAD_SIZE + 4.0
    pages.sheet.text(MARGIN, pages.y, section.heading, HEAD_SIZE, bold=True, most=pages.inner)
    pages.y += 8.0
    if section.heads and section.lines:
        pages.y += 11.0
        for x, _, said in _cells(pages, section, section.heads):
            pages.sheet.text(x, pages.y, said, 10.0)
        pages.y += 4.0
    if not section.lines:
        pages.y = pages.sheet.paragraph(MARGIN, pages.y + SIZE + 2.0, section.empty, SIZE, pages.inner)
        return
    for line in section.lines:
        _line(pages, section, line)


def _line(pages: _Pages, section: Section, line: Sequence[str]) -> None:
    cells = [(x, list(wrapped(plain_text(said), SIZE, width))) for x, width, said in _cells(pages, section, line)]
    rows = max(1, *(len(texts) for _, texts in cells))
    pages.need(rows * SIZE * LEADING + 6.0)
    top = pages.y + SIZE + 3.0
    if section.boxes:
        pages.sheet.box(MARGIN, top - 10.0, 11.0, 11.0, wide=1.2)
    for x, texts in cells:
        for row, text in enumerate(texts):
            pages.sheet.text(x, top + row * SIZE * LEADING, text, SIZE)
    pages.y = top + (rows - 1) * SIZE * LEADING + 6.0
    pages.sheet.line(MARGIN, pages.y, pages.sheet.width - MARGIN, pages.y, wide=0.4)


def _cells(pages: _Pages, section: Section, texts: Sequence[str]) -> list[tuple[float, float, str]]:
    """Where each text stands, how wide it may be, and itself."""
    begins = MARGIN + (22.0 if section.boxes else 0.0)
    inner = pages.sheet.width - MARGIN - begins
    whole = sum(section.columns)
    cells = []
    for share, text in zip(section.columns, texts, strict=False):
        width = inner * share / whole
        cells.append((begins, width - GAP, text))
        begins += width
    return cells

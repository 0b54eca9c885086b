"""A sheet of paper to be drawn on: lines, shapes, and text that is made to fit; and sheets together as SVG or PDF.

Lengths in points, from the upper left. Letters that the shipped font hasn't are taken from a font of the computer's; where
it has none either, that is told on the sheet, never left as an empty box.
"""

import io
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import groupby
from pathlib import Path
from typing import Any, Literal
from xml.sax.saxutils import escape

Paper = Literal["a4", "a3", "letter"]
Form = Literal["svg", "pdf"]
Anchor = Literal["start", "middle", "end"]
PAGE_POINTS: dict[Paper, tuple[float, float]] = {"a4": (595.28, 841.89), "a3": (841.89, 1190.55), "letter": (612.0, 792.0)}
INK, PAPER = "#000000", "#ffffff"
_GRAY = {INK: 0.0, PAPER: 1.0}
REGULAR, BOLD = "Atkinson", "Atkinson-Bold"
FONT, FONTS = "Atkinson Hyperlegible", Path(__file__).parent.parent / "fonts"
SYSTEM_FONTS = (Path("/usr/share/fonts"), Path("/usr/local/share/fonts"))
LEAST_SHARE = 0.55
"""Text that is too long is made smaller down to this, then ends in an ellipsis."""
UNPRINTABLE = "?"
_STYLES = ("Bold", "Italic", "Oblique", "Light", "Condensed", "Mono", "Serif")
_LACKING = str.maketrans({"♯": "#", "♭": "b", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"})
"""Signs that the shipped font has not, as tuners and teachers write them."""


@dataclass(frozen=True)
class Run:
    """Text of one font, its baseline's beginning at a place."""

    x: float
    y: float
    text: str
    size: float
    family: str
    bold: bool
    fill: str


@dataclass(frozen=True)
class Stroke:
    """A straight line."""

    x1: float
    y1: float
    x2: float
    y2: float
    wide: float
    dashed: bool = False


@dataclass(frozen=True)
class Box:
    """A rectangle; ``wide`` 0: without an outline."""

    x: float
    y: float
    w: float
    h: float
    fill: str
    wide: float


@dataclass(frozen=True)
class Oval:
    """An ellipse around a point."""

    x: float
    y: float
    rx: float
    ry: float
    fill: str
    wide: float


@dataclass(frozen=True)
class Inset:
    """Another drawing, smaller or larger, at a place."""

    x: float
    y: float
    scale: float
    parts: "tuple[Part, ...]"


Part = Run | Stroke | Box | Oval | Inset


@dataclass
class Sheet:
    """One side of paper, ``width`` by ``height`` points."""

    width: float
    height: float
    title: str = ""
    parts: list[Part] = field(default_factory=list)
    lacking: set[str] = field(default_factory=set)

    def text(
        self,
        x: float,
        y: float,
        text: str,
        size: float,
        *,
        bold: bool = False,
        anchor: Anchor = "start",
        most: float | None = None,
        fill: str = INK,
    ) -> None:
        """A line of text on its baseline; ``most``: as wide as that at the most."""
        plain = plain_text(text)
        if most is not None:
            wide = width_of(plain, size, bold=bold)
            if wide > most:
                size *= max(LEAST_SHARE, most / wide)
                plain = _shortened(plain, size, bold=bold, most=most)
        at = x - {"start": 0.0, "middle": 0.5, "end": 1.0}[anchor] * width_of(plain, size, bold=bold)
        for family, run in _runs(plain):
            if family is None:
                self.lacking.update(run)
            shown = run if family is not None else UNPRINTABLE * len(run)
            self.parts.append(Run(at, y, shown, size, family or FONT, bold, fill))
            at += width_of(shown, size, bold=bold)

    def paragraph(
        self, x: float, y: float, text: str, size: float, width: float, *, bold: bool = False, leading: float = 1.3
    ) -> float:
        """Text over as many lines as it takes; gives back the baseline after its last."""
        for line in wrapped(plain_text(text), size, width, bold=bold):
            self.text(x, y, line, size, bold=bold)
            y += leading * size
        return y

    def line(self, x1: float, y1: float, x2: float, y2: float, *, wide: float = 1.0, dashed: bool = False) -> None:
        """A straight line."""
        self.parts.append(Stroke(x1, y1, x2, y2, wide, dashed))

    def box(self, x: float, y: float, w: float, h: float, *, fill: str = "none", wide: float = 1.0) -> None:
        """A rectangle."""
        self.parts.append(Box(x, y, w, h, fill, wide))

    def ellipse(self, x: float, y: float, rx: float, ry: float, *, fill: str = PAPER, wide: float = 1.2) -> None:
        """An ellipse around a point."""
        self.parts.append(Oval(x, y, rx, ry, fill, wide))

    def hatched(self, x: float, y: float, w: float, h: float, *, crossed: bool = False, every: float = 7.0) -> None:
        """Slanting lines within a rectangle; crossed: both ways."""
        for rising in (True, False) if crossed else (True,):
            start = x - h
            while start < x + w:
                begins, ends = max(start, x), min(start + h, x + w)
                if begins < ends:
                    first, last = begins - start, ends - start
                    low, high = (y + h - first, y + h - last) if rising else (y + first, y + last)
                    self.line(begins, low, ends, high, wide=0.6)
                start += every

    def dotted(self, x: float, y: float, w: float, h: float, *, every: float = 8.0) -> None:
        """Dots within a rectangle."""
        rows, columns = int(h // every), int(w // every)
        for row in range(rows):
            for column in range(columns):
                self.ellipse(x + (column + 0.5) * w / columns, y + (row + 0.5) * h / rows, 0.9, 0.9, fill=INK, wide=0.0)

    def inset(self, other: "Sheet", x: float, y: float, scale: float) -> None:
        """Another sheet's drawing, smaller, at a place on this one."""
        self.parts.append(Inset(x, y, scale, tuple(other.parts)))
        self.lacking |= other.lacking

    def tell_lacking(self, x: float, y: float) -> None:
        """Say which letters couldn't be printed, if there are any."""
        if self.lacking:
            count = len(self.lacking)
            said = "1 letter has" if count == 1 else f"{count} letters have"
            told = f"{said} no font on this computer (printed as {UNPRINTABLE}): install one that has, or change the label."
            self.text(x, y, told, 8.0)


def svg_of(sheet: Sheet) -> str:
    """A sheet as SVG."""
    size = f'width="{sheet.width:g}pt" height="{sheet.height:g}pt"'
    return "\n".join(
        [
            f'<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="0 0 {sheet.width:g} {sheet.height:g}"'
            f" font-family=\"'{FONT}', sans-serif\">",
            f"<title>{escape(plain_text(sheet.title))}</title>",
            f'<rect width="{sheet.width:g}" height="{sheet.height:g}" fill="{PAPER}"/>',
            *_elements(sheet.parts),
            "</svg>\n",
        ]
    )


def _elements(parts: Iterable[Part]) -> Iterator[str]:
    for part in parts:
        match part:
            case Run():
                weight = ' font-weight="bold"' if part.bold and part.family == FONT else ""
                family = "" if part.family == FONT else f' font-family="{escape(part.family)}, sans-serif"'
                yield (
                    f'<text x="{part.x:.2f}" y="{part.y:.2f}" font-size="{part.size:.2f}"{weight}{family}'
                    f' fill="{part.fill}" xml:space="preserve">{escape(part.text)}</text>'
                )
            case Stroke():
                dash = ' stroke-dasharray="4 3"' if part.dashed else ""
                yield (
                    f'<line x1="{part.x1:.2f}" y1="{part.y1:.2f}" x2="{part.x2:.2f}" y2="{part.y2:.2f}"'
                    f' stroke="{INK}" stroke-width="{part.wide:.2f}"{dash}/>'
                )
            case Box():
                yield (
                    f'<rect x="{part.x:.2f}" y="{part.y:.2f}" width="{part.w:.2f}" height="{part.h:.2f}"'
                    f' fill="{part.fill}"{_outline(part.wide)}/>'
                )
            case Oval():
                yield (
                    f'<ellipse cx="{part.x:.2f}" cy="{part.y:.2f}" rx="{part.rx:.2f}" ry="{part.ry:.2f}"'
                    f' fill="{part.fill}"{_outline(part.wide)}/>'
                )
            case Inset():
                yield f'<g transform="translate({part.x:.2f} {part.y:.2f}) scale({part.scale:.4f})">'
                yield from _elements(part.parts)
                yield "</g>"


def _outline(wide: float) -> str:
    return f' stroke="{INK}" stroke-width="{wide:.2f}"' if wide else ""


def pdf_of(sheets: Sequence[Sheet]) -> bytes:
    """Sheets as one PDF, fonts embedded; the same sheets give the same bytes."""
    from reportlab.pdfgen.canvas import Canvas

    _register_fonts()
    file = io.BytesIO()
    canvas = Canvas(file, invariant=1, pageCompression=1)
    if sheets:
        canvas.setTitle(plain_text(sheets[0].title))
    for sheet in sheets:
        canvas.setPageSize((sheet.width, sheet.height))
        canvas.saveState()
        canvas.translate(0, sheet.height)
        _paint(canvas, sheet.parts)
        canvas.restoreState()
        canvas.showPage()
    canvas.save()
    return file.getvalue()


def _paint(canvas: Any, parts: Iterable[Part]) -> None:
    """Parts onto a canvas whose origin is the upper left; its y goes up, theirs down."""
    for alike, some in groupby(parts, key=_plain_stroke):
        if alike is not None:
            canvas.setLineWidth(alike)
            canvas.lines([(mark.x1, -mark.y1, mark.x2, -mark.y2) for mark in some if isinstance(mark, Stroke)])
            continue
        _paint_each(canvas, some)


def _plain_stroke(part: Part) -> float | None:
    """How wide a stroke without dashes is: a run of alike ones is painted at once."""
    return part.wide if isinstance(part, Stroke) and not part.dashed else None


def _paint_each(canvas: Any, parts: Iterable[Part]) -> None:
    for part in parts:
        match part:
            case Run():
                canvas.setFillGray(_GRAY[part.fill])
                canvas.setFont(_face(part.family, bold=part.bold), part.size)
                canvas.drawString(part.x, -part.y, part.text)
            case Stroke():
                canvas.setLineWidth(part.wide)
                canvas.setDash([4, 3])
                canvas.line(part.x1, -part.y1, part.x2, -part.y2)
                canvas.setDash([])
            case Box():
                fill = _filled(canvas, part.fill, part.wide)
                canvas.rect(part.x, -part.y - part.h, part.w, part.h, stroke=int(part.wide > 0), fill=fill)
            case Oval():
                fill = _filled(canvas, part.fill, part.wide)
                corners = (part.x - part.rx, -part.y - part.ry, part.x + part.rx, -part.y + part.ry)
                canvas.ellipse(*corners, stroke=int(part.wide > 0), fill=fill)
            case Inset():
                canvas.saveState()
                canvas.translate(part.x, -part.y)
                canvas.scale(part.scale, part.scale)
                _paint(canvas, part.parts)
                canvas.restoreState()


def _filled(canvas: Any, fill: str, wide: float) -> int:
    """Set colour and width; gives back whether it is filled."""
    canvas.setLineWidth(wide)
    if fill == "none":
        return 0
    canvas.setFillGray(_GRAY[fill])
    return 1


def _face(family: str, *, bold: bool) -> str:
    """A font's name as it was registered."""
    if family != FONT:
        return family
    return BOLD if bold else REGULAR


@lru_cache(maxsize=4096)
def plain_text(text: str) -> str:
    """Text as it can be printed: no control characters, and signs that the font lacks written otherwise."""
    return "".join(character for character in text.translate(_LACKING) if character.isprintable())


def width_of(text: str, size: float, *, bold: bool = False) -> float:
    """How wide a line of text is, in points."""
    return size * _width_at_one(text, bold)


@lru_cache(maxsize=16_384)
def _width_at_one(text: str, bold: bool) -> float:
    from reportlab.pdfbase.pdfmetrics import stringWidth

    wide = 0.0
    for family, run in _runs(text):
        shown = run if family is not None else UNPRINTABLE * len(run)
        wide += float(stringWidth(shown, _face(family or FONT, bold=bold), 1.0))
    return wide


def wrapped(text: str, size: float, width: float, *, bold: bool = False) -> Iterator[str]:
    """A text's lines, none wider than ``width``; a word that is wider alone is broken."""
    line = ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if width_of(longer, size, bold=bold) <= width:
            line = longer
            continue
        if line:
            yield line
        line = word
        while width_of(line, size, bold=bold) > width and len(line) > 1:
            count = max(1, int(len(line) * width / width_of(line, size, bold=bold)))
            yield line[:count]
            line = line[count:]
    if line:
        yield line


def _shortened(text: str, size: float, *, bold: bool, most: float) -> str:
    if width_of(text, size, bold=bold) <= most + 0.01:
        return text
    while text and width_of(f"{text}…", size, bold=bold) > most:
        text = text[:-1]
    return f"{text.rstrip()}…"


def _runs(text: str) -> Iterator[tuple[str | None, str]]:
    """Stretches of one font each; None: no font has it."""
    for family, run in groupby(text, key=_family):
        yield family, "".join(run)


@lru_cache(maxsize=4096)
def _family(letter: str) -> str | None:
    """Which font has a letter: the shipped one, or one of the computer's."""
    from reportlab.pdfbase.pdfmetrics import getFont

    _register_fonts()
    if letter == " " or ord(letter) in getFont(REGULAR).face.charToGlyph:
        return FONT
    for path in _system_fonts():
        name = _registered(path)
        if name is not None and ord(letter) in getFont(name).face.charToGlyph:
            return name
    return None


@lru_cache(maxsize=1)
def _system_fonts() -> tuple[Path, ...]:
    found = [path for folder in SYSTEM_FONTS if folder.is_dir() for path in folder.rglob("*.ttf")]
    return tuple(sorted(found, key=lambda path: (any(style in path.stem for style in _STYLES), path.name)))


@lru_cache(maxsize=256)
def _registered(path: Path) -> str | None:
    """A font of the computer's, ready to be used; None where it can't be."""
    from reportlab.pdfbase.pdfmetrics import registerFont
    from reportlab.pdfbase.ttfonts import TTFError, TTFont

    try:
        registerFont(TTFont(path.stem, str(path)))
    except (TTFError, OSError, KeyError, ValueError, AssertionError):
        return None
    return path.stem


@lru_cache(maxsize=1)
def _register_fonts() -> None:
    from reportlab.pdfbase.pdfmetrics import registerFont
    from reportlab.pdfbase.ttfonts import TTFont

    for name, style in ((REGULAR, "Regular"), (BOLD, "Bold")):
        registerFont(TTFont(name, str(FONTS / f"AtkinsonHyperlegible-{style}.ttf")))

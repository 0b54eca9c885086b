"""An instrument's card, drawn on one page: SVG, and PDF from that; A4 or Letter, black on white. Lengths in points."""

import io
from collections.abc import Iterator, Sequence
from functools import lru_cache
from pathlib import Path
from typing import Literal
from xml.sax.saxutils import escape

from pondus.core.cards import MEANING_SAID, Band, Meaning, StringCard
from pondus.core.judgement import words
from pondus.core.judgement.direction import Turn

Paper = Literal["a4", "letter"]
Form = Literal["svg", "pdf"]
PAGE_POINTS: dict[Paper, tuple[float, float]] = {"a4": (595.28, 841.89), "letter": (612.0, 792.0)}
FONT, FONTS = "Atkinson Hyperlegible", Path(__file__).parent / "fonts"
MARGIN, TOP, STRING_HEIGHT, BAND_HEIGHT = 54.0, 54.0, 140.0, 26.0
SHOWN_CENTS, NARROWEST_LABELLED_CENTS, LABELLED_CENTS = 160.0, 3.0, 30.0
HATCH_EVERY = 7.0
_LACKING = str.maketrans({"♯": "#", "♭": "b", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"})
"""Signs that the shipped font has not, as tuners and teachers write them."""


def drawn(strings: Sequence[StringCard], *, title: str, beneath: str, stance: str, form: Form, paper: Paper) -> bytes:
    """The card's bytes. ``title`` the instrument, ``beneath`` its reference and temperament, ``stance`` how it is held."""
    unit = "pt" if form == "svg" else ""  # svglib takes a bare figure for points, and gets "pt" wrong
    page = _page(strings, title, beneath, stance, PAGE_POINTS[paper], unit)
    return page.encode() if form == "svg" else _pdf(page)


def _page(
    strings: Sequence[StringCard], title: str, beneath: str, stance: str, size: tuple[float, float], unit: str
) -> str:
    width, height = size
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:g}{unit}" height="{height:g}{unit}"'
        f' viewBox="0 0 {width:g} {height:g}" font-family="\'{FONT}\', sans-serif">',
        f"<title>{escape(_plain(title))}</title>",
        f'<rect width="{width:g}" height="{height:g}" fill="#ffffff"/>',
        _text(MARGIN, TOP + 20.0, title, 24.0, bold=True),
        _text(MARGIN, TOP + 40.0, beneath, 11.0),
        _text(MARGIN, TOP + 56.0, stance, 11.0),
    ]
    for place, card in enumerate(strings):
        lines += _string(card, TOP + 78.0 + place * STRING_HEIGHT, width - 2.0 * MARGIN)
    lines += _key(height)
    return "\n".join([*lines, "</svg>\n"])


def _text(x: float, y: float, text: str, size: float, *, bold: bool = False, anchor: str = "start") -> str:
    weight = ' font-weight="bold"' if bold else ""
    return f'<text x="{x:.2f}" y="{y:.2f}" font-size="{size:g}" text-anchor="{anchor}"{weight}>{escape(_plain(text))}</text>'


def _plain(text: str) -> str:
    return "".join(each for each in text.translate(_LACKING) if each.isprintable())


def _string(card: StringCard, top: float, width: float) -> Iterator[str]:
    """One string: its name and figures, its scale, and which way to turn beneath."""
    yield _text(MARGIN, top + 26.0, card.name, 30.0, bold=True)
    yield _text(MARGIN + 36.0, top + 16.0, f"{card.note}   {card.hz:.2f} Hz", 13.0)
    if abs(card.tuner_shows_cents) >= 0.05:
        right = f"right when a tuner shows {card.tuner_shows_cents:+.1f}".replace("-", "−")
        yield _text(MARGIN + 36.0, top + 32.0, right, 10.0)
    scale = width / (2.0 * SHOWN_CENTS)
    for band in card.bands:
        yield from _band(band, top + 42.0, scale)
    for band in card.bands:
        yield from _edge(band, top + 42.0 + BAND_HEIGHT + 12.0, scale)
    yield _text(MARGIN, top + 104.0, _ways(card), 9.5)


def _x(cents: float, scale: float) -> float:
    return MARGIN + (cents + SHOWN_CENTS) * scale


def _band(band: Band, top: float, scale: float) -> Iterator[str]:
    low, high = max(band.from_cents - 0.5, -SHOWN_CENTS), min(band.to_cents + 0.5, SHOWN_CENTS)
    if low >= high:
        return
    left, right = _x(low, scale), _x(high, scale)
    fill = "#000000" if band.meaning == "leave" else "#ffffff"
    yield (
        f'<rect x="{left:.2f}" y="{top:.2f}" width="{right - left:.2f}" height="{BAND_HEIGHT:g}" fill="{fill}"'
        ' stroke="#000000" stroke-width="0.8"/>'
    )
    yield from _hatched(band.meaning, left, right, top)
    if high - low > LABELLED_CENTS:
        middle, said = (left + right) / 2.0, MEANING_SAID[band.meaning]
        half = 3.2 * len(said)
        yield f'<rect x="{middle - half:.2f}" y="{top + 5.0:.2f}" width="{2 * half:.2f}" height="16" fill="#ffffff"/>'
        yield _text(middle, top + 17.0, said, 10.0, anchor="middle")


def _hatched(meaning: Meaning, left: float, right: float, top: float) -> Iterator[str]:
    """Lines that tell the peg from the screw, and crossed ones that say stop."""
    slopes = {"peg": (1.0,), "stop": (1.0, -1.0)}.get(meaning, ())
    for slope in slopes:
        start = left - BAND_HEIGHT
        while start < right:
            # The stretch of a slanting line that lies within the band, from its lower to its upper edge.
            begins, ends = max(start, left), min(start + BAND_HEIGHT, right)
            if begins < ends:
                first, last = begins - start, ends - start
                low, high = (
                    (top + BAND_HEIGHT - first, top + BAND_HEIGHT - last) if slope > 0 else (top + first, top + last)
                )
                yield (
                    f'<line x1="{begins:.2f}" y1="{low:.2f}" x2="{ends:.2f}" y2="{high:.2f}" stroke="#000000"'
                    ' stroke-width="0.6"/>'
                )
            start += HATCH_EVERY


def _edge(band: Band, y: float, scale: float) -> Iterator[str]:
    """What a tuner shows where a band begins."""
    if not -SHOWN_CENTS < band.from_cents < SHOWN_CENTS or band.to_cents - band.from_cents < NARROWEST_LABELLED_CENTS:
        return
    cents = round(band.from_note.cents)
    shown = f"{band.from_note.name} {cents:+d}" if cents else band.from_note.name
    anchor = "end" if band.from_cents < 0 else "start"
    yield _text(_x(band.from_cents, scale), y, shown.replace("-", "−"), 9.0, anchor=anchor)


def _ways(card: StringCard) -> str:
    screw = "no fine tuner" if card.screw is None else f"fine tuner {_way(card.screw)}"
    return f"To raise: {screw}; peg {_way(card.peg)}."


def _way(turn: Turn) -> str:
    seen = "" if turn.top_moves is None else f", top {words.TOP_WORDS[turn.top_moves]}"
    return f"{turn.rotation}{seen}"


def _key(height: float) -> list[str]:
    said = (
        "Black: right, leave it.  White: the fine tuner can still do it.  Hatched: the peg, an adult by.  Crossed: stop and",
        "ask; never wind a string up that shows so high. A string that shows nothing near is slack: ask.",
    )
    return [_text(MARGIN, height - 66.0 + 13.0 * place, line, 9.0) for place, line in enumerate(said)]


@lru_cache(maxsize=1)
def _register_fonts() -> None:
    from svglib.fonts import register_font

    register_font(FONT, str(FONTS / "AtkinsonHyperlegible-Regular.ttf"))
    register_font(FONT, str(FONTS / "AtkinsonHyperlegible-Bold.ttf"), weight="bold")


def _pdf(page: str) -> bytes:
    """The page as PDF, its fonts embedded; the same page gives the same bytes."""
    from reportlab import rl_config
    from reportlab.graphics import renderPDF
    from svglib.svglib import svg2rlg

    _register_fonts()
    rl_config.invariant = 1
    file = io.BytesIO()
    renderPDF.drawToFile(svg2rlg(io.BytesIO(page.encode())), file, autoSize=1)
    return file.getvalue()

"""Cards for the case: one instrument's strings, what a tuner shows of each and what that means, which peg and which way.

One or four a page. Every line stands in its own string's row.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from pondus.core.instruments import Instrument
from pondus.core.instruments.pegbox import peg_place
from pondus.core.judgement import words
from pondus.core.judgement.direction import Turn
from pondus.core.pitch.notes import NearestNote
from pondus.core.views.bench import HoldView
from pondus.core.views.cards import Band, Meaning, StringCard
from pondus.paper.sheet import INK, PAGE_POINTS, PAPER, Form, Paper, Sheet, pdf_of, svg_of

WIDTH, HEIGHT = 540.0, 780.0
"""A card's own measure, of four strings; it is drawn larger or smaller to fit."""
ROW, TOP, LABEL = 118.0, 92.0, 92.0
ROUNDED_CENTS = 1.5
"""A stretch that ends a cent beside a letter ends at the letter."""
NARROWEST_CENTS = 3.0
SAID: dict[Meaning, str] = {
    "leave": "right",
    "fine-tuner": "fine tuner",
    "pull": "pull it",
    "peg": "peg",
    "fetch": "teacher",
    "stop": "stop, ask",
}
SHARES: dict[Meaning, float] = {"leave": 0.9, "fine-tuner": 1.15, "pull": 0.8, "peg": 1.0, "fetch": 1.0, "stop": 1.0}


@dataclass(frozen=True)
class Card:
    """What one card says. ``title`` the instrument's label, ``beneath`` what it is and how it is tuned."""

    title: str
    beneath: str
    instrument: Instrument
    hold: HoldView
    on_card: str
    strings: tuple[StringCard, ...]


def drawn(cards: Sequence[Card], *, form: Form, paper: Paper, per_page: int = 1) -> bytes:
    """Cards as bytes; SVG is the first page alone."""
    pages = pages_of(cards, paper=paper, per_page=per_page)
    return svg_of(pages[0]).encode() if form == "svg" else pdf_of(pages)


def pages_of(cards: Sequence[Card], *, paper: Paper, per_page: int = 1) -> list[Sheet]:
    """Cards laid out on pages, one or four on each."""
    width, height = PAGE_POINTS[paper]
    margin = 30.0
    across = 2 if per_page == 4 else 1
    cell_w, cell_h = (width - 2 * margin) / across, (height - 2 * margin) / across
    between = 14.0 if across > 1 else 0.0
    pages: list[Sheet] = []
    for place, card in enumerate(cards):
        at = place % (across * across)
        if at == 0:
            pages.append(Sheet(width, height, f"{card.title}: card" if len(cards) == 1 else "Cards for the cases"))
        page = pages[-1]
        drawing = card_sheet(card)
        scale = min((cell_w - between) / WIDTH, (cell_h - between) / drawing.height)
        x = margin + (at % across) * cell_w + (cell_w - scale * WIDTH) / 2.0
        y = margin + (at // across) * cell_h + (cell_h - scale * drawing.height) / 2.0
        page.inset(drawing, x, y, scale)
        if across > 1 and at == 0:
            page.line(width / 2, margin, width / 2, height - margin, wide=0.4, dashed=True)
            page.line(margin, height / 2, width - margin, height / 2, wide=0.4, dashed=True)
    for page in pages:
        page.tell_lacking(margin, height - 14.0)
    return pages


def card_sheet(card: Card) -> Sheet:
    """One card."""
    sheet = Sheet(WIDTH, HEIGHT + ROW * (len(card.strings) - 4), card.title)
    sheet.text(0.0, 34.0, card.title, 34.0, bold=True, most=WIDTH)
    sheet.text(0.0, 58.0, card.beneath, 15.0, most=WIDTH)
    sheet.line(0.0, TOP - 16.0, WIDTH, TOP - 16.0, wide=2.2)
    for place, string in enumerate(card.strings):
        _row(sheet, string, TOP + place * ROW)
    _pegbox(sheet, card, TOP + len(card.strings) * ROW + 12.0)
    return sheet


def _row(sheet: Sheet, string: StringCard, top: float) -> None:
    """One string: its name, its scale of letters, which way to turn."""
    sheet.text(0.0, top + 44.0, string.name, 54.0, bold=True)
    sheet.text(0.0, top + 66.0, string.note, 19.0, bold=True)
    sheet.text(0.0, top + 84.0, f"{string.hz:.1f} Hz", 13.0)
    if abs(string.tuner_shows_cents) >= 0.05:
        sheet.text(38.0, top + 66.0, f"at {string.tuner_shows_cents:+.1f}".replace("-", "−"), 12.0)
    _scale(sheet, string.bands, LABEL, top, WIDTH - LABEL)
    screw = "No fine tuner." if string.screw is None else f"Fine tuner up: {_way(string.screw)}."
    sheet.text(LABEL, top + 84.0, f"{screw}  Peg up: {_way(string.peg)}.", 13.5, most=WIDTH - LABEL)
    sheet.line(0.0, top + ROW - 18.0, WIDTH, top + ROW - 18.0, wide=0.8)


def _scale(sheet: Sheet, bands: Sequence[Band], x: float, top: float, width: float) -> None:
    """What a tuner shows from low to high, and what each stretch means."""
    bands = [band for band in bands if band.to_cents - band.from_cents >= NARROWEST_CENTS or band.meaning == "leave"]
    whole = sum(SHARES[band.meaning] for band in bands)
    for place, band in enumerate(bands):
        w = width * SHARES[band.meaning] / whole
        h = 34.0
        fill = INK if band.meaning == "leave" else PAPER
        sheet.box(x, top + 4.0, w, h, fill=fill, wide=1.2)
        if band.meaning in ("peg", "fetch", "stop"):
            sheet.hatched(x, top + 4.0, w, h, crossed=band.meaning in ("fetch", "stop"))
            sheet.box(x + 8.0, top + 12.0, w - 16.0, 18.0, fill=PAPER, wide=0.0)
        ink = PAPER if band.meaning == "leave" else INK
        sheet.text(x + w / 2, top + 26.0, SAID[band.meaning], 15.0, bold=True, anchor="middle", most=w - 10.0, fill=ink)
        shown = _range(band, first=place == 0, last=place == len(bands) - 1)
        sheet.text(x + w / 2, top + 54.0, shown, 13.0, anchor="middle", most=w - 4.0)
        x += w


def _range(band: Band, *, first: bool, last: bool) -> str:
    """A stretch as a tuner shows its ends."""
    if first:
        return f"up to {_shown(band.to_note)}"
    if last:
        return f"{_shown(band.from_note)} and up"
    if band.from_note.name == band.to_note.name:
        return f"{band.from_note.name} {_figure(band.from_note)} to {_figure(band.to_note)}"
    return f"{_shown(band.from_note)} to {_shown(band.to_note)}"


def _shown(note: NearestNote) -> str:
    return note.name if abs(note.cents) < ROUNDED_CENTS else f"{note.name} {_figure(note)}"


def _figure(note: NearestNote) -> str:
    return f"{round(note.cents):+d}".replace("-", "−") if round(note.cents) else "0"


def _way(turn: Turn) -> str:
    seen = "" if turn.top_moves is None else f", {words.edge_goes(turn.top_moves)}"
    return f"{turn.rotation}{seen}"


def _pegbox(sheet: Sheet, card: Card, top: float) -> None:
    """The pegbox as this player sees it, and what the marks mean."""
    draw_pegbox(sheet, card.instrument, card.hold, 92.0, top, scale=1.0)
    x = 205.0
    y = sheet.paragraph(x, top + 22.0, card.on_card, 14.0, WIDTH - x)
    marks = (
        ("Black", "right: leave it."),
        ("White", "the fine tuner can do it."),
        ("Hatched", "the peg: with an adult, in small pushes, faces away."),
        ("Crossed", "stop and ask; never wind a string up that shows so high."),
    )
    y += 8.0
    for mark, said in marks:
        sheet.text(x, y, mark, 13.0, bold=True)
        sheet.text(x + 62.0, y, said, 13.0, most=WIDTH - x - 62.0)
        y += 19.0
    sheet.paragraph(x, y + 4.0, "A string that shows nothing near, or flops, is slack: leave it and ask.", 13.0, WIDTH - x)


def draw_pegbox(sheet: Sheet, instrument: Instrument, hold: HoldView, x: float, top: float, *, scale: float) -> None:
    """A pegbox around a middle at ``x``, its pegs where this person sees them, each with its string's name."""
    upright = hold.seen_from != "scroll"

    def at(y: float) -> float:
        return top + scale * (y if upright else 170.0 - y)

    sheet.box(x - 13 * scale, min(at(166), at(42)), 26 * scale, 124 * scale, fill=PAPER, wide=1.2)
    sheet.ellipse(x, at(24), 17 * scale, 17 * scale)
    sheet.ellipse(x, at(24), 6 * scale, 6 * scale)
    heights = {"upper": 58.0, "middle": 85.0, "lower": 112.0}
    for string in instrument.strings:
        place = peg_place(string, "lap" if hold.seen_from == "guitar" else hold.stance)
        left = place.endswith("left")
        y = top + scale * (heights[place.split()[0]] + (0.0 if left else 24.0))
        way = -1.0 if left else 1.0
        sheet.line(x - way * 22 * scale, y, x + way * 34 * scale, y, wide=5.0 * scale)
        sheet.ellipse(x + way * 50 * scale, y, 16 * scale, 19 * scale, wide=1.6)
        sheet.text(x + way * 50 * scale, y + 7 * scale, string.name, 20.0 * scale, bold=True, anchor="middle")

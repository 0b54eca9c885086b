"""A chart for the wall, for one kind of instrument: the letters around each string and what they mean; which peg, which way."""

from collections.abc import Sequence

from pondus.core.instruments import Instrument
from pondus.core.judgement import words
from pondus.core.judgement.direction import peg_turn
from pondus.core.views.bench import hold_view
from pondus.core.views.paper import ChartString, Letter, LetterMeaning
from pondus.paper.cards import draw_pegbox
from pondus.paper.sheet import INK, PAGE_POINTS, PAPER, Form, Paper, Sheet, pdf_of, svg_of, width_of

WIDTH, HEIGHT = 800.0, 560.0
"""The chart's own measure, lying, of four strings; it is drawn larger or smaller to fit the paper."""
ROW, TOP = 92.0, 66.0
MEANT: dict[LetterMeaning, str] = {
    "slack": "slack: leave it, ask",
    "peg": "peg, with an adult",
    "fine-tuner": "fine tuner",
    "right": "right: leave it",
    "stop": "stop, ask",
}
STEPS = (
    ("1", "Play one string, long and soft. Read the letter, its number, and left or right."),
    ("2", "Far under its letter? Peg, with an adult: push in, a little at a time, stop just under."),
    ("3", "Near it? Fine tuner: clockwise goes up. Black is right: leave it."),
)


def drawn(instrument: Instrument, strings: Sequence[ChartString], *, a4: float, form: Form, paper: Paper) -> bytes:
    """The chart's bytes."""
    high, wide = PAGE_POINTS[paper]
    sheet = Sheet(wide, high, f"{instrument.kind.capitalize()}: wall chart")
    margin = 24.0
    drawing = chart(instrument, strings, a4=a4)
    scale = min((wide - 2 * margin) / WIDTH, (high - 2 * margin) / drawing.height)
    sheet.inset(drawing, (wide - scale * WIDTH) / 2, (high - scale * drawing.height) / 2, scale)
    return svg_of(sheet).encode() if form == "svg" else pdf_of([sheet])


def chart(instrument: Instrument, strings: Sequence[ChartString], *, a4: float) -> Sheet:
    """The chart in its own measure."""
    sheet = Sheet(WIDTH, HEIGHT + ROW * (len(strings) - 4))
    sheet.text(0.0, 40.0, instrument.kind.capitalize(), 46.0, bold=True)
    sheet.text(WIDTH, 14.0, f"A4 is {a4:g} Hz", 15.0, anchor="end")
    _legend(sheet, 196.0)
    sheet.line(0.0, TOP - 10.0, WIDTH, TOP - 10.0, wide=2.5)
    for place, string in enumerate(reversed(strings)):
        _row(sheet, string, TOP + place * ROW)
    bottom = TOP + len(strings) * ROW + 6.0
    hold = hold_view(instrument.usual_stance, instrument)
    draw_pegbox(sheet, instrument, hold, 66.0, bottom - 4.0, scale=0.72)
    sides = (("left", "bass"), ("right", "treble"))
    x = 140.0
    sheet.text(x, bottom + 22.0, hold.said, 15.0)
    for line, (said, side) in enumerate(sides):
        turn = peg_turn("raise", side="bass" if side == "bass" else "treble", stance=hold.stance, winding="normal")
        top = "" if turn.top_moves is None else f": top {words.TOP_WORDS[turn.top_moves]}"
        sheet.text(x, bottom + 48.0 + 34.0 * line, f"{said} pegs up{top}", 17.0, bold=True, most=200.0)
        sheet.text(x, bottom + 62.0 + 34.0 * line, f"({turn.rotation}, seen from the peg’s end)", 9.5, most=200.0)
    for line, (number, said) in enumerate(STEPS):
        y = bottom + 34.0 + 40.0 * line
        sheet.text(356.0, y, number, 34.0, bold=True)
        sheet.paragraph(386.0, y - 12.0, said, 16.0, WIDTH - 386.0, leading=1.15)
    return sheet


def _legend(sheet: Sheet, x: float) -> None:
    for meaning, said in MEANT.items():
        _cell(sheet, x, 24.0, 26.0, 22.0, meaning)
        sheet.text(x + 31.0, 40.0, said, 12.0)
        x += 47.0 + width_of(said, 12.0)


def _row(sheet: Sheet, string: ChartString, top: float) -> None:
    """One string: its note large, and the letters from low to high."""
    sheet.text(0.0, top + 58.0, string.note, 58.0, bold=True, most=104.0)
    sheet.text(2.0, top + 78.0, f"{string.hz:.1f} Hz", 14.0)
    left = 118.0
    wide = (WIDTH - left) / len(string.letters)
    for place, letter in enumerate(string.letters):
        x = left + place * wide
        _cell(sheet, x, top + 8.0, wide, 62.0, letter.meaning)
        _letter(sheet, letter, x, top, wide)
    sheet.line(0.0, top + ROW - 8.0, WIDTH, top + ROW - 8.0, wide=0.6)


def _letter(sheet: Sheet, letter: Letter, x: float, top: float, wide: float) -> None:
    if letter.meaning in ("peg", "stop", "slack"):
        sheet.box(x + 4.0, top + 24.0, wide - 8.0, 32.0, fill=PAPER, wide=0.0)
    ink = PAPER if letter.meaning == "right" else INK
    sheet.text(x + wide / 2, top + 50.0, letter.said, 27.0, bold=True, anchor="middle", most=wide - 14.0, fill=ink)


def _cell(sheet: Sheet, x: float, y: float, w: float, h: float, meaning: LetterMeaning) -> None:
    sheet.box(x, y, w, h, fill=INK if meaning == "right" else PAPER, wide=1.2)
    if meaning in ("peg", "stop"):
        sheet.hatched(x, y, w, h, crossed=meaning == "stop")
    elif meaning == "slack":
        sheet.dotted(x + 1, y + 1, w - 2, h - 2)

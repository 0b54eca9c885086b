"""A card for home: by the letters and lights of any tuner, what may be turned there, by whom, what to say, what waits."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from pondus.core.instruments import Instrument
from pondus.core.judgement.situation import Who
from pondus.core.pitch.notes import name_of
from pondus.core.views.cards import StringCard
from pondus.paper.cards import Card
from pondus.paper.sheet import INK, PAGE_POINTS, PAPER, Paper, Sheet

WIDTH, HEIGHT = 540.0, 780.0
ROW, TOP, LABEL = 104.0, 106.0, 76.0
FIELD = 40.0
SHARES = (0.95, 1.2, 0.85, 1.2, 0.95)
"""How wide a string's fields are, beside each other."""

Does = Literal["leave", "turn", "wait"]


@dataclass(frozen=True)
class Field:
    """What a tuner shows of a string, its light or its letter, what that means, and what is done."""

    shows: str
    does: Does
    said: str


def fields_of(string: StringCard, *, number: int) -> tuple[Field, ...]:
    """One string's fields, low to high. ``number``: its note's.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.views.cards import string_card
    >>> from pondus.core.judgement.situation import FineTuner, Peg, situation
    >>> a = string_card(situation(INSTRUMENTS["violin"], "A", fine_tuner=FineTuner(), peg=Peg()))
    >>> [(each.shows, each.does) for each in fields_of(a, number=69)]
    [('G♯ / A♭', 'wait'), ('A, left', 'turn'), ('A, middle', 'leave'), ('A, right', 'turn'), ('A♯ / B♭', 'wait')]
    """
    name = string.name
    beside: list[Field] = []
    for side, rotation in (("left", "clockwise"), ("right", "counter-clockwise")):
        turns = string.screw is not None
        beside.append(Field(f"{name}, {side}", "turn" if turns else "wait", f"{rotation}, a little" if turns else "wait"))
    return (
        Field(_both(number - 1), "wait", "or lower: it waits"),
        beside[0],
        Field(f"{name}, middle", "leave", "right: leave it"),
        beside[1],
        Field(_both(number + 1), "wait", "or higher: never up"),
    )


def _both(number: int) -> str:
    """A letter as tuners with sharps and with flats show it."""
    names = (name_of(number, spelling=spelling).rstrip("0123456789") for spelling in ("sharps", "flats"))
    return " / ".join(dict.fromkeys(names))


WHO_SAID: dict[Who, tuple[str, str]] = {
    "student-fine-tuners": ("Fine tuners: the player.", "Pegs: nobody at home. They wait for the lesson."),
    "student-pegs": ("Fine tuners: the player.", "Pegs: the player, with a grown-up beside."),
    "adult": ("Fine tuners: the player.", "Pegs: the grown-up the teacher has shown it to, nobody else."),
    "teacher": ("Fine tuners: the player.", "Pegs: a grown-up who has been shown how, nobody else."),
}


def left_alone(instrument: Instrument, strings: Sequence[StringCard]) -> tuple[str, ...]:
    """What nobody touches at home."""
    first = instrument.delicate_string or strings[-1].name
    without = [string.name for string in strings if string.screw is None]
    lines = [
        f"The {first} string's peg: it is the string that snaps first.",
        "A string that flops, or shows nothing near its letter.",
        "A bridge that leans or has moved: nothing is turned then.",
        "All strings let down at once: bridge and soundpost fall.",
    ]
    if without:
        lines.insert(1, f"Without a fine tuner: {', '.join(without)}. What isn't in the middle there, waits.")
    return tuple(lines)


def home_sheet(card: Card, *, who: Who, paper: Paper) -> Sheet:
    """The card on a page."""
    width, height = PAGE_POINTS[paper]
    page = Sheet(width, height, f"{card.title}: at home")
    drawing = _drawn(card, who)
    scale = min((width - 60.0) / WIDTH, (height - 60.0) / drawing.height)
    page.inset(drawing, (width - scale * WIDTH) / 2.0, 30.0, scale)
    page.tell_lacking(30.0, height - 14.0)
    return page


def _drawn(card: Card, who: Who) -> Sheet:
    sheet = Sheet(WIDTH, HEIGHT + ROW * (len(card.strings) - 4))
    sheet.text(0.0, 34.0, f"{card.title}, at home", 32.0, bold=True, most=WIDTH)
    sheet.text(0.0, 58.0, "Play one string, long and soft. Find what the tuner shows in that string's row.", 15.0, most=WIDTH)
    sheet.text(0.0, 78.0, "Black: right. White: the fine tuner. Hatched: leave it for the lesson.", 15.0, bold=True, most=WIDTH)
    sheet.line(0.0, TOP - 14.0, WIDTH, TOP - 14.0, wide=2.2)
    strings = list(zip(card.strings, card.instrument.strings, strict=True))
    for place, (string, data) in enumerate(reversed(strings)):
        top = TOP + place * ROW
        sheet.text(0.0, top + 44.0, string.name, 54.0, bold=True)
        _fields(sheet, fields_of(string, number=data.note_number), top)
        sheet.line(0.0, top + ROW - 22.0, WIDTH, top + ROW - 22.0, wide=0.8)
    y = TOP + len(strings) * ROW + 6.0
    half = WIDTH / 2.0 - 12.0
    left = _paragraphs(sheet, 0.0, y, half, "Who turns", WHO_SAID[who])
    last, number = card.strings[-1], card.instrument.strings[-1].note_number
    say = (
        f"“The {last.name} string shows {_both(number - 1)}.” The letter is enough.",
        "Faces away while anybody turns; a hand holds the instrument.",
    )
    left = _paragraphs(sheet, 0.0, left + 8.0, half, "What to say", say)
    right = _paragraphs(sheet, WIDTH / 2.0 + 12.0, y, half, "What to leave alone", left_alone(card.instrument, card.strings))
    sheet.line(0.0, max(left, right), WIDTH, max(left, right), wide=0.8)
    return sheet


def _fields(sheet: Sheet, fields: Sequence[Field], top: float) -> None:
    x, share = LABEL, (WIDTH - LABEL) / sum(SHARES)
    for field, part in zip(fields, SHARES, strict=True):
        wide = share * part
        sheet.box(x, top + 2.0, wide, FIELD, fill=INK if field.does == "leave" else PAPER, wide=1.2)
        if field.does == "wait":
            sheet.hatched(x, top + 2.0, wide, FIELD, crossed=False)
            sheet.box(x + 6.0, top + 9.0, wide - 12.0, FIELD - 14.0, fill=PAPER, wide=0.0)
        ink = PAPER if field.does == "leave" else INK
        sheet.text(x + wide / 2, top + 28.0, field.shows, 16.0, bold=True, anchor="middle", most=wide - 14.0, fill=ink)
        sheet.text(x + wide / 2, top + 60.0, field.said, 12.5, anchor="middle", most=wide - 4.0)
        x += wide


def _paragraphs(sheet: Sheet, x: float, y: float, wide: float, title: str, lines: Sequence[str]) -> float:
    sheet.text(x, y + 16.0, title, 17.0, bold=True)
    y += 36.0
    for line in lines:
        y = sheet.paragraph(x, y, line, 13.5, wide, leading=1.25) + 3.0
    return y

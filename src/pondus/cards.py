"""An instrument's card, drawn on one page: SVG or PDF, A4 or Letter, black on white."""

import io
from collections.abc import Sequence
from typing import Any, Literal

from pondus.core.cards import MEANING_SAID, Band, Meaning, StringCard
from pondus.core.judgement import words
from pondus.core.judgement.direction import Turn

Paper = Literal["a4", "letter"]
Form = Literal["svg", "pdf"]
PAGE_INCHES: dict[Paper, tuple[float, float]] = {"a4": (8.27, 11.69), "letter": (8.5, 11.0)}
HATCHES: dict[Meaning, tuple[str, str]] = {
    "leave": ("#000000", ""),
    "fine-tuner": ("#ffffff", ""),
    "peg": ("#ffffff", "////"),
    "stop": ("#ffffff", "xxxx"),
}
SHOWN_CENTS, NARROWEST_LABELLED_CENTS = 160.0, 3.0
LEFT, RIGHT, TOP = 0.09, 0.91, 0.95


def drawn(strings: Sequence[StringCard], *, title: str, beneath: str, stance: str, form: Form, paper: Paper) -> bytes:
    """The card's bytes. ``title`` the instrument, ``beneath`` its reference and school, ``stance`` how it is held."""
    import matplotlib

    matplotlib.use("agg")
    from matplotlib.figure import Figure

    with matplotlib.rc_context({"svg.fonttype": "path", "pdf.fonttype": 42, "svg.hashsalt": "pondus"}):
        page = Figure(figsize=PAGE_INCHES[paper])
        page.text(LEFT, TOP, title, fontsize=24, fontweight="bold", va="top")
        page.text(LEFT, TOP - 0.045, beneath, fontsize=11, va="top")
        page.text(LEFT, TOP - 0.068, stance, fontsize=11, va="top")
        height = 0.178
        for place, each in enumerate(strings):
            _string(page, each, TOP - 0.115 - place * height, height)
        _key(page)
        file = io.BytesIO()
        page.savefig(file, format=form, metadata={"Date": None} if form == "svg" else {"CreationDate": None})
    return file.getvalue()


def _string(page: Any, card: StringCard, top: float, height: float) -> None:
    """One string: its name and figures on the left, its scale, and which way to turn beneath."""
    page.text(LEFT, top, card.name, fontsize=30, fontweight="bold", va="top")
    page.text(LEFT + 0.075, top - 0.004, f"{card.note}   {card.hz:.2f} Hz", fontsize=13, va="top")
    if abs(card.tuner_shows_cents) >= 0.05:
        right = f"right when a tuner shows {card.tuner_shows_cents:+.1f}".replace("-", "−")
        page.text(LEFT + 0.075, top - 0.026, right, fontsize=10, va="top")
    axes = page.add_axes((LEFT, top - height * 0.58, RIGHT - LEFT, height * 0.2))
    axes.set_xlim(-SHOWN_CENTS, SHOWN_CENTS)
    axes.set_ylim(0, 1)
    axes.axis("off")
    for band in card.bands:
        _draw_band(axes, band)
    for band in card.bands:
        _label_edge(axes, band)
    page.text(LEFT, top - height * 0.86, _ways(card), fontsize=9.5, va="top")


def _label_edge(axes: Any, band: Band) -> None:
    """What a tuner shows where a band begins."""
    if not -SHOWN_CENTS < band.from_cents < SHOWN_CENTS or band.to_cents - band.from_cents < NARROWEST_LABELLED_CENTS:
        return
    cents = round(band.from_note.cents)
    shown = f"{band.from_note.name} {cents:+d}" if cents else band.from_note.name
    side = "right" if band.from_cents < 0 else "left"
    axes.text(band.from_cents, -0.15, shown.replace("-", "−"), fontsize=9, ha=side, va="top", clip_on=False)


def _draw_band(axes: Any, band: Band) -> None:
    from matplotlib.patches import Rectangle

    low, high = max(band.from_cents - 0.5, -SHOWN_CENTS), min(band.to_cents + 0.5, SHOWN_CENTS)
    if low >= high:
        return
    face, hatch = HATCHES[band.meaning]
    axes.add_patch(Rectangle((low, 0), high - low, 1, facecolor=face, hatch=hatch, edgecolor="black", linewidth=0.8))
    if high - low > 30.0:
        box = {"facecolor": "white", "edgecolor": "none", "pad": 2.0}
        axes.text((low + high) / 2, 0.5, MEANING_SAID[band.meaning], fontsize=10, ha="center", va="center", bbox=box)


def _ways(card: StringCard) -> str:
    screw = "no fine tuner" if card.screw is None else f"fine tuner {_way(card.screw)}"
    return f"To raise: {screw}; peg {_way(card.peg)}."


def _way(turn: Turn) -> str:
    seen = "" if turn.top_moves is None else f", top {words.TOP_WORDS[turn.top_moves]}"
    return f"{turn.rotation}{seen}"


def _key(page: Any) -> None:
    page.text(
        LEFT,
        0.085,
        "Black: right, leave it.  White: the fine tuner can still do it.  Hatched: the peg, an adult by.  Crossed: stop and\n"
        "ask; never wind a string up that shows so high. A string that shows nothing near is slack: ask.",
        fontsize=9,
        va="top",
    )

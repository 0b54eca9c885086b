"""Stage 1: names of strings and letters; what a tuner shows, and what it means for this string."""

from collections.abc import Callable

import numpy as np

from pondus.core.instruments import Instrument, StringData
from pondus.core.judgement import words
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.heard import Heard as Shown
from pondus.core.judgement.heard import ShownSide
from pondus.core.pitch.notes import name_of, nearest_note, shift_hz
from pondus.core.practice.questions import Choice, Picture, Question, Setup, shuffled
from pondus.core.practice.verdicts import SIDES, Side, said_of, side_of

Rng = np.random.Generator
OWN_CENTS, LETTER_CENTS = (4.5, 48.0), (62.0, 330.0)


def display(note: str, cents: float) -> str:
    """What stands on a tuner.

    >>> display("C♯4", -7.0)
    'C♯4 −7'
    """
    figure = round(cents)
    return f"{note} {figure:+d}".replace("-", "−") if figure else f"{note} 0"


def names_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Strings; then letters beside them; then two letters on."""
    kinds = (("name",), ("name", "under", "over"), ("under", "over", "two-under"))[level - 1]
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names)


BESIDE = {"under": (-1, "one semitone under"), "over": (1, "one semitone over"), "two-under": (-2, "two semitones under")}


def ask_name(setup: Setup, item: str, rng: Rng) -> Question:
    """Which string is it; which letter comes beside it."""
    kind, name = item.split(":")
    string = setup.instrument.string(name)
    return _name_of_string(setup, item, string, rng) if kind == "name" else _letter_beside(setup, item, string, kind, rng)


def _place_said(instrument: Instrument, string: StringData) -> str:
    """Where it lies among the others.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> violin = INSTRUMENTS["violin"]
    >>> _place_said(violin, violin.string("A"))
    'the second from the thinnest'
    """
    at, last = instrument.strings.index(string), len(instrument.strings) - 1
    if at in (0, last):
        return "the thickest string" if at == 0 else "the thinnest"
    counted = {1: "second", 2: "third"}[min(at, last - at)]
    return f"the {counted} from the {'thickest' if at < last - at else 'thinnest'}"


def _name_of_string(setup: Setup, item: str, string: StringData, rng: Rng) -> Question:
    right = name_of(string.note_number, spelling=setup.spelling)
    others = [name_of(data.note_number, spelling=setup.spelling) for data in setup.instrument.strings if data != string]
    octave = name_of(string.note_number + (12 if rng.uniform() < 0.5 else -12), spelling=setup.spelling)
    return Question(
        item,
        "Which note is the marked string, in tune?",
        _texts([right, octave, *list(rng.permutation(others))[:2]], rng),
        frozenset({right}),
        f"It is {right}, {_place_said(setup.instrument, string)}. The number is its octave; it goes up by one at each C.",
        Picture("strings", string=string.name),
    )


def _letter_beside(setup: Setup, item: str, string: StringData, kind: str, rng: Rng) -> Question:
    step, way = BESIDE[kind]

    def letter(semitones: int) -> str:
        return name_of(string.note_number + semitones, spelling=setup.spelling)

    near = [letter(steps) for steps in (-3, -2, -1, 1, 2, 3) if steps != step]
    turned = "comes up to" if step < 0 else "was turned past"
    return Question(
        item,
        f"Your {string.name} string {turned} {letter(0)}. What does the tuner show {way} it?",
        _texts([letter(step), *list(rng.permutation(near))[:3]], rng),
        frozenset({letter(step)}),
        f"Letters pass in this order: {', '.join(letter(semitones) for semitones in range(-3, 2))}.",
        Picture("strings", string=string.name),
    )


def _texts(texts: list[str], rng: Rng) -> tuple[Choice, ...]:
    return shuffled([Choice(text, text) for text in dict.fromkeys(texts)], rng)


def side_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Its own letter; then other letters too; then near the tolerance and without an octave number."""
    kinds = (("own",), ("own", "letter"), ("letter", "edge", "bare"))[level - 1]
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names)


def ask_side(setup: Setup, item: str, rng: Rng) -> Question:
    """A tuner shows a letter and cents: flat, in tune or sharp?"""
    kind, name = item.split(":")
    off = _off(kind, setup, rng)
    shown, text = _shown(setup, name, off, octave=kind != "bare")
    advice = advise(setup.facts(name), shown)
    answers: tuple[Side, ...] = ("raise", "leave", "lower")
    if side_of(advice) not in answers:
        answers = (*answers, side_of(advice))
    return Question(
        item,
        f"The tuner shows {text} on the {name} string. What does the string want?",
        tuple(SIDES[answer] for answer in answers),
        frozenset({side_of(advice)}),
        _where(setup, advice),
        Picture("tuner", string=name, shows=text),
    )


def _where(setup: Setup, advice: Advice) -> str:
    """Where the string stands, in one plain sentence."""
    if advice.cents_off is None:
        return advice.why
    guess = " The octave isn’t shown; the nearest is taken." if len(advice.candidates) > 1 else ""
    so = {"raise": "bring it up", "lower": "let it down", None: f"within ±{setup.tolerance_cents:g}: leave it"}
    return f"That is {words.off(advice.cents_off)}: {so[advice.pitch]}.{guess}"


def _off(kind: str, setup: Setup, rng: Rng) -> float:
    sign = 1.0 if rng.uniform() < 0.4 else -1.0
    if kind == "edge":
        return sign * setup.tolerance_cents * float(rng.uniform(0.2, 1.9))
    if kind == "letter":
        return sign * float(rng.uniform(*LETTER_CENTS))
    if kind == "bare":
        return sign * float(rng.uniform(20.0, 240.0))
    return sign * float(rng.uniform(*OWN_CENTS)) if rng.uniform() < 0.85 else sign * float(rng.uniform(0.0, 2.4))


def _shown(setup: Setup, name: str, off: float, *, octave: bool = True) -> tuple[Shown, str]:
    """What an equal-tempered tuner shows so far from the target, in whole cents; and as it stands there."""
    facts = setup.facts(name)
    note = nearest_note(shift_hz(facts.target_hz, off), a4=setup.a4)
    said = note.name if octave else note.name.rstrip("0123456789")
    spelled = nearest_note(shift_hz(facts.target_hz, off), a4=setup.a4, spelling=setup.spelling).name
    shown = Shown(note=said, cents=float(round(note.cents)) + 0.0)
    return shown, display(spelled if octave else spelled.rstrip("0123456789"), note.cents)


def far_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Within its own letter; the next letters; further."""
    kinds = (("own",), ("next",), ("next", "far"))[level - 1]
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names)


def ask_far(setup: Setup, item: str, rng: Rng) -> Question:
    """How far is it from where it should be?"""
    kind, name = item.split(":")
    reach = {"own": (8.0, 45.0), "next": (60.0, 145.0), "far": (160.0, 340.0)}[kind]
    off = float(rng.uniform(*reach)) * (1.0 if rng.uniform() < 0.4 else -1.0)
    shown, text = _shown(setup, name, off)
    advice = advise(setup.facts(name), shown)
    assert advice.cents_off is not None and shown.cents is not None
    right = round(advice.cents_off)
    letters = 100 * round(advice.cents_off / 100.0)
    wrong = [shown.cents, letters - shown.cents, right - 2 * letters, -right, right + 100, right - 100]
    figures = dict.fromkeys([right, *(round(answer) for answer in wrong if abs(round(answer) - right) > 3)])
    choices = [Choice(str(figure), words.off(float(figure))) for figure in list(figures)[:4]]
    return Question(
        item,
        f"The tuner shows {text} on the {name} string. How far is it off?",
        shuffled(choices, rng),
        frozenset({str(right)}),
        f"{_where(setup, advice)} From letter to letter it is 100 cents; the figure goes on from there.",
        Picture("tuner", string=name, shows=text),
    )


def trap_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Octaves; other strings; both among true ones."""
    kinds = (("octave", "true"), ("octave", "neighbour", "true"), ("octave", "neighbour", "tritone", "true"))[level - 1]
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names)


def ask_trap(setup: Setup, item: str, rng: Rng) -> Question:
    """Readings that can be believed and readings that can't."""
    kind, name = item.split(":")
    names = setup.instrument.string_names
    if kind == "octave":
        off = 1200.0 + float(rng.uniform(-35.0, 35.0))
    elif kind == "neighbour":
        place = names.index(name)
        other = names[place + 1] if place + 1 < len(names) else names[place - 1]
        off = 700.0 * (1 if place + 1 < len(names) else -1) + float(rng.uniform(-30.0, 30.0))
        assert other != name
    elif kind == "tritone":
        off = -600.0 + float(rng.uniform(-90.0, 90.0))
    else:
        off = -float(rng.uniform(15.0, 260.0)) if rng.uniform() < 0.7 else float(rng.uniform(15.0, 90.0))
    shown, text = _shown(setup, name, off, octave=kind != "tritone")
    advice = advise(setup.facts(name), shown)
    side = side_of(advice)
    return Question(
        item,
        f"You play the {name} string and the tuner shows {text}. What now?",
        tuple(SIDES.values()),
        frozenset({side}),
        said_of(advice) if side in ("again", "other-string") else f"It can be believed. {_where(setup, advice)}",
        Picture("tuner", string=name, shows=text),
    )


def figureless_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Its own letter; other letters; no letter at all."""
    kinds = (("own",), ("own", "letter"), ("own", "letter", "none"))[level - 1]
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names)


def ask_figureless(setup: Setup, item: str, rng: Rng) -> Question:
    """A tuner with no figures: left, middle, right."""
    kind, name = item.split(":")
    sides: tuple[ShownSide, ...] = ("flat", "in-tune", "sharp")
    side = sides[int(rng.integers(3))]
    lamp = {"flat": "left", "in-tune": "middle", "sharp": "right"}[side]
    note: str | None = None
    if kind != "none":
        off = 0.0 if kind == "own" else float(rng.choice([-200.0, -100.0, 100.0]))
        nearest = nearest_note(shift_hz(setup.facts(name).target_hz, off), a4=setup.a4)
        note = nearest.name
    advice = advise(setup.facts(name), Shown(note=note, side=side))
    far = _where(setup, advice) if kind == "letter" else ""
    text = f"{lamp}{'' if note is None else f', {note}'}"
    return Question(
        item,
        f"Your tuner has no figures. On the {name} string it shows {text}. What does the string want?",
        tuple(SIDES[way] for way in ("raise", "leave", "lower")),
        frozenset({side_of(advice)}),
        f"Left is flat, right is sharp of the note that is shown. {far}".strip(),
        Picture("tuner", string=name, shows=text),
    )


Ask = Callable[[Setup, str, Rng], Question]
Items = Callable[[Setup, int], tuple[str, ...]]

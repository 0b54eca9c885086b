"""A reading as a teacher types it off a tuner.

``-12`` is 12 cents flat of the string's own note; ``A3 +5`` and ``Bb3-7`` name a note; ``440.2 Hz`` is a frequency. A true
minus sign and a comma for the decimal point are taken too. Tuners without figures show a side: ``flat``, ``in tune``,
``sharp``, alone or after a note with its octave (``A4 flat``), or a note and no more (``A4``). An ear beside the string's tone
says ``much lower``, ``lower``, ``same``, ``higher`` or ``much higher``.
"""

import re
from collections.abc import Sequence

from pondus.core.errors import BadInput
from pondus.core.instruments import StringData
from pondus.core.judgement.heard import Heard, ShownSide, check_heard
from pondus.core.pitch.note_names import to_letters
from pondus.core.pitch.notes import DISPLAY_LIMIT_CENTS, Spelling, cents_between, name_of, nearest_note, parse_note, shift_hz

HARMONIC_WITHIN_CENTS = 250.0
NOT_READ = ("x", "?", "-", "–")

_NUMBER = r"([+-]?\s*(?:\d+(?:\.\d*)?|\.\d+))"
_OF_CENTS = r"(?:c|ct|cents?|¢)?"
_HZ = re.compile(rf"^{_NUMBER}\s*(?:hz|hertz)$", re.IGNORECASE)
_CENTS = re.compile(rf"^{_NUMBER}\s*{_OF_CENTS}$", re.IGNORECASE)
SIDES: dict[str, ShownSide] = {
    "flat": "flat", "low": "flat", "left": "flat",
    "in tune": "in-tune", "ok": "in-tune", "middle": "in-tune",
    "sharp": "sharp", "high": "sharp", "right": "sharp",
    "much lower": "much-lower", "lower": "lower", "same": "same", "the same": "same", "higher": "higher",
    "too far": "higher", "much higher": "much-higher",
}  # fmt: skip
"""How people say what a tuner without figures shows."""
_SAID = "|".join(SIDES).replace(" ", "[ -]")
_SIDE = re.compile(rf"^(?:([A-Ga-g](?:[#♯b♭])?[0-9]?)\s+)?({_SAID})$", re.IGNORECASE)
_NOTE = re.compile(rf"^([A-Ga-g][#♯b♭]?[0-9]?)\s*(?:{_NUMBER}\s*{_OF_CENTS})?$", re.IGNORECASE)
_SO_MUCH = re.compile(rf"^(?:([A-Ga-g][#♯b♭]?[0-9]?)\s+)?{_NUMBER}\s*{_OF_CENTS}\s*(flat|low|sharp|high)$", re.IGNORECASE)
"""A figure and its side in words: ``12 flat``, ``A4 12 cents sharp``."""


def parse_typed(text: str, string: StringData, *, spelling: Spelling = "sharps") -> Heard:
    """The reading a line of typing means; notes are called as ``spelling`` has it. Raises BadInput naming the text.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> g = INSTRUMENTS["violin"].string("G")
    >>> parse_typed("-12", g)
    Heard(note='G3', cents=-12.0, hz=None, side=None)
    >>> parse_typed("flat", g).side, parse_typed("G3 in tune", g).side, parse_typed("F#3", g).is_bare
    ('flat', 'in-tune', True)
    >>> parse_typed("much lower", g).side, parse_typed("same", g).side
    ('much-lower', 'same')
    >>> parse_typed("a3+5", g).note, parse_typed("Bb3 −7", g).cents, parse_typed("195.3 Hz", g).hz
    ('A3', -7.0, 195.3)
    >>> parse_typed("12 flat", g).cents, parse_typed("A3 7 sharp", g).cents, parse_typed("-.5¢", g).cents
    (-12.0, 7.0, -0.5)
    >>> parse_typed("g' +5", g).note, parse_typed("H3", g, spelling="german").note, parse_typed("196 hertz", g).hz
    ('G4', 'B3', 196.0)
    >>> parse_typed("63", g)
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: “63” is past ±50 cents; add the note the tuner shows (as in A3 +13), or Hz after a frequency.
    """
    plain = _plain(to_letters(text, spelling=spelling))
    if not plain:
        raise BadInput("typed", "Type what the tuner shows: cents as in -12, a note as in A3 +5, or 440.2 Hz.")
    if match := _HZ.match(plain):
        return check_heard(Heard(hz=_figure(match[1])))
    if match := _CENTS.match(plain):
        cents = _figure(match[1])
        if abs(cents) > DISPLAY_LIMIT_CENTS:
            raise BadInput(
                "typed",
                f"“{text.strip()}” is past ±50 cents; add the note the tuner shows (as in A3 +13), or Hz after a frequency.",
            )
        return Heard(note=name_of(string.note_number), cents=cents)
    if match := _NOTE.match(plain):
        return check_heard(Heard(note=_note(match[1]), cents=_figure(match[2]) if match[2] else None))
    if match := _SO_MUCH.match(plain):
        return _by_so_much(text, plain, match, string)
    if match := _SIDE.match(plain):
        return _by_side(text, match[1], SIDES[match[2].lower().replace("-", " ")])
    raise BadInput(
        "typed",
        f"“{text.strip()}” is not a reading; type cents as in -12, a note as in A3 +5 or Bb3, 440.2 Hz, or flat, in tune,"
        " sharp; by ear: much lower, lower, same, higher.",
    )


def _plain(text: str) -> str:
    return text.strip().replace("−", "-").replace("–", "-").replace(",", ".")


def _by_so_much(text: str, plain: str, match: re.Match[str], string: StringData) -> Heard:
    """A figure whose side stands in words. A sign that says the other side is not guessed at. Raises BadInput."""
    cents, way = _figure(match[2]), SIDES[match[3].lower()]
    if (cents < 0 and way == "sharp") or ("+" in match[2] and way == "flat"):
        raise BadInput("typed", f"“{text.strip()}” says both sides; type -12, or 12 flat.")
    size = abs(cents) if way == "sharp" else -abs(cents)
    note = match[1] or name_of(string.note_number)
    return parse_typed(f"{note} {size:+g}", string)


def _note(text: str) -> str:
    return text[0].upper() + text[1:].replace("B", "b")


def _by_side(text: str, note: str | None, side: ShownSide) -> Heard:
    """A side, perhaps of a note. "A flat" may be the note A♭, and isn't guessed at. Raises BadInput."""
    if note is not None and len(note) == 1 and side != "in-tune":
        sign, way = ("b", "flat") if side == "flat" else ("#", "sharp")
        raise BadInput(
            "typed",
            f"“{text.strip()}” may be the note {note.upper()}{sign}, or {note.upper()} a little {way}: type"
            f" {note.upper()}{sign} for the note, or {way} alone for the side.",
        )
    return check_heard(Heard(note=None if note is None else _note(note), side=side))


def parse_sweep_line(text: str, strings: Sequence[StringData], *, spelling: Spelling = "sharps") -> dict[str, Heard]:
    """All strings of an instrument in one line: figures in the order of ``strings``, or each after its string's letter.
    A dash for a string that isn't read. Raises BadInput naming what can't be read.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> violin = INSTRUMENTS["violin"].strings
    >>> {name: heard.cents for name, heard in parse_sweep_line("-12 3 0 x", violin).items()}
    {'G': -12.0, 'D': 3.0, 'A': 0.0}
    >>> {name: (heard.note, heard.cents) for name, heard in parse_sweep_line("A -4, G: F#3+20", violin).items()}
    {'A': ('A4', -4.0), 'G': ('F#3', 20.0)}
    """
    named = _by_letter(text, strings, spelling=spelling)
    if named is not None:
        return named
    parts = re.split(r"[\s;/]+", text.strip().replace("−", "-").replace("–", "-"))
    parts = [part.strip(",") for part in parts if part.strip(",")]
    if len(parts) != len(strings):
        order = " ".join(string.name for string in strings)
        raise BadInput(
            "typed",
            f"“{text.strip()}” holds {len(parts)} of {len(strings)} readings; type them in the order {order}, as in"
            f" -12 3 0 -5, x for one not read, or each after its letter, as in {strings[0].name} -12.",
        )
    return {
        string.name: parse_typed(part, string, spelling=spelling)
        for string, part in zip(strings, parts, strict=True)
        if part.lower() not in NOT_READ
    }


def _by_letter(text: str, strings: Sequence[StringData], *, spelling: Spelling) -> dict[str, Heard] | None:
    """``A -4, G: F#3+20``: each reading after its string; None where the line isn't of that form."""
    letters = "".join(string.name for string in strings)
    pieces = re.findall(
        rf"(?:^|[\s,;])([{letters}])\s*[:=]?\s+([^,;]*?)(?=$|[,;]|\s+[{letters}]\s*[:=]?\s+[+\-−–\dA-G])", text.strip()
    )
    if not pieces:
        return None
    by_name = {string.name: string for string in strings}
    readings: dict[str, Heard] = {}
    for name, reading in pieces:
        if name in readings:
            raise BadInput("typed", f"The {name} string is there twice; type each once.")
        if reading.strip().lower() not in NOT_READ:
            readings[name] = parse_typed(reading, by_name[name], spelling=spelling)
    return readings


def parse_typed_harmonic(text: str, *, near_hz: float, a4: float, field: str) -> float:
    """The frequency in Hz of a harmonic as typed: cents of the note nearest to where it should sound, a note, or Hz.

    Raises BadInput naming the text, also for a pitch more than 250 cents from there.

    >>> round(parse_typed_harmonic("-2", near_hz=440.0, a4=440.0, field="twelfth"), 2)
    439.49
    >>> parse_typed_harmonic("441 Hz", near_hz=440.0, a4=440.0, field="twelfth")
    441.0
    """
    note = nearest_note(near_hz, a4=a4).name
    plain = text.strip().replace("−", "-").replace("–", "-").replace(",", ".")
    if match := _HZ.match(plain):
        hz = _figure(match[1])
    elif (match := _CENTS.match(plain)) and abs(_figure(match[1])) <= DISPLAY_LIMIT_CENTS:
        hz = shift_hz(parse_note(note).hz(a4=a4), _figure(match[1]))
    elif (match := _NOTE.match(plain)) and match[1][-1].isdigit():
        hz = shift_hz(parse_note(match[1], field=field).hz(a4=a4), _figure(match[2]) if match[2] else 0.0)
    else:
        raise BadInput(field, f"“{text.strip()}” is not a reading; type cents as in -2, a note as in {note} -2, or Hz.")
    if not hz > 0.0 or abs(cents_between(hz, near_hz)) > HARMONIC_WITHIN_CENTS:
        raise BadInput(
            field,
            f"“{text.strip()}” is far from {note}, where this harmonic sounds; touch the string where it is named, and read"
            " it again.",
        )
    return hz


def _figure(text: str) -> float:
    return float(text.replace(" ", ""))

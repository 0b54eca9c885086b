"""Words that people write into their lists, in English, German and French, and what each means."""

import re
from collections.abc import Mapping
from difflib import get_close_matches
from typing import TypeVar

from pondus.core.errors import BadWord

_Meaning = TypeVar("_Meaning")


def _table(words_of: Mapping[_Meaning, str]) -> dict[str, _Meaning]:
    """What each word means; the words of each meaning stand in one line."""
    return {word: meaning for meaning, words in words_of.items() for word in words.split()}


KINDS = _table(
    {
        "violin": "violin violine violino violon geige fiddle vn vln vl vni vlns viol.",
        "viola": "viola bratsche alto va vla vlas br",
        "cello": "cello violoncello violoncelle celli vc vcl vlc vcs cellos",
    }
)
ROLES = _table(
    {
        "player": "player student pupil schüler schülerin élève eleve child kind",
        "helper": "helper staff assistant helfer helferin aide parent",
        "teacher": "teacher lehrer lehrerin professeur prof coach",
    }
)
_SIZES: Mapping[str, str] = {
    **{"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8"},
    **{"0.5": "1/2", "0.25": "1/4", "0.75": "3/4", "0.125": "1/8", "1": "4/4", "1/1": "4/4"},
    **{"full": "4/4", "whole": "4/4", "ganze": "4/4", "entier": "4/4"},
    **{"half": "1/2", "halbe": "1/2", "demi": "1/2", "quarter": "1/4", "viertel": "1/4", "eighth": "1/8"},
    **{"three quarter": "3/4", "three quarters": "3/4", "three-quarter": "3/4", "dreiviertel": "3/4"},
}
_FRACTIONS = frozenset({"4/4", "3/4", "7/8", "1/2", "1/4", "1/8", "1/10", "1/16"})
MONTHS = _table(
    {
        1: "jan january januar jänner janvier janv",
        2: "feb february februar février fevrier févr",
        3: "mar march märz mrz mars maerz",
        4: "apr april avril avr",
        5: "may mai",
        6: "jun june juni juin",
        7: "jul july juli juillet juil",
        8: "aug august août aout",
        9: "sep sept september septembre",
        10: "oct october okt oktober octobre",
        11: "nov november novembre",
        12: "dec december dez dezember décembre decembre",
    }
)
_MADE_A_DATE = (
    re.compile(r"^(?P<one>\d{1,2})[.\-/ ]+(?P<two>[^\W\d]+)\.?(?:[\-/ ]\d{2,4})?$"),
    re.compile(r"^(?P<two>[^\W\d]+)[\-/ ](?P<one>\d{1,2})$"),
    re.compile(r"^(?P<one>\d{1,2})[./](?P<two>\d{1,2})[./]\d{4}$"),
    re.compile(r"^\d{4}-(?P<two>\d{1,2})-(?P<one>\d{1,2})$"),
)
INCH_CM = 2.54


def kind_of(text: str) -> str:
    """The kind that a cell names. Raises BadInput, with a guess where a letter or two are wrong.

    >>> kind_of("Geige"), kind_of("vcl"), kind_of("Vn.")
    ('violin', 'cello', 'violin')
    >>> kind_of("voilin")
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadWord: “voilin” is no violin, viola or cello; did you mean violin?
    """
    return _meant(text, KINDS, "kind", "no violin, viola or cello")


def role_of(text: str) -> str:
    """The role that a cell names. Raises BadInput, with a guess where a letter or two are wrong.

    >>> role_of("Schülerin"), role_of("Pupil")
    ('player', 'player')
    """
    return _meant(text, ROLES, "role", f"no role; there are {', '.join(dict.fromkeys(ROLES.values()))}")


def _meant(text: str, words: Mapping[str, str], field: str, isnt: str) -> str:
    plain = text.strip().casefold()
    found = words.get(plain, words.get(plain.rstrip(".")))
    if found is not None:
        return found
    near = get_close_matches(plain, [word for word in words if len(word) > 3], n=1, cutoff=0.75)
    said = f"“{text.strip()}” is {isnt}" + (f"; did you mean {words[near[0]]}?" if near else "")
    raise BadWord(field, said, word=text.strip(), choices=tuple(dict.fromkeys(words.values())))


def size_of(text: str) -> str | None:
    """A size as the instruments name it; None: none is given. What a spreadsheet took for a date is read back.

    >>> size_of("3/4 size"), size_of("½"), size_of("0,5"), size_of("15,5"), size_of("38 cm"), size_of('16"')
    ('3/4', '1/2', '1/2', '15.5', '15', '16')
    >>> size_of("1. Feb"), size_of("2-Jan"), size_of("04-Mar"), size_of("03.04.2026"), size_of("2026-08-01")
    ('1/2', '1/2', '3/4', '3/4', '1/8')
    """
    plain = re.sub(r"\s+", " ", text.strip().casefold())
    plain = re.sub(r"(?<=\d),(?=\d)", ".", plain)
    plain = re.sub(r"\s*(?:size|grösse|größe|taille|″|”|\"|in|inch|inches|zoll)$", "", plain)
    if not plain:
        return None
    centimetres = re.fullmatch(r"(\d+(?:\.\d+)?) ?cm", plain)
    if centimetres is not None:
        return f"{round(2.0 * float(centimetres[1]) / INCH_CM) / 2.0:g}"
    return _SIZES.get(plain) or _from_date(plain) or plain


def _from_date(plain: str) -> str | None:
    """The fraction that became this date, whichever way round the spreadsheet reads; None where none did."""
    for pattern in _MADE_A_DATE:
        match = pattern.match(plain)
        if match is None:
            continue
        one, two = int(match["one"]), MONTHS.get(match["two"]) or (int(match["two"]) if match["two"].isdigit() else 0)
        fraction = next((spelling for spelling in (f"{one}/{two}", f"{two}/{one}") if spelling in _FRACTIONS), None)
        if fraction is not None:
            return fraction
    return None

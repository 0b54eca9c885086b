"""How tunings are done, as it is set: for one tuning, for an instrument, or for the studio."""

from collections.abc import Callable, Mapping
from typing import Any, get_args

from pondus.core.errors import BadInput
from pondus.core.instruments import Instrument
from pondus.core.instruments.holds import HOLDS
from pondus.core.instruments.targets import check_fifth_cents
from pondus.core.judgement.approaches import check_approach
from pondus.core.judgement.habits import check_habits
from pondus.core.judgement.situation import Turning, Who, check_stance, check_tolerance
from pondus.core.judgement.string_order import StringOrder
from pondus.core.pitch.notes import Spelling, check_a4
from pondus.core.upkeep.care import check_life_months

_CHOICES: dict[str, tuple[str, ...]] = {
    "who": get_args(Who),
    "spelling": get_args(Spelling),
    "order": get_args(StringOrder),
    "turning": get_args(Turning),
    "stance": tuple(HOLDS),
}


def check_settings(given: Mapping[str, Any], *, instrument: Instrument | None = None) -> dict[str, Any]:
    """Settings by their names, checked; a hold against the instrument, where one is meant.

    Raises BadInput for a value that can't be, or a name there isn't.

    >>> check_settings({"a4": 442.0, "order": "A-outward"})
    {'a4': 442.0, 'order': 'A-outward'}
    """
    for name, value in given.items():
        _check(name, value)
    if instrument is not None and given.get("stance") is not None:
        check_stance(instrument, given["stance"])
    return dict(given)


def _check(name: str, value: Any) -> None:
    if name in _CHOICES:
        if value not in _CHOICES[name]:
            raise BadInput(name, f"{name} = “{value}” is not one of the choices: {', '.join(_CHOICES[name])}.")
    elif name in _FIGURES:
        if not isinstance(value, int | float) or isinstance(value, bool):
            raise BadInput(name, f"{name} = “{value}” isn't a figure.")
        _FIGURES[name](float(value))
    elif name in _OTHERS:
        _OTHERS[name](value)
    else:
        raise BadInput(name, f"There is no setting “{name}”.")


def _habits(value: Any) -> None:
    if not isinstance(value, list | tuple):
        raise BadInput("habits", "Habits are a list of names.")
    check_habits(value)


def _of_today(value: Any) -> None:
    if not isinstance(value, dict) or set(value) != {"day", "a4"}:
        raise BadInput("a4_today", "The A of a day holds a day and its a4.")
    check_a4(float(value["a4"]))


_OTHERS: dict[str, Callable[[Any], object]] = {
    "habits": _habits,
    "approach": lambda value: check_approach(str(value)),
    "a4_today": _of_today,
    "zone": str,
}
_FIGURES: dict[str, Callable[[float], float]] = {
    "a4": check_a4,
    "fifth_cents": check_fifth_cents,
    "tolerance_cents": check_tolerance,
    "string_life_months": check_life_months,
}

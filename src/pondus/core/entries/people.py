"""People of the studio, as they are entered."""

from collections.abc import Collection
from dataclasses import dataclass

from pondus.core.entries.texts import LABEL_LETTERS, NOTE_LETTERS, check_text
from pondus.core.errors import BadInput
from pondus.core.group.people import ROLES, Role, check_cleared

SLOWEST_PACE = 20.0


@dataclass(frozen=True)
class PersonEntry:
    """Someone of the roll. ``cleared``: stages, 1 to 7; ``pace``: times as long as a practised hand, None: as usual."""

    name: str
    role: Role = "player"
    cleared: tuple[int, ...] = ()
    pace: float | None = None
    note: str = ""


def person_entry(
    *, name: str, role: str = "player", cleared: Collection[int] = (), pace: float | None = None, note: str = ""
) -> PersonEntry:
    """A person, checked. Raises BadInput.

    >>> person_entry(name=" Ida ", cleared=[2, 1]).cleared
    (1, 2)
    """
    return PersonEntry(
        check_name(name),
        check_role(role),
        tuple(check_cleared(cleared)),
        None if pace is None else check_pace(pace),
        check_text(note, field="note", most=NOTE_LETTERS),
    )


def check_name(name: str) -> str:
    """A name, or initials. Raises BadInput."""
    return check_text(name, field="name", most=LABEL_LETTERS, needed=True)


def check_role(role: str) -> Role:
    """A role there is. Raises BadInput."""
    known = next((one for one in ROLES if one == role), None)
    if known is None:
        raise BadInput("role", f"“{role}” isn't a valid role; choose from {', '.join(ROLES)}.")
    return known


def check_pace(pace: float) -> float:
    """How many times as long as a practised hand. Raises BadInput."""
    if not 0.0 < pace < SLOWEST_PACE:
        raise BadInput("pace", f"A pace of {pace:g} can't be right; 1 is a practised hand, 2 takes twice as long.")
    return pace

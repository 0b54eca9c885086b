"""Who may turn what: staff by their role, players by the stages of tuning a teacher has cleared them for.

The stages follow a player's way: 1 names the strings and reads flat and sharp, 2 and 3 fine tuners (plucking, bowing),
4 pegs with an adult beside, 5 pegs alone, 6 fifths by ear, 7 harmonics and the ensemble's reference.
"""

from collections.abc import Collection
from typing import Literal

from pondus.core.errors import BadInput
from pondus.core.group.jobs import Clearance
from pondus.core.judgement.situation import Who

Role = Literal["teacher", "helper", "player"]
ROLES: tuple[Role, ...] = ("teacher", "helper", "player")
STAGES: dict[int, str] = {
    1: "names the strings, reads flat and sharp",
    2: "fine tuners with a tuner, plucking",
    3: "fine tuners while bowing",
    4: "pegs with an adult",
    5: "pegs alone",
    6: "fifths by ear from A alone",
    7: "harmonics, ensemble reference, before stage",
}
SCREWS_FROM, PEGS_FROM = 2, 5


def check_cleared(cleared: Collection[int]) -> list[int]:
    """Stages in order, each once. Raises BadInput for one there isn't.

    >>> check_cleared([3, 1, 3])
    [1, 3]
    """
    wrong = next((stage for stage in cleared if stage not in STAGES), None)
    if wrong is not None:
        raise BadInput("cleared", f"There is no stage {wrong}; stages go from 1 to {len(STAGES)}.")
    return sorted(set(cleared))


def stage_at(cleared: Collection[int]) -> int | None:
    """The stage someone is at: the first they aren't cleared for; None: cleared for all.

    >>> stage_at([1, 2]), stage_at([]), stage_at(STAGES)
    (3, 1, None)
    """
    return next((stage for stage in STAGES if stage not in cleared), None)


def may_turn(role: Role, cleared: Collection[int]) -> Clearance | None:
    """What someone may turn on their own; None: nothing yet. Pegs with an adult beside are not on one's own.

    >>> may_turn("teacher", []), may_turn("helper", []), may_turn("player", [1, 2, 4]), may_turn("player", [1])
    ('teacher', 'pegs', 'fine-tuners', None)
    """
    if role != "player":
        return "teacher" if role == "teacher" else "pegs"
    if any(stage >= PEGS_FROM for stage in cleared):
        return "pegs"
    return "fine-tuners" if any(stage >= SCREWS_FROM for stage in cleared) else None


def advised_as(role: Role | None, may: Clearance) -> Who:
    """Whom the advice speaks to: a player with pegs is still a student. ``role`` None: someone not on the roll.

    >>> advised_as("player", "pegs"), advised_as("helper", "pegs"), advised_as(None, "fine-tuners")
    ('student-pegs', 'adult', 'student-fine-tuners')
    """
    if may == "teacher":
        return "teacher"
    if may == "fine-tuners":
        return "student-fine-tuners"
    return "student-pegs" if role == "player" else "adult"

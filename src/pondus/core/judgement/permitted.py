"""Who may turn what, in which state of string and instrument: one table, asked by all that gives a turn or plans one.

Rules R45, R84, R85, R86, R116. A row says when it applies, what follows, and why in words that follow the string's name.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from pondus.core.instruments.mechanics import is_violin_e
from pondus.core.judgement.situation import Situation

Permission = Literal["may", "fetch", "luthier"]
Means = Literal["fine-tuner", "peg", "tug"]


@dataclass(frozen=True)
class Wanted:
    """What is wanted of a string: by which means, and whether it is slack."""

    means: Means
    slack: bool = False


@dataclass(frozen=True)
class Row:
    """One row. ``needs``: the clause that a student is sent away with, as in "The G …: take it to your teacher"."""

    applies: Callable[[Situation, Wanted], bool]
    permission: Permission
    needs: str


TABLE: tuple[Row, ...] = (
    Row(lambda facts, _: facts.bridge in ("moved", "fallen"), "luthier", "stands over a bridge that doesn't stand"),
    Row(lambda facts, wanted: facts.is_student and wanted.slack, "fetch", "slack: only an adult may bring it up"),
    Row(
        lambda facts, wanted: facts.is_student and facts.far_down_together,
        "fetch",
        "is one of several that are far down: only an adult may bring them up",
    ),
    Row(lambda facts, _: facts.is_student and facts.bridge == "leans", "fetch", "stands under a bridge that leans"),
    Row(
        lambda facts, wanted: facts.is_student and wanted.means == "peg" and facts.peg.state == "sticks",
        "fetch",
        "has a peg that sticks",
    ),
    Row(
        lambda facts, wanted: "slack-to-teacher" in facts.habits and facts.who != "teacher" and wanted.slack,
        "fetch",
        "is slack: a teacher brings it up",
    ),
    Row(
        lambda facts, wanted: (
            "e-screw-only" in facts.habits
            and facts.who != "teacher"
            and wanted.means == "peg"
            and is_violin_e(facts.instrument, facts.string)
        ),
        "fetch",
        "needs its peg, and that is a teacher’s",
    ),
    Row(lambda facts, wanted: facts.who == "student-fine-tuners" and wanted.means == "peg", "fetch", "needs its peg"),
)
MAY = Row(lambda *_: True, "may", "")


def permitted(facts: Situation, wanted: Wanted) -> Row:
    """The first row that applies.

    >>> from dataclasses import replace
    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.judgement.situation import FineTuner, Peg, situation
    >>> g = situation(INSTRUMENTS["violin"], "G", fine_tuner=FineTuner(), peg=Peg(), who="student-pegs")
    >>> permitted(g, Wanted("peg")).permission, permitted(g, Wanted("peg", slack=True)).permission
    ('may', 'fetch')
    >>> permitted(replace(g, far_down_together=True), Wanted("fine-tuner")).permission
    'fetch'
    >>> permitted(replace(g, who="student-fine-tuners"), Wanted("peg")).needs
    'needs its peg'
    """
    return next((row for row in TABLE if row.applies(facts, wanted)), MAY)

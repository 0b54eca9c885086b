"""Who and what there is at the string camp on Tern Island: loan instruments, staff, players. All made up."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from pondus.core.group.people import Role
from pondus.core.instruments import Kind

PURE = 701.955


@dataclass(frozen=True)
class Loan:
    """One loan instrument: fittings per string where they aren't the usual, string age, who has it, hours played a week.
    ``heard_today``: what the tuner showed this morning.
    """

    label: str
    kind: Kind
    size: str
    player: str | None = None
    note: str = ""
    age_days: int = 160
    hours: float | None = None
    fifth_cents: float | None = None
    fittings: dict[str, dict[str, Any]] = field(default_factory=dict)
    heard_today: dict[str, tuple[str, float]] = field(default_factory=dict)


@dataclass(frozen=True)
class Member:
    """Someone at the camp."""

    name: str
    role: Role = "player"
    cleared: tuple[int, ...] = ()


_studio: ContextVar[str] = ContextVar("studio", default="")


@contextmanager
def ids_of(studio: str) -> Iterator[None]:
    """Meanwhile the demo's ids are those of this studio: two demos have no id in common. Empty: those of a demo for a test."""
    before = _studio.set(studio)
    try:
        yield
    finally:
        _studio.reset(before)


def demo_id(name: str) -> UUID:
    """The same id each time a studio's demo is built, so that building it again adds nothing."""
    studio = _studio.get()
    return uuid5(NAMESPACE_URL, f"pondus:demo:{studio}:{name}" if studio else f"pondus:demo:{name}")


PEOPLE = (
    Member("Maren", "teacher"),
    Member("Joost", "helper"),
    Member("Wibke", "helper"),
    Member("Ida", cleared=(1, 2, 3)),
    Member("Tjark", cleared=(1, 2, 3, 4, 5)),
    Member("Lene", cleared=(1, 2)),
    Member("Pelle", cleared=(1,)),
    Member("Runa", cleared=(1, 2, 3, 4)),
    Member("Oskar", cleared=(1, 2)),
    Member("Fenja", cleared=(1, 2, 3)),
    Member("Silas", cleared=(1,)),
    Member("Berit", cleared=(1, 2, 3, 4, 5, 6)),
    Member("Nils", cleared=(1, 2)),
    Member("Alva", cleared=(1, 2, 3)),
    Member("Hanno", cleared=(1, 2, 3, 4)),
    Member("Greta", cleared=(1, 2)),
    Member("Momme"),
    Member("Svea", cleared=(1, 2, 3, 4, 5, 6, 7)),
    Member("Ole", cleared=(1, 2, 3)),
    Member("Thyra", cleared=(1, 2, 3, 4, 5)),
)

LOANS = (
    Loan(
        "Sandpiper", "violin", "4/4", "Ida", hours=3.5,
        heard_today={"A": ("A4", -12.0), "D": ("D4", -6.0), "G": ("F♯3", 22.0), "E": ("E5", 1.0)},
    ),
    Loan("Godwit", "violin", "4/4", "Berit", "Quartet, first violin: pure fifths", hours=7.0, fifth_cents=PURE),
    Loan("Redshank", "violin", "4/4", "Thyra", "Quartet, second violin: pure fifths", hours=6.0, fifth_cents=PURE),
    Loan(
        "Plover", "violin", "3/4", "Lene", age_days=420, hours=2.0,
        heard_today={"A": ("A4", 1.0), "D": ("D4", -2.0), "G": ("G3", 2.0), "E": ("E5", -1.0)},
    ),
    Loan("Whimbrel", "violin", "3/4", "Oskar", age_days=255),
    Loan("Knot", "violin", "3/4", "Fenja", fittings={"D": {"peg_state": "slips"}, "G": {"peg_state": "slips"}}),
    Loan(
        "Turnstone", "violin", "1/2", "Pelle",
        fittings={"G": {"peg_state": "slips"}, "D": {"has_fine_tuner": False}},
        heard_today={"A": ("A4", -9.0), "D": ("D4", -2.0), "G": ("B2", 12.0), "E": ("E5", 3.0)},
    ),
    Loan("Sanderling", "violin", "1/2", "Nils"),
    Loan("Lapwing", "violin", "1/2", "Greta", age_days=270),
    Loan(
        "Dunlin", "violin", "1/4", "Silas", fittings={"A": {"screw_turns": 3.6}},
        heard_today={"A": ("A4", 14.0), "D": ("D4", -7.0), "G": ("G3", -11.0), "E": ("E5", 6.0)},
    ),
    Loan("Stint", "violin", "1/4", "Momme"),
    Loan("Ruff", "violin", "1/8", None, "Spare"),
    Loan("Oystercatcher", "viola", "16", "Svea", "Quartet, viola: pure fifths", hours=7.0, fifth_cents=PURE),
    Loan(
        "Avocet", "viola", "15", "Runa", fittings={"C": {"winding": "reversed"}, "G": {"core": "synthetic"}},
        heard_today={"A": ("A4", -6.0), "D": ("D4", -8.0), "G": ("F♯3", 40.0), "C": ("C3", -4.0)},
    ),
    Loan("Greenshank", "viola", "15", "Alva", age_days=300),
    Loan("Curlew", "viola", "14", "Ole", fittings={name: {"peg_kind": "geared"} for name in "CGDA"}),
    Loan("Phalarope", "viola", "13", None, "Spare"),
    Loan("Gannet", "cello", "4/4", "Hanno", "Quartet, cello: pure fifths", hours=5.0, fifth_cents=PURE),
    Loan(
        "Eider", "cello", "4/4", "Tjark", fittings={"C": {"screw_turns": 4.0}, "G": {"peg_state": "sticks"}},
        heard_today={"A": ("A3", 2.0), "D": ("D3", 8.0), "C": ("C2", -30.0)},
    ),
    Loan(
        "Shelduck", "cello", "3/4", None, fittings={name: {"has_fine_tuner": False} for name in "CG"},
        heard_today={"A": ("A3", -2.0), "D": ("D3", 5.0), "G": ("G2", -22.0), "C": ("C2", -16.0)},
    ),
    Loan("Fulmar", "cello", "3/4", None, age_days=200),
    Loan("Guillemot", "cello", "1/2", None),
    Loan("Petrel", "cello", "1/2", None, age_days=380),
    Loan("Snipe", "cello", "1/4", None, "Spare"),
)  # fmt: skip

"""A simulated violin, viola or cello: what is true of it and how it stands now. The advice never sees either.

Tension is relative: 1 is the string's tension at its tempered pitch at A4 = 440 Hz, so that ``cents = 600 log2(tension)``.
True values are drawn around the physics of `mechanics` (full spread there is the prior's), friction and catching around
what student instruments show. Everything follows from the seed: the same seed and the same actions give the same
instrument. Nothing here is mutable; `turning` and `weather` make the next state from the last.
"""

import math
from dataclasses import asdict, dataclass, field, replace
from typing import Any, Literal

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.instruments import Instrument, StringCore, instrument_named
from pondus.core.instruments.mechanics import GEAR_RATIO, breaking_point_cents, peg_rate, screw_rate
from pondus.core.instruments.targets import targets_hz
from pondus.core.judgement.situation import PegKind, PegState, Winding
from pondus.core.pitch.notes import shift_hz
from pondus.core.upkeep.climate import DAMP_ABOVE, DRY_BELOW

BridgeState = Literal["up", "fallen"]
PER_CENT = math.log(2.0) / 600.0
"""Relative tension that one cent needs at pitch."""
LEAST_TENSION = 0.02
SCREW_SPREAD, PEG_SPREAD = 0.20, 0.28
NEIGHBOUR_COUPLING, JUMP_DEGREES = (-0.04, -0.02), (0.5, 2.0)
CATCHES, SPRINGS_BACK = (0.0, 0.08), 0.05
BREAKS_SPREAD = 0.08
NEW_STRING_DAYS = 7.0
NEW_STRETCH_CENTS = (40.0, 110.0)
FALLS_BELOW_TENSION = 0.5
"""Of all four strings together: with less the bridge has nothing to stand by."""
FALLS_AT_LEAN_DEGREES, LEANS_VISIBLY_DEGREES = 7.0, 2.0
COMFORTABLE_HUMIDITY, COMFORTABLE_CELSIUS = 50.0, 20.0


@dataclass(frozen=True)
class TrueString:
    """What is true of one string and its fittings, for good.

    ``cents_per_turn`` and ``cents_per_degree`` at pitch (None: no screw). ``jump_degrees`` is the least the peg moves.
    ``catches``: the share of a change of tension that nut and bridge hold back. ``breaks_at_cents`` above target.
    ``flattens_per_celsius`` cents as it warms; ``drifts_cents`` the spread of a night.
    """

    name: str
    target_hz: float
    cents_per_turn: float | None
    reach_turns: float
    cents_per_degree: float
    peg_kind: PegKind
    winding: Winding
    jump_degrees: float
    catches: float
    breaks_at_cents: float
    flattens_per_celsius: float
    drifts_cents: float


@dataclass(frozen=True)
class StringNow:
    """How a string stands. ``held`` is tension that nut and bridge hold back, let go by a tug or a loud note.
    ``stretch_left_cents``: how much flatter a new string will still go.
    """

    tension: float
    screw_turns: float = 0.0
    held: float = 0.0
    stretch_left_cents: float = 0.0
    broken: bool = False


@dataclass(frozen=True)
class Wood:
    """One simulated instrument. ``pull[moved][other]``: cents of the other per cent of the moved one. ``step`` counts what
    was done to it; with ``seed`` it decides the next chance.
    """

    kind: str
    size: str
    seed: int
    true: dict[str, TrueString]
    pull: dict[str, dict[str, float]]
    leans_per_cent: float
    now: dict[str, StringNow]
    lean_degrees: float = 0.0
    bridge: BridgeState = "up"
    humidity: float = COMFORTABLE_HUMIDITY
    celsius: float = COMFORTABLE_CELSIUS
    step: int = 0
    events: tuple[str, ...] = field(default=())

    @property
    def instrument(self) -> Instrument:
        """The kind of instrument it is."""
        return instrument_named(self.kind)

    def chance(self) -> np.random.Generator:
        """The chance of the next thing that happens to it."""
        return np.random.default_rng([self.seed, self.step])

    def cents_off(self, name: str) -> float:
        """Where a string truly stands, in cents from its tempered pitch at 440 Hz.

        Raises BadInput for a string that isn't there or is broken.
        """
        return cents_of(self.string(name).tension)

    def hz(self, name: str) -> float:
        """The string's true frequency in Hz."""
        return shift_hz(self.true[name].target_hz, self.cents_off(name))

    def string(self, name: str) -> StringNow:
        """A string that can be turned and played. Raises BadInput."""
        if name not in self.now:
            raise BadInput("string", f"This {self.kind} has no “{name}” string; it has {', '.join(self.now)}.")
        if self.now[name].broken:
            raise BadInput("string", f"The {name} string is broken; put a new one on first.")
        return self.now[name]

    def sounds(self, name: str) -> bool:
        """Whether the string is there and whole."""
        return name in self.now and not self.now[name].broken

    @property
    def leans_visibly(self) -> bool:
        """Whether eyes see that the bridge leans."""
        return abs(self.lean_degrees) > LEANS_VISIBLY_DEGREES

    def peg_state(self, name: str) -> PegState:
        """How a friction peg behaves in this room: dry wood slips, damp wood sticks."""
        if self.true[name].peg_kind == "geared":
            return "ok"
        return "slips" if self.humidity < DRY_BELOW else "sticks" if self.humidity > DAMP_ABOVE else "ok"

    def with_string(self, name: str, **changes: float | bool) -> "Wood":
        """The same instrument with one string changed."""
        return replace(self, now={**self.now, name: replace(self.now[name], **changes)})  # type: ignore[arg-type]


def cents_of(tension: float) -> float:
    """Cents from the target of a relative tension.

    >>> cents_of(1.0), round(cents_of(0.25))
    (0.0, -1200)
    """
    return 600.0 * math.log2(tension)


def tension_at(cents: float) -> float:
    """Relative tension so many cents from the target.

    >>> round(tension_at(600.0), 6)
    2.0
    """
    return float(2.0 ** (cents / 600.0))


@dataclass(frozen=True)
class Fitted:
    """How one string is fitted: what a person can see of it."""

    core: StringCore = "steel"
    has_screw: bool = True
    reach_turns: float = 4.0
    peg_kind: PegKind = "friction"
    winding: Winding = "normal"
    age_days: float | None = None


def made(
    kind: str, *, seed: int, size: str | None = None, fitted: dict[str, Fitted] | None = None, spread: float = 1.0
) -> Wood:
    """An instrument in tune, its true values drawn from the seed. ``spread`` 0 gives the priors themselves.

    Raises BadInput for a kind or size there isn't.
    """
    instrument = instrument_named(kind)
    known = instrument.size(size)
    rng = np.random.default_rng([seed, 0x9E37])
    fittings = {name: (fitted or {}).get(name, Fitted()) for name in instrument.string_names}
    true = {name: _true(instrument, known, name, fittings[name], rng, spread) for name in fittings}
    names = list(true)
    pull = {
        moved: {
            other: float(rng.uniform(*NEIGHBOUR_COUPLING)) * (1.0 if abs(i - j) == 1 else 0.5)
            for j, other in enumerate(names)
            if i != j
        }
        for i, moved in enumerate(names)
    }
    stretch = {
        name: float(rng.uniform(*NEW_STRETCH_CENTS)) if (string.age_days or 999.0) < NEW_STRING_DAYS else 0.0
        for name, string in fittings.items()
    }
    now = {name: StringNow(1.0, stretch_left_cents=stretch[name]) for name in true}
    return Wood(kind, known, seed, true, pull, float(rng.uniform(0.0004, 0.0010)), now)


def _true(instrument: Instrument, size: str, name: str, fitted: Fitted, rng: np.random.Generator, spread: float) -> TrueString:
    string = instrument.string(name)
    turn = screw_rate(instrument, string, size=size, core=fitted.core).cents
    degree = peg_rate(instrument, string, size=size, core=fitted.core, geared=fitted.peg_kind == "geared").cents
    screw_factor = math.exp(spread * rng.normal(0.0, SCREW_SPREAD))
    peg_factor = math.exp(spread * rng.normal(0.0, PEG_SPREAD))
    breaks = breaking_point_cents(instrument, string, string_age_days=fitted.age_days)
    return TrueString(
        name=name,
        target_hz=targets_hz(instrument)[name],
        cents_per_turn=turn * screw_factor if fitted.has_screw else None,
        reach_turns=fitted.reach_turns,
        cents_per_degree=degree * peg_factor,
        peg_kind=fitted.peg_kind,
        winding=fitted.winding,
        jump_degrees=float(rng.uniform(*JUMP_DEGREES)) * (1.0 if fitted.peg_kind == "friction" else 1.0 / GEAR_RATIO),
        catches=float(rng.uniform(*CATCHES)),
        breaks_at_cents=breaks * (1.0 + spread * abs(rng.normal(0.0, BREAKS_SPREAD))),
        flattens_per_celsius=float(rng.uniform(1.5, 4.0)) * (1.0 if fitted.core == "steel" else 0.5),
        drifts_cents=float(rng.uniform(2.0, 7.0)),
    )


def as_plain(wood: Wood) -> dict[str, Any]:
    """The instrument as plain data, to be kept between one action and the next."""
    return asdict(wood)


def from_plain(plain: dict[str, Any]) -> Wood:
    """The instrument from plain data.

    >>> wood = made("violin", seed=3)
    >>> from_plain(as_plain(wood)) == wood
    True
    """
    names = [name for name in instrument_named(plain["kind"]).string_names if name in plain["now"]]
    return Wood(
        **{
            **plain,
            "true": {name: TrueString(**plain["true"][name]) for name in names},
            "now": {name: StringNow(**plain["now"][name]) for name in names},
            "events": tuple(plain["events"]),
        }
    )

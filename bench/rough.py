"""Other instruments and hands than those the advice was tried on: rougher, with faults it knows nothing of.

Screws have backlash, pegs jump further and creep back a while after they were let go, nut and bridge hold back more, strings
pull on each other by more or less than usual, figures lie further from the usual ones.
"""

from collections import defaultdict
from dataclasses import dataclass, field, replace

import numpy as np

from pondus.core.simulated.hands import Hands
from pondus.core.simulated.turning import turn_screw
from pondus.core.simulated.wood import PER_CENT, Wood

FURTHER_OFF, CATCHES_MORE, JUMPS_DEGREES, PULLS = 0.25, (0.03, 0.2), (1.0, 3.0), (0.3, 2.5)
BACKLASH_TURNS, CREEPS_SHARE, CREEPS_IN = (0.05, 0.2), 0.12, 3
SCREW_MISSES = 0.3
TOUCHY = (0.45, 2.2)
"""A thread, a bridge or a peg of another make: what a turn does, times the usual."""


def roughened(wood: Wood, seed: int) -> Wood:
    """The same instrument in the same state, built less well."""
    rng = np.random.default_rng([seed, 0x0DD])
    true = {
        name: replace(
            each,
            cents_per_turn=None
            if each.cents_per_turn is None
            else each.cents_per_turn * float(np.exp(rng.normal(0.0, FURTHER_OFF))),
            cents_per_degree=each.cents_per_degree * float(np.exp(rng.normal(0.0, FURTHER_OFF))),
            jump_degrees=float(rng.uniform(*JUMPS_DEGREES)) if each.peg_kind == "friction" else each.jump_degrees,
            catches=float(rng.uniform(*CATCHES_MORE)),
        )
        for name, each in wood.true.items()
    }
    pull = {
        moved: {other: share * float(rng.uniform(*PULLS)) for other, share in others.items()}
        for moved, others in wood.pull.items()
    }
    return replace(wood, true=true, pull=pull)


def touchy(wood: Wood, seed: int) -> Wood:
    """The same instrument whose screws and pegs do from less than half to more than twice what theirs usually do."""
    rng = np.random.default_rng([seed, 0x70C])

    def factor() -> float:
        return float(np.exp(rng.uniform(*np.log(TOUCHY))))

    true = {
        name: replace(
            string,
            cents_per_turn=None if string.cents_per_turn is None else string.cents_per_turn * factor(),
            cents_per_degree=string.cents_per_degree * factor(),
        )
        for name, string in wood.true.items()
    }
    return replace(wood, true=true)


@dataclass
class RoughHands(Hands):
    """Hands that misjudge more, on screws with backlash and pegs that creep."""

    last_way: dict[str, float] = field(default_factory=dict)
    slack_turns: dict[str, float] = field(default_factory=dict)
    creeps: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))

    def screw(self, wood: Wood, name: str, turns: float) -> Wood:
        """The first part of a turn the other way does nothing."""
        wood = self._crept(wood)
        meant = turns * max(0.2, 1.0 + float(self.rng.normal(0.0, SCREW_MISSES)))
        if self.last_way.get(name, meant) * meant < 0.0:
            self.slack_turns[name] = float(self.rng.uniform(*BACKLASH_TURNS))
        self.last_way[name] = meant
        lost = min(abs(meant), self.slack_turns.get(name, 0.0))
        self.slack_turns[name] = self.slack_turns.get(name, 0.0) - lost
        done = np.copysign(abs(meant) - lost, meant)
        true, now = wood.true[name], wood.string(name)
        done = float(np.clip(done, -true.reach_turns - now.screw_turns, true.reach_turns - now.screw_turns))
        return wood if abs(done) < 1e-6 else turn_screw(wood, name, done)

    def peg(self, wood: Wood, name: str, degrees: float) -> Wood:
        """What a peg was turned comes back in part, over the next few things that are done."""
        before = self._crept(wood)
        turned = super().peg(before, name, degrees)
        gives = CREEPS_SHARE * float(self.rng.uniform()) * (turned.now[name].tension - before.now[name].tension)
        self.creeps[name] = [gives / CREEPS_IN] * CREEPS_IN
        return turned

    def _crept(self, wood: Wood) -> Wood:
        for name, left in self.creeps.items():
            if left and wood.sounds(name):
                wood = wood.with_string(name, tension=max(PER_CENT, wood.now[name].tension - left.pop()))
        return wood

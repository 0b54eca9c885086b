"""A simulated player's hands and a simulated tuner's display.

Hands miss: a screw by 15 % of the turn meant, a peg by up to 40 %. A display flickers by under a cent and now and then
flashes a wrong name first.
"""

from dataclasses import dataclass

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.judgement.heard import Heard
from pondus.core.pitch.notes import A4_HZ, nearest_note, shift_hz
from pondus.core.simulated.turning import turn_peg, turn_screw
from pondus.core.simulated.wood import Wood

SCREW_MISSES, PEG_MISSES = 0.15, 0.40
FLICKER_CENTS, WRONG_FLASHES = 0.7, 0.03
FORGETS_SHARE = 0.4
"""Of the mishaps of a hand, how many are that it didn't turn."""
WRONG_BY_CENTS = (-1200.0, 1200.0, 702.0, -498.0, 1902.0)
"""Where a wrong first name comes from: an octave, a strong overtone, or another string that rings along."""


@dataclass
class Hands:
    """One person's hands and eyes; all chance comes from ``rng``. ``mishaps``: how often the hand takes the neighbour's peg or
    screw instead, or it is forgotten to turn at all.
    """

    rng: np.random.Generator
    mishaps: float = 0.0

    def in_hand(self, wood: Wood, name: str) -> str | None:
        """Whose peg or screw the hand really takes; None: it only thinks that it turned."""
        if self.mishaps <= 0.0 or self.rng.uniform() >= self.mishaps:
            return name
        if self.rng.uniform() < FORGETS_SHARE:
            return None
        names = wood.instrument.string_names
        place = names.index(name)
        beside = [names[at] for at in (place - 1, place + 1) if 0 <= at < len(names)]
        return str(self.rng.choice(beside))

    def screw(self, wood: Wood, name: str, turns: float) -> Wood:
        """Turn a screw by about so much; where it ends before that, the hand feels the end and stops."""
        true, now = wood.true[name], wood.string(name)
        meant = turns * max(0.2, 1.0 + float(self.rng.normal(0.0, SCREW_MISSES)))
        left = true.reach_turns - now.screw_turns if meant > 0 else -true.reach_turns - now.screw_turns
        done = min(meant, left) if meant > 0 else max(meant, left)
        return wood if abs(done) < 1e-6 else turn_screw(wood, name, done)

    def peg(self, wood: Wood, name: str, degrees: float) -> Wood:
        """Turn a peg by about so much, pushing it in."""
        return turn_peg(wood, name, degrees * float(self.rng.uniform(1.0 - PEG_MISSES, 1.0 + PEG_MISSES)))

    def flash(self, wood: Wood, name: str) -> float:
        """What a tuner shows first, in cents from the string's target."""
        shown = wood.cents_off(name) + float(self.rng.normal(0.0, FLICKER_CENTS))
        if self.rng.uniform() < WRONG_FLASHES:
            shown += float(self.rng.choice(WRONG_BY_CENTS))
        return shown

    def reading(self, wood: Wood, name: str, *, agree_cents: float = 2.0) -> float:
        """A reading taken as Pondus wants it: two flashes that agree; their middle counts."""
        last = self.flash(wood, name)
        for _ in range(20):
            shown = self.flash(wood, name)
            if abs(shown - last) <= agree_cents:
                return 0.5 * (shown + last)
            last = shown
        raise BadInput("string", f"The display of the {name} string never settles; play one even note.")


def displayed(wood: Wood, name: str, rng: np.random.Generator, *, a4: float = A4_HZ, shows_octave: bool = True) -> Heard:
    """What a simulated tuner shows of a string just now: a note name, with its octave if it has one, and cents.

    Raises BadInput for a string that isn't there or is broken.
    """
    off = float(rng.normal(0.0, FLICKER_CENTS))
    if rng.uniform() < WRONG_FLASHES:
        off += float(rng.choice(WRONG_BY_CENTS))
    note = nearest_note(shift_hz(wood.hz(name), off), a4=a4)
    return Heard(note=note.name if shows_octave else note.name.rstrip("0123456789"), cents=round(note.cents, 0) + 0.0)

"""What a hand does to a simulated instrument: one thing at a time, and everything that follows from it.

A turned string carries its change past nut and bridge less what they catch; the body gives, so the others go the other
way a little; tension past a string's margin breaks it; strings rising together lean the bridge; too little tension in
all lets it fall. Positive turns and degrees raise on a normally wound peg and by a screw.
"""

import math
from dataclasses import replace

from pondus.core.errors import BadInput
from pondus.core.instruments.mechanics import GEAR_RATIO
from pondus.core.judgement.direction import peg_turn
from pondus.core.simulated.wood import (
    FALLS_AT_LEAN_DEGREES,
    FALLS_BELOW_TENSION,
    LEAST_TENSION,
    PER_CENT,
    SPRINGS_BACK,
    StringNow,
    TrueString,
    Wood,
    cents_of,
)

LARGEST_TURNS, LARGEST_DEGREES = 20.0, 360.0
STICKS_JUMP = 3.0
STRETCHES_WHEN_RAISED, STRETCHES_WHEN_TUGGED = 0.12, 0.35
"""Shares of what a new string will still stretch: each time it is raised, and by a pull along its length."""
PULL_GIVES_CENTS = (2.0, 10.0)
LETS_GO_AT = 0.15
"""Share of the tension that nut and bridge can hold back at most; more lets go by itself."""


def turn_screw(wood: Wood, name: str, turns: float) -> Wood:
    """Turn a fine tuner; positive is clockwise, inwards, up.

    Raises BadInput for a string without one, no turn, or a turn past its end.
    """
    true, now = _ready(wood, name)
    if true.cents_per_turn is None:
        raise BadInput("turns", f"The {name} string has no fine tuner; turn its peg.")
    if not 0.0 < abs(turns) <= LARGEST_TURNS:
        raise BadInput("turns", f"{turns:g} turns isn't a turn; give up to {LARGEST_TURNS:g}, not 0.")
    ends = now.screw_turns + turns
    if abs(ends) > true.reach_turns + 1e-9:
        left = max(0.0, true.reach_turns - abs(now.screw_turns) * math.copysign(1.0, now.screw_turns * turns))
        way = "in" if turns > 0 else "out"
        raise BadInput("turns", f"The {name} screw goes only {left:.2g} turns further {way}; turn it less.")
    turned = wood.with_string(name, screw_turns=max(-true.reach_turns, min(true.reach_turns, ends)))
    return _stretched(turned, name, turns * true.cents_per_turn * PER_CENT)


def turn_peg(wood: Wood, name: str, degrees: float, *, pushed: bool = True) -> Wood:
    """Turn a peg's head; positive is the way that raises on a normally wound peg.

    A friction peg moves at least its jump, springs back now and then even when pushed, and mostly when not.
    Raises BadInput for no turn or more than once around.
    """
    true, _ = _ready(wood, name)
    if not 0.0 < abs(degrees) <= LARGEST_DEGREES:
        raise BadInput("degrees", f"{degrees:g} degrees isn't a turn; give up to {LARGEST_DEGREES:g}, not 0.")
    moved = degrees
    if true.peg_kind == "friction":
        moved = _friction(wood, name, degrees, pushed)
    elif abs(degrees) < true.jump_degrees / GEAR_RATIO:
        moved = math.copysign(true.jump_degrees / GEAR_RATIO, degrees)
    if moved == 0.0:
        return replace(wood, step=wood.step + 1, events=(*wood.events, f"The {name} peg sprang back."))
    way = -1.0 if true.winding == "reversed" else 1.0
    return _stretched(wood, name, way * moved * true.cents_per_degree * PER_CENT)


def turn_head(wood: Wood, name: str, clockwise_degrees: float, *, pushed: bool = True) -> Wood:
    """Turn a peg as its head is seen from its end. Raises BadInput."""
    way = 1.0 if head_raises_clockwise(wood, name) else -1.0
    return turn_peg(wood, name, way * clockwise_degrees, pushed=pushed)


def head_raises_clockwise(wood: Wood, name: str) -> bool:
    """Whether a peg's head, seen from its end, goes clockwise to raise a string that is wound as usual."""
    side = wood.instrument.string(name).side
    return peg_turn("raise", side=side, stance="lap", winding="normal").rotation == "clockwise"


def _friction(wood: Wood, name: str, degrees: float, pushed: bool) -> float:
    """How far a friction peg really goes: by its jump at least, more where damp makes it stick; or back again."""
    chance, true, state = wood.chance(), wood.true[name], wood.peg_state(name)
    least = true.jump_degrees * (STICKS_JUMP if state == "sticks" else 1.0)
    moved = math.copysign(max(abs(degrees), least), degrees)
    often = SPRINGS_BACK if pushed else 0.7
    if state == "slips":
        often = min(0.9, often * 3.0)
    if chance.uniform() < often:
        moved *= 1.0 - chance.uniform(0.3, 1.0)
    return moved


def tug(wood: Wood, name: str) -> Wood:
    """A gentle sideways pull, and a loud note: what nut and bridge held back lets go; a new string stretches a little."""
    _ready(wood, name)
    return settled(_gives(_let_go(wood, name), name, STRETCHES_WHEN_TUGGED))


def tug_down(wood: Wood, name: str) -> Wood:
    """A pull away from the board at half the string's length: it gives 2 to 10 cents, besides what nut and bridge held."""
    _ready(wood, name)
    loose = _gives(_let_go(wood, name), name, STRETCHES_WHEN_TUGGED)
    gives = float(wood.chance().uniform(*PULL_GIVES_CENTS))
    return settled(_changed(loose, name, -gives * PER_CENT * loose.now[name].tension))


def play_loud(wood: Wood, name: str) -> Wood:
    """A loud note shakes loose what nut and bridge hold back."""
    _ready(wood, name)
    return settled(_let_go(wood, name))


def ease_bridge(wood: Wood) -> Wood:
    """Someone who has been shown how eases the bridge back upright. Raises BadInput where it has fallen."""
    if wood.bridge == "fallen":
        raise BadInput("bridge", "The bridge has fallen; set it up again first.")
    return replace(wood, lean_degrees=0.3 * wood.lean_degrees, step=wood.step + 1)


def put_right(wood: Wood) -> Wood:
    """A new string for each broken one, and the bridge set up again: what a luthier or a practised adult does."""
    now = {
        name: replace(string, broken=False, tension=0.35, held=0.0, stretch_left_cents=80.0) if string.broken else string
        for name, string in wood.now.items()
    }
    if wood.bridge == "fallen":
        now = {name: replace(string, tension=max(string.tension, 0.35), held=0.0) for name, string in now.items()}
    return replace(wood, now=now, bridge="up", lean_degrees=0.0, step=wood.step + 1, events=())


def _ready(wood: Wood, name: str) -> tuple[TrueString, StringNow]:
    if wood.bridge == "fallen":
        raise BadInput("bridge", "The bridge has fallen; set it up again first.")
    now = wood.string(name)
    return wood.true[name], now


def _stretched(wood: Wood, name: str, tension: float) -> Wood:
    """A change of stretch: part of it is caught, the rest is heard."""
    true, now = wood.true[name], wood.now[name]
    held = now.held + true.catches * tension
    heard = (1.0 - true.catches) * tension
    most = LETS_GO_AT * true.catches * now.tension + 0.002
    if abs(held) > most:
        over = held - math.copysign(most, held)
        held, heard = held - over, heard + over
    turned = _changed(wood.with_string(name, held=held), name, heard)
    return settled(_gives(turned, name, STRETCHES_WHEN_RAISED) if tension > 0.0 else turned)


def _gives(wood: Wood, name: str, share: float) -> Wood:
    """A new string stretches by a share of what it still will, and goes flat by that."""
    left = wood.now[name].stretch_left_cents
    if left <= 0.0:
        return wood
    stretched = wood.with_string(name, stretch_left_cents=(1.0 - share) * left)
    return _changed(stretched, name, -share * left * PER_CENT * stretched.now[name].tension)


def _let_go(wood: Wood, name: str) -> Wood:
    held = wood.now[name].held
    return _changed(wood.with_string(name, held=0.0), name, held)


def _changed(wood: Wood, name: str, tension: float) -> Wood:
    """A change of the tension that is heard, and the others giving way to it."""
    now = dict(wood.now)
    before = cents_of(now[name].tension)
    now[name] = replace(now[name], tension=max(LEAST_TENSION, now[name].tension + tension))
    change = cents_of(now[name].tension) - before
    # Slack strings pull on nothing: the body gives by tension, which a cent near pitch stands for.
    felt = change * now[name].tension
    for other, share in wood.pull[name].items():
        if not now[other].broken:
            moved = max(LEAST_TENSION, now[other].tension + share * felt * PER_CENT)
            now[other] = replace(now[other], tension=moved)
    lean = wood.lean_degrees + wood.leans_per_cent * change
    return replace(wood, now=now, lean_degrees=lean)


def settled(wood: Wood) -> Wood:
    """After something was done: strings past their margin break, a bridge without support falls."""
    now, events = dict(wood.now), list(wood.events)
    for name, string in wood.now.items():
        if not string.broken and cents_of(string.tension) > wood.true[name].breaks_at_cents:
            now[name] = StringNow(LEAST_TENSION, string.screw_turns, broken=True)
            events.append(f"The {name} string broke.")
    bridge = wood.bridge
    total = sum(string.tension for string in now.values())
    if bridge == "up" and (total < FALLS_BELOW_TENSION or abs(wood.lean_degrees) > FALLS_AT_LEAN_DEGREES):
        bridge = "fallen"
        events.append("The bridge fell.")
    return replace(wood, now=now, bridge=bridge, events=tuple(events), step=wood.step + 1)

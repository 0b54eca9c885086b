"""Players who turn while the string sounds, watching the tuner: in small pushes, until it shows what they are after.

One follows Pondus' aims; one is any competent person without it, who turns until the string is right and goes round again.
"""

import math
from collections.abc import Callable

from bench.players import GOOD_CENTS, MOST_SWEEPS, SWEEP_SECONDS, Follower, Player
from pondus.core.instruments.mechanics import Rate
from pondus.core.judgement.after_move import EFFECT_DUE_CENTS, EFFECT_SHARE
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.steps import Step
from pondus.core.judgement.string_order import order_of
from pondus.core.simulated.turning import tug

PUSH_DEGREES, PUSH_TURNS = 1.5, 1.0 / 16.0
TAKE_SECONDS, PEG_PUSH_SECONDS, SCREW_PUSH_SECONDS, TUG_SECONDS = 5.0, 2.0, 0.7, 5.0
"""To find the peg or screw and begin to play; a push and a look at the display."""
NEAR_CENTS, LEAST_DEGREES = 40.0, 1.0
FINE_CENTS = 8.0
"""This near the hand turns a screw by a hair, half its usual push: in the smallest violins that makes 4 cents."""
PLAIN_PEG_PAST_CENTS, PLAIN_GIVES_UP_DEGREES, PLAIN_GIVES_UP_TURNS = 50.0, 30.0, 3.0
STOPS_EARLY_CENTS, WRONG_WAY_SEEN_CENTS = 1.0, 30.0
MOST_STILL_PUSHES = 12
"""However little a push is known to do, after so many that show nothing a hand stops."""


def turned_until(
    player: Player, name: str, mechanism: str, way: float, *, stop: Callable[[float], bool], aim: float, limit: float
) -> tuple[float, float]:
    """Turn in pushes until ``stop`` says so of what is shown, or ``limit`` (degrees or turns) is reached. ``way``: +1 or -1, as
    the hand goes. Gives how far it was turned (turns or degrees), and what was shown last.
    """
    peg = mechanism == "peg"
    real, turned, shown = player.taken(name, mechanism), 0.0, player.hands.reading(player.wood, name)
    spent = TAKE_SECONDS
    while not stop(shown) and turned < limit and not player.stopped:
        near = abs(shown - aim) < NEAR_CENTS
        fine = abs(shown - aim) < FINE_CENTS
        push = (LEAST_DEGREES if near else PUSH_DEGREES) if peg else PUSH_TURNS / 2.0 if fine else PUSH_TURNS
        player.push(real, mechanism, way * push, meant=name)
        turned += push
        spent += PEG_PUSH_SECONDS if peg else SCREW_PUSH_SECONDS
        if not player.stopped:
            shown = player.hands.reading(player.wood, name)
    player.tally.spend(name, spent)
    player.note_move(name, mechanism, way)
    return turned, shown


def still_or_wrong(up: float, *, mechanism: str, rate: Rate, stop_at: float) -> Callable[[float], bool]:
    """When a hand stops that turns while it sounds: at ``stop_at``, where the last pushes moved nothing that they should have,
    or the wrong way. Cents off the target; ``up`` +1 raises, -1 lowers. It goes by what the display has shown since the hand
    began, never by an earlier reading, which may have been a wrong note.
    """
    push = LEAST_DEGREES if mechanism == "peg" else PUSH_TURNS
    due_a_push = max(EFFECT_DUE_CENTS / MOST_STILL_PUSHES, push * (rate.cents - rate.plus_minus))
    pushes = math.ceil(EFFECT_DUE_CENTS / due_a_push)
    seen: list[float] = []

    def stop(now: float) -> bool:
        seen.append(now)
        still = len(seen) > pushes and (now - seen[-1 - pushes]) * up < EFFECT_SHARE * EFFECT_DUE_CENTS
        wrong = (now - seen[0]) * up < -WRONG_WAY_SEEN_CENTS
        return wrong or still or (now - stop_at) * up >= 0.0

    return stop


class PlainSounding(Player):
    """Over the strings from A, again and again: peg where far off or without a screw, then the screw, until it is right."""

    def tune(self) -> None:
        way = dict.fromkeys(self.names, 1.0)
        for _ in range(MOST_SWEEPS):
            if self.stopped:
                return
            self.tally.seconds += SWEEP_SECONDS
            shown = {name: self.hands.reading(self.wood, name) for name in self.names}
            if all(abs(each) <= self._good(name) for name, each in shown.items()):
                return
            for name in order_of(self.wood.instrument, "A-outward"):
                self._bring_in(name, way)
                if self.stopped:
                    return
        self.tally.gave_up = True

    def _good(self, name: str) -> float:
        return GOOD_CENTS if self.fitted[name].has_screw else 2.0 * GOOD_CENTS

    def _bring_in(self, name: str, way: dict[str, float]) -> None:
        for _ in range(12):
            if self.stopped:
                return
            shown = self.hands.reading(self.wood, name)
            if abs(shown) <= self._good(name):
                return
            up = 1.0 if shown < 0 else -1.0
            true, now = self.wood.true[name], self.wood.now[name]
            left = 0.0 if true.cents_per_turn is None else true.reach_turns - up * now.screw_turns
            if left > 0.1 and abs(shown) <= PLAIN_PEG_PAST_CENTS:
                self._turn(name, "fine-tuner", up, shown, 0.0, min(left, PLAIN_GIVES_UP_TURNS))
                continue
            if left <= 0.1 and true.cents_per_turn is not None:
                self.turn(name, "fine-tuner", -now.screw_turns or 0.1)
                if self.stopped:
                    return
            after = self._turn(name, "peg", up * way[name], shown, 0.0, PLAIN_GIVES_UP_DEGREES)
            if (after - shown) * up < -5.0:
                way[name] = -way[name]

    def _turn(self, name: str, mechanism: str, hand: float, shown: float, aim: float, limit: float) -> float:
        below = shown < aim

        def stop(now: float) -> bool:
            wrong = abs(now) > abs(shown) + 60.0
            return wrong or (now >= aim - STOPS_EARLY_CENTS if below else now <= aim + STOPS_EARLY_CENTS)

        return turned_until(self, name, mechanism, hand, stop=stop, aim=aim, limit=limit)[1]


class SoundingFollower(Follower):
    """Turns until the tuner shows what Pondus says, or twice the amount; then Pondus is asked again."""

    turning = "while-sounding"

    def _make(self, name: str, step: Step) -> None:
        if step.do == "tug-down" or step.amount is None or step.pitch is None or step.aim_cents is None:
            super()._make(name, step)
            return
        mechanism = "peg" if step.do == "turn-peg" else "fine-tuner"
        up = 1.0 if step.pitch == "raise" else -1.0
        reverse = mechanism == "peg" and self.windings[name] == "reversed"
        before, aim = self.off[name], step.aim_cents

        facts = self._facts(name)
        stop = still_or_wrong(
            up,
            mechanism=mechanism,
            rate=facts.peg_rate if mechanism == "peg" else facts.screw_rate,
            stop_at=aim - up * STOPS_EARLY_CENTS,
        )
        limit = 2.0 * step.amount
        turned, shown = turned_until(self, name, mechanism, -up if reverse else up, stop=stop, aim=aim, limit=limit)
        if mechanism == "fine-tuner":
            self.screws[name] += up * turned
        else:
            self.to_tug.add(name)
        if self.stopped:
            return
        if turned <= 0.0:
            self.off[name] = shown
            return
        self._hear(name, before, mechanism, up * turned)
        arrived = (self.off[name] - aim) * up >= -5.0
        self.recent[name] = RecentMove(
            mechanism, step.pitch, turned, step.unit or "turn", before, arrived=arrived or turned < limit
        )
        self._look_after(name, before)

    def _tug(self, name: str) -> None:
        self.to_tug.discard(name)
        self.tally.spend(name, TUG_SECONDS)
        self.wood = tug(self.wood, name)
        if not self.stopped:
            self._read(name)

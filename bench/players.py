"""Scripted players for the closed-loop trial: one follows Pondus, two follow a plain rule. All have the same hands.

None of them knows an instrument's true values; what a person sees (fittings, which way a string is wound once asked, where a
screw stands at first) they see.
"""

from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any, TypeVar

from pondus.core.fifths.chain import advice_to_correct, chain, next_correction, only_coarse
from pondus.core.hands.learned import SCREW_HAND_ERROR, learn_coupling, learn_peg_rate, learn_rate, without_effect
from pondus.core.instruments.mechanics import Rate, change_at_pitch
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.after_move import sign_of
from pondus.core.judgement.coupling import default_coupling
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import Plan, StringAsked, plan
from pondus.core.judgement.reading import Judged, tolerance_of
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import FineTuner, Peg, Situation, Turning, situation
from pondus.core.judgement.steps import Step
from pondus.core.judgement.string_order import order_of
from pondus.core.pitch.notes import shift_hz
from pondus.core.simulated.hands import Hands
from pondus.core.simulated.turning import ease_bridge, tug, tug_down
from pondus.core.simulated.wood import Fitted, Wood

T = TypeVar("T")
GOOD_CENTS, FIFTHS_CENTS = 2.0, 4.0
"""What all players call right, on a display that flickers by 0.7: so that truly it is within 3 (fifths 5)."""
SWEEP_SECONDS, SCREW_SECONDS, PEG_SECONDS = 25, 15, 45
MOST_MOVES, MOST_SWEEPS = 400, 10
SHARP_CENTS = 100.0
EASE_PAST_DEGREES = 1.5


@dataclass
class Tally:
    """What a player did."""

    moves: int = 0
    seconds: int = 0
    raised_sharp: int = 0
    gave_up: bool = False
    wrong_raised: float = 0.0
    reversals: int = 0
    predicted: int = 0
    seconds_on: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    per_string: dict[str, int] = field(default_factory=lambda: defaultdict(int))

    def spend(self, name: str, seconds: float) -> None:
        """Time on one string."""
        self.seconds += round(seconds)
        self.seconds_on[name] += seconds


class Player:
    """What every player has: the instrument, hands, a tally."""

    def __init__(self, wood: Wood, fitted: dict[str, Fitted], hands: Hands) -> None:
        self.wood, self.fitted, self.hands = wood, fitted, hands
        self.names = wood.instrument.string_names
        self.tally = Tally()
        self.last_way: dict[str, float] = {}

    @property
    def stopped(self) -> bool:
        """A broken string, a fallen bridge, or patience at an end."""
        hurt = self.wood.bridge == "fallen" or any(each.broken for each in self.wood.now.values())
        if self.tally.moves >= MOST_MOVES:
            self.tally.gave_up = True
        return hurt or self.tally.gave_up

    def turn(self, name: str, mechanism: str, amount: float) -> None:
        """One move. ``amount`` signed, turns or degrees as the hand goes: positive is what usually raises."""
        before = self.wood.cents_off(name)
        self.push(self.taken(name, mechanism), mechanism, amount, meant=name)
        self.note_move(name, mechanism, amount)
        self.tally.spend(name, PEG_SECONDS if mechanism == "peg" else SCREW_SECONDS)
        if before > SHARP_CENTS and self.wood.sounds(name) and self.wood.cents_off(name) > before + 1.0:
            self.tally.raised_sharp += 1

    def taken(self, name: str, mechanism: str) -> str | None:
        """Whose knob the hand has; a string's neighbour may have no screw to be taken for this one's."""
        real = self.hands.in_hand(self.wood, name)
        if real is not None and mechanism != "peg" and self.wood.true[real].cents_per_turn is None:
            return name
        return real

    def push(self, real: str | None, mechanism: str, amount: float, *, meant: str) -> None:
        """The hand moves what it has."""
        if real is None:
            return
        before = self.wood.cents_off(real) if self.wood.sounds(real) else 0.0
        hand = self.hands.peg if mechanism == "peg" else self.hands.screw
        self.wood = hand(self.wood, real, amount)
        if real != meant and self.wood.sounds(real):
            self.tally.wrong_raised += max(0.0, self.wood.cents_off(real) - before)

    def note_move(self, name: str, mechanism: str, amount: float) -> None:
        """One move more; of a friction peg of a string without a screw, whether it went back (a geared one is as fine)."""
        self.tally.moves += 1
        self.tally.per_string[name] += 1
        if mechanism == "peg" and not self.fitted[name].has_screw and self.fitted[name].peg_kind == "friction":
            last = self.last_way.get(name, 0.0)
            self.tally.reversals += last * amount < 0.0
            self.last_way[name] = amount


class Plain(Player):
    """Half a turn towards the target, halved each time it crosses. ``peg_past``: from how many cents the peg is taken; None:
    only where the screw is missing or at its end.
    """

    def __init__(self, wood: Wood, fitted: dict[str, Fitted], hands: Hands, *, peg_past: float | None) -> None:
        super().__init__(wood, fitted, hands)
        self.peg_past = peg_past
        self.way = dict.fromkeys(self.names, 1.0)

    def tune(self) -> None:
        for _ in range(MOST_SWEEPS):
            self.tally.seconds += SWEEP_SECONDS
            if self.stopped:
                return
            shown = {name: self.hands.flash(self.wood, name) for name in self.names}
            if all(abs(each) <= GOOD_CENTS for each in shown.values()):
                return
            for name in order_of(self.wood.instrument, "A-outward"):
                self._bring_in(name)
                if self.stopped:
                    return
        self.tally.gave_up = True

    def _bring_in(self, name: str) -> None:
        steps = {"peg": 5.0, "fine-tuner": 0.5}
        shown = self.hands.flash(self.wood, name)
        for _ in range(80):
            if abs(shown) <= GOOD_CENTS or self.stopped:
                return
            mechanism = self._mechanism(name, shown)
            up = 1.0 if shown < 0 else -1.0
            way = self.way[name] if mechanism == "peg" else 1.0
            self.turn(name, mechanism, up * way * steps[mechanism])
            if self.stopped:
                return
            after = self.hands.flash(self.wood, name)
            if mechanism == "peg" and (after - shown) * up < -5.0:
                self.way[name] = -self.way[name]
            if (after < 0) != (shown < 0):
                steps[mechanism] = max(steps[mechanism] / 2.0, 1.0 if mechanism == "peg" else 1.0 / 64.0)
            shown = after

    def _mechanism(self, name: str, shown: float) -> str:
        true, now = self.wood.true[name], self.wood.now[name]
        if true.cents_per_turn is None:
            return "peg"
        end = true.reach_turns - now.screw_turns if shown < 0 else true.reach_turns + now.screw_turns
        if end < 0.05 or (self.peg_past is not None and abs(shown) > self.peg_past):
            return "peg"
        return "fine-tuner"


class Follower(Player):
    """Does what `advise` and `plan` say, and lets Pondus learn from each move."""

    turning: Turning = "step-by-step"

    def __init__(self, wood: Wood, fitted: dict[str, Fitted], hands: Hands) -> None:
        super().__init__(wood, fitted, hands)
        self.screws = {name: each.screw_turns for name, each in wood.now.items()}
        self.windings = dict.fromkeys(self.names, "normal")
        self.log: dict[tuple[str, str], list[tuple[float, float]]] = defaultdict(list)
        self.couplings: dict[tuple[str, str], list[tuple[float, float]]] = defaultdict(list)
        self.off: dict[str, float] = {}
        self.recent: dict[str, RecentMove | None] = dict.fromkeys(self.names)
        self.known: dict[tuple[str, str], tuple[int, Any]] = {}
        self.to_tug: set[str] = set()
        self.unread: set[str] = set()

    def tune(self) -> None:
        """Rounds, each begun with a reading of all four; when nothing is left to do, the fifths."""
        self._sweep()
        self.tally.predicted = self._plan().seconds
        for _ in range(MOST_SWEEPS):
            if self.stopped:
                return
            if not self._round() and not self._mend_fifths():
                return
            self._sweep()
        self.tally.gave_up = not self.stopped

    def _sweep(self) -> None:
        if self.stopped:
            return
        self.tally.seconds += SWEEP_SECONDS
        for name in self.names:
            self._read(name)

    def _round(self) -> bool:
        """The plan's moves in its order, each with a reading, until every string had its part; whether there were any."""
        done: set[str] = set()
        turned: set[str] = set()
        while not self.stopped:
            moves = [each for each in self._plan().moves if each.step.is_counted and each.string not in done]
            name = moves[0].string if moves else None
            loose = [each for each in self.to_tug if each != name or moves[0].step.do != "turn-peg"]
            if loose:
                self._tug(loose[0])
            elif name is None:
                break
            elif name in self.unread:
                self._read(name)
            else:
                self._make(name, moves[0].step)
                turned.add(name)
            done |= {each for each in turned if abs(self.off[each]) <= self._good(each) and each not in self.to_tug}
        return bool(turned)

    def _good(self, name: str) -> float:
        """Within how many cents this string is left."""
        return tolerance_of(self._facts(name))

    def _read(self, name: str) -> None:
        """Play a string again: after a tug, or before it is turned where others have moved since."""
        self.off[name] = self.hands.reading(self.wood, name)
        self.unread.discard(name)
        last = self.recent[name]
        self.recent[name] = None if last is None else replace(last, effect_known=False)

    def _plan(self) -> Plan:
        asked = {name: StringAsked(self._facts(name), self._heard(name), True, self.recent[name]) for name in self.names}
        pure = not self.tally.moves
        return plan(asked, instrument=self.wood.instrument, coupling=self._coupling(), may_be_pure=pure)

    def _heard(self, name: str) -> Heard:
        return Heard(hz=shift_hz(self.wood.true[name].target_hz, self.off[name]))

    def _facts(self, name: str) -> Situation:
        fitted = self.fitted[name]
        peg = Peg(fitted.peg_kind, "ok", self.windings[name])  # type: ignore[arg-type]
        bare = self._situation(name, fitted, None, peg)
        rate = self._learned(name, "peg", bare.peg_rate, lambda moves: learn_peg_rate(*moves, prior=bare.peg_rate))
        tuner = None
        if fitted.has_screw:
            screw = self._learned(
                name,
                "fine-tuner",
                bare.screw_rate,
                lambda moves: learn_rate(*moves, prior=bare.screw_rate, hand_error=SCREW_HAND_ERROR),
            )
            turns = max(-fitted.reach_turns, min(fitted.reach_turns, self.screws[name]))
            tuner = FineTuner(turns, fitted.reach_turns, screw.value, screw.plus_minus)
        return replace(bare, fine_tuner=tuner, peg=replace(peg, cents_per_degree=rate.value))

    def _learned(self, name: str, mechanism: str, prior: Rate, learn: Callable[[tuple[list[float], list[float]]], T]) -> T:
        """What the log teaches, learned anew only when it has grown."""
        pairs = [each for each in self.log[name, mechanism] if not without_effect(*each, prior)]
        kept = self.known.get((name, mechanism))
        if kept is None or kept[0] != len(pairs):
            moves = ([amount for amount, _ in pairs], [change for _, change in pairs])
            kept = self.known[name, mechanism] = (len(pairs), learn(moves))
        return kept[1]  # type: ignore[no-any-return]

    def _situation(self, name: str, fitted: Fitted, tuner: FineTuner | None, peg: Peg) -> Situation:
        return situation(
            self.wood.instrument,
            name,
            size=self.wood.size,
            core=fitted.core,
            tolerance_cents=GOOD_CENTS,
            fine_tuner=tuner,
            peg=peg,
            string_age_days=fitted.age_days,
            turning=self.turning,
        )

    def _coupling(self) -> dict[str, dict[str, float]]:
        coupling = default_coupling(self.wood.instrument)
        for (moved, other), pairs in self.couplings.items():
            went, gave = zip(*pairs, strict=True)
            coupling[moved][other] = learn_coupling(went, gave, prior=coupling[moved][other]).value
        return coupling

    def _make(self, name: str, step: Step) -> None:
        """One move and its reading, learned from; the check where it went wrong."""
        if step.do == "tug-down":
            self._pull_down(name)
            return
        assert step.amount is not None and step.pitch is not None
        mechanism = "peg" if step.do == "turn-peg" else "fine-tuner"
        up = 1.0 if step.pitch == "raise" else -1.0
        hand = up * (-1.0 if mechanism == "peg" and self.windings[name] == "reversed" else 1.0)
        before = self.off[name]
        self.turn(name, mechanism, hand * step.amount)
        if mechanism == "fine-tuner":
            self.screws[name] += up * step.amount
        else:
            self.to_tug.add(name)
        if self.stopped:
            return
        self._hear(name, before, mechanism, up * step.amount)
        self.recent[name] = RecentMove(mechanism, step.pitch, step.amount, step.unit or "turn", before)
        self._look_after(name, before)

    def _pull_down(self, name: str) -> None:
        before = self.off[name]
        self.wood = tug_down(self.wood, name)
        self.tally.moves += 1
        self.tally.per_string[name] += 1
        self.tally.spend(name, SCREW_SECONDS)
        if not self.stopped:
            self._read(name)
            self.recent[name] = RecentMove("tug", "lower", None, None, from_cents=before)

    def _hear(self, name: str, before: float, mechanism: str, amount: float) -> None:
        self.off[name] = self.hands.reading(self.wood, name)
        change = self.off[name] - before
        self.log[name, mechanism].append((amount, change_at_pitch(before, self.off[name])))
        coupling = self._coupling()
        for other in self.names:
            if other != name:
                self.off[other] += coupling[name][other] * change
                self.unread.add(other)

    def _look_after(self, name: str, before: float) -> None:
        """Answer the check when it went the wrong way; look at the bridge while slack strings come up."""
        recent = self.recent[name]
        if recent is not None and sign_of(self._facts(name), recent, Judged("flat", self.off[name], (), True)) is not None:
            self._answer(name, recent)
        if before < -100.0 and abs(self.wood.lean_degrees) > EASE_PAST_DEGREES:
            self.wood = ease_bridge(self.wood)

    def _answer(self, name: str, recent: RecentMove) -> None:
        """What was it? This player looks, and sees how the string is wound; nothing is learned from such a move."""
        self.recent[name] = None
        self.screws[name] = self.wood.now[name].screw_turns
        for other in self.names:
            self.screws[other] = self.wood.now[other].screw_turns
            self.unread.add(other)
        if self.log[name, recent.mechanism]:
            self.log[name, recent.mechanism].pop()
        self.known.pop((name, recent.mechanism), None)
        if recent.mechanism == "peg" and self.windings[name] != self.wood.true[name].winding:
            self.windings[name] = self.wood.true[name].winding
            self.log[name, "peg"].clear()

    def _advise(self, name: str) -> Advice:
        return advise(self._facts(name), self._heard(name), sure_of_string=True, recent_move=self.recent[name])

    def _tug(self, name: str) -> None:
        self.to_tug.discard(name)
        self.wood = tug(self.wood, name)
        if not self.stopped:
            self._read(name)

    def _mend_fifths(self) -> bool:
        """The move that mends most, as the fifths screen has it; whether one was made."""
        hz = {name: shift_hz(self.wood.true[name].target_hz, off) for name, off in self.off.items()}
        found = chain(self.wood.instrument, hz, tolerance_cents=FIFTHS_CENTS)
        coarse = only_coarse(self._facts(name) for name in self.names)
        mend = next_correction(self.wood.instrument, found, tolerance_cents=FIFTHS_CENTS, coarse=coarse)
        if mend is None:
            return False
        advice = advice_to_correct(self._facts(mend.string), mend.change_cents)
        step = next((each for each in advice.steps if each.is_counted), None)
        if step is None:
            return False
        self._make(mend.string, step)
        return True

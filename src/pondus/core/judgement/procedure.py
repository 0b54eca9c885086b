"""The whole foreseeable way of one string to in tune: which steps, in which order. Rules R16 to R22.

The remaining travel of the screw decides the order: a screw is set to its middle before the peg where that lowers the
string or leaves it at least 20 cents under; otherwise the peg stops lower, so that the screw finishes with half its travel. A
friction peg never aims above the target: it stops just under, and the screw finishes upwards; with no screw the smallest pushes
do, and a tug what went past. A slack string comes up by way of three semitones under and one, with a look at the bridge after
each. Turned while it sounds, a move goes all the way to its aim, and the aim is what the tuner will show.
"""

from dataclasses import dataclass, field

from pondus.core.instruments.mechanics import change_at_pitch, change_made
from pondus.core.judgement import words
from pondus.core.judgement.amounts import SMALLEST_NUDGE_DEGREES, SMALLEST_SCREW_MOVE_TURNS, peg_move_degrees, screw_move_turns
from pondus.core.judgement.direction import peg_turn, screw_turn
from pondus.core.judgement.mechanism import Choice
from pondus.core.judgement.situation import Pitch, Situation
from pondus.core.judgement.steps import Step, Until

PEG_AIM_CENTS = -10.0
"""Where a friction peg stops: within the 5–20 cents under the target that the finishing screw takes up."""
CREEP_FROM_CENTS = -20.0
MIDDLE_FIRST_BELOW_CENTS = -20.0
WORTH_CENTRING_TURNS, HALF_THE_TRAVEL = 1.0, 0.5
"""A screw nearer its middle than this has the travel it needs; setting it there first is a step that gains nothing."""
HALF_TURNS_WITHIN_CENTS = 100.0
STAGES_BELOW_CENTS = -500.0
"""R119: a string this far down is not slack yet, and comes up by the same stages, the bridge looked at after each."""
SLACK_AIMS_CENTS, NEAR_STAGE_CENTS = (-300.0, -100.0), 50.0
"""The stages a slack string comes up by; one that it stands near already is passed over."""
ALREADY_THERE_CENTS = 0.05
SEMITONE_UNDER_CENTS, PAST_SEMITONE_CENTS = -100.0, 50.0
"""R83: turning while it sounds, a peg comes first to a semitone under, where it is more than so much further."""
TUG_CENTS, TUG_PLUS_MINUS = -6.0, 4.0
"""A tug takes 2 to 10 cents down."""
LEAST_TURNS_LEFT = 1e-3
MOST_OVER_CENTS = 5.0
"""R46: a screw leaves a string so far over or under at most, for the pulls still to come."""


def aim_for(pulls_to_come: float) -> float:
    """R46: where a screw leaves a string (cents off its target) that the others will pull by so many cents yet.

    >>> aim_for(-3.0), aim_for(12.0)
    (3.0, -5.0)
    """
    return max(-MOST_OVER_CENTS, min(MOST_OVER_CENTS, -pulls_to_come))


@dataclass
class Procedure:
    """Steps as they are laid, with where string and screw would then stand (``cents_off``, ``screw_turns``)."""

    situation: Situation
    cents_off: float
    screw_turns: float | None
    at_most: float | None = None
    steps: list[Step] = field(default_factory=list)
    screw_ends: list[float] = field(default_factory=list)
    _checked: bool = False

    def turn_screw_to(self, aim: float) -> None:
        """Screw moves of at most half a turn until the string stands at ``aim``."""
        rate = self.situation.screw_rate
        while abs(aim - self.cents_off) > ALREADY_THERE_CENTS:
            needed = aim - self.cents_off
            if self.screw_ends and abs(needed) <= self.situation.tolerance_cents / 3.0:
                return  # what is left after a move is no move of its own
            pitch: Pitch = "raise" if needed > 0 else "lower"
            left = self.turns_left(pitch)
            if left < LEAST_TURNS_LEFT:
                return
            need = abs(change_at_pitch(self.cents_off, aim)) / rate.cents
            limit = self._take_limit()
            amount = min(left, need if self.situation.while_sounding else screw_move_turns(need, at_most=limit))
            said = _orientation(amount, limit, SMALLEST_SCREW_MOVE_TURNS)
            turns = amount if needed > 0 else -amount
            expect = change_made(self.cents_off, turns * rate.cents)
            turn = screw_turn(pitch, stance=self.situation.stance)
            spread = abs(expect) * rate.plus_minus / rate.cents
            start = self.cents_off
            self._move_screw(turns, expect)
            self.steps.append(
                Step(
                    do="turn-fine-tuner",
                    say=words.turn_screw(self.situation, turn, said, expect, spread, start=start, aim=self.cents_off),
                    pitch=pitch,
                    amount=said,
                    unit="turn",
                    rotation=turn.rotation,
                    top_moves=turn.top_moves,
                    aim_cents=self.cents_off,
                    expect_cents=expect,
                    expect_plus_minus=spread,
                    until=self._until(self.cents_off),
                )
            )
            self._check_after_first(pitch)

    def turns_left(self, pitch: Pitch) -> float:
        """How far the screw still goes that way."""
        tuner = self.situation.fine_tuner
        if tuner is None or self.screw_turns is None:
            return 0.0
        return tuner.reach_turns - (self.screw_turns if pitch == "raise" else -self.screw_turns)

    def centre_screw(self) -> None:
        """R19: back to the middle in one step; inwards by half turns once within 100 cents of the target."""
        assert self.screw_turns is not None
        rate = self.situation.screw_rate
        distance = abs(self.screw_turns)
        pitch: Pitch = "lower" if self.screw_turns > 0 else "raise"
        change = change_made(self.cents_off, -self.screw_turns * rate.cents)
        aim = self.cents_off + change
        by_halves = pitch == "raise" and aim > -HALF_TURNS_WITHIN_CENTS and not self.situation.while_sounding
        amount = screw_move_turns(distance) if by_halves else distance
        turn = screw_turn(pitch, stance=self.situation.stance)
        self.steps.append(
            Step(
                do="set-fine-tuner-to-middle",
                say=words.set_middle(self.situation, turn, distance, start=self.cents_off, aim=aim, by_halves=by_halves),
                pitch=pitch,
                amount=amount,
                unit="turn",
                rotation=turn.rotation,
                top_moves=turn.top_moves,
                aim_cents=aim,
                expect_cents=change * amount / distance,
                expect_plus_minus=abs(change) * amount / distance * rate.plus_minus / rate.cents,
                until=self._until(aim),
            )
        )
        self.cents_off, self.screw_turns = aim, 0.0

    def turn_peg_to(self, aim: float, *, least: bool = False) -> None:
        """One peg step to ``aim``: turned while it sounds, or a nudge repeated with readings; ``least``: by the smallest."""
        situation, rate = self.situation, self.situation.peg_rate
        pitch: Pitch = "raise" if aim > self.cents_off else "lower"
        limit = self._take_limit()
        left = change_at_pitch(self.cents_off, aim)
        least = least or situation.winding_doubted
        whole = situation.while_sounding and not least
        amount = SMALLEST_NUDGE_DEGREES if least else peg_move_degrees(situation, left, at_most=limit)
        if whole:
            amount = max(SMALLEST_NUDGE_DEGREES, _orientation(abs(left) / rate.cents, limit, SMALLEST_NUDGE_DEGREES))
        made = change_made(self.cents_off, (1 if pitch == "raise" else -1) * amount * rate.cents)
        turn = peg_turn(pitch, side=situation.string.side, stance=situation.stance, winding=situation.peg.winding)
        self.steps.append(
            Step(
                do="turn-peg",
                say=words.turn_peg(situation, turn, pitch, amount, start=self.cents_off, aim=aim, least=least),
                pitch=pitch,
                amount=amount,
                unit="degree",
                rotation=turn.rotation,
                top_moves=turn.top_moves,
                aim_cents=aim,
                expect_cents=aim - self.cents_off if whole else made,
                expect_plus_minus=abs(made) * rate.plus_minus / rate.cents,
                until=self._until(aim),
            )
        )
        self.cents_off = aim
        self._check_after_first(pitch)

    def wind_up(self) -> None:
        """A string that doesn't sound: the peg until it does. How far nobody knows."""
        situation = self.situation
        turn = peg_turn("raise", side=situation.string.side, stance=situation.stance, winding=situation.peg.winding)
        self.steps.append(
            Step(
                do="turn-peg",
                say=words.wind_up(situation, turn),
                pitch="raise",
                unit="degree",
                rotation=turn.rotation,
                top_moves=turn.top_moves,
            )
        )

    def look_at_bridge(self) -> None:
        """R22: after each round of a slack string."""
        self.steps.append(Step(do="look-at-bridge", say=words.LOOK_AT_BRIDGE))

    def tug_down(self) -> None:
        """R82: a pull lets a string down by less than any peg can."""
        self.steps.append(
            Step(
                do="tug-down",
                say=words.tug_down(self.situation),
                pitch="lower",
                aim_cents=0.0,
                expect_cents=TUG_CENTS,
                expect_plus_minus=TUG_PLUS_MINUS,
            )
        )
        self.cents_off = max(0.0, self.cents_off + TUG_CENTS)
        self._check_after_first("lower")

    def _until(self, aim: float) -> Until | None:
        by_tuner = self.situation.while_sounding and self.situation.fifth_with is None
        return words.until(self.situation, aim) if by_tuner else None

    def tug(self) -> None:
        """R21: seat the string after a friction peg; a geared peg needs none."""
        if self.situation.peg.kind == "friction":
            self.steps.append(Step(do="tug", say=words.tug(self.situation)))

    def _move_screw(self, turns: float, expect: float) -> None:
        if self.screw_turns is not None:
            self.screw_turns += turns
            self.screw_ends.append(self.screw_turns)
        self.cents_off += expect

    def _take_limit(self) -> float | None:
        """The halved amount after an overshoot binds the first move only."""
        limit, self.at_most = self.at_most, None
        return limit

    def _check_after_first(self, pitch: Pitch) -> None:
        if not self._checked:
            self._checked = True
            self.steps.append(Step(do="check", say=words.check(pitch)))


def _orientation(amount: float, limit: float | None, least: float) -> float:
    """The amount that is said. While it sounds the tuner says where to stop; whoever goes by the amount all the same is told
    less after an overshoot (R24).
    """
    return amount if limit is None else min(amount, max(limit, least))


def procedure(
    situation: Situation,
    choice: Choice,
    cents_off: float,
    *,
    at_most: float | None = None,
    aim: float = 0.0,
    slack: bool = False,
) -> Procedure:
    """Lay the way from ``cents_off`` to in tune by the chosen mechanism.

    ``at_most`` caps the first move (turns or degrees) after an overshoot. ``aim`` is where the screw should leave the
    string when pulls are still to come; a peg never aims above the target, whatever the pulls. ``slack``: it comes up by
    stages, with a look at the bridge after each.
    """
    tuner = situation.fine_tuner
    laid = Procedure(situation, cents_off, None if tuner is None else tuner.turns_from_middle, at_most)
    if choice.reason == "tug":
        laid.tug_down()
        return laid
    if choice.mechanism == "fine-tuner":
        laid.turn_screw_to(aim)
        return laid
    use_screw = tuner is not None and choice.reason != "pegs-only"
    comes_in = _centre_before_peg(laid) if use_screw else 0.0
    finishes = use_screw and _screw_can_finish(laid)
    peg_aim = _peg_aim(laid, use_screw=finishes) - comes_in * situation.screw_rate.cents
    if slack:
        bring_up_slack(laid)
    _peg_towards(laid, peg_aim, creep=not finishes)
    if use_screw:
        laid.turn_screw_to(max(aim, laid.cents_off) if situation.peg.kind == "friction" else aim)
    return laid


def _centre_before_peg(laid: Procedure) -> float:
    """R18: set the screw to its middle now if that is safe; else the turns it has to come in by while it finishes, to have half
    its travel again.
    """
    tuner = laid.situation.fine_tuner
    assert laid.screw_turns is not None and tuner is not None
    if abs(laid.screw_turns) < WORTH_CENTRING_TURNS:
        return 0.0
    back = -laid.screw_turns * laid.situation.screw_rate.cents
    then = laid.cents_off + change_made(laid.cents_off, back)
    if laid.screw_turns > 0 or then <= MIDDLE_FIRST_BELOW_CENTS:
        laid.centre_screw()
        return 0.0
    return max(0.0, -laid.screw_turns - HALF_THE_TRAVEL * tuner.reach_turns)


def _screw_can_finish(laid: Procedure) -> bool:
    """Whether the screw can take up what a friction peg leaves under; else the peg creeps up."""
    return laid.turns_left("raise") * laid.situation.screw_rate.cents >= -PEG_AIM_CENTS


def _peg_aim(laid: Procedure, *, use_screw: bool) -> float:
    """R17: just under the target; a geared peg, or the last small push of one without a screw, at the target itself."""
    if laid.situation.peg.kind == "geared" or (not use_screw and CREEP_FROM_CENTS <= laid.cents_off < 0.0):
        return 0.0
    return PEG_AIM_CENTS


def bring_up_slack(laid: Procedure) -> None:
    """R22: up by the stages that are still above it, a look at the bridge after each."""
    for aim in (stage for stage in SLACK_AIMS_CENTS if laid.cents_off < stage - NEAR_STAGE_CENTS):
        laid.turn_peg_to(aim)
        laid.look_at_bridge()


def _peg_towards(laid: Procedure, aim: float, *, creep: bool) -> None:
    """The peg to its aim, while sounding by way of a semitone under; with no screw to finish, on up to the target by the
    smallest pushes.
    """
    friction = laid.situation.peg.kind == "friction"
    by_semitone = friction and laid.situation.while_sounding and aim > SEMITONE_UNDER_CENTS
    if by_semitone and laid.cents_off < SEMITONE_UNDER_CENTS - PAST_SEMITONE_CENTS:
        laid.turn_peg_to(SEMITONE_UNDER_CENTS)
    if abs(aim - laid.cents_off) > ALREADY_THERE_CENTS:
        laid.turn_peg_to(aim, least=creep and abs(aim) <= ALREADY_THERE_CENTS and friction)
    if creep and aim < -ALREADY_THERE_CENTS:
        laid.turn_peg_to(0.0, least=friction)
    laid.tug()

"""`advise`: a reading and an instrument in, the next move out."""

from typing import Any, Literal

from pydantic import Field

from pondus.contracts.base import Amount, ApproachName, Cents, Contract, Result
from pondus.core.instruments import Kind, StringCore, instrument_named
from pondus.core.instruments.holds import Stance, TopMoves
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.cautions import Caution
from pondus.core.judgement.direction import Rotation
from pondus.core.judgement.heard import Heard, ShownSide
from pondus.core.judgement.reading import State
from pondus.core.judgement.recent_move import Answer, Done, RecentMove
from pondus.core.judgement.situation import (
    BridgeState,
    FineTuner,
    Peg,
    PegKind,
    PegState,
    Pitch,
    Situation,
    StringPlace,
    Turning,
    Unit,
    Who,
    Winding,
    situation,
)
from pondus.core.judgement.steps import Do, Goal, Question
from pondus.core.pitch import Spelling
from pondus.core.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS, check_fifth_cents


class HeardContract(Contract):
    """A note and the cents the tuner shows, a frequency in Hz, or the side that a tuner without figures shows; a note alone
    asks for its side.
    """

    note: str | None = None
    cents: float | None = None
    hz: float | None = None
    side: ShownSide | None = None

    def heard(self) -> Heard:
        """The core's form."""
        return Heard(note=self.note, cents=self.cents, hz=self.hz, side=self.side)


class FineTunerContract(Contract):
    """A screw: where it stands (+ is screwed in), how far it reaches, what was learned of it."""

    turns_from_middle: float = 0.0
    reach_turns: float = 4.0
    cents_per_turn: float | None = None
    cents_per_turn_plus_minus: float | None = None

    def fine_tuner(self) -> FineTuner:
        """The core's form."""
        return FineTuner(**self.model_dump())


class PegContract(Contract):
    """A peg: its kind, how it behaves, which way the string is wound on it, what was learned of it."""

    kind: PegKind = "friction"
    state: PegState = "ok"
    winding: Winding = "normal"
    cents_per_degree: float | None = None

    def peg(self) -> Peg:
        """The core's form."""
        return Peg(**self.model_dump())


class RecentMoveContract(Contract):
    """The last thing done to this string, and the reading before it (``from_side`` where no figure was shown). What was
    expected of it may be told; ``arrived`` false: twice the amount didn't reach the aim; ``repeats``: how often
    before it had no effect.
    """

    mechanism: Done
    direction: Pitch
    amount: float | None = None
    unit: Unit | None = None
    from_cents: float | None = None
    from_side: ShownSide | None = None
    expect_cents: float | None = None
    expect_plus_minus: float | None = None
    arrived: bool = True
    repeats: int = 0

    def recent_move(self) -> RecentMove:
        """The core's form."""
        return RecentMove(**self.model_dump())


class FifthWidth(Contract):
    """A width between tempered (700) and pure (701.955), in cents."""

    fifth_cents: float


Target = Literal["tempered", "pure"] | FifthWidth


def fifth_cents_of(target: Target) -> float:
    """The width of a fifth that a target school means, in cents.

    Raises BadInput for a width outside 700 to 701.955.
    """
    if target == "tempered":
        return TEMPERED_FIFTH_CENTS
    if target == "pure":
        return PURE_FIFTH_CENTS
    assert isinstance(target, FifthWidth)
    return check_fifth_cents(target.fifth_cents)


class SituationContract(Contract):
    """What `advise` and `plan` share: the instrument and how its owner tunes."""

    instrument: Kind
    size: str | None = None
    core: StringCore = "steel"
    a4: float = 440.0
    target: Target = "tempered"
    approach: ApproachName = "fine-tuner-first"
    tolerance_cents: float = 3.0
    stance: Stance | None = None
    who: Who = "teacher"
    spelling: Spelling = "sharps"
    turning: Turning = "step-by-step"
    habits: list[str] = Field(default_factory=list)
    bridge: BridgeState = "stands"

    def situation_of(self, string: str, fitted: "Fitted", *, prefix: str = "") -> Situation:
        """One string's situation, checked; ``prefix`` leads the field names in refusals. Raises BadInput."""
        return situation(
            instrument_named(self.instrument),
            string,
            size=self.size,
            core=self.core,
            a4=self.a4,
            fifth_cents=fifth_cents_of(self.target),
            approach=self.approach,
            tolerance_cents=self.tolerance_cents,
            fine_tuner=None if fitted.fine_tuner is None else fitted.fine_tuner.fine_tuner(),
            peg=fitted.peg.peg(),
            stance=self.stance,
            who=self.who,
            string_age_days=fitted.string_age_days,
            spelling=self.spelling,
            turning=self.turning,
            habits=self.habits,
            string_state=fitted.string_state,
            slack=fitted.slack,
            bridge=self.bridge,
            prefix=prefix,
        )


class Fitted(Contract):
    """What is known of one string's fittings and of the last move on it."""

    recent_move: RecentMoveContract | None = None
    fine_tuner: FineTunerContract | None = Field(default_factory=FineTunerContract)
    peg: PegContract = Field(default_factory=PegContract)
    string_age_days: float | None = None
    string_state: StringPlace = "on"
    slack: bool = False


class AdviceRequest(SituationContract, Fitted):
    """One string: what was heard (left out where it gives no pitch), and everything known of its fittings. ``answer`` is to the
    question about the last move.
    """

    string: str
    heard: HeardContract | None = None
    sure_of_string: bool = False
    answer: Answer | None = None

    def situation(self) -> Situation:
        """The core's form, checked. Raises BadInput."""
        return self.situation_of(self.string, self)

    def advise(self) -> "AdviceResult":
        """Ask the core. Raises BadInput."""
        advice = advise(
            self.situation(),
            None if self.heard is None else self.heard.heard(),
            sure_of_string=self.sure_of_string,
            recent_move=None if self.recent_move is None else self.recent_move.recent_move(),
            answer=self.answer,
        )
        return AdviceResult.of(advice)


class CandidateResult(Result):
    """One pitch the reading can mean."""

    note: str
    cents_off: Cents


class UntilResult(Result):
    """Where a turn while sounding ends, as an equal-tempered tuner shows it."""

    note: str
    cents: Cents


class OptionResult(Result):
    """One answer to a question; ``set`` holds the fields of the request that it changes."""

    answer: str
    say: str
    set: dict[str, Any]


class StepResult(Result):
    """One step; fields it has no use for are null."""

    do: Do
    pitch: Pitch | None
    amount: Amount | None
    unit: Unit | None
    rotation: Rotation | None
    top_moves: TopMoves | None
    aim_cents: Cents | None
    expect_cents: Cents | None
    expect_plus_minus: Cents | None
    say: str
    ends: Goal | None
    until: UntilResult | None
    question: Question | None
    tone_octaves: int | None
    options: list[OptionResult]


class AdviceResult(Result):
    """What to do about one string. Empty ``steps``: leave it."""

    state: State
    cents_off: Cents | None
    mechanism: Literal["none", "fine-tuner", "peg"]
    pitch: Pitch | None
    candidates: list[CandidateResult]
    steps: list[StepResult]
    cautions: list[Caution]
    break_margin_cents: Cents | None
    why: str

    @classmethod
    def of(cls, advice: Advice) -> "AdviceResult":
        """From the core's advice, figures rounded to a hundredth (amounts to a thousandth)."""
        return cls.model_validate(advice, from_attributes=True)

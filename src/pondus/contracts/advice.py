"""`advise`: a reading and an instrument in, the next move out."""

from typing import Literal

from pydantic import Field

from pondus.contracts.base import ApproachName, Contract
from pondus.core.instruments import Kind, StringCore, instrument_named
from pondus.core.instruments.holds import Stance
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS, check_fifth_cents
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.recent_move import Answer, RecentMove
from pondus.core.judgement.situation import BridgeState, FineTuner, Peg, Situation, StringPlace, Turning, Who, situation
from pondus.core.pitch.notes import Spelling


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
            fine_tuner=fitted.fine_tuner,
            peg=fitted.peg,
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

    recent_move: RecentMove | None = None
    fine_tuner: FineTuner | None = FineTuner()
    peg: Peg = Peg()
    string_age_days: float | None = None
    string_state: StringPlace = "on"
    slack: bool = False


class AdviceRequest(SituationContract, Fitted):
    """One string: what was heard (left out where it gives no pitch), and everything known of its fittings. ``answer`` is to the
    question about the last move.
    """

    string: str
    heard: Heard | None = None
    sure_of_string: bool = False
    answer: Answer | None = None

    def situation(self) -> Situation:
        """The core's form, checked. Raises BadInput."""
        return self.situation_of(self.string, self)

    def advise(self) -> Advice:
        """Ask the core. Raises BadInput."""
        return advise(
            self.situation(), self.heard, sure_of_string=self.sure_of_string, recent_move=self.recent_move, answer=self.answer
        )

"""`plan`: four readings in, the whole round out."""

from typing import Literal

from pondus.contracts.advice import Fitted, SituationContract
from pondus.contracts.base import Result
from pondus.core.errors import BadInput
from pondus.core.instruments import Instrument, instrument_named
from pondus.core.judgement.cautions import Caution
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import Plan, Refer, StateNow, StringAsked, plan
from pondus.core.judgement.steps import Step
from pondus.core.judgement.string_order import StringOrder

LARGEST_PULL = 0.5


class StringOfPlan(Fitted):
    """One string: what was heard (left out: not heard yet), and what is known of its fittings."""

    heard: Heard | None = None
    sure_of_string: bool | None = None


class PlanRequest(SituationContract):
    """The instrument and its strings; a string that is null or left out is not there or not heard."""

    strings: dict[str, StringOfPlan | None]
    order: StringOrder = "A-outward"
    pull: dict[str, dict[str, float]] | None = None
    sure_of_string: bool = False

    def plan(self) -> "PlanResult":
        """Ask the core. Raises BadInput."""
        instrument = instrument_named(self.instrument)
        for name in self.strings:
            instrument.string(name, field=f"strings.{name}")
        asked = {name: self._asked(name, string) for name, string in self.strings.items() if string is not None}
        _check_pull(instrument, self.pull)
        return PlanResult.of(plan(asked, instrument=instrument, order=self.order, coupling=self.pull))

    def _asked(self, name: str, string: StringOfPlan) -> StringAsked:
        try:
            facts = self.situation_of(name, string, prefix=f"strings.{name}.")
        except BadInput as error:
            raise BadInput(error.field, f"{name} string: {error.message}") from None
        return StringAsked(
            facts,
            string.heard,
            self.sure_of_string if string.sure_of_string is None else string.sure_of_string,
            string.recent_move,
        )


def _check_pull(instrument: Instrument, pull: dict[str, dict[str, float]] | None) -> None:
    for moved, others in (pull or {}).items():
        instrument.string(moved, field="pull")
        for other, share in others.items():
            instrument.string(other, field=f"pull.{moved}")
            if not abs(share) <= LARGEST_PULL:
                raise BadInput(
                    f"pull.{moved}.{other}",
                    f"A pull of {share:g} cents per cent can't be right; strings pull a few hundredths, as −0.03.",
                )


class PlannedMoveResult(Result):
    """One step on one string, and where all known strings stand before and should stand after. ``gains_cents``: by how much
    nearer its target the string stands for it, when the others have pulled.
    """

    string: str
    step: Step
    before: dict[str, float]
    predicted: dict[str, float]
    gains_cents: float


class Offer(Result):
    """What would suit better than what was asked."""

    target: Literal["pure"]


class PlanResult(Result):
    """The whole round. Every turn and tug that will be needed counts as a move, a peg's nudges one by one; looks at the bridge
    and new strings don't. ``off``: strings that are broken or missing.
    """

    strings: dict[str, StateNow]
    ask: list[str]
    order: list[str]
    rounds: int
    total_moves: int
    seconds: int
    refer: Refer | None
    moves: list[PlannedMoveResult]
    cautions: list[Caution]
    why: str
    off: list[str]
    offer: Offer | None

    @classmethod
    def of(cls, planned: Plan) -> "PlanResult":
        """From the core's plan, figures rounded to a hundredth."""
        offer = Offer(target="pure") if planned.offer_pure else None
        return cls.model_validate({**planned.__dict__, "offer": offer}, from_attributes=True)

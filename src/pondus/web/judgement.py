"""`POST /api/advise` and `POST /api/plan`: the judgement for other programs."""

from apiflask import APIBlueprint

from pondus.contracts.advice import AdviceRequest, AdviceResult
from pondus.contracts.plan import PlanRequest, PlanResult

blueprint = APIBlueprint("judgement", __name__, tag="Judgement")


@blueprint.post("/advise")
@blueprint.input(AdviceRequest, arg_name="request")
@blueprint.output(AdviceResult)
def advise(request: AdviceRequest) -> AdviceResult:
    """One reading to the next move."""
    return request.advise()


@blueprint.post("/plan")
@blueprint.input(PlanRequest, arg_name="request")
@blueprint.output(PlanResult)
def plan(request: PlanRequest) -> PlanResult:
    """Four readings to the whole round."""
    return request.plan()

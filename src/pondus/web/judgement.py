"""`POST /api/advise` and `POST /api/plan`: the judgement for other programs."""

from apiflask import APIBlueprint

from pondus.contracts.advice import AdviceRequest
from pondus.contracts.base import ResultOf
from pondus.contracts.plan import PlanRequest, PlanResult
from pondus.core.judgement.advise import Advice
from pondus.core.judgement.situation import Who
from pondus.core.views.access import advised_at_most
from pondus.web.access import device_here

blueprint = APIBlueprint("judgement", __name__, tag="Judgement")


def _capped(who: Who) -> dict[str, Who]:
    """A student's device gives no more advice than its person may follow, whatever is asked of it."""
    return {"who": advised_at_most(who, device_here())}


@blueprint.post("/advise")
@blueprint.input(AdviceRequest, arg_name="request")
@blueprint.output(ResultOf[Advice])
def advise(request: AdviceRequest) -> ResultOf[Advice]:
    """One reading to the next move. Raises BadInput."""
    return ResultOf[Advice](request.model_copy(update=_capped(request.who)).advise())


@blueprint.post("/plan")
@blueprint.input(PlanRequest, arg_name="request")
@blueprint.output(PlanResult)
def plan(request: PlanRequest) -> PlanResult:
    """Four readings to the whole round. Raises BadInput."""
    return request.model_copy(update=_capped(request.who)).plan()

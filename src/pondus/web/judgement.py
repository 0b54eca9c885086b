"""`POST /api/advise`: the judgement for other programs."""

from apiflask import APIBlueprint

from pondus.contracts.advice import AdviceRequest, AdviceResult

blueprint = APIBlueprint("judgement", __name__, tag="Judgement")


@blueprint.post("/advise")
@blueprint.input(AdviceRequest, arg_name="request")
@blueprint.output(AdviceResult)
def advise(request: AdviceRequest) -> AdviceResult:
    """One reading to the next move."""
    return request.advise()

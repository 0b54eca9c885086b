"""The group's morning: every instrument sorted by its newest readings, and who does which in what order."""

from typing import Annotated
from uuid import UUID

from apiflask import APIBlueprint
from pydantic import Field

from pondus.contracts.base import Contract, Result
from pondus.core.instruments import instrument_named
from pondus.core.judgement.plan import StringAsked
from pondus.core.stations import USUAL_PACE, Clearance, Job, Morning, Station, expected_minutes, plan_morning
from pondus.core.sweep import GROUPS, Group, Sorted, sort_instrument
from pondus.store import morning as kept
from pondus.web.tunings import today
from pondus.web.unit import work

blueprint = APIBlueprint("morning", __name__, tag="Morning")


class SweptOut(Result):
    """One instrument of the morning."""

    id: UUID
    label: str
    kind: str
    size: str
    group: Group
    needs: Clearance | None
    moves: int
    minutes: float
    said: str


class MorningOut(Result):
    """Every instrument, sorted: first those that need the teacher."""

    instruments: list[SweptOut]
    counts: dict[Group, int]


class StationIn(Contract):
    """One person who tunes this morning: what they may turn, how they compare with a practised hand (left out: as usual), and
    when they come.
    """

    name: Annotated[str, Field(min_length=1, max_length=80)]
    may: Clearance
    pace: float | None = None
    from_minutes: float = 0.0


class PlanIn(Contract):
    """Who is there; instruments done meanwhile are left out by themselves."""

    stations: Annotated[list[StationIn], Field(min_length=1, max_length=40)]


class TurnOut(Result):
    """One instrument at one station, in minutes from now."""

    id: UUID
    label: str
    starts: float
    ends: float
    said: str


class StationOut(Result):
    """One station's turns in order."""

    name: str
    turns: list[TurnOut]


class PlannedOut(Result):
    """The plan: who does what, when all are done (minutes from now), the least it could be, instruments nobody here may do."""

    stations: list[StationOut]
    ends: float
    bound: float
    nobody: list[str]


def _swept() -> list[SweptOut]:
    with work() as session:
        found = kept.newest_standings(session, today=today())
    swept = []
    for each in found:
        asked = {
            name: StringAsked(string.situation, string.heard, string.sure, string.recent)
            for name, string in each.strings.items()
        }
        kind = instrument_named(each.kind)
        swept.append(_out(each, sort_instrument(asked, instrument=kind, order=each.order)))
    return sorted(swept, key=lambda each: (GROUPS.index(each.group), -each.minutes, each.label))


def _out(each: kept.NewestStanding, sorted_as: Sorted) -> SweptOut:
    moves = sorted_as.screw_moves + sorted_as.peg_moves
    minutes = (
        expected_minutes(
            [], screw_moves=sorted_as.screw_moves, peg_moves=sorted_as.peg_moves, rounds=max(1, sorted_as.rounds)
        )
        if moves
        else 0.0
    )
    return SweptOut(
        id=each.id,
        label=each.label,
        kind=each.kind,
        size=each.size,
        group=sorted_as.group,
        needs=sorted_as.needs,
        moves=moves,
        minutes=round(minutes, 2),
        said=sorted_as.said,
    )


@blueprint.get("/morning")
@blueprint.output(MorningOut)
def sweep() -> MorningOut:
    """Every instrument sorted by what its newest readings of today call for."""
    swept = _swept()
    return MorningOut(instruments=swept, counts={group: sum(each.group == group for each in swept) for group in GROUPS})


@blueprint.post("/morning/plan")
@blueprint.input(PlanIn, arg_name="asked")
@blueprint.output(PlannedOut)
def plan(asked: PlanIn) -> PlannedOut:
    """Who does which instrument, in which order, for the least time until all are done."""
    swept = {str(each.id): each for each in _swept()}
    jobs = [
        Job(key, each.minutes, each.needs) for key, each in swept.items() if each.needs is not None and each.minutes > 0
    ]
    people = [
        Station(each.name, each.may, each.pace or USUAL_PACE[each.may], each.from_minutes) for each in asked.stations
    ]
    return _planned(plan_morning(jobs, people), swept)


def _planned(morning: Morning, swept: dict[str, SweptOut]) -> PlannedOut:
    stations = []
    for name, turns in morning.turns.items():
        out = [
            TurnOut(
                id=swept[turn.job.name].id,
                label=swept[turn.job.name].label,
                starts=round(turn.starts, 2),
                ends=round(turn.ends, 2),
                said=swept[turn.job.name].said,
            )
            for turn in turns
        ]
        stations.append(StationOut(name=name, turns=out))
    return PlannedOut(
        stations=stations,
        ends=round(morning.ends, 2),
        bound=round(morning.bound, 2),
        nobody=[swept[job.name].label for job in morning.nobody],
    )

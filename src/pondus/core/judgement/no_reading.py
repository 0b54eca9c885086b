"""A string that has no reading: floppy, broken, missing, or its peg popped out. Rule R85."""

from pondus.core.judgement import words
from pondus.core.judgement.cautions import Caution
from pondus.core.judgement.procedure import Procedure
from pondus.core.judgement.reading import State
from pondus.core.judgement.situation import Situation
from pondus.core.judgement.steps import Step

Route = tuple[State, tuple[Step, ...], tuple[Caution, ...], str]
_STATES: dict[str, State] = {"on": "slack", "floppy": "slack", "broken": "broken", "off": "off"}
_NEEDS = {
    "on": "has lost its peg",
    "floppy": "is floppy: only an adult may bring it up",
    "broken": "is broken",
    "off": "is missing",
}
_WHY = {
    "on": "Its peg popped out: the string has lost its tension, and the bridge stands by the other three.",
    "floppy": "It gives no pitch: take up the slack till it sounds, then bring it up in rounds.",
    "broken": "A broken string: a new one goes on, then comes up from slack as a new string does.",
    "off": "No string there: a new one goes on, then comes up from slack as a new string does.",
}


def without_reading(situation: Situation) -> Route:
    """Its state, the steps, the cautions, and why."""
    place = situation.string_state
    state, why = _STATES[place], _WHY[place]
    if situation.bridge in ("moved", "fallen"):
        say = "Turn nothing: the bridge doesn't stand as it should. It goes to the luthier as it is."
        return state, (Step("luthier", say),), ("bridge",), say
    if situation.is_student or ("slack-to-teacher" in situation.habits and situation.who != "teacher"):
        say = words.fetch_teacher(situation, None, needs=_NEEDS[place])
        return state, (Step("fetch-teacher", say),), ("adult",), why
    laid = Procedure(situation, 0.0, None)
    if place in ("broken", "off"):
        laid.steps.append(Step("put-string-on", words.put_on(situation)))
    laid.wind_up()
    laid.look_at_bridge()
    laid.steps.append(Step("play-again", f"Once the {situation.string.name} sounds, read it; then it comes up by stages."))
    friction: tuple[Caution, ...] = ("push-in",) if situation.peg.kind == "friction" else ()
    return state, tuple(laid.steps), (*friction, "face-away", "wrong-peg", "bridge", "one-at-a-time"), why

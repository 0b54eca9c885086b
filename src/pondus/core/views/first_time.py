"""Someone's first time with one instrument: what is looked at before a string is touched, what stops everything, and what
the instrument begins with.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Generic, Literal, TypeVar, get_args

from pondus.core.clock import Clock
from pondus.core.entries.instruments import InstrumentEntry, instrument_entry
from pondus.core.errors import BadInput
from pondus.core.instruments import Kind, instrument_named
from pondus.core.judgement.situation import BridgeState, StringPlace, Who

TOLERANCE_CENTS = 5.0
"""As close as a first time has to come: within what a group bears."""


Value = TypeVar("Value", bound=str)


@dataclass(frozen=True)
class Look(Generic[Value]):
    """What one may see, in words of someone who sees it for the first time; ``stop``: what to do where that ends it."""

    value: Value
    said: str
    stop: str = ""


def _stop(how: str) -> str:
    return (
        "A small post inside, the soundpost, may have fallen too; tightening strings could break the top. Leave everything as"
        " it is, put the instrument in its case, and take it to a luthier (a violin maker)."
        f" Say: “The bridge {how}, nothing was tightened since.”"
    )


KINDS: tuple[Look[Kind], ...] = (
    Look("violin", "violin, under the chin; its thinnest string is E"),
    Look("viola", "viola, under the chin and larger; its thickest string is C"),
    Look("cello", "cello, on the floor between the knees"),
)
BRIDGES: tuple[Look[BridgeState], ...] = (
    Look("stands", "It stands straight"),
    Look("leans", "It leans a little"),
    Look("moved", "It stands crooked, or cracked", _stop("stands crooked")),
    Look("fallen", "It has fallen", _stop("has fallen")),
)
BRIDGE_HELP = (
    "Hold it sideways against the light. The side of the bridge that looks to the tailpiece stands square on the top, like a"
    " wall on a floor. If you still can’t tell, have somebody who plays look before anything is turned."
)
FineTunersSeen = Literal["one", "all", "none", "unsure"]
FINE_TUNERS: tuple[Look[FineTunersSeen], ...] = (
    Look("one", "One, at the thinnest string"),
    Look("all", "One at every string"),
    Look("none", "None"),
    Look("unsure", "I can’t tell"),
)
STRINGS: tuple[Look[StringPlace], ...] = (
    Look("on", "tight"),
    Look("floppy", "loose, floppy"),
    Look("broken", "broken or gone"),
)


@dataclass(frozen=True)
class FirstTime:
    """What an instrument begins with: itself, its bridge, who turns, and how close is close enough, in cents."""

    instrument: InstrumentEntry
    bridge: BridgeState
    who: Who
    tolerance_cents: float


def first_time(
    *,
    kind: str,
    size: str | None,
    bridge: BridgeState,
    strings: Mapping[str, StringPlace],
    adult: bool,
    clock: Clock,
    fine_tuners: FineTunersSeen = "unsure",
) -> FirstTime:
    """Begin from what was seen; ``strings``: those that aren't tight, by name; ``adult``: whether one is there to turn pegs;
    ``size`` None: nobody could tell, so full-sized; ``fine_tuners`` unsure: as such instruments usually have them.

    Raises BadInput for what can't be, and where a bridge doesn't stand.
    """
    stop = next(look.stop for look in BRIDGES if look.value == bridge)
    if stop:
        raise BadInput("bridge", f"Stop here: turn nothing. {stop}")
    if fine_tuners not in get_args(FineTunersSeen):
        raise BadInput(
            "fine_tuners", f"“{fine_tuners}” isn't a valid answer; choose from {', '.join(get_args(FineTunersSeen))}."
        )
    given: dict[str, dict[str, object]] = {name: {"state": state} for name, state in strings.items()}
    if fine_tuners != "unsure":
        names = instrument_named(kind, field="kind").string_names
        for name in names:
            fitted = fine_tuners == "all" or (fine_tuners == "one" and name == names[-1])
            given.setdefault(name, {})["has_fine_tuner"] = fitted
    entry = instrument_entry(label=f"My {kind}", kind=kind, size=size, strings=given, clock=clock)
    return FirstTime(entry, bridge, "adult" if adult else "student-fine-tuners", TOLERANCE_CENTS)

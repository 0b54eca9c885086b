"""Hypothesis strategies over the whole input space of the judgement."""

from typing import Any

from hypothesis import strategies as st

from pondus.core.instruments import INSTRUMENTS, KINDS
from pondus.core.instruments.targets import target_hz
from pondus.core.pitch.notes import shift_hz

WHO = ("teacher", "adult", "student-pegs", "student-fine-tuners")
APPROACHES = ("fine-tuner-first", "right-note-first", "save-travel", "pegs-only")

HABITS = st.just([]) | st.lists(st.sampled_from(["e-screw-only", "slack-to-teacher", "peg-back", "bow"]), unique=True)


@st.composite
def screws(draw: st.DrawFn) -> dict[str, Any] | None:
    if draw(st.integers(0, 4)) == 0:
        return None
    reach = draw(st.floats(1.0, 6.0))
    turns = draw(st.sampled_from([-1.0, 1.0]) | st.floats(-1.0, 1.0)) * reach
    rate = draw(st.none() | st.floats(5.0, 120.0))
    return {"turns_from_middle": turns, "reach_turns": reach, "cents_per_turn": rate}


@st.composite
def pegs(draw: st.DrawFn) -> dict[str, Any]:
    return {
        "kind": draw(st.sampled_from(["friction", "geared"])),
        "state": draw(st.sampled_from(["ok", "slips", "sticks"])),
        "winding": draw(st.sampled_from(["normal", "reversed"])),
        "cents_per_degree": draw(st.none() | st.floats(2.0, 40.0)),
    }


@st.composite
def instruments(draw: st.DrawFn) -> dict[str, Any]:
    """The facts `advise` and `plan` share."""
    kind = draw(st.sampled_from(KINDS))
    target = st.sampled_from(["tempered", "pure"]) | st.floats(700.0, 701.955).map(lambda width: {"fifth_cents": width})
    return {
        "instrument": kind,
        "size": draw(st.none() | st.sampled_from(list(INSTRUMENTS[kind].lengths_mm))),
        "core": draw(st.sampled_from(["steel", "synthetic"])),
        "a4": draw(st.floats(415.0, 446.0)),
        "target": draw(target),
        "approach": draw(st.sampled_from(APPROACHES)),
        "tolerance_cents": draw(st.sampled_from([1.0, 3.0, 5.0])),
        "stance": draw(st.none() | st.sampled_from(INSTRUMENTS[kind].stances)),
        "who": draw(st.sampled_from(WHO)),
        "turning": draw(st.sampled_from(["step-by-step", "while-sounding"])),
        "habits": draw(HABITS),
        "bridge": draw(st.sampled_from(["stands"] * 8 + ["leans", "moved", "fallen"])),
    }


@st.composite
def heards(draw: st.DrawFn, kind: str, string: str) -> dict[str, Any]:
    way = draw(st.sampled_from(["near", "near", "hz", "note", "letter", "side", "bare"]))
    if way == "side":
        return {"side": draw(st.sampled_from(["flat", "in-tune", "sharp"]))}
    if way == "near":
        base = target_hz(INSTRUMENTS[kind].string(string))
        return {"hz": shift_hz(base, draw(st.floats(-1600.0, 1300.0)))}
    if way == "hz":
        return {"hz": draw(st.floats(20.0, 5000.0))}
    letter = draw(st.sampled_from("CDEFGAB")) + draw(st.sampled_from(["", "#", "b"]))
    octave = str(draw(st.integers(0, 8))) if way == "note" else ""
    if way == "bare":
        named = letter + draw(st.sampled_from(["", "2", "3", "4", "5"]))
        side = draw(st.none() | st.sampled_from(["flat", "in-tune", "sharp"]))
        return {"note": named} if side is None else {"note": named, "side": side}
    return {"note": letter + octave, "cents": draw(st.floats(-50.0, 50.0))}


@st.composite
def moves(draw: st.DrawFn, has_screw: bool) -> dict[str, Any] | None:
    if draw(st.booleans()):
        return None
    mechanism = draw(st.sampled_from(["peg", "fine-tuner"] if has_screw else ["peg"]))
    return {
        "mechanism": mechanism,
        "direction": draw(st.sampled_from(["raise", "lower"])),
        "amount": draw(st.floats(0.05, 10.0)),
        "unit": "degree" if mechanism == "peg" else "turn",
        "from_cents": draw(st.floats(-800.0, 300.0)),
        "arrived": draw(st.booleans()),
        "repeats": draw(st.sampled_from([0, 0, 0, 1, 2])),
    }


@st.composite
def requests(draw: st.DrawFn) -> dict[str, Any]:
    """A whole `advise` request."""
    facts = draw(instruments())
    string = draw(st.sampled_from(INSTRUMENTS[facts["instrument"]].string_names))
    screw = draw(screws())
    return {
        **facts,
        "string": string,
        "heard": draw(heards(facts["instrument"], string)),
        "sure_of_string": draw(st.booleans()),
        "fine_tuner": screw,
        "peg": draw(pegs()),
        "recent_move": draw(moves(screw is not None)),
        "string_age_days": draw(st.none() | st.floats(0.0, 2000.0)),
        "slack": draw(st.sampled_from([False] * 5 + [True])),
    }


@st.composite
def plan_requests(draw: st.DrawFn) -> dict[str, Any]:
    """A whole `plan` request."""
    facts = draw(instruments())
    strings: dict[str, Any] = {}
    for name in INSTRUMENTS[facts["instrument"]].string_names:
        if draw(st.integers(0, 7)) == 0:
            continue
        screw = draw(screws())
        strings[name] = {
            "heard": draw(heards(facts["instrument"], name)),
            "fine_tuner": screw,
            "peg": draw(pegs()),
            "recent_move": draw(moves(screw is not None)),
            "string_age_days": draw(st.none() | st.floats(0.0, 2000.0)),
        }
    order = draw(st.sampled_from(["A-outward", "top-down", "low-up"]))
    return {**facts, "strings": strings, "order": order, "sure_of_string": draw(st.booleans())}

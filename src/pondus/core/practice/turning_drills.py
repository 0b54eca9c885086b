"""Stages 4 and 5: peg or fine tuner, which peg, which way from this hold, what now; and when to stop."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from pondus.core.instruments.holds import HOLDS, Stance, TopMoves
from pondus.core.instruments.pegbox import PegPlace, peg_place
from pondus.core.judgement import words
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.heard import Heard as Shown
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import FineTuner, Peg, Pitch, Situation
from pondus.core.judgement.steps import Step
from pondus.core.pitch.notes import nearest_note, shift_hz
from pondus.core.practice.questions import Choice, Picture, Question, Setup
from pondus.core.practice.reading_drills import display
from pondus.core.practice.verdicts import ACTS, Act, first_act, said_of

Rng = np.random.Generator
PLACES: tuple[PegPlace, ...] = ("upper left", "upper right", "middle left", "middle right", "lower left", "lower right")


def place_items(setup: Setup, level: int) -> tuple[str, ...]:
    """From the usual hold; from every hold there is."""
    holds = (setup.stance,) if level == 1 else setup.instrument.stances
    return tuple(f"{stance}:{name}" for stance in holds for name in setup.instrument.string_names)


def ask_place(setup: Setup, item: str, rng: Rng) -> Question:
    """Which peg is it?"""
    stance, name = item.split(":")
    hold = HOLDS[stance]  # type: ignore[index]
    right = peg_place(setup.instrument.string(name), hold.stance)
    there = {peg_place(string, hold.stance) for string in setup.instrument.strings}
    return Question(
        item,
        f"The instrument is {_held(hold.stance)}. Which peg is the {name} string’s?",
        tuple(Choice(place, place) for place in PLACES if place in there),
        frozenset({right}),
        f"Follow the string with your eye: the {name} ends at the {right} peg, as you see it.",
        Picture("pegbox", string=None, stance=hold.stance),
    )


def _held(stance: Stance) -> str:
    """A hold as it is said of the instrument."""
    return {
        "lap": "upright on your lap, its strings towards you",
        "playing": "under your chin",
        "helper": "in the player’s lap, strings up, and you sit at its scroll",
        "guitar": "across your lap like a guitar, its strings away from you and its scroll to your left",
        "seated": "in playing position, and you sit behind it",
        "turned": "turned to face you",
    }[stance]


def way_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Screws; pegs from the usual hold; from every hold; and wound the other way."""
    names = setup.instrument.string_names
    if level == 1:
        return tuple(f"screw:{pitch}:{setup.stance}:normal:{name}" for pitch in ("raise", "lower") for name in names)
    holds = (setup.stance,) if level == 2 else setup.instrument.stances
    windings = ("normal",) if level < 4 else ("normal", "reversed")
    return tuple(
        f"peg:{pitch}:{stance}:{winding}:{name}"
        for pitch in ("raise", "lower")
        for stance in holds
        for winding in windings
        for name in names
    )


def ask_way(setup: Setup, item: str, rng: Rng) -> Question:
    """Which way does it go?"""
    what, pitch, stance, winding, name = item.split(":")
    raises = pitch == "raise"
    step = turning_step(setup, name, stance, winding, pitch="raise" if raises else "lower", by_peg=what == "peg")
    up = "up" if raises else "down"
    if what == "screw":
        options = (Choice("clockwise", "clockwise"), Choice("counter-clockwise", "counter-clockwise"))
        return Question(
            item,
            f"You face the head of the {name} fine tuner. Which way does it bring the string {up}?",
            options,
            frozenset({str(step.rotation)}),
            "Clockwise, as you face its head, always raises"
            + (": that holds for every fine tuner." if raises else "; so counter-clockwise lets it down, on every fine tuner."),
            Picture("screw", string=name, stance=setup.stance),
        )
    hold = HOLDS[stance]  # type: ignore[index]
    wound = " Someone wound this string the wrong way round its peg." if winding == "reversed" else ""
    tops: tuple[TopMoves, ...] = ("far-left", "far-right") if hold.stance == "guitar" else ("away", "towards")
    edge = "far" if hold.stance == "guitar" else "top"
    assert step.top_moves is not None
    return Question(
        item,
        f"The instrument is {_held(hold.stance)}.{wound} To bring the {name} string {up}, the {edge} edge of its peg goes …",
        tuple(Choice(top, words.TOP_WORDS[top]) for top in tops),
        frozenset({str(step.top_moves)}),
        f"The string runs over the {'back' if winding == 'reversed' else 'front'} of the peg: so its {edge} edge, going "
        f"{words.TOP_WORDS[step.top_moves]}, {'winds more of it on' if raises else 'lets some of it off'} "
        f"({step.rotation}, facing the end of its head).",
        Picture("hold", string=name, stance=hold.stance, winding="reversed" if winding == "reversed" else "normal"),
    )


def turning_step(setup: Setup, name: str, stance: str, winding: str, *, pitch: Pitch, by_peg: bool) -> Step:
    """The step of the advice that turns this peg or screw this way."""
    off = -20.0 if not by_peg else -150.0
    facts = setup.facts(
        name,
        fine_tuner=None if by_peg else FineTuner(),
        peg=Peg(winding="reversed" if winding == "reversed" else "normal"),
        stance=stance,  # type: ignore[arg-type]
        who="teacher",
    )
    advice = advise(facts, Shown(hz=shift_hz(facts.target_hz, off if pitch == "raise" else -off)))
    return next(step for step in advice.steps if step.is_move and step.pitch == pitch)


@dataclass(frozen=True)
class Case:
    """Facts of one string with what is shown of it, and what a person is told of them."""

    facts: Situation
    off: float
    told: str = ""
    recent: RecentMove | None = None

    @property
    def shown(self) -> Shown:
        """What a tuner shows there, in whole cents."""
        note = nearest_note(shift_hz(self.facts.target_hz, self.off), a4=self.facts.a4)
        return Shown(note=note.name, cents=float(round(note.cents)) + 0.0)

    @property
    def text(self) -> str:
        """What stands on the display."""
        note = nearest_note(shift_hz(self.facts.target_hz, self.off), a4=self.facts.a4, spelling=self.facts.spelling)
        return display(note.name, note.cents)

    def advice(self) -> Advice:
        """What the core says to it."""
        return advise(self.facts, self.shown, recent_move=self.recent)


MECHANISMS: tuple[Act, ...] = ("leave", "screw", "middle", "peg", "tug", "fetch")


def mechanism_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Near or far; the screw's end; no screw, and the thinnest string."""
    kinds = (("near", "far", "home"), ("near", "far", "end"), ("near", "far", "end", "none", "thin"))[level - 1]
    thin = setup.instrument.delicate_string
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names if kind != "thin" or name == thin)


def ask_mechanism(setup: Setup, item: str, rng: Rng) -> Question:
    """Peg or fine tuner?"""
    kind, name = item.split(":")
    case = _mechanism_case(setup, kind, name, rng)
    act = first_act(case.advice())
    choices = [
        ACTS[mechanism] for mechanism in MECHANISMS if mechanism != "fetch" or act == "fetch" or setup.who.startswith("student")
    ]
    if act not in MECHANISMS:
        choices.append(ACTS[act])
    return Question(
        item,
        f"The {name} string shows {case.text}.{case.told} What do you do first?",
        tuple(choices),
        frozenset({act}),
        said_of(case.advice()),
        Picture("tuner", string=name, shows=case.text),
    )


def _mechanism_case(setup: Setup, kind: str, name: str, rng: Rng) -> Case:
    sign = 1.0 if rng.uniform() < 0.35 else -1.0
    if kind == "home":
        return Case(setup.facts(name), sign * float(rng.uniform(0.0, 0.8 * setup.tolerance_cents)))
    if kind == "near":
        return Case(setup.facts(name), sign * float(rng.uniform(8.0, 60.0)), " Its fine tuner stands in the middle.")
    if kind in ("far", "thin"):
        reach = (160.0, 330.0) if kind == "far" else (20.0, 300.0)
        return Case(setup.facts(name), -float(rng.uniform(*reach)), " Its fine tuner stands in the middle.")
    if kind == "none":
        return Case(setup.facts(name, fine_tuner=None), sign * float(rng.uniform(7.0, 60.0)), " It has no fine tuner.")
    end = 1.0 if rng.uniform() < 0.6 else -1.0
    screw = FineTuner(turns_from_middle=end * 3.9)
    screw_said = f" Its fine tuner is screwed all the way {'in' if end > 0 else 'out'}."
    off = float(rng.uniform(18.0, 45.0)) * (-end if rng.uniform() < 0.75 else end)
    return Case(setup.facts(name, fine_tuner=screw), off, screw_said)


def now_items(setup: Setup, level: int) -> tuple[str, ...]:
    """What a turn did; what a peg does; slack strings and bridges."""
    kinds = (
        ("on-its-way", "no-effect", "past"),
        ("on-its-way", "no-effect", "wrong-way", "sticks", "past"),
        ("no-effect", "wrong-way", "sticks", "slack", "leans", "fallen", "too-sharp", "on-its-way"),
    )[level - 1]
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names)


NOW: tuple[Act, ...] = ("peg", "screw", "stop", "bridge", "fetch", "luthier", "leave", "again")


def ask_now(setup: Setup, item: str, rng: Rng) -> Question:
    """Something was turned: what now? To stop, or to fetch someone, is an answer that counts."""
    kind, name = item.split(":")
    case = _now_case(setup, kind, name, rng)
    advice = case.advice()
    act = first_act(advice)
    wanted = [mechanism for mechanism in NOW if mechanism not in ("again", "leave")]
    if act not in wanted:
        wanted.append(act)
    choices = dict(ACTS)
    choices["peg"] = Choice("peg", "turn the peg again")
    choices["screw"] = Choice("screw", "finish with the fine tuner")
    return Question(
        item,
        f"{case.told} The {name} string shows {case.text}. What now?",
        tuple(choices[choice] for choice in wanted),
        frozenset({act}),
        said_of(advice),
        Picture("tuner", string=name, shows=case.text),
    )


def _now_case(setup: Setup, kind: str, name: str, rng: Rng) -> Case:
    return _NOW_CASES[kind](setup, name, rng)


def _pushed(setup: Setup, name: str, before: float, after: float, story: str, **facts: Any) -> Case:
    """After one nudge up of the peg."""
    moved = RecentMove("peg", "raise", 5.0, "degree", from_cents=before)
    return Case(setup.facts(name, **facts), after, story, moved)


def _on_its_way(setup: Setup, name: str, rng: Rng) -> Case:
    before = -float(rng.uniform(240.0, 320.0))
    return _pushed(
        setup, name, before, before + float(rng.uniform(45.0, 75.0)), "You turned the peg up a little, pushing it in."
    )


def _no_effect(setup: Setup, name: str, rng: Rng) -> Case:
    before = -float(rng.uniform(180.0, 320.0))
    story = "You turned the peg up by about 5°, and plucked."
    return _pushed(
        setup, name, before, before + float(rng.uniform(-1.0, 1.0)), f"{story} Before that it stood {words.off(before)}."
    )


def _wrong_way(setup: Setup, name: str, rng: Rng) -> Case:
    before = -float(rng.uniform(120.0, 240.0))
    told = f"You turned the peg up a little. Before that it stood {words.off(before)}."
    return _pushed(setup, name, before, before - float(rng.uniform(30.0, 90.0)), told)


def _past(setup: Setup, name: str, rng: Rng) -> Case:
    before = -float(rng.uniform(60.0, 100.0))
    told = "You turned the peg up, and it jumped past."
    return _pushed(setup, name, before, float(rng.uniform(12.0, 40.0)), told)


def _sticks(setup: Setup, name: str, rng: Rng) -> Case:
    before = -float(rng.uniform(160.0, 260.0))
    told = "The peg is stuck: you turn, and it doesn’t move."
    return Case(setup.facts(name, peg=Peg(state="sticks")), before, told)


def _slack(setup: Setup, name: str, rng: Rng) -> Case:
    told = "The string hangs loose and sounds far too low."
    return Case(setup.facts(name), -float(rng.uniform(760.0, 1050.0)), told)


def _leans(setup: Setup, name: str, rng: Rng) -> Case:
    told = "The top of the bridge leans towards the fingerboard."
    return Case(setup.facts(name, bridge="leans"), -float(rng.uniform(160.0, 300.0)), told)


def _fallen(setup: Setup, name: str, rng: Rng) -> Case:
    return Case(setup.facts(name, bridge="fallen"), -float(rng.uniform(160.0, 300.0)), "The bridge has fallen.")


def _too_sharp(setup: Setup, name: str, rng: Rng) -> Case:
    return Case(setup.facts(name), float(rng.uniform(840.0, 980.0)), "You played it once.")


_NOW_CASES: dict[str, Callable[[Setup, str, Rng], Case]] = {
    "on-its-way": _on_its_way,
    "no-effect": _no_effect,
    "wrong-way": _wrong_way,
    "past": _past,
    "sticks": _sticks,
    "slack": _slack,
    "leans": _leans,
    "fallen": _fallen,
    "too-sharp": _too_sharp,
}

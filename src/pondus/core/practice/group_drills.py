"""Stage 7 and the work with a whole group: another school of fifths, before a stage; sorting, who takes which, faults."""

from datetime import date, timedelta
from typing import Literal

import numpy as np

from pondus.core.group.jobs import Clearance, Job, Tuner
from pondus.core.group.schedule import plan_morning
from pondus.core.group.triage import Group, sort_instrument
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS, offset_cents
from pondus.core.judgement.advise import advise
from pondus.core.judgement.heard import Heard as Shown
from pondus.core.judgement.plan import StringAsked, plan
from pondus.core.judgement.situation import FineTuner
from pondus.core.pitch.notes import nearest_note, shift_hz
from pondus.core.practice.questions import Choice, Picture, Question, Row, Setup, shuffled
from pondus.core.practice.reading_drills import display
from pondus.core.practice.verdicts import ACTS, Act, first_act, said_of
from pondus.core.upkeep.care import SYMPTOMS, Seen, Symptom, referrals

Rng = np.random.Generator
REFERRED_ASKED: tuple[Symptom, ...] = ("peg-slips", "peg-stuck", "string-false", "bridge-moved")
SORTED_SAID: dict[Group, str] = {
    "leave": "leave it, it is in tune",
    "student-can": "a student can, by fine tuner",
    "teacher-must": "someone who may turn pegs must",
    "luthier": "not today: the luthier",
}


def _readings(setup: Setup, offs: dict[str, float], *, fifth_cents: float, screws: dict[str, float] | None = None) -> (
    dict[str, StringAsked]
):  # fmt: skip
    """Strings with what a tuner shows of each, in whole cents, for someone who may turn everything."""
    strings = {}
    for name, off in offs.items():
        tempered = setup.facts(name, fifth_cents=TEMPERED_FIFTH_CENTS).target_hz
        note = nearest_note(shift_hz(tempered, off), a4=setup.a4)
        facts = setup.facts(
            name, who="teacher", fifth_cents=fifth_cents, fine_tuner=FineTuner(turns_from_middle=(screws or {}).get(name, 0.0))
        )
        strings[name] = StringAsked(facts, Shown(note=note.name, cents=float(round(note.cents)) + 0.0))
    return strings


def _rows(setup: Setup, strings: dict[str, StringAsked]) -> tuple[Row, ...]:
    """Strings, and what a tuner shows of each."""
    rows = []
    for name, string in strings.items():
        assert string.heard is not None and string.heard.cents is not None and string.heard.note is not None
        rows.append(Row(name, display(string.heard.note, string.heard.cents)))
    return tuple(rows)


def school_items(setup: Setup, level: int) -> tuple[str, ...]:
    """A pure chain; one that isn't; each read by a tempered tuner."""
    return ("pure:tempered", "off:tempered", "pure:pure", "off:pure", "tempered:tempered")[: 3 if level == 1 else 5]


def ask_school(setup: Setup, item: str, rng: Rng) -> Question:
    """Four strings on a tempered tuner: which are to be turned?"""
    kind, school = item.split(":")
    fifth = PURE_FIFTH_CENTS if school == "pure" else TEMPERED_FIFTH_CENTS
    instrument = setup.instrument
    offs = {
        string.name: 0.0 if kind == "tempered" else offset_cents(string, fifth_cents=PURE_FIFTH_CENTS)
        for string in instrument.strings
    }
    turned: str | None = None
    if kind == "off":
        turned = str(rng.choice([name for name in offs if name != "A"]))
        offs[turned] += float(rng.choice([-1.0, 1.0])) * float(rng.uniform(9.0, 16.0))
    strings = _readings(setup, offs, fifth_cents=fifth)
    planned = plan(strings, instrument=instrument)
    moved = list(dict.fromkeys(move.string for move in planned.moves))
    right = "none" if not moved else moved[0] if len(moved) == 1 else "several"
    tuned = "pure fifths" if school == "pure" else "tempered, as a tuner shows it"
    names = [*offs]
    because = planned.why
    if planned.offer_pure:
        because = "That is a pure chain, right by ear: a tempered tuner shows the outer strings off. Nothing is turned."
    return Question(
        item,
        f"Your group tunes {tuned}. A tempered tuner shows this. Which string do you turn?",
        (
            Choice("none", "none, it is right"),
            *(Choice(name, f"the {name}") for name in names),
            Choice("several", "more than one"),
        ),
        frozenset({right}),
        because,
        Picture("class", rows=_rows(setup, strings)),
    )


def stage_items(setup: Setup, level: int) -> tuple[str, ...]:
    """A hair; more; far; at home."""
    kinds = ("home", "hair", "far") if level == 1 else ("home", "hair", "far", "edge")
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names)


def ask_stage(setup: Setup, item: str, rng: Rng) -> Question:
    """On the stage, a minute before: one look, soft and quick. What is touched, and what isn't?"""
    kind, name = item.split(":")
    reach = {"home": (0.0, 2.4), "hair": (5.0, 18.0), "far": (150.0, 280.0), "edge": (2.0, 6.0)}[kind]
    off = float(rng.uniform(*reach)) * (-1.0 if kind == "far" or rng.uniform() < 0.6 else 1.0)
    facts = setup.facts(name, who="student-fine-tuners")
    note = nearest_note(shift_hz(facts.target_hz, off), a4=setup.a4)
    advice = advise(facts, Shown(note=note.name, cents=float(round(note.cents)) + 0.0))
    act = first_act(advice)
    text = display(nearest_note(shift_hz(facts.target_hz, off), a4=setup.a4, spelling=setup.spelling).name, note.cents)
    options: tuple[Act, ...] = ("leave", "screw", "peg", "fetch")
    choices = {
        **ACTS,
        "screw": Choice("screw", "one small turn of its fine tuner, softly"),
        "peg": Choice("peg", "its peg, here and now"),
        "fetch": Choice("fetch", "off the stage with it: fetch a teacher"),
    }
    return Question(
        item,
        f"On stage, a minute before you play, the {name} string shows {text}. What do you do?",
        tuple(choices[option] for option in options),
        frozenset({act}),
        f"{said_of(advice)} On a stage: one look, soft and quick; pegs are for the quiet room.",
        Picture("tuner", string=name, shows=text),
    )


def triage_items(setup: Setup, level: int) -> tuple[str, ...]:
    """In tune, screws, pegs; slack ones and screws at their ends."""
    kinds = ("home", "screws", "far") if level == 1 else ("home", "screws", "far", "slack", "end")
    return kinds if level < 3 else (*kinds, "octave")


_SORTED_SO: dict[Clearance | Literal["nobody"], str] = {
    "nobody": "Nothing is turned.",
    "fine-tuners": "Their fine tuners reach that far, so no peg is touched.",
    "pegs": "No fine tuner reaches so far from where it stands: its peg has to move.",
    "teacher": "What hangs slack, or shows what can’t be, is a teacher’s: it is heard again, and brought up in rounds.",
}


def ask_triage(setup: Setup, item: str, rng: Rng) -> Question:
    """Four readings of one instrument of a class: who does it?"""
    names = setup.instrument.string_names
    offs = {name: float(rng.uniform(-2.4, 2.4)) for name in names}
    screws: dict[str, float] = {}
    hit = str(rng.choice(list(names)))
    story = ""
    if item == "screws":
        for name in names:
            offs[name] = float(rng.uniform(-38.0, 14.0))
    elif item in ("far", "slack"):
        offs[hit] = -float(rng.uniform(170.0, 320.0) if item == "far" else rng.uniform(760.0, 1000.0))
    elif item == "end":
        offs[hit], screws[hit] = -float(rng.uniform(25.0, 45.0)), 3.9
        story = f" The {hit} fine tuner is all the way in."
    elif item == "octave":
        offs[hit] = 1200.0 + float(rng.uniform(-20.0, 20.0))
    strings = _readings(setup, offs, fifth_cents=setup.fifth_cents, screws=screws)
    sorted_as = sort_instrument(strings, instrument=setup.instrument)
    return Question(
        item,
        f"Sort this {setup.kind}.{story}",
        tuple(Choice(group, said) for group, said in SORTED_SAID.items()),
        frozenset({sorted_as.group}),
        f"{sorted_as.said[:1].upper()}{sorted_as.said[1:]}. {_SORTED_SO[sorted_as.needs or 'nobody']}",
        Picture("class", rows=_rows(setup, strings)),
    )


_MAY: dict[Clearance, str] = {
    "fine-tuners": "the student who may turn fine tuners",
    "pegs": "the helper, who may turn pegs",
    "teacher": "the teacher",
}
_NEEDS: dict[Clearance, str] = {
    "fine-tuners": "needs fine tuners turned",
    "pegs": "needs a peg turned",
    "teacher": "has a slack string",
}
THIS_MINUTES, OTHERS_MINUTES, BUSY_MINUTES = 4.0, 6.0, 10.0


def station_items(setup: Setup, level: int) -> tuple[str, ...]:
    """What an instrument needs while everyone is free; and while someone isn't."""
    free = tuple(f"{needs}:free" for needs in _MAY)
    return free if level == 1 else (*free, *(f"{needs}:{busy}" for needs in _MAY for busy in _MAY if needs == busy))


def ask_station(setup: Setup, item: str, rng: Rng) -> Question:
    """Who takes which, so that all are done soonest? Two more wait, one for each of the other clearances."""
    needed, busy = item.split(":")
    needs = _clearance(needed)
    others = [Job(clearance, OTHERS_MINUTES, clearance) for clearance in _MAY if clearance != needs]
    everyone = [Tuner(may, may, from_minutes=BUSY_MINUTES if may == busy else 0.0) for may in _MAY]
    ends = {may: _all_done(may, needs, others, everyone) for may in _MAY}
    soonest = min(ends.values())
    waiting = " and ".join(f"one that {_NEEDS[other.needs]}" for other in others)
    free = "Everyone is free" if busy == "free" else f"Busy for ten minutes more: {_MAY[_clearance(busy)]}"
    return Question(
        item,
        f"A {setup.kind} {_NEEDS[needs]}; {waiting} wait besides. {free}."
        f" Who takes the {setup.kind}, so that all are done soonest?",
        shuffled([Choice(may, said) for may, said in _MAY.items()], rng),
        frozenset(may for may, at in ends.items() if at <= soonest + 1e-6),
        f"Whoever may turn more is kept for what only they may: so all are done in {soonest:.0f} minutes.",
    )


def _clearance(text: str) -> Clearance:
    return "teacher" if text == "teacher" else "pegs" if text == "pegs" else "fine-tuners"


def _all_done(may: Clearance, needs: Clearance, others: list[Job], everyone: list[Tuner]) -> float:
    """When all are done, in minutes, if this one takes it first; never, if they may not."""
    taker = next(tuner for tuner in everyone if tuner.may == may)
    if not taker.may_take(Job("this", THIS_MINUTES, needs)):
        return float("inf")
    after = taker.from_minutes + THIS_MINUTES
    left = [Tuner(tuner.name, tuner.may, from_minutes=after if tuner is taker else tuner.from_minutes) for tuner in everyone]
    return max(after, plan_morning(others, left).ends)


def fault_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Signs, and what is done; then when it is the luthier's."""
    signs = tuple(f"do:{symptom}" for symptom in SYMPTOMS)
    return signs if level == 1 else (*signs, *(f"when:{symptom}" for symptom in REFERRED_ASKED))


def ask_fault(setup: Setup, item: str, rng: Rng) -> Question:
    """From the sign to what is done, and to who does it."""
    kind, name = item.split(":")
    symptom = next(symptom for symptom in SYMPTOMS if symptom == name)
    facts = SYMPTOMS[symptom]
    if kind == "do":
        others = [symptom for symptom in SYMPTOMS if SYMPTOMS[symptom].do != facts.do]
        wrong = [SYMPTOMS[others[place]].do for place in rng.permutation(len(others))[:3]]
        return Question(
            item,
            f"{facts.said[:1].upper()}{facts.said[1:]}. What do you do?",
            shuffled([Choice(do, do) for do in (facts.do, *wrong)], rng),
            frozenset({facts.do}),
            f"Likely: {facts.likely}.",
        )
    times = int(rng.integers(1, 4)) if symptom == "peg-slips" else 1
    to = _referred(symptom, times)
    often = "" if times == 1 else f", {times} tunings in a row"
    return Question(
        item,
        f"{facts.said[:1].upper()}{facts.said[1:]}{often}. Who mends it?",
        (
            Choice("hands", "you, with what you know"),
            Choice("new-string", "you, with a new string"),
            Choice("luthier", "the luthier"),
        ),
        frozenset({to}),
        {"luthier": "That is the luthier’s.", "new-string": "A new string is all it needs."}.get(to, f"Do this: {facts.do}."),
    )


def _referred(symptom: Symptom, times: int) -> str:
    """Whether it is referred by the rules of care: a slipping peg goes by how many tunings in a row it slipped."""
    string = "G" if SYMPTOMS[symptom].of_string else None
    if symptom == "peg-slips":
        referred = referrals([], slipped=[frozenset("G")] * times)
    else:
        day = date(2026, 1, 1)
        referred = referrals(
            [Seen(symptom, string, day + timedelta(days=days_later)) for days_later in range(times)], slipped=[]
        )
    return referred[0].to if referred else "hands"

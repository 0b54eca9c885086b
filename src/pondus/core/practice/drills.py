"""The drills there are, as data: one row each. A new drill is a row here and the two functions it names."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial
from typing import Literal

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.group.people import STAGES
from pondus.core.judgement.situation import Who
from pondus.core.practice import ear_drills, foretell, group_drills, hands, reading_drills, turning_drills, whole
from pondus.core.practice.questions import Picture, Question, Setup

Way = Literal["choice", "ears", "figure", "hands", "microphone"]
Items = Callable[[Setup, int], tuple[str, ...]]
Ask = Callable[[Setup, str, np.random.Generator], Question]
AskBy = Callable[[Setup, str, np.random.Generator, float], Question]

CHOICE_QUESTIONS, EAR_QUESTIONS, FIGURE_QUESTIONS, HAND_QUESTIONS, WHOLE_QUESTIONS = 12, 40, 6, 3, 1
EAR_CHOICES = 3
SURE_FACTOR, SURE_AFTER = 1.30, 16
"""A threshold known within this factor needs no more questions, after so many."""


@dataclass(frozen=True)
class Drill:
    """One drill. ``stage`` of a player's tuning; ``said`` its name, ``does`` what one does in it. ``ask_by`` in place of
    ``ask`` where a difference in cents is measured. ``within_cents``: the threshold, or the distance, that counts as managed.
    ``staff``: for helpers and teachers; ``by_ear``: what the hands do is heard, not shown; ``beside``: it counts beside the
    others, and isn't wanted of anyone.
    """

    name: str
    stage: int
    said: str
    does: str
    way: Way
    items: Items
    ask: Ask | None = None
    ask_by: AskBy | None = None
    levels: int = 1
    questions: int = CHOICE_QUESTIONS
    within_cents: float | None = None
    staff: bool = False
    by_ear: bool = False
    beside: bool = False

    @property
    def who(self) -> Who:
        """Whose hands it is asked for: a helper's or teacher's, or a player's with pegs."""
        return "adult" if self.staff else "student-pegs"

    @property
    def sounds(self) -> bool:
        """Whether something is heard in it."""
        return self.way in ("ears", "figure", "hands", "microphone")

    @property
    def wants_quiet(self) -> bool:
        """Whether it can't be done without hearing."""
        return self.by_ear or self.way in ("ears", "figure", "microphone")


def _by_ear_for_real(setup: Setup, item: str, rng: np.random.Generator) -> Question:
    """On the real instrument: the display hidden until one says that it is right."""
    return Question(
        item,
        f"Take your own instrument. The reference {item} sounds: tune your {item} to it by ear, and say when it is right.",
        picture=Picture("strings", string=item),
        microphone=item,
    )


_TABLE = (
    Drill("names", 1, "Names of the strings", "Say which string it is, and which letters stand beside it.", "choice",
          reading_drills.names_items, reading_drills.ask_name, levels=3),
    Drill("flat-or-sharp", 1, "Flat or sharp", "Read a tuner: up, down, or leave it.", "choice",
          reading_drills.side_items, reading_drills.ask_side, levels=3),
    Drill("how-far", 1, "How far", "Read a tuner: how many cents off, over other letters too.", "choice",
          reading_drills.far_items, reading_drills.ask_far, levels=3),
    Drill("traps", 1, "Can it be true?", "Octaves, other strings: which readings can be believed.", "choice",
          reading_drills.trap_items, reading_drills.ask_trap, levels=3),
    Drill("no-figures", 1, "A tuner without figures", "Left, middle, right, with or without a letter.", "choice",
          reading_drills.figureless_items, reading_drills.ask_figureless, levels=3),
    Drill("screw-plucked", 2, "In tune by fine tuner, plucking", "A simulated string: pluck, read, turn.", "hands",
          hands.screw_items, partial(hands.ask_screw, how="pluck"), levels=3, questions=HAND_QUESTIONS),
    Drill("foretell", 2, "Foretell", "Say what a turn will do, then turn and see.", "hands",
          foretell.foretell_items, foretell.ask_foretell, levels=2, questions=HAND_QUESTIONS, beside=True),
    Drill("screw-bowed", 3, "In tune by fine tuner, bowing", "The same while the string is bowed all along.", "hands",
          hands.screw_items, partial(hands.ask_screw, how="bow"), levels=3, questions=HAND_QUESTIONS),
    Drill("whole", 3, "A whole instrument", "Hear all its strings, decide, turn, hear all again.", "hands",
          partial(whole.whole_items, shows=("figures",)), whole.ask_whole, levels=3, questions=WHOLE_QUESTIONS, beside=True),
    Drill("peg-or-screw", 4, "Peg or fine tuner", "What is turned first, if anything.", "choice",
          turning_drills.mechanism_items, turning_drills.ask_mechanism, levels=3),
    Drill("which-peg", 4, "Which peg", "Find a string’s peg, from where you are.", "choice",
          turning_drills.place_items, turning_drills.ask_place, levels=2),
    Drill("which-way", 4, "Which way", "Which way up, which way down, from where you are.", "choice",
          turning_drills.way_items, turning_drills.ask_way, levels=4),
    Drill("what-now", 4, "What now", "After a turn: on, finish, stop, or fetch someone.", "choice",
          turning_drills.now_items, turning_drills.ask_now, levels=3),
    Drill("peg-home", 5, "In tune by peg", "Bring a far string up: push in, small pushes, stop under, finish.", "hands",
          hands.peg_items, hands.ask_peg, levels=3, questions=HAND_QUESTIONS),
    Drill("whole-letters", 5, "A whole instrument, no figures", "By letters, or by a light alone.", "hands",
          partial(whole.whole_items, shows=("letters", "light")), whole.ask_whole, levels=3, questions=WHOLE_QUESTIONS,
          beside=True),
    Drill("higher", 6, "Which is higher", "Two tones: higher, lower, or the same?", "ears",
          ear_drills.tone_items, ask_by=ear_drills.ask_higher, questions=EAR_QUESTIONS, within_cents=12.0),
    Drill("fifths", 6, "Narrow, pure or wide", "Two strings together: how is their fifth?", "ears",
          ear_drills.fifth_items, ask_by=ear_drills.ask_fifth, questions=EAR_QUESTIONS, within_cents=8.0),
    Drill("beats", 6, "Count the beats", "How many beats in a second.", "figure",
          ear_drills.beats_items, ear_drills.ask_beats, questions=FIGURE_QUESTIONS),
    Drill("still", 6, "Still the beating", "Turn until the fifth stands still.", "hands",
          hands.fifth_hand_items, hands.ask_still, questions=HAND_QUESTIONS, by_ear=True),
    Drill("to-a-tone", 6, "To a sounding tone", "Tune to a tone that sounds, the display hidden.", "hands",
          hands.ear_items, hands.ask_to_tone, questions=HAND_QUESTIONS, by_ear=True),
    Drill("whole-by-ear", 6, "A whole instrument, by ear", "To its tones, or the A and then its fifths.", "hands",
          partial(whole.whole_items, shows=("tones", "fifths")), whole.ask_whole, levels=3, questions=WHOLE_QUESTIONS,
          beside=True, by_ear=True),
    Drill("for-real", 6, "On your own instrument", "Tune by ear, say when it is right, then see.", "microphone",
          hands.ear_items, _by_ear_for_real, questions=4, beside=True, within_cents=hands.BY_EAR_WITHIN_CENTS),
    Drill("harmonics", 7, "Harmonics", "Two harmonics, one pitch against the other: how is the fifth?", "ears",
          ear_drills.harmonics_items, ask_by=ear_drills.ask_harmonics, questions=EAR_QUESTIONS, within_cents=8.0),
    Drill("oboe", 7, "The A that is given", "Take an A of another pitch, from the oboe’s place.", "hands",
          hands.reed_items, hands.ask_reed, questions=HAND_QUESTIONS, by_ear=True),
    Drill("schools", 7, "Pure or tempered", "What a tempered tuner shows of pure fifths, and what is turned.", "choice",
          group_drills.school_items, group_drills.ask_school, levels=2),
    Drill("before-stage", 7, "A minute before", "On stage: what is touched up, what is left.", "choice",
          group_drills.stage_items, group_drills.ask_stage, levels=2),
    Drill("sorting", 4, "Sort the class", "Four readings: who does this one?", "choice",
          group_drills.triage_items, group_drills.ask_triage, levels=3, staff=True),
    Drill("who-takes-it", 4, "Who takes it", "So that all are done soonest.", "choice",
          group_drills.station_items, group_drills.ask_station, levels=2, staff=True),
    Drill("faults", 4, "Faults by their signs", "What is done, and who does it.", "choice",
          group_drills.fault_items, group_drills.ask_fault, levels=2, staff=True),
)  # fmt: skip
DRILLS: Mapping[str, Drill] = {drill.name: drill for drill in _TABLE}


def drill_named(name: str) -> Drill:
    """The drill of that name. Raises BadInput."""
    if name not in DRILLS:
        raise BadInput("drill", f"There is no drill “{name}”; choose from {', '.join(DRILLS)}.")
    return DRILLS[name]


def drills_of_stage(stage: int) -> tuple[Drill, ...]:
    """A player's drills of one stage.

    >>> [each.name for each in drills_of_stage(3)]
    ['screw-bowed', 'whole']
    """
    assert stage in STAGES
    return tuple(drill for drill in DRILLS.values() if drill.stage == stage and not drill.staff)

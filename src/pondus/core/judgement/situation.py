"""What the judgement is told: one string, its fittings, who stands how, and what was heard.

``checked`` functions refuse what can't be meant before anything is computed, naming the field and the way out.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from pondus.core.errors import BadInput
from pondus.core.instruments import Instrument, StringCore, StringData
from pondus.core.instruments.holds import Stance
from pondus.core.instruments.mechanics import PEG_PRIOR_SPREAD, SCREW_PRIOR_SPREAD, Rate, is_violin_e, peg_rate, screw_rate
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS, check_fifth_cents, target_hz
from pondus.core.judgement.approaches import APPROACHES, USUAL_APPROACH, Approach, check_approach
from pondus.core.judgement.habits import Habit, check_habits
from pondus.core.pitch.notes import A4_HZ, Spelling, check_a4

Who = Literal["teacher", "adult", "student-pegs", "student-fine-tuners"]
Mechanism = Literal["fine-tuner", "peg"]
Pitch = Literal["raise", "lower"]
PegKind = Literal["friction", "geared"]
PegState = Literal["ok", "slips", "sticks", "out"]
Winding = Literal["normal", "reversed"]
Unit = Literal["turn", "degree"]
Turning = Literal["while-sounding", "step-by-step"]
StringPlace = Literal["on", "floppy", "broken", "off"]
BridgeState = Literal["stands", "leans", "moved", "fallen"]

NEW_STRING_DAYS = 10.0
"""A string younger than this still stretches."""

LARGEST_TOLERANCE_CENTS = 20.0
LONGEST_REACH_TURNS = 20.0


def usual_turning(who: Who) -> Turning:
    """How a hand turns where nobody said: practised ones while the string sounds, learners step by step.

    >>> usual_turning("teacher"), usual_turning("student-pegs")
    ('while-sounding', 'step-by-step')
    """
    return "while-sounding" if who in ("teacher", "adult") else "step-by-step"


@dataclass(frozen=True)
class FineTuner:
    """A screw at the tailpiece. ``reach_turns`` is from the middle to either end; ``cents_per_turn`` None: not learned.
    ``is_seen`` false: nobody has looked where it stands.
    """

    turns_from_middle: float = 0.0
    reach_turns: float = 4.0
    cents_per_turn: float | None = None
    cents_per_turn_plus_minus: float | None = None
    is_seen: bool = True


@dataclass(frozen=True)
class Peg:
    """A peg. ``cents_per_degree`` of its head; None: not learned. State ``out``: it popped out of its hole."""

    kind: PegKind = "friction"
    state: PegState = "ok"
    winding: Winding = "normal"
    cents_per_degree: float | None = None


PAST_ENOUGH = 3
"""R133: a peg that went from one side of the middle to the other so often in a row comes no nearer."""


@dataclass(frozen=True)
class Situation:
    """One string as it stands, everything but what was heard. Validated on construction (see ``situation``).

    ``slack``: it comes up from slack and is not within 100 cents yet. ``bridge`` is the instrument's, and so is
    ``far_down_together``: this string and at least one other are far down at once. ``octave_guessed``: whether it was let
    down from a height whose octave nobody knew (None: go by the last move); ``octave_in_doubt``: from where it stood it may
    be at either of two octaves; ``others_far_down``: so that it will hardly be sharp; ``sprang_back``: how often its peg is
    said to have sprung back in this tuning; ``not_turned``: how often in a row it is said not to have been turned;
    ``pulled_in_vain``: how many pulls in a row did nothing; ``winding_doubted``: its last turn is said to have gone the wrong
    way for its winding, and one more is to tell. ``fifth_with``: the string that it is being brought to a fifth with, both
    bowed together. ``far_by_side``: how often it is said to have moved though the side that is shown stayed; ``by_letters``:
    a letter is all that its tuner shows; ``went_past``: how often in a row a push of its peg led from one side of the middle
    to the other; ``pulled``: how often in a row it was pulled down.
    """

    instrument: Instrument
    string: StringData
    size: str
    stance: Stance
    core: StringCore = "steel"
    a4: float = A4_HZ
    fifth_cents: float = TEMPERED_FIFTH_CENTS
    approach: str = USUAL_APPROACH
    tolerance_cents: float = 3.0
    fine_tuner: FineTuner | None = field(default_factory=FineTuner)
    peg: Peg = field(default_factory=Peg)
    who: Who = "teacher"
    string_age_days: float | None = None
    spelling: Spelling = "sharps"
    turning: Turning = "step-by-step"
    habits: tuple[Habit, ...] = ()
    string_state: StringPlace = "on"
    slack: bool = False
    bridge: BridgeState = "stands"
    far_down_together: bool = False
    octave_guessed: bool | None = None
    octave_in_doubt: bool = False
    others_far_down: bool = False
    sprang_back: int = 0
    not_turned: int = 0
    pulled_in_vain: int = 0
    winding_doubted: bool = False
    fifth_with: str | None = None
    far_by_side: int = 0
    by_letters: bool = False
    went_past: int = 0
    pulled: int = 0

    @property
    def as_near_as_it_gets(self) -> bool:
        """R133: whether its peg, and nothing else turns it, went past the middle so often that it comes no nearer by sides."""
        return self.by_peg_alone and self.went_past >= PAST_ENOUGH

    @property
    def is_student(self) -> bool:
        """Whether the one who tunes is a student."""
        return self.who in ("student-pegs", "student-fine-tuners")

    @property
    def is_new(self) -> bool:
        """Whether the string is so new that it still stretches."""
        return self.string_age_days is not None and self.string_age_days < NEW_STRING_DAYS

    @property
    def by_peg_alone(self) -> bool:
        """Whether a friction peg is all there is to tune with: no screw, or one that is left alone. It moves no less than a
        degree, 9 to 26 cents.
        """
        if self.peg.kind != "friction":
            return False
        leaves_screw = not self.taken_by.uses_screw and not self.is_delicate_e
        return self.fine_tuner is None or leaves_screw

    @property
    def is_delicate_e(self) -> bool:
        """Whether it is a violin's E, and has a rule of its own for its peg."""
        return is_violin_e(self.instrument, self.string) and "e-as-others" not in self.habits

    @property
    def pulls_down(self) -> bool:
        """R82, R128: whether a pull lets it down where the peg is too coarse; else the peg goes back and comes up again."""
        return self.by_peg_alone and "peg-back" not in self.habits

    @property
    def while_sounding(self) -> bool:
        """Whether the string is sounded and watched all the while a hand turns."""
        return self.turning == "while-sounding"

    @property
    def taken_by(self) -> Approach:
        """The approach, whole."""
        return APPROACHES[check_approach(self.approach)]

    @property
    def target_hz(self) -> float:
        """Where this string should stand, in Hz."""
        return target_hz(self.string, a4=self.a4, fifth_cents=self.fifth_cents)

    @property
    def screw_rate(self) -> Rate:
        """Cents per turn of this string's fine tuner: as learned, else the prior."""
        prior = screw_rate(self.instrument, self.string, size=self.size, core=self.core)
        tuner = self.fine_tuner
        if tuner is None or tuner.cents_per_turn is None:
            return prior
        spread = tuner.cents_per_turn_plus_minus
        learned = tuner.cents_per_turn
        return Rate(learned, SCREW_PRIOR_SPREAD * learned if spread is None else spread)

    @property
    def peg_rate(self) -> Rate:
        """Cents per degree of this string's peg head: as learned, else the prior."""
        if self.peg.cents_per_degree is not None:
            return Rate(self.peg.cents_per_degree, PEG_PRIOR_SPREAD * self.peg.cents_per_degree)
        return peg_rate(self.instrument, self.string, size=self.size, core=self.core, geared=self.peg.kind == "geared")


def situation(
    instrument: Instrument,
    string: str,
    *,
    fine_tuner: FineTuner | None,
    peg: Peg,
    string_field: str = "string",
    size: str | None = None,
    stance: Stance | None = None,
    habits: Iterable[str] = (),
    prefix: str = "",
    **facts: Any,
) -> Situation:
    """Check every fact and put them together. ``facts``: further fields of `Situation`, by name; ``prefix`` leads the field
    names in refusals.

    Raises BadInput naming the field and the way out.
    """
    age = facts.get("string_age_days")
    if age is not None and not 0.0 <= age < math.inf:
        raise BadInput(
            f"{prefix}string_age_days",
            f"A string can't be {age:g} days old; give the days since it was put on, or leave it out.",
        )
    if fine_tuner is not None:
        check_fine_tuner(fine_tuner, prefix=prefix)
    _check_rate(peg.cents_per_degree, f"{prefix}peg.cents_per_degree")
    found = Situation(
        instrument=instrument,
        string=instrument.string(string, field=string_field),
        size=instrument.size(size),
        stance=check_stance(instrument, stance),
        fine_tuner=fine_tuner,
        peg=peg,
        **facts,
    )
    check_a4(found.a4)
    check_fifth_cents(found.fifth_cents)
    check_approach(found.approach)
    check_tolerance(found.tolerance_cents)
    return replace(found, habits=check_habits(habits))


def check_tolerance(tolerance_cents: float) -> float:
    """The tolerance if it can be used (more than 0, up to 20 cents).

    Raises BadInput.
    """
    if not 0.0 < tolerance_cents <= LARGEST_TOLERANCE_CENTS:
        raise BadInput(
            "tolerance_cents",
            f"A tolerance of {tolerance_cents:g} cents can't be used; choose 5 (close), 3 (good) or 1 (exact).",
        )
    return tolerance_cents


def check_stance(instrument: Instrument, stance: Stance | None) -> Stance:
    """The stance if it fits the instrument, or the instrument's usual one for None.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> check_stance(INSTRUMENTS["cello"], None)
    'turned'
    >>> check_stance(INSTRUMENTS["cello"], "helper")
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: Stance “helper” doesn't fit a cello; choose lap, seated or turned.
    """
    if stance is None:
        return instrument.usual_stance
    fitting = instrument.stances
    if stance not in fitting:
        choices = f"{', '.join(fitting[:-1])} or {fitting[-1]}"
        raise BadInput("stance", f"Stance “{stance}” doesn't fit a {instrument.kind}; choose {choices}.")
    return stance


def _check_rate(rate: float | None, name: str) -> None:
    if rate is not None and not 0.0 < rate < 1000.0:
        raise BadInput(name, f"{name} = {rate:g} can't be right; it is how many cents one unit makes, more than 0.")


def check_fine_tuner(tuner: FineTuner, *, prefix: str = "") -> None:
    """Refuse a screw position past its reach and rates that can't be.

    Raises BadInput.
    """
    if not 0.0 < tuner.reach_turns <= LONGEST_REACH_TURNS:
        raise BadInput(
            f"{prefix}fine_tuner.reach_turns",
            f"A reach of {tuner.reach_turns:g} turns can't be right; count the turns from the middle to one end"
            f" (up to {LONGEST_REACH_TURNS:g}).",
        )
    if not abs(tuner.turns_from_middle) <= tuner.reach_turns:
        raise BadInput(
            f"{prefix}fine_tuner.turns_from_middle",
            f"The fine tuner can't stand {tuner.turns_from_middle:+g} turns from its middle: it reaches only"
            f" {tuner.reach_turns:g} turns either way. Correct the position or the reach.",
        )
    _check_rate(tuner.cents_per_turn, f"{prefix}fine_tuner.cents_per_turn")
    spread = tuner.cents_per_turn_plus_minus
    if spread is not None and not 0.0 <= spread < 1000.0:
        raise BadInput(
            f"{prefix}fine_tuner.cents_per_turn_plus_minus",
            f"An uncertainty of {spread:g} cents per turn can't be right; give 0 or more, or leave it out.",
        )

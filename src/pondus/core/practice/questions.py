"""What a drill asks, what may be answered, and what came of an answer.

Everything that is right or wrong in a question is taken from the core's own rules when it is made (`right`, `because`); a
drill holds no rule of its own.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from pondus.core.errors import BadInput
from pondus.core.figures import Cents
from pondus.core.instruments import Instrument, instrument_named
from pondus.core.instruments.holds import Stance
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS, check_fifth_cents
from pondus.core.judgement.situation import FineTuner, Peg, Situation, Who, check_stance, situation
from pondus.core.pitch.notes import A4_HZ, Spelling, check_a4
from pondus.core.simulated.voice import How


@dataclass(frozen=True)
class Setup:
    """What someone practises on: the instrument, how they hold it, and how the studio tunes. ``who``: whom advice speaks to."""

    kind: str
    size: str
    stance: Stance
    a4: float = A4_HZ
    fifth_cents: float = TEMPERED_FIFTH_CENTS
    tolerance_cents: float = 3.0
    spelling: Spelling = "sharps"
    who: Who = "student-pegs"

    @property
    def instrument(self) -> Instrument:
        """The kind of instrument it is."""
        return instrument_named(self.kind)

    def facts(
        self,
        string: str,
        *,
        fine_tuner: FineTuner | None = FineTuner(),  # noqa: B008 (frozen)
        peg: Peg = Peg(),  # noqa: B008 (frozen)
        who: Who | None = None,
        stance: Stance | None = None,
        **more: Any,
    ) -> Situation:
        """One of its strings as the judgement takes it."""
        return situation(
            self.instrument,
            string,
            size=self.size,
            a4=self.a4,
            fifth_cents=more.pop("fifth_cents", self.fifth_cents),
            tolerance_cents=more.pop("tolerance_cents", self.tolerance_cents),
            fine_tuner=fine_tuner,
            peg=peg,
            stance=stance or self.stance,
            who=who or self.who,
            spelling=self.spelling,
            **more,
        )


def setup(
    kind: str,
    *,
    size: str | None = None,
    stance: Stance | None = None,
    a4: float = A4_HZ,
    fifth_cents: float = TEMPERED_FIFTH_CENTS,
    tolerance_cents: float = 3.0,
    spelling: Spelling = "sharps",
    who: Who = "student-pegs",
) -> Setup:
    """A setup that can be. Raises BadInput.

    >>> setup("cello").stance
    'turned'
    """
    instrument = instrument_named(kind, field="kind")
    return Setup(
        instrument.kind,
        instrument.size(size),
        check_stance(instrument, stance),
        check_a4(a4),
        check_fifth_cents(fifth_cents, field="fifth_cents"),
        tolerance_cents,
        spelling,
        who,
    )


@dataclass(frozen=True)
class Choice:
    """One answer that may be given."""

    answer: str
    say: str


@dataclass(frozen=True)
class Heard:
    """Something that is played: strings or tones together (Hz), for so long; ``of`` says whose sound it is."""

    hz: tuple[float, ...]
    seconds: float = 2.2
    of: Literal["bow", "pluck", "reed"] = "bow"


@dataclass(frozen=True)
class Row:
    """One string, and what a tuner shows of it."""

    string: str
    shows: str


@dataclass(frozen=True)
class Picture:
    """What is drawn beside the question. ``strings`` lit; ``peg`` a place on the pegbox; ``shows`` what stands on a tuner's
    display; ``rows`` a small table of string and display.
    """

    kind: Literal["none", "strings", "pegbox", "hold", "screw", "tuner", "class"] = "none"
    string: str | None = None
    shows: str | None = None
    stance: Stance | None = None
    winding: Literal["normal", "reversed"] = "normal"
    rows: tuple[Row, ...] = ()


Shows = Literal["figures", "letters", "light", "tones", "fifths"]


@dataclass(frozen=True)
class Task:
    """Something to be done with the hands. ``wood``: the simulated instrument as it begins; ``string`` the one to bring home;
    ``display`` false: by ear alone, shown when it is done.
    ``fifth``: the strings whose fifth is to be stilled, lower first. ``who``: whom the advice to it speaks to. ``aims``: where
    each string should be, in cents from its target, where all are to be brought home; ``shows``: what there is to go by;
    ``foretells``: before each turn it is said what it will do.
    """

    wood: dict[str, Any]
    string: str
    how: How
    aim_cents: float = 0.0
    display: bool = True
    fifth: tuple[str, str] | None = None
    who: Who = "student-fine-tuners"
    home_within_cents: float = 3.0
    aims: tuple[tuple[str, float], ...] = ()
    shows: Shows = "figures"
    foretells: bool = False


@dataclass(frozen=True)
class Question:
    """One question. ``item`` is what it is about, for its return; ``cents`` how large a difference is, where a threshold is
    measured; ``right`` the answers that are right and ``because`` why, in the core's words. ``beside``: what is heard beside it
    once it is answered, and what that is.
    """

    item: str
    say: str
    choices: tuple[Choice, ...] = ()
    right: frozenset[str] = frozenset()
    because: str = ""
    picture: Picture = field(default_factory=Picture)
    heard: tuple[Heard, ...] = ()
    beside: tuple[Heard, ...] = ()
    beside_said: str = ""
    cents: float | None = None
    beats: float | None = None
    task: Task | None = None
    microphone: str | None = None

    @property
    def right_said(self) -> str:
        """The right answer as it is said."""
        return " or ".join(choice.say for choice in self.choices if choice.answer in self.right)


@dataclass(frozen=True)
class Action:
    """One thing a hand does to the simulated instrument: a screw (turns, clockwise positive), a peg's head (degrees, clockwise
    positive as seen from its end; ``pushed`` in), a pull, or a look at the bridge. ``foretold``: by how many cents it was said,
    before, that this turn would move the string.
    """

    string: str
    turns: float | None = None
    degrees: float | None = None
    pushed: bool = True
    tug: bool = False
    foretold: float | None = None


@dataclass(frozen=True)
class Answer:
    """What was answered: a choice, a figure (beats per second) or taps along (seconds), what the hands did (and
    ``stopped``: it was given to someone else), or what the microphone heard (Hz, with its spread in cents). ``seen``:
    the beats or the pitch were shown, not only heard; that tells nothing of ears.
    """

    choice: str | None = None
    figure: float | None = None
    taps: tuple[float, ...] | None = None
    actions: tuple[Action, ...] | None = None
    stopped: bool = False
    heard_hz: float | None = None
    spread_cents: float | None = None
    seen: bool = False


@dataclass(frozen=True)
class Outcome:
    """What hands came to: cents at the end from where it should be (None: it broke); whether the first turn was the
    right one, how often the string was passed, how much was turned beyond need (1: no more than needed); where turns of a screw
    ended beside the note, as a share of the way there, on average; how far what was foretold of turns lay from what they did,
    as a share of it, in the middle; what went wrong, in sentences.
    """

    ended_cents: Cents | None
    first_turn_right: bool | None = None
    overshoots: int | None = None
    turned_ratio: float | None = None
    beside_share: float | None = None
    foretold_off: float | None = None
    mishaps: tuple[str, ...] = ()


@dataclass(frozen=True)
class Judged:
    """An answer judged. ``right`` None: it couldn't be (no steady sound); it isn't scored and the question stays."""

    right: bool | None
    said: str
    outcome: Outcome | None = None


def chosen(question: Question, answer: Answer) -> Judged:
    """Judge a choice. Raises BadInput for one that wasn't offered."""
    offered = [choice.answer for choice in question.choices]
    if answer.choice not in offered:
        raise BadInput("answer", f"“{answer.choice}” isn't one of the answers here: {', '.join(offered)}.")
    return Judged(answer.choice in question.right, question.because or f"Right is: {question.right_said}.")


def shuffled(choices: Sequence[Choice], rng: Any) -> tuple[Choice, ...]:
    """The same choices in an order that tells nothing."""
    return tuple(choices[place] for place in rng.permutation(len(choices)))

"""Drills done with the hands on a simulated instrument: what it begins as, what was done to it, and what that came to.

What is turned is measured against the advice to the same facts; home is what the advice would leave. The instrument is made
again from its beginning and every action, so that nothing of it needs keeping anywhere.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.fifths.beats import beats_per_cent, fifth_between
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, targets_hz
from pondus.core.judgement import words
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.heard import Heard as Shown
from pondus.core.judgement.situation import FineTuner, Peg, Situation, Who
from pondus.core.pitch.notes import A4_HZ, cents_between, nearest_note, shift_hz
from pondus.core.practice.questions import Action, Answer, Heard, Judged, Outcome, Picture, Question, Setup, Task
from pondus.core.practice.verdicts import first_act
from pondus.core.simulated.turning import LARGEST_TURNS, tug_down, turn_head, turn_screw
from pondus.core.simulated.voice import How
from pondus.core.simulated.weather import slipped
from pondus.core.simulated.wood import Fitted, Wood, as_plain, from_plain, made

Rng = np.random.Generator
MOST_ACTIONS = 200
BY_EAR_WITHIN_CENTS = 10.0
"""By ear alone, from a sounding tone."""
STILL_BEATS_HZ, STILL_WITHIN_CENTS = 0.5, 1.0
"""A fifth that beats less than once in two seconds is still; a screw brings one no nearer than that."""
FLICKERS_CENTS = 0.4
SHOWN_WITHIN_CENTS = 0.5 + 2.0 * FLICKERS_CENTS
"""A tuner shows whole cents, and flickers: a string it shows at home is home."""
PASSED_CENTS = 3.0
EASED_CENTS, TRIED_CENTS = 60.0, 10.0
"""A peg eased a hair down, a trial turn of a screw: so far a string may go the other way."""
MUCH_TURNED = 2.5
MOST_BESIDE = 2.0
"""Turned so many times what was needed is turning to and fro."""
SOUNDS_ALONG_SECONDS = 3.0


def screw_items(setup: Setup, level: int) -> tuple[str, ...]:
    """A little off; then far for a screw; then with the screw near its end."""
    kinds = (("near",), ("near", "wide"), ("wide", "end", "near"))[level - 1]
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names)


def ask_screw(setup: Setup, item: str, rng: Rng, *, how: How) -> Question:
    """Bring a string home with its fine tuner; the screw's end is to be seen in time."""
    kind, name = item.split(":")
    wood = made(setup.kind, seed=int(rng.integers(2**31)), size=setup.size)
    covers = (wood.true[name].cents_per_turn or 0.0) * wood.true[name].reach_turns
    off = {
        "near": float(rng.uniform(8.0, 30.0)),
        "wide": float(rng.uniform(30.0, min(max(45.0, 0.7 * covers), 90.0))),
        "end": 30.0,
    }[kind] * (1.0 if rng.uniform() < 0.35 else -1.0)
    if kind == "end":
        wood = wood.with_string(name, screw_turns=float(rng.uniform(3.4, 3.9)) * math.copysign(1.0, -off))
    along = "while you bow" if how == "bow" else "and pluck again after each turn"
    return Question(
        item,
        f"Bring the {name} string in tune with its fine tuner, {along}. If it can’t be done, hand it to your teacher.",
        picture=Picture("tuner", string=name),
        task=_begun(setup, wood, name, off, how=how, who="student-fine-tuners"),
    )


def _begun(
    setup: Setup, wood: Wood, name: str, off: float, *, how: How, who: Who, by_ear: bool = False, hz: float | None = None
) -> Task:
    """A string so many cents from where this studio has it (or from ``hz``), to be brought home."""
    aim = cents_between(hz or setup.facts(name).target_hz, wood.true[name].target_hz)
    return Task(
        as_plain(slipped(wood, name, aim + off)),
        name,
        how,
        aim_cents=aim,
        who=who,
        display=not by_ear,
        home_within_cents=BY_EAR_WITHIN_CENTS if by_ear else setup.tolerance_cents,
    )


def peg_items(setup: Setup, level: int) -> tuple[str, ...]:
    """A peg that holds; in a dry room, and in a damp one; wound the other way."""
    kinds = (("peg",), ("peg", "dry"), ("dry", "damp", "reversed", "peg"))[level - 1]
    delicate = setup.instrument.delicate_string
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names if name != delicate)


def ask_peg(setup: Setup, item: str, rng: Rng) -> Question:
    """Bring a far string up with its peg, and finish with the screw."""
    kind, name = item.split(":")
    fitted = {name: Fitted(winding="reversed" if kind == "reversed" else "normal")}
    wood = made(setup.kind, seed=int(rng.integers(2**31)), size=setup.size, fitted=fitted)
    wood = replace(wood, humidity={"dry": 30.0, "damp": 72.0}.get(kind, 50.0))
    air = {
        "dry": " The air is dry: pegs slip unless they are pushed in.",
        "damp": " The air is damp: pegs stick, then jump.",
        "reversed": " It is wound the other way round its peg.",
    }.get(kind, "")
    return Question(
        item,
        f"The {name} string is far too low. Bring it in tune: peg first, to just under, then its fine tuner.{air}",
        picture=Picture("tuner", string=name),
        task=_begun(setup, wood, name, -float(rng.uniform(170.0, 330.0)), how="pluck", who="student-pegs"),
    )


def ear_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Every string, by a tone that sounds."""
    return setup.instrument.string_names


def ask_to_tone(setup: Setup, item: str, rng: Rng) -> Question:
    """Tune a string to a sounding tone, the display hidden."""
    wood = made(setup.kind, seed=int(rng.integers(2**31)), size=setup.size)
    off = float(rng.uniform(20.0, 45.0)) * (1.0 if rng.uniform() < 0.4 else -1.0)
    return Question(
        item,
        f"The reference {item} sounds. Tune the {item} string to it by ear, and say when it is right.",
        heard=(Heard((setup.facts(item).target_hz,), SOUNDS_ALONG_SECONDS),),
        picture=Picture("strings", string=item),
        task=_begun(setup, wood, item, off, how="bow", who="student-fine-tuners", by_ear=True),
    )


def reed_items(setup: Setup, level: int) -> tuple[str, ...]:
    """An A from the oboe's place, at one of several pitches (A4, Hz)."""
    return tuple(f"reed:{hz}" for hz in (441, 442, 443, 438))


def ask_reed(setup: Setup, item: str, rng: Rng) -> Question:
    """Take the A that is given, whatever it is: an oboe's A4, the string's own octave of it."""
    given = float(item.split(":")[1])
    wood = made(setup.kind, seed=int(rng.integers(2**31)), size=setup.size)
    own = given * targets_hz(setup.instrument)["A"] / A4_HZ
    off = float(rng.uniform(12.0, 30.0)) * float(rng.choice([-1.0, 1.0]))
    return Question(
        item,
        "The oboe gives its A. Take it, by ear, and say when it is right.",
        heard=(Heard((given,), SOUNDS_ALONG_SECONDS, "reed"),),
        picture=Picture("strings", string="A"),
        because=f"The oboe gave {given:g} Hz; this studio’s A is {setup.a4:g}. Everyone takes the A that is given.",
        task=_begun(setup, wood, "A", off, how="bow", who="student-fine-tuners", by_ear=True, hz=own),
    )


def fifth_hand_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Pairs of neighbours."""
    names = setup.instrument.string_names
    return tuple(f"{low}:{high}" for low, high in pairwise(names))


def still_within(lower_hz: float) -> float:
    """How far from pure, in cents, a fifth over that string still stands still to the ear.

    >>> round(still_within(65.4), 1), round(still_within(440.0), 1)
    (4.4, 1.0)
    """
    return max(STILL_WITHIN_CENTS, STILL_BEATS_HZ / beats_per_cent(lower_hz))


def ask_still(setup: Setup, item: str, rng: Rng) -> Question:
    """Turn until the beating stands still."""
    low, high = item.split(":")
    wood = made(setup.kind, seed=int(rng.integers(2**31)), size=setup.size)
    moved = high if low == "A" else low  # the A is the reference and stays
    off = float(rng.uniform(7.0, 22.0)) * (1.0 if rng.uniform() < 0.5 else -1.0)
    aim = PURE_FIFTH_CENTS - 700.0 if moved == high else 700.0 - PURE_FIFTH_CENTS
    return Question(
        item,
        f"Bow {low} and {high} together. Turn the {moved} fine tuner until the beating stands still.",
        picture=Picture("strings", string=f"{low}{high}"),
        task=Task(
            as_plain(slipped(wood, moved, aim + off)),
            moved,
            "bow",
            aim_cents=aim,
            display=False,
            fifth=(low, high),
            home_within_cents=still_within(targets_hz(setup.instrument, a4=setup.a4)[low]),
        ),
    )


@dataclass(frozen=True)
class Course:
    """The instrument from its beginning on, after each action; and what went wrong on the way, in sentences."""

    woods: tuple[Wood, ...]
    mishaps: tuple[str, ...]

    @property
    def now(self) -> Wood:
        """As it stands."""
        return self.woods[-1]


def course_of(task: Task, actions: Sequence[Action]) -> Course:
    """What these actions made of the instrument.

    Raises BadInput for an action that can't be done to any instrument.
    """
    if len(actions) > MOST_ACTIONS:
        raise BadInput("actions", f"{len(actions)} actions are more than anyone makes; up to {MOST_ACTIONS}.")
    woods = [from_plain(task.wood)]
    mishaps: list[str] = []
    for action in actions:
        wood = woods[-1]
        if not wood.sounds(action.string) or wood.bridge == "fallen":
            wood.instrument.string(action.string)  # one that it hasn't is refused; a broken one is turned in vain
            woods.append(wood)
            continue
        try:
            after = _done(wood, action)
        except BadInput as refused:
            if refused.field != "turns" or not _is_turn(action):
                raise
            mishaps.append(f"The {action.string} fine tuner was turned against its end.")
            after = wood
        mishaps += after.events[len(wood.events) :]
        woods.append(after)
    return Course(tuple(woods), tuple(dict.fromkeys(mishaps)))


def _is_turn(action: Action) -> bool:
    """A turn of a screw that is one, so that only the screw's end can be against it."""
    return action.turns is not None and 0.0 < abs(action.turns) <= LARGEST_TURNS


def _done(wood: Wood, action: Action) -> Wood:
    kinds = [action.turns is not None, action.degrees is not None, action.tug]
    if sum(kinds) != 1:
        raise BadInput("actions", "One thing at a time: a fine tuner, a peg, or a pull.")
    if action.turns is not None:
        return turn_screw(wood, action.string, action.turns)
    if action.degrees is not None:
        return turn_head(wood, action.string, action.degrees, pushed=action.pushed)
    return tug_down(wood, action.string)


def stands(task: Task, wood: Wood) -> float | None:
    """Where the string is, in cents from where it should be; None: it gives no pitch."""
    if not wood.sounds(task.string) or wood.bridge == "fallen":
        return None
    if task.fifth is not None:
        low, high = task.fifth
        fifth = fifth_between(wood.hz(low), wood.hz(high)).from_pure_cents
        return fifth if task.string == high else -fifth
    return wood.cents_off(task.string) - task.aim_cents


def facts_of(setup: Setup, task: Task, wood: Wood) -> Situation:
    """The string as the advice would be told of it."""
    true, now = wood.true[task.string], wood.now[task.string]
    screw = None
    if true.cents_per_turn is not None:
        screw = FineTuner(turns_from_middle=now.screw_turns, reach_turns=true.reach_turns)
    state = wood.peg_state(task.string)
    return setup.facts(
        task.string,
        who=task.who,
        fine_tuner=screw,
        peg=Peg(kind=true.peg_kind, winding=true.winding, state=state),
        tolerance_cents=min(task.home_within_cents, 20.0),
    )


def advice_to(setup: Setup, task: Task, wood: Wood) -> Advice:
    """What the advice would say of the string as it stands."""
    off = stands(task, wood)
    assert off is not None
    facts = facts_of(setup, task, wood)
    return advise(facts, Shown(hz=shift_hz(facts.target_hz, off)), sure_of_string=True)


def judge_hands(setup: Setup, task: Task, answer: Answer, *, because: str = "") -> Judged:
    """What the hands came to. Raises BadInput."""
    if answer.actions is None:
        raise BadInput("answer", "What was done to the instrument? Send its turns.")
    course = course_of(task, answer.actions)
    first = advice_to(setup, task, course.woods[0])
    wood, mishaps = course.now, course.mishaps
    if answer.stopped:
        hurt = any("broke" in mishap or "fell" in mishap for mishap in mishaps)
        right = first_act(first) in ("fetch", "luthier") and not mishaps
        next_step = first.steps[0].say if first.steps else first.why
        return Judged(right or hurt, f"Right: {next_step}" if right else " ".join([*mishaps, next_step]))
    ended = stands(task, wood)
    if ended is None:
        return hurt_by(course, "The string broke")
    track = [at for wood in course.woods if (at := stands(task, wood)) is not None]
    other = _other_than_wanted(task, first, answer.actions) or _went_away(answer.actions, track)
    outcome = Outcome(
        ended_cents=round(ended, 2),
        first_turn_right=None if all(action.tug for action in answer.actions) else not other,
        overshoots=passed(track, task.home_within_cents),
        turned_ratio=moved_ratio(track, task.home_within_cents),
        beside_share=beside_share(task, course, answer.actions),
        mishaps=mishaps,
    )
    home = abs(ended) <= task.home_within_cents + (SHOWN_WITHIN_CENTS if task.display else 1e-6)
    because = " ".join(filter(None, (_from_below(answer.actions, course, task), because)))
    right = home and not mishaps and not other
    return Judged(right, _said(task, outcome, home, " ".join(filter(None, (other, because)))), outcome)


def hurt_by(course: Course, broke: str) -> Judged:
    """A string that broke, as ``broke`` says it, or a bridge that fell."""
    what = "The bridge fell" if course.now.bridge == "fallen" else broke
    hurt = f"{what}. On this one it hurts nobody: begin again, slower."
    return Judged(False, hurt, Outcome(None, mishaps=course.mishaps))


def _from_below(actions: Sequence[Action], course: Course, task: Task) -> str:
    """Where a peg was turned: whether the string was left coming up to its note, as it holds, or coming down (R141)."""
    own = [place for place, action in enumerate(actions) if action.string == task.string and not action.tug]
    if not any(actions[place].degrees is not None for place in own):
        return ""
    before, after = stands(task, course.woods[own[-1]]), stands(task, course.woods[own[-1] + 1])
    if before is None or after is None or before == after:
        return ""
    if after > before:
        return "Its last turn was up to the note: so it holds."
    return "It was left coming down to the note, and may slip: next time go just under, then up."


def _other_than_wanted(task: Task, first: Advice, actions: Sequence[Action]) -> str:
    """What was turned that isn't the string's own, or isn't the part that the advice turns; empty where all was. Which way a
    hand tries first tells nothing: easing a peg down is right, and beats tell no side.
    """
    turned = [action for action in actions if not action.tug]
    other = next((action.string for action in turned if action.string != task.string), None)
    if other is not None:
        return f"The {other} was turned, and it is the {task.string} that wanted it."
    parts = {step.do == "turn-peg" for step in first.steps if step.is_counted and step.do != "tug-down"}
    if not turned or not parts or (turned[0].degrees is not None) in parts:
        return ""
    return "That was the fine tuner’s to do, not the peg’s." if False in parts else "That was the peg’s to do."


def _went_away(actions: Sequence[Action], track: Sequence[float]) -> str:
    """Whether the string went further away than easing a peg, or a small trial turn, takes it; empty where it didn't."""
    by_peg = any(action.degrees is not None for action in actions)
    away = max(map(abs, track)) - abs(track[0])
    return f"It went {words.cents(away)} further away." if away > (EASED_CENTS if by_peg else TRIED_CENTS) else ""


def passed(track: Sequence[float], home_within_cents: float) -> int:
    """How often the string went from one side past the other."""
    well = max(PASSED_CENTS, home_within_cents)
    return sum(before != after for before, after in pairwise(math.copysign(1.0, at) for at in track if abs(at) > well))


def moved_ratio(track: Sequence[float], home_within_cents: float) -> float | None:
    """How far the string was moved in all, by how far it had to go; None where it had nowhere to go."""
    needed = abs(track[0]) if track else 0.0
    if needed <= home_within_cents:
        return None
    return round(sum(abs(after - before) for before, after in pairwise(track)) / needed, 2)


def beside_share(task: Task, course: Course, actions: Sequence[Action]) -> float | None:
    """Where each turn of its screw ended, short of the aim or past it, as a share of the way there: on average
    (`MOST_BESIDE` at most for one). None: none was turned while it was off.
    """
    beside = []
    for place, action in enumerate(actions):
        before, after = stands(task, course.woods[place]), stands(task, course.woods[place + 1])
        own = action.turns is not None and action.string == task.string
        if own and before is not None and after is not None and abs(before) > task.home_within_cents:
            beside.append(min(MOST_BESIDE, abs(after / before)))
    return round(float(np.mean(beside)), 3) if beside else None


def _said(task: Task, outcome: Outcome, home: bool, because: str) -> str:
    assert outcome.ended_cents is not None
    where = "In tune" if home else "Not in tune yet"
    of = " from pure" if task.fifth is not None else ""
    figure = words.cents(outcome.ended_cents) + of if task.fifth is not None else words.off(outcome.ended_cents)
    parts = [f"{where}: {figure}."]
    if outcome.overshoots:
        parts.append(f"It went past {'once' if outcome.overshoots == 1 else f'{outcome.overshoots} times'}.")
    if outcome.turned_ratio is not None and outcome.turned_ratio > MUCH_TURNED:
        parts.append(f"It was moved {outcome.turned_ratio:.1f} times as far as it had to go.")
    parts += outcome.mishaps
    return " ".join([*parts, because]).strip()


@dataclass(frozen=True)
class Display:
    """What a tuner shows: its text, and cents from where the string should be."""

    text: str
    cents: float


def display_of(setup: Setup, task: Task, wood: Wood, rng: Rng) -> Display | None:
    """What a tuner shows of the string just now; None: no pitch. A display flickers by under a cent."""
    off = stands(task, wood)
    if off is None:
        return None
    off += float(rng.normal(0.0, FLICKERS_CENTS))
    target = setup.facts(task.string).target_hz
    note = nearest_note(shift_hz(target, off), a4=setup.a4, spelling=setup.spelling)
    return Display(f"{note.name} {round(note.cents):+d}".replace("-", "−"), round(off, 1))

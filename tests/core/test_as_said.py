"""Sequences of entries, as people of many habits make them, and all that is said of each: as it was said before.

What is right is held by the other tests; this one shows that a change changes nothing else. Where it is meant to, look through
what differs and keep it anew: ``python -m tests.core.test_as_said``.
"""

import json
import unittest
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any, get_args
from uuid import UUID

import numpy as np

from pondus.core.group.triage import triaged_states
from pondus.core.hands.interval import Interval, interval_of
from pondus.core.hands.learned import MoveLog
from pondus.core.hands.likely import FOLLOWS, PLAYS_FIRST, Due, likely
from pondus.core.hands.state import StringState, TuningNow
from pondus.core.hands.summary import summarise
from pondus.core.judgement.approaches import APPROACHES
from pondus.core.judgement.heard import Heard, ShownSide
from pondus.core.judgement.reading import judge
from pondus.core.judgement.recent_move import Answer
from pondus.core.judgement.situation import Who
from pondus.core.judgement.words import letter_at
from pondus.core.views.bench import BenchView, StringView, planned_round, view_of
from tests.core.writing import TUNING, VIOLIN, Writing, violin

KEPT = Path(__file__).with_name("as_said.json")
LOGS, ENTRIES = 40, 9
HABITS = ("figures", "figures", "figures", "bare", "letters", "lights", "ear")


class Person(Writing):
    """One who tunes a violin by what is said, more or less; all chance comes from the seed."""

    def __init__(self, seed: int) -> None:
        self.rng = np.random.default_rng([seed, 2027])
        sounding = self.rng.uniform() < 0.5
        how: dict[str, Any] = {
            "turning": "while-sounding" if sounding else "step-by-step",
            "who": self.one_of(get_args(Who)) if self.rng.uniform() < 0.4 else "teacher",
            "approach": self.one_of(tuple(APPROACHES)) if self.rng.uniform() < 0.4 else "fine-tuner-first",
            "spelling": self.one_of(("sharps", "flats")),
            "tolerance_cents": self.one_of((2.0, 3.0, 5.0)),
        }
        super().__init__(replace(TUNING, id=UUID(int=seed), **how))
        self.habit, self.tells = self.one_of(HABITS), self.rng.uniform() < 0.3
        self.fitted = violin(**{name: self.fittings(name) for name in VIOLIN.string_names})
        self.off = {name: float(self.rng.normal(0.0, self.one_of((6.0, 20.0, 60.0, 300.0)))) for name in VIOLIN.string_names}

    def one_of(self, these: tuple[Any, ...]) -> Any:
        return these[int(self.rng.integers(len(these)))]

    def fittings(self, name: str) -> dict[str, Any]:
        return {
            "has_fine_tuner": name == "E" or self.rng.uniform() < 0.8,
            "screw_turns": float(self.one_of((0.0, 0.0, -3.6, 2.5, 3.8))),
            "screw_seen": bool(self.rng.uniform() < 0.5),
            "peg_kind": "geared" if self.rng.uniform() < 0.1 else "friction",
            "peg_state": self.one_of(("ok", "ok", "ok", "slips", "sticks")),
        }

    def hears(self, name: str, **more: Any) -> None:
        off = max(-1500.0, self.off[name] + float(self.rng.normal(0.0, 0.4)))
        if self.habit in ("letters", "lights", "ear"):
            side = "in-tune" if abs(off) < 3.0 else "flat" if off < 0 else "sharp"
            if self.habit == "ear":
                side = "same" if abs(off) < 5 else f"{'much-' if abs(off) > 60 else ''}{'lower' if off < 0 else 'higher'}"
            heard = Heard(side=side)  # type: ignore[arg-type]
            if self.habit == "letters" and abs(off) >= 50.0:
                facts = self.states(self.fitted)[name].situation
                heard = Heard(note=letter_at(facts, off).rstrip("0123456789"))
            self.readings.append(replace(self.read(name, off, **more), heard=heard))
            self.readings.pop(-2)
            return
        reading = self.read(name, round(off, 1), **more)
        if self.habit == "bare" and reading.heard.note is not None:
            self.readings[-1] = replace(reading, heard=replace(reading.heard, note=reading.heard.note.rstrip("0123456789")))

    def goes_on(self) -> None:
        """What is said next is done, in part, too far, the other way or not at all; or something else is."""
        now = self.now(self.fitted)
        view = seen(self, now)
        name = (
            view.next_string if view.next_string is not None and self.rng.uniform() < 0.9 else self.one_of(VIOLIN.string_names)
        )
        state = next(state for state in now.states if state.string.name == name)
        steps = [] if state.advice is None else state.advice.steps
        step = steps[0] if steps else None
        if step is None or step.pitch is None or step.do == "ask":
            self.answers(state)
            self.hears(name)
            return
        due = step.expect_cents if step.until is None else (step.aim_cents or 0.0) - self.off[name]
        if due is None:
            due = 12.0 if step.pitch == "raise" else -12.0
        did = due * self.one_of((1.0, 1.0, 1.0, 1.15, 0.8, 0.5, 2.0, 0.0, -1.0))
        self.off[name] += did
        for other in self.off:
            self.off[other] -= 0.03 * did if other != name else 0.0
        if self.tells and step.amount is not None:
            amount = step.amount if step.pitch == "raise" else -step.amount
            told = {"expect_cents": step.expect_cents, "expect_plus_minus": step.expect_plus_minus}
            self.turn(name, amount, peg=step.do == "turn-peg", **told)
        if self.rng.uniform() < 0.1:
            self.pull(name)
        self.hears(name)

    def answers(self, state: StringState) -> None:
        if state.moved is None or state.advice is None or state.advice.state not in ("no-effect", "wrong-way"):
            return
        answer: Answer = self.one_of(("other-peg", "sprang-back", "not-turned", "none", "moved"))
        for place, move in enumerate(self.moves):
            if move.id == state.moved.id:
                self.moves[place] = replace(move, answer=answer)
        for place, reading in enumerate(self.readings):
            if reading.id == state.moved.id:
                self.readings[place] = replace(reading, turn_answer=answer)


def seen(person: Person, now: TuningNow) -> BenchView:
    return view_of(person.fitted, now, planned_round(VIOLIN, now, MoveLog()))


def said(seed: int) -> Iterator[str]:
    """All that is said of one sequence, line by line."""
    person = Person(seed)
    for name in ("A", "D", "G", "E"):
        if person.rng.uniform() < 0.9:
            person.hears(name)
    for _ in range(ENTRIES):
        person.goes_on()
    now = person.now(person.fitted)
    view = seen(person, now)
    yield f"{person.habit}, {person.tuning.turning}, {person.tuning.who}, {person.tuning.approach}"
    for string in view.strings:
        yield from said_of(string)
    yield f"next {view.next_string}; notice {view.notice}; look at {view.look_at_screws}"
    plan = view.plan
    lines = "; ".join(f"{line.string}: {', '.join(line.lines)}" for line in plan.lines)
    yield f"plan {plan.total_moves} moves, {plan.minutes} min, {plan.refer}, ask {plan.ask}: {lines}. {plan.why}"
    for fifth in view.fifths:
        yield f"{fifth.lower}–{fifth.upper} {figure(fifth.from_pure_cents)}, {fifth.beats_said}"
    yield from (f"{line.string} {line.text}" for line in view.history)
    summary = summarise(person.fitted, person.log)
    yield f"{summary.screw_moves} by screw, {summary.peg_moves} by peg, {figure(summary.minutes)} min"
    for name, own in summary.strings.items():
        yield f"{name} found {figure(own.found_cents)}, left {figure(own.left_cents)}, slips {own.slips}"
    triaged = triaged_states(person.fitted, now, [summary])
    yield f"{triaged.sorted.group}, {triaged.sorted.needs}, {figure(triaged.minutes)} min: {triaged.sorted.said}"


def said_of(string: StringView) -> Iterator[str]:
    screw = None if string.fine_tuner is None else figure(string.fine_tuner.turns_from_middle, 2)
    learned = string.learned
    yield f"{string.name}: {string.headline} | {string.words} | then {string.then} | {string.letter}"
    yield f"  ghost {figure(string.ghost_cents)}, stop at {figure(string.stop_at_cents)}, screw {screw}"
    yield f"  {learned.screw_moves} and {learned.peg_moves} learned, {figure(learned.screw_cents_per_turn)} a turn"
    yield f"  left {string.is_left}, outdated {string.is_outdated}"
    if string.advice is not None:
        yield f"  {string.advice.state}: {string.advice.why}"
        yield from (f"  - {step.say} {figure(step.amount, 2)} {figure(step.aim_cents)}" for step in string.advice.steps[:1])
    yield from (f"  later {line}" for line in string.later)
    yield from (f"  mind {line}" for line in string.cautions_said)
    if string.moved is not None:
        denied = [option.say for option in string.moved.denials]
        yield f"  moved: {string.moved.said}, did {figure(string.moved.did_cents)}; {denied}"


def weighed() -> Iterator[str]:
    """What is taken to have happened: of figures and of sides, where one move is due, or two, or none."""
    dues = ([Due(10.0, 4.0)], [Due(-30.0, 8.0), Due(12.0, 5.0)], [Due(80.0, 8.0, aim_only=True)], [])
    for due in dues:
        for low, high in (*((cents, cents) for cents in (-90, -58, -30, -10, 0, 4, 10, 24, 70, 150)), (-50, -3), (2, 40)):
            for prior in (FOLLOWS, PLAYS_FIRST):
                found = likely(Interval(float(low), float(high)), due, prior=prior)
                shares = ", ".join(f"{name} {share:.2f}" for name, share in sorted(found.shares.items()) if share >= 0.005)
                yield f"{len(due)} due, {low} to {high}, {prior:g}: {found.happened}, {found.listed}: {shares}"
    for side in get_args(ShownSide):
        facts, heard = Person(0).states()["A"].situation, Heard(side=side)
        yield f"{side}: {interval_of(judge(facts, heard, sure=True, recent=None), heard)}"


def everything() -> list[list[str]]:
    return [*(list(said(seed)) for seed in range(LOGS)), list(weighed())]


def figure(value: float | None, places: int = 1) -> str:
    return "–" if value is None else f"{value + 0.0:.{places}f}"


class TestAsSaid(unittest.TestCase):
    def test_all_is_said_as_it_was(self) -> None:
        kept = json.loads(KEPT.read_text(encoding="utf-8"))
        self.assertEqual(len(kept), LOGS + 1)
        for seed, (lines, now) in enumerate(zip(kept, everything(), strict=True)):
            with self.subTest(seed=seed):
                self.assertEqual(lines, now)


if __name__ == "__main__":
    KEPT.write_text(json.dumps(everything(), ensure_ascii=False, indent=0) + "\n", encoding="utf-8")

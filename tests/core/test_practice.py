"""Drills: right answers are the advice's own, in every drill, on every kind of instrument."""

import unittest
from dataclasses import replace

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.fifths.beats import fifth_between
from pondus.core.group.triage import sort_instrument
from pondus.core.instruments import INSTRUMENTS
from pondus.core.judgement.advise import advise
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import StringAsked
from pondus.core.judgement.situation import FineTuner, situation
from pondus.core.pitch.notes import cents_between, parse_note
from pondus.core.practice.drills import DRILLS, drill_named
from pondus.core.practice.questions import Answer, Question, setup
from pondus.core.practice.run import Go, judge, record_of
from pondus.core.practice.sounds import rendered
from tests.core.practice_answers import KINDS, right_answer, tuned

READ_FROM_A_TUNER = ("flat-or-sharp", "how-far", "traps", "no-figures", "before-stage")


def asked(drill: str, seed: int, *, kind: str = "violin", who: str = "student-pegs", begins: int = 1) -> Question:
    """The first question of a go."""
    on = setup(kind, who=who)  # type: ignore[arg-type]
    question = Go(drill_named(drill), on, seed, begins=begins).question()
    assert question is not None
    return question


def read_off(question: Question) -> Heard:
    """What the drawn display says, read as a person reads it."""
    assert question.picture.shows is not None
    text = question.picture.shows.replace("−", "-")
    if text.split(",")[0] in ("left", "middle", "right"):
        side, _, note = text.partition(", ")
        said = {"left": "flat", "middle": "in-tune", "right": "sharp"}[side]
        return Heard(note=note or None, side=said)  # type: ignore[arg-type]
    note, figure = text.split(" ")
    return Heard(note=note, cents=float(figure))


class TestTheAdviceIsTheJudge(unittest.TestCase):
    """What is drawn for the person, put to the advice anew, gives the answer that the drill calls right."""

    def test_readings(self) -> None:
        """Seven and a half thousand questions; with the next two, ten thousand."""
        for drill in READ_FROM_A_TUNER:
            for place in range(1500):
                self.reading(drill, KINDS[place % 3], place, 1 + place % 3)

    def reading(self, drill: str, kind: str, seed: int, begins: int) -> None:
        question = asked(drill, seed, kind=kind, begins=begins)
        string = question.picture.string
        assert string is not None
        who = "student-fine-tuners" if drill == "before-stage" else "student-pegs"
        on = setup(kind, who=who)  # type: ignore[arg-type]
        advice = advise(on.facts(string), read_off(question))
        if drill == "how-far":
            assert advice.cents_off is not None
            self.assertEqual({str(round(advice.cents_off))}, set(question.right), (drill, kind, seed))
        elif drill == "before-stage":
            first = {None: "leave", "turn-fine-tuner": "screw", "fetch-teacher": "fetch"}
            self.assertEqual({first[advice.steps[0].do if advice.steps else None]}, set(question.right))
        else:
            wanted = {"other-string": "other-string", "unsure": "again", "in-tune": "leave"}
            self.assertEqual({wanted.get(advice.state) or advice.pitch}, set(question.right))

    def test_sorting(self) -> None:
        for place in range(1000):
            self.sorting(KINDS[place % 3], place)

    def sorting(self, kind: str, seed: int) -> None:
        question = asked("sorting", seed, kind=kind, who="adult", begins=3)
        instrument = INSTRUMENTS[kind]
        screws: dict[str, float] = {}
        if "all the way in" in question.say:
            screws[question.say.split("The ")[1][0]] = 3.9
        told = {
            row.string: StringAsked(
                situation(
                    instrument,
                    row.string,
                    fine_tuner=FineTuner(screws.get(row.string, 0.0)),
                    peg=setup(kind).facts(row.string).peg,
                ),
                read_off(replace(question, picture=replace(question.picture, shows=row.shows))),
            )
            for row in question.picture.rows
        }
        self.assertEqual({sort_instrument(told, instrument=instrument).group}, set(question.right))

    def test_ears(self) -> None:
        for drill in ("higher", "fifths", "harmonics"):
            for place in range(500):
                self.ears(drill, KINDS[place % 3], place)

    def ears(self, drill: str, kind: str, seed: int) -> None:
        question = asked(drill, seed, kind=kind)
        if drill == "fifths":
            off = fifth_between(*question.heard[0].hz).from_pure_cents
            said = ("narrow", "pure", "wide")
        else:
            off = cents_between(question.heard[1].hz[0], question.heard[0].hz[0])
            said = ("lower", "same", "higher") if drill == "higher" else ("wide", "pure", "narrow")
        want = said[1] if abs(off) < 0.01 else said[2] if off > 0 else said[0]
        self.assertEqual({want}, set(question.right))
        if question.cents is not None:
            self.assertAlmostEqual(abs(off), question.cents, places=4)

    def test_which_way_and_which_peg_by_the_geometry(self) -> None:
        """Worked by hand from where each person sits."""

        def right(drill: str, kind: str, item: str) -> set[str]:
            ask = drill_named(drill).ask
            assert ask is not None
            return set(ask(setup(kind), item, np.random.default_rng(1)).right)

        for item, kind, way in (
            ("peg:raise:lap:normal:G", "violin", "away"),
            ("peg:raise:helper:normal:G", "violin", "towards"),
            ("peg:lower:helper:normal:E", "violin", "away"),
            ("peg:raise:seated:normal:C", "cello", "towards"),
            ("peg:raise:turned:reversed:C", "cello", "towards"),
            ("screw:raise:lap:normal:A", "viola", "clockwise"),
            ("screw:lower:seated:normal:A", "cello", "counter-clockwise"),
        ):
            self.assertEqual(right("which-way", kind, item), {way}, item)
        for item, kind, place in (
            ("lap:G", "violin", "lower left"),
            ("lap:E", "violin", "lower right"),
            ("helper:G", "violin", "upper right"),
            ("seated:C", "cello", "lower right"),
            ("turned:D", "cello", "upper right"),
        ):
            self.assertEqual(right("which-peg", kind, item), {place}, item)

    def test_to_stop_and_to_fetch_are_answers(self) -> None:
        ask = drill_named("what-now").ask
        assert ask is not None
        for who, item, want in (
            ("student-pegs", "no-effect:D", "stop"),
            ("student-pegs", "wrong-way:D", "stop"),
            ("student-pegs", "sticks:D", "fetch"),
            ("student-pegs", "slack:D", "fetch"),
            ("student-fine-tuners", "on-its-way:D", "fetch"),
            ("adult", "leans:D", "bridge"),
            ("adult", "fallen:D", "luthier"),
            ("adult", "on-its-way:D", "peg"),
            ("adult", "too-sharp:D", "again"),
        ):
            question = ask(setup("violin", who=who), item, np.random.default_rng(3))  # type: ignore[arg-type]
            self.assertEqual(set(question.right), {want}, (who, item))
            self.assertIn(want, {choice.answer for choice in question.choices})


class TestEveryDrill(unittest.TestCase):
    def test_each_is_gone_through_on_every_kind(self) -> None:
        for drill in DRILLS.values():
            for kind in KINDS:
                with self.subTest(drill=drill.name, kind=kind):
                    go = Go(drill, setup(kind, who="adult" if drill.staff else "student-pegs"), seed=11)
                    while (question := go.question()) is not None:
                        self.assertEqual(go.question(), question, "the same question whenever it is asked")
                        judged = judge(go, question, right_answer(question, kind))
                        self.assertIsNotNone(judged.right)
                        go = replace(go, records=(*go.records, record_of(question, judged, Answer())))
                    self.assertLessEqual(len(go.records), drill.questions)
                    if drill.way in ("choice", "ears", "figure", "microphone"):
                        self.assertTrue(all(each.right for each in go.records))
                    self.assertIn("right", go.summary)

    def test_items_of_all_levels_can_be_asked(self) -> None:
        for drill in DRILLS.values():
            if drill.ask is None:
                continue
            for kind in KINDS:
                on = setup(kind, who="adult" if drill.staff else "student-pegs")
                for level in range(1, drill.levels + 1):
                    for item in drill.items(on, level):
                        question = drill.ask(on, item, np.random.default_rng(2))
                        offered = [choice.answer for choice in question.choices]
                        self.assertEqual(len(offered), len(set(offered)), (drill.name, item))
                        self.assertLessEqual(question.right, set(offered), (drill.name, item))
                        self.assertLessEqual(len(item), 60)

    def test_no_question_is_right_whatever_one_answers(self) -> None:
        for drill in DRILLS.values():
            if drill.way != "choice" or drill.ask is None:
                continue
            on = setup("viola", who="adult" if drill.staff else "student-pegs")
            for item in {item for level in range(1, drill.levels + 1) for item in drill.items(on, level)}:
                question = drill.ask(on, item, np.random.default_rng(4))
                self.assertLess(len(question.right), len(question.choices), (drill.name, item))

    def test_who_takes_it(self) -> None:
        ask = drill_named("who-takes-it").ask
        assert ask is not None
        for item, want in (
            ("fine-tuners:free", {"fine-tuners"}),
            ("pegs:free", {"pegs"}),
            ("teacher:free", {"teacher"}),
            ("pegs:pegs", {"teacher"}),
            ("teacher:teacher", {"teacher"}),
        ):
            self.assertEqual(set(ask(setup("cello"), item, np.random.default_rng(1)).right), want, item)

    def test_an_answer_that_was_not_offered_is_refused(self) -> None:
        go = Go(drill_named("flat-or-sharp"), setup("violin"), 1)
        question = go.question()
        assert question is not None
        with self.assertRaisesRegex(BadInput, "isn't one of the answers"):
            judge(go, question, Answer(choice="sideways"))

    def test_beats_tapped_along_are_counted_as_at_the_fifths(self) -> None:
        go = Go(drill_named("beats"), setup("violin"), 7)
        question = go.question()
        assert question is not None and question.beats is not None
        for rate, right in ((question.beats, True), (1.6 * question.beats, False)):
            taps = tuple(place / rate for place in range(8))
            self.assertEqual(judge(go, question, Answer(taps=taps)).right, right)
        with self.assertRaises(BadInput):
            judge(go, question, Answer(taps=(1.0,)))

    def test_names_of_strings_are_the_instruments_own(self) -> None:
        for kind in KINDS:
            on = setup(kind)
            for string in on.instrument.strings:
                ask = drill_named("names").ask
                assert ask is not None
                (right,) = ask(on, f"name:{string.name}", np.random.default_rng(5)).right
                self.assertEqual(parse_note(right).number, string.note_number)

    def test_a_wandering_sound_is_not_scored(self) -> None:
        go = Go(drill_named("for-real"), setup("violin"), 4)
        question = go.question()
        assert question is not None
        self.assertIsNone(judge(go, question, Answer(heard_hz=tuned(question.microphone, 2.0), spread_cents=9.0)).right)
        self.assertIsNone(judge(go, question, Answer(heard_hz=tuned(question.microphone, 1190.0), spread_cents=0.3)).right)
        self.assertTrue(judge(go, question, Answer(heard_hz=tuned(question.microphone, -7.0), spread_cents=0.4)).right)
        self.assertFalse(judge(go, question, Answer(heard_hz=tuned(question.microphone, -17.0), spread_cents=0.4)).right)

    def test_sounds_are_what_the_question_says(self) -> None:
        question = asked("higher", 3)
        samples = rendered(question.heard, seed=3)
        self.assertGreater(len(samples), 44_100)
        self.assertLessEqual(float(np.abs(samples).max()), 0.5001)
        peaks = np.abs(np.fft.rfft(samples[5000:40_000]))
        bin_hz = 44_100 / 35_000
        near = round(question.heard[0].hz[0] / bin_hz)
        self.assertGreater(peaks[near - 2 : near + 3].max(), 20 * np.median(peaks))

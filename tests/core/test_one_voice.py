"""What to do next is decided once: bench, plan, morning, card and fifths never give a turn that another of them refuses."""

import unittest
from dataclasses import replace
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from pondus.core.group.triage import sort_instrument
from pondus.core.hands.learned import MoveLog
from pondus.core.hands.records import TuningLog
from pondus.core.hands.state import tuning_now
from pondus.core.instruments import INSTRUMENTS
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import StringAsked, plan
from pondus.core.judgement.situation import FineTuner, Peg, situation
from pondus.core.pitch.notes import shift_hz
from pondus.core.views.bench import BenchView, planned_round, view_of
from pondus.core.views.cards import Meaning, string_card
from pondus.core.views.fifths import fifths_view
from tests.core.situations import APPROACHES, HABITS, WHO, pegs, screws
from tests.core.writing import CLOCK, TUNING, VIOLIN, Writing, violin

STUDENTS = ("student-pegs", "student-fine-tuners")
MEANT_BY: dict[str, Meaning] = {"tug-down": "pull", "fetch-teacher": "fetch"}


def written(cents: dict[str, float], **how: Any) -> Writing:
    log = Writing(replace(TUNING, **how))
    for name, off in cents.items():
        log.read(name, off)
    return log


def bench(log: TuningLog, **strings: dict[str, Any]) -> BenchView:
    instrument = violin(**strings)
    now = tuning_now(instrument, log, MoveLog(), clock=CLOCK)
    return view_of(instrument, now, planned_round(VIOLIN, now, MoveLog()))


def meant(advice: Advice) -> Meaning:
    if advice.state == "in-tune":
        return "leave"
    first = advice.steps[0].do
    return MEANT_BY.get(first) or ("stop" if advice.mechanism == "none" else advice.mechanism)


class TestByEar(unittest.TestCase):
    def test_a_string_heard_lower_by_ear_is_turned_on_bench_plan_and_morning(self) -> None:
        written = Writing()
        for name, side in {"G": "same", "D": "lower", "A": "same", "E": "much-higher"}.items():
            written.readings.append(replace(written.read(name, 0.0), heard=Heard(side=side)))  # type: ignore[arg-type]
            written.readings.pop(-2)
        view, now = bench(written.log), written.now()
        self.assertEqual({line.string for line in view.plan.lines}, {"D", "E"})
        self.assertNotIn("Nothing", view.plan.why)
        found = sort_instrument({state.string.name: state.asked(for_teacher=True) for state in now.states}, instrument=VIOLIN)
        self.assertTrue(found.waits)
        self.assertEqual(found.needs, "pegs")


class TestStudents(unittest.TestCase):
    def test_two_strings_far_down_are_an_adults_everywhere(self) -> None:
        log = written({"G": -350.0, "D": -350.0, "A": -2.0, "E": 1.0}, who="student-pegs").log
        shown = {string.name: string for string in bench(log).strings}
        for name in ("G", "D"):
            self.assertIn("teacher", shown[name].headline)
            self.assertNotIn("peg up", shown[name].headline)
        self.assertEqual(bench(log).plan.refer, "teacher")
        states = tuning_now(violin(), log, MoveLog(), clock=CLOCK).states
        asked = {state.string.name: state.asked(for_teacher=True) for state in states}
        found = sort_instrument(asked, instrument=VIOLIN)
        self.assertEqual((found.group, found.needs, found.said), ("teacher-must", "teacher", "far down: G, D"))

    def test_a_string_that_comes_up_from_slack_is_an_adults_in_the_morning_too(self) -> None:
        log = written({"G": -750.0, "D": 0.0, "A": 0.0, "E": 0.0})
        log.turn("G", 20.0, peg=True)
        log.read("G", -400.0)
        states = log.now().states
        asked = {state.string.name: state.asked(for_teacher=True) for state in states}
        self.assertEqual(sort_instrument(asked, instrument=VIOLIN).needs, "teacher")

    def test_where_each_string_is_left_the_round_is_over_though_they_pulled_each_other_a_little(self) -> None:
        log = Writing(replace(TUNING, who="teacher", turning="while-sounding"))
        for name, *cents in (("A", -22.0, -3.0), ("D", 9.0, -3.0), ("G", -41.0, -3.0), ("E", -7.0, -3.0, 0.0)):
            for off in cents:
                log.read(name, off)
        found = bench(log.log)
        self.assertEqual([string.words for string in found.strings], ["in tune"] * 4)
        self.assertEqual((found.next_string, found.plan.lines), (None, []))

    def test_a_peg_that_sticks_sends_a_student_to_an_adult_before_any_turn(self) -> None:
        facts = situation(VIOLIN, "D", fine_tuner=None, peg=Peg(state="sticks"), who="student-pegs")
        self.assertEqual([step.do for step in advise(facts, Heard(note="D4", cents=-40.0)).steps], ["fetch-teacher"])

    @given(
        cents=st.fixed_dictionaries({name: st.floats(-690.0, 90.0) for name in "GDAE"}),
        who=st.sampled_from(STUDENTS),
        turning=st.sampled_from(["step-by-step", "while-sounding"]),
        school=st.sampled_from([700.0, 701.955]),
    )
    def test_no_view_turns_what_another_sends_to_the_teacher(
        self, cents: dict[str, float], who: str, turning: str, school: float
    ) -> None:
        log = written(cents, who=who, turning=turning, fifth_cents=school).log
        shown = bench(log)
        in_plan = {line.string for line in shown.plan.lines}
        fetches = {
            string.name
            for string in shown.strings
            if string.advice is not None and string.advice.steps and string.advice.steps[0].do == "fetch-teacher"
        }
        self.assertFalse(in_plan & fetches, "the plan turns what the bench sends to the teacher")
        if fetches:
            self.assertEqual(shown.plan.refer, "teacher")
        mend = fifths_view(violin(), tuning_now(violin(), log, MoveLog(), clock=CLOCK)).mend
        if mend is not None and mend.step is not None and mend.step.is_move:
            self.assertNotIn(mend.string, fetches)


class TestCards(unittest.TestCase):
    @given(
        kind=st.sampled_from(sorted(INSTRUMENTS)),
        place=st.integers(0, 3),
        screw=screws(),
        peg=pegs(),
        approach=st.sampled_from(APPROACHES),
        who=st.sampled_from(WHO),
        habits=HABITS,
        school=st.sampled_from([700.0, 701.0, 701.955]),
        off=st.integers(-700, 800),
    )
    def test_a_card_says_of_every_reading_what_the_bench_says(
        self, kind: str, place: int, screw: Any, peg: Any, approach: str, who: Any, habits: Any, school: float, off: int
    ) -> None:
        instrument = INSTRUMENTS[kind]
        facts = situation(
            instrument,
            instrument.string_names[place],
            fine_tuner=None if screw is None else FineTuner(**screw),
            peg=Peg(**peg),
            approach=approach,
            who=who,
            habits=habits,
            fifth_cents=school,
        )
        band = next(band for band in string_card(facts).bands if band.from_cents <= off <= band.to_cents)
        told = advise(facts, Heard(hz=shift_hz(facts.target_hz, float(off))), sure_of_string=True)
        if told.state not in ("unsure", "other-string"):
            self.assertEqual(band.meaning, meant(told))


class TestFifths(unittest.TestCase):
    def fifths(self, cents: dict[str, float], **how: Any) -> Any:
        return fifths_view(violin(), written(cents, **how).now())

    def test_where_every_fifth_is_right_nothing_is_asked(self) -> None:
        for cents, school in (
            ({"G": -4.0, "D": -2.0, "A": 0.0, "E": 2.0}, 700.0),
            ({"G": 0.0, "D": 0.0, "A": 0.0, "E": 0.0}, 701.955),
        ):
            view = self.fifths(cents, fifth_cents=school)
            self.assertEqual([link.verdict for link in view.links], ["right"] * 3)
            self.assertIsNone(view.mend)
            self.assertIn("Leave it", view.said)

    def test_a_reference_that_is_off_is_still_asked_for(self) -> None:
        view = self.fifths(dict.fromkeys("GDAE", -12.0))
        self.assertEqual(view.mend.string, "A")

    def test_a_double_stop_against_two_readings_is_heard_again_and_then_counts(self) -> None:
        log = written({"G": 0.0, "D": 0.0, "A": 0.0, "E": 0.0})
        first = log.check("D", "A", -11.955, way="double-stop", plus_minus_cents=0.5)
        view = fifths_view(violin(), log.now())
        self.assertIsNone(view.mend)
        self.assertEqual(view.to_play, ["D", "A"])
        self.assertIn("D–A: heard together and read alone they disagree by 10 cents", view.said)
        self.assertEqual(bench(log.log).notice, view.said)
        again = log.check("D", "A", -11.5, way="double-stop", plus_minus_cents=0.5)
        self.assertNotEqual(first.id, again.id)
        view = fifths_view(violin(), log.now())
        self.assertNotIn("disagree", view.said)
        self.assertEqual([link.verdict for link in view.links], ["right", "narrow", "right"])
        self.assertIsNone(bench(log.log).notice)

    def test_what_was_turned_between_disagrees_with_nothing(self) -> None:
        log = written({"G": 0.0, "D": 0.0, "A": 0.0, "E": 0.0})
        log.turn("D", 0.25)
        log.check("D", "A", -11.955, way="double-stop", plus_minus_cents=0.5)
        self.assertIsNone(bench(log.log).notice)


class TestOrder(unittest.TestCase):
    def plan(self, cents: dict[str, float], **more: Any) -> Any:
        asked = written(cents, **more)
        states = asked.now().states
        return plan({state.string.name: state.asked() for state in states}, instrument=VIOLIN)

    def test_what_stands_near_breaking_is_eased_first(self) -> None:
        found = self.plan({"G": -20.0, "D": -180.0, "A": -30.0, "E": 150.0})
        self.assertEqual((found.moves[0].string, found.moves[0].step.pitch), ("E", "lower"))

    def test_a_screw_near_its_middle_is_left_there_before_a_peg(self) -> None:
        facts = situation(INSTRUMENTS["cello"], "A", fine_tuner=FineTuner(turns_from_middle=0.5), peg=Peg())
        self.assertEqual(advise(facts, Heard(note="F#3", cents=0.0)).steps[0].do, "turn-peg")

    def test_a_string_in_tune_that_is_turned_again_says_so_where_it_shows(self) -> None:
        log = written({"G": 0.0, "D": -260.0, "A": 2.5, "E": 0.0}).log
        shown = bench(log)
        again = {line.string for line in shown.plan.lines}
        for string in shown.strings:
            if string.name in again and string.advice is not None and string.advice.state == "in-tune":
                self.assertEqual((string.words, string.headline), ("for now", "Leave it for now"))
                self.assertIn("as the others are turned", string.cautions_said[0])
            elif string.advice is not None and string.advice.state == "in-tune":
                self.assertEqual(string.words, "in tune")
        self.assertTrue(again - {"D"}, "the case shows such a string")

    def test_a_string_far_down_but_not_slack_comes_up_by_stages_the_bridge_looked_at(self) -> None:
        for by_plan in (False, True):
            log = written({"G": -600.0, "D": 0.0, "A": 0.0, "E": 0.0}).log
            if by_plan:
                does = [move.step.do for move in self.plan({"G": -600.0, "D": 0.0, "A": 0.0, "E": 0.0}).moves]
            else:
                g = next(string for string in bench(log).strings if string.name == "G")
                assert g.advice is not None
                self.assertIn("bridge", g.advice.cautions)
                does = [step.do for step in g.advice.steps]
            self.assertEqual(does.count("look-at-bridge"), 2)

    def test_a_round_that_nobody_has_begun_says_where_it_begins(self) -> None:
        for cents, said in (({"D": -30.0}, True), ({"D": -30.0, "A": 0.0}, False)):
            d = next(string for string in bench(written(cents).log).strings if string.name == "D")
            self.assertEqual("A round begins with the A" in " ".join(d.cautions_said), said)

    def test_a_plan_with_new_strings_says_that_they_stretch(self) -> None:
        facts = situation(VIOLIN, "G", fine_tuner=FineTuner(), peg=Peg(), string_age_days=3)
        told = plan({"G": StringAsked(facts, Heard(note="G3", cents=-40.0))}, instrument=VIOLIN)
        self.assertIn("The G is new: a new string stretches", told.why)


class TestWords(unittest.TestCase):
    def say(self, **facts: Any) -> str:
        given_facts = {"fine_tuner": None, "peg": Peg(), "turning": "while-sounding", **facts}
        told = advise(situation(VIOLIN, "D", **given_facts), Heard(note="C#4", cents=-20.0))
        return next(step.say for step in told.steps if step.do == "turn-peg")

    def test_a_string_is_bowed_where_the_bow_is_in_hand(self) -> None:
        for stance, how in (("playing", "bowing all along"), ("lap", "plucking all along"), ("helper", "while the player")):
            self.assertIn(how, self.say(stance=stance))

    def test_every_peg_arrow_says_where_the_strings_side_goes(self) -> None:
        self.assertIn("the string's side of the peg goes towards the scroll", self.say())
        self.assertIn("goes away from the scroll", self.say(peg=Peg(winding="reversed")))

    def test_many_degrees_are_never_one_move(self) -> None:
        log = written({"G": -650.0, "D": 0.0, "A": 0.0, "E": 0.0}, turning="while-sounding").log
        g = next(string for string in bench(log).strings if string.name == "G")
        self.assertIn("in small pushes", g.headline)
        self.assertNotIn("°", g.headline)
        assert g.advice is not None
        self.assertIn("never more than 20° at once", g.advice.steps[0].say)

    def test_a_string_far_under_is_not_said_to_stand_where_strings_break(self) -> None:
        log = written({"G": 0.0, "D": 0.0, "A": 0.0, "E": -190.0}).log
        e = next(string for string in bench(log, E={"has_fine_tuner": False}).strings if string.name == "E")
        self.assertNotIn("stands near", " ".join(e.cautions_said))

"""The morning's plan: everyone's clearance kept, no job lost, near its bound, planned anew as things change; the sorting."""

import itertools
import unittest
from dataclasses import replace

from hypothesis import example, given, settings
from hypothesis import strategies as st

from pondus.core.errors import BadInput
from pondus.core.group.assigned import WORTH_TRYING
from pondus.core.group.jobs import RANK, Job, Tuner
from pondus.core.group.pace import Done, expected_minutes, learned_pace
from pondus.core.group.schedule import CALLS_WORTH_MINUTES, MOVES_WORTH_MINUTES, Morning, Recall, plan_morning
from pondus.core.group.triage import Sorted, TriagedInstrument, at_luthier, sort_instrument, triaged_instrument, unheard
from pondus.core.instruments import INSTRUMENTS
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import StringAsked
from pondus.core.judgement.situation import FineTuner, Peg, situation
from tests.core.writing import CLOCK, Writing, violin

CLEARANCES = ("fine-tuners", "pegs", "teacher")


@st.composite
def mornings(draw: st.DrawFn) -> tuple[list[Job], list[Tuner]]:
    stations = [Tuner("teacher", "teacher")]
    for number in range(draw(st.integers(0, 4))):
        may, pace = draw(st.sampled_from(CLEARANCES)), draw(st.floats(0.8, 2.0))
        stations.append(Tuner(f"s{number}", may, pace, draw(st.floats(0, 5)), draw(st.booleans())))
    jobs = [
        Job(f"j{number}", draw(st.floats(0.5, 6.0)), draw(st.sampled_from(CLEARANCES)), draw(st.none() | st.just("s0")))
        for number in range(draw(st.integers(0, 14)))
    ]
    return jobs, stations


def best_by_trying_all(jobs: list[Job], stations: list[Tuner]) -> float:
    """The least finish time, by every possible assignment."""
    best = float("inf")
    for places in itertools.product(range(len(stations)), repeat=len(jobs)):
        if all(stations[place].may_take(job) for place, job in zip(places, jobs, strict=True)):
            ends = []
            for number, each in enumerate(stations):
                mine = [job for place, job in zip(places, jobs, strict=True) if place == number]
                ends.append(each.from_minutes + sum(map(each.minutes_for, mine)) if mine else 0.0)
            best = min(best, max(ends))
    return best


def queues(planned: Morning) -> dict[str, list[str]]:
    return {name: [slot.job.name for slot in slots] for name, slots in planned.slots.items()}


class TestAsTold(unittest.TestCase):
    """R127: people walk by a plan."""

    @settings(max_examples=60)
    @given(mornings(), st.data())
    def test_who_is_called_stays_called_while_instruments_change(
        self, morning: tuple[list[Job], list[Tuner]], data: st.DataObject
    ) -> None:
        jobs, stations = morning
        told = queues(plan_morning(jobs, stations))
        changed = [
            replace(job, minutes=max(0.3, job.minutes + data.draw(st.floats(-0.4, 0.4))))
            for job in jobs
            if data.draw(st.integers(0, 5))
        ]
        planned = plan_morning(changed, stations, said_before=told)
        fresh = plan_morning(changed, stations)
        self.assertLessEqual(planned.ends, fresh.ends + CALLS_WORTH_MINUTES + 1e-6)
        self.assertEqual(
            sorted(slot.job.name for slots in planned.slots.values() for slot in slots),
            sorted(job.name for job in changed if any(each.may_take(job) for each in stations)),
        )
        for name, own in queues(planned).items():
            was = next(iter(told[name]), None)
            stays = was is None or was in own[:1]
            self.assertEqual(stays, name not in planned.recalled, (told, queues(planned)))
            if not stays:
                self.assertEqual(planned.recalled[name].job, was)
        there = {job.name: job for job in changed}
        as_told = max(
            each.from_minutes + sum(each.minutes_for(there[job]) for job in told[each.name] if job in there)
            for each in stations
        )
        if as_told <= min(planned.ends, fresh.ends) + MOVES_WORTH_MINUTES - 1e-6:
            for name, own in queues(planned).items():
                left = [job for job in told[name] if job in own]
                self.assertEqual([job for job in own if job in told[name]], left, "in its order")

    def test_why_someone_is_called_to_another_is_told(self) -> None:
        teacher, mina = Tuner("teacher", "teacher"), Tuner("Mina", "pegs")
        knot, ruff, smew = Job("Knot", 3.0, "pegs"), Job("Ruff", 2.0), Job("Smew", 2.0)
        told = {"teacher": ["Smew"], "Mina": ["Knot", "Ruff"]}
        for jobs, stations, recall in (
            ([ruff, smew], [teacher, mina], Recall("Knot", "done")),
            ([knot, ruff, smew], [replace(teacher, holds="Knot"), mina], Recall("Knot", "in-hand", "teacher")),
            ([replace(knot, needs="teacher"), ruff, smew], [teacher, mina], Recall("Knot", "needs-more", "teacher")),
        ):
            with self.subTest(why=recall.why):
                planned = plan_morning(jobs, stations, said_before=told)
                self.assertEqual(planned.recalled.get("Mina"), recall)
                self.assertEqual(queues(planned)["Mina"], ["Ruff"])
        self.assertEqual(plan_morning([knot, ruff, smew], [teacher, mina], said_before=told).recalled, {})

    def test_laid_anew_only_where_all_are_done_clearly_sooner(self) -> None:
        teacher, mina = Tuner("teacher", "teacher"), Tuner("Mina", "fine-tuners")
        jobs = [Job(f"j{number}", 2.0) for number in range(6)]
        one_sided = {"teacher": [], "Mina": [job.name for job in jobs]}
        planned = plan_morning(jobs, [teacher, mina], said_before=one_sided)
        self.assertEqual((planned.ends, planned.recalled), (6.0, {}), "the rest is laid anew, who is called is not")
        self.assertEqual(queues(planned)["Mina"][0], "j0")
        a_little = {"teacher": ["j0", "j1"], "Mina": ["j3", "j2", "j4"]}
        self.assertEqual(queues(plan_morning(jobs[:5], [teacher, mina], said_before=a_little)), a_little, "it saves nothing")
        slow = replace(mina, pace=5.0)
        planned = plan_morning(jobs[:1], [teacher, slow], said_before={"Mina": ["j0"]})
        self.assertEqual(planned.recalled, {"Mina": Recall("j0", "sooner", "teacher", 8.0)})


class TestPlan(unittest.TestCase):
    @settings(max_examples=60)
    @given(mornings())
    def test_every_job_once_by_someone_who_may(self, morning: tuple[list[Job], list[Tuner]]) -> None:
        jobs, stations = morning
        planned = plan_morning(jobs, stations)
        done = [turn.job.name for turns in planned.slots.values() for turn in turns]
        self.assertEqual(sorted(done + [job.name for job in planned.nobody]), sorted(job.name for job in jobs))
        for each in stations:
            at = each.from_minutes
            for turn in planned.slots[each.name]:
                self.assertTrue(each.may_take(turn.job))
                self.assertAlmostEqual(turn.starts, at)
                at = turn.ends
        self.assertGreaterEqual(planned.ends, planned.bound - 1e-6)

    @settings(max_examples=25)
    @given(st.lists(st.tuples(st.floats(0.5, 6.0), st.sampled_from(CLEARANCES)), min_size=1, max_size=6), st.floats(0, 3))
    @example([(2.0, "fine-tuners"), (4.0, "fine-tuners"), (2.5, "pegs")], 1.0)
    def test_small_mornings_are_the_best_there_is(self, given_jobs: list[tuple[float, str]], late: float) -> None:
        jobs = [Job(str(number), minutes, needs) for number, (minutes, needs) in enumerate(given_jobs)]  # type: ignore[arg-type]
        stations = [Tuner("t", "teacher"), Tuner("h", "pegs", 1.3, late), Tuner("s", "fine-tuners", 1.5)]
        best = best_by_trying_all(jobs, stations)
        planned = plan_morning(jobs, stations)
        self.assertLessEqual(planned.bound, best + 1e-6)
        self.assertLessEqual(planned.ends, max(best, (1.0 + WORTH_TRYING) * planned.bound) + 1e-6)

    def test_work_is_handed_on_over_two(self) -> None:
        """The teacher gives the peg to the helper, so as to take what the student would need nine minutes for."""
        stations = [Tuner("t", "teacher"), Tuner("h", "pegs", 1.3, 2.0), Tuner("s", "fine-tuners", 1.5)]
        self.assertAlmostEqual(plan_morning([Job("0", 6.0), Job("1", 3.5, "pegs")], stations).ends, 6.55)

    def test_the_teacher_takes_first_what_only_the_teacher_may(self) -> None:
        jobs = [Job("a", 1.0), Job("slack", 5.0, "teacher"), Job("peg", 2.0, "pegs"), Job("b", 1.0)]
        planned = plan_morning(jobs, [Tuner("teacher", "teacher"), Tuner("student", "fine-tuners")])
        order = [turn.job.name for turn in planned.slots["teacher"]]
        self.assertEqual(order[:2], ["slack", "peg"])
        self.assertEqual({turn.job.name for turn in planned.slots["student"]}, {"a", "b"})

    def test_what_nobody_may_do_is_said(self) -> None:
        planned = plan_morning([Job("peg", 2.0, "pegs")], [Tuner("student", "fine-tuners")])
        self.assertEqual(([job.name for job in planned.nobody], planned.ends), (["peg"], 0.0))

    def test_a_player_does_only_their_own(self) -> None:
        jobs = [Job("mine", 1.0, whose="ada"), Job("other", 1.0)]
        planned = plan_morning(
            jobs, [Tuner("ada", "fine-tuners", own_only=True), Tuner("teacher", "teacher", from_minutes=9.0)]
        )
        self.assertEqual([turn.job.name for turn in planned.slots["ada"]], ["mine"])

    def test_whoever_comes_late_changes_the_plan(self) -> None:
        jobs = [Job("a", 4.0, "pegs"), Job("b", 2.0), Job("c", 2.0)]
        in_time, late = (
            plan_morning(jobs, [Tuner("teacher", "teacher"), Tuner("helper", "pegs", from_minutes=from_minutes)])
            for from_minutes in (0.0, 6.0)
        )
        self.assertEqual((in_time.ends, late.ends), (4.0, 8.0))
        self.assertEqual(len(late.slots["helper"]) + len(late.slots["teacher"]), 3)

    def test_what_cannot_be_is_refused(self) -> None:
        one, teacher = Job("a", 1.0), Tuner("t", "teacher")
        for jobs, stations in (
            ([one, one], [teacher]),
            ([one], [teacher, teacher]),
            ([Job("a", 0.0)], [teacher]),
            ([Job("a", float("nan"))], [teacher]),
            ([one], [Tuner("t", "teacher", pace=0.0)]),
        ):
            with self.assertRaises(BadInput):
                plan_morning(jobs, stations)
        self.assertEqual(plan_morning([], [teacher]), Morning({"t": ()}, 0.0, 0.0, ()))

    def test_how_far_over_the_bound_a_plan_ends(self) -> None:
        self.assertEqual(Morning({}, 6.0, 4.0, ()).over_bound, 0.5)
        self.assertEqual(Morning({}, 0.0, 0.0, ()).over_bound, 0.0)

    def test_pegs_take_longer_than_screws(self) -> None:
        self.assertAlmostEqual(expected_minutes([], screw_moves=2, peg_moves=3), (2 * 15 + 3 * 45 + 50) / 60)
        self.assertAlmostEqual(expected_minutes([], screw_moves=2, peg_moves=3, rounds=2), (2 * 15 + 3 * 45 + 75) / 60)

    def test_a_slow_hand_takes_longer(self) -> None:
        planned = plan_morning([Job("a", 3.0)], [Tuner("slow", "teacher", pace=2.0, from_minutes=1.0)])
        self.assertEqual((planned.ends, planned.bound), (7.0, 7.0))

    def test_an_instrument_may_take_hours_but_not_ten(self) -> None:
        self.assertEqual(plan_morning([Job("a", 599.0)], [Tuner("t", "teacher")]).ends, 599.0)
        for job, station in ((Job("a", 601.0), Tuner("t", "teacher")), (Job("a", 1.0), Tuner("t", "teacher", 20.5))):
            with self.assertRaises(BadInput):
                plan_morning([job], [station])

    def test_minutes_come_from_the_instruments_own_history(self) -> None:
        usual = expected_minutes([], screw_moves=4, peg_moves=1)
        self.assertAlmostEqual(usual, (4 * 15 + 45 + 50) / 60)
        slow = expected_minutes([Done(4, 1, 2 * usual)] * 10, screw_moves=4, peg_moves=1)
        self.assertTrue(1.7 * usual < slow < 2.0 * usual)


class TestSorting(unittest.TestCase):
    def sort(self, kind: str, **off: float | None) -> Sorted:
        asked = {}
        for name, cents in off.items():
            facts = situation(INSTRUMENTS[kind], name, fine_tuner=FineTuner(), peg=Peg())
            heard = None if cents is None else Heard(hz=facts.target_hz * 2 ** (cents / 1200))
            asked[name] = StringAsked(facts, heard, True)
        return sort_instrument(asked, instrument=INSTRUMENTS[kind])

    def test_each_group(self) -> None:
        for off, group, needs in (
            ({"G": 1.0, "D": -2.0, "A": 0.0, "E": 2.0}, "leave", None),
            ({"G": -12.0, "D": -2.0, "A": 9.0, "E": 2.0}, "student-can", "fine-tuners"),
            ({"G": -180.0, "D": -2.0, "A": 0.0, "E": 2.0}, "teacher-must", "pegs"),
            ({"G": -900.0, "D": -2.0, "A": 0.0, "E": 2.0}, "teacher-must", "teacher"),
            ({"G": -9.0, "D": None, "A": 0.0, "E": 2.0}, "not-heard", None),
            ({"G": -9.0, "A": 0.0, "E": 2.0}, "not-heard", None),
        ):
            with self.subTest(off=off):
                found = self.sort("violin", **off)
                self.assertEqual((found.group, found.needs), (group, needs))
        self.assertEqual(RANK["pegs"], 1)

    def test_nothing_is_turned_on_what_is_away_or_unheard(self) -> None:
        for each in (unheard(["G", "D"]), at_luthier("a crack"), at_luthier("")):
            self.assertEqual((each.screw_moves, each.peg_moves, each.rounds), (0, 0, 0))
            self.assertIsNone(each.needs)
        self.assertEqual(unheard(["G", "D"]).said, "still to hear: G, D")
        self.assertEqual((at_luthier("a crack").said, at_luthier("").said), ("at the luthier’s: a crack", "at the luthier’s"))

    def test_a_peg_that_cannot_be_moved_goes_to_the_luthier(self) -> None:
        facts = situation(INSTRUMENTS["viola"], "C", fine_tuner=None, peg=Peg(state="sticks"))
        asked = {
            name: StringAsked(
                situation(INSTRUMENTS["viola"], name, fine_tuner=FineTuner(), peg=Peg()), Heard(note=note, cents=0.0)
            )
            for name, note in (("G", "G3"), ("D", "D4"), ("A", "A4"))
        }
        from pondus.core.judgement.recent_move import RecentMove

        stuck = RecentMove("peg", "raise", 3.0, "degree", from_cents=-40.0, repeats=1)
        asked["C"] = StringAsked(facts, Heard(hz=facts.target_hz * 2 ** (-40 / 1200)), True, stuck)
        found = sort_instrument(asked, instrument=INSTRUMENTS["viola"])
        self.assertEqual(found, Sorted("luthier", None, 0, 0, 0, "a peg that can’t be moved"))


class TestSortedByItsLog(unittest.TestCase):
    def sorted_after(self, **cents: float) -> TriagedInstrument:
        written = Writing()
        for name, off in cents.items():
            written.read(name, off)
        return triaged_instrument(violin(), written.log, [], clock=CLOCK)

    def test_how_many_strings_were_heard_is_counted(self) -> None:
        self.assertEqual([self.sorted_after(**{"G": 0.0, "D": 1.0}).heard, self.sorted_after(A=-9.0).heard], [2, 1])

    def test_it_takes_as_long_as_its_moves_do(self) -> None:
        well = self.sorted_after(G=0.0, D=0.0, A=0.0, E=0.0)
        one = self.sorted_after(G=0.0, D=0.0, A=-12.0, E=0.0)
        self.assertEqual((well.sorted.group, well.minutes), ("leave", 0.0))
        self.assertEqual((one.sorted.group, one.sorted.screw_moves), ("student-can", 1))
        self.assertAlmostEqual(one.minutes, expected_minutes([], screw_moves=1, peg_moves=0), delta=0.01)


class TestInHand(unittest.TestCase):
    jobs = (Job("Knot", 4.0, "pegs"), Job("Ruff", 2.0), Job("Stint", 2.0))
    teacher, helper = Tuner("teacher", "teacher"), Tuner("helper", "fine-tuners")

    def held(self, **holds: str) -> Morning:
        people = [replace(each, holds=holds.get(each.name)) for each in (self.teacher, self.helper)]
        return plan_morning(self.jobs, people)

    def test_what_someone_is_in_the_middle_of_comes_first_and_stays(self) -> None:
        for name in ("Ruff", "Stint"):
            planned = self.held(teacher=name)
            self.assertEqual(planned.slots["teacher"][0].job.name, name)
            every = [turn.job.name for turns in planned.slots.values() for turn in turns]
            self.assertEqual(sorted(every), ["Knot", "Ruff", "Stint"])

    def test_a_hold_that_may_not_be_goes_to_whoever_may(self) -> None:
        planned = self.held(helper="Knot")
        self.assertIn("Knot", [turn.job.name for turn in planned.slots["teacher"]])

    def test_two_hold_the_same_the_first_keeps_it(self) -> None:
        planned = self.held(teacher="Ruff", helper="Ruff")
        self.assertEqual(planned.slots["teacher"][0].job.name, "Ruff")
        self.assertNotIn("Ruff", [turn.job.name for turn in planned.slots["helper"]])

    def test_a_hold_of_something_done_is_over(self) -> None:
        self.assertEqual(self.held(teacher="Gone").ends, self.held().ends)

    @given(mornings(), st.integers(0, 13), st.integers(0, 4))
    @settings(max_examples=40)
    def test_no_job_is_lost_and_the_bound_holds(self, morning: tuple[list[Job], list[Tuner]], job: int, who: int) -> None:
        jobs, stations = morning
        if jobs:
            place = who % len(stations)
            stations[place] = replace(stations[place], holds=jobs[job % len(jobs)].name)
        planned = plan_morning(jobs, stations)
        done = [turn.job.name for turns in planned.slots.values() for turn in turns] + [each.name for each in planned.nobody]
        self.assertEqual(sorted(done), sorted(each.name for each in jobs))
        self.assertGreaterEqual(planned.ends, planned.bound - 1e-6)


class TestPaces(unittest.TestCase):
    def test_a_pace_is_drawn_towards_what_was_taken(self) -> None:
        usual = expected_minutes([], screw_moves=4, peg_moves=1)
        slow = [Done(4, 1, 2.0 * usual)]
        self.assertTrue(1.0 < learned_pace(slow, usual=1.0) < learned_pace(slow * 10, usual=1.0) < 2.0)

    def test_what_was_left_lying_and_what_turned_nothing_says_nothing(self) -> None:
        self.assertEqual(learned_pace([Done(4, 1, 500.0), Done(0, 0, 3.0), Done(4, 1, 0.0)], usual=1.3), 1.3)

"""The log: its counter decides, voided and late entries don't count, moves are held to account, summaries measure."""

import unittest
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from itertools import count
from typing import Any
from uuid import uuid4

from pondus.core.bench_view import bench_view, expected_cents, headline, history_of, hold_view, next_string
from pondus.core.clock import Clock
from pondus.core.instruments import INSTRUMENTS
from pondus.core.judgement.situation import Heard
from pondus.core.log.fifth_checks import holding_checks, last_before, reading_id
from pondus.core.log.learned import MoveLog, learned_coupling, learned_rates, move_log
from pondus.core.log.ledger import (
    TuningInAir,
    ledger_strings,
    next_morning,
    nights,
    slip_rates_of,
    slips_of,
    time_spent,
)
from pondus.core.log.records import (
    FifthCheck,
    FittedInstrument,
    FittedString,
    Move,
    Reading,
    Tuning,
    TuningLog,
    age_when,
    situation_of,
)
from pondus.core.log.state import StringState, string_states, unseen_move
from pondus.core.log.summary import MeasuredMove, StringSummary, TuningSummary, summarise
from pondus.core.targets import targets_hz

START = datetime(2026, 7, 4, 8, 0, tzinfo=UTC)
CLOCK = Clock(START)
VIOLIN = INSTRUMENTS["violin"]
TUNING = Tuning(id=uuid4(), instrument_id=uuid4(), started_at=START, stance="lap")


def violin(**strings: dict[str, Any]) -> FittedInstrument:
    fitted = tuple(FittedString(name, **strings.get(name, {})) for name in VIOLIN.string_names)
    return FittedInstrument(TUNING.instrument_id, "Knot", "violin", "4/4", fitted)


class TestHz(unittest.TestCase):
    def test_a_reading_without_an_octave_has_none(self) -> None:
        for heard, hz in (
            (Heard(hz=439.0), 439.0),
            (Heard(note="A4", cents=1200.0), 884.0),
            (Heard(note="A", cents=3.0), None),
            (Heard(), None),
        ):
            found = Reading(uuid4(), "A", 1, START, heard=heard).hz(442.0)
            self.assertEqual(found is None, hz is None, heard)
            self.assertAlmostEqual(found or 0.0, hz or 0.0, places=6)


class Writing:
    """A log as it is written, one line after the other."""

    def __init__(self, tuning: Tuning = TUNING) -> None:
        self.tuning, self.places = tuning, count(1)
        self.readings: list[Reading] = []
        self.moves: list[Move] = []
        self.checks: list[FifthCheck] = []

    def _next(self, seconds: float | None) -> dict[str, Any]:
        seq = next(self.places)
        return {"id": uuid4(), "seq": seq, "at": START + timedelta(seconds=10 * seq if seconds is None else seconds)}

    def read(
        self, string: str, cents: float, *, note: str | None = None, at: float | None = None, **more: Any
    ) -> Reading:
        note = note or {"G": "G3", "D": "D4", "A": "A4", "E": "E5"}[string]
        reading = Reading(string=string, heard=Heard(note=note, cents=cents), **self._next(at), **more)
        self.readings.append(reading)
        return reading

    def turn(self, string: str, amount: float, *, peg: bool = False, at: float | None = None, **more: Any) -> Move:
        move = Move(
            string=string,
            mechanism="peg" if peg else "fine-tuner",
            direction="raise" if amount > 0 else "lower",
            amount=abs(amount),
            unit="degree" if peg else "turn",
            **self._next(at),
            **more,
        )
        self.moves.append(move)
        return move

    def check(self, lower: str, upper: str, from_pure: float | None, **more: Any) -> FifthCheck:
        check = FifthCheck(
            string=lower, upper=upper, from_pure_cents=from_pure, beats_hz=0.5, **{**self._next(None), **more}
        )
        self.checks.append(check)
        return check

    @property
    def log(self) -> TuningLog:
        return TuningLog(self.tuning, tuple(self.readings), tuple(self.moves), tuple(self.checks))

    def states(
        self, instrument: FittedInstrument | None = None, measured: MoveLog | None = None
    ) -> dict[str, StringState]:
        found = string_states(instrument or violin(), self.log, measured or MoveLog(), clock=CLOCK)
        return {state.string.name: state for state in found}

    def summary(self) -> TuningSummary:
        return summarise(self.log, targets_hz(VIOLIN, a4=self.tuning.a4, fifth_cents=self.tuning.fifth_cents))


class TestOrder(unittest.TestCase):
    def test_the_counter_decides_though_the_clock_was_set_back(self) -> None:
        written = Writing()
        written.read("A", -20.0, at=600)
        newer = written.read("A", -3.5, at=0)
        state = written.states()["A"]
        assert state.reading is not None and state.advice is not None
        self.assertEqual((state.reading.id, state.advice.cents_off), (newer.id, -3.5))

    def test_a_move_after_the_reading_waits_though_its_clock_says_before(self) -> None:
        written = Writing()
        written.read("A", -20.0, at=600)
        move = written.turn("A", 0.5, at=0)
        state = written.states()["A"]
        self.assertEqual(state.pending, move)
        self.assertEqual(headline(state), "Play the A string again")

    def test_voided_and_late_entries_stay_and_do_not_count(self) -> None:
        written = Writing()
        good = written.read("A", -12.0)
        written.read("A", 40.0, voided=True, void_reason="misread")
        written.read("A", 30.0, late=True)
        written.turn("A", 0.5, late=True)
        state = written.states()["A"]
        self.assertEqual((state.reading, state.pending), (good, None))
        lines = history_of(written.log)
        self.assertEqual([line.late for line in lines], [True, True, False, False])
        self.assertEqual([line.struck for line in lines], [False, False, True, False])
        self.assertEqual(lines[2].struck_reason, "misread")

    def test_the_newest_place(self) -> None:
        written = Writing()
        self.assertEqual(written.log.newest_seq, 0)
        written.read("A", 0.0)
        written.check("D", "A", 0.0)
        self.assertEqual(written.log.newest_seq, 2)


class TestAccount(unittest.TestCase):
    def test_one_move_between_two_readings_is_held_to_account(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        moved = written.turn("A", 0.5)
        written.read("A", -40.0)
        state = written.states()["A"]
        self.assertEqual((state.moved, state.did_cents), (moved, -20.0))
        assert state.recent is not None and state.advice is not None
        self.assertEqual((state.recent.from_cents, state.recent.effect_known), (-20.0, True))
        self.assertEqual([step.do for step in state.advice.steps], ["check"])

    def test_of_several_none_is(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5)
        last = written.turn("A", 0.25)
        written.read("A", -40.0)
        state = written.states()["A"]
        self.assertEqual((state.recent, state.moved), (None, last))

    def test_read_twice_since_it_tells_what_was_turned_and_not_what_that_did(self) -> None:
        written = Writing()
        written.read("A", 20.0, note="G#4")
        written.turn("A", 2.0, peg=True)
        written.read("A", 40.0, note="G#4")
        written.read("A", 39.0, note="G#4")
        recent = written.states()["A"].recent
        assert recent is not None
        self.assertEqual((recent.mechanism, recent.effect_known), ("peg", False))

    def test_a_string_not_heard_with_a_move_waits(self) -> None:
        written = Writing()
        move = written.turn("A", 0.5)
        state = written.states()["A"]
        self.assertEqual((state.reading, state.pending, state.hz, state.did_cents), (None, move, None, None))

    def test_another_string_is_no_pitch_of_this_one(self) -> None:
        written = Writing()
        written.read("A", 0.0, note="D4")
        state = written.states()["A"]
        assert state.advice is not None
        self.assertEqual((state.advice.state, state.hz), ("other-string", None))

    def test_the_screw_stands_within_its_reach(self) -> None:
        strings = {"A": {"screw_turns": 9.0, "screw_reach_turns": 4.0}, "D": {"has_fine_tuner": False}}
        facts = Writing().states(violin(**strings))
        tuner = facts["A"].situation.fine_tuner
        assert tuner is not None
        self.assertEqual(tuner.turns_from_middle, 4.0)
        self.assertIsNone(facts["D"].situation.fine_tuner)

    def test_a_string_taken_off_is_no_state(self) -> None:
        without = replace(violin(), strings=violin().strings[1:])
        self.assertEqual(list(Writing().states(without)), ["D", "A", "E"])
        self.assertIsNone(without.fitted("G"))

    def test_a_move_nobody_pressed_a_button_for(self) -> None:
        written = Writing()
        written.read("A", -12.0)
        states = list(written.states().values())
        step = unseen_move(states, "A", Heard(note="A4", cents=-1.0), sure_of_string=False)
        assert step is not None
        self.assertEqual((step.do, step.pitch), ("turn-fine-tuner", "raise"))
        self.assertIsNone(unseen_move(states, "A", Heard(note="A4", cents=-11.5), sure_of_string=False))
        self.assertIsNone(unseen_move(states, "D", Heard(note="D4", cents=-1.0), sure_of_string=False))
        written.turn("A", 0.3)
        waiting = list(written.states().values())
        self.assertIsNone(unseen_move(waiting, "A", Heard(note="A4", cents=-1.0), sure_of_string=False))


class TestSummary(unittest.TestCase):
    def test_found_left_moves_minutes_and_what_they_measured(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5)
        written.read("A", -2.0)
        written.turn("G", 3.0, peg=True)
        summary = written.summary()
        a = summary.strings["A"]
        self.assertEqual((a.readings, a.screw_moves, a.peg_moves, a.slips), (2, 1, 0, 0))
        self.assertAlmostEqual(a.found_cents or 0.0, -20.0, places=6)
        self.assertAlmostEqual(a.left_cents or 0.0, -2.0, places=6)
        self.assertEqual((summary.minutes, summary.screw_moves, summary.peg_moves), (0.5, 1, 1))
        self.assertEqual([move.amount for move in summary.measured], [0.5])
        self.assertAlmostEqual(summary.measured[0].change_cents, 17.8, delta=0.2)
        self.assertEqual(summary.strings["G"].found_hz, None)

    def test_an_octave_that_is_not_known_measures_nothing(self) -> None:
        written = Writing()
        written.read("A", -20.0, note="A")
        written.turn("A", 0.5)
        written.read("A", -2.0)
        summary = written.summary()
        self.assertEqual(summary.measured, ())
        self.assertAlmostEqual(summary.strings["A"].found_cents or 0.0, -2.0, places=6)

    def test_a_peg_that_gave_way_under_a_raise(self) -> None:
        for after, slips in ((-45.0, 1), (-24.0, 0), (-10.0, 0)):
            written = Writing()
            written.read("A", -20.0)
            written.turn("A", 3.0, peg=True)
            written.read("A", after)
            self.assertEqual(written.summary().strings["A"].slips, slips, after)
        lowered = Writing()
        lowered.read("A", 30.0)
        lowered.turn("A", -3.0, peg=True)
        lowered.read("A", -20.0)
        self.assertEqual(lowered.summary().strings["A"].slips, 0)

    def test_one_string_turned_between_two_readings_of_another_is_its_coupling(self) -> None:
        written = Writing()
        written.read("D", 0.0)
        written.read("A", -40.0)
        written.turn("A", 0.5)
        written.read("A", -20.0)
        written.read("D", -0.8)
        couplings = written.summary().couplings
        self.assertEqual([(one.moved, one.other) for one in couplings], [("A", "D")])
        self.assertAlmostEqual(couplings[0].went_cents, 20.0, places=2)
        self.assertAlmostEqual(couplings[0].gave_cents, -0.8, places=2)
        # Two strings turned in between: neither can be held to account.
        written = Writing()
        written.read("D", 0.0)
        for string in ("A", "G"):
            written.read(string, -40.0)
            written.turn(string, 0.5)
            written.read(string, -20.0)
        written.read("D", -0.8)
        self.assertEqual([one.other for one in written.summary().couplings if one.other == "D"], [])

    def test_voided_and_late_entries_measure_nothing(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5, voided=True)
        written.read("A", -2.0)
        written.read("A", 44.0, late=True)
        summary = written.summary()
        self.assertEqual((summary.measured, summary.strings["A"].readings), ((), 2))


class TestLearned(unittest.TestCase):
    def measured(
        self, string: str, amount: float, change: float, *, days: float = 0.0, peg: bool = False
    ) -> MeasuredMove:
        return MeasuredMove(string, START + timedelta(days=days), "peg" if peg else "fine-tuner", amount, change)

    def test_only_moves_since_the_string_and_its_fittings_count(self) -> None:
        moves = [self.measured("A", 0.5, 10.0, days=day) for day in (-3, -2, -1)]
        for fitted, expected in (
            (FittedString("A"), 3),
            (FittedString("A", put_on=date(2026, 7, 2)), 2),
            (FittedString("A", fitted_at=START - timedelta(days=1, hours=1)), 1),
        ):
            facts = situation_of(violin(), TUNING, fitted, today=CLOCK.today)
            learned = learned_rates(fitted, facts, moves, clock=CLOCK)
            self.assertEqual((learned.screw.count, learned.peg.count), (expected, 0))
            self.assertLess(learned.screw.value, facts.screw_rate.cents)

    def test_the_advice_takes_what_was_learned(self) -> None:
        log = MoveLog({"A": [self.measured("A", 0.5, 10.0) for _ in range(20)]})
        written = Writing()
        written.read("A", -10.0)
        state = written.states(measured=log)["A"]
        self.assertAlmostEqual(state.situation.screw_rate.cents, 20.0, delta=1.5)
        assert state.advice is not None and state.advice.steps[0].amount is not None
        self.assertAlmostEqual(state.advice.steps[0].amount, 0.5, delta=0.05)

    def test_a_geared_peg_has_no_least_nudge(self) -> None:
        moves = [self.measured("A", 1.0, 22.0, peg=True) for _ in range(4)]
        for kind, least in (("friction", 22.0), ("geared", None)):
            fitted = FittedString("A", peg_kind=kind)  # type: ignore[arg-type]
            facts = situation_of(violin(), TUNING, fitted, today=CLOCK.today)
            self.assertEqual(learned_rates(fitted, facts, moves, clock=CLOCK).peg_least_cents, least)

    def test_coupling_is_learned_over_the_usual(self) -> None:
        usual = learned_coupling(VIOLIN, MoveLog())
        strong = learned_coupling(
            VIOLIN, MoveLog(couplings={("A", "D"): [(50.0, -5.0)] * 12, ("A", "C"): [(1.0, 1.0)]})
        )
        self.assertLess(strong["A"]["D"], usual["A"]["D"])
        self.assertEqual(strong["A"]["E"], usual["A"]["E"])
        self.assertNotIn("C", strong["A"])

    def test_summaries_add_up(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5)
        written.read("A", -2.0)
        log = move_log([written.summary(), written.summary()])
        self.assertEqual(len(log.moves["A"]), 2)


class TestFifthChecks(unittest.TestCase):
    def test_a_check_holds_until_one_of_its_strings_is_turned_or_read(self) -> None:
        written = Writing()
        first = written.check("D", "A", 4.0)
        check = written.check("D", "A", 2.0)
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): check})
        written.read("E", 0.0)
        written.turn("G", 0.5)
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): check})
        written.turn("D", 0.5, late=True)
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): check})
        written.turn("D", 0.1)
        self.assertEqual(holding_checks(written.log, VIOLIN), {})
        self.assertEqual(last_before(written.log, ("D", "A"), check.id), first)
        self.assertEqual(last_before(written.log, ("D", "A"), uuid4()), check)
        self.assertIsNone(last_before(written.log, ("G", "D"), check.id))

    def test_its_own_readings_do_not_end_it(self) -> None:
        written = Writing()
        key = uuid4()
        check = written.check("D", "A", 2.0, id=key)
        own = written.read("A", 1.0)
        written.readings[-1] = replace(own, id=reading_id(key, "upper"))
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): check})
        written.read("A", 1.0)
        self.assertEqual(holding_checks(written.log, VIOLIN), {})

    def test_a_voided_check_lets_the_one_before_hold(self) -> None:
        written = Writing()
        first = written.check("D", "A", 4.0)
        written.check("D", "A", 2.0, voided=True)
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): first})


class TestLedger(unittest.TestCase):
    def tuned(
        self, day: float, found: float, left: float, *, slips: int = 0, humidity: float | None = None
    ) -> TuningInAir:
        target = 440.0
        string = StringSummary(
            target * 2 ** (found / 1200), target * 2 ** (left / 1200), target, readings=2, screw_moves=1, slips=slips
        )
        summary = TuningSummary(uuid4(), START + timedelta(days=day), minutes=2.0, strings={"A": string})
        return TuningInAir(summary, humidity=humidity, celsius=20.0 if humidity else None)

    def test_a_night_runs_from_left_to_found(self) -> None:
        tunings = [
            self.tuned(0, -20.0, -1.0, humidity=50.0),
            self.tuned(1, -6.0, 0.0, humidity=44.0),
            self.tuned(3, -9.0, 0.0),
        ]
        found = nights(tunings, FittedString("A"), clock=CLOCK)
        self.assertEqual([(round(night.days), round(night.left_cents), round(night.found_cents)) for night in found],
                         [(1, -1, -6), (2, 0, -9)])  # fmt: skip
        self.assertEqual([night.humidity_change for night in found], [-6.0, None])
        fresh = nights(tunings, FittedString("A", put_on=date(2026, 7, 5)), clock=CLOCK)
        self.assertEqual([(len(fresh), fresh[0].string_age_days)], [(1, 0.0)])
        self.assertEqual(nights(tunings, FittedString("G"), clock=CLOCK), [])

    def test_tomorrow_is_told_from_how_it_was_left(self) -> None:
        tunings = [self.tuned(day, -5.0, 0.0) for day in range(-12, 0)]
        told = next_morning(tunings, FittedString("A"), clock=CLOCK)
        assert told is not None
        self.assertLess(told.cents, -2.0)
        self.assertEqual(told.nights, 11)
        self.assertIsNone(next_morning(tunings, FittedString("G"), clock=CLOCK))

    def test_strings_as_found(self) -> None:
        tunings = [self.tuned(0, -20.0, 0.0), self.tuned(1, 4.0, 0.0), self.tuned(2, -1.0, 0.0)]
        a = {one.fitted.name: one for one in ledger_strings(violin(), TUNING, tunings, clock=CLOCK)}["A"]
        self.assertEqual((len(a.found_cents), a.flat_times, round(a.furthest_cents or 0.0)), (3, 1, -20))
        spent = time_spent(tunings)
        self.assertEqual((spent.tunings, spent.minutes, spent.minutes_each, spent.moves_each), (3, 6.0, 2.0, 1.0))
        self.assertEqual(time_spent([]).minutes_each, 0.0)

    def test_pegs_that_gave_way_in_a_tuning_or_the_night_before(self) -> None:
        log = [
            self.tuned(0, 0.0, 0.0).summary,
            self.tuned(1, -80.0, 0.0).summary,
            self.tuned(2, -4.0, 0.0, slips=1).summary,
        ]
        self.assertEqual(slips_of(log, {}, clock=CLOCK), [frozenset(), frozenset("A"), frozenset("A")])
        another = slips_of(log, {"A": date(2026, 7, 5)}, clock=CLOCK)
        self.assertEqual(another, [frozenset(), frozenset(), frozenset("A")])
        rising = [self.tuned(0, 0.0, 0.0).summary, self.tuned(1, 80.0, 0.0).summary]
        self.assertEqual(slips_of(rising, {}, clock=CLOCK)[1], frozenset())

    def test_rates_by_the_air(self) -> None:
        dry = [self.tuned(day, -80.0 if day else 0.0, 0.0, humidity=28.0) for day in range(4)]
        rates = {rate.band: rate for rate in slip_rates_of(dry, {}, clock=CLOCK)}
        self.assertEqual((rates["dry"].slipped, rates["dry"].strings), (3, 4))

    def test_ages(self) -> None:
        self.assertEqual(age_when(date(2026, 7, 4), date(2026, 7, 1)), 3.0)
        self.assertIsNone(age_when(date(2026, 7, 1), date(2026, 7, 4)))
        self.assertIsNone(age_when(date(2026, 7, 1), None))


class TestBenchView(unittest.TestCase):
    def test_it_says_what_to_do_where_it_will_stand_and_where_to_go_on(self) -> None:
        written = Writing()
        written.read("A", 0.0)
        written.read("D", -12.0)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        by_name = {string.name: string for string in view.strings}
        self.assertEqual(view.next_string, "D")
        self.assertEqual((by_name["A"].words, by_name["A"].headline), ("settled", "Leave it: it is in tune"))
        self.assertTrue(by_name["D"].headline.startswith("D fine tuner up"))
        self.assertAlmostEqual(by_name["D"].ghost_cents or 0.0, 0.0, delta=0.5)
        self.assertEqual((by_name["G"].words, by_name["G"].advice), ("not heard yet", None))
        self.assertEqual(view.plan.ask, ["G", "E"])
        self.assertAlmostEqual(view.fifths[1].from_temperament_cents or 0.0, 12.0, delta=0.01)
        self.assertIsNone(view.fifths[0].beats_hz)

    def test_a_string_that_waits_is_next_and_its_weight_will_stand_where_the_move_was_to_bring_it(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5, expect_cents=18.0)
        states = written.states()
        self.assertEqual(expected_cents(states["A"]), -2.0)
        self.assertEqual(next_string(list(states.values()), ("A", "D", "G", "E")), "A")
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        self.assertEqual({string.name: string.words for string in view.strings}["A"], "moved; play it")
        self.assertIn("A", view.plan.ask)

    def test_a_doubt_that_a_yes_settles_is_confirmable_and_no_other(self) -> None:
        for note, cents, confirmable in (
            ("D4", 0.0, True),
            ("A3", 0.0, True),
            ("A5", -20.0, False),
            ("A4", 0.0, False),
        ):
            written = Writing()
            written.read("A", cents, note=note)
            view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
            found = {string.name: string.confirmable for string in view.strings}["A"]
            self.assertEqual(found, confirmable, note)

    def test_who_sits_behind_a_cello_sees_it_mirrored(self) -> None:
        cello = INSTRUMENTS["cello"]
        self.assertEqual(hold_view("turned", cello).strings, ("C", "G", "D", "A"))
        seated = hold_view("seated", cello)
        self.assertEqual((seated.strings, seated.mirrored, seated.seen_from), (("A", "D", "G", "C"), True, "behind"))
        self.assertEqual(hold_view("helper", VIOLIN).seen_from, "scroll")

    def test_a_voided_reading_brings_back_the_one_before(self) -> None:
        written = Writing()
        written.read("A", -12.0)
        last = written.read("A", 0.0)
        self.assertEqual(bench_view(violin(), written.log, MoveLog(), clock=CLOCK).strings[2].words, "settled")
        written.readings[-1] = replace(last, voided=True)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        self.assertEqual(view.strings[2].words, "flat")
        self.assertEqual(view.last_heard["A"].cents, -12.0)

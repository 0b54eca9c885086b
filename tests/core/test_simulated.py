"""The simulated instrument: what turning, pulling, weather and time do to it; its voice; and the advice in a closed loop."""

import ast
import unittest
from dataclasses import replace
from pathlib import Path

import numpy as np
from bench.closed_loop import fifths_right, instrument, strings_right
from bench.players import Follower

from pondus.core.errors import BadInput
from pondus.core.hearing.double_stop import FifthRefusal, hear_any_fifth
from pondus.core.hearing.hear import Reading, hear
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.mechanics import peg_rate, screw_rate
from pondus.core.simulated.hands import Hands, displayed
from pondus.core.simulated.turning import ease_bridge, play_loud, put_right, tug, turn_peg, turn_screw
from pondus.core.simulated.voice import Voice, sounded
from pondus.core.simulated.weather import STARTS, begun, days_later, slipped
from pondus.core.simulated.wood import Fitted, Wood, as_plain, cents_of, from_plain, made

CORE = Path(__file__).parents[2] / "src" / "pondus" / "core"


def offs(wood: Wood) -> dict[str, float]:
    return {name: wood.cents_off(name) for name in wood.now}


class TestTrueValues(unittest.TestCase):
    def test_the_same_seed_is_the_same_instrument(self) -> None:
        self.assertEqual(made("viola", seed=4, size="14"), made("viola", seed=4, size="14"))
        self.assertNotEqual(made("viola", seed=4).true, made("viola", seed=5).true)
        done = [turn_peg(turn_screw(made("viola", seed=4), "G", 0.4), "D", 3.0) for _ in range(2)]
        self.assertEqual(done[0], done[1])

    def test_true_values_lie_around_the_physics(self) -> None:
        cello = INSTRUMENTS["cello"]
        string = cello.string("G")
        woods = [made("cello", seed=seed).true["G"] for seed in range(300)]
        screw = screw_rate(cello, string, size="4/4", core="steel").cents
        peg = peg_rate(cello, string, size="4/4", core="steel").cents
        self.assertAlmostEqual(float(np.median([each.cents_per_turn for each in woods])) / screw, 1.0, delta=0.06)
        self.assertAlmostEqual(float(np.median([each.cents_per_degree for each in woods])) / peg, 1.0, delta=0.08)
        self.assertGreater(float(np.std([each.cents_per_degree for each in woods])) / peg, 0.15)

    def test_it_survives_being_kept(self) -> None:
        wood = begun(made("cello", seed=9), "new-strings")
        self.assertEqual(from_plain(as_plain(wood)), wood)
        scrambled = as_plain(wood)
        scrambled["now"] = dict(sorted(scrambled["now"].items()))
        self.assertEqual(list(from_plain(scrambled).now), ["C", "G", "D", "A"])

    def test_unknown_kinds_and_sizes_are_refused(self) -> None:
        for kind, size in (("harp", None), ("violin", "9/4")):
            with self.assertRaises(BadInput):
                made(kind, seed=1, size=size)

    def test_the_judgement_knows_nothing_of_it(self) -> None:
        """Only hands and sound join the two, and practice, which gives one to the hands: no module of advice, hearing,
        learning or storage of tunings imports it.
        """
        for file in CORE.rglob("*.py"):
            if {"simulated", "practice"} & set(file.parts):
                continue
            imported = {node.module or "" for node in ast.walk(ast.parse(file.read_text())) if isinstance(node, ast.ImportFrom)}
            self.assertFalse([each for each in imported if each.startswith("pondus.core.simulated")], file)


class TestTurning(unittest.TestCase):
    def setUp(self) -> None:
        self.wood = made("violin", seed=2)

    def test_a_screw_goes_by_its_own_rate_and_the_others_give(self) -> None:
        true = self.wood.true["A"]
        after = tug(turn_screw(self.wood, "A", 0.5), "A")
        assert true.cents_per_turn is not None
        self.assertAlmostEqual(after.cents_off("A"), 0.5 * true.cents_per_turn, delta=0.02 * true.cents_per_turn)
        for other in ("G", "D", "E"):
            self.assertLess(after.cents_off(other), 0.0)
        self.assertLess(after.cents_off("D"), after.cents_off("G"))

    def test_turning_back_leads_back(self) -> None:
        there = tug(turn_screw(self.wood, "D", 0.7), "D")
        back = tug(turn_screw(there, "D", -0.7), "D")
        for name, off in offs(back).items():
            self.assertAlmostEqual(off, 0.0, delta=0.2, msg=name)

    def test_impossible_moves_are_refused_with_a_sentence(self) -> None:
        without = made("violin", seed=2, fitted={"G": Fitted(has_screw=False)})
        for does, says in (
            (lambda: turn_screw(self.wood, "C", 0.5), "no “C” string"),
            (lambda: turn_screw(without, "G", 0.5), "has no fine tuner"),
            (lambda: turn_screw(self.wood, "A", 4.5), "goes only 4 turns further in"),
            (lambda: turn_screw(turn_screw(self.wood, "A", -3.5), "A", -1.0), "goes only 0.5 turns further out"),
            (lambda: turn_screw(self.wood, "A", 0.0), "isn't a turn"),
            (lambda: turn_peg(self.wood, "A", 400.0), "isn't a turn"),
            (lambda: turn_peg(self.wood, "A", float("nan")), "isn't a turn"),
        ):
            with self.subTest(says=says), self.assertRaisesRegex(BadInput, says):
                does()

    def test_a_peg_never_goes_by_less_than_its_jump(self) -> None:
        true = self.wood.true["D"]
        for degrees in (0.1, 0.3):
            moves = [abs(tug(turn_peg(replace(self.wood, step=step), "D", degrees), "D").cents_off("D")) for step in range(30)]
            self.assertAlmostEqual(float(np.median(moves)), true.jump_degrees * true.cents_per_degree, delta=1.5)

    def test_a_peg_not_pushed_in_springs_back_mostly(self) -> None:
        def short(pushed: bool) -> int:
            full = 4.0 * self.wood.true["A"].cents_per_degree
            return sum(
                turn_peg(replace(self.wood, step=step), "A", 4.0, pushed=pushed).cents_off("A") < 0.8 * full
                for step in range(200)
            )

        self.assertLess(short(True), 25)
        self.assertGreater(short(False), 110)

    def test_dry_air_slips_and_damp_sticks(self) -> None:
        self.assertEqual(replace(self.wood, humidity=28.0).peg_state("A"), "slips")
        damp = replace(self.wood, humidity=75.0)
        self.assertEqual(damp.peg_state("A"), "sticks")
        self.assertGreater(turn_peg(damp, "A", 0.5).cents_off("A"), turn_peg(self.wood, "A", 0.5).cents_off("A"))

    def test_a_string_wound_the_wrong_way_goes_the_wrong_way(self) -> None:
        wrong = made("violin", seed=2, fitted={"A": Fitted(winding="reversed")})
        self.assertLess(turn_peg(wrong, "A", 3.0).cents_off("A"), -5.0)

    def test_what_nut_and_bridge_hold_lets_go(self) -> None:
        wood = made("cello", seed=3)
        turned = turn_peg(wood, "G", 4.0)
        self.assertNotEqual(turned.now["G"].held, 0.0)
        for let_go in (tug(turned, "G"), play_loud(turned, "G")):
            self.assertEqual(let_go.now["G"].held, 0.0)
            self.assertGreater(let_go.cents_off("G"), turned.cents_off("G"))

    def test_past_its_margin_a_string_breaks_and_is_put_right(self) -> None:
        wood = slipped(self.wood, "E", self.wood.true["E"].breaks_at_cents - 5.0)
        broken = turn_screw(wood, "E", 0.5)
        self.assertTrue(broken.now["E"].broken)
        self.assertIn("The E string broke.", broken.events)
        for does in (lambda: turn_peg(broken, "E", 2.0), lambda: broken.hz("E")):
            with self.assertRaisesRegex(BadInput, "put a new one on"):
                does()
        mended = put_right(broken)
        self.assertLess(mended.cents_off("E"), -500.0)
        self.assertGreater(mended.now["E"].stretch_left_cents, 0.0)

    def test_all_strings_slack_let_the_bridge_fall(self) -> None:
        wood = self.wood
        for name in wood.now:
            wood = slipped(wood, name, -1700.0)
        fallen = turn_peg(wood, "A", -3.0)
        self.assertEqual(fallen.bridge, "fallen")
        with self.assertRaisesRegex(BadInput, "has fallen"):
            turn_peg(fallen, "A", 3.0)
        with self.assertRaisesRegex(BadInput, "has fallen"):
            ease_bridge(fallen)
        self.assertEqual(put_right(fallen).bridge, "up")

    def test_rising_strings_lean_the_bridge_and_easing_rights_it(self) -> None:
        wood = begun(made("cello", seed=1), "all-slack")
        for name in wood.now:
            for _ in range(6):
                wood = turn_peg(wood, name, 5.0)
        self.assertGreater(wood.lean_degrees, 1.0)
        self.assertLess(ease_bridge(wood).lean_degrees, 0.5 * wood.lean_degrees)

    def test_new_strings_stretch_when_raised_and_pulled(self) -> None:
        wood = made("violin", seed=6, fitted={name: Fitted(age_days=1.0) for name in "GDAE"})
        left = wood.now["D"].stretch_left_cents
        self.assertGreater(left, 30.0)
        pulled = tug(wood, "D")
        self.assertLess(pulled.cents_off("D"), -0.2 * left)
        self.assertLess(tug(pulled, "D").now["D"].stretch_left_cents, pulled.now["D"].stretch_left_cents)


class TestWeather(unittest.TestCase):
    def test_warmth_flattens_and_cold_sharpens(self) -> None:
        woods = [made("viola", seed=seed) for seed in range(40)]
        warm = np.mean([off for wood in woods for off in offs(days_later(wood, 0.05, celsius=28.0)).values()])
        cold = np.mean([off for wood in woods for off in offs(days_later(wood, 0.05, celsius=12.0)).values()])
        self.assertLess(warm, -8.0)
        self.assertGreater(cold, 8.0)

    def test_days_let_new_strings_go_flat(self) -> None:
        wood = made("violin", seed=6, fitted={name: Fitted(age_days=1.0) for name in "GDAE"})
        self.assertLess(np.mean(list(offs(days_later(wood, 4.0)).values())), -25.0)

    def test_every_starting_state_is_what_it_says(self) -> None:
        for seed in range(12):
            states = {start: begun(made("cello", seed=seed), start) for start in STARTS}
            self.assertTrue(all(off < -700.0 for off in offs(states["all-slack"]).values()))
            self.assertLess(min(offs(states["one-far-off"]).values()), -75.0)
            self.assertEqual(max(abs(each.screw_turns) for each in states["screw-at-end"].now.values()), 4.0)
            self.assertGreater(np.mean(list(offs(states["sharp"]).values())), 3.0)
            self.assertTrue(all(each.stretch_left_cents > 0.0 for each in states["new-strings"].now.values()))
            self.assertTrue(all(wood.bridge == "up" for wood in states.values()))


class TestVoice(unittest.TestCase):
    def test_every_string_is_heard_where_it_stands(self) -> None:
        for kind in INSTRUMENTS:
            wood = begun(made(kind, seed=5), "morning")
            for name in wood.now:
                for how in ("bow", "pluck"):
                    heard = hear(sound_from(sounded(wood, (name,), how=how), 44_100), wood.instrument)  # type: ignore[arg-type]
                    with self.subTest(kind=kind, name=name, how=how):
                        assert isinstance(heard, Reading), heard
                        self.assertEqual(heard.string, name)
                        self.assertAlmostEqual(heard.string_cents, wood.cents_off(name), delta=0.6)

    def test_a_double_stop_is_heard_as_one(self) -> None:
        wood = begun(made("viola", seed=5), "morning")
        found = hear_any_fifth(sound_from(sounded(wood, ("G", "D")), 44_100), wood.instrument)
        assert not isinstance(found, FifthRefusal), found
        self.assertEqual(found[0], ("G", "D"))
        true = 1200.0 * np.log2(wood.hz("D") / wood.hz("G"))
        self.assertAlmostEqual(found[1].fifth.interval_cents, true, delta=0.6)

    def test_the_pitch_may_change_while_it_sounds(self) -> None:
        wood = made("violin", seed=1)
        voice = Voice(wood, "A", "bow", 44_100)
        first = np.concatenate([voice.block(4410, 440.0) for _ in range(10)])
        then = np.concatenate([voice.block(4410, 446.0) for _ in range(10)])
        heard = [hear(sound_from(each, 44_100), wood.instrument) for each in (first, then)]
        self.assertEqual([round(each.hz) for each in heard if isinstance(each, Reading)], [440, 446])
        seam = np.concatenate([first[-50:], then[:50]])
        self.assertLess(np.abs(np.diff(seam)).max(), 3.0 * np.abs(np.diff(first)).max())

    def test_what_cannot_sound_is_refused(self) -> None:
        wood = made("violin", seed=1)
        for names, more in (
            (("G", "D", "A"), {}),
            ((), {}),
            (("A", "A"), {}),
            (("C",), {}),
            (("A",), {"seconds": 0.0}),
            (("A",), {"rate_hz": 10}),
        ):
            with self.subTest(names=names, more=more), self.assertRaises(BadInput):
                sounded(wood, names, **more)  # type: ignore[arg-type]


class TestHandsAndDisplay(unittest.TestCase):
    def test_a_hand_stops_at_the_end_of_a_screw(self) -> None:
        hands = Hands(np.random.default_rng(1))
        wood = turn_screw(made("violin", seed=1), "A", 3.9)
        for _ in range(3):
            wood = hands.screw(wood, "A", 0.5)
        self.assertEqual(wood.now["A"].screw_turns, 4.0)

    def test_a_display_flickers_and_now_and_then_names_another_note(self) -> None:
        wood, rng = made("violin", seed=1), np.random.default_rng(2)
        shown = [displayed(wood, "A", rng) for _ in range(600)]
        wrong = sum(each.note != "A4" for each in shown)
        self.assertTrue(6 <= wrong <= 40, wrong)
        cents = np.array([each.cents for each in shown if each.note == "A4"])
        self.assertTrue(0.3 < cents.std() < 1.2)
        self.assertEqual(
            {each.note for each in (displayed(wood, "A", rng, shows_octave=False) for _ in range(9))} & {"A4"}, set()
        )

    def test_a_reading_wants_two_that_agree(self) -> None:
        wood = begun(made("cello", seed=3), "morning")
        hands = Hands(np.random.default_rng(5))
        errors = [abs(hands.reading(wood, "C") - wood.cents_off("C")) for _ in range(400)]
        self.assertLess(max(errors), 4.0)


class TestClosedLoop(unittest.TestCase):
    def test_following_the_advice_tunes_every_instrument_and_hurts_none(self) -> None:
        for seed in range(18):
            wood, fitted, start = instrument(seed)
            player = Follower(wood, fitted, Hands(np.random.default_rng([seed, 11])))
            player.tune()
            with self.subTest(seed=seed, start=start):
                self.assertEqual(player.wood.bridge, "up")
                self.assertTrue(all(player.wood.sounds(name) for name in player.wood.now))
                self.assertTrue(strings_right(player.wood, fitted), offs(player.wood))
                self.assertTrue(fifths_right(player.wood, fitted))
                self.assertEqual(player.tally.raised_sharp, 0)
        self.assertAlmostEqual(cents_of(1.0), 0.0)

"""Care: how long strings last, what is bought, when a fault is the luthier's; pegs and air; who may turn what."""

import unittest
from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from pondus.core.errors import BadInput
from pondus.core.group.people import advised_as, check_cleared, may_turn
from pondus.core.upkeep.care import (
    LEAST_LIFE_MONTHS,
    MOST_LIFE_MONTHS,
    SYMPTOMS,
    Seen,
    StringDue,
    StringInUse,
    check_hours,
    check_life_months,
    life_months,
    referrals,
    shopping_list,
    string_due,
)
from pondus.core.upkeep.climate import check_air
from pondus.core.upkeep.slips import Tuned, band_of, slip_rates

TODAY = date(2026, 5, 4)


def days(count: int) -> date:
    return TODAY + timedelta(days=count)


class TestStringLife(unittest.TestCase):
    def test_daily_playing_six_to_twelve_months_little_twenty_four(self) -> None:
        self.assertAlmostEqual(life_months(7.0), 6.0, delta=0.1)
        self.assertAlmostEqual(life_months(3.5), 12.0, delta=0.1)
        self.assertEqual(life_months(1.0), 24.0)
        self.assertEqual(life_months(0.0), 24.0)

    @given(st.floats(0.0, 80.0), st.floats(0.0, 80.0))
    def test_more_playing_never_makes_a_string_last_longer(self, one: float, other: float) -> None:
        less, more = sorted((one, other))
        self.assertGreaterEqual(life_months(less), life_months(more))
        self.assertTrue(LEAST_LIFE_MONTHS <= life_months(more) <= MOST_LIFE_MONTHS)

    def test_a_setting_counts_where_hours_are_not_known(self) -> None:
        put_on = days(-100)
        soon = string_due(put_on, usual_months=6.0).due
        late = string_due(put_on, usual_months=12.0).due
        assert soon is not None and late is not None
        self.assertAlmostEqual((late - soon).days, 183, delta=2)
        known = string_due(put_on, hours_per_week=7.0, usual_months=24.0)
        self.assertIn("7 hours a week", known.why)
        self.assertLess(known.due or TODAY, late)

    def test_worn_is_due_at_once_and_unknown_never(self) -> None:
        self.assertEqual(string_due(days(-10), worn_on=days(-1)).days_left(TODAY), -1)
        self.assertIsNone(string_due(None).due)
        self.assertFalse(string_due(None).soon(TODAY))

    def test_what_cannot_be_is_refused(self) -> None:
        for wrong in (5.9, 25.0, float("nan")):
            with self.assertRaises(BadInput):
                check_life_months(wrong)
        for wrong in (-1.0, 81.0, float("nan")):
            with self.assertRaises(BadInput):
                check_hours(wrong)


class TestShopping(unittest.TestCase):
    def string(self, string: str, due: int | None, **more: str) -> StringInUse:
        told = StringDue(None if due is None else days(due), "")
        return StringInUse(
            more.get("label", "Knot"), "violin", more.get("size", "3/4"), string, more.get("core", "steel"), told
        )

    def test_counted_by_size_and_string_thick_ones_first(self) -> None:
        strings = [
            self.string("E", 3),
            self.string("G", -40),
            self.string("E", 28, label="Ruff"),
            self.string("A", 29),
            self.string("D", None),
            self.string("E", 3, size="4/4"),
        ]
        wanted = [(each.size, each.string, each.count, each.labels) for each in shopping_list(strings, today=TODAY)]
        self.assertEqual(wanted, [("4/4", "E", 1, ("Knot",)), ("3/4", "G", 1, ("Knot",)), ("3/4", "E", 2, ("Knot", "Ruff"))])

    def test_cores_are_bought_apart(self) -> None:
        strings = [self.string("G", 0), self.string("G", 0, core="synthetic")]
        self.assertEqual([each.count for each in shopping_list(strings, today=TODAY)], [1, 1])


class TestReferrals(unittest.TestCase):
    def to(self, *seen: Seen, **more: object) -> list[tuple[str, str | None, str]]:
        return [(each.symptom, each.string, each.to) for each in referrals(seen, **more)]  # type: ignore[arg-type]

    def test_three_tunings_in_a_row_and_no_fewer(self) -> None:
        slipped = frozenset("G")
        self.assertEqual(self.to(slipped=[slipped] * 3), [("peg-slips", "G", "luthier")])
        self.assertEqual(self.to(slipped=[slipped] * 2), [])
        self.assertEqual(self.to(slipped=[slipped, frozenset(), slipped, slipped]), [])
        self.assertEqual(self.to(slipped=[frozenset("GD"), frozenset("D"), frozenset("DA")]), [("peg-slips", "D", "luthier")])

    def test_what_goes_at_once_and_what_is_only_watched(self) -> None:
        for sign in ("peg-stuck", "screw-stiff", "bridge-moved"):
            self.assertEqual([each[2] for each in self.to(Seen(sign, None, TODAY))], ["luthier"], sign)  # type: ignore[arg-type]
        for sign in ("peg-slips", "peg-sticks", "screw-at-end", "pitch-jumps", "wont-stay"):
            self.assertEqual(self.to(Seen(sign, "G", TODAY)), [], sign)  # type: ignore[arg-type]
        self.assertEqual(self.to(Seen("string-false", "E", TODAY)), [("string-false", "E", "new-string")])

    def test_a_jump_that_persists(self) -> None:
        jump = Seen("pitch-jumps", "D", days(-5))
        self.assertEqual(self.to(jump, jump), [])
        self.assertEqual(self.to(jump, Seen("pitch-jumps", "D", TODAY)), [("pitch-jumps", "D", "luthier")])
        self.assertEqual(self.to(jump, Seen("pitch-jumps", "A", TODAY)), [])

    def test_not_staying_counts_only_once_a_new_string_has_settled(self) -> None:
        changed = {"A": days(-8)}
        self.assertEqual(self.to(Seen("wont-stay", "A", days(-6)), changed=changed), [])
        self.assertEqual(self.to(Seen("wont-stay", "A", TODAY), changed=changed), [("wont-stay", "A", "luthier")])

    def test_a_new_string_and_the_luthier_end_what_was_before(self) -> None:
        false = Seen("string-false", "E", days(-9))
        self.assertEqual(self.to(false, changed={"E": days(-3)}), [])
        self.assertEqual(self.to(Seen("screw-stiff", "E", days(-9)), mended=days(-2)), [])
        self.assertEqual(len(self.to(Seen("screw-stiff", "E", TODAY), mended=days(-2))), 1)

    def test_every_sign_says_what_to_do(self) -> None:
        for sign, facts in SYMPTOMS.items():
            self.assertTrue(facts.said and facts.likely and facts.do, sign)


class TestAirAndPegs(unittest.TestCase):
    def test_bands(self) -> None:
        self.assertEqual([band_of(each) for each in (34.9, 35.0, 65.0, 65.1)], ["dry", "between", "between", "damp"])

    def test_unmeasured_tunings_do_not_count_and_few_are_told_carefully(self) -> None:
        rates = {each.band: each for each in slip_rates([Tuned(None, 4, 4), Tuned(30.0, 4, 1)])}
        self.assertEqual((rates["dry"].strings, rates["between"].strings), (4, 0))
        self.assertLess(rates["dry"].rate, 0.15)
        many = {each.band: each for each in slip_rates([Tuned(30.0, 4, 1)] * 50)}
        self.assertAlmostEqual(many["dry"].rate, 0.25, delta=0.02)
        self.assertLess(many["dry"].plus_minus, rates["dry"].plus_minus)

    def test_air_that_cannot_be(self) -> None:
        for humidity, celsius in ((None, None), (101.0, None), (-1.0, 20.0), (50.0, 90.0), (float("nan"), 20.0)):
            with self.assertRaises(BadInput):
                check_air(humidity, celsius)


class TestClearances(unittest.TestCase):
    def test_pegs_alone_only_from_the_fifth_stage(self) -> None:
        self.assertIsNone(may_turn("player", []))
        self.assertEqual(may_turn("player", [1, 2, 3, 4]), "fine-tuners")
        self.assertEqual(may_turn("player", [5]), "pegs")
        self.assertEqual((may_turn("helper", []), may_turn("teacher", [])), ("pegs", "teacher"))

    def test_the_advice_knows_a_student_from_an_adult(self) -> None:
        self.assertEqual(advised_as("player", "pegs"), "student-pegs")
        self.assertEqual(advised_as(None, "pegs"), "adult")
        self.assertEqual(advised_as("helper", "fine-tuners"), "student-fine-tuners")

    def test_stages_there_are_not(self) -> None:
        with self.assertRaises(BadInput):
            check_cleared([0])
        with self.assertRaises(BadInput):
            check_cleared([8])

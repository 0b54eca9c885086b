"""Cents per turn and degree, and the breaking margin."""

import unittest

from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.mechanics import break_margin_cents, peg_rate, screw_rate


class TestRates(unittest.TestCase):
    def test_full_size_steel_lies_where_workshops_find_it(self) -> None:
        for instrument in INSTRUMENTS.values():
            for string in instrument.strings:
                size = instrument.full_size
                peg = peg_rate(instrument, string, size=size, core="steel").cents
                screw = screw_rate(instrument, string, size=size, core="steel").cents
                with self.subTest(kind=instrument.kind, string=string.name):
                    self.assertTrue(8.9 <= peg <= 19.5, peg)
                    self.assertTrue(24.5 <= screw <= 55.0, screw)

    def test_the_smallest_violin_is_the_touchiest(self) -> None:
        violin = INSTRUMENTS["violin"]
        e = violin.string("E")
        self.assertAlmostEqual(peg_rate(violin, e, size="1/16", core="steel").cents, 26.0, delta=0.6)
        self.assertAlmostEqual(screw_rate(violin, e, size="1/16", core="steel").cents, 78.0, delta=0.6)

    def test_synthetic_core_moves_less_and_a_geared_head_a_quarter(self) -> None:
        violin = INSTRUMENTS["violin"]
        a = violin.string("A")
        steel = peg_rate(violin, a, size="4/4", core="steel").cents
        self.assertAlmostEqual(peg_rate(violin, a, size="4/4", core="synthetic").cents, 0.45 * steel)
        self.assertAlmostEqual(peg_rate(violin, a, size="4/4", core="steel", geared=True).cents, steel / 4)


class TestBreaking(unittest.TestCase):
    def test_margin_by_string_and_age(self) -> None:
        violin = INSTRUMENTS["violin"]
        cases = [("A", None, 600.0), ("E", None, 400.0), ("A", 366.0, 400.0), ("E", 400.0, 800.0 / 3), ("A", 365.0, 600.0)]
        for name, age, expected in cases:
            with self.subTest(string=name, age=age):
                string = violin.string(name)
                margin = break_margin_cents(violin, string, cents_off=0.0, string_age_days=age)
                self.assertAlmostEqual(margin, expected)

    def test_past_the_breaking_point_nothing_is_left(self) -> None:
        violin = INSTRUMENTS["violin"]
        self.assertEqual(break_margin_cents(violin, violin.string("E"), cents_off=450.0, string_age_days=None), 0.0)

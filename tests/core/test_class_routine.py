"""A class tunes together: every string of everyone once, those without it rest or check, at the studio's pitch."""

import unittest

from pondus.core.errors import BadInput
from pondus.core.group.class_routine import class_steps
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, targets_hz
from pondus.core.judgement.string_order import StringOrder, order_of

ORDERS: tuple[StringOrder, ...] = ("A-outward", "top-down", "low-up")


class TestClassRoutine(unittest.TestCase):
    def test_everyone_tunes_each_of_their_strings_once(self) -> None:
        for order in ORDERS:
            steps = class_steps(list(INSTRUMENTS), order=order)
            for kind, instrument in INSTRUMENTS.items():
                tuned = [part.string for step in steps for part in step.parts if part.kind == kind and part.does == "tune"]
                self.assertCountEqual(tuned, instrument.string_names)

    def test_one_kind_alone_goes_in_its_own_order(self) -> None:
        for order in ORDERS:
            for kind, instrument in INSTRUMENTS.items():
                letters = [step.letter for step in class_steps([kind], order=order)]
                self.assertEqual(tuple(letters), order_of(instrument, order))

    def test_what_sounds_is_what_is_tuned(self) -> None:
        for step in class_steps(["violin", "cello"], a4=442.0, fifth_cents=PURE_FIFTH_CENTS):
            wanted = {
                targets_hz(INSTRUMENTS[part.kind], a4=442.0, fifth_cents=PURE_FIFTH_CENTS)[part.string]
                for part in step.parts
                if part.does == "tune" and part.string is not None
            }
            self.assertEqual(set(step.hz), wanted)

    def test_violins_beside_violas(self) -> None:
        by_letter = {step.letter: {part.kind: part for part in step.parts} for step in class_steps(["violin", "viola"])}
        self.assertEqual(by_letter["E"]["viola"].said, "rest: your C comes later")
        self.assertEqual(by_letter["C"]["violin"].does, "check")
        self.assertEqual(by_letter["A"]["viola"].note, "A4")

    def test_an_empty_room_and_impossible_lengths(self) -> None:
        for kinds, seconds, field in (([], 30.0, "kinds"), (["tuba"], 30.0, "kinds"), (["violin"], 2.0, "seconds")):
            with self.assertRaises(BadInput) as raised:
                class_steps(kinds, seconds=seconds)  # type: ignore[arg-type]
            self.assertEqual(raised.exception.field, field)

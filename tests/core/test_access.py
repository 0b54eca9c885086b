"""Who may see and do what on a device, and what it is told of others."""

import unittest
from datetime import datetime, timedelta
from uuid import uuid4

from pondus.core.errors import BadInput
from pondus.core.judgement.situation import Who
from pondus.core.views.access import (
    ABSENT_AFTER,
    MAY,
    UNLOCKED,
    DeviceFacts,
    advised_at_most,
    attempts_allowed,
    author_shown,
    check_passphrase,
    minutes_away,
    name_shown,
    reach_of,
)

GIVEN_OF_A_STUDENT = {"reckon", "see-changes", "listen", "see-instruments", "tune", "practise", "see-card"}


class TestMay(unittest.TestCase):
    def test_a_teacher_may_all_and_nobody_more_than_a_teacher(self) -> None:
        for act in MAY:
            self.assertEqual(reach_of("teacher", act), "all", act)

    def test_a_student_has_the_own_instrument_and_no_list_of_people(self) -> None:
        self.assertEqual({act for act in MAY if reach_of("student", act) is not None}, GIVEN_OF_A_STUDENT)
        everywhere = {act for act in MAY if reach_of("student", act) == "all"}
        self.assertEqual(everywhere, {"reckon", "listen"})

    def test_a_helper_keeps_nothing_of_the_studio(self) -> None:
        for act in MAY:
            if act.startswith("keep-") or act in ("bring-lists", "let-devices-in", "see-ledger", "see-progress"):
                self.assertIsNone(reach_of("helper", act), act)
        self.assertEqual([reach_of("helper", act) for act in ("take-in-hand", "come", "tune")], ["own", "own", "all"])


class TestAdvisedAtMost(unittest.TestCase):
    def test_whose_hands_it_is_never_above_the_device(self) -> None:
        teacher, helper = DeviceFacts("teacher"), DeviceFacts("helper")
        pegs, screws = DeviceFacts("student", may="pegs"), DeviceFacts("student", may="fine-tuners")
        nothing = DeviceFacts("student", may=None)
        wanted: dict[Who, tuple[Who, Who, Who, Who, Who]] = {
            "teacher": ("teacher", "adult", "student-pegs", "student-fine-tuners", "student-fine-tuners"),
            "adult": ("adult", "adult", "student-pegs", "student-fine-tuners", "student-fine-tuners"),
            "student-pegs": ("student-pegs", "student-pegs", "student-pegs", *("student-fine-tuners",) * 2),
            "student-fine-tuners": ("student-fine-tuners",) * 5,
        }
        for who, spoken_to in wanted.items():
            found = tuple(advised_at_most(who, device) for device in (teacher, helper, pegs, screws, nothing))
            self.assertEqual(found, spoken_to, who)
        self.assertEqual(UNLOCKED.speaks_to, "teacher")


class TestNames(unittest.TestCase):
    def test_helpers_see_first_names_and_students_only_themselves(self) -> None:
        me, other = uuid4(), uuid4()
        student, helper = DeviceFacts("student", person=me), DeviceFacts("helper", person=me)
        self.assertEqual(author_shown(me, "Ole Tern", student), "Ole Tern")
        self.assertIsNone(author_shown(other, "Una Skerry", student))
        self.assertEqual(author_shown(other, "Una Skerry", helper), "Una")
        self.assertEqual(author_shown(other, "Una Skerry", UNLOCKED), "Una Skerry")
        self.assertEqual([name_shown(name, helper) for name in ("Una", "", "  Ole  Tern")], ["Una", "", "Ole"])


class TestSignIn(unittest.TestCase):
    def test_passphrases_that_can_be_used(self) -> None:
        for passphrase in ("four small brown gulls", "x1y2z3x1y2z3", "a" * 5 + "bcdefgh", "stone " * 33):
            self.assertEqual(check_passphrase(passphrase, name="Runa"), passphrase)

    def test_passphrases_that_cannot(self) -> None:
        for passphrase, why in (
            ("elevenchars", "at least 12"),
            ("           x", "at least 12"),
            ("q" * 201, "at most 200"),
            ("abababababab", "easily guessed"),
            ("runa sand runa sand", "easily guessed"),
            ("RunaSandRunaSand", "easily guessed"),
        ):
            with self.subTest(passphrase), self.assertRaisesRegex(BadInput, why):
                check_passphrase(passphrase, name="Runa Sand")

    def test_an_address_that_keeps_trying_is_slowed_down(self) -> None:
        self.assertEqual([attempts_allowed(tried) for tried in (0, 29, 30, 500)], [10, 10, 2, 2])

    def test_a_device_is_away_after_ten_minutes_without_a_sign(self) -> None:
        then = datetime(2026, 7, 1, 8, 0)
        self.assertIsNone(minutes_away(then, then + ABSENT_AFTER))
        self.assertEqual(minutes_away(then, then + ABSENT_AFTER + timedelta(seconds=1)), 10)
        self.assertEqual(minutes_away(then, then + timedelta(minutes=59, seconds=59)), 59)


if __name__ == "__main__":
    unittest.main()

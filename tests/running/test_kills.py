"""One kill of each kind while entries come in: nothing lost, nothing doubled. The bench does it by the fifty."""

import unittest

from bench.kills import VICTIMS, rounds

from pondus.web.app import PAGES


class TestKills(unittest.TestCase):
    def test_what_was_kept_is_kept_once(self) -> None:
        if not (PAGES / "index.html").exists():
            self.skipTest("the pages aren't built; bin/pondus test builds them")
        outcome = rounds(len(VICTIMS), seed=12)
        self.assertTrue(outcome.is_good, outcome)
        self.assertEqual(set(outcome.back_after), set(VICTIMS))
        self.assertGreater(outcome.sent, len(VICTIMS))


if __name__ == "__main__":
    unittest.main()

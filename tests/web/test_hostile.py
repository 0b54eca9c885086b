"""A few hundred of the generated requests that the bench asks by the thousand."""

import unittest

from bench.hostile import ask_all

from pondus.demo.studio import fill
from tests.database import fresh_database


class TestHostile(unittest.TestCase):
    def test_no_request_makes_it_stumble(self) -> None:
        url = fresh_database()
        fill(url)
        asking = ask_all(url, requests=400, seed=12)
        self.assertEqual(asking.wrong, [])
        self.assertGreater(asking.statuses[200], 40)
        self.assertGreater(asking.statuses[422], 40)


if __name__ == "__main__":
    unittest.main()

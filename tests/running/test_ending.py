"""Who ends with whom: what outlived its starter is found by the token of its home, and nothing else is touched."""

import os
import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from pondus.running.ending import STARTED_BY, end_orphans, run_of, token_of, told_to_child
from pondus.running.places import make_folder

SLEEPS = [sys.executable, "-c", "import time; time.sleep(600)"]
"""As a server that still loads."""


class TestOrphans(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def process(self, environment: dict[str, str]) -> subprocess.Popen[bytes]:
        process = subprocess.Popen(SLEEPS, env=environment)
        self.addCleanup(process.wait)
        self.addCleanup(process.kill)
        return process

    def test_only_a_server_of_this_home_whose_starter_is_gone_is_ended(self) -> None:
        mine = told_to_child(self.folder)
        token, number, born = mine[STARTED_BY].split()
        orphan = self.process({**mine, STARTED_BY: f"{token} {number} {int(born) - 1}"})  # another had that number before
        led = self.process(mine)
        with tempfile.TemporaryDirectory() as elsewhere:
            other = told_to_child(Path(elsewhere))[STARTED_BY].split()[0]
        foreign = self.process({**mine, STARTED_BY: f"{other} {number} {int(born) - 1}"})
        self.assertEqual(end_orphans(self.folder), 1)
        self.assertEqual(orphan.wait(), -signal.SIGKILL)
        self.assertIsNone(led.poll())
        self.assertIsNone(foreign.poll())

    def test_a_token_is_made_once_for_its_user_alone(self) -> None:
        before = token_of(self.folder)
        self.assertEqual(token_of(self.folder), before)
        self.assertEqual((self.folder / "token").stat().st_mode & 0o777, 0o600)
        self.assertNotIn(before, run_of(self.folder, 1))
        self.assertNotEqual(run_of(self.folder, 1), run_of(self.folder, 2))

    def test_a_child_whose_starter_died_before_it_could_say_so_ends(self) -> None:
        code = "from pondus.running.ending import end_with; end_with(1); print('went on')"
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, check=False)
        self.assertEqual((done.returncode, done.stdout), (0, b""), "its starter isn't process 1")

    def test_what_an_earlier_pondus_left_open_is_closed(self) -> None:
        left = self.folder / "share.json"
        left.write_text("{}")
        left.chmod(0o644)
        make_folder(self.folder)
        self.assertEqual(left.stat().st_mode & 0o777, 0o600)
        make_folder(self.folder / "one" / "two")
        self.assertEqual((self.folder / "one").stat().st_mode & 0o077, 0o011 if os.geteuid() == 0 else 0)


if __name__ == "__main__":
    unittest.main()

"""Runs the tests of one area or of all, and ends with the counts on a line of their own.

Of several areas the browser's run beside the others, in a process of their own: browsers wait a good deal, and two cores
are there.
"""

import re
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from typing import IO

HERE = Path(__file__).parent
AREAS = ("core", "store", "running", "web", "browser")
SLOWEST_SHOWN = 12
COUNTS = re.compile(r"^(\d+) passed, (\d+) failed(?:, (\d+) skipped)?$", re.MULTILINE)


class TimedResult(unittest.TextTestResult):
    """Notes how long each test takes."""

    def __init__(self, *arguments: object, **named: object) -> None:
        super().__init__(*arguments, **named)  # type: ignore[arg-type]
        self.took: dict[str, float] = {}
        self._began = 0.0

    def startTest(self, test: unittest.TestCase) -> None:
        self._began = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:
        self.took[test.id()] = time.monotonic() - self._began
        super().stopTest(test)


def main(arguments: list[str]) -> int:
    areas = [each for each in arguments if not each.startswith("-")] or list(AREAS)
    unknown = [each for each in areas if each not in AREAS]
    if unknown:
        print(f"There are no tests called {unknown[0]}; choose from {', '.join(AREAS)}.", file=sys.stderr)
        return 2
    if "browser" not in areas or len(areas) == 1:
        return told(*ran(areas, arguments))
    with tempfile.TemporaryFile("w+") as beside:
        command = [sys.executable, "-m", "tests.run", "browser", *(each for each in arguments if each.startswith("-"))]
        browser = subprocess.Popen(command, stdout=beside, stderr=subprocess.STDOUT, cwd=HERE.parent)
        passed, failed, skipped = ran([each for each in areas if each != "browser"], arguments)
        code = browser.wait()
        more = output_of(beside)
    print(COUNTS.sub("", more).rstrip(), flush=True)
    counts = COUNTS.findall(more)
    if not counts:
        print(f"The browser's tests ended with status {code} and no counts.", flush=True)
        return told(passed, failed + 1, skipped)
    in_browser = [int(each or 0) for each in counts[-1]]
    return told(passed + in_browser[0], failed + in_browser[1], skipped + in_browser[2])


def output_of(file: IO[str]) -> str:
    file.seek(0)
    return file.read().rstrip()


def ran(areas: list[str], arguments: list[str]) -> tuple[int, int, int]:
    """How many passed, failed and were skipped in these areas."""
    suite = unittest.TestSuite()
    for area in areas:
        suite.addTests(unittest.defaultTestLoader.discover(str(HERE / area), top_level_dir=str(HERE.parent)))
    verbosity = 2 if "-v" in arguments else 1
    runner = unittest.TextTestRunner(stream=sys.stdout, verbosity=verbosity, resultclass=TimedResult)
    result = runner.run(suite)
    assert isinstance(result, TimedResult)
    for name, seconds in sorted(result.took.items(), key=lambda each: -each[1])[:SLOWEST_SHOWN]:
        print(f"{seconds:7.1f} s  {name.removeprefix('tests.')}")
    failed = len({str(test) for test, _ in result.failures + result.errors}) + len(result.unexpectedSuccesses)
    return max(result.testsRun - failed - len(result.skipped), 0), failed, len(result.skipped)


def told(passed: int, failed: int, skipped: int) -> int:
    print(f"{passed} passed, {failed} failed{f', {skipped} skipped' if skipped else ''}", flush=True)
    return 0 if failed == 0 and passed > 0 else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))

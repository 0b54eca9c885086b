"""Runs the tests of an area, of one module or of all, and ends with the counts on a line of their own.

All are cut into jobs, each in a process of its own, two at a time: browsers wait a good deal, and two cores are there.
"""

import json
import os
import re
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

HERE = Path(__file__).parent
PAGES = "pages"
"""What the pages reckon by themselves, tried without a browser; in TypeScript, where the pages are."""
AREAS = ("core", "store", "running", "web", "browser", PAGES)
AT_ONCE = 2
SLOWEST_SHOWN = 4
PRINTING = threading.Lock()
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
    flags = [each for each in arguments if each.startswith("-")]
    asked = [each for each in arguments if not each.startswith("-")] or list(AREAS)
    unknown = [each for each in asked if not part(each).exists()]
    if unknown:
        print(
            f"There are no tests called {unknown[0]}; choose from {', '.join(AREAS)}, or browser.test_morning.", file=sys.stderr
        )
        return 2
    jobs = [job for name in asked for job in jobs_of(name)]
    if len(jobs) == 1:
        return told(*ran(jobs[0], flags))
    with ThreadPoolExecutor(AT_ONCE) as pool:
        counts = list(pool.map(lambda job: ran_apart(job, flags), jobs))
    return told(*(sum(each) for each in zip(*counts, strict=True)))


def part(name: str) -> Path:
    """The folder of an area, or the file of one of its modules."""
    if name == PAGES:
        return HERE.parent / "frontend" / "tests"
    path = HERE.joinpath(*name.split("."))
    return path if name in AREAS else path.with_suffix(".py")


def jobs_of(name: str) -> list[str]:
    """What runs in one process: an area; of the browser's each module, since browsers wait a good deal."""
    return [f"browser.{each.stem}" for each in sorted(part(name).glob("test_*.py"))] if name == "browser" else [name]


def ran_apart(job: str, flags: list[str]) -> tuple[int, int, int]:
    """As `ran`, in a process of its own; what it prints is shown when it is done."""
    command = [sys.executable, "-m", "tests.run", job, *flags]
    done = subprocess.run(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, cwd=HERE.parent, check=False)
    counts = COUNTS.findall(done.stdout)
    with PRINTING:
        print(f"== {job}\n{COUNTS.sub('', done.stdout).strip()}", flush=True)
        if not counts:
            print(f"The tests of {job} ended with status {done.returncode} and no counts.", flush=True)
            return 0, 1, 0
    passed, failed, skipped = (int(each or 0) for each in counts[-1])
    return passed, failed, skipped


def ran_pages() -> tuple[int, int, int]:
    """As `ran`, of the pages' own tests."""
    with tempfile.TemporaryDirectory() as folder:
        kept = Path(folder) / "counts.json"
        command = ["npm", "test", "--silent", "--", "--reporter=default", "--reporter=json", f"--outputFile.json={kept}"]
        colourless = {**os.environ, "NO_COLOR": "1"}
        done = subprocess.run(command, cwd=part(PAGES).parent, env=colourless, capture_output=True, text=True, check=False)
        print(done.stdout)
        if not kept.exists():
            print(done.stderr)
            return 0, 1, 0
        counted = json.loads(kept.read_text())
    lost = sum(1 for file in counted["testResults"] if file["status"] == "failed" and not file["assertionResults"])
    return counted["numPassedTests"], counted["numFailedTests"] + lost, counted["numPendingTests"]


def ran(job: str, flags: list[str]) -> tuple[int, int, int]:
    """How many passed, failed and were skipped in an area or a module."""
    if job == PAGES:
        return ran_pages()
    loader = unittest.defaultTestLoader
    suite = (
        loader.discover(str(part(job)), top_level_dir=str(HERE.parent))
        if job in AREAS
        else loader.loadTestsFromName(f"tests.{job}")
    )
    verbosity = 2 if "-v" in flags else 1
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

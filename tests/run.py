"""Runs the tests of one area or of all, and ends with the counts on a line of their own."""

import sys
import unittest
from pathlib import Path

HERE = Path(__file__).parent
AREAS = ("core", "store", "running", "web", "browser")


def main(arguments: list[str]) -> int:
    areas = [each for each in arguments if not each.startswith("-")] or list(AREAS)
    unknown = [each for each in areas if each not in AREAS]
    if unknown:
        print(f"There are no tests called {unknown[0]}; choose from {', '.join(AREAS)}.", file=sys.stderr)
        return 2
    suite = unittest.TestSuite()
    for area in areas:
        suite.addTests(unittest.defaultTestLoader.discover(str(HERE / area), top_level_dir=str(HERE.parent)))
    verbosity = 2 if "-v" in arguments else 1
    result = unittest.TextTestRunner(stream=sys.stdout, verbosity=verbosity).run(suite)
    failed = len({str(test) for test, _ in result.failures + result.errors}) + len(result.unexpectedSuccesses)
    passed = result.testsRun - failed - len(result.skipped)
    skipped = f", {len(result.skipped)} skipped" if result.skipped else ""
    print(f"{max(passed, 0)} passed, {failed} failed{skipped}", flush=True)
    return 0 if failed == 0 and passed > 0 else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))

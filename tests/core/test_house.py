"""The core knows nothing of the rest: it imports numpy, scipy, the standard library and itself. No function is long, no rule
without a test.
"""

import ast
import re
import sys
import unittest
from pathlib import Path

CORE = Path(__file__).parents[2] / "src" / "pondus" / "core"
RULES = Path(__file__).parents[2] / "docs" / "RULES.md"
ALLOWED = {"numpy", "scipy"} | set(sys.stdlib_module_names)
KEPT_OUT = {"time", "os", "pathlib", "random", "socket", "sqlite3", "io"}
GIVEN = {"date", "datetime", "time", "timedelta", "tzinfo", "UTC"}
"""What the core may take from datetime: moments and days it is given, never the present one."""
LONGEST_FUNCTION = 40
ASKS_A_CLOCK = {"now", "utcnow", "today", "fromtimestamp"}


def imports_of(path: Path) -> set[str]:
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            found.add(node.module or "")
    return found


def own_lines(function: ast.FunctionDef | ast.AsyncFunctionDef) -> int:
    """A function's lines without its docstring."""
    told, first = ast.get_docstring(function), function.body[0]
    lines = (function.end_lineno or 0) - function.lineno + 1
    return lines if told is None else lines - ((first.end_lineno or 0) - first.lineno + 1)


class TestSize(unittest.TestCase):
    def test_no_function_is_longer_than_a_screen(self) -> None:
        for path in sorted(CORE.parent.rglob("*.py")):
            if "versions" in path.parts:
                continue
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                    with self.subTest(file=path.name, function=node.name):
                        self.assertLessEqual(own_lines(node), LONGEST_FUNCTION)


class TestRules(unittest.TestCase):
    def test_each_rule_is_held_by_a_test_that_there_is(self) -> None:
        rules, held = RULES.read_text(encoding="utf-8").split("## The tests that hold them")
        numbered = re.findall(r"^\| ([A-Z]\d+\S*) \|", rules, re.MULTILINE)
        holds = dict(re.findall(r"^\| ([A-Z]\d+\S*) \| (.+) \|$", held, re.MULTILINE))
        gone = [rule for rule in numbered if f"| {rule} | (gone" in rules]
        self.assertEqual(list(holds), [rule for rule in numbered if rule not in gone])
        for rule, cited in holds.items():
            for room, module, name in re.findall(r"`(?:(\w+)\.)?(\w+)\.(\w+)`", cited):
                tests = RULES.parents[1] / "tests" / (room or "core") / f"test_{module}.py"
                with self.subTest(rule=rule, test=name):
                    self.assertIn(f"def test_{name}(", tests.read_text(encoding="utf-8"))


class TestCoreStandsAlone(unittest.TestCase):
    def test_core_imports_only_itself_numpy_scipy_and_the_standard_library(self) -> None:
        for path in CORE.rglob("*.py"):
            for name in imports_of(path):
                if not name.startswith("pondus.core"):
                    with self.subTest(file=path.name, imports=name):
                        self.assertIn(name.split(".")[0], ALLOWED)

    def test_core_reads_no_file_and_no_clock(self) -> None:
        for path in CORE.rglob("*.py"):
            with self.subTest(file=path.name):
                self.assertEqual({name.split(".")[0] for name in imports_of(path)} & KEPT_OUT, set())

    def test_core_is_given_days_and_asks_no_clock(self) -> None:
        for path in CORE.rglob("*.py"):
            tree = ast.parse(path.read_text(encoding="utf-8"))
            for node in ast.walk(tree):
                with self.subTest(file=path.name):
                    if isinstance(node, ast.Import):
                        self.assertNotIn("datetime", {alias.name for alias in node.names})
                    if isinstance(node, ast.ImportFrom) and node.module == "datetime":
                        self.assertLessEqual({alias.name for alias in node.names}, GIVEN)
                    if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
                        self.assertNotIn(node.func.attr, ASKS_A_CLOCK)

"""How many small faults put into the judgement, the hands, the group, the views and the hearing do the core's tests find.

Each mutant changes one thing in one module: a comparison turned round, plus for minus, times for divided by, and for
or, one part of an *and* or *or* left out, a ``not`` or a sign taken away, a figure doubled or a quarter more, a truth turned,
an ``if`` whose body is never done, a function that gives None, a word for its opposite. Boundaries (``<`` for ``<=``) and
whether a dataclass is frozen are left aside. A mutant is found when a test of the core fails or doesn't end; those that take
long are run for the hearing alone. Prints the share found for each module, and with ``--show`` those that live.

Run: ``bin/pondus bench mutants [--count 300] [--seed 1] [--only judgement] [--show]``.
"""

import argparse
import ast
import contextlib
import copy
import importlib.abc
import importlib.util
import io
import os
import random
import re
import signal
import sys
import time
import unittest
from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
ROOMS = "judgement", "hands", "group", "views", "hearing"
OF_HEARING = (
    "test_as_heard",
    "test_sounding", "test_partials", "test_doctests", "test_microphone_check", "test_beside_tone", "test_hearing",
    "test_live", "test_double_stop", "test_whole_room", "test_real_hands",
)  # fmt: skip
SLOW = {"test_hearing", "test_double_stop", "test_live", "test_simulated", "test_house", "test_lists", "test_promises"}
AT_ONCE = os.cpu_count() or 1
GIVES_UP_AFTER_SECONDS = 300

COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.GtE, ast.GtE: ast.Lt, ast.Gt: ast.LtE, ast.LtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
}  # fmt: skip
COUNTED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult
}  # fmt: skip

OPPOSITES = dict(
    pair
    for one, other in (
        ("raise", "lower"), ("flat", "sharp"), ("up", "down"), ("peg", "fine-tuner"), ("peg", "screw"), ("in", "out"),
        ("left", "right"), ("clockwise", "anticlockwise"), ("above", "below"), ("higher", "lower"), ("wide", "narrow"),
        ("first", "last"),
    )
    for pair in ((one, other), (other, one))
)  # fmt: skip
WORD = re.compile(rf"\b({'|'.join(sorted(OPPOSITES, key=len, reverse=True))})\b", re.IGNORECASE)
Change = Callable[[Any], bool]


@dataclass(frozen=True)
class Mutant:
    """One changed module: its dotted name, the line, what was changed, the changed node's place in the tree, and how."""

    module: str
    file: Path
    line: int
    said: str
    place: int
    change: Change

    def tree(self) -> ast.Module:
        """The whole module, changed."""
        tree = ast.parse(self.file.read_text())
        self.change(next(node for at, node in enumerate(ast.walk(tree)) if at == self.place))
        return ast.fix_missing_locations(tree)


def mutants(file: Path) -> Iterator[Mutant]:
    """Every mutant of a module."""
    tree = ast.parse(file.read_text())
    module = ".".join(file.relative_to(ROOT / "src").with_suffix("").parts).removesuffix(".__init__")
    notes = {id(each) for node in ast.walk(tree) for each in _notes(node)}
    for place, node in enumerate(ast.walk(tree)):
        if id(node) in notes:
            continue
        for change in CHANGES:
            changed = copy.deepcopy(node)
            if change(changed):
                yield Mutant(module, file, node.lineno, f"{_brief(node)}  ->  {_brief(changed)}", place, change)


def _brief(node: ast.AST) -> str:
    return ast.unparse(node).split("\n")[0]


def _notes(node: ast.AST) -> list[ast.AST]:
    """Nodes of annotations and of type aliases, which nothing runs, and what a class is decorated with."""
    found: list[ast.AST | None] = []
    if isinstance(node, ast.AnnAssign):
        found = [node.annotation]
    elif isinstance(node, ast.FunctionDef):
        found = [node.returns, *(one.annotation for one in (*node.args.args, *node.args.kwonlyargs)), *_docstring(node)]
    elif isinstance(node, ast.Subscript) and isinstance(node.value, ast.Name) and node.value.id == "Literal":
        found = [node]
    elif isinstance(node, ast.ClassDef):
        found = [*node.decorator_list, *_docstring(node)]
    elif isinstance(node, ast.Module):
        found = list(_docstring(node))
    return [inner for each in found if each is not None for inner in ast.walk(each)]


def _docstring(node: ast.Module | ast.ClassDef | ast.FunctionDef) -> list[ast.expr]:
    """It, and the notes that stand below names."""
    return [line.value for line in node.body if isinstance(line, ast.Expr) and isinstance(line.value, ast.Constant)]


def _turned(node: ast.AST) -> bool:
    """An expression changed in place; whether there is a way."""
    if isinstance(node, ast.Compare) and len(node.ops) == 1:
        other = COMPARED.get(type(node.ops[0]))
        if other is not None:
            node.ops = [other()]
            return True
    if isinstance(node, ast.BinOp) and type(node.op) in COUNTED and not isinstance(node.left, ast.Constant | ast.JoinedStr):
        node.op = COUNTED[type(node.op)]()
        return True
    if isinstance(node, ast.BoolOp):
        node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        return True
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.USub):
        node.op = ast.UAdd() if isinstance(node.op, ast.USub) else node.op
        if isinstance(node.op, ast.Not):
            node.operand = ast.UnaryOp(ast.Not(), node.operand)
        return True
    if isinstance(node, ast.Constant) and isinstance(node.value, bool):
        node.value = not node.value
        return True
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        node.value = node.value * 2 if node.value else 1
        return True
    return False


def _part_left_out(node: ast.AST) -> bool:
    if isinstance(node, ast.BoolOp):
        del node.values[-1 if len(node.values) > 2 else 0]
        if len(node.values) == 1:
            node.values.append(node.values[0])
        return True
    return False


def _never_done(node: ast.AST) -> bool:
    if isinstance(node, ast.If):
        node.test = ast.Constant(False)
        return True
    return False


def _gives_none(node: ast.AST) -> bool:
    if isinstance(node, ast.Return) and node.value is not None and not _is_none(node.value):
        node.value = ast.Constant(None)
        return True
    return False


def _is_none(node: ast.expr) -> bool:
    return isinstance(node, ast.Constant) and node.value is None


def _a_quarter_more(node: ast.AST) -> bool:
    if isinstance(node, ast.Constant) and isinstance(node.value, float) and node.value:
        node.value *= 1.25
        return True
    return False


def _opposite(node: ast.AST) -> bool:
    """The first such word of a text, for its opposite."""
    if isinstance(node, ast.Constant) and isinstance(node.value, str) and WORD.search(node.value):
        node.value = WORD.sub(_other_word, node.value, count=1)
        return True
    return False


def _other_word(match: re.Match[str]) -> str:
    other = OPPOSITES[match[0].lower()]
    return other.capitalize() if match[0][0].isupper() else other


CHANGES: tuple[Change, ...] = (_turned, _part_left_out, _never_done, _gives_none, _a_quarter_more, _opposite)


class _Swapped(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Gives the mutant where its module is imported."""

    def __init__(self, mutant: Mutant) -> None:
        self.mutant = mutant

    def find_spec(self, name: str, path: object, target: object = None) -> object:
        if name != self.mutant.module:
            return None
        is_package = self.mutant.file.name == "__init__.py"
        spec = importlib.util.spec_from_loader(name, self, origin=str(self.mutant.file), is_package=is_package)
        if spec is not None and is_package:
            spec.submodule_search_locations = [str(self.mutant.file.parent)]
        return spec

    def exec_module(self, module: object) -> None:
        exec(compile(self.mutant.tree(), str(self.mutant.file), "exec"), module.__dict__)


def tests_fail(room: str) -> bool:
    """Whether a test of the core fails, in this process: those of hearing for a mutant of that room, else the quick ones."""
    every = {each.stem for each in (ROOT / "tests" / "core").glob("test_*.py")}
    names = [each for each in OF_HEARING if each in every] if room == "hearing" else sorted(every - SLOW)
    with contextlib.redirect_stdout(io.StringIO()), contextlib.redirect_stderr(io.StringIO()):
        for name in names:
            try:
                suite = unittest.defaultTestLoader.loadTestsFromName(f"tests.core.{name}")
            except Exception:
                return True
            if not unittest.TextTestRunner(stream=io.StringIO(), failfast=True).run(suite).wasSuccessful():
                return True
    return False


def is_found(mutant: Mutant) -> bool:
    """Whether the tests find it; ends by itself when they don't end."""
    signal.alarm(GIVES_UP_AFTER_SECONDS)
    sys.meta_path.insert(0, _Swapped(mutant))
    return tests_fail(mutant.file.parent.name)


def try_all(chosen: list[Mutant]) -> list[bool]:
    """Each in a process of its own, several at once."""
    running: dict[int, int] = {}
    found = [False] * len(chosen)
    for place, mutant in enumerate(chosen):
        if len(running) >= AT_ONCE:
            _await_one(running, found)
        pid = os.fork()
        if pid == 0:
            try:
                os._exit(1 if is_found(mutant) else 0)
            finally:
                os._exit(1)
        running[pid] = place
    while running:
        _await_one(running, found)
    return found


def _await_one(running: dict[int, int], found: list[bool]) -> None:
    pid, status = os.wait()
    found[running.pop(pid)] = status != 0


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--count", type=int, default=300, help="how many, drawn from all; 0: all")
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--only", default="", help="modules whose path holds this")
    options.add_argument("--show", action="store_true", help="those that were not found")
    given = options.parse_args()
    import hypothesis
    import numpy
    import pydantic
    import scipy.optimize
    import scipy.signal

    _ = hypothesis, numpy, pydantic, scipy
    files = [each for room in ROOMS for each in sorted((ROOT / "src/pondus/core" / room).rglob("*.py"))]
    every = [one for each in files if given.only in str(each) for one in mutants(each)]
    chosen = random.Random(given.seed).sample(every, given.count) if 0 < given.count < len(every) else every
    began = time.monotonic()
    found = try_all(chosen)
    by_module: dict[str, list[bool]] = defaultdict(list)
    for mutant, is_dead in zip(chosen, found, strict=True):
        by_module[mutant.module.removeprefix("pondus.core.")].append(is_dead)
        if given.show and not is_dead:
            print(f"{mutant.file.relative_to(ROOT)}:{mutant.line}: {mutant.said}")
    for module, dead in sorted(by_module.items()):
        print(f"{module:28s} {sum(dead):4d} of {len(dead):4d} found  {100 * sum(dead) / len(dead):3.0f} %")
    print(
        f"{len(chosen)} of {len(every)} mutants tried in {(time.monotonic() - began) / 60:.0f} minutes:"
        f" {sum(found)} found, {100 * sum(found) / max(len(found), 1):.0f} %"
    )


if __name__ == "__main__":
    main()

"""How quick the house is to change, in figures: lines, shapes that are told twice, long functions, rooms, names.

Run: ``bin/pondus bench house [--show]``. What it may not go past is held by `bin/pondus check` and `tests/core/test_house.py`.
"""

import argparse
import ast
import dataclasses
import importlib
import pkgutil
import re
import subprocess
import sys
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from types import ModuleType

from pydantic import BaseModel
from tests.core.test_house import LONGEST_FUNCTION, own_lines

import pondus.contracts
import pondus.core

ROOT = Path(__file__).parents[1]
WRITTEN = {".py", ".ts", ".tsx", ".css", ".js", ".html"}
PARTS = ("src", "frontend/src", "tests", "frontend/tests", "bench")
OF_A_MOVE = {"mechanism", "direction", "amount"}
NEAR, OF_FIELDS = 0.8, 5
"""A class nearly copies another where they share so much of so many fields and more."""
VAGUE = ("each", "found", "said", "told", "asked")


def files_of(part: str) -> list[Path]:
    """What is written by hand in a part: what git keeps of it, migrations too."""
    listed = subprocess.run(["git", "ls-files", part], cwd=ROOT, capture_output=True, text=True, check=True).stdout
    return [ROOT / name for name in listed.splitlines() if Path(name).suffix in WRITTEN]


def lines_of(part: str) -> int:
    return sum(len(path.read_text(encoding="utf-8").splitlines()) for path in files_of(part))


def modules_of(package: ModuleType) -> Iterator[ModuleType]:
    for found in pkgutil.walk_packages(package.__path__, f"{package.__name__}."):
        yield importlib.import_module(found.name)


def fields_of(kind: type) -> frozenset[str]:
    if issubclass(kind, BaseModel):
        return frozenset(kind.model_fields)
    return frozenset(field.name for field in dataclasses.fields(kind))


def classes_of(package: ModuleType) -> list[type]:
    """Its dataclasses and models, each once."""
    return [
        kind
        for module in modules_of(package)
        for kind in vars(module).values()
        if isinstance(kind, type) and kind.__module__ == module.__name__
        and (dataclasses.is_dataclass(kind) or issubclass(kind, BaseModel))
    ]  # fmt: skip


def copies() -> tuple[list[str], list[str]]:
    """Contract classes that have just the fields of a record of the core's, and those that nearly do."""
    exact, near = [], []
    core = [(kind, fields_of(kind)) for kind in classes_of(pondus.core)]
    for model in classes_of(pondus.contracts):
        own = fields_of(model)
        for kind, fields in core:
            if len(own) >= OF_FIELDS and own == fields:
                exact.append(f"{model.__name__} = {kind.__name__}")
            elif len(own | fields) >= OF_FIELDS and len(own & fields) >= NEAR * len(own | fields):
                near.append(f"{model.__name__} ~ {kind.__name__}")
    return exact, near


def trees() -> Iterator[tuple[Path, ast.Module]]:
    for path in files_of("src"):
        if path.suffix == ".py" and "versions" not in path.parts:
            yield path, ast.parse(path.read_text(encoding="utf-8"))


def shapes_of_a_move() -> list[str]:
    """Classes that say what was turned, which way and how far."""
    return [
        node.name
        for _, tree in trees()
        for node in ast.walk(tree)
        if isinstance(node, ast.ClassDef)
        and {each.target.id for each in node.body if isinstance(each, ast.AnnAssign) and isinstance(each.target, ast.Name)}
        >= OF_A_MOVE
    ]


def long_functions() -> list[str]:
    return [
        f"{path.name}:{node.name}"
        for path, tree in trees()
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef) and own_lines(node) > LONGEST_FUNCTION
    ]


def too_complex() -> int:
    """By ruff's count, over ten."""
    ruff = [sys.executable, "-m", "ruff", "check", "src", "--select", "C901", "--output-format", "concise", "--exit-zero"]
    said = subprocess.run(ruff, cwd=ROOT, capture_output=True, text=True, check=True).stdout
    return said.count("C901")


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--show", action="store_true", help="name what is counted")
    given = options.parse_args()
    lines = {part: lines_of(part) for part in PARTS}
    written = lines["src"] + lines["frontend/src"]
    print(f"lines written by hand: {written} ({', '.join(f'{part} {count}' for part, count in lines.items())})")
    print(f"tests: {(lines['tests'] + lines['frontend/tests']) / written:.0%} of them")
    committed = subprocess.run(
        ["git", "ls-files", "frontend/src/api/schema.ts"], check=True, cwd=ROOT, capture_output=True, text=True
    )
    print(f"generated schema kept: {'yes' if committed.stdout else 'no'}")
    exact, near = copies()
    moves, long = shapes_of_a_move(), long_functions()
    print(f"contracts that copy a record of the core: {len(exact)}; nearly: {len(near)}")
    print(f"shapes of a move: {len(moves)}")
    print(f"functions over {LONGEST_FUNCTION} lines: {len(long)}; more complex than 10: {too_complex()}")
    core = ROOT / "src/pondus/core"
    rooms = [path for path in core.iterdir() if (path / "__init__.py").exists()]
    print(f"rooms of the core: {len(rooms)}; modules at its root: {len(list(core.glob('*.py'))) - 1}")
    words = Counter(re.findall(rf"\b({'|'.join(VAGUE)})\b", "\n".join(path.read_text() for path in core.rglob("*.py"))))
    print("words that name nothing, in the core:", ", ".join(f"{word} {words[word]}" for word in VAGUE))
    tried = "\n".join(path.read_text(encoding="utf-8") for path in files_of("frontend/tests"))
    count = len(re.findall(r"^\s*(?:it|test)(?:\.each\(.*?\))?\(", tried, re.M))
    print(f"tests of the pages without a browser: {count}")
    if given.show:
        for name, each in (("copies", exact), ("near", near), ("moves", moves), ("long", long)):
            print(f"{name}: {', '.join(each)}")


if __name__ == "__main__":
    main()

"""Change the core in one small place at a time and see whether the tests notice.

``tools/mutate.py [COUNT] [SEED]``: COUNT mutants (200) drawn with SEED (1) from every package below
the window. Each is tried in a copy of the tree against the tests of its own folder first, then
against the rest of the core's; what no test notices is printed. Not part of ``./check``.

Reference: DeMillo, Lipton, Sayward, *Hints on test data selection*, Computer 11 (1978).
"""

from __future__ import annotations

import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).resolve().parent.parent
SRC = ROOT / "src" / "zombrel"
CORE = (
    "job",
    "units",
    "calibrate",
    "signals",
    "harness",
    "behaviour",
    "diagnose",
    "findings",
    "plan",
    "logs",
    "handover",
    "calc",
)
"""Packages that are mutated; the folders of tests have the same names."""
SWAPS: dict[type, type] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.And: ast.Or,
    ast.Or: ast.And,
}
SLOW_S = 240
QUICK = [
    "tests.findings.test_golden",
    "tests.calc.test_contract",
    "tests.calc.test_job_contract",
    "tests.calc.test_sensor_contract",
    "tests.calc.test_harness_contract",
    "tests.diagnose.test_proof",
]
"""Asked first: they are quick and touch nearly everything."""


class Mutant(NamedTuple):
    """One change: the file, which of its places, and what it says before and after."""

    path: Path
    place: int
    line: int
    before: str
    after: str


def places(tree: ast.Module) -> Iterator[ast.AST]:
    """Nodes that can be changed, outside texts and annotations."""
    skipped: set[int] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.AnnAssign) or (
            isinstance(node, ast.arg) and node.annotation is not None
        ):
            skipped |= {id(n) for n in ast.walk(node.annotation)}
        elif isinstance(node, ast.FunctionDef) and node.returns is not None:
            skipped |= {id(n) for n in ast.walk(node.returns)}
        elif isinstance(node, ast.Assert | ast.FormattedValue | ast.Raise):
            skipped |= {id(n) for n in ast.walk(node)}
    for node in ast.walk(tree):
        if id(node) not in skipped and _changeable(node):
            yield node


def _changeable(node: ast.AST) -> bool:
    match node:
        case ast.Compare(ops=[op]) | ast.BinOp(op=op) | ast.BoolOp(op=op):
            return type(op) in SWAPS
        case ast.Constant(value=bool() | int() | float()):
            return True
        case ast.UnaryOp(op=ast.Not()) | ast.If():
            return True
    return False


def change(node: ast.AST) -> None:
    """Change a node in place."""
    match node:
        case ast.Compare(ops=[op]):
            node.ops = [SWAPS[type(op)]()]
        case ast.BinOp(op=op) | ast.BoolOp(op=op):
            node.op = SWAPS[type(op)]()
        case ast.Constant(value=bool(value)):
            node.value = not value
        case ast.Constant(value=int() | float() as value):
            node.value = value * 2 + 1
        case ast.UnaryOp():
            node.operand = ast.UnaryOp(op=ast.Not(), operand=node.operand)
        case ast.If():
            node.test = ast.UnaryOp(op=ast.Not(), operand=node.test)


def draw(count: int, seed: int) -> list[Mutant]:
    """So many mutants, the same for the same seed and tree."""
    found = []
    for package in CORE:
        for path in sorted((SRC / package).rglob("*.py")):
            tree = ast.parse(path.read_text())
            found += [(path, i) for i, _ in enumerate(places(tree))]
    chosen = random.Random(seed).sample(found, min(count, len(found)))
    return [_described(path, i) for path, i in chosen]


def _mutated(path: Path, place: int) -> tuple[ast.Module, ast.AST, str]:
    tree = ast.parse(path.read_text())
    node = list(places(tree))[place]
    before = ast.unparse(copy.deepcopy(node)).splitlines()[0]
    change(node)
    return tree, node, before


def _described(path: Path, place: int) -> Mutant:
    _, node, before = _mutated(path, place)
    after = ast.unparse(node).splitlines()[0]
    return Mutant(path, place, getattr(node, "lineno", 0), before, after)


def survives(mutant: Mutant, tree: Path) -> bool:
    """Whether no test of the core notices the mutant, tried in the copy ``tree``."""
    inside = mutant.path.relative_to(ROOT)
    text = (tree / inside).read_text()  # the copy: the tree itself may be edited meanwhile
    (tree / inside).write_text(ast.unparse(_mutated(tree / inside, mutant.place)[0]))
    try:
        own = inside.parts[2]
        order = [own, *[p for p in CORE if p != own]]
        return _quiet(tree, QUICK) and all(_quiet(tree, folder(p)) for p in order)
    finally:
        (tree / inside).write_text(text)


def folder(package: str) -> list[str]:
    """What runs the tests of a package."""
    return ["discover", "-s", f"tests/{package}", "-t", "."]


def _quiet(tree: Path, what: list[str]) -> bool:
    """Whether these tests notice nothing."""
    first = what[:1] if what[0] == "discover" else []
    command = [sys.executable, "-m", "unittest", *first, "-q", "-f", *what[len(first) :]]
    env = {
        **os.environ,
        "PYTHONPATH": str(tree / "src"),
        "PYTHONDONTWRITEBYTECODE": "1",
        "QT_QPA_PLATFORM": "offscreen",
    }
    try:
        done = subprocess.run(
            command, cwd=tree, env=env, capture_output=True, timeout=SLOW_S, check=False
        )
    except subprocess.TimeoutExpired:
        return False
    return done.returncode == 0


def main() -> int:
    """Draw, try, print."""
    words = sys.argv[1:]
    count = int(words[0]) if words else 200
    seed = int(words[1]) if len(words) > 1 else 1
    mutants = draw(count, seed)
    crew = max(1, (os.cpu_count() or 2) - int(os.environ.get("SPARE", "0")))
    lived = []
    with tempfile.TemporaryDirectory() as away, ThreadPoolExecutor(crew) as pool:
        trees = []
        for i in range(crew):
            tree = Path(away) / str(i)
            for part in ("src", "tests", "tools"):
                shutil.copytree(
                    ROOT / part, tree / part, ignore=shutil.ignore_patterns("__pycache__")
                )
            for name in ("README.md", "pyproject.toml", "requirements.lock"):
                shutil.copy(ROOT / name, tree / name)
            trees.append(tree)

        sound = [_quiet(trees[0], QUICK), *(_quiet(trees[0], folder(p)) for p in CORE)]
        if not all(sound):
            print("the tests fail without any change: nothing can be told")
            return 1

        def work(i: int) -> list[Mutant]:
            mine = []
            for mutant in mutants[i::crew]:
                if survives(mutant, trees[i]):
                    mine.append(mutant)
                    where = mutant.path.relative_to(ROOT)
                    print(
                        f"lived: {where}:{mutant.line}: {mutant.before}  ->  {mutant.after}",
                        flush=True,
                    )
            return mine

        for mine in pool.map(work, range(crew)):
            lived += mine
    dead = len(mutants) - len(lived)
    print(f"{len(mutants)} mutants, {dead} noticed, {100 * dead / len(mutants):.0f} %")
    return 0


if __name__ == "__main__":
    sys.exit(main())

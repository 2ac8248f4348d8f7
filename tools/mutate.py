"""Change the core in one small place at a time and see whether the tests notice.

``tools/mutate.py [COUNT] [SEED]``: COUNT mutants (200) drawn with SEED (1) from every package below
the window. Each file of tests of the core is first run once under ``coverage``, to learn which
lines each test reaches; a mutant is then tried in a copy of the tree against the tests that reach
its line, those first that have noticed most a second in its package. A line that no test reaches
lives, and so does a mutant that none of them notices in ``TRIED_S``: what is printed is the least
share. Prints
what no test notices. Not part of ``./check``.

Reference: DeMillo, Lipton, Sayward, *Hints on test data selection*, Computer 11 (1978).
"""

from __future__ import annotations

import ast
import compileall
import copy
import functools
import math
import os
import queue
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple, TypeVar

import coverage

T = TypeVar("T")
ROOT = Path(__file__).resolve().parent.parent
SRC = ROOT / "src" / "zombrel"
CORE = (
    "job",
    "intake",
    "units",
    "catalog",
    "actions",
    "store",
    "instruments",
    "calibrate",
    "signals",
    "harness",
    "behaviour",
    "diagnose",
    "findings",
    "plan",
    "logs",
    "plots",
    "handover",
    "book",
    "calc",
)
"""Packages that are mutated; the folders of tests have the same names, and ``whole`` beside."""
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
ROUNDING = 1e-6
"""A power of ten below it is slack for the last digits, and as good when it is doubled."""
SLOW_S = 300
"""Tests that take longer than this have noticed something: they hang."""
GROUP_S = 15.0
"""So much is run in one process, to spare the starts of many."""
TRIED_S = 240.0
"""So much is run against one mutant at most; a test that takes longer alone is left out."""
LEARN_S = 1000
"""Tests of a file that are not through by then, under coverage, are left out."""
SLOW = re.compile(r"test_(\d|torture)")
"""Files whose tests would not be: each fact of a job in turn, and thousands of odd calls."""
DECLARED = "declared"
"""Of what stands outside functions, which most tests reach, whatever package it lies in."""
LEARN = """
import sys, time, unittest, coverage
data, module, out = sys.argv[1:]
cov = coverage.Coverage(data_file=data, source=["src"])
took = {}
class Result(unittest.TextTestResult):
    def startTest(self, test):
        cov.switch_context(test.id()); took[test.id()] = time.monotonic()
        super().startTest(test)
    def stopTest(self, test):
        super().stopTest(test)
        took[test.id()] = time.monotonic() - took[test.id()]; cov.switch_context("")
        cov.save(); open(out, "w").write(repr(took))  # what is learnt so far
cov.start()
suite = unittest.defaultTestLoader.loadTestsFromName(module)
done = unittest.TextTestRunner(verbosity=0, resultclass=Result).run(suite)
cov.stop(); cov.save()
sys.exit(not done.wasSuccessful())
"""
"""Runs a file of tests and keeps which lines each of them reaches, and how long it takes."""


class Reach(NamedTuple):
    """One test: how long it takes and which lines of which source files it runs."""

    name: str
    seconds: float
    lines: dict[str, frozenset[int]]


class Mutant(NamedTuple):
    """One change: the file, which of its places, and what it says before and after."""

    path: Path
    place: int
    line: int
    lines: frozenset[int]
    """Every line that the changed expression is written on, or its statement's first."""
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
        elif isinstance(node, ast.keyword) and node.arg == "strict":
            skipped.add(id(node.value))  # lists that are as long as each other either way
    for node in ast.walk(tree):
        if id(node) not in skipped and _changeable(node):
            yield node


def _changeable(node: ast.AST) -> bool:
    match node:
        case ast.Compare(ops=[op]) | ast.BinOp(op=op) | ast.BoolOp(op=op):
            return type(op) in SWAPS
        case ast.Constant(value=bool() | int()):
            return True
        case ast.Constant(value=float(value)):
            return not (0 < value < ROUNDING and math.log10(value).is_integer())
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


def _statement_lines(path: Path, line: int) -> range:
    """Lines of the innermost statement that holds a line; of a compound one, its head.

    Coverage counts a statement under its first line, wherever in it the change lies.
    """
    best = range(line, line + 1)
    size = 1 << 30
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.stmt) and node.lineno <= line <= (node.end_lineno or node.lineno):
            length = (node.end_lineno or node.lineno) - node.lineno
            if length < size:
                body = getattr(node, "body", None)
                last = body[0].lineno - 1 if body else node.end_lineno or node.lineno
                best = range(node.lineno, max(last, line) + 1)
                size = length
    return best


def _described(path: Path, place: int) -> Mutant:
    _, node, before = _mutated(path, place)
    after = ast.unparse(node).splitlines()[0]
    line = getattr(node, "lineno", 0)
    lines = frozenset(_statement_lines(path, line))
    return Mutant(path, place, line, lines, before, after)


def modules() -> list[str]:
    """The files of tests below the window."""
    files = [p for c in (*CORE, "whole") for p in (ROOT / "tests" / c).rglob("test_*.py")]
    found = sorted(p for p in files if not SLOW.match(p.name))
    return [".".join(p.relative_to(ROOT).with_suffix("").parts) for p in found]


def reach(module: str, tree: Path) -> list[Reach]:
    """Run a file of tests under coverage, test by test; what its import runs, each of them does."""
    data, out = tree / f".coverage-{module}", tree / f".took-{module}"
    command = [sys.executable, "-c", LEARN, str(data), module, str(out)]
    try:
        subprocess.run(
            command, cwd=tree, env=_env(tree), capture_output=True, timeout=LEARN_S, check=True
        )
    except subprocess.TimeoutExpired:
        print(f"left out: the rest of {module}, which is too slow", flush=True)
    except subprocess.CalledProcessError:
        print(f"left out: {module}, which fails as it is", flush=True)
        return []
    if not out.exists():
        return []
    took: dict[str, float] = ast.literal_eval(out.read_text())
    kept = coverage.CoverageData(str(data))
    kept.read()
    found: dict[str, dict[str, set[int]]] = {name: {} for name in took}
    for path in kept.measured_files():
        if not path.endswith(".py"):  # a template is run under its own name
            continue
        inside = str(Path(path).relative_to(tree))
        within = _in_functions(Path(path))
        for line, contexts in kept.contexts_by_lineno(path).items():
            # whichever test imports a module first, all of the file stand on it
            every = "" in contexts or line not in within
            for name in took if every else set(contexts) & took.keys():
                found[name].setdefault(inside, set()).add(line)
    return [
        Reach(name, took[name], {path: frozenset(lines) for path, lines in paths.items()})
        for name, paths in found.items()
    ]


@functools.cache
def _in_functions(path: Path) -> frozenset[int]:
    """Lines of a source file that run when a function is called, not when it is imported."""
    lines: set[int] = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            lines.update(range(node.body[0].lineno, (node.end_lineno or node.lineno) + 1))
    return frozenset(lines)


class Noses:
    """How well each file of tests has noticed mutants of each package, learnt as it goes."""

    def __init__(self) -> None:
        self._noticed: Counter[tuple[str, str]] = Counter()
        self._spent: Counter[tuple[str, str]] = Counter()

    def rate(self, package: str, test: str) -> float:
        """Mutants noticed a second; before anything is known its own package's tests lead."""
        of = (package, _file(test))
        own = test.split(".")[1] == package or (package == DECLARED and "demos_read" in test)
        return (self._noticed[of] + (1.0 if own else 0.3)) / (self._spent[of] + 5.0)

    def learn(self, package: str, tests: list[Reach], who: str) -> None:
        """Tests have been run, and one has noticed the mutant; empty: none."""
        for test in tests:
            self._spent[package, _file(test.name)] += test.seconds
        if who:
            self._noticed[package, _file(who)] += 1


def _file(test: str) -> str:
    return ".".join(test.split(".")[:3])


def survives(mutant: Mutant, tree: Path, reached: list[Reach], noses: Noses) -> bool:
    """Whether no test of the core notices the mutant, tried in the copy ``tree``.

    ``GROUP_S`` of tests at a time in one process.
    """
    inside = mutant.path.relative_to(ROOT)
    path = tree / inside
    own = inside.parts[2] if mutant.line in _in_functions(path) else DECLARED
    text, stat = path.read_text(), path.stat()  # the copy: the tree itself may be edited meanwhile
    path.write_text(ast.unparse(_mutated(path, mutant.place)[0]))
    try:
        near = [r for r in reached if mutant.lines & r.lines.get(str(inside), frozenset())]
        near.sort(key=lambda r: (-noses.rate(own, r.name), r.seconds))
        for tests in _groups(near):
            who = _noticed(tree, *[t.name for t in tests])
            noses.learn(own, tests, who)
            if who:
                return False
        return True
    finally:
        path.write_text(text)
        os.utime(path, ns=(stat.st_atime_ns, stat.st_mtime_ns))  # so that its bytecode holds


def _groups(near: list[Reach]) -> Iterator[list[Reach]]:
    """Tests that are run in one go, as long as they are tried."""
    group: list[Reach] = []
    seconds = tried = 0.0
    for test in near:
        if tried + test.seconds > TRIED_S:
            continue
        tried += test.seconds
        if group and seconds + test.seconds > GROUP_S:
            yield group
            group, seconds = [], 0.0
        group.append(test)
        seconds += test.seconds
    if group:
        yield group


def _env(tree: Path) -> dict[str, str]:
    return {
        **os.environ,
        "PYTHONPATH": str(tree / "src"),
        "PYTHONDONTWRITEBYTECODE": "1",
        "QT_QPA_PLATFORM": "offscreen",
    }


def _noticed(tree: Path, *names: str) -> str:
    """The test that notices something; empty when none does."""
    command = [sys.executable, "-m", "unittest", "-q", "-f", *names]
    try:
        done = subprocess.run(
            command,
            cwd=tree,
            env=_env(tree),
            capture_output=True,
            text=True,
            errors="replace",
            timeout=SLOW_S,
            check=False,
        )
    except subprocess.TimeoutExpired:
        return names[0]
    if done.returncode == 0:
        return ""
    said = re.search(r"^(?:FAIL|ERROR): \S+ \((tests\.\S+?)\)", done.stderr, re.MULTILINE)
    return said[1] if said is not None else names[0]


def copies(away: Path, crew: int) -> list[Path]:
    """So many copies of what the tests need."""
    trees = [away / str(i) for i in range(crew)]
    for tree in trees:
        for part in ("src", "tests", "tools"):
            shutil.copytree(ROOT / part, tree / part, ignore=shutil.ignore_patterns("__pycache__"))
        for name in ("README.md", "pyproject.toml", "requirements.lock"):
            shutil.copy(ROOT / name, tree / name)
        compileall.compile_dir(tree, quiet=2)
    return trees


def main() -> int:
    """Draw, try, print."""
    words = sys.argv[1:]
    count = int(words[0]) if words else 200
    seed = int(words[1]) if len(words) > 1 else 1
    mutants = draw(count, seed)
    begun = time.monotonic()
    crew = max(1, (os.cpu_count() or 2) - int(os.environ.get("SPARE", "0")))
    with tempfile.TemporaryDirectory() as away, ThreadPoolExecutor(crew) as pool:
        free: queue.SimpleQueue[Path] = queue.SimpleQueue()
        for tree in copies(Path(away).resolve(), crew):
            free.put(tree)

        def in_a_tree(what: Callable[[Path], T]) -> T:
            tree = free.get()
            try:
                return what(tree)
            finally:
                free.put(tree)

        found = pool.map(lambda m: in_a_tree(lambda tree: reach(m, tree)), modules())
        reached = [r for file in found for r in file if r.seconds <= TRIED_S]
        print(f"{len(reached)} tests learnt in {time.monotonic() - begun:.0f} s", flush=True)

        noses = Noses()

        def tried(mutant: Mutant) -> bool:
            lives = in_a_tree(lambda tree: survives(mutant, tree, reached, noses))
            if lives:
                where = f"{mutant.path.relative_to(ROOT)}:{mutant.line}"
                print(f"lived: {where}: {mutant.before}  ->  {mutant.after}", flush=True)
            return lives

        lived = sum(pool.map(tried, mutants))
    dead = count - lived
    print(f"{count} mutants, {dead} noticed, {100 * dead / count:.0f} % at least")
    return 0


if __name__ == "__main__":
    sys.exit(main())

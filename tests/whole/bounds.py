"""Arguments that tell a function of the core from one that is changed in one small place.

Those that ``called.py`` draws tell most. Here others are looked for, in two ways:

- Where a comparison of two numbers turns, so that ``<`` and ``<=`` part: it tells how far apart its
  sides are, and one number of the arguments is moved until they are alike (secant method;
  search-based testing, McMinn, STVR 14 (2004)).
- By more draws, for each change that ``tools/mutate.py`` makes and the first draws do not show.

What is found is kept, with what comes of it. ``python -m tests.whole.bounds`` writes
``bounds.json`` anew; it takes half an hour.
"""

from __future__ import annotations
import __future__

import ast
import builtins
import contextlib
import copy
import functools
import importlib.machinery
import importlib.util
import inspect
import json
import math
import operator
import os
import random
import resource
import signal
import subprocess
import sys
import tempfile
import time
import types
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any
from unittest import mock

from tools import mutate

from tests.whole.slots import Slot, at, put, slots

KEPT = Path(__file__).with_name("bounds.json")
TURNS = 8
"""So many draws are begun from."""
SLOTS = 24
"""So many of their numbers are moved."""
STEPS = 3
"""Of the secant."""
SPENT_S = 2.5
"""So long is looked in either way for one function."""
MORE = 300
"""So many more draws are tried."""
HANGS_S = 0.5
STANDS_S = 25.0
"""A process that has told nothing new for so long does not come back."""
FUTURE = __future__.annotations.compiler_flag
Bound = tuple[int, Slot, float]
"""(draw, where a number of it is moved, to what); the second empty: as it is drawn."""


class Compared:
    """What comparisons tell while they are listened to."""

    def __init__(self) -> None:
        self.apart: dict[str, float] = {}
        """By place: the left side less the right, the first time."""
        self.turned = ""
        """The place whose bound counts the other way."""

    def __call__(self, place: str, sign: str, left: Any, right: Any) -> Any:
        if isinstance(left, int | float) and isinstance(right, int | float):
            if place == self.turned:
                sign = OTHER[sign]
            self.apart.setdefault(place, float(left) - float(right))
        return SIGNS[sign](left, right)


SIGNS = {"Lt": operator.lt, "LtE": operator.le, "Gt": operator.gt, "GtE": operator.ge}
OTHER = {"Lt": "LtE", "LtE": "Lt", "Gt": "GtE", "GtE": "Gt"}
COMPARED = Compared()


class _Telling(ast.NodeTransformer):
    def __init__(self, module: str) -> None:
        self.module = module

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        sign = type(node.ops[0]).__name__
        if len(node.ops) > 1 or sign not in SIGNS:
            return node
        place = f"{self.module}:{node.lineno}:{node.col_offset}"
        told = [ast.Constant(place), ast.Constant(sign), node.left, node.comparators[0]]
        call = ast.Call(ast.Name("__compared__", ast.Load()), told, [])
        return ast.fix_missing_locations(ast.copy_location(call, node))


class _Loader(importlib.machinery.SourceFileLoader):
    def get_code(self, fullname: str) -> Any:
        path = self.get_filename(fullname)
        tree = ast.parse(Path(path).read_text(encoding="utf-8"))
        return compile(_Telling(fullname).visit(tree), path, "exec", dont_inherit=True)


class _Finder:
    """Loads the core so that its comparisons tell."""

    @staticmethod
    def find_spec(name: str, path: Any = None, target: Any = None) -> Any:
        if not name.startswith("zombrel"):
            return None
        spec = importlib.machinery.PathFinder.find_spec(name, path, target)
        if spec is not None and spec.origin is not None:
            loader = _Loader(name, spec.origin)
            inside = spec.submodule_search_locations
            spec = importlib.util.spec_from_file_location(
                name, spec.origin, loader=loader, submodule_search_locations=inside
            )
        return spec


class Search:
    """For what tells one function from others."""

    def __init__(self, name: str, function: Callable[..., Any], own: list[Any]) -> None:
        from tests.whole import called

        self.called, self.name, self.function, self.own = called, name, function, own
        self.bare: Any = inspect.unwrap(function)
        self.found: list[tuple[Bound, str]] = []
        """What tells, and what comes of it."""
        self.parted: set[str] = set()
        """Comparisons that a bound was found for."""

    def given(self, bound: Bound) -> dict[str, Any]:
        """The arguments of a draw, one number of them moved where it says so."""
        turn, slot, number = bound
        arguments: dict[str, Any] = self.called.given(self.name, self.function, turn, self.own)
        if slot:
            key = str(slot[0])
            arguments[key] = put(arguments[key], slot[1:], number)
        return arguments

    def outcome(self, bound: Bound) -> str:
        """What comes of it."""
        return str(self.called.outcome(self.bare, self.given(bound)))

    def look(self) -> None:
        """In both ways, each as long as there is time."""
        self._look_for_bounds(time.monotonic() + SPENT_S)
        self._look_for_draws(time.monotonic() + SPENT_S)

    def _look_for_bounds(self, late: float) -> None:
        for turn in range(TURNS):
            arguments = self._given(turn)
            held = [(k, *rest) for k, v in arguments.items() for rest in slots(v)]
            dice = random.Random(f"{self.name} {turn}")
            for slot in dice.sample(held, min(SLOTS, len(held))):
                if time.monotonic() > late:
                    return
                self._move(turn, slot, at(arguments[str(slot[0])], slot[1:]))

    def _given(self, turn: int) -> dict[str, Any]:
        """The arguments of a draw; none where nothing of some kind is at hand."""
        with contextlib.suppress(self.called.UnknownError, NameError, TypeError, KeyError):
            return self.given((turn, (), 0.0))
        return {}

    def _told(self, bound: Bound, turned: str = "") -> tuple[str, dict[str, float]]:
        """What comes of it, and how far apart the sides of all comparisons are."""
        COMPARED.apart, COMPARED.turned = {}, turned
        try:
            return self.outcome(bound), COMPARED.apart
        finally:
            COMPARED.turned = ""

    def _move(self, turn: int, slot: Slot, now: float) -> None:
        step = 1 if type(now) is int else max(abs(now) / 10, 0.1)
        _, before = self._told((turn, slot, now))
        _, after = self._told((turn, slot, now + step))
        for place in before.keys() & after.keys() - self.parted:
            x0, f0, x1, f1 = now, before[place], now + step, after[place]
            for _ in range(STEPS):
                x = x1 - f1 * (x1 - x0) / (f1 - f0) if f1 != f0 else math.nan
                if not math.isfinite(x):
                    break
                x = round(x) if type(now) is int else x
                said, told = self._told((turn, slot, x))
                if place not in told:
                    break
                if told[place] == 0:
                    if self._told((turn, slot, x), place)[0] != said:
                        self.parted.add(place)
                        self._keep((turn, slot, x), said)
                    break
                x0, f0, x1, f1 = x1, f1, x, told[place]

    def _keep(self, bound: Bound, said: str) -> None:
        if not said[:1].isupper() and (bound, said) not in self.found:
            self.found.append((bound, said))

    def _look_for_draws(self, late: float) -> None:
        count = self.called.record()[self.name][0]
        first: list[Bound] = [(turn, (), 0.0) for turn in range(count) if self._given(turn)]
        known = [(b, self.outcome(b)) for b in first] + self.found
        own, living = self.bare.__code__, []
        for changed in _changed(self.bare):
            if time.monotonic() > late:
                break
            if not any(self._tells(changed, b, said) for b, said in known):
                living.append(changed)
        for turn in range(count, count + MORE):
            if time.monotonic() > late or not living:
                break
            if not self._given(turn):
                continue
            bound: Bound = (turn, (), 0.0)
            said = self.outcome(bound)
            left = []
            for changed in living:
                if time.monotonic() > late or not self._tells(changed, bound, said):
                    left.append(changed)
            if len(left) < len(living):
                self._keep(bound, said)
            living = left
        self.bare.__code__ = own

    def _tells(self, changed: types.CodeType, bound: Bound, said: str) -> bool:
        """Whether something else comes of it after a change."""
        own, self.bare.__code__ = self.bare.__code__, changed
        signal.setitimer(signal.ITIMER_REAL, HANGS_S)
        try:
            return self.outcome(bound) != said
        except (self.called.Hangs, MemoryError):
            return True
        finally:
            signal.setitimer(signal.ITIMER_REAL, 0)
            self.bare.__code__ = own


@functools.cache
def _defined(path: str) -> dict[tuple[str, int], ast.FunctionDef]:
    """The functions of a file by name and first line, a decorator's where there is one."""
    tree = ast.parse(Path(path).read_text(encoding="utf-8"))
    found = [node for node in ast.walk(tree) if isinstance(node, ast.FunctionDef)]
    return {(f.name, min([f, *f.decorator_list], key=_line).lineno): f for f in found}


def _line(node: Any) -> int:
    return int(node.lineno)


def _changed(bare: Any) -> Iterator[types.CodeType]:
    """The code of a function with each of the changes that mutants have."""
    code = bare.__code__
    whole = _defined(code.co_filename).get((code.co_name, code.co_firstlineno))
    if whole is None or code.co_freevars:
        return
    whole = copy.deepcopy(whole)  # what stands before its body is no part of its code
    whole.decorator_list, whole.args.defaults = [], []
    whole.args.kw_defaults = [None] * len(whole.args.kwonlyargs)
    count = sum(1 for _ in mutate.places(ast.Module([whole], [])))
    for i in range(count):
        tree = ast.Module([copy.deepcopy(whole)], [])
        mutate.change(list(mutate.places(tree))[i])
        made = compile(ast.fix_missing_locations(tree), code.co_filename, "exec", FUTURE)
        for held in made.co_consts:
            if isinstance(held, types.CodeType) and held.co_name == code.co_name:
                yield held


def search(package: str, part: Path) -> None:
    """Search a package in this process, and tell ``part`` what is begun and what was found."""
    from tests.whole import called
    from zombrel.job.follow.query import forget
    from zombrel.job.unjudged import strict

    strict(True)
    most = 4 << 30  # what a change lets grow without end is noticed by that
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    signal.signal(signal.SIGALRM, called._late)
    kept, told = called.record(), _lines(part)
    with called._quiet(), part.open("a", encoding="utf-8") as out:
        for name, function in called.functions(package):
            if name not in kept or name in told:
                continue
            print(json.dumps([name, []]), file=out, flush=True)
            at_work = Search(name, function, kept[name][2:])
            with contextlib.suppress(called.Hangs, called.UnknownError, TypeError, KeyError):
                at_work.look()
            signal.setitimer(signal.ITIMER_REAL, 0)
            forget()
            found = [[*bound, said] for bound, said in at_work.found]
            print(json.dumps([name, found]), file=out, flush=True)


def _lines(part: Path) -> dict[str, list[Any]]:
    if not part.exists():
        return {}
    return dict(map(json.loads, part.read_text(encoding="utf-8").splitlines()))


def _searched(package: str, part: Path) -> dict[str, list[Any]]:
    """What is found in a package, by processes of its own.

    What a change sets going inside a library cannot be stopped there: such a process is ended, and
    the next goes on behind the function that did it.
    """
    command = [sys.executable, "-m", "tests.whole.bounds", package, str(part)]
    code: int | None = None
    while code != 0:
        had = len(_lines(part))
        with subprocess.Popen(command) as child:
            code, grown = None, -1.0
            while code is None:
                with contextlib.suppress(subprocess.TimeoutExpired):
                    code = child.wait(STANDS_S)
                size = part.stat().st_size if part.exists() else 0
                if code is None and size == grown:
                    child.kill()
                grown = size
        if code and len(_lines(part)) == had:
            raise RuntimeError(f"nothing can be told of {package}")
    return _lines(part)


def again(package: str, kept: dict[str, list[Any]]) -> dict[str, list[str]]:
    """What comes of the kept ones of a package now."""
    from tests.whole import called
    from zombrel.job import unjudged

    found, own = {}, called.record()
    with called._quiet(), mock.patch.object(unjudged, "_kept", []):
        for name, function in called.functions(package):
            if name in kept:
                search = Search(name, function, own[name][2:])
                bounds = [(turn, tuple(slot), x) for turn, slot, x, _ in kept[name]]
                found[name] = [search.outcome(bound) for bound in bounds]
    return found


def record() -> dict[str, list[Any]]:
    """What is kept."""
    return dict(json.loads(KEPT.read_text(encoding="utf-8")))


def _write(found: dict[str, list[Any]]) -> None:
    lines = [f"{json.dumps(k)}: {json.dumps(v, ensure_ascii=False)}" for k, v in found.items()]
    KEPT.write_text("{\n" + ",\n".join(sorted(lines)) + "\n}\n", encoding="utf-8")


def _now(env: dict[str, str]) -> dict[str, list[str]]:
    """What comes of all that is kept, elsewhere."""
    command = [sys.executable, "-m", "tests.whole.bounds", "-"]
    done = subprocess.run(command, env=os.environ | env, check=True, capture_output=True, text=True)
    return dict(json.loads(done.stdout.splitlines()[-1]))


def main(asked: list[str]) -> None:
    """Write the record; or search one package; ``-``: print what comes of it now."""
    if asked == ["-"]:
        from tests.whole.called import PACKAGES

        print(json.dumps({k: v for p in PACKAGES for k, v in again(p, record()).items()}))
        return
    if asked:
        for name in [name for name in sys.modules if name.startswith("zombrel")]:
            del sys.modules[name]  # to be loaded so that they tell
        sys.meta_path.insert(0, _Finder())  # type: ignore[arg-type]
        builtins.__compared__ = COMPARED  # type: ignore[attr-defined]
        search(asked[0], Path(asked[1]))
        return
    from tests.whole.called import OTHERS, PACKAGES

    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(os.cpu_count()) as crew:
        parts = list(crew.map(lambda package: _searched(package, Path(folder, package)), PACKAGES))
    found = {name: some for part in parts for name, some in part.items() if some}
    _write(found)
    for other in ({}, *OTHERS):  # as it is without all that, and elsewhere
        now = _now(other)
        found = {
            name: [b for b, said in zip(some, now[name], strict=True) if b[-1] == said]
            for name, some in found.items()
        }
        found = {name: some for name, some in found.items() if some}
        _write(found)
    print(sum(map(len, found.values())), "for", len(found), "functions")


if __name__ == "__main__":
    main(sys.argv[1:])

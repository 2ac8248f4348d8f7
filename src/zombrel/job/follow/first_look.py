"""A job asked about for the first time: results are kept, but nothing is noted of what they read.

Taking notes costs more than most of the sums themselves. They pay as soon as something changes; a
job that is only opened, or only supposed, is read through without them.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import msgspec

from zombrel.job.follow.engine import ROOTS, Engine, Node
from zombrel.job.problem import Problem

_Result = tuple[tuple[Any, ...], Any, Problem | None]
"""The arguments themselves, so that their identity stays their own, and what came of them."""


class FirstLook:
    """Stands in for an engine until a second tree of a kind comes along."""

    def __init__(self, apart: Callable[..., Any], then: Callable[[FirstLook], Engine]) -> None:
        self._apart = apart
        """Calls a function with another engine at work."""
        self._then = then
        """Puts an engine that takes notes in the place of this."""
        self._trees: dict[type, Any] = {}
        self._ours: set[int] = set()
        """Identities of those trees, and of what queries made of them."""
        self._made: dict[int, Callable[..., Any]] = {}
        """Trees made by queries, by identity."""
        self._results: dict[Any, _Result] = {}
        """By the full name of a question, and by its short one."""
        self._inside = False

    def ask(self, fn: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        """The result of a query."""
        # most are about the very same tree, with a name of a part at most
        short: Any = None
        if len(args) == 1:
            short = (fn, id(args[0]))
        elif len(args) == _PAIR and type(args[1]) is str:
            short = (fn, id(args[0]), args[1])
        found = self._results.get(short)
        if found is None:
            found = self._looked_up(fn, args, short)
        if found[2] is not None:
            raise found[2].with_traceback(None)
        return found[1]

    def _looked_up(self, fn: Callable[..., Any], args: tuple[Any, ...], short: Any) -> _Result:
        """What is not found by the short name of a question."""
        name: list[Any] = [fn]
        for arg in args:
            kind = _KINDS[type(arg)]
            if kind >= _TREE:
                if not self._inside:
                    if not self._takes(arg):
                        return args, self._then(self).ask(fn, args), None
                elif kind == _TREE and id(arg) not in self._ours:
                    # a tree made on the way is nobody's present job
                    return args, self._apart(fn, *args), None
            elif kind == _LIST and arg:
                kind = _RECORD if _KINDS[type(arg[0])] in _ITEMS else _PLAIN
            name.append(id(arg) if _RECORD <= kind <= _TREE else arg)
        full = tuple(name)
        found = self._results.get(full)
        if found is None:
            found = self._results[full] = self._run(fn, args)
        if short and short != full:
            self._results[short] = (args, *found[1:])
        return found

    def _run(self, fn: Callable[..., Any], args: tuple[Any, ...]) -> _Result:
        was, self._inside = self._inside, True
        try:
            value = fn(*args)
        except Problem as problem:
            return args, None, problem.with_traceback(None)
        finally:
            self._inside = was
        if type(value) in ROOTS:
            self._made.setdefault(id(value), fn)
            self._ours.add(id(value))
        return args, value, None

    def _takes(self, tree: Any) -> bool:
        """Whether it is the first tree of its kind, or made from that."""
        first = self._trees.setdefault(type(tree), tree)
        self._ours.add(id(first))
        return first is tree or id(tree) in self._made

    def made_by(self, tree: Any, fn: Callable[..., Any]) -> bool:
        """Whether ``tree`` is the result of the query ``fn``."""
        return self._made.get(id(tree)) is fn

    def put(self, tree: Any) -> None:
        """Make ``tree`` the present one of its kind."""
        if not self._takes(tree):
            self._then(self).put(tree)

    def shown(self, tree: Any) -> Any:
        """A present tree as it is: nobody notes."""
        return tree

    def due(self, node: Node) -> bool:
        """Nothing has changed yet."""
        return False

    @contextmanager
    def noting(self, node: Node) -> Iterator[None]:
        """Nothing is noted."""
        yield


_PAIR = 2
_PLAIN, _LIST, _RECORD, _TREE, _STATE = range(5)
"""What stands for an argument: itself; by what it holds; its identity; a tree's identity; the state
itself, since one made on the way is the same question when it is alike."""
_ITEMS = (_LIST, _RECORD, _TREE)
"""A list of these goes by its own identity, any other by what it holds."""


class _Kinds(dict[type, int]):
    """How each type of argument is named, found once."""

    def __missing__(self, kind: type) -> int:
        if kind is tuple:
            found = _LIST
        elif kind in ROOTS:
            found = _TREE if ROOTS[kind] else _STATE
        else:
            found = _RECORD if issubclass(kind, msgspec.Struct | tuple | list | dict) else _PLAIN
        self[kind] = found
        return found


_KINDS = _Kinds()

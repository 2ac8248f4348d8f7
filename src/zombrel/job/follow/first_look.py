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


class FirstLook:
    """Stands in for an engine until a second tree of a kind comes along."""

    def __init__(self, apart: Callable[..., Any], then: Callable[[FirstLook], Engine]) -> None:
        self._apart = apart
        """Calls a function with another engine at work."""
        self._then = then
        """Puts an engine that takes notes in the place of this."""
        self._trees: dict[type, Any] = {}
        self._made: dict[int, Callable[..., Any]] = {}
        """Trees made by queries, by identity."""
        self._results: dict[Any, tuple[Any, Any, Problem | None]] = {}
        """With the arguments themselves, so that their identity stays their own."""
        self._inside = False

    def ask(self, fn: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        """The result of a query."""
        for arg in args:
            if type(arg) not in ROOTS:
                continue
            if not self._inside and not self._takes(arg):
                return self._then(self).ask(fn, args)
            if self._inside and ROOTS[type(arg)] and not self._has(arg):
                # a tree made on the way is nobody's present job
                return self._apart(fn, *args)
        key = (fn, *[_name(a) for a in args])
        found = self._results.get(key)
        if found is None:
            found = self._results[key] = (args, *self._run(fn, args))
            if type(found[1]) in ROOTS:
                self._made.setdefault(id(found[1]), fn)
        if found[2] is not None:
            raise found[2].with_traceback(None)
        return found[1]

    def _run(self, fn: Callable[..., Any], args: tuple[Any, ...]) -> tuple[Any, Problem | None]:
        was, self._inside = self._inside, True
        try:
            return fn(*args), None
        except Problem as problem:
            return None, problem.with_traceback(None)
        finally:
            self._inside = was

    def _has(self, tree: Any) -> bool:
        return self._trees.get(type(tree)) is tree or id(tree) in self._made

    def _takes(self, tree: Any) -> bool:
        """Whether it is the first tree of its kind, or made from that."""
        return self._trees.setdefault(type(tree), tree) is tree or id(tree) in self._made

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


def _name(arg: Any) -> Any:
    """What stands for an argument: plain values and names for themselves, records by identity."""
    kind = type(arg)
    if kind is tuple:
        return id(arg) if arg and _by_identity(type(arg[0])) else arg
    return id(arg) if _by_identity(kind) else arg


def _by_identity(kind: Any) -> bool:
    known = _KINDS.get(kind)
    if known is None:
        records = issubclass(kind, msgspec.Struct | tuple | list | dict)
        known = _KINDS[kind] = records and ROOTS.get(kind, True)
    return known


_KINDS: dict[type, bool] = {}

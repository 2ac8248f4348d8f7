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
        self._ours = _Ours()
        """Identities of those trees, and of what queries made of them."""
        self._named = _Names(self._ours)
        self._made: dict[int, Callable[..., Any]] = {}
        """Trees made by queries, by identity."""
        self._results: dict[Any, _Result] = {}
        """By the full name of a question."""
        self._said: dict[Any, Any] = {}
        """What came of those that have a short name, by that."""
        self._kept: list[tuple[Any, ...]] = []
        """Their arguments."""
        self._inside = False

    def ask(self, fn: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        """The result of a query."""
        # most are about the very same tree, with a name of a part at most
        short: Any = None
        if len(args) == 1:
            short = (fn, id(args[0]))
        elif len(args) == _PAIR and type(args[1]) is str:
            short = (fn, id(args[0]), args[1])
        value = self._said.get(short, _UNASKED)
        return self._looked_up(fn, args, short) if value is _UNASKED else value

    def _looked_up(self, fn: Callable[..., Any], args: tuple[Any, ...], short: Any) -> Any:
        """What is not found by the short name of a question."""
        if not self._inside:
            for arg in args:
                if type(arg) in ROOTS and not self._takes(arg):
                    return self._then(self).ask(fn, args)
        full = short
        if short is None or short[1] not in self._ours:  # else it says all there is to be said
            named = self._named
            try:
                full = (fn, *[named[type(arg)](arg) for arg in args])
            except _ElsewhereError:
                return self._apart(fn, *args)
        found = self._results.get(full)
        if found is None:
            found = self._results[full] = self._run(fn, args)
        if found[2] is not None:
            raise found[2].with_traceback(None)
        if short:
            self._said[short] = found[1]
            self._kept.append(args)
        return found[1]

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
            self._ours[id(value)] = id(value)
        return args, value, None

    def _takes(self, tree: Any) -> bool:
        """Whether it is the first tree of its kind, or made from that."""
        first = self._trees.setdefault(type(tree), tree)
        self._ours[id(first)] = id(first)
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


class _ElsewhereError(Exception):
    """A tree made on the way: it is nobody's present job."""


class _Ours(dict[int, int]):
    """Identities of the trees that are asked about, each under itself."""

    def __missing__(self, tree: int) -> int:
        raise _ElsewhereError


class _Names(dict[type, Callable[[Any], Any]]):
    """What stands for an argument in the name of a question, by its type; found once for each.

    A plain one stands for itself, a list of such too; any other list and a record for its identity;
    a tree for its own; the state for itself, since one made on the way is the same question when it
    is alike.
    """

    def __init__(self, ours: _Ours) -> None:
        self._ours = ours

    def __missing__(self, kind: type) -> Callable[[Any], Any]:
        found: Callable[[Any], Any] = _itself
        if kind in _PLAIN:
            found = kind  # which gives back what it is given
        elif kind is tuple:
            found = self._of_list
        elif kind in ROOTS:
            found = self._of_tree if ROOTS[kind] else _itself
        elif issubclass(kind, msgspec.Struct | tuple | list | dict):
            found = id
        self[kind] = found
        return found

    def _of_tree(self, tree: Any) -> int:
        return self._ours[id(tree)]

    def _of_list(self, items: tuple[Any, ...]) -> Any:
        if not items:
            return items
        kind = type(items[0])
        of_records = kind is tuple or self[kind] in (id, self._of_tree)
        return id(items) if of_records else items


def _itself(thing: Any) -> Any:
    return thing


_UNASKED = object()
_PAIR = 2
_PLAIN = (str, int, float, bool)

"""Remember results of pure functions by the identity of their frozen arguments."""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import ParamSpec, TypeVar

P = ParamSpec("P")
R = TypeVar("R")

LIMIT = 20000


def remembered(function: Callable[P, R]) -> Callable[P, R]:
    """Cache ``function`` on the ids of its positional arguments, all of them trees.

    Hashing a frozen tree walks all of it; its identity is enough, because an edit
    replaces exactly the parts it touches. The arguments are kept beside the result so
    that an id cannot be reused while it is in the table. The table is emptied when it
    has grown past ``LIMIT`` entries.
    """
    return remembered_with(0)(function)


def remembered_with(plain: int) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Like ``remembered``; the last ``plain`` arguments are numbers, compared by value."""

    def decorate(function: Callable[P, R]) -> Callable[P, R]:
        table: dict[tuple[object, ...], tuple[object, R]] = {}

        @functools.wraps(function)
        def lookup(*args: P.args, **kwargs: P.kwargs) -> R:
            key: tuple[object, ...]
            key = (*map(id, args[:-plain]), *args[-plain:]) if plain else tuple(map(id, args))
            hit = table.get(key)
            if hit is not None:
                return hit[1]
            result = function(*args, **kwargs)
            if len(table) >= LIMIT:
                table.clear()
            table[key] = (args, result)
            return result

        return lookup

    return decorate

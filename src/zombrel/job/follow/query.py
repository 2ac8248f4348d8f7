"""What follows from what: remembered results that notice when something they read has changed.

A function marked ``@query`` is run with views of the job and the state (``job.follow.view``), which
note every value it reads, and every other query it asks. After an edit only queries that read
something that changed run again; one whose result came out equal stops the wave there; a result
that no other query and no recent caller needs is dropped. Nothing is listed by hand. A job that is
looked at for the first time is read without notes (``job.follow.first_look``), until it changes or
``take_notes`` is called.

A query must be a pure function of what it reads. Its arguments may be views (they stand for the
place they look at), or plain values, which are part of its name.
"""

from __future__ import annotations

import functools
import threading
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from typing import Any, ParamSpec, TypeVar

from zombrel.job.follow.engine import Cell, Engine, Node
from zombrel.job.follow.first_look import FirstLook
from zombrel.job.follow.view import FINE, VIEWS, Notes, Ref, names

P = ParamSpec("P")
R = TypeVar("R")


def _apart(fn: Callable[..., Any], *args: Any) -> Any:
    with _at_work(_first_look()):
        return fn(*args)


def _first_look() -> FirstLook:
    return FirstLook(_apart, _instead)


def _instead(first: FirstLook) -> Engine:
    made = _WORK.engines[_WORK.engines.index(first)] = Engine(_apart)
    return made


class _Work(threading.local):
    """The engines of a thread, the one at work last: papers are made while the window goes on."""

    def __init__(self) -> None:
        self.engines: list[Engine | FirstLook] = [_first_look()]


_WORK = _Work()


def engine() -> Engine | FirstLook:
    """The engine at work."""
    return _WORK.engines[-1]


def takes_notes() -> bool:
    """Whether what is read is noted by now."""
    return not isinstance(_WORK.engines[-1], FirstLook)


def take_notes() -> None:
    """From now on note what is read, though nothing has changed yet."""
    if not takes_notes():
        _WORK.engines[-1] = Engine(_apart)


@contextmanager
def _at_work(now: Engine | FirstLook) -> Iterator[None]:
    _WORK.engines.append(now)
    try:
        yield
    finally:
        _WORK.engines.pop()


@contextmanager
def aside(fine: bool = False) -> Iterator[Engine]:
    """Work with an engine of one's own, that takes notes from the start.

    ``fine`` notes single fields of every record, where else a record is read as one value.
    """
    was, FINE.on = FINE.on, fine
    now = Engine(_apart)
    try:
        with _at_work(now):
            yield now
    finally:
        FINE.on = was


def forget() -> None:
    """Drop everything remembered."""
    _WORK.engines[-1] = _first_look()


def query(function: Callable[P, R]) -> Callable[P, R]:
    """Remember ``function`` for as long as nothing that it read has changed."""

    @functools.wraps(function)
    def asked(*args: Any) -> Any:  # by their order alone: they are part of a query's name
        return _WORK.engines[-1].ask(function, args)

    return asked  # type: ignore[return-value]


def chunks(items: Any, size: int) -> list[tuple[Any, ...]]:
    """The names of a list of records, so many at a time: fewer and larger queries.

    All at once as long as nothing is noted: then none of them will be asked a second time.
    """
    found = names(items)
    size = size if takes_notes() else max(1, len(found))
    return [found[i : i + size] for i in range(0, len(found), size)]


def made_for(cell: Any, asked: Callable[..., Any]) -> bool:
    """Whether ``cell`` holds a result of the query ``asked``."""
    return isinstance(cell, Node) and cell.fn is getattr(asked, "__wrapped__", asked)


def made_by(tree: Any, asked: Callable[..., Any]) -> bool:
    """Whether ``tree`` is, or is a view of, a whole result of the query ``asked``."""
    now = engine()
    if isinstance(now, FirstLook):
        return now.made_by(tree, getattr(asked, "__wrapped__", asked))
    return type(tree) in VIEWS and not tree._path and made_for(tree._cell, asked)


def reads(
    asked: Callable[..., Any],
    tree: Any,
    each: Iterable[tuple[Any, ...]],
    through: Callable[..., Any],
) -> list[dict[Cell, Notes]]:
    """What the query ``asked`` reads of ``through(tree)``, field by field, for each arguments."""
    with aside(fine=True) as now:
        now.ask(through.__wrapped__, (tree,))  # type: ignore[attr-defined]
        whole = now._fetched(through.__wrapped__, (now._place(tree),))  # type: ignore[attr-defined]
        place = Ref((whole, ()))
        bare = asked.__wrapped__  # type: ignore[attr-defined]
        return [now._fetched(bare, (place, *args)).notes for args in each]


class Watch:
    """Something that shows a job: due again once what it read while it was made has changed."""

    def __init__(self) -> None:
        self._node = Node(Watch, (), self)
        self._own: tuple[Any, ...] = ()
        self._engine: Engine | FirstLook | None = None

    def due(self, present: Iterable[Any], *own: Any) -> bool:
        """Whether it must be made anew for the ``present`` trees, or for what is its ``own``."""
        for tree in present:
            engine().put(tree)
        return self._engine is not engine() or self._own != own or engine().due(self._node)

    @contextmanager
    def making(self, *own: Any) -> Iterator[None]:
        """While it is made: what is read is noted."""
        self._own, self._engine = own, engine()
        with engine().noting(self._node):
            yield

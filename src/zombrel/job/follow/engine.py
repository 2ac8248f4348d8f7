"""The engine behind ``job.follow.query``: remembered results, what they read, and who needs them.

References:
    [1] Acar, Blelloch, Harper, *Adaptive functional programming*, POPL 2002.
    [2] Hammer et al., *Adapton: composable, demand-driven incremental computation*, PLDI 2014.
"""

from __future__ import annotations

from collections import OrderedDict, defaultdict
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from typing import Any

import msgspec

from zombrel.job.follow.view import (
    VIEWS,
    Notes,
    Path,
    Ref,
    changes,
    enter,
    next_age,
    parts,
    place_of,
    plain,
    same,
    settled,
    step_into,
)
from zombrel.job.problem import Problem

CLEAN, STALE, RUNNING = range(3)
TOPS = 200
"""Results asked for from outside that are kept without a user among the queries."""
FAILED: Path = ("!",)
"""Noted by whoever asks a query: that it gave a result, or a Problem."""
WHOLE: frozenset[Path] = frozenset({FAILED, (), ("@",), ("*",)})
"""What somebody notes who looks at a result as one value: no need to compare its parts."""
ROOTS: dict[type, bool] = {}
"""Kinds of record that are trees of their own; whether one met on the way is another world."""


class Cell:
    """A tree that is read: a root, or the result of a query."""

    __slots__ = ("fields", "users", "value")
    state = CLEAN

    def __init__(self, value: Any = None) -> None:
        self.value = value
        self.users: dict[Node, Notes] = {}
        """Who noted something of it, and what."""
        self.fields: defaultdict[Path, set[Node]] = defaultdict(set)
        """Who noted something of each field of a tree: a tree is noted by hundreds."""


class Node(Cell):
    """A query with its arguments, what it read and what came of it."""

    __slots__ = ("args", "error", "fn", "key", "notes", "state")

    def __init__(self, fn: Callable[..., Any], args: tuple[Any, ...], key: Any) -> None:
        super().__init__()
        self.fn, self.args, self.key = fn, args, key
        self.notes: dict[Cell, Notes] = {}
        self.state = STALE
        self.error: Problem | None = None


class Engine:
    """The trees at hand and every remembered result."""

    def __init__(self, apart: Callable[..., Any]) -> None:
        self.apart = apart
        """Calls a function with another engine at work."""
        self.roots: dict[type, Cell] = {}
        self.made: dict[type, Node] = {}
        """The last query whose result is such a tree itself."""
        self.nodes: dict[Any, Node] = {}
        self.doubtful: set[Any] = set()
        """What must run again, and all that rests on it: those clean by their state, perhaps."""
        self.frames: list[dict[Cell, Notes]] = []
        self.runs = 0
        """Queries run so far."""
        self._tops: OrderedDict[Any, Node] = OrderedDict()
        self._places: tuple[Any, dict[int, Path]] = (None, {})

    def ask(self, fn: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        """The result of a query: to another query as a view, to anybody else as it is."""
        if not self.frames:
            return self._from_outside(fn, args)
        named = []
        for arg in args:
            kind = type(arg)
            if ROOTS.get(kind):
                # a tree made on the way is nobody's present job: its queries have their own engine
                return self.apart(fn, *map(plain, args))
            named.append(place_of(arg) if kind in VIEWS else arg)
        node = self._fetched(fn, tuple(named))
        notes = self.frames[-1].setdefault(node, {})
        notes[FAILED] = node.error is not None
        if node.error is not None:
            raise node.error.with_traceback(None)
        return enter(node.value, (), notes, node)

    def _from_outside(self, fn: Callable[..., Any], args: tuple[Any, ...]) -> Any:
        for arg in args:
            if type(arg) in ROOTS and not self._is_made(arg):
                self.put(arg)
        named = tuple([self._place(a) for a in args])
        if not any(type(a) is Ref for a in named):
            return fn(*args)
        node = self._fetched(fn, named)
        self._tops[node.key] = node
        self._tops.move_to_end(node.key)
        while len(self._tops) > TOPS:
            self._release(self._tops.popitem(last=False)[1])
        if node.error is not None:
            raise node.error.with_traceback(None)
        return node.value

    def _place(self, arg: Any) -> Any:
        """Where a part that came from outside lies in the present trees; else the part itself."""
        if type(arg) in ROOTS:
            kind = type(arg)
            return Ref((self.made[kind] if self._is_made(arg) else self.roots[kind], ()))
        if not isinstance(arg, msgspec.Struct | tuple) or not arg:
            return arg
        for cell in self.roots.values():
            if self._places[0] is not cell.value:
                self._places = (cell.value, dict(parts(cell.value)))
            path = self._places[1].get(id(arg))
            if path is not None:
                return Ref((cell, path))
        return arg

    def _is_made(self, tree: Any) -> bool:
        made = self.made.get(type(tree))
        root = self.roots.get(type(tree))
        if made is None or made.value is not tree or (root is not None and root.value is tree):
            return False
        # what was made of an earlier root, and is that root itself, comes as a root again
        return made.state == CLEAN and made not in self.doubtful

    def put(self, tree: Any) -> None:
        """Make ``tree`` the present one of its kind."""
        cell = self.roots.setdefault(type(tree), Cell())
        if cell.value is not tree:
            moved: set[Path] = set()
            changes(cell.value, tree, (), moved)
            cell.value = tree
            next_age()
            self._mark(cell, moved)

    def _fetched(self, fn: Callable[..., Any], args: tuple[Any, ...]) -> Node:
        key: Any = (fn, args)
        try:
            node = self.nodes.get(key)
        except TypeError:
            key = (fn, tuple([a if type(a) is Ref else id(a) for a in args]))
            node = self.nodes.get(key)
        if node is None:
            node = self.nodes[key] = Node(fn, args, key)
        self._fresh(node)
        return node

    def _fresh(self, node: Node) -> None:
        if self.due(node):
            self._run(node)

    def due(self, node: Node) -> bool:
        """Whether anything a node noted has changed since."""
        doubtful = self.doubtful
        if node.state or node not in doubtful:
            return node.state != CLEAN
        cells: Any = list(filter(doubtful.__contains__, node.notes))
        try:
            for cell in cells:
                if not cell.state and doubtful.isdisjoint(cell.notes):
                    doubtful.discard(cell)  # nothing is left by which it could have changed
                elif self.due(cell):
                    self._run(cell)
                if node.state:  # it, or one that it asked
                    return True
        except (KeyError, AttributeError):  # what it looked at is gone: ask anew
            node.state = STALE
            return True
        doubtful.discard(node)
        return False

    @contextmanager
    def noting(self, node: Node) -> Iterator[None]:
        """What is read until the end becomes what ``node`` stands on."""
        notes: dict[Cell, Notes] = {}
        self.frames.append(notes)
        try:
            yield
        finally:
            self.frames.pop()
        self._noted(node, notes)

    def shown(self, tree: Any) -> Any:
        """A present tree as whoever notes should see it: as a view; else as it is."""
        if not self.frames:
            return tree
        self.put(tree)
        cell = self.roots[type(tree)]
        return enter(cell.value, (), self.frames[-1].setdefault(cell, {}), cell)

    def _run(self, node: Node) -> None:
        if node.state == RUNNING:
            raise RuntimeError(f"{node.fn.__name__} asks for itself")
        self.runs += 1
        notes: dict[Cell, Notes] = {}
        node.state = RUNNING
        self.frames.append(notes)
        error, value = None, None
        try:
            value = settled(node.fn(*[self._open(a, notes) for a in node.args]))
        except Problem as problem:
            error = problem.with_traceback(None)
        except BaseException:
            node.state = STALE
            raise
        finally:
            self.frames.pop()
        moved: set[Path] = set()
        if (error is None) is not (node.error is None) or str(error) != str(node.error):
            moved.add(FAILED)
        if not node.users:
            moved.update(() if same(node.value, value) else [()])
        elif all(noted.keys() <= WHOLE for noted in node.users.values()):
            moved.update(() if same(node.value, value) else WHOLE - {FAILED})
        else:
            changes(node.value, value, (), moved)
        if moved:
            node.value, node.error = value, error
        if type(value) in ROOTS:
            self.made[type(value)] = node
        self._noted(node, notes)
        self._mark(node, moved)

    def _open(self, arg: Any, notes: dict[Cell, Notes]) -> Any:
        if type(arg) is not Ref:
            return arg
        cell, path = arg
        if isinstance(cell, Node):
            self._fresh(cell)
        value = cell.value
        for step in path:
            value = step_into(value, step)
        return enter(value, path, notes.setdefault(cell, {}), cell)

    def _mark(self, cell: Cell, moved: set[Path]) -> None:
        """Who noted what has moved must run again; who uses those, perhaps."""
        if not moved:
            return
        users: Iterable[Node] = cell.users
        if cell.fields:
            users = set[Node]().union(*[cell.fields[path[:1]] for path in moved])
        for node in [n for n in users if not cell.users[n].keys().isdisjoint(moved)]:
            if node.state == CLEAN:
                node.state = STALE
                self._doubt(node)

    def _doubt(self, node: Node) -> None:
        users = {node}
        while users:
            self.doubtful |= users
            users = set[Any]().union(*[user.users for user in users]) - self.doubtful

    def _noted(self, node: Node, notes: dict[Cell, Notes]) -> None:
        """A node stands on this now."""
        before, node.notes, node.state = node.notes, notes, CLEAN
        self.doubtful.discard(node)
        for cell, noted in notes.items():
            cell.users[node] = noted
            for field in {path[:1] for path in noted} if type(cell.value) in ROOTS else ():
                cell.fields[field].add(node)
        self._left(node, [c for c in before if c not in notes])

    def _left(self, node: Node, cells: Iterable[Cell]) -> None:
        """A node stands on these no longer."""
        for cell in cells:
            cell.users.pop(node, None)
            for users in cell.fields.values():
                users.discard(node)
            self._release(cell)

    def _release(self, cell: Cell) -> None:
        """Drop a result that nobody needs, and what only it needed."""
        if isinstance(cell, Node) and not cell.users and cell.key not in self._tops:
            if self.nodes.get(cell.key) is cell:
                del self.nodes[cell.key]
            before, cell.notes, cell.state = cell.notes, {}, STALE
            self.doubtful.discard(cell)
            self._left(cell, before)

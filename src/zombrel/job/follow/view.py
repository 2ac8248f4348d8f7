"""Views of a frozen tree that note what is read of it.

A view stands for a record, a list of records with ids, or a table, and hands out what it holds:
plain values as they are, parts as views again. Each thing read is noted under its path, so that
whoever looked can be told when just that has changed. A view answers ``isinstance`` and pattern
matching as what it stands for; ``plain`` gives the real thing and notes all of it as read.

Notes end in a mark where they are about more than one value: ``@`` the kind of a part (or that
there is none), ``#`` which items a list has in which order, ``*`` everything below.
"""

from __future__ import annotations

import itertools
import operator
import threading
import types
from collections.abc import Hashable, Iterable, Iterator
from typing import Any, TypeVar

import msgspec

from zombrel.job.value import Value

Path = tuple[Hashable, ...]
Notes = dict[Path, Any]
T = TypeVar("T")

KEYS = ("id", "pin", "n")
"""Fields that name an item of a list, the first that it has."""
OPEN: set[type] = set()
"""Records that are read field by field; any other is read as one value."""


class _Fine(threading.local):
    """Whether this thread reads every record field by field, but for those of ``SMALL`` size."""

    on = False


FINE = _Fine()
SMALL = 2
PLAIN = frozenset({float, int, str, bool, type(None)})
Keyed = tuple[dict[Any, Any], tuple[Any, ...]]
_AGES: list[dict[int, tuple[Any, Keyed | None]]] = [{}, {}]
"""Lists by identity, in this age and the last: what neither asked for is let go."""


def next_age() -> None:
    """Let go of lists that were not looked into since the last call but one."""
    _AGES[:] = [{}, _AGES[0]]


def keyed(items: tuple[Any, ...]) -> Keyed | None:
    """(items by name, names) of a list of records that all have names of their own."""
    found = _AGES[0].get(id(items))
    if found is None:
        if not items or not _is_part(type(items[0])):
            return None
        found = _AGES[1].get(id(items))
        if found is None:
            # with the list itself, so that its identity stays its own
            found = (items, _by_name(items))
        _AGES[0][id(items)] = found
    return found[1]


def _is_part(kind: type) -> bool:
    """Whether it is a record that a job is made of; what is worked out is noted as a whole."""
    return issubclass(kind, msgspec.Struct) and not issubclass(kind, Value)


def _name(item: Any) -> Any:
    return next((getattr(item, k) for k in KEYS if k in item.__struct_fields__), None)


def _by_name(items: tuple[Any, ...]) -> Keyed | None:
    name = next((k for k in KEYS if k in items[0].__struct_fields__), None)
    if name is None:
        return None
    by = dict(zip(map(operator.attrgetter(name), items), items, strict=True))
    return (by, tuple(by)) if len(by) == len(items) else None


def shape(value: Any) -> type | None:
    """What a value is walked as: its record type, ``tuple`` or ``dict``; None for a leaf."""
    kind = type(value)
    if kind in OPEN or kind is dict:
        return kind
    return _walked(value) if kind is tuple or FINE.on else None


def _walked(value: Any) -> type | None:
    """The shape of a value where every record is read field by field."""
    kind = type(value)
    if kind is tuple:
        return tuple if value and keyed(value) is not None else None
    large = _is_part(kind) and len(kind.__struct_fields__) > SMALL
    return kind if large or kind is dict else None


def step_into(value: Any, step: Hashable) -> Any:
    """The part of a raw value one step down."""
    if isinstance(value, msgspec.Struct):
        return getattr(value, str(step))
    found = keyed(value) if type(value) is tuple else None
    return found[0][step] if found is not None else value[step]


def enter(value: Any, path: Path, notes: Notes, cell: Any) -> Any:
    """The view of a value, or the value itself when it is a leaf; noted as read."""
    kind = shape(value)
    if kind is None:
        notes[path] = value
        return value
    notes[(*path, "@")] = kind
    if kind is tuple:
        return Rows(value, path, notes, cell)
    return Table(value, path, notes, cell) if kind is dict else View(value, path, notes, cell)


class _Looked:
    """What every view has: the real thing, its path, where reads are noted, whose tree it is."""

    __slots__ = ("_cell", "_notes", "_path", "_raw", "_ref")

    def __init__(self, raw: Any, path: Path, notes: Notes, cell: Any) -> None:
        self._raw, self._path, self._notes, self._cell = raw, path, notes, cell
        self._ref: Any = None
        """The place it looks at, once somebody has asked for it."""

    @property  # type: ignore[misc]
    def __class__(self) -> Any:
        return type(self._raw)

    def __eq__(self, other: object) -> bool:
        return bool(plain(self) == plain(other))

    def __hash__(self) -> int:
        return hash(plain(self))

    def __repr__(self) -> str:
        return f"view of {self._raw!r}"


class _Fields(dict[type, frozenset[str]]):
    """The fields of each kind of record, for quick look-up."""

    def __missing__(self, kind: Any) -> frozenset[str]:
        found = self[kind] = frozenset(kind.__struct_fields__)
        return found


_FIELDS = _Fields()


class View(_Looked):
    """A record. What has been read once is kept in ``__dict__``, at the speed of any object."""

    __slots__ = ("__dict__",)

    def __getattr__(self, name: str) -> Any:
        raw = self._raw
        if name in _FIELDS[type(raw)]:
            made = getattr(raw, name)
            path = (*self._path, name)
            if type(made) in PLAIN:
                self._notes[path] = made
            else:
                made = enter(made, path, self._notes, self._cell)
        else:
            made = getattr(type(raw), name)
            if isinstance(made, property):
                made = made.fget(self)  # type: ignore[misc]
            elif isinstance(made, types.FunctionType):
                made = types.MethodType(made, self)
            else:
                return made
        self.__dict__[name] = made
        return made

    def _part(self, step: Hashable) -> Any:
        return getattr(self, str(step))

    def __bool__(self) -> bool:
        return True


class _Many(_Looked):
    """Things under names: a list or a mapping."""

    __slots__ = ("_by", "_made")

    def __init__(self, raw: Any, path: Path, notes: Notes, cell: Any) -> None:
        self._raw, self._path, self._notes, self._cell = raw, path, notes, cell
        self._ref = None
        found = keyed(raw) if type(raw) is tuple else None
        self._by: dict[Any, Any] = found[0] if found is not None else raw
        self._made: dict[Any, Any] = {}

    def _part(self, step: Hashable) -> Any:
        """The item called ``step``; KeyError, noted too, when there is none."""
        made = self._made.get(step, self)
        if made is self:
            path = (*self._path, step)
            if step not in self._by:
                self._notes[(*path, "@")] = KeyError
                raise KeyError(step)
            made = self._made[step] = enter(self._by[step], path, self._notes, self._cell)
        return made

    def get(self, key: Hashable, default: Any = None) -> Any:
        """The item with this key."""
        try:
            return self._part(key)
        except KeyError:
            return default

    def _names(self) -> tuple[Any, ...]:
        names = tuple(self._by)
        self._notes[(*self._path, "#")] = names
        return names

    def __len__(self) -> int:
        return len(self._names())


class Rows(_Many):
    """A list of records that have names. Records that are read as one value are so together."""

    __slots__ = ()

    def __iter__(self) -> Iterator[Any]:
        if shape(self._raw[0]) is None:
            return iter(plain(self))
        return iter([self._part(name) for name in self._names()])

    def __getitem__(self, at: Any) -> Any:
        return tuple(self)[at]

    def __contains__(self, item: object) -> bool:
        return plain(item) in plain(self)

    def index(self, item: object) -> int:
        """Where an item stands."""
        return plain(self).index(plain(item))

    def __add__(self, other: Any) -> Any:
        return (*self, *other)


class Table(_Many):
    """A mapping."""

    __slots__ = ()

    def __iter__(self) -> Iterator[Any]:
        return iter(self._names())

    def __getitem__(self, key: Hashable) -> Any:
        return self._part(key)

    def __contains__(self, key: Hashable) -> bool:
        return self.get(key, KeyError) is not KeyError

    def keys(self) -> tuple[Any, ...]:
        """The keys."""
        return self._names()

    def values(self) -> list[Any]:
        """The values."""
        return [self._part(name) for name in self._names()]

    def items(self) -> list[tuple[Any, Any]]:
        """Keys and values."""
        return [(name, self._part(name)) for name in self._names()]


class Ref(tuple[Any, Path]):
    """The place a view looks at: whose tree, and where in it."""

    __slots__ = ()


def place_of(view: Any) -> Ref:
    """The place a view looks at."""
    if view._ref is None:
        view._ref = Ref((view._cell, view._path))
    return view._ref  # type: ignore[no-any-return]


VIEWS = (View, Rows, Table)
_MARKS = ("@", "#", "*")


def look(tree: Any, path: Path) -> Any:
    """What would be noted field by field at ``path`` of a view; KeyError where there is nothing."""
    *steps, last = path or ("*",)
    if last not in _MARKS:
        steps, last = [*steps, last], "*"
    try:
        for step in steps:
            tree = tree._part(step) if type(tree) in VIEWS else step_into(tree, step)
    except (KeyError, AttributeError, TypeError):
        return KeyError
    if last == "#" and type(tree) in VIEWS:
        return tree._names()
    raw = plain(tree) if last == "*" or type(tree) not in VIEWS else tree._raw
    if last == "*":
        return raw
    if last == "#":
        found = keyed(raw) if type(raw) is tuple else None
        return tuple(raw) if type(raw) is dict else found[1] if found is not None else ()
    return _walked(raw)


def plain(value: T) -> T:
    """The real thing behind a view, all of it noted as read; anything else as it is."""
    if type(value) in VIEWS:
        value._notes[(*value._path, "*")] = value._raw  # type: ignore[attr-defined]
        return value._raw  # type: ignore[attr-defined,no-any-return]
    return value


def by_name(items: Any) -> Any:
    """A list of records as a mapping by name; a view notes only the names asked for."""
    known = _AGES[0].get(id(items))  # what ``keyed`` would find, and most of what is asked
    if known is not None and known[1] is not None:
        return known[1][0]
    if type(items) is Rows:
        found = Table(items._raw, items._path, items._notes, items._cell)
        found._by, found._made = items._by, items._made
        return found
    by = keyed(items)
    if by is not None:
        return by[0]
    # names that are there twice: the first counts
    return {_name(item): item for item in reversed(items)}


def names(items: Any) -> tuple[Any, ...]:
    """The names of a list of records, in their order."""
    return items._names() if type(items) is Rows else tuple(by_name(items))


def settled(value: Any) -> Any:
    """A result without views in it: they may not outlive the look they were made for."""
    kind = type(value)
    if kind in _LEAVES:
        return value
    if kind in VIEWS:
        return plain(value)
    if kind is dict:
        return {k: settled(v) for k, v in value.items()} if _holds(value.values()) else value
    if kind is tuple or kind is list:
        return kind(map(settled, value)) if _holds(value) else value
    held: tuple[Any, ...] = ()
    if isinstance(value, tuple):
        held = value
    elif isinstance(value, Value):
        held = msgspec.structs.astuple(value)
    return kind(*map(settled, held)) if held and _holds(held) else value


def _holds(values: Iterable[Any]) -> bool:
    """Whether one of some values may be a view, or hold one."""
    for kind in set(map(type, values)) - _LEAVES:
        if not _is_part(kind):
            return True
        _LEAVES.add(kind)
    return False


_LEAVES: set[type] = set(PLAIN)
"""Types of values that hold no view, as far as they have been met."""


def same(old: Any, new: Any) -> bool:
    """Whether two leaves are alike; what cannot be compared is not."""
    if old is new:
        return True
    try:
        return type(old) is type(new) and bool(old == new)
    except (ValueError, TypeError):
        return False


def changes(old: Any, new: Any, path: Path, out: set[Path]) -> bool:
    """Add to ``out`` every note that no longer holds after ``old`` became ``new``."""
    if old is new:
        return False
    kind = shape(old)
    if kind is not shape(new):
        out.update((path, (*path, "@"), (*path, "#"), (*path, "*")))
        return True
    if kind is None:
        if same(old, new):
            return False
        out.add(path)
        return True
    if kind is tuple or kind is dict:
        changed = _items(old, new, kind, path, out)
    elif same(old, new):
        return False
    else:
        changed = _fields(old, new, kind.__struct_fields__, path, out)  # type: ignore[attr-defined]
    if changed:
        out.add((*path, "*"))
    return changed


def _fields(old: Any, new: Any, names: tuple[str, ...], path: Path, out: set[Path]) -> bool:
    """``changes`` of the fields of a record; every one is looked at, for its notes."""
    changed = False
    for name in names:
        before, after = getattr(old, name), getattr(new, name)
        if before is after:
            continue
        if type(before) in PLAIN and type(before) is type(after):
            if before != after:
                out.add((*path, name))
                changed = True
        elif changes(before, after, (*path, name), out):
            changed = True
    return changed


def _items(old: Any, new: Any, kind: type, path: Path, out: set[Path]) -> bool:
    """``changes`` of the items of a list or mapping."""
    before, after = (keyed(old)[0], keyed(new)[0]) if kind is tuple else (old, new)  # type: ignore[index]
    changed = tuple(before) != tuple(after)
    if changed:
        out.add((*path, "#"))
        for name in before.keys() ^ after.keys():
            out.update(((*path, name), (*path, name, "@"), (*path, name, "#")))
        held = [name for name in before if name in after]  # what is gone has been noted above
        moved = [name for name in held if before[name] is not after[name]]
    else:  # the usual edit: side by side, for lists are long
        apart = map(operator.is_not, before.values(), after.values())
        moved = list(itertools.compress(before, apart))
    for name in moved:
        changed |= changes(before[name], after[name], (*path, name), out)
    return changed


def parts(tree: Any) -> Iterator[tuple[int, Path]]:
    """(identity, path) of the fields of a tree and of the items of its lists."""
    for name in tree.__struct_fields__:
        value = getattr(tree, name)
        if isinstance(value, msgspec.Struct | tuple) and value:
            yield id(value), (name,)
        for item in value if isinstance(value, tuple) else ():
            key = getattr(item, "id", None)
            if key is not None:
                yield id(item), (name, key)

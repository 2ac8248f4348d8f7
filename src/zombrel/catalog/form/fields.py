"""The fields of a record: made from its type, so that none can be forgotten.

``fields`` lists what a form shows of one record, ``put`` changes one place in it and has the whole
checked by its type. Records inside records are reached by a path: ``("inputs", 0, "pin")``.
"""

from __future__ import annotations

import functools
from typing import Any, Literal, TypeVar

import msgspec
from msgspec import inspect

from zombrel.catalog.form.applies import applies
from zombrel.catalog.form.words import BLOCKS, WORDS, Say, in_order, say
from zombrel.job.edits import plain
from zombrel.job.facts import VEHICLE
from zombrel.job.figures import FIGURES
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.value import Value

Path = tuple[str | int, ...]
How = Literal[
    "text",
    "lines",
    "figure",
    "whole",
    "yes",
    "choice",
    "choices",
    "pairs",
    "named",
    "spots",
    "list",
    "rows",
    "block",
]
"""How a field is filled in."""
R = TypeVar("R", bound=msgspec.Struct)


class Shape(Value, frozen=True):
    """What the type of a field says of it."""

    how: How
    choices: tuple[str, ...] = ()
    """Values of a choice; tags of a block, the empty one first where there may be none."""
    kinds: tuple[type, ...] = ()
    """Records that a block or a row can be."""
    may_lack: bool = False
    whole: bool = False
    """A list of whole numbers; of words when ``words``."""
    words: bool = False


class Field(Value, frozen=True):
    """One field as it stands in a record."""

    path: Path
    name: str
    owner: str
    """Class of the record it is in."""
    shape: Shape
    say: Say
    value: Any
    usual: bool
    """It stands at its default."""
    of: str
    """Quantity that pairs and ends are about; empty where there is none."""

    @property
    def unsaid(self) -> bool:
        """A verdict hangs on it and nobody has said it."""
        return self.say.decides and self.usual


def fields(record: msgspec.Struct, path: Path = (), of: str = "") -> tuple[Field, ...]:
    """The fields of ``record`` that apply to it as it stands, in the order of its words.

    ``path`` leads to it from the record that is edited; ``of`` is the quantity it is about.
    A field that does not apply is shown all the same when it stands at anything but its default.
    """
    kind: type[Any] = type(record)
    owner = kind.__name__
    found = []
    shapes, defaults = shapes_of(kind), _defaults(kind)  # type: ignore[arg-type]
    of = getattr(record, "quantity", of)
    for name in in_order(owner, tuple(shapes)):
        words, shape = say(owner, name), shapes[name]
        assert words is not None  # it is in the table
        value = getattr(record, name)
        usual = name in defaults and value == defaults[name]
        idle = usual or (name == "waveforms" and value == ("level",))
        if idle and not applies(record, name):
            continue
        found.append(Field((*path, name), name, owner, shape, words, value, usual, of))
    return tuple(found)


def unsaid(record: msgspec.Struct) -> tuple[str, ...]:
    """Labels of what decides a verdict in ``record`` and is not said."""
    return tuple([f.say.label for f in fields(record) if f.unsaid])


def choice_words(field: Field) -> tuple[tuple[str, str], ...]:
    """(value, words) of what a field can be chosen from."""
    if field.shape.how == "block":
        order = list(BLOCKS).index
        return tuple((tag, BLOCKS[tag]) for tag in sorted(field.shape.choices, key=order))
    table = WORDS.get(field.name, {})
    values = (
        sorted(field.shape.choices, key=list(table).index)
        if _whole(field)
        else (field.shape.choices)
    )
    return tuple((value, table.get(value, value) or field.say.unsaid) for value in values)


def _whole(field: Field) -> bool:
    """Whether every value has its words, whose order then is the order to choose in."""
    return set(field.shape.choices) <= set(WORDS.get(field.name, {}))


def tag_of(value: object) -> str:
    """What a block is called in a file; empty for none."""
    return str(value.__struct_config__.tag) if isinstance(value, msgspec.Struct) else ""


def at(record: Any, path: Path) -> Any:
    """What stands at ``path`` in ``record``."""
    for step in path:
        record = getattr(record, step) if isinstance(step, str) else record[step]
    return record


def put(record: R, path: Path, value: object) -> R:
    """``record`` with ``value`` at ``path``, checked by its type as a whole.

    Raises:
        Problem: the type does not take it; the sentence names the field.
    """
    changed = _put(record, path, value)
    try:
        return msgspec.convert(msgspec.to_builtins(changed), type(record))
    except msgspec.ValidationError as error:
        raise Problem(plain(str(error))) from error


def _put(record: Any, path: Path, value: object) -> Any:
    if not path:
        return value
    first, *rest = path
    if isinstance(first, str):
        inner = _put(getattr(record, first), tuple(rest), value)
        return msgspec.structs.replace(record, **{first: inner})
    rows = list(record)
    rows[first] = _put(rows[first], tuple(rest), value)
    return tuple(rows)


def without(record: R, path: Path) -> R:
    """``record`` without the row at ``path``.

    Raises:
        Problem: so few are not allowed.
    """
    *where, n = path
    rows = at(record, tuple(where))
    return put(record, tuple(where), tuple(r for i, r in enumerate(rows) if i != n))


# ---- what a type says


_KNOWN = {
    "HouseFigure": {"id": Shape("choice", tuple(n for n, f in FIGURES.items() if f.shop))},
    "Need": {"fact": Shape("choice", tuple(f.path.partition(".")[2] for f in VEHICLE))},
}
"""Names that are one of a list which their type does not know."""


@functools.cache
def shapes_of(kind: type) -> dict[str, Shape]:
    """How each field of a class of records is filled in."""
    info = inspect.type_info(kind)
    assert isinstance(info, inspect.StructType)  # only records are asked
    known = _KNOWN.get(kind.__name__, {})
    return {f.name: known.get(f.name) or _shape(f.type) for f in info.fields}


@functools.cache
def _defaults(kind: type) -> dict[str, Any]:
    return {
        f.name: f.default
        for f in msgspec.structs.fields(kind)
        if f.default is not msgspec.NODEFAULT
    }


def _shape(kind: inspect.Type) -> Shape:
    if isinstance(kind, inspect.UnionType):
        return _union(kind)
    if isinstance(kind, inspect.VarTupleType):
        return _many(kind.item_type)
    simple: dict[type, How] = {
        inspect.StrType: "text",
        inspect.IntType: "whole",
        inspect.FloatType: "figure",
        inspect.BoolType: "yes",
    }
    if isinstance(kind, inspect.LiteralType):
        return Shape("choice", tuple(str(v) for v in kind.values))
    return Shape(simple[type(kind)])


def _union(kind: inspect.UnionType) -> Shape:
    some = [t for t in kind.types if not isinstance(t, inspect.NoneType)]
    may_lack = len(some) < len(kind.types)
    if not isinstance(some[0], inspect.StructType):
        return _shape(some[0]).but(may_lack=may_lack)
    kinds = tuple(t.cls for t in some if isinstance(t, inspect.StructType))
    tags = tuple(str(k.__struct_config__.tag) for k in kinds)
    return Shape("block", ("", *tags) if may_lack else tags, kinds, may_lack)


def _many(item: inspect.Type) -> Shape:
    if isinstance(item, inspect.StructType):
        return Shape("rows", kinds=(item.cls,))
    if isinstance(item, inspect.LiteralType):
        return Shape("choices", tuple(str(v) for v in item.values))
    if isinstance(item, inspect.TupleType):
        return _tuples(item.item_types)
    whole, words = isinstance(item, inspect.IntType), isinstance(item, inspect.StrType)
    if words and (item.max_length or 0) > LINE:  # type: ignore[attr-defined]
        return Shape("lines", words=True)
    return Shape("list", whole=whole, words=words)


def _tuples(parts: tuple[inspect.Type, ...]) -> Shape:
    if len(parts) > 2:  # noqa: PLR2004 - a number, and where it lies
        return Shape("spots")
    if isinstance(parts[0], inspect.FloatType):
        return Shape("pairs")
    return Shape("named", words=isinstance(parts[1], inspect.StrType))


LINE = 80
"""Longer words stand in a line each."""


def group_of(quantity: str) -> str:
    """Rate, sensed or contact; empty for what is no quantity."""
    found = QUANTITIES.get(quantity)  # type: ignore[call-overload]
    return found.group if found is not None else ""

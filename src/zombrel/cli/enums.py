"""The toolkit's enumerations, put together in one go.

Until there is a window PySide6 makes some 180 of them, with 2800 members, by the functional call of
``enum``, which takes an eighth of the start: it tries each class for what its author may have
written into it, and turns one member after the other. These are names with numbers and no more. So
one empty class of each base is made as ever, the others are copies of it, and are filled. What
comes of it is the same, to the last attribute that differs from class to class.

It leans on how Python 3.11 keeps an enumeration; other versions make theirs as they do.
"""

from __future__ import annotations

import enum
import functools
import sys
from typing import Any

KNOWN = (3, 11)
"""The Python whose enumerations are known."""
Names = list[tuple[str, int]]


def at_once() -> None:
    """From now on in this process; whatever is not names with numbers is made as ever."""
    if sys.version_info[:2] != KNOWN:
        return
    own: Any = enum.EnumMeta._create_  # type: ignore[attr-defined]
    if getattr(own, "at_once", False):
        return

    def create(base: Any, name: str, names: Any, **more: Any) -> Any:
        if more == TOOLKIT and base in _BASES and _plain(base, names):
            return _filled(_copied(base, name), names)
        return own(base, name, names, **more)

    create.at_once = True  # type: ignore[attr-defined]
    enum.EnumMeta._create_ = create  # type: ignore[attr-defined]


TOOLKIT = {
    "module": None,
    "qualname": None,
    "type": None,
    "start": 1,
    "boundary": enum.KEEP,
}
"""How the toolkit asks; it names module and place itself, once it has the class."""
_BASES = (enum.Enum, enum.Flag, enum.IntEnum, enum.IntFlag)


def _plain(base: Any, names: Any) -> bool:
    """Whether they are names with numbers, each once, and none means something to the base."""
    return (
        type(names) is list
        and {(type(n), len(n)) for n in names} <= {(tuple, 2)}
        and all(type(k) is str and k[:1] != "_" and type(v) is int for k, v in names)
        and len(dict(names)) == len(names)
        and _taken(base).isdisjoint(dict(names))
    )


@functools.cache
def _taken(base: Any) -> frozenset[str]:
    return frozenset(name for cls in (*base.__mro__, enum.EnumMeta, type) for name in vars(cls))


@functools.cache
def _empty(base: Any) -> dict[str, Any]:
    """What a class of that base holds before it has members."""
    made: Any = base("Empty", (), boundary=enum.KEEP, module=__name__)
    return dict(vars(made))


def _copied(base: Any, name: str) -> Any:
    fresh = {k: type(v)() for k, v in _empty(base).items() if type(v) in (dict, list)}
    made: Any = type.__new__(enum.EnumMeta, name, (base,), {**_empty(base), **fresh})
    made.__new__ = enum.Enum.__new__  # as a plain function, which a new class wraps
    return made


def _filled(made: Any, names: Names) -> Any:
    """With its members; a second name of a number is another name of the same member."""
    new, asks = made._new_member_, made._use_args_
    order, by_name, by_value = made._member_names_, made._member_map_, made._value2member_map_
    flags = issubclass(made, enum.Flag)
    mask = bits = 0
    for name, value in names:
        single = value != 0 and value & (value - 1) == 0
        if flags:
            mask |= value
            bits |= value if single else 0
        member = by_value.get(value)
        if member is None:
            member = by_value[value] = new(made, value) if asks else new(made)
            member._value_, member._name_, member.__objclass__ = value, name, made
            member._sort_order_ = len(order)
            if single or not flags:
                order.append(name)
        by_name[name] = member
        type.__setattr__(made, name, member)
    if flags:
        made._flag_mask_, made._singles_mask_ = mask, bits
        made._all_bits_ = 2 ** mask.bit_length() - 1
        listed = [by_name[name]._value_ for name in order]
        if listed != sorted(listed):
            made._iter_member_ = made._iter_member_by_def_
    return made

"""Where the numbers of something stand, and the same with another number there."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import msgspec

DEEPEST = 5
FEW = 3
"""So many of the things in a list are gone through."""
Slot = tuple[str | int, ...]


def slots(value: Any, deep: int = DEEPEST) -> Iterator[Slot]:
    """Where the numbers of something stand."""
    if type(value) in (int, float):
        yield ()
    elif deep and isinstance(value, msgspec.Struct):
        for field in value.__struct_fields__:
            yield from ((field, *rest) for rest in slots(getattr(value, field), deep - 1))
    elif deep and type(value) is tuple:
        for i, item in enumerate(value[:FEW]):
            yield from ((i, *rest) for rest in slots(item, deep - 1))
    elif deep and hasattr(value, "raw"):
        yield from (("raw", *rest) for rest in slots(value.raw, deep))


def at(value: Any, slot: Slot) -> Any:
    """The number there."""
    for step in slot:
        value = value[step] if isinstance(step, int) else getattr(value, step)
    return value


def put(value: Any, slot: Slot, number: float) -> Any:
    """The same with another number there."""
    if not slot:
        return number
    step, rest = slot[0], slot[1:]
    if isinstance(step, int):
        return (*value[:step], put(value[step], rest, number), *value[step + 1 :])
    if isinstance(value, msgspec.Struct):
        return msgspec.structs.replace(value, **{step: put(getattr(value, step), rest, number)})
    return type(value)(put(value.raw, rest, number), value.state)

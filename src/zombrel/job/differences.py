"""What differs between two jobs, in words."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

import msgspec

from zombrel.job.edits import Many, Put
from zombrel.job.facts import BASELINE, JOB, POWER, VEHICLE, name_of
from zombrel.job.follow.view import keyed, plain
from zombrel.job.ledger import text_of
from zombrel.job.model import Job
from zombrel.units import SPACE
from zombrel.units.measure import (
    LITRE,
    area_of,
    length_of,
    mass_of,
    short_of,
    size_token,
    token,
)

SHOWN = 24
"""Values up to so many characters are shown."""

Names = tuple[str, ...]


def differences(old: Job, new: Job, most: int = 8) -> tuple[str, ...]:
    """What became of ``old`` in ``new``, up to ``most`` lines and one for how many there are more.

    A figure that was changed is told with both values, as ``units.words`` writes them; things
    that came or went, by name.
    """
    lines = tuple(dict.fromkeys(_told(plain(old), plain(new))))
    if len(lines) <= most:
        return lines
    return (*lines[:most], f"and {len(lines) - most} more")


def _told(old: Job, new: Job) -> Iterator[str]:
    for path, before, after in _changed(old, new, ()):
        if before is None and isinstance(after, msgspec.Struct):
            yield f"{name_of(new, path)}: new"
        elif after is None and isinstance(before, msgspec.Struct):
            yield f"{name_of(old, path)}: gone"
        else:
            was, now = shown(path, before), shown(path, after)
            name = name_of(new, path)
            yield f"{name} ({was} → {now})" if was and now else name


def _changed(old: Any, new: Any, path: Names) -> Iterator[tuple[Names, Any, Any]]:
    """(where, before, after) of everything that is not the same."""
    if old is new or old == new:
        return
    if isinstance(old, msgspec.Struct) and type(old) is type(new):
        for name in old.__struct_fields__:
            yield from _changed(getattr(old, name), getattr(new, name), (*path, name))
        return
    if isinstance(old, tuple) and isinstance(new, tuple):
        before, after = _by_name(old), _by_name(new)
        if before is not None and after is not None:
            for key in dict.fromkeys((*before, *after)):
                yield from _changed(before.get(key), after.get(key), (*path, str(key)))
            return
    yield path, old, new


def _by_name(items: tuple[Any, ...]) -> dict[Any, Any] | None:
    """Named things by their names; None for a list of anything else."""
    if not items:
        return {}
    found = keyed(items)
    return None if found is None or not isinstance(items[0], msgspec.Struct) else found[0]


def shown(path: Names, value: Any) -> str:
    """A value as it is said, with its unit; empty where that would be too long."""
    if isinstance(value, msgspec.Struct | tuple | dict):
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        return _figure(path[-1], value)
    sheet = _BY_PATH.get(".".join(path))
    said = dict(sheet.choices).get(str(value)) if sheet is not None else None
    text = said or {"null": "unknown", '""': "nothing"}.get(
        text_of(value), text_of(value).strip('"')
    )
    return text if len(text) <= SHOWN else ""


def _figure(field: str, value: int | float) -> str:
    """A figure with the unit that the name of its field ends in."""
    if field in DIFFERENCES:
        return size_token("temperature", value)
    ending = field.rpartition("_")[2] if "_" in field else ""
    if ending in SAID:
        return SAID[ending](value)
    unit = UNITS.get(ending, "")
    said = str(value) if isinstance(value, int) else f"{value:.10g}"
    return f"{said}{SPACE}{unit}" if unit else said


_BY_PATH = {sheet.path: sheet for sheet in (*JOB, *BASELINE, *VEHICLE, *POWER)}
DIFFERENCES = frozenset({"over_ambient_k", "rise_k", "difference_k"})
"""Temperatures that are differences."""
SAID: dict[str, Callable[[float], str]] = {
    "mps": partial(token, "speed"),
    "rps": partial(token, "engine"),
    "k": partial(token, "temperature"),
    "pa": partial(token, "pressure"),
    "nm": partial(token, "torque"),
    "m": length_of,
    "mm": lambda value: short_of(value / 1000),
    "mm2": area_of,
    "kg": mass_of,
    "l": lambda value: token("volume", value * LITRE),
}
"""How figures are said whose unit the user chooses, by the ending of their names."""
UNITS = {
    "v": "V",
    "a": "A",
    "ah": "A·h",
    "w": "W",
    "ohm": "Ω",
    "hz": "Hz",
    "s": "s",
    "min": "min",
    "deg": "°",
}
"""The other units, by the ending of a name."""


def into(old: Job, new: Job) -> Many:
    """The edit that makes ``new`` of ``old``, so that going back to another job can be undone."""
    old, new = plain(old), plain(new)
    return Many(
        edits=tuple(
            Put(path=name, value=getattr(new, name))
            for name in new.__struct_fields__
            if getattr(new, name) != getattr(old, name)
        )
    )

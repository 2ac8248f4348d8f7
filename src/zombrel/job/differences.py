"""What differs between two jobs, in words."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import msgspec

from zombrel.job.edits import Many, Put
from zombrel.job.facts import name_of
from zombrel.job.follow.view import keyed, plain
from zombrel.job.ledger import text_of
from zombrel.job.model import Job

SHOWN = 24
"""Values up to so many characters are shown."""

Names = tuple[str, ...]


def differences(old: Job, new: Job, most: int = 8) -> tuple[str, ...]:
    """What became of ``old`` in ``new``, up to ``most`` lines and one for how many there are more.

    A figure that was changed is told with both values; things that came or went, by name.
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
            was, now = _shown(before), _shown(after)
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


def _shown(value: Any) -> str:
    if isinstance(value, msgspec.Struct | tuple | dict):
        return ""
    text = {"null": "unknown", '""': "nothing"}.get(text_of(value), text_of(value).strip('"'))
    return text if len(text) <= SHOWN else ""


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

"""The tools each kind of work takes; its minutes are figures (``job.figures.WORK``)."""

from __future__ import annotations

import functools

import msgspec

from zombrel.catalog import DATA


@functools.cache
def tools() -> dict[str, tuple[str, ...]]:
    """Tools by kind of work."""
    return msgspec.json.decode((DATA / "tools.json").read_bytes(), type=dict[str, tuple[str, ...]])

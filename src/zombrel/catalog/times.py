"""What each kind of work takes to begin with, and the tools it wants."""

from __future__ import annotations

import functools

import msgspec

from zombrel.catalog import DATA
from zombrel.job.sheet import Frozen


class KindTime(Frozen, frozen=True, kw_only=True):
    """Catalogue figure of one kind of work: base + per · units, in minutes."""

    kind: str
    base: float
    per: float
    unit: str
    tools: tuple[str, ...] = ()


@functools.cache
def times() -> dict[str, KindTime]:
    """Every kind by name."""
    read = msgspec.json.decode((DATA / "times.json").read_bytes(), type=tuple[KindTime, ...])
    return {t.kind: t for t in read}

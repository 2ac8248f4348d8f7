"""Kinds of source a vehicle may offer, with usual figures to start from."""

from __future__ import annotations

import msgspec

from zombrel.catalog import DATA
from zombrel.job.source import Source


def templates() -> tuple[Source, ...]:
    """One source of each kind; ids and figures are starting points to be changed."""
    return msgspec.json.decode((DATA / "sources.json").read_bytes(), type=tuple[Source, ...])

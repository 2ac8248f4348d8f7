"""Kinds of source a vehicle may offer, with usual figures to start from; shipped and the user's."""

from __future__ import annotations

from pathlib import Path

import msgspec

from zombrel.catalog import DATA
from zombrel.catalog.parse import parse_source
from zombrel.intake.file import take
from zombrel.job.problem import Problem
from zombrel.job.source import Source

MAX_BYTES = 1_000_000


def templates() -> tuple[Source, ...]:
    """One source of each kind; ids and figures are starting points to be changed."""
    return msgspec.json.decode((DATA / "sources.json").read_bytes(), type=tuple[Source, ...])


def source_shelf(user_folder: Path | None = None) -> tuple[tuple[Source, ...], tuple[str, ...]]:
    """Shipped sources, then those in ``user_folder``, and what could not be read.

    A user's source with the id of a shipped one replaces it.
    """
    found = {s.id: s for s in templates()}
    troubles = []
    there = user_folder is not None and user_folder.is_dir()
    for path in sorted(user_folder.glob("*.json")) if there and user_folder else ():
        try:
            source = parse_source(take(path, MAX_BYTES, "source"))
        except Problem as problem:
            troubles.append(f"Source {path.name}: {problem}")
            continue
        found[source.id] = source
    return tuple(found.values()), tuple(troubles)

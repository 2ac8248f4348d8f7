"""Random kills, files and calls: run in full by ``tools/torture.py``, a seeded part by ``./check``.

Each has ``tries(count, seed) -> Iterator[Failed]``, which yields what went wrong.
"""

from __future__ import annotations

from typing import NamedTuple


class Failed(NamedTuple):
    """One case that went wrong."""

    case: str
    """What was tried; enough to try it again."""
    why: str
    data: bytes = b""
    """The file, where it was one."""

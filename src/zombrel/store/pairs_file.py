"""Pairs from a text file: two numbers a line, with any usual mark between."""

from __future__ import annotations

from pathlib import Path

from zombrel.intake.file import text
from zombrel.job.pairs import Pairs, parse
from zombrel.job.problem import Problem

MAX_BYTES = 200_000
MOST = 64
"""A job keeps no more pairs for one sender."""


def read_pairs(name: str | Path) -> Pairs:
    """Pairs from ``name``; a first line without numbers is taken as a heading.

    Raises:
        Problem: unreadable, no pairs in it, or a line that is none; the text names the file.
    """
    path = Path(name)
    given = text(path, MAX_BYTES, "list of pairs")
    if not given.strip():
        raise Problem(f"{path.name} is empty; write two numbers on each line.")
    found = parse(given, path.name)
    if len(found) > MOST:
        raise Problem(f"{path.name} holds {len(found)} pairs; {MOST} at most, please thin it out.")
    return found

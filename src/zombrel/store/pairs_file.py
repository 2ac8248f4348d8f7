"""Pairs from a text file: two numbers a line, with any usual mark between."""

from __future__ import annotations

from pathlib import Path

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
    try:
        if path.stat().st_size > MAX_BYTES:
            raise Problem(f"{path.name} is larger than a list of pairs can be.")
        text = path.read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        raise Problem(f"{path.name} cannot be read as text: {error}.") from error
    if not text.strip():
        raise Problem(f"{path.name} is empty; write two numbers on each line.")
    found = parse(text, path.name)
    if len(found) > MOST:
        raise Problem(f"{path.name} holds {len(found)} pairs; {MOST} at most, please thin it out.")
    return found

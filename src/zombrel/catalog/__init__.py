"""Shipped open data: device sheets, source kinds, cautions, the demo job."""

from __future__ import annotations

from pathlib import Path

DATA = Path(__file__).parent / "data"
DEMO = DATA / "demo"


def is_shipped(path: Path) -> bool:
    """Whether a file belongs to the program, which writes nothing there."""
    return path.resolve().is_relative_to(DATA.resolve())

"""Shipped open data: device sheets, source kinds, cautions, the demo job."""

from __future__ import annotations

from pathlib import Path

DATA = Path(__file__).parent / "data"
DEMO = DATA / "demo"

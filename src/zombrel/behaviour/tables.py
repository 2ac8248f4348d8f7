"""On/off functions as truth tables: launch lamp, rev-match arming, high idle.

Rows with one input wrong are the fail-safe rows and come first: they are tried first.
Reference: combinational logic; two redundant pedal tracks must agree within a limit
(ISO 26262-5, annex D, comparison of redundant signals).
"""

from __future__ import annotations

import itertools
from collections.abc import Callable

from zombrel.calibrate.shift import launch_lamp
from zombrel.job.sheet import Frozen


class Row(Frozen, frozen=True, kw_only=True):
    """One row: the state of each input and what must come out."""

    inputs: tuple[str, ...]
    out: str
    fail_safe: bool = False
    """Nothing may happen here; try it before the rows where something does."""


class Table(Frozen, frozen=True, kw_only=True):
    """A truth table."""

    title: str
    heads: tuple[str, ...]
    out: str
    """Head of the last column."""
    rows: tuple[Row, ...]


def _table(
    title: str,
    out: str,
    columns: tuple[tuple[str, tuple[str, str]], ...],
    works: Callable[..., bool],
    words: tuple[str, str],
) -> Table:
    """Every combination of two-way inputs; ``words`` for nothing and for something."""
    rows = []
    for bits in itertools.product((True, False), repeat=len(columns)):
        on = works(*bits)
        rows.append(
            Row(
                inputs=tuple(c[1][0] if b else c[1][1] for c, b in zip(columns, bits, strict=True)),
                out=words[1] if on else words[0],
                fail_safe=not on,
            )
        )
    rows.sort(key=lambda r: not r.fail_safe)
    return Table(title=title, heads=tuple(c[0] for c in columns), out=out, rows=tuple(rows))


def high_idle() -> Table:
    """High idle: park, park brake on, pedal up, standing still."""
    return _table(
        "High idle, every state",
        "idle",
        (
            ("park", ("in", "out")),
            ("park brake", ("on", "off")),
            ("pedal", ("up", "down")),
            ("road speed", ("none", "some")),
        ),
        lambda park, brake, up, still: park and brake and up and still,
        ("normal", "raised"),
    )


def rev_match() -> Table:
    """Rev-match: armed, clutch down, pedal pressed, gap since the last blip over."""
    return _table(
        "Rev-match, every state",
        "throttle",
        (
            ("switch", ("armed", "off")),
            ("clutch", ("down", "up")),
            ("brake", ("on", "off")),
            ("gap", ("over", "running")),
        ),
        lambda armed, clutch, brake, over: armed and clutch and brake and over,
        ("untouched", "blip"),
    )


def launch(low: float, high: float) -> Table:
    """The launch lamp: dark below its window, lit in it, flashing above; engine speeds [1/s]."""
    middle, below, above = (low + high) / 2, low * 0.9, high * 1.1
    rows = [
        Row(
            inputs=(clutch, f"{name} ({n * 60:.0f} rpm)"),
            out=launch_lamp(n, low, high) if clutch == "down" else "shift lamp only",
            fail_safe=clutch == "up",
        )
        for clutch in ("up", "down")
        for name, n in (("below", below), ("in the window", middle), ("above", above))
    ]
    return Table(
        title="Launch lamp, every state", heads=("clutch", "engine"), out="lamp", rows=tuple(rows)
    )


def two_track(first: float, second: float, ratio: float = 2.0, limit: float = 0.05) -> bool:
    """Whether two pedal tracks [V] agree: first = ratio · second within a share of 5 V."""
    return abs(first - ratio * second) <= limit * 5.0

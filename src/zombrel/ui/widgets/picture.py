"""What a plot shows, as data: curves, points, lines that can be held, in the units shown."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from zombrel.ui.widgets.canvas import Axis


class Line(NamedTuple):
    """A curve; ``style`` is main, second or faint. It breaks where it has no figure."""

    points: tuple[tuple[float, float], ...]
    name: str
    style: str = "main"


class Cloud(NamedTuple):
    """Many points that none can hold; those not ``used`` are hollow."""

    x: Sequence[float]
    y: Sequence[float]
    used: bool = True


class Dot(NamedTuple):
    """A point; ``held`` ones can be moved, ``doubt`` ones are marked."""

    x: float
    y: float
    held: bool = True
    doubt: bool = False


class Threshold(NamedTuple):
    """A line across at one x; ``back`` is where it lets go again."""

    key: str
    x: float
    name: str
    back: float | None = None
    held: bool = True


class Zone(NamedTuple):
    """A stretch that is shaded, and what is said of it."""

    begin: float
    end: float
    words: str


class Picture(NamedTuple):
    """All a plot shows."""

    x: Axis
    y: Axis
    lines: tuple[Line, ...] = ()
    dots: tuple[Dot, ...] = ()
    thresholds: tuple[Threshold, ...] = ()
    now: float | None = None
    """Where the supposed state stands."""
    about: str = ""
    clouds: tuple[Cloud, ...] = ()
    zones: tuple[Zone, ...] = ()
    empty: str = ""
    """What is said where there is nothing to show yet."""


def along(axis: Axis, value: float) -> float:
    """A value as the axis counts: its power of ten where it is logarithmic."""
    return math.log10(max(value, axis.low * 1e-3)) if axis.log else value


def value_at(axis: Axis, value: float) -> float:
    """The value at a place along an axis."""
    return float(10.0**value) if axis.log else value


def share_of(axis: Axis, value: float) -> float:
    """Where a value lies along its axis, 0 to 1."""
    low, high = along(axis, axis.low), along(axis, axis.high)
    return (along(axis, value) - low) / (high - low)


def at_share(axis: Axis, share: float) -> float:
    """The value at a share of its axis."""
    low, high = along(axis, axis.low), along(axis, axis.high)
    return value_at(axis, low + (high - low) * share)

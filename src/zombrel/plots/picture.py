"""What a plot shows, as data: curves, points, lines that can be held, in the units shown."""

from __future__ import annotations

import math
from collections.abc import Sequence

from zombrel.job.value import Value

DECADES = 3
"""So many powers of ten are enough to go by along a logarithmic axis."""
MILLION, MYRIAD = 1e6, 1e4
"""From here on figures along an axis are written in millions, and in thousands."""


class Axis(Value, frozen=True):
    """One axis, in the units shown."""

    name: str
    low: float
    high: float
    log: bool = False


def ticks(axis: Axis, most: int) -> list[float]:
    """Round values along an axis: 1, 2 or 5 times a power of ten; decades when logarithmic."""
    if axis.log:
        low = math.ceil(math.log10(axis.low) - 1e-9)
        high = math.floor(math.log10(axis.high) + 1e-9)
        decades = [10.0**k for k in range(low, high + 1)]
        if len(decades) >= DECADES:
            return decades
        return [
            m * 10.0**k
            for k in range(low - 1, high + 1)
            for m in (1, 2, 5)
            if axis.low <= m * 10.0**k <= axis.high
        ]
    span = axis.high - axis.low
    rough = span / max(most, 1)
    power = 10 ** math.floor(math.log10(rough))
    step = next(m * power for m in (1, 2, 5, 10) if m * power >= rough * 0.999)
    first = math.ceil(axis.low / step - 1e-9)
    return [k * step for k in range(first, math.floor(axis.high / step + 1e-9) + 1)]


def tick_words(value: float) -> str:
    """A tick without needless digits."""
    if abs(value) >= MILLION:
        return f"{value / 1e6:g} M"
    if abs(value) >= MYRIAD:
        return f"{value / 1e3:g} k"
    return f"{value:.6g}".replace("-", "\u2212")


class Line(Value, frozen=True):
    """A curve; ``style`` is main, second or faint. It breaks where it has no figure."""

    points: tuple[tuple[float, float], ...]
    name: str
    style: str = "main"


class Cloud(Value, frozen=True):
    """Many points that none can hold; those not ``used`` are hollow."""

    x: Sequence[float]
    y: Sequence[float]
    used: bool = True


class Dot(Value, frozen=True):
    """A point; ``held`` ones can be moved, ``doubt`` ones are marked."""

    x: float
    y: float
    held: bool = True
    doubt: bool = False


class Threshold(Value, frozen=True):
    """A line across at one x; ``back`` is where it lets go again."""

    key: str
    x: float
    name: str
    back: float | None = None
    held: bool = True


class Zone(Value, frozen=True):
    """A stretch that is shaded, and what is said of it."""

    begin: float
    end: float
    words: str


class Picture(Value, frozen=True):
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

"""American Wire Gauge: a designation of conductors, not a unit one can multiply.

Reference: ASTM B258, *Standard nominal diameters and cross-sectional areas of AWG sizes of solid
round wires*.
"""

from __future__ import annotations

import math

NOUGHTS = 4
"""The thickest gauge is 4/0."""
THINNEST = 40
THINNEST_STOCKED = 30
_STOCKED = (*range(THINNEST, -1, -2), -1, -2, -3)
_ROUNDING = 0.97
"""A gauge counts as a section when it is no more than 3 % thinner: the series do not meet."""


def number_of(text: str) -> int:
    """Number of a gauge: ``"18" -> 18``, ``"1/0" -> 0``, ``"4/0" -> -3``.

    Raises:
        ValueError: not a gauge from 4/0 to 40.
    """
    if "/" in text:
        zeros, nought = (int(part) for part in text.split("/"))
        if nought != 0 or not 1 <= zeros <= NOUGHTS:
            raise ValueError(text)
        return 1 - zeros
    n = int(text)
    if not 0 <= n <= THINNEST:
        raise ValueError(text)
    return n


def name_of(n: int) -> str:
    """How a gauge is written: ``18``, ``2/0``."""
    return str(n) if n > 0 else f"{1 - n}/0"


def diameter(n: int) -> float:
    """Diameter of a solid conductor of gauge ``n`` [m] (ASTM B258)."""
    return float(0.127e-3 * 92 ** ((36 - n) / 39))


def area(n: int) -> float:
    """Section of gauge ``n`` [mm²] (ASTM B258)."""
    return math.pi / 4 * (diameter(n) * 1e3) ** 2


def stocked() -> tuple[float, ...]:
    """Sections of the gauges one can buy, from thin to thick, 30 to 4/0 [mm²]."""
    return tuple(area(n) for n in _STOCKED if n <= THINNEST_STOCKED)


def at_least(area_mm2: float) -> str:
    """The thinnest stocked (even) gauge not thinner than ``area_mm2`` [mm²], but for rounding."""
    return next((name_of(n) for n in _STOCKED if area(n) >= _ROUNDING * area_mm2), "4/0")

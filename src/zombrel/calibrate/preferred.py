"""Preferred numbers of resistors.

Reference:
    IEC 60063:2015, E24 and E96 series. E96 is 10^(k/96) to three figures; E24 keeps its
    historical values.
"""

from __future__ import annotations

import functools
import math
from typing import Literal

Series = Literal["E24", "E96"]

_E24 = (
    1.0,
    1.1,
    1.2,
    1.3,
    1.5,
    1.6,
    1.8,
    2.0,
    2.2,
    2.4,
    2.7,
    3.0,
    3.3,
    3.6,
    3.9,
    4.3,
    4.7,
    5.1,
    5.6,
    6.2,
    6.8,
    7.5,
    8.2,
    9.1,
)
DECADES = range(0, 7)
"""1 Ω to 9.1 MΩ."""


@functools.cache
def values(series: Series) -> tuple[float, ...]:
    """All parts of a series from 1 Ω to 10 MΩ, ascending [Ω]."""
    base = _E24 if series == "E24" else tuple(round(10 ** (k / 96), 2) for k in range(96))
    return (*(round(b * 10**d, 6) for d in DECADES for b in base), 1e7)


def around(series: Series, ohm: float) -> tuple[float, float]:
    """The parts on either side of ``ohm`` [Ω]; the same twice at an end or on a part."""
    parts = values(series)
    below = max((p for p in parts if p <= ohm * (1 + 1e-9)), default=parts[0])
    above = min((p for p in parts if p >= ohm * (1 - 1e-9)), default=parts[-1])
    return below, above


def nearest(series: Series, ohm: float) -> float:
    """The part whose ratio to ``ohm`` is nearest one [Ω]."""
    below, above = around(series, ohm)
    return min((below, above), key=lambda p: abs(math.log(p / ohm)))

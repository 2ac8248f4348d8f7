"""Type K thermocouple.

Reference:
    NIST Monograph 175 / ITS-90 (IEC 60584-1): reference function E(t), cold junction 0 °C.
"""

from __future__ import annotations

import math

from zombrel.job.problem import Problem

CLOSE = 1e-9
"""Bisection ends here [°C]."""

LOWEST_C, HIGHEST_C = -270.0, 1372.0

_BELOW = (
    0.0,
    0.394501280250e-1,
    0.236223735980e-4,
    -0.328589067840e-6,
    -0.499048287770e-8,
    -0.675090591730e-10,
    -0.574103274280e-12,
    -0.310888728940e-14,
    -0.104516093650e-16,
    -0.198892668780e-19,
    -0.163226974860e-22,
)
_ABOVE = (
    -0.176004136860e-1,
    0.389212049750e-1,
    0.185587700320e-4,
    -0.994575928740e-7,
    0.318409457190e-9,
    -0.560728448890e-12,
    0.560750590590e-15,
    -0.320207200030e-18,
    0.971511471520e-22,
    -0.121047212750e-25,
)
_BUMP = (0.118597600000, -0.118343200000e-3, 0.126968600000e3)


def millivolts(celsius: float) -> float:
    """Voltage [mV] of a junction at ``celsius`` [°C] against 0 °C.

    Raises:
        Problem: outside −270 to 1372 °C.
    """
    if not LOWEST_C <= celsius <= HIGHEST_C:
        raise Problem(f"A type K thermocouple is defined from −270 to 1372 °C, not {celsius:g}.")
    terms = _BELOW if celsius < 0 else _ABOVE
    out = 0.0
    for term in reversed(terms):
        out = out * celsius + term
    if celsius >= 0:
        height, steep, middle = _BUMP
        out += height * math.exp(steep * (celsius - middle) ** 2)
    return out


def celsius(mv: float, cold_c: float) -> float:
    """Temperature [°C] of the hot junction from the measured ``mv`` and the cold end.

    The reference function is inverted by bisection: it rises all the way.

    Raises:
        Problem: the sum lies outside the defined range.
    """
    total = mv + millivolts(cold_c)
    low, high = LOWEST_C, HIGHEST_C
    if not millivolts(low) <= total <= millivolts(high):
        raise Problem(
            f"{mv:g} mV with the cold end at {cold_c:g} °C lies outside type K "
            "(−270 to 1372 °C); check polarity and type."
        )
    while high - low > CLOSE:
        middle = (low + high) / 2
        if millivolts(middle) < total:
            low = middle
        else:
            high = middle
    return (low + high) / 2

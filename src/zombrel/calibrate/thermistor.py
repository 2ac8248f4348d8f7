"""Thermistors: from measured pairs to an equation, and what an input makes of it.

References:
    [1] Steinhart & Hart, *Deep-Sea Research* 15 (1968): 1/T = A + B ln R + C (ln R)³.
    [2] β equation: R = R₀ exp(β(1/T − 1/T₀)) (IEC 60539-1).
    [3] Inverse of [1] by Cardano's formula for the depressed cubic.
    [4] A divider's swing between R₁ and R₂ is greatest with a pull-up √(R₁R₂): set the
        derivative of R₂/(R₂ + P) − R₁/(R₁ + P) to zero.
"""

from __future__ import annotations

import math

from zombrel.job.pairs import Pairs
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen

STRAIGHT = 1e-16
"""A cubic term below this is none."""
LEAST = 3
"""Pairs that fix three coefficients."""


class SteinhartHart(Frozen, frozen=True, kw_only=True):
    """Coefficients of [1] for kelvin and ohm."""

    a: float
    b: float
    c: float

    def kelvin(self, ohm: float) -> float:
        """Temperature [K] at ``ohm`` [Ω]; raises Problem where the equation has none."""
        log = math.log(_positive(ohm))
        inverse = self.a + self.b * log + self.c * log**3
        if inverse <= 0:
            raise Problem(f"At {ohm:g} Ω the fitted equation gives no temperature.")
        return 1 / inverse

    def ohm(self, kelvin: float) -> float:
        """Resistance [Ω] at ``kelvin`` [K] [3]."""
        if kelvin <= 0:
            raise Problem("A temperature must be above absolute zero, −273.15 °C.")
        if abs(self.c) < STRAIGHT:
            return math.exp((1 / kelvin - self.a) / self.b)
        p, q = self.b / self.c, (self.a - 1 / kelvin) / self.c
        inside = (q / 2) ** 2 + (p / 3) ** 3
        if inside >= 0:
            root = math.sqrt(inside)
            return math.exp(math.cbrt(-q / 2 + root) + math.cbrt(-q / 2 - root))
        # three real roots: the one on the branch that ln R of a real part lies on
        reach, angle = 2 * math.sqrt(-p / 3), math.acos(3 * q / p / 2 * math.sqrt(-3 / p)) / 3
        roots = [reach * math.cos(angle - 2 * math.pi * k / 3) for k in range(3)]
        falls = [r for r in roots if (self.b + 3 * self.c * r * r > 0) and r > 0]
        return math.exp(falls[0] if falls else max(roots))


def _positive(ohm: float) -> float:
    if ohm <= 0:
        raise Problem(f"A resistance must be above 0 Ω, not {ohm:g}.")
    return ohm


class ThermistorFit(Frozen, frozen=True, kw_only=True):
    """Equation, β and how far each pair lies off the equation."""

    equation: SteinhartHart
    beta: float
    """β of the least-squares line of ln R over 1/T [K] [2]."""
    residuals: tuple[float, ...]
    """Fitted minus given temperature of each pair [K]."""

    @property
    def worst(self) -> float:
        """Greatest absolute residual [K]."""
        return max(abs(r) for r in self.residuals)


def fit(points: Pairs) -> ThermistorFit:
    """Fit [1] to pairs of (K, Ω) by least squares in 1/T.

    Raises:
        Problem: fewer than three pairs, or pairs that are no thermistor's.
    """
    if len(points) < LEAST:
        raise Problem("A thermistor needs three pairs or more: cold, middle, hot.")
    if any(k <= 0 for k, _ in points):
        raise Problem("A temperature lies below absolute zero, −273.15 °C.")
    logs = [math.log(_positive(ohm)) for _, ohm in points]
    if len(set(logs)) < len(logs):
        raise Problem("One resistance is given at two temperatures; measure again.")
    if points[-1][1] > points[0][1] and points[-1][0] > points[0][0]:
        raise Problem(
            "Its resistance rises with temperature: a PTC sender, and this equation is for those "
            "that fall. Keep it as measured pairs, straight between, in the curve editor."
        )
    inverse = [1 / kelvin for kelvin, _ in points]
    a, b, c = _least_squares([(1.0, x, x**3) for x in logs], inverse)
    equation = SteinhartHart(a=a, b=b, c=c)
    residuals = tuple(equation.kelvin(ohm) - kelvin for kelvin, ohm in points)
    return ThermistorFit(equation=equation, beta=_beta(inverse, logs), residuals=residuals)


def _beta(inverse: list[float], logs: list[float]) -> float:
    n = len(logs)
    x0, y0 = sum(inverse) / n, sum(logs) / n
    over = sum((x - x0) ** 2 for x in inverse)
    return sum((x - x0) * (y - y0) for x, y in zip(inverse, logs, strict=True)) / over


def _least_squares(rows: list[tuple[float, float, float]], want: list[float]) -> list[float]:
    import numpy as np

    table = np.array(rows)
    scale = np.abs(table).max(axis=0)
    solved = np.linalg.lstsq(table / scale, np.array(want), rcond=None)[0]
    return [float(v) for v in solved / scale]


def best_pull_up(ohm_one: float, ohm_two: float) -> float:
    """Pull-up [Ω] with the greatest swing between two resistances [4]."""
    return math.sqrt(_positive(ohm_one) * _positive(ohm_two))


def kelvin_per_count(
    equation: SteinhartHart, kelvin: float, pull_up: float, adc_bits: int
) -> float:
    """Temperature step of one count [K] of a ratiometric converter at ``kelvin``.

    count = 2^bits · R/(R + P); the slope of R is taken over 0.02 K.
    """
    half = 0.01
    share = [
        ohm / (ohm + _positive(pull_up))
        for ohm in (equation.ohm(kelvin - half), equation.ohm(kelvin + half))
    ]
    slope = abs(share[1] - share[0]) / (2 * half)
    return 1 / (slope * 2**adc_bits) if slope > 0 else math.inf

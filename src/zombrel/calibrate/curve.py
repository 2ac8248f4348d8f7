"""Sensor curves: a model through measured pairs, its residuals, the pairs to doubt.

References:
    [1] Least-squares line.
    [2] Fritsch & Carlson, *SIAM J. Numer. Anal.* 17 (1980): monotone piecewise cubic (SciPy's
        ``PchipInterpolator``).
    [3] Deleted residual: each pair against the model of all the others (Cook & Weisberg,
        *Residuals and Influence in Regression*, 1982).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal

from zombrel.calibrate import thermistor
from zombrel.job.pairs import Pairs, between
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen

Kind = Literal["steinhart-hart", "beta", "line", "spline", "straight pieces"]
LEAST: dict[Kind, int] = {
    "steinhart-hart": 3,
    "beta": 2,
    "line": 2,
    "spline": 3,
    "straight pieces": 2,
}
MOST_JUDGED = 30
"""A list longer than this is a log, not a set of readings to be judged one by one."""
SHARPER = 3.0
"""A pair is to be doubted when the others fit this many times closer without it."""
FLOOR = 0.01
"""No pair is doubted for less than this share of the range."""

Model = Callable[[float], float]


def model(points: Pairs, kind: Kind) -> Model:
    """A function through pairs of (value, electrical): electrical at a value.

    Thermistor kinds take (K, Ω). Raises Problem when there are too few pairs for the kind.
    """
    if len(points) < LEAST[kind]:
        raise Problem(f"A {kind} needs {LEAST[kind]} pairs or more.")
    match kind:
        case "steinhart-hart":
            return thermistor.fit(points).equation.ohm
        case "beta":
            return _beta(points)
        case "line":
            return _line(points)
        case "spline":
            return _spline(points)
        case _:
            return lambda x: between(points, x)


def _beta(points: Pairs) -> Model:
    if any(k <= 0 or ohm <= 0 for k, ohm in points):
        raise Problem("A β curve takes temperatures above −273.15 °C and ohms above zero.")
    slope = _line(tuple((1 / k, math.log(ohm)) for k, ohm in points))
    return lambda kelvin: math.exp(slope(1 / kelvin))


def _line(points: Pairs) -> Model:
    n = len(points)
    x0, y0 = sum(x for x, _ in points) / n, sum(y for _, y in points) / n
    over = sum((x - x0) ** 2 for x, _ in points)
    if over <= 0:
        raise Problem("All pairs stand at one value; a line needs two.")
    slope = sum((x - x0) * (y - y0) for x, y in points) / over
    return lambda x: y0 + slope * (x - x0)


def _spline(points: Pairs) -> Model:
    from scipy.interpolate import PchipInterpolator

    ordered = sorted(points)
    through = PchipInterpolator([x for x, _ in ordered], [y for _, y in ordered])
    return lambda x: float(through(x))


class Fit(Frozen, frozen=True, kw_only=True):
    """A model judged by its pairs; residuals in the electrical unit."""

    kind: Kind
    residuals: tuple[float, ...]
    """Model minus given at each pair."""
    doubtful: tuple[int, ...]
    """Which pairs do not go with the rest."""

    @property
    def worst(self) -> float:
        """Greatest absolute residual."""
        return max(abs(r) for r in self.residuals)


def judge(points: Pairs, kind: Kind) -> Fit:
    """Residuals of a fit and the pairs to doubt [3]."""
    through = model(points, kind)
    residuals = tuple(through(x) - y for x, y in points)
    return Fit(kind=kind, residuals=residuals, doubtful=doubtful(points, kind))


def doubtful(points: Pairs, kind: Kind) -> tuple[int, ...]:
    """The pair that does not go with the rest, if one stands out [3].

    One bad pair pulls the model of its neighbours too, so only the worst is named; once it
    is measured again the rest show what they are worth. Ohms of a thermistor span decades,
    so there misses are compared as ratios.
    """
    if len(points) < max(5, LEAST[kind] + 2):
        return ()
    if len(points) > MOST_JUDGED:
        return ()
    logs = kind in ("steinhart-hart", "beta") and all(y > 0 for _, y in points)
    span = max(y for _, y in points) - min(y for _, y in points) or 1.0

    def miss(at: tuple[float, float], by: Pairs) -> float:
        at_one = model(by, kind)(at[0])
        return math.log(at_one / at[1]) if logs else (at_one - at[1]) / span

    def deleted(of: Pairs) -> list[float]:
        # the ends are not judged: a model that bends says nothing beyond its pairs
        return [miss(of[i], of[:i] + of[i + 1 :]) for i in range(1, len(of) - 1)]

    first, last = (
        (1, len(points) - 1) if kind in ("spline", "straight pieces") else (0, len(points))
    )
    try:
        left = {i: _rms(deleted(points[:i] + points[i + 1 :])) for i in range(first, last)}
        worst = min(left, key=left.__getitem__)
        own = abs(miss(points[worst], points[:worst] + points[worst + 1 :]))
        clear = _rms(deleted(points)) > SHARPER * left[worst]
    except (Problem, ValueError, OverflowError):
        return ()
    return (worst,) if clear and own > FLOOR else ()


def _rms(values: list[float]) -> float:
    return math.sqrt(sum(v * v for v in values) / len(values))


class Match(Frozen, frozen=True, kw_only=True):
    """How one of a device's own curves would read this sensor."""

    name: str
    worst: float
    """Greatest absolute error over the range, in the value's unit."""
    worst_at: float
    """Value at which it is that far off."""
    shown_at_worst: float


def reads(curve: Pairs, electrical: float) -> float:
    """What a device that knows ``curve``, pairs of (value, electrical), shows.

    Straight lines between its points, held at its ends.

    Pairs (value [SI], electrical [Ω, V, Hz or share]); result [SI].
    """
    return between(_by_electrical(curve), electrical)


def _by_electrical(curve: Pairs) -> Pairs:
    return tuple(sorted((y, x) for x, y in curve))


def some_range(low: float, high: float) -> None:
    """Nothing where there is something between ``low`` and ``high`` [SI].

    Raises:
        Problem: there is not.
    """
    if high <= low:
        raise Problem(
            "The range is empty: its upper end must be above its lower. Where it comes of pairs, "
            "they lie outside what such a signal covers: check the unit they were typed in."
        )


def match(
    truth: Model, presets: tuple[tuple[str, Pairs], ...], low: float, high: float, steps: int = 60
) -> tuple[Match, ...]:
    """Rank a device's curves for a sensor over ``low`` to ``high``, the best first.

    ``low`` and ``high`` [SI].
    """
    some_range(low, high)
    out = []
    for name, curve in presets:
        errors = []
        for i in range(steps + 1):
            x = low + (high - low) * i / steps
            shown = reads(curve, truth(x))
            errors.append((abs(shown - x), x, shown))
        error, at, shown = max(errors)
        out.append(Match(name=name, worst=error, worst_at=at, shown_at_worst=shown))
    return tuple(sorted(out, key=lambda m: (m.worst, m.name)))

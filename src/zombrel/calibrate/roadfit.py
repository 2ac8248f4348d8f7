"""Scale and offset of a shown speed against satellite speed, robustly.

shown = scale · true + offset, fitted over steady driving. Points while accelerating are
set aside because a satellite receiver lags; of the rest, outliers lose their weight.

References:
    [1] Holland & Welsch, *Commun. Statist.* A6 (1977): iteratively reweighted least
        squares, Tukey's biweight with c = 4.685.
    [2] Rousseeuw & Croux, *J. Am. Stat. Assoc.* 88 (1993): scale from the median absolute
        deviation, σ = 1.4826 · MAD.
    [3] Student's t interval with the sample thinned for serial correlation:
        n_eff = n · (1 − ρ)/(1 + ρ) (Wilks, *Statistical Methods in the Atmospheric
        Sciences*, eq. 5.12).
    [4] JCGM 100:2008 (GUM), F.2.2.1: rounding to a step d has σ = d/√12.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.units import speed_token

STEADY_LEAST = 8
"""Fewest steady points of a fit."""
LOST = 0.1
"""A point with less weight is set aside."""
LEAST = 3
"""Fewest rows, and weight, that give a slope and its spread."""
ENOUGH = 10
"""Residuals from which serial correlation can be told."""

Floats = NDArray[np.float64]

STEADY = 0.25
"""Greatest acceleration of a steady point [m/s²]: a second's lag then costs 0.25 m/s."""
SLOW = 3.0
"""Below this a satellite receiver's speed is mostly noise [m/s]."""
NARROW = 4.0
"""Spread of true speeds [m/s] below which scale and offset cannot be told apart."""


NOTHING = 1e-3
"""Differences of speed below this are rounding of rounding [m/s]."""
COARSEST = 0.45
"""No display steps by more than a mile an hour [m/s]."""


class RoadFit(Frozen, frozen=True, kw_only=True):
    """Result of a fit; speeds [m/s]."""

    scale: float
    scale_low: float
    scale_high: float
    offset: float
    offset_error: float
    """Half width of its 95 % interval; 0 when the line was held to the origin."""
    used: int
    set_aside: int
    accelerating: int
    slow: int
    outliers: int
    sigma: float
    """Scatter about the line."""
    through_origin: bool
    kept: tuple[bool, ...]
    """For each point of the log, whether it counted."""


def fit(t: Floats, true: Floats, shown: Floats) -> RoadFit:
    """Fit a run; arrays of one length n, ``t`` [s], speeds [m/s].

    Raises:
        Problem: too few steady points.
    """
    t, true, shown = (np.asarray(a, dtype=float) for a in (t, true, shown))
    moving = true > SLOW
    steady = np.abs(_acceleration(t, true)) < STEADY
    take = moving & steady & (shown > 0)
    if take.sum() < STEADY_LEAST:
        raise Problem(
            f"Only {int(take.sum())} steady points above {speed_token(SLOW)}; hold several "
            "speeds for ten seconds each and read again."
        )
    x, y = true[take], shown[take]
    origin = bool(np.ptp(x) < NARROW)
    floor = max(_grain(shown), _grain(true)) / np.sqrt(12)
    coefficients, weights, sigma = _biweight(x, y, origin, floor)
    keep = weights > LOST
    low, high, spread = _interval(x, y, weights, coefficients, origin, floor)
    kept = np.zeros(len(true), bool)
    kept[np.flatnonzero(take)[keep]] = True
    return RoadFit(
        scale=float(coefficients[0]),
        scale_low=low,
        scale_high=high,
        offset=0.0 if origin else float(coefficients[1]),
        offset_error=spread,
        used=int(keep.sum()),
        set_aside=int(len(true) - keep.sum()),
        accelerating=int((moving & ~steady).sum()),
        slow=int((~moving).sum()),
        outliers=int((~keep).sum()),
        sigma=sigma,
        through_origin=origin,
        kept=tuple(kept.tolist()),
    )


def _acceleration(t: Floats, v: Floats) -> Floats:
    """Acceleration [m/s²] over a window of about two seconds."""
    if len(t) < LEAST:
        return np.zeros_like(v)
    step = float(np.median(np.diff(t))) or 1.0
    half = max(1, round(1.0 / step))
    index = np.arange(len(t))
    a, b = np.maximum(index - half, 0), np.minimum(index + half, len(t) - 1)
    return np.asarray((v[b] - v[a]) / np.maximum(t[b] - t[a], 1e-9))


def _design(x: Floats, origin: bool) -> Floats:
    return x[:, None] if origin else np.column_stack([x, np.ones_like(x)])


def _grain(values: Floats) -> float:
    """The step in which a column is written: what its last digit hides.

    A reading rounded to a step has an uncertainty of step/√12 [4], however well the rounded
    figures happen to agree.
    """
    steps = np.unique(np.round(np.diff(np.unique(np.round(values, 5))), 5))
    grain = 0.0
    for step in steps[:200]:
        a, b = max(grain, float(step)), min(grain, float(step))
        while b > NOTHING:  # Euclid's greatest common divisor, to a tolerance
            a, b = b, abs(a - b * round(a / b))
        grain = a
        if grain < 10 * NOTHING:
            return 0.0
    return min(grain, COARSEST)


def _biweight(x: Floats, y: Floats, origin: bool, floor: float) -> tuple[Floats, Floats, float]:
    design = _design(x, origin)
    start = float(np.median(y / x))
    coefficients = np.array([start] if origin else [start, 0.0])
    weights = np.ones_like(x)
    sigma = 0.0
    for _ in range(50):
        residual = y - design @ coefficients
        sigma = max(1.4826 * float(np.median(np.abs(residual - np.median(residual)))), floor, 1e-3)
        u = residual / (4.685 * sigma)
        weights = np.where(np.abs(u) < 1, (1 - u**2) ** 2, 0.0)
        if weights.sum() < LEAST:
            weights = np.ones_like(x)
        root = np.sqrt(weights)
        new = np.linalg.lstsq(design * root[:, None], y * root, rcond=None)[0]
        done = bool(np.allclose(new, coefficients, rtol=1e-10, atol=1e-10))
        coefficients = new
        if done:
            break
    return coefficients, weights, sigma


def _interval(
    x: Floats, y: Floats, w: Floats, coefficients: Floats, origin: bool, floor: float
) -> tuple[float, float, float]:
    """95 % bounds of the scale and half width of the offset's [3]."""
    from scipy.special import stdtrit

    design = _design(x, origin)
    residual = (y - design @ coefficients)[w > LOST]
    rho = 0.0
    if len(residual) > ENOUGH and residual.std() > 0:
        rho = float(np.clip(np.corrcoef(residual[:-1], residual[1:])[0, 1], 0.0, 0.95))
    parameters = design.shape[1]
    effective = max(len(residual) * (1 - rho) / (1 + rho), parameters + 2)
    variance = float((residual**2).sum()) / max(len(residual) - parameters, 1)
    variance = max(variance, floor**2)
    covariance = np.linalg.inv(design.T @ (design * w[:, None])) * variance
    covariance = covariance * (len(residual) / effective)
    q = float(stdtrit(effective - parameters, 0.975))
    # rounding may leave a variance of next to nothing below it
    half = q * math.sqrt(max(float(covariance[0, 0]), 0.0))
    spread = 0.0 if origin else q * math.sqrt(max(float(covariance[1, 1]), 0.0))
    scale = float(coefficients[0])
    return scale - half, scale + half, spread

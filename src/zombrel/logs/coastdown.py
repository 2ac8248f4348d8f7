"""Drag and rolling resistance from a car that coasts: the whole curve of speed is fitted.

m dv/dt = −(½ρ·CdA·v² + m·g·Crr), solved in closed form for each run that coasts:
v(t) = √(R/D)·tan(arctan(v₀·√(D/R)) − t·√(D·R)), with D = ρ·CdA/2m and R = g·Crr.

References:
    [1] SAE J1263, road load by coast-down: the equation, and runs both ways for slope and wind.
    [2] Seber and Wild 1989, Nonlinear Regression: intervals from the Jacobian; Newey and West 1987
        for residuals that hang together.
"""

from __future__ import annotations

import numpy as np

from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import Floats, Recording
from zombrel.logs.spots import speed_of, stretches
from zombrel.units import KMH
from zombrel.units.measure import token

GRAVITY = 9.80665
AIR = 1.2
"""Density of air [kg/m³]: 20 °C at sea level, where nobody said."""
LONG_S, FALLS = 8.0, 10.0 * KMH
"""A run coasts for so long, and loses so much speed."""
SLOWEST = 5.0 * KMH
OVER_S = 3.0
"""Speed is averaged over so long before it is asked whether it falls [s]."""
HARDEST = 2.5
"""No car coasts down harder [m/s²]; it is braked then."""
FEWEST = 10
FROM, TO = 110 * KMH, 20 * KMH
"""Between which speeds a car is best left to coast [m/s]."""
NOT_TOLD = (
    f"too short to part drag from rolling: coast from {token('speed', FROM, 0)} to "
    f"{token('speed', TO, 0)} out of gear, both ways."
)
"""What is said of runs that tell nothing apart."""


class Coast(Value, frozen=True):
    """What the runs say."""

    cda_m2: float
    cda_low: float
    cda_high: float
    crr: float
    crr_low: float
    crr_high: float
    """With 95 % intervals."""
    runs: tuple[tuple[float, float], ...]
    """(begin, end) of each run that was fitted [s]."""
    off_mps: float
    """Root mean square of what the fit leaves [m/s]."""

    @property
    def told(self) -> bool:
        """Whether the runs part drag from rolling at all: neither may be nothing."""
        return min(self.cda_low, self.crr_low) > 0


def runs_of(log: Recording) -> list[tuple[Floats, Floats]]:
    """Stretches that coast: (time [s], speed [m/s])."""
    speed = speed_of(log)
    if speed is None:
        raise Problem(f"{log.name} has no road speed.")
    t, v = speed.t, speed.v.astype(float)
    if len(t) <= FEWEST:
        return []
    step = float(np.median(np.diff(t)))
    n = max(1, int(OVER_S / max(step, 1e-3)) | 1)
    smooth = np.convolve(np.pad(v, n // 2, mode="edge"), np.ones(n) / n, "valid")
    slope = np.gradient(smooth, t)
    found = []
    for b, e in stretches(t, (slope < 0) & (slope > -HARDEST) & (smooth > SLOWEST), LONG_S, 1.0):
        # what the mean has drawn in from beyond both ends is left out
        inside = (t >= t[b] + OVER_S / 2) & (t <= t[e] - OVER_S / 2)
        at, run = t[inside], v[inside]
        if len(at) > FEWEST and at[-1] - at[0] >= LONG_S and run[0] - run[-1] >= FALLS:
            found.append((at - at[0], run))
    return found


def coast(log: Recording, mass: float, air: float = AIR, rotating: float = 0.0) -> Coast:
    """Drag area and rolling resistance of a car of ``mass`` [kg].

    Args:
        log: with its road speed.
        mass: of the car as it ran [kg].
        air: density of the air [kg/m³].
        rotating: what wheels and shafts add to its inertia [share of the mass].

    Raises:
        Problem: no run coasts, or speed does not say drag and rolling apart.
    """
    from scipy.optimize import least_squares

    found = runs_of(log)
    if not found:
        raise Problem(
            f"{log.name} has no run that coasts: {LONG_S:.0f} s in neutral from above "
            f"{(SLOWEST + FALLS) / KMH:.0f} km/h."
        )
    inertia = mass * (1 + rotating)

    def model(p: Floats) -> Floats:
        drag, roll = air * p[0] / (2 * inertia), GRAVITY * p[1] * mass / inertia
        return np.concatenate(
            [_speed(t, v0, drag, roll) - v for (t, v), v0 in zip(found, p[2:], strict=True)]
        )

    start = np.concatenate(([0.7, 0.012], [float(v[0]) for _, v in found]))
    low = np.concatenate(([1e-3, 1e-4], np.full(len(found), 0.5)))
    fit = least_squares(model, start, bounds=(low, np.inf), x_scale=np.abs(start))
    if not fit.success:
        raise Problem(f"{log.name}: its runs fit no drag and rolling; was it braked, or in gear?")
    half = 1.96 * _errors(fit.jac, fit.fun)
    off = float(np.sqrt(np.mean(fit.fun**2)))
    speed = speed_of(log)
    assert speed is not None  # runs_of looked
    spans = tuple((float(t[0]), float(t[-1])) for t, _ in found)
    return Coast(
        float(fit.x[0]),
        float(fit.x[0] - half[0]),
        float(fit.x[0] + half[0]),
        float(fit.x[1]),
        float(fit.x[1] - half[1]),
        float(fit.x[1] + half[1]),
        spans,
        off,
    )


def _speed(t: Floats, v0: float, drag: float, roll: float) -> Floats:
    """Speed of a car that coasts [m/s]; ``drag`` [1/m], ``roll`` [m/s²]."""
    root = np.sqrt(drag * roll)
    angle = np.arctan(v0 * np.sqrt(drag / roll)) - t * root
    return np.asarray(np.sqrt(roll / drag) * np.tan(np.clip(angle, 0.0, np.pi / 2 - 1e-9)))


def _errors(jac: Floats, off: Floats) -> Floats:
    """Standard errors of the parameters, widened where residuals hang together [2]."""
    free = max(1, len(off) - jac.shape[1])
    bread = np.linalg.pinv(jac.T @ jac)
    plain = np.diag(bread) * float(off @ off) / free
    lags = int(4 * (len(off) / 100) ** (2 / 9)) + 1
    score = jac * off[:, None]
    meat = score.T @ score
    for k in range(1, lags + 1):
        cross = score[k:].T @ score[:-k]
        meat += (1 - k / (lags + 1)) * (cross + cross.T)
    held = np.diag(bread @ meat @ bread)
    return np.asarray(np.sqrt(np.maximum(plain, held)))

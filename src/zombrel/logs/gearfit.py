"""Gears and final drive from engine speed against road speed: where their ratio stands still.

References:
    [1] Silverman 1986, Density Estimation: kernel estimate of the density of the ratio's logarithm.
    [2] Standard error of a median: 1.2533 σ/√n for normal scatter, any textbook of statistics.
"""

from __future__ import annotations

import itertools

import numpy as np

from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import Floats, Recording
from zombrel.logs.spots import speed_of
from zombrel.units import KMH, RPM

SLOWEST = 8.0 * KMH
TICKING = 700.0 * RPM
"""Slower than this, on the road or at the engine, the clutch slips or the engine idles."""
WIDTH = 0.012
"""Bandwidth of the density [ln of the ratio]."""
LEAST = 0.02
"""A gear holds so much of the time at least [share]."""
WITHIN = 0.03
MEDIAN = 1.2533
SEVERAL = 2
"""So many gears tell which they are."""
ALIKE, APART, LEAST_SPREAD = 0.02, 3.0, 0.003
"""Gears agree within this share; another set must be so many times worse to be ruled out."""
TOGETHER_S = 1.0
"""Samples so close say the same [s]."""


class Gear(Value, frozen=True):
    """One ratio that the log stands at."""

    per_m: float
    """Engine revolutions a metre [1/m]."""
    low: float
    high: float
    """95 % interval [1/m]."""
    share: float
    """Of the time in any gear."""

    @property
    def rpm_per_kmh(self) -> float:
        """Engine speed at each km/h [rpm/(km/h)]."""
        return self.per_m / RPM * KMH


def gears(log: Recording) -> tuple[Gear, ...]:
    """The ratios in a log, first gear first.

    Raises:
        Problem: no engine or road speed in it, or none that stands still.
    """
    rpm, speed = log.first("engine"), speed_of(log)
    if rpm is None or speed is None:
        lacks = "engine speed" if rpm is None else "road speed"
        raise Problem(f"{log.name} has no {lacks}: gears want both.")
    t = speed.t if len(speed.t) <= len(rpm.t) else rpm.t
    v, n = speed.at(t), rpm.at(t)
    good = (v > SLOWEST) & (n > TICKING)
    if good.sum() < 20:  # noqa: PLR2004 - a density wants more
        raise Problem(f"{log.name}: it hardly moves in gear; a drive through the gears is wanted.")
    x = np.log(n[good] / v[good])
    found = [_gear(x, c, t[good]) for c in _peaks(x)]
    kept = [g for g in found if g is not None]
    if not kept:
        raise Problem(f"{log.name}: engine and road speed stand in no ratio; does the clutch slip?")
    return tuple(sorted(kept, key=lambda g: -g.per_m))


class Axle(Value, frozen=True):
    """The final drive that a drive through the gears asks for."""

    final: float
    low: float
    high: float
    """What the gears say of it, each by itself: least and most, with their intervals."""
    gears: tuple[int, ...]
    """Which of the gearbox's gears were found, from 1."""


def final_drive(found: tuple[Gear, ...], ratios: tuple[float, ...], around_m: float) -> Axle:
    """Final drive = revolutions a metre × rolling circumference ÷ ratio of the gear.

    The gears that were found are told apart by their steps: the set of the gearbox's ratios at
    which all of them ask for the same final drive.

    Args:
        found: gears of a log, first gear first.
        ratios: of the gearbox, first gear first [1].
        around_m: rolling circumference of the driven tyres [m].

    Raises:
        Problem: too few gears to tell which they are, or no set of ratios fits them.
    """
    if not SEVERAL <= len(found) <= len(ratios):
        raise Problem(
            f"{len(found)} of {len(ratios)} gears were found: the final drive wants "
            f"{SEVERAL} or more, to tell which they are."
        )
    tried = []
    for which in itertools.combinations(range(len(ratios)), len(found)):
        each = [x.per_m * around_m / ratios[i] for x, i in zip(found, which, strict=True)]
        tried.append((max(each) / min(each) - 1, which))
    tried.sort()
    spread, which = tried[0]
    if spread > ALIKE or (len(tried) > 1 and tried[1][0] < APART * max(spread, LEAST_SPREAD)):
        raise Problem("The steps between the gears are not clearly those of this gearbox.")
    sets = list(zip(found, which, strict=True))
    each = [x.per_m * around_m / ratios[i] for x, i in sets]
    return Axle(
        float(np.mean(each)),
        min(x.low * around_m / ratios[i] for x, i in sets),
        max(x.high * around_m / ratios[i] for x, i in sets),
        tuple(i + 1 for i in which),
    )


def _peaks(x: Floats) -> list[float]:
    """Where the density of the ratio's logarithm has its peaks [1]."""
    low, high = float(x.min()) - 5 * WIDTH, float(x.max()) + 5 * WIDTH
    count = max(64, int((high - low) / (WIDTH / 4)))
    count = min(count, 20000)
    weights, edges = np.histogram(x, bins=count, range=(low, high))
    step = (high - low) / count
    k = np.arange(-int(4 * WIDTH / step), int(4 * WIDTH / step) + 1) * step
    kernel = np.exp(-((k / WIDTH) ** 2) / 2)
    density = np.convolve(weights, kernel / kernel.sum(), "same")
    middle = (edges[1:] + edges[:-1]) / 2
    top = np.flatnonzero((density[1:-1] > density[:-2]) & (density[1:-1] >= density[2:])) + 1
    top = top[np.argsort(-density[top])]
    kept: list[float] = []
    for i in top:
        if all(abs(middle[i] - c) > 2 * WITHIN for c in kept):
            kept.append(float(middle[i]))
    return kept


def _gear(x: Floats, centre: float, t: Floats) -> Gear | None:
    """One peak as a gear, where it holds long enough and stands out of what lies around it."""
    near = np.abs(x - centre) < WITHIN
    around = np.abs(x - centre) < 3 * WITHIN
    share = float(near.mean())
    # a peak of a slipping clutch is as wide as what lies around it
    if share < LEAST or near.sum() < 0.6 * around.sum():
        return None
    level = float(np.median(x[near]))
    scatter = float(np.std(x[near]))
    step = float(np.median(np.diff(t))) if len(t) > 1 else 1.0
    several = max(2.0, near.sum() * min(1.0, step / TOGETHER_S))
    half = 1.96 * MEDIAN * scatter / np.sqrt(several)
    return Gear(
        float(np.exp(level)), float(np.exp(level - half)), float(np.exp(level + half)), share
    )

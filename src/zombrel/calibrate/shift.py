"""Shift points, the lamp's lead, launch and rev-match.

References:
    [1] Wheel force at a road speed is greatest in the gear with the greater torque × ratio
        (Gillespie, *Fundamentals of Vehicle Dynamics*, ch. 2): shift where the next gear's
        overtakes.
    [2] Kinematics: crank speed = road speed / rolling circumference · final drive · ratio.
"""

from __future__ import annotations

import itertools
import math
from typing import Literal

from zombrel.job.pairs import LEAST_PAIRS, Pairs, between
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen

GEARS = 2
"""With fewer there is nothing to shift to."""


class Shift(Frozen, frozen=True, kw_only=True):
    """One up-shift; speeds in the unit of the torque curve."""

    at: float
    after: float
    limited: bool
    """The next gear never overtakes: shift at the redline."""
    loss: float
    """Share of wheel torque lost in the shift at ``at``."""


def checked(torque: Pairs, ratios: tuple[float, ...], redline: float) -> None:
    """Raise Problem for a curve, ratios or redline that cannot be.

    Pairs (engine speed [1/s], torque [N·m]); ``redline`` [1/s].
    """
    if len(torque) < LEAST_PAIRS or any(n <= 0 for n, _ in torque) or any(t < 0 for _, t in torque):
        raise Problem("A torque curve needs two pairs of rpm and N·m or more, none below zero.")
    if max(t for _, t in torque) <= 0:
        raise Problem("A torque curve without any torque says nothing; enter it again.")
    if len(ratios) < GEARS:
        raise Problem("Shift points need two gears or more.")
    if any(b >= a for a, b in itertools.pairwise(ratios)) or ratios[-1] <= 0:
        raise Problem("Gear ratios must fall from first to top, all above zero.")
    if redline <= torque[0][0]:
        raise Problem(
            f"The redline, {redline:g}, lies below the torque curve, which starts at "
            f"{torque[0][0]:g}."
        )


def shift_points(torque: Pairs, ratios: tuple[float, ...], redline: float) -> tuple[Shift, ...]:
    """Best speed for each up-shift [1].

    ``torque`` is (engine speed, torque), straight between pairs and held beyond them. The
    difference of wheel torques is straight between its corners, so the crossing is exact.
    """
    checked(torque, ratios, redline)
    return tuple(_shift(torque, low, high, redline) for low, high in itertools.pairwise(ratios))


def _shift(torque: Pairs, ratio: float, after: float, redline: float) -> Shift:
    drop = after / ratio

    def ahead(n: float) -> float:
        """Wheel torque of this gear less that of the next, per final drive."""
        return between(torque, n) * ratio - between(torque, n * drop) * after

    corners = {n for n, _ in torque} | {n / drop for n, _ in torque}
    edges = [redline, *sorted((n for n in corners if n < redline), reverse=True)]
    if ahead(redline) >= 0:
        here = between(torque, redline) * ratio
        loss = 1 - between(torque, redline * drop) * after / here if here > 0 else 0.0
        return Shift(at=redline, after=redline * drop, limited=True, loss=loss)
    at = edges[-1]
    for right, left in itertools.pairwise(edges):
        here, there = ahead(left), ahead(right)
        if here >= 0:
            at = left + (right - left) * here / (here - there)
            break
    return Shift(at=at, after=at * drop, limited=False, loss=0.0)


def lamp_speed(shift: float, rise: float, delay: float) -> float:
    """Engine speed at which the lamp must light.

    ``rise`` is engine speed per second, ``delay`` that of lamp and driver together [s].
    """
    if rise < 0 or delay < 0:
        raise Problem("Rise and delay cannot be below zero.")
    lamp = shift - rise * delay
    if lamp <= 0:
        raise Problem("With that rise and delay the lamp would have to light before the start.")
    return lamp


def rise(torque: float, ratio: float, final: float, mass: float, around: float) -> float:
    """Rise of engine speed under full torque [1/s²], drag and slip neglected.

    F = T·i/r, a = F/m, and [2]; r = circumference/2π.
    """
    per_metre = ratio * final / around
    return torque * per_metre * 2 * math.pi * per_metre / mass


def matched(speed: float, around: float, final: float, ratio: float) -> float:
    """Engine speed [1/s] that fits a road speed [m/s] in a gear [2]."""
    if around <= 0 or final <= 0 or ratio <= 0:
        raise Problem("Circumference, final drive and ratio must be above zero.")
    return speed / around * final * ratio


Lamp = Literal["dark", "lit", "flashing"]


def launch_lamp(engine: float, low: float, high: float) -> Lamp:
    """What a launch lamp shows: dark below its window, lit in it, flashing above.

    ``engine``, ``low`` and ``high`` [1/s].
    """
    if high <= low:
        raise Problem("The launch window must end above where it begins.")
    if engine < low:
        return "dark"
    return "lit" if engine <= high else "flashing"

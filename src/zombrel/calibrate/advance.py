"""Ignition: advance, the box's supply, the launch an automatic can hold.

References:
    [1] Total advance = initial + mechanical at the speed + vacuum, all in crank degrees
        (definition; a vacuum part falls to none at full load).
    [2] A capacitor-discharge box draws what it stores: I = idle share + energy · sparks per
        second / volts / efficiency, so current rises in a straight line with speed.
    [3] Torque converter at stall: engine torque = K · n² (SAE J1349 terms; Gillespie ch. 2).
"""

from __future__ import annotations

import math

from zombrel.job.pairs import Pairs, between
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen


def total(initial: float, mechanical: Pairs, vacuum: float, speed: float) -> float:
    """Total advance [°] at an engine speed in the unit of ``mechanical`` [1]."""
    if speed < 0:
        raise Problem("An engine speed cannot be below zero.")
    return initial + between(mechanical, speed) + vacuum


class Check(Frozen, frozen=True, kw_only=True):
    """One lamp-measured point against the sum of the parts [°]."""

    speed: float
    seen: float
    expected: float

    @property
    def off(self) -> float:
        """Seen minus expected [°]."""
        return self.seen - self.expected


def by_lamp(
    seen: Pairs, initial: float, mechanical: Pairs, vacuum: float
) -> tuple[tuple[Check, ...], float]:
    """Lamp-measured points and the shift of the initial setting that fits them best [°]."""
    checks = tuple(
        Check(speed=n, seen=deg, expected=total(initial, mechanical, vacuum, n)) for n, deg in seen
    )
    if not checks:
        return (), 0.0
    offs = sorted(c.off for c in checks)
    middle = len(offs) // 2
    shift = offs[middle] if len(offs) % 2 else (offs[middle - 1] + offs[middle]) / 2
    return checks, shift


def box_current(speed: float, at_speed: float, amps: float, rest: float) -> float:
    """Supply current [A] of a capacitor-discharge box [2].

    It takes ``rest`` [A] standing and ``amps`` at ``at_speed``; a straight line between.
    """
    if at_speed <= 0:
        raise Problem("The speed at which the current is stated must be above zero.")
    return rest + (amps - rest) * speed / at_speed


def held_launch(free_stall: float, torque: float, hold: float, ratio: float) -> float:
    """Highest launch speed that the brakes hold with a converter, in the unit of ``free_stall``.

    At stall the converter takes K·n² and passes it on times its stall ratio [3].

    Args:
        free_stall: engine speed the converter stalls at with full throttle.
        torque: engine torque there [N·m]; fixes K.
        hold: greatest torque at the converter's output that the brakes hold [N·m].
        ratio: stall torque ratio of the converter.
    """
    if min(free_stall, torque, hold) <= 0 or ratio < 1:
        raise Problem("Stall speed, torque and hold must be above zero, the ratio at least 1.")
    return free_stall * min(1.0, math.sqrt(hold / (ratio * torque)))

"""How a vehicle gains and loses speed: pull, air, rolling, slope.

References:
    [1] m · v̇ = F − ½ρ·CdA·(v + w)² − m·g·(Crr·cos α + sin α); turning parts add to the mass
        (Gillespie, *Fundamentals of Vehicle Dynamics*, ch. 2 and 4).
    [2] A throttle passes air by its opening: torque rises steeply at first and then less; part
        load as 1 − exp(−θ/θ₀) (Heywood, *Internal Combustion Engine Fundamentals*, ch. 7.6,
        shape; θ₀ ASSUMED).
"""

from __future__ import annotations

import math

from zombrel.job.value import Value

GRAVITY = 9.80665
"""[m/s²] (ISO 80000-3)."""
AIR = 1.2
"""Density at 20 °C [kg/m³]."""
ROLLING = 0.012
"""Rolling resistance of a radial on asphalt [1] (Gillespie, ch. 4)."""
TURNING = 1.06
"""Mass with what turns, in a high gear (Gillespie, ch. 2)."""
CDA_CAR, CDA_VAN, VAN_KG = 0.7, 1.4, 2200.0
"""Drag area of a car, of a van, and the mass from which it is taken for one: ASSUMED [m², kg]."""
THETA_0 = 0.9
"""How soon part load rises with the opening [share of full]: a progressive linkage, ASSUMED."""


class Body(Value, frozen=True):
    """What is moved, and by what; SI."""

    mass: float
    """[kg]"""
    cda: float
    """Drag area [m²]."""
    power: float
    """Full-load power at this speed [W]."""
    braking: float = 250.0
    """Engine braking with the throttle shut [N]."""


def resistance(body: Body, v: float, grade: float, wind: float = 0.0) -> float:
    """What holds it back at ``v`` [m/s] on ``grade`` [rise over run] in head ``wind`` [m/s] [1].

    Result [N].
    """
    slope = math.atan(grade)
    air = v + wind
    drag = 0.5 * AIR * body.cda * air * abs(air)
    return drag + body.mass * GRAVITY * (ROLLING * math.cos(slope) + math.sin(slope))


def pull(body: Body, v: float, theta: float) -> float:
    """Force at the wheels for an opening ``theta`` of 0 to 1 at ``v`` [m/s] [2]; result [N]."""
    full = body.power / max(v, 5.0)
    part = (1 - math.exp(-theta / THETA_0)) / (1 - math.exp(-1 / THETA_0))
    return part * (full + body.braking) - body.braking


def opening(body: Body, v: float, force: float) -> float:
    """The opening that gives ``force`` [N] at ``v`` [m/s], 0 to 1; the reverse of ``pull`` [2].

    Result [share of full].
    """
    full = body.power / max(v, 5.0)
    part = (force + body.braking) / (full + body.braking)
    top = 1 - math.exp(-1 / THETA_0)
    return min(1.0, -THETA_0 * math.log(max(1 - min(max(part, 0.0), 1.0) * top, 1e-9)))


def acceleration(body: Body, v: float, theta: float, grade: float, wind: float = 0.0) -> float:
    """v̇ [m/s²] at ``v`` [m/s], opening ``theta``, ``grade`` [rise over run], head ``wind`` [1]."""
    return (pull(body, v, theta) - resistance(body, v, grade, wind)) / (body.mass * TURNING)

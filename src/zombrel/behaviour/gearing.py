"""Where to shift out of each gear, and what the brakes of an automatic hold.

Reference: shift where the next gear's wheel torque overtakes (Gillespie ch. 2), see
``calibrate.shift``.
"""

from __future__ import annotations

from zombrel.behaviour.aim import need
from zombrel.behaviour.spin import STALL_RATIO
from zombrel.calibrate import advance, shift, tyre
from zombrel.job.facts import lacking
from zombrel.job.follow.query import query
from zombrel.job.model import Vehicle
from zombrel.job.pairs import between
from zombrel.job.sheet import Frozen

LAMP_S, DRIVER_S = 0.03, 0.22
"""From the pulse to the light, and from the light to the clutch [s] (assumption)."""


def held_launch(v: Vehicle) -> float:
    """Highest launch speed [1/s] that the brakes hold with an automatic.

    Raises:
        Problem: a fact it rests on is missing.
    """
    stall = need(v, "stall_rps")
    hold = need(v, "brake_hold_nm")
    final = need(v, "final_drive")
    if not v.torque or not v.ratios:
        raise lacking("torque", "ratios")
    return advance.held_launch(
        stall, between(v.torque, stall), hold / (final * v.ratios[0]), STALL_RATIO
    )


class Gear(Frozen, frozen=True, kw_only=True):
    """One up-shift; engine speeds [1/s]."""

    gear: int
    at: float
    after: float
    limited: bool
    rise: float
    """Rise of engine speed at the shift [1/s²]."""
    lamp: float
    """Engine speed at which the lamp must light."""


@query
def gears(v: Vehicle) -> tuple[Gear, ...]:
    """Best shift and lamp speed for every up-shift [1], lamp and driver taken as usual.

    Raises:
        Problem: torque curve, ratios, redline, mass, tyre or final drive is missing.
    """
    if not v.torque:
        raise lacking("torque")
    redline = need(v, "redline_rps")
    final, mass = need(v, "final_drive"), need(v, "mass_kg")
    if not v.tyre:
        raise lacking("tyre")
    around = tyre.parse(v.tyre).rolling_circumference
    out = []
    for i, point in enumerate(shift.shift_points(v.torque, v.ratios, redline)):
        rise = shift.rise(between(v.torque, point.at), v.ratios[i], final, mass, around)
        out.append(
            Gear(
                gear=i + 1,
                at=point.at,
                after=point.after,
                limited=point.limited,
                rise=rise,
                lamp=shift.lamp_speed(point.at, rise, LAMP_S + DRIVER_S),
            )
        )
    return tuple(out)

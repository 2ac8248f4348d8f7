"""Capacitive pick-up of ignition noise by a signal lead.

References:
    [1] Paul, *Introduction to Electromagnetic Compatibility*, 2nd ed., §9: two wires over
        a ground plane. Mutual capacitance per metre
        c_m ≈ 2πε₀ · ½·ln(1 + (2h/s)²) / ln(2h/r)².
    [2] Ott, *Electromagnetic Compatibility Engineering*, §2.2: for a victim resistance
        small against the coupling reactance, V_n = R · C_m · dV/dt.
"""

from __future__ import annotations

import math

EPS0 = 8.854e-12
HEIGHT = 0.010
"""Height of a loom over the body sheet [m]: ASSUMED, strapped along metal."""
RADIUS = 0.0005
SLEW = {"coil": 2e10, "ignition lead": 2e10, "alternator": 1e6}
"""dV/dt of the neighbour [V/s]: a 20 kV breakdown within a microsecond for ignition."""
TWIST = 1 / 20
"""What a twisted pair into a differential input leaves of it: usual figure, ASSUMED."""


SCREEN = 1 / 30
"""What a braid grounded at one end leaves of it: usual figure for a plain braid, ASSUMED."""


def mutual_capacitance(spacing: float, along: float) -> float:
    """Capacitance [F] between two leads ``spacing`` [m] apart running ``along`` [m] [1]."""
    shape = 0.5 * math.log(1 + (2 * HEIGHT / spacing) ** 2) / math.log(2 * HEIGHT / RADIUS) ** 2
    return 2 * math.pi * EPS0 * shape * along


def noise(
    what: str,
    spacing: float,
    along: float,
    source_ohm: float,
    twisted: bool,
    shielded: bool = False,
) -> float:
    """Peak noise [V] a neighbour puts on a lead fed from ``source_ohm`` [2]; 0 if it is quiet."""
    slew = SLEW.get(what, 0.0)
    peak = source_ohm * mutual_capacitance(spacing, along) * slew
    return peak * (TWIST if twisted else 1.0) * (SCREEN if shielded else 1.0)


def clear_spacing(what: str, along: float, source_ohm: float, allowed: float) -> float:
    """Spacing [m] at which an untwisted lead picks up ``allowed`` [V]: ``noise`` solved for it."""
    slew = SLEW.get(what, 0.0)
    if slew <= 0:
        return 0.0
    if allowed <= 0:
        return math.inf
    share = allowed / (source_ohm * slew * math.pi * EPS0 * along)
    exponent = share * math.log(2 * HEIGHT / RADIUS) ** 2
    return 2 * HEIGHT / math.sqrt(math.expm1(min(exponent, 700.0)))

"""Ethanol blends: senders, mixing, stoichiometry, headroom.

References:
    [1] Fuel-blend sender, digital: 50 to 150 Hz is 0 to 100 % ethanol; the low pulse of 1 to
        5 ms is −40 to 125 °C; above that range the fuel is contaminated (trade convention).
    [2] Stoichiometric air of a mixture is the mass-weighted mean (Heywood, ch. 3).
    [3] Petrol 745 kg/m³ and 14.7; ethanol 789 kg/m³ and 9.0 (rounded handbook values).
    [4] Volumes are taken to add; ethanol and petrol expand by under 0.3 %.
"""

from __future__ import annotations

from typing import Literal

from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.units import ZERO_C

SAME = 1e-12
"""Shares nearer than this are one."""
CLOSE = 1e-9
"""Bisection ends here."""

PETROL, ETHANOL = (745.0, 14.7), (789.0, 9.0)
"""(density [kg/m³], stoichiometric air by mass) [3]."""
LOW_HZ, HIGH_HZ = 50.0, 150.0
SILENT_HZ, FOUL_HZ = 45.0, 160.0
SHORT_S, LONG_S = 1e-3, 5e-3
COLD_K, HOT_K = ZERO_C - 40, ZERO_C + 125

Fault = Literal["", "no-signal", "contaminated"]


def sender_hz(ethanol: float) -> float:
    """Rate of a digital sender [Hz] at a fraction of ethanol [1]."""
    return LOW_HZ + (HIGH_HZ - LOW_HZ) * ethanol


def sender_fault(hz: float) -> Fault:
    """What the rate says about sender and fuel [1]."""
    if hz < SILENT_HZ:
        return "no-signal"
    return "contaminated" if hz > FOUL_HZ else ""


def sender_fraction(hz: float) -> float | None:
    """Fraction of ethanol at a rate [Hz]; None with a fault; the end values just beyond [1]."""
    if sender_fault(hz):
        return None
    return min(max((hz - LOW_HZ) / (HIGH_HZ - LOW_HZ), 0.0), 1.0)


def sender_kelvin(pulse: float) -> float | None:
    """Fuel temperature [K] from the pulse [s]; None outside 1 to 5 ms [1]."""
    if not SHORT_S * (1 - 1e-9) <= pulse <= LONG_S * (1 + 1e-9):
        return None
    return COLD_K + (HOT_K - COLD_K) * (pulse - SHORT_S) / (LONG_S - SHORT_S)


def output_fraction(volts: float, low_v: float = 0.5, high_v: float = 4.5) -> float:
    """Fraction that an analogue output of ``volts`` stands for; not held to 0…1.

    ``volts``, ``low_v`` and ``high_v`` [V]; result [share].
    """
    if high_v == low_v:
        raise Problem("The output's low and high volts are the same; it could say nothing.")
    return (volts - low_v) / (high_v - low_v)


class Mix(Frozen, frozen=True, kw_only=True):
    """What to add; litres."""

    add: float | None
    """None when this fuel moves the blend the wrong way, or not at all."""
    possible: bool
    full: float
    """Fraction of ethanol if filled to the brim with it."""


def mix(now: float, now_part: float, add_part: float, target: float, tank: float) -> Mix:
    """How much of a fuel brings the tank to a target blend [4].

    now · a + add · b = (now + add) · t, so add = now · (t − a)/(b − t).

    Args:
        now: fuel in the tank, any unit of volume, ``tank`` in the same.
        now_part: its fraction of ethanol; ``add_part`` and ``target`` likewise.
        add_part: fraction of ethanol in what is added.
        target: fraction wanted.
        tank: what the tank holds.

    Raises:
        Problem: a fraction outside 0 to 1, or more fuel than the tank holds.
    """
    for name, part in (("now", now_part), ("added", add_part), ("target", target)):
        if not 0 <= part <= 1:
            raise Problem(f"A blend ({name}) lies between 0 and 100 %, not {part * 100:g} %.")
    if tank <= 0 or not 0 <= now <= tank:
        raise Problem(f"{now:g} in a tank of {tank:g}: the fuel must fit the tank.")
    full = (now * now_part + (tank - now) * add_part) / tank
    if abs(target - now_part) < SAME and now > 0:
        return Mix(add=0.0, possible=True, full=full)
    if now == 0:
        same = abs(add_part - target) < SAME
        return Mix(add=tank if same else None, possible=same, full=full)
    share = (target - now_part) / (add_part - target) if add_part != target else -1.0
    if share <= 0:
        return Mix(add=None, possible=False, full=full)
    add = now * share
    return Mix(add=add, possible=now + add <= tank * (1 + 1e-12), full=full)


def density(ethanol: float) -> float:
    """Density of a blend [kg/m³]; ``ethanol`` is a fraction by volume [3][4]."""
    return PETROL[0] + (ETHANOL[0] - PETROL[0]) * ethanol


def stoichiometric(ethanol: float) -> float:
    """Stoichiometric air-fuel ratio by mass; ``ethanol`` is a fraction by volume [2]."""
    if not 0 <= ethanol <= 1:
        raise Problem(f"A blend lies between 0 and 100 %, not {ethanol * 100:g} %.")
    share = ethanol * ETHANOL[0] / density(ethanol)
    return PETROL[1] + (ETHANOL[1] - PETROL[1]) * share


def flow_factor(ethanol: float) -> float:
    """Fuel volume for the same air, over that of petrol.

    ``ethanol`` [share of volume], result [ratio].
    """
    return PETROL[1] * PETROL[0] / (stoichiometric(ethanol) * density(ethanol))


def fuel_flow(power_w: float, bsfc: float, ethanol: float) -> float:
    """Fuel volume an engine takes [m³/s].

    ``bsfc`` [kg/J] on petrol (brake specific consumption, Heywood ch. 2); the air, and so
    the power, is taken as unchanged by the blend.
    """
    return power_w * bsfc / PETROL[0] * flow_factor(ethanol)


def highest_blend(flow: float, available: float) -> float | None:
    """Greatest fraction of ethanol for which ``available`` suffices.

    ``flow`` is the need on petrol, ``available`` what pump or injectors give, same unit.
    None when petrol alone is too much. The factor rises with ethanol, so bisection finds it.

    ``flow`` and ``available`` in one unit [any]; result [share of volume].
    """
    if flow <= 0:
        raise Problem("The engine's fuel need must be above zero.")
    if available < flow:
        return None
    if available >= flow * flow_factor(1.0):
        return 1.0
    low, high = 0.0, 1.0
    while high - low > CLOSE:
        middle = (low + high) / 2
        if flow * flow_factor(middle) <= available:
            low = middle
        else:
            high = middle
    return low

"""Pressure senders and boost.

Reference: ratiometric transducer, output a fixed share of the supply at each end of its range
(0.1 and 0.9 as a rule); boost is absolute pressure less the barometer (definition).
"""

from __future__ import annotations

from zombrel.job.problem import Problem

ATMOSPHERE = 101325.0
"""Standard atmosphere [Pa] (ISO 2533)."""
BEYOND = 0.03
"""Share of the supply past an end of the range at which a wire is taken to be off."""


def ratiometric(
    volts: float, supply: float, low_part: float, high_part: float, low: float, high: float
) -> float:
    """Pressure [unit of ``low`` and ``high``] from volts; straight on beyond the ends.

    ``volts`` and ``supply`` [V]; ``low_part``, ``high_part`` [share of the supply].
    """
    if supply <= 0:
        raise Problem("A ratiometric sender needs a supply above 0 V.")
    if high_part == low_part:
        raise Problem("Both ends of the range have the same share of the supply.")
    return low + (high - low) * (volts / supply - low_part) / (high_part - low_part)


def fault(volts: float, supply: float, low_part: float, high_part: float) -> str:
    """What volts outside the range say; empty inside.

    ``volts`` and ``supply`` [V]; ``low_part``, ``high_part`` [share of the supply].
    """
    share = volts / supply
    low, high = min(low_part, high_part), max(low_part, high_part)
    if share < low - BEYOND:
        return "below range: supply or signal wire off, or shorted to ground"
    if share > high + BEYOND:
        return "above range: ground wire off, or signal shorted to supply"
    return ""


def boost(absolute: float, barometer: float) -> float:
    """Boost [Pa]; below zero is vacuum."""
    if absolute < 0 or barometer <= 0:
        raise Problem("An absolute pressure cannot be below zero; a barometer reads above it.")
    return absolute - barometer

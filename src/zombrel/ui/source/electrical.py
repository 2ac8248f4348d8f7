"""Short words for what a line carries."""

from __future__ import annotations

import math

from zombrel.job.sheet import Takes
from zombrel.signals.kinds.base import OPEN_OHM
from zombrel.units import number, prefixed


def electrical_words(takes: Takes, value: float) -> str:
    """What a sender gives, short."""
    if not math.isfinite(value) or value >= OPEN_OHM:
        return "open" if takes == "ohm" else "–"
    match takes:
        case "ohm":
            return prefixed(value, "Ω")
        case "volts":
            return f"{value:.2f} V"
        case "hz":
            return f"{value:.0f} Hz"
        case "duty":
            return f"{value * 100:.0f} % on"
        case "thermocouple":
            return f"{value:.2f} mV"
        case _:
            return f"{value:g}"


def hz_words(hz: float) -> str:
    """A frequency, short."""
    return f"{number(hz, 1 if hz < 100 else 0)} Hz"

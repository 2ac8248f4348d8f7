"""The sender that an input is made for, worked out from the curve the input goes by.

Reference: a ratiometric sender is straight between two pressures; the inverse of a device's curve
is the law of the sender that reads true on it.
"""

from __future__ import annotations

import math
from typing import Protocol

from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Curve, InputSheet
from zombrel.job.source import (
    BlendSender,
    Duty,
    Ratiometric,
    Resistive,
    SensorSpec,
    Source,
    Thermistor,
    Volts,
)
from zombrel.job.value import Value
from zombrel.signals.kinds import kind_of
from zombrel.units.measure import token

NTC_PAIRS = 3
"""A thermistor is known by so many pairs at least."""


class Sense(Protocol):
    """A sensor chain as a rule looks at it."""

    @property
    def source(self) -> Source:
        """Its source."""

    @property
    def sheet(self) -> InputSheet:
        """The input it ends at."""


class Fits(Value, frozen=True):
    """A sender that fits an input."""

    spec: SensorSpec
    what: str
    words: str
    """Of the mend that fits it."""


def fitting_sender(f: Sense) -> Fits | None:
    """What would read true on the input; None where the source is not ours to choose.

    Raises nothing: an input without a curve, or one that wants another property, gives None.
    """
    if kind_of(f.source.spec).tolerates(f.source.spec) != "own" or not _is_sender(f.source):
        return None
    curve = _goes_by(f.sheet)
    if curve is None:
        return None
    try:
        return _for(f, curve)
    except Problem:
        return None


def _is_sender(source: Source) -> bool:
    return isinstance(
        source.spec, Thermistor | Resistive | Ratiometric | Volts | Duty | BlendSender
    )


def _goes_by(sheet: InputSheet) -> Curve | None:
    """The curve of an input that cannot be taught one, or the first that it offers."""
    if sheet.curve:
        return sheet.curve
    curves = sheet.curves
    if curves is None or not curves.presets:
        return None
    return curves.presets[0].points


def _for(f: Sense, curve: Curve) -> Fits | None:
    (low, e_low), (high, e_high) = curve[0], curve[-1]
    kind = QUANTITIES[f.sheet.quantity].kind
    ends = f"{token(kind, low)} to {token(kind, high)}"
    match f.sheet.takes:
        case "volts" if kind == "pressure" and len(curve) == 2:  # noqa: PLR2004 - a straight line
            full = f.sheet.full_v or 5.0
            absolute = bool(f.sheet.barometer)
            spec: SensorSpec = Ratiometric(
                low=low,
                high=high,
                low_part=e_low / full,
                high_part=e_high / full,
                supply_v=full,
                absolute=absolute,
            )
            against = "absolute" if absolute else "against air"
            what = f"a sender for {ends}, {against}, {e_low:g} to {e_high:g} V from {full:g} V"
        case "volts":
            spec = Volts(points=curve)
            what = f"a sender that gives {e_low:g} V at {token(kind, low)} and {e_high:g} V at "
            what += token(kind, high)
        case "ohm" if kind == "temperature" and len(curve) >= NTC_PAIRS:
            spec = Thermistor(points=curve)
            what = f"a thermistor with {e_low:.0f} Ω at {token(kind, low)} and {e_high:.0f} Ω at "
            what += token(kind, high)
        case "ohm":
            spec = Resistive(points=curve)
            what = f"a sender with {e_low:.0f} Ω at {token(kind, low)} and {e_high:.0f} Ω at "
            what += token(kind, high)
        case "duty":
            spec = Duty(points=curve)
            what = f"a signal of {e_low * 100:.0f} % at {token(kind, low)} and "
            what += f"{e_high * 100:.0f} % at {token(kind, high)}"
        case "hz":
            spec, what = BlendSender(), "a sender of 50 to 150 Hz"
        case _:
            return None
    if not all(math.isfinite(e) for _, e in curve):
        return None
    return Fits(spec, what, "Fit the sender it is made for")

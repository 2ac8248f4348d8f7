"""Kinds of measured quantity: SI inside, the user's unit outside.

Reference: exact factors of the SI brochure (9th ed., tables 8 and 9) and of NIST SP 811, app. B.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from zombrel.units import (
    FOOT,
    MILE,
    RPM,
    SPACE,
    ZERO_C,
    Units,
    number,
    speed_unit,
    speed_value,
)
from zombrel.units.gauge import at_least

Kind = Literal[
    "speed",
    "engine",
    "temperature",
    "pressure",
    "volume",
    "fraction",
    "lambda",
    "contact",
    "voltage",
    "gear",
    "length",
    "short",
    "far",
    "mass",
    "force",
    "torque",
    "area",
]

PSI = 6894.757293168
"""One pound-force per square inch [Pa] (NIST SP 811)."""
BAR = 1e5
"""One bar [Pa]."""
LITRE = 1e-3
"""One litre [m³]."""
GALLON = 3.785411784e-3
"""One US gallon [m³] (NIST Handbook 44)."""
POUND = 0.45359237
"""One pound [kg] (NIST Handbook 44)."""
POUND_FORCE = 4.4482216152605
"""One pound-force [N] (NIST SP 811)."""
POUND_FOOT = 1.3558179483314
"""One pound-force foot [N·m] (NIST SP 811)."""

FEW_MM = 10
"""So few are told in tenths."""
INCHES = 12
"""In a foot."""

_PRESSURE = {"kPa": 1000.0, "psi": PSI, "bar": BAR}
_VOLUME = {"l": LITRE, "gal": GALLON}


_UNIT: dict[Kind, Callable[[Units], str]] = {
    "speed": speed_unit,
    "engine": lambda units: "rpm",
    "temperature": lambda units: f"°{units.temperature}",
    "pressure": lambda units: units.pressure,
    "volume": lambda units: "l" if units.volume == "l" else "gal (US)",
    "fraction": lambda units: "%",
    "lambda": lambda units: "λ",
    "voltage": lambda units: "V",
    "length": lambda units: units.length,
    "far": lambda units: units.distance,
    "short": lambda units: "mm" if units.length == "m" else "in",
    "mass": lambda units: units.mass,
    "force": lambda units: "N" if units.mass == "kg" else "lbf",
    "torque": lambda units: units.torque,
    "area": lambda units: "mm²" if units.area == "mm2" else "AWG",
}
_SCALE: dict[Kind, Callable[[Units], float]] = {
    "speed": lambda units: speed_value(1.0, units),
    "engine": lambda units: 1 / RPM,
    "temperature": lambda units: 1.0 if units.temperature == "C" else 1.8,
    "pressure": lambda units: 1 / _PRESSURE[units.pressure],
    "volume": lambda units: 1 / _VOLUME[units.volume],
    "fraction": lambda units: 100.0,
    "length": lambda units: 1.0 if units.length == "m" else 1 / FOOT,
    "far": lambda units: 1e-3 if units.distance == "km" else 1 / MILE,
    "short": lambda units: 1000.0 if units.length == "m" else INCHES / FOOT,
    "mass": lambda units: 1.0 if units.mass == "kg" else 1 / POUND,
    "force": lambda units: 1.0 if units.mass == "kg" else 1 / POUND_FORCE,
    "torque": lambda units: 1.0 if units.torque == "N·m" else 1 / POUND_FOOT,
}


def unit(kind: Kind, units: Units) -> str:
    """Name of the unit a quantity is shown in; empty for one without."""
    named = _UNIT.get(kind)
    return named(units) if named is not None else ""


def value_in(kind: Kind, value: float, units: Units) -> float:
    """An SI value in the user's unit.

    ``value`` [SI], result [user's unit].
    """
    if kind == "temperature":
        celsius = value - ZERO_C
        return celsius if units.temperature == "C" else celsius * 1.8 + 32
    return value * scale(kind, units)


def value_from(kind: Kind, shown: float, units: Units) -> float:
    """A value in the user's unit as SI.

    ``shown`` [user's unit], result [SI].
    """
    if kind == "temperature":
        return (shown if units.temperature == "C" else (shown - 32) / 1.8) + ZERO_C
    return shown / scale(kind, units)


def scale(kind: Kind, units: Units) -> float:
    """User's units in one SI unit: what a difference is multiplied by.

    Result [user's unit per SI unit].
    """
    scaled = _SCALE.get(kind)
    return scaled(units) if scaled is not None else 1.0


def digits(kind: Kind, units: Units) -> int:
    """Decimals that mean something at the size such quantities have in a vehicle."""
    match kind:
        case "pressure":
            return {"kPa": 0, "psi": 1, "bar": 2}[units.pressure]
        case "volume" | "speed" | "length" | "voltage":
            return 1
        case "lambda":
            return 3
        case _:
            return 0


def written(kind: Kind, value: float, units: Units, places: int | None = None) -> str:
    """A quantity with its unit: ``361.15 -> '88 °C'``."""
    if kind == "contact":
        return "on" if round(value) else "off"
    if kind == "area":
        return section(value, units)
    if kind == "short":
        shown = value_in(kind, value, units)
        if units.length == "m":
            return f"{shown:.2g} mm" if abs(shown) < FEW_MM else f"{shown:.0f} mm"
        return f"{shown:.3g} in"
    if kind == "length" and places is None:
        return f"{value_in(kind, value, units):.3g} {units.length}"
    text = number(value_in(kind, value, units), digits(kind, units) if places is None else places)
    space = " " if kind == "length" else SPACE
    return f"{text}{space}{unit(kind, units)}".strip()


def section(area_mm2: float, units: Units) -> str:
    """A conductor's section [mm²] as the user orders it: ``0.75 mm²``, or ``AWG 18``."""
    if units.area == "mm2":
        return f"{area_mm2:.3g} mm²"
    return f"AWG {at_least(area_mm2)}"


def difference(kind: Kind, delta: float, units: Units, places: int | None = None) -> str:
    """A signed difference with its unit: ``5.0 -> '+5.0 °C'``."""
    shown = delta * scale(kind, units)
    if places is None:
        places = digits(kind, units) + (1 if kind != "lambda" else 0)
    sign = "+" if shown > 0 and round(shown, places) > 0 else ""
    return f"{sign}{number(shown, places)}{SPACE}{unit(kind, units)}".strip()


def size(kind: Kind, delta: float, units: Units, places: int | None = None) -> str:
    """How large a difference is, without its sign: ``7.9 -> '7.9 K'``, or ``'14.2 °F'``."""
    shown = abs(delta) * scale(kind, units)
    kelvin = kind == "temperature" and units.temperature == "C"
    name = "K" if kelvin else unit(kind, units)
    return f"{number(shown, 1 if places is None else places)}{SPACE}{name}".strip()


def token(kind: Kind, value: float, places: int | None = None) -> str:
    """A quantity inside a sentence, to be written by ``units.words``.

    ``value`` [SI].
    """
    return f"{{q:{kind}:{value!r}:{'' if places is None else places}}}"


def area_of(area_mm2: float) -> str:
    """A conductor's section [mm²] inside a sentence."""
    return token("area", area_mm2)


def length_of(metres: float, places: int | None = None) -> str:
    """A length [m] inside a sentence."""
    return token("length", metres, places)


def short_of(metres: float) -> str:
    """A length that is told in millimetres or inches [m] inside a sentence."""
    return token("short", metres)


def force_of(newtons: float) -> str:
    """A force [N] inside a sentence."""
    return token("force", newtons)


def mass_of(kilograms: float) -> str:
    """A mass [kg] inside a sentence."""
    return token("mass", kilograms)


def size_token(kind: Kind, delta: float, places: int = 1) -> str:
    """How large a difference is, inside a sentence.

    ``delta`` [SI].
    """
    return f"{{s:{kind}:{delta!r}:{places}}}"


def delta_token(kind: Kind, value: float) -> str:
    """A difference of a quantity inside a sentence.

    ``delta`` [SI].
    """
    return f"{{d:{kind}:{value!r}:}}"

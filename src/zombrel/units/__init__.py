"""Quantities: SI inside, converted at the edges.

Everything below this package works in metres, seconds, volts, ohms, amperes, kelvin and
hertz. Engine speed is revolutions per second, pulse rates are pulses per metre or per
revolution. Two names keep their trade units because they are designations rather than
measurements: wire cross-sections (mm², ISO 6722-1) and device settings (in the unit
printed on the device).
"""

from __future__ import annotations

import math
import re
from typing import Literal

import msgspec

GROUPED_FROM = 10000
"""Four digits stay together (ISO 80000-1)."""

KMH = 1000.0 / 3600.0
"""One kilometre per hour [m/s]."""
MPH = 1609.344 / 3600.0
"""One mile per hour [m/s] (international mile, 1959)."""
KNOT = 1852.0 / 3600.0
"""One knot [m/s] (international nautical mile)."""
FOOT = 0.3048
"""One international foot [m] (1959)."""
MILE = 1609.344
"""One international mile [m]."""
INCH = 0.0254
"""One inch [m]."""
RPM = 1.0 / 60.0
"""One revolution per minute [1/s]."""
ZERO_C = 273.15
"""0 °C [K]."""

SPACE = "\u00a0"
"""Between groups of thousands: a no-break space, which every shipped font has."""


class Units(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What the user wants to see; nothing inside depends on it."""

    distance: Literal["km", "mi"] = "km"
    temperature: Literal["C", "F"] = "C"
    area: Literal["mm2", "awg"] = "mm2"
    pressure: Literal["kPa", "psi", "bar"] = "kPa"
    volume: Literal["l", "gal"] = "l"
    length: Literal["m", "ft"] = "m"
    mass: Literal["kg", "lb"] = "kg"
    torque: Literal["N·m", "lb·ft"] = "N·m"
    paper: Literal["A4", "Letter"] = "A4"


METRIC = Units()
CUSTOMARY = Units("mi", "F", "awg", "psi", "gal", "ft", "lb", "lb·ft", "Letter")
"""Everything as the other half of the trade writes it."""


LARGE = 2.0**51
"""A number beyond this is whole, or nearly."""
WHOLE = 1.5 * 2**52
"""Added to a smaller number and taken from it again, it leaves the nearest whole one [1]."""


def rounded(x: float, parts: float) -> float:
    """``x`` to so many parts of its unit, as 1e6: ``round`` goes through text, which takes longer.

    ``x`` and result [any], ``parts`` [1].

    Reference: [1] IEEE 754-2019, 4.3.1, round to nearest.
    """
    many = x * parts
    return (many + WHOLE - WHOLE) / parts if -LARGE < many < LARGE else x


def number(x: float, digits: int = 0) -> str:
    """Write a number with grouped thousands: ``24054.2 -> '24 054'`` (thin space).

    Four-digit integers stay together, as ISO 80000-1 allows; ``nan`` and infinities
    become a dash, because a screen must never show them as if they were measured.

    ``x`` and the text are in one unit [any].
    """
    if not math.isfinite(x):
        return "–"
    text = f"{x:,.{digits}f}"
    if abs(x) < GROUPED_FROM:
        text = text.replace(",", "")
    text = text.replace(",", SPACE)
    return (
        "0" + text[2:]
        if text.startswith("-0") and float(f"{x:.{digits}f}") == 0
        else (text.replace("-", "\u2212"))
    )


def significant(x: float, figures: int = 3) -> str:
    """Write ``x`` to so many significant figures, without an exponent.

    ``x`` and the text are in one unit [any].
    """
    if x == 0 or not math.isfinite(x):
        return number(x)
    told = abs(float(f"{x:.{figures - 1}e}"))
    digits = max(0, figures - 1 - math.floor(math.log10(told)))
    return number(x, min(digits, 6))


def prefixed(x: float, unit: str, figures: int = 3) -> str:
    """Write a quantity with the SI prefix that keeps it between 1 and 1000.

    >>> prefixed(4700, "Ω")
    '4.70 kΩ'
    """
    if x == 0 or not math.isfinite(x):
        return f"{number(x)} {unit}"
    for factor, prefix in ((1e6, "M"), (1e3, "k"), (1.0, ""), (1e-3, "m"), (1e-6, "µ")):
        if abs(x) >= factor * 0.9995:
            return f"{significant(x / factor, figures)} {prefix}{unit}"
    return f"{significant(x / 1e-9, figures)} n{unit}"


def percent(fraction: float, digits: int = 1) -> str:
    """Write a signed fraction as per cent: ``0.0019 -> '+0.2 %'``."""
    sign = "+" if fraction > 0 and round(fraction * 100, digits) > 0 else ""
    return f"{sign}{number(fraction * 100, digits)} %"


def speed(v: float, units: Units, digits: int = 1) -> str:
    """Write a speed [m/s] with the user's unit."""
    return f"{number(speed_value(v, units), digits)} {speed_unit(units)}"


def speed_value(v: float, units: Units) -> float:
    """Convert a speed [m/s] to the user's unit."""
    return v / (KMH if units.distance == "km" else MPH)


def speed_from(value: float, units: Units) -> float:
    """Convert a speed in the user's unit to m/s.

    ``value`` [km/h or mph], result [m/s].
    """
    return value * (KMH if units.distance == "km" else MPH)


def speed_unit(units: Units) -> str:
    """Name of the user's speed unit."""
    return "km/h" if units.distance == "km" else "mph"


def per_distance(pulses_per_m: float, units: Units) -> str:
    """Write a pulse rate [1/m] per kilometre or per mile."""
    if units.distance == "km":
        return f"{number(pulses_per_m * 1000)} per km"
    return f"{number(pulses_per_m * MILE)} per mile"


def speed_token(v: float, digits: int = 0) -> str:
    """A speed [m/s] inside a sentence, to be written by ``words`` in the user's unit."""
    return f"{{v:{v!r}:{digits}}}"


def rate_token(pulses_per_m: float) -> str:
    """A pulse rate [1/m] inside a sentence, to be written by ``words``."""
    return f"{{r:{pulses_per_m!r}}}"


_TOKEN = re.compile(r"\{(v|r):([^:}]+)(?::(\d))?\}|\{(q|d|s):(\w+):([^:}]+):(\d?)\}")


def words(text: str, units: Units) -> str:
    """Write the speeds and rates in ``text`` in the user's units.

    Sentences made deep inside carry SI values as tokens, because only the edge knows what
    the user wants to read.
    """
    if "{" not in text:
        return text

    def written(m: re.Match[str]) -> str:
        if m[4]:
            return _quantity(m, units)
        value = float(m[2])
        if m[1] == "v":
            return speed(value, units, int(m[3] or 0))
        rate, _, per = per_distance(value, units).partition(" per ")
        return f"{rate} pulses per {per}"

    return _TOKEN.sub(written, text)


def _quantity(m: re.Match[str], units: Units) -> str:
    from zombrel.units import measure

    write = {"q": measure.written, "d": measure.difference, "s": measure.size}[m[4]]
    return write(m[5], float(m[6]), units, int(m[7]) if m[7] else None)  # type: ignore[arg-type]


def temperature(kelvin: float, units: Units, digits: int = 0) -> str:
    """Write a temperature [K] in the user's unit."""
    if units.temperature == "C":
        return f"{number(kelvin - ZERO_C, digits)} °C"
    return f"{number((kelvin - ZERO_C) * 9 / 5 + 32, digits)} °F"


def rpm(rps: float) -> str:
    """Write an engine speed [1/s] as rpm."""
    return f"{number(rps / RPM)} rpm"

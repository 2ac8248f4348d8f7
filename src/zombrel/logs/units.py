"""Units as logs write them, and what channels are called.

References: exact factors of the SI brochure (9th ed., tables 8 and 9) and of NIST SP 811, app. B.
"""

from __future__ import annotations

import re

from zombrel.job.value import Value
from zombrel.logs.recording import What
from zombrel.units import FOOT, KMH, KNOT, MILE, MPH, RPM, ZERO_C
from zombrel.units.measure import PSI


class Unit(Value, frozen=True):
    """One unit: SI = shown × size + zero."""

    what: What
    size: float
    zero: float = 0.0


G = 9.80665
"""Standard acceleration [m/s²]."""
UNITS: dict[str, Unit] = {
    "km/h": Unit("speed", KMH),
    "mph": Unit("speed", MPH),
    "m/s": Unit("speed", 1.0),
    "kn": Unit("speed", KNOT),
    "ft/s": Unit("speed", FOOT),
    "rpm": Unit("engine", RPM),
    "°C": Unit("temperature", 1.0, ZERO_C),
    "°F": Unit("temperature", 5 / 9, ZERO_C - 32 * 5 / 9),
    "K": Unit("temperature", 1.0),
    "kPa": Unit("pressure", 1000.0),
    "bar": Unit("pressure", 1e5),
    "mbar": Unit("pressure", 100.0),
    "psi": Unit("pressure", PSI),
    "Pa": Unit("pressure", 1.0),
    "V": Unit("voltage", 1.0),
    "mV": Unit("voltage", 0.001),
    "%": Unit("fraction", 0.01),
    "λ": Unit("lambda", 1.0),
    "AFR": Unit("lambda", 1 / 14.7),
    "g": Unit("acceleration", G),
    "m/s²": Unit("acceleration", 1.0),
    "°": Unit("angle", 1.0),
    "m": Unit("length", 1.0),
    "ft": Unit("length", FOOT),
    "km": Unit("length", 1000.0),
    "mile": Unit("length", MILE),
    "N·m": Unit("torque", 1.0),
    "lb·ft": Unit("torque", 1.3558179483314),
    "A": Unit("current", 1.0),
    "Ω": Unit("resistance", 1.0),
    "kΩ": Unit("resistance", 1000.0),
}
SPELT: dict[str, str] = {
    "km/h": "km/h kmh kph kmph km/hr km\\h km_h",
    "mph": "mph mi/h miles/h mi_h",
    "m/s": "m/s ms-1 mps m_s",
    "kn": "kn kt kts knot knots",
    "ft/s": "ft/s fps",
    "rpm": "rpm 1/min min-1 u/min r/min rev/min",
    "°C": "°c c degc deg_c celsius oc ºc",
    "°F": "°f f degf deg_f fahrenheit ºf",
    "K": "k kelvin",
    "kPa": "kpa",
    "bar": "bar",
    "mbar": "mbar hpa",
    "psi": "psi psig psia",
    "Pa": "pa",
    "V": "v volt volts",
    "mV": "mv",
    "%": "% pct percent",
    "λ": "λ lambda",
    "AFR": "afr a/f",
    "g": "g",
    "m/s²": "m/s2 m/s² m/s^2 ms-2",
    "°": "° deg degree degrees",
    "m": "m metre metres meter meters",
    "ft": "ft feet",
    "km": "km",
    "mile": "mi mile miles",
    "N·m": "nm n·m",
    "lb·ft": "lbft lb-ft lb·ft ftlb",
    "A": "a amp amps",
    "Ω": "ω ω ohm ohms",
    "kΩ": "kω kω kohm kohms",
}
ALIASES = {alias: unit for unit, words in SPELT.items() for alias in words.split()}
TIMES: dict[str, float] = {
    "s": 1.0,
    "sec": 1.0,
    "secs": 1.0,
    "seconds": 1.0,
    "ms": 0.001,
    "msec": 0.001,
    "milliseconds": 0.001,
    "us": 1e-6,
    "µs": 1e-6,
    "min": 60.0,
    "minutes": 60.0,
    "h": 3600.0,
}
"""Units of time [s]."""
MEANS: tuple[tuple[str, What], ...] = (
    (r"speed|velocity|vss|spd|gps.?v\b", "speed"),
    (r"rpm|engine.?sp|revs\b|tach", "engine"),
    (r"coolant|clt|ect\b|iat\b|charge.?air|intake.?air|ambient|temp|egt|outside", "temperature"),
    (r"boost|map\b|manifold|pressure|baro", "pressure"),
    (r"batt|volt|vbat", "voltage"),
    (r"throttle|tps\b|pedal|load|duty|ethanol", "fraction"),
    (r"lambda|afr", "lambda"),
    (r"accel", "acceleration"),
    (r"resist|\bohms?\b", "resistance"),
    (r"heading|course|bearing|lat|lon", "angle"),
    (r"altitude|elevation|distance|odo", "length"),
)
"""Words of a heading, and what such a channel measures."""
BARE: dict[str, str] = {"rpm": "rpm", "lambda": "λ", "afr": "AFR"}
"""Headings that are units themselves."""


def unit_named(text: str) -> str:
    """The unit that ``text`` spells; empty for none. ``M`` of ``ms`` is told by the caller."""
    plain = text.strip().replace(" ", "")
    return plain if plain in UNITS else ALIASES.get(plain.casefold(), "")


def what_of(name: str) -> What:
    """What a channel of that name measures; ``number`` where its words say nothing."""
    plain = name.casefold().replace("_", " ")
    return next((what for words, what in MEANS if re.search(words, plain)), "number")

"""Kinds of figure that people type, how their units are written, and Pint to convert them.

Reference: sizes after the SI brochure, 9th ed., tables 8 and 9, and NIST SP 811, app. B.
"""

from __future__ import annotations

import functools
from typing import Any

from zombrel.job.value import Value

DEFINITIONS = """
meter = [length] = m
second = [time] = s
kilogram = [mass]
ampere = [current] = A
kelvin = [temperature] = K
gram = 1e-3 * kilogram
kilometer = 1000 * meter
centimeter = 0.01 * meter
millimeter = 0.001 * meter
inch = 0.0254 * meter
foot = 0.3048 * meter
yard = 0.9144 * meter
mile = 1609.344 * meter
minute = 60 * second
hour = 3600 * second
tonne = 1000 * kilogram
pound = 0.45359237 * kilogram
stone = 14 * pound
newton = kilogram * meter / second ** 2
pound_force = 4.4482216152605 * newton
kilogram_force = 9.80665 * newton
watt = newton * meter / second
kilowatt = 1000 * watt
pascal = newton / meter ** 2
kilopascal = 1000 * pascal
megapascal = 1e6 * pascal
bar = 1e5 * pascal
millibar = 100 * pascal
atmosphere = 101325 * pascal
psi = 6894.757293168 * pascal
inch_of_mercury = 3386.389 * pascal
kgf_per_cm2 = 98066.5 * pascal
liter = 1e-3 * meter ** 3
milliliter = 1e-6 * meter ** 3
us_gallon = 3.785411784 * liter
imperial_gallon = 4.54609 * liter
volt = newton * meter / ampere / second
millivolt = 1e-3 * volt
ohm = volt / ampere
milliohm = 1e-3 * ohm
kiloohm = 1e3 * ohm
megaohm = 1e6 * ohm
milliampere = 1e-3 * ampere
microampere = 1e-6 * ampere
turn = []
pulse = []
hertz = pulse / second
kilohertz = 1000 * hertz
rpm = turn / minute
rps = turn / second
knot = 1852 * meter / hour
celsius = kelvin; offset: 273.15
fahrenheit = 5 / 9 * kelvin; offset: 255.37222222222223
square_millimeter = millimeter ** 2
"""
"""What the trade types, for Pint: a table of one's own loads in a hundredth of its whole one's
time, and holds nothing that a typed text could mean by accident."""


class Wanted(Value, frozen=True):
    """One kind of figure."""

    name: str
    unit: str
    """Unit of the value given back, as Pint calls it."""
    example: str
    spelt: dict[str, str]
    """How a unit is written -> how Pint calls it; in small letters unless ``exact``."""
    least: float = 0.0
    most: float = 1e8
    thousands: bool = False
    """``7k`` is seven thousand."""
    doubt_below: float = 0.0
    """So small a figure with three decimals may be a thousand: ``1.900`` kg of car."""
    zero: bool = True
    """Nought is one of its values."""
    shown: str = ""
    """The unit as it is printed; as Pint calls it when empty."""


def _spelt(text: str) -> dict[str, str]:
    """``"mile: mi miles"`` lines as spelling -> unit."""
    found = {}
    for line in text.strip().splitlines():
        unit, _, names = line.strip().partition(": ")
        found.update(dict.fromkeys(names.split(), unit))
    return found


_PER_KM, _PER_MILE = "pulse / kilometer", "pulse / mile"
_LENGTHS = """
    meter: m metre metres meter meters
    centimeter: cm
    millimeter: mm
    kilometer: km
    inch: in inch inches "
    foot: ft foot feet '
    yard: yd yard yards
    mile: mi mile miles"""
WANTED: dict[str, Wanted] = {
    "length": Wanted(
        "length",
        "meter",
        "2.5 m, 8 ft 2 in",
        _spelt(_LENGTHS),
        most=1e6,
        shown="m",
    ),
    "far": Wanted(
        "distance",
        "kilometer",
        "184 220 km, 112000 mi",
        _spelt(_LENGTHS),
        most=1e8,
        shown="km",
    ),
    "short": Wanted(
        "length",
        "millimeter",
        "25 mm, 1 in",
        _spelt(_LENGTHS),
        most=1e5,
        shown="mm",
    ),
    "speed": Wanted(
        "speed",
        "kilometer / hour",
        "70 km/h, 45 mph",
        _spelt("""
            kilometer/hour: km/h kmh kph kmph km/hr
            mile/hour: mph mi/h miles/h
            meter/second: m/s
            foot/second: ft/s fps
            knot: kn kt kts knot knots"""),
        most=2000.0,
        shown="km/h",
    ),
    "rpm": Wanted(
        "engine speed",
        "rpm",
        "2200 rpm",
        _spelt("""
            rpm: rpm r/min rev/min revs/min 1/min /min u/min min-1
            rps: rps r/s rev/s 1/s"""),
        most=1e6,
        thousands=True,
        doubt_below=20.0,
    ),
    "mass": Wanted(
        "mass",
        "kilogram",
        "1900 kg, 4200 lb",
        _spelt("""
            kilogram: kg kgs kilo kilos kilogram kilograms
            gram: g
            tonne: t tonne tonnes
            pound: lb lbs pound pounds
            stone: st"""),
        most=1e6,
        doubt_below=20.0,
        zero=False,
        shown="kg",
    ),
    "volume": Wanted(
        "volume",
        "liter",
        "65 l, 17 gal",
        _spelt("""
            liter: l ltr liter liters litre litres
            milliliter: ml cc cm3
            us_gallon: gal gals gallon gallons gal(us) usgal
            imperial_gallon: gal(imp) impgal gal(uk)"""),
        most=1e5,
        shown="l",
    ),
    "voltage": Wanted(
        "voltage",
        "volt",
        "12.5 V",
        _spelt("""
            volt: v vdc volt volts
            millivolt: mv"""),
        least=-1e6,
        shown="V",
    ),
    "resistance": Wanted(
        "resistance",
        "ohm",
        "2k2, 470 Ω",
        _spelt("""
            ohm: ω r ohm ohms
            kiloohm: k kω kohm kohms kr
            megaohm: megohm megohms megaohm"""),
        most=1e9,
        shown="Ω",
    ),
    "current": Wanted(
        "current",
        "ampere",
        "3.5 A, 20 mA",
        _spelt("""
            ampere: a amp amps ampere amperes
            milliampere: ma milliamp milliamps
            microampere: ua µa μa"""),
        least=-1e6,
        shown="A",
    ),
    "pressure": Wanted(
        "pressure",
        "kilopascal",
        "300 kPa, 43 psi",
        _spelt("""
            pascal: pa
            kilopascal: kpa
            megapascal: mpa
            bar: bar bars
            millibar: mbar hpa
            atmosphere: atm
            psi: psi lb/in2
            inch_of_mercury: inhg
            kgf_per_cm2: kg/cm2 kgf/cm2"""),
        least=-1e3,
        shown="kPa",
    ),
    "temperature": Wanted(
        "temperature",
        "celsius",
        "88 °C, 190 °F",
        _spelt("""
            celsius: c °c degc
            fahrenheit: f °f degf
            kelvin: k"""),
        least=-273.15,
        most=1e5,
        shown="°C",
    ),
    "rate": Wanted(
        "pulse rate",
        _PER_KM,
        "2485 per km, 4000 per mile",
        _spelt("""
            pulse/kilometer: km kilometre kilometer
            pulse/mile: mi mile
            pulse/meter: m metre meter"""),
        thousands=True,
        shown="per km",
    ),
    "ratio": Wanted("ratio", "", "3.64:1, 41/11", {}, most=1e6, zero=False, shown=""),
    "torque": Wanted(
        "torque",
        "newton * meter",
        "205 N·m, 150 lb·ft",
        _spelt("""
            newton*meter: nm n.m n·m n*m n-m
            pound_force*foot: lb·ft lb.ft lb-ft lb*ft lbft lbf·ft lbfft lbf-ft
            pound_force*foot: ft·lb ft.lb ft-lb ft*lb ftlb ft·lbf ftlbf ft-lbf
            kilogram_force*meter: kgm kg·m kg.m kg-m kgf·m kgfm"""),
        least=-1e6,
        most=1e6,
        shown="N·m",
    ),
    "area": Wanted(
        "section",
        "square_millimeter",
        "0.75 mm², AWG 18",
        _spelt("square_millimeter: mm2 mm^2 sqmm"),
        most=1e4,
        zero=False,
        shown="mm²",
    ),
    "frequency": Wanted(
        "frequency",
        "hertz",
        "468 Hz, 1.2 kHz",
        _spelt("""
            hertz: hz cps
            kilohertz: khz"""),
        thousands=True,
        shown="Hz",
    ),
    "time": Wanted(
        "time",
        "second",
        "90 s, 2 min",
        _spelt("""
            second: s sec secs seconds
            minute: min mins minute minutes
            hour: h hr hrs hour hours"""),
        shown="s",
    ),
    "power": Wanted(
        "power",
        "watt",
        "21 W",
        _spelt("""
            watt: w watt watts
            kilowatt: kw"""),
        shown="W",
    ),
    "charge": Wanted(
        "battery size",
        "ampere * hour",
        "70 A·h",
        _spelt("ampere*hour: ah a·h a.h amphours"),
        shown="A·h",
    ),
    "angle": Wanted("angle", "", "10°", {"°": "", "deg": "", "degrees": ""}, least=-720, most=720),
    "percent": Wanted("share", "", "85 %", {"%": "", "percent": ""}, least=-1e4, most=1e4),
    "number": Wanted("number", "", "12.5", {}, least=-1e9, most=1e9),
}


@functools.cache
def units() -> Any:
    """Pint, loaded when a unit is typed for the first time."""
    import pint

    table = pint.UnitRegistry(None, autoconvert_offset_to_baseunit=True)
    for line in DEFINITIONS.strip().splitlines():
        table.define(line)
    return table


BY_UNIT = {
    "V": "voltage",
    "A": "current",
    "Ω": "resistance",
    "m": "length",
    "rpm": "rpm",
    "km/h": "speed",
    "mph": "speed",
    "Hz": "frequency",
    "°C": "temperature",
    "°F": "temperature",
    "kPa": "pressure",
    "bar": "pressure",
    "psi": "pressure",
    "%": "percent",
    "°": "angle",
    "s": "time",
}
"""What is read where a unit stands beside a field."""

"""Calculations about sensors and their curves."""

from __future__ import annotations

from zombrel.calc.registry import Param, Result, calc, pairs_within
from zombrel.calibrate import level, preferred, pressure, resistor_code, thermistor
from zombrel.calibrate import thermocouple as couple
from zombrel.calibrate.points import place
from zombrel.job import pairs
from zombrel.job.problem import Problem
from zombrel.units import ZERO_C
from zombrel.units.measure import PSI

POINTS = Param("points", "pairs as x:y,x:y…", "text")
C_UNITS = ("°C", "C")


OHMS = (0.0, 1e8, "Ω")


@calc(
    "thermistor",
    "equation of a thermistor from measured pairs",
    [
        Param("points", "pairs of °C:Ω, three or more", "text"),
        Param(
            "at_c",
            "temperature to give the ohms for",
            default=None,
            least=-200,
            most=1000,
            units=C_UNITS,
        ),
        Param("at_ohm", "ohms to give the temperature for", default=None, above=0, units=("Ω",)),
        Param("pull_up_ohm", "pull-up of the input", default=None, above=0, units=("Ω",)),
        Param(
            "vref",
            "reference of pull-up and converter",
            default=5.0,
            above=0,
            most=60,
            units=("V",),
        ),
        Param("adc_bits", "bits of the converter", "whole", 10, least=4, most=24),
    ],
    "a b c beta_k max_residual_c ohm_at_c c_at_ohm best_pull_up_ohm c_per_count",
)
def thermistor_fit(
    points: str,
    at_c: float | None,
    at_ohm: float | None,
    pull_up_ohm: float | None,
    vref: float,
    adc_bits: int,
) -> Result:
    """Steinhart–Hart and what an input resolves; worst step over the pairs without ``at_c``."""
    given = tuple(
        (c + ZERO_C, ohm)
        for c, ohm in pairs_within(points, "thermistor points", (-1e4, 1000, "°C"), OHMS, 3)
    )
    fitted = thermistor.fit(given)
    ohms = [ohm for _, ohm in given]
    best = thermistor.best_pull_up(min(ohms), max(ohms))
    pull_up = pull_up_ohm or best
    where = [at_c + ZERO_C] if at_c is not None else [kelvin for kelvin, _ in given]
    steps = [thermistor.kelvin_per_count(fitted.equation, k, pull_up, adc_bits) for k in where]
    out: Result = {
        "a": fitted.equation.a,
        "b": fitted.equation.b,
        "c": fitted.equation.c,
        "beta_k": fitted.beta,
        "max_residual_c": fitted.worst,
        "residuals_c": list(fitted.residuals),
        "best_pull_up_ohm": best,
        "pull_up_ohm": pull_up,
        "c_per_count": max(steps),
    }
    if at_c is not None:
        ohm = fitted.equation.ohm(at_c + ZERO_C)
        out |= {"ohm_at_c": ohm, "volts_at_c": vref * ohm / (ohm + pull_up)}
    if at_ohm is not None:
        out["c_at_ohm"] = fitted.equation.kelvin(at_ohm) - ZERO_C
    return out


@calc(
    "curve-points",
    "few points that follow a curve best",
    [POINTS, Param("count", "points in the device's table", "whole", least=2, most=200)],
    "table worst_error",
)
def curve_points(points: str, count: int) -> Result:
    """Table with the least worst error, straight lines between."""
    table = place(pairs.parse(points, "curve points"), count)
    return {"table": [list(p) for p in table.points], "worst_error": table.worst}


@calc(
    "level",
    "how full a tank is from its sender",
    [
        Param("ohm", "what the sender measures", least=0, units=("Ω",)),
        Param("empty_ohm", "ohms when empty", default=None, least=0, units=("Ω",)),
        Param("full_ohm", "ohms when full", default=None, least=0, units=("Ω",)),
        Param("steps", "litre:Ω pairs, filled step by step", "text", None),
    ],
    "fraction or litres; beyond",
)
def tank_level(
    ohm: float, empty_ohm: float | None, full_ohm: float | None, steps: str | None
) -> Result:
    """Litres by steps, or a fraction between empty and full; ``beyond`` the sender's ends."""
    if steps is not None:
        if empty_ohm is not None or full_ohm is not None:
            raise Problem("level: give either steps or empty_ohm and full_ohm.")
        filled = pairs_within(steps, "level steps", (0, 1e5, "l"), OHMS)
        ohms = [o for _, o in filled]
        return {
            "litres": level.volume(ohm, filled),
            "beyond": not min(ohms) <= ohm <= max(ohms),
        }
    if empty_ohm is None or full_ohm is None:
        raise Problem("level needs empty_ohm and full_ohm, or steps.")
    share = level.fraction(ohm, empty_ohm, full_ohm)
    return {"fraction": min(max(share, 0.0), 1.0), "beyond": not 0 <= share <= 1}


@calc(
    "pressure",
    "pressure from a ratiometric sender",
    [
        Param("volts", "volts at the input", least=0, most=60, units=("V",)),
        Param("supply", "supply of the sender", above=0, most=60, units=("V",)),
        Param("low_fraction", "share of the supply at the low end", default=0.1, least=0, most=1),
        Param("high_fraction", "share at the high end", default=0.9, least=0, most=1),
        Param("low_kpa", "pressure at the low end", least=-102, most=1e6, units=("kPa",)),
        Param("high_kpa", "pressure at the high end", least=-102, most=1e6, units=("kPa",)),
    ],
    "kpa fault",
)
def pressure_of(
    volts: float,
    supply: float,
    low_fraction: float,
    high_fraction: float,
    low_kpa: float,
    high_kpa: float,
) -> Result:
    """Pressure; ``fault`` says what volts beyond the range mean."""
    return {
        "kpa": pressure.ratiometric(volts, supply, low_fraction, high_fraction, low_kpa, high_kpa),
        "fault": pressure.fault(volts, supply, low_fraction, high_fraction),
    }


@calc(
    "boost",
    "boost from absolute pressure",
    [
        Param("absolute_kpa", "absolute pressure", least=0, most=2000, units=("kPa",)),
        Param("barometer_kpa", "barometer", default=101.325, above=0, most=120, units=("kPa",)),
    ],
    "boost_kpa boost_psi",
)
def boost_of(absolute_kpa: float, barometer_kpa: float) -> Result:
    """Boost over the barometer."""
    over = pressure.boost(absolute_kpa * 1000, barometer_kpa * 1000)
    return {"boost_kpa": over / 1000, "boost_psi": over / PSI}


@calc(
    "thermocouple",
    "temperature from a thermocouple (ITS-90)",
    [
        Param("type", "type of thermocouple", "text", "K", choices=("K",)),
        Param("mv", "millivolts at the input", least=-20, most=100, units=("mV",)),
        Param("cold_c", "temperature of the cold end", least=-200, most=300, units=C_UNITS),
    ],
    "temp_c",
)
def thermocouple_temperature(type: str, mv: float, cold_c: float) -> Result:
    """Hot junction of a type K pair."""
    return {"temp_c": couple.celsius(mv, cold_c)}


MEASURE_ANOTHER = (
    "two pairs leave the pull-up open: 10 kΩ is taken, low and high are for 1 to 100 kΩ; "
    "measure another pair"
)


@calc(
    "resistor-code",
    "resistor for a wanted value of a coded input",
    [
        Param("pairs", "known Ω:value pairs, three or more; two give a band", "text"),
        Param("target", "wanted value", least=-1e6, most=1e6),
        Param("vref", "reference of the pull-up", default=5.0, above=0, most=60, units=("V",)),
        Param(
            "tolerance_pct",
            "tolerance of the E24 part",
            default=5.0,
            least=0,
            most=50,
            units=("%",),
        ),
    ],
    "pull_up_ohm e24_ohm e24_value e96_ohm e96_value low high",
)
def code(target: float, vref: float, tolerance_pct: float, **given: str) -> Result:
    """Pull-up behind the pairs, and the parts that come nearest."""
    law = resistor_code.learn(
        pairs_within(given["pairs"], "resistor pairs", OHMS, (-1e6, 1e6, "of it"), 2), vref
    )
    e24 = resistor_code.part(law, target, "E24", tolerance_pct / 100)
    e96 = resistor_code.part(law, target, "E96", 0.01)
    exact = law.ohm(target)
    return {
        "pull_up_ohm": law.pull_up,
        "exact_ohm": exact,
        "e24_ohm": e24.ohm,
        "e24_value": e24.value,
        "e96_ohm": e96.ohm,
        "e96_value": e96.value,
        "low": e24.low,
        "high": e24.high,
        "worst_pair": law.worst,
        "e24_neighbours_ohm": list(preferred.around("E24", exact)),
        "value_at_0_ohm": law.a,
        "value_open": law.a + law.b * law.vref,
        **({"note": MEASURE_ANOTHER} if law.open else {}),
    }

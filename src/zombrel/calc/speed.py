"""Calculations about tyres, pulse rates and settings."""

from __future__ import annotations

from pathlib import Path

from zombrel.calc.registry import Param, Result, calc
from zombrel.calibrate import rates, tyre
from zombrel.calibrate.roll import roll
from zombrel.calibrate.settings.setting import Choice, choose
from zombrel.job.problem import Problem
from zombrel.units import KMH, MILE

GREATEST = 1e8
"""No figure of a vehicle is larger."""

TEETH = Param("teeth", "teeth", "whole", None, above=0, most=500)
TYRE = Param("tyre", "tyre size", "text", None)
PER_KM = Param("pulses_per_km", "pulses per km", above=0)


@calc(
    "tyre",
    "tyre size to circumference",
    [Param("size", "tyre size", "text")],
    "free_diameter_mm rolling_circumference_mm revs_per_km",
)
def tyre_size(size: str) -> Result:
    """Geometry of a tyre."""
    t = tyre.parse(size)
    return {
        "free_diameter_mm": t.free_diameter * 1000,
        "rolling_circumference_mm": t.rolling_circumference * 1000,
        "revs_per_km": 1000 / t.rolling_circumference,
        "width_mm": t.width * 1000,
        "rim_mm": t.rim * 1000,
    }


@calc(
    "speed-rate",
    "pulses per km of a speed source",
    [
        Param(
            "source",
            "kind of source",
            "text",
            choices=("wheel-ring", "propshaft", "cable", "stated"),
        ),
        TEETH,
        TYRE,
        Param("magnets", "magnets", "whole", None, above=0, most=60),
        Param("final_drive", "final drive ratio", default=None, above=0, most=30),
        Param("pulses_per_rev", "pulses per revolution of the cable", default=None, above=0),
        Param("drive_teeth", "teeth of the drive gear", "whole", None, above=0, most=100),
        Param("driven_teeth", "teeth of the driven gear", "whole", None, above=0, most=100),
        Param("pulses_per_km", "stated pulses per km", default=None, above=0),
        Param("pulses_per_mile", "stated pulses per mile", default=None, above=0),
    ],
    "pulses_per_km hz_at_100_kmh",
)
def speed_rate(source: str, **given: float | str | None) -> Result:
    """Pulse rate of a speed source."""
    needs = {
        "wheel-ring": ("teeth", "tyre"),
        "propshaft": ("magnets", "final_drive", "tyre"),
        "cable": ("pulses_per_rev", "drive_teeth", "driven_teeth", "final_drive", "tyre"),
        "stated": (),
    }[source]
    value = _needed("speed-rate", source, given, needs)
    if source == "stated":
        km, mile = given["pulses_per_km"], given["pulses_per_mile"]
        if (km is None) == (mile is None):
            raise Problem("speed-rate: give either pulses_per_km or pulses_per_mile.")
        rate = float(km) / 1000 if km is not None else float(mile or 0) / MILE
    else:
        around = tyre.parse(str(given["tyre"])).rolling_circumference
        if source == "wheel-ring":
            rate = rates.wheel_ring(value["teeth"], around)
        elif source == "propshaft":
            rate = rates.propshaft(value["magnets"], value["final_drive"], around)
        else:
            rate = rates.cable(
                value["pulses_per_rev"],
                value["drive_teeth"],
                value["driven_teeth"],
                value["final_drive"],
                around,
            )
    return {"pulses_per_km": rate * 1000, "hz_at_100_kmh": rate * 100 * KMH}


def _needed(
    name: str, kind: str, given: dict[str, float | str | None], needs: tuple[str, ...]
) -> dict[str, float]:
    """The needed numbers; raises Problem for one left out or one that does not belong."""
    lost = [n for n in needs if given.get(n) is None]
    if lost:
        raise Problem(f"{name}: {kind} needs {', '.join(lost)}.")
    return {n: float(v) for n, v in given.items() if isinstance(v, (int, float))}


@calc(
    "speed-setting",
    "nearest setting and divider for a pulse rate",
    [
        PER_KM,
        Param("settings", "settings as NAME=pulses per km, separated by commas", "text"),
        Param(
            "max_hz",
            "highest rate the input follows",
            default=1e8,
            above=0,
            most=1e8,
            units=("Hz",),
        ),
        Param("top_kmh", "top speed", default=200.0, above=0, most=600, units=("km/h",)),
        Param("divider_max", "largest divider", "whole", 1, least=1, most=1000),
    ],
    "setting setting_pulses_per_km divider error_pct hz_at_top candidates",
)
def speed_setting(
    pulses_per_km: float, settings: str, max_hz: float, top_kmh: float, divider_max: int
) -> Result:
    """Best setting within the limits."""
    pairs = sorted(_settings(settings), key=lambda pair: pair[1])
    ranked = choose(
        pulses_per_km / 1000,
        tuple(name for name, _ in pairs),
        tuple(value / 1000 for _, value in pairs),
        max_hz,
        top_kmh * KMH,
        divider_max,
    )
    candidates = [_candidate(c) for c in ranked]
    return {**candidates[0], "candidates": candidates}


def _settings(text: str) -> list[tuple[str, float]]:
    out: list[tuple[str, float]] = []
    for part in text.split(","):
        name, mark, value = part.strip().partition("=")
        try:
            number = float(value if mark else name)
        except ValueError:
            number = -1.0
        if number <= 0 or number > GREATEST:
            raise Problem(
                f"speed-setting: “{part.strip()}” is not NAME=pulses per km, such as A=1200."
            )
        if any(n == name.strip() for n, _ in out):
            raise Problem(f"speed-setting: setting “{name.strip()}” is given twice.")
        out.append((name.strip(), number))
    return out


def _candidate(c: Choice) -> Result:
    return {
        "setting": c.setting,
        "setting_pulses_per_km": c.value * 1000,
        "divider": c.divider,
        "error_pct": c.error * 100,
        "hz_at_top": c.hz_at_top,
    }


@calc(
    "roll",
    "self-test flashes when the car is rolled by hand",
    [
        PER_KM,
        Param("distance_m", "distance rolled", above=0, most=1e6, units=("m",)),
        Param("pulses_per_flash", "pulses for one flash", default=1.0, above=0),
    ],
    "flashes flashes_low flashes_high distance_for_1pct_m",
)
def roll_by_hand(pulses_per_km: float, distance_m: float, pulses_per_flash: float) -> Result:
    """Flashes to expect."""
    r = roll(pulses_per_km / 1000, distance_m, pulses_per_flash)
    return {
        "flashes": r.flashes,
        "flashes_low": r.low,
        "flashes_high": r.high,
        "distance_for_1pct_m": r.distance_for_1pct,
    }


@calc(
    "tach",
    "pulses per crank revolution of an engine-speed source",
    [
        Param(
            "ignition",
            "kind of source",
            "text",
            choices=(
                "distributor",
                "wasted-spark",
                "coil-per-plug",
                "common-feed",
                "computer",
                "alternator",
                "toothed-wheel",
            ),
        ),
        Param("cylinders", "cylinders", "whole", None, least=1, most=16),
        Param("strokes", "strokes", "whole", 4, least=2, most=4),
        Param("pulses_per_rev", "stated pulses per revolution", default=None, above=0, most=1000),
        Param("pole_pairs", "alternator pole pairs", "whole", None, above=0, most=40),
        Param("pulley_ratio", "alternator turns per crank turn", default=None, above=0, most=20),
        Param("teeth", "teeth of the wheel", "whole", None, above=0, most=500),
        Param("missing", "missing teeth", "whole", 0, least=0, most=20),
    ],
    "pulses_per_rev cylinder_setting hz_at_1000_rpm",
)
def tach(ignition: str, cylinders: int | None, strokes: int, **given: float | None) -> Result:
    """Pulse rate of an engine-speed source."""
    if strokes not in (2, 4):
        raise Problem(f"tach: strokes is 2 or 4, not {strokes}.")
    needs = {
        "computer": ("pulses_per_rev",),
        "alternator": ("pole_pairs", "pulley_ratio"),
        "toothed-wheel": ("teeth",),
    }.get(ignition, ())
    value = _needed("tach", ignition, dict(given), needs)
    if ignition == "computer":
        rate = value["pulses_per_rev"]
    elif ignition == "alternator":
        rate = rates.alternator(value["pole_pairs"], value["pulley_ratio"])
    elif ignition == "toothed-wheel":
        rate = rates.toothed_wheel(int(value["teeth"]), int(value["missing"]), on_cam=False)
    elif cylinders is None:
        raise Problem(f"tach: {ignition} needs cylinders.")
    elif ignition == "common-feed":
        rate = rates.all_coils(cylinders, strokes)
    else:
        rate = rates.coil_pulses(ignition, cylinders, strokes)
    return {
        "pulses_per_rev": rate,
        "cylinder_setting": 2 * rate,
        "hz_at_1000_rpm": rate * 1000 / 60,
    }


@calc(
    "gps-fit",
    "scale and offset of an indicated speed against satellite speed",
    [
        Param("file", "CSV log", "text"),
        PER_KM,
        Param(
            "unit",
            "unit of speed columns whose heads do not tell",
            "text",
            "",
            choices=("kmh", "mph", "ms", "kn", "fts"),
        ),
    ],
    "scale scale_low scale_high offset_kmh used set_aside new_pulses_per_km",
)
def gps_fit(file: str, pulses_per_km: float, unit: str) -> Result:
    """Robust fit of a road log; ``pulses_per_km`` is where the device was set."""
    from zombrel.calibrate.roadfit import fit
    from zombrel.logs.speedlog import read

    log = read(Path(file), unit)
    road_fit = fit(log.t, log.true, log.shown)
    return {
        "scale": road_fit.scale,
        "scale_low": road_fit.scale_low,
        "scale_high": road_fit.scale_high,
        "offset_kmh": road_fit.offset / KMH,
        "used": road_fit.used,
        "set_aside": road_fit.set_aside,
        "new_pulses_per_km": pulses_per_km * road_fit.scale,
        "accelerating": road_fit.accelerating,
        "outliers": road_fit.outliers,
        "note": log.note,
    }

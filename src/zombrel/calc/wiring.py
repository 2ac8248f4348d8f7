"""Calculations about conductors and the brake line."""

from __future__ import annotations

from zombrel.calc.registry import Param, Result, calc
from zombrel.calibrate.copper import resistance_per_m
from zombrel.harness import conductor
from zombrel.signals.brake import brake_line
from zombrel.units import ZERO_C
from zombrel.units import gauge as gauges


@calc(
    "awg",
    "gauge to metric",
    [Param("gauge", "AWG number, also 1/0 to 4/0", "text")],
    "diameter_mm area_mm2 ohm_per_km_20c",
)
def awg(gauge: str) -> Result:
    """Dimensions and resistance of a gauge."""
    n = conductor.awg_number(gauge)
    area = gauges.area(n)
    return {
        "diameter_mm": gauges.diameter(n) * 1000,
        "area_mm2": area,
        "ohm_per_km_20c": resistance_per_m(area) * 1000,
    }


@calc(
    "wire",
    "section and fuse for a load",
    [
        Param("current_a", "steady current", above=0, most=1000, units=("A",)),
        Param("length_m", "length one way", above=0, most=200, units=("m",)),
        Param("volts", "supply", default=12.0, above=0, most=60, units=("V",)),
        Param("drop_pct", "allowed drop", default=3.0, above=0, most=50, units=("%",)),
        Param(
            "ambient_c", "air around the wire", default=20.0, least=-60, most=300, units=("°C", "C")
        ),
        Param("bundle", "loaded wires in the bundle", "whole", 1, least=1, most=100),
        Param("return", "way back", "text", "wire", choices=("wire", "chassis")),
    ],
    "area_mm2 awg drop_v drop_pct ampacity_a fuse_a limited_by",
)
def wire(**given: float | str) -> Result:
    """Smallest ISO 6722-1 section that keeps drop and fuse."""
    s = conductor.size(
        float(given["current_a"]),
        float(given["length_m"]),
        float(given["volts"]),
        float(given["drop_pct"]) / 100,
        float(given["ambient_c"]) + ZERO_C,
        int(given["bundle"]),
        given["return"] == "wire",
    )
    return {
        "area_mm2": s.area_mm2,
        "awg": s.awg,
        "drop_v": s.drop_v,
        "drop_pct": s.drop * 100,
        "ampacity_a": s.ampacity,
        "fuse_a": s.fuse,
        "limited_by": s.limited_by,
        "drop_hot_v": s.drop_hot_v,
    }


@calc(
    "brake-line",
    "what a cancel input sees on the cold side of the brake switch",
    [
        Param("lamps", "lamps", "text", choices=("filament", "led")),
        Param(
            "lamp_watts", "rated power of one lamp", default=21.0, above=0, most=500, units=("W",)
        ),
        Param("lamp_count", "lamps in parallel", "whole", 2, least=1, most=20),
        Param("pull_up_ohm", "pull-up in the device", default=4700.0, above=0, units=("ohm", "Ω")),
        Param("volts", "supply", default=12.6, above=0, most=36, units=("V",)),
        Param("load_ohm", "added load resistor", default=None, above=0, units=("ohm", "Ω")),
        Param("relay", "a relay grounds the input at rest", "text", "no", choices=("yes", "no")),
        Param(
            "need_ohm", "path to ground the input needs", default=50.0, above=0, units=("ohm", "Ω")
        ),
    ],
    "rest_volts pressed_volts path_ohm_at_rest sure_cancel load_watts",
)
def brake(
    lamps: str,
    lamp_watts: float,
    lamp_count: int,
    pull_up_ohm: float,
    volts: float,
    load_ohm: float | None,
    relay: str,
    need_ohm: float,
) -> Result:
    """The cancel line at rest and pressed."""
    line = brake_line(
        "led" if lamps == "led" else "filament",
        lamp_watts,
        lamp_count,
        pull_up_ohm,
        volts,
        load_ohm,
        (90.0, 0.1) if relay == "yes" else None,
        need_ohm,
    )
    return {
        "rest_volts": line.rest_v,
        "pressed_volts": line.pressed_v,
        "path_ohm_at_rest": line.path_ohm,
        "sure_cancel": line.sure,
        "load_watts": line.load_w,
        "rest_limit_volts": line.rest_limit_v,
        "relay_coil_amps": line.coil_a,
    }

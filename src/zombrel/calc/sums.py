"""Work out typed quantities: "4.8 A over 6.2 m", "205/60 R15 3.64 46 teeth", "AWG 18"."""

from __future__ import annotations

import re
from collections.abc import Callable

from zombrel.calibrate import tyre
from zombrel.calibrate.copper import resistance_per_m
from zombrel.harness import conductor
from zombrel.job.problem import Problem
from zombrel.units import KMH, MPH, ZERO_C, gauge, number

N = r"(\d+(?:[.,]\d+)?)"
TYRE = re.compile(
    r"(?:P|LT)?\d{2,3}\s*/\s*\d{2,3}\s*(?:Z?R|-)?\s*\d{2}"
    r"|\d{2}(?:\.\d+)?\s*x\s*[\d.]+\s*R?\s*\d{2}",
    re.I,
)
Answer = list[tuple[str, str]]


MOST = 1e8
"""More than any vehicle has of anything."""


def _f(text: str) -> float:
    value = float(text.replace(",", "."))
    if value > MOST:
        raise Problem(f"{text[:20]}… is more than any vehicle has of anything.")
    return value


def _wire(m: re.Match[str]) -> Answer:
    amps, metres = _f(m[1]), _f(m[2])
    volts = _f(m[3]) if m[3] else 12.0
    s = conductor.size(amps, metres, volts, 0.03, ZERO_C + 20)
    return [
        ("wire", f"{s.area_mm2:g} mm² (AWG {s.awg})"),
        ("drop there and back", f"{s.drop_v:.2f} V, {s.drop * 100:.1f} %"),
        ("fuse", f"{s.fuse:g} A; the wire carries {s.ampacity:.0f} A at 20 °C"),
    ]


def _awg(m: re.Match[str]) -> Answer:
    n = conductor.awg_number(m[1] or m[2])
    area = gauge.area(n)
    return [
        ("section", f"{area:.3g} mm²"),
        ("resistance", f"{resistance_per_m(area) * 1000:.3g} mΩ/m at 20 °C"),
    ]


def _speed_rate(m: re.Match[str]) -> Answer:
    v = _f(m[1]) * (KMH if m[2].lower().startswith("k") else MPH)
    return [("rate", f"{_f(m[3]) / 1000 * v:.1f} Hz")]


def _hz_at(m: re.Match[str]) -> Answer:
    v = _f(m[2]) * (KMH if m[3].lower().startswith("k") else MPH)
    if v <= 0:
        raise Problem("A standing car gives no pulses.")
    return [("pulses", f"{number(_f(m[1]) / v * 1000)} per km")]


def _rpm(m: re.Match[str]) -> Answer:
    return [("rate", f"{_f(m[1]) / 60 * _f(m[2]):.1f} Hz")]


PATTERNS: tuple[tuple[re.Pattern[str], Callable[[re.Match[str]], Answer]], ...] = (
    (
        re.compile(rf"^{N}\s*A\s+(?:over|for|at)?\s*{N}\s*m(?:\s+(?:at|on)?\s*{N}\s*V)?$", re.I),
        _wire,
    ),
    (re.compile(r"^(?:AWG\s*(\d{1,2}|[1-4]/0)|(\d{1,2}|[1-4]/0)\s*AWG)$", re.I), _awg),
    (
        re.compile(
            rf"^{N}\s*(km/?h|mph)\s+(?:at|with)?\s*{N}\s*(?:pulses)?\s*(?:per|/)\s*km$", re.I
        ),
        _speed_rate,
    ),
    (re.compile(rf"^{N}\s*Hz\s+at\s+{N}\s*(km/?h|mph)$", re.I), _hz_at),
    (re.compile(rf"^{N}\s*rpm\s+(?:at|with)?\s*{N}\s*(?:pulses)?\s*(?:per|/)\s*rev$", re.I), _rpm),
)


def work_out(text: str) -> Answer:
    """(what, value) pairs for a typed sum; empty when it is not one.

    A sum that is understood but impossible answers with the reason.
    """
    text = text.strip()
    try:
        found = TYRE.search(text)
        if found is not None:
            return _tyre(found[0], text.replace(found[0], " "))
        for pattern, answer in PATTERNS:
            m = pattern.match(text)
            if m is not None:
                return answer(m)
    except Problem as problem:
        return [("no", str(problem))]
    except ArithmeticError:
        return [("no", "No number comes of that: something in it is nothing.")]
    return []


def _tyre(size: str, rest: str) -> Answer:
    t = tyre.parse(size)
    around = t.rolling_circumference
    out = [
        ("free diameter", f"{t.free_diameter * 1000:.0f} mm"),
        ("rolling circumference", f"{around * 1000:.0f} mm"),
        ("wheel", f"{1000 / around:.1f} turns per km"),
    ]
    teeth = re.search(rf"{N}\s*teeth", rest, re.I)
    if teeth is not None:
        out.append(("ring", f"{number(_f(teeth[1]) / around * 1000)} pulses per km"))
        rest = rest.replace(teeth[0], " ")
    drive = re.search(N, rest)
    if drive is not None:
        out.append(("propeller shaft", f"{number(_f(drive[1]) / around * 1000)} turns per km"))
    return out

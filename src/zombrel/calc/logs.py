"""Calculations on logs: edges, gears, coast-down, before and after."""

from __future__ import annotations

import itertools
import math
from pathlib import Path

from zombrel.calc.registry import Param, Result, calc
from zombrel.job.problem import Problem
from zombrel.units import METRIC, ZERO_C, words


def _file(name: str, words: str) -> Param:
    return Param(name, words, "text")


def _stated(text: str) -> dict[str, str]:
    """``speed=km/h;coolant=C`` as units by column."""
    found = {}
    for part in (p for p in text.split(";") if p.strip()):
        column, mark, unit = part.rpartition("=")
        if not mark:
            raise Problem(f"units is column=unit;column=unit, not “{text}”.")
        found[column.strip()] = unit.strip()
    return found


UNITS = Param("units", "units that headings do not tell, as speed=km/h;coolant=°C", "text", "")


def _none(x: float) -> float | None:
    return None if math.isnan(x) else x


@calc(
    "edges",
    "pulses in a recorded signal: how many, how fast, how even",
    [
        _file("file", "WAV recording, or a table with one column of volts"),
        Param("threshold_v", "level that is crossed", least=-1000, most=1000, units=("V",)),
        Param("hysteresis_v", "noise that is not counted", default=0.0, least=0, most=1000),
        Param("full_v", "volts at full scale of a sound card", default=1.0, above=0, most=1000),
        Param("channel", "which channel, from 1", "whole", 1, least=1, most=64),
        UNITS,
    ],
    "count rate_hz jitter_us duty_pct first_s last_s",
)
def edges(
    file: str, threshold_v: float, hysteresis_v: float, full_v: float, channel: int, units: str
) -> Result:
    """Crossings of a threshold."""
    from zombrel.logs.edges import edges as found_in
    from zombrel.logs.read_any import read_any
    from zombrel.logs.wav import read_wav

    path = Path(file)
    wav = path.suffix.casefold() == ".wav"
    log = read_wav(path, full_v) if wav else read_any(path, _stated(units))
    if channel > len(log.channels):
        many = len(log.channels)
        has = "one channel" if many == 1 else f"{many} channels"
        raise Problem(f"{path.name} has {has}; channel={channel} is none.")
    c = log.channels[channel - 1]
    e = found_in(c.v, c.rate_hz, threshold_v, hysteresis_v)
    return {
        "count": len(e.rising),
        "rate_hz": _none(e.rate_hz),
        "jitter_us": _none(e.jitter_s * 1e6),
        "duty_pct": _none(e.duty * 100),
        "first_s": float(e.rising[0]) if len(e.rising) else None,
        "last_s": float(e.rising[-1]) if len(e.rising) else None,
    }


@calc(
    "gears",
    "ratios of engine speed to road speed in a log",
    [_file("file", "log with engine and road speed"), UNITS],
    "ratios_per_speed gears steps",
)
def gears(file: str, units: str) -> Result:
    """``ratios_per_speed`` [rpm at each km/h], first gear first, with their intervals."""
    from zombrel.logs.gearfit import gears as found_in
    from zombrel.logs.read_any import read_any

    found = found_in(read_any(Path(file), _stated(units)))
    size = found[0].rpm_per_kmh / found[0].per_m
    return {
        "ratios_per_speed": [g.rpm_per_kmh for g in found],
        "gears": [
            {
                "rpm_per_kmh": g.rpm_per_kmh,
                "low": g.low * size,
                "high": g.high * size,
                "rev_per_m": g.per_m,
                "share_pct": 100 * g.share,
            }
            for g in found
        ],
        "steps": [a.per_m / b.per_m for a, b in itertools.pairwise(found)],
    }


@calc(
    "coast-down",
    "drag area and rolling resistance from runs in neutral",
    [
        _file("file", "log with road speed"),
        Param("mass_kg", "mass as it ran", above=0, most=100000, units=("kg",)),
        Param("air_kg_m3", "density of the air", default=1.2, above=0, most=3),
        Param("rotating_pct", "what turns adds to the inertia", default=0.0, least=0, most=50),
        UNITS,
    ],
    "cda_m2 cda_low cda_high crr crr_low crr_high runs off_kmh",
)
def coast_down(
    file: str, mass_kg: float, air_kg_m3: float, rotating_pct: float, units: str
) -> Result:
    """By the whole curve of speed of every run that coasts."""
    from zombrel.logs.coastdown import NOT_TOLD, coast
    from zombrel.logs.read_any import read_any

    c = coast(read_any(Path(file), _stated(units)), mass_kg, air_kg_m3, rotating_pct / 100)
    if not c.told:
        raise Problem(f"{Path(file).name}: its runs are {NOT_TOLD}")
    return {
        "cda_m2": c.cda_m2,
        "cda_low": c.cda_low,
        "cda_high": c.cda_high,
        "crr": c.crr,
        "crr_low": c.crr_low,
        "crr_high": c.crr_high,
        "runs": len(c.runs),
        "off_kmh": c.off_mps * 3.6,
    }


@calc(
    "pull-compare",
    "whether pulls heat the charge less after a change",
    [_file("before", "log with pulls before"), _file("after", "log with pulls after"), UNITS],
    "rise_before_k rise_after_k difference_k low_k high_k runs_before runs_after verdict why",
)
def pull_compare(before: str, after: str, units: str) -> Result:
    """Rise over ambient at the work that all pulls have in common."""
    from zombrel.logs.compare import compare
    from zombrel.logs.read_any import read_any

    first, second = (read_any(Path(p), _stated(units)) for p in (before, after))
    c = compare(first, second)
    return {
        "rise_before_k": _none(c.rise_before_k),
        "rise_after_k": _none(c.rise_after_k),
        "difference_k": _none(c.difference_k),
        "low_k": _none(c.low_k),
        "high_k": _none(c.high_k),
        "runs_before": len(c.before),
        "runs_after": len(c.after),
        "verdict": c.verdict,
        "scatter_k": _none(c.scatter_k),
        "why": words(c.why, METRIC),
        "mind": [words(m, METRIC) for m in c.mind],
        "pulls": [
            {
                "side": side,
                "begin_s": p.begin,
                "length_s": p.end - p.begin,
                "starts_over_ambient_k": p.starts_k,
                "rise_k": p.rise_k,
                "load_pct": 100 * p.load,
                "back_s": _none(p.back_s),
                "ambient_c": _none(p.ambient_k - ZERO_C),
            }
            for side, found in (("before", c.before), ("after", c.after))
            for p in found
        ],
    }


@calc(
    "harvest",
    "a sensor's pairs out of a drive: a reference against what its wire showed",
    [
        _file("file", "log with both"),
        Param("truth", "column of the reference", "text"),
        Param("wire", "column of the sender: ohms, volts or per cent", "text"),
        Param("pairs", "pairs wanted", "whole", 8, least=2, most=40),
        Param("pull_up_ohm", "where volts stand for ohms: the pull-up", default=0.0, least=0),
        Param("pull_up_v", "what it pulls to", default=5.0, above=0, most=1000),
        UNITS,
    ],
    "pairs scatter lag_s samples left_out",
)
def harvest(
    file: str,
    truth: str,
    wire: str,
    pairs: int,
    pull_up_ohm: float,
    pull_up_v: float,
    units: str,
) -> Result:
    """Pairs (reference in SI, but °C for temperatures; reading), their scatter and the delay."""
    from zombrel.logs.harvest import harvest as found_in
    from zombrel.logs.harvest import pulled
    from zombrel.logs.read_any import read_any

    log = read_any(Path(file), _stated(units))
    both = [log.channel(name) for name in (truth, wire)]
    for name, found in zip((truth, wire), both, strict=True):
        if found is None:
            names = ", ".join(c.name for c in log.channels[:12])
            raise Problem(f"{log.name} has no column “{name}”; it has {names}.")
    reference, sender = both
    assert reference is not None  # told apart above
    assert sender is not None
    if pull_up_ohm:
        sender = pulled(sender, pull_up_ohm, pull_up_v)
    made = found_in(reference, sender, pairs)
    zero = ZERO_C if reference.what == "temperature" else 0.0
    return {
        "pairs": [[x - zero, y] for x, y in made.pairs],
        "scatter": _none(made.scatter),
        "lag_s": made.lag_s,
        "samples": made.used,
        "left_out": made.left_out,
    }

"""How devices drive, as data: a pace unit on a hill, and the short moments of the others."""

from __future__ import annotations

import math

from zombrel.behaviour import cruise as loop
from zombrel.behaviour.longitudinal import Body
from zombrel.behaviour.moments import Moment, moments, of_control
from zombrel.behaviour.reports import SET_MPS, dials_map, paced
from zombrel.calc.job import open_job
from zombrel.calc.registry import Param, Result, calc
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.units import KMH, METRIC, words

W_PER_KG = 65.0
"""Power of a usual car for its mass, where nothing is said [W/kg]: ASSUMED."""


@calc(
    "cruise",
    "what a pace unit does at its settings, and the next single change",
    [
        Param("mass_kg", "mass", "number", above=100, most=60000),
        Param("cda_m2", "drag area", "number", above=0.05, most=20),
        Param("gain", "step of the sensitivity", "number", least=1, most=10),
        Param("take_up", "step of the take-up", "number", least=1, most=10),
        Param("slack_mm", "cable slack, throttle shut", "number", least=-10, most=30),
        Param("grade_pct", "slope", "number", 0.0, least=-30, most=30),
        Param("speed_kmh", "set speed", "number", 90.0, least=20, most=250),
        Param("power_kw", "full-load power; else by mass", "number", None, above=1, most=2000),
        Param("wind_kmh", "head wind", "number", 0.0, least=-150, most=150),
        Param("seed", "gusts that repeat; else a steady wind", "whole", None),
    ],
    "droop_kmh surge_kmh overshoot_kmh settle_s advice change to feels assumed",
)
def cruise_loop(
    mass_kg: float,
    cda_m2: float,
    gain: float,
    take_up: float,
    slack_mm: float,
    grade_pct: float,
    speed_kmh: float,
    power_kw: float | None,
    wind_kmh: float,
    seed: int | None,
) -> Result:
    """Engage, hold for a minute, and say what a driver would feel and change."""
    power = W_PER_KG * mass_kg if power_kw is None else power_kw * 1000
    body = Body(mass_kg, cda_m2, power)
    unit = loop.Unit(gain, take_up, slack_mm)
    speed, grade, wind = speed_kmh * KMH, grade_pct / 100, wind_kmh * KMH
    felt = loop.cruise(body, unit, speed, grade, wind)
    if seed is not None:
        road = loop.gusty(grade, wind, GUST, seed)
        felt = loop.felt(loop.drive(body, unit, road, speed), speed)
    told = loop.advice(body, unit, speed, grade, wind)
    return {
        "droop_kmh": felt.droop_kmh,
        "surge_kmh": felt.surge_kmh,
        "overshoot_kmh": felt.overshoot_kmh,
        "settle_s": felt.settle_s if math.isfinite(felt.settle_s) else None,
        "advice": told.words,
        "change": told.change,
        "to": told.to if math.isfinite(told.to) else None,
        "feels": told.feels,
        "assumed": "motor, friction and what a step of each dial pulls are usual ones"
        + ("" if power_kw is not None else f"; {W_PER_KG:g} W per kg"),
    }


@calc(
    "cruise-map",
    "what a driver would feel at every pair of positions of a job's pace unit",
    [
        Param("job", "job file, or demo", "text"),
        Param("grade_pct", "slope", "number", 0.0, least=-30, most=30),
    ],
    "device speed_kmh spots assumed",
)
def cruise_map(job: str, grade_pct: float) -> Result:
    """Every pair of sensitivity and take-up, held at the same speed on the same slope."""
    tree = open_job(job)
    device = paced(tree)
    if device is None:
        raise Problem("No device of this job holds a speed: nothing to map. Add one in Survey.")
    return {
        "device": device.id,
        "speed_kmh": SET_MPS / KMH,
        "spots": [
            {
                "gain": s.gain,
                "take_up": s.take_up,
                "droop_kmh": s.felt.droop_kmh,
                "surge_kmh": s.felt.surge_kmh,
                "overshoot_kmh": s.felt.overshoot_kmh,
                "stands": s.stands,
                "calm": s.calm,
            }
            for s in dials_map(tree, device, grade_pct / 100)
        ],
        "assumed": "motor, friction, drag area and what a step of each dial pulls are usual ones",
    }


GUST = 2.0
"""Scatter of gusts [m/s]."""


@calc(
    "moments",
    "launch, shift, blip, falling idle and pump of a job's devices, as they are set",
    [
        Param("job", "job file, or demo", "text"),
        Param("device", "id of a device; else all", "text", None),
        Param("control", "name of one of its controls, to be tried at", "text", None),
        Param("at", "position to try, in the unit of the setting", "number", None),
    ],
    "moments",
)
def moments_of(job: str, device: str | None, control: str | None, at: float | None) -> Result:
    """What each control that has a moment does; one of them also where it does not stand."""
    tree = open_job(job)
    if at is not None or control is not None:
        if device is None or control is None:
            raise Problem("moments: to try a position, give device, control and at.")
        found = by_id(tree.devices, device)
        sheet = None if found is None else found.sheet.control(control)
        if found is None or sheet is None:
            raise Problem(f"moments: there is no control “{control}” on “{device}” in this job.")
        return {"moments": [_moment(of_control(tree, found, sheet, at))]}
    if device is not None and by_id(tree.devices, device) is None:
        known = ", ".join(d.id for d in tree.devices) or "none"
        raise Problem(f"moments: there is no device “{device}” in this job; there are {known}.")
    told = [
        {"device": key, "control": pin, "missing": words(seen, METRIC)}
        if isinstance(seen, str)
        else _moment(seen)
        for key, pin, seen in moments(tree)
        if device in (None, key)
    ]
    return {"moments": told}


def _moment(seen: Moment) -> Result:
    return {
        "device": seen.device,
        "control": seen.pin,
        "kind": seen.kind,
        "words": words(seen.words, METRIC),
        **{name: value if math.isfinite(value) else None for name, value in seen.figures},
        "fine": seen.fine,
        "assumed": seen.assumed,
    }

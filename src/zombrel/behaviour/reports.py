"""What a driver reports of a device, and the next single change of this job.

The trade's order decides what is tried: the dial that is for it, one step, then the next. The loop
of ``behaviour.cruise``, for other devices the moments of ``behaviour.spin``, say what would come
of it; where they cannot (a fact is missing), the order alone stands.

References: as in ``behaviour.cruise``, ``behaviour.longitudinal`` and ``behaviour.spin``.
"""

from __future__ import annotations

import math
from typing import Literal

from zombrel.behaviour.aims_engine import power
from zombrel.behaviour.cruise import (
    FELT_KMH,
    HUNTS_KMH,
    OVER_KMH,
    STEPS,
    Felt,
    Unit,
    cruise,
)
from zombrel.behaviour.longitudinal import CDA_CAR, CDA_VAN, VAN_KG, Body
from zombrel.behaviour.moments import has_moment, of_control
from zombrel.behaviour.suppose import turns_per_metre
from zombrel.behaviour.wanted import stands
from zombrel.calibrate.settings.setting import options
from zombrel.job.model import Device, Job, Vehicle, index
from zombrel.job.pairs import between
from zombrel.job.problem import Problem
from zombrel.job.sheet import Control, Means
from zombrel.job.value import Value
from zombrel.units import KMH

Symptom = Literal["droop", "surge", "overshoot", "slack"]
PACE: tuple[Means, ...] = ("engage", "gain")
SET_MPS = 90 * KMH
HILL = 0.03
SLACK_MM = 1.0
"""A cable as it should be [mm]."""


class Report(Value, frozen=True):
    """One thing that drivers say."""

    key: str
    words: str
    symptom: Symptom | None
    grade: float = 0.0
    turns: tuple[Means, int] | None = None
    """Of a device that holds no speed: the dial that is for it, and which way."""


REPORTS: tuple[Report, ...] = (
    Report("takes-hold", "It sags when it takes hold", "droop"),
    Report("hills", "It sags on hills", "droop", HILL),
    Report("hunts", "It hunts on the level", "surge"),
    Report("hunts-hills", "It hunts over hills", "surge", HILL),
    Report("over", "It runs over when it takes hold", "overshoot"),
    Report("jerks", "It takes hold with a jerk", "overshoot"),
    Report("idle", "The idle stays up after it lets go", "slack"),
    Report("creeps", "It creeps while the launch is held", None, turns=("launch", -1)),
    Report("bogs", "The engine falls off as it leaves the line", None, turns=("launch", 1)),
    Report("limiter", "The limiter cuts in before the shift", None, turns=("shift", -1)),
    Report("early", "The shift lamp comes too early", None, turns=("shift", 1)),
    Report("twice", "One press blips twice", None, turns=("gap", 1)),
    Report("missed", "The second of two quick shifts gets no blip", None, turns=("gap", -1)),
    Report("lurches", "It lurches when put in gear at raised idle", None, turns=("idle", -1)),
    Report("labours", "The raised idle is too low for its load", None, turns=("idle", 1)),
    Report("soaks", "It gets hotter pull by pull", None, turns=("least duty", 1)),
    Report("heard", "The pump is heard at rest", None, turns=("least duty", -1)),
)


RISKS: tuple[Means, ...] = ("launch", "shift")
"""Dials that can be turned up into harm."""


class Next(Value, frozen=True):
    """The next single change; one of a cable has no position."""

    pin: str
    """The control, or ""."""
    at: str
    """Its next position, or ""."""
    words: str
    feels: str


def spoken(job: Job) -> tuple[tuple[Device, tuple[Report, ...]], ...]:
    """The devices that a driver can say something of, and what."""
    found = []
    for device in index(job.devices).values():
        means = {c.means for c in device.sheet.controls if c.means in PACE or has_moment(job, c)}
        told = tuple(r for r in REPORTS if (r.turns[0] in means if r.turns else means & {*PACE}))
        if told:
            found.append((device, told))
    return tuple(found)


def paced(job: Job) -> Device | None:
    """The device that holds a speed: one with a dial for how it takes hold."""
    return next((d for d in job.devices if _control(d, "engage") or _control(d, "gain")), None)


def _control(device: Device, means: str) -> Control | None:
    return next((c for c in device.sheet.controls if c.means == means), None)


def body_of(vehicle: Vehicle, at_mps: float = SET_MPS) -> Body:
    """The vehicle in its highest gear at ``at_mps`` [m/s].

    Raises:
        Problem: mass or torque curve is missing.
    """
    if vehicle.mass_kg is None:
        raise Problem(
            "The mass is not known: enter it in Survey.", "wrong", "survey:vehicle.mass_kg"
        )
    watts = power(vehicle)
    turns = turns_per_metre(vehicle, len(vehicle.ratios))
    if turns is not None:
        n = at_mps * turns
        watts = between(vehicle.torque, n) * 2 * math.pi * n
    cda = CDA_VAN if vehicle.mass_kg >= VAN_KG else CDA_CAR
    return Body(vehicle.mass_kg, cda, watts)


def _step(device: Device, means: str) -> tuple[Control, float, float] | None:
    """A dial, where it stands on the scale of four, and a step of its own on that scale."""
    control = _control(device, means)
    if control is None:
        return None
    values = options(control.setting).values
    try:
        now = stands(device, control)
    except Problem:
        return None
    if math.isnan(now) or values[0] == values[-1]:
        return None
    scale = (STEPS[-1] - STEPS[0]) / (values[-1] - values[0])
    return control, STEPS[0] + (now - values[0]) * scale, (values[1] - values[0]) * scale


def unit_of(device: Device) -> Unit:
    """The unit as its dials stand, its cable as it should be."""
    gain, take = _step(device, "gain"), _step(device, "engage")
    return Unit(gain[1] if gain else 2.0, take[1] if take else 2.0, SLACK_MM)


MOST_SPOTS = 6
"""Positions of a dial that the map shows."""


class Spot(Value, frozen=True):
    """One pair of positions of the dials, and what the driver would feel there."""

    gain: str
    take_up: str
    """Positions by name; "" where the device has no such dial."""
    felt: Felt
    stands: bool
    """The dials stand here."""
    calm: bool
    """Nothing there that a driver would call wrong."""


def dials_map(job: Job, device: Device, grade: float = 0.0) -> tuple[Spot, ...]:
    """Every pair of positions at 90 km/h on ``grade`` [rise over run], by sensitivity, take-up.

    Raises:
        Problem: a fact is missing, or the engine cannot hold that hill.
    """
    body, unit = body_of(job.vehicle), unit_of(device)
    found = []
    for gain, g, here_g in _positions(device, "gain", unit.gain):
        for take, u, here_u in _positions(device, "engage", unit.take_up):
            felt = cruise(body, unit.but(gain=g, take_up=u), SET_MPS, grade)
            found.append(Spot(gain, take, felt, here_g and here_u, _calm(felt)))
    return tuple(found)


def _calm(felt: Felt) -> bool:
    return (
        felt.droop_kmh <= FELT_KMH
        and felt.surge_kmh <= HUNTS_KMH
        and felt.overshoot_kmh <= OVER_KMH
    )


def _positions(device: Device, means: str, without: float) -> list[tuple[str, float, bool]]:
    """(name, place on the scale of four, whether it stands there), some of many."""
    found = _step(device, means)
    if found is None:
        return [("", without, True)]
    control, at, _ = found
    names, values = options(control.setting).names, options(control.setting).values
    scale = (STEPS[-1] - STEPS[0]) / (values[-1] - values[0])
    every = [
        (name, STEPS[0] + (v - values[0]) * scale) for name, v in zip(names, values, strict=True)
    ]
    here = min(range(len(every)), key=lambda i: abs(every[i][1] - at))
    step = max((len(every) - 1) / (MOST_SPOTS - 1), 1.0)
    kept = {round(i * step) for i in range(MOST_SPOTS) if round(i * step) < len(every)} | {here}
    return [(*every[i], i == here) for i in sorted(kept)]


ORDER: dict[Symptom, tuple[tuple[str, int], ...]] = {
    "droop": (("engage", 1), ("gain", 1)),
    "surge": (("gain", -1), ("engage", -1)),
    "overshoot": (("engage", -1), ("gain", -1)),
    "slack": (),
}
"""What the trade turns for each, and which way, in its order."""
CABLES: dict[Symptom, str] = {
    "droop": "Take slack out of the cable: a little is left with the throttle shut, never none.",
    "surge": "Look at the cable: no slack to spare, no kink, nothing that binds; then the signal.",
    "overshoot": "Look at the cable: it binds, or the return spring is weak.",
    "slack": "Give the cable a little slack with the throttle shut: it holds it open.",
}


def next_change(job: Job, device: Device, report: Report) -> Next:
    """One change for what was reported, and what would come of it."""
    if report.turns is not None:
        return _dial(job, device, *report.turns)
    assert report.symptom is not None  # it is of a device that holds a speed
    for means, way in ORDER[report.symptom]:
        found = _step(device, means)
        if found is None:
            continue
        control, at, step = found
        names, values = options(control.setting).names, options(control.setting).values
        here = min(range(len(values)), key=lambda i: abs(values[i] - stands(device, control)))
        to = here + way
        if not 0 <= to < len(values):
            continue
        words = f"{control.label}: {names[here]} → {names[to]}. Nothing else."
        field = "gain" if means == "gain" else "take_up"
        tried = unit_of(device).but(**{field: at + way * step})
        return Next(control.pin, names[to], words, _feels(job, device, report, tried))
    return Next("", "", CABLES[report.symptom], "Then report again.")


def _dial(job: Job, device: Device, means: Means, way: int) -> Next:
    """A dial one step on, and what it does there."""
    control = _control(device, means)
    assert control is not None  # the report is only offered with it
    names, values = options(control.setting).names, options(control.setting).values
    try:
        now = stands(device, control)
    except Problem as problem:
        return Next("", "", str(problem), "")
    if math.isnan(now):
        words = f"{control.label} is not set yet: set it first, then report again."
        return Next("", "", words, "")
    here = min(range(len(values)), key=lambda i: abs(values[i] - now))
    to = here + way
    if not 0 <= to < len(values):
        end = "lowest" if way < 0 else "highest"
        words = f"{control.label} stands at its {end}: no setting does more. Look at the signal."
        return Next("", "", words, "Then report again.")
    try:
        after = of_control(job, device, control, values[to])
        fine, why = after.fine, f"Then: {after.words}"
        stop = f"At {names[to]}: {after.words}"
    except Problem as problem:
        fine, why, stop = False, str(problem), str(problem)
    if way > 0 and means in RISKS and not fine:  # nor up into what nobody can foresee
        return Next("", "", f"{control.label}: no further than {names[here]}.", stop)
    words = f"{control.label}: {names[here]} → {names[to]}. Nothing else."
    return Next(control.pin, names[to], words, why)


def _feels(job: Job, device: Device, report: Report, tried: Unit) -> str:
    """What would change for the driver, by the loop; empty where it cannot tell."""
    name = {"droop": "sag", "surge": "swing", "overshoot": "run over"}[str(report.symptom)]
    field = f"{report.symptom}_kmh"
    try:
        body = body_of(job.vehicle)
        before = cruise(body, unit_of(device), SET_MPS, report.grade)
        after = cruise(body, tried, SET_MPS, report.grade)
    except Problem as problem:
        return str(problem)
    was, will = getattr(before, field), getattr(after, field)
    return f"By the loop it would {name} by {will:.1f} instead of {was:.1f} km/h at 90 km/h."

"""What controls of the engine and of speed are aimed at: limits, launch, shift, take-up, idle.

Reference: [1] Shift where the next gear's wheel torque overtakes (Gillespie, *Fundamentals of
Vehicle Dynamics*, ch. 2), see ``calibrate.shift``.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from zombrel.behaviour.aim import Aim, need, told, wish_reason, wished
from zombrel.behaviour.gearing import DRIVER_S, LAMP_S, Gear, gears, held_launch
from zombrel.behaviour.sensitivity import in_words, movers
from zombrel.behaviour.spin import STALL_RATIO
from zombrel.calibrate import shift as shifting
from zombrel.calibrate import tyre
from zombrel.calibrate.settings.setting import from_si, options, to_si
from zombrel.job.facts import lacking
from zombrel.job.ledger import provenance
from zombrel.job.model import Device, Job, Vehicle
from zombrel.job.pairs import between
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.sheet import Control
from zombrel.units import number, rpm
from zombrel.units.measure import mass_of

BELOW_PUSHED = 0.85
"""Where it is only known what pushed through, so much of it is tried next: ASSUMED."""


def limit(job: Job, device: Device, control: Control) -> Aim:
    """The redline, or less where that is wished."""
    v = job.vehicle
    redline = need(v, "redline_rps")
    wish = wished(job, device, control)
    value = min(redline, wish) if wish is not None else redline
    return Aim(
        value=value,
        side="below",
        why=lambda: Reason(
            title=f"{device.name}, {control.label}",
            result=f"{rpm(value)} at most",
            formula="the lesser of the redline and what is wished; the next position below",
            given=(told("redline", rpm(redline), provenance(job, "vehicle.redline_rps")),),
            source="the engine's own limit; the device's manual comes first",
        ),
    )


def launch(job: Job, device: Device, control: Control) -> Aim:
    """The peak of torque or what is wished, as far as brakes and redline allow."""
    v = job.vehicle
    wish = wished(job, device, control)
    if wish is None and not v.torque:
        raise lacking("torque", else_=", or wish a launch speed")
    value = wish if wish is not None else max(v.torque, key=lambda p: p[1])[0]
    given = [told("aimed at", rpm(value), "wish" if wish is not None else "peak of torque")]
    assumption = ""
    formula = "greatest torque, unless another is wished; below the redline"
    if v.held_rps is not None:
        given.append(told("held in a trial", rpm(v.held_rps), provenance(job, "vehicle.held_rps")))
        if v.pushed_rps is not None:
            given.append(told("pushed through", rpm(v.pushed_rps)))
        value = min(value, v.held_rps)
        formula = "not above what was held in a trial on this car"
    elif v.pushed_rps is not None:
        given.append(told("pushed through in a trial", rpm(v.pushed_rps)))
        value = min(value, v.pushed_rps * BELOW_PUSHED)
        formula = "well below what pushed through in a trial on this car"
    elif v.gearbox == "automatic":
        held = held_launch(v)
        given.append(told("brakes hold", rpm(held)))
        value = min(value, held)
        formula = "n = stall · √(hold ÷ (ratio · torque)), hold at the converter's output"
        assumption = f"converter ratio {STALL_RATIO:g} at stall, usual"
    if v.redline_rps is not None:
        value = min(value, v.redline_rps)
    return Aim(
        value=value,
        side="below",
        why=lambda: Reason(
            title=f"{device.name}, {control.label}",
            result=f"{rpm(value)} at most",
            formula=formula,
            given=tuple(given),
            source="Gillespie ch. 2; converter at stall takes K·n²",
            assumption=assumption,
        ),
    )


def shift(job: Job, device: Device, control: Control) -> Aim:
    """Where the lamp lights for the quickest gear."""
    v = job.vehicle
    wish = wished(job, device, control)
    if wish is not None:
        return Aim(value=wish, why=partial(wish_reason, job, device, control, rpm(wish)))
    every = gears(v)
    first = min(every, key=lambda g: g.lamp)
    return Aim(
        value=first.lamp, side="below", why=partial(_shift_reason, job, device, control, first)
    )


def _shift_reason(job: Job, device: Device, control: Control, first: Gear) -> Reason:
    v = job.vehicle
    final, mass = v.final_drive or 1.0, v.mass_kg or 1.0
    around = tyre.parse(v.tyre).rolling_circumference

    def lamp(given: dict[str, float]) -> float:
        rise = shifting.rise(
            between(v.torque, first.at) * given["torque"],
            v.ratios[first.gear - 1],
            given["final drive"],
            given["mass"],
            around,
        )
        return shifting.lamp_speed(first.at, rise, given["delay"])

    inputs = {"torque": 1.0, "final drive": final, "mass": mass, "delay": LAMP_S + DRIVER_S}
    strongest = movers(lambda g: lamp(dict(g)), inputs)
    return Reason(
        title=f"{device.name}, {control.label}",
        result=f"{rpm(first.lamp)}: one lamp for all gears lights for the quickest, "
        f"gear {first.gear}",
        formula="lamp = shift − rise × (lamp + driver); rise = T · i² · 2π ÷ (m · around²)",
        given=(
            told(
                f"best shift out of {first.gear}",
                rpm(first.at) + (", the redline" if first.limited else ""),
            ),
            told("rise there", f"{number(first.rise * 60)} rpm/s"),
            told("lamp + driver", f"{LAMP_S + DRIVER_S:.2f} s", "assumed"),
            told("mass", f"{mass_of(mass)}", provenance(job, "vehicle.mass_kg")),
            told("torque curve", f"{len(v.torque)} points", provenance(job, "vehicle.torque")),
        ),
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 2",
        assumption="full throttle, drag and slip neglected",
        moves=in_words(strongest, lambda d: f"{d * 60:+z.0f} rpm"),
    )


def idle(job: Job, device: Device, control: Control) -> Aim:
    """What is wished."""
    wish = wished(job, device, control)
    if wish is None:
        raise Problem(f"{device.name}: nobody has said which {control.label} is wanted.")
    return Aim(value=wish, why=partial(wish_reason, job, device, control, rpm(wish)))


def power(v: Vehicle) -> float:
    """Greatest power of the torque curve [W]: P = T · 2π · n."""
    if not v.torque:
        raise lacking("torque")
    return max(t * 2 * math.pi * n for n, t in v.torque)


def engage(job: Job, device: Device, control: Control) -> Aim:
    """How gently it takes hold, by power over mass."""
    wish = wished(job, device, control)
    if wish is not None:
        text = f"{from_si(control.setting.unit, wish):g}"
        return Aim(value=wish, why=partial(wish_reason, job, device, control, text))
    v = job.vehicle
    watts, mass = power(v), need(v, "mass_kg")
    per_kg = watts / mass
    # four steps of the trade, spread over as many as this device has
    table = options(control.setting)
    part = sum(per_kg < edge for edge in (90.0, 60.0, 40.0)) / 3
    at = round(part * (len(table.values) - 1))
    return Aim(
        value=to_si(control.setting.unit, table.values[at]),
        why=lambda: Reason(
            title=f"{device.name}, {control.label}",
            result=f"{table.names[at]}: {per_kg:.0f} W per kg",
            formula="a strong engine takes hold gently: first step from 90 W/kg, last below 40",
            given=(
                told("power", f"{watts / 1000:.0f} kW", provenance(job, "vehicle.torque")),
                told("mass", f"{mass_of(mass)}", provenance(job, "vehicle.mass_kg")),
            ),
            source="practice of the trade; droop at engagement on the road decides",
            assumption="where the steps lie",
            moves=in_words(
                movers(lambda g: g["power"] / g["mass"], {"power": watts, "mass": mass}),
                lambda d: f"{d:+z.1f} W/kg",
            ),
        ),
    )


def lowest(job: Job, device: Device, control: Control) -> Aim:
    """The first step of this device's own scale, unless another is wished."""
    table = options(control.setting)
    first = to_si(control.setting.unit, table.values[0])
    text = "practice of the trade: surging comes from too much"
    how = "start lowest; raise one step at a time on the road"
    return simple(first, f"{table.names[0]}, lowest first", how, text)(job, device, control)


def simple(value: float, words: str, formula: str, source: str) -> Callable[..., Aim]:
    """A figure of the trade, ``value`` [SI], unless another is wished."""

    def aim(job: Job, device: Device, control: Control) -> Aim:
        wish = wished(job, device, control)
        target = value if wish is None else wish
        return Aim(
            value=target,
            why=lambda: Reason(
                title=f"{device.name}, {control.label}",
                result=words if wish is None else f"{from_si(control.setting.unit, target):g}",
                formula=formula if wish is None else "as wished",
                source=source,
            ),
        )

    return aim

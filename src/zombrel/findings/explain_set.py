"""Answers to "why?" for what Set works out about the whole job."""

from __future__ import annotations

from zombrel.behaviour.aims_engine import power
from zombrel.behaviour.gearing import DRIVER_S, LAMP_S, gears
from zombrel.behaviour.sensitivity import in_words, movers
from zombrel.behaviour.spark_supply import loop_ohm, supplied
from zombrel.behaviour.suppose import named
from zombrel.calibrate import advance, blend
from zombrel.findings.scene import given
from zombrel.job.ledger import provenance
from zombrel.job.model import Device, Job
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.units import number, rpm
from zombrel.units.measure import mass_of

BSFC = 300 / 3.6e9
"""Petrol engine at full load, usual [kg/J] (Heywood ch. 2; 300 g/kWh)."""


def shift_points(job: Job) -> Reason:
    """Where to shift and when to light."""
    v = job.vehicle
    try:
        every = gears(v)
    except Problem as problem:
        return Reason(title="Shift points", result="unknown", formula=str(problem))
    return Reason(
        title="Shift points",
        result="; ".join(f"{g.gear} to {g.gear + 1} at {rpm(g.at)}" for g in every),
        formula="shift where T(n) · i = T(n · i′/i) · i′, or at the redline; "
        "rise = T · i² · i_f² · 2π ÷ (m · around²)",
        given=(
            given("torque curve", f"{len(v.torque)} points", provenance(job, "vehicle.torque")),
            given(
                "ratios", "  ".join(f"{r:.2f}" for r in v.ratios), provenance(job, "vehicle.ratios")
            ),
            given(
                "final drive",
                f"{v.final_drive:g}" if v.final_drive else "unknown",
                provenance(job, "vehicle.final_drive"),
            ),
            given("redline", rpm(v.redline_rps or 0), provenance(job, "vehicle.redline_rps")),
            given(
                "mass",
                f"{mass_of(v.mass_kg)}" if v.mass_kg else "unknown",
                provenance(job, "vehicle.mass_kg"),
            ),
            given("lamp and driver", f"{LAMP_S + DRIVER_S:.2f} s", "assumed"),
        ),
        source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 2",
        assumption="full throttle, drag, slip and the time of the shift neglected",
        moves="the torque curve near the redline, then the step between the two ratios",
    )


def timing(job: Job, engine: float) -> Reason:
    """Total advance at an engine speed [1/s]."""
    v = job.vehicle
    if v.initial_deg is None or not v.mechanical:
        return Reason(
            title="Ignition advance",
            result="unknown",
            formula="initial and mechanical advance are missing",
        )
    total = advance.total(v.initial_deg, v.mechanical, v.vacuum_deg, engine)
    part = advance.total(0.0, v.mechanical, 0.0, engine)
    return Reason(
        title=f"Ignition advance at {rpm(engine)}",
        result=f"{total:.1f}° before top with vacuum, {total - v.vacuum_deg:.1f}° without",
        formula="total = initial + mechanical(n) + vacuum, in crank degrees",
        given=(
            given("initial", f"{v.initial_deg:g}°", provenance(job, "vehicle.initial_deg")),
            given("mechanical there", f"{part:.1f}°", provenance(job, "vehicle.mechanical")),
            given("vacuum", f"{v.vacuum_deg:g}°", provenance(job, "vehicle.vacuum_deg")),
            given("lamp points", str(len(v.timing_seen)), provenance(job, "vehicle.timing_seen")),
        ),
        source="definition; checked by timing lamp with the vacuum hose off",
        moves="the initial setting, degree for degree",
    )


def supply(job: Job, device: Device) -> Reason:
    """What reaches a spark box while cranking."""
    states = dict(named(job.vehicle))
    crank = states["Cranking"]
    try:
        at_crank = supplied(job, device, crank.engine, crank.volts)
    except Problem as problem:
        return Reason(title=device.name, result="unknown", formula=str(problem))
    ohm = loop_ohm(job, device)
    found = movers(
        lambda g: g["battery"] - g["current"] * g["wires"],
        {"battery": crank.volts, "current": at_crank.amps, "wires": ohm},
    )
    return Reason(
        title=f"Supply of {device.name} while cranking",
        result=f"{at_crank.volts:.2f} V, {device.sheet.min_v:g} V needed",
        formula="I = rest + (full − rest) · n ÷ n_full; V = V battery − I · (wires + stud)",
        given=(
            given("battery while cranking", f"{crank.volts:g} V", "supposed"),
            given("current there", f"{at_crank.amps:.2f} A", "device sheet"),
            given("wires and stud", f"{ohm * 1000:.1f} mΩ"),
            given("resets below", f"{device.sheet.min_v:g} V", "device sheet"),
        ),
        source="Ohm's law; IEC 60028 copper at 20 °C",
        assumption="battery holds 9.8 V per 12 V while cranking, usual when sound",
        moves=in_words(found, lambda d: f"{d * 1000:+z.0f} mV"),
    )


def fuel_blend(job: Job, part: float, flow: float) -> Reason:
    """What a blend asks of pump and injectors; ``flow`` in litres an hour."""
    try:
        watts = power(job.vehicle)
    except Problem as problem:
        return Reason(title="Fuel blend", result="unknown", formula=str(problem))
    need = blend.fuel_flow(watts, BSFC, part) * 3.6e6
    found = movers(
        lambda g: blend.fuel_flow(g["power"], g["consumption"], g["ethanol"]) * 3.6e6,
        {"power": watts, "consumption": BSFC, "ethanol": max(part, 1e-6)},
    )
    return Reason(
        title=f"Fuel at full load on {part * 100:.0f} % ethanol",
        result=f"{need:.0f} l/h of {flow:g} l/h",
        formula="flow = P · be ÷ ρ petrol · factor; factor = AFR·ρ of petrol ÷ AFR·ρ of the blend",
        given=(
            given("power", f"{watts / 1000:.0f} kW", provenance(job, "vehicle.torque")),
            given("consumption", f"{number(BSFC * 3.6e9)} g/kWh on petrol", "assumed"),
            given("stoichiometric ratio", f"{blend.stoichiometric(part):.2f}"),
            given("volume factor", f"{blend.flow_factor(part):.3f}"),
        ),
        source="Heywood ch. 2 and 3; 745 and 789 kg/m³, 14.7 and 9.0",
        assumption="the blend leaves air and power as they are",
        moves=in_words(found, lambda d: f"{d:+z.1f} l/h"),
    )

"""Calculations about fuel blends."""

from __future__ import annotations

from zombrel.calc.registry import Param, Result, calc
from zombrel.calibrate import blend
from zombrel.units import ZERO_C


def _pct(name: str, words: str) -> Param:
    return Param(name, words, least=0, most=100, units=("%",))


@calc(
    "blend-sender",
    "ethanol and temperature from a digital blend sender",
    [
        Param("hz", "rate", least=0, most=10000, units=("Hz",)),
        Param(
            "pulse_ms", "length of the low pulse", default=None, least=0, most=100, units=("ms",)
        ),
    ],
    "ethanol_pct fuel_c fault",
)
def sender(hz: float, pulse_ms: float | None) -> Result:
    """Ethanol (nothing with a fault) and fuel temperature (nothing outside 1–5 ms)."""
    part = blend.sender_fraction(hz)
    kelvin = blend.sender_kelvin(pulse_ms / 1000) if pulse_ms is not None else None
    return {
        "ethanol_pct": None if part is None else part * 100,
        "fuel_c": None if kelvin is None else kelvin - ZERO_C,
        "fault": blend.sender_fault(hz),
    }


@calc(
    "blend-output",
    "ethanol from a reader's analogue output, its ground lifted",
    [
        Param("volts", "volts as the input sees them", least=-60, most=60, units=("V",)),
        Param(
            "ground_offset_v",
            "sender's ground above the input's ground",
            default=0.0,
            least=-60,
            most=60,
            units=("V",),
        ),
        Param("low_v", "volts at 0 %", default=0.5, least=0, most=60, units=("V",)),
        Param("high_v", "volts at 100 %", default=4.5, least=0, most=60, units=("V",)),
    ],
    "shown_pct ethanol_pct",
)
def output(volts: float, ground_offset_v: float, low_v: float, high_v: float) -> Result:
    """What is shown, and what it would be with the ground put right."""
    return {
        "shown_pct": blend.output_fraction(volts, low_v, high_v) * 100,
        "ethanol_pct": blend.output_fraction(volts - ground_offset_v, low_v, high_v) * 100,
    }


@calc(
    "blend-mix",
    "fuel to add for a target blend",
    [
        Param("now_l", "fuel in the tank", least=0, most=10000, units=("l", "L")),
        _pct("now_pct", "its ethanol"),
        _pct("add_pct", "ethanol of what is added"),
        _pct("target_pct", "ethanol wanted"),
        Param("tank_l", "what the tank holds", above=0, most=10000, units=("l", "L")),
    ],
    "add_l possible full_pct",
)
def mixing(
    now_l: float, now_pct: float, add_pct: float, target_pct: float, tank_l: float
) -> Result:
    """Litres to add; none when this fuel cannot reach the target."""
    mixed = blend.mix(now_l, now_pct / 100, add_pct / 100, target_pct / 100, tank_l)
    return {"add_l": mixed.add, "possible": mixed.possible, "full_pct": mixed.full * 100}


@calc(
    "stoich",
    "stoichiometric ratio of a blend",
    [_pct("ethanol_pct", "ethanol by volume")],
    "afr volume_flow_factor",
)
def stoich(ethanol_pct: float) -> Result:
    """Air-fuel ratio by mass, and fuel volume over that of petrol."""
    part = ethanol_pct / 100
    return {
        "afr": blend.stoichiometric(part),
        "volume_flow_factor": blend.flow_factor(part),
        "density_kg_m3": blend.density(part),
    }


@calc(
    "blend-headroom",
    "highest blend a pump or set of injectors can feed",
    [
        Param("power_kw", "engine power at full load", above=0, most=5000, units=("kW",)),
        Param(
            "bsfc_g_kwh",
            "consumption on petrol",
            default=300.0,
            above=100,
            most=1000,
            units=("g/kWh",),
        ),
        Param(
            "flow_l_h",
            "what pump or injectors give at that pressure and voltage",
            above=0,
            most=10000,
            units=("l/h",),
        ),
    ],
    "need_petrol_l_h need_e85_l_h highest_ethanol_pct",
)
def headroom(power_kw: float, bsfc_g_kwh: float, flow_l_h: float) -> Result:
    """Need on petrol and E85, and the greatest ethanol that the flow feeds."""
    per_hour = 3600 * 1000
    need = blend.fuel_flow(power_kw * 1000, bsfc_g_kwh / 3.6e9, 0.0) * per_hour
    most = blend.highest_blend(need, flow_l_h)
    return {
        "need_petrol_l_h": need,
        "need_e85_l_h": need * blend.flow_factor(0.85),
        "highest_ethanol_pct": None if most is None else most * 100,
    }

"""Answers to "why?" for every number on a screen, made when asked."""

from __future__ import annotations

import math
from collections.abc import Mapping

import msgspec

from zombrel.behaviour.sensitivity import in_words, movers
from zombrel.calibrate.copper import resistance_per_m
from zombrel.calibrate.settings.setting import options
from zombrel.calibrate.tyre import parse as parse_tyre
from zombrel.findings.scene import given
from zombrel.harness.wire_reading import WireReading
from zombrel.job.facts import FactSheet, source_facts
from zombrel.job.ledger import MEANING, provenance
from zombrel.job.model import (
    Chain,
    Device,
    Job,
    PullUp,
    by_id,
)
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.reason import Given, Reason
from zombrel.job.sheet import InputSheet
from zombrel.job.source import Source
from zombrel.job.state import State
from zombrel.job.typed.facts import show, unit_of
from zombrel.job.wiring import Wire
from zombrel.signals.chain_reading import ChainReading, brake_of, felt, top_of
from zombrel.signals.finder import Candidate
from zombrel.signals.following import given_by, usual_port
from zombrel.signals.inputs import INPUTS
from zombrel.signals.kinds import kind_of
from zombrel.signals.reduce import box_for, divider_of, emission, input_of, law
from zombrel.signals.sense import count_step, shown_at
from zombrel.units import Units, number, per_distance, percent, prefixed, rpm, speed
from zombrel.units.measure import area_of, difference, length_of, short_of, written


def rate_words(chain: Chain, rate: float, units: Units) -> str:
    """A pulse rate in the unit of its chain."""
    if chain.quantity == "speed":
        return per_distance(rate, units)
    return f"{rate:.3g} per rev"


def value_words(chain: Chain, x: float, units: Units) -> str:
    """A speed or engine speed in words."""
    return speed(x, units) if chain.quantity == "speed" else rpm(x)


def reach_words(job: Job, chain: Chain, reading: ChainReading, units: Units) -> str:
    """From where to where a rate chain counts."""
    if not math.isfinite(reading.start):
        return "never counts"
    top = top_of(chain, job.vehicle)
    start = value_words(chain, reading.start, units)
    if reading.stop < top:
        end = value_words(chain, reading.stop, units)
        return f"counts from {start} to {end}, then drops out"
    return f"counts from {start} up" if reading.start > 0 else "counts over the whole range"


def _spec_given(job: Job, chain: Chain, units: Units) -> tuple[Given, ...]:
    out = [
        given(
            f.short,
            f"{show(job, f, units)} {f.unit}".strip(),
            provenance(job, f.path),
        )
        for f in source_facts(job)
        if f.path.startswith(f"sources.{chain.source}.")
    ]
    source = by_id(job.sources, chain.source)
    if chain.quantity == "speed" and source is not None:
        out.append(given("tyre", job.vehicle.tyre, provenance(job, "vehicle.tyre")))
        if source.trim != 1:
            out.append(given("found on the road", f"× {source.trim:.4f}", "measured"))
    if chain.quantity == "tach" and job.vehicle.cylinders is not None:
        out.append(
            given("cylinders", str(job.vehicle.cylinders), provenance(job, "vehicle.cylinders"))
        )
    return tuple(out)


RATE_FIELDS = (
    "teeth",
    "magnets",
    "pulses_per_rev",
    "pulses_per_m",
    "pulses",
    "drive_teeth",
    "driven_teeth",
    "pole_pairs",
    "pulley_ratio",
)
"""Figures of a source that its rate goes with."""


def explain_source(job: Job, chain: Chain, reading: ChainReading, units: Units) -> Reason:
    """Rate, frequency and level at the source."""
    source = by_id(job.sources, chain.source)
    assert source is not None  # validated with the job
    if reading.brake is not None:
        return explain_brake(job, chain, reading)
    if reading.sense is not None:
        return explain_sensor(job, chain, reading, units)
    if reading.contact is not None:
        return explain_contact(job, chain, reading)
    try:
        give = given_by(job, source)
    except Problem as problem:
        return Reason(title=source.name, result="unknown", formula=str(problem))
    return Reason(
        title=source.name,
        result=f"{rate_words(chain, give.rate, units)}; {number(reading.source_hz, 1)} Hz and "
        f"{prefixed(reading.source_v, 'V')} peak now",
        formula=kind_of(source.spec).formula,
        given=(
            *_spec_given(job, chain, units),
            given("now", value_words(chain, reading.true, units), "supposed"),
        ),
        source="definition of pulse rate; ETRTO for the tyre; Heywood ch. 1 for firings",
        assumption="tyre new and at its pressure; wear and pressure change it by ±1.5 %"
        if chain.quantity == "speed"
        else "",
        moves=_source_moves(job, source),
    )


def _source_moves(job: Job, source: Source) -> str:
    """What one per cent of each figure behind a rate does to it."""
    spec, v, box = source.spec, job.vehicle, box_for(job, source)
    inputs = {
        name: float(getattr(spec, name))
        for name in spec.__struct_fields__
        if name in RATE_FIELDS and getattr(spec, name)
    }
    if v.final_drive is not None:
        inputs["final_drive"] = v.final_drive

    def rate(given_: Mapping[str, float]) -> float:
        other = {k: x for k, x in given_.items() if k != "final_drive"}
        car = v
        if "final_drive" in given_:
            car = msgspec.structs.replace(v, final_drive=given_["final_drive"])
        changed = msgspec.structs.replace(source, spec=msgspec.structs.replace(spec, **other))
        return emission(changed, car, box).rate

    base = rate(inputs)
    found = tuple(m for m in movers(rate, inputs) if abs(m.change) > 1e-9 * base)
    said = in_words(found, lambda d: percent(d / base, 2))
    return said.replace("_", " ")


def explain_input(job: Job, chain: Chain, reading: ChainReading, units: Units) -> Reason:
    """What the device makes of the signal."""
    device, sheet = input_of(job, chain)
    source = by_id(job.sources, chain.source)
    if reading.problem or source is None:
        return Reason(title=device.name, result="unknown", formula=reading.problem)
    if reading.brake is not None:
        return explain_brake(job, chain, reading)
    if reading.sense is not None:
        return explain_sensor(job, chain, reading, units)
    if reading.contact is not None:
        return explain_contact(job, chain, reading)
    rate_law = law(chain, given_by(job, source), device)
    divider = divider_of(chain)
    shown = value_words(chain, reading.shown, units) if math.isfinite(reading.shown) else "nothing"
    return Reason(
        title=f"What {device.name} shows",
        result=f"{shown} for {value_words(chain, reading.true, units)}; "
        f"{reach_words(job, chain, reading, units)}",
        formula="shown = rate ÷ divider ÷ setting × truth",
        given=(
            given("rate", rate_words(chain, rate_law.rate, units)),
            given("divider", f"÷{divider.by}" if divider else "none"),
            given(
                f"setting {device.setting(sheet.pin) or ''}".strip(),
                rate_words(chain, rate_law.setting, units),
                provenance(job, f"devices.{device.id}.settings.{sheet.pin}.at"),
            ),
            given("threshold", f"{sheet.threshold_v:g} V", "device sheet"),
            given("input limit", f"{sheet.max_hz:g} Hz", "device sheet"),
        ),
        source="ratio of pulses sent to pulses believed",
        moves=_rate_moves(chain, device, sheet),
    )


def explain_candidate(job: Job, c: Candidate) -> Reason:
    """What a candidate's score is made of."""
    return Reason(
        title=f"{c.name} as a source",
        result=f"score {c.score:.0f}, {c.cost:.0f} min all told" if c.possible else "not possible",
        formula="score = 100 · 60 ÷ (60 + minutes); minutes = work + conditioning + error + risk "
        "+ what it cannot do + what is still to be probed",
        given=(
            *(given("it is so", reason) for reason in c.reasons),
            *(given(name, f"{minutes:.0f} min") for name, minutes in c.parts),
            *(given("fault", fault) for fault in c.faults),
            *(given(f"tried: {r.way}", r.why) for r in c.rejected),
        ),
        source="weights are house rules: minutes per per cent of error "
        f"{job.house.per_cent_min:g}, risk × {job.house.risk_weight:g}",
        moves=max(c.parts, key=lambda p: p[1])[0] if c.parts else "",
    )


def explain_sensor(job: Job, chain: Chain, r: ChainReading, units: Units) -> Reason:
    """From the truth over ohms and volts to what the device shows."""
    device, sheet = input_of(job, chain)
    how = r.sense
    source = by_id(job.sources, chain.source)
    if how is None or source is None:
        return Reason(title=device.name, result="unknown", formula=r.problem)
    kind = QUANTITIES[chain.quantity].kind
    pulls = [f"{h.ohm:g} Ω" for h in chain.hops if isinstance(h, PullUp)]
    if sheet.pull_up_ohm:
        pulls.append(f"{sheet.pull_up_ohm:g} Ω in the device")
    count = count_step(felt(job, chain.id).sender, how.pin_v, State())
    return Reason(
        title=f"What {device.name} shows",
        result=f"{written(kind, r.shown, units)} for {written(kind, r.true, units)}",
        formula=INPUTS[how.takes].formula,
        given=(
            given(
                source.name,
                f"{how.electrical:.4g} {INPUTS[how.gives].unit}",
                provenance(job, f"sources.{source.id}.spec.points"),
            ),
            *((given("pull-up", " and ".join(pulls)),) if pulls else ()),
            given("ground lift", f"{how.lift_v * 1000:z.0f} mV"),
            *((given("at the pin", f"{how.pin_v:z.3f} V"),) if math.isfinite(how.pin_v) else ()),
            given("device infers", f"{how.inferred:.4g} {INPUTS[how.takes].unit}"),
            given(
                f"curve {device.setting(sheet.pin) or 'of the sheet'}",
                "straight between points",
                provenance(job, f"devices.{device.id}.settings.{sheet.pin}.at"),
            ),
            *(
                (given("one count", difference(kind, count, units).lstrip("+")),)
                if math.isfinite(count)
                else ()
            ),
        ),
        source="Millman's theorem; IEC 60539-1 between a thermistor's pairs; ITS-90 for type K",
        moves=_sensor_moves(job, chain, r, units),
    )


def _sensor_moves(job: Job, chain: Chain, r: ChainReading, units: Units) -> str:
    """What 1 % of the sender, and 10 mV of ground, do to the reading."""
    found = felt(job, chain.id)
    kind = QUANTITIES[chain.quantity].kind
    state = State()
    port = usual_port(job, chain.id)
    lifted = shown_at(found.sender, r.true, port.lifted(0.01), state)[0]
    plain = shown_at(found.sender, r.true, port, state)[0]
    return f"10 mV of ground lift: {difference(kind, lifted - plain, units)}"


def _rate_moves(chain: Chain, device: Device, sheet: InputSheet) -> str:
    """What one step of the setting does, and for speeds what wear does."""
    at = device.setting(sheet.pin)
    if sheet.numbers is None or at is None:
        return ""
    table = options(sheet.numbers)
    if at not in table.names:
        return ""
    i = table.names.index(at)
    j = i + 1 if i + 1 < len(table.values) else i - 1
    step = table.values[i] / table.values[j] - 1
    wear = "; tyre wear and pressure: ±1.5 %" if chain.quantity == "speed" else ""
    return f"one step of the setting: {percent(abs(step), 2).lstrip('+')}{wear}"


def explain_brake(job: Job, chain: Chain, reading: ChainReading) -> Reason:
    """The cancel line."""
    line = reading.brake
    device, sheet = input_of(job, chain)
    if line is None:
        return Reason(title=device.name, result="unknown", formula=reading.problem)
    return Reason(
        title=f"{chain.pin} at the {device.name}",
        result=f"{line.rest_v:.2f} V at rest, {line.pressed_v:.1f} V pressed",
        formula="V = Vs · R/(R + Rp) with R the path to ground; an LED string: V = Vk + I·r",
        given=(
            given("path to ground", prefixed(line.path_ohm, "Ω")),
            given("pull-up", prefixed(sheet.pull_up_ohm, "Ω"), "device sheet"),
            given("needs", f"below {line.need_ohm:g} Ω", "device sheet"),
            given("lamps", job.vehicle.lamps or "", provenance(job, "vehicle.lamps")),
            *((given("heat in the load", f"{line.load_w:.1f} W"),) if line.load_w else ()),
            *((given("relay coil", f"{line.coil_a * 1000:.0f} mA"),) if line.coil_a else ()),
        ),
        source="Ohm's law",
        assumption="LED knee 6.8 V and 300 Ω a lamp, typical; cold filament a tenth of hot",
        moves=_brake_moves(job, chain, sheet),
    )


def _brake_moves(job: Job, chain: Chain, sheet: InputSheet) -> str:
    """What one per cent of the pull-up and of the supply do to the volts at rest."""

    def rest(given_: Mapping[str, float]) -> float:
        other = msgspec.structs.replace(sheet, pull_up_ohm=given_["pull-up"])
        return brake_of(chain, job.vehicle, other, given_["supply"]).rest_v

    inputs = {"pull-up": sheet.pulls_ohm, "supply": job.vehicle.charging_v}
    return in_words(movers(rest, inputs), lambda d: f"{d * 1000:+z.1f} mV at rest")


def explain_contact(job: Job, chain: Chain, reading: ChainReading) -> Reason:
    """What an on/off input sees in both states."""
    device, sheet = input_of(job, chain)
    switch = reading.contact
    if switch is None:
        return Reason(title=device.name, result="unknown", formula=reading.problem)
    return Reason(
        title=f"{chain.pin} at the {device.name}",
        result="sees on for on and off for off" if switch.right else "sees it wrong",
        formula="seen = (contact closed, and leads where the input looks) is the active state",
        given=(
            given("contact rests", switch.rests),
            given("leads to", switch.leads),
            given("input looks for", sheet.closes_to, "device sheet"),
            given("takes for on", f"a contact that is {sheet.active}", "device sheet"),
        ),
        source="circuit logic",
    )


def explain_wire(job: Job, wire: Wire, reading: WireReading, state: State) -> Reason:
    """Current, drop, ampacity and fuse of a conductor."""
    place = state.ambient + wire.over_ambient_k
    return Reason(
        title=f"{wire.id}, {area_of(wire.area_mm2)}",
        result=f"{reading.drop_v * 1000:.0f} mV lost ({reading.drop * 100:.2f} %), may carry "
        f"{reading.ampacity:.1f} A",
        formula="drop = I·L·ρ/A·(1 + α(T − 20 °C)); ampacity = √(hπD·ΔT/R) × bunch factor; "
        "fuse ≥ load ÷ 0.75 and ≤ ampacity",
        given=(
            given("current", f"{reading.amps:.3g} A", "device sheet"),
            given(
                "length",
                f"{length_of(wire.length_m)}",
                provenance(job, f"wires.{wire.id}.length_m"),
            ),
            given("copper", f"{resistance_per_m(wire.area_mm2, place) * 1000:.2f} mΩ/m"),
            given("air around it", f"{place - 273.15:.0f} °C", "supposed"),
            given("bundle of", str(wire.bundle)),
            given("fuse", f"{reading.fuse_a:g} A" if reading.fuse_a else "none"),
        ),
        source="IEC 60028; ISO 6722-1; heat balance (Incropera ch. 9); IEC 60364-5-52; ISO 8820",
        assumption=f"insulation to {job.house.conductor_max_k - 273.15:.0f} °C (house rule)",
        moves=in_words(
            movers(
                lambda g: g["current"] * g["length"] / g["section"],
                {"current": reading.amps, "length": wire.length_m, "section": wire.area_mm2},
            ),
            lambda d: f"{d / max(reading.amps * wire.length_m / wire.area_mm2, 1e-12) * 100:+.2f} "
            "% of the drop",
        ),
    )


def _explain_tyre(job: Job) -> Reason:
    known = provenance(job, "vehicle.tyre")
    try:
        t = parse_tyre(job.vehicle.tyre)
    except Problem as problem:
        return Reason(title="Tyres", result="unknown", formula=str(problem))
    around = t.rolling_circumference
    return Reason(
        title=f"Tyres, {job.vehicle.tyre}",
        result=f"{short_of(around)} a turn, {1000 / around:.1f} turns per km",
        formula="diameter = rim · 25.4 + 2 · width · aspect/100; circumference = 3.05 · diameter",
        given=(
            given("size", job.vehicle.tyre, known),
            given("width", short_of(t.width)),
            given("rim", short_of(t.rim)),
            given("free diameter", short_of(t.free_diameter)),
        ),
        source="ISO 4000-1 for the size; ETRTO for the rolling circumference of radials",
        assumption="wear and pressure change it by ±1.5 %; the road run measures it",
    )


def explain_fact(job: Job, sheet: FactSheet, units: Units) -> Reason:
    """How a stated fact is known."""
    if sheet.path == "vehicle.tyre" and job.vehicle.tyre:
        return _explain_tyre(job)
    known = provenance(job, sheet.path)
    lines = [e for e in job.ledger if e.path == sheet.path]
    return Reason(
        title=sheet.label,
        result=f"{show(job, sheet, units) or 'not known'} {unit_of(sheet, units)}".strip(),
        formula="stated, not computed",
        given=tuple(
            given(e.when or "undated", f"{e.value}: {e.note}".rstrip(": "), e.rung)
            for e in lines[-6:]
        ),
        source=MEANING[known] if known else "nobody has said how this is known",
    )

"""Reduce a chain of the job to its law: the model of every rate source in one place."""

from __future__ import annotations

import math

import msgspec

from zombrel.calibrate import rates, setting, tyre
from zombrel.job.facts import lacking
from zombrel.job.model import (
    Attenuator,
    Chain,
    Device,
    Divider,
    Job,
    Multiplier,
    PullUp,
    Vehicle,
    by_id,
)
from zombrel.job.problem import Problem
from zombrel.job.query import query
from zombrel.job.sheet import DeviceSheet, Frozen, InputSheet, Waveform
from zombrel.job.source import (
    Alternator,
    BoxOutput,
    BusReader,
    CableGenerator,
    CoilTap,
    CommonFeed,
    EngineComputer,
    GearboxSensor,
    PropShaft,
    Satellite,
    Source,
    StatedSpeed,
    ToothedWheel,
    WheelRing,
)
from zombrel.job.view import plain
from zombrel.signals.law import Law, loaded

LOW_LEVEL = 0.4
"""What an open collector without a pull-up may still reach [V]."""


class Emission(Frozen, frozen=True, kw_only=True):
    """What a source gives, before anything joins it."""

    rate: float
    """Pulses per metre or per revolution."""
    waveform: Waveform
    volts: float = 0.0
    """Fixed peak level [V], 0 when it grows with rate."""
    volts_per_hz: float = 0.0
    into_ohm: float = 0.0
    winding_ohm: float = 0.0
    needs_pull_up: bool = False
    sparks: float = 1.0
    multi_below: float = 0.0
    least: float = 0.0
    """Below this x the source says nothing."""
    lag: float = 0.0
    """From a change to its pulses [s]."""


def circumference(vehicle: Vehicle) -> float:
    """Rolling circumference of the vehicle's tyres [m]."""
    if not vehicle.tyre:
        raise lacking("tyre")
    return tyre.parse(vehicle.tyre).rolling_circumference


def _needed(vehicle: Vehicle, field: str) -> float:
    value: float | None = getattr(vehicle, field)
    if value is None:
        raise lacking(field)
    return value


@query
def cd_box(job: Job) -> DeviceSheet | None:
    """The capacitor-discharge ignition box in the job, if any."""
    return next((plain(d.sheet) for d in job.devices if d.sheet.capacitor_discharge), None)


def box_for(job: Job, source: Source) -> DeviceSheet | None:
    """The device sheet a source depends on: the box it belongs to, or that drives its coil."""
    spec = source.spec
    if isinstance(spec, BoxOutput):
        device = by_id(job.devices, spec.device)
        return device.sheet if device is not None else None
    return cd_box(job) if isinstance(spec, CoilTap) else None


def emission(source: Source, vehicle: Vehicle, box: DeviceSheet | None) -> Emission:
    """What ``source`` gives in this vehicle; ``box`` from ``box_for``.

    Raises:
        Problem: a fact the rate rests on is missing.
    """
    give = _computed(source, vehicle, box)
    return msgspec.structs.replace(give, rate=give.rate * source.trim)


def _computed(source: Source, vehicle: Vehicle, box: DeviceSheet | None) -> Emission:
    spec = source.spec
    match spec:
        case WheelRing():
            rate = rates.wheel_ring(spec.teeth, circumference(vehicle))
            return _winding(rate, spec)
        case PropShaft():
            final = _needed(vehicle, "final_drive")
            return _winding(rates.propshaft(spec.magnets, final, circumference(vehicle)), spec)
        case GearboxSensor():
            final = _needed(vehicle, "final_drive")
            return _winding(rates.propshaft(spec.teeth, final, circumference(vehicle)), spec)
        case Satellite():
            return Emission(
                rate=spec.pulses_per_m,
                waveform="square",
                volts=spec.volts,
                least=spec.lowest_mps,
                lag=spec.lag_s,
            )
        case BusReader() if spec.pulses:
            return Emission(
                rate=spec.pulses, waveform="square", volts=spec.volts, lag=spec.period_s
            )
        case CableGenerator():
            final = _needed(vehicle, "final_drive")
            rate = rates.cable(
                spec.pulses_per_rev,
                spec.drive_teeth,
                spec.driven_teeth,
                final,
                circumference(vehicle),
            )
            return Emission(rate=rate, waveform="square", volts=spec.volts)
        case StatedSpeed():
            return Emission(
                rate=spec.pulses_per_m,
                waveform="square",
                volts=spec.volts,
                needs_pull_up=spec.open_collector,
            )
        case CoilTap():
            return _coil(spec, vehicle, box)
        case CommonFeed():
            cylinders = int(_needed(vehicle, "cylinders"))
            return Emission(
                rate=rates.all_coils(cylinders, vehicle.strokes),
                waveform="square",
                volts=spec.volts,
            )
        case BoxOutput():
            return _box(spec, box)
        case EngineComputer():
            return Emission(
                rate=spec.pulses_per_rev,
                waveform="square",
                volts=spec.volts,
                needs_pull_up=spec.open_collector,
            )
        case Alternator():
            return Emission(
                rate=rates.alternator(spec.pole_pairs, spec.pulley_ratio),
                waveform="sine",
                volts=spec.volts,
            )
        case ToothedWheel():
            rate = rates.toothed_wheel(spec.teeth, spec.missing, spec.on_cam)
            return _winding(rate, spec)
        case _:
            raise Problem(f"{source.name} gives no pulses: it is read by its level, not by a rate.")


def _winding(rate: float, spec: WheelRing | PropShaft | ToothedWheel | GearboxSensor) -> Emission:
    return Emission(
        rate=rate,
        waveform="sine",
        volts_per_hz=spec.volts_per_hz,
        into_ohm=spec.into_ohm,
        winding_ohm=spec.winding_ohm,
    )


def _coil(spec: CoilTap, vehicle: Vehicle, box: DeviceSheet | None) -> Emission:
    cylinders = int(_needed(vehicle, "cylinders"))
    if vehicle.ignition is None:
        raise lacking("ignition")
    rate = rates.coil_pulses(vehicle.ignition, cylinders, vehicle.strokes)
    if box is None:
        return Emission(rate=rate, waveform="kick", volts=spec.kick_v)
    return Emission(
        rate=rate,
        waveform="kick",
        volts=spec.kick_v,
        sparks=box.sparks,
        multi_below=box.multi_below_rps,
    )


def _box(spec: BoxOutput, box: DeviceSheet | None) -> Emission:
    output = box.output(spec.pin) if box is not None else None
    if output is None or output.pulses_per_rev <= 0:
        raise Problem(f"No device in the job has an output {spec.device}.{spec.pin}.")
    return Emission(rate=output.pulses_per_rev, waveform=output.waveform, volts=output.volts)


@query
def chains_to(job: Job) -> dict[tuple[str, str], str]:
    """Which chain ends at an input, by (device, pin)."""
    return {(c.device, c.pin): c.id for c in job.chains}


def input_of(job: Job, chain: Chain) -> tuple[Device, InputSheet]:
    """The device and input a chain ends at."""
    device = by_id(job.devices, chain.device)
    sheet = device.sheet.input(chain.pin) if device is not None else None
    if device is None or sheet is None:
        raise Problem(f"Chain “{chain.id}” ends at no input of this job.")
    return device, sheet


def setting_pulses(device: Device, sheet: InputSheet) -> float:
    """Pulses per metre or revolution the device believes in; nan when it has no setting yet."""
    numbers = sheet.numbers
    if numbers is None:
        return math.nan
    at = device.setting(sheet.pin)
    if at is None:
        return math.nan
    return setting.pulses(numbers.unit, setting.value_of(numbers, at))


def divider_of(chain: Chain) -> Divider | None:
    """The chain's divider, or None."""
    return next((h for h in chain.hops if isinstance(h, Divider)), None)


def counter_of(chain: Chain) -> Divider | Multiplier | None:
    """What counts pulses on the way, divider or multiplier, or None."""
    return next((h for h in chain.hops if isinstance(h, Divider | Multiplier)), None)


def counted_by(counter: Divider | Multiplier | None) -> float:
    """Pulses in for one pulse out."""
    if counter is None:
        return 1.0
    return float(counter.by) if isinstance(counter, Divider) else 1 / counter.by


def law(chain: Chain, give: Emission, device: Device) -> Law:
    """The law of a rate chain from what its source gives, its supplies taken as good.

    Raises:
        Problem: the device has no such input, or its setting is none it has.
    """
    sheet = device.sheet.input(chain.pin)
    if sheet is None:
        raise Problem(f"{device.name} has no input “{chain.pin}”.")
    counter = counter_of(chain)
    after = counter.input_ohm if counter else sheet.input_ohm
    down = next((h for h in chain.hops if isinstance(h, Attenuator)), None)
    load, share = after, 1.0
    if down is not None:
        foot = down.ground_ohm * after / (down.ground_ohm + after)
        load, share = down.series_ohm + foot, foot / (down.series_ohm + foot)
    pulled = any(isinstance(h, PullUp) for h in chain.hops) or sheet.pull_up_ohm > 0
    fixed = LOW_LEVEL if give.needs_pull_up and not pulled else give.volts
    per_hz = give.volts_per_hz
    if give.winding_ohm:
        per_hz = loaded(per_hz, give.into_ohm, give.winding_ohm, load)
    return Law(
        rate=give.rate,
        v_per_hz=per_hz * share,
        v_fixed=fixed * share,
        divider=counted_by(counter),
        first_threshold=counter.threshold_v if counter else sheet.threshold_v,
        first_max_hz=counter.max_hz if counter else math.inf,
        second_level=counter.out_v if counter else 0.0,
        second_threshold=sheet.threshold_v if counter else 0.0,
        device_max_hz=sheet.max_hz,
        # without a scale of its own the device takes the pulses as they come
        setting=setting_pulses(device, sheet)
        if sheet.numbers is not None
        else give.rate / counted_by(counter),
        multi=give.sparks,
        multi_below=give.multi_below,
        alive=1.0,
        least=give.least,
    )

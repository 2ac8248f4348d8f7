"""Sources of ready pulses: generators, computer outputs, coils, receivers, bus readers.

Rates: see ``calibrate.rates`` (firings per turn: Heywood ch. 1).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from zombrel.calibrate import rates
from zombrel.job.facts import lacking
from zombrel.job.model import Job, Vehicle, by_id
from zombrel.job.pairs import Pairs
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet, Takes
from zombrel.job.source import (
    Alternator,
    BoxOutput,
    BusReader,
    CableGenerator,
    CoilTap,
    CommonFeed,
    EngineComputer,
    Satellite,
    StatedSpeed,
    Tolerates,
)
from zombrel.signals.kinds.base import (
    Emission,
    Kind,
    Words,
    circumference,
    needed,
    own,
    register,
    tap,
)

Box = DeviceSheet | None


def _cut(spec: object) -> Tolerates:
    """It is cut and joined through."""
    return "intercept"


def _satellite(spec: Satellite, vehicle: Vehicle, box: Box) -> Emission:
    return Emission(
        rate=spec.pulses_per_m,
        waveform="square",
        volts=spec.volts,
        least=spec.lowest_mps,
        lag=spec.lag_s,
    )


def _bus(spec: BusReader, vehicle: Vehicle, box: Box) -> Emission | None:
    if not spec.pulses:
        return None
    return Emission(rate=spec.pulses, waveform="square", volts=spec.volts, lag=spec.period_s)


def _bus_volts(spec: BusReader, output: Pairs) -> Takes | None:
    return "volts" if spec.points else None


def _cable(spec: CableGenerator, vehicle: Vehicle, box: Box) -> Emission:
    final = needed(vehicle, "final_drive")
    around = circumference(vehicle)
    rate = rates.cable(spec.pulses_per_rev, spec.drive_teeth, spec.driven_teeth, final, around)
    return Emission(rate=rate, waveform="square", volts=spec.volts)


def _stated(spec: StatedSpeed, vehicle: Vehicle, box: Box) -> Emission:
    return Emission(
        rate=spec.pulses_per_m,
        waveform="square",
        volts=spec.volts,
        needs_pull_up=spec.open_collector,
        sinks_a=spec.sinks_a,
    )


def _coil(spec: CoilTap, vehicle: Vehicle, box: Box) -> Emission:
    cylinders = int(needed(vehicle, "cylinders"))
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


def _common(spec: CommonFeed, vehicle: Vehicle, box: Box) -> Emission:
    cylinders = int(needed(vehicle, "cylinders"))
    rate = rates.all_coils(cylinders, vehicle.strokes)
    return Emission(rate=rate, waveform="square", volts=spec.volts)


def _output(spec: BoxOutput, vehicle: Vehicle, box: Box) -> Emission:
    output = box.output(spec.pin) if box is not None else None
    if output is None or (output.pulses_per_rev <= 0 and not output.ratio):
        raise Problem(f"No device in the job has an output {spec.device}.{spec.pin}.")
    # a ratio box gives what comes in times its setting: see ``signals.following``
    return Emission(rate=output.pulses_per_rev or 1.0, waveform=output.waveform, volts=output.volts)


def _output_volts(spec: BoxOutput, output: Pairs) -> Takes | None:
    return "volts" if output else None


def _computer(spec: EngineComputer, vehicle: Vehicle, box: Box) -> Emission:
    return Emission(
        rate=spec.pulses_per_rev,
        waveform="square",
        volts=spec.volts,
        needs_pull_up=spec.open_collector,
        sinks_a=spec.sinks_a,
    )


def _alternator(spec: Alternator, vehicle: Vehicle, box: Box) -> Emission:
    rate = rates.alternator(spec.pole_pairs, spec.pulley_ratio)
    return Emission(rate=rate, waveform="sine", volts=spec.volts)


def _said(head: str, detail: Callable[[Any], str]) -> Words:
    return lambda spec, job: (head, detail(spec))


def _coil_words(spec: CoilTap, job: Job) -> tuple[str, str]:
    return "Coil", (job.vehicle.ignition or "unknown").replace("-", " ")


def _output_words(spec: BoxOutput, job: Job) -> tuple[str, str]:
    device = by_id(job.devices, spec.device)
    if device is None:
        return "Output", spec.device
    output = device.sheet.output(spec.pin)
    pulses = output is not None and output.quantity in ("tach", "speed")
    return "Pulse output" if pulses else "Output", f"of {device.name.lower()}"


register(
    Kind(
        Satellite,
        own,
        "",
        _satellite,
        words=_said("Satellite", lambda spec: f"{spec.pulses_per_m:g} per m"),
    )
)
register(
    Kind(
        BusReader,
        tap,
        "",
        _bus,
        gives=_bus_volts,
        words=_said("Data bus", lambda spec: str(spec.signal)),
    )
)
register(
    Kind(
        CableGenerator,
        _cut,
        "pulses per rev × drive ÷ driven × final drive ÷ rolling circumference",
        _cable,
        words=_said("Cable", lambda spec: f"{spec.pulses_per_rev:g} a turn"),
    )
)
register(
    Kind(
        StatedSpeed,
        tap,
        "as stated",
        _stated,
        words=_said("Speed output", lambda spec: f"{spec.pulses_per_m * 1000:.0f} per km"),
    )
)
register(Kind(CoilTap, tap, "firings of one coil per crank turn", _coil, words=_coil_words))
register(
    Kind(
        CommonFeed,
        _cut,
        "cylinders ÷ 2 (four-stroke)",
        _common,
        words=_said("Common feed", lambda spec: "all coils"),
    )
)
register(
    Kind(
        BoxOutput,
        own,
        "as the box's sheet states",
        _output,
        gives=_output_volts,
        words=_output_words,
    )
)
register(
    Kind(
        EngineComputer,
        tap,
        "as stated",
        _computer,
        words=_said("Computer", lambda spec: f"{spec.pulses_per_rev:g} per rev"),
    )
)
register(
    Kind(
        Alternator,
        tap,
        "pole pairs × pulley ratio",
        _alternator,
        words=_said("Alternator", lambda spec: f"{spec.pole_pairs} pole pairs"),
    )
)

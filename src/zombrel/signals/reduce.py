"""Reduce a chain of the job to its law: the model of every rate source in one place.

References: rates as in ``calibrate.rates`` (Heywood ch. 1 for firings); a divider by n gives one
pulse for n, a multiplier n for one (definition of a counter's modulus).
"""

from __future__ import annotations

import math

import msgspec

from zombrel.calibrate.settings import setting
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import (
    Attenuator,
    Chain,
    Counter,
    Coupler,
    Device,
    Divider,
    Job,
    PullUp,
    Vehicle,
    by_id,
)
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet, InputSheet
from zombrel.job.source import BoxOutput, CoilTap, Source
from zombrel.signals.circuit.build import SATURATED_V
from zombrel.signals.circuit.port import Port
from zombrel.signals.kinds import Emission, kind_of
from zombrel.signals.kinds.base import no_pulses
from zombrel.signals.law import Law

LOW_LEVEL = SATURATED_V
"""What an open collector that cannot swing reaches [V]."""
FALLS_TO = 0.6
"""Share of its threshold that an input must fall below to count again: ASSUMED."""
USUAL_V = 13.8
"""Supply that a pull-up goes to where no job says."""


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
    emits = kind_of(source.spec).emits
    give = emits(source.spec, vehicle, box) if emits is not None else None
    if give is None:
        raise no_pulses(source.name)
    return msgspec.structs.replace(give, rate=give.rate * source.trim)


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
    """Pulses per metre or revolution the device believes in; nan when it has no setting yet.

    Result [1/m or 1 per revolution].
    """
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


def counter_of(chain: Chain) -> Counter | None:
    """What counts pulses on the way, divider, multiplier or ratio box, or None."""
    return next((h for h in chain.hops if isinstance(h, Counter)), None)


def counted_by(counter: Counter | None) -> float:
    """Pulses in for one pulse out.

    Result [ratio].
    """
    if counter is None:
        return 1.0
    return float(counter.by) if isinstance(counter, Divider) else 1 / counter.by


def _alone(chain: Chain, sheet: InputSheet, counter: Counter | None) -> Port:
    """What a source sees of an input that nothing else hangs on, from the usual supply."""
    load = counter.input_ohm if counter else sheet.input_ohm
    down = next((h for h in chain.hops if isinstance(h, Attenuator)), None)
    pulls = [(h.ohm, h.to_v or USUAL_V) for h in chain.hops if isinstance(h, PullUp)]
    if sheet.pull_up_ohm and counter is None:
        pulls.append((sheet.pull_up_ohm, sheet.pull_up_v or USUAL_V))
    foot, series = load, 0.0
    if down is not None:
        foot = down.ground_ohm * load / (down.ground_ohm + load)
        series = down.series_ohm
    siemens = 1 / (series + foot) + sum(1 / ohm for ohm, _ in pulls)
    open_v = sum(v / ohm for ohm, v in pulls) / siemens
    share = foot / (series + foot)
    return Port(open_v, 1 / siemens, open_v * share, share / siemens, 0.0)


def _pulled(give: Emission, port: Port, threshold: float) -> float:
    """Level of an open collector [V]: what pulls it up, if it can pull that down again."""
    low = port.behind(0.0, SATURATED_V / give.sinks_a)
    return port.pin_v if low < FALLS_TO * threshold or not threshold else LOW_LEVEL


def law(chain: Chain, give: Emission, device: Device, port: Port | None = None) -> Law:
    """The law of a rate chain from what its source gives, its supplies taken as good.

    ``port`` as the network has it; None for a chain that is joined alone and without loss.

    Raises:
        Problem: the device has no such input, or its setting is none it has.
    """
    sheet = device.sheet.input(chain.pin)
    if sheet is None:
        raise Problem(f"{device.name} has no input “{chain.pin}”.")
    counter = counter_of(chain)
    port = port or _alone(chain, sheet, counter)
    # a capacitor in the line leaves half of a square's height on either side of zero
    coupled = [isinstance(h, Coupler) for h in chain.hops if isinstance(h, Coupler | Counter)]
    half, behind = 0.5 if coupled[:1] == [True] else 1.0, 0.5 if coupled[1:] == [True] else 1.0
    per_hz, fixed = 0.0, give.volts * port.share * half
    if give.winding_ohm:
        open_circuit = give.volts_per_hz * (give.into_ohm + give.winding_ohm) / give.into_ohm
        per_hz = open_circuit * port.per_amp / (port.ohm + give.winding_ohm)
    if give.needs_pull_up:
        fixed = _pulled(give, port, counter.threshold_v if counter else sheet.threshold_v)
    return Law(
        rate=give.rate,
        v_per_hz=per_hz,
        v_fixed=fixed,
        divider=counted_by(counter),
        first_threshold=counter.threshold_v if counter else sheet.threshold_v,
        first_max_hz=min(counter.max_hz if counter else math.inf, give.most * give.rate),
        second_level=counter.out_v * behind if counter else 0.0,
        second_threshold=sheet.threshold_v if counter else 0.0,
        device_max_hz=sheet.max_hz,
        # without a scale of its own the device takes the pulses as they come
        setting=setting_pulses(device, sheet)
        if sheet.numbers is not None
        else sheet.scale or give.rate / counted_by(counter),
        multi=give.sparks,
        multi_below=give.multi_below,
        alive=1.0,
        least=give.least,
    )

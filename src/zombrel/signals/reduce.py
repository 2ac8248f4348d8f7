"""Reduce a chain of the job to its law: the model of every rate source in one place.

References: rates as in ``calibrate.rates`` (Heywood ch. 1 for firings); a divider by n gives one
pulse for n, a multiplier n for one (definition of a counter's modulus).
"""

from __future__ import annotations

import math

import msgspec

from zombrel.calibrate import setting
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
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
from zombrel.job.sheet import DeviceSheet, InputSheet
from zombrel.job.source import BoxOutput, CoilTap, Source
from zombrel.signals.kinds import Emission, kind_of
from zombrel.signals.kinds.base import no_pulses
from zombrel.signals.law import Law, loaded

LOW_LEVEL = 0.4
"""What an open collector without a pull-up may still reach [V]."""


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


def counter_of(chain: Chain) -> Divider | Multiplier | None:
    """What counts pulses on the way, divider or multiplier, or None."""
    return next((h for h in chain.hops if isinstance(h, Divider | Multiplier)), None)


def counted_by(counter: Divider | Multiplier | None) -> float:
    """Pulses in for one pulse out.

    Result [ratio].
    """
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

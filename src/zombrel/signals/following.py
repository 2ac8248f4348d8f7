"""Outputs of devices follow their inputs: a tach output its pick-up, a ratio box what comes in.

An output that is made from an input has no signal without it, counts where that input counts, and
carries what the device makes of it, its setting included.

References: a ratio box gives out = in × setting (its definition); a circle shows when what a chain
is made from is followed back to itself (Cormen et al., *Introduction to Algorithms*, ch. 22).
"""

from __future__ import annotations

import msgspec

from zombrel.calibrate.settings.setting import value_of
from zombrel.job.facts import unset
from zombrel.job.follow.query import query
from zombrel.job.model import Device, Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import OutputSheet
from zombrel.job.source import BoxOutput, Source
from zombrel.job.stages import route
from zombrel.job.value import Value
from zombrel.signals import law as laws
from zombrel.signals.circuit.port import Port
from zombrel.signals.circuit.rest import at_most, of_chain
from zombrel.signals.kinds import Emission
from zombrel.signals.reduce import box_for, chains_to, emission, law

ROOM = 293.15
"""Air in which the level of a signal is worked out [K]; it hardly matters there."""


class Made(Value, frozen=True):
    """An output that is made from an input of its device."""

    device: str
    of: str
    """The input."""
    chain: str
    """The chain that feeds that input; empty: none does."""


def made_from(job: Job, source: Source) -> Made | None:
    """What a source is made from; None for one that stands by itself."""
    spec = source.spec
    if not isinstance(spec, BoxOutput):
        return None
    output = _output(job, spec)
    if output is None or not output.of:
        return None
    return Made(spec.device, output.of, chains_to(job).get((spec.device, output.of), ""))


def _output(job: Job, spec: BoxOutput) -> OutputSheet | None:
    device = by_id(job.devices, spec.device)
    return None if device is None else device.sheet.output(spec.pin)


@query
def circles(job: Job) -> tuple[str, ...]:
    """Chains that, followed back through the devices that feed them, come round to themselves."""
    sources, before = index(job.sources), dict[str, str]()
    for chain in job.chains:
        made = made_from(job, sources[chain.source])
        if made is not None and made.chain:
            before[chain.id] = made.chain
    found = []
    for start in before:
        at, met = start, {start}
        while at in before:
            at = before[at]
            if at == start:
                found.append(start)
            if at in met:
                break
            met.add(at)
    return tuple(found)


def given_by(job: Job, source: Source) -> Emission:
    """What a source gives in this job, what it is made from included.

    Raises:
        Problem: a fact is missing, a ratio has no signal to work on, or it goes round in a circle.
    """
    give = emission(source, job.vehicle, box_for(job, source))
    made = made_from(job, source)
    if made is None:
        return give
    if made.chain in circles(job):
        raise circle(source.name, made.chain)
    device = index(job.devices)[made.device]
    ratio = _ratio(job, source, device)
    if not made.chain:
        if ratio is None:
            return give
        raise Problem(
            f"{device.name} {made.of} has no signal yet, and {source.name} is made from it.",
            "missing",
            route("source"),
        )
    rate_law = law_of(job, made.chain)
    start, stop = laws.span(rate_law)
    rate = give.rate
    if ratio is not None:
        rate = rate_law.rate / rate_law.divider * ratio * source.trim
    return msgspec.structs.replace(give, rate=rate, least=start, most=stop)


def circle(name: str, chain: str) -> Problem:
    """The problem that a signal is made from itself."""
    return Problem(
        f"{name} goes round in a circle: what it is made from is made from it.",
        "wrong",
        route("source", chain),
    )


def law_of(job: Job, key: str) -> laws.Law:
    """The law of the rate chain ``key`` as it is joined; see ``reduce.law``."""
    chain = index(job.chains)[key]
    source, device = index(job.sources)[chain.source], index(job.devices)[chain.device]
    return law(chain, given_by(job, source), device, usual_port(job, key))


def usual_port(job: Job, key: str) -> Port:
    """What the source of the chain ``key`` sees with all awake, on a mild day."""
    return of_chain(job, key, at_most(job, ROOM))


def _ratio(job: Job, source: Source, device: Device) -> float | None:
    """What a ratio box multiplies by; None for an output that has no such setting."""
    spec = source.spec
    assert isinstance(spec, BoxOutput)  # the caller looked
    output = _output(job, spec)
    if output is None or not output.ratio:
        return None
    control = device.sheet.control(output.ratio)
    at = device.setting(output.ratio)
    if control is None or at is None:
        raise unset(device.name, output.ratio)
    value = value_of(control.setting, at)
    return value

"""Choices that are no numbers, from chain and vehicle: signal kind, gearbox, contact."""

from __future__ import annotations

from zombrel.behaviour.aim import Aim, told
from zombrel.calibrate.settings.setting import to_si, value_of
from zombrel.job.facts import lacking
from zombrel.job.ledger import provenance
from zombrel.job.model import Device, Job, Relay, index
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.sheet import Control
from zombrel.job.source import Switch
from zombrel.signals.following import given_by
from zombrel.signals.reduce import chains_to
from zombrel.signals.ways import shape_at


class NoPosition(Problem):
    """A choice that has no position for what this job has."""


def _stands_for(word: str, job: Job, device: Device, control: Control, why: Reason) -> Aim:
    """The position that stands for a word: a shape, a gearbox, a kind of contact."""
    at = next((name for name, said in control.stands_for if said == word), None)
    if at is None:
        has = ", ".join(said for _, said in control.stands_for) or "nothing"
        raise NoPosition(
            f"{device.name}: {control.label} has no position for {word}; it has {has}. "
            "Choose another source, or fit what turns it into one of these."
        )
    return Aim(value=to_si(control.setting.unit, value_of(control.setting, at)), why=lambda: why)


def signal(job: Job, device: Device, control: Control) -> Aim:
    """The shape of pulse that comes to the input."""
    chain = index(job.chains).get(chains_to(job).get((device.id, control.of), ""))
    if chain is None:
        raise Problem(f"{device.name} {control.of} has no signal yet.")
    source = index(job.sources)[chain.source]
    shape = shape_at(chain.hops, given_by(job, source).waveform)
    why = Reason(
        title=f"{device.name}, {control.label}",
        result=f"{shape.capitalize()} from {source.name}",
        formula="the shape that reaches the input, through what is fitted on the way",
        given=(told(source.name, shape),),
        source="two-wire sensors give a sine, three-wire and computer outputs square",
    )
    return _stands_for(shape, job, device, control, why)


def gearbox(job: Job, device: Device, control: Control) -> Aim:
    """Manual or automatic, as the vehicle has it."""
    box = job.vehicle.gearbox
    if box is None:
        raise lacking("gearbox")
    why = Reason(
        title=f"{device.name}, {control.label}",
        result=box.capitalize(),
        formula="as the vehicle has it",
        given=(told("gearbox", box, provenance(job, "vehicle.gearbox")),),
    )
    return _stands_for(box, job, device, control, why)


def contact(job: Job, device: Device, control: Control) -> Aim:
    """How the contact at an input rests: open or closed."""
    chain = index(job.chains).get(chains_to(job).get((device.id, control.of), ""))
    source = index(job.sources)[chain.source] if chain is not None else None
    if chain is None or source is None or not isinstance(source.spec, Switch):
        raise Problem(f"{device.name} {control.of} has no contact yet.")
    rests = source.spec.rests
    if any(isinstance(h, Relay) and h.throw == "rest" for h in chain.hops):
        rests = "open" if rests == "closed" else "closed"
    why = Reason(
        title=f"{device.name}, {control.label}",
        result=f"Rests {rests}",
        formula="how the contact rests, turned round by a relay's rest contact",
        given=(told(source.name, source.spec.rests),),
        source="circuit logic",
    )
    return _stands_for(rests, job, device, control, why)

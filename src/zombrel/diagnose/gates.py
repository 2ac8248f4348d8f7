"""What stays shut until what holds devices back is proven on what stands now.

Two locks: the engine, for every step in which it runs, and the road. A gate cannot be overruled;
it can be left with a written reason, which is printed, and then it stays shut.
"""

from __future__ import annotations

from zombrel.diagnose.rests import changed_since
from zombrel.diagnose.step import StepSheet
from zombrel.diagnose.steps import gates, latest, standing
from zombrel.harness.laid import laid
from zombrel.harness.nets import bare_pins
from zombrel.job.follow.query import query
from zombrel.job.model import Device, Job
from zombrel.job.stages import STAGE_NAMES, Stage

LOCKED = "Road tests stay locked until all that holds a device back is proven"
SHUT = "The engine stays off until all that holds a device back is proven"


@query
def unjoined(job: Job) -> str:
    """The first input that holds a device back and has no signal, in words; empty when none."""
    joined = {(c.device, c.pin) for c in job.chains}
    for device in _held(job):
        for given in device.sheet.inputs:
            must = device.sheet.gates(given) and (given.required or given.need_ohm)
            if must and (device.id, given.pin) not in joined:
                where = STAGE_NAMES["source"]
                return f"nothing is joined to {device.name} {given.pin} yet. Add it in {where}."
    return ""


@query
def _bare(job: Job) -> str:
    """The first supply or ground pin of a device that is held back that no wire serves, in words.

    With none, what holds the device back may show its volts and do nothing.
    """
    lies = laid(job)
    for device in _held(job):
        for pin in bare_pins(lies, device.id):
            where = STAGE_NAMES["wire"]
            return f"no wire leads {device.name} {pin} to its supply yet. Draw it in {where}."
    return ""


def _held(job: Job) -> list[Device]:
    """The devices that something holds back."""
    return [d for d in job.devices if any(d.sheet.gates(given) for given in d.sheet.inputs)]


def opens_at(job: Job) -> Stage:
    """The stage where what locks the road can be mended."""
    return "source" if unjoined(job) else "wire" if _bare(job) else "prove"


def held_back(job: Job) -> tuple[str, ...]:
    """The names of the devices that something holds back."""
    return tuple([d.name for d in _held(job)])


@query
def engine_gate(job: Job) -> str:
    """Why no step with the engine running may begin; empty when it may.

    Only for what can be tried without the engine: its rows are tried with it.
    """
    return _locked(job, SHUT, running=False)


@query
def road_gate(job: Job) -> str:
    """Why road tests are locked; empty when they may begin.

    A device that moves throttle or idle locks them also while nothing is joined to an input
    that holds it back, or to its supply: no chain there is no step that could prove it.
    """
    return _locked(job, LOCKED, running=True)


def _locked(job: Job, lock: str, running: bool) -> str:
    bare = unjoined(job) or _bare(job)
    if bare:
        return f"{lock}: {bare}"
    for step in gates(job):
        if step.running and not running:
            continue
        state = standing(job, step)
        if step.blocked and state != "stale":
            return f"{lock}: “{step.short}” is blocked. {step.blocked}"
        if state != "passed":
            return f"{lock}: “{step.short}” {_said(job, step, state)}."
    return ""


def _said(job: Job, step: StepSheet, state: str) -> str:
    proof = latest(job, step)
    if state == "not reached":
        return f"was left out: {proof.note}" if proof is not None and proof.note else "was left out"
    if state == "stale" and proof is not None:
        return "was proven before this changed: " + "; ".join(changed_since(job, proof)[:2])
    return {"open": "has not been tried", "failed": "failed"}.get(state, state)


def shut(job: Job, step: StepSheet) -> str:
    """Why a step cannot be done now, or cannot pass; empty when it can."""
    return step.blocked or (engine_gate(job) if step.running else "")

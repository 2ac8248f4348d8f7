"""One change at a time on the road: made, what came of it, its way back."""

from __future__ import annotations

from zombrel.actions.notes import wish
from zombrel.actions.parts import free_name
from zombrel.actions.signals import put_setting
from zombrel.behaviour.aim import wish_id
from zombrel.behaviour.wanted import stands
from zombrel.calibrate.settings.setting import to_si
from zombrel.job.edits import Add, Edit, Put, together
from zombrel.job.model import Device, Job, index
from zombrel.job.problem import Problem
from zombrel.job.records.outing import Result, Trial


def untold(job: Job) -> Trial | None:
    """The change whose result nobody has said; None when all are told."""
    return next((t for t in reversed(job.trials) if not t.result), None)


def tried(job: Job, device: Device, pin: str, at: str, said: tuple[str, str], when: str) -> Edit:
    """A change made on the road: dial ``pin`` to ``at``, ``said`` being report and change.

    An empty ``pin`` is something without a dial, as a cable: it is only noted.

    Raises:
        Problem: what came of the change before it has not been said.
    """
    last = untold(job)
    if last is not None:
        raise Problem(f"One change at a time: first say what came of “{last.change}”.")
    value = {
        "id": free_name("T1", index(job.trials)),
        "device": device.id,
        "pin": pin,
        "was": device.setting(pin) or "" if pin else "",
        "now": at,
        "report": said[0],
        "change": said[1],
        "when": when,
    }
    made = Add(path="trials", value=value)
    return together(made, put_setting(device, pin, at)) if pin else made


def came(job: Job, result: Result) -> Edit | None:
    """What came of the last change; None where none waits for it.

    Better: where the dial stands is what is wanted of it from now on. No better: it goes back.
    """
    last = untold(job)
    if last is None:
        return None
    said = Put(path=f"trials.{last.id}.result", value=result)
    device = index(job.devices).get(last.device)
    control = device.sheet.control(last.pin) if device is not None else None
    if device is None or control is None:
        return said
    if result == "better":
        value = to_si(control.setting.unit, stands(device, control))
        note = f"better on the road, {last.when}"
        return together(said, wish(job, wish_id(device, control), value, note))
    return together(said, put_setting(device, last.pin, last.was)) if last.was else said


def name_of_trial(job: Job, trial: Trial) -> str:
    """A change as it is told: of what, what, and what came of it."""
    came = {"": "not driven since", "better": "better", "no better": "no better, put back"}
    device = index(job.devices).get(trial.device)
    of = device.name if device is not None else trial.device
    return f"{of}, {trial.report.lower()}: {trial.change} ({came[trial.result]})"

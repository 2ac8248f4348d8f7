"""Rules about whether a device fits this car: what it needs, for which years, which calibration."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.actions.parts import leave_out
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.job import facts
from zombrel.job.edits import Put
from zombrel.job.ledger import provenance
from zombrel.job.reason import Reason
from zombrel.job.sheet import Need


@rule("job", "survey", harm=91, minutes=30)
def does_not_fit(scene: Scene) -> Iterator[Finding]:
    """A device in a car that lacks what it rests on, or of another year than it is for."""
    for device in scene.job.devices:
        for need in device.sheet.needs:
            now = getattr(scene.job.vehicle, need.fact, None)
            if now is None or now == "" or met(need, now):
                continue
            path = f"vehicle.{need.fact}"
            label = facts.label_of(path)
            moves = f" It moves the {device.sheet.moves}." if device.sheet.moves else ""
            yield Finding(
                id=f"fits-{device.id}-{need.fact}",
                level="trouble",
                title=f"{device.name} does not fit this car: {label.lower()} is {now}",
                text=f"It wants {wanted(need)}. {need.why}{moves}",
                reason=Reason(
                    title=f"What {device.name} rests on",
                    result=f"{label}: {now}",
                    formula=wanted(need),
                    given=(given(label, str(now), provenance(scene.job, path)),),
                    source="device sheet",
                ),
                mends=(
                    Mend(
                        label="Leave the device out",
                        edit=leave_out(scene.raw, device),
                    ),
                    Mend(label="Check the fact", go=f"survey:{path}"),
                ),
                fact=path,
                about=(device.id,),
            )


def met(need: Need, now: object) -> bool:
    """Whether a fact stands as a device wants it."""
    if need.one_of:
        return str(now) in need.one_of
    if not isinstance(now, int | float):
        return True
    return (need.low is None or now >= need.low) and (need.high is None or now <= need.high)


def wanted(need: Need) -> str:
    """What a device wants of a fact, in words."""
    if need.one_of:
        return " or ".join(need.one_of)
    ends = [
        f"from {need.low:g}" if need.low is not None else "",
        f"to {need.high:g}" if need.high is not None else "",
    ]
    return " ".join(e for e in ends if e)


@rule("job", "set", harm=95, minutes=20)
def not_calibrated(scene: Scene) -> Iterator[Finding]:
    """Hardware was changed and the calibration for it is not loaded: the engine must not start."""
    for device in scene.job.devices:
        if not device.hardware or device.hardware == device.calibrated_for:
            continue
        loaded = device.calibrated_for or "nothing that anybody has noted"
        yield Finding(
            id=f"calibration-{device.id}",
            level="trouble",
            title=f"{device.name}: do not start the engine yet",
            text=f"It has {device.hardware} now, and the calibration that is loaded was made for "
            f"{loaded}. Load the new one first.",
            reason=Reason(
                title=f"Hardware and calibration of {device.name}",
                result="hardware changed, calibration not loaded",
                formula="the loaded calibration is for the hardware that is fitted",
                given=(
                    given(
                        "fitted",
                        device.hardware,
                        provenance(scene.job, f"devices.{device.id}.hardware"),
                    ),
                    given(
                        "calibration for",
                        loaded,
                        provenance(scene.job, f"devices.{device.id}.calibrated_for"),
                    ),
                ),
                source="rule of the trade; the device's manual",
            ),
            mends=(
                Mend(
                    label="The new calibration is loaded",
                    edit=Put(path=f"devices.{device.id}.calibrated_for", value=device.hardware),
                ),
            ),
            about=(device.id,),
        )

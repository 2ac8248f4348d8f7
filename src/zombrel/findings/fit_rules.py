"""Rules about whether a device fits this car: what it needs, for which years, which calibration."""

from __future__ import annotations

import math
from collections.abc import Iterator

from zombrel.actions.parts import leave_out
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.job import facts
from zombrel.job.edits import Put
from zombrel.job.ledger import provenance
from zombrel.job.model import index
from zombrel.job.reason import Reason
from zombrel.job.sheet import DeviceSheet, Need
from zombrel.job.wiring import Zone
from zombrel.units import ZERO_C
from zombrel.units.measure import delta_token, token


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


AIR_K = 38 + ZERO_C
"""Outside air on the day of “Hot hill” [K]."""


@rule("job", "wire", harm=57, minutes=30)
def place_does_not_suit(scene: Scene) -> Iterator[Finding]:
    """A device where it gets hotter or wetter than its sheet allows."""
    zones = index(scene.job.zones)
    for device in scene.job.devices:
        zone = zones.get(device.zone)
        if zone is None:
            continue
        why = unsuited(device.sheet, zone)
        if not why:
            continue
        better = [z for z in scene.job.zones if _good(device.sheet, z)]
        better.sort(key=lambda z: math.hypot(z.x_m - zone.x_m, z.y_m - zone.y_m))
        move = [
            Mend(
                label=f"Put it in {z.name.lower()}",
                edit=Put(path=f"devices.{device.id}.zone", value=z.id),
            )
            for z in better[:1]
        ]
        yield Finding(
            id=f"place-{device.id}",
            level="trouble",
            title=f"{device.name} does not suit its place: {zone.name.lower()}",
            text=f"{why} What it is wired to stays; the runs change with its place.",
            reason=Reason(
                title=f"{device.name} in {zone.name}",
                result=why,
                formula="air there = outside air + what the zone is above it; water by the zone",
                given=(
                    given("outside air", token("temperature", AIR_K), "assumed"),
                    given("zone above it", delta_token("temperature", zone.over_ambient_k)),
                    given("case", device.sheet.sealing or "not said", "device sheet"),
                ),
                source="device sheet; the plan",
            ),
            mends=(*move, Mend(label="Show the plan", go=f"wire:plan/{device.id}")),
            about=(device.id,),
        )


def unsuited(sheet: DeviceSheet, zone: Zone) -> str:
    """Why a device may not lie in a zone, in words; empty where it may."""
    hot = AIR_K + zone.over_ambient_k
    said = []
    if sheet.hottest_k and hot > sheet.hottest_k:
        allowed = token("temperature", sheet.hottest_k)
        said.append(f"It gets {token('temperature', hot)} there and stands {allowed}.")
    if zone.wet and sheet.sealing == "dry":
        said.append("It gets wet there and its case is for dry places.")
    return " ".join(said)


def _good(sheet: DeviceSheet, zone: Zone) -> bool:
    return not (unsuited(sheet, zone) or zone.airbag or zone.moving)


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

"""Parts of the fitting: what fixes devices, hoses with what joins them, adapters of senders."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.harness.plugs.change_base import Part
from zombrel.job.model import Device, Job
from zombrel.job.records.fitting import Hose
from zombrel.units import ZERO_C
from zombrel.units.measure import short_of

SCREWS = 4
"""Screws of a device, where its sheet does not say: ASSUMED."""
COOL_K = 20 + ZERO_C


def fitting_parts(job: Job, waste: float) -> list[Part]:
    """All of it, for a job as it lies; hoses are bought ``waste`` times their length [1].

    Numbers of screws are ASSUMED where no sheet says them.
    """
    found: list[Part] = []
    if any(d.mount.how for d in job.devices):
        for device in job.devices:
            found += _fixed(device)
    for hose in job.hoses:
        found += _hose(job, hose, waste)
    used = {c.source for c in job.chains}
    if any(s.adapter for s in job.sources):
        # few jobs have one
        from zombrel.harness.fitting import threads

        for source in job.sources:
            if source.adapter and source.id in used and source.thread and source.port:
                name = threads.fit(source.thread, source.port).adapter
                found += [Part(kind="adapter", name=name)] if name else []
    return found


def _fixed(device: Device) -> Iterator[Part]:
    mount = device.mount
    if mount.how == "bracket":
        yield Part(kind="fixing", name=f"bracket for {device.name}")
    elif mount.how == "hook-and-loop":
        longest = max(device.sheet.long_m, device.sheet.wide_m, device.sheet.high_m)
        yield Part(kind="fixing", name="hook-and-loop tape", count=longest or 0.1, unit="m")
    elif mount.how == "screws":
        from zombrel.harness.fitting.mounting import fixing

        length = mount.screw_m or fixing(device.sheet, mount, None, COOL_K).length_m
        long = f" × {short_of(length)}" if length else ", length to be measured"
        name = f"screw {mount.screw}{long}, nut and washer"
        yield Part(kind="fixing", name=name, count=SCREWS)


def _hose(job: Job, hose: Hose, waste: float) -> Iterator[Part]:
    from zombrel.harness.fitting.hoses import plan

    p = plan(job, hose)
    grade = hose.grade or p.grade or f"for {hose.medium}"
    bore = f"{short_of(hose.bore_m)} " if hose.bore_m else ""
    length = p.length_m * waste
    yield Part(
        kind="hose", name=f"hose {bore}{grade}", count=length or 1, unit="m" if length else ""
    )
    for joint in p.joints:
        yield Part(kind="adapter", name=joint)

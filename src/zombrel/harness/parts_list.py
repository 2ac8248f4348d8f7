"""Everything to buy or lay out for the wiring of a job: wire, loom, terminals, fuses, clips."""

from __future__ import annotations

import math

from zombrel.harness import joint
from zombrel.harness.fitting.lay_out import fitting_parts
from zombrel.harness.laid import bundles
from zombrel.harness.plugs import changes
from zombrel.harness.plugs.change_base import Part
from zombrel.harness.plugs.changes import together
from zombrel.job.model import Job, by_id
from zombrel.job.wiring import End, Wire
from zombrel.units.measure import area_of, short_of

ORDER = (
    "device",
    "bought",
    "fixing",
    "hose",
    "adapter",
    "wire",
    "fuse",
    "terminal",
    "connector",
    "joint",
    "loom",
)
"""Kinds of part, as they are listed."""
WASTE = 1.1
"""Wire is bought a tenth longer than it is cut: ends, tests, one mistake."""


def parts_list(job: Job) -> tuple[Part, ...]:
    """All parts of the laid job, like ones together."""
    found: list[Part] = []
    for wire in job.wires:
        found += _of_wire(job, wire)
    for change in job.changes:
        found += changes.parts(job, change)
    for b in bundles(job):
        size = short_of(b.loom_mm / 1000) if b.loom_mm else f"for {short_of(b.diameter_mm / 1000)}"
        found.append(Part(kind="loom", name=f"split tube {size}", count=b.length_m, unit="m"))
        found.append(
            Part(kind="loom", name="clip or strap", count=math.ceil(b.length_m / job.house.clip_m))
        )
        if b.hole_mm:
            found.append(
                Part(kind="loom", name=f"grommet for a hole of {short_of(b.hole_mm / 1000)}")
            )
    for source in job.sources:
        if source.parts and any(c.source == source.id for c in job.chains):
            found.append(Part(kind="bought", name=f"{source.name}: {source.parts}"))
    found += [Part(kind="device", name=d.name) for d in job.devices if d.sheet.supplies]
    found += fitting_parts(job, WASTE)
    rank = {kind: i for i, kind in enumerate(ORDER)}
    return tuple(sorted(together(tuple(found)), key=lambda p: (rank.get(p.kind, 9), p.name)))


def _of_wire(job: Job, wire: Wire) -> list[Part]:
    found = [
        Part(
            kind="wire",
            name=f"{area_of(wire.area_mm2)} {wire.colour}",
            count=wire.length_m * WASTE,
            unit="m",
        ),
        Part(kind="loom", name="label, both ends", count=2),
    ]
    if wire.shielded:
        found.append(
            Part(kind="loom", name="screening braid and drain", count=wire.length_m, unit="m")
        )
    if wire.fuse_a is not None:
        found.append(Part(kind="fuse", name=f"blade fuse {wire.fuse_a:g} A"))
        found.append(Part(kind="fuse", name="in-line fuse holder"))
    for end in (wire.a, wire.b):
        found += _of_end(job, wire, end)
    return found


def end_joint(job: Job, wire: Wire, end: End) -> joint.Joint:
    """How one end of a wire is joined."""
    zone_id = next(
        (
            item.zone
            for item in (
                by_id(job.devices, end.place),
                by_id(job.connectors, end.place),
                by_id(job.studs, end.place),
                by_id(job.feeds, end.place),
                by_id(job.sources, end.place),
            )
            if item is not None
        ),
        "",
    )
    zone = by_id(job.zones, zone_id)
    if by_id(job.studs, end.place) is not None:
        return joint.choose("stud", zone, job.house, wire.area_mm2)
    if by_id(job.devices, end.place) is not None:
        return joint.choose("pin", zone, job.house, wire.area_mm2)
    feed = by_id(job.feeds, end.place)
    if feed is not None:
        into = "stud" if feed.kind == "battery" else "pin"
        return joint.choose(into, zone, job.house, wire.area_mm2)  # type: ignore[arg-type]
    change = next((c for c in job.changes if c.wire == wire.id and c.connector == end.place), None)
    if change is not None and change.kind != "tap":
        return joint.choose("cavity", zone, job.house, wire.area_mm2)
    return joint.choose("wire", zone, job.house, wire.area_mm2, wire.carries == "signal")


def _of_end(job: Job, wire: Wire, end: End) -> list[Part]:
    if any(c.wire == wire.id and c.connector == end.place for c in job.changes):
        return []  # counted with the change
    how = end_joint(job, wire, end)
    if how.method == "ring":
        return [Part(kind="terminal", name=f"ring terminal, {area_of(wire.area_mm2)}")]
    if how.method == "terminal":
        feed = by_id(job.feeds, end.place)
        what = "fuse-tap lead" if feed is not None else "terminal of the device's plug"
        return [Part(kind="terminal", name=f"{what}, {area_of(wire.area_mm2)}")]
    if how.method == "never":
        return []
    return [Part(kind="joint", name=f"{how.words}, {area_of(wire.area_mm2)}")]

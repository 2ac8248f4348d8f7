"""What came up on a job, noted as it is mended: the next job asks what comes back."""

from __future__ import annotations

import msgspec

from zombrel.findings.finding import Finding
from zombrel.job.edits import Add, Edit, together
from zombrel.job.model import Device, Job, index
from zombrel.job.records.lesson import Met

MOST = 500
"""A job notes no more than so many."""
TOLD = ("trouble", "watch")


def device_of(job: Job, finding: Finding) -> Device | None:
    """The device that a finding is about: of its signal, its wire, or named by it."""
    devices, chains = index(job.devices), index(job.chains)
    if finding.chain in chains:
        return devices.get(chains[finding.chain].device)
    wires = index(job.wires)
    ends = [wires[finding.wire].a, wires[finding.wire].b] if finding.wire in wires else []
    named = [e.place for e in ends] + [a.partition(".")[0] for a in finding.about]
    return next((devices[x] for x in named if x in devices), None)


def met_of(job: Job, finding: Finding, when: str = "") -> Met:
    """A finding as it is remembered."""
    device = device_of(job, finding)
    return Met(
        id=finding.id[:80],
        code=finding.rule or finding.id[:80],
        title=finding.title[:600],
        device=device.sheet.id if device is not None else "",
        when=when,
    )


def mended(job: Job, finding: Finding, edit: Edit, when: str = "") -> Edit:
    """The ``edit`` that mends a finding, with a note that it came up."""
    if finding.level not in TOLD or finding.id[:80] in index(job.met) or len(job.met) >= MOST:
        return edit
    note = Add(path="met", value=msgspec.to_builtins(met_of(job, finding, when)))
    return together(edit, note)

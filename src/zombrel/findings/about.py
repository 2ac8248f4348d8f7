"""What a finding is about: the names of wires, devices, pins, signals and facts it concerns."""

from __future__ import annotations

from zombrel.findings.finding import Finding
from zombrel.job.model import Job, by_id


def about(job: Job, finding: Finding) -> tuple[str, ...]:
    """Ids, the nearest first; pins and cavities as ``place.pin``, facts by their path."""
    found = list(finding.about)
    chain = by_id(job.chains, finding.chain)
    if chain is not None:
        found += [chain.id, f"{chain.device}.{chain.pin}", chain.device, chain.source]
    wire = by_id(job.wires, finding.wire)
    if wire is not None:
        found.append(wire.id)
        for end in (wire.a, wire.b):
            found += [f"{end.place}.{end.pin}", end.place] if end.pin else [end.place]
    if finding.fact:
        found.append(finding.fact)
    return tuple(dict.fromkeys(found))

"""What stays shut: by what is not proven, and by open trouble about an input that holds back."""

from __future__ import annotations

from collections.abc import Iterable

from zombrel.diagnose.gates import LOCKED, SHUT, engine_gate, opens_at, road_gate
from zombrel.findings.about import about
from zombrel.findings.finding import Finding
from zombrel.job.model import Job, index
from zombrel.job.sheet import Frozen
from zombrel.job.stages import Stage


class Locks(Frozen, frozen=True, kw_only=True):
    """Why the engine and the road stay shut; empty where they may begin."""

    engine: str = ""
    road: str = ""
    opens: Stage = "prove"
    """The stage where the first of it is mended."""


def locks(job: Job, findings: Iterable[Finding]) -> Locks:
    """What is shut now, and where it opens."""
    road = road_gate(job)
    trouble = _trouble(job, findings)
    if trouble is None:
        return Locks(engine=engine_gate(job), road=road, opens=opens_at(job))
    said = f"{trouble.title} is not settled."
    engine = engine_gate(job) or f"{SHUT}: {said}"
    opens = opens_at(job) if road else trouble.stage
    return Locks(engine=engine, road=road or f"{LOCKED}: {said}", opens=opens)


def _trouble(job: Job, findings: Iterable[Finding]) -> Finding | None:
    """The first open trouble about a signal that holds a device back."""
    devices = index(job.devices)
    ours: set[str] = set()
    for chain in job.chains:
        sheet = devices[chain.device].sheet
        given = sheet.input(chain.pin)
        if given is not None and sheet.gates(given):
            ours |= {chain.id, f"{chain.device}.{chain.pin}", *chain.wires}
    if not ours:
        return None
    for finding in findings:
        if finding.level == "trouble" and not ours.isdisjoint(about(job, finding)):
            return finding
    return None

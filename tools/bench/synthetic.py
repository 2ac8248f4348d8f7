"""A synthetic job of any size, for measuring."""

from __future__ import annotations

from collections import Counter

import msgspec

from zombrel.behaviour.suppose import named
from zombrel.catalog import DEMO
from zombrel.findings.assess import assess
from zombrel.job.edits import apply
from zombrel.job.model import Chain, Job
from zombrel.job.source import BoxOutput, Source
from zombrel.job.wiring import End
from zombrel.store.zjob import load


def big_job(chains: int = 200, wires: int = 500) -> Job:
    """The demo job's parts repeated to the asked size, every fourth with its troubles left in."""
    demo, whole = load(DEMO / "0412.zjob"), mended()
    groups = max(-(-chains // len(demo.chains)), -(-wires // len(demo.wires)))
    parts = [_group(demo if i % 4 == 0 else whole, i) for i in range(groups)]
    out_chains = [c for p in parts for c in _by_device(p)][:chains]
    fed = {c.device for c in out_chains}
    used_by = {s.id: s.spec for p in parts for s in p.sources}
    gives = [used_by[c.source] for c in out_chains]
    fed |= {spec.device for spec in gives if isinstance(spec, BoxOutput)}
    out_wires = [w for p in parts for w in p.wires]
    used = {w for c in out_chains for w in c.wires}
    spare = [w for w in out_wires if w.id not in used]
    out_wires = [w for w in out_wires if w.id in used]
    out_wires += spare[: wires - len(out_wires)]
    return msgspec.structs.replace(
        demo,
        devices=tuple([d for p in parts for d in p.devices if d.id in fed]),
        sources=tuple([s for p in parts for s in p.sources if _given(s, fed)]),
        studs=tuple([s for p in parts for s in p.studs]),
        connectors=tuple([c for p in parts for c in p.connectors]),
        changes=tuple([c for p in parts for c in p.changes]),
        chains=tuple(out_chains),
        wires=tuple(out_wires),
    )


def _by_device(part: Job) -> list[Chain]:
    """Chains a device at a time, small ones first, so that no device of the last copy is cut."""
    count = Counter(c.device for c in part.chains)
    return sorted(part.chains, key=lambda c: (count[c.device], c.device))


def _given(source: Source, devices: set[str]) -> bool:
    """A source of the vehicle, or an output of a device that is there."""
    return not isinstance(source.spec, BoxOutput) or source.spec.device in devices


OWN = 15
"""So many copies have sources of their own; more than a job may hold would be too many."""


def _group(part: Job, i: int) -> Job:
    """One copy of a job's parts under names of its own; only the feeds stay shared."""
    replace = msgspec.structs.replace
    own = {d.id: i for d in part.devices} | {s.id: i % OWN for s in part.sources}
    own |= {s.id: i for s in part.studs} | {c.id: i for c in part.connectors}

    def end(e: End) -> End:
        return End(place=f"{e.place}{own[e.place]}", pin=e.pin) if e.place in own else e

    return replace(
        part,
        devices=tuple([replace(d, id=f"{d.id}{i}") for d in part.devices]),
        sources=tuple([_source(s, i) for s in part.sources if i < OWN]),
        studs=tuple([replace(s, id=f"{s.id}{i}") for s in part.studs]),
        connectors=tuple([replace(c, id=f"{c.id}{i}") for c in part.connectors]),
        changes=tuple(
            [
                replace(c, id=f"{c.id}-{i}", connector=f"{c.connector}{i}", wire=f"{c.wire}-{i}")
                for c in part.changes
            ]
        ),
        chains=tuple(
            [
                replace(
                    c,
                    id=f"{c.id}{i}",
                    source=f"{c.source}{i % OWN}",
                    device=f"{c.device}{i}",
                    wires=tuple([f"{w}-{i}" for w in c.wires]),
                )
                for c in part.chains
            ]
        ),
        wires=tuple(
            [
                replace(w, id=f"{w.id}-{i}", a=end(w.a), b=end(w.b), length_m=w.length_m + i * 0.01)
                for w in part.wires
            ]
        ),
    )


def _source(source: Source, i: int) -> Source:
    spec = source.spec
    if isinstance(spec, BoxOutput):
        spec = msgspec.structs.replace(spec, device=f"{spec.device}{i}")
    return msgspec.structs.replace(source, id=f"{source.id}{i}", spec=spec)


def mended() -> Job:
    """The demo job with every finding settled by the first edit it offers."""
    job = load(DEMO / "0412.zjob")
    for _ in range(40):
        found = assess(job, named(job.vehicle)[4][1]).findings
        edit = next((m.edit for f in found for m in f.mends if m.edit is not None), None)
        if edit is None:
            break
        job = apply(job, edit)
    return job

"""A synthetic job of any size, for measuring."""

from __future__ import annotations

import msgspec

from zombrel.behaviour.suppose import named
from zombrel.catalog import DEMO
from zombrel.findings.assess import assess
from zombrel.job.edits import apply
from zombrel.job.model import Chain, Device, Job
from zombrel.job.source import BoxOutput
from zombrel.job.wiring import End, Wire
from zombrel.store.zjob import load


def big_job(chains: int = 200, wires: int = 500) -> Job:
    """The demo job's parts repeated to the asked size, every fourth with its troubles left in."""
    demo, whole = load(DEMO / "0412.zjob"), mended()
    devices: list[Device] = []
    out_chains: list[Chain] = []
    out_wires: list[Wire] = []
    groups = max(-(-chains // len(demo.chains)), -(-wires // len(demo.wires)))
    for i in range(groups):
        part = demo if i % 4 == 0 else whole
        devices += [msgspec.structs.replace(d, id=f"{d.id}{i}") for d in part.devices]
        for c in part.chains:
            out_chains.append(
                msgspec.structs.replace(
                    c,
                    id=f"{c.id}{i}",
                    device=f"{c.device}{i}",
                    wires=tuple(f"{w}-{i}" for w in c.wires),
                )
            )
        for w in part.wires:
            out_wires.append(_wire(w, i, {d.id for d in demo.devices}))
    out_chains = out_chains[:chains]
    used = {w for c in out_chains for w in c.wires}
    spare = [w for w in out_wires if w.id not in used]
    out_wires = [w for w in out_wires if w.id in used]
    out_wires += spare[: wires - len(out_wires)]
    return msgspec.structs.replace(
        demo,
        devices=tuple(devices),
        sources=tuple(
            msgspec.structs.replace(
                s, spec=msgspec.structs.replace(s.spec, device=f"{s.spec.device}0")
            )
            if isinstance(s.spec, BoxOutput)
            else s
            for s in demo.sources
        ),
        chains=tuple(out_chains),
        wires=tuple(out_wires),
    )


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


def _wire(wire: Wire, i: int, devices: set[str]) -> Wire:
    def end(e: End) -> End:
        return End(place=f"{e.place}{i}", pin=e.pin) if e.place in devices else e

    return msgspec.structs.replace(
        wire, id=f"{wire.id}-{i}", a=end(wire.a), b=end(wire.b), length_m=wire.length_m + i * 0.01
    )

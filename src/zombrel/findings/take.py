"""Edits that take a candidate of the source finder for a chain."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from zombrel.actions.signals import put_setting
from zombrel.findings.finding import Mend
from zombrel.harness import route
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.model import Chain, Job, by_id
from zombrel.job.source import BoxOutput, Satellite
from zombrel.signals.finder import Candidate, candidates
from zombrel.signals.reduce import input_of
from zombrel.signals.ways import FITTED


def take(job: Job, chain: Chain, chosen: Candidate) -> Edit:
    """Source, conditioning and setting of ``chosen`` for ``chain``, as one edit.

    Taking another than the finder's first is recorded on the chain with what it was
    taken over; taking the first clears that.
    """
    device, sheet = input_of(job, chain)
    first = candidates(job, device, sheet)[0]
    over = "" if first.source == chosen.source else f"{first.name} (score {first.score:.0f})"
    edits: list[Put | Add | Remove] = [
        Put(path=f"chains.{chain.id}.source", value=chosen.source),
        Put(path=f"chains.{chain.id}.hops", value=msgspec.to_builtins(chosen.hops)),
        Put(path=f"chains.{chain.id}.over", value=over),
    ]
    if chosen.setting:
        edits.append(put_setting(device, chain.pin, chosen.setting, chosen.table))
    old, new = by_id(job.sources, chain.source), by_id(job.sources, chosen.source)
    wire = by_id(job.wires, chain.wires[0]) if chain.wires else None
    if wire is not None and old is not None and new is not None and old.id != new.id:
        spec = new.spec
        place, pin = (spec.device, spec.pin) if isinstance(spec, BoxOutput) else (new.id, "")
        for side, end in (("a", wire.a), ("b", wire.b)):
            if end.place == old.id or _is_output(old.spec, end.place, end.pin):
                edits += route.joined_at(job, wire, side, place, pin)
    return together(*edits)


def _is_output(spec: object, place: str, pin: str) -> bool:
    return isinstance(spec, BoxOutput) and (spec.device, spec.pin) == (place, pin)


def best_mend(job: Job, chain: Chain) -> tuple[Mend, ...]:
    """Take the finder's best, when it is another source than this."""
    other = Mend(label="Other sources", go=f"source:{chain.id}")
    device = by_id(job.devices, chain.device)
    sheet = device.sheet.input(chain.pin) if device else None
    if device is None or sheet is None:
        return (other,)
    ranked = [c for c in candidates(job, device, sheet) if c.possible]
    if not ranked or ranked[0].source == chain.source:
        return (other,)
    return (Mend(label=f"Use {ranked[0].name}", edit=take(job, chain, ranked[0])), other)


def conditioned(
    job: Job,
    chain: Chain,
    serves: Callable[[Chain, Candidate], bool] | None = None,
) -> tuple[Mend, ...]:
    """What makes a source fit its input, or another that does; the finder's best first.

    Only what ``serves`` is offered as an edit: without it, what satisfies all the finder asks.
    """
    other = Mend(label="Other sources", go=f"source:{chain.id}")
    device = by_id(job.devices, chain.device)
    sheet = device.sheet.input(chain.pin) if device else None
    if device is None or sheet is None:
        return (other,)
    lags = [s.id for s in job.sources if isinstance(s.spec, Satellite)] if sheet.steady else []
    able = [c for c in candidates(job, device, sheet) if c.possible and c.source not in lags]
    good = [c for c in able if (not c.faults if serves is None else serves(chain, c))]
    good.sort(key=lambda c: (c.source != chain.source, len(c.faults)))
    mends = []
    for c in good:
        if c.source != chain.source:
            mends.append(Mend(label=f"Use {c.name}", edit=take(job, chain, c)))
        elif c.conditioning:
            # only what is fitted on its way is another: nobody has chosen anew
            kept = Put(path=f"chains.{chain.id}.over", value=chain.over)
            label = f"Fit {' and '.join(FITTED[type(h)] for h in c.hops)}"
            mends.append(Mend(label=label, edit=together(take(job, chain, c), kept)))
    return (*mends[:2], other)

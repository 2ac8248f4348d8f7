"""Begin a chain for an input that has none."""

from __future__ import annotations

from zombrel.job.model import Chain, Device, Job, index
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import InputSheet
from zombrel.job.wiring import Wire
from zombrel.signals.finder import Candidate, candidates


def best_chain(job: Job, device: Device, sheet: InputSheet) -> Chain | None:
    """A chain from the best source the vehicle offers; None when it offers none."""
    best = next((c for c in candidates(job, device, sheet) if c.possible), None)
    return None if best is None else chain_from(job, device, sheet, best)


def chain_from(job: Job, device: Device, sheet: InputSheet, chosen: Candidate) -> Chain:
    """A chain from a candidate that the finder weighed, with the wires that are drawn for it."""
    ours = [w for w in job.wires if device.id in (w.a.place, w.b.place)]
    drawn = [w.id for w in ours if _ends_at(w, device.id, sheet.pin)]
    back = [w.id for w in ours if _ends_at(w, device.id, f"{sheet.pin}-")] if drawn else []
    return Chain(
        id=_free_id(job, f"{sheet.quantity.replace(' ', '-')}-{device.id}"),
        title=QUANTITIES[sheet.quantity].title,
        quantity=sheet.quantity,
        source=chosen.source,
        hops=chosen.hops,
        device=device.id,
        pin=sheet.pin,
        wires=(*drawn[:1], *back[:1]),
    )


def _ends_at(wire: Wire, device: str, pin: str) -> bool:
    return (device, pin) in ((wire.a.place, wire.a.pin), (wire.b.place, wire.b.pin))


def _free_id(job: Job, wanted: str) -> str:
    taken = index(job.chains)
    name, n = wanted, 2
    while name in taken:
        name, n = f"{wanted}-{n}", n + 1
    return name

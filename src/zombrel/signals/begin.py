"""Begin a chain for an input that has none."""

from __future__ import annotations

from zombrel.job.model import Chain, Device, Job
from zombrel.job.sheet import InputSheet
from zombrel.signals.alternatives import alternatives

TITLES = {"speed": "Road speed", "tach": "Engine speed", "brake": "Brake"}


def best_chain(job: Job, device: Device, sheet: InputSheet) -> Chain | None:
    """A chain from the best source the vehicle offers; None when it offers none."""
    first = next((s for s in job.sources if s.quantity == sheet.quantity), None)
    if first is None:
        return None
    chain = Chain(
        id=_free_id(job, f"{sheet.quantity}-{device.id}"),
        title=TITLES[sheet.quantity],
        quantity=sheet.quantity,
        source=first.id,
        device=device.id,
        pin=sheet.pin,
    )
    ranked = [a for a in alternatives(job, chain) if a.possible]
    if not ranked:
        return chain
    return Chain(
        id=chain.id,
        title=chain.title,
        quantity=chain.quantity,
        source=ranked[0].source,
        device=chain.device,
        pin=chain.pin,
    )


def _free_id(job: Job, wanted: str) -> str:
    taken = {c.id for c in job.chains}
    name, n = wanted, 2
    while name in taken:
        name, n = f"{wanted}-{n}", n + 1
    return name

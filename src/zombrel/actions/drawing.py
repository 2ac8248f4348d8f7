"""Draw what is missing, and say what was drawn, what was not, and what would mend it."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.harness.missing import draw, further_end, missing
from zombrel.harness.nets import joined_ends
from zombrel.job.edits import Edit
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Device, Job, by_id
from zombrel.job.sheet import SupplySheet
from zombrel.job.value import Value
from zombrel.job.wiring import Wire
from zombrel.signals.kinds import kind_of


class NotDrawn(Value, frozen=True):
    """A pin that could not be joined."""

    what: str
    why: str
    mend: str
    """What is done about it, on a button."""
    where: str


class Drawing(Value, frozen=True):
    """What one press of the button does."""

    edit: Edit | None
    drawn: tuple[Wire, ...]
    guessed: frozenset[str]
    """Of these the ones whose length the plan does not give."""
    placed: frozenset[str]
    """Those on the plan between ends that were only put where such things usually are."""
    not_drawn: tuple[NotDrawn, ...]


def draw_all(job: Job) -> Drawing:
    """Every wire that can be drawn now, and why the rest cannot."""
    drawn = missing(job)
    joined = joined_ends(job) | {(e.place, e.pin) for w in drawn for e in (w.a, w.b)}
    left = [
        _why_not(job, device, supply)
        for device in job.devices
        for supply in device.sheet.supplies
        if (device.id, supply.pin) not in joined
    ]
    have = {(c.device, c.pin) for c in job.chains}
    left += [
        NotDrawn(
            f"{device.name} {sheet.pin}",
            "no signal leads there yet",
            "Choose its source",
            "source",
        )
        for device in job.devices
        for sheet in device.sheet.inputs
        if sheet.required and (device.id, sheet.pin) not in have
    ]
    for chain in job.chains:
        left += _senders(job, chain, {w.a.place for w in drawn} | {w.b.place for w in drawn})
    guessed = frozenset(w.id for w in drawn if not w.via)
    unsure = {
        thing.id
        for kind, things in (("devices", job.devices), ("sources", job.sources))
        for thing in things
        if provenance(job, f"{kind}.{thing.id}.zone") == "hearsay"
    }
    placed = frozenset(
        w.id for w in drawn if w.via and not unsure.isdisjoint((w.a.place, w.b.place))
    )
    return Drawing(draw(job), drawn, guessed, placed, tuple(left))


def _senders(job: Job, chain: Chain, fresh: set[str]) -> Iterator[NotDrawn]:
    """Wires that a sender drawn now needs and that have nowhere to go."""
    source = by_id(job.sources, chain.source)
    device = by_id(job.devices, chain.device)
    if source is None or device is None or source.id not in fresh:
        return
    for role in kind_of(source.spec).more_wires(source.spec):
        if further_end(job, chain, role) is None:
            what = f"{source.name}, its {role}"
            if role == "supply":
                yield NotDrawn(what, "no feed noted is run", "Add a feed that is run", "wire:power")
                continue
            pin = "ground" if role == "return" else "supply for senders"
            why = f"the sheet of {device.name} names no {pin}"
            yield NotDrawn(what, why, "Say it on its sheet", f"shelf:device/{device.sheet.id}")


def _why_not(job: Job, device: Device, supply: SupplySheet) -> NotDrawn:
    what = f"{device.name} {supply.pin}"
    if supply.kind == "ground":
        return NotDrawn(what, "the job has no ground point", "Add a ground point", "wire:power")
    wants = " or ".join(supply.feeds) or "any"
    why = f"no feed noted is {wants}" if job.feeds else "the job has no feed"
    return NotDrawn(what, why, f"Add a feed that is {wants}", "wire:power")

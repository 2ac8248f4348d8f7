"""What is done about the fitting: how a device is fixed, hoses, and what the kit holds."""

from __future__ import annotations

import msgspec

from zombrel.actions.parts import free_name
from zombrel.harness.fitting.hoses import zones_of
from zombrel.harness.fitting.kit import KitRow, kit_rows
from zombrel.harness.laid import laid
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.model import Device, Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.records.fitting import Have, Hose, Medium, Mounting


def put_mounting(device: Device, mount: Mounting) -> Edit:
    """How a device is fixed."""
    return Put(path=f"devices.{device.id}.mount", value=msgspec.to_builtins(mount))


def add_hose(job: Job, medium: Medium, name: str = "") -> tuple[str, Edit]:
    """A hose that leads nowhere yet: its id, and the edit."""
    key = free_name(f"H{len(job.hoses) + 1}", index(job.hoses))
    hose = Hose(id=key, name=name.strip() or f"{medium.capitalize()} hose {key}", medium=medium)
    return key, Add(path="hoses", value=msgspec.to_builtins(hose))


def put_hose(job: Job, hose: Hose) -> Edit:
    """A hose as it is now, under its id.

    Raises:
        Problem: the job has no such hose, or an end is no place of it.
    """
    old = by_id(job.hoses, hose.id)
    if old is None:
        raise Problem(f"This job has no hose “{hose.id}”.")
    known = ends(job)
    for end in (hose.a, hose.b):
        if end and end not in known:
            raise Problem(f"{hose.name}: there is no “{end}” that it could lead to.")
    if (old.a, old.b) != (hose.a, hose.b):
        hose = msgspec.structs.replace(hose, via=())  # its way led to somewhere else
    return Put(path=f"hoses.{hose.id}", value=msgspec.to_builtins(hose))


def remove_hose(hose: Hose) -> Edit:
    """A hose taken out of the job."""
    return Remove(path=f"hoses.{hose.id}")


def ends(job: Job) -> dict[str, str]:
    """What a hose can lead from and to: id -> words, devices and senders first."""
    found = {d.id: d.name for d in job.devices}
    used = {c.source for c in job.chains}
    found |= {s.id: s.name for s in job.sources if s.id in used}
    found |= {z.id: z.name for z in job.zones}
    return {key: words for key, words in found.items() if key in zones_of(job) or not job.zones}


def tick(job: Job, row: KitRow, count: float) -> Edit:
    """So much of a part lies in the kit [pieces or m].

    Raises:
        Problem: less than nothing.
    """
    if count < 0:
        raise Problem(f"{row.name}: a kit holds nothing or more, not {count:g}.")
    kept = [h for h in job.kit if h.id != row.id]
    kept += [Have(id=row.id, count=count)]
    return Put(path="kit", value=msgspec.to_builtins(kept))


def tick_all(job: Job) -> Edit:
    """Everything that the job needs lies in the kit."""
    old = {h.id: h for h in job.kit}
    for r in kit_rows(laid(job)):
        if r.missing > 0:
            old[r.id] = Have(id=r.id, count=r.needed)
    return Put(path="kit", value=msgspec.to_builtins(list(old.values())))


def empty_kit() -> Edit:
    """Nobody has looked into the kit."""
    return Put(path="kit", value=[])


def put_threads(source: str, thread: str, port: str) -> Edit:
    """Threads of a sender and of its hole; an adapter taken before no longer counts."""
    path = f"sources.{source}"
    return together(
        Put(path=f"{path}.thread", value=thread),
        Put(path=f"{path}.port", value=port),
        Put(path=f"{path}.adapter", value=False),
    )

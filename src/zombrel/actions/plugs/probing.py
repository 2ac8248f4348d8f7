"""What is done while a lead is probed: taken from a file or from one's own wires, answered."""

from __future__ import annotations

import msgspec

from zombrel.actions.parts import free_name
from zombrel.harness.plugs import lead
from zombrel.harness.plugs.outcomes import OWN, proven
from zombrel.job.edits import Add, Edit, Put, together
from zombrel.job.model import Job, by_id, index
from zombrel.job.wiring import End, Lead, LeadRow

ID_LONG, NAME_LONG = 40, 80
"""Longest id and name taken from a file's name."""


def take_back(patch: Lead) -> Edit:
    """The last answer of a probing taken back."""
    kept = msgspec.to_builtins(patch.answers[:-1])
    return Put(path=f"leads.{patch.id}.answers", value=kept)


def metered(job: Job, patch: Lead, seen: list[tuple[str, str]]) -> Edit:
    """Every answer of a lead from a list of what conducts."""
    done = lead.metered(patch, seen, job.connectors)
    put = Put(path=f"leads.{patch.id}.answers", value=msgspec.to_builtins(done.answers))
    if not lead.result(done, job.connectors).right:
        return put
    return together(put, *proven(job, done))


def own_wires(job: Job) -> Edit | None:
    """A lead of the job's own conductors as they are now; None when it is that already."""
    rows = [LeadRow(a=_pin(w.a), b=_pin(w.b), colour=w.colour, signal=w.id) for w in job.wires]
    patch = Lead(id=OWN, name="Our own wires", rows=tuple(rows), source="the wire list")
    patch = lead.with_faces(patch, job.connectors)
    old = by_id(job.leads, OWN)
    if old is None:
        return Add(path="leads", value=msgspec.to_builtins(patch))
    if old.rows == patch.rows:
        return None
    return Put(path=f"leads.{OWN}", value=msgspec.to_builtins(patch))


def _pin(end: End) -> str:
    return f"{end.place}.{end.pin}" if end.pin else end.place


def add_lead(job: Job, stem: str, source: str, pairs: list[tuple[str, str]]) -> tuple[str, Edit]:
    """A lead from pairs that a file gave, under a name that is free."""
    key = free_name(stem.replace(".", "-")[:ID_LONG] or "lead", index(job.leads))
    rows = tuple(LeadRow(a=a[:NAME_LONG], b=b[:NAME_LONG]) for a, b in pairs)
    patch = Lead(id=key, name=stem[:NAME_LONG], source=source, rows=rows)
    patch = lead.with_faces(patch, job.connectors)
    return key, Add(path="leads", value=msgspec.to_builtins(patch))

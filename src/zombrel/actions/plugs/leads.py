"""A remap lead: begun between plugs, its rows taken, joined by hand, or left unused."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from zombrel.actions.parts import free_name
from zombrel.harness.plugs import lead as leads
from zombrel.harness.plugs.build import inside, remap_of, ways_of
from zombrel.harness.plugs.remap import Joined, Way, conductors
from zombrel.job.edits import Add, Edit, Many, Put
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.wiring import Lead, LeadRow


def begin_remap(job: Job, old: Sequence[str], new: Sequence[str]) -> tuple[str, Edit]:
    """A lead from the plugs ``old`` to ``new``, without a conductor yet.

    Raises:
        Problem: one plug on both sides, or none on one.
    """
    if not old or not new or set(old) & set(new):
        raise Problem("A remap leads from one plug to another: choose two that are not the same.")
    at = index(job.connectors)
    for key in (*old, *new):
        if key not in at:
            raise Problem(f"There is no connector “{key}” in this job: add it in Wire, Connectors.")
    key = free_name(f"remap-{old[0]}", index(job.leads))
    name = f"Remap, {' and '.join(old)} to {' and '.join(new)}"
    lead = Lead(id=key, name=name, source="matched by function", old=tuple(old), new=tuple(new))
    return key, Add(path="leads", value=msgspec.to_builtins(lead))


def _rows(job: Job, lead: Lead, rows: Sequence[LeadRow], **also: object) -> Edit:
    """The conductors of a lead, with its neighbours and what else changes."""
    fresh = leads.with_faces(msgspec.structs.replace(lead, rows=tuple(rows)), job.connectors)
    edits = [
        Put(path=f"leads.{lead.id}.rows", value=msgspec.to_builtins(fresh.rows)),
        Put(path=f"leads.{lead.id}.beside", value=msgspec.to_builtins(fresh.beside)),
    ]
    edits += [
        Put(path=f"leads.{lead.id}.{k}", value=msgspec.to_builtins(v)) for k, v in also.items()
    ]
    return Many(edits=tuple(edits))


def take_matching(job: Job, lead: Lead) -> Edit | None:
    """Every conductor that is sure and without a conflict; None where all are there."""
    found = remap_of(job, lead)
    doubtful = {c.a for c in found.conflicts if c.code != "two-to-one"}
    shared = {c.a for c in found.conflicts if c.code == "two-to-one"}
    sure = {p.a.cavity for p in found.pairs if p.by in ("function", "hand")} - doubtful
    have = {(r.a, r.b) for r in lead.rows}
    new = [
        LeadRow(a=a, b=b, colour=colour, signal=circuit)
        for a, b, colour, circuit in conductors(found)
        if (a in sure or a in shared) and (a, b) not in have
    ]
    return _rows(job, lead, _in_order(job, lead, (*lead.rows, *new))) if new else None


def toggle(job: Job, lead: Lead, pair: Joined) -> Edit:
    """One conductor into the lead, or out of it."""
    a, b = pair.a.cavity, pair.b.cavity
    if any((r.a, r.b) == (a, b) for r in lead.rows):
        return _rows(job, lead, [r for r in lead.rows if (r.a, r.b) != (a, b)])
    colour = pair.a.colour or pair.b.colour
    row = LeadRow(a=a, b=b, colour=colour, signal=pair.a.circuit)
    return _rows(job, lead, _in_order(job, lead, (*lead.rows, row)))


def join(job: Job, lead: Lead, a: str, b: str) -> Edit:
    """Cavity ``a`` of an old plug to ``b`` of a new one, as the hand wants it."""
    kept = [(x, y) for x, y in lead.by_hand if a not in (x, y) and b not in (x, y)]
    rows = [r for r in lead.rows if r.a != a and r.b != b]
    way = {w.cavity: w for w in _ways(job, lead)}.get(a)
    rows.append(
        LeadRow(a=a, b=b, colour=way.colour if way else "", signal=way.circuit if way else "")
    )
    left = tuple(x for x in lead.left if x not in (a, b))
    ordered = _in_order(job, lead, rows)
    return _rows(job, lead, ordered, by_hand=(*kept, (a, b)), left=left)


def link(job: Job, lead: Lead, a: str, b: str) -> Edit:
    """A jumper inside the lead between two cavities of one side, or out again.

    Raises:
        Problem: the same cavity twice, or two that are not on one side.
    """
    row = LeadRow(a=a, b=b)
    if a == b or not inside(lead, row):
        raise Problem("A link is between two cavities on one side of the lead: choose another.")
    kept = [r for r in lead.rows if {r.a, r.b} != {a, b}]
    if len(kept) < len(lead.rows):
        return _rows(job, lead, kept)
    at = index(job.connectors)
    known = {w.cavity: w for k in (*lead.old, *lead.new) if k in at for w in ways_of(at[k])}
    way = known.get(a) or known.get(b)
    new = LeadRow(a=a, b=b, colour=way.colour if way else "", signal=way.circuit if way else "")
    left = tuple(x for x in lead.left if x not in (a, b))
    return _rows(job, lead, _in_order(job, lead, (*kept, new)), left=left)


def leave(job: Job, lead: Lead, cavity: str) -> Edit:
    """A cavity left unused on purpose, or no more so."""
    if cavity in lead.left:
        left = tuple(x for x in lead.left if x != cavity)
        return Put(path=f"leads.{lead.id}.left", value=list(left))
    rows = [r for r in lead.rows if cavity not in (r.a, r.b)]
    hand = tuple(p for p in lead.by_hand if cavity not in p)
    return _rows(job, lead, rows, left=(*lead.left, cavity), by_hand=hand)


def put_lengths(lead: Lead, trunk_m: float, branch_m: dict[str, float]) -> Edit:
    """How long trunk and branches are [m]."""
    return Many(
        edits=(
            Put(path=f"leads.{lead.id}.trunk_m", value=trunk_m),
            Put(path=f"leads.{lead.id}.branch_m", value=[list(x) for x in branch_m.items()]),
        )
    )


def _ways(job: Job, lead: Lead) -> list[Way]:
    found = remap_of(job, lead)
    return [*(p.a for p in found.pairs), *found.unused]


def _in_order(job: Job, lead: Lead, rows: Sequence[LeadRow]) -> list[LeadRow]:
    """By the cavities of the old plugs."""
    at = index(job.connectors)
    order = [
        f"{k}.{x.n}" for k in lead.old if k in at for x in sorted(at[k].cavities, key=lambda x: x.n)
    ]
    place = {pin: i for i, pin in enumerate(order)}
    return sorted(rows, key=lambda r: place.get(r.a, len(place)))

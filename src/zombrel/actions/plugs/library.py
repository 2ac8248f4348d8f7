"""Faces and pin-outs of the shop's library and of earlier jobs, taken into this one: to be counted.

What was seen there becomes what the paper says here; nobody has looked into this car yet.
"""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from zombrel.actions.begin import likeness
from zombrel.actions.parts import free_name
from zombrel.harness.plugs import face
from zombrel.job.edits import Add, Edit, Many
from zombrel.job.ledger import evidence, provenance
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.records.kept_plug import KeptPlug
from zombrel.job.value import Value
from zombrel.job.wiring import Cavity, Connector


class Offer(Value, frozen=True):
    """A connector that another job had."""

    connector: Connector
    where: str
    """``job 0398, Heron camper``"""
    known: str
    """How it was known there; empty: nobody said."""
    alike: int
    """How well it suits this job; the greater the better."""
    mind: str = ""
    """What speaks against it: the other side of a split."""

    @property
    def words(self) -> str:
        """``Dash plug, 26 ways, 24 named; job 0398, Heron camper``."""
        c, named = self.connector, sum(bool(x.circuit or x.colour) for x in self.connector.cavities)
        mind = f"; {self.mind}" if self.mind else ""
        return f"{c.name}, {len(face.places(c))} ways, {named} named; {self.where}{mind}"


def offers(job: Job, others: Sequence[Job]) -> tuple[Offer, ...]:
    """Connectors of other jobs, those of the likest vehicles first."""
    found = [
        Offer(
            c,
            _where(other.number or other.title, other.vehicle.name),
            provenance(other, f"connectors.{c.id}.cavities") or "",
            likeness(job.vehicle.name, other.vehicle.name),
        )
        for other in others
        for c in other.connectors
    ]
    return tuple(sorted(found, key=lambda o: -o.alike))


def _where(number: str, vehicle: str) -> str:
    return f"job {number or 'without a number'}" + (f", {vehicle}" if vehicle else "")


SAME_DEVICE = 100
"""A plug of a device that the job has comes before any of a like vehicle."""
WRONG_SIDE = -50


def kept_offers(job: Job, kept: Sequence[KeptPlug]) -> tuple[Offer, ...]:
    """What the library has for this job's vehicle and devices, the best first; the rest not."""
    found = []
    sheets = {d.sheet.id for d in job.devices}
    for k in kept:
        alike = likeness(job.vehicle.name, f"{k.marque} {k.model}")
        if k.device:
            alike = SAME_DEVICE if k.device in sheets else 0
        if not alike:
            continue
        mind = _other_side(job, k)
        known = k.known
        what = k.of
        where = f"library: {what}{_years(k)}" + (f", job {k.job}" if k.job else "")
        found.append(Offer(k.connector, where, known, alike + WRONG_SIDE * bool(mind), mind))
    return tuple(sorted(found, key=lambda o: -o.alike))


def _years(k: KeptPlug) -> str:
    if k.first_year is None and k.last_year is None:
        return ""
    return f" {k.first_year or '…'} to {k.last_year or '…'}"


def _other_side(job: Job, k: KeptPlug) -> str:
    """What a split of the model's years says against it."""
    chassis = job.vehicle.chassis
    if k.split_chassis is None or not k.side:
        return ""
    told = f"{'from' if k.side == 'from' else 'before'} chassis {k.split_chassis}"
    if chassis is None:
        return f"holds {told}: look at this car's number"
    mine = "from" if chassis >= k.split_chassis else "before"
    return "" if mine == k.side else f"not this car: it holds {told}"


def to_keep(job: Job, c: Connector, when: str = "") -> KeptPlug:
    """A connector of this job as the library would have it, its vehicle as far as it is known."""
    v = job.vehicle
    first, _, rest = v.name.partition(" ")
    side = ""
    if v.split_chassis is not None and v.chassis is not None:
        side = "from" if v.chassis >= v.split_chassis else "before"
    return KeptPlug(
        id=f"{v.name} {c.id}".strip()[:80],
        marque=first,
        model=rest,
        split_chassis=v.split_chassis,
        side=side,  # type: ignore[arg-type]
        known=provenance(job, f"connectors.{c.id}.cavities") or "",
        job=job.number,
        when=when,
        note=v.split_note,
        connector=msgspec.structs.replace(c, zone="", mates=""),
    )


def check_kept(kept: KeptPlug) -> KeptPlug:
    """The same, where it can be found again.

    Raises:
        Problem: it is said of no vehicle and no device, or its years run backwards.
    """
    if not (kept.marque or kept.model or kept.device):
        raise Problem("Say of which vehicle it is, or of which device: nobody would find it else.")
    if kept.first_year and kept.last_year and kept.first_year > kept.last_year:
        raise Problem(f"The years run from {kept.first_year} back to {kept.last_year}.")
    if kept.side and kept.split_chassis is None:
        raise Problem("Say the chassis number of the split, or leave the side out.")
    return kept


def take(job: Job, offer: Offer, when: str = "") -> Edit:
    """The connector with its pin-out, known from another car and no better."""
    c = offer.connector
    key = free_name(c.id, index(job.connectors))
    fresh = msgspec.structs.replace(
        c, id=key, zone="", mates="", cavities=tuple(_paper(x) for x in c.cavities)
    )
    known = f", {offer.known} there" if offer.known else ""
    mind = f"; {offer.mind}" if offer.mind else ""
    note = f"as on {offer.where}{known}: another car, count before use{mind}"
    path = f"connectors.{key}.cavities"
    line = evidence(job, path, "other car", note, when, value=fresh.cavities)
    return Many(edits=(Add(path="connectors", value=msgspec.to_builtins(fresh)), line))


def _paper(x: Cavity) -> Cavity:
    """What was found there is what the paper says here."""
    if x.seen in ("empty", "blanked"):
        return Cavity(n=x.n, mark=x.mark, blank=x.seen == "blanked" or x.blank, unusable=x.unusable)
    colour = face.colour_of(x)
    return msgspec.structs.replace(x, colour=colour, seen="", seen_colour="", known="")

"""Faces and pin-outs of earlier jobs, taken into this one: another car's, to be counted.

What was seen there becomes what the paper says here; nobody has looked into this car yet.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import msgspec

from zombrel.actions.begin import likeness
from zombrel.actions.parts import free_name
from zombrel.harness.plugs import face
from zombrel.job.edits import Add, Edit, Many
from zombrel.job.ledger import evidence, provenance
from zombrel.job.model import Job, index
from zombrel.job.wiring import Cavity, Connector


class Offer(NamedTuple):
    """A connector of an earlier job."""

    job: Job
    connector: Connector
    alike: int
    """How many words the vehicles' names share."""

    @property
    def words(self) -> str:
        """``Dash plug, 26 ways, 24 named; job 0398, Heron camper``."""
        c, named = self.connector, sum(bool(x.circuit or x.colour) for x in self.connector.cavities)
        number = self.job.number or self.job.title or "without a number"
        of = f", {self.job.vehicle.name}" if self.job.vehicle.name else ""
        return f"{c.name}, {len(face.places(c))} ways, {named} named; job {number}{of}"


def offers(job: Job, others: Sequence[Job]) -> tuple[Offer, ...]:
    """Connectors of other jobs, those of the likest vehicles first."""
    found = [
        Offer(other, c, likeness(job.vehicle.name, other.vehicle.name))
        for other in others
        for c in other.connectors
    ]
    return tuple(sorted(found, key=lambda o: -o.alike))


def take(job: Job, offer: Offer, when: str = "") -> Edit:
    """The connector with its pin-out, known from another car and no better."""
    c = offer.connector
    key = free_name(c.id, index(job.connectors))
    fresh = msgspec.structs.replace(
        c, id=key, zone="", cavities=tuple(_paper(x) for x in c.cavities)
    )
    number = offer.job.number or offer.job.title or "without a number"
    there = provenance(offer.job, f"connectors.{c.id}.cavities")
    known = f", {there} there" if there else ""
    note = f"as on job {number}{known}: another car, count before use"
    path = f"connectors.{key}.cavities"
    line = evidence(job, path, "other car", note, when, value=fresh.cavities)
    return Many(edits=(Add(path="connectors", value=msgspec.to_builtins(fresh)), line))


def _paper(x: Cavity) -> Cavity:
    """What was found there is what the paper says here."""
    if x.seen in ("empty", "blanked"):
        return Cavity(n=x.n, mark=x.mark, blank=x.seen == "blanked" or x.blank, unusable=x.unusable)
    colour = face.colour_of(x)
    return msgspec.structs.replace(x, colour=colour, seen="", seen_colour="")

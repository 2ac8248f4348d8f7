"""What every kind of change to a connector rests on: parts, targets, cavities put anew."""

from __future__ import annotations

import msgspec

from zombrel.harness.airbag import is_airbag
from zombrel.harness.plugs import face
from zombrel.job.model import Job, by_id
from zombrel.job.sheet import Frozen
from zombrel.job.wiring import Cavity, Change, Connector

OTHER = {"male": "female", "female": "male", "": ""}


class Part(Frozen, frozen=True, kw_only=True):
    """Something to lay out."""

    name: str
    count: float = 1
    unit: str = ""
    kind: str = ""


def target(job: Job, change: Change) -> tuple[Connector, int] | None:
    """Where a moved wire goes; None when that is not said or not there."""
    place, _, n = change.to.rpartition(".")
    found = by_id(job.connectors, place)
    if found is None or not n.isdigit() or int(n) not in {p.n for p in face.places(found)}:
        return None
    return found, int(n)


def airbag(job: Job, c: Connector, n: int) -> bool:
    """Whether a cavity holds airbag wiring, or its plug lies among it."""
    found = face.cavity(c, n)
    zone = by_id(job.zones, c.zone)
    named = found is not None and is_airbag(found.circuit, found.colour, found.seen_colour, c.name)
    return named or (zone is not None and zone.airbag)


def put(c: Connector, new: Cavity) -> Connector:
    """``c`` with one cavity as it is now."""
    rest = tuple(x for x in c.cavities if x.n != new.n)
    kept = tuple(sorted((*rest, new), key=lambda x: x.n))
    return msgspec.structs.replace(c, cavities=kept)


def with_(circuit: str, what: str) -> str:
    """A circuit with something more joined to it."""
    return f"{circuit} + {what}" if circuit else what


def airbags(job: Job, c: Connector, cavities: tuple[int, ...]) -> list[str]:
    """Which of these cavities nobody may touch, in words."""
    return [
        f"Cavity {n} of {c.id} is airbag wiring: it is never touched."
        for n in cavities
        if airbag(job, c, n)
    ]


def counting(c: Connector, n: int) -> tuple[str, str]:
    """How each of them begins: battery off, and the cavity counted twice."""
    at = f"{c.id} cavity {n} ({face.counted(c, n)}, seen on the wire side)"
    return (
        "Battery off; part the connector by its lock, never by the wires.",
        f"Count to {at}, then count again from the other end.",
    )


PULL = (
    "Open the secondary lock, push the terminal's tongue down through the face, pull the wire "
    "out backwards."
)

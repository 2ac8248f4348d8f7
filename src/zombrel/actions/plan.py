"""What is done to the plan: zones, ways, where things lie."""

from __future__ import annotations

from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.model import Job, by_id
from zombrel.job.wiring import Way, Wire, Zone

BESIDE_M = 0.2
"""A new zone is drawn so far from the one it is joined to [m]."""


def lay(wire: Wire, zones: tuple[str, ...]) -> Edit:
    """A wire laid along these zones."""
    return Put(path=f"wires.{wire.id}.via", value=list(zones))


def place_in(kind: str, place: str, zone: str) -> Edit:
    """A thing of a kind (``devices``, ``feeds`` …) lies in a zone."""
    return Put(path=f"{kind}.{place}.zone", value=zone)


def put_zone(zone: Zone, field: str, value: object) -> Edit:
    """One field of a zone."""
    return Put(path=f"zones.{zone.id}.{field}", value=value)


def move_zone(zone: Zone, x: float, y: float) -> Edit:
    """A zone drawn elsewhere [m], to the centimetre."""
    return together(put_zone(zone, "x_m", round(x, 2)), put_zone(zone, "y_m", round(y, 2)))


def put_way(way: Way, length: float | None) -> Edit:
    """The length of a way [m]; None: as the plan has it."""
    return Put(path=f"ways.{way.id}.length_m", value=length)


def add_zone(job: Job, beside: Zone) -> tuple[str, str, Edit]:
    """A zone joined to ``beside`` by a way: its id, its name, and the edit."""
    i = 1
    while by_id(job.zones, f"zone-{i}") is not None:
        i += 1
    key = f"zone-{i}"
    zone = {
        "id": key,
        "name": f"Zone {i}",
        "x_m": round(beside.x_m + BESIDE_M, 2),
        "y_m": round(beside.y_m + BESIDE_M, 2),
        "wide_m": 0.5,
        "deep_m": 0.3,
    }
    return key, f"Zone {i}", together(Add(path="zones", value=zone), _way(beside.id, key))


def _way(a: str, b: str) -> Add:
    return Add(path="ways", value={"id": f"{a}-{b}", "a": a, "b": b})


def join_zones(zone: Zone, other: Zone) -> Edit:
    """A way between two zones."""
    return _way(zone.id, other.id)


def remove_zone(job: Job, zone: Zone) -> Edit:
    """A zone and its ways out of the plan; wires that ran there are found and said."""
    ways = [w for w in job.ways if zone.id in (w.a, w.b)]
    gone = [Remove(path=f"ways.{w.id}") for w in ways]
    return together(*gone, Remove(path=f"zones.{zone.id}"))

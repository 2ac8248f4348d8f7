"""What is done to conductors, feeds and connectors."""

from __future__ import annotations

import msgspec

from zombrel.harness.plugs import face
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.sheet import FeedClass
from zombrel.job.wiring import Change, Connector, End, Feed, KeyVolts, Wire


def put_wire(wire: Wire, field: str, value: object) -> Edit:
    """One field of a wire."""
    return Put(path=f"wires.{wire.id}.{field}", value=value)


def put_length(wire: Wire, metres: float) -> Edit:
    """A measured length [m]; of a wire on the plan it holds against the plan."""
    put = Put(path=f"wires.{wire.id}.length_m", value=metres)
    if not wire.via:
        return put
    return together(put, Put(path=f"wires.{wire.id}.fixed", value=True))


def new_wire(key: str, a: End, b: End, colour: str, carries: str, area_mm2: float) -> Edit:
    """A wire of a metre, to be measured; ``area_mm2`` [mm²]."""
    entry = {
        "id": key,
        "a": msgspec.to_builtins(a),
        "b": msgspec.to_builtins(b),
        "colour": colour,
        "carries": carries,
        "area_mm2": area_mm2,
        "length_m": 1.0,
    }
    return Add(path="wires", value=entry)


def rejoin(wire: Wire, a: End, b: End, colour: str, carries: str) -> Edit:
    """A wire joined elsewhere: its way is to be found anew."""
    path = f"wires.{wire.id}"
    edits = [
        Put(path=f"{path}.colour", value=colour),
        Put(path=f"{path}.carries", value=carries),
    ]
    if (a, b) != (wire.a, wire.b):
        edits += [
            Put(path=f"{path}.a", value=msgspec.to_builtins(a)),
            Put(path=f"{path}.b", value=msgspec.to_builtins(b)),
            Put(path=f"{path}.via", value=[]),
        ]
    return together(*edits)


def add_feed(name: str, kind: str, live: FeedClass | None = None) -> Edit:
    """A feed under its name: a battery post is alive, the class of a slot is said or metered."""
    feed: FeedClass = live or ("constant" if kind == "battery" else "dead")
    entry = {
        "id": name.replace(".", " "),
        "name": f"Slot {name}" if kind == "slot" else name,
        "feed": feed,
        "kind": kind,
    }
    return Add(path="feeds", value=entry)


def put_volts(feed: Feed, volts: KeyVolts | None) -> Edit:
    """What a feed was metered at in each key position [V].

    Raises:
        Problem: no vehicle has such volts.
    """
    value = msgspec.to_builtins(volts)
    try:
        msgspec.convert(value, KeyVolts | None)
    except msgspec.ValidationError:
        raise Problem(f"{feed.name}: no vehicle has such volts; check the meter.") from None
    return Put(path=f"feeds.{feed.id}.volts", value=value)


def plan_change(job: Job, kind: str, connector: Connector, cavity: int) -> tuple[str, Edit]:
    """A change at a cavity, with the wire that lies there and the first vacant place to go to."""
    i = 1
    while by_id(job.changes, f"C{i}") is not None:
        i += 1
    here = (connector.id, str(cavity))
    wire = next((w.id for w in job.wires for e in (w.a, w.b) if (e.place, e.pin) == here), "")
    to = ""
    if kind in ("move", "remap"):
        others = [x for x in job.connectors if (x.id != connector.id) == (kind == "remap")]
        free = next(((x, face.vacant(x)) for x in others if face.vacant(x)), None)
        to = f"{free[0].id}.{free[1][0]}" if free else ""
    entry = {
        "id": f"C{i}",
        "kind": kind,
        "connector": connector.id,
        "cavity": cavity,
        "wire": wire,
        "to": to,
    }
    return f"C{i}", Add(path="changes", value=entry)


def put_change(change: Change, field: str, value: object) -> Edit:
    """One field of a planned change."""
    return Put(path=f"changes.{change.id}.{field}", value=value)


def remove_change(change: Change) -> Edit:
    """A planned change dropped."""
    return Remove(path=f"changes.{change.id}")

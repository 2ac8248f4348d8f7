"""What is done to conductors, feeds and connectors."""

from __future__ import annotations

import msgspec

from zombrel.actions.parts import free_name
from zombrel.harness.plugs import face, lead
from zombrel.harness.plugs.outcomes import OWN, proven
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.model import Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import FeedClass
from zombrel.job.wiring import Change, Connector, End, Feed, KeyVolts, Lead, LeadRow, Wire

ID_LONG, NAME_LONG = 40, 80
"""Longest id and name taken from a file's name."""


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


# ---- leads


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

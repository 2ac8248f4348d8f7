"""What conductors of ours join into one, and which supply pins they leave bare.

Reference: nodes of a circuit, joined through wires of no resistance (any textbook of circuits).
"""

from __future__ import annotations

from zombrel.job.follow.query import chunks, query
from zombrel.job.follow.view import plain
from zombrel.job.model import Job, index
from zombrel.job.source import BrakeSide, Switch
from zombrel.signals.circuit.islands import joints

Node = tuple[str, str]
"""An end that wires meet at: (place, pin)."""


@query
def joined_ends(job: Job) -> frozenset[Node]:
    """Every end that a wire of ours is drawn to."""
    return frozenset().union(*[plain(_ends_of(job, ids)) for ids in chunks(job.wires, 50)])


@query
def _ends_of(job: Job, ids: tuple[str, ...]) -> frozenset[Node]:
    wires = index(job.wires)
    return frozenset((e.place, e.pin) for key in ids for e in (wires[key].a, wires[key].b))


@query
def nets(job: Job) -> tuple[tuple[frozenset[Node], tuple[str, ...]], ...]:
    """Ends that conductors of ours join into one, with those conductors; single wires too."""
    wires = {
        key: ((a.place, a.pin), (b.place, b.pin)) for key, (a, b) in plain(joints(job)).items()
    }
    at: dict[Node, list[str]] = {}
    for key, ends in wires.items():
        for node in ends:
            at.setdefault(node, []).append(key)
    seen: set[str] = set()
    found: list[tuple[frozenset[Node], tuple[str, ...]]] = []
    for first, ends in wires.items():
        if first in seen:
            continue
        if len(at[ends[0]]) == len(at[ends[1]]) == 1:  # most are joined to no other
            found.append((frozenset(ends), (first,)))
            continue
        seen.add(first)
        nodes: set[Node] = set()
        held, todo = [], [first]
        while todo:
            key = todo.pop()
            held.append(key)
            for node in wires[key]:
                if node not in nodes:
                    nodes.add(node)
                    todo += [w for w in at[node] if w not in seen]
                    seen.update(at[node])
        found.append((frozenset(nodes), tuple(held)))
    return tuple(found)


@query
def _supplied(job: Job) -> frozenset[tuple[str, str, str]]:
    """(device, pin, kind) of what conductors join to a feed or to a ground.

    What is behind a connector, a switch or another device's output is not known here, and may
    well be either.
    """
    open_ended = {c.id for c in job.connectors}
    open_ended |= {s.id for s in job.sources if isinstance(s.spec, Switch | BrakeSide)}
    ends = {"power": {f.id for f in job.feeds}, "ground": {s.id for s in job.studs}}
    devices = {
        d.id: {o.pin for o in d.sheet.outputs} | {d.sheet.sensor_pin, d.sheet.sensor_ground}
        for d in job.devices
    }
    reaches = {kind: known | open_ended | devices.keys() for kind, known in ends.items()}
    found = set()
    for nodes, _ in plain(nets(job)):
        places = {place for place, pin in nodes if pin in devices.get(place, (pin,))}
        for kind, known in reaches.items():
            if not known.isdisjoint(places):
                found |= {(place, pin, kind) for place, pin in nodes}
    return frozenset(found)


@query
def _bare(job: Job) -> dict[str, tuple[str, ...]]:
    there, found = plain(_supplied(job)), {}
    for device in job.devices:
        key = device.id
        bare = [s.pin for s in device.sheet.supplies if (key, s.pin, s.kind) not in there]
        if bare:
            found[key] = tuple(bare)
    return found


def bare_pins(job: Job, key: str) -> tuple[str, ...]:
    """Supply and ground pins of the device ``key`` that no wire joins to what they need."""
    return _bare(job).get(key, ())

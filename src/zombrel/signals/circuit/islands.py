"""Which parts of a job hang together: held nodes (feeds, clean studs) part the network.

Reference: connected components by union-find (Cormen et al., *Introduction to Algorithms*, ch. 21).
"""

from __future__ import annotations

from collections.abc import Iterable

from zombrel.job.follow.query import query
from zombrel.job.follow.view import chunks, plain
from zombrel.job.model import Job, index
from zombrel.job.source import BoxOutput
from zombrel.job.value import Value
from zombrel.job.wiring import End

Unit = tuple[str, str]
"""(kind, name) of what cannot be parted: a device, a source, a stud, a cavity, a wire."""


class Island(Value, frozen=True):
    """Ids of what hangs together."""

    wires: tuple[str, ...] = ()
    devices: tuple[str, ...] = ()
    sources: tuple[str, ...] = ()
    studs: tuple[str, ...] = ()
    chains: tuple[str, ...] = ()


class Map(Value, frozen=True):
    """Every island, and in which one a wire, device, chain or stud lies."""

    islands: tuple[Island, ...]
    of_wire: dict[str, int]
    of_device: dict[str, int]
    of_chain: dict[str, int]
    of_stud: dict[str, int]


class _Union:
    def __init__(self) -> None:
        self.up: dict[Unit, Unit] = {}

    def top(self, unit: Unit) -> Unit:
        up = self.up
        while unit in up:
            above = up[unit]
            if above in up:
                up[unit] = up[above]
            unit = above
        return unit

    def join(self, units: Iterable[Unit]) -> None:
        tops = [self.top(u) for u in units]
        for other in tops[1:]:
            if other != tops[0]:
                self.up[other] = tops[0]
                tops[0] = self.top(tops[0])


@query
def _joints(job: Job, ids: tuple[str, ...]) -> tuple[tuple[str, End, End], ...]:
    """(wire, its ends): where a wire leads changes seldom, what it is often."""
    wires = index(job.wires)
    return tuple([(key, wires[key].a, wires[key].b) for key in ids])


@query
def joints(job: Job) -> dict[str, tuple[End, End]]:
    """The ends of every wire, by its id: they stay while only its section or length changes."""
    some = [plain(_joints(job, ids)) for ids in chunks(job.wires, 25)]
    return {key: (a, b) for part in some for key, a, b in part}


@query
def _runs(job: Job, ids: tuple[str, ...]) -> tuple[tuple[str, str, str, tuple[str, ...]], ...]:
    """(chain, source, device, wires)."""
    chains = index(job.chains)
    some = [chains[key] for key in ids]
    return tuple([(c.id, c.source, c.device, c.wires) for c in some])


class _Places(Value, frozen=True):
    """What a place that a wire ends at is."""

    devices: set[str]
    sources: dict[str, Unit]
    """An output of a device belongs to the device."""
    feeds: set[str]
    studs: dict[str, bool]
    """Whether a stud has any resistance."""

    def unit(self, end: End) -> Unit | None:
        """What an end belongs to; None where it is held, and parts the network."""
        place = end.place
        if place in self.devices:
            return "device", place
        if place in self.sources:
            return self.sources[place]
        if place in self.feeds:
            return None
        if place in self.studs:
            return ("stud", place) if self.studs[place] else None
        return "cavity", f"{place}.{end.pin}"


def _places(job: Job) -> _Places:
    return _Places(
        {d.id for d in job.devices},
        {
            s.id: ("device", s.spec.device) if isinstance(s.spec, BoxOutput) else ("source", s.id)
            for s in plain(job.sources)
        },
        {f.id for f in job.feeds},
        {s.id: s.ohm > 0 for s in plain(job.studs)},
    )


class _Held:
    """Names by the island they lie in."""

    def __init__(self, union: _Union) -> None:
        self.union = union
        self.at: dict[Unit, int] = {}
        self.parts: list[tuple[list[str], list[str], list[str], list[str], list[str]]] = []

    def put(self, kind: int, unit: Unit, name: str) -> int:
        """File a name; the number of its island."""
        place = self.at.setdefault(self.union.top(unit), len(self.parts))
        if place == len(self.parts):
            self.parts.append(([], [], [], [], []))
        self.parts[place][kind].append(name)
        return place


@query
def islands(job: Job) -> Map:
    """The islands of a job."""
    places, union = _places(job), _Union()
    wires = [(key, a, b) for key, (a, b) in plain(joints(job)).items()]
    chains = [run for ids in chunks(job.chains, 25) for run in plain(_runs(job, ids))]
    for key, a, b in wires:
        ends = [u for u in (places.unit(a), places.unit(b)) if u is not None]
        union.join([("wire", key), *ends])
    for _, source, device, own in chains:
        union.join([("device", device), places.sources[source], *[("wire", w) for w in own]])
    held = _Held(union)
    of_wire = {key: held.put(0, ("wire", key), key) for key, _, _ in wires}
    of_device = {d: held.put(1, ("device", d), d) for d in sorted(places.devices)}
    for key, unit in places.sources.items():
        held.put(2, unit, key)
    of_stud = {s: held.put(3, ("stud", s), s) for s, lifted in places.studs.items() if lifted}
    of_chain = {key: held.put(4, ("device", device), key) for key, _, device, _ in chains}
    found = tuple([Island(*[tuple(names) for names in parts]) for parts in held.parts])
    return Map(found, of_wire, of_device, of_chain, of_stud)

"""Which parts of a job hang together: held nodes (feeds, clean studs) part the network.

Reference: connected components by union-find (Cormen et al., *Introduction to Algorithms*, ch. 21).
"""

from __future__ import annotations

from collections.abc import Mapping

from zombrel.job.follow.query import chunks, query
from zombrel.job.follow.view import plain
from zombrel.job.model import Job, index
from zombrel.job.source import BoxOutput
from zombrel.job.value import Value
from zombrel.job.wiring import End

HELD = -1
"""In the place of a unit: a feed or a clean stud, whose voltage is known."""


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


class _Units:
    """What cannot be parted (a device, a source, a stud, a cavity), each with a number."""

    def __init__(self) -> None:
        self.up: list[int] = []

    def new(self) -> int:
        self.up.append(len(self.up))
        return self.up[-1]

    def top(self, unit: int) -> int:
        """The number that stands for all that are joined to a unit."""
        up = self.up
        while up[unit] != unit:
            up[unit] = unit = up[up[unit]]
        return unit

    def tops(self) -> list[int]:
        """The same for every unit, once all are joined."""
        found = self.up[:]
        for unit, top in enumerate(self.up):
            while found[top] != top:
                top = found[top]  # noqa: PLW2901 - on the way up
            found[unit] = top
        return found

    def join(self, a: int, b: int) -> None:
        """``b`` goes under what stands for ``a``: the larger first keeps the ways up short."""
        self.up[self.top(b)] = self.top(a)


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


class _Places:
    """The units of a job that are no wires."""

    def __init__(self, job: Job, units: _Units) -> None:
        self.units = units
        self.devices = {d.id: units.new() for d in job.devices}
        self.sources: dict[str, int] = {}
        boxes = dict(self.devices)
        for s in plain(job.sources):
            # an output of a device belongs to the device
            made = s.spec.device if isinstance(s.spec, BoxOutput) else None
            if made is not None and made not in boxes:
                boxes[made] = units.new()
            self.sources[s.id] = units.new() if made is None else boxes[made]
        self.studs = {s.id: units.new() for s in plain(job.studs) if s.ohm > 0}
        held = dict.fromkeys([*[f.id for f in job.feeds], *[s.id for s in job.studs]], HELD)
        self.known = held | self.studs | self.sources | self.devices
        self.cavities: dict[str, int] = {}

    def unit(self, end: End) -> int:
        """What an end belongs to; ``HELD`` where that parts the network."""
        unit = self.known.get(end.place)
        if unit is not None:
            return unit
        cavity = f"{end.place}.{end.pin}"
        if cavity not in self.cavities:
            self.cavities[cavity] = self.units.new()
        return self.cavities[cavity]


class _Islands:
    """Names by the island they lie in."""

    def __init__(self, units: _Units) -> None:
        self.tops = units.tops()
        self.at: dict[int, int] = {}
        self.parts: list[tuple[list[str], list[str], list[str], list[str], list[str]]] = []

    def put(self, kind: int, units: Mapping[str, int]) -> dict[str, int]:
        """File names by the unit of each; the number of the island of each."""
        tops, at, parts = self.tops, self.at, self.parts
        found = {}
        for name, unit in units.items():
            top = tops[unit]
            place = at.get(top)
            if place is None:
                place = at[top] = len(parts)
                parts.append(([], [], [], [], []))
            parts[place][kind].append(name)
            found[name] = place
        return found


@query
def islands(job: Job) -> Map:
    """The islands of a job."""
    units = _Units()
    places = _Places(job, units)
    unit_of, wires = places.unit, dict[str, int]()
    for key, ends in plain(joints(job)).items():
        a, b = unit_of(ends[0]), unit_of(ends[1])
        if a == HELD:
            wires[key] = units.new() if b == HELD else b
        else:
            wires[key] = a
            if b != HELD:
                units.join(a, b)
    chains = [run for ids in chunks(job.chains, 25) for run in plain(_runs(job, ids))]
    for _, source, device, run in chains:
        own = places.devices[device]
        for unit in (places.sources[source], *[wires[w] for w in run if w in wires]):
            units.join(own, unit)
    held = _Islands(units)
    of_wire = held.put(0, wires)
    of_device = held.put(1, dict(sorted(places.devices.items())))
    held.put(2, places.sources)
    of_stud = held.put(3, places.studs)
    of_chain = held.put(4, {key: places.devices[device] for key, _, device, _ in chains})
    found = tuple([Island(*[tuple(names) for names in parts]) for parts in held.parts])
    return Map(found, of_wire, of_device, of_chain, of_stud)

"""Ways for runs through the vehicle: the shortest with a price on heat, noise and trouble.

A way's price is in metres: its length and what its zones add. The price of a zone depends on what
the wire carries, because a small signal suffers from a coil and a heavy feed from heat.

References:
    [1] Dijkstra, *A note on two problems in connexion with graphs* (1959); Yen, *Finding the k
        shortest loopless paths* (1971), the second as in scipy.sparse.csgraph.
"""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Callable, Container, Mapping
from typing import Literal, get_args

from zombrel.harness import coupling
from zombrel.job.edits import Put
from zombrel.job.figures import PRICED, figure
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import House, Job
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.job.value import Value
from zombrel.job.wiring import Way, Wire, Zone
from zombrel.signals.kinds import kind_of
from zombrel.units.measure import length_of

Nature = Literal["pick-up", "signal", "power", "ground"]
"""What a run carries, as far as its way is concerned."""

BENDS = 1.2
"""A run is a fifth longer than the straight line on the plan: ASSUMED for bends and rises."""


class Prices(Value, frozen=True):
    """What one kind of run pays, in metres of way."""

    noise: float
    """For each volt of ignition noise a run of 100 Ω would pick up in a zone."""
    heat: float
    """For each kelvin over outside air."""
    wet: float
    moving: float
    access: float
    """For each minute of opening."""


PRICES: dict[Nature, Prices] = {
    nature: Prices(*[figure(f"way of a {nature}, {what}") for what in PRICED])
    for nature in get_args(Nature)
}
AIRBAG = figure("way of an airbag")
"""What an airbag zone costs [m]."""


class Run(Frozen, frozen=True, kw_only=True):
    """One way for a run and what it costs."""

    zones: tuple[str, ...]
    length_m: float
    noise_v: float
    """Ignition noise a plain 100 Ω lead would pick up on it [V]."""
    hottest_k: float
    access_min: float
    price: float

    def words(self, zones: Mapping[str, Zone]) -> str:
        """What it costs, in words."""
        parts = [f"{length_of(self.length_m, 1)}"]
        if self.noise_v >= figure("noise worth a word"):
            parts.append(f"{self.noise_v:.2g} V noise per 100 Ω")
        if self.hottest_k > 0:
            parts.append(f"{self.hottest_k:.0f} K hotter")
        wet = [zones[z].name for z in self.zones if zones[z].wet]
        moving = [zones[z].name for z in self.zones if zones[z].moving]
        bag = [zones[z].name for z in self.zones if zones[z].airbag]
        parts += [f"wet: {', '.join(wet)}"] if wet else []
        parts += [f"moving parts: {', '.join(moving)}"] if moving else []
        parts += [f"AIRBAG: {', '.join(bag)}"] if bag else []
        parts.append(f"{self.access_min:.0f} min to open")
        return ", ".join(parts)


def way_length(way: Way, zones: Mapping[str, Zone]) -> float:
    """Length of a way [m]: as given, or from the plan."""
    if way.length_m is not None:
        return way.length_m
    a, b = zones[way.a], zones[way.b]
    return max(0.1, BENDS * math.hypot(a.x_m - b.x_m, a.y_m - b.y_m))


def zone_noise(zone: Zone) -> float:
    """Noise a plain 100 Ω lead picks up in ``zone`` [V]: the worst of its neighbours."""
    return max(
        (coupling.noise(n.what, n.spacing_m, n.along_m, 100.0, False) for n in zone.near),
        default=0.0,
    )


def zone_price(zone: Zone, nature: Nature) -> float:
    """What crossing ``zone`` adds to the price [m]."""
    p = PRICES[nature]
    return (
        p.noise * zone_noise(zone)
        + p.heat * zone.over_ambient_k
        + p.wet * zone.wet
        + p.moving * zone.moving
        + p.access * zone.access_min
        + AIRBAG * zone.airbag
    )


def nature_of(wire: Wire, pickups: frozenset[str] = frozenset()) -> Nature:
    """What ``wire`` is to the router; ``pickups`` are places that give a raw pick-up signal."""
    if wire.carries != "signal":
        return wire.carries
    return "pick-up" if wire.a.place in pickups or wire.b.place in pickups else "signal"


@query
def pickups(job: Job) -> frozenset[str]:
    """Sources whose bare coil feeds the lead."""
    return frozenset(s.id for s in job.sources if kind_of(s.spec).two_wire)


@query
def zone_of(job: Job) -> dict[str, str]:
    """The zone each place of the job lies in."""
    kinds = (job.devices, job.sources, job.feeds, job.studs, job.connectors)
    return {item.id: item.zone for items in kinds for item in items if item.zone}


Lengths = dict[str, dict[str, float]]
"""For each zone the zones a way leads to, and how long it is [m]."""


@query
def lengths(zones: tuple[Zone, ...], ways: tuple[Way, ...]) -> Lengths:
    """The plan as a graph; of two ways between the same zones the shorter counts."""
    by = {z.id: z for z in zones}
    found: Lengths = {z.id: {} for z in zones}
    for way in ways:
        length = min(way_length(way, by), found[way.a].get(way.b, math.inf))
        found[way.a][way.b] = found[way.b][way.a] = length
    return found


@query
def _prices(zones: tuple[Zone, ...]) -> dict[Nature, dict[str, float]]:
    return {n: {z.id: zone_price(z, n) for z in zones} for n in PRICES}


def _weight(price: Mapping[str, float], a: str, b: str, length: float) -> float:
    """Price of one way [m]: its length and half of what each of its zones adds."""
    return length + (price[a] + price[b]) / 2


def _tree(graph: Lengths, price: Mapping[str, float], start: str) -> dict[str, str]:
    """For each zone that can be reached, the one before it on the cheapest way [1]."""
    cost, before, heap = {start: 0.0}, {start: start}, [(0.0, start)]
    while heap:
        so_far, here = heapq.heappop(heap)
        if so_far > cost[here]:
            continue
        for there, length in graph[here].items():
            total = so_far + _weight(price, here, there, length)
            if total < cost.get(there, math.inf) - 1e-12:
                cost[there], before[there] = total, here
                heapq.heappush(heap, (total, there))
    return before


def best(
    zones: tuple[Zone, ...],
    ways: tuple[Way, ...],
    nature: Nature,
    start: str,
    end: str,
    allowed: Callable[[Zone], bool] | None = None,
) -> tuple[str, ...]:
    """The cheapest way from zone ``start`` to zone ``end``, both included.

    ``allowed`` says which zones between may be crossed.

    Raises:
        Problem: a zone that is not on the plan, or no way between the two.
    """
    graph = lengths(zones, ways)
    for z in (start, end):
        if z not in graph:
            raise Problem(f"There is no zone “{z}” on the plan.")
    if allowed is not None:
        kept = {z.id for z in zones if z.id in (start, end) or allowed(z)}
        graph = {
            a: {b: length for b, length in to.items() if b in kept}
            for a, to in graph.items()
            if a in kept
        }
        return _back(_tree(graph, _prices(zones)[nature], start), start, end)
    return _back(_tree_from(zones, ways, nature, start), start, end)


def _back(before: Mapping[str, str], start: str, end: str) -> tuple[str, ...]:
    if end not in before:
        raise Problem(f"No way on the plan leads from {start} to {end}; add one.")
    path = [end]
    while path[-1] != start:
        path.append(before[path[-1]])
    return tuple(reversed(path))


@query
def _tree_from(
    zones: tuple[Zone, ...], ways: tuple[Way, ...], nature: Nature, start: str
) -> dict[str, str]:
    return _tree(plain(lengths(zones, ways)), plain(_prices(zones))[nature], start)


def runs(
    zones: tuple[Zone, ...],
    ways: tuple[Way, ...],
    nature: Nature,
    start: str,
    end: str,
    count: int = 4,
) -> tuple[Run, ...]:
    """The ``count`` cheapest ways, the best first [1].

    Raises:
        Problem: a zone that is not on the plan, or no way between the two.
    """
    if start == end:
        return (measure(zones, ways, nature, (start,)),)
    best(zones, ways, nature, start, end)  # says what is missing
    import numpy as np
    from scipy.sparse import csr_matrix
    from scipy.sparse.csgraph import yen

    graph, price = lengths(zones, ways), _prices(zones)[nature]
    at = {z: i for i, z in enumerate(graph)}
    weights = np.zeros((len(at), len(at)))
    for a, to in graph.items():
        for b, length in to.items():
            weights[at[a], at[b]] = _weight(price, a, b, length)
    names = list(graph)
    _, before = yen(
        csr_matrix(weights), at[start], at[end], count, directed=False, return_predecessors=True
    )
    found = []
    for line in before:
        path = [at[end]]
        while path[-1] != at[start]:
            path.append(int(line[path[-1]]))
        found.append(measure(zones, ways, nature, tuple(names[k] for k in reversed(path))))
    return tuple(found)


def connected(zones: tuple[Zone, ...], ways: tuple[Way, ...], via: tuple[str, ...]) -> bool:
    """``via`` is a way that the plan has."""
    graph = lengths(zones, ways)
    return all(z in graph for z in via) and all(b in graph[a] for a, b in itertools.pairwise(via))


def measure(
    zones: tuple[Zone, ...], ways: tuple[Way, ...], nature: Nature, via: tuple[str, ...]
) -> Run:
    """Length and price of one way through the plan."""
    graph, price = lengths(zones, ways), _prices(zones)[nature]
    by = {z.id: z for z in zones}
    steps = list(itertools.pairwise(via))
    on = [by[z] for z in via]
    panels = {z.panel or z.id: z.access_min for z in on}
    return Run(
        zones=via,
        length_m=sum(graph[a][b] for a, b in steps),
        noise_v=max((zone_noise(z) for z in on), default=0.0),
        hottest_k=max((z.over_ambient_k for z in on), default=0.0),
        access_min=sum(panels.values()),
        price=sum(_weight(price, a, b, graph[a][b]) for a, b in steps),
    )


@query
def route_all(job: Job) -> dict[str, tuple[str, ...]]:
    """The cheapest way for every wire whose ends lie in zones; the rest are left out."""
    at, raw = zone_of(job), pickups(job)
    found = {}
    for wire in job.wires:
        start, end = at.get(wire.a.place), at.get(wire.b.place)
        if start and end:
            try:
                found[wire.id] = best(job.zones, job.ways, nature_of(wire, raw), start, end)
            except Problem:
                continue
    return found


def joined_at(job: Job, wire: Wire, side: str, place: str, pin: str = "") -> tuple[Put, ...]:
    """The edits that join one side of a wire elsewhere; its way, if it has one, goes with it."""
    put = Put(path=f"wires.{wire.id}.{side}", value={"place": place, "pin": pin})
    if not wire.via:
        return (put,)
    other = wire.b if side == "a" else wire.a
    zones = zone_of(job)
    start, end = (place, other.place) if side == "a" else (other.place, place)
    if (zones.get(start, ""), zones.get(end, "")) == (wire.via[0], wire.via[-1]):
        return (put,)  # the way that somebody chose leads there as well
    try:
        nature = nature_of(wire, pickups(job))
        way = best(job.zones, job.ways, nature, zones.get(start, ""), zones.get(end, ""))
    except Problem:
        way = ()
    return (put,) if way == wire.via else (put, Put(path=f"wires.{wire.id}.via", value=list(way)))


def allowance(wire: Wire, job_devices: Container[str], house: House) -> float:
    """What is added to the way itself [m]: a tail at each end, slack at each device."""
    devices = (wire.a.place in job_devices) + (wire.b.place in job_devices)
    return 2 * house.tail_m + devices * house.slack_m

"""Conductors as they lie: length, heat, bundle and neighbours taken from the plan.

A wire with a way (``via``) takes all four from it; a measured length (``fixed``) holds. A wire
without one, or whose way the plan no longer has, keeps what was typed.

References: the length of a run is that of its ways with a tail at each end and slack at each
device (house rules); of heat and bundle the worst on the way counts, as derating is by the
hottest section (IEC 60364-5-52, 523.6); spacing and run beside a neighbour add up along the way.
"""

from __future__ import annotations

import functools
import itertools
import math
from collections import Counter

import msgspec

from zombrel.harness import route
from zombrel.harness.bundle import LOOMS_MM, bundle_diameter
from zombrel.harness.conductor import outer_diameter
from zombrel.job.follow.query import chunks, made_by, query
from zombrel.job.follow.view import plain
from zombrel.job.model import Job, index
from zombrel.job.sheet import Frozen
from zombrel.job.value import Value
from zombrel.job.wiring import Neighbour, Way, Wire, Zone
from zombrel.units import rounded

STEP = 0.05
"""Lengths are cut to full steps [m]."""
CENTI = 100.0
"""They are told to the centimetre."""


def laid(job: Job) -> Job:
    """``job`` with every routed wire as it lies; the same job when none is routed."""
    return job if made_by(job, _laid_job) else _laid_job(job)


@query
def _laid_job(job: Job) -> Job:
    wires = plain(_laid_wires(job))
    job = plain(job)
    return job if wires is job.wires else msgspec.structs.replace(job, wires=wires)


AS_IT_LIES = _laid_job
"""The query behind ``laid``."""


@query
def _laid_wires(job: Job) -> tuple[Wire, ...]:
    if not job.zones or not any(w.via for w in job.wires):
        return plain(job.wires)
    some = [plain(_laid_some(job, ids)) for ids in chunks(job.wires, 25)]
    return tuple(itertools.chain.from_iterable(some))


@query
def _laid_some(job: Job, ids: tuple[str, ...]) -> tuple[Wire, ...]:
    wires, out = index(job.wires), _Plan(job)
    return tuple([_laid_wire(out, wires[key]) for key in ids])


class _Path(Value, frozen=True):
    """What all wires on one way share."""

    length_m: float
    hottest_k: float
    near: tuple[Neighbour, ...]
    """What the way passes in each of its zones."""


@query
def _path(job: Job, via: tuple[str, ...]) -> _Path | None:
    """One way through the plan; None when the plan has lost it."""
    if not route.connected(job.zones, job.ways, via):
        return None
    run = route.measure(job.zones, job.ways, "signal", via)
    zones = index(job.zones)
    near = [msgspec.structs.replace(n, zone=z) for z in via for n in zones[z].near]
    return _Path(run.length_m, run.hottest_k, tuple(near))


@query
def _shares(job: Job) -> dict[tuple[str, ...], int]:
    """For each way the most wires under load that share a step of it."""
    by_via = Counter([w.via for w in job.wires if w.carries != "signal"])
    del by_via[()]
    by_step: Counter[frozenset[str]] = Counter()
    for via, count in by_via.items():
        for step in _steps(via) if _path(job, via) is not None else ():
            by_step[step] += count
    return {via: max((by_step[step] for step in _steps(via)), default=1) for via in by_via}


@query
def device_ids(job: Job) -> frozenset[str]:
    """The ids of the devices: asked for by what looks at some wires at a time."""
    return frozenset(d.id for d in job.devices)


class _Plan:
    """The plan while some wires are laid on it: each part of it is asked for once."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.ways: dict[tuple[str, ...], _Path | None] = {(): None}

    def path(self, via: tuple[str, ...]) -> _Path | None:
        """One way; None where a wire has none, or the plan has lost it."""
        if via not in self.ways:
            self.ways[via] = _path(self.job, via)
        return self.ways[via]

    @functools.cached_property
    def devices(self) -> frozenset[str]:
        return device_ids(self.job)

    @functools.cached_property
    def shares(self) -> dict[tuple[str, ...], int]:
        return _shares(self.job)


def _laid_wire(out: _Plan, wire: Wire) -> Wire:
    path = out.path(wire.via)
    if path is None:
        return plain(wire)
    length = wire.length_m
    if not wire.fixed:
        exact = path.length_m + route.allowance(wire, out.devices, out.job.house)
        length = rounded(math.ceil(exact / STEP - 1e-9) * STEP, CENTI)
    share = out.shares[wire.via] if wire.carries != "signal" else 1
    near = path.near
    if wire.neighbours:  # its own where it still runs there, then those of the zones it crosses
        own = [n for n in wire.neighbours if not n.zone or n.zone in wire.via]
        named = {n.name for n in own}
        near = (*own, *[n for n in near if n.name not in named])
    return msgspec.structs.replace(
        plain(wire),
        length_m=length,
        over_ambient_k=path.hottest_k,
        bundle=min(max(share, 1), 60),
        neighbours=near,
    )


@functools.lru_cache(maxsize=4096)
def _steps(via: tuple[str, ...]) -> tuple[frozenset[str], ...]:
    """The ways a run uses; a run within one zone has that zone as its way."""
    if len(via) == 1:
        return (frozenset(via),)
    return tuple(frozenset(pair) for pair in itertools.pairwise(via))


class Bundle(Frozen, frozen=True, kw_only=True):
    """The wires that share one way."""

    way: str
    """Id of the way, or of the zone for runs within it."""
    a: str
    b: str
    wires: tuple[str, ...]
    diameter_mm: float
    loom_mm: float | None
    """Inner diameter of the tube; None when none is that wide."""
    length_m: float
    hole_mm: float
    fits: bool
    """It goes through the way's hole with its tube."""


@query
def bundles(job: Job) -> tuple[Bundle, ...]:
    """Every bundle of the laid job, the thickest first."""
    wires, zones, ways = job.wires, job.zones, job.ways
    by = {z.id: z for z in zones}
    held: dict[frozenset[str], list[Wire]] = {}
    for wire in wires:
        for step in _steps(wire.via) if len(wire.via) > 1 else ():
            held.setdefault(step, []).append(wire)
    found = [
        _bundle(way, held[step], by)
        for way in ways
        for step in [frozenset((way.a, way.b))]
        if step in held
    ]
    return tuple(sorted(found, key=lambda b: (-b.diameter_mm, b.way)))


def _bundle(way: Way, held: list[Wire], by: dict[str, Zone]) -> Bundle:
    across = bundle_diameter([outer_diameter(w.area_mm2) * 1000 for w in held])
    loom = next((size for size in LOOMS_MM if size >= across), None)
    # a split tube's wall and ribs add about 30 % to its bore
    outside = (loom or across) * 1.3
    return Bundle(
        way=way.id,
        a=way.a,
        b=way.b,
        wires=tuple(w.id for w in held),
        diameter_mm=across,
        loom_mm=loom,
        length_m=route.way_length(way, by),
        hole_mm=way.hole_mm,
        fits=way.hole_mm == 0 or outside <= way.hole_mm,
    )

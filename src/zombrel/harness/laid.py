"""Conductors as they lie: length, heat, bundle and neighbours taken from the plan.

A wire with a way (``via``) takes all four from it; a measured length (``fixed``) holds. A wire
without one, or whose way the plan no longer has, keeps what was typed.
"""

from __future__ import annotations

import functools
import itertools
import math
from collections import Counter
from typing import NamedTuple

import msgspec

from zombrel.harness import route
from zombrel.harness.bundle import LOOMS_MM, bundle_diameter
from zombrel.harness.conductor import outer_diameter
from zombrel.job.memo import remembered
from zombrel.job.model import House, Job
from zombrel.job.sheet import Frozen
from zombrel.job.wiring import Neighbour, Way, Wire, Zone

STEP = 0.05
"""Lengths are cut to full steps [m]."""


_LAST: list[Job] = []
"""The job laid last: laying it again would give the same, so it is given back at once."""


def laid(job: Job) -> Job:
    """``job`` with every routed wire as it lies; the same job when none is routed."""
    if _LAST and _LAST[0] is job:
        return job
    made = _laid_job(job)
    _LAST[:] = [made]
    return made


@remembered
def _laid_job(job: Job) -> Job:
    if not any(w.via for w in job.wires) or not job.zones:
        return job
    devices = _ids(tuple([d.id for d in job.devices]))
    wires = _laid(job.wires, job.zones, job.ways, job.house, devices)
    return msgspec.structs.replace(job, wires=wires)


_KEPT: dict[tuple[str, ...], frozenset[str]] = {}


def _ids(ids: tuple[str, ...]) -> frozenset[str]:
    """The same set for the same ids, so that what is remembered about wires stays good."""
    found = _KEPT.get(ids)
    if found is None:
        found = frozenset(ids)
        _KEPT.clear()
        _KEPT[ids] = found
    return found


class _Way(NamedTuple):
    """What all wires on one way share."""

    run: route.Run
    steps: tuple[frozenset[str], ...]


@remembered
def _laid(
    wires: tuple[Wire, ...],
    zones: tuple[Zone, ...],
    ways: tuple[Way, ...],
    house: House,
    devices: frozenset[str],
) -> tuple[Wire, ...]:
    by = {z.id: z for z in zones}
    taken = {
        via: _Way(route.measure(zones, ways, "signal", via), _steps(via))
        for via in {w.via for w in wires if w.via}
        if route.connected(zones, ways, via)
    }
    loaded: Counter[frozenset[str]] = Counter()
    for wire in wires:
        if wire.via in taken and wire.carries != "signal":
            loaded.update(taken[wire.via].steps)
    return tuple(
        [_one(w, taken[w.via], by, house, devices, loaded) if w.via in taken else w for w in wires]
    )


@functools.cache
def _steps(via: tuple[str, ...]) -> tuple[frozenset[str], ...]:
    """The ways a run uses; a run within one zone has that zone as its way."""
    if len(via) == 1:
        return (frozenset(via),)
    return tuple(frozenset(pair) for pair in itertools.pairwise(via))


def _one(
    wire: Wire,
    way: _Way,
    by: dict[str, Zone],
    house: House,
    devices: frozenset[str],
    loaded: Counter[frozenset[str]],
) -> Wire:
    length = wire.length_m
    if not wire.fixed:
        exact = way.run.length_m + route.allowance(wire, devices, house)
        length = round(math.ceil(exact / STEP - 1e-9) * STEP, 2)
    share = max(loaded[s] for s in way.steps) if wire.carries != "signal" else 1
    return msgspec.structs.replace(
        wire,
        length_m=length,
        over_ambient_k=way.run.hottest_k,
        bundle=min(max(share, 1), 60),
        neighbours=_neighbours(wire, by),
    )


def _neighbours(wire: Wire, by: dict[str, Zone]) -> tuple[Neighbour, ...]:
    """The wire's own where it still runs there, then those of the zones it crosses."""
    own = tuple(n for n in wire.neighbours if not n.zone or n.zone in wire.via)
    named = {n.name for n in own}
    usual = tuple(
        msgspec.structs.replace(n, zone=z)
        for z in wire.via
        for n in by[z].near
        if n.name not in named
    )
    return own + usual


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


def bundles(job: Job) -> tuple[Bundle, ...]:
    """Every bundle of the laid job, the thickest first."""
    return _bundles(job.wires, job.zones, job.ways)


@remembered
def _bundles(
    wires: tuple[Wire, ...], zones: tuple[Zone, ...], ways: tuple[Way, ...]
) -> tuple[Bundle, ...]:
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
        way=way.id, a=way.a, b=way.b, wires=tuple(w.id for w in held), diameter_mm=across,
        loom_mm=loom, length_m=route.way_length(way, by), hole_mm=way.hole_mm,
        fits=way.hole_mm == 0 or outside <= way.hole_mm,
    )  # fmt: skip

"""What each conductor of the job carries and loses.

References: drop by Ohm's law on the resistance of ``harness.conductor`` (IEC 60228); root mean
square of a pulsed load √duty × peak (definition); fuse shares from the house rules.
"""

from __future__ import annotations

import itertools
import math

from zombrel.calibrate.copper import resistance_per_m
from zombrel.harness import conductor
from zombrel.job.follow.query import chunks, query
from zombrel.job.follow.view import plain
from zombrel.job.model import House, Job, index
from zombrel.job.sheet import Frozen, InputSheet, SupplySheet
from zombrel.job.state import State
from zombrel.job.wiring import Feed, Wire
from zombrel.signals.supply import all_ends


class WireReading(Frozen, frozen=True, kw_only=True):
    """One conductor under its greatest load."""

    id: str
    amps: float
    """Greatest steady current [A]."""
    warms_a: float
    """What warms it: the root mean square of a pulsed load, else ``amps`` [A]."""
    drop_v: float
    """Drop along this conductor alone, at air temperature [V]."""
    drop: float
    """That drop as a fraction of the system voltage."""
    drop_limit: float
    ampacity: float
    """What the conductor may carry where it lies [A]."""
    fuse_a: float | None
    """The fuse that protects it; None for grounds and signals."""
    fuse_wanted: float | None
    """The fuse its load asks for."""
    fuse_limit: float | None
    """The largest fuse that still protects the thinnest wire behind the slot."""
    weakest_mm2: float
    """Thinnest copper behind that fuse."""

    @property
    def overfused(self) -> bool:
        """Its fuse lets more through than it may carry where it lies."""
        return self.fuse_a is not None and self.fuse_a > self.ampacity


def read_wire(
    wire: Wire,
    supply: SupplySheet | None,
    given: InputSheet | None,
    feed: Feed | None,
    house: House,
    ambient: float,
    volts: float,
) -> WireReading:
    """Work out one conductor; ``ambient`` outside air [K], ``volts`` the system [V]."""
    place = ambient + wire.over_ambient_k
    amps = supply.amps if supply is not None else _signal_amps(given, volts)
    carries = carried(wire, wire.area_mm2, ambient, house)
    drop_v = amps * wire.length_m * resistance_per_m(wire.area_mm2, place)
    fuse, weakest, limit_a = None, wire.area_mm2, carries
    if wire.carries == "power":
        fuse = wire.fuse_a or (feed.fuse_a if feed is not None else None)
        if wire.fuse_a is None and feed is not None and feed.wire_mm2 is not None:
            weakest = min(weakest, feed.wire_mm2)
            limit_a = min(carries, behind_slot(feed, house, ambient) or carries)
    warms = amps * math.sqrt(supply.duty) if supply is not None else amps
    wanted = conductor.fuse_for(warms, house.fuse_load) if wire.carries == "power" else None
    return WireReading(
        id=wire.id,
        amps=amps,
        drop_v=drop_v,
        drop=drop_v / volts if volts > 0 else 0.0,
        drop_limit=house.drop_signal if wire.carries == "signal" else house.drop_power,
        ampacity=carries,
        fuse_a=fuse,
        warms_a=warms,
        fuse_wanted=wanted,
        fuse_limit=conductor.largest_fuse(limit_a) if wire.carries == "power" else None,
        weakest_mm2=weakest,
    )


def insulation(wire: Wire, house: House) -> float:
    """What the insulation of a wire stands [K]: its own class, else the shop's usual."""
    return wire.good_to_k or house.conductor_max_k


def carried(wire: Wire, area_mm2: float, ambient: float, house: House) -> float:
    """What a wire may carry where it lies, were its section ``area_mm2`` [A].

    ``ambient`` outside air [K].
    """
    place = ambient + wire.over_ambient_k
    return conductor.ampacity(area_mm2, place, wire.bundle, insulation(wire, house))


@query
def read_wires(job: Job, state: State) -> tuple[WireReading, ...]:
    """Every conductor of a job, in its order; see ``read_wire``."""
    some = [plain(_read_some(job, state, ids)) for ids in chunks(job.wires, 25)]
    return tuple(itertools.chain.from_iterable(some))


@query
def _read_some(job: Job, state: State, ids: tuple[str, ...]) -> tuple[WireReading, ...]:
    wires, joined, volts = index(job.wires), all_ends(job), job.vehicle.charging_v
    found = []
    for key in ids:
        e = joined[key]
        read = read_wire(wires[key], e.supply, e.input, e.feed, job.house, state.ambient, volts)
        found.append(read)
    return tuple(found)


def _signal_amps(given: InputSheet | None, volts: float) -> float:
    """Current in a signal conductor: what the input's resistances let through [A]."""
    if given is None:
        return 0.0
    return volts / (given.pull_up_ohm or given.input_ohm)


def behind_slot(feed: Feed, house: House, ambient: float) -> float | None:
    """What the vehicle's own wire behind ``feed`` may carry [A]; None when its size is unknown."""
    if feed.wire_mm2 is None:
        return None
    return conductor.ampacity(feed.wire_mm2, ambient, 1, house.conductor_max_k)

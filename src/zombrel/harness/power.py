"""The power and ground tree: slots, fuses, inrush, studs, standby drain, alternator.

References:
    [1] ISO 8820-3: blade fuses, least time before a fuse of type C opens at multiples of its
        rating.
    [2] Time a resistor or diode holds a relay: L/R decay, any textbook of circuits.
"""

from __future__ import annotations

import itertools
import math

from zombrel.calibrate.advance import box_current
from zombrel.harness import conductor
from zombrel.harness.wire_reading import WireReading, behind_slot, read_wires
from zombrel.job.feed_classes import FEEDS
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import House, Job
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.job.wiring import Feed, Stud
from zombrel.signals.circuit.rest import at_most, lifts
from zombrel.signals.supply import Ends, all_ends
from zombrel.units.measure import area_of

OPENS_AFTER = ((1.35, 0.75), (1.6, 0.25), (2.0, 0.15), (3.5, 0.04), (6.0, 0.02))
"""(multiple of the rating, least time to open [s]) [1]."""


class FuseCheck(Frozen, frozen=True, kw_only=True):
    """Whether a fuse suits a wire and its load."""

    ok: bool
    largest_a: float | None
    """The largest standard fuse that still protects the wire."""
    carries_a: float
    reason: str


def fuse_check(
    fuse: float, area_mm2: float, ambient: float, bundle: int, load: float, house: House
) -> FuseCheck:
    """Check ``fuse`` [A] on ``area_mm2`` in ``ambient`` [K] air with ``load`` [A] behind it.

    The fuse must be no larger than the wire carries, and the load at most the house's share of it.
    """
    carries = conductor.ampacity(area_mm2, ambient, bundle, house.conductor_max_k)
    largest = conductor.largest_fuse(carries)
    wire = f"{area_of(area_mm2)} carries {carries:.1f} A there"
    if fuse > carries:
        return FuseCheck(
            ok=False,
            largest_a=largest,
            carries_a=carries,
            reason=f"{wire}: it would burn before a {fuse:g} A fuse opens.",
        )
    if load > fuse:
        return FuseCheck(
            ok=False,
            largest_a=largest,
            carries_a=carries,
            reason=f"{load:g} A of load opens a {fuse:g} A fuse.",
        )
    if load > house.fuse_load * fuse * (1 + 1e-9):
        wanted = conductor.fuse_for(load, house.fuse_load)
        more = f"; it wants {wanted:g} A" if wanted is not None else ""
        return FuseCheck(
            ok=False,
            largest_a=largest,
            carries_a=carries,
            reason=f"{load:g} A is more than {house.fuse_load * 100:.0f} % of {fuse:g} A: it opens "
            f"on a hot day{more}.",
        )
    return FuseCheck(
        ok=True,
        largest_a=largest,
        carries_a=carries,
        reason=f"{wire}; the fuse opens first and the load leaves it cool.",
    )


def holds_inrush(fuse: float, amps: float, seconds: float) -> bool:
    """A fuse stands ``amps`` for ``seconds``: shorter than the least time it opens in [1].

    Straight between the table's points in logarithms of both; below 1.35 it holds.
    """
    multiple = amps / fuse
    if multiple < OPENS_AFTER[0][0]:
        return True
    if multiple >= OPENS_AFTER[-1][0]:
        return seconds < OPENS_AFTER[-1][1] * (OPENS_AFTER[-1][0] / multiple) ** 2
    for (m0, t0), (m1, t1) in itertools.pairwise(OPENS_AFTER):
        if multiple <= m1:
            share = math.log(multiple / m0) / math.log(m1 / m0)
            return seconds < t0 * math.exp(share * math.log(t1 / t0))
    return True


class FeedReading(Frozen, frozen=True, kw_only=True):
    """One supply point with what hangs on it."""

    id: str
    ours_a: float
    """What our devices draw from it [A]."""
    total_a: float
    """With what the car hangs on it [A]."""
    carries_a: float | None
    """What the car's wire behind it may carry; None when unknown."""
    fuse_a: float | None
    weakest: str
    """The thinnest copper behind its fuse, in words."""
    standby_a: float
    """What our devices draw from it asleep [A]."""
    wires: tuple[str, ...]


class StudReading(Frozen, frozen=True, kw_only=True):
    """One ground point."""

    id: str
    rings: int
    """Ring terminals on it with ours."""
    amps: float
    """Current that returns through it [A]."""
    lift_v: float
    """How far it is lifted above battery negative [V]."""
    sensors: tuple[str, ...]
    """Our wires on it that are the reference of a sensor or a small signal."""
    wires: tuple[str, ...]


class PowerReading(Frozen, frozen=True, kw_only=True):
    """The power side of a job."""

    feeds: tuple[FeedReading, ...]
    studs: tuple[StudReading, ...]
    standby_a: float
    """What our devices add to the sleeping car [A]."""
    days: float | None
    """Days until only the reserve for starting is left; None when the battery is not known."""
    idle_load_a: float
    """Ours and the car's own at idle [A]."""
    idle_margin_a: float | None
    """What the alternator gives beyond that; None when it is not known."""


def days_to_flat(amps: float, battery_ah: float, reserve: float) -> float:
    """Days until a drain of ``amps`` leaves only the share ``reserve`` of ``battery_ah``.

    Infinite without a drain. Self-discharge and cold are left out.

    ``amps`` [A], ``battery_ah`` [A·h], ``reserve`` [share]; result [days of 24 h].
    """
    if not 0 <= reserve < 1:
        raise Problem("The share kept for starting is from 0 to below 100 %.")
    usable = battery_ah * (1 - reserve)
    return math.inf if amps <= 0 else usable / amps / 24


@query
def read_power(job: Job, state: State) -> PowerReading:
    """Feeds, studs, drain and alternator of ``job``."""
    on: dict[str, list[Loaded]] = {
        x: [] for x in (*[f.id for f in job.feeds], *[s.id for s in job.studs])
    }
    idle_a, idle = job.vehicle.own_load_a, job.vehicle.idle_rps or 0.0
    joined, readings = plain(all_ends(job)), plain(read_wires(job, state))
    for wire, r in zip(job.wires, readings, strict=True):
        e = joined[wire.id]
        a, b = wire.a.place, wire.b.place
        for place in (a, b) if a != b else (a,):
            if place in on:
                on[place].append(Loaded(wire.carries, wire.fuse_a, r, e))
        if e.supply is not None and e.feed is not None and e.supply.kind == "power":
            idle_a += _at_idle(e, idle) if "on" in FEEDS[e.feed.feed].alive else 0.0
    feeds = tuple([_feed(f, on[f.id], job.house, state.ambient) for f in job.feeds])
    lifted = lifts(job, at_most(job, state.ambient))
    studs = tuple([_stud(s, on[s.id], lifted[s.id]) for s in job.studs])
    standby = sum(s.standby_a for s in feeds)
    v = job.vehicle
    return PowerReading(
        feeds=feeds,
        studs=studs,
        standby_a=standby,
        days=None
        if v.battery_ah is None
        else days_to_flat(standby + v.sleep_a, v.battery_ah, min(job.house.start_reserve, 0.99)),
        idle_load_a=idle_a,
        idle_margin_a=None if v.alternator_idle_a is None else v.alternator_idle_a - idle_a,
    )


class Loaded(Value, frozen=True):
    """A wire at a feed or a stud."""

    carries: str
    fuse_a: float | None
    reading: WireReading
    ends: Ends


def _at_idle(e: Ends, idle: float) -> float:
    """Current of one supply pin at idle [A]: what grows with engine speed is small there."""
    assert e.supply is not None  # the caller asked
    sheet = e.device.sheet if e.device is not None else None
    if sheet is None or not sheet.full_at_rps:
        return e.supply.amps
    return min(e.supply.amps, box_current(idle, sheet.full_at_rps, e.supply.amps, sheet.rest_a))


def _feed(feed: Feed, held: list[Loaded], house: House, ambient: float) -> FeedReading:
    on = [h for h in held if h.carries == "power"]
    ours = sum(h.reading.amps for h in on)
    thin = min(
        ((h.reading.weakest_mm2, h.reading.id) for h in on if h.fuse_a is None), default=None
    )
    weakest = f"{area_of(feed.wire_mm2)}, the car's own" if feed.wire_mm2 else ""
    if thin is not None and (feed.wire_mm2 is None or thin[0] < feed.wire_mm2):
        weakest = f"{area_of(thin[0])}, {thin[1]}"
    alive = "off" in FEEDS[feed.feed].alive
    return FeedReading(
        id=feed.id,
        ours_a=ours,
        total_a=ours + feed.load_a,
        carries_a=behind_slot(feed, house, ambient),
        fuse_a=feed.fuse_a,
        weakest=weakest,
        standby_a=sum(h.ends.supply.standby_a for h in on if h.ends.supply) if alive else 0.0,
        wires=tuple(h.reading.id for h in on),
    )


def _stud(stud: Stud, on: list[Loaded], lift_v: float) -> StudReading:
    amps = stud.load_a + sum(h.reading.amps for h in on if h.carries == "ground")
    return StudReading(
        id=stud.id,
        rings=stud.rings + len(on),
        amps=amps,
        lift_v=lift_v,
        sensors=tuple(h.reading.id for h in on if h.carries == "signal"),
        wires=tuple(h.reading.id for h in on),
    )


class Suppression(Frozen, frozen=True, kw_only=True):
    """What one way of taming a relay coil does."""

    way: str
    kick_v: float
    """Voltage across the contact that lets go of the coil [V]."""
    release_ms: float
    """Added time until the current has fallen to a tenth [ms]."""


def suppressions(
    volts: float, coil_ohm: float, henry: float = 0.5, ohm: float = 680.0
) -> tuple[Suppression, ...]:
    """No suppression, a resistor across the coil, a diode across it [2].

    ``henry`` is the coil's inductance: 0.5 H for a 12 V cube relay, ASSUMED when not known. The
    bare coil is taken to swing to 350 V, where an open contact arcs (Paschen's minimum, 327 V).
    """
    current = volts / coil_ohm
    decade = math.log(10)
    return (
        Suppression(way="nothing", kick_v=350.0, release_ms=henry * current / 350.0 * 1000),
        Suppression(
            way=f"{ohm:g} Ω across the coil",
            kick_v=volts + current * ohm,
            release_ms=decade * henry / (coil_ohm + ohm) * 1000,
        ),
        Suppression(
            way="diode across the coil",
            kick_v=volts + 0.7,
            release_ms=decade * henry / coil_ohm * 1000,
        ),
    )

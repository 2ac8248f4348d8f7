"""Supply of a capacitor-discharge box: current over engine speed, volts that reach it.

References:
    [1] I = rest + (I_full − rest) · n / n_full, see ``calibrate.advance.box_current``.
    [2] Drop along power and ground wire: V = I · L · ρ/A (IEC 60028).
"""

from __future__ import annotations

from zombrel.calibrate.advance import box_current
from zombrel.calibrate.copper import resistance_per_m
from zombrel.job.model import Device, Job, index
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.signals.ground import grounds
from zombrel.signals.supply import feeds_of


class Supplied(Value, frozen=True):
    """The box at one engine speed."""

    engine: float
    """[1/s]"""
    amps: float
    drop: float
    """Lost on power and ground wire together [V]."""
    volts: float
    """What reaches the box [V]."""


def loop_ohm(job: Job, device: Device) -> float:
    """Resistance of the wires that carry the box's main current, there and back [Ω]."""
    wires, studs = index(job.wires), index(job.studs)
    feeds = feeds_of(job).get(device.id, ())
    main = max((s.pin.amps for s in feeds), default=0.0)
    there = [wires[s.wire] for s in feeds if s.pin.amps == main]
    back = [wires[w] for w in grounds(job).get(device.id, ())]
    ohm = sum(w.length_m * resistance_per_m(w.area_mm2) for w in there)
    ohm += max((w.length_m * resistance_per_m(w.area_mm2) for w in back), default=0.0)
    places = {e.place for w in back for e in (w.a, w.b)}
    return ohm + sum(studs[p].ohm for p in places if p in studs)


def supplied(job: Job, device: Device, engine: float, source_v: float) -> Supplied:
    """The box at ``engine`` [1/s] from ``source_v`` at the battery.

    Raises:
        Problem: its sheet does not say at which engine speed its current is stated.
    """
    sheet = device.sheet
    if not sheet.full_at_rps:
        raise Problem(f"{device.name}: its sheet does not say at which speed its current is.")
    full = max((s.amps for s in sheet.supplies if s.kind == "power"), default=0.0)
    amps = box_current(engine, sheet.full_at_rps, full, sheet.rest_a)
    drop = amps * loop_ohm(job, device)
    return Supplied(engine, amps, drop, source_v - drop)

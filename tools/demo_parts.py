"""What the demo jobs are put together from."""

from __future__ import annotations

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT / "src"))

from zombrel.catalog.plans import plan, take
from zombrel.catalog.sheets import shelf
from zombrel.harness.route import route_all
from zombrel.job import model as m
from zombrel.job import wiring as w
from zombrel.job.edits import Put, apply
from zombrel.job.ledger import evidence
from zombrel.job.sheet import Curve
from zombrel.units import RPM

SHEETS = {s.id: s for s in shelf()[0]}


Position = str | tuple[str, Curve]
"""Where a setting stands, and the points loaded for it."""


def device(key: str, sheet: str, settings: dict[str, Position] | None = None) -> m.Device:
    s = SHEETS[sheet]
    return m.Device(
        id=key,
        name=s.name,
        sheet=s,
        settings=tuple(
            m.Setting(pin=p, at=at[0], table=at[1])
            if isinstance(at, tuple)
            else m.Setting(pin=p, at=at)
            for p, at in (settings or {}).items()
        ),
    )


def wire(
    key: str, a: str, b: str, colour: str, carries: str, area: float, length: float, **more: object
) -> w.Wire:
    def end(text: str) -> w.End:
        place, _, pin = text.partition(".")
        return w.End(place=place, pin=pin)

    return w.Wire(
        id=key,
        a=end(a),
        b=end(b),
        colour=colour,
        carries=carries,
        area_mm2=area,
        length_m=length,
        **more,
    )


def rpm_curve(text: str) -> Curve:
    """``"1500:205, …"`` as (1/s, value)."""
    pairs = (pair.split(":") for pair in text.split(","))
    return tuple((float(n) * RPM, float(v)) for n, v in pairs)


def celsius_curve(text: str) -> Curve:
    """``"20:2500, …"`` as (K, value)."""
    pairs = (pair.split(":") for pair in text.split(","))
    return tuple((round(float(c) + 273.15, 2), float(v)) for c, v in pairs)


def planned(job: m.Job, kind: str, zones: dict[str, str]) -> m.Job:
    """The job on a shipped plan, every wire without a way given the cheapest one."""
    taken = apply(job, take(plan(kind)))
    for name in ("devices", "sources", "feeds", "studs"):
        for item in getattr(taken, name):
            if item.id in zones:
                taken = apply(taken, Put(path=f"{name}.{item.id}.zone", value=zones[item.id]))
    best = route_all(taken)
    for one in taken.wires:
        if not one.via and one.id in best:
            taken = apply(taken, Put(path=f"wires.{one.id}.via", value=list(best[one.id])))
    return taken


def known(job: m.Job, facts: tuple[tuple[str, m.Rung, str], ...], when: str) -> m.Job:
    """The job with a ledger line for each (path, rung, note)."""
    for path, rung, note in facts:
        job = apply(job, evidence(job, path, rung, note, when, "bay 1"))
    return job

"""What the demo jobs are put together from."""

from __future__ import annotations

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT / "src"))

from zombrel.catalog.sheets import shelf
from zombrel.job import model as m
from zombrel.job.edits import apply
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


def wire(key: str, a: str, b: str, colour: str, carries: str, area: float, length: float,
         **more: object) -> m.Wire:  # fmt: skip
    def end(text: str) -> m.End:
        place, _, pin = text.partition(".")
        return m.End(place=place, pin=pin)

    return m.Wire(
        id=key, a=end(a), b=end(b), colour=colour, carries=carries, area_mm2=area,
        length_m=length, **more,
    )  # fmt: skip


def rpm_curve(text: str) -> Curve:
    """``"1500:205, …"`` as (1/s, value)."""
    pairs = (pair.split(":") for pair in text.split(","))
    return tuple((float(n) * RPM, float(v)) for n, v in pairs)


def celsius_curve(text: str) -> Curve:
    """``"20:2500, …"`` as (K, value)."""
    pairs = (pair.split(":") for pair in text.split(","))
    return tuple((round(float(c) + 273.15, 2), float(v)) for c, v in pairs)


def known(job: m.Job, facts: tuple[tuple[str, m.Rung, str], ...], when: str) -> m.Job:
    """The job with a ledger line for each (path, rung, note)."""
    for path, rung, note in facts:
        job = apply(job, evidence(job, path, rung, note, when, "bay 1"))
    return job

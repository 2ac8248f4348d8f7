"""What open jobs take, what is there, what to order and by when."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Mapping, Sequence
from datetime import date, timedelta

from zombrel.book.week import WEEKEND
from zombrel.handover.tables import defused
from zombrel.harness.laid import laid
from zombrel.harness.parts_list import parts_list
from zombrel.job.model import Job
from zombrel.job.value import Value
from zombrel.units import METRIC, words

HEAD = ("kind", "part", "unit", "takes", "have", "order", "by", "jobs")


class Need(Value, frozen=True):
    """One part of one job."""

    number: str
    kind: str
    part: str
    many: float
    unit: str
    start: date | None
    """When the job begins; None when it is in no bay yet."""


class Order(Value, frozen=True):
    """One part over all open jobs."""

    kind: str
    part: str
    unit: str
    takes: float
    have: float
    order: float
    by: date | None
    """The day it must be ordered on to be there in time; None when no day is known."""
    jobs: tuple[str, ...]


def needs(job: Job, start: date | None, called: str = "") -> tuple[Need, ...]:
    """What a job takes, all of it: nobody counts the terminals that are used already."""
    return tuple(
        Need(called or job.number, p.kind, words(p.name, METRIC), p.count, p.unit or "pcs", start)
        for p in parts_list(laid(job))
    )


def orders(wanted: Sequence[Need], stock: Mapping[str, float], lead_days: int) -> tuple[Order, ...]:
    """Like parts together, what must be ordered first."""
    groups: dict[tuple[str, str, str], list[Need]] = {}
    for n in wanted:
        groups.setdefault((n.kind, n.part, n.unit), []).append(n)
    found = []
    for (kind, part, unit), held in groups.items():
        takes = math.fsum(n.many for n in held)
        have = stock.get(part, 0.0)
        lack = max(takes - have, 0.0)
        lack = math.ceil(lack * 10) / 10 if unit == "m" else float(math.ceil(lack - 1e-9))
        starts = [n.start for n in held if n.start is not None]
        by = back(min(starts), lead_days) if starts and lack else None
        jobs = tuple(dict.fromkeys(n.number for n in held))
        found.append(Order(kind, part, unit, round(takes, 2), have, lack, by, jobs))
    return tuple(sorted(found, key=lambda o: (not o.order, o.by or date.max, o.kind, o.part)))


def back(day: date, workdays: int) -> date:
    """So many working days before ``day``."""
    while workdays > 0:
        day -= timedelta(days=1)
        workdays -= day.weekday() < WEEKEND
    return day


def to_csv(found: Sequence[Order]) -> bytes:
    """The order list; text that a spreadsheet would run is defused."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEAD)
    for o in found:
        by = o.by.isoformat() if o.by else ""
        row = (o.kind, o.part, o.unit, f"{o.takes:g}", f"{o.have:g}", f"{o.order:g}", by)
        writer.writerow([defused(x) for x in (*row, " ".join(o.jobs))])
    return out.getvalue().encode()

"""What the kit holds against what the job needs, so that what is missing is known in time."""

from __future__ import annotations

import math

from zombrel.harness.parts_list import parts_list
from zombrel.job.model import Job, index
from zombrel.job.value import Value


class KitRow(Value, frozen=True):
    """One part: needed, and there."""

    id: str
    kind: str
    name: str
    unit: str
    """``m``, or empty for pieces."""
    needed: float
    """To be laid out: metres to the tenth, whole pieces."""
    have: float

    @property
    def missing(self) -> float:
        """What is still to be had."""
        return max(0.0, self.needed - self.have)


def kit_rows(job: Job) -> tuple[KitRow, ...]:
    """Every part of the job with what lies in the kit; ``job`` as its wires are laid."""
    have = index(job.kit)
    rows = []
    for p in parts_list(job):
        key = f"{p.kind}: {p.name}"
        held = have[key].count if key in have else 0.0
        rows.append(KitRow(key, p.kind, p.name, p.unit, _whole(p.count, p.unit), held))
    return tuple(rows)


def _whole(count: float, unit: str) -> float:
    return math.ceil(count * 10 - 1e-9) / 10 if unit == "m" else float(math.ceil(count - 1e-9))


def missing(job: Job) -> tuple[KitRow, ...]:
    """What the kit lacks; nothing while nobody has looked into it."""
    return tuple(r for r in kit_rows(job) if r.missing > 0) if job.kit else ()

"""Vehicle plans to begin with: zones and the ways between them."""

from __future__ import annotations

import functools

import msgspec

from zombrel.catalog import DATA
from zombrel.job.edits import Many, Put
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.job.wiring import Way, Zone


class Plan(Frozen, frozen=True, kw_only=True):
    """One kind of body."""

    id: str
    name: str
    zones: tuple[Zone, ...]
    ways: tuple[Way, ...]


@functools.cache
def plans() -> tuple[Plan, ...]:
    """The shipped plans."""
    return msgspec.json.decode((DATA / "plans.json").read_bytes(), type=tuple[Plan, ...])


def plan(key: str) -> Plan:
    """The plan called ``key``; raises Problem when there is none."""
    found = next((p for p in plans() if p.id == key), None)
    if found is None:
        raise Problem(f"There is no plan “{key}”; there are {', '.join(p.id for p in plans())}.")
    return found


def take(plan: Plan) -> Many:
    """The edit that puts a plan under a job."""
    return Many(
        edits=(
            Put(path="ways", value=[]),
            Put(path="zones", value=msgspec.to_builtins(plan.zones)),
            Put(path="ways", value=msgspec.to_builtins(plan.ways)),
        )
    )

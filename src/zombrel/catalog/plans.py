"""Vehicle plans to begin with: zones and the ways between them."""

from __future__ import annotations

import functools

import msgspec

from zombrel.catalog import DATA
from zombrel.job.edits import Add, Edit, Many, Put, Remove
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.job.wiring import Feed, Stud, Way, Zone


class Plan(Frozen, frozen=True, kw_only=True):
    """One kind of body."""

    id: str
    name: str
    zones: tuple[Zone, ...]
    ways: tuple[Way, ...]
    ground: str = ""
    """Zone of the ground stud that such a vehicle usually has."""
    battery: str = ""
    """Zone of its battery."""


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


def take_plan(job: Job, plan: Plan) -> Edit:
    """A plan under a job; a job without ground or supply gets the plan's own of each.

    They are where such vehicles usually have them: to be looked for on this one.
    """
    edits: list[Put | Add | Remove] = [*take(plan).edits]
    names = {z.id: z.name for z in plan.zones}
    if not job.studs and plan.ground:
        stud = Stud(id="G1", name=f"Ground, {names[plan.ground].lower()}", zone=plan.ground)
        edits.append(Add(path="studs", value=msgspec.to_builtins(stud)))
    if not job.feeds and plan.battery:
        post = Feed(
            id="post", name="Battery post", feed="constant", kind="battery", zone=plan.battery
        )
        edits.append(Add(path="feeds", value=msgspec.to_builtins(post)))
    return Many(edits=tuple(edits))

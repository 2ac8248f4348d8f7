"""The proof, one step a screen: what to do, what to expect, computed from the job.

By hazard: what is done without power first, then with the key on, then with the engine running;
within a kind what is quickest to reach first, all of one place together, then by minutes. Each
kind of step has its own file in ``diagnose.kinds``.

Reference: flashes counted over a rolled distance, see ``calibrate.roll`` (definition).
"""

from __future__ import annotations

import math
from collections.abc import Callable

from zombrel.calibrate.roll import roll
from zombrel.diagnose.kinds import acts, brake, counts, holds, power, retrofit, rows, sensors
from zombrel.diagnose.rests import changed_since, rests_of
from zombrel.diagnose.step import StepSheet
from zombrel.harness.laid import laid
from zombrel.harness.route import zone_of
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import Job, Proof, Rest, index
from zombrel.job.value import Value
from zombrel.signals.chain_reading import ready
from zombrel.units.measure import length_of


class Kind(Value, frozen=True):
    """One kind of step: what of a job it is about, and how one is made."""

    name: str
    keys: Callable[[Job], tuple[str, ...]]
    make: Callable[[Job, str], StepSheet]
    gates: bool = False
    """Some of its steps must pass before the road."""


KINDS: tuple[Kind, ...] = (
    Kind("plugs", power.powered, power.plugs),
    Kind("ground", power.grounded, power.ground),
    Kind("short", power.fed, power.short),
    Kind("volts", power.feeds_used, power.volts),
    Kind("off", power.switched, power.off),
    Kind("cut", acts.cut_feeds, acts.cut_feed),
    Kind("brake", brake.cancels, brake.brake, gates=True),
    Kind("hold", holds.held, holds.hold, gates=True),
    Kind("contact", holds.contacts, holds.contact_step),
    Kind("roll", counts.flashing, counts.roll),
    Kind("pump", acts.pumps, acts.pump),
    Kind("after", acts.fans, acts.fan),
    Kind("slack", acts.cables, acts.cable),
    Kind("drain", power.powered, power.drain),
    Kind("crank", power.cranked, power.crank),
    Kind("idle", counts.shown_tachs, counts.idle),
    Kind("row", rows.rows, rows.row, gates=True),
    Kind("sensor", sensors.sensed, sensors.sensor_step),
    Kind("coded", retrofit.coded, retrofit.coding),
    Kind("kept", retrofit.counting, retrofit.kept),
    Kind("timing", acts.sparked, acts.timing),
    Kind("trial", acts.trials, acts.trial),
    Kind("gap", acts.gaps, acts.gap),
    Kind("bound", acts.bounds, acts.bound),
    Kind("lift", counts.shown_speeds, counts.lift),
)
"""In the order of the work."""
_BY_NAME = {kind.name: kind for kind in KINDS}


@query
def steps(job: Job) -> tuple[StepSheet, ...]:
    """Every proof step this job needs, in the order of the work."""
    job = laid(job)
    reach = _reach(job)
    found: list[StepSheet] = []
    for kind in KINDS:
        made = [plain(kind.make(job, key)) for key in kind.keys(job)]
        found += sorted(made, key=lambda step: _order(job, step, reach))
    return tuple(found)


FAR = math.inf
"""Where nobody said how long it takes to get there."""


@query
def _reach(job: Job) -> dict[str, tuple[float, str]]:
    """Minutes [min] to open what covers each thing of the job, and its zone."""
    zones = index(job.zones)
    return {
        key: (zones[zone].access_min, zone) for key, zone in zone_of(job).items() if zone in zones
    }


def _order(
    job: Job, step: StepSheet, reach: dict[str, tuple[float, str]]
) -> tuple[float, str, float]:
    """Where the meter is held: how soon it is reached, which place, then the step's minutes."""
    about = (index(job.chains)[step.chain].device,) if step.chain else step.about
    at = next((reach[key] for key in about if key in reach), (FAR, ""))
    return (*at, 0.0 if step.table else step.minutes)  # rows keep the order of their table


@query
def gates(job: Job) -> tuple[StepSheet, ...]:
    """The steps that must pass before any road test."""
    job = laid(job)
    made = [plain(kind.make(job, key)) for kind in KINDS if kind.gates for key in kind.keys(job)]
    return tuple([step for step in made if step.gate])


@query
def count_steps(job: Job) -> int:
    """How many steps ``steps`` gives."""
    job = laid(job)
    return sum(len(kind.keys(job)) for kind in KINDS)


def expected_flashes(job: Job, step: StepSheet, distance: float) -> str:
    """What the self-test lamp should flash over ``distance`` [m], in words."""
    chain = next(c for c in job.chains if c.id == step.chain)
    sheet = index(job.devices)[chain.device].sheet.input(chain.pin)
    assert sheet is not None  # validated with the job
    rate_law = ready(job, chain.id).law
    rolled = roll(rate_law.rate / rate_law.divider, distance, sheet.pulses_per_flash)
    count = str(rolled.low) if rolled.low == rolled.high else f"{rolled.low} or {rolled.high}"
    return f"{count} in {length_of(distance)}"


def basis(job: Job, step: StepSheet) -> tuple[Rest, ...]:
    """All that ``step`` was worked out of, as it stands now."""
    return rests_of(_BY_NAME[step.kind].make, job, step.key)


def latest(job: Job, step: StepSheet) -> Proof | None:
    """The newest proof of ``step``."""
    return next((p for p in reversed(job.proofs) if p.step == step.id), None)


def standing(job: Job, step: StepSheet) -> str:
    """``passed``, ``failed``, ``stale``, ``not reached`` or ``open``."""
    proof = latest(job, step)
    if proof is None:
        return "open"
    if changed_since(job, proof):
        return "stale"
    return {"pass": "passed", "fail": "failed", "not reached": "not reached"}[proof.verdict]

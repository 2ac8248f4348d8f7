"""Cautions, shown where the work is."""

from __future__ import annotations

from typing import Literal

import msgspec

from zombrel.catalog import DATA
from zombrel.job.model import Job
from zombrel.job.sheet import Frozen
from zombrel.job.source import CoilTap

When = Literal["always", "two batteries", "airbag", "ignition", "throttle", "speed", "brake", "led"]


class Caution(Frozen, frozen=True, kw_only=True):
    """One caution: where it belongs and when it applies."""

    id: str
    stage: str
    when: When
    text: str
    short: str = ""
    """The same in a line, where there is no room; empty when the text is as short."""


def all_cautions() -> tuple[Caution, ...]:
    """Every caution in the catalogue."""
    return msgspec.json.decode((DATA / "cautions.json").read_bytes(), type=tuple[Caution, ...])


def cautions(job: Job, stage: str = "") -> tuple[Caution, ...]:
    """Cautions that apply to ``job``, for one stage or for all."""
    applies = _applying(job)
    return tuple(c for c in all_cautions() if c.when in applies and (not stage or c.stage == stage))


def _applying(job: Job) -> set[str]:
    used = {c.source for c in job.chains}
    quantities = {c.quantity for c in job.chains}
    facts: set[str] = {"always"}
    if job.vehicle.batteries > 1:
        facts.add("two batteries")
    if job.vehicle.wheel_airbag is not False:
        facts.add("airbag")
    if any(d.sheet.capacitor_discharge for d in job.devices) or any(
        isinstance(s.spec, CoilTap) and s.id in used for s in job.sources
    ):
        facts.add("ignition")
    if "brake" in quantities:
        facts |= {"brake", "throttle"}
    if "speed" in quantities:
        facts.add("speed")
    if job.vehicle.lamps == "led":
        facts.add("led")
    return facts

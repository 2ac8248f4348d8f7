"""Cross-checks of a whole job that types alone cannot make."""

from __future__ import annotations

from collections import Counter

from zombrel.job.figures import refused
from zombrel.job.model import House, Job, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import Control, InputSheet
from zombrel.job.source import BoxOutput

LIMITS = {
    "chains": 2000,
    "wires": 5000,
    "devices": 500,
    "sources": 300,
    "ledger": 50000,
    "zones": 200,
    "ways": 1000,
    "changes": 2000,
    "leads": 100,
    "hoses": 200,
    "kit": 2000,
    "terminals": 200,
    "retrofits": 50,
    "work": 5000,
    "connectors": 500,
    "feeds": 500,
    "studs": 200,
    "proofs": 5000,
    "searches": 2001,
    "road": 500,
    "wishes": 2000,
    "logs": 200,
    "compared": 50,
    "photos": 200,
    "lessons": 500,
    "met": 1000,
    "trials": 1000,
}
NAMED = (
    "devices",
    "sources",
    "chains",
    "wires",
    "feeds",
    "studs",
    "connectors",
    "zones",
    "ways",
    "changes",
    "leads",
    "hoses",
    "retrofits",
    "work",
    "searches",
    "logs",
    "compared",
    "photos",
    "lessons",
    "met",
    "trials",
)


def validate(job: Job) -> Job:
    """Return ``job`` if its parts refer to one another properly.

    Raises:
        Problem: a doubled id, a reference to nothing, or more than the tool can hold.
    """
    for check in (_not_too_many, _names, _settings, _figures, _chains, _outputs, _plan, _runs):
        check(job)
    return job


def _not_too_many(job: Job) -> None:
    for name, limit in LIMITS.items():
        if len(getattr(job, name)) > limit:
            raise Problem(f"The job has more than {limit} {name}; it cannot be opened.")


def _names(job: Job) -> None:
    for name in (*NAMED, "terminals"):
        counts = Counter(item.id for item in getattr(job, name))
        twice = [key for key, n in counts.items() if n > 1]
        if twice:
            raise Problem(f"Two {name} share the name “{twice[0]}”; rename one.")
        dotted = [key for key in counts if "." in key and name in NAMED]
        if dotted:
            raise Problem(f"“{dotted[0]}” in {name}: a name here may not contain a full stop.")


def _settings(job: Job) -> None:
    for device in job.devices:
        parts: list[InputSheet | Control] = [*device.sheet.inputs, *device.sheet.controls]
        for part in parts:
            low, high = (getattr(part.setting, end, 0.0) for end in ("low", "high"))
            if high < low:
                raise Problem(
                    f"{device.name}: the setting of {part.pin} goes from {low:g} to {high:g}; "
                    "its low end must not lie above its high end."
                )


def _figures(job: Job) -> None:
    check_figures(job.house)


def check_figures(house: House) -> None:
    """See that house rules decide only what is the shop's.

    Raises:
        Problem: another figure, or none of that name.
    """
    for rule in house.figures:
        why = refused(rule.id)
        if why:
            raise Problem(f"House rules: {why} Take it out of the list of figures.")


def _chains(job: Job) -> None:
    devices, sources, wires = index(job.devices), index(job.sources), index(job.wires)
    for chain in job.chains:
        device = devices.get(chain.device)
        if device is None:
            raise Problem(f"Chain “{chain.id}” leads to a device “{chain.device}” not in the job.")
        if device.sheet.input(chain.pin) is None:
            raise Problem(f"{device.name} has no input “{chain.pin}” (chain “{chain.id}”).")
        if chain.source not in sources:
            raise Problem(f"Chain “{chain.id}” starts at a source “{chain.source}” not in the job.")
        lost = [w for w in chain.wires if w not in wires]
        if lost:
            raise Problem(f"Chain “{chain.id}” uses a wire “{lost[0]}” not in the job.")


def _outputs(job: Job) -> None:
    devices = index(job.devices)
    for source in job.sources:
        spec = source.spec
        if isinstance(spec, BoxOutput) and spec.device not in devices:
            raise Problem(f"Source “{source.id}” is an output of “{spec.device}”, not in the job.")


def _plan(job: Job) -> None:
    zones = index(job.zones)
    for way in job.ways:
        for end in (way.a, way.b):
            if end not in zones:
                raise Problem(f"Way “{way.id}” leads to a zone “{end}” not on the plan.")


def _runs(job: Job) -> None:
    for run in job.road:
        if not len(run.t) == len(run.true) == len(run.shown):
            raise Problem(f"Road run “{run.name}” has columns of different length.")

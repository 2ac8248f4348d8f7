"""A step of the proof as a case: what was seen there, as pairs of true and shown.

References: as in ``misread.of_job``; counting resolves one in N (``calibrate.roll``).
"""

from __future__ import annotations

from collections.abc import Mapping

from zombrel.calibrate.roll import roll
from zombrel.diagnose.misread import cases, lines, of_job
from zombrel.diagnose.misread.weigh import Meter, Pair
from zombrel.diagnose.step import METER, REST_V, StepSheet
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.signals.chain_reading import ready

BY_CHAIN = ("brake", "idle", "lift", "sensor")
"""Kinds whose readings are those of a signal."""
FLASH = Meter(0.75, 0.02, 1e4, by_ratio=True)
"""Flashes that are counted while a car rolls."""


class Seen(Value, frozen=True):
    """A case, what was seen of it, and where it is looked at while nothing was."""

    case: cases.Case
    pairs: tuple[Pair, ...]
    at: tuple[float, ...]
    """True values [unit of the display]."""
    labels: tuple[str, ...]
    unit: str


def seen_of(job: Job, step: StepSheet, seen: Mapping[str, float]) -> Seen | None:
    """What was seen at ``step`` as a case; None where no reading can explain it."""
    try:
        if step.kind in BY_CHAIN:
            return _of_chain(job, step, seen)
        if step.kind == "roll":
            return _rolled(job, step, seen)
        if step.kind == "volts":
            return _supplied(job, step, seen)
        if step.kind in ("hold", "contact"):
            return _switched(job, step, seen)
    except Problem:
        return None
    return None


def _of_chain(job: Job, step: StepSheet, seen: Mapping[str, float]) -> Seen:
    case = of_job.case_of(job, step.chain)
    if step.kind == "brake":
        names = (("rest", 0.0), ("pressed", 1.0))
        pairs = tuple(Pair(true, seen[name]) for name, true in names if name in seen)
        return Seen(case, pairs, (0.0, 1.0), ("up", "down"), "V")
    fields = {f.name: f for f in step.fields}
    shown = [f for f in step.fields if f.of]
    pairs = tuple(Pair(seen[f.of], seen[f.name]) for f in shown if f.of in seen and f.name in seen)
    at = tuple(f.usual if f.by == "ratio" else (f.low + f.high) / 2 for f in shown)
    labels = tuple(fields[f.of].label.removesuffix(", true").lower() for f in shown)
    return Seen(case, pairs, at, labels, shown[0].unit if shown else "")


def _rolled(job: Job, step: StepSheet, seen: Mapping[str, float]) -> Seen:
    chain = index(job.chains)[step.chain]
    law = ready(job, chain.id).law
    sheet = index(job.devices)[chain.device].sheet.input(chain.pin)
    assert sheet is not None  # the step was made of it
    per_m = law.rate / law.divider
    usual = roll(per_m, 5.0, sheet.pulses_per_flash).flashes
    pairs = []
    if seen.get("distance", 0.0) > 0 and "flashes" in seen:
        expected = roll(per_m, seen["distance"], sheet.pulses_per_flash).flashes
        pairs.append(Pair(expected, seen["flashes"]))
    # flashes by what is expected of them: a speed whose setting is right
    sound = cases.speed_case(1000, 1000 * law.divider, law.divider, house=job.house.figures)
    case = sound.but(meter=FLASH, name=chain.title)
    return Seen(case, tuple(pairs), (usual,), ("",), "flashes")


def _supplied(job: Job, step: StepSheet, seen: Mapping[str, float]) -> Seen:
    volts = REST_V * job.vehicle.system_v / 12
    there = [f for f in step.fields if f.name in seen]
    case = cases.supply_case(max(len(there or step.fields), 1), volts, job.house.figures)
    pairs = tuple(Pair(volts, seen[f.name]) for f in there)
    labels = tuple(f.label for f in there or step.fields)
    return Seen(case, pairs, tuple(volts for _ in labels), labels, "V")


def _switched(job: Job, step: StepSheet, seen: Mapping[str, float]) -> Seen:
    off, on = (f.high - 2 * METER if f.low > 0 else 0.0 for f in step.fields)
    line = lines.Contact(off, on)
    case = cases.contact_case(line, job.house.figures)
    names = (("off", 0.0), ("on", 1.0))
    pairs = tuple(Pair(true, seen[name]) for name, true in names if name in seen)
    return Seen(case, pairs, (0.0, 1.0), ("off", "on"), "V")


def explained(job: Job, step: StepSheet, seen: Mapping[str, float]) -> cases.Answer | None:
    """What explains what was seen at ``step``; None where nothing can tell."""
    found = seen_of(job, step, seen)
    return None if found is None else cases.answer(found.case, found.pairs)

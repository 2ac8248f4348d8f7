"""Calculations that need a whole job."""

from __future__ import annotations

import math
from pathlib import Path

from zombrel.behaviour.suppose import USUAL, named
from zombrel.calc.registry import Param, Result, calc
from zombrel.catalog import DEMO
from zombrel.findings.about import about
from zombrel.findings.assess import assess
from zombrel.findings.finding import Finding
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, group
from zombrel.job.state import State
from zombrel.signals.chain_reading import ChainReading
from zombrel.signals.finder import candidates
from zombrel.store.zjob import load
from zombrel.units import KMH, RPM, Units, words
from zombrel.units.measure import value_in

NUMBERS = ("0412", "0413", "0409")
"""Shipped jobs that may be called by their number."""


def open_job(text: str) -> Job:
    """The job at a path; ``demo`` is the shipped one, ``demo-0413`` or ``0413`` another."""
    path = Path(text)
    if text == "demo" or text.startswith("demo-"):
        return load(DEMO / f"{text.partition('-')[2] or '0412'}.zjob")
    if text in NUMBERS and not path.exists():
        return load(DEMO / f"{text}.zjob")
    return load(path)


def _finding(job: Job, f: Finding, rank: int) -> Result:
    """A finding as data, its sentences in km/h and per km; ``rank`` 1 is the first to settle."""
    return {
        "id": f.id,
        "rule": f.rule,
        "level": f.level,
        "rank": rank,
        "harm": f.harm,
        "stage": f.stage,
        "about": list(about(job, f)),
        "title": words(f.title, Units()),
        "text": words(f.text, Units()),
        "mends": [words(m.label, Units()) for m in f.mends],
    }


def state_of(job: Job, name: str, calc_name: str) -> State:
    """A named state of a job's vehicle; raises Problem for another name."""
    states = dict(named(job.vehicle))
    if name not in states:
        raise Problem(f"{calc_name}: there is no state “{name}”; there are {', '.join(states)}.")
    return states[name]


@calc(
    "assess",
    "readings and findings of a job",
    [
        Param("job", "job file, or demo", "text"),
        Param("state", "named state of the vehicle", "text", USUAL),
    ],
    "chains findings stages",
)
def assess_job(job: str, state: str) -> Result:
    """Assess a job file in one named state."""
    tree = open_job(job)
    assessment = assess(tree, state_of(tree, state, "assess"))
    chains = []
    for r in assessment.chains:
        chains.append({"id": r.id, "status": r.status or r.problem, **shown_in_units(r)})
    return {
        "chains": chains,
        "findings": [_finding(tree, f, i) for i, f in enumerate(assessment.findings, 1)],
        "stages": {s.stage: s.words for s in assessment.stages},
    }


def shown_in_units(r: ChainReading) -> Result:
    """What a chain shows and what is true, with the unit in each key."""
    if r.sense is not None:
        return _sensed(r)
    if r.contact is not None:
        return {"true_on": bool(r.true), "seen_on": bool(r.shown), "right": r.contact.right}
    if group(r.quantity) == "rate":
        factor, unit = (KMH, "kmh") if r.quantity == "speed" else (RPM, "rpm")
        return {
            f"true_{unit}": r.true / factor,
            f"shown_{unit}": r.shown / factor if math.isfinite(r.shown) else None,
            "source_hz": r.source_hz,
            "device_hz": r.device_hz,
            f"counts_from_{unit}": r.start / factor if math.isfinite(r.start) else None,
            f"counts_to_{unit}": r.stop / factor,
        }
    if r.brake is not None:
        return {"rest_volts": r.brake.rest_v, "sure_cancel": r.brake.sure}
    return {}


KEYS = {
    "temperature": "c",
    "pressure": "kpa",
    "volume": "l",
    "fraction": "pct",
    "voltage": "v",
    "gear": "gear",
    "lambda": "lambda",
}
"""Units of sensed quantities as keys carry them."""


def _sensed(r: ChainReading) -> Result:
    """A sensor chain as data, in °C, kPa, litres or per cent."""
    kind = QUANTITIES[r.quantity].kind  # type: ignore[index]
    key = KEYS[kind]
    how = r.sense
    assert how is not None  # the caller asked
    return {
        f"true_{key}": value_in(kind, r.true, Units()),
        f"shown_{key}": value_in(kind, r.shown, Units()) if math.isfinite(r.shown) else None,
        "pin_volts": how.pin_v if math.isfinite(how.pin_v) else None,
        "ground_lift_volts": how.lift_v,
    }


@calc(
    "find-source",
    "every source for an input, ranked, with reasons",
    [
        Param("job", "job file, or demo", "text"),
        Param("input", "DEVICE.INPUT, by the device's id or name", "text"),
    ],
    "ranked",
)
def find_source(job: str, input: str) -> Result:
    """Candidates for an input, the best first; conditioning and reasons in words."""
    tree = open_job(job)
    where, _, pin = input.partition(".")
    device = next((d for d in tree.devices if where in (d.id, d.name)), None)
    if device is None:
        names = ", ".join(d.id for d in tree.devices) or "none"
        raise Problem(f"find-source: there is no device “{where}” in the job; there are {names}.")
    sheet = device.sheet.input(pin)
    if sheet is None:
        pins = ", ".join(i.pin for i in device.sheet.inputs) or "none"
        raise Problem(f"find-source: {device.name} has no input “{pin}”; it has {pins}.")
    ranked = []
    for c in candidates(tree, device, sheet):
        reasons = [*c.reasons, *([f"loses because of {c.loses}"] if c.loses else [])]
        ranked.append(
            {
                "source": c.source,
                "name": c.name,
                "score": round(c.score, 1),
                "possible": c.possible,
                "conditioning": list(c.conditioning),
                "setting": c.setting,
                "reasons": [words(r, Units()) for r in reasons],
                "rejected": [f"{r.way}: {words(r.why, Units())}" for r in c.rejected],
            }
        )
    return {"ranked": ranked}

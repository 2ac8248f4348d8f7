"""Calculations that need a whole job."""

from __future__ import annotations

import math
from pathlib import Path

from zombrel.behaviour.suppose import USUAL, named
from zombrel.calc.registry import Param, Result, calc
from zombrel.catalog import DEMO
from zombrel.findings.assess import assess
from zombrel.findings.model import Finding
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store.zjob import load
from zombrel.units import KMH, RPM, Units, words


def open_job(text: str) -> Job:
    """The job at a path; ``demo`` is the shipped one."""
    return load(DEMO / "0412.zjob" if text == "demo" else Path(text))


def _finding(f: Finding) -> Result:
    """A finding as data, its sentences in km/h and per km."""
    return {
        "id": f.id,
        "level": f.level,
        "title": words(f.title, Units()),
        "text": words(f.text, Units()),
        "mends": [m.label for m in f.mends],
    }


@calc(
    "assess",
    "readings and findings of a job",
    [Param("job", "job file, or demo", "text"),
     Param("state", "named state of the vehicle", "text", USUAL)],
    "chains findings stages",
)  # fmt: skip
def assess_job(job: str, state: str) -> Result:
    """Assess a job file in one named state."""
    tree = open_job(job)
    states = dict(named(tree.vehicle))
    if state not in states:
        raise Problem(f"assess: there is no state “{state}”; there are {', '.join(states)}.")
    got = assess(tree, states[state])
    chains = []
    for r in got.chains:
        factor, unit = (KMH, "kmh") if r.quantity == "speed" else (RPM, "rpm")
        row: Result = {"id": r.id, "status": r.status or r.problem}
        if r.quantity != "brake":
            row |= {
                f"true_{unit}": r.true / factor,
                f"shown_{unit}": r.shown / factor if math.isfinite(r.shown) else None,
                "source_hz": r.source_hz,
                "device_hz": r.device_hz,
                f"counts_from_{unit}": r.start / factor if math.isfinite(r.start) else None,
                f"counts_to_{unit}": r.stop / factor,
            }
        elif r.brake is not None:
            row |= {"rest_volts": r.brake.rest_v, "sure_cancel": r.brake.sure}
        chains.append(row)
    return {
        "chains": chains,
        "findings": [_finding(f) for f in got.findings],
        "stages": {s.stage: s.words for s in got.stages},
    }  # fmt: skip

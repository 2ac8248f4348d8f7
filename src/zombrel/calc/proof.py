"""The proof of a job as data: its steps, and how each stands."""

from __future__ import annotations

import math

from zombrel.behaviour.suppose import usual
from zombrel.calc.job import open_job
from zombrel.calc.registry import Param, Result, calc
from zombrel.diagnose.gates import road_gate
from zombrel.diagnose.step import Field, StepSheet
from zombrel.diagnose.steps import standing, steps
from zombrel.findings.assess import assess
from zombrel.findings.finding import Assessment
from zombrel.findings.legs import legs, sign_lacks
from zombrel.job.model import Job
from zombrel.units import Units, words

STATES = {"open": "not tried", "not reached": "not tried"}


@calc(
    "steps",
    "the proof steps of a job, in their order, with what each must show",
    [Param("job", "job file, or demo", "text")],
    "steps engine_lock road_lock",
)
def proof_steps(job: str) -> Result:
    """Every step of a job file, and what is shut."""
    tree = open_job(job)
    seen = assess(tree, usual(tree.vehicle))
    return {
        "steps": [_step(tree, s, seen) for s in steps(tree)],
        "engine_lock": words(seen.engine_lock, Units()),
        "road_lock": words(seen.road_lock, Units()),
    }


def _step(job: Job, step: StepSheet, seen: Assessment) -> Result:
    why = step.blocked or (seen.engine_lock if step.running else "")
    state = standing(job, step)
    state = STATES.get(state, state)
    if why and state != "passed":
        state = "blocked"
    return {
        "id": step.id,
        "kind": step.kind,
        "gate": step.gate,
        "blocked": words(why, Units()),
        "state": state,
        "about": list(step.about),
        "fields": [_field(f) for f in step.fields],
        "short": step.short,
        "ask": words(step.ask, Units()),
        "caution": step.caution,
        "running": step.running,
        "minutes": step.minutes,
        "needs": step.needs,
        "otherwise": step.otherwise,
        "leaves": words(step.leaves, Units()),
    }


def _field(field: Field) -> Result:
    low_ohm, high_ohm = field.ohms
    felt = {
        "ohm_low": low_ohm if math.isfinite(low_ohm) else None,
        "ohm_high": high_ohm if math.isfinite(high_ohm) else None,
    }
    return {
        "label": field.label,
        "low": field.low if math.isfinite(field.low) else None,
        "high": field.high if math.isfinite(field.high) else None,
        "unit": field.unit,
        "expect": words(field.expect, Units()),
        "given": field.given,
        "yes": field.yes,
        **(felt if field.pull_ohm else {}),
    }


@calc(
    "road-legs",
    "the legs of a job's road test in their order, how each stands, and what the sign-off lacks",
    [Param("job", "job file, or demo", "text")],
    "legs road_lock sign_lacks signed",
)
def road_legs(job: str) -> Result:
    """The road sheet of a job file."""
    tree = open_job(job)
    found = legs(tree)
    return {
        "legs": [
            {
                "id": leg.sheet.id,
                "short": leg.sheet.short,
                "ask": words(leg.sheet.ask, Units()),
                "expect": words(leg.sheet.where, Units()),
                "state": leg.state,
                "said": words(leg.said, Units()),
                "wait": words(leg.wait, Units()),
            }
            for leg in found
        ],
        "road_lock": words(road_gate(tree), Units()),
        "sign_lacks": words(sign_lacks(tree, found), Units()),
        "signed": tree.outing.signed,
    }

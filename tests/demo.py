"""The demo job, whole and mended, for every test that needs a real one."""

from __future__ import annotations

import functools

import msgspec

from tools.bench.synthetic import mended
from zombrel.behaviour.suppose import named
from zombrel.catalog import DEMO
from zombrel.diagnose.record import prove
from zombrel.diagnose.steps import steps
from zombrel.findings.assess import assess
from zombrel.findings.finding import Assessment
from zombrel.findings.settle import settle
from zombrel.job.edits import Add, Many, Put, Remove, apply
from zombrel.job.model import Job
from zombrel.job.state import State
from zombrel.store.zjob import load


@functools.cache
def demo() -> Job:
    """Job 0412 with its planted troubles, without its photo, whose file lies beside the job."""
    return msgspec.structs.replace(load(DEMO / "0412.zjob"), photos=())


@functools.cache
def whole() -> Job:
    """Job 0412 with every finding settled that an edit can settle."""
    return mended()


@functools.cache
def proven() -> Job:
    """The mended demo with every step passed."""
    return _passed(whole())


@functools.cache
def handed() -> Job:
    """The demo settled in every named state, and every step passed: it may go."""
    return _passed(settle(whole())[0])


def _passed(job: Job) -> Job:
    for step in steps(job):
        seen = {f.name: (f.low + f.high) / 2 for f in step.fields}
        job = apply(job, prove(job, step, "pass", seen, "seen", "today"))
    return job


def state(job: Job, name: str = "70 on the flat") -> State:
    """A named state of a job's vehicle."""
    return dict(named(job.vehicle))[name]


def found(job: Job, name: str = "70 on the flat") -> dict[str, object]:
    """Findings of a job by id."""
    return {f.id: f for f in assess(job, state(job, name)).findings}


def at(job: Job, name: str = "70 on the flat") -> Assessment:
    """The assessment of a job in a named state."""
    return assess(job, state(job, name))


def put(job: Job, path: str, value: object) -> Job:
    """``job`` with one fact changed."""
    return apply(job, Put(path=path, value=value))


__all__ = [
    "Add",
    "Many",
    "Put",
    "Remove",
    "apply",
    "at",
    "demo",
    "found",
    "proven",
    "put",
    "state",
    "whole",
]

"""Times taken on the shop's jobs, kept beside the preferences: they feed the next estimate."""

from __future__ import annotations

import contextlib
from pathlib import Path

import msgspec

from zombrel.intake.file import take
from zombrel.intake.record import record
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.wiring import Work
from zombrel.store.atomic import set_aside, write_atomically
from zombrel.store.prefs import data_root

MOST_JOBS = 500
MAX_BYTES = 16_000_000


def times_file() -> Path:
    """Where they are kept."""
    return data_root() / "times.json"


def load_times() -> dict[str, tuple[Work, ...]]:
    """Timed tasks by job number; nothing when there are none or the file is damaged."""
    try:
        return read_times()
    except Problem:
        return {}


def read_times() -> dict[str, tuple[Work, ...]]:
    """Timed tasks by job number; raises Problem naming a file that is damaged."""
    file = times_file()
    if not file.exists():
        return {}
    return record(take(file, MAX_BYTES, "file of times"), dict[str, tuple[Work, ...]], str(file))


def of_others(job: Job) -> tuple[Work, ...]:
    """What was timed on every other job of the shop."""
    return tuple(w for key, held in load_times().items() if key != _key(job) for w in held)


def keep_times(job: Job) -> str:
    """Note what was timed on ``job``; what was noted for it before is replaced.

    Called when the job is saved, so that an undone tick is never learned from. Made-up sample jobs
    teach nothing, and a disk that cannot be written costs nothing but the times. A damaged file is
    set aside; the result is a sentence that says so, else empty.
    """
    timed = tuple(w for w in job.work if w.state == "done" and w.minutes and w.planned)
    if job.synthetic or not _key(job):
        return ""
    said = ""
    try:
        held = read_times()
    except Problem as problem:
        held, said = {}, f"The shop's times start anew: {problem} {set_aside(times_file())}"
    if held.get(_key(job), ()) == timed:
        return said
    held.pop(_key(job), None)
    if timed:
        held[_key(job)] = timed
    kept = dict(list(held.items())[-MOST_JOBS:])
    with contextlib.suppress(OSError, Problem):
        times_file().parent.mkdir(parents=True, exist_ok=True)
        write_atomically(times_file(), msgspec.json.encode(kept))
    return said


def _key(job: Job) -> str:
    return f"{job.number} {job.title}".strip()

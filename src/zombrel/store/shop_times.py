"""Times taken on the shop's jobs, kept beside the preferences: they feed the next estimate."""

from __future__ import annotations

from pathlib import Path

import msgspec

from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.wiring import Work
from zombrel.store.atomic import write_atomically
from zombrel.store.prefs import data_root

MOST_JOBS = 500


def times_file() -> Path:
    """Where they are kept."""
    return data_root() / "times.json"


def load_times() -> dict[str, tuple[Work, ...]]:
    """Timed tasks by job number; nothing when there are none or the file is damaged."""
    try:
        return msgspec.json.decode(times_file().read_bytes(), type=dict[str, tuple[Work, ...]])
    except (OSError, msgspec.DecodeError):
        return {}


def of_others(job: Job) -> tuple[Work, ...]:
    """What was timed on every other job of the shop."""
    return tuple(w for key, held in load_times().items() if key != _key(job) for w in held)


def keep_times(job: Job) -> None:
    """Note what was timed on ``job``; what was noted for it before is replaced.

    Called when the job is saved, so that an undone tick is never learned from. Made-up sample jobs
    teach nothing, and a disk that cannot be written costs nothing but the times.
    """
    timed = tuple(w for w in job.work if w.state == "done" and w.minutes and w.planned)
    if job.synthetic or not _key(job):
        return
    held = load_times()
    if held.get(_key(job), ()) == timed:
        return
    held.pop(_key(job), None)
    if timed:
        held[_key(job)] = timed
    kept = dict(list(held.items())[-MOST_JOBS:])
    try:
        times_file().parent.mkdir(parents=True, exist_ok=True)
        write_atomically(times_file(), msgspec.json.encode(kept))
    except (OSError, Problem):
        return


def _key(job: Job) -> str:
    return f"{job.number} {job.title}".strip()

"""Sealed hand-overs: kept by the hash of what is in them, carried by the job, read back whole."""

from __future__ import annotations

import hashlib
import zlib

from zombrel.findings.seals import content
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.records.outing import Seal
from zombrel.store import log_files
from zombrel.store.zjob import job_of


def keep(job: Job) -> str:
    """Keep the job as it is now: its hash, by which it is found again.

    Raises:
        Problem: nowhere to keep it.
    """
    return log_files.keep_bytes(content(job))


def sealed(seal: Seal) -> Job:
    """The job as it was sealed.

    Raises:
        Problem: it is no longer here, or is not what the seal names.
    """
    name = f"the hand-over of {seal.when}"
    with log_files.opened(seal.content, name) as path:
        data = path.read_bytes()
    if hashlib.sha256(data).hexdigest() != seal.content:
        raise Problem(f"What is kept as {name} is not what was sealed: it is damaged.")
    try:
        return job_of(data, name)
    except zlib.error:
        raise Problem(f"What is kept as {name} is damaged.") from None

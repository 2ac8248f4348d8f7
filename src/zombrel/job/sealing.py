"""What a seal is of: all that a job says, always in the same order, and its hash."""

from __future__ import annotations

import hashlib

import msgspec

from zombrel.job.model import Job


def content(job: Job) -> bytes:
    """All of a job but its seals, as JSON with its fields in order."""
    return msgspec.json.encode(msgspec.structs.replace(job, seals=()), order="sorted")


def hash_of(job: Job) -> str:
    """SHA-256 of ``content``: two jobs of one hash say the same."""
    return hashlib.sha256(content(job)).hexdigest()


def seal_on(job: Job) -> str:
    """The hash under which the job was signed off as it is now; empty where it was not."""
    found = hash_of(job) if job.seals else ""
    return found if any(x.content == found for x in job.seals[-1:]) else ""

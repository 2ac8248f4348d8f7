"""Records of what was done: drives, proofs and probed leads taken out of a job."""

from __future__ import annotations

from zombrel.job.edits import Edit, Many, Remove
from zombrel.job.model import Job, RoadRun
from zombrel.job.wiring import Lead


def remove_run(run: RoadRun) -> Edit:
    """A drive with its log."""
    return Remove(path=f"road.{run.id}")


def forget_proofs(job: Job, step: str) -> Edit | None:
    """All that was seen at a step, as if it had never been tried; None where nothing was."""
    gone = tuple(Remove(path=f"proofs.{p.id}") for p in job.proofs if p.step == step)
    return Many(edits=gone) if gone else None


def remove_lead(lead: Lead) -> Edit:
    """A lead's pin-out with all that was probed of it."""
    return Remove(path=f"leads.{lead.id}")

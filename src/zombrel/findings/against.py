"""What stands against handing a job over."""

from __future__ import annotations

from zombrel.diagnose.gates import road_gate
from zombrel.findings.finding import Assessment
from zombrel.job.model import Job


def against(job: Job, assessment: Assessment) -> tuple[str, ...]:
    """The gate that is shut, and every *trouble* that is open, in words with tokens."""
    gate = road_gate(job)
    troubles = tuple(f"{f.title}." for f in assessment.findings if f.level == "trouble")
    return ((gate,) if gate else ()) + troubles

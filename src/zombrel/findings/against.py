"""What stands against handing a job over."""

from __future__ import annotations

from zombrel.behaviour.suppose import named
from zombrel.diagnose.gates import road_gate
from zombrel.findings.assess import assess
from zombrel.findings.finding import Assessment
from zombrel.job.model import Job


def against(job: Job, assessment: Assessment) -> tuple[str, ...]:
    """The gate that is shut, and every *trouble* that is open, in words with tokens.

    Troubles of every named state count, not only of the one that is supposed now: who drives it
    away comes to all of them.
    """
    gate = road_gate(job)
    judged = (assessment, *(assess(job, state) for _, state in named(job.vehicle)))
    titles: dict[str, str] = {}
    for found in judged:
        for f in found.findings:
            if f.level == "trouble":
                titles.setdefault(f.id, f"{f.title}.")
    return ((gate,) if gate else ()) + tuple(titles.values())

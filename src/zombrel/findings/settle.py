"""Settle a job: take every edit that is offered, until none is left.

For scripts and checks. A person takes them one by one, because some of them state what was seen.
"""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.behaviour.suppose import named
from zombrel.findings.assess import assess
from zombrel.harness.missing import draw
from zombrel.job.edits import Edit, apply
from zombrel.job.follow.query import aside
from zombrel.job.model import Job
from zombrel.job.validate import validate

MOST = 400
"""So many edits at most: a job that has not come to rest then goes round in a circle."""


def _offered(job: Job) -> Iterator[tuple[str, Edit]]:
    """What each finding of any named state offers first, the worst first; with its title."""
    for _, state in named(job.vehicle):
        for finding in assess(job, state).findings:
            edit = next((m.edit for m in finding.mends if m.edit is not None), None)
            if edit is not None:
                yield finding.title, edit


def settle(job: Job) -> tuple[Job, tuple[str, ...]]:
    """``job`` with every offered edit taken, and what was settled, in that order.

    Missing wires and grounds are drawn first. An edit that would lead back to a job that was met
    before is left out.
    """
    said: list[str] = []
    met = [job]
    with aside():
        while len(said) < MOST:
            drawn = draw(job)
            offers = [("Draw what is missing", drawn)] if drawn is not None else _offered(job)
            made = ((title, validate(apply(job, edit))) for title, edit in offers)
            title, after = next(((t, j) for t, j in made if j not in met), ("", job))
            if not title:
                break
            job = after
            met.append(job)
            said.append(title)
    return job, tuple(said)

"""Estimates that learn from what work really took.

Reference: a geometric mean of actual over planned, shrunk toward 1 by ``PRIOR`` imagined jobs that
went as planned (a normal prior on the logarithm; e.g. Gelman, *Bayesian Data Analysis*, §2.5).
"""

from __future__ import annotations

import math

from zombrel.job.wiring import Work

PRIOR = 2.0
WIDEST = 4.0
"""One mad figure moves an estimate no further than this factor."""


Factors = dict[str, tuple[float, int]]


def factors(work: tuple[Work, ...]) -> Factors:
    """For each kind of work: what its catalogue figure is multiplied by, and from how many."""
    logs: dict[str, list[float]] = {}
    for task_done in work:
        if task_done.state == "done" and task_done.minutes and task_done.planned:
            ratio = min(max(task_done.minutes / task_done.planned, 1 / WIDEST), WIDEST)
            logs.setdefault(task_done.kind, []).append(math.log(ratio))
    return {k: (math.exp(sum(v) / (len(v) + PRIOR)), len(v)) for k, v in logs.items()}

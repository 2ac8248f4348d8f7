"""Estimates that learn from what work really took, and how far they may miss.

References:
    [1] A geometric mean of actual over planned, shrunk toward 1 by ``PRIOR`` imagined jobs that
        went as planned (a normal prior on the logarithm; e.g. Gelman, *Bayesian Data Analysis*,
        §2.5).
    [2] Sums of lognormal figures by their first two moments: Fenton, *IRE Trans. Commun. Syst.* 8
        (1960).
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from zombrel.job.wiring import Work

PRIOR = 2.0
WIDEST = 4.0
"""One mad figure moves an estimate no further than this factor."""
FEWEST = 3
"""From fewer timed tasks a spread is not told."""
SPREAD = 0.35
"""Natural logarithm of how far one task misses its estimate, until the shop has timed enough
(ASSUMED: a third either way)."""
COMMON = 0.5
"""Of that scatter's square, how much all tasks of a job share: the same hands, the same car
(ASSUMED)."""
EIGHT_OF_TEN = 1.2816
"""Standard deviations of a normal figure that eight of ten lie within."""


Factors = dict[str, tuple[float, int]]


def factors(work: tuple[Work, ...]) -> Factors:
    """For each kind of work: what its catalogue figure is multiplied by, and from how many."""
    logs: dict[str, list[float]] = {}
    for task_done in work:
        if task_done.state == "done" and task_done.minutes and task_done.planned:
            logs.setdefault(task_done.kind, []).append(_miss(task_done.minutes, task_done.planned))
    return {k: (math.exp(sum(v) / (len(v) + PRIOR)), len(v)) for k, v in logs.items()}


def _miss(took: float, planned: float) -> float:
    """Logarithm of what a task took over what was planned for it."""
    return math.log(min(max(took / planned, 1 / WIDEST), WIDEST))


class Range(NamedTuple):
    """An estimate with how far it may miss."""

    middle: float
    low: float
    high: float
    """[min]; in eight of ten."""
    many: int
    """Of timed tasks behind it."""


def expected(
    minutes: Sequence[float], timed: Iterable[tuple[float, float]], between: float = 0.0
) -> Range:
    """Tasks that are estimated at ``minutes`` [min]: how far all of them together may miss [2].

    Each misses by a factor whose logarithm scatters as it did before: ``timed`` are (took, planned)
    [min] of tasks that are done. ``COMMON`` of that is one for the whole job. What lies ``between``
    the tasks [min], ways and battery, is taken as it is.
    """
    logs = [_miss(took, planned) for took, planned in timed if took and planned]
    scatter = statistics.pstdev(logs) if len(logs) >= FEWEST else SPREAD
    total = math.fsum(minutes)
    if not total:
        return Range(0.0, 0.0, 0.0, len(logs))
    own = math.fsum(m * m for m in minutes) / (total * total)
    variance = scatter**2 * (COMMON + (1 - COMMON) * own)
    reach = math.exp(EIGHT_OF_TEN * math.sqrt(variance))
    return Range(total + between, total / reach + between, total * reach + between, len(logs))

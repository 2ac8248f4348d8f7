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

from zombrel.job.value import Value
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
    for kind, took, planned in timed(work):
        logs.setdefault(kind, []).append(_miss(took, planned))
    return {k: (math.exp(math.fsum(v) / (len(v) + PRIOR)), len(v)) for k, v in logs.items()}


def timed(work: Iterable[Work]) -> list[tuple[str, float, float]]:
    """(kind, minutes it took, minutes planned) of every task that is done and was timed [min]."""
    return [
        (w.kind, w.minutes, w.planned)
        for w in work
        if w.state == "done" and w.minutes and w.planned
    ]


def _miss(took: float, planned: float) -> float:
    """Logarithm of what a task took over what was planned for it."""
    return math.log(min(max(took / planned, 1 / WIDEST), WIDEST))


FORMULA = (
    f"eight of ten: the tasks × and ÷ e^({EIGHT_OF_TEN:.2f} · s), s the scatter of ln(took ÷ "
    f"planned), of whose square {COMMON:g} is one for the whole job"
)
"""``expected`` in a line."""


class Range(Value, frozen=True):
    """An estimate with how far it may miss."""

    middle: float
    low: float
    high: float
    """[min]; in eight of ten."""
    many: int
    """Of timed tasks behind it."""
    scatter: float
    """Of the logarithm of what one task takes over its estimate."""


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
        return Range(0.0, 0.0, 0.0, len(logs), scatter)
    own = math.fsum(m * m for m in minutes) / (total * total)
    variance = scatter**2 * (COMMON + (1 - COMMON) * own)
    reach = math.exp(EIGHT_OF_TEN * math.sqrt(variance))
    low, high = total / reach + between, total * reach + between
    return Range(total + between, low, high, len(logs), scatter)

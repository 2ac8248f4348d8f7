"""Several signals of one device that read wrong: one cause for all of them, or one each.

Ground, supply, reference and the unit of the display are shared; what lifts one lifts all, by the
same. One shared cause is one coincidence, one cause each are several.

Reference: as in ``misread.weigh``; the unknown that signals share is integrated out once.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from zombrel.diagnose.misread.cases import Case
from zombrel.diagnose.misread.weigh import Cause, Pair, Rival, log_likelihood, weighed
from zombrel.job.value import Value

SHARED: tuple[Cause, ...] = ("ground-offset", "open-ground", "supply-low", "unit-mix")
"""What signals of one device can have in common."""
MOST = 120
"""Values of what is shared that are tried."""


class Seen(Value, frozen=True):
    """One signal and what was seen of it."""

    case: Case
    pairs: tuple[Pair, ...]


def common(lines: Sequence[Seen]) -> dict[Cause, float]:
    """How likely one cause of each kind is behind all ``lines`` of a device at once [1].

    What is left of one is for causes of their own, nothing the matter included.
    """
    seen = [line for line in lines if line.pairs]
    if len(seen) < len((0, 1)):
        return {}
    logs = {cause: _shared(seen, cause) for cause in SHARED}
    logs = {cause: log for cause, log in logs.items() if math.isfinite(log)}
    apart = sum(_own(line) for line in seen)
    top = max([apart, *logs.values()])
    weights = {cause: math.exp(log - top) for cause, log in logs.items()}
    total = sum(weights.values()) + math.exp(apart - top)
    return {cause: w / total for cause, w in weights.items()}


def _total(case: Case) -> float:
    return sum(r.prior for r in case.rivals) + case.none


def _form(case: Case, cause: Cause) -> Rival | None:
    """The form of a cause that has an unknown to share; None where there is none."""
    return next((r for r in case.rivals if r.cause == cause and r.scatter is None), None)


def _shared(lines: Sequence[Seen], cause: Cause) -> float:
    """ln of prior times evidence of one cause behind all; -inf where a line cannot have it."""
    forms = [_form(line.case, cause) for line in lines]
    found = [f for f in forms if f is not None]
    if len(found) < len(lines):
        return -math.inf
    widest = max(found, key=lambda f: len(f.grid))
    step = max(len(widest.grid) // MOST, 1)
    grid = widest.grid[::step]
    total = sum(w for _, w in grid)
    logs = [
        math.log(w / total)
        + sum(
            log_likelihood(f, u, line.pairs, line.case.meter)
            for f, line in zip(found, lines, strict=True)
        )
        for u, w in grid
        if w > 0
    ]
    best = max(logs)
    if not math.isfinite(best):
        return -math.inf
    prior = sum(f.prior / _total(line.case) for f, line in zip(found, lines, strict=True))
    evidence = best + math.log(sum(math.exp(x - best) for x in logs))
    return math.log(prior / len(lines)) + evidence


def _own(line: Seen) -> float:
    """ln of the evidence of a line by itself, whatever is the matter with it or nothing."""
    found = weighed(line.case.rivals, line.pairs, line.case.meter, line.case.none)
    every = sum(w.rival.prior * w.evidence for w in found)
    return math.log(max(every / _total(line.case), 1e-300))

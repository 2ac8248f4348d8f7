"""Rivals weighed by what was seen: Bayes' rule, with what is not known of each integrated out.

Each rival predicts what would be shown, for every value that its unknown may have. What nothing
explains has a rival of its own, that predicts every reading alike: it wins where all others are
worse than a guess.

References:
    [1] Bayes' rule with parameters marginalised over a grid (Sivia, Skilling, *Data Analysis*,
        2nd ed., ch. 2 and 4).
    [2] Rivals of equal evidence cannot be told apart by it: they share alike (principle of
        indifference, ibid., ch. 1).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence

from zombrel.job.value import Value

Cause = str
"""One of ``CAUSES``, or two of them with ``AND`` between."""
CAUSES = (
    "pulses-setting",
    "cylinders-setting",
    "ground-offset",
    "open-ground",
    "wrong-curve",
    "missing-pull-up",
    "double-pull-up",
    "weak-pull-up",
    "swapped-pair",
    "reversed-pair",
    "supply-low",
    "unit-mix",
    "divider-missing",
    "divider-doubled",
    "noise-counts",
    "drop-outs",
    "dead",
    "hot-side",
    "dirty-contact",
    "none-of-these",
    "sound",
)
"""What can be behind a reading; "sound": nothing."""
AND = " + "
SAME = 0.5
"""Predictions apart by less than so much of the meter's error are the same."""
FEW = 12
"""A rival that can only show so many things is told apart by them, not by how it is graded."""
TINY = 1e-9
"""No reading is known better than that [unit of the display]."""
LEAST = 1e-12
"""Weights below are none."""


class Pair(Value, frozen=True):
    """What was true and what was shown, in the unit of the display."""

    true: float
    shown: float


class Meter(Value, frozen=True):
    """How well a reading is known: the larger of both, taken together as root of squares."""

    least: float
    """Always at least this [unit of the display]."""
    share: float
    """And this share of what is predicted."""
    span: float
    """What such a display can show at all, end to end [unit]; for a guess."""
    by_ratio: bool = False
    """A guess is as likely in every octave, not in every unit."""
    apart: float = 0.0
    """How far off another reading could be taken [unit of the display]; 0: it could not."""

    def sigma(self, predicted: float, wide: float = 1.0) -> float:
        """Standard deviation of a reading of ``predicted`` [unit of the display]."""
        return max(wide * math.hypot(self.least, self.share * predicted), TINY)

    def guess(self, shown: float) -> float:
        """Density of a reading that nothing explains [1/unit]."""
        if not self.by_ratio:
            return 1 / self.span
        at = max(abs(shown), 10 * self.least)
        return 1 / (at * math.log(self.span / self.least))


class Rival(Value, frozen=True):
    """One cause: what it would show for each value of its unknown."""

    cause: Cause
    prior: float
    grid: tuple[tuple[float, float], ...]
    """(value of the unknown, its share); the shares add up to one."""
    shows: Callable[[float, float], float]
    """(unknown, true) → shown, in the unit of the display."""
    words: Callable[[float], str]
    """What is the matter, with the unknown."""
    mend: Callable[[float], str]
    """What to do about it."""
    wide: float = 1.0
    """Readings scatter so many times more under it."""
    scatter: tuple[float, float] | None = None
    """Each reading lies anywhere between these shares of what it shows."""
    by_place: Callable[[float, int, float], float] | None = None
    """(unknown, which reading, true) → shown, where each reading is of another pin."""

    two: Callable[[float], tuple[float, float]] | None = None
    """Of a pair: both unknowns."""

    def predicts(self, unknown: float, place: int, true: float) -> float:
        """What would be shown [unit of the display]."""
        if self.by_place is not None:
            return self.by_place(unknown, place, true)
        return self.shows(unknown, true)


class Weighed(Value, frozen=True):
    """A rival with its share of all, and the likeliest value of its unknown."""

    rival: Rival
    share: float
    unknown: float
    evidence: float


def even(values: Iterable[float]) -> tuple[tuple[float, float], ...]:
    """Every value as likely."""
    found = list(values)
    return tuple((v, 1 / len(found)) for v in found)


def spread(low: float, high: float, count: int = 60) -> tuple[tuple[float, float], ...]:
    """``count`` values between two ends, every octave as likely [unit of the ends]."""
    step = (high / low) ** (1 / (count - 1))
    return even(low * step**i for i in range(count))


def linear(low: float, high: float, count: int = 60) -> tuple[tuple[float, float], ...]:
    """``count`` values between two ends, every one as likely [unit of the ends]."""
    return even(low + (high - low) * i / (count - 1) for i in range(count))


def away(grid: Iterable[tuple[float, float]], octave: float) -> tuple[tuple[float, float], ...]:
    """Of a grid of ratios, those further than ``octave`` from one [ln]; as even as before."""
    return even(u for u, _ in grid if abs(math.log(u)) > octave)


def weighed(
    rivals: Sequence[Rival], pairs: Sequence[Pair], meter: Meter, none: float
) -> list[Weighed]:
    """Rivals with their shares after what was seen [1], the likeliest first.

    ``none`` is the prior [1] of what nothing explains; its share comes last of the rivals given.
    """
    found = []
    for rival in rivals:
        evidence, best, value = 0.0, -math.inf, rival.grid[0][0]
        for unknown, weight in rival.grid:
            log = log_likelihood(rival, unknown, pairs, meter)
            evidence += weight * math.exp(log)
            if log > best:
                best, value = log, unknown
        found.append((rival, evidence, value))
    guess = math.prod(meter.guess(p.shown) for p in pairs)
    nothing = Rival(
        "none-of-these",
        none,
        ((0.0, 1.0),),
        lambda u, t: t,
        lambda u: "None of these",
        lambda u: "Another meter first, then a like device; kept open until a test speaks.",
    )
    found.append((nothing, guess, 0.0))
    return _shared(found, pairs, meter)


def log_likelihood(rival: Rival, unknown: float, pairs: Sequence[Pair], meter: Meter) -> float:
    """ln of how likely ``pairs`` are under a rival with this unknown [ln of 1/unit a reading].

    At least -600, so that a prior never loses against no number at all.
    """
    log = 0.0
    for i, pair in enumerate(pairs):
        predicted = rival.predicts(unknown, i, pair.true)
        if not math.isfinite(predicted):
            return -math.inf
        if rival.scatter is not None:
            low, high = (share * predicted for share in rival.scatter)
            if not low <= pair.shown <= high or high <= low:
                return -math.inf
            log -= math.log(high - low)
            continue
        sigma = meter.sigma(predicted, rival.wide)
        z = (pair.shown - predicted) / sigma
        log += -0.5 * z * z - math.log(sigma * math.sqrt(2 * math.pi))
    return max(log, -600.0)


def _shared(
    found: list[tuple[Rival, float, float]], pairs: Sequence[Pair], meter: Meter
) -> list[Weighed]:
    """Posterior shares; those that predict the same readings share alike [2]."""
    weights = [rival.prior * evidence for rival, evidence, _ in found]
    for group in _alike(found, pairs, meter) if pairs else ():
        mean = sum(weights[i] for i in group) / len(group)
        for i in group:
            weights[i] = mean
    total = sum(weights) or 1.0
    shares = [w / total for w in weights]
    out = [
        Weighed(rival, share, value, evidence)
        for (rival, evidence, value), share in zip(found, shares, strict=True)
    ]
    return sorted(out, key=lambda w: -w.share)


def _alike(
    found: list[tuple[Rival, float, float]], pairs: Sequence[Pair], meter: Meter
) -> list[list[int]]:
    """Which predict the same readings: those seen, and others that could be taken.

    What can only show few things is not put beside what can show anything: that a setting is off by
    just the count of the divider would be chance.
    """
    groups: list[tuple[tuple[bool, bool], list[float], list[int]]] = []
    for i, (rival, evidence, value) in enumerate(found[:-1]):
        if evidence <= LEAST or rival.scatter is not None or rival.cause == "sound":
            continue
        few = (len(rival.grid) <= FEW, AND in rival.cause)
        shown = [rival.predicts(value, k, true) for k, true in _places(pairs, meter)]
        for of_few, other, group in groups:
            if of_few == few and all(
                abs(a - b) <= SAME * meter.sigma(b) for a, b in zip(shown, other, strict=True)
            ):
                group.append(i)
                break
        else:
            groups.append((few, shown, [i]))
    return [group for _, _, group in groups if len(group) > 1]


def _places(pairs: Sequence[Pair], meter: Meter) -> list[tuple[int, float]]:
    """(which, true) of the readings seen, and of one below and one above each."""
    seen = [(k, p.true) for k, p in enumerate(pairs)]
    if meter.apart:
        seen += [(k, p.true + way * meter.apart) for k, p in enumerate(pairs) for way in (-1, 1)]
    return seen

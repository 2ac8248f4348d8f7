"""Inputs coded by a resistor: from known pairs to the part for a wanted value.

The input is taken to be a pull-up to a reference and a converter, the value linear in the
divider's volts: V = Vr · R/(R + P), value = a + b·V. Three pairs fix P, a and b; two leave P open,
and give a wide band.

Reference: voltage divider; the line through (V, value) is least squares for each P, and P is
the one with the least residual.
"""

from __future__ import annotations

import math

import msgspec

from zombrel.calibrate import preferred
from zombrel.job.pairs import Pairs, falling_or_rising
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen

LEAST = 2
"""With fewer known pairs nothing can be said."""
ENOUGH = 3
"""Known pairs that fix pull-up, offset and slope."""
USUAL_OHM = (1000.0, 10000.0, 100000.0)
"""A pull-up where two pairs leave it open: least, usual and greatest [Ω]: ASSUMED."""

LOWEST, HIGHEST = 10.0, 1e7
"""Pull-ups that are looked for [Ω]."""


class Law(Frozen, frozen=True, kw_only=True):
    """The input as it was found to be."""

    pull_up: float
    """[Ω]"""
    vref: float
    """[V]"""
    a: float
    """Value at 0 V, in the unit of the pairs."""
    b: float
    """Value per volt."""
    worst: float
    """Greatest distance of a pair from the law, in the unit of the pairs."""
    others: tuple[Law, ...] = ()
    """Laws that fit as well, where the pairs are too few to tell."""

    @property
    def open(self) -> bool:
        """Another pair must be measured to know it."""
        return bool(self.others)

    def value(self, ohm: float) -> float:
        """What the input makes of ``ohm`` [Ω]."""
        return self.a + self.b * self.vref * ohm / (ohm + self.pull_up)

    def ohm(self, value: float) -> float:
        """The resistance [Ω] for ``value``; raises Problem when no resistor gives it."""
        volts = (value - self.a) / self.b
        if not 0 < volts < self.vref:
            low, high = sorted((self.value(0.0), self.a + self.b * self.vref))
            raise Problem(
                f"No resistor gives {value:g}: from a short to an open it goes "
                f"from {low:.4g} to {high:.4g}."
            )
        return self.pull_up * volts / (self.vref - volts)


class Part(Frozen, frozen=True, kw_only=True):
    """A resistor one can buy and what it gives."""

    ohm: float
    value: float
    low: float
    """Least and greatest value within the part's tolerance."""
    high: float


def learn(pairs: Pairs, vref: float) -> Law:
    """The law behind pairs of (Ω, value).

    Raises:
        Problem: fewer than three pairs, or pairs no divider makes.
    """
    if len(pairs) < LEAST:
        raise Problem("Two pairs of ohms and value are needed at least; three know the pull-up.")
    if any(ohm <= 0 for ohm, _ in pairs):
        raise Problem("A resistance must be above 0 Ω.")
    if vref <= 0:
        raise Problem("The reference must be above 0 V.")
    falling_or_rising(pairs, "known resistors")
    if len(pairs) < ENOUGH:
        least, usual, most = (_through(pairs, vref, ohm) for ohm in USUAL_OHM)
        return msgspec.structs.replace(usual, others=(least, most))
    steps = 240
    grid = [LOWEST * (HIGHEST / LOWEST) ** (k / steps) for k in range(steps + 1)]
    losses = [_line(pairs, vref, p)[2] for p in grid]
    best = min(range(len(grid)), key=losses.__getitem__)
    low, high = math.log(grid[max(best - 1, 0)]), math.log(grid[min(best + 1, steps)])
    pull_up = math.exp(_golden(pairs, vref, low, high))
    if not LOWEST * 1.05 < pull_up < HIGHEST / 1.05:
        raise Problem("No pull-up between 10 Ω and 10 MΩ explains these pairs; measure again.")
    return _through(pairs, vref, pull_up)


def _through(pairs: Pairs, vref: float, pull_up: float) -> Law:
    """The law of a known pull-up [Ω]."""
    a, b, _ = _line(pairs, vref, pull_up)
    law = Law(pull_up=pull_up, vref=vref, a=a, b=b, worst=0.0)
    worst = max(abs(law.value(ohm) - value) for ohm, value in pairs)
    return Law(pull_up=pull_up, vref=vref, a=a, b=b, worst=worst)


def _line(pairs: Pairs, vref: float, pull_up: float) -> tuple[float, float, float]:
    """(a, b, sum of squared residuals) of the line through (volts, value)."""
    volts = [vref * ohm / (ohm + pull_up) for ohm, _ in pairs]
    values = [value for _, value in pairs]
    n = len(pairs)
    v0, y0 = math.fsum(volts) / n, math.fsum(values) / n
    spread = math.fsum((v - v0) ** 2 for v in volts)
    if spread <= 0:
        return y0, 0.0, math.inf
    b = math.fsum((v - v0) * (y - y0) for v, y in zip(volts, values, strict=True)) / spread
    a = y0 - b * v0
    return a, b, math.fsum((a + b * v - y) ** 2 for v, y in zip(volts, values, strict=True))


def _golden(pairs: Pairs, vref: float, low: float, high: float) -> float:
    """Golden-section search for the least residual over ln P."""
    ratio = (math.sqrt(5) - 1) / 2
    for _ in range(90):
        one, two = high - ratio * (high - low), low + ratio * (high - low)
        losses = [_line(pairs, vref, math.exp(x))[2] for x in (one, two)]
        if losses[0] < losses[1]:
            high = two
        else:
            low = one
    return (low + high) / 2


def part(law: Law, target: float, series: preferred.Series, tolerance: float) -> Part:
    """The part of a series whose value comes nearest ``target``; ``tolerance`` a fraction.

    ``target`` [the coded value's unit], ``tolerance`` [share]; the part's resistance [Ω].
    """
    if not 0 <= tolerance < 1:
        raise Problem("A tolerance lies between 0 and 100 %.")
    wanted = law.ohm(target)
    ohm = min(preferred.around(series, wanted), key=lambda r: abs(law.value(r) - target))
    parts = (ohm * (1 - tolerance), ohm * (1 + tolerance))
    ends = [one.value(r) for one in (law, *law.others) for r in parts]
    return Part(ohm=ohm, value=law.value(ohm), low=min(ends), high=max(ends))

"""Rolling the car by hand: what a self-test lamp will show, and what it can prove.

Reference: a counter shows whole pulses, so n of them stand for n to n + 1 (the ± 1 count of any
counter; Horowitz, Hill, *The Art of Electronics*, 3rd ed., ch. 10 and 15).
"""

from __future__ import annotations

import math

from zombrel.job.sheet import Frozen

WHOLE = 1e-9
"""So near a whole number it is one."""


class Roll(Frozen, frozen=True, kw_only=True):
    """Flashes over a rolled distance."""

    flashes: float
    """Mean number of flashes."""
    low: int
    high: int
    """Whole flashes that may be seen: where the first tooth stood is not known."""
    distance_for_1pct: float
    """Distance over which one flash more or less is 1 % [m]."""


def roll(pulses_per_m: float, distance: float, pulses_per_flash: float) -> Roll:
    """Flashes for ``distance`` [m]; counting resolves one in N, so 1 % needs 100 flashes."""
    flashes = pulses_per_m * distance / pulses_per_flash
    nearest = round(flashes)
    exact = abs(flashes - nearest) < WHOLE
    return Roll(
        flashes=flashes,
        low=nearest if exact else math.floor(flashes),
        high=nearest if exact else math.ceil(flashes),
        distance_for_1pct=100 * pulses_per_flash / pulses_per_m,
    )

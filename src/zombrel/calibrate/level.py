"""Level senders: from resistance to how full the tank is.

Reference: definition; a sender moved in steps is read by straight lines between the steps.
"""

from __future__ import annotations

from zombrel.job.pairs import Pairs, between, falling_or_rising
from zombrel.job.problem import Problem


def fraction(ohm: float, empty: float, full: float) -> float:
    """How full a tank is from ``ohm`` [Ω]; not held to 0…1, either way round."""
    if empty == full:
        raise Problem("Empty and full have the same ohms; the sender would say nothing.")
    return (ohm - empty) / (full - empty)


def by_steps(steps: Pairs) -> Pairs:
    """(Ω, volume) ascending in Ω from steps of (volume, Ω) filled one by one.

    Raises:
        Problem: two volumes at one resistance, or a sender that turns back.
    """
    falling_or_rising(steps, "tank steps")
    return tuple(sorted((ohm, volume) for volume, ohm in steps))


def volume(ohm: float, steps: Pairs) -> float:
    """Volume at ``ohm`` [Ω] from steps of (volume, Ω), in their unit; the ends beyond them."""
    return between(by_steps(steps), ohm)


def resistance(filled: float, steps: Pairs) -> float:
    """Resistance [Ω] at a volume from steps of (volume, Ω)."""
    return between(steps, filled)

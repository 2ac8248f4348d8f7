"""Cylinder-specific leads: do their lengths and the firing order fit the way the harness lies?

Cylinder 1 is at the front. A lead reaches from where the harness enters to its cylinder, so along
one bank the lengths grow, or fall, by the cylinder spacing. A harness laid the other way round
puts cylinder k's spark on cylinder n + 1 − k.

Reference: straight-line least squares for the offset, any textbook.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen

FEWEST = 2
"""One cylinder has no order."""
LONGEST = 1e5
"""No lead is longer, in any unit."""
TURN = 360
"""Degrees of a crank turn."""


class Leads(Frozen, frozen=True, kw_only=True):
    """What the lengths say."""

    orientation: Literal["as marked", "turned round", "unclear"]
    verdict: str
    as_marked_mm: float
    """Root-mean-square misfit of the lengths when lead k goes to cylinder k [mm]."""
    turned_mm: float
    """The same when lead k goes to cylinder n + 1 − k."""
    fires: tuple[int, ...]
    """Cylinders in the order they would really fire."""


def parse_order(text: str) -> tuple[int, ...]:
    """``"1-5-3-6-2-4"`` as numbers; raises Problem when a cylinder is missing or doubled."""
    parts = text.replace(",", "-").replace(" ", "-").split("-")
    try:
        order = tuple(int(p) for p in parts if p)
    except ValueError:
        raise Problem(f"A firing order is written 1-5-3-6-2-4, not “{text}”.") from None
    if len(order) < FEWEST or sorted(order) != list(range(1, len(order) + 1)):
        raise Problem(
            f"“{text}” is no firing order: each cylinder from 1 to {len(order)} once, please."
        )
    return order


def _misfit(lengths: Sequence[float], wanted: Sequence[float]) -> float:
    """RMS misfit [mm] with the best constant offset."""
    gaps = [a - b for a, b in zip(lengths, wanted, strict=True)]
    mean = sum(gaps) / len(gaps)
    return math.sqrt(sum((g - mean) ** 2 for g in gaps) / len(gaps))


def same_cycle(a: Sequence[int], b: Sequence[int]) -> bool:
    """Two orders are one, begun at another cylinder."""
    twice = list(a) * 2
    return any(twice[i : i + len(b)] == list(b) for i in range(len(a)))


def judge_leads(
    lengths: Sequence[float],
    order: tuple[int, ...],
    from_front: bool = True,
    pitch: float = 95.0,
    wired: tuple[int, ...] | None = None,
) -> Leads:
    """Which way round a harness lies, from its lead lengths [mm].

    Args:
        lengths: of the leads marked 1, 2, … [mm].
        order: firing order of the engine.
        from_front: the harness enters at the front of the engine.
        pitch: spacing of the cylinders along the engine [mm].
        wired: order in which the outputs fire the leads, when it was seen.

    Raises:
        Problem: not one lead for each cylinder, or a length that cannot be.
    """
    n = len(order)
    if len(lengths) != n:
        raise Problem(f"{len(lengths)} lead lengths for {n} cylinders; give one for each.")
    if any(not 0 < length < LONGEST for length in lengths):
        raise Problem("Each lead length is above 0 mm.")
    if wired is not None and len(wired) != n:
        raise Problem(f"The outputs are wired for {len(wired)} cylinders, the engine has {n}.")
    reach = [pitch * (k if from_front else n - 1 - k) for k in range(n)]
    here, turned = _misfit(lengths, reach), _misfit(lengths, reach[::-1])
    leads = wired or order
    if abs(here - turned) < 0.1 * pitch:
        return Leads(
            orientation="unclear",
            as_marked_mm=here,
            turned_mm=turned,
            fires=leads,
            verdict="The lengths fit both ways alike: trace one lead by continuity before fitting.",
        )
    right = here < turned
    fires = leads if right else tuple(n + 1 - k for k in leads)
    return Leads(
        orientation="as marked" if right else "turned round",
        verdict=_verdict(right, fires, order),
        as_marked_mm=here,
        turned_mm=turned,
        fires=fires,
    )


def _verdict(right: bool, fires: tuple[int, ...], order: tuple[int, ...]) -> str:
    said = "-".join(map(str, fires))
    lies = (
        "The lead lengths fit the marks"
        if right
        else "The lead lengths fit only with the harness turned round: lead 1 reaches the last "
        "cylinder"
    )
    if not same_cycle(order, fires):
        return f"{lies}. It would fire {said}, and the engine wants {'-'.join(map(str, order))}."
    if fires.index(order[0]) == 0:
        return f"{lies}, and it fires {said} as it should."
    n = len(order)
    late = fires.index(order[0]) * 720 // n
    note = (
        "; a wasted-spark engine runs so all the same, a sequential one does not"
        if late == TURN
        else ""
    )
    return f"{lies}. The order is right but begins {late}° late: it fires {said}{note}."

"""Cylinder-specific leads: do their lengths and the firing order fit the way the harness lies?

A lead reaches from where the harness enters to its cylinder, so along each bank the lengths grow,
or fall, by the cylinder spacing; how far the harness is from a bank is that bank's own. A harness
laid the other way round puts the spark of a cylinder on the one that stands where it would after
half a turn of the engine: in line n + 1 − k, in a V or flat engine in the other bank.

Reference: straight-line least squares for the offset, any textbook.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from typing import Literal

from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.units.measure import short_of

FEWEST = 2
"""One cylinder has no order."""
LONGEST = 1e5
"""No lead is longer, in any unit."""
TURN = 360
"""Degrees of a crank turn."""
TWO_BANKS = 2
STRAYS = 0.5
"""A lead off by more of a cylinder spacing is of another cylinder."""


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
    odd: tuple[int, ...] = ()
    """Leads whose length does not go with the others."""
    fits: bool | None = None
    """It lies right and fires right; None where the lengths cannot tell."""


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


Banks = tuple[tuple[int, ...], ...]
"""Cylinders of each bank from the front."""


def parse_banks(text: str, count: int, layout: str) -> Banks:
    """``"1,3,5;2,4,6"`` as the cylinders of each bank from the front; in line, one bank.

    Raises:
        Problem: a V or flat engine whose banks are not said, or a cylinder missing or doubled.
    """
    if not text.strip():
        if layout == "inline":
            return (tuple(range(1, count + 1)),)
        raise Problem(
            f"Of a {layout} engine it must be said which cylinders stand in each bank, from the "
            "front: such as 1,3,5;2,4,6 or 1,2,3;4,5,6."
        )
    try:
        banks = tuple(
            tuple(int(n) for n in re.split(r"[,\s-]+", part.strip()) if n)
            for part in text.split(";")
        )
    except ValueError:
        raise Problem(f"Banks are written 1,3,5;2,4,6, not “{text}”.") from None
    said = sorted(n for bank in banks for n in bank)
    if said != list(range(1, count + 1)) or (layout == "inline" and len(banks) != 1):
        raise Problem(f"“{text}”: each cylinder from 1 to {count} once, in its bank, please.")
    if layout != "inline" and len(banks) != TWO_BANKS:
        raise Problem(f"A {layout} engine has two banks, with a semicolon between: 1,3,5;2,4,6.")
    return banks


def _misfits(lengths: Sequence[float], wanted: Sequence[float], bank: Sequence[int]) -> list[float]:
    """How far each lead is off [mm], with the best offset for each bank."""
    off = [0.0] * len(lengths)
    for b in set(bank):
        mine = [i for i in range(len(lengths)) if bank[i] == b]
        gaps = [lengths[i] - wanted[i] for i in mine]
        middle = sum(gaps) / len(gaps)
        for i, gap in zip(mine, gaps, strict=True):
            off[i] = gap - middle
    return off


def _rms(off: Sequence[float]) -> float:
    return math.sqrt(sum(x * x for x in off) / len(off))


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
    banks: Banks = (),
) -> Leads:
    """Which way round a harness lies, from its lead lengths [mm].

    Args:
        lengths: of the leads marked 1, 2, … [mm].
        order: firing order of the engine.
        from_front: the harness enters at the front of the engine.
        pitch: spacing of the cylinders along the engine [mm].
        wired: order in which the outputs fire the leads, when it was seen.
        banks: cylinders of each bank from the front; in line where nothing is said.

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
    here, there, other = _both_ways(lengths, banks or (tuple(range(1, n + 1)),), from_front, pitch)
    fit, turned = _rms(here), _rms(there)
    turns = bool(other)
    leads = wired or order
    if turns and abs(fit - turned) < 0.1 * pitch:
        return Leads(
            orientation="unclear",
            as_marked_mm=fit,
            turned_mm=turned,
            fires=leads,
            verdict="The lengths fit both ways alike: trace one lead by continuity before fitting.",
        )
    right = not turns or fit < turned
    fires = leads if right else tuple(other[k] for k in leads)
    off = here if right else there
    odd = tuple(k for k in range(1, n + 1) if abs(off[k - 1]) > STRAYS * pitch)
    return Leads(
        orientation="as marked" if right else "turned round",
        verdict=_odd_words(odd, off) + _verdict(right, fires, order),
        as_marked_mm=fit,
        turned_mm=turned,
        fires=fires,
        odd=odd,
        fits=right and not odd and same_cycle(order, fires),
    )


def _both_ways(
    lengths: Sequence[float], banks: Banks, from_front: bool, pitch: float
) -> tuple[list[float], list[float], dict[int, int]]:
    """How far each lead is off [mm] as marked and turned round; and who stands where then.

    The last is empty where banks of unlike length cannot be turned.
    """
    far = max(len(bank) for bank in banks) - 1
    at = {k: (b, i) for b, bank in enumerate(banks) for i, k in enumerate(bank)}
    reach = {k: pitch * (i if from_front else far - i) for k, (_, i) in at.items()}
    every = sorted(at)
    here = _misfits(lengths, [reach[k] for k in every], [at[k][0] for k in every])
    if len({len(bank) for bank in banks}) > 1:
        return here, here, {}
    other = {k: banks[len(banks) - 1 - b][far - i] for k, (b, i) in at.items()}
    turned = [other[k] for k in every]
    there = _misfits(lengths, [reach[k] for k in turned], [at[k][0] for k in turned])
    return here, there, other


def _odd_words(odd: Sequence[int], off: Sequence[float]) -> str:
    """Leads whose length does not go with the others."""
    if not odd:
        return ""
    said = ", ".join(f"{k} ({short_of(abs(off[k - 1]) / 1000)} off)" for k in odd)
    return f"Lead {said}: its length is another cylinder’s, trace it by continuity. Else: "


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

"""Diameters of bundles and the loom that covers them.

References:
    [1] Graham, Lubachevsky, Nurmela, Östergård, *Congruent circles packed in a circle*,
        Discrete Mathematics 181 (1998): ratio of outer to inner diameter for n circles.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from zombrel.job.problem import Problem
from zombrel.units.measure import short_of

TWO = 2
"""Two wires lie side by side, whatever their packing."""

PACKED = (1.0, 2.0, 2.1547, 2.4142, 2.7013, 3.0, 3.0, 3.3048, 3.6131, 3.8130, 3.9238, 4.0296)
"""Outer over inner diameter for 1 to 12 equal wires [1]."""
HAND = 1.18
"""Bundle over root-sum-square for more wires, laid by hand: 13 to 37 packed best are 1.11 to 1.18
[1]."""
LOOMS_MM = (4.5, 7.5, 8.5, 10.0, 13.0, 17.0, 19.0, 22.0, 26.0, 29.0, 37.0, 50.0)
"""Inner diameters of split corrugated tube [mm], the usual trade sizes."""


def bundle_diameter(diameters: Sequence[float]) -> float:
    """Diameter of a round bundle of wires, in the unit of ``diameters``.

    Exact for one and two wires and for up to twelve alike [1]; otherwise the root of the sum of
    squares times the packing ratio of as many equal wires, never less than the thicker of them
    alone would take.

    Raises:
        Problem: no wires, or one without thickness.
    """
    if not diameters or any(not d > 0 for d in diameters):
        raise Problem("A bundle needs one diameter or more, each above nothing.")
    thick = sorted(diameters, reverse=True)
    best = sum(thick[:2])
    squares = list(itertools.accumulate([d * d for d in thick]))
    for n, (total, packed) in enumerate(zip(squares, PACKED, strict=False), 1):
        if n != TWO:
            best = max(best, packed / math.sqrt(n) * math.sqrt(total))
    return best if len(squares) <= len(PACKED) else max(best, HAND * math.sqrt(squares[-1]))


def loom_size(bundle_mm: float) -> float:
    """The smallest tube [mm] that takes a bundle.

    Raises:
        Problem: thicker than any tube.
    """
    fits = next((size for size in LOOMS_MM if size >= bundle_mm - 1e-9), None)
    if fits is None:
        raise Problem(
            f"A bundle of {short_of(bundle_mm / 1000)} is thicker than any tube "
            f"({short_of(LOOMS_MM[-1] / 1000)}); "
            "split it in two."
        )
    return fits

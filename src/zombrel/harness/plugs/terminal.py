"""Whether a terminal takes a wire, and which of its family or of another does.

References: sections and sheaths are those of the terminal's own record; the least pull force as in
``harness.joint`` (IEC 60352-2, table 1).
"""

from __future__ import annotations

import math
from typing import NamedTuple

from zombrel.harness.conductor import outer_diameter
from zombrel.harness.joint import pull_force
from zombrel.harness.plugs.terminals import TERMINALS, Terminal
from zombrel.job.problem import Problem


class Fit(NamedTuple):
    """How a wire goes with a terminal."""

    fits: bool
    terminal: Terminal
    why: str
    """What does not fit; empty when all does."""
    nearest: Terminal | None
    """The nearest that takes that wire, where this one does not."""
    pull_n: float
    """What the crimp must hold [N]."""


def family_of(name: str) -> tuple[Terminal, ...]:
    """The terminals of a family.

    Raises:
        Problem: there is no such family; the text names those there are.
    """
    found = tuple(t for t in TERMINALS if t.family.casefold() == name.strip().casefold())
    if not found:
        every = ", ".join(dict.fromkeys(t.family for t in TERMINALS))
        raise Problem(f"There is no terminal family “{name}”; there are {every}.")
    return found


def fit(family: str, area_mm2: float, insulation_mm: float = 0.0, plating: str = "") -> Fit:
    """The terminal of ``family`` for a wire, or the nearest that would take it.

    Args:
        family: name of a terminal family.
        area_mm2: section of the wire [mm²].
        insulation_mm: diameter over its sheath [mm]; 0: a thin-wall one of that section.
        plating: of the terminal it mates with; empty: not looked at.

    Raises:
        Problem: no such family, or a section outside the table of pull forces.
    """
    sheath = insulation_mm or 1000 * outer_diameter(area_mm2)
    of_family = family_of(family)
    wanted = [t for t in of_family if not plating or t.plating == plating] or list(of_family)
    best = min(wanted, key=lambda t: (_off(t, area_mm2, sheath), t.plating != "tin", t.size_mm))
    why = _why(best, area_mm2, sheath)
    if not why and plating and best.plating != plating:
        why = f"it is {best.plating}-plated and mates with {plating}: unlike metals corrode"
    nearest = None
    if why:
        # size and kind of the family come first: it must go into the same sort of place
        others = [
            t
            for t in TERMINALS
            if not _why(t, area_mm2, sheath) and (not plating or t.plating == plating)
        ]
        nearest = min(others, key=lambda t: _apart(t, best), default=None)
    return Fit(not why, best, why, nearest, pull_force(area_mm2))


def _off(t: Terminal, area: float, sheath: float) -> float:
    """How far a wire is outside what a terminal takes [ln of the ratio]; 0 inside."""
    return _outside(area, t.least_mm2, t.most_mm2) + _outside(sheath, *t.insulation_mm)


def _outside(x: float, low: float, high: float) -> float:
    return math.log(low / x) if x < low else math.log(x / high) if x > high else 0.0


def _why(t: Terminal, area: float, sheath: float) -> str:
    low, high = t.insulation_mm
    if not t.least_mm2 <= area <= t.most_mm2:
        return f"its barrel takes {t.least_mm2:g} to {t.most_mm2:g} mm², not {area:g}"
    if not low <= sheath <= high:
        what = "seal takes" if t.seal else "wings take"
        return f"its {what} a sheath of {low:g} to {high:g} mm, not {sheath:g}"
    return ""


def _apart(t: Terminal, wanted: Terminal) -> tuple[bool, bool, float, bool]:
    return (
        bool(t.seal) != bool(wanted.seal),
        t.shape != wanted.shape,
        abs(math.log(t.size_mm / wanted.size_mm)),
        t.plating != wanted.plating,
    )

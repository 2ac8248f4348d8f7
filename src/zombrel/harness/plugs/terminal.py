"""Whether a terminal takes a wire, and which of its family or of another does.

References: sections and sheaths are those of the terminal's own record; the least pull force as in
``harness.joint`` (IEC 60352-2, table 1).
"""

from __future__ import annotations

import math

from zombrel.harness.conductor import outer_diameter
from zombrel.harness.joint import pull_force
from zombrel.harness.plugs.terminals import TERMINALS
from zombrel.job.problem import Problem
from zombrel.job.records.terminal import Terminal
from zombrel.job.value import Value


class Fit(Value, frozen=True):
    """How a wire goes with a terminal."""

    fits: bool
    terminal: Terminal
    why: str
    """What does not fit; empty when all does."""
    nearest: Terminal | None
    """The nearest that takes that wire, where this one does not."""
    pull_n: float
    """What the crimp must hold [N]."""


def family_of(name: str, own: tuple[Terminal, ...] = ()) -> tuple[Terminal, ...]:
    """The terminals of a family; the job's ``own`` come before those that are shipped.

    Raises:
        Problem: there is no such family; the text names those there are.
    """
    every = (*own, *TERMINALS)
    found = tuple(t for t in every if t.family.casefold() == name.strip().casefold())
    if not found:
        known = ", ".join(dict.fromkeys(t.family for t in every))
        raise Problem(f"There is no terminal family “{name}”; there are {known}.")
    return found


def fit(
    family: str,
    area_mm2: float,
    insulation_mm: float = 0.0,
    plating: str = "",
    gender: str = "",
    own: tuple[Terminal, ...] = (),
) -> Fit:
    """The terminal of ``family`` for a wire, or the nearest that would take it.

    Args:
        family: name of a terminal family.
        area_mm2: section of the wire [mm²].
        insulation_mm: diameter over its sheath [mm]; 0: a thin-wall one of that section.
        plating: of the terminal it mates with; empty: not looked at.
        gender: that it must have; empty: either.
        own: terminals of the job, beside those that are shipped.

    Raises:
        Problem: no such family, or a section outside the table of pull forces.
    """
    sheath = insulation_mm or 1000 * outer_diameter(area_mm2)
    of_family = family_of(family, own)
    wanted = [t for t in of_family if not plating or t.plating == plating] or list(of_family)
    wanted = [t for t in wanted if not _other(t, gender)] or wanted
    best = min(wanted, key=lambda t: (_off(t, area_mm2, sheath), t.plating != "tin", t.size_mm))
    why = _why(best, area_mm2, sheath)
    if not why and plating and best.plating != plating:
        why = f"it is {best.plating}-plated and mates with {plating}: unlike metals corrode"
    if not why and _other(best, gender):
        why = f"it is made {best.gender} only, and a {gender} one is wanted"
    nearest = None
    if why:
        # size and kind of the family come first: it must go into the same sort of place
        others = [
            t
            for t in (*own, *TERMINALS)
            if not _why(t, area_mm2, sheath)
            and (not plating or t.plating == plating)
            and not _other(t, gender)
        ]
        nearest = min(others, key=lambda t: _apart(t, best), default=None)
    return Fit(not why, best, why, nearest, pull_force(area_mm2))


def _other(t: Terminal, gender: str) -> bool:
    """It is made only as the gender that is not wanted."""
    return bool(gender and t.gender) and t.gender != gender


def _off(t: Terminal, area: float, sheath: float) -> float:
    """How far a wire is outside what a terminal takes [ln of the ratio]; 0 inside."""
    return _outside(area, t.least_mm2, t.most_mm2) + _outside(
        sheath, t.least_sheath_mm, t.most_sheath_mm
    )


def _outside(x: float, low: float, high: float) -> float:
    return math.log(low / x) if x < low else math.log(x / high) if x > high else 0.0


def _why(t: Terminal, area: float, sheath: float) -> str:
    low, high = t.least_sheath_mm, t.most_sheath_mm
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

"""Tyre sizes as they are written on the sidewall.

References:
    [1] ISO 4000-1, metric designation ``W/A R d``.
        An old radial without an aspect ratio, ``165 R13``, has the full profile of 82 %.
    [2] ETRTO Standards Manual: rolling circumference ≈ 3.05 · diameter of radial tyres, 2.99 · of
        diagonal (bias) ones.
    [3] ETRTO, sizes in inches such as ``6.50-16``: the tables' diameters follow from heights of
        1.05 · width on light-truck rims from 16 inches on, 0.95 · on smaller ones, to 2 %.
"""

from __future__ import annotations

import functools
import re

from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.units import INCH

WIDTHS = (0.075, 0.6)
"""Section widths of road tyres [m]."""
ASPECTS = (20, 100)
"""Height over width of road tyres [%]."""

ROLLING = 3.05
"""Rolling circumference over free diameter, radial tyres [2]."""
ROLLING_BIAS = 2.99
"""The same of diagonal tyres [2]."""
TRUCK_RIM = 16 * INCH
"""From this rim on a size in inches is a light truck's [3]."""
PROFILES = (0.95, 1.05)
"""Height over width of a size in inches: of a car, of a light truck [3]."""

FULL_PROFILE = 0.82
"""Height over width of a radial whose size names no aspect ratio [1]."""

_FULL = r"^(\d{3})\s*(?:S|H|V|Z)?R\s*(\d{2})\s*C?(?:\s+\d{2,3}(?:/\d{2,3})?\s*[A-Z])?$"
_METRIC = (
    r"^(?:P|LT|T)?\s*(\d{2,3})\s*/\s*(\d{2,3})\s*([SHVZ]?R|[-BD ])?\s*(?:[SHVZ]?R)?\s*"
    r"(\d{1,2}(?:\.\d)?)\s*(?:C|LT)?(?:\s+\d{2,3}(?:/\d{2,3})?\s*[A-Z]\d?)?(?:\s+XL)?$"
)
_FLOTATION = (
    r"^(\d{2}(?:\.\d+)?)\s*X\s*(\d{1,2}(?:\.\d+)?)\s*(?:Z?R|-)?\s*(\d{1,2}(?:\.\d)?)\s*(?:LT|C)?"
    r"(?:\s+\d{2,3}(?:/\d{2,3})?\s*[A-Z])?$"
)


_INCHES = (
    r"^(\d{1,2}\.\d{1,2})\s*([SHVZ]?R|-|D|B)\s*(\d{1,2}(?:\.\d)?)\s*(?:C|LT)?"
    r"(?:\s+\d{1,2}\s*PR)?(?:\s+\d{2,3}(?:/\d{2,3})?\s*[A-Z])?$"
)


class Tyre(Frozen, frozen=True, kw_only=True):
    """A tyre's geometry [m]."""

    width: float
    rim: float
    free_diameter: float
    radial: bool = True

    @property
    def rolling_circumference(self) -> float:
        """Distance per revolution [m]."""
        return (ROLLING if self.radial else ROLLING_BIAS) * self.free_diameter


@functools.lru_cache(maxsize=256)
def parse(size: str) -> Tyre:
    """Read a tyre size.

    Metric ``205/60 R15``, ``195/70R15C``, ``P225/50ZR16 92W`` [1] and flotation
    ``31x10.50R15`` (inches); old sizes ``165 R13``, ``6.50-16`` and ``7.50R16`` [3].

    Raises:
        Problem: not a size, or a size that cannot exist.
    """
    text = " ".join(re.sub(r"[()]", " ", size.upper().replace(",", ".").replace("×", "X")).split())
    metric = re.match(_METRIC, text)
    if metric:
        width, aspect, rim = float(metric[1]) / 1000, float(metric[2]), float(metric[4]) * INCH
        # a dash in a metric size is how radials are written in haste; D and B are meant
        tyre = Tyre(
            width=width,
            rim=rim,
            free_diameter=rim + 2 * width * aspect / 100,
            radial=metric[3] not in ("D", "B"),
        )
        _possible(size, width, rim, tyre.free_diameter, aspect)
        return tyre
    flotation = re.match(_FLOTATION, text)
    if flotation:
        diameter, width, rim = (float(flotation[i]) * INCH for i in (1, 2, 3))
        _possible(size, width, rim, diameter, None)
        return Tyre(width=width, rim=rim, free_diameter=diameter)
    old = re.match(_FULL, text)
    if old:
        width, rim = float(old[1]) / 1000, float(old[2]) * INCH
        tyre = Tyre(width=width, rim=rim, free_diameter=rim + 2 * width * FULL_PROFILE)
        _possible(size, width, rim, tyre.free_diameter, None)
        return tyre
    inches = re.match(_INCHES, text)
    if inches:
        width, rim = float(inches[1]) * INCH, float(inches[3]) * INCH
        height = width * PROFILES[rim >= TRUCK_RIM - INCH / 100]
        radial = inches[2].endswith("R")
        tyre = Tyre(width=width, rim=rim, free_diameter=rim + 2 * height, radial=radial)
        _possible(size, width, rim, tyre.free_diameter, None)
        return tyre
    raise Problem(
        f"“{size}” is not a tyre size. Write it as on the sidewall, "
        "such as 205/60 R15 or 31x10.50 R15."
    )


def _possible(size: str, width: float, rim: float, diameter: float, aspect: float | None) -> None:
    if diameter <= rim + 0.03:
        raise Problem(
            f"“{size}”: a tyre {diameter / INCH:.1f} inches across cannot go on a "
            f"{rim / INCH:g}-inch rim. Read the size again."
        )
    if not WIDTHS[0] <= width <= WIDTHS[1]:
        raise Problem(f"“{size}”: a width of {width * 1000:.0f} mm is not a road tyre's.")
    if aspect is not None and not ASPECTS[0] <= aspect <= ASPECTS[1]:
        raise Problem(f"“{size}”: an aspect ratio of {aspect:g} is outside 20 to 100.")
    if not 8 * INCH <= rim <= 26 * INCH:
        raise Problem(f"“{size}”: a rim of {rim / INCH:g} inches is outside 8 to 26.")

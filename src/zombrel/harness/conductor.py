"""Copper conductors.

References:
    [1] ASTM B258: gauges, in ``units.gauge``.
    [2] IEC 60028 for copper, see ``calibrate.copper``.
    [3] ISO 6722-1: nominal sections of road-vehicle cables and greatest outer diameters,
        thin wall; class A insulation to 85 °C.
    [4] ISO 8820-3: ratings of blade fuses.
    [5] Heat balance of a horizontal wire in still air: I²R' = h·π·D·ΔT with a combined
        convection and radiation coefficient h of 12 W/(m²·K) (Incropera, ch. 9; small
        cylinders lie between 10 and 20, the low side is taken).
    [6] IEC 60364-5-52, table B.52.17, row 1: reduction for bunched circuits.
"""

from __future__ import annotations

import bisect
import functools
import math

from zombrel.calibrate.copper import resistance_per_m
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.units import gauge
from zombrel.units.measure import area_of, length_of

FILM = 12.0
"""Heat transfer of a bare run in still air [W/(m²·K)] [5]."""

AREAS = (
    0.13,
    0.22,
    0.35,
    0.5,
    0.75,
    1.0,
    1.25,
    1.5,
    2.0,
    2.5,
    3.0,
    4.0,
    5.0,
    6.0,
    8.0,
    10.0,
    12.0,
    16.0,
    20.0,
    25.0,
    30.0,
    35.0,
    40.0,
    50.0,
    60.0,
    70.0,
    95.0,
    120.0,
)
"""Nominal sections [mm²] [3]."""
OUTER_MM = (
    1.05,
    1.2,
    1.3,
    1.6,
    1.9,
    2.1,
    2.3,
    2.4,
    2.8,
    3.0,
    3.4,
    3.7,
    4.2,
    4.3,
    5.0,
    6.0,
    6.5,
    7.2,
    7.8,
    8.7,
    9.6,
    10.4,
    11.1,
    12.2,
    13.3,
    14.4,
    16.7,
    19.0,
)
"""Greatest outer diameter [mm], thin wall, for the sections above [3]."""
FUSES = (1.0, 2.0, 3.0, 4.0, 5.0, 7.5, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0, 40.0)
"""Blade fuses [A] [4]; above them come the large blades and strips."""
LARGE_FUSES = (50.0, 60.0, 70.0, 80.0, 100.0, 125.0, 150.0, 175.0, 200.0, 250.0, 300.0)
ALL_FUSES = (*FUSES, *LARGE_FUSES)
_BUNCH_N = (1, 2, 3, 4, 5, 6, 7, 8, 9, 12, 16, 20)
_BUNCH_F = (1.0, 0.80, 0.70, 0.65, 0.60, 0.57, 0.54, 0.52, 0.50, 0.45, 0.41, 0.38)
SMALLEST = 0.35
"""Smallest section used in a hand-made loom [mm²]: thinner tears when stripped."""


def awg_number(awg: str) -> int:
    """Number of a gauge: ``"18" -> 18``, ``"1/0" -> 0``, ``"4/0" -> -3``."""
    text = awg.strip().upper().removeprefix("AWG").removesuffix("AWG").strip()
    try:
        return gauge.number_of(text)
    except ValueError:
        raise Problem(f"“{awg}” is not a gauge from 4/0 to 40; write 18, or 1/0.") from None


@functools.lru_cache(maxsize=1024)
def outer_diameter(area_mm2: float) -> float:
    """Outer diameter over the insulation [m], between table values by √area [3]."""
    i = min(max(bisect.bisect_left(AREAS, area_mm2), 1), len(AREAS) - 1)
    a0, a1 = math.sqrt(AREAS[i - 1]), math.sqrt(AREAS[i])
    share = (math.sqrt(area_mm2) - a0) / (a1 - a0)
    return (OUTER_MM[i - 1] + share * (OUTER_MM[i] - OUTER_MM[i - 1])) * 1e-3


def bunch_factor(count: int) -> float:
    """Share of its current that each of ``count`` loaded wires in a bundle may carry [6]."""
    if count <= 1:
        return 1.0
    if count >= _BUNCH_N[-1]:
        return _BUNCH_F[-1]
    i = bisect.bisect_right(_BUNCH_N, count) - 1
    span = _BUNCH_N[i + 1] - _BUNCH_N[i]
    share = (count - _BUNCH_N[i]) / span
    return _BUNCH_F[i] + share * (_BUNCH_F[i + 1] - _BUNCH_F[i])


@functools.lru_cache(maxsize=4096)
def ampacity(area_mm2: float, ambient: float, bundle: int = 1, limit: float = 358.15) -> float:
    """Current [A] that brings the conductor to ``limit`` [K] in ``ambient`` [K] air [5][6].

    Zero when the air is as hot as the insulation may be.
    """
    rise = limit - ambient
    if rise <= 0:
        return 0.0
    heat = FILM * math.pi * outer_diameter(area_mm2) * rise
    return math.sqrt(heat / resistance_per_m(area_mm2, limit)) * bunch_factor(bundle)


def fuse_for(load: float, share: float = 0.75) -> float | None:
    """The smallest standard fuse of which ``load`` [A] is at most ``share`` [4]; None if none."""
    i = bisect.bisect_left(ALL_FUSES, load / share - 1e-9)
    return ALL_FUSES[i] if i < len(ALL_FUSES) else None


def largest_fuse(amps: float) -> float | None:
    """The largest standard fuse not above ``amps``; None below the smallest.

    ``amps`` and result [A] (ISO 8820-3 ratings).
    """
    i = bisect.bisect_right(ALL_FUSES, amps + 1e-9)
    return ALL_FUSES[i - 1] if i else None


class Sized(Frozen, frozen=True, kw_only=True):
    """A conductor chosen for a task."""

    area_mm2: float
    awg: str
    drop_v: float
    """Drop at ambient temperature, before the load has warmed the wire [V]."""
    drop_hot_v: float
    """Drop once it has [V]."""
    drop: float
    """Drop as a fraction of the supply."""
    ampacity: float
    fuse: float
    limited_by: str
    """What asked for this section: ``drop``, ``ampacity`` (to carry its fuse) or ``smallest``."""


def size(
    current: float,
    length: float,
    volts: float,
    drop: float,
    ambient: float,
    bundle: int = 1,
    two_way: bool = True,
    limit: float = 358.15,
    share: float = 0.75,
) -> Sized:
    """Choose the section for ``current`` [A] over ``length`` [m, one way].

    The section must keep the drop within the fraction ``drop`` of ``volts`` (there and
    back when ``two_way``; the body is taken as free of drop otherwise), and carry the
    fuse that the load needs.

    Raises:
        Problem: no standard section or fuse will do.
    """
    fuse = fuse_for(current, share)
    if fuse is None:
        raise Problem(f"{current:g} A needs a fuse beyond {LARGE_FUSES[-1]:.0f} A; split the load.")
    if ambient >= limit:
        raise Problem(
            f"At {ambient - 273.15:.0f} °C the air is as hot as the insulation may be "
            f"({limit - 273.15:.0f} °C): choose another way or better wire."
        )
    path = length * (2 if two_way else 1)
    allowed = drop * volts
    by_drop = next(
        (a for a in AREAS if current * path * resistance_per_m(a, ambient) <= allowed), None
    )
    by_fuse = next((a for a in AREAS if ampacity(a, ambient, bundle, limit) >= fuse), None)
    if by_drop is None or by_fuse is None:
        raise Problem(
            f"{current:g} A over {length_of(length)} needs more than {area_of(AREAS[-1])}; "
            "shorten it, split it or allow more drop."
        )
    area = max(by_drop, by_fuse, SMALLEST)
    why = "drop" if area == by_drop else "ampacity" if area == by_fuse else "smallest"
    carries = ampacity(area, ambient, bundle, limit)
    drop_v = current * path * resistance_per_m(area, ambient)
    hot = ambient + (limit - ambient) * (current / carries) ** 2
    return Sized(
        area_mm2=area,
        awg=gauge.at_least(area),
        drop_v=drop_v,
        drop_hot_v=current * path * resistance_per_m(area, hot),
        drop=drop_v / volts,
        ampacity=carries,
        fuse=fuse,
        limited_by=why,
    )

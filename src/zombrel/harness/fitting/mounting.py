"""How a device is fixed: the length of screws, the drill and its stop, what hook and loop holds.

References:
    [1] ISO 273, clearance holes for bolts and screws, medium series.
    [2] ISO 4032, hexagon nuts, style 1: greatest height.
    [3] ISO 888, nominal lengths of screws.
"""

from __future__ import annotations

import math

from zombrel.job.records.fitting import Mounting, Screw
from zombrel.job.sheet import DeviceSheet
from zombrel.job.value import Value
from zombrel.job.wiring import Zone
from zombrel.units import ZERO_C
from zombrel.units.measure import short_of, token

CLEARANCE_MM: dict[Screw, float] = {"M3": 3.4, "M4": 4.5, "M5": 5.5, "M6": 6.6, "M8": 9.0}
"""Drill for a screw to pass [mm] [1]."""
NUT_MM: dict[Screw, float] = {"M3": 2.4, "M4": 3.2, "M5": 4.7, "M6": 5.2, "M8": 6.8}
"""Height of its nut [mm] [2]."""
PITCH_MM: dict[Screw, float] = {"M3": 0.5, "M4": 0.7, "M5": 0.8, "M6": 1.0, "M8": 1.25}
"""Coarse pitch [mm] (ISO 261)."""
LENGTHS_MM = (6, 8, 10, 12, 16, 20, 25, 30, 35, 40, 45, 50, 55, 60, 65, 70, 80)
"""Lengths that screws are sold in [mm] [3]."""
PROUD = 2.0
"""So many pitches stand out of a nut."""
OFF_M = 0.003
"""A screw's end keeps so far from what lies behind [m]: ASSUMED."""
THROUGH_M = 0.003
"""A drill goes so far out of the far side before its stop holds it [m]: its point, ASSUMED."""
STICKS_TO_K = 70 + ZERO_C
"""The glue of hook-and-loop tape creeps above it [K]: usual of acrylic, ASSUMED."""
PEEL_PA = 5000.0
"""What a square metre of it holds for good, shaken [N/m²]: a twentieth of new tape's: ASSUMED."""
SHAKEN = 5 * 9.80665
"""Acceleration of a device on a rough road [m/s²]: ASSUMED."""


class Fixing(Value, frozen=True):
    """How one device is to be fixed."""

    length_m: float
    """Screw to take [m]; 0 where there is none, or none would do."""
    drill_m: float
    stop_m: float
    """Drill, and how deep its stop lets it [m]."""
    troubles: tuple[str, ...]
    unsaid: tuple[str, ...]
    """What must be looked at first."""
    tool: str
    swap: bool = False
    """Another screw puts it right."""


def fixing(sheet: DeviceSheet, mount: Mounting, zone: Zone | None, hot_k: float) -> Fixing:
    """How a device is fixed at its place and what stands against it.

    ``hot_k`` is the air there [K]; ``zone`` is None while nobody has said where it goes.
    """
    if not mount.how:
        return Fixing(0, 0, 0, (), (), "")
    if mount.how == "bracket":
        return Fixing(0, 0, 0, (), (), "bracket to holes that are there, spanner")
    if mount.how == "hook-and-loop":
        return Fixing(0, 0, 0, _sticks(sheet, zone, hot_k), (), "cleaner, press for half a minute")
    return _hole(sheet, mount, zone) if mount.how == "hole" else _screwed(mount, zone)


def screw_range(mount: Mounting) -> tuple[float, float]:
    """Shortest and longest screw that will do [m].

    Shortest: panel, what lies under the head, nut and two threads; longest: what keeps off from
    that which lies behind, infinite while nobody looked.
    """
    least = mount.panel_m + mount.stack_m
    least += (NUT_MM[mount.screw] + PROUD * PITCH_MM[mount.screw]) / 1000
    if mount.behind_m is None:
        return least, math.inf
    return least, mount.panel_m + mount.stack_m + mount.behind_m - OFF_M


def _drilled(mount: Mounting, zone: Zone | None) -> tuple[list[str], list[str]]:
    """What stands against a drill here, and what nobody has looked at."""
    troubles, unsaid = [], []
    if zone is not None and zone.airbag:
        troubles.append(f"An airbag or its wiring lies at {zone.name.lower()}: never drill there.")
    if mount.behind_m is None:
        unsaid.append("what lies behind, and how far")
    elif mount.behind_m < THROUGH_M + OFF_M:
        free = short_of(mount.behind_m)
        troubles.append(f"Behind it {free} are free, and a drill comes {short_of(THROUGH_M)} out.")
    if not mount.panel_m:
        unsaid.append("how thick the panel is")
    return troubles, unsaid


def _screwed(mount: Mounting, zone: Zone | None) -> Fixing:
    troubles, unsaid = _drilled(mount, zone)
    least, most = screw_range(mount)
    wrong = bool(mount.screw_m) and not least - 1e-9 <= mount.screw_m <= most + 1e-9
    sold = [mm / 1000 for mm in LENGTHS_MM if least - 1e-9 <= mm / 1000 <= most + 1e-9]
    if not sold:
        troubles.append(
            f"No screw is sold between {short_of(least)} (panel, foot, nut) and {short_of(most)} "
            "(what lies behind): use a bracket or another place."
        )
    elif wrong:
        why = "reaches what lies behind" if mount.screw_m > most else "does not fill its nut"
        troubles.append(f"A screw of {short_of(mount.screw_m)} {why}; {short_of(sold[0])} will do.")
    drill = CLEARANCE_MM[mount.screw] / 1000
    stop = mount.panel_m + THROUGH_M if mount.panel_m else 0.0
    tool = f"drill {short_of(drill)} with a stop, {mount.screw} driver"
    swap = bool(sold) and wrong
    return Fixing(sold[0] if sold else 0.0, drill, stop, tuple(troubles), tuple(unsaid), tool, swap)


def _hole(sheet: DeviceSheet, mount: Mounting, zone: Zone | None) -> Fixing:
    troubles, unsaid = _drilled(mount, zone)
    if not sheet.hole_m or not sheet.behind_m:
        unsaid.append("the hole it wants and its depth behind it, on its sheet")
    elif mount.behind_m is not None and mount.behind_m < sheet.behind_m:
        troubles.append(
            f"It needs {short_of(sheet.behind_m)} behind the panel with its plug; "
            f"{short_of(mount.behind_m)} are free."
        )
    stop = mount.panel_m + THROUGH_M if mount.panel_m else 0.0
    cut = f"hole saw {short_of(sheet.hole_m)}" if sheet.hole_m else "hole saw"
    return Fixing(
        0.0, sheet.hole_m, stop, tuple(troubles), tuple(unsaid), f"{cut}, pilot drill with a stop"
    )


def _sticks(sheet: DeviceSheet, zone: Zone | None, hot_k: float) -> tuple[str, ...]:
    said = []
    if hot_k > STICKS_TO_K:
        said.append(
            f"It gets {token('temperature', hot_k)} there; the glue of hook-and-loop creeps "
            f"above {token('temperature', STICKS_TO_K)}."
        )
    if zone is not None and (zone.wet or zone.spray):
        said.append("Hook-and-loop comes off where it gets wet.")
    sides = sorted((sheet.long_m, sheet.wide_m, sheet.high_m))[1:]
    face = sides[0] * sides[1]
    if sheet.mass_kg and face:
        wanted = sheet.mass_kg * SHAKEN / PEEL_PA
        if wanted > face:
            said.append(
                f"Its largest face is {face * 1e4:.0f} cm², and hook-and-loop for "
                f"{sheet.mass_kg:g} kg wants {wanted * 1e4:.0f} cm²."
            )
    return tuple(said)

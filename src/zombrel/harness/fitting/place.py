"""Whether a device suits the zone it is put in: heat, water, room, coils, reach and sight.

References:
    [1] Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, table 1.1: free convection
        in gases, 2 to 25 W/(m²·K).
    [2] IEC 60529, degrees of protection: splashed, jetted and immersed.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from zombrel.job.model import Job
from zombrel.job.sheet import DeviceSheet
from zombrel.job.value import Value
from zombrel.job.wiring import Zone
from zombrel.units import ZERO_C
from zombrel.units.measure import short_of, token

AIR_K = 38 + ZERO_C
"""Outside air on the day of “Hot hill” [K]."""
THROUGH_WALLS = 5.0
"""Heat that leaves a closed space through its walls [W/(m²·K)]: the low end of [1]."""
SPACE_HIGH_M = 0.25
"""Height of the space behind a panel [m], where nobody measured it: ASSUMED."""
COOL_K = 12.0
"""A place no hotter than this over outside air suits a module [K]: ASSUMED."""
QUICK_MIN = 2.0
"""A setting that is reached for often must not lie behind more minutes of panels: ASSUMED."""
Level = Literal["trouble", "watch", "note"]
SPARKS = ("coil", "ignition lead")


class Against(Value, frozen=True):
    """One thing that stands against a device in a zone."""

    key: str
    level: Level
    harm: int
    words: str


def air_k(zone: Zone, devices: Sequence[DeviceSheet] = ()) -> float:
    """Air in a zone on a hot day [K], with what the devices in it give off.

    Outside air, what the zone is above it, and ΣP / (U · A) with U of [1] and A the walls of the
    space: its size on the plan, its own height or ``SPACE_HIGH_M``.
    """
    high = zone.free_high_m or SPACE_HIGH_M
    walls = 2 * (zone.wide_m * zone.deep_m + (zone.wide_m + zone.deep_m) * high)
    heat = sum(d.heat_w for d in devices)
    return AIR_K + zone.over_ambient_k + heat / (THROUGH_WALLS * walls)


def sheets_in(job: Job, zone: str, but: str = "") -> list[DeviceSheet]:
    """The sheets of the devices that lie in a zone, without the device ``but``."""
    return [d.sheet for d in job.devices if d.zone == zone and d.id != but]


def against(sheet: DeviceSheet, zone: Zone, hot: float) -> list[Against]:
    """All that stands against a device in a zone whose air gets ``hot`` with it in there [K]."""
    found = [*_heat(sheet, hot), *_water(sheet, zone), *_room(sheet, zone)]
    return [*found, *_sparks(sheet, zone), *_reach(sheet, zone)]


def _heat(sheet: DeviceSheet, hot: float) -> list[Against]:
    if not sheet.hottest_k or hot <= sheet.hottest_k:
        return []
    allowed = token("temperature", sheet.hottest_k)
    words = f"It gets {token('temperature', hot)} there and stands {allowed}."
    return [Against("heat", "trouble", 57, words)]


def _water(sheet: DeviceSheet, zone: Zone) -> list[Against]:
    """What [2] calls splashed and jetted."""
    if zone.spray and sheet.sealing in ("dry", "splash"):
        words = "Water is thrown at it there and its case is not for that."
    elif zone.wet and sheet.sealing == "dry":
        words = "It gets wet there and its case is for dry places."
    else:
        return []
    return [Against("water", "trouble", 57, words)]


def _room(sheet: DeviceSheet, zone: Zone) -> list[Against]:
    """A box goes into a room when its sides, sorted, all do; either may be turned."""
    box = sorted((sheet.long_m, sheet.wide_m, sheet.high_m))
    room = sorted((zone.free_long_m, zone.free_wide_m, zone.free_high_m))
    if not box[0] or not room[0] or all(b <= r for b, r in zip(box, room, strict=True)):
        return []
    sides = " × ".join(short_of(x) for x in reversed(box))
    free = " × ".join(short_of(x) for x in reversed(room))
    words = f"It is {sides} with its plug in, and the room there is {free}."
    return [Against("room", "trouble", 45, words)]


def _sparks(sheet: DeviceSheet, zone: Zone) -> list[Against]:
    """A box beside a coil counts sparks or resets; one that fires by capacitor is made for it."""
    wants = sheet.clear_m or math.inf
    near = [n for n in zone.near if n.what in SPARKS and n.spacing_m < wants]
    if not near or sheet.capacitor_discharge:
        return []
    least = min(near, key=lambda n: n.spacing_m)
    told = f"it wants {short_of(wants)} from such" if sheet.clear_m else "a box counts sparks there"
    name = f"{least.name[0].upper()}{least.name[1:]}"
    words = f"{name} is {short_of(least.spacing_m)} off; {told}, or resets."
    return [Against("sparks", "trouble", 50, words)]


def _reach(sheet: DeviceSheet, zone: Zone) -> list[Against]:
    found = []
    if sheet.watched and zone.seen is False:
        words = "The driver must see it and does not see what is there."
        found.append(Against("sight", "trouble", 48, words))
    elif sheet.watched and zone.seen is None:
        words = "The driver must see it: sit down in the seat and look, then say so on the plan."
        found.append(Against("look", "note", 22, words))
    behind = zone.access_min > QUICK_MIN or zone.lifted
    if sheet.touched == "often" and behind:
        how = "with the car raised" if zone.lifted else f"behind {zone.access_min:g} min of panels"
        words = f"Its settings are reached for often, and they would lie {how}."
        found.append(Against("reach", "watch", 30, words))
    return found


def better(job: Job, sheet: DeviceSheet, zone: Zone, but: str = "") -> list[Zone]:
    """Zones against which nothing stands, quiet ones first, then the nearest."""
    good = [z for z in job.zones if not (z.moving or z.airbag or z.id == zone.id)]
    hot = {z.id: air_k(z, [sheet, *sheets_in(job, z.id, but)]) for z in good}
    good = [z for z in good if not against(sheet, z, hot[z.id])]

    def apart(z: Zone) -> tuple[bool, float]:
        loud = z.near or z.wet or z.lifted or z.over_ambient_k > COOL_K
        return bool(loud), math.hypot(z.x_m - zone.x_m, z.y_m - zone.y_m)

    return sorted(good, key=apart)

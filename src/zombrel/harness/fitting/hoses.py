"""Hoses and lines: grade for what flows in them, length by the plan, what joins their ends.

References:
    [1] SAE J30, fuel and oil hoses: pressures and temperatures of its types R7 and R9.
    [2] SAE J20, coolant hoses; SAE J2044 for what such lines see.
What a shop's own reel is printed with comes before these figures.
"""

from __future__ import annotations

from collections.abc import Callable

from zombrel.harness import route
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.records.fitting import Grade, Hose, Medium
from zombrel.job.value import Value
from zombrel.job.wiring import Zone
from zombrel.units import ZERO_C
from zombrel.units.measure import short_of, token


class Flow(Value, frozen=True):
    """What usually flows in a line."""

    peak_pa: float
    """Highest gauge pressure [Pa]; vacuum pulls as hard as air presses."""
    hot_k: float
    first: str
    """What is done before such a line is opened."""
    proof: str
    """How it is proven before the engine starts."""


OPEN_FUEL = (
    "Engine cold, battery negative off, extinguisher at hand, no spark or lamp near; let the "
    "pressure off by the maker's way and catch what runs out. Where the law wants a licensed "
    "trade for fuel lines, it is theirs."
)
WET_TEST = "Pump on without starting: wipe along every joint, and again after ten minutes."
FLOWS: dict[Medium, Flow] = {
    "vacuum": Flow(1.0e5, 60 + ZERO_C, "Engine off.", "Idle is as it was; no hiss along it."),
    "boost": Flow(2.0e5, 150 + ZERO_C, "Engine off and cool.", "Hold pressure with a hand pump."),
    "fuel": Flow(5.0e5, 60 + ZERO_C, OPEN_FUEL, WET_TEST),
    "fuel with ethanol": Flow(5.0e5, 60 + ZERO_C, OPEN_FUEL, WET_TEST),
    "diesel": Flow(
        0.5e5,
        80 + ZERO_C,
        "Engine cool; never open a line on the injection side of the pump.",
        "Bleed it, run at idle, wipe along every joint.",
    ),
    "coolant": Flow(
        1.5e5,
        110 + ZERO_C,
        "Engine cold: the cap only comes off cold. Clamp the hose on both sides.",
        "Fill, bleed, warm up with the heater on; look again when it is cold.",
    ),
    "oil": Flow(
        7.0e5,
        130 + ZERO_C,
        "Engine off and cool; rag and tray below.",
        "Start, watch the pressure lamp, look for a minute, stop and wipe.",
    ),
    "water": Flow(2.0e5, 40 + ZERO_C, "Pump off.", "Pump on, look along it."),
}
"""What lines of each kind see: usual figures of the trade, ASSUMED."""


class Stuff(Value, frozen=True):
    """What a hose is made of and stands."""

    media: tuple[Medium, ...]
    hottest_k: float
    most_pa: float
    """Working pressure [Pa]."""


_AIR: tuple[Medium, ...] = ("vacuum", "boost")
GRADES: dict[Grade, Stuff] = {
    "plain silicone": Stuff((*_AIR, "water"), 180 + ZERO_C, 2e5),
    "fabric silicone": Stuff((*_AIR, "coolant", "water"), 180 + ZERO_C, 8e5),
    "coolant rubber": Stuff(("coolant", "water"), 125 + ZERO_C, 4e5),
    "low-pressure fuel rubber": Stuff(("fuel", "diesel"), 125 + ZERO_C, 3.4e5),
    "injection fuel rubber": Stuff(("fuel", "fuel with ethanol", "diesel"), 150 + ZERO_C, 6.9e5),
    "oil rubber": Stuff(("oil", "diesel"), 150 + ZERO_C, 10e5),
    "braided fluoropolymer": Stuff(
        (*_AIR, "fuel", "fuel with ethanol", "diesel", "coolant", "oil", "water"),
        230 + ZERO_C,
        70e5,
    ),
    "clear vinyl": Stuff(("water",), 60 + ZERO_C, 1e5),
}
"""After [1] and [2] where they give a figure; dearest last. What is printed on the hose counts."""
PRICE: tuple[Grade, ...] = tuple(GRADES)
LOOSE = 0.05
"""A hose is pushed on a spigot up to a tenth wider, and clamped on one up to 5 % narrower."""
TIGHT = 0.15
CLAMPED_PA = 0.2e5
"""Above so much pressure, and for whatever burns or scalds, each end wants a clamp: ASSUMED."""
BURNS: tuple[Medium, ...] = ("fuel", "fuel with ethanol", "diesel", "oil")
SCALDS: tuple[Medium, ...] = ("coolant",)
ENDS_M = 0.15
"""Added for the ends and for the engine's rocking [m]."""
AIR_K = 38 + ZERO_C
HOT = ("exhaust",)


class HosePlan(Value, frozen=True):
    """How one hose is to be laid and joined."""

    via: tuple[str, ...]
    length_m: float
    """0 where the plan knows no way."""
    peak_pa: float
    hot_k: float
    """What it must stand: pressure [Pa], and the hotter of what flows in it and what it passes."""
    where: str
    """The hottest place on its way; empty: what flows in it is hotter."""
    grade: Grade
    """The first grade that stands all of it; empty where none does."""
    joints: tuple[str, ...]
    """Tee, step adapters and clamps."""
    troubles: tuple[tuple[str, int, str], ...]
    """(key, harm, words)"""
    unsaid: tuple[str, ...]
    steps: tuple[str, ...]


def zones_of(job: Job) -> dict[str, str]:
    """The zone of everything that a hose can lead to, zones themselves among them."""
    return {z.id: z.id for z in job.zones} | dict(route.zone_of(job))


def way_of(job: Job, hose: Hose) -> tuple[str, ...]:
    """The zones a hose runs through: its own, or the cheapest off belts and exhaust."""
    if hose.via and route.connected(job.zones, job.ways, hose.via):
        return hose.via
    at = zones_of(job)
    start, end = at.get(hose.a, ""), at.get(hose.b, "")
    if not start or not end:
        return ()
    try:
        return quiet_way(job, hose) or route.best(job.zones, job.ways, "signal", start, end)
    except Problem:
        return ()


def quiet_way(job: Job, hose: Hose) -> tuple[str, ...]:
    """The cheapest way off belts and exhaust; empty where there is none."""
    at = zones_of(job)
    start, end = at.get(hose.a, ""), at.get(hose.b, "")
    try:
        return route.best(job.zones, job.ways, "signal", start, end, _clear(hose))
    except Problem:
        return ()


def _clear(hose: Hose) -> Callable[[Zone], bool]:
    """Whether a hose may cross a zone: off belts and exhaust; outside, where its load burns."""
    burns = hose.medium in BURNS
    return lambda zone: not _harms(zone) and not (burns and zone.inside)


def _harms(zone: Zone) -> str:
    """What in a zone wears or burns a hose; empty for nothing."""
    if zone.moving:
        return "moving parts"
    near = [n.name for n in zone.near if n.what in (*HOT, "moving part")]
    return near[0] if near else ""


def plan(job: Job, hose: Hose) -> HosePlan:
    """How ``hose`` is laid and joined, and what stands against it as it is."""
    via, zones, flow = way_of(job, hose), index(job.zones), FLOWS[hose.medium]
    peak = hose.peak_pa or flow.peak_pa
    inside = hose.hot_k or flow.hot_k
    on_way = [zones[z] for z in via]
    hottest = max(on_way, key=lambda z: z.over_ambient_k, default=None)
    around = AIR_K + (hottest.over_ambient_k if hottest is not None else 0.0)
    hot = max(inside, around)
    where = hottest.name if hottest is not None and around > inside else ""
    length = route.measure(job.zones, job.ways, "signal", via).length_m + ENDS_M if via else 0.0
    wanted: Grade = next((g for g in PRICE if _stands(g, hose.medium, hot, peak)), "")
    unsaid = [
        words
        for words, missing in (
            ("its bore", not hose.bore_m),
            ("what it is made of", not hose.grade),
            ("where it begins and ends", not via and bool(job.zones)),
            ("the spigots it is pushed on", not (hose.a_spigot_m or hose.tee_m)),
            ("the spigot at its far end", not hose.b_spigot_m),
        )
        if missing
    ]
    return HosePlan(
        via,
        length,
        peak,
        hot,
        where,
        wanted,
        _joints(hose, peak),
        tuple(_troubles(hose, hot, where, peak, on_way, wanted)),
        tuple(unsaid),
        _steps(hose, flow, peak),
    )


def _stands(grade: Grade, medium: Medium, hot_k: float, peak_pa: float) -> bool:
    stuff = GRADES[grade]
    return medium in stuff.media and hot_k <= stuff.hottest_k and peak_pa <= stuff.most_pa


def needs_clamps(hose: Hose, peak_pa: float) -> bool:
    """Whether both ends want a clamp at so much pressure [Pa]."""
    soft = hose.medium == "vacuum"
    return hose.medium in (*BURNS, *SCALDS) or (not soft and peak_pa > CLAMPED_PA)


def _step(bore: float, spigot: float) -> str:
    """The adapter between a hose and a spigot; empty where the hose goes on."""
    if not bore or not spigot or -LOOSE <= spigot / bore - 1 <= TIGHT:
        return ""
    return f"step adapter {short_of(bore)} to {short_of(spigot)}"


def _joints(hose: Hose, peak: float) -> tuple[str, ...]:
    found = []
    if hose.tee_m:
        sides = f"{short_of(hose.tee_m)} × {short_of(hose.bore_m)} × {short_of(hose.tee_m)}"
        if not hose.bore_m or abs(hose.tee_m - hose.bore_m) < LOOSE * hose.tee_m:
            sides = short_of(hose.tee_m)
        found.append(f"tee {sides}")
    found += [
        s for s in (_step(hose.bore_m, hose.a_spigot_m), _step(hose.bore_m, hose.b_spigot_m)) if s
    ]
    if needs_clamps(hose, peak):
        found += ["hose clamp"] * (4 if hose.tee_m else 2)
    return tuple(found)


def _troubles(
    hose: Hose, hot: float, where: str, peak: float, on_way: list[Zone], wanted: Grade
) -> list[tuple[str, int, str]]:
    found = []
    harm = 88 if hose.medium in BURNS else 60 if hose.medium in SCALDS else 42
    if hose.grade:
        stuff, at = GRADES[hose.grade], f" at {where.lower()}" if where else ""
        does = f"; {wanted} does." if wanted else "; no hose here does: route it elsewhere."
        if hose.medium not in stuff.media:
            found.append(
                ("medium", harm, f"{hose.grade.capitalize()} hose is not for {hose.medium}{does}")
            )
        elif hot > stuff.hottest_k:
            words = f"It gets {token('temperature', hot)}{at} and stands " + token(
                "temperature", stuff.hottest_k
            )
            found.append(("heat", harm, words + does))
        elif peak > stuff.most_pa:
            words = (
                f"It sees {token('pressure', peak)} and stands {token('pressure', stuff.most_pa)}"
            )
            found.append(("pressure", harm, words + does))
    if needs_clamps(hose, peak) and not hose.clamps:
        found.append(("clamps", harm, f"No clamp holds it at {token('pressure', peak)}."))
    sits = next((z.name.lower() for z in on_way if z.inside), "")
    if hose.medium in BURNS and sits:
        found.append(
            ("inside", 84, f"It runs at {sits}, where people sit: what burns lies outside.")
        )
    for zone in on_way[1:-1] if len(on_way) > 2 else ():  # noqa: PLR2004 - between its ends
        what = _harms(zone)
        if what:
            found.append(("way", harm, f"It passes {what} at {zone.name.lower()}."))
            break
    return found


def _steps(hose: Hose, flow: Flow, peak: float) -> tuple[str, ...]:
    """In which order it is joined."""
    found = [flow.first, "Cut it square with a blade, not with side cutters; blow it clean."]
    if hose.tee_m:
        found.append("Cut the line where the tee sits, slip clamps over the ends, push the tee in.")
    found.append("Lay it with slack where the engine rocks; tie it off belts, exhaust and edges.")
    if needs_clamps(hose, peak):
        found.append("Clamps behind the bead of the spigot, tight but not through the hose.")
    if hose.medium in ("vacuum", "boost"):
        found.append("The sender end last and highest, so that what condenses runs back.")
    return (*found, flow.proof)

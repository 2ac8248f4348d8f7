"""Calculations about fixing devices, hoses and threads."""

from __future__ import annotations

import math
from typing import get_args

from zombrel.calc.registry import Param, Result, calc
from zombrel.harness.fitting import hoses, mounting, place, threads
from zombrel.job.model import Job
from zombrel.job.records.fitting import Grade, Hose, Medium, Mounting, Screw
from zombrel.job.sheet import DeviceSheet
from zombrel.job.wiring import Neighbour, Zone
from zombrel.units import ZERO_C
from zombrel.units.measure import BAR


def _mm(name: str, words: str, default: object = 0.0) -> Param:
    return Param(name, words, default=default, least=0, most=5000, units=("mm",))


@calc(
    "mount",
    "screw, drill and stop for a panel, or what stands against them",
    [
        Param("screw", "screw", "text", "M4", choices=get_args(Screw)),
        _mm("panel_mm", "thickness of the panel"),
        _mm("stack_mm", "what lies under the heads"),
        _mm("behind_mm", "free depth behind; left out: nobody looked", None),
        _mm("screw_mm", "length of the screws at hand"),
    ],
    "fits screw_mm least_mm most_mm drill_mm stop_mm troubles unsaid",
)
def mount(
    screw: Screw, panel_mm: float, stack_mm: float, behind_mm: float | None, screw_mm: float
) -> Result:
    """How a device is screwed down."""
    asked = Mounting(
        how="screws",
        panel_m=panel_mm / 1000,
        stack_m=stack_mm / 1000,
        behind_m=None if behind_mm is None else behind_mm / 1000,
        screw=screw,
        screw_m=screw_mm / 1000,
    )
    f = mounting.fixing(DeviceSheet(id="x", maker="-", model="-", name="It"), asked, None, 293.15)
    least, most = mounting.screw_range(asked)
    return {
        "fits": not f.troubles and not f.unsaid,
        "screw_mm": f.length_m * 1000 or None,
        "least_mm": least * 1000,
        "most_mm": None if math.isinf(most) else most * 1000,
        "drill_mm": f.drill_m * 1000,
        "stop_mm": f.stop_m * 1000 or None,
        "troubles": list(f.troubles),
        "unsaid": list(f.unsaid),
    }


@calc(
    "place",
    "whether a device suits a place",
    [
        Param("hottest_c", "hottest air it stands", default=None, least=-60, most=400),
        Param("over_ambient_k", "place above outside air", default=0.0, least=0, most=400),
        Param("heat_w", "what it gives off", default=0.0, least=0, most=5000, units=("W",)),
        Param("sealing", "its case", "text", "", choices=("", "dry", "splash", "immersed")),
        Param("water", "water there", "text", "none", choices=("none", "wet", "spray")),
        _mm("clear_mm", "how far it keeps from coils"),
        _mm("coil_mm", "how far the nearest coil is; left out: none near", None),
        Param("size_mm", "long x wide x high", "text", ""),
        Param("room_mm", "room there, long x wide x high", "text", ""),
    ],
    "suits air_c against",
)
def suits(
    hottest_c: float | None,
    over_ambient_k: float,
    heat_w: float,
    sealing: str,
    water: str,
    clear_mm: float,
    coil_mm: float | None,
    size_mm: str,
    room_mm: str,
) -> Result:
    """What stands against it, with the air there on a hot day."""
    near = (
        (Neighbour(what="coil", name="coil", spacing_m=max(coil_mm, 0.1) / 1000, along_m=0.3),)
        if coil_mm is not None
        else ()
    )
    size, room = _sides(size_mm, "size_mm"), _sides(room_mm, "room_mm")
    zone = Zone(
        id="z",
        name="there",
        x_m=1,
        y_m=1,
        over_ambient_k=over_ambient_k,
        wet=water == "wet",
        spray=water == "spray",
        near=near,
        free_long_m=room[0],
        free_wide_m=room[1],
        free_high_m=room[2],
    )
    sheet = DeviceSheet(
        id="x",
        maker="-",
        model="-",
        name="It",
        hottest_k=0.0 if hottest_c is None else hottest_c + ZERO_C,
        heat_w=heat_w,
        sealing=sealing,  # type: ignore[arg-type]
        clear_m=clear_mm / 1000,
        long_m=size[0],
        wide_m=size[1],
        high_m=size[2],
    )
    found = place.against(sheet, zone, place.air_k(zone, [sheet]))
    return {
        "suits": not found,
        "air_c": place.air_k(zone, [sheet]) - ZERO_C,
        "against": {a.key: a.words for a in found},
    }


def _sides(text: str, name: str) -> tuple[float, float, float]:
    """Three sides typed as ``120x80x30`` [mm], in metres; noughts where nothing is typed."""
    from zombrel.job.problem import Problem

    if not text:
        return 0.0, 0.0, 0.0
    parts = text.lower().replace("×", "x").split("x")
    try:
        a, b, c = (float(p) / 1000 for p in parts)
    except ValueError:
        raise Problem(f"{name} is three sides in millimetres, as 120x80x30.") from None
    if min(a, b, c) <= 0 or not math.isfinite(a + b + c):
        raise Problem(f"{name}: every side is more than nothing.")
    return a, b, c


@calc(
    "hose",
    "grade, adapters, clamps and order of joining of a hose",
    [
        Param("medium", "what it carries", "text", choices=get_args(Medium)),
        Param("grade", "what it is made of", "text", "", choices=get_args(Grade)),
        _mm("bore_mm", "its bore"),
        _mm("a_spigot_mm", "outside of what its start is pushed on"),
        _mm("b_spigot_mm", "outside of what its end is pushed on"),
        _mm("tee_mm", "bore of the line it branches off"),
        Param("peak_bar", "highest pressure; left out: usual", default=0.0, least=0, most=500),
        Param("hot_c", "heat it meets; left out: usual", default=None, least=-60, most=600),
        Param("clamps", "clamped", "text", "no", choices=("yes", "no")),
    ],
    "fits grade hot_c peak_bar joints troubles unsaid steps",
)
def hose(**given: object) -> Result:
    """What a hose must be and what joins it."""

    def metres(key: str) -> float:
        return float(given[key]) / 1000  # type: ignore[arg-type]

    asked = Hose(
        id="h",
        name="Hose",
        medium=given["medium"],  # type: ignore[arg-type]
        grade=given["grade"],  # type: ignore[arg-type]
        bore_m=metres("bore_mm"),
        a_spigot_m=metres("a_spigot_mm"),
        b_spigot_m=metres("b_spigot_mm"),
        tee_m=metres("tee_mm"),
        peak_pa=float(given["peak_bar"]) * BAR,  # type: ignore[arg-type]
        hot_k=0.0 if given["hot_c"] is None else float(given["hot_c"]) + ZERO_C,  # type: ignore[arg-type]
        clamps=given["clamps"] == "yes",
    )
    p = hoses.plan(Job(), asked)
    return {
        "fits": not p.troubles and bool(asked.grade),
        "grade": p.grade or None,
        "hot_c": p.hot_k - ZERO_C,
        "peak_bar": p.peak_pa / BAR,
        "joints": list(p.joints),
        "troubles": {key: words for key, _, words in p.troubles},
        "unsaid": list(p.unsaid),
        "steps": list(p.steps),
    }


@calc(
    "thread",
    "whether a sender's thread goes into a hole, and the adapter otherwise",
    [
        Param("sender", "thread of the sender, as M10x1 or 1/8-27 NPT", "text"),
        Param("port", "thread of the hole", "text"),
        Param("one_wire", "its body is its ground", "text", "no", choices=("yes", "no")),
    ],
    "fits starts seal adapter why",
)
def thread(sender: str, port: str, one_wire: str) -> Result:
    """How it goes in."""
    f = threads.fit(sender, port, one_wire == "yes")
    return {
        "fits": f.fits,
        "starts": f.starts,
        "seal": f.seal,
        "adapter": f.adapter or None,
        "why": f.why,
    }

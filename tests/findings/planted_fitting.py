"""Troubles of where devices sit and how they are fixed, of hoses, threads and lead colours."""

from __future__ import annotations

from typing import Any

from tests.findings.planting import Sound, rows

DASH = "devices.pace"
SCREWED = {"how": "screws", "panel_m": 0.0012, "stack_m": 0.003, "behind_m": 0.014, "screw_m": 0.01}


def hose(**more: Any) -> dict[str, Any]:
    """A sound vacuum hose, otherwise as said."""
    usual = {
        "id": "H1",
        "medium": "vacuum",
        "a": "bay-left",
        "b": "bay-right",
        "bore_m": 0.004,
        "a_spigot_m": 0.0042,
        "b_spigot_m": 0.0042,
        "grade": "plain silicone",
    }
    return {"+hoses": usual | more}


FITTING_ROWS = (
    *rows(
        "a device that its zone cooks",
        ("0412", "hub", {"devices.hub.sheet.hottest_k": 318.0}),
        ("0412", "pace", {f"{DASH}.sheet.hottest_k": 321.0, f"{DASH}.sheet.heat_w": 40.0}),
    ),
    *rows(
        "water thrown at a splash-proof case",
        (
            "0412",
            "spark",
            {"devices.spark.zone": "hub-left", "devices.spark.sheet.sealing": "splash"},
        ),
    ),
    *rows(
        "no room",
        (
            "0412",
            "pace",
            {
                f"{DASH}.sheet.long_m": 0.12,
                f"{DASH}.sheet.wide_m": 0.08,
                f"{DASH}.sheet.high_m": 0.04,
                "zones.dash.free_long_m": 0.3,
                "zones.dash.free_wide_m": 0.07,
                "zones.dash.free_high_m": 0.07,
            },
        ),
    ),
    *rows(
        "beside a coil",
        (
            "0412",
            "blend",
            {
                "devices.blend.sheet.clear_m": 0.3,
                "+zones.bulkhead-right.near": {
                    "what": "coil",
                    "name": "coil 2",
                    "spacing_m": 0.1,
                    "along_m": 0.3,
                },
            },
        ),
    ),
    *rows(
        "out of the driver's sight",
        (
            "0412",
            "lamp",
            {
                "devices.lamp.sheet.watched": True,
                "devices.lamp.zone": "boot",
                "zones.boot.seen": False,
            },
        ),
        mended=False,
    ),
    *rows(
        "settings behind panels",
        ("0412", "pace", {f"{DASH}.sheet.touched": "often"}),
        level="watch",
    ),
    *rows(
        "a screw that reaches what lies behind",
        ("0412", "pace", {f"{DASH}.mount": SCREWED | {"screw_m": 0.025}}),
        ("0412", "pace", {f"{DASH}.mount": SCREWED | {"screw_m": 0.008}}),
        ("0412", "pace", {f"{DASH}.mount": SCREWED | {"behind_m": 0.004}}),
    ),
    *rows(
        "a drill into the unknown",
        ("0412", "pace", {f"{DASH}.mount": {"how": "screws", "panel_m": 0.0012}}),
        level="watch",
        mended=False,
    ),
    *rows(
        "tape in the heat",
        (
            "0412",
            "spark",
            {
                "devices.spark.mount": {"how": "hook-and-loop"},
                "devices.spark.sheet.hottest_k": 400.0,
                "zones.bulkhead-left.over_ambient_k": 40.0,
            },
        ),
    ),
    *rows(
        "a hose that swells, melts or bursts",
        ("0412", "H1", hose(medium="fuel", clamps=True, b="under-front", a="under-rear")),
        ("0412", "H1", hose(grade="clear vinyl")),
        ("0412", "H1", hose(medium="boost", peak_pa=4e5, clamps=True)),
        ("0412", "H1", hose(medium="fuel", grade="coolant rubber", clamps=True)),
        ("0412", "H1", hose(medium="coolant", grade="coolant rubber", hot_k=410.0, clamps=True)),
    ),
    *rows(
        "a hose without clamps",
        ("0412", "H1", hose(medium="coolant", grade="coolant rubber")),
        ("0412", "H1", hose(medium="boost", grade="fabric silicone")),
    ),
    *rows(
        "a fuel line where people sit",
        (
            "0412",
            "H1",
            hose(
                medium="fuel",
                grade="injection fuel rubber",
                clamps=True,
                a="under-rear",
                b="bay-left",
                via=[
                    "under-rear",
                    "boot",
                    "seat",
                    "sill-left",
                    "foot-left",
                    "bulkhead-left",
                    "bay-left",
                ],
            ),
        ),
    ),
    *rows(
        "a sender's thread",
        ("0412", "oil", {"sources.oil.thread": "1/8-27 NPT", "sources.oil.port": "M10×1"}),
        ("0412", "oil", {"sources.oil.thread": "G 1/8", "sources.oil.port": "1/8-27 NPT"}),
    ),
)
FITTING_SOUND = (
    Sound("a screw that fits", "0412", {f"{DASH}.mount": SCREWED}),
    Sound("a bracket", "0412", {f"{DASH}.mount": {"how": "bracket"}}),
    Sound("tape in the cool", "0412", {f"{DASH}.mount": {"how": "hook-and-loop"}}),
    Sound("a sound vacuum hose", "0412", hose()),
    Sound(
        "a sound coolant hose", "0412", hose(medium="coolant", grade="coolant rubber", clamps=True)
    ),
    Sound("the same thread", "0412", {"sources.oil.thread": "M10×1", "sources.oil.port": "M10×1"}),
    Sound(
        "an adapter taken",
        "0412",
        {
            "sources.oil.thread": "M10×1",
            "sources.oil.port": "1/8-27 NPT",
            "sources.oil.adapter": True,
        },
    ),
    Sound(
        "own lead colours that agree", "0412", {"devices.pace.sheet.leads": [["GROUND", "black"]]}
    ),
    Sound(
        "a box with room",
        "0412",
        {
            f"{DASH}.sheet.long_m": 0.12,
            f"{DASH}.sheet.wide_m": 0.08,
            f"{DASH}.sheet.high_m": 0.04,
            "zones.dash.free_long_m": 0.05,
            "zones.dash.free_wide_m": 0.2,
            "zones.dash.free_high_m": 0.1,
        },
    ),
)

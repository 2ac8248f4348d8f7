"""Parts of a device sheet, ready to be put into one and changed."""

from __future__ import annotations

BLOCKS: dict[str, tuple[str, object]] = {
    "a pulse input": (
        "inputs",
        {
            "pin": "NEW",
            "quantity": "tach",
            "waveforms": ["square"],
            "threshold_v": 3,
            "max_hz": 1000,
            "setting": {
                "type": "menu",
                "path": ["Set"],
                "low": 0.5,
                "high": 6,
                "step": 0.5,
                "unit": "pulses/rev",
            },
        },
    ),
    "a sensor input": (
        "inputs",
        {
            "pin": "NEW",
            "quantity": "coolant",
            "takes": "ohm",
            "waveforms": ["level"],
            "pull_up_ohm": 1000,
            "pull_up_v": 5,
            "adc_bits": 10,
            "setting": {"type": "curves", "path": ["Curve"], "free_points": 8},
        },
    ),
    "an on/off input": (
        "inputs",
        {
            "pin": "NEW",
            "quantity": "clutch",
            "takes": "contact",
            "waveforms": ["level"],
            "closes_to": "ground",
            "active": "closed",
            "required": False,
            "shows": False,
        },
    ),
    "a control": (
        "controls",
        {
            "pin": "NEW",
            "label": "new limit",
            "means": "limit",
            "setting": {"type": "rotary", "positions": [["1", 5000], ["2", 6000]], "unit": "rpm"},
        },
    ),
    "a choice by switches": (
        "controls",
        {
            "pin": "NEW",
            "label": "signal kind",
            "means": "signal",
            "stands_for": [["00", "sine"], ["01", "square"]],
            "setting": {
                "type": "lookup",
                "bank": "SWITCHES",
                "bits": [1, 2],
                "rows": [["00", 0], ["01", 1]],
                "unit": "signal",
            },
        },
    ),
    "a supply": (
        "supplies",
        {"pin": "NEW", "kind": "power", "amps": 1, "feeds": ["run"], "fuse_a": 2},
    ),
}
"""What can be put into a sheet with one press, to be changed after."""

"""Ready parts of a sheet, to be put into one and changed: settings, pins, rows."""

from __future__ import annotations

from typing import Any

import msgspec

from zombrel.calibrate.settings.kinds import KINDS
from zombrel.catalog.form.fields import at, put, tag_of
from zombrel.catalog.form.pins import pin_rows
from zombrel.job.figures import FIGURES
from zombrel.job.model import HouseFigure
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import (
    Buttons,
    Control,
    Curves,
    DeviceSheet,
    Dial,
    Dials,
    InputSheet,
    Lookup,
    Menu,
    Need,
    OutputSheet,
    OwnerLine,
    Plug,
    Preset,
    Presses,
    Quantity,
    Rotary,
    SettingSheet,
    SettingUnit,
    SupplySheet,
    Switches,
)
from zombrel.job.source import Source, SourceSpec

_UNIT_OF: dict[str, SettingUnit] = {
    "speed": "pulses/km",
    "tach": "cylinders",
    "limit": "rpm",
    "launch": "rpm",
    "shift": "rpm",
    "idle": "rpm",
    "delay": "s",
    "least duty": "%",
    "reserve": "l",
    "ratio": "ratio",
    "signal": "signal",
    "gearbox": "gearbox",
    "contact": "contact",
}
"""What a setting is usually printed in, by what it is about."""
_SPAN: dict[str, tuple[float, float, float]] = {
    "pulses/km": (500, 40000, 10),
    "pulses/mile": (800, 64000, 10),
    "pulses/rev": (0.5, 8, 0.5),
    "cylinders": (1, 12, 1),
    "rpm": (1000, 9000, 100),
    "°C": (40, 130, 1),
    "bar": (0.1, 5, 0.1),
    "s": (0.5, 30, 0.5),
    "%": (1, 100, 1),
    "l": (2, 20, 1),
}
"""From, to, steps of a number that is usual in a unit (ASSUMED: to be corrected)."""
_PLAIN = (1.0, 10.0, 1.0)


def unit_for(part: InputSheet | Control) -> SettingUnit:
    """What the setting of a part is printed in: as it was, or as usual for what it is about."""
    old = getattr(part.setting, "unit", None)
    about = part.quantity if isinstance(part, InputSheet) else part.means
    return old or _UNIT_OF.get(about, "step")


def setting(tag: str, part: InputSheet | Control) -> SettingSheet | None:
    """A ready setting of the kind ``tag`` for a part; None for the empty tag."""
    unit = unit_for(part)
    low, high, step = _SPAN.get(unit, _PLAIN)
    places = tuple((str(n + 1), low + n * (high - low) / 3) for n in range(4))
    made: dict[str, SettingSheet | None] = {
        "": None,
        "dials": Dials(
            base=low,
            unit=unit,
            dials=(
                Dial(name="coarse", positions=tuple("ABCDE"), octaves=1.0),
                Dial(name="fine", positions=tuple("0123456789"), octaves=0.1),
            ),
        ),
        "menu": Menu(path=("Set",), low=low, high=high, step=step, unit=unit),
        "buttons": Buttons(low=low, high=high, step=step, unit=unit),
        "presses": Presses(
            enter="Hold the button until the lamp blinks.",
            low=low,
            high=high,
            step=step,
            unit=unit,
            store="Hold until the lamp stays lit.",
        ),
        "switches": Switches(weights=tuple(low * 2**n for n in range(4)), base=0.0, unit=unit),
        "lookup": Lookup(
            rows=tuple((f"{n:02b}", low + n * (high - low) / 3) for n in range(4)), unit=unit
        ),
        "rotary": Rotary(positions=places, unit=unit),
        "plug": Plug(known=((1000.0, low), (10000.0, high)), unit=unit),
        "curves": Curves(path=("Curve",), free_points=8),
    }
    return made[tag]


def turned(sheet: DeviceSheet, path: tuple[str | int, ...], tag: str) -> DeviceSheet:
    """``sheet`` with the setting at ``path`` of another kind, ready to be changed.

    Raises:
        Problem: the part cannot be set that way.
    """
    part = at(sheet, path)
    made = setting(tag, part)
    if isinstance(part, Control) and part.stands_for and made is not None:
        names = KINDS[type(made)].names(made)
        meant = tuple((name, word) for name, (_, word) in zip(names, part.stands_for, strict=False))
        sheet = put(sheet, (*path, "stands_for"), meant)
    return put(sheet, (*path, "setting"), made)


def spec(tag: str, source: Source, kinds: tuple[Source, ...]) -> SourceSpec:
    """What a source is, of the kind ``tag``: as on the shelf, its figures to be corrected.

    ``kinds`` are the sources of the shelf.

    Raises:
        Problem: the shelf has none of that kind.
    """
    if tag_of(source.spec) == tag:
        return source.spec
    found = [k.spec for k in kinds if tag_of(k.spec) == tag]
    if not found:
        raise Problem(f"The shelf has no source of the kind “{tag}” to begin from.")
    return found[0]


def free_pin(sheet: DeviceSheet, wanted: str = "NEW") -> str:
    """A pin name that the sheet does not have yet."""
    taken = {r.pin for r in pin_rows(sheet)}
    name, n = wanted, 2
    while name in taken:
        name, n = f"{wanted} {n}", n + 1
    return name


def input_for(quantity: Quantity, pin: str) -> InputSheet:
    """An input for ``quantity`` as such inputs usually are (ASSUMED: to be corrected)."""
    q = QUANTITIES[quantity]
    if q.group == "contact":
        return InputSheet(
            pin=pin, quantity=quantity, takes="contact", waveforms=("level",), shows=False
        )
    if q.group == "rate":
        fresh = InputSheet(pin=pin, quantity=quantity, threshold_v=3.0, max_hz=1000.0)
        return msgspec.structs.replace(fresh, setting=setting("menu", fresh))
    if (q.kind == "temperature" and quantity != "exhaust") or quantity == "fuel":
        return InputSheet(
            pin=pin,
            quantity=quantity,
            takes="ohm",
            waveforms=("level",),
            pull_up_ohm=1000.0,
            pull_up_v=5.0,
            adc_bits=10,
            setting=Curves(path=("Curve",), free_points=8),
        )
    if quantity == "exhaust":
        return InputSheet(pin=pin, quantity=quantity, takes="thermocouple", waveforms=("level",))
    return InputSheet(
        pin=pin,
        quantity=quantity,
        takes="duty" if quantity == "pump" else "volts",
        waveforms=("square",) if quantity == "pump" else ("level",),
        curve=((q.low, 0.0), (q.high, 1.0 if quantity == "pump" else 5.0)),
    )


_PARTS: dict[str, tuple[str, Any]] = {
    "a supply": (
        "supplies",
        SupplySheet(pin="", kind="power", amps=1.0, feeds=("run",), fuse_a=2.0),
    ),
    "a ground": ("supplies", SupplySheet(pin="", kind="ground", amps=1.0)),
    "an output": ("outputs", OutputSheet(pin="", quantity="tach", pulses_per_rev=2.0)),
    "a limit or other control": (
        "controls",
        Control(
            pin="",
            label="new limit",
            means="limit",
            setting=Rotary(positions=(("1", 5000.0), ("2", 6000.0)), unit="rpm"),
        ),
    ),
    "a choice by switches": (
        "controls",
        Control(
            pin="",
            label="signal kind",
            means="signal",
            stands_for=(("00", "sine"), ("01", "square")),
            setting=Lookup(rows=(("00", 0.0), ("01", 1.0)), unit="signal"),
        ),
    ),
}
_INPUTS: tuple[tuple[str, Quantity], ...] = (
    ("a speed input", "speed"),
    ("a tach input", "tach"),
    ("a temperature input", "coolant"),
    ("a pressure input", "oil"),
    ("a tank input", "fuel"),
    ("an on/off input", "clutch"),
)
PARTS = (*(name for name, _ in _INPUTS), *_PARTS)
"""What can be put into a sheet with one press."""


def with_part(sheet: DeviceSheet, name: str) -> tuple[DeviceSheet, str]:
    """``sheet`` with a ready part under a free pin name, and that name."""
    pin = free_pin(sheet)
    inputs = dict(_INPUTS)
    if name in inputs:
        where, part = "inputs", input_for(inputs[name], pin)
    else:
        where, part = _PARTS[name][0], msgspec.structs.replace(_PARTS[name][1], pin=pin)
    return put(sheet, (where,), (*getattr(sheet, where), part)), pin


def with_copy(sheet: DeviceSheet, other: DeviceSheet, pin: str) -> tuple[DeviceSheet, str]:
    """``sheet`` with a pin like that of another, and what it is called now."""
    for where in ("inputs", "outputs", "supplies", "controls"):
        for part in getattr(other, where):
            if part.pin == pin:
                name = free_pin(sheet, pin)
                fresh = msgspec.structs.replace(part, pin=name)
                if isinstance(fresh, Control) and sheet.input(fresh.of) is None:
                    fresh = msgspec.structs.replace(fresh, of="")
                return put(sheet, (where,), (*getattr(sheet, where), fresh)), name
    raise Problem(f"{other.name} has no pin “{pin}”.")


ROWS: dict[type, Any] = {
    Dial: Dial(name="dial", positions=("1", "2", "3"), octaves=1.0),
    Preset: Preset(name="curve", points=((273.15, 6000.0), (373.15, 200.0))),
    Need: Need(fact="throttle"),
    OwnerLine: OwnerLine(part="daily", head="Set it", text="as its leaflet says"),
    HouseFigure: HouseFigure(id=next(n for n, f in FIGURES.items() if f.shop), value=1.0),
}
"""A ready row of each kind that records are listed in."""

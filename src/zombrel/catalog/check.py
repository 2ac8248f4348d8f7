"""What the schema cannot say about a device sheet or a source: each trouble names its field."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from typing import TypeVar

import msgspec

from zombrel.calibrate.setting import options
from zombrel.job.edits import plain
from zombrel.job.pairs import LEAST_PAIRS, falling_or_rising, rising
from zombrel.job.problem import Problem
from zombrel.job.quantity import group
from zombrel.job.sheet import (
    Buttons,
    Curve,
    Curves,
    DeviceSheet,
    InputSheet,
    Menu,
    Plug,
    Presses,
    SettingSheet,
)
from zombrel.job.source import Source

MOST_STEPS = 100000
"""More positions no menu has."""

T = TypeVar("T")


def parse_sheet(text: str | bytes) -> DeviceSheet:
    """A device sheet from its JSON text, checked as a whole.

    Raises:
        Problem: not JSON, not a device sheet, or a field that cannot be; the text names it.
    """
    sheet = _decode(text, DeviceSheet)
    for trouble in sheet_troubles(sheet):
        raise Problem(trouble)
    return sheet


def parse_source(text: str | bytes) -> Source:
    """A source from its JSON text; raises Problem naming the field that cannot be."""
    source = _decode(text, Source)
    points: Curve = getattr(source.spec, "points", ())
    for trouble in _curve("spec.points", points):
        raise Problem(trouble)
    return source


def _decode(text: str | bytes, kind: type[T]) -> T:
    try:
        return msgspec.json.decode(text, type=kind)
    except msgspec.ValidationError as error:
        raise Problem(plain(str(error))) from error
    except msgspec.DecodeError as error:
        raise Problem(f"This is not complete JSON yet: {error}.") from error


def sheet_troubles(sheet: DeviceSheet) -> Iterator[str]:
    """Everything wrong with a sheet that fits the schema."""
    pins = [i.pin for i in sheet.inputs] + [c.pin for c in sheet.controls]
    pins += [s.pin for s in sheet.supplies]
    for pin, times in Counter(pins).items():
        if times > 1:
            yield f"pin “{pin}” is there {times} times; each pin and control needs its own name."
        if "." in pin:
            yield f"pin “{pin}”: a name here may not contain a full stop."
    for i, given in enumerate(sheet.inputs):
        yield from _input(f"inputs[{i}]", given)
    for i, control in enumerate(sheet.controls):
        where = f"controls[{i}]"
        yield from _setting(f"{where}.setting", control.setting)
        if control.of and sheet.input(control.of) is None:
            yield f"{where}.of: there is no input “{control.of}” on this sheet."
    for i, supply in enumerate(sheet.supplies):
        if supply.kind == "power" and not supply.feeds:
            yield f"supplies[{i}].feeds: name the classes of feed that serve “{supply.pin}”."


def _input(where: str, given: InputSheet) -> Iterator[str]:
    kind = group(given.quantity)
    if kind == "sensed" and given.takes in ("pulses", "contact"):
        yield f"{where}.takes: {given.quantity} is read as ohm, volts, hz, duty or thermocouple."
    if kind == "rate" and given.takes != "pulses":
        yield f"{where}.takes: {given.quantity} is counted in pulses."
    if kind == "sensed" and given.takes != "thermocouple":
        if not given.curve and given.curves is None:
            yield f"{where}.curve: give the fixed curve, or a setting of type curves."
        if given.takes == "ohm" and not given.pull_up_ohm:
            yield f"{where}.pull_up_ohm: an input that reads ohms has a pull-up."
    if given.curve:
        yield from _curve(f"{where}.curve", given.curve)
    if given.setting is not None:
        yield from _setting(f"{where}.setting", given.setting)


def _setting(where: str, sheet: SettingSheet) -> Iterator[str]:
    if isinstance(sheet, Menu | Buttons | Presses):
        if sheet.high <= sheet.low:
            yield f"{where}.high: it must be above low, {sheet.low:g}."
            return
        if (sheet.high - sheet.low) / sheet.step > MOST_STEPS:
            yield f"{where}.step: that makes more than 100 000 positions."
            return
    if isinstance(sheet, Curves):
        if not sheet.presets and sheet.free_points < LEAST_PAIRS:
            yield f"{where}: give presets, or free_points of two or more."
        for i, preset in enumerate(sheet.presets):
            yield from _curve(f"{where}.presets[{i}].points", preset.points)
        return
    if isinstance(sheet, Plug):
        yield from _curve(f"{where}.known", sheet.known)
    try:
        names = options(sheet).names
    except Problem as problem:
        yield f"{where}: {problem}"
        return
    if len(set(names)) < len(names):
        yield f"{where}: two positions have the same name."


def _curve(where: str, points: Curve) -> Iterator[str]:
    if not points:
        return
    try:
        if rising(points, where) != points:
            yield f"{where}: the pairs must rise in their first number."
            return
        if len(points) > 1:
            falling_or_rising(points, where)
    except Problem as problem:
        yield str(problem)

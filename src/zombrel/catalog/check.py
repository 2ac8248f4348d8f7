"""What the schema cannot say about a device sheet or a source: each trouble names its field."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from typing import get_args

from zombrel.calibrate.settings.kinds import KINDS
from zombrel.job.model import Job
from zombrel.job.pairs import faults
from zombrel.job.problem import Problem
from zombrel.job.quantity import group
from zombrel.job.sheet import (
    Control,
    Curve,
    DeviceSheet,
    InputSheet,
    Lookup,
    SettingSheet,
    Waveform,
)
from zombrel.job.source import Source, Thermistor

_STANDS_FOR: dict[str, tuple[str, ...]] = {
    "signal": get_args(Waveform),
    "gearbox": ("manual", "automatic"),
    "contact": ("open", "closed"),
}
"""What the positions of a choice can stand for, by what it means."""


def source_troubles(source: Source) -> Iterator[str]:
    """Everything wrong with a source that fits the schema."""
    for words in _points(source):
        yield f"spec.points: {words}"


def _points(source: Source) -> Iterator[str]:
    """What is wrong with the pairs of a source, where it has some."""
    points: Curve = getattr(source.spec, "points", ())
    yield from faults(points)
    if isinstance(source.spec, Thermistor) and any(min(pair) <= 0 for pair in points):
        yield "temperatures [K] and ohms of a thermistor are above 0."


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
        yield from _control(f"controls[{i}]", control, sheet)
    yield from _banks(sheet)
    for i, supply in enumerate(sheet.supplies):
        if supply.kind == "power" and not supply.feeds:
            yield f"supplies[{i}].feeds: name the classes of feed that serve “{supply.pin}”."


def _control(where: str, control: Control, sheet: DeviceSheet) -> Iterator[str]:
    found = list(_setting(f"{where}.setting", control.setting))
    yield from found
    if control.of and sheet.input(control.of) is None:
        yield f"{where}.of: there is no input “{control.of}” on this sheet."
    can = _STANDS_FOR.get(control.means, ())
    if bool(can) != bool(control.stands_for):
        say = f"say which position is for {', '.join(can)}" if can else "only for a choice"
        yield f"{where}.stands_for: {say}; it means {control.means}."
    if found or not can:
        return
    names = KINDS[type(control.setting)].names(control.setting)
    for position, word in control.stands_for:
        if position not in names:
            yield f"{where}.stands_for: the setting has no position “{position}”."
        if word not in can:
            yield f"{where}.stands_for: one of {', '.join(can)}, not “{word}”."


def _banks(sheet: DeviceSheet) -> Iterator[str]:
    """Switches of one bank that two settings own."""
    owned: dict[tuple[str, int], str] = {}
    parts: list[InputSheet | Control] = [*sheet.inputs, *sheet.controls]
    for part in parts:
        if not isinstance(part.setting, Lookup) or not part.setting.bank:
            continue
        for bit in part.setting.bits:
            other = owned.setdefault((part.setting.bank, bit), part.pin)
            if other != part.pin:
                yield f"switch {bit} of bank “{part.setting.bank}” is {other}'s and {part.pin}'s."


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
    for words in faults(given.curve):
        yield f"{where}.curve: {words}"
    if given.setting is not None:
        yield from _setting(f"{where}.setting", given.setting)


def _setting(where: str, sheet: SettingSheet) -> Iterator[str]:
    kind = KINDS[type(sheet)]
    found = [f"{where}.{field}".rstrip(".") + f": {words}" for field, words in kind.faults(sheet)]
    yield from found
    if found:
        return
    try:
        names = kind.names(sheet)
    except Problem as problem:
        yield f"{where}: {problem}"
        return
    if len(set(names)) < len(names):
        yield f"{where}: two positions have the same name."


def job_troubles(job: Job) -> Iterator[str]:
    """What in the sheets and sources of a job no part on the shelf may have.

    Only what could take memory without end or makes no curve; the rest is found by its rules.
    """
    for device in job.devices:
        parts: list[InputSheet | Control] = [*device.sheet.inputs, *device.sheet.controls]
        for part in parts:
            if part.setting is not None:
                for field, words in KINDS[type(part.setting)].faults(part.setting):
                    yield f"{device.name} {part.pin}, setting {field}: {words}"
        for given in device.sheet.inputs:
            for words in faults(given.curve):
                yield f"{device.name} {given.pin}, curve: {words}"
    for source in job.sources:
        for words in _points(source):
            yield f"{source.name}, points: {words}"

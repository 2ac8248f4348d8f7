"""The pins and controls of a device sheet, each in a line of plain words."""

from __future__ import annotations

from zombrel.catalog.form.applies import reads
from zombrel.catalog.form.fields import Path, tag_of, unsaid
from zombrel.catalog.form.words import BLOCKS, WORDS
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Control, DeviceSheet, Dials, InputSheet, OutputSheet, SupplySheet
from zombrel.job.value import Value
from zombrel.units import prefixed


class PinRow(Value, frozen=True):
    """One pin or control."""

    path: Path
    pin: str
    does: str
    """What it is: ``counts road speed``."""
    takes: str
    """What it takes or gives: ``square, from 2.5 V, to 1 kHz``."""
    set_by: str
    """How it is set; empty for what is not."""
    unsaid: tuple[str, ...]
    """What of it decides a verdict and is not said."""


def pin_rows(sheet: DeviceSheet) -> tuple[PinRow, ...]:
    """Every pin and control of ``sheet``, inputs first, as they are listed in a form."""
    found = [_row(("inputs", i), p, *_input(p)) for i, p in enumerate(sheet.inputs)]
    found += [_row(("outputs", i), p, *_output(p)) for i, p in enumerate(sheet.outputs)]
    found += [_row(("controls", i), p, *_control(p)) for i, p in enumerate(sheet.controls)]
    found += [_row(("supplies", i), p, *_supply(p)) for i, p in enumerate(sheet.supplies)]
    return tuple(found)


def _row(
    path: Path,
    part: InputSheet | OutputSheet | Control | SupplySheet,
    does: str,
    takes: str,
    set_by: str = "",
) -> PinRow:
    return PinRow(path, part.pin, does, takes, set_by, unsaid(part))


def _set_by(setting: object) -> str:
    if setting is None:
        return ""
    if isinstance(setting, Dials):
        n = len(setting.dials)
        return {1: "one dial", 2: "two dials", 3: "three dials"}[n]
    return BLOCKS[tag_of(setting)]


def _input(given: InputSheet) -> tuple[str, str, str]:
    how, title = reads(given), QUANTITIES[given.quantity].title.lower()
    verb = {"pulses": "counts", "contact": "feels"}.get(how, "reads")
    if how == "contact":
        takes = f"{given.active} to {given.closes_to} is on"
        if given.need_ohm:
            takes = f"under {prefixed(given.need_ohm, 'Ω')} to ground at rest"
    elif how == "pulses":
        shapes = " or ".join(WORDS["waveforms"][w] for w in given.waveforms)
        takes = f"{shapes}, from {given.threshold_v:g} V, to {prefixed(given.max_hz, 'Hz')}"
    elif how == "ohm":
        takes = f"ohms, {prefixed(given.pull_up_ohm, 'Ω')} to {given.pull_up_v or 5:g} V inside"
    else:
        takes = WORDS["takes"][how].removeprefix("reads ")
    fixed = "fixed" if given.curve or given.scale else ""
    return f"{verb} {title}", takes, _set_by(given.setting) or fixed


def _output(given: OutputSheet) -> tuple[str, str]:
    rate = f", {given.pulses_per_rev:g} pulses" if given.pulses_per_rev else ""
    return f"tells {QUANTITIES[given.quantity].title.lower()}", f"{given.volts:g} V{rate}"


def _control(given: Control) -> tuple[str, str, str]:
    about = f"about {given.of}" if given.of else ""
    means = WORDS["means"][given.means]
    does = given.label if given.label == means else f"{given.label}: {means}"
    return does, about, _set_by(given.setting)


def _supply(given: SupplySheet) -> tuple[str, str]:
    if given.kind == "ground":
        return "ground", f"{given.amps:g} A"
    feeds = ", ".join(WORDS["feeds"][f] for f in given.feeds)
    fuse = f", {given.fuse_a:g} A fuse" if given.fuse_a else ""
    return f"supply, live at {feeds}", f"{given.amps:g} A{fuse}"

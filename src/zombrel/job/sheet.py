"""Device sheets: what a device wants on each pin, as data a user can write by hand.

The JSON Schema shipped beside the sheets (``catalog/data/sheet.schema.json``) is
generated from these classes.
"""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

Text = Annotated[str, Meta(max_length=600)]
Name = Annotated[str, Meta(min_length=1, max_length=80)]
Positive = Annotated[float, Meta(gt=0, lt=1e9)]
NonNegative = Annotated[float, Meta(ge=0, lt=1e9)]
Count = Annotated[int, Meta(ge=1, le=100000)]

Quantity = Literal["speed", "tach", "brake"]
Waveform = Literal["sine", "square", "kick", "level"]
FeedClass = Literal["constant", "accessory", "run", "run-and-crank", "start"]
SettingUnit = Literal["pulses/km", "pulses/rev", "cylinders"]


class Frozen(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, gc=False):
    """Base of every record in the tree: immutable, nothing unknown.

    Subclasses repeat ``frozen`` for the type checker and ``kw_only``, which is not inherited.
    A frozen tree has no cycles, so the collector need not walk it (``gc=False``).
    """


class Dial(Frozen, frozen=True, kw_only=True):
    """One rotary dial of a setting that multiplies a base by powers of two."""

    name: Name
    positions: Annotated[tuple[Name, ...], Meta(min_length=2, max_length=40)]
    octaves: Positive
    """Octaves per step: 1 doubles, 0.1 multiplies by 2^0.1."""


class Dials(Frozen, frozen=True, kw_only=True, tag="dials"):
    """A bank of dials: value = base · 2^Σ(step · octaves)."""

    base: Positive
    dials: Annotated[tuple[Dial, ...], Meta(min_length=1, max_length=3)]
    unit: SettingUnit


class Menu(Frozen, frozen=True, kw_only=True, tag="menu"):
    """A number reached through a menu path."""

    path: Annotated[tuple[Name, ...], Meta(max_length=8)]
    low: Positive
    high: Positive
    step: Positive
    unit: SettingUnit


class Buttons(Frozen, frozen=True, kw_only=True, tag="buttons"):
    """A number stepped with an up and a down button."""

    low: Positive
    high: Positive
    step: Positive
    unit: SettingUnit


SettingSheet = Dials | Menu | Buttons


class InputSheet(Frozen, frozen=True, kw_only=True):
    """One signal input of a device."""

    pin: Name
    quantity: Quantity
    waveforms: tuple[Waveform, ...] = ("square",)
    threshold_v: NonNegative = 0.0
    """Peak level at which the input counts a pulse [V]."""
    max_hz: Positive = 100000.0
    """Highest pulse rate the input follows [Hz]."""
    input_ohm: Positive = 47000.0
    """Resistance the input puts across the source [Ω]."""
    max_v: Positive = 60.0
    """Highest peak voltage the input stands [V]."""
    pull_up_ohm: NonNegative = 0.0
    """Pull-up to the supply inside the device [Ω], 0 for none."""
    need_ohm: NonNegative = 0.0
    """Brake input: the path to ground it must find at rest [Ω]."""
    works_above_mps: NonNegative = 0.0
    """The function works only above this road speed [m/s]."""
    pulses_per_flash: Annotated[int, Meta(ge=0, le=10000)] = 0
    """Self-test lamp: pulses counted for one flash, 0 if it has no such lamp."""
    setting: SettingSheet | None = None
    required: bool = True
    shows: bool = True
    """The device shows the value as a number that can be read off."""


class OutputSheet(Frozen, frozen=True, kw_only=True):
    """One signal output of a device that other devices may use."""

    pin: Name
    quantity: Quantity
    pulses_per_rev: Positive
    volts: Positive
    waveform: Waveform = "square"


class SupplySheet(Frozen, frozen=True, kw_only=True):
    """One power or ground pin."""

    pin: Name
    kind: Literal["power", "ground"]
    amps: NonNegative
    """Greatest steady current [A]."""
    standby_a: NonNegative = 0.0
    feeds: tuple[FeedClass, ...] = ()
    """Feed classes that serve this pin; empty for a ground."""
    fuse_a: NonNegative = 0.0
    """Fuse the maker asks for [A], 0 if none is stated."""


class DeviceSheet(Frozen, frozen=True, kw_only=True):
    """A kind of device: pins, thresholds, settings, cautions."""

    id: Name
    maker: Name
    model: Name
    name: Name
    inputs: tuple[InputSheet, ...] = ()
    outputs: tuple[OutputSheet, ...] = ()
    supplies: tuple[SupplySheet, ...] = ()
    min_v: NonNegative = 0.0
    """Supply below which the device resets [V]."""
    capacitor_discharge: bool = False
    """The device drives the coils from a capacitor at hundreds of volts."""
    sparks: Count = 1
    """Sparks per firing below ``multi_below_rps``."""
    multi_below_rps: NonNegative = 0.0
    cautions: tuple[Text, ...] = ()
    note: Text = ""

    def input(self, pin: str) -> InputSheet | None:
        """The input on ``pin``, or None."""
        for given in self.inputs:
            if given.pin == pin:
                return given
        return None

    def supply(self, pin: str) -> SupplySheet | None:
        """The supply on ``pin``, or None."""
        return next((s for s in self.supplies if s.pin == pin), None)

    def output(self, pin: str) -> OutputSheet | None:
        """The output on ``pin``, or None."""
        return next((o for o in self.outputs if o.pin == pin), None)

"""Supplies: which feed a device hangs on, and whether it is alive in a state."""

from __future__ import annotations

import functools
from collections.abc import Mapping
from typing import NamedTuple

from zombrel.job.memo import remembered
from zombrel.job.model import Device
from zombrel.job.sheet import FeedClass, InputSheet, SupplySheet
from zombrel.job.state import State
from zombrel.job.wiring import Feed, Wire

ALIVE: dict[FeedClass, tuple[str, ...]] = {
    "constant": ("off", "on", "crank"),
    "accessory": ("on",),
    "run": ("on",),
    "run-and-crank": ("on", "crank"),
    "start": ("crank",),
    "illumination": ("on",),
    "retained": ("off", "on"),
    "dead": (),
}
"""Key positions in which each class of feed is alive."""


class Pin(NamedTuple):
    """One pin of a device of the job."""

    device: Device
    supply: SupplySheet | None
    input: InputSheet | None


class Ends(NamedTuple):
    """What a wire joins, looked up in the job."""

    supply: SupplySheet | None
    """Power or ground pin of a device at one end."""
    input: InputSheet | None
    feed: Feed | None
    device: Device | None


Pins = dict[tuple[str, str], Pin]


@remembered
def pins(devices: tuple[Device, ...]) -> Pins:
    """Every pin of every device by (device id, pin).

    The same table comes back after an edit that only moves settings, so that whatever is
    remembered about wires stays good.
    """
    return _pins(tuple([(d.id, d.name, id(d.sheet)) for d in devices]), _Anything(devices))


class _Anything:
    """Carries ``devices`` past a cache that must not look at them."""

    def __init__(self, devices: tuple[Device, ...]) -> None:
        self.devices = devices

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Anything)

    def __hash__(self) -> int:
        return 0


@functools.lru_cache(maxsize=8)
def _pins(shape: tuple[tuple[str, str, int], ...], carried: _Anything) -> Pins:
    devices = carried.devices
    found: Pins = {}
    for device in devices:
        for given in device.sheet.inputs:
            found[device.id, given.pin] = Pin(device, None, given)
        for supply in device.sheet.supplies:
            found[device.id, supply.pin] = Pin(device, supply, None)
    return found


def ends(wire: Wire, at: Pins, feeds: Mapping[str, Feed]) -> Ends:
    """What the two ends of ``wire`` are; ``at`` from ``pins``."""
    a, b = wire.a, wire.b
    pin = at.get((a.place, a.pin)) or at.get((b.place, b.pin))
    feed = feeds.get(a.place) or feeds.get(b.place)
    if pin is None:
        return Ends(None, None, feed, None)
    return Ends(pin.supply, pin.input, feed, pin.device)


@remembered
def all_ends(wires: tuple[Wire, ...], at: Pins, feeds: tuple[Feed, ...]) -> list[Ends]:
    """The ends of every wire, in the order of the wires."""
    by = {f.id: f for f in feeds}
    return [ends(wire, at, by) for wire in wires]


@remembered
def feeds_of(
    wires: tuple[Wire, ...], at: Pins, feeds: tuple[Feed, ...]
) -> dict[str, list[tuple[SupplySheet, Feed, Wire]]]:
    """For each device id: its power pins, the feed each hangs on and the wire between."""
    found: dict[str, list[tuple[SupplySheet, Feed, Wire]]] = {}
    for wire, e in zip(wires, all_ends(wires, at, feeds), strict=True):
        if wire.carries != "power":
            continue
        if e.device is not None and e.supply is not None and e.feed is not None:
            found.setdefault(e.device.id, []).append((e.supply, e.feed, wire))
    return found


def powered(
    device: Device, feeds: list[tuple[SupplySheet, Feed, Wire]] | None, state: State
) -> bool:
    """Whether the device works in ``state``.

    A device whose feeds are not drawn yet is taken to be alive with the key on.
    """
    if state.volts < device.sheet.min_v:
        return False
    if not feeds:
        return state.key != "off"
    return all(
        state.key in ALIVE[feed.feed] and (feed.feed != "illumination" or state.lights)
        for _, feed, _ in feeds
    )

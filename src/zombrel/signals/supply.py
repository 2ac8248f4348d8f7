"""Supplies: which feed a device hangs on, and whether it is alive in a state.

Reference: key positions and terminals as the trade meters them (DIN 72552: 30, 15, 15r, 50).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from zombrel.job.feed_classes import FEEDS
from zombrel.job.follow.query import chunks, query
from zombrel.job.follow.view import plain
from zombrel.job.model import Device, Job, index
from zombrel.job.sheet import DeviceSheet, InputSheet, SupplySheet
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.job.wiring import Feed, Wire


class Fitted(Value, frozen=True):
    """A device of the job, apart from how it is set."""

    id: str
    name: str
    sheet: DeviceSheet


class Pin(Value, frozen=True):
    """One pin of a device of the job."""

    device: Fitted
    supply: SupplySheet | None
    input: InputSheet | None


class Ends(Value, frozen=True):
    """What a wire joins, looked up in the job."""

    supply: SupplySheet | None
    """Power or ground pin of a device at one end."""
    input: InputSheet | None
    feed: Feed | None
    device: Fitted | None


Pins = Mapping[tuple[str, str], Pin]


@query
def pins(job: Job) -> Pins:
    """Every pin of every device by (device id, pin)."""
    found: dict[tuple[str, str], Pin] = {}
    for device in job.devices:
        fitted = Fitted(device.id, device.name, plain(device.sheet))
        for given in fitted.sheet.inputs:
            found[device.id, given.pin] = Pin(fitted, None, given)
        for supply in fitted.sheet.supplies:
            found[device.id, supply.pin] = Pin(fitted, supply, None)
    return found


def ends(wire: Wire, at: Pins, feeds: Mapping[str, Feed]) -> Ends:
    """What the two ends of ``wire`` are; ``at`` from ``pins``."""
    a, b = wire.a, wire.b
    pin = at.get((a.place, a.pin)) or at.get((b.place, b.pin))
    feed = feeds.get(a.place) or feeds.get(b.place)
    if pin is None:
        return Ends(None, None, feed, None)
    return Ends(pin.supply, pin.input, feed, pin.device)


@query
def all_ends(job: Job) -> Mapping[str, Ends]:
    """The ends of every wire, by its id."""
    some = [plain(_ends_of_some(job, ids)) for ids in chunks(job.wires, 50)]
    return {key: joined for part in some for key, joined in part.items()}


@query
def _ends_of_some(job: Job, ids: tuple[str, ...]) -> dict[str, Ends]:
    at, feeds, wires = plain(pins(job)), index(plain(job.feeds)), index(job.wires)
    return {key: ends(wires[key], at, feeds) for key in ids}


class Supply(Value, frozen=True):
    """One power pin of a device with the feed and the wire it hangs on."""

    pin: SupplySheet
    feed: str
    """Id of the feed."""
    wire: str
    """Id of the wire."""


@query
def feeds_of(job: Job) -> Mapping[str, tuple[Supply, ...]]:
    """For each device id: its power pins, the feed each hangs on and the wire between."""
    found: dict[str, tuple[Supply, ...]] = {}
    for ids in chunks(job.wires, 50):
        for device, supply in plain(_supplies(job, ids)):
            found[device] = (*found.get(device, ()), supply)
    return found


@query
def _supplies(job: Job, ids: tuple[str, ...]) -> tuple[tuple[str, Supply], ...]:
    """Devices that some wires feed, with what each feeds."""
    found = []
    joined, wires = plain(_ends_of_some(job, ids)), index(job.wires)
    for key in ids:
        e = joined[key]
        if wires[key].carries != "power" or e.device is None or e.supply is None:
            continue
        if e.feed is not None:
            found.append((e.device.id, Supply(e.supply, e.feed.id, key)))
    return tuple(found)


def powered(device: Device, feeds: Sequence[Feed], state: State) -> bool:
    """Whether the device works in ``state``; ``feeds`` all those it hangs on.

    A device whose feeds are not drawn yet is taken to be alive with the key on.
    """
    if (device.converter_v or state.volts) < device.sheet.min_v:
        return False
    if not feeds:
        return state.key != "off"
    return all(
        state.key in FEEDS[feed.feed].alive and (state.lights or not FEEDS[feed.feed].lamps_only)
        for feed in feeds
    )

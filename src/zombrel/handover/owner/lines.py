"""What is said of each device to the one who drives with it: from its settings, in plain words.

A sheet may word its own lines; they stand in place of what is made here.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

from zombrel.behaviour.reports import paced
from zombrel.calibrate.settings.setting import said, to_si, value_of
from zombrel.diagnose.steps import gates, standing
from zombrel.handover.owner.page import Line
from zombrel.job.model import Chain, Device, Job, Relay, by_id
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Control, OwnerPart
from zombrel.job.source import BrakeSide
from zombrel.job.wiring import Feed
from zombrel.signals.chain_reading import works_from
from zombrel.signals.reduce import input_of
from zombrel.units.measure import Kind, token

HOLDS = {
    "brake": "the brake pedal",
    "clutch": "the clutch pedal",
    "park": "out of park",
    "park brake": "letting off the park brake",
    "arm": "its switch",
}
"""What ends what a device does, as the driver does it."""
SHOWN = {
    "coolant": "coolant",
    "charge": "charge air",
    "exhaust": "exhaust",
    "oil": "oil",
    "boost": "boost",
    "fuel": "fuel",
    "blend": "fuel blend",
    "mixture": "mixture",
    "volts": "battery",
}


def lines(job: Job, device: Device, part: OwnerPart) -> tuple[Line, ...]:
    """What is said of one device in one part of the page."""
    own = tuple(
        Line(x.head, _filled(job, device, x.text)) for x in device.sheet.owner if x.part == part
    )
    return own or tuple(_MADE[part](job, device))


def _filled(job: Job, device: Device, text: str) -> str:
    """Words of a sheet with its settings put in: ``above {TEMP HIGH}``."""

    def one(m: re.Match[str]) -> str:
        control = device.sheet.control(m[1])
        at = device.setting(m[1])
        if at is None:
            return "(not set yet)"
        return _value(job, device, control) if control is not None else at

    return re.sub(r"\{([^{}:]+)\}", one, text)


def chains_of(job: Job, device: Device) -> list[Chain]:
    """The signals that go into a device."""
    return [c for c in job.chains if c.device == device.id]


def ends_of(job: Job, device: Device) -> list[Chain]:
    """The signals that end what a device does."""
    return [c for c in chains_of(job, device) if device.sheet.gates(input_of(job, c)[1])]


def unproven(job: Job, device: Device) -> bool:
    """Whether something that should end what a device does has not been seen to."""
    keys = {c.id for c in ends_of(job, device)}
    return any(s.chain in keys and standing(job, s) != "passed" for s in gates(job))


def _kind(job: Job, device: Device, control: Control) -> Kind | None:
    chain = next((c for c in chains_of(job, device) if c.pin == control.of), None)
    if chain is not None and QUANTITIES[chain.quantity].group != "contact":
        return QUANTITIES[chain.quantity].kind
    return {"rpm": "engine", "°C": "temperature", "bar": "pressure"}.get(control.setting.unit)  # type: ignore[return-value]


def _value(job: Job, device: Device, control: Control) -> str:
    """Where a control stands, in its quantity's words."""
    at = device.setting(control.pin) or ""
    try:
        value = to_si(control.setting.unit, value_of(control.setting, at))
    except Problem:
        return at
    kind = _kind(job, device, control)
    return token(kind, value) if kind is not None else said(control.setting, at)


def _set(device: Device, means: str) -> Iterator[Control]:
    """Controls that mean so and have been set."""
    for control in device.sheet.controls:
        if control.means == means and device.setting(control.pin) is not None:
            yield control


def _watched(job: Job, device: Device, control: Control) -> str:
    """What a warning watches."""
    chain = next((c for c in chains_of(job, device) if c.pin == control.of), None)
    return SHOWN.get(chain.quantity, "") if chain is not None else ""


# ---- every day


def _daily(job: Job, device: Device) -> Iterator[Line]:
    yield from _pace(job, device)
    yield from _gauge(job, device)
    yield from _limits(job, device)
    yield from _idle(job, device)


def _pace(job: Job, device: Device) -> Iterator[Line]:
    if device.sheet.moves != "throttle":
        return
    speed = next((c for c in chains_of(job, device) if c.quantity == "speed"), None)
    low = works_from(input_of(job, speed)[1]) if speed is not None else 0.0
    above = f"above {token('speed', low, 0)}" if low > 0 else "once the engine runs"
    if device == paced(job):
        yield Line("Set a pace", f"{above}; it keeps the speed you drive when you set it")
    else:
        yield Line(device.name, f"works {above}")
    ends = ends_of(job, device)
    if ends and unproven(job, device):
        yield Line("End it", "that it lets go is not proven: do not use it")
    elif ends:
        told = [HOLDS[c.quantity] for c in ends if c.quantity in HOLDS]
        yield Line("End it", f"{_listed(told, 'or')}: it lets go at once")
    else:
        yield Line("End it", "nothing that lets it go is joined: do not use it")


def _gauge(job: Job, device: Device) -> Iterator[Line]:
    warns = []
    for means, word in (("warn low", "below"), ("warn high", "above"), ("reserve", "below")):
        for control in _set(device, means):
            what = _watched(job, device, control) or control.label
            lamp = "reserve lamp" if means == "reserve" else f"{what} lamp"
            warns.append(f"{lamp} {word} {_value(job, device, control)}")
    if warns:
        yield Line(f"The {device.name.lower()}", "; ".join(warns))


def _limits(job: Job, device: Device) -> Iterator[Line]:
    for control in _set(device, "shift"):
        yield Line("Shift", f"the lamp lights at {_value(job, device, control)}")
    for control in _set(device, "limit"):
        yield Line("Rev limit", f"the engine is held below {_value(job, device, control)}")
    launches = list(_set(device, "launch"))
    for control in launches[:1]:
        if device.sheet.moves or device.sheet.capacitor_discharge:
            at = _value(job, device, control)
            yield Line("Launch", f"while it is armed the engine is held at {at}")


def _idle(job: Job, device: Device) -> Iterator[Line]:
    for control in _set(device, "idle"):
        ends = [HOLDS[c.quantity] for c in ends_of(job, device) if c.quantity in HOLDS]
        let = f"; {_listed(ends, 'or')} ends it" if ends else ""
        if unproven(job, device):
            let = "; that it ends is not proven: do not use it"
        yield Line("High idle", f"raises the idle to {_value(job, device, control)}{let}")


# ---- what to mind


def _mind(job: Job, device: Device) -> Iterator[Line]:
    speeds = [c for c in chains_of(job, device) if c.quantity == "speed"]
    if device.sheet.moves == "throttle":
        yield Line("", "Not on wet leaves, ice or in town. Local law on such devices holds.")
    brake = next((c for c in ends_of(job, device) if c.quantity == "brake"), None)
    source = by_id(job.sources, brake.source) if brake is not None else None
    if brake is not None and source is not None and isinstance(source.spec, BrakeSide):
        relay = any(isinstance(hop, Relay) for hop in brake.hops)
        yield Line(
            "",
            "Other tail lamps: no change needed. The relay stays."
            if relay
            else "Other bulbs in the tail lamps, LED for filament or back: come in first. It might "
            "no longer let go.",
        )
    if speeds and job.vehicle.tyre:
        yield Line(
            "",
            f"Other tyres than {job.vehicle.tyre} change every speed that is kept or shown: come "
            "back and have it set.",
        )
    if any(_set(device, "launch")) and device.sheet.moves in ("throttle", "spark", ""):
        yield Line("", "Launch control is for closed ground, and never with people in front.")


# ---- if something is odd


def _odd(job: Job, device: Device) -> Iterator[Line]:
    if device.sheet.moves == "throttle":
        if ends_of(job, device):
            yield Line(
                "It lets go by itself", "a tail lamp or a pedal switch: do not use it, come in"
            )
        yield Line(
            "It does not let go",
            "brake firmly, out of gear, its own switch off; the key only once it stands. Do not "
            "use it again before we have seen it",
        )
        yield Line("It hunts on hills", "one step less sensitivity; we do it with you")


def slot_of(feed: Feed) -> str:
    """A slot as it is marked: ``F7``."""
    return feed.name.removeprefix("Slot ")


def _listed(words: list[str], last: str) -> str:
    """``a, b or c``"""
    return f" {last} ".join([*([", ".join(words[:-1])] if words[:-1] else []), *words[-1:]])


_MADE: dict[OwnerPart, Callable[[Job, Device], Iterator[Line]]] = {
    "daily": _daily,
    "mind": _mind,
    "odd": _odd,
}

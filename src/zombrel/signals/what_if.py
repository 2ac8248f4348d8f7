"""What a chain would show if a conductor were open, bad, or bridged to something.

The same network as ever, with that conductor in another state (``signals.circuit``).

References: as in ``signals.chain_reading``; logic levels of an on/off input as shares of what pulls
it (usual for 12 V inputs: ASSUMED).
"""

from __future__ import annotations

import math
from collections.abc import Callable

from zombrel.job.follow.view import plain
from zombrel.job.model import Chain, Device, Job, index
from zombrel.job.quantity import group, truth
from zombrel.job.sheet import InputSheet
from zombrel.job.source import BoxOutput, Source
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals import law as laws
from zombrel.signals.brake import PRESSED_SHARE
from zombrel.signals.chain_reading import felt, is_brake_line, living
from zombrel.signals.circuit.build import Built, Electric, Fault, build
from zombrel.signals.circuit.islands import islands
from zombrel.signals.circuit.network import Solved, solve
from zombrel.signals.circuit.port import Port
from zombrel.signals.circuit.rest import electric, port
from zombrel.signals.following import given_by
from zombrel.signals.reduce import law
from zombrel.signals.sense import FAULTS, UNREADABLE, shown_at

LOW_SHARE = 0.3
"""Below this share of the supply an input surely sees a way to ground."""
HIGH_SHARE = 0.7
"""Above it surely one to the supply."""


class Shown(Value, frozen=True):
    """What a chain shows."""

    status: str
    shown: float
    """[SI]; 1 and 0 for on and off; nan where nothing to be trusted is shown."""
    pin_v: float
    """At the input, above the device's ground [V]; nan for pulses."""
    supply_v: float
    """Least volts across the device's supply pins; nan where none is drawn."""


def what_if(job: Job, state: State, key: str, faults: tuple[Fault, ...] = ()) -> Shown:
    """What the chain ``key`` shows in ``state`` with conductors as ``faults`` have them.

    Raises:
        Problem: the chain cannot be computed at all.
    """
    return line(job, state, key, faults)(state)


def line(
    job: Job, state: State, key: str, faults: tuple[Fault, ...] = ()
) -> Callable[[State], Shown]:
    """The chain ``key`` with its network solved once, for all states electrically like ``state``.

    Raises:
        Problem: the chain cannot be computed at all.
    """
    job = plain(job)
    chain = index(job.chains)[key]
    source, device = index(job.sources)[chain.source], index(job.devices)[chain.device]
    sheet = device.sheet.input(chain.pin)
    assert sheet is not None  # validated with the job
    at = electric(state)
    built, solved = _solved(job, key, at, faults)
    supply = _across(built, solved, device)
    live = living(job, state)[device.id] and not supply < device.sheet.min_v
    spec = source.spec
    if isinstance(spec, BoxOutput):  # an output lives by its own device's supply
        box = index(job.devices)[spec.device]
        live = live and living(job, state)[box.id]
        live = live and not _across(built, solved, box) < box.sheet.min_v
    seen = port(built.taps[key], solved)
    kind = group(chain.quantity)
    if kind == "rate":
        rate = law(chain, given_by(job, source), device, seen)
        return lambda now: _rate(now, chain, rate, live).but(supply_v=supply)
    if kind == "sensed":
        return lambda now: _sensed(job, now, chain, seen, live).but(supply_v=supply)
    seen_as = _on_off(job, state, chain, source, sheet, faults, live).but(supply_v=supply)
    return lambda now: seen_as  # what is on or off is part of what is electrically alike


def _solved(job: Job, key: str, at: Electric, faults: tuple[Fault, ...]) -> tuple[Built, Solved]:
    known = islands(job)
    built = build(job, known.islands[known.of_chain[key]], at, faults)
    return built, solve(built.network)


def _across(built: Built, solved: Solved, device: Device) -> float:
    volts = [
        solved.volts[b.a] - solved.volts[b.b]
        for (of, _), b in built.loads.items()
        if of == device.id
    ]
    return min(volts, default=math.nan)


def _rate(state: State, chain: Chain, rate: laws.Law, live: bool) -> Shown:
    true = truth(chain.quantity, state)
    if chain.quantity == "speed":
        true /= 1 - state.wear
    found = laws.at(rate, true, live and state.key != "off")
    return Shown(laws.STATUS[found.status], found.shown, math.nan, math.nan)


def _sensed(job: Job, state: State, chain: Chain, seen: Port, live: bool) -> Shown:
    sender = felt(job, chain.id).sender
    shown, how = shown_at(sender, truth(chain.quantity, state), seen, state)
    if not live:
        return Shown(laws.STATUS[0], math.nan, 0.0, math.nan)
    status = FAULTS[how.fault] or "reading"
    return Shown(status, math.nan if how.fault in UNREADABLE else shown, how.pin_v, math.nan)


def _on_off(
    job: Job,
    state: State,
    chain: Chain,
    source: Source,
    sheet: InputSheet,
    faults: tuple[Fault, ...],
    live: bool,
) -> Shown:
    at = electric(state)
    built, solved = _solved(job, chain.id, at, faults)
    volts = port(built.taps[chain.id], solved).pin_v
    if not live:
        return Shown(laws.STATUS[0], math.nan, 0.0, math.nan)
    share = volts / state.volts if state.volts else 0.0
    if is_brake_line(source, sheet):
        limit = sheet.need_ohm / (sheet.need_ohm + sheet.pulls_ohm)
        if share <= limit:
            return Shown("released", 0.0, volts, math.nan)
        sure = share >= PRESSED_SHARE and chain.quantity in at.on
        return Shown("pressed" if sure else "unsure", 1.0 if sure else math.nan, volts, math.nan)
    if LOW_SHARE < share < HIGH_SHARE:
        return Shown("between its levels", math.nan, volts, math.nan)
    closed = share <= LOW_SHARE if sheet.closes_to == "ground" else share >= HIGH_SHARE
    on = closed == (sheet.active == "closed")
    return Shown("on" if on else "off", float(on), volts, math.nan)

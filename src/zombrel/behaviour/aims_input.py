"""What controls that watch an input, or pass a signal on, are aimed at: warnings, reserve, ratio.

Reference: [1] A warning must not chatter: its hysteresis is more than the noise, here three counts
of the converter (Schmitt trigger practice).
"""

from __future__ import annotations

import math
from functools import partial

from zombrel.behaviour.aim import Aim, need, told, wish_reason, wished
from zombrel.calibrate.settings.setting import to_si, value_of
from zombrel.job.facts import unset
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Device, Job
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.reason import Reason
from zombrel.job.sheet import Control
from zombrel.job.source import BoxOutput
from zombrel.job.state import State
from zombrel.signals.chain_reading import felt
from zombrel.signals.following import law_of, usual_port
from zombrel.signals.reduce import chains_to, counted_by, counter_of, input_of, setting_pulses
from zombrel.signals.sense import count_step, shown_at
from zombrel.units.measure import delta_token, token

USUAL_K = {"coolant": 378.15, "charge": 343.15, "exhaust": 1123.15}
USUAL_OIL, USUAL_BOOST = 0.8e5, 1.3e5
"""Warnings where nobody has wished for another [Pa]: oil at idle, boost (assumption)."""


def warn(job: Job, device: Device, control: Control) -> Aim:
    """What is wished, else the usual figure."""
    sheet = device.sheet.input(control.of)
    if sheet is None:
        raise Problem(f"{device.name}: {control.pin} watches no input.")
    kind = QUANTITIES[sheet.quantity].kind
    wish = wished(job, device, control)
    usual = USUAL_K.get(sheet.quantity, USUAL_OIL if sheet.quantity == "oil" else USUAL_BOOST)
    value = usual if wish is None else wish
    return Aim(
        value=value,
        why=lambda: Reason(
            title=f"{device.name}, {control.label}",
            result=token(kind, value),
            formula="as wished" if wish is not None else "usual figure of the trade",
            given=(told("wish", token(kind, wish) if wish is not None else "none"),),
            assumption="" if wish is not None else "nobody has wished for another",
        ),
    )


def hysteresis(job: Job, device: Device, control: Control) -> Aim:
    """More than the noise, and 2 % of the range."""
    sheet = device.sheet.input(control.of)
    if sheet is None:
        raise Problem(f"{device.name}: {control.pin} watches no input.")
    q = QUANTITIES[sheet.quantity]
    count = _count_at_warning(job, device, control)
    floor = 0.02 * (q.high - q.low)
    value = max(floor, 3 * count)
    return Aim(
        value=value,
        difference=True,
        side="above",
        why=lambda: Reason(
            title=f"{device.name}, {control.label}",
            result=f"{delta_token(q.kind, value)} at least",
            formula="the greater of 2 % of the range and three counts of the converter",
            given=(
                told("range", f"{token(q.kind, q.low)} to {token(q.kind, q.high)}"),
                told("one count there", delta_token(q.kind, count) if count else "not known"),
            ),
            source="a warning must not chatter: hysteresis above the noise",
            moves="the range" if floor > 3 * count else "the converter's step",
        ),
    )


def _count_at_warning(job: Job, device: Device, control: Control) -> float:
    """One count of the converter where the warning of the same input stands [SI]."""
    warning = next(
        (
            c
            for c in device.sheet.controls
            if c.of == control.of and c.means in ("warn high", "warn low")
        ),
        None,
    )
    chain = chains_to(job).get((device.id, control.of))
    if chain is None or warning is None:
        return 0.0
    try:
        found = felt(job, chain)
    except Problem:
        return 0.0
    at = device.setting(warning.pin)
    value = (
        to_si(warning.setting.unit, value_of(warning.setting, at))
        if at
        else warn(job, device, warning).value
    )
    how = shown_at(found.sender, value, usual_port(job, chain), State())[1]
    count = count_step(found.sender, how.pin_v, State())
    return count if math.isfinite(count) else 0.0


_DELAYS = {"coolant": 5.0, "charge": 3.0, "exhaust": 1.0, "oil": 2.0, "boost": 0.5, "fuel": 20.0}
"""How long each quantity may stray for good reasons [s]: hot soak, corners, gear changes."""


def delay(job: Job, device: Device, control: Control) -> Aim:
    """As long as the quantity strays for good reasons."""
    sheet = device.sheet.input(control.of)
    seconds = _DELAYS.get(sheet.quantity, 1.0) if sheet is not None else 1.0
    return Aim(
        value=seconds,
        why=lambda: Reason(
            title=f"{device.name}, {control.label}",
            result=f"{seconds:g} s",
            formula="as long as the quantity strays for good reasons",
            source="practice of the trade",
            assumption="corners, gear changes and hot starts last no longer",
        ),
    )


def reserve(job: Job, device: Device, control: Control) -> Aim:
    """A share of the tank."""
    wish = wished(job, device, control)
    tank = need(job.vehicle, "tank_l") / 1000
    value = wish if wish is not None else 0.13 * tank
    return Aim(
        value=value,
        why=lambda: Reason(
            title=f"{device.name}, {control.label}",
            result=token("volume", value),
            formula="as wished" if wish is not None else "13 % of the tank",
            given=(told("tank", token("volume", tank), provenance(job, "vehicle.tank_l")),),
            assumption="" if wish is not None else "usual share",
        ),
    )


_SENSES = ("A: the line runs the pump when it is high", "B: the line runs the pump when it is low")


def sense(job: Job, device: Device, control: Control) -> Aim:
    """Which way round the line runs the pump."""
    wish = wished(job, device, control)
    if wish is None:
        raise Problem(
            f"{device.name}: measure the pump line at least duty with the pump unplugged. "
            "High means it runs on high, low the other way; note it as the wish."
        )
    if wish not in range(len(_SENSES)):
        raise Problem(
            f"{device.name}: the wish for {control.label} is 0 (runs on high) or 1 (runs on low), "
            f"not {wish:g}."
        )
    return Aim(value=wish, why=partial(wish_reason, job, device, control, _SENSES[int(wish)]))


def ratio(job: Job, device: Device, control: Control) -> Aim:
    """The ratio at which what its output feeds reads true."""
    output = next((o for o in device.sheet.outputs if o.ratio == control.pin), None)
    comes = chains_to(job).get((device.id, output.of), "") if output is not None else ""
    goes = _sink(job, device.id, output.pin) if output is not None else None
    if output is None or not comes:
        raise Problem(f"{device.name}: nothing comes in yet that {control.label} could work on.")
    if goes is None:
        raise Problem(f"{device.name} {output.pin} feeds nothing yet.")
    end, sheet = input_of(job, goes)
    believes = setting_pulses(end, sheet) if sheet.numbers is not None else sheet.scale
    if math.isnan(believes) or not believes:
        raise unset(end.name, sheet.pin, goes.id)
    before = law_of(job, comes)
    gives = before.rate / before.divider
    behind = counted_by(counter_of(goes))
    unit = 1000.0 if sheet.quantity == "speed" else 1.0
    per = "per km" if sheet.quantity == "speed" else "per rev"
    return Aim(
        value=believes * behind / gives,
        why=lambda: Reason(
            title=f"{device.name}, {control.label}",
            result=f"{believes * behind / gives:.4g} out for one in",
            formula="ratio = pulses the gauge is built for ÷ pulses that come in",
            given=(
                told(f"{end.name} {sheet.pin}", f"{believes * unit:.4g} {per}", "device sheet"),
                told("comes in", f"{gives * unit:.4g} {per}"),
            ),
            source="definition of a ratio",
        ),
    )


def _sink(job: Job, device: str, pin: str) -> Chain | None:
    """The chain that an output of a device feeds."""
    outputs = {
        s.id
        for s in job.sources
        if isinstance(s.spec, BoxOutput) and (s.spec.device, s.spec.pin) == (device, pin)
    }
    return next((c for c in job.chains if c.source in outputs), None)

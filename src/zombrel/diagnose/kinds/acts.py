"""What a device does: limits at a low trial speed, timing, blips, a pump line, fans, a cut feed.

References: total advance as in ``calibrate.advance``; a limit acts within a step of its scale and
what a tach is read to (quantisation); the rest from the device sheets.
"""

from __future__ import annotations

import itertools
import math

from zombrel.behaviour.wanted import stands
from zombrel.calibrate.advance import total
from zombrel.calibrate.settings.setting import options
from zombrel.diagnose.kinds.rows import arrivals
from zombrel.diagnose.step import METER, REST_V, Field, StepSheet, run_words
from zombrel.job.follow.query import query
from zombrel.job.model import Chain, Device, Job, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import Control, Means
from zombrel.job.source import CommonFeed
from zombrel.units.measure import short_of

TRIAL: tuple[Means, ...] = ("limit", "launch", "shift")
TRIAL_FACTOR, TRIAL_RPM = 1.6, 2200.0
"""A trial speed is at least so many times idle, and where there is a choice about so high."""
READ = 0.03
"""How far a rising engine speed is read apart [share]: ASSUMED."""
TIMING_DEG = 2.0
"""How far a timing light is read apart [°]."""
DUTY_OK = 5.0
"""How far a duty cycle is read apart [points of 100]."""
SLACK_MM = (0.5, 3.0)
"""Least and most slack of an actuator's cable [mm]: ASSUMED."""
INSIDE, OUTSIDE = 0.5, 2.0
"""Two presses so many gaps apart: one blip, two blips."""


def _control(job: Job, key: str) -> tuple[Device, Control]:
    device_id, _, pin = key.partition("/")
    device = index(job.devices)[device_id]
    control = device.sheet.control(pin)
    assert control is not None  # the key was made of the sheet
    return device, control


def _stands(device: Device, control: Control) -> float:
    """What it stands at, nan where that is not noted or is no position it has."""
    try:
        return stands(device, control)
    except Problem:
        return math.nan


def _own_id(kind: str, device: Device, control: Control) -> str:
    """The first dial of a kind gives its device's step; more have their pin in the id."""
    first = next(c for c in device.sheet.controls if c.means == control.means)
    return (
        f"{kind}-{device.id}" if first.pin == control.pin else f"{kind}-{device.id}-{control.pin}"
    )


def _unset(control: Control, at: float) -> str:
    """Why nothing can be tried while a control stands nowhere; empty when it stands."""
    return f"{control.label} is not set yet: set it first." if math.isnan(at) else ""


def _with(job: Job, *means: Means) -> tuple[str, ...]:
    return tuple(
        [f"{d.id}/{c.pin}" for d in job.devices for c in d.sheet.controls if c.means in means]
    )


@query
def trials(job: Job) -> tuple[str, ...]:
    """(device/control) of every limit, launch and shift speed."""
    return _with(job, *TRIAL)


def trial_rpm(control: Control, idle: float) -> float:
    """A low setting to try it at: the nearest to ``TRIAL_RPM`` that idle does not reach [rpm]."""
    values = [v for v in options(control.setting).values if v >= idle * TRIAL_FACTOR]
    return min(values, key=lambda v: abs(v - TRIAL_RPM), default=math.nan)


@query
def trial(job: Job, key: str) -> StepSheet:
    """A limit or lamp tried low, and put back."""
    device, control = _control(job, key)
    idle = (job.vehicle.idle_rps or 850 / 60) * 60
    low = trial_rpm(control, idle)
    back = _stands(device, control)
    steps = options(control.setting).values
    step = min((b - a for a, b in itertools.pairwise(steps)), default=0.0)
    blocked = _unset(control, back)
    if not blocked and math.isnan(low):
        blocked = f"{control.label} cannot be set so low that it could be tried standing."
    lamp = control.means == "shift" or not device.sheet.moves
    does = "light" if lamp else "cut" if control.means == "limit" else "hold"
    fields: tuple[Field, ...] = ()
    if not blocked:
        off = low * READ + step / 2
        fields = (
            Field(
                name="acts",
                label=f"It {does}s at",
                unit="rpm",
                low=low - off,
                high=low + off,
                expect=f"{low - off:.0f} to {low + off:.0f} rpm",
                because=f"set to {low:.0f} rpm for the trial",
            ),
            Field(
                name="back",
                label="Put back to",
                unit="rpm",
                low=back - 1,
                high=back + 1,
                expect=f"{back:.0f} rpm",
                because="as the job has it",
            ),
        )
    armed = " Armed, clutch down." if control.means == "launch" else ""
    return StepSheet(
        id=f"trial-{device.id}-{control.pin}",
        kind="trial",
        short=f"{control.label} tried low, {device.name}",
        ask=f"Set {control.label} to {low:.0f} rpm. Raise the engine gently: it must {does} there."
        if fields
        else f"Try {control.label} at a low engine speed.",
        where=f"{device.name}, tach in sight.{armed} Then put it back and read the setting.",
        caution="Warm engine, out of gear, wheels chocked, clear of belts and fans. Not against a "
        "closed limiter for longer than a moment: unburnt fuel lights in the exhaust.",
        fields=fields,
        formula="it acts at what it is set to, ± half a step and 3 %",
        source="the device sheet: its scale",
        otherwise="A whole ratio off: its pulses a revolution. Not at all: its wire, its arming.",
        leaves="that it acts at the speed it is for: it is the same count, higher.",
        blocked=blocked,
        go=f"set:{device.id}/{control.pin}",
        key=key,
        about=(device.id, *_chains_of(job, device)),
        minutes=6.0,
        needs="one at the throttle, one at the tach",
        running=True,
    )


def _ends_at(job: Job, device: Device) -> list[str]:
    """The signals that end at a device."""
    ends = arrivals(job)
    pins = [(device.id, i.pin) for i in device.sheet.inputs]
    return [ends[pin] for pin in pins if pin in ends]


@query
def bounds(job: Job) -> tuple[str, ...]:
    """(device/control) of every launch speed of a car whose converter can push through."""
    return _with(job, "launch") if job.vehicle.gearbox == "automatic" else ()


@query
def bound(job: Job, key: str) -> StepSheet:
    """What the brakes hold, tried on the car: it narrows where a launch may stand."""
    device, control = _control(job, key)
    fields = tuple(
        Field(
            name=name,
            label=label,
            unit="rpm",
            low=300,
            high=8000,
            expect=expect,
            because=because,
            given=True,
        )
        for name, label, expect, because in (
            ("held", "Held at", "the highest that held", "foot hard on the brake, in gear"),
            ("pushed", "Pushed through at", "where it began to creep", "let off at once"),
        )
    )
    return StepSheet(
        id=f"bound-{device.id}-{control.pin}",
        kind="bound",
        short=f"What the brakes hold, {device.name}",
        ask="Foot on the brake, in gear: raise the engine bit by bit. Note where it creeps.",
        where=f"An empty place, nobody in front. The setting of {control.label} follows.",
        caution="It moves off when the brakes give way: a clear run ahead, a second person away "
        "from it, seconds only: converter and brakes heat.",
        fields=fields,
        formula="a launch speed not above what was held",
        source="trial on this car",
        otherwise="Set it lower than what was held.",
        leaves="that it holds hot, wet or downhill.",
        key=key,
        about=(device.id, "vehicle.held_rps", "vehicle.pushed_rps"),
        minutes=5.0,
        needs="one at the wheel, one who looks on from aside",
        running=True,
    )


@query
def cables(job: Job) -> tuple[str, ...]:
    """Devices that pull the throttle by a cable or lever."""
    if job.vehicle.throttle not in ("cable", "lever"):
        return ()
    return tuple([d.id for d in job.devices if d.sheet.moves == "throttle"])


@query
def cable(job: Job, key: str) -> StepSheet:
    """Slack of the actuator's cable with the throttle shut: a little, never none."""
    device = index(job.devices)[key]
    return StepSheet(
        id=f"slack-{key}",
        kind="slack",
        short=f"Cable slack, {device.name}",
        ask="Throttle shut, engine off: push the cable and read its slack.",
        where=f"At the actuator of the {device.name}. The return spring shuts the throttle by "
        "itself from anywhere.",
        caution="Engine off. A cable without slack holds the throttle open.",
        fields=(
            Field(
                name="slack",
                label="Slack, throttle shut",
                unit="mm",
                low=SLACK_MM[0],
                high=SLACK_MM[1],
                expect=f"{short_of(SLACK_MM[0] / 1000)} to {short_of(SLACK_MM[1] / 1000)}",
                because="a little, never none: more makes it sag when it takes hold",
            ),
        ),
        formula="slack = cable that is pulled before the throttle moves",
        source="practice of the trade; behaviour.cruise for what more of it does",
        otherwise="Turn the adjuster; gentle bends, no kink; then full travel by hand.",
        leaves="that it stays free when hot, or as the engine rocks.",
        key=key,
        about=(key,),
        minutes=3.0,
    )


def _chains_of(job: Job, device: Device) -> list[str]:
    ends = arrivals(job)
    pins = [i.pin for i in device.sheet.inputs if i.quantity == "tach"]
    return [ends[device.id, pin] for pin in pins if (device.id, pin) in ends]


@query
def sparked(job: Job) -> tuple[str, ...]:
    """Devices that move the spark."""
    return tuple([d.id for d in job.devices if d.sheet.moves == "spark"])


@query
def timing(job: Job, key: str) -> StepSheet:
    """Timing by light, at idle and where the mechanical advance is all in."""
    device, v = index(job.devices)[key], job.vehicle
    idle = v.idle_rps or 850 / 60
    fields: list[Field] = []
    if v.initial_deg is None:
        fields = [
            Field(
                name="before",
                label="Before, at idle",
                unit="°",
                low=-20,
                high=60,
                expect="as it was before anything was fitted",
                because="from the baseline of the survey",
                given=True,
            ),
            Field(
                name="after",
                label="Now, at idle",
                unit="°",
                low=-TIMING_DEG,
                high=TIMING_DEG,
                expect=f"the same, ± {TIMING_DEG:g}°",
                because="another box must not move it",
                of="before",
                by="sum",
            ),
        ]
    else:
        top = v.mechanical[-1][0] if v.mechanical else idle
        for name, speed in (("idle", idle), ("top", top))[: 2 if v.mechanical else 1]:
            deg = total(v.initial_deg, v.mechanical, 0.0, speed) if v.mechanical else v.initial_deg
            fields.append(
                Field(
                    name=name,
                    label=f"At {speed * 60:.0f} rpm",
                    unit="°",
                    low=deg - TIMING_DEG,
                    high=deg + TIMING_DEG,
                    expect=f"{deg:.0f}° ± {TIMING_DEG:g}°",
                    because="initial and mechanical advance, vacuum hose off",
                )
            )
    return StepSheet(
        id=f"timing-{key}",
        kind="timing",
        short=f"Timing by light, {device.name}",
        ask="Point the timing light at the marks.",
        where="Clamp on the lead of the first cylinder, vacuum hose off and plugged.",
        caution="Hundreds of volts at the coils, also just after switching off. Clear of belts and "
        "fans; they look still in the flash.",
        fields=tuple(fields),
        formula="total = initial + mechanical; vacuum off",
        source="definition; the survey’s figures",
        otherwise="A pick-up the wrong way round fires late and wanders: turn it.",
        leaves="timing under load.",
        key=key,
        about=(key, *_chains_of(job, device)),
        minutes=8.0,
        needs="a timing light",
        running=True,
    )


@query
def gaps(job: Job) -> tuple[str, ...]:
    """(device/control) of every least gap between blips."""
    return _with(job, "gap")


@query
def gap(job: Job, key: str) -> StepSheet:
    """Two presses inside the gap give one blip, outside it two."""
    device, control = _control(job, key)
    at = _stands(device, control)
    blocked = _unset(control, at)
    fields = tuple(
        Field(
            name=name,
            label=f"Pressed twice in {seconds:.2g} s",
            unit="",
            low=blips,
            high=blips,
            expect=f"{blips} blip{'s' if blips > 1 else ''}",
            because=f"the gap is {at:g} s",
        )
        for name, seconds, blips in (("inside", at * INSIDE, 1), ("outside", at * OUTSIDE, 2))
        if not blocked
    )
    return StepSheet(
        id=_own_id("gap", device, control),
        kind="gap",
        short=f"Gap between blips, {device.name}",
        ask="Press twice quickly, then twice slowly. Count the blips.",
        where=f"{device.name}, armed, engine warm and out of gear.",
        caution="It moves the throttle: wheels chocked, out of gear, a hand on the key.",
        fields=fields,
        formula="a press within the gap of the last is not taken",
        source="the device sheet: its least gap",
        otherwise="Two where one is due: a longer gap, or a contact that bounces.",
        leaves="that the blip is high enough: the road does.",
        blocked=blocked,
        go=f"set:{device.id}/{control.pin}",
        key=key,
        about=(device.id,),
        minutes=3.0,
        needs="one at the pedal, one at the tach",
        running=True,
    )


@query
def pumps(job: Job) -> tuple[str, ...]:
    """(device/control) of every least duty of a pump or fan."""
    return _with(job, "least duty")


@query
def pump(job: Job, key: str) -> StepSheet:
    """The speed line of a pump: its sense and its least duty."""
    device, control = _control(job, key)
    at = _stands(device, control)
    sense = next((c for c in device.sheet.controls if c.means == "sense"), None)
    blocked = _unset(control, at)
    fields: tuple[Field, ...] = ()
    if not blocked:
        fields = (
            Field(
                name="duty",
                label="Cold, on the speed line",
                unit="%",
                low=at - DUTY_OK,
                high=at + DUTY_OK,
                expect=f"{at - DUTY_OK:.0f} to {at + DUTY_OK:.0f} %",
                because=f"{control.label} {at:g} %; with the sense turned {100 - at:.0f} %",
            ),
            Field(
                name="faster",
                label="Warmer, the pump runs faster",
                unit="",
                low=1,
                high=1,
                expect="faster",
                because="with the sense turned it would run slower",
                yes=True,
            ),
        )
    stands_at = "" if sense is None else f" {sense.label} stands at {device.setting(sense.pin)}."
    return StepSheet(
        id=_own_id("pump", device, control),
        kind="pump",
        short=f"Pump line and sense, {device.name}",
        ask="Read the duty of the speed line cold. Warm the sender in the hand.",
        where=f"Duty meter on the pump’s speed line at the {device.name}.{stands_at}",
        caution="Engine off, key on. Fans and pumps start by themselves.",
        fields=fields,
        formula="duty cold = least duty; it rises as it warms",
        source="the device sheet",
        otherwise="The pump’s controller is of the other kind: turn the sense.",
        leaves="that it carries the heat: the road does.",
        blocked=blocked,
        go=f"set:{device.id}/{control.pin}",
        key=key,
        about=(device.id, *_ends_at(job, device)),
        minutes=6.0,
    )


@query
def fans(job: Job) -> tuple[str, ...]:
    """Devices that move a fan or a pump."""
    return tuple([d.id for d in job.devices if d.sheet.moves == "fan or pump"])


@query
def fan(job: Job, key: str) -> StepSheet:
    """What starts after key-off."""
    device = index(job.devices)[key]
    return StepSheet(
        id=f"after-{key}",
        kind="after",
        short=f"After key-off, {device.name}",
        ask="Key off. Listen for two minutes.",
        where=f"What the {device.name} drives must stand still, or stop by itself.",
        caution="Hands away from fans: they start by themselves with the key off.",
        fields=(
            Field(
                name="runs",
                label="Still runs after two minutes",
                unit="",
                low=0,
                high=0,
                expect="it stands still",
                because="its feed dies with the key, or it stops by itself",
                yes=True,
            ),
        ),
        formula="nothing that was fitted runs with the key off",
        source="house rule: off is off",
        otherwise="Its supply comes from a feed that lives on, or its relay sticks.",
        leaves="hot days.",
        key=key,
        about=(key,),
        minutes=3.0,
    )


@query
def cut_feeds(job: Job) -> tuple[str, ...]:
    """Signals from a pick-up in series with the cut supply of all coils."""
    sources = index(job.sources)
    return tuple([c.id for c in job.chains if isinstance(sources[c.source].spec, CommonFeed)])


@query
def cut_feed(job: Job, key: str) -> StepSheet:
    """Which half of a cut feed is the live one."""
    chain: Chain = index(job.chains)[key]
    source = index(job.sources)[chain.source]
    volts = REST_V * job.vehicle.system_v / 12
    fields = tuple(
        Field(
            name=name,
            label=label,
            unit="V",
            low=low,
            high=high,
            expect=f"{max(low, 0):.1f} to {high:.1f} V",
            because=because,
        )
        for name, label, low, high, because in (
            ("live", "Half to the adapter’s IN", volts - 4 * METER, volts + 2 * METER, "from key"),
            ("dead", "Half to the coils", -0.05, 0.5, "nothing feeds it while it is cut"),
        )
    )
    return StepSheet(
        id=f"cut-{key}",
        kind="cut",
        short=f"Live half, {source.name}",
        ask="Key on. Meter both halves of the cut wire.",
        where=f"{source.name}: black lead on battery negative, ends held apart.",
        caution="Key on, engine off; insulate both ends before the key is turned.",
        fields=fields,
        formula="the supply’s half is live, the coils’ half is not",
        source="the survey’s key positions",
        otherwise="Exchange the two halves at the adapter.",
        leaves="that the coils get their current: cranking does.",
        under=run_words(job, chain),
        chain=key,
        key=key,
        about=(key, chain.source, *chain.wires),
        minutes=3.0,
    )

"""What each device control should stand at, worked out from the vehicle, with the reason.

A wish of the owner's comes first wherever the vehicle allows it. Delays and usual figures of
the trade are assumptions and say so.

Reference: how far off a control stands is told as a relative error, (stands − wanted) ÷ wanted
(definition, JCGM 200, 2.16).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from zombrel.behaviour import aims_engine as engine
from zombrel.behaviour import aims_input as inputs
from zombrel.behaviour import choices
from zombrel.behaviour.aim import Aim, told
from zombrel.behaviour.sensitivity import in_words, movers
from zombrel.calibrate import resistor_code
from zombrel.calibrate.settings.setting import from_si, nearest, value_of
from zombrel.job.model import Device, Job
from zombrel.job.reason import Reason
from zombrel.job.sheet import Control, Frozen, Plug
from zombrel.units import number, percent

GAP_S = 0.4
"""A clutch pedal let up and caught bounces within this time [s] (assumption)."""


class Wanted(Frozen, frozen=True, kw_only=True):
    """Where a control should stand."""

    at: str
    value: float
    """What the position stands for, in the setting's unit."""
    target: float
    """What was aimed at, in the setting's unit."""
    why: Callable[[], Reason]

    @property
    def reason(self) -> Reason:
        """Why it should stand there."""
        return self.why()


def wanted(job: Job, device: Device, control: Control) -> Wanted:
    """Where ``control`` of ``device`` should stand.

    Raises:
        Problem: a fact is missing, or a wish cannot be granted; the text says which.
    """
    aim = _AIMS[control.means](job, device, control)
    unit = control.setting.unit
    target = from_si(unit, aim.value, aim.difference)
    at, value = nearest(control.setting, target, aim.side)
    if isinstance(control.setting, Plug):
        return _plugged(control.setting, at, target, aim.why)
    return Wanted(at=at, value=value, target=target, why=aim.why)


def stands(device: Device, control: Control) -> float:
    """What a control stands at now, in the setting's unit; nan when not noted.

    Result [unit of the setting].

    Raises:
        Problem: the device has no such position.
    """
    at = device.setting(control.pin)
    return math.nan if at is None else value_of(control.setting, at)


def _plugged(plug: Plug, at: str, target: float, why: Callable[[], Reason]) -> Wanted:
    """A resistor for a wanted value: the law of the input, the part, its tolerance."""
    law = resistor_code.learn(plug.known, plug.vref)
    part = resistor_code.part(law, target, "E24", plug.tolerance)
    why = partial(_plug_reason, plug, law, part, target, why)
    return Wanted(at=at, value=part.value, target=target, why=why)


def _plug_reason(
    plug: Plug,
    law: resistor_code.Law,
    part: resistor_code.Part,
    target: float,
    why: Callable[[], Reason],
) -> Reason:
    reason = why()
    fine = resistor_code.part(law, target, "E96", 0.01)
    volts = plug.vref * part.ohm / (part.ohm + law.pull_up)
    strongest = movers(
        lambda g: law.a + law.b * plug.vref * g["resistor"] / (g["resistor"] + g["pull-up"]),
        {"resistor": part.ohm, "pull-up": law.pull_up},
    )
    return Reason(
        title=reason.title,
        result=f"{number(part.ohm / 1000, 1)} kΩ gives {number(part.value)} rpm, "
        f"{number(part.low)} to {number(part.high)} at ±{plug.tolerance * 100:g} %"
        + ("; two known pairs leave it so wide, measure another" if law.open else ""),
        formula="V = Vr · R ÷ (R + P); value = a + b · V; a, b and P from the known pairs",
        given=(
            *(
                told(f"{ohm / 1000:g} kΩ", f"{number(value)} rpm", "device sheet")
                for ohm, value in plug.known
            ),
            told(
                "pull-up taken" if law.open else "pull-up found",
                f"{number(law.pull_up)} Ω",
                "assumed" if law.open else "",
            ),
            told("slope found", f"{number(law.b, 1)} rpm per volt"),
            told("volts there", f"{volts:.3f} V of {plug.vref:g} V"),
            told("E96, 1 %", f"{number(fine.ohm)} Ω gives {number(fine.value)} rpm"),
            *reason.given,
        ),
        source="voltage divider; IEC 60063 for the parts",
        assumption="two pairs leave the pull-up open, from 1 to 100 kΩ: measure another pair"
        if law.open
        else "",
        moves=in_words(strongest, lambda d: f"{d:+z.1f} rpm"),
    )


_AIMS: dict[str, Callable[[Job, Device, Control], Aim]] = {
    "limit": engine.limit,
    "launch": engine.launch,
    "shift": engine.shift,
    "idle": engine.idle,
    "warn high": inputs.warn,
    "warn low": inputs.warn,
    "hysteresis": inputs.hysteresis,
    "delay": inputs.delay,
    "reserve": inputs.reserve,
    "ratio": inputs.ratio,
    "signal": choices.signal,
    "gearbox": choices.gearbox,
    "contact": choices.contact,
    "engage": engine.engage,
    "gain": engine.lowest,
    "gap": engine.simple(
        GAP_S, f"{GAP_S:g} s", "longer than a clutch pedal bounces", "a bounce would blip twice"
    ),
    "least duty": engine.simple(
        0.30,
        "30 %",
        "enough to keep the pump turning and cooled",
        "practice of the trade; the pump's own sheet decides",
    ),
    "sense": inputs.sense,
}


DANGER = {"limit", "launch"}
"""Standing above what is wanted, these let the engine or the driveline be hurt."""


def harms(control: Control, stands_at: float, want: Wanted) -> bool:
    """What a control that stands wrong can hurt, or leave unread; else it is only less good.

    ``stands_at`` [unit of the setting].
    """
    # told of another signal, gearbox or contact than there is, it reads wrong or not at all
    return bool(control.stands_for) or (control.means in DANGER and stands_at > want.value)


def off_words(control: Control, at: str, stands_at: float, want: Wanted) -> str:
    """How far a control that stands at position ``at`` is from where it should be.

    ``stands_at`` [unit of the setting].
    """
    if control.stands_for:
        said = dict(control.stands_for)
        return f"Stands at {at}, {said.get(at, 'for nothing here')}; {want.at} is {said[want.at]}"
    if control.setting.unit == "step":
        return f"Stands at {at}, {want.at} is wanted"
    if not want.value:
        return f"{stands_at:g} {control.setting.unit}, {want.value:g} is wanted"
    return (
        f"{stands_at:g} {control.setting.unit} against {want.value:g}: "
        f"{percent(stands_at / want.value - 1)}"
    )

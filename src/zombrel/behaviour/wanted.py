"""What each device control should stand at, worked out from the vehicle, with the reason.

A wish of the owner's comes first wherever the vehicle allows it. Delays and usual figures of
the trade are assumptions and say so.

References:
    [1] Shift where the next gear's wheel torque overtakes (Gillespie ch. 2), see
        ``calibrate.shift``.
    [2] A warning must not chatter: its hysteresis is more than the noise, here three counts
        of the converter (Schmitt trigger practice).
"""

from __future__ import annotations

import math
from collections.abc import Callable

from zombrel.behaviour import choices
from zombrel.behaviour.aim import Aim, need, told
from zombrel.behaviour.gearing import DRIVER_S, LAMP_S, gears, held_launch
from zombrel.behaviour.sensitivity import in_words, movers
from zombrel.behaviour.spin import STALL_RATIO
from zombrel.calibrate import resistor_code, shift, tyre
from zombrel.calibrate.setting import from_si, nearest, options, to_si, value_of
from zombrel.job.facts import lacking, unset
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Device, Job, Vehicle, by_id
from zombrel.job.pairs import between
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.reason import Reason
from zombrel.job.sheet import Control, Frozen, Plug
from zombrel.job.source import BoxOutput
from zombrel.job.state import State
from zombrel.signals.chain_reading import felt
from zombrel.signals.following import law_of, usual_port
from zombrel.signals.reduce import chains_to, counted_by, counter_of, input_of, setting_pulses
from zombrel.signals.sense import count_step, shown_at
from zombrel.units import number, percent, rpm
from zombrel.units.measure import delta_token, mass_of, token

BELOW_PUSHED = 0.85
"""Where it is only known what pushed through, so much of it is tried next: ASSUMED."""
GAP_S = 0.4
"""A clutch pedal let up and caught bounces within this time [s] (assumption)."""
USUAL_K = {"coolant": 378.15, "charge": 343.15, "exhaust": 1123.15}
USUAL_OIL, USUAL_BOOST = 0.8e5, 1.3e5
"""Warnings where nobody has wished for another [Pa]: oil at idle, boost (assumption)."""


class Wanted(Frozen, frozen=True, kw_only=True):
    """Where a control should stand."""

    at: str
    value: float
    """What the position stands for, in the setting's unit."""
    target: float
    """What was aimed at, in the setting's unit."""
    reason: Reason


def wish_id(device: Device, control: Control) -> str:
    """Id of the wish for a control."""
    return f"{device.id}/{control.pin}"


def wished(job: Job, device: Device, control: Control) -> float | None:
    """What the owner wants of it [SI]; None when nobody has said."""
    found = by_id(job.wishes, wish_id(device, control))
    return None if found is None else found.value


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
        return _plugged(control.setting, at, target, aim.reason)
    return Wanted(at=at, value=value, target=target, reason=aim.reason)


def stands(device: Device, control: Control) -> float:
    """What a control stands at now, in the setting's unit; nan when not noted.

    Result [unit of the setting].

    Raises:
        Problem: the device has no such position.
    """
    at = device.setting(control.pin)
    return math.nan if at is None else value_of(control.setting, at)


def _wish_reason(job: Job, device: Device, control: Control, text: str) -> Reason:
    found = by_id(job.wishes, wish_id(device, control))
    return Reason(
        title=f"{device.name}, {control.label}",
        result=text,
        formula="as wished",
        given=(told("wish", found.note if found else "", "hearsay"),),
    )


def _limit(job: Job, device: Device, control: Control) -> Aim:
    v = job.vehicle
    redline = need(v, "redline_rps")
    wish = wished(job, device, control)
    value = min(redline, wish) if wish is not None else redline
    return Aim(
        value=value,
        side="below",
        reason=Reason(
            title=f"{device.name}, {control.label}",
            result=f"{rpm(value)} at most",
            formula="the lesser of the redline and what is wished; the next position below",
            given=(told("redline", rpm(redline), provenance(job, "vehicle.redline_rps")),),
            source="the engine's own limit; the device's manual comes first",
        ),
    )


def _launch(job: Job, device: Device, control: Control) -> Aim:
    v = job.vehicle
    wish = wished(job, device, control)
    if wish is None and not v.torque:
        raise lacking("torque", else_=", or wish a launch speed")
    value = wish if wish is not None else max(v.torque, key=lambda p: p[1])[0]
    given = [told("aimed at", rpm(value), "wish" if wish is not None else "peak of torque")]
    assumption = ""
    formula = "greatest torque, unless another is wished; below the redline"
    if v.held_rps is not None:
        given.append(told("held in a trial", rpm(v.held_rps), provenance(job, "vehicle.held_rps")))
        if v.pushed_rps is not None:
            given.append(told("pushed through", rpm(v.pushed_rps)))
        value = min(value, v.held_rps)
        formula = "not above what was held in a trial on this car"
    elif v.pushed_rps is not None:
        given.append(told("pushed through in a trial", rpm(v.pushed_rps)))
        value = min(value, v.pushed_rps * BELOW_PUSHED)
        formula = "well below what pushed through in a trial on this car"
    elif v.gearbox == "automatic":
        held = held_launch(v)
        given.append(told("brakes hold", rpm(held)))
        value = min(value, held)
        formula = "n = stall · √(hold ÷ (ratio · torque)), hold at the converter's output"
        assumption = f"converter ratio {STALL_RATIO:g} at stall, usual"
    if v.redline_rps is not None:
        value = min(value, v.redline_rps)
    return Aim(
        value=value,
        side="below",
        reason=Reason(
            title=f"{device.name}, {control.label}",
            result=f"{rpm(value)} at most",
            formula=formula,
            given=tuple(given),
            source="Gillespie ch. 2; converter at stall takes K·n²",
            assumption=assumption,
        ),
    )


def _shift(job: Job, device: Device, control: Control) -> Aim:
    v = job.vehicle
    wish = wished(job, device, control)
    if wish is not None:
        return Aim(value=wish, reason=_wish_reason(job, device, control, rpm(wish)))
    every = gears(v)
    first = min(every, key=lambda g: g.lamp)
    final, mass = v.final_drive or 1.0, v.mass_kg or 1.0
    around = tyre.parse(v.tyre).rolling_circumference

    def lamp(given: dict[str, float]) -> float:
        rise = shift.rise(
            between(v.torque, first.at) * given["torque"],
            v.ratios[first.gear - 1],
            given["final drive"],
            given["mass"],
            around,
        )
        return shift.lamp_speed(first.at, rise, given["delay"])

    inputs = {"torque": 1.0, "final drive": final, "mass": mass, "delay": LAMP_S + DRIVER_S}
    strongest = movers(lambda g: lamp(dict(g)), inputs)
    return Aim(
        value=first.lamp,
        side="below",
        reason=Reason(
            title=f"{device.name}, {control.label}",
            result=f"{rpm(first.lamp)}: one lamp for all gears lights for the quickest, "
            f"gear {first.gear}",
            formula="lamp = shift − rise × (lamp + driver); rise = T · i² · 2π ÷ (m · around²)",
            given=(
                told(
                    f"best shift out of {first.gear}",
                    rpm(first.at) + (", the redline" if first.limited else ""),
                ),
                told("rise there", f"{number(first.rise * 60)} rpm/s"),
                told("lamp + driver", f"{LAMP_S + DRIVER_S:.2f} s", "assumed"),
                told("mass", f"{mass_of(mass)}", provenance(job, "vehicle.mass_kg")),
                told("torque curve", f"{len(v.torque)} points", provenance(job, "vehicle.torque")),
            ),
            source="Gillespie, Fundamentals of Vehicle Dynamics, ch. 2",
            assumption="full throttle, drag and slip neglected",
            moves=in_words(strongest, lambda d: f"{d * 60:+.0f} rpm"),
        ),
    )


def _idle(job: Job, device: Device, control: Control) -> Aim:
    wish = wished(job, device, control)
    if wish is None:
        raise Problem(f"{device.name}: nobody has said which {control.label} is wanted.")
    reason = _wish_reason(job, device, control, rpm(wish))
    return Aim(value=wish, reason=reason)


def _plugged(plug: Plug, at: str, target: float, reason: Reason) -> Wanted:
    """A resistor for a wanted value: the law of the input, the part, its tolerance."""
    law = resistor_code.learn(plug.known, plug.vref)
    part = resistor_code.part(law, target, "E24", plug.tolerance)
    fine = resistor_code.part(law, target, "E96", 0.01)
    volts = plug.vref * part.ohm / (part.ohm + law.pull_up)
    strongest = movers(
        lambda g: law.a + law.b * plug.vref * g["resistor"] / (g["resistor"] + g["pull-up"]),
        {"resistor": part.ohm, "pull-up": law.pull_up},
    )
    reason = Reason(
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
        moves=in_words(strongest, lambda d: f"{d:+.1f} rpm"),
    )
    return Wanted(at=at, value=part.value, target=target, reason=reason)


def _warn(job: Job, device: Device, control: Control) -> Aim:
    sheet = device.sheet.input(control.of)
    if sheet is None:
        raise Problem(f"{device.name}: {control.pin} watches no input.")
    kind = QUANTITIES[sheet.quantity].kind
    wish = wished(job, device, control)
    usual = USUAL_K.get(sheet.quantity, USUAL_OIL if sheet.quantity == "oil" else USUAL_BOOST)
    value = usual if wish is None else wish
    return Aim(
        value=value,
        reason=Reason(
            title=f"{device.name}, {control.label}",
            result=token(kind, value),
            formula="as wished" if wish is not None else "usual figure of the trade",
            given=(told("wish", token(kind, wish) if wish is not None else "none"),),
            assumption="" if wish is not None else "nobody has wished for another",
        ),
    )


def _hysteresis(job: Job, device: Device, control: Control) -> Aim:
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
        reason=Reason(
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
        else _warn(job, device, warning).value
    )
    how = shown_at(found.sender, value, usual_port(job, chain), State())[1]
    count = count_step(found.sender, how.pin_v, State())
    return count if math.isfinite(count) else 0.0


_DELAYS = {"coolant": 5.0, "charge": 3.0, "exhaust": 1.0, "oil": 2.0, "boost": 0.5, "fuel": 20.0}
"""How long each quantity may stray for good reasons [s]: hot soak, corners, gear changes."""


def _delay(job: Job, device: Device, control: Control) -> Aim:
    sheet = device.sheet.input(control.of)
    seconds = _DELAYS.get(sheet.quantity, 1.0) if sheet is not None else 1.0
    return Aim(
        value=seconds,
        reason=Reason(
            title=f"{device.name}, {control.label}",
            result=f"{seconds:g} s",
            formula="as long as the quantity strays for good reasons",
            source="practice of the trade",
            assumption="corners, gear changes and hot starts last no longer",
        ),
    )


def _reserve(job: Job, device: Device, control: Control) -> Aim:
    wish = wished(job, device, control)
    tank = need(job.vehicle, "tank_l") / 1000
    value = wish if wish is not None else 0.13 * tank
    return Aim(
        value=value,
        reason=Reason(
            title=f"{device.name}, {control.label}",
            result=token("volume", value),
            formula="as wished" if wish is not None else "13 % of the tank",
            given=(told("tank", token("volume", tank), provenance(job, "vehicle.tank_l")),),
            assumption="" if wish is not None else "usual share",
        ),
    )


def power(v: Vehicle) -> float:
    """Greatest power of the torque curve [W]: P = T · 2π · n."""
    if not v.torque:
        raise lacking("torque")
    return max(t * 2 * math.pi * n for n, t in v.torque)


def _engage(job: Job, device: Device, control: Control) -> Aim:
    wish = wished(job, device, control)
    if wish is not None:
        text = f"{from_si(control.setting.unit, wish):g}"
        return Aim(value=wish, reason=_wish_reason(job, device, control, text))
    v = job.vehicle
    watts, mass = power(v), need(v, "mass_kg")
    per_kg = watts / mass
    # four steps of the trade, spread over as many as this device has
    table = options(control.setting)
    part = sum(per_kg < edge for edge in (90.0, 60.0, 40.0)) / 3
    at = round(part * (len(table.values) - 1))
    return Aim(
        value=to_si(control.setting.unit, table.values[at]),
        reason=Reason(
            title=f"{device.name}, {control.label}",
            result=f"{table.names[at]}: {per_kg:.0f} W per kg",
            formula="a strong engine takes hold gently: first step from 90 W/kg, last below 40",
            given=(
                told("power", f"{watts / 1000:.0f} kW", provenance(job, "vehicle.torque")),
                told("mass", f"{mass_of(mass)}", provenance(job, "vehicle.mass_kg")),
            ),
            source="practice of the trade; droop at engagement on the road decides",
            assumption="where the steps lie",
            moves=in_words(
                movers(lambda g: g["power"] / g["mass"], {"power": watts, "mass": mass}),
                lambda d: f"{d:+.1f} W/kg",
            ),
        ),
    )


def _lowest(job: Job, device: Device, control: Control) -> Aim:
    """The first step of this device's own scale, unless another is wished."""
    table = options(control.setting)
    first = to_si(control.setting.unit, table.values[0])
    text = "practice of the trade: surging comes from too much"
    how = "start lowest; raise one step at a time on the road"
    return _simple(first, f"{table.names[0]}, lowest first", how, text)(job, device, control)


def _simple(value: float, words: str, formula: str, source: str) -> Callable[..., Aim]:
    def aim(job: Job, device: Device, control: Control) -> Aim:
        wish = wished(job, device, control)
        target = value if wish is None else wish
        return Aim(
            value=target,
            reason=Reason(
                title=f"{device.name}, {control.label}",
                result=words if wish is None else f"{from_si(control.setting.unit, target):g}",
                formula=formula if wish is None else "as wished",
                source=source,
            ),
        )

    return aim


_SENSES = ("A: the line runs the pump when it is high", "B: the line runs the pump when it is low")


def _sense(job: Job, device: Device, control: Control) -> Aim:
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
    return Aim(value=wish, reason=_wish_reason(job, device, control, _SENSES[int(wish)]))


def _ratio(job: Job, device: Device, control: Control) -> Aim:
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
        reason=Reason(
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


_AIMS: dict[str, Callable[[Job, Device, Control], Aim]] = {
    "limit": _limit,
    "launch": _launch,
    "shift": _shift,
    "idle": _idle,
    "warn high": _warn,
    "warn low": _warn,
    "hysteresis": _hysteresis,
    "delay": _delay,
    "reserve": _reserve,
    "ratio": _ratio,
    "signal": choices.signal,
    "gearbox": choices.gearbox,
    "contact": choices.contact,
    "engage": _engage,
    "gain": _lowest,
    "gap": _simple(
        GAP_S, f"{GAP_S:g} s", "longer than a clutch pedal bounces", "a bounce would blip twice"
    ),
    "least duty": _simple(
        0.30,
        "30 %",
        "enough to keep the pump turning and cooled",
        "practice of the trade; the pump's own sheet decides",
    ),
    "sense": _sense,
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

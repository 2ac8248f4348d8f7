"""What the devices of a job do in short moments: launch, shift, blip, falling idle, pump.

Each is the engine of ``behaviour.spin`` on the job's own vehicle and settings, in words with its
figures; what had to be assumed is said.

References: as in ``behaviour.spin``, ``behaviour.gearing`` and ``behaviour.longitudinal``.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from zombrel.behaviour.aim import need, told
from zombrel.behaviour.aims_engine import power
from zombrel.behaviour.gearing import DRIVER_S, LAMP_S, gears
from zombrel.behaviour.longitudinal import CDA_CAR, CDA_VAN, VAN_KG
from zombrel.behaviour.spin import (
    AFTER_S,
    CREEP_S,
    PULL_S,
    REST_S,
    SHUT_SHARE,
    STALL_RATIO,
    WATER_J_L_K,
    Creep,
    Engine,
    Gearing,
    Held,
    Loop,
    blip,
    creep,
    hand_back,
    pulls,
    shifted_at,
)
from zombrel.behaviour.suppose import turns_per_metre
from zombrel.behaviour.wanted import stands
from zombrel.calibrate import tyre
from zombrel.calibrate.settings.setting import options
from zombrel.job.facts import lacking
from zombrel.job.model import Device, Job, Vehicle, index
from zombrel.job.pairs import between
from zombrel.job.problem import Problem
from zombrel.job.reason import Given, Reason
from zombrel.job.sheet import Control, Means
from zombrel.job.value import Value
from zombrel.units import number, rpm, speed_token
from zombrel.units.measure import delta_token, length_of, mass_of

THROTTLE_S: dict[str | None, float] = {"wire": 0.1, "cable": 0.25, "lever": 0.25}
"""From shut to open [s], by how the throttle is moved: ASSUMED."""
USUAL_THROTTLE_S = 0.25
"""Where that is not said [s]."""
CREEPS_M = 0.1
"""What moves further in ``spin.CREEP_S`` creeps [m]."""
LURCH = 300 / 60
"""A driver feels a blip that runs over by more [1/s]: ASSUMED."""
SLOW_S = 2.0
"""Until an engine is back at idle, at most [s]."""
BLIP_SHARE = 0.55
"""A downshift is looked at that ends at this share of the redline."""
INTO_CHARGE = 0.06
"""Of an engine's power, what its charge cooler must carry away: ASSUMED."""
SOAKS_K = 5.0
"""The second pull may get so much hotter than the first [K]: ASSUMED."""


class Moment(Value, frozen=True):
    """One thing a device does, at one position of one control."""

    device: str
    pin: str
    kind: str
    words: str
    figures: tuple[tuple[str, float], ...]
    """(what, with its unit) and the figure."""
    fine: bool
    """Nothing in it that a driver would call wrong."""
    assumed: str
    reason: Reason


Makes = Callable[[Job, Device, Control, float], Moment]


def _moment(
    device: Device,
    control: Control,
    kind: str,
    words: str,
    figures: tuple[tuple[str, float], ...],
    fine: bool,
    assumed: str,
    given: tuple[Given, ...] = (),
) -> Moment:
    formula, source = _FORMULAS[kind]
    reason = Reason(
        title=f"{device.name}, {control.label}",
        result=words,
        formula=formula,
        given=(told(control.label, f"{device.setting(control.pin) or 'not set'}"), *given),
        source=source,
        assumption=assumed,
    )
    return Moment(device.id, control.pin, kind, words, figures, fine, assumed, reason)


_FORMULAS = {
    "creep": (
        "over = τ · K · n² · i − hold; m · v̇ = over ÷ r − rolling, τ falling as it couples",
        "Gillespie, Fundamentals of Vehicle Dynamics, ch. 2",
    ),
    "lamp": (
        "m · (1.04 + 0.0025 i²) · v̇ = T(n) · i ÷ r − air − rolling, from the lamp to the clutch",
        "Gillespie, Fundamentals of Vehicle Dynamics, ch. 2 and 4",
    ),
    "blip": (
        "J · dω/dt = opening · (T + T shut) − T shut; opened by how far the tach is off",
        "Newton; Heywood, Internal Combustion Engine Fundamentals, ch. 13",
    ),
    "hand-back": (
        "J · dω/dt = opening · (T + T shut) − T shut, the throttle shutting",
        "Newton; Heywood, Internal Combustion Engine Fundamentals, ch. 13",
    ),
    "pump": (
        "C · dT/dt = P − UA · √duty · T; duty from its least when cold to full when hot",
        "Incropera, Fundamentals of Heat and Mass Transfer, ch. 5",
    ),
}


def _launch(job: Job, device: Device, control: Control, at: float) -> Moment:
    """``at`` [rpm] with the brakes on, in gear."""
    v = job.vehicle
    engine = min(at / 60, need(v, "stall_rps"))  # it does not turn faster against the converter
    wheel, hold = _at_wheels(v, engine)
    ratio = need(v, "final_drive") * v.ratios[0]
    seen = creep(Held(wheel, hold, engine, ratio, _around(v), need(v, "mass_kg")))
    fine = seen.metres <= CREEPS_M
    words = f"Held at {at:.0f} rpm: {_creeps(seen)}."
    return _moment(
        device,
        control,
        "creep",
        words,
        (("creep_m", seen.metres), ("creep_kmh", seen.speed * 3.6), ("spare_share", seen.spare)),
        fine,
        f"converter ratio {STALL_RATIO:g} at stall; what the brakes hold is as noted",
        (
            told("engine", rpm(engine)),
            told("on the wheels", f"{number(wheel)} N·m"),
            told("brakes hold", f"{number(hold)} N·m"),
            told("mass", mass_of(need(v, "mass_kg"))),
        ),
    )


def _creeps(seen: Creep) -> str:
    if seen.metres > 0:
        gone = f"{length_of(seen.metres)} in {CREEP_S:g} s, {speed_token(seen.speed)} by then"
        return f"it creeps {gone}"
    return f"it stands, {seen.spare * 100:.0f} % of what the brakes hold to spare"


def _at_wheels(v: Vehicle, n: float) -> tuple[float, float]:
    """What the converter puts on the wheels at ``n`` [1/s], and what the brakes hold [N·m]."""
    stall, final = need(v, "stall_rps"), need(v, "final_drive")
    if not v.torque or not v.ratios:
        raise lacking("torque", "ratios")

    def put(at: float) -> float:
        return STALL_RATIO * between(v.torque, stall) * (at / stall) ** 2 * final * v.ratios[0]

    if v.held_rps is not None:  # a trial on this car says more than what is noted of its brakes
        return put(n), put(v.held_rps)
    return put(n), need(v, "brake_hold_nm")


def _shift(job: Job, device: Device, control: Control, at: float) -> Moment:
    """A lamp at ``at`` [rpm] in every gear, full throttle."""
    v = job.vehicle
    best = gears(v)  # says what is missing
    redline, late = need(v, "redline_rps"), LAMP_S + DRIVER_S
    shifts, figures, most = [], [], 0.0
    for gear in best:
        car = Gearing(
            v.torque,
            v.ratios[gear.gear - 1] * need(v, "final_drive"),
            _around(v),
            need(v, "mass_kg"),
            _cda(v),
        )
        n = shifted_at(car, at / 60, late)
        most = max(most, n)
        shifts.append(f"out of {gear.gear} at {n * 60:.0f} ({gear.at * 60:.0f})")
        figures.append((f"shift_{gear.gear}_rpm", n * 60))
    fine = most <= redline
    end = "" if fine else f". That is past the redline of {rpm(redline)}"
    return _moment(
        device,
        control,
        "lamp",
        f"Lit at {at:.0f} rpm, {late:.2f} s later it is shifted, best in brackets: "
        f"{', '.join(shifts)}{end}.",
        tuple(figures),
        fine,
        f"full throttle, lamp {LAMP_S:g} s and driver {DRIVER_S:g} s, a usual drag area",
        (
            told("redline", rpm(redline)),
            told("mass", mass_of(need(v, "mass_kg"))),
            told("drag area", f"{_cda(v):g} m²", "assumed"),
        ),
    )


def _blip(job: Job, device: Device, control: Control, at: float) -> Moment:
    """A downshift that ends at ``BLIP_SHARE`` of the redline; ``at`` [s] is the least gap."""
    v = job.vehicle
    engine, redline = _engine(v), need(v, "redline_rps")
    if len(v.ratios) < len((0, 1)):
        raise lacking("ratios")
    low = max(len(v.ratios) - 2, 1)
    turns = [turns_per_metre(v, gear) for gear in (low, low + 1)]
    if turns[0] is None or turns[1] is None:
        raise lacking("final_drive", "tyre")
    speed = BLIP_SHARE * redline / turns[0]
    throttle = THROTTLE_S.get(v.throttle, USUAL_THROTTLE_S)
    seen = blip(engine, speed * turns[1], speed * turns[0], throttle)
    late = math.isnan(seen.reached)
    fine = seen.over <= LURCH and not late
    words = f"{low + 1} to {low} at {speed_token(speed)}: from {rpm(speed * turns[1])} to "
    words += rpm(seen.target)
    if late:
        words += f" it does not come while the clutch is down, {-seen.over * 60:.0f} rpm short"
    else:
        words += f" in {seen.reached:.2f} s, {max(seen.over, 0) * 60:.0f} rpm over"
    words += f"; a press within {at:g} s of the last is not taken"
    return _moment(
        device,
        control,
        "blip",
        words + ".",
        (
            ("target_rpm", seen.target * 60),
            ("over_rpm", seen.over * 60),
            ("reached_s", seen.reached),
            ("window_s", seen.window),
        ),
        fine,
        f"inertia and friction of the engine by its torque; throttle in {throttle:g} s",
        _of_engine(engine),
    )


def _idle(job: Job, device: Device, control: Control, at: float) -> Moment:
    """From a raised idle ``at`` [rpm] back to the engine's own."""
    v = job.vehicle
    engine = _engine(v)
    if at / 60 <= engine.idle:
        words = f"{at:.0f} rpm is no more than the engine’s own idle: nothing is raised."
        return _moment(device, control, "hand-back", words, (), False, "")
    seen = hand_back(engine, at / 60, THROTTLE_S.get(v.throttle, USUAL_THROTTLE_S))
    fine = seen.seconds <= SLOW_S
    words = f"Let go at {at:.0f} rpm it is back at idle in {seen.seconds:.1f} s"
    if v.gearbox == "automatic":
        words += f"; put in gear before that, the converter pulls {seen.pull:.1f} times as hard"
    return _moment(
        device,
        control,
        "hand-back",
        words + ".",
        (("back_s", seen.seconds), ("pull_ratio", seen.pull)),
        fine,
        "inertia and friction of the engine by its torque; it is not held up by its own computer",
        _of_engine(engine),
    )


def _pump(job: Job, device: Device, control: Control, at: float) -> Moment:
    """A charge-cooler pump with a least duty ``at`` [%], over two pulls."""
    if not any(i.quantity == "charge" for i in device.sheet.inputs):
        raise Problem(f"{device.name} feels no charge air: what it cools is not known here.")
    heat = INTO_CHARGE * power(job.vehicle)
    loop = Loop(at / 100, heat)
    seen = pulls(loop)
    fine = seen.second_k - seen.first_k <= SOAKS_K
    back = f"not in {AFTER_S:g} s" if math.isnan(seen.back_s) else f"in {seen.back_s:.0f} s"
    first, second = (delta_token("temperature", k) for k in (seen.first_k, seen.second_k))
    words = (
        f"With {at:.0f} % at least: two pulls of {PULL_S:g} s, {REST_S:g} s apart, warm the water "
        f"by {first} and {second}; it is back {back}."
    )
    return _moment(
        device,
        control,
        "pump",
        words,
        (("first_k", seen.first_k), ("second_k", seen.second_k), ("back_s", seen.back_s)),
        fine,
        f"{number(heat / 1000, 1)} kW into {loop.water_j_k / WATER_J_L_K:g} l, a usual radiator, "
        f"duty full at {loop.full_k:g} K over",
        (told("power", f"{number(power(job.vehicle) / 1000)} kW", "from the torque curve"),),
    )


_KINDS: dict[Means, Makes] = {
    "launch": _launch,
    "shift": _shift,
    "gap": _blip,
    "idle": _idle,
    "least duty": _pump,
}


def of_control(job: Job, device: Device, control: Control, at: float | None = None) -> Moment:
    """What a control does as it stands, or would at ``at`` [unit of the setting].

    Raises:
        Problem: it has no such moment, it is not set, or a fact is missing.
    """
    makes = _KINDS.get(control.means)
    if makes is None:
        raise Problem(f"{control.label} has no moment of its own.")
    value = stands(device, control) if at is None else at
    if math.isnan(value):
        raise Problem(f"{device.name}: {control.label} is not set yet.")
    low, high = (end(options(control.setting).values) for end in (min, max))
    if not low <= value <= high:
        unit = control.setting.unit
        raise Problem(
            f"{device.name}: {control.label} goes from {low:g} to {high:g} {unit}, not {value:g}."
        )
    return makes(job, device, control, value)


def has_moment(job: Job, control: Control) -> bool:
    """Whether a control has a moment: nothing creeps without a converter."""
    if control.means == "launch" and job.vehicle.gearbox != "automatic":
        return False
    return control.means in _KINDS


def moments(job: Job) -> tuple[tuple[str, str, Moment | str], ...]:
    """(device, pin, moment or why there is none) of every control that has one."""
    found: list[tuple[str, str, Moment | str]] = []
    for device in index(job.devices).values():
        for control in device.sheet.controls:
            if not has_moment(job, control):
                continue
            try:
                seen: Moment | str = of_control(job, device, control)
            except Problem as problem:
                seen = str(problem)
            found.append((device.id, control.pin, seen))
    return tuple(found)


def _of_engine(engine: Engine) -> tuple[Given, ...]:
    shut = SHUT_SHARE * engine.greatest
    return (
        told("idle", rpm(engine.idle)),
        told("greatest torque", f"{number(engine.greatest)} N·m"),
        told("inertia", f"{engine.inertia:.2g} kg·m²", "assumed"),
        told("friction, shut", f"{number(shut)} N·m", "assumed"),
    )


def _around(v: Vehicle) -> float:
    if not v.tyre:
        raise lacking("tyre")
    return tyre.parse(v.tyre).rolling_circumference


def _cda(v: Vehicle) -> float:
    return CDA_VAN if (v.mass_kg or 0.0) >= VAN_KG else CDA_CAR


def _engine(v: Vehicle) -> Engine:
    """The engine out of gear.

    Raises:
        Problem: idle, cylinders or torque curve is missing.
    """
    if not v.torque:
        raise lacking("torque")
    cylinders = need(v, "cylinders")
    return Engine(v.torque, need(v, "idle_rps"), cylinders * 2 / v.strokes)

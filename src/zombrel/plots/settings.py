"""What the plots of Set show, from the job's facts, in the user's units."""

from __future__ import annotations

import math

from zombrel.behaviour.gearing import gears
from zombrel.calibrate import advance, resistor_code, tyre
from zombrel.calibrate.curve import reads
from zombrel.calibrate.settings.kinds import ohms
from zombrel.calibrate.settings.setting import said, to_si, value_of
from zombrel.job.model import Chain, Device, Job, Vehicle
from zombrel.job.pairs import between
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Control, Curve, InputSheet, Means, Plug
from zombrel.plots.picture import Axis, Dot, Line, Picture, Threshold
from zombrel.signals.inputs import INPUTS
from zombrel.signals.law import Law, corners
from zombrel.signals.study import Study
from zombrel.units import RPM, Units, number, prefixed, speed_unit, speed_value
from zombrel.units.measure import Kind, scale, unit, value_in

SPAN = 8.0
"""Ohms that span more are drawn along a logarithmic axis."""
WHOLE = 20.0
"""From here on a threshold is named without a decimal."""


def electrical_axis(study: Study, sheet: InputSheet, extra: Curve = ()) -> Axis:
    """The electrical axis of a sensor's plot; logarithmic for ohms that span a decade."""
    ys = [y for _, y in (*study.truth, *study.now, *study.pairs, *extra) if math.isfinite(y)]
    low, high = min(ys), max(ys)
    name = INPUTS[sheet.takes].unit
    if sheet.takes == "ohm" and low > 0 and high / low > SPAN:
        return Axis(name, low * 0.8, high * 1.25, log=True)
    room = (high - low or 1.0) * 0.08
    return Axis(name, min(low - room, 0.0) if low >= 0 else low - room, high + room)


def curve_picture(
    study: Study,
    sheet: InputSheet,
    kind: Kind,
    units: Units,
    now: float | None,
    thresholds: tuple[Threshold, ...],
    air: float,
    direct: bool,
) -> Picture:
    """A sensor's curve: the sender, the device's curve, the pairs, thresholds.

    ``direct`` when the device infers the sender's own property, so that its measured pairs
    lie on the same axes and can be dragged there.
    """

    def shown(points: Curve, shift: float = 0.0) -> tuple[tuple[float, float], ...]:
        return tuple((value_in(kind, x - shift, units), y) for x, y in points)

    low, high = (value_in(kind, v, units) for v in study.span)
    name = f"{QUANTITIES[sheet.quantity].title} {unit(kind, units)}".strip()
    lines = [Line(shown(study.truth, air), "this sender")]
    if study.now:
        clipped = _clip(study.now, study.span[0] + air, study.span[1] + air)
        lines.append(Line(shown(clipped, air), "what the device goes by", "second"))
    dots = tuple(
        Dot(value_in(kind, x, units), y, held=direct, doubt=i in study.doubtful)
        for i, (x, y) in enumerate(study.pairs)
    )
    return Picture(
        Axis(name, low, high),
        electrical_axis(study, sheet)
        if direct
        else electrical_axis(
            Study(pairs=(), kind=study.kind, model=(), truth=study.truth, now=study.now), sheet
        ),
        tuple(lines),
        dots if direct else (),
        thresholds,
        now,
        f"Curve of {sheet.pin}: sender against what the device goes by.",
    )


def error_picture(study: Study, sheet: InputSheet, kind: Kind, units: Units, air: float) -> Picture:
    """What the device shows less the truth over the range; the pairs' residuals as dots."""
    k = scale(kind, units)
    now: tuple[tuple[float, float], ...] = ()
    table: tuple[tuple[float, float], ...] = ()
    if study.now:
        now = _errors(study.truth, study.now, kind, units, air)
    if study.table:
        table = _errors(study.truth, study.table, kind, units, air)
    dots = tuple(
        Dot(value_in(kind, x, units), r * k, held=False, doubt=i in study.doubtful)
        for i, ((x, _), r) in enumerate(zip(study.pairs, study.residuals, strict=False))
    )
    ends = [abs(y) for _, y in (*now, *table)] + [abs(d.y) for d in dots]
    reach = max([*ends, study.good_enough * k / 2]) * 1.15
    low, high = (value_in(kind, v, units) for v in study.span)
    lines = [Line(now, "as it is set", "second")] if now else []
    if table:
        lines.append(Line(table, f"with {len(study.table)} points"))
    return Picture(
        Axis(f"error over {QUANTITIES[sheet.quantity].title.lower()}", low, high),
        Axis(f"error {unit(kind, units)}", -reach, reach),
        tuple(lines),
        dots,
        (),
        None,
        f"What {sheet.pin} shows less the truth, over its range.",
    )


def _errors(
    truth: Curve, curve: Curve, kind: Kind, units: Units, air: float
) -> tuple[tuple[float, float], ...]:
    k = scale(kind, units)
    return tuple((value_in(kind, x - air, units), (reads(curve, y) - x) * k) for x, y in truth)


FIRST = 0.01
"""Share of the range at which a line begins that comes from nothing."""
WEAR = 0.015
"""What wear and pressure do to the rolling circumference, either way."""


def rate_picture(
    chain: Chain,
    variants: tuple[tuple[str, Law], ...],
    top: float,
    units: Units,
    now: float,
) -> Picture:
    """Error of a rate over its range: as it stands and set otherwise, and what wear does."""
    kind = QUANTITIES[chain.quantity].kind
    lines: list[Line] = []
    for i, (name, rate_law) in enumerate(variants):
        points = tuple(
            (value_in(kind, x, units), (shown / x - 1) * 100)
            for x, shown in corners(rate_law, top)
            if x > 0 and math.isfinite(shown) and shown > 0
        )
        if points and points[0][0] > 0 and corners(rate_law, top)[0][0] <= 0:
            # Straight from nothing on: its error is the same from the first turn of a wheel.
            points = ((points[0][0] * FIRST, points[0][1]), *points)
        if points:
            lines.append(Line(points, name, ("second", "main", "faint")[min(i, 2)]))
    if chain.quantity == "speed" and lines:
        base = lines[-1].points
        for way, name in ((WEAR, "with wear ±1.5 %"), (-WEAR, "")):
            worn = tuple((x, ((1 + y / 100) / (1 - way) - 1) * 100) for x, y in base)
            lines.append(Line(worn, name, "faint"))
    reach = max((abs(y) for line in lines for _, y in line.points), default=1.0) * 1.2 + 0.1
    return Picture(
        Axis(f"true {unit(kind, units)}", 0.0, value_in(kind, top, units)),
        Axis("error %", -reach, reach),
        tuple(lines),
        (),
        (),
        now,
        f"Error of {chain.title.lower()} over its range.",
    )


def _clip(points: Curve, low: float, high: float) -> Curve:
    """A broken line between two values."""
    inside = tuple(p for p in points if low < p[0] < high)
    first, last = max(low, points[0][0]), min(high, points[-1][0])
    return ((first, between(points, first)), *inside, (last, between(points, last)))


def warnings(device: Device, sheet: InputSheet, kind: Kind, units: Units) -> tuple[Threshold, ...]:
    """The warnings on an input with their hysteresis, as they stand."""
    stands = _standing(device, sheet.pin)
    out = []
    for means, way in (("warn high", -1.0), ("warn low", 1.0), ("reserve", 1.0)):
        found = stands.get(means)  # type: ignore[call-overload]
        if found is None:
            continue
        control, value = found
        back = stands.get("hysteresis")
        let_go = None
        if back is not None and means != "reserve":
            width = back[1] - to_si(back[0].setting.unit, 0.0)
            let_go = value_in(kind, value + way * width, units)
        x = value_in(kind, value, units)
        out.append(
            Threshold(
                control.pin, x, f"{control.pin} {number(x, 1 if abs(x) < WHOLE else 0)}", let_go
            )
        )
    return tuple(out)


def _standing(device: Device, of: str) -> dict[Means, tuple[Control, float]]:
    """The controls that watch an input and what each stands at [SI]."""
    found: dict[Means, tuple[Control, float]] = {}
    for control in device.sheet.controls:
        at = device.setting(control.pin)
        if control.of == of and at is not None:
            try:
                value = to_si(control.setting.unit, value_of(control.setting, at))
            except Problem:
                continue
            found[control.means] = (control, value)
    return found


def rpm_picture(job: Job, device: Device) -> Picture:
    """Torque over engine speed with the device's limits on it.

    Raises:
        Problem: the torque curve is missing.
    """
    v = job.vehicle
    if not v.torque:
        raise Problem("The torque curve is missing: enter it in Survey to see it here.")
    top = max(v.redline_rps or 0.0, v.torque[-1][0]) / RPM * 1.08
    line = tuple((n / RPM, t) for n, t in v.torque)
    power = tuple((n / RPM, t * 2 * math.pi * n / 1000) for n, t in _dense(v.torque))
    marks = []
    for control in device.sheet.controls:
        at = device.setting(control.pin)
        if control.setting.unit == "rpm" and control.means != "idle" and at is not None:
            rpm = value_of(control.setting, at)
            marks.append(Threshold(control.pin, rpm, f"{control.pin} {number(rpm)}"))
    if v.redline_rps is not None:
        marks.append(Threshold("", v.redline_rps / RPM, "redline", held=False))
    high = max(y for _, y in (*v.torque, *power)) * 1.1
    return Picture(
        Axis("engine rpm", 0.0, top),
        Axis("N·m and kW", 0.0, high),
        (Line(line, "torque"), Line(power, "power", "second")),
        (),
        tuple(marks),
        None,
        f"Torque and power over engine speed with the limits of {device.name}.",
    )


def _dense(curve: Curve) -> Curve:
    low, high = curve[0][0], curve[-1][0]
    xs = [low + (high - low) * i / 40 for i in range(41)]
    return tuple((x, between(curve, x)) for x in xs)


def gears_picture(v: Vehicle, units: Units, now: float | None) -> Picture:
    """Wheel torque in every gear over road speed, with the best shifts as dots.

    Raises:
        Problem: a fact it rests on is missing.
    """
    every = gears(v)
    final, around = v.final_drive or 1.0, tyre.parse(v.tyre).rolling_circumference
    redline = v.redline_rps or v.torque[-1][0]
    lines = []
    for i, ratio in enumerate(v.ratios):
        points = tuple(
            (speed_value(n * around / final / ratio, units), t * ratio * final)
            for n, t in _dense(v.torque)
            if n <= redline * (1 + 1e-9)
        )
        lines.append(Line(points, f"gear {i + 1}", "main" if i % 2 == 0 else "second"))
    dots = tuple(
        Dot(
            speed_value(g.at * around / final / v.ratios[g.gear - 1], units),
            between(v.torque, g.at) * v.ratios[g.gear - 1] * final,
            held=False,
        )
        for g in every
    )
    top = max(x for line in lines for x, _ in line.points)
    high = max(y for line in lines for _, y in line.points) * 1.08
    return Picture(
        Axis(f"road speed {speed_unit(units)}", 0.0, top * 1.02),
        Axis("N·m at the wheels", 0.0, high),
        tuple(lines),
        dots,
        (),
        now,
        "Torque at the wheels in every gear over road speed; a dot where to shift.",
    )


def timing_picture(v: Vehicle) -> Picture:
    """Initial + mechanical + vacuum advance over engine speed, with lamp-measured points.

    Raises:
        Problem: nothing is known of the ignition's advance.
    """
    if v.initial_deg is None or not v.mechanical:
        raise Problem("Initial and mechanical advance are missing: enter them in Survey.")
    initial, top = v.initial_deg, v.mechanical[-1][0]
    xs = [top * i / 60 for i in range(61)]
    full = tuple((n / RPM, advance.total(initial, v.mechanical, 0.0, n)) for n in xs)
    lines = [Line(full, "at full load")]
    if v.vacuum_deg:
        light = tuple((x, y + v.vacuum_deg) for x, y in full)
        lines.append(Line(light, "light load, with vacuum", "second"))
    lines.append(Line(((0.0, initial), (top / RPM, initial)), "initial", "faint"))
    dots = tuple(Dot(n / RPM, deg) for n, deg in v.timing_seen)
    high = max(y for line in lines for _, y in line.points)
    high = max([high, *(d.y for d in dots)]) * 1.12
    return Picture(
        Axis("engine rpm", 0.0, top / RPM),
        Axis("° before top", 0.0, high),
        tuple(lines),
        dots,
        (),
        None,
        "Ignition advance over engine speed, with the points measured by lamp.",
    )


def plug_picture(sheet: Plug, at: str, want: str) -> Picture:
    """What a resistor at the plug gives, with the pairs it was learned from."""
    law = resistor_code.learn(sheet.known, sheet.vref)
    fitted, wanted = ohms(at), ohms(want)
    known = [ohm for ohm, _ in sheet.known] + [x for x in (fitted, wanted) if x is not None]
    low, high = min(known) / 4, max(known) * 4
    steps = [low * (high / low) ** (i / 60) for i in range(61)]

    def drawn(one: resistor_code.Law, says: str, style: str = "main") -> Line:
        return Line(tuple((ohm, one.value(ohm)) for ohm in steps), says, style)

    told = f"pull-up {prefixed(law.pull_up, 'Ω', 2)}" if law.open else "as learned"
    lines = [drawn(law, f"{told} from the known pairs")]
    lines += [drawn(o, f"pull-up {prefixed(o.pull_up, 'Ω', 2)}", "faint") for o in law.others]
    marks = []
    if wanted is not None:
        marks.append(Threshold("", wanted, f"wanted {said(sheet, want)}", held=False))
    if fitted is not None and fitted != wanted:
        marks.append(Threshold("", fitted, f"fitted {said(sheet, at)}", held=False))
    dots = tuple(Dot(ohm, value, held=False) for ohm, value in sheet.known)
    values = [y for line in lines for _, y in line.points]
    return Picture(
        Axis("resistor Ω", low, high, log=True),
        Axis(sheet.unit, min(values) * 0.95, max(values) * 1.05),
        tuple(lines),
        dots,
        tuple(marks),
        None,
        "What each resistor at the plug gives.",
    )

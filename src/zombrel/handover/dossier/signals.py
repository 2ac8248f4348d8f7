"""Of the dossier: signals, settings as they are touched, curves with what is left of error."""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import suppress

from zombrel.calibrate.settings.setting import face, said, value_of
from zombrel.findings.explain import rate_words, reach_words
from zombrel.findings.finding import Assessment
from zombrel.handover.dossier.page import Block, Figure, Gallery, Row, Table, Words
from zombrel.handover.plotted import Frame, plotted
from zombrel.handover.sheet import Sheet
from zombrel.handover.touched import TALL, WIDE, touched
from zombrel.job.ledger import MEANING, provenance
from zombrel.job.model import Chain, Device, Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Control, Curve, InputSheet, Plug, SettingSheet
from zombrel.plots.picture import Picture
from zombrel.plots.settings import (
    curve_picture,
    error_picture,
    gears_picture,
    plug_picture,
    timing_picture,
    warnings,
)
from zombrel.signals.chain_reading import ChainReading
from zombrel.signals.following import given_by
from zombrel.signals.inputs import INPUTS
from zombrel.signals.reduce import divider_of, input_of
from zombrel.signals.sense import FAULTS
from zombrel.signals.study import study
from zombrel.signals.ways import air, hop_words
from zombrel.units import Units, percent, prefixed
from zombrel.units.measure import difference, value_in, written
from zombrel.units.measure import unit as unit_name

CURVE = Sheet(176.0, 66.0, ())
ERRORS = Sheet(176.0, 42.0, ())
LEFT, TOP, FOOT = 14.0, 6.0, 11.0
"""Room around a plot [mm]."""
MOST = 300
"""Points of a curve that is drawn."""


def signals(job: Job, assessment: Assessment, units: Units) -> Iterator[Block]:
    """Every chain: from where, by what way, what the device makes of it."""
    heads = ("signal", "from", "by way of", "to", "rate or level", "counts", "reads")
    pairs = zip(job.chains, assessment.chains, strict=True)
    rows = tuple(_chain(job, c, r, units) for c, r in pairs)
    if rows:
        yield Table(heads, rows)


def _chain(job: Job, chain: Chain, r: ChainReading, units: Units) -> Row:
    device, sheet = input_of(job, chain)
    source = by_id(job.sources, chain.source)
    assert source is not None  # validated with the job
    divider = divider_of(chain)
    way = f"divider ÷{divider.by}" if divider else _way(chain)
    start = (chain.title, source.name, way, f"{device.name} {sheet.pin}")
    if r.problem:
        return Row((*start, "", "", r.problem), bad=True)
    if r.brake is not None:
        b = r.brake
        rate = f"{b.rest_v:.2f} V up, {b.pressed_v:.1f} V down"
        reach = f"path {prefixed(b.path_ohm, 'Ω')}, needs < {b.need_ohm:g} Ω"
        sure = "cancels for sure" if b.sure else "NOT SURE TO CANCEL"
        return Row((*start, rate, reach, sure), bad=not b.sure)
    if r.sense is not None:
        kind = QUANTITIES[chain.quantity].kind
        low, high = written(kind, r.start, units), written(kind, r.stop, units)
        rate = f"{r.sense.electrical:.4g} {INPUTS[r.sense.gives].unit} now"
        reads = FAULTS[r.sense.fault] or f"{difference(kind, r.sense.off, units)} now"
        return Row((*start, rate, f"from {low} to {high}", reads), bad=bool(r.sense.fault))
    if r.contact is not None:
        right = r.contact.right
        rests = f"rests {r.contact.rests}, to {r.contact.leads}"
        return Row((*start, rests, "", "seen right" if right else "SEEN WRONG"), bad=not right)
    reads = f"{percent(r.error)}" if math.isfinite(r.error) else r.status
    rate = rate_words(chain, given_by(job, source).rate, units)
    return Row((*start, rate, reach_words(job, chain, r, units), reads))


def _way(chain: Chain) -> str:
    return ", ".join(hop_words(h) for h in chain.hops) or "direct"


# ---- settings


def settings(job: Job, assessment: Assessment, units: Units) -> Iterator[Block]:
    """Where each setting stands: in a table, and drawn as the thing that is touched."""
    rows: list[Row] = []
    drawn: list[Figure] = []
    for device in job.devices:
        for chain, r in zip(job.chains, assessment.chains, strict=True):
            if chain.device != device.id:
                continue
            _, sheet = input_of(job, chain)
            if sheet.setting is None:
                continue
            off = f"{percent(r.error, 2)}" if math.isfinite(r.error) else r.status
            if r.sense is not None:
                kind = QUANTITIES[chain.quantity].kind
                off = f"{difference(kind, r.sense.off, units)} now"
            at = device.setting(sheet.pin) or ""
            table = device.table(sheet.pin)
            stands = _points(table, sheet, units) if table else at
            rows.append(_row(job, device, sheet.pin, sheet.pin, (at, stands), off))
            drawn += _drawn(device, sheet.pin, sheet.setting, at)
        for control in device.sheet.controls:
            at = device.setting(control.pin) or ""
            stands = _position(control, at) if at else ""
            rows.append(_row(job, device, control.pin, control.label, (at, stands), ""))
            drawn += _drawn(device, control.label, control.setting, at)
    if rows:
        heads = ("device", "setting", "stands at", "error left", "known")
        yield Table(heads, tuple(rows), loud=2)
    if drawn:
        yield Gallery(tuple(drawn))


def _position(control: Control, at: str) -> str:
    """A control's position with what it stands for."""
    if isinstance(control.setting, Plug):
        return said(control.setting, at)
    unit = "" if control.setting.unit == "step" else f" {control.setting.unit}"
    try:
        value = f"{value_of(control.setting, at):g}{unit}"
        return at if value == at else f"{at} ({value})"
    except Problem:
        return f"{at} (no such position)"


def _row(job: Job, device: Device, pin: str, name: str, at: tuple[str, str], error: str) -> Row:
    rung = provenance(job, f"devices.{device.id}.settings.{pin}.at")
    known = (MEANING[rung] if rung else "not read back") if at[0] else ""
    return Row((device.name, name, at[1] or "not set", error, known))


def _points(table: Curve, sheet: InputSheet, units: Units) -> str:
    """A loaded table in the user's unit: value, electrical."""
    kind = QUANTITIES[sheet.quantity].kind
    points = ", ".join(f"{value_in(kind, x, units):.4g}:{y:.4g}" for x, y in table)
    return f"table {unit_name(kind, units)} : {INPUTS[sheet.takes].unit}: {points}"


def _drawn(device: Device, name: str, sheet: SettingSheet, at: str) -> Iterator[Figure]:
    """The thing that is touched; one that is not set says so instead of pointing somewhere."""
    if not at:
        return
    about = f"{device.name}, {name}: {said(sheet, at)}"
    yield Figure(Sheet(WIDE, TALL, touched(face(sheet, at, ""))), about, f"{device.name}, {name}")


# ---- curves


def curves(job: Job, assessment: Assessment, units: Units) -> Iterator[Block]:
    """Sensors with what is left of error over the range, resistor codes, gears and timing."""
    for chain in job.chains:
        _, sheet = input_of(job, chain)
        if sheet.numbers is None and sheet.takes not in ("pulses", "contact"):
            yield from _curve(job, assessment, chain, units)
    for device in job.devices:
        for control in device.sheet.controls:
            at = device.setting(control.pin)
            if isinstance(control.setting, Plug) and at:
                picture = plug_picture(control.setting, at, at)
                title = f"{device.name}, {control.label}"
                yield _figure(CURVE, picture, title)
    v = job.vehicle
    # where a fact is missing that one of these rests on, nothing of the job needs it
    with suppress(Problem):
        yield _figure(CURVE, gears_picture(v, units, None), "Gears: torque at the wheels")
    with suppress(Problem):
        yield _figure(CURVE, timing_picture(v), "Ignition advance")


def _figure(size: Sheet, picture: Picture, title: str) -> Figure:
    frame = Frame(LEFT, TOP, size.width - LEFT - 2, size.height - TOP - FOOT)
    items = plotted(picture, frame)
    about = f"{title}. {picture.about}"
    return Figure(Sheet(size.width, size.height, items), about, title)


def _curve(job: Job, assessment: Assessment, chain: Chain, units: Units) -> Iterator[Block]:
    device, sheet = input_of(job, chain)
    kind = QUANTITIES[chain.quantity].kind
    source = by_id(job.sources, chain.source)
    assert source is not None  # validated with the job
    title = f"{device.name} {sheet.pin}, {source.name}"
    try:
        found = study(job, chain, "straight pieces")
    except Problem as problem:
        yield Words(f"{title}: {problem}", "quiet")
        return
    direct = bool(found.pairs) and sheet.takes == "ohm"
    marks = warnings(device, sheet, kind, units)
    above = air(sheet)
    true = value_in(kind, assessment.chain(chain.id).true, units)
    yield _figure(
        CURVE, curve_picture(found, sheet, kind, units, true, marks, above, direct), title
    )
    if math.isfinite(found.now_worst):
        off = difference(kind, found.now_worst, units).lstrip("+")
        worst = written(kind, found.now_at, units)
        said_ = f"What is left of error: within {off} over the range, worst at {worst}."
    else:
        said_ = "Not set: what is left of error is not known."
    yield _figure(ERRORS, error_picture(found, sheet, kind, units, above), said_)

"""The hand-over sheet as HTML, from the job and its assessment."""

from __future__ import annotations

import functools
import math
from typing import Any

from zombrel.actions.trials import name_of_trial
from zombrel.calibrate.setting import said, value_of
from zombrel.catalog.cautions import cautions
from zombrel.diagnose.gates import road_gate
from zombrel.diagnose.steps import standing, steps
from zombrel.findings.explain import rate_words, reach_words
from zombrel.findings.finding import Assessment
from zombrel.findings.legs import WORDS, legs, sign_lacks
from zombrel.findings.roadwork import fit_run, proposal, stood_words
from zombrel.harness.joint import METHODS
from zombrel.harness.laid import laid
from zombrel.intake.name import xml_text
from zombrel.job.facts import BASELINE, TOLD, VEHICLE, all_facts, show, unit_of
from zombrel.job.ledger import MEANING, RANK, provenance
from zombrel.job.model import (
    Chain,
    Device,
    Job,
    by_id,
    index,
)
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Control, Curve, InputSheet, Plug
from zombrel.job.stages import STAGE_NAMES
from zombrel.job.wiring import End
from zombrel.signals.chain_reading import ChainReading
from zombrel.signals.following import given_by
from zombrel.signals.inputs import INPUTS
from zombrel.signals.reduce import divider_of, input_of
from zombrel.signals.sense import FAULTS
from zombrel.signals.ways import hop_words
from zombrel.units import Units, number, percent, prefixed, speed_unit, speed_value, words
from zombrel.units.measure import area_of, difference, length_of, short_of, value_in, written
from zombrel.units.measure import unit as unit_name

MILLI_A = 0.01
"""Smaller currents are written in milliamperes."""

WEAK = RANK["counted"]


@functools.cache
def _template() -> Any:
    import jinja2

    env = jinja2.Environment(
        loader=jinja2.PackageLoader("zombrel.handover"),
        autoescape=True,
        undefined=jinja2.StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    return env.get_template("report.html")


def report_html(
    job: Job, assessment: Assessment, units: Units | None = None, date: str = ""
) -> str:
    """The whole sheet; ``date`` is printed as given."""
    units = units or Units()
    job = laid(job)
    return xml_text(
        words(
            _template().render(
                job=job,
                date=date,
                vehicle=_vehicle(job, units),
                before=[(f.label, show(job, f, units)) for f in BASELINE if show(job, f, units)],
                marks=[(x.name, f"{m.at_s:.1f} s", m.words) for x in job.logs for m in x.marks],
                chains=[
                    _chain(job, c, r, units)
                    for c, r in zip(job.chains, assessment.chains, strict=True)
                ],
                wires=_wires(job, assessment),
                settings=_settings(job, assessment, units),
                proofs=_proofs(job),
                gate=road_gate(job),
                roads=[_road(job, i, units) for i in range(len(job.road))],
                legs=_legs(job),
                trials=[name_of_trial(job, t) for t in job.trials],
                signed=_signed(job),
                findings=[
                    {
                        "stage": STAGE_NAMES[f.stage],
                        "level": f.level,
                        "title": words(f.title, units),
                        "text": words(f.text, units),
                    }
                    for f in assessment.findings
                ],
                cautions=[c.text for c in cautions(job)]
                + [f"{d.name}: {text}" for d in job.devices for text in d.sheet.cautions],
                hearsay=_hearsay(job, units),
                house=job.house,
                joints=METHODS[job.house.joint_by],
                coil_clear=short_of(job.house.coil_clear_m),
            ),
            units,
        )
    )


def _vehicle(job: Job, units: Units) -> list[dict[str, str]]:
    return [
        {
            "label": f.label,
            "value": f"{show(job, f, units)} {unit_of(f, units)}".strip()
            if show(job, f, units)
            else "not known",
            "known": provenance(job, f.path) or "not said",
        }
        for f in VEHICLE
    ]


def _chain(job: Job, chain: Chain, r: ChainReading, units: Units) -> dict[str, str]:
    device, sheet = input_of(job, chain)
    source = by_id(job.sources, chain.source)
    assert source is not None  # validated with the job
    divider = divider_of(chain)
    row = {
        "title": chain.title,
        "source": source.name,
        "way": f"divider ÷{divider.by}" if divider else _way(chain),
        "input": f"{device.name} {sheet.pin}",
        "rate": "",
        "range": "",
        "reads": r.problem,
    }
    if r.problem:
        return row
    if r.brake is not None:
        b = r.brake
        row["rate"] = f"{b.rest_v:.2f} V up, {b.pressed_v:.1f} V down"
        row["range"] = f"path {prefixed(b.path_ohm, 'Ω')}, needs < {b.need_ohm:g} Ω"
        row["reads"] = "cancels for sure" if b.sure else "NOT SURE TO CANCEL"
        return row
    if r.sense is not None:
        kind = QUANTITIES[chain.quantity].kind
        row["rate"] = f"{r.sense.electrical:.4g} {INPUTS[r.sense.gives].unit} now"
        low, high = written(kind, r.start, units), written(kind, r.stop, units)
        row["range"] = f"from {low} to {high}"
        row["reads"] = FAULTS[r.sense.fault] or f"{difference(kind, r.sense.off, units)} now"
        return row
    if r.contact is not None:
        row["rate"] = f"rests {r.contact.rests}, to {r.contact.leads}"
        row["reads"] = "seen right" if r.contact.right else "SEEN WRONG"
        return row
    give = given_by(job, source)
    row["rate"] = rate_words(chain, give.rate, units)
    row["range"] = reach_words(job, chain, r, units)
    row["reads"] = f"{percent(r.error)}" if math.isfinite(r.error) else r.status
    return row


def _way(chain: Chain) -> str:
    return ", ".join(hop_words(h) for h in chain.hops) or "direct"


def end_words(job: Job, end: End) -> str:
    """An end of a wire as the installer would say it."""
    connector = by_id(job.connectors, end.place)
    if connector is not None:
        return f"{connector.id} cavity {end.pin}"
    named = (
        by_id(job.devices, end.place),
        by_id(job.sources, end.place),
        by_id(job.feeds, end.place),
        by_id(job.studs, end.place),
    )
    name = next((item.name for item in named if item is not None), end.place)
    return f"{name} {end.pin}".strip()


def _wires(job: Job, assessment: Assessment) -> list[dict[str, str]]:
    rows = []
    for wire, r in zip(job.wires, assessment.wires, strict=True):
        known = [provenance(job, f"wires.{wire.id}.{s}") for s in ("a", "b")]
        device_ends = [by_id(job.devices, e.place) is not None for e in (wire.a, wire.b)]
        outside = [k or "not said" for k, d in zip(known, device_ends, strict=True) if not d]
        rows.append(
            {
                "id": wire.id,
                "a": end_words(job, wire.a),
                "b": end_words(job, wire.b),
                "colour": wire.colour,
                "size": f"{area_of(wire.area_mm2)}",
                "length": f"{length_of(wire.length_m)}" + (", twisted" if wire.twisted else ""),
                "amps": f"{r.amps:.2g} A" if r.amps >= MILLI_A else f"{r.amps * 1000:.2g} mA",
                "drop": f"{r.drop * 100:.1f} %" if wire.carries != "signal" else "",
                "fuse": f"{r.fuse_a:g} A" if r.fuse_a else "",
                "known": ", ".join(outside),
            }
        )
    return rows


def _settings(job: Job, assessment: Assessment, units: Units) -> list[dict[str, str]]:
    rows = []
    for chain, r in zip(job.chains, assessment.chains, strict=True):
        device, sheet = input_of(job, chain)
        if sheet.setting is None:
            continue
        error = f"{percent(r.error, 2)}" if math.isfinite(r.error) else r.status
        if r.sense is not None:
            error = f"{difference(QUANTITIES[chain.quantity].kind, r.sense.off, units)} now"
        rows.append(_setting(job, device, sheet.pin, sheet.pin, error))
        table = device.table(sheet.pin)
        if table:
            rows[-1]["at"] = _points(table, sheet, units)
    for device in job.devices:
        for control in device.sheet.controls:
            rows.append(_setting(job, device, control.pin, control.label, ""))
            at = device.setting(control.pin)
            if at is not None:
                rows[-1]["at"] = _position(control, at)
    return rows


def _position(control: Control, at: str) -> str:
    """A control's position with what it stands for."""
    if isinstance(control.setting, Plug):
        return said(control.setting, at)
    unit = "" if control.setting.unit == "step" else f" {control.setting.unit}"
    try:
        return f"{at} ({value_of(control.setting, at):g}{unit})"
    except Problem:
        return f"{at} (no such position)"


def _setting(job: Job, device: Device, pin: str, name: str, error: str) -> dict[str, str]:
    path = f"devices.{device.id}.settings.{pin}.at"
    at = device.setting(pin)
    return {
        "device": device.name,
        "pin": name,
        "at": at or "not set",
        "known": (provenance(job, path) or "not read back") if at else "",
        "error": error,
    }


def _points(table: Curve, sheet: InputSheet, units: Units) -> str:
    """A loaded table in the user's unit: value, electrical."""
    kind = QUANTITIES[sheet.quantity].kind
    points = ", ".join(f"{value_in(kind, x, units):.4g}:{y:.4g}" for x, y in table)
    return f"table {unit_name(kind, units)} : {INPUTS[sheet.takes].unit}: {points}"


def _proofs(job: Job) -> list[dict[str, str]]:
    rows = []
    for step in steps(job):
        last = next((p for p in reversed(job.proofs) if p.step == step.id), None)
        labels = {f.name: f"{f.label} {{}} {f.unit}" for f in step.fields}
        yes = {f.name for f in step.fields if f.yes}
        left = last.note if last is not None and last.verdict == "not reached" else ""
        rows.append(
            {
                "step": step.short,
                "state": {"open": "not tried", "stale": "out of date: prove again"}.get(
                    standing(job, step), standing(job, step)
                ),
                "seen": "; ".join(
                    labels.get(s.name, s.name + " {}")
                    .format(("no", "yes")[round(s.value)] if s.name in yes else f"{s.value:g}")
                    .strip()
                    for s in (last.seen if last else ())
                )
                or left,
                "when": last.when if last else "",
            }
        )
    return rows


def _road(job: Job, i: int, units: Units) -> dict[str, str]:
    run = job.road[i]
    row = {
        "name": run.name,
        "when": run.when,
        "set": stood_words(run.set_to, run.behind),
        "note": run.note,
        "fit": "",
        "says": "",
    }
    try:
        road_fit = fit_run(run)
        row["fit"] = (
            f"scale {road_fit.scale:.4f} ({road_fit.scale_low:.4f} to "
            f"{road_fit.scale_high:.4f}, 95 %), offset "
            f"{number(speed_value(road_fit.offset, units), 1)} ± "
            f"{number(speed_value(road_fit.offset_error, units), 1)} {speed_unit(units)}, "
            f"{road_fit.used} points used, {road_fit.set_aside} set aside"
        )
        row["says"] = proposal(job, run).text
    except Problem as problem:
        row["says"] = str(problem)
    return row


def _legs(job: Job) -> list[dict[str, str]]:
    """The legs of the road test once one of them was driven."""
    found = legs(job)
    if all(x.state == "open" for x in found):
        return []
    return [{"leg": x.sheet.short, "state": WORDS[x.state], "said": x.said} for x in found]


def _signed(job: Job) -> str:
    """Who signed the road test off, and whether that still holds."""
    outing = job.outing
    if not outing.signed:
        return ""
    lacks = sign_lacks(job, legs(job))
    by = f"Signed off by {outing.signed}, {outing.signed_when}."
    return f"{by} No longer whole: {lacks}" if lacks else by


def _hearsay(job: Job, units: Units) -> list[dict[str, str]]:
    """Facts, ends and settings known on less than a counted pin."""
    rows = []
    for f in all_facts(job):
        known = provenance(job, f.path)
        if f.group in TOLD:  # how a job is called is not evidence
            continue
        if show(job, f, units) and (known is None or RANK[known] < WEAK):
            rows.append(
                {
                    "what": f.label,
                    "value": f"{show(job, f, units)} {unit_of(f, units)}".strip(),
                    "known": MEANING[known] if known else "nobody has said how",
                }
            )
    devices = index(job.devices)
    for wire in job.wires:
        for side, end in (("a", wire.a), ("b", wire.b)):
            known = provenance(job, f"wires.{wire.id}.{side}")
            if end.place not in devices and (known is None or RANK[known] < WEAK):
                how = MEANING[known] if known else "nobody has said how"
                rows.append(
                    {"what": f"{wire.id} joins at", "value": end_words(job, end), "known": how}
                )
    return rows

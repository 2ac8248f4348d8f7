"""Rules about device controls: limits, thresholds, responses."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from zombrel.actions.parts import leave_out
from zombrel.actions.signals import put_setting
from zombrel.behaviour.aim import wish_id
from zombrel.behaviour.choices import NoPosition
from zombrel.behaviour.spark_supply import supplied
from zombrel.behaviour.suppose import named
from zombrel.behaviour.wanted import (
    DANGER,
    Wanted,
    harms,
    off_words,
    stands,
    wanted,
)
from zombrel.calibrate.settings.setting import nearest, options, to_si
from zombrel.findings import explain_set
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.job.edits import Put, together
from zombrel.job.model import Device, Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.reason import Given, Reason
from zombrel.job.sheet import Control


def _each(job: Job, device: Device) -> tuple[tuple[Control, float, Wanted | None, str], ...]:
    """(control, where it stands, where it should, what is missing) of a device."""
    out: list[tuple[Control, float, Wanted | None, str]] = []
    for control in device.sheet.controls:
        try:
            now = stands(device, control)
        except Problem as problem:
            out.append((control, math.nan, None, str(problem)))
            continue
        try:
            out.append((control, now, wanted(job, device, control), ""))
        except Problem as problem:
            out.append((control, now, None, str(problem)))
    return tuple(out)


@rule("device", "set")
def controls_off(job: Job, device: Device) -> Iterator[Finding]:
    """A control of ``device`` stands elsewhere than it should, or where nobody has noted."""
    unset = []
    for control, now, want, _ in _each(job, device):
        if math.isnan(now):
            unset.append(control)
        elif want is not None and not control.stands_for and _short(control, want):
            yield _out_of_reach(job, device, control, want)
        elif (
            want is not None
            and abs(now - want.value) > 1e-6 * max(1.0, abs(want.value))
            and (harms(control, now, want) or not _tried_out(job, device, control))
        ):
            yield _off(device, control, now, want)
    if unset:
        yield _unset(job, device, unset)


def _tried_out(job: Job, device: Device, control: Control) -> bool:
    """The road is trying this dial out: what came of it is not said yet."""
    return any(not t.result and (t.device, t.pin) == (device.id, control.pin) for t in job.trials)


@rule("device", "wire", harm=76, minutes=30)
def resets_while_cranking(job: Job, device: Device) -> Iterator[Finding]:
    """A spark box gets less than it needs just when the engine is to start."""
    if not device.sheet.full_at_rps:
        return
    crank = dict(named(job.vehicle))["Cranking"]
    at_crank = supplied(job, device, crank.engine, crank.volts)
    if at_crank.volts >= device.sheet.min_v:
        return
    yield Finding(
        id=f"cranking-{device.id}",
        level="trouble",
        title=f"{device.name} resets while cranking",
        text=f"{at_crank.volts:.2f} V reach it at {at_crank.amps:.1f} A; "
        f"it needs {device.sheet.min_v:g} V. "
        f"{at_crank.drop * 1000:.0f} mV are lost on its wires.",
        reason=explain_set.supply(job, device),
        mends=(Mend(label="Look at it", go=f"set:{device.id}/supply"),),
    )


def _short(control: Control, want: Wanted) -> bool:
    """What is wanted lies outside what the device can be set to."""
    if want.value == want.target:
        return False
    values = options(control.setting).values
    if values[0] <= want.target <= values[-1]:
        return False
    step = min((b - a for a, b in itertools.pairwise(values)), default=0.0)
    slack = max(step / 2, 1e-6 * abs(want.target))
    if want.target < values[0] - slack:
        return True
    # a limit that ends below what is wanted is safe
    return want.target > values[-1] + slack and control.means not in DANGER


def _out_of_reach(job: Job, device: Device, control: Control, want: Wanted) -> Finding:
    values = options(control.setting).values
    low = want.target < values[0]
    end = values[0] if low else values[-1]
    unit = control.setting.unit
    path = wish_id(device, control)
    wish = by_id(job.wishes, path)
    mends: list[Mend] = []
    if wish is not None:
        label = f"Wish for its {'lowest' if low else 'highest'}: {end:g} {unit}"
        edits = [
            Put(path=f"wishes.{path}.value", value=to_si(unit, end)),
            put_setting(device, control.pin, nearest(control.setting, end)[0]),
        ]
        mends.append(Mend(label=label, edit=together(*edits)))
    mends.append(Mend(label="Leave the device out", edit=leave_out(job, device)))
    return Finding(
        id=f"reach-{device.id}-{control.pin}",
        level="trouble",
        title=f"{device.name}: {control.label} cannot go that {'low' if low else 'high'}",
        text=f"{want.target:.4g} {unit} is wanted, and its {'lowest' if low else 'highest'} is "
        f"{end:g} {unit}. {want.reason.result}.",
        harm=83 if control.means in DANGER else 50,
        minutes=10,
        reason=want.reason,
        mends=(*mends, Mend(label="Look at it", go=f"set:{device.id}/{control.pin}")),
        about=(device.id, f"{device.id}.{control.pin}", path),
    )


@rule("device", "set", harm=60, minutes=20)
def no_position(job: Job, device: Device) -> Iterator[Finding]:
    """A choice of ``device`` has no position for the signal, gearbox or contact of this job."""
    for control in device.sheet.controls:
        if not control.stands_for:
            continue
        try:
            wanted(job, device, control)
        except NoPosition as problem:
            yield Finding(
                id=f"nochoice-{device.id}-{control.pin}",
                level="trouble",
                title=f"{device.name}: {control.label} does not fit",
                text=str(problem),
                reason=Reason(
                    title=f"{device.name}, {control.label}",
                    result="no position",
                    formula="one of its positions stands for what comes to it",
                    given=tuple(Given(name=at, value=said) for at, said in control.stands_for),
                ),
                mends=(
                    Mend(label="Leave the device out", edit=leave_out(job, device)),
                    Mend(label="Look at it", go=f"set:{device.id}/{control.pin}"),
                ),
                about=(device.id, f"{device.id}.{control.pin}"),
            )
        except Problem:
            continue


def _off(device: Device, control: Control, now: float, want: Wanted) -> Finding:
    danger = harms(control, now, want)
    at = device.setting(control.pin) or ""
    return Finding(
        id=f"control-{device.id}-{control.pin}",
        level="trouble" if danger else "watch",
        title=f"{device.name}: {control.label} stands wrong",
        text=f"{off_words(control, at, now, want)}. {want.reason.result}.",
        harm=82 if danger else 35,
        minutes=3,
        reason=want.reason,
        mends=(
            Mend(label=f"Set {want.at}", edit=put_setting(device, control.pin, want.at)),
            Mend(label="Look at it", go=f"set:{device.id}/{control.pin}"),
        ),
        about=(device.id, f"{device.id}.{control.pin}"),
    )


def _as_wanted(job: Job, device: Device, controls: list[Control]) -> Iterator[Mend]:
    """All of them where they should stand, as far as that can be worked out."""
    edits = []
    for control in controls:
        try:
            edits.append(put_setting(device, control.pin, wanted(job, device, control).at))
        except Problem:
            continue
    if edits:
        yield Mend(label="Set them as worked out", edit=together(*edits))


def _unset(job: Job, device: Device, controls: list[Control]) -> Finding:
    names = ", ".join(c.label for c in controls)
    return Finding(
        id=f"unset-{device.id}",
        level="note",
        title=f"{device.name}: {len(controls)} not noted",
        text=f"Nobody has noted where these stand: {names}.",
        harm=15,
        minutes=2.0 * len(controls),
        reason=Reason(
            title=f"{device.name}, controls without a position",
            result=names,
            formula="on the device sheet, and not in the job",
        ),
        mends=(
            *_as_wanted(job, device, controls),
            Mend(label="Set them", go=f"set:{device.id}/{controls[0].pin}"),
        ),
        about=(device.id,),
    )

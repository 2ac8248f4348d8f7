"""Rules about pulse rates: too few for the device, dividers that do not exist, what stays off."""

from __future__ import annotations

import math
from collections.abc import Iterator

import msgspec

from zombrel.actions.signals import put_divider, put_setting
from zombrel.behaviour.wanted import wanted
from zombrel.calibrate.settings.setting import Choice, believed, choose
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Rated, Scene, given, rated
from zombrel.findings.signal.level_rules import counts_from
from zombrel.findings.signal.signal_rules import at_rate, at_x, divider_mend, rate_known
from zombrel.findings.take import conditioned
from zombrel.job.edits import Edit, Put, together
from zombrel.job.figures import figure
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Counter, Divider, Ratio
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.sheet import InputSheet
from zombrel.job.source import BoxOutput, CableGenerator, PropShaft
from zombrel.signals import law as laws
from zombrel.signals.chain_reading import DIVIDER_MAX, top_of, works_from
from zombrel.signals.over_range import choices
from zombrel.units import KMH, RPM, percent, rpm, speed_token

AT_MPS = (50 * KMH, 100 * KMH, 150 * KMH)
"""Speeds at which a residual error is shown [m/s]."""
AT_RPS = (1000 * RPM, 3000 * RPM, 6000 * RPM)
"""Engine speeds at which it is [1/s]."""


def least_rate(sheet: InputSheet) -> float:
    """Lowest pulse rate that makes a speed the input can use [Hz]."""
    if sheet.min_hz:
        return sheet.min_hz
    return figure("least rate of a loop" if sheet.steady else "least rate")


@rule("rate", "source", harm=52, minutes=30)
def too_slow(scene: Scene, r: Rated) -> Iterator[Finding]:
    """So few pulses reach the input that it cannot make a steady speed of them."""
    sheet = scene.input(r.chain)
    if sheet.quantity != "speed" and not sheet.min_hz:
        return
    at = works_from(sheet)
    hz, need = r.law.rate / r.law.divider * at, least_rate(sheet)
    if hz >= need * (1 - 1e-9):
        return
    device = scene.devices[r.chain.device]
    yield Finding(
        id=f"slow-{r.chain.id}",
        level="trouble",
        title=f"{r.chain.title}: {hz:.1f} pulses a second at {at_x(r.chain, at)}",
        text=f"{device.name} {r.chain.pin} needs {need:g} a second from there on: with fewer it "
        "jumps from one speed to the next, or drops out.",
        reason=Reason(
            title="Lowest rate at the input",
            result=f"{hz:.2f} Hz against {need:g} Hz",
            formula="Hz = speed × pulse rate ÷ divider",
            given=(
                given("pulse rate", at_rate(r.chain, r.law.rate)),
                given("divider", f"{r.law.divider:.3g}"),
                given("works from", at_x(r.chain, at), "device sheet"),
                given(
                    "needs", f"{need:g} Hz", "device sheet" if sheet.min_hz else "rule of the trade"
                ),
            ),
            source="definition of pulse rate",
            assumption="" if sheet.min_hz else "the sheet does not say how few it still takes",
        ),
        mends=(
            *_more_pulses(scene, r, need),
            *_less_divided(scene, r, need),
            Mend(label="Other sources", go=f"source:{r.chain.id}"),
        ),
        chain=r.chain.id,
        about=(r.source.id,),
    )


PLENTY = (2, 3, 4, 6, 8, 12, 16, 20, 30)
"""Numbers of magnets, and pulses a turn of a generator, that are to be had."""


def _more_pulses(scene: Scene, r: Rated, need: float) -> Iterator[Mend]:
    """More magnets, or a generator with more pulses: ours to choose."""
    spec = r.source.spec
    if not isinstance(spec, PropShaft | CableGenerator):
        return
    magnets = isinstance(spec, PropShaft)
    field = "magnets" if magnets else "pulses_per_rev"
    now = getattr(spec, field)
    at, device = works_from(scene.input(r.chain)), scene.devices[r.chain.device]
    for want in PLENTY:
        times = want / now
        if want <= now or r.law.rate / r.law.divider * times * at < need:
            continue
        put = Put(path=f"sources.{r.source.id}.spec.{field}", value=want)
        what = f"{want} magnets" if magnets else f"{want} pulses a turn"
        for c in _settings(scene, r, times):
            if r.law.rate * times / c.divider * at < need:
                continue
            parts: list[Edit] = [put, put_divider(r.chain, c.divider)]
            parts.append(put_setting(device, r.chain.pin, c.setting))
            parts += _others_follow(scene, r, times)
            by = f", ÷{c.divider}" if c.divider > 1 else ""
            edit = together(*parts)
            if counts_from(scene.after(edit), r.chain.id) <= at:
                yield Mend(label=f"{what}{by}, set {c.setting}", edit=edit)
                return
        if scene.input(r.chain).numbers is None:
            yield Mend(label=what, edit=together(put, *_others_follow(scene, r, times)))
            return


def _others_follow(scene: Scene, r: Rated, times: float) -> Iterator[Edit]:
    """What the other inputs on a source must be set to once it gives so many times the pulses."""
    for chain in scene.job.chains:
        if chain.source != r.source.id or chain.id == r.chain.id:
            continue
        other = rated(scene, chain)
        best = next(iter(_settings(scene, other, times)), None)
        if best is not None:
            yield put_divider(chain, best.divider)
            yield put_setting(scene.devices[chain.device], chain.pin, best.setting)
        elif scene.input(chain).numbers is not None:
            # nothing it has is near enough: a ratio box makes up for it
            fit = next(exact(scene, chain, other.law.rate * times), None)
            if fit is not None and fit.edit is not None:
                yield fit.edit


def _settings(scene: Scene, r: Rated, times: float) -> list[Choice]:
    """Settings within the house's error, were there so many times the pulses."""
    sheet = scene.input(r.chain)
    if sheet.numbers is None:
        return []
    table, top = believed(sheet.numbers), top_of(r.chain, scene.job.vehicle)
    rate = r.law.rate * times
    try:
        ranked = choose(rate, table.names, table.values, sheet.max_hz, top, DIVIDER_MAX)
    except Problem:
        return []
    return [c for c in ranked if abs(c.error) <= scene.job.house.setting_ok]


def _less_divided(scene: Scene, r: Rated, need: float) -> Iterator[Mend]:
    """A smaller divider, where the device has a setting for it."""
    sheet, device = scene.input(r.chain), scene.devices[r.chain.device]
    if sheet.numbers is None or r.law.divider <= 1:
        return
    try:
        ranked = choices(scene.job, r.chain, r.source, sheet)
    except Problem:
        return
    at = works_from(sheet)
    for c in ranked:
        if r.law.rate / c.divider * at >= need and abs(c.error) <= scene.job.house.setting_ok:
            edit = together(
                put_divider(r.chain, c.divider), put_setting(device, r.chain.pin, c.setting)
            )
            yield Mend(label=f"Fit ÷{c.divider}, set {c.setting}", edit=edit)
            return


@rule("rate", "source", harm=63, minutes=25)
def no_such_divider(scene: Scene, r: Rated) -> Iterator[Finding]:
    """A divider stands at a number that its switch does not have."""
    hop = next((h for h in r.chain.hops if isinstance(h, Divider)), None)
    if hop is None or hop.by <= DIVIDER_MAX:
        return
    sheet, device = scene.input(r.chain), scene.devices[r.chain.device]
    mends: list[Mend] = []
    try:
        best = choices(scene.job, r.chain, r.source, sheet)[0]
        edit = together(
            put_divider(r.chain, best.divider), put_setting(device, r.chain.pin, best.setting)
        )
        mends.append(Mend(label=f"Fit ÷{best.divider}, set {best.setting}", edit=edit))
    except Problem:
        pass
    yield Finding(
        id=f"divider-{r.chain.id}",
        level="trouble",
        title=f"There is no ÷{hop.by} on a divider",
        text=f"Its switch goes to {DIVIDER_MAX}. What it would really be set to is another number, "
        f"and {device.name} reads that much wrong.",
        reason=Reason(
            title="Setting of the divider",
            result=f"÷{hop.by}",
            formula=f"1 to {DIVIDER_MAX}",
            given=(given("divider", f"÷{hop.by}"),),
            source="the ordinary pulse divider of the trade",
        ),
        mends=(*mends, *conditioned(scene.raw, r.chain)),
        chain=r.chain.id,
    )


@rule("rate", "set", minutes=3)
def setting_off(scene: Scene, r: Rated) -> Iterator[Finding]:
    """What the device believes in is not what it gets, by more than the house lets pass."""
    sheet = scene.input(r.chain)
    error = laws.gain(r.law) - 1
    if abs(error) <= scene.job.house.setting_ok:
        return
    device = scene.devices[r.chain.device]
    if sheet.numbers is None:
        yield _built_for(scene, r, error)
        return
    near, at = _nearest(r, sheet), device.setting(r.chain.pin)
    if near.setting == at:
        better = f"{at} is the nearest it has."
    else:
        better = f"{near.setting} is nearest: {percent(near.error)}."
    blind = " Its own self-test passes either way." if sheet.pulses_per_flash else ""
    much = abs(error) > figure("setting error, trouble")
    yield Finding(
        id=f"setting-{r.chain.id}",
        level="trouble",
        title=f"{device.name} set for the wrong count"
        if near.setting != at
        else f"{device.name} stays {percent(error)} off",
        text=f"{at} makes it read {abs(error) * 100:.1f} % {'high' if error > 0 else 'low'}: "
        f"{residuals(r.chain, error)}. {better}{blind}",
        harm=70 if much else 40,
        reason=Reason(
            title=f"{device.name} {r.chain.pin} against the truth",
            result=f"{percent(error, 2)}",
            formula="error = rate ÷ divider ÷ setting − 1",
            given=(
                given("pulse rate", at_rate(r.chain, r.law.rate), rate_known(scene, r.source)),
                given("divider", f"{r.law.divider:.3g}"),
                given(
                    f"setting {at}",
                    at_rate(r.chain, r.law.setting),
                    provenance(scene.job, f"devices.{device.id}.settings.{r.chain.pin}.at"),
                ),
            ),
            source="ratio of pulses sent to pulses believed",
        ),
        mends=_true_again(scene, r, near),
        chain=r.chain.id,
    )


def _built_for(scene: Scene, r: Rated, error: float) -> Finding:
    """A gauge that cannot be set, and what it is built for is not what it gets."""
    device = scene.devices[r.chain.device]
    rate = r.law.rate / r.law.divider
    ratio = round(r.law.setting / r.law.rate, 4)
    hops = [h for h in r.chain.hops if not isinstance(h, Counter)]
    put = Put(path=f"chains.{r.chain.id}.hops", value=msgspec.to_builtins((Ratio(by=ratio), *hops)))
    mends = [*_by_its_ratio(scene, r), Mend(label=f"Ratio box at ×{ratio:g}", edit=put)]
    return Finding(
        id=f"setting-{r.chain.id}",
        level="trouble",
        title=f"{device.name} shows {percent(error)}",
        text=f"It is built for {at_rate(r.chain, r.law.setting)} and gets "
        f"{at_rate(r.chain, rate)}: {residuals(r.chain, error)}. Nothing can be set on it.",
        harm=70 if abs(error) > figure("setting error, trouble") else 40,
        reason=Reason(
            title=f"{device.name} {r.chain.pin} against the truth",
            result=f"{percent(error, 2)}",
            formula="error = rate ÷ what it is built for − 1",
            given=(
                given("comes in", at_rate(r.chain, rate), rate_known(scene, r.source)),
                given("built for", at_rate(r.chain, r.law.setting), "device sheet"),
            ),
            source="ratio of pulses sent to pulses believed",
        ),
        mends=tuple(mends),
        chain=r.chain.id,
    )


def _by_its_ratio(scene: Scene, r: Rated) -> Iterator[Mend]:
    """The setting of the ratio box ahead of it that puts it right."""
    spec = r.source.spec
    if not isinstance(spec, BoxOutput):
        return
    box = scene.devices[spec.device]
    output = box.sheet.output(spec.pin)
    control = box.sheet.control(output.ratio) if output is not None and output.ratio else None
    if control is None:
        return
    try:
        want = wanted(scene.job, box, control)
    except Problem:
        return
    label = f"Set {box.name} to {want.at}"
    yield Mend(label=label, edit=put_setting(box, control.pin, want.at))


def _true_again(scene: Scene, r: Rated, near: Choice) -> tuple[Mend, ...]:
    """What brings the error within the limit, the simplest first."""
    ok = scene.job.house.setting_ok
    device = scene.devices[r.chain.device]
    mends: list[Mend] = []
    if abs(near.error) <= ok:
        put = put_setting(device, r.chain.pin, near.setting)
        mends.append(Mend(label=f"Set {near.setting}", edit=put))
    best, _ = divider_mend(scene, r)
    if _best_error(scene, r) <= ok:
        mends += best
    if not mends:
        mends += exact(scene, r.chain, r.law.rate)
        mends += conditioned(scene.raw, r.chain)
    return tuple(mends)


def _nearest(r: Rated, sheet: InputSheet) -> Choice:
    assert sheet.numbers is not None  # the caller looked
    table = believed(sheet.numbers)
    return choose(r.law.rate / r.law.divider, table.names, table.values, math.inf, 1.0)[0]


def _best_error(scene: Scene, r: Rated) -> float:
    try:
        return abs(choices(scene.job, r.chain, r.source, scene.input(r.chain))[0].error)
    except Problem:
        return math.inf


def exact(scene: Scene, chain: Chain, rate: float) -> Iterator[Mend]:
    """The ratio box that makes a chain read true, at the setting nearest to its source's rate.

    ``rate`` of the source [pulses per metre or revolution].
    """
    sheet, device = scene.input(chain), scene.devices[chain.device]
    if sheet.numbers is None:
        return
    table = believed(sheet.numbers)
    top = sheet.max_hz / top_of(chain, scene.job.vehicle)
    fits = [
        (abs(math.log(v / rate)), n, v)
        for n, v in zip(table.names, table.values, strict=True)
        if 0 < v <= top
    ]
    if not fits:
        return
    _, name, value = min(fits)
    ratio = Ratio(by=round(value / rate, 4))
    hops = [h for h in chain.hops if not isinstance(h, Counter)]
    put = Put(path=f"chains.{chain.id}.hops", value=msgspec.to_builtins((ratio, *hops)))
    edit = together(put, put_setting(device, chain.pin, name))
    yield Mend(label=f"Ratio box at ×{ratio.by:g}, set {name}", edit=edit)


def residuals(chain: Chain, error: float) -> str:
    """What an error makes of some speeds, in words."""
    if chain.quantity == "speed":
        at = [(speed_token(v * (1 + error), 1), speed_token(v)) for v in AT_MPS]
    else:
        at = [(rpm(v * (1 + error)), rpm(v)) for v in AT_RPS]
    return ", ".join(f"{shown} at {true}" for shown, true in at)

"""Rules about signal chains: rate, level, setting, source, brake."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.actions.signals import fit_way, put_divider, put_setting
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Rated, Scene, given
from zombrel.harness import route as routes
from zombrel.job.edits import Add, Put, Remove, together
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Device
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.sheet import TABLE, DeviceSheet
from zombrel.job.source import BoxOutput, CoilTap, Source
from zombrel.job.stages import route, stage_of
from zombrel.signals import law as laws
from zombrel.signals.chain_reading import ChainReading, top_of
from zombrel.signals.finder import candidates
from zombrel.signals.over_range import choices
from zombrel.signals.reduce import cd_box, input_of
from zombrel.signals.ways import way_words
from zombrel.units import percent, rate_token, rpm, speed_token


def at_x(chain: Chain, x: float) -> str:
    """A speed [m/s] or engine speed [1/s] inside a sentence."""
    return speed_token(x) if chain.quantity == "speed" else rpm(x)


def at_rate(chain: Chain, rate: float) -> str:
    """A pulse rate inside a sentence."""
    return rate_token(rate) if chain.quantity == "speed" else f"{rate:.3g} pulses per rev"


@rule("chain", None, harm=50, minutes=2)
def incomplete(scene: Scene, chain: Chain, reading: ChainReading) -> Iterator[Finding]:
    """A chain that cannot be computed says which fact is missing, or how to set the device."""
    where = reading.where or route("set", chain.id)
    yield Finding(
        id=f"incomplete-{chain.id}",
        stage=stage_of(where),
        level="watch",
        title=f"{chain.title} cannot be worked out",
        text=reading.problem,
        reason=Reason(title=chain.title, result="unknown", formula=reading.problem),
        mends=(*_first_setting(scene, chain, where), Mend(label="Show me", go=where)),
        chain=chain.id,
    )


def _first_setting(scene: Scene, chain: Chain, where: str) -> Iterator[Mend]:
    """For a device that is not set yet: where it should stand, and what goes on the way."""
    if where != route("set", chain.id):
        return
    device, sheet = input_of(scene.raw, chain)
    ranked = candidates(scene.raw, device, sheet)
    best = next((c for c in ranked if c.source == chain.source and c.possible), None)
    if best is None or not best.setting:
        return
    edit = fit_way(scene.raw, chain, best.hops, best.setting, best.table)
    on_the_way = "" if best.hops == chain.hops or not best.hops else f", {way_words(best.hops)}"
    place = "Load the table" if best.setting == TABLE else f"Set {best.setting}"
    yield Mend(label=f"{place}{on_the_way}", edit=edit)


@rule("rate", "source", harm=75, minutes=25)
def rate_limit(scene: Scene, r: Rated) -> Iterator[Finding]:
    """The rate at top speed goes past what the input follows."""
    top = top_of(r.chain, scene.job.vehicle)
    hz = r.law.rate / r.law.divider * top
    sheet = scene.input(r.chain)
    if hz <= sheet.max_hz * (1 + 1e-9):
        return
    drop_out = at_x(r.chain, sheet.max_hz * r.law.divider / r.law.rate)
    device = scene.devices[r.chain.device]
    mends, advice = divider_mend(scene, r)
    yield Finding(
        id=f"rate-limit-{r.chain.id}",
        level="trouble",
        title=f"{r.chain.title} drops out above {drop_out}",
        text=f"{at_rate(r.chain, r.law.rate / r.law.divider)} make {hz:.0f} Hz at "
        f"{at_x(r.chain, top)}; {device.name} takes {sheet.max_hz:.0f} Hz. {advice}",
        reason=Reason(
            title="Highest rate at the input",
            result=f"{hz:.0f} Hz against {sheet.max_hz:.0f} Hz",
            formula="Hz = speed × pulse rate ÷ divider",
            given=(
                given("pulse rate", at_rate(r.chain, r.law.rate), rate_known(scene, r.source)),
                given("divider", f"{r.law.divider:.0f}"),
                given("top", at_x(r.chain, top)),
                given("input limit", f"{sheet.max_hz:.0f} Hz", "device sheet"),
            ),
            source="definition of pulse rate",
        ),
        mends=mends,
        chain=r.chain.id,
    )


def rate_known(scene: Scene, source: Source) -> str | None:
    """How the figure is known that a source's rate rests on."""
    for name in ("teeth", "magnets", "pulses_per_rev", "pulses_per_m", "pole_pairs"):
        if name in source.spec.__struct_fields__:
            return provenance(scene.job, f"sources.{source.id}.spec.{name}")
    return provenance(scene.job, "vehicle.cylinders")


def divider_mend(scene: Scene, r: Rated) -> tuple[tuple[Mend, ...], str]:
    """The mend that fits the best divider with its setting, and what it then reads."""
    try:
        best = choices(scene.job, r.chain, r.source, scene.input(r.chain))[0]
    except Problem as problem:
        return (Mend(label="Other sources", go=f"source:{r.chain.id}"),), str(problem)
    edit = together(
        put_divider(r.chain, best.divider),
        put_setting(scene.devices[r.chain.device], r.chain.pin, best.setting),
    )
    label = f"Fit ÷{best.divider}, set {best.setting}"
    return (
        (Mend(label=label, edit=edit),),
        f"÷{best.divider} and {best.setting} read {percent(best.error)}.",
    )


def _put_hops(chain: Chain, hops: list[object]) -> Put:
    return Put(path=f"chains.{chain.id}.hops", value=hops)


@rule("rate", "source", harm=85, minutes=15)
def coil_with_box(scene: Scene, r: Rated) -> Iterator[Finding]:
    """A coil is tapped although a capacitor-discharge box drives it."""
    box = cd_box(scene.job)
    if box is None or not isinstance(r.source.spec, CoilTap):
        return
    device = scene.devices[r.chain.device]
    yield Finding(
        id=f"coil-{r.chain.id}",
        level="trouble",
        title=f"{device.name} hangs on a coil",
        text=f"{box.name} fires it at {r.give.volts:.0f} V, {box.sparks} sparks at a time "
        f"below {box.multi_below_rps * 60:.0f} rpm{_at_idle(device, r, box)}.",
        reason=Reason(
            title="Pulses from a coil behind a capacitor-discharge box",
            result=f"{r.give.rate * box.sparks:.1f} per rev at idle instead of {r.give.rate:.1f}",
            formula="pulses = firings × sparks per firing",
            given=(
                given("firings per rev", f"{r.give.rate:.1f}"),
                given("sparks per firing", str(box.sparks), "device sheet"),
                given("input stands", f"{scene.input(r.chain).max_v:.0f} V", "device sheet"),
            ),
            source="rule of the trade: with a capacitor-discharge box use its tach output",
        ),
        mends=_box_mend(scene, r),
        chain=r.chain.id,
    )


def _at_idle(device: Device, r: Rated, box: DeviceSheet) -> str:
    """What it would show of the engine's speed at idle, where that is not the speed itself."""
    times = laws.gain(r.law) * box.sparks
    if abs(times - 1) < SAME:
        return ""
    return f": at idle {device.name} would take it for {times:.2g} times the speed"


SAME = 0.01
"""A reading within this share is right."""


def _box_mend(scene: Scene, r: Rated) -> tuple[Mend, ...]:
    for source in scene.job.sources:
        spec = source.spec
        if not isinstance(spec, BoxOutput):
            continue
        try:
            best = choices(scene.job, r.chain, source, scene.input(r.chain))[0]
        except Problem:
            continue
        edits: list[Put | Add | Remove] = [
            Put(path=f"chains.{r.chain.id}.source", value=source.id),
            put_setting(scene.devices[r.chain.device], r.chain.pin, best.setting),
        ]
        wire = scene.wires.get(r.chain.wires[0]) if r.chain.wires else None
        if wire is not None:
            side = "a" if wire.a.place == r.source.id else "b"
            edits += routes.joined_at(scene.job, wire, side, spec.device, spec.pin)
        return (Mend(label=f"Use {spec.pin}", edit=together(*edits)),)
    return (Mend(label="Other sources", go=f"source:{r.chain.id}"),)

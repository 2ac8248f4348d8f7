"""Rules about signal chains: rate, level, setting, source, brake."""

from __future__ import annotations

import math
from collections.abc import Iterator

import msgspec

from zombrel.actions.signals import put_divider, put_setting
from zombrel.calibrate.setting import Choice, believed, choose
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Rated, Scene, given
from zombrel.findings.take import best_mend
from zombrel.harness import route as routes
from zombrel.job.edits import Add, Put, Remove, together
from zombrel.job.figures import figure
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Device, LoadResistor, Relay
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.sheet import InputSheet
from zombrel.job.source import BoxOutput, CoilTap, Source, WheelRing
from zombrel.job.stages import route, stage_of
from zombrel.signals import law as laws
from zombrel.signals.begin import best_chain
from zombrel.signals.brake import BrakeLine, load_for
from zombrel.signals.chain_reading import ChainReading, choices, side_of, top_of, works_from
from zombrel.signals.reduce import cd_box, divider_of
from zombrel.units import percent, rate_token, rpm, speed_token


def at_x(chain: Chain, x: float) -> str:
    """A speed [m/s] or engine speed [1/s] inside a sentence."""
    return speed_token(x) if chain.quantity == "speed" else rpm(x)


def at_rate(chain: Chain, rate: float) -> str:
    """A pulse rate inside a sentence."""
    return rate_token(rate) if chain.quantity == "speed" else f"{rate:.3g} pulses per rev"


@rule("chain", None, harm=50, minutes=2)
def incomplete(chain: Chain, reading: ChainReading) -> Iterator[Finding]:
    """A chain that cannot be computed says which fact is missing."""
    where = reading.where or route("set", chain.id)
    yield Finding(
        id=f"incomplete-{chain.id}",
        stage=stage_of(where),
        level="watch",
        title=f"{chain.title} cannot be worked out",
        text=reading.problem,
        reason=Reason(title=chain.title, result="unknown", formula=reading.problem),
        mends=(Mend(label="Show me", go=where),),
        chain=chain.id,
    )


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
    mends, advice = _divider_mend(scene, r)
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
                given("pulse rate", at_rate(r.chain, r.law.rate), _rate_known(scene, r.source)),
                given("divider", f"{r.law.divider:.0f}"),
                given("top", at_x(r.chain, top)),
                given("input limit", f"{sheet.max_hz:.0f} Hz", "device sheet"),
            ),
            source="definition of pulse rate",
        ),
        mends=mends,
        chain=r.chain.id,
    )


def _rate_known(scene: Scene, source: Source) -> str | None:
    for name in ("teeth", "magnets", "pulses_per_rev", "pulses_per_m", "pole_pairs"):
        if name in source.spec.__struct_fields__:
            return provenance(scene.job, f"sources.{source.id}.spec.{name}")
    return provenance(scene.job, "vehicle.cylinders")


def _divider_mend(scene: Scene, r: Rated) -> tuple[tuple[Mend, ...], str]:
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


@rule("rate", "set", minutes=3)
def setting_off(scene: Scene, r: Rated) -> Iterator[Finding]:
    """The setting is not the nearest, or the nearest is still too far off."""
    sheet = scene.input(r.chain)
    error = laws.gain(r.law) - 1
    if sheet.numbers is None or abs(error) <= scene.job.house.setting_ok:
        return
    device = scene.devices[r.chain.device]
    near = _nearest(r, scene)
    at = device.setting(r.chain.pin)
    better = f"{near.setting} is nearest: {percent(near.error)}."
    mends: tuple[Mend, ...] = (
        Mend(
            label=f"Set {near.setting}",
            edit=put_setting(device, r.chain.pin, near.setting),
        ),
    )
    if near.setting == at:
        mends, better = _divider_mend(scene, r)
        if abs(_best_error(scene, r)) >= abs(error) - 1e-6:
            return
    yield Finding(
        id=f"setting-{r.chain.id}",
        level="trouble" if abs(error) > figure("setting error, trouble") else "watch",
        title=f"{device.name} set for the wrong count",
        text=f"{at} makes it read {abs(error) * 100:.1f} % {'high' if error > 0 else 'low'}. "
        f"{better} Its own self-test passes either way.",
        harm=70 if abs(error) > figure("setting error, trouble") else 40,
        reason=Reason(
            title=f"{device.name} {r.chain.pin} against the truth",
            result=f"{percent(error, 2)}",
            formula="error = rate ÷ divider ÷ setting − 1",
            given=(
                given("pulse rate", at_rate(r.chain, r.law.rate), _rate_known(scene, r.source)),
                given("divider", f"{r.law.divider:.0f}"),
                given(
                    f"setting {at}",
                    at_rate(r.chain, r.law.setting),
                    provenance(scene.job, f"devices.{device.id}.settings.{r.chain.pin}.at"),
                ),
            ),
            source="ratio of pulses sent to pulses believed",
        ),
        mends=mends,
        chain=r.chain.id,
    )


def _nearest(r: Rated, scene: Scene) -> Choice:
    sheet = scene.input(r.chain)
    assert sheet.numbers is not None
    table = believed(sheet.numbers)
    return choose(r.law.rate / r.law.divider, table.names, table.values, math.inf, 1.0)[0]


def _best_error(scene: Scene, r: Rated) -> float:
    try:
        return choices(scene.job, r.chain, r.source, scene.input(r.chain))[0].error
    except Problem:
        return math.inf


@rule("rate", "source", minutes=25)
def level(scene: Scene, r: Rated) -> Iterator[Finding]:
    """The signal is too weak to be counted where it is wanted."""
    start, stop = laws.span(r.law)
    sheet = scene.input(r.chain)
    wanted = works_from(sheet)
    if stop > 0 and start <= wanted:
        return
    never = stop <= 0
    device = scene.devices[r.chain.device]
    mends: tuple[Mend, ...] = (Mend(label="Other sources", go=f"source:{r.chain.id}"),)
    if r.give.needs_pull_up and never:
        add = {"type": "pull-up", "ohm": 4700.0}
        hops = [*msgspec.to_builtins(r.chain.hops), add]
        mends = (Mend(label="Add a 4.7 kΩ pull-up", edit=_put_hops(r.chain, hops)), *mends)
    elif r.law.divider == 1 and r.give.waveform == "sine":
        best, _ = _divider_mend(scene, r)
        mends = (*best, *mends)
    yield Finding(
        id=f"level-{r.chain.id}",
        level="trouble" if never or start > wanted * figure("weak beyond") else "watch",
        title=f"{r.chain.title} never counts"
        if never
        else f"{r.chain.title} counts only from {at_x(r.chain, start)}",
        text=f"{device.name} needs {r.law.first_threshold:.2g} V; "
        + (
            f"the source gives {r.law.v_fixed:.2g} V."
            if r.law.v_per_hz == 0
            else f"the source gives {r.law.v_per_hz * 1000:.1f} mV per Hz."
        ),
        harm=60 if never else 35,
        reason=Reason(
            title="Lowest speed that counts",
            result="never" if never else f"{at_x(r.chain, start)}",
            formula="threshold ÷ (volts per hertz × pulses per distance)",
            given=(
                given("threshold", f"{r.law.first_threshold:.3g} V", "device sheet"),
                given("level", f"{r.law.v_per_hz * 1000:.2f} mV/Hz, loaded"),
            ),
            source="variable-reluctance pick-up: peak proportional to rate",
        ),
        mends=mends,
        chain=r.chain.id,
    )


@rule("rate", "source", harm=45, minutes=25)
def waveform(scene: Scene, r: Rated) -> Iterator[Finding]:
    """A sine goes into an input made for square pulses."""
    sheet = scene.input(r.chain)
    if r.law.divider > 1 or r.give.waveform != "sine" or "sine" in sheet.waveforms:
        return
    start, _ = laws.span(r.law)
    mends, _ = _divider_mend(scene, r)
    yield Finding(
        id=f"waveform-{r.chain.id}",
        level="watch",
        title=f"{r.chain.pin} wants square pulses, gets a sine",
        text=f"The sine reaches the {r.law.first_threshold:g} V threshold only from "
        f"{at_x(r.chain, start)}, and a slow edge counts noise twice. Square it on the way.",
        reason=Reason(
            title="Waveform at the input",
            result=f"sine; counts from {at_x(r.chain, start)}",
            formula="threshold ÷ (volts per hertz × pulses per distance)",
            given=(
                given("threshold", f"{r.law.first_threshold:g} V", "device sheet"),
                given(
                    "level",
                    f"{r.law.v_per_hz * 1000:.2f} mV/Hz, loaded",
                    provenance(scene.job, f"sources.{r.source.id}.spec.volts_per_hz"),
                ),
            ),
            source="two-wire sensors give a sine, three-wire and computer outputs square",
        ),
        mends=mends,
        chain=r.chain.id,
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
        f"below {box.multi_below_rps * 60:.0f} rpm: at idle the lamp would see "
        f"{laws.gain(r.law) * box.sparks:.2g} times the speed.",
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


@rule("rate", "source", harm=90, minutes=20)
def overvoltage(scene: Scene, r: Rated) -> Iterator[Finding]:
    """The source's peaks are more than the input stands."""
    box = cd_box(scene.job)
    sheet = scene.input(r.chain)
    if r.give.volts <= sheet.max_v or (isinstance(r.source.spec, CoilTap) and box):
        return
    yield Finding(
        id=f"overvoltage-{r.chain.id}",
        level="trouble",
        title=f"{r.give.volts:.0f} V peaks into {r.chain.pin}",
        text=f"{scene.devices[r.chain.device].name} stands {sheet.max_v:.0f} V there.",
        reason=Reason(
            title="Peak at the input",
            result=f"{r.give.volts:.0f} V against {sheet.max_v:.0f} V",
            formula="peak ≤ what the input stands",
            given=(given("input stands", f"{sheet.max_v:.0f} V", "device sheet"),),
            source="inductive kick of a coil primary: hundreds of volts",
        ),
        mends=(Mend(label="Other sources", go=f"source:{r.chain.id}"),),
        chain=r.chain.id,
    )


@rule("job", "source", harm=65, minutes=30)
def loading(scene: Scene) -> Iterator[Finding]:
    """The taps together take more than a tenth of a shared pair's level."""
    loads: dict[str, list[float]] = {}
    for chain in scene.job.chains:
        spec = scene.sources[chain.source].spec
        if isinstance(spec, WheelRing) and spec.shared:
            divider = divider_of(chain)
            ohm = divider.input_ohm if divider else scene.input(chain).input_ohm
            loads.setdefault(chain.source, []).append(ohm)
    for key, ohms in loads.items():
        spec = scene.sources[key].spec
        assert isinstance(spec, WheelRing)
        total = 1 / sum(1 / ohm for ohm in ohms)
        left = laws.loaded(1.0, spec.into_ohm, spec.winding_ohm, total)
        if left > figure("level left to the owner"):
            continue
        yield Finding(
            id=f"loading-{key}",
            level="watch",
            title=f"{scene.sources[key].name} is loaded down",
            text=f"{len(ohms)} inputs make {total / 1000:.1f} kΩ and leave {left * 100:.0f} % "
            "of the level the brake control is used to.",
            reason=Reason(
                title="Level left on the shared pair",
                result=f"{left * 100:.0f} %",
                formula="V = V₀ · R/(R + Rs), R all inputs in parallel",
                given=(
                    given("winding", f"{spec.winding_ohm:.0f} Ω"),
                    given("inputs", f"{total:.0f} Ω", "device sheets"),
                ),
                source="voltage divider",
            ),
            mends=(Mend(label="Other sources", go="source"),),
        )


@rule("brake", "source", harm=100, minutes=25)
def brake_unsure(scene: Scene, chain: Chain, line: BrakeLine) -> Iterator[Finding]:
    """The cancel input cannot be sure of ground at rest."""
    source = scene.sources[chain.source]
    if side_of(source) == "hot":
        yield _hot_side(scene, chain, line)
        return
    if not line.sure:
        hops = [h for h in msgspec.to_builtins(chain.hops) if h["type"] not in ("relay", "load")]
        relay = [*hops, msgspec.to_builtins(Relay())]
        ohm, watts = load_for(line.need_ohm, scene.job.vehicle.system_v)
        load = [*hops, msgspec.to_builtins(LoadResistor(ohm=ohm, rated_w=watts))]
        lamps = "LED lamps leave" if scene.job.vehicle.lamps == "led" else "The lamps leave"
        yield Finding(
            id=f"brake-{chain.id}",
            level="trouble",
            title="Brake pedal may not cancel",
            text=f"{lamps} the cold side at {line.rest_v:.1f} V with the pedal up. "
            f"{chain.pin} wants ground through less than {line.need_ohm:.0f} Ω; it finds "
            f"{line.path_ohm / 1000:.1f} kΩ.",
            reason=Reason(
                title="Voltage at rest",
                result=f"{line.rest_v:.2f} V; {line.rest_limit_v:.2f} V at most is sure",
                formula="LED string above its knee: V = Vk + I·r, I = (Vs − V)/Rp",
                given=(
                    given(
                        "lamps",
                        scene.job.vehicle.lamps or "",
                        provenance(scene.job, "vehicle.lamps"),
                    ),
                    given("supply", f"{scene.state.volts:.1f} V", "supposed"),
                    given(
                        "pull-up in the device",
                        f"{scene.input(chain).pull_up_ohm:.0f} Ω",
                        "device sheet",
                    ),
                ),
                source="Ohm's law; two-segment LED model",
                assumption="knee 6.8 V and 300 Ω for one 12 V LED lamp, typical",
            ),
            mends=(
                Mend(label="Fit a relay", edit=_put_hops(chain, relay)),
                Mend(label=f"{ohm:.0f} Ω, {watts:.0f} W load", edit=_put_hops(chain, load)),
            ),
            chain=chain.id,
        )


def _hot_side(scene: Scene, chain: Chain, line: BrakeLine) -> Finding:
    source = scene.sources[chain.source]
    return Finding(
        id=f"brake-{chain.id}",
        level="trouble",
        title="Brake pedal never cancels",
        text=f"{source.name} is the hot side: {line.rest_v:.1f} V with the pedal up and down, "
        f"so {chain.pin} never sees it move. No relay or resistor mends that.",
        reason=Reason(
            title="Voltage at rest",
            result=f"{line.rest_v:.1f} V; {line.rest_limit_v:.2f} V at most is sure",
            formula="the hot side of the switch is the supply itself",
            given=(
                given("side", "hot", provenance(scene.job, f"sources.{source.id}.spec.side")),
                given("supply", f"{scene.state.volts:.1f} V", "supposed"),
            ),
            source="the switch's circuit",
        ),
        mends=best_mend(scene.job, chain),
        chain=chain.id,
    )


SOUGHT = 40
"""For so many inputs the best source is sought at once; nobody reads further before they act."""


@rule("job", "source", harm=45, minutes=20)
def unconnected(scene: Scene) -> Iterator[Finding]:
    """A device input that it cannot do without has no chain."""
    have = {(c.device, c.pin) for c in scene.job.chains}
    free = [
        (device, sheet)
        for device in scene.job.devices
        for sheet in device.sheet.inputs
        if sheet.required and (device.id, sheet.pin) not in have
    ]
    for i, (device, sheet) in enumerate(free):
        yield _unconnected(scene, device, sheet, sought=i < SOUGHT)


def _unconnected(scene: Scene, device: Device, sheet: InputSheet, sought: bool) -> Finding:
    chain = best_chain(scene.job, device, sheet) if sought else None
    mends: tuple[Mend, ...] = (Mend(label="Add a source", go="survey:sources"),)
    text = "The device does not work without it, and this car offers nothing yet."
    if not sought:
        mends = (Mend(label="Go to the signals", go="source"),)
        text = "The device does not work without it. Its best source is sought when it is begun."
    elif chain is not None:
        name = scene.sources[chain.source].name
        add = Add(path="chains", value=msgspec.to_builtins(chain))
        mends = (Mend(label=f"Use {name}", edit=add),)
        text = f"The device does not work without it. {name} is the best this car offers."
    return Finding(
        id=f"unconnected-{device.id}-{sheet.pin}",
        level="watch",
        title=f"{device.name} {sheet.pin} has no source",
        text=text,
        reason=Reason(
            title="Inputs without a chain",
            result=sheet.pin,
            formula="required by the device sheet, and no chain ends there",
        ),
        mends=mends,
    )


JOB_RULES = (loading, unconnected)
"""Rules that look across chains."""

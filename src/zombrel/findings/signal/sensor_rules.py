"""Rules about sensors, contacts and the sources the trade learned to distrust."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Iterator

import msgspec

from zombrel.actions.signals import put_setting
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.findings.take import best_mend
from zombrel.findings.wiring.harness_rules import keep_off, reroute
from zombrel.harness import coupling, route
from zombrel.job.edits import Put, together
from zombrel.job.figures import figure
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Device, PullUp, index
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.reason import Reason
from zombrel.job.sheet import TABLE, InputSheet
from zombrel.job.source import (
    Resistive,
    Source,
    Thermistor,
)
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.job.wiring import Zone
from zombrel.signals.chain_reading import ChainReading, felt, port_of
from zombrel.signals.fitting import fitting_sender
from zombrel.signals.ground import returns
from zombrel.signals.inputs import INPUTS
from zombrel.signals.kinds.senders import cut_off
from zombrel.signals.sense import FAULTS, Sensed, Sensor, ideal, shown_at, shown_over
from zombrel.signals.ways import SENSED_OK, try_sensor
from zombrel.units.measure import Kind, delta_token, short_of, token

SENSOR_OHM = 100.0
"""What a sender with a volt output drives its lead from, usual [Ω]."""
NOISE_OK = figure("noise let pass")
"""Noise may move a reading by this share of its range."""
ROOM = 2.0
"""A car is no wider [m]."""
SAMPLES = 16
"""Places over its range at which a sensor is checked for the wrong curve."""
LEAST_LIFT = 0.05
"""Less than this is in every car with wires of decent size [V]."""
LIFT_OK = 0.02
"""Ground lift up to this share of the reading's volts is let pass."""


class Felt(Value, frozen=True):
    """A sensor chain that can be computed, in the scene's state."""

    chain: Chain
    source: Source
    device: Device
    sheet: InputSheet
    kind: Kind
    reading: ChainReading
    sense: Sensed
    span: tuple[float, float]


def sensed(scene: Scene, chain: Chain, reading: ChainReading) -> Felt:
    """A sensor chain as the rules look at it."""
    assert reading.sense is not None  # the caller looked
    return Felt(
        chain,
        scene.sources[chain.source],
        scene.devices[chain.device],
        scene.input(chain),
        QUANTITIES[chain.quantity].kind,
        reading,
        reading.sense,
        (reading.start, reading.stop),
    )


@rule("sensor", "source", harm=60, minutes=15)
def taped(scene: Scene, f: Felt) -> Iterator[Finding]:
    """A one-wire sender is cut off its ground by the tape on its thread."""
    spec = f.source.spec
    if not isinstance(spec, Thermistor | Resistive) or not cut_off(spec):
        return
    how = "wound with tape" if spec.seal == "tape" else "set in sealant"
    yield Finding(
        id=f"tape-{f.chain.id}",
        level="trouble",
        title=f"{f.source.name} has no ground",
        text=f"One wire, so its thread is its ground, and the thread is {how}. "
        f"{f.chain.pin} sees {f.sense.pin_v:.2f} V, an open circuit.",
        reason=Reason(
            title=f"{f.chain.pin} at the {f.device.name}",
            result=f"{f.sense.pin_v:.2f} V: nothing pulls it down",
            formula="V = Vp · R ÷ (R + Rp) with R without end",
            given=(
                given("seal", spec.seal, provenance(scene.job, f"sources.{f.source.id}.spec.seal")),
                given("wires to it", "one"),
            ),
            source="Ohm's law; rule of the trade: nothing on a one-wire sender's thread",
        ),
        mends=(
            Mend(
                label="Sealed with a washer",
                edit=Put(path=f"sources.{f.source.id}.spec.seal", value="washer"),
            ),
        ),
        chain=f.chain.id,
    )


@rule("sensor", "source", harm=65, minutes=30)
def two_pull_ups(scene: Scene, f: Felt) -> Iterator[Finding]:
    """Two resistors pull one sender up, and both readings are wrong."""
    spec = f.source.spec
    if not isinstance(spec, Thermistor | Resistive):
        return
    ohms = pulls(f)
    if len(ohms) <= 1:
        return
    whose = "the vehicle's own gauge" if spec.shared_ohm else "its own"
    own = (
        f"; {whose} then takes {token(f.kind, f.reading.true)} for "
        f"{token(f.kind, f.reading.true + f.sense.own_shift)}"
        if spec.shared_ohm and math.isfinite(f.sense.own_shift)
        else ""
    )
    yield Finding(
        id=f"pulled-twice-{f.chain.id}",
        level="trouble",
        title=f"{f.source.name} is pulled up twice",
        text=f"{' and '.join(f'{ohm:.0f} Ω' for ohm in ohms)} share it. {f.device.name} shows "
        f"{token(f.kind, f.reading.shown)} for {token(f.kind, f.reading.true)}{own}.",
        reason=Reason(
            title=f"{f.chain.pin} at the {f.device.name}",
            result=f"{f.sense.pin_v:z.3f} V instead of one pull-up's",
            formula="V = Σ(Vᵢ/Rᵢ) ÷ Σ(1/Rᵢ); R̂ = Rp · V ÷ (Vp − V)",
            given=tuple(given("pull-up", f"{ohm:.0f} Ω") for ohm in ohms),
            source="Millman's theorem",
        ),
        mends=(*_one_pull_up(f), *best_mend(scene.raw, f.chain)),
        chain=f.chain.id,
    )


def _one_pull_up(f: Felt) -> Iterator[Mend]:
    """The resistor that is one too many taken away, or a sender that nobody else reads."""
    kept = [h for h in f.chain.hops if not isinstance(h, PullUp)]
    if len(kept) < len(f.chain.hops):
        hops = msgspec.to_builtins(tuple(kept))
        edit = Put(path=f"chains.{f.chain.id}.hops", value=hops)
        yield Mend(label="Take the added pull-up out", edit=edit)
    elif getattr(f.source.spec, "shared_ohm", 0.0):
        edit = Put(path=f"sources.{f.source.id}.spec.shared_ohm", value=0.0)
        yield Mend(label="Fit a sender of its own", edit=edit)


def pulls(f: Felt) -> list[float]:
    """Every resistor that pulls a resistive sender up [Ω]."""
    spec = f.source.spec
    if not isinstance(spec, Thermistor | Resistive):
        return []
    found = [h.ohm for h in f.chain.hops if isinstance(h, PullUp)]
    return [*found, *[ohm for ohm in (f.sheet.pull_up_ohm, spec.shared_ohm) if ohm]]


@rule("sensor", "wire", harm=78, minutes=20)
def lifted(scene: Scene, f: Felt) -> Iterator[Finding]:
    """The sender's ground stands above the input's: a shared return, or a bad stud."""
    ground_lift = f.sense.lift_v
    if not INPUTS[f.sense.takes].by_volts or abs(ground_lift) < LEAST_LIFT:
        return
    clean = _unlifted(scene, f)
    if not abs(f.reading.shown - clean) > LIFT_OK * (f.span[1] - f.span[0]):
        return  # also where it shows nothing at all
    studs = index(scene.job.studs)
    wires = returns(scene.job, f.chain, f.source)
    names = {e.place for w in wires for e in (scene.wires[w].a, scene.wires[w].b)}
    stud = next((studs[n] for n in sorted(names) if n in studs), None)
    amps = scene.stud(stud.id).amps if stud is not None else 0.0
    where = (
        f"{stud.name} has {stud.ohm:.3g} Ω to battery negative and carries {amps:.1f} A"
        if stud is not None and stud.ohm
        else "its ground wire returns power current as well"
    )
    yield Finding(
        id=f"lift-{f.chain.id}",
        level="trouble",
        title=f"{f.source.name}: ground lifted by {ground_lift:.2f} V",
        text=f"{where}. {f.device.name} shows {token(f.kind, f.reading.shown)} for "
        f"{token(f.kind, f.reading.true)}.",
        reason=Reason(
            title=f"Ground of {f.source.name} above {f.device.name}",
            result=f"{ground_lift:.3f} V",
            formula="V = I · R of what the return shares; shown = curve(V signal + V lift)",
            given=(
                *(
                    (
                        given(
                            stud.name,
                            f"{stud.ohm:.3g} Ω",
                            provenance(scene.job, f"studs.{stud.id}.ohm"),
                        ),
                        given("current through it", f"{amps:.2f} A"),
                    )
                    if stud is not None
                    else ()
                ),
                given("signal alone", f"{f.sense.pin_v - ground_lift:.2f} V"),
                given("at the pin", f"{f.sense.pin_v:.2f} V"),
            ),
            source="Ohm's law; rule of the trade: sensor ground apart from power ground",
        ),
        mends=(
            *_ground_mends(scene, f, wires),
            Mend(label="Look at the wires", go=f"source:{f.chain.id}"),
        ),
        chain=f.chain.id,
    )


def _unlifted(scene: Scene, f: Felt) -> float:
    port = port_of(scene.job, f.chain.id, scene.state)
    sender = felt(scene.job, f.chain.id).sender
    return shown_at(sender, f.reading.true, port.lifted(-port.lift_v), scene.state)[0]


def _ground_mends(scene: Scene, f: Felt, wires: tuple[str, ...]) -> Iterator[Mend]:
    """Move the return to a stud that is clean, where there is one."""
    studs = index(scene.job.studs)
    good = [s for s in scene.job.studs if scene.stud(s.id).lift_v < figure("clean stud")]
    if not good or not wires:
        return
    wire = scene.wires[wires[0]]
    side = next((s for s, e in (("a", wire.a), ("b", wire.b)) if e.place in studs), None)
    if side is None:
        return
    yield Mend(
        label=f"Ground it at {good[0].name}",
        edit=together(*route.joined_at(scene.job, wire, side, good[0].id)),
    )


def _moved_by(scene: Scene, f: Felt, volts: float) -> float:
    """How far a reading moves for so many volts [V] in its lead [SI]."""
    sender, port = felt(scene.job, f.chain.id).sender, port_of(scene.job, f.chain.id, scene.state)
    shown = shown_at(sender, f.reading.true, port.lifted(volts), scene.state)[0]
    return abs(shown - f.reading.shown)


@rule("sensor", "wire", harm=40, minutes=20)
def noisy(scene: Scene, f: Felt) -> Iterator[Finding]:
    """A sensor's lead picks up enough from the ignition to move the reading."""
    if not INPUTS[f.sense.takes].by_volts:
        return
    moved_by = functools.partial(_moved_by, scene, f)
    ohm = SENSOR_OHM if f.sense.gives == "volts" else min(f.sense.electrical, 1e5)
    for key in f.chain.wires:
        wire = scene.wires[key]
        for i, near in enumerate(wire.neighbours):
            peak = coupling.noise(
                near.what, near.spacing_m, near.along_m, ohm, wire.twisted, wire.shielded
            )
            allowed = NOISE_OK * (f.span[1] - f.span[0])
            moved = moved_by(peak)
            if not moved > allowed:
                continue
            path = f"wires.{wire.id}.neighbours.{i}.spacing_m"
            clear = scene.job.house.coil_clear_m
            while (
                clear < ROOM
                and moved_by(
                    coupling.noise(near.what, clear, near.along_m, ohm, wire.twisted, wire.shielded)
                )
                > allowed
            ):
                clear += 0.05
            off = Mend(label=f"Keep {short_of(clear)} off", edit=keep_off(scene, wire, near, clear))
            twist = Mend(
                label="Twist the pair", edit=Put(path=f"wires.{wire.id}.twisted", value=True)
            )
            enough = not wire.twisted and moved_by(peak * coupling.TWIST) <= allowed
            yield Finding(
                id=f"noise-{wire.id}-{i}",
                level="watch",
                title=f"{f.chain.title} lead passes {near.name}",
                text=f"{wire.id} runs {short_of(near.spacing_m)} from it for "
                f"{short_of(near.along_m)}: peaks of {peak:.2g} V move the reading by up to "
                f"{delta_token(f.kind, moved)}.",
                reason=Reason(
                    title="Noise picked up from the ignition",
                    result=f"{peak:.2g} V peak, {delta_token(f.kind, moved)}",
                    formula="V = R · Cm · dV/dt; reading = curve(V signal + V)",
                    given=(
                        given("source resistance", f"{ohm:.0f} Ω"),
                        given(
                            "spacing",
                            short_of(near.spacing_m),
                            provenance(scene.job, path),
                        ),
                        given("alongside", short_of(near.along_m)),
                    ),
                    source="Paul, Electromagnetic Compatibility, §9; Ott, §2.2",
                    assumption="the input does not filter; most do, a little",
                ),
                mends=(
                    *(reroute(scene.job, wire, _leaves(near.zone)) if near.zone else ()),
                    *((twist, off) if enough else (off,)),
                ),
                wire=wire.id,
            )


def _leaves(zone: str) -> Callable[[Zone], bool]:
    """Allows every zone but one."""
    return lambda z: z.id != zone


@rule("sensor", "set", minutes=5)
def wrong_curve(scene: Scene, f: Felt) -> Iterator[Finding]:
    """What the device shows over the sender's whole range is further off than a gauge may be."""
    if _said_elsewhere(f):
        return
    found = felt(scene.job, f.chain.id)
    low, high = f.span
    meets = high > low
    worst, at, shown = _worst(scene, found.sender, low, high) if meets else (0.0, low, math.nan)
    share = worst / (high - low) if meets else 1.0
    if share <= SENSED_OK:
        return
    much = share > figure("curve error, trouble")
    now = f.device.setting(f.chain.pin)
    goes_by = f"With {now} it" if now is not None else "By the fixed curve of this input it"
    mends, better = _right_curve(scene, f)
    yield Finding(
        id=f"curve-{f.chain.id}",
        stage="set" if f.sheet.curves is not None else "source",
        level="trouble",
        title=f"{f.device.name} {f.chain.pin} goes by the wrong curve"
        if f.sheet.curves is not None
        else f"{f.source.name} does not fit {f.device.name} {f.chain.pin}",
        text=f"{goes_by} shows {token(f.kind, shown)} at {token(f.kind, at)}. {better}"
        if meets
        else f"The sender covers nothing of the range that {f.chain.pin} is for. {better}",
        harm=60 if much else 40,
        reason=Reason(
            title=f"{f.device.name} {f.chain.pin} over its range",
            result=f"{delta_token(f.kind, shown - at)} at the worst, {share * 100:.0f} % of the "
            "range",
            formula="shown = the device's curve at what it infers; worst over the range",
            given=(
                given(
                    "set",
                    str(now) if now is not None else "fixed",
                    provenance(scene.job, f"devices.{f.device.id}.settings.{f.chain.pin}.at")
                    if now is not None
                    else "device sheet",
                ),
                given(
                    "sender",
                    f.source.name,
                    provenance(scene.job, f"sources.{f.source.id}.spec.points"),
                ),
            ),
            source="straight lines between a device's points",
        ),
        mends=mends,
        chain=f.chain.id,
    )


def _said_elsewhere(f: Felt) -> bool:
    """Whether what is wrong over the range is only what another rule names: its cause."""
    spec = f.source.spec
    open_circuit = isinstance(spec, Thermistor | Resistive) and cut_off(spec)
    return open_circuit or f.sense.fault == "no pull-up" or len(pulls(f)) > 1


def _right_curve(scene: Scene, f: Felt) -> tuple[tuple[Mend, ...], str]:
    """What makes it read true over the range, and what that is, in a sentence."""
    try:
        way = try_sensor(scene.job, f.device, f.sheet, f.source, f.chain.hops)
    except Problem:
        way = None
    if f.sheet.curves is not None and way is not None and way.error <= SENSED_OK:
        name = "its own table" if way.setting == TABLE else f"curve {way.setting}"
        put = put_setting(f.device, f.chain.pin, way.setting, way.table)
        mend = Mend(label=f"Set {name}", edit=put)
        said = f"{name[0].upper()}{name[1:]} stays within {delta_token(f.kind, way.worst)}."
        return (mend,), said
    show = Mend(label="Other sources", go=f"source:{f.chain.id}")
    fit = fitting_sender(f)
    if fit is not None:
        path = f"sources.{f.source.id}.spec"
        mend = Mend(label=fit.words, edit=Put(path=path, value=msgspec.to_builtins(fit.spec)))
        return (mend, *best_mend(scene.raw, f.chain)), f"What fits: {fit.what}."
    other = best_mend(scene.raw, f.chain)
    if any(m.edit is not None for m in other):
        return other, "Another source of this car fits."
    return (show,), "Nothing in this job fits it: choose another sender or another device."


def _worst(scene: Scene, sender: Sensor, low: float, high: float) -> tuple[float, float, float]:
    alike = (sender.source.spec, *msgspec.structs.astuple(sender)[1:], low, high)
    found = scene.worst.get(alike)
    if found is None:
        found = scene.worst[alike] = worst_error(sender, low, high)
    return found


def worst_error(sender: Sensor, low: float, high: float) -> tuple[float, float, float]:
    """(worst error, true there, shown there) over a range, the ground as it should be."""
    state = State()
    span = high - low
    true = [low + span * i / SAMPLES for i in range(SAMPLES + 1)]
    shown = shown_over(sender, ideal(sender, state), state, true)
    off = [abs(s - t) for s, t in zip(shown, true, strict=True)]
    return max(zip(off, true, shown, strict=True))


@rule("sensor", "source", harm=60, minutes=10)
def no_signal(scene: Scene, f: Felt) -> Iterator[Finding]:
    """The sender cannot be read as it is joined."""
    if f.sense.fault != "no pull-up":
        return
    said = FAULTS[f.sense.fault]
    hops = [*msgspec.to_builtins(f.chain.hops), msgspec.to_builtins(PullUp())]
    yield Finding(
        id=f"silent-{f.chain.id}",
        level="trouble",
        title=f"{f.source.name} gives no signal here",
        text=f"{said[0].upper()}{said[1:]}.",
        reason=Reason(
            title=f.chain.pin, result=said, formula="open collector: it can only pull down"
        ),
        mends=(
            Mend(
                label="Add a 4.7 kΩ pull-up", edit=Put(path=f"chains.{f.chain.id}.hops", value=hops)
            ),
        ),
        chain=f.chain.id,
    )

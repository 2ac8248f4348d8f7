"""Rules about sources the trade learned to distrust, and choices that were overruled."""

from __future__ import annotations

import math
from collections.abc import Iterator

import msgspec

from zombrel.actions.signals import remove_signal
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.findings.take import best_mend
from zombrel.harness.missing import draw_chain
from zombrel.job.edits import Add, Put, together
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Device
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.source import GearboxSensor, Satellite, ToothedWheel
from zombrel.signals.begin import best_chain
from zombrel.signals.following import circles, given_by, made_from
from zombrel.units import speed_token

TWO_STROKE = 2
"""Strokes of an engine whose cam, if any, turns with its crank."""


@rule("job", "source", harm=96, minutes=40)
def never_spliced(scene: Scene) -> Iterator[Finding]:
    """The raw sensor of an electronic gearbox is spliced."""
    for chain in scene.job.chains:
        source = scene.sources[chain.source]
        spec = source.spec
        if not isinstance(spec, GearboxSensor) or not spec.electronic:
            continue
        yield Finding(
            id=f"spliced-{chain.id}",
            level="trouble",
            title=f"{source.name} may not be spliced",
            text="The gearbox shifts by this pair: what hangs on it changes what its computer "
            "sees, and a short leaves the car in one gear.",
            reason=Reason(
                title="Raw sensor of an electronic gearbox",
                result=f"{scene.devices[chain.device].name} hangs on it",
                formula="electronic gearbox and raw two-wire sensor: never",
                given=(
                    given(
                        "gearbox",
                        "electronic",
                        provenance(scene.job, f"sources.{source.id}.spec.electronic"),
                    ),
                ),
                source="rule of the trade; use the computer's buffered speed output",
            ),
            mends=best_mend(scene.job, chain),
            chain=chain.id,
        )


@rule("job", "source", harm=88, minutes=40)
def satellite_loop(scene: Scene) -> Iterator[Finding]:
    """A control loop hangs on satellite speed."""
    for chain in scene.job.chains:
        source, sheet = scene.sources[chain.source], scene.input(chain)
        spec = source.spec
        if not isinstance(spec, Satellite) or not sheet.steady:
            continue
        late = spec.lag_s * 0.5
        yield Finding(
            id=f"satellite-{chain.id}",
            level="trouble",
            title=f"{scene.devices[chain.device].name} must not run on satellite speed",
            text=f"It lags {spec.lag_s:g} s: where a hill takes 0.5 m/s each second the unit "
            f"answers {speed_token(late, 1)} late, and in a tunnel it holds or drops a speed "
            f"that is not there.",
            reason=Reason(
                title="Lag of the receiver in a speed loop",
                result=f"{spec.lag_s:g} s, {speed_token(late, 1)} on a hill",
                formula="late = lag × deceleration",
                given=(
                    given(
                        "lag",
                        f"{spec.lag_s:g} s",
                        provenance(scene.job, f"sources.{source.id}.spec.lag_s"),
                    ),
                    given("deceleration on a hill", "0.5 m/s²", "assumed"),
                ),
                source="kinematics",
            ),
            mends=best_mend(scene.job, chain),
            chain=chain.id,
        )


@rule("job", "source", harm=61, minutes=20)
def dead_output(scene: Scene) -> Iterator[Finding]:
    """A signal is taken from an output whose own input has nothing, or from itself."""
    round_again = circles(scene.job)
    for chain in scene.job.chains:
        made = made_from(scene.job, scene.sources[chain.source])
        if made is None or (made.chain and chain.id not in round_again):
            continue
        source, device = scene.sources[chain.source], scene.devices[made.device]
        if made.chain:
            title = f"{chain.title} goes round in a circle"
            text = f"{source.name} is made from {device.name} {made.of}, and that from this signal."
            mends = best_mend(scene.raw, chain)
        else:
            title = f"{source.name} gives nothing: {made.of} has no signal"
            text = (
                f"{device.name} makes it from {made.of}. Until that has a source, "
                f"{scene.devices[chain.device].name} sees nothing."
            )
            mends = _begun(scene, device, made.of)
        yield Finding(
            id=f"dead-{chain.id}",
            level="trouble",
            title=title,
            text=text,
            reason=Reason(
                title=f"What {source.name} is made from",
                result="itself" if made.chain else "nothing",
                formula="an output carries what its device makes of its own input",
                given=(given(f"{device.name} {made.of}", made.chain or "no signal"),),
                source="device sheet",
            ),
            mends=mends,
            chain=chain.id,
            about=(f"{device.id}.{made.of}", device.id),
        )


def _begun(scene: Scene, device: Device, pin: str) -> tuple[Mend, ...]:
    """The input's own signal begun from the best source there is."""
    sheet = device.sheet.input(pin)
    go = Mend(label="Go to the signals", go="source")
    chain = None if sheet is None else best_chain(scene.raw, device, sheet)
    if chain is None:
        return (go,)
    add = Add(path="chains", value=msgspec.to_builtins(chain))
    drawn = draw_chain(scene.raw, chain) if scene.raw.wires else ()
    label = f"Use {scene.sources[chain.source].name}"
    return (Mend(label=label, edit=together(add, *drawn)), go)


@rule("job", "source", minutes=10)
def polarity(scene: Scene) -> Iterator[Finding]:
    """A pick-up whose polarity counts is reversed, or nobody has measured it."""
    for chain in scene.job.chains:
        sheet = scene.input(chain)
        if not sheet.polarised or chain.polarity == "kept":
            continue
        source, device = scene.sources[chain.source], scene.devices[chain.device]
        try:
            give = given_by(scene.job, source)
        except Problem:
            continue
        if give.waveform != "sine":
            continue
        wrong = chain.polarity == "reversed"
        teeth, turn = give.rate, 360.0
        if isinstance(source.spec, ToothedWheel):
            teeth = source.spec.teeth
            if source.spec.on_cam and scene.job.vehicle.strokes != TWO_STROKE:
                turn = 720.0  # one turn of the cam is two of the crank
        late = turn / teeth / 2
        put = [
            Mend(
                label="Polarity is right",
                edit=Put(path=f"chains.{chain.id}.polarity", value="kept"),
            )
        ]
        if not wrong:
            put.append(
                Mend(
                    label="It is reversed",
                    edit=Put(path=f"chains.{chain.id}.polarity", value="reversed"),
                )
            )
        yield Finding(
            id=f"polarity-{chain.id}",
            level="trouble" if wrong else "watch",
            title=f"{source.name} is reversed" if wrong else f"Polarity of {source.name} unknown",
            text=("Change the two wires over. " if wrong else "Measure it before the first start. ")
            + f"Reversed, {device.name} triggers on the other flank, about {late:.1f}° of crank "
            "later, and the gap of a toothed wheel is missed.",
            harm=80 if wrong else 55,
            reason=Reason(
                title=f"{device.name} {chain.pin}",
                result=f"about {late:.1f}° late when reversed",
                formula=f"half a tooth pitch = {turn:.0f}° of crank ÷ teeth ÷ 2",
                given=(
                    given("teeth", f"{teeth:g}"),
                    given("polarity", chain.polarity or "not measured"),
                ),
                source="variable-reluctance pick-up: the falling zero crossing marks the tooth",
            ),
            mends=tuple(put),
            chain=chain.id,
        )


@rule("job", "source", harm=84, minutes=15)
def trigger(scene: Scene) -> Iterator[Finding]:
    """What fires by pulses gets them from no toothed wheel, or not one for each firing."""
    cylinders, strokes = scene.job.vehicle.cylinders, scene.job.vehicle.strokes
    for chain in scene.job.chains:
        device, source = scene.devices[chain.device], scene.sources[chain.source]
        sheet, spec = scene.input(chain), source.spec
        if not sheet.polarised or sheet.quantity != "tach":
            continue
        if not isinstance(spec, ToothedWheel):
            yield _no_wheel(scene, chain)
            continue
        # an engine computer has its wheel in its calibration, not on its sheet
        fires = device.sheet.moves == "spark" and sheet.setting is None and not sheet.scale
        if not fires or cylinders is None:
            continue
        try:
            rate = given_by(scene.job, source).rate
        except Problem:
            continue
        wanted = cylinders / (1 if strokes == TWO_STROKE else 2)
        if not math.isclose(rate, wanted, rel_tol=1e-6):
            yield _miscounts(scene, chain, spec, rate, wanted)


def _no_wheel(scene: Scene, chain: Chain) -> Finding:
    device, source = scene.devices[chain.device], scene.sources[chain.source]
    return Finding(
        id=f"trigger-{chain.id}",
        level="trouble",
        title=f"{source.name} does not say where the engine stands",
        text=f"{device.name} {chain.pin} acts at each pulse. These come as often as the engine "
        "turns, and at no place of it: it would act at any angle of the crank.",
        reason=Reason(
            title=f"{device.name} {chain.pin}",
            result="no place of the crank",
            formula="an input with a polarity marks a tooth: it takes a toothed wheel",
            given=(given(source.name, "no toothed wheel"),),
            source="Heywood, Internal Combustion Engine Fundamentals, ch. 1",
        ),
        mends=(
            *best_mend(scene.raw, chain),
            Mend(label="Leave the signal out", edit=remove_signal(chain)),
        ),
        chain=chain.id,
        about=(source.id, device.id),
    )


def _miscounts(
    scene: Scene, chain: Chain, spec: ToothedWheel, rate: float, wanted: float
) -> Finding:
    device, source = scene.devices[chain.device], scene.sources[chain.source]
    fit = spec.teeth * wanted / rate
    counted = not spec.missing and math.isclose(fit, round(fit))
    again = Mend(
        label=f"It has {fit:.0f} teeth",
        edit=Put(path=f"sources.{source.id}.spec.teeth", value=round(fit)),
    )
    known = provenance(scene.job, f"sources.{source.id}")
    return Finding(
        id=f"trigger-{chain.id}",
        level="trouble",
        title=f"{device.name} would fire {rate:g} times a turn, the engine wants {wanted:g}",
        text=f"It fires at each pulse of {source.name}. Count the teeth and the turns again, "
        "or find the pick-up that belongs to this engine.",
        reason=Reason(
            title=f"{device.name} {chain.pin}",
            result=f"{rate:g} pulses a turn for {wanted:g} firings",
            formula="one pulse a firing: cylinders ÷ 2 in a turn, in two-stroke cylinders",
            given=(
                given("teeth", str(spec.teeth), known),
                given("cylinders", str(scene.job.vehicle.cylinders)),
                given("strokes", str(scene.job.vehicle.strokes)),
            ),
            source="Heywood, Internal Combustion Engine Fundamentals, ch. 1",
        ),
        mends=(
            *((again,) if counted else ()),
            Mend(label="Look at the source", go=f"source:{chain.id}"),
        ),
        chain=chain.id,
        about=(source.id, device.id),
    )


@rule("job", "source", harm=5, minutes=0)
def overruled(scene: Scene) -> Iterator[Finding]:
    """The user took another source than the finder would: kept on record."""
    for chain in scene.job.chains:
        if not chain.over:
            continue
        source = scene.sources[chain.source]
        yield Finding(
            id=f"overruled-{chain.id}",
            level="note",
            title=f"{chain.title}: your choice stands",
            text=f"{source.name} was taken over {chain.over}.",
            reason=Reason(
                title=chain.title,
                result=source.name,
                formula="chosen by hand",
                given=(given("the finder's best", chain.over),),
            ),
            chain=chain.id,
        )

"""Rules about what reaches an input: its level, its shape, what else hangs on its source."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial

import msgspec

from zombrel.actions.signals import put_divider, put_setting
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Rated, Scene, given
from zombrel.findings.signal.signal_rules import at_x
from zombrel.findings.take import best_mend, conditioned
from zombrel.harness.laid import laid
from zombrel.job.edits import Edit, Put, together
from zombrel.job.figures import figure
from zombrel.job.follow.view import plain
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Counter, Coupler, Divider, Job, PullUp
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.sheet import InputSheet, Waveform
from zombrel.job.source import CoilTap, WheelRing
from zombrel.signals import law as laws
from zombrel.signals.chain_reading import port_of, ready, works_from
from zombrel.signals.circuit.build import SATURATED_V
from zombrel.signals.finder import Candidate
from zombrel.signals.following import given_by
from zombrel.signals.kinds import kind_of
from zombrel.signals.over_range import choices
from zombrel.signals.reduce import cd_box, counter_of, law
from zombrel.signals.ways import STANDS_V, shape_at
from zombrel.units import prefixed

PULL_UPS = (4700.0, 2200.0, 1000.0, 470.0, 10000.0)
"""Resistors that are tried as a pull-up, the usual first [Ω] (E12, IEC 60063)."""


def counts_from(job: Job, chain: str) -> float:
    """Lowest x at which a chain counts in an edited job; endless where it never does."""
    try:
        start, stop = ready(laid(job), chain).span
    except Problem:
        return math.inf
    return start if stop > 0 else math.inf


def _enough(scene: Scene, chain: Chain, edit: Edit) -> bool:
    """Whether the chain counts where it is wanted once ``edit`` is made."""
    return counts_from(scene.after(edit), chain.id) <= works_from(scene.input(chain))


@rule("rate", "source", minutes=25)
def level(scene: Scene, r: Rated) -> Iterator[Finding]:
    """The signal is too weak to be counted where it is wanted."""
    start, stop = laws.span(r.law)
    wanted = works_from(scene.input(r.chain))
    if (stop > 0 and start <= wanted) or half_a_pair(scene, r.chain):
        return
    never = stop <= 0
    device = scene.devices[r.chain.device]
    yield Finding(
        id=f"level-{r.chain.id}",
        level="trouble",
        title=f"{r.chain.title} never counts"
        if never
        else f"{r.chain.title} counts only from {at_x(r.chain, start)}",
        text=f"{device.name} needs {r.law.first_threshold:.2g} V; {_comes(scene, r)}"
        + (f" It is wanted from {at_x(r.chain, wanted)}." if not never else ""),
        harm=60 if never else 35,
        reason=Reason(
            title="Lowest speed that counts",
            result="never" if never else f"{at_x(r.chain, start)}",
            formula="threshold ÷ (volts per hertz × pulses per distance)"
            if r.law.v_per_hz
            else "level through the pull-up, divided by what hangs on it, against the threshold",
            given=(
                given("threshold", f"{r.law.first_threshold:.3g} V", "device sheet"),
                given("level", _level_words(r)),
                *(
                    given(f"also on it: {scene.devices[c.device].name}", _taken(scene, c))
                    for c in _beside(scene, r.chain)
                ),
            ),
            source="variable-reluctance pick-up: peak proportional to rate; Thévenin's theorem",
        ),
        mends=_level_mends(scene, r),
        chain=r.chain.id,
    )


def _comes(scene: Scene, r: Rated) -> str:
    """What reaches the input, and what of that others take."""
    if r.give.needs_pull_up:
        port = port_of(scene.job, r.chain.id, scene.state)
        low = port.behind(0.0, SATURATED_V / r.give.sinks_a)
        if port.pin_v < r.law.first_threshold:
            return f"the open collector is pulled up to {max(port.pin_v, 0.0):.2g} V only."
        return f"the open collector, made for {r.give.sinks_a * 1000:.0f} mA, pulls it down to \
{low:.2g} V only."
    if r.law.v_per_hz == 0:
        return f"the source gives {r.law.v_fixed:.2g} V."
    said = f"the source gives {r.law.v_per_hz * 1000:.1f} mV per Hz"
    others = _beside(scene, r.chain)
    if others:
        said += ", loaded by " + " and ".join(scene.devices[c.device].name for c in others)
    return said + "."


def _level_words(r: Rated) -> str:
    if r.law.v_per_hz:
        return f"{r.law.v_per_hz * 1000:.2f} mV/Hz, loaded"
    return f"{r.law.v_fixed:.3g} V"


def _beside(scene: Scene, chain: Chain) -> list[Chain]:
    """The other chains on a chain's source."""
    return [c for c in scene.job.chains if c.source == chain.source and c.id != chain.id]


def _taken(scene: Scene, chain: Chain) -> str:
    counter = counter_of(chain)
    return prefixed(counter.input_ohm if counter else scene.input(chain).input_ohm, "Ω")


def _level_mends(scene: Scene, r: Rated) -> tuple[Mend, ...]:
    """What lets it count where it is wanted; each tried before it is offered."""
    tried = [
        *_pull_ups(scene, r),
        *_squared(scene, r.chain),
        *[m for c in _beside(scene, r.chain) for m in _squared(scene, c)],
        *best_mend(scene.raw, r.chain),
    ]
    good = [m for m in tried if m.edit is None or _enough(scene, r.chain, m.edit)]
    return tuple(good)


def _pull_ups(scene: Scene, r: Rated) -> Iterator[Mend]:
    if not r.give.needs_pull_up:
        return
    hops = [h for h in r.chain.hops if not isinstance(h, PullUp)]
    for ohm in PULL_UPS:
        fitted = msgspec.to_builtins((PullUp(ohm=ohm), *hops))
        edit = Put(path=f"chains.{r.chain.id}.hops", value=fitted)
        if _enough(scene, r.chain, edit):
            yield Mend(label=f"Pull it up with {prefixed(ohm, 'Ω', 2)}", edit=edit)
            return


def _squared(scene: Scene, chain: Chain) -> Iterator[Mend]:
    """A counter in front of an input that loads the pair or misses its sine."""
    if counter_of(chain) is not None:
        return
    device, sheet = scene.devices[chain.device], scene.input(chain)
    if kind_of(scene.sources[chain.source].spec).emits is None:
        return
    if sheet.numbers is None:
        hops = msgspec.to_builtins((*chain.hops, Divider(by=1)))
        edit: Edit = Put(path=f"chains.{chain.id}.hops", value=hops)
        yield Mend(label=f"Square it: {device.name}", edit=edit)
        return
    try:
        best = choices(scene.job, chain, scene.sources[chain.source], sheet)[0]
    except Problem:
        return
    by = put_divider(chain, best.divider)
    label = f"Fit ÷{best.divider}, set {best.setting}"
    if best.divider == 1:
        hops = msgspec.to_builtins((*chain.hops, Divider(by=1)))
        by = Put(path=f"chains.{chain.id}.hops", value=hops)
        label = f"Square it: {device.name}"
    edit = together(by, put_setting(device, chain.pin, best.setting))
    yield Mend(label=label, edit=edit)


@rule("rate", "source", harm=45, minutes=25)
def waveform(scene: Scene, r: Rated) -> Iterator[Finding]:
    """The input is made for another shape of pulse than the one that comes."""
    sheet = scene.input(r.chain)
    shape = shape_at(r.chain.hops, r.give.waveform)
    if shape in sheet.waveforms or _too_high(r, sheet):
        return
    if isinstance(r.source.spec, CoilTap) and cd_box(scene.job):
        return  # said by a rule of its own
    wanted = " or ".join(_shape(w) for w in sheet.waveforms)
    start, _ = laws.span(r.law)
    texts = {
        "sine": f"The sine reaches the {r.law.first_threshold:g} V threshold only from "
        f"{at_x(r.chain, start)}, and a slow edge counts noise twice. Square it on the way.",
        "square": "An input for a sine looks for the zero crossing of a winding; a square that "
        "never goes below zero may not be counted, or counted on both edges.",
        "kick": "The coil's kick rings: one firing is counted several times, and its peak may "
        "hurt an input that is not made for it.",
    }
    yield Finding(
        id=f"waveform-{r.chain.id}",
        level="trouble",
        title=f"{r.chain.pin} wants {wanted}, gets {_shape(shape)}",
        text=texts.get(shape, "The input cannot count it."),
        reason=Reason(
            title="Waveform at the input",
            result=_shape(shape)
            + (f"; counts from {at_x(r.chain, start)}" if math.isfinite(start) else ""),
            formula="threshold ÷ (volts per hertz × pulses per distance)"
            if shape == "sine"
            else "the shape that comes must be one the input is made for",
            given=(
                given("made for", wanted, "device sheet"),
                given("threshold", f"{r.law.first_threshold:g} V", "device sheet"),
                given(
                    "level",
                    _level_words(r),
                    provenance(scene.job, f"sources.{r.source.id}.spec.volts_per_hz"),
                ),
            ),
            source="two-wire sensors give a sine, three-wire and computer outputs square",
        ),
        mends=_shaped_right(scene, r, shape),
        chain=r.chain.id,
    )


def _shaped(scene: Scene, chain: Chain, c: Candidate) -> bool:
    """Whether what a candidate gives has a shape that the input is made for."""
    source = scene.sources[c.source]
    give = given_by(scene.job, source)
    return shape_at(c.hops, give.waveform) in scene.input(chain).waveforms


def _calm(scene: Scene, chain: Chain, c: Candidate) -> bool:
    """Whether a candidate's peaks are what the input stands."""
    if any(isinstance(h, Counter) for h in c.hops):
        return True
    source = scene.sources[c.source]
    give = given_by(scene.job, source)
    trial = msgspec.structs.replace(plain(chain), hops=c.hops, wires=())
    return law(trial, give, scene.devices[chain.device]).v_fixed <= scene.input(chain).max_v


SHAPES = {"sine": "a sine", "square": "square pulses", "kick": "a coil's kick", "level": "a level"}


def _shape(waveform_: str) -> str:
    return SHAPES[waveform_]


def _coupled(scene: Scene, r: Rated, shape: Waveform) -> Iterator[Mend]:
    """A capacitor that lets square pulses swing about zero, where they stay high enough."""
    if shape != "square" or "sine" not in scene.input(r.chain).waveforms:
        return
    hops = msgspec.to_builtins((*r.chain.hops, Coupler()))
    edit = Put(path=f"chains.{r.chain.id}.hops", value=hops)
    if _enough(scene, r.chain, edit):
        yield Mend(label="Fit a coupling capacitor", edit=edit)


def _shaped_right(scene: Scene, r: Rated, shape: Waveform) -> tuple[Mend, ...]:
    """A piece in the line that gives the right shape; else what the finder knows."""
    own = tuple(_squared(scene, r.chain)) if shape == "sine" else tuple(_coupled(scene, r, shape))
    if own:
        return (*own, Mend(label="Other sources", go=f"source:{r.chain.id}"))
    return conditioned(scene.raw, r.chain, partial(_shaped, scene))


@rule("rate", "source", harm=90, minutes=20)
def overvoltage(scene: Scene, r: Rated) -> Iterator[Finding]:
    """The source's peaks are more than the input stands."""
    sheet, peak = scene.input(r.chain), r.law.v_fixed
    if not _too_high(r, sheet) or (isinstance(r.source.spec, CoilTap) and cd_box(scene.job)):
        return
    yield Finding(
        id=f"overvoltage-{r.chain.id}",
        level="trouble",
        title=f"{peak:.0f} V peaks into {r.chain.pin}",
        text=f"{scene.devices[r.chain.device].name} stands {sheet.max_v:.0f} V there.",
        reason=Reason(
            title="Peak at the input",
            result=f"{peak:.0f} V against {sheet.max_v:.0f} V",
            formula="peak, by what divides it on the way ≤ what the input stands",
            given=(given("input stands", f"{sheet.max_v:.0f} V", "device sheet"),),
            source="inductive kick of a coil primary: hundreds of volts",
        ),
        mends=conditioned(scene.raw, r.chain, partial(_calm, scene)),
        chain=r.chain.id,
    )


def _too_high(r: Rated, sheet: InputSheet) -> bool:
    """Peaks beyond what the first input on the way stands; a counter is taken to stand 60 V."""
    return r.law.v_fixed > (sheet.max_v if counter_of(r.chain) is None else STANDS_V)


@rule("job", "source", harm=65, minutes=30)
def loading(scene: Scene) -> Iterator[Finding]:
    """The taps together take more than a tenth of a shared pair's level."""
    loads: dict[str, list[float]] = {}
    for chain in scene.job.chains:
        spec = scene.sources[chain.source].spec
        if isinstance(spec, WheelRing) and spec.shared:
            counter = counter_of(chain)
            ohm = counter.input_ohm if counter else scene.input(chain).input_ohm
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
            about=(key,),
        )


def half_a_pair(scene: Scene, chain: Chain) -> bool:
    """A winding of which this signal has one wire only: said by a rule of its own."""
    if not (chain.wires and kind_of(scene.sources[chain.source].spec).two_wire):
        return False
    return sum(scene.wires[w].carries == "signal" for w in chain.wires) == 1

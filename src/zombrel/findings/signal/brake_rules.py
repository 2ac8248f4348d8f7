"""Rules about on/off inputs: the cancel line, contacts, inputs that nothing is joined to."""

from __future__ import annotations

import math
from collections.abc import Iterator

import msgspec

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.findings.take import best_mend
from zombrel.harness import route
from zombrel.harness.missing import draw_chain, start_of
from zombrel.job.edits import Add, Put, together
from zombrel.job.follow.view import plain
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Device, Hop, LoadResistor, Relay
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.sheet import InputSheet
from zombrel.job.source import Source, Switch
from zombrel.signals.begin import best_chain
from zombrel.signals.brake import BrakeLine, load_for
from zombrel.signals.chain_reading import ChainReading, side_of
from zombrel.signals.contact import contact
from zombrel.units import prefixed

SOUGHT = 40
"""For so many inputs the best source is sought at once; nobody reads further before they act."""
GOOD_OHM = 0.1
"""A relay's contact as it should be [Ω]."""


def _put_hops(chain: Chain, hops: tuple[Hop, ...]) -> Put:
    return Put(path=f"chains.{chain.id}.hops", value=msgspec.to_builtins(hops))


@rule("brake", "source", harm=100, minutes=25)
def brake_unsure(scene: Scene, chain: Chain, line: BrakeLine) -> Iterator[Finding]:
    """The cancel input cannot be sure of ground at rest."""
    source = scene.sources[chain.source]
    if side_of(source) == "hot":
        yield _hot_side(scene, chain, line)
    elif not line.sure:
        yield _unsure(scene, chain, line)


def _unsure(scene: Scene, chain: Chain, line: BrakeLine) -> Finding:
    system = scene.job.vehicle.system_v
    others = tuple([h for h in chain.hops if not isinstance(h, Relay | LoadResistor)])
    relay = Relay(coil_v=system, coil_ohm=90.0 * (system / 12) ** 2)
    need = load_for(line.need_ohm, system)
    worn = next((h for h in chain.hops if isinstance(h, Relay)), None)
    filament = scene.job.vehicle.lamps == "filament"
    if worn is not None:
        who = f"The relay's rest contact has {prefixed(worn.contact_ohm, 'Ω')} and leaves"
    else:
        who = "The lamps leave" if filament else "LED lamps leave"
    formula = (
        "V = Vs · R/(R + Rp) with R the path to ground"
        if filament or worn is not None
        else "LED string above its knee: V = Vk + I·r, I = (Vs − V)/Rp"
    )
    return Finding(
        id=f"brake-{chain.id}",
        level="trouble",
        title="Brake pedal may not cancel",
        text=f"{who} the line at {line.rest_v:.1f} V with the pedal up. "
        f"{chain.pin} wants ground through less than {line.need_ohm:.0f} Ω; it finds "
        f"{prefixed(line.path_ohm, 'Ω', 2)}.",
        reason=Reason(
            title="Voltage at rest",
            result=f"{line.rest_v:.2f} V; {line.rest_limit_v:.2f} V at most is sure",
            formula=formula,
            given=(
                given(
                    "lamps",
                    scene.job.vehicle.lamps or "",
                    provenance(scene.job, "vehicle.lamps"),
                ),
                given("supply", f"{scene.state.volts:.1f} V", "supposed"),
                given(
                    "pull-up in the device",
                    f"{scene.input(chain).pulls_ohm:.0f} Ω",
                    "device sheet",
                ),
            ),
            source="Ohm's law; two-segment LED model",
            assumption=""
            if filament or worn is not None
            else "knee 6.8 V and 300 Ω for one 12 V LED lamp, typical",
        ),
        mends=(
            Mend(label="Fit a relay", edit=_put_hops(chain, (*others, relay))),
            Mend(
                label=f"{need.ohm:.0f} Ω, {need.watts:.0f} W load",
                edit=_put_hops(chain, (*others, LoadResistor(ohm=need.ohm, rated_w=need.watts))),
            ),
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
        mends=_cold_side(scene, chain, source),
        chain=chain.id,
    )


def _cold_side(scene: Scene, chain: Chain, source: Source) -> tuple[Mend, ...]:
    """Another source that serves; else the same switch, tapped on its other side."""
    found = best_mend(scene.raw, chain)
    if any(m.edit is not None for m in found):
        return found
    cold = Put(path=f"sources.{source.id}.spec.side", value="cold")
    return (Mend(label="Tap its cold side instead", edit=cold), *found)


@rule("contact", "source", harm=75, minutes=20)
def contact_sense(scene: Scene, chain: Chain, reading: ChainReading) -> Iterator[Finding]:
    """A contact tells the device the wrong thing: normally open for closed, or the other rail."""
    switch = reading.contact
    if switch is None or switch.right:
        return
    device, source, sheet = (
        scene.devices[chain.device],
        scene.sources[chain.source],
        scene.input(chain),
    )
    if switch.turned:
        text = (
            f"The contact rests {switch.rests}; {device.name} takes a {sheet.active} contact for "
            "on, so it sees on for off and off for on."
        )
    elif switch.leads != sheet.closes_to:
        text = f"The contact leads to {switch.leads}; {chain.pin} looks for {sheet.closes_to}."
    else:
        text = f"{device.name} would see the same whatever the contact does."
    yield Finding(
        id=f"contact-{chain.id}",
        level="trouble",
        title=f"{source.name} tells {device.name} the wrong thing",
        text=text,
        reason=Reason(
            title=f"{chain.pin} at the {device.name}",
            result=f"on is seen as {'on' if switch.on_when_on else 'off'}, off as "
            f"{'on' if switch.on_when_off else 'off'}",
            formula="seen = (contact closed and leads where the input looks) = active state",
            given=(
                given("contact rests", switch.rests),
                given("leads to", switch.leads),
                given("input takes for on", sheet.active, "device sheet"),
                given("input looks for", sheet.closes_to, "device sheet"),
            ),
            source="circuit logic",
        ),
        mends=(
            *_turned(chain, source, sheet),
            *best_mend(scene.raw, chain),
        ),
        chain=chain.id,
    )


def _turned(chain: Chain, source: Source, sheet: InputSheet) -> Iterator[Mend]:
    """A relay fitted, or taken out, where that sets it right."""
    kept: tuple[Hop, ...] = tuple([h for h in plain(chain).hops if not isinstance(h, Relay)])
    tries: tuple[tuple[str, tuple[Hop, ...]], ...] = (
        ("Take the relay out", ()),
        ("Fit a relay", (Relay(),)),
        ("Relay, its working contact", (Relay(throw="work"),)),
    )
    for label, more in tries:
        hops = (*kept, *more)
        trial = msgspec.structs.replace(plain(chain), hops=hops)
        if hops != chain.hops and contact(trial, source, sheet).right:
            yield Mend(label=label, edit=_put_hops(chain, hops))


@rule("contact", "source", harm=72, minutes=20)
def poor_contact(scene: Scene, chain: Chain, reading: ChainReading) -> Iterator[Finding]:
    """A contact, or the relay it works, that hardly conducts when it is closed."""
    sheet, source = scene.input(chain), scene.sources[chain.source]
    relay = next((h for h in chain.hops if isinstance(h, Relay)), None)
    ohm = relay.contact_ohm if relay is not None else _ohm(source)
    share = ohm / (ohm + sheet.pulls_ohm)
    worst = sheet.need_ohm or math.inf
    if share <= SHARE_OK and ohm < worst:
        return
    put = Put(path=f"sources.{source.id}.spec.contact_ohm", value=GOOD_OHM)
    if relay is not None:
        good = msgspec.structs.replace(relay, contact_ohm=GOOD_OHM)
        put = _put_hops(chain, tuple([good if h is relay else h for h in chain.hops]))
    device = scene.devices[chain.device]
    yield Finding(
        id=f"ohms-{chain.id}",
        level="trouble",
        title=f"{source.name}: {prefixed(ohm, 'Ω')} when it is closed",
        text=f"{device.name} {chain.pin} then stands at {share * 100:.0f} % of its pull-up's volts "
        "and is not sure to see it.",
        reason=Reason(
            title=f"{chain.pin} with the contact closed",
            result=f"{share * 100:.0f} % of the supply",
            formula="V = Vs · R/(R + Rp)",
            given=(
                given("contact", prefixed(ohm, "Ω")),
                given("pull-up", prefixed(sheet.pulls_ohm, "Ω"), "device sheet"),
            ),
            source="Ohm's law",
        ),
        mends=(
            Mend(label="Fit a good contact", edit=put),
            Mend(label="Other sources", go=f"source:{chain.id}"),
        ),
        chain=chain.id,
    )


SHARE_OK = 0.15
"""A closed contact leaves at most this share of the supply at its input (usual logic levels)."""


def _ohm(source: Source) -> float:
    return source.spec.contact_ohm if isinstance(source.spec, Switch) else 0.0


@rule("job", "source", minutes=20)
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
    chain = best_chain(scene.raw, device, sheet) if sought else None
    gate = device.sheet.gates(sheet)
    text = (
        f"It holds back what {device.name} moves: without it nothing stops the {_acts(device)}."
        if gate
        else "The device does not work without it."
    )
    mends: tuple[Mend, ...] = (Mend(label="Add a source", go="survey:sources"),)
    if not sought:
        mends = (Mend(label="Go to the signals", go="source"),)
        text += " Its best source is sought when it is begun."
    elif chain is not None:
        name = scene.sources[chain.source].name
        add = Add(path="chains", value=msgspec.to_builtins(chain))
        edit = together(add, *_drawn(scene, chain))
        mends = (Mend(label=f"Use {name}", edit=edit),)
        text += f" {name} is the best this car offers."
    else:
        text += " This car offers nothing yet."
    return Finding(
        id=f"unconnected-{device.id}-{sheet.pin}",
        level="trouble" if gate else "watch",
        title=f"{device.name} {sheet.pin} has no source",
        text=text,
        harm=94 if gate else 45,
        reason=Reason(
            title="Inputs without a chain",
            result=sheet.pin,
            formula="required by the device sheet, and no chain ends there",
        ),
        mends=mends,
        about=(f"{device.id}.{sheet.pin}", device.id),
    )


def _acts(device: Device) -> str:
    return device.sheet.moves or "device"


def _drawn(scene: Scene, chain: Chain) -> tuple[Add | Put, ...]:
    """The wires of a chain that is begun, once others are drawn; one that is there is joined."""
    if not scene.raw.wires:
        return ()
    if chain.wires:
        wire, source = scene.wires[chain.wires[0]], scene.sources[chain.source]
        side = "a" if (wire.b.place, wire.b.pin) == (chain.device, chain.pin) else "b"
        end = start_of(source)
        now = wire.a if side == "a" else wire.b
        if now.place == end.place or now.place in scene.connectors:
            return ()
        return route.joined_at(scene.job, wire, side, end.place, end.pin)
    try:
        return draw_chain(scene.raw, chain)
    except Problem:
        return ()

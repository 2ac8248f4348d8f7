"""The parts of a job as a network: what stands between which nodes in a state of the vehicle.

A pin of a device, source or connector is the node ``place.pin``; a feed or a stud is its own name.
What is not drawn yet is taken as it should be: a device without ground wires stands on battery
negative, a chain without wires is joined straight to its input.

References: Ohm's law; Norton's equivalent of a reference behind a resistor; currents of a spark box
as in ``calibrate.advance``; lamps as in ``signals.brake``.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, NamedTuple

import msgspec

from zombrel.calibrate.advance import box_current
from zombrel.calibrate.copper import resistance_per_m
from zombrel.job.feed_classes import FEEDS
from zombrel.job.figures import figure
from zombrel.job.model import (
    Attenuator,
    Chain,
    Coupler,
    Device,
    Divider,
    Job,
    LoadResistor,
    Multiplier,
    PullUp,
    Ratio,
    Relay,
    Vehicle,
    index,
)
from zombrel.job.sheet import InputSheet, SupplySheet
from zombrel.job.source import BoxOutput, BrakeSide, Source, Switch
from zombrel.job.value import Value
from zombrel.job.wiring import End, Feed, Wire
from zombrel.signals.brake import lamp_law
from zombrel.signals.circuit.islands import Island
from zombrel.signals.circuit.network import GROUND, Bent, Network, Node, load
from zombrel.signals.kinds import kind_of

DRIVER_OHM = 100.0
"""Behind what a driven output stands [Ω], usual: ASSUMED."""
CONTACT_OHM = 0.05
"""A brake-lamp switch and its plug [Ω]: ASSUMED."""
SATURATED_V = 0.4
"""What is left across an open collector at the most current it may sink [V]: ASSUMED."""


class Electric(NamedTuple):
    """What of a vehicle's state reaches the network."""

    key: Literal["off", "on", "crank"] = "on"
    volts: float = 13.8
    ambient: float = 293.15
    """Outside air [K]."""
    lights: bool = False
    engine: float = 0.0
    """Engine speed [1/s]; endless for whatever it takes at its most."""
    on: tuple[str, ...] = ()
    """On/off quantities that are on: ``brake``, ``clutch`` …"""
    given: tuple[tuple[str, float], ...] = ()
    """(source, what its sender gives [Ω, V]); the other senders are left out."""


class Fault(Value, frozen=True):
    """What has become of a conductor."""

    wire: str
    kind: Literal["open", "ohms", "bridge"]
    ohm: float = 0.0
    """More resistance in it [Ω], or of the bridge."""
    to: str = ""
    """Node that a bridge leads to; empty: the body."""


class Taps(Value, frozen=True):
    """Where one chain hangs in the network."""

    plus: Node
    """The source's signal terminal."""
    minus: Node
    """What the source stands on."""
    end: Node
    """The device's end of the run, before anything fitted there."""
    pin: Node
    """The first input on the way, the device's or a counter's, behind what is fitted before it."""
    ground: Node
    """What the input measures against."""


class Built(Value, frozen=True):
    """An island as a network."""

    network: Network
    wires: dict[str, tuple[Node, Node, float]]
    """(node, node, Ω) of each conductor that leads anywhere."""
    taps: dict[str, Taps]
    """Of each chain."""
    loads: dict[tuple[str, str], Bent]
    """Of each supply pin that is joined, by (device, pin)."""


def node_of(end: End) -> Node:
    """The node a conductor ends at."""
    return f"{end.place}.{end.pin}" if end.pin else str(end.place)


class _Maker:
    """An island while it is put together."""

    def __init__(self, job: Job, island: Island, at: Electric, faults: tuple[Fault, ...]) -> None:
        self.job, self.island, self.at = job, island, at
        self.faults = {f.wire: f for f in faults}
        devices, chains, wires = index(job.devices), index(job.chains), index(job.wires)
        sources = index(job.sources)
        self.devices: dict[str, Device] = {d: devices[d] for d in island.devices}
        self.sources: dict[str, Source] = {s: sources[s] for s in island.sources}
        self.chains: dict[str, Chain] = {c: chains[c] for c in island.chains}
        self.held: dict[str, Wire] = {w: wires[w] for w in island.wires}
        self.feeds, self.studs = index(job.feeds), index(job.studs)
        self.same: dict[Node, Node] = {}
        self.ohms: list[tuple[Node, Node, float]] = []
        self.amps: list[tuple[Node, Node, float]] = []
        self.bent: list[Bent] = []
        self.fixed: dict[Node, float] = {}
        self.joined = {(e.place, e.pin) for w in self.held.values() for e in (w.a, w.b)}
        self.taps: dict[str, Taps] = {}
        self.footed: set[str] = set()
        """Sources whose second terminal is joined to something."""
        self.loads: dict[tuple[str, str], Bent] = {}
        self.runs: dict[str, tuple[Node, Node, float]] = {}

    def at_(self, node: Node) -> Node:
        """The node that stands for all that are one with it."""
        while node in self.same:
            node = self.same[node]
        return node

    def one(self, a: Node, b: Node) -> None:
        """Take two nodes for one; the second gives its name."""
        a, b = self.at_(a), self.at_(b)
        if a == GROUND:
            a, b = b, a
        if a != b:
            self.same[a] = b

    def resist(self, a: Node, b: Node, ohm: float) -> None:
        self.ohms.append((a, b, ohm))

    def hold(self, node: Node, over: Node, volts: float, ohm: float) -> None:
        """A voltage over another node, behind a resistance (Norton)."""
        self.ohms.append((over, node, ohm))
        if volts:
            self.amps.append((over, node, volts / ohm))

    def supply(self) -> Node:
        """The vehicle's own supply, alive with the key on."""
        self.fixed["supply"] = self.at.volts if self.at.key != "off" else 0.0
        return "supply"

    def live(self) -> Node:
        """The battery itself."""
        self.fixed["battery"] = self.at.volts
        return "battery"

    def made(self) -> Built:
        for device in self.devices.values():
            _ground(self, device)
        for chain in self.chains.values():
            _terminals(self, chain)
        for wire in self.held.values():
            _wire(self, wire)
        for device in self.devices.values():
            _device(self, device)
        for source in self.sources.values():
            _source(self, source)
        for key in self.island.studs:
            _stud(self, key)
        at = {node: self.at_(node) for node in self.same}.get
        network = Network(
            ohms=[(at(a, a), at(b, b), ohm) for a, b, ohm in self.ohms],
            amps=[(at(a, a), at(b, b), amps) for a, b, amps in self.amps],
            bent=[Bent(at(b.a, b.a), at(b.b, b.b), b.pieces) for b in self.bent],
            fixed={at(n, n): v for n, v in self.fixed.items()},
        )
        taps = {
            c: Taps(*[at(n, n) for n in msgspec.structs.astuple(t)]) for c, t in self.taps.items()
        }
        runs = {w: (at(a, a), at(b, b), ohm) for w, (a, b, ohm) in self.runs.items()}
        loads = {k: Bent(at(b.a, b.a), at(b.b, b.b), b.pieces) for k, b in self.loads.items()}
        return Built(network, runs, taps, loads)


def build(job: Job, island: Island, at: Electric, faults: tuple[Fault, ...] = ()) -> Built:
    """An island of ``job`` as a network [V, A, Ω]."""
    return _Maker(job, island, at, faults).made()


def ground_of(device: str) -> str:
    """The node a device measures against."""
    return f"{device}.⏚"


def _ground(m: _Maker, device: Device) -> None:
    """All ground pins of a device are one inside it; without a wire it stands on the battery."""
    own: Node = ground_of(device.id)
    pins = [s.pin for s in device.sheet.supplies if s.kind == "ground"]
    back = device.sheet.sensor_ground
    if back and back not in pins and (device.id, back) in m.joined:
        m.one(f"{device.id}.{back}", own)
    drawn = [p for p in pins if (device.id, p) in m.joined]
    for pin in drawn:
        m.one(f"{device.id}.{pin}", own)
    if not drawn:
        m.one(own, GROUND)


def _terminals(m: _Maker, chain: Chain) -> None:
    """Which nodes are the source's terminals, by the wires of the chain."""
    source = m.sources[chain.source]
    plus: Node = f"{source.id}.+"
    minus: Node = f"{source.id}.⏚"
    end: Node = f"{chain.device}.{chain.pin}"
    held = [m.held[w] for w in chain.wires if w in m.held]
    spec = source.spec
    if isinstance(spec, BoxOutput):
        m.one(plus, f"{spec.device}.{spec.pin}")
        m.one(minus, ground_of(spec.device))
        m.footed.add(source.id)
    if held:
        far = _far(held[0], chain)
        if far is not None:
            m.one(node_of(far), plus)
    else:
        m.one(end, plus)
    for wire in held[1:]:
        back = _back(wire, chain, source, m)
        if back is not None:
            m.one(back, minus)
            m.footed.add(source.id)
    m.taps[chain.id] = Taps(plus, minus, end, end, _foot(m, chain.device, chain.pin))


def _foot(m: _Maker, device: str, pin: str) -> Node:
    """What an input measures against: its own second pin where a wire leads there."""
    return f"{device}.{pin}-" if (device, f"{pin}-") in m.joined else ground_of(device)


def _far(wire: Wire, chain: Chain) -> End | None:
    """The end of a signal wire that is not at the chain's input."""
    if (wire.b.place, wire.b.pin) == (chain.device, chain.pin):
        return wire.a
    if (wire.a.place, wire.a.pin) == (chain.device, chain.pin):
        return wire.b
    return None


def _back(wire: Wire, chain: Chain, source: Source, m: _Maker) -> Node | None:
    """Where a further wire of the chain meets the source: its return."""
    for end in (wire.a, wire.b):
        if end.place == source.id:
            return node_of(end)
    if wire.carries == "ground":
        other = next((e for e in (wire.a, wire.b) if e.place not in m.studs), None)
        return node_of(other) if other is not None else None
    near = {f"{chain.pin}-", chain.pin}
    far = [e for e in (wire.a, wire.b) if e.place != chain.device or e.pin not in near]
    return node_of(far[0]) if len(far) == 1 else None


def _wire(m: _Maker, wire: Wire) -> None:
    fault = m.faults.get(wire.id)
    a, b = _end(m, wire.a), _end(m, wire.b)
    place = m.at.ambient + wire.over_ambient_k
    ohm = wire.length_m * resistance_per_m(wire.area_mm2, place)
    if fault is not None and fault.kind == "bridge":
        m.resist(b, fault.to or GROUND, fault.ohm)
    if fault is not None and fault.kind == "open":
        return
    if fault is not None and fault.kind == "ohms":
        ohm += fault.ohm
    m.resist(a, b, ohm)
    m.runs[wire.id] = (a, b, ohm)


def _end(m: _Maker, end: End) -> Node:
    """The node of an end; a feed is held at what it has in this state."""
    if end.place in m.devices:
        return node_of(end)
    feed = m.feeds.get(end.place)
    if feed is not None:
        m.fixed[end.place] = feed_volts(feed, m.at)
        return str(end.place)
    if end.place in m.studs:
        if not m.studs[end.place].ohm:
            m.one(end.place, GROUND)
        return str(end.place)
    return node_of(end)


def feed_volts(feed: Feed, at: Electric) -> float:
    """Volts of a feed in a state [V]; 0 while it is dead: what else hangs on it holds it down."""
    sheet = FEEDS[feed.feed]
    alive = at.key in sheet.alive and (at.lights or not sheet.lamps_only)
    return at.volts if alive else 0.0


def amps_of(device: Device, supply: SupplySheet, at: Electric) -> float:
    """What a supply pin takes in a state, once it has its volts [A]."""
    if at.key == "off" and "constant" in supply.feeds:
        return supply.standby_a
    sheet = device.sheet
    if not sheet.full_at_rps or supply.amps < max((s.amps for s in sheet.supplies), default=0.0):
        return supply.amps
    speed = min(at.engine, sheet.full_at_rps)
    return min(supply.amps, box_current(speed, sheet.full_at_rps, supply.amps, sheet.rest_a))


def full_volts(device: Device, vehicle: Vehicle) -> float:
    """From how many volts on a device takes its full current: what it needs, else half [V]."""
    return device.sheet.min_v or vehicle.system_v / 2


def _device(m: _Maker, device: Device) -> None:
    ground = ground_of(device.id)
    rail: Node | None = None
    for supply in device.sheet.supplies:
        if supply.kind != "power" or (device.id, supply.pin) not in m.joined:
            continue
        pin = f"{device.id}.{supply.pin}"
        if rail is None or "constant" not in supply.feeds:
            rail = pin
        amps = amps_of(device, supply, m.at)
        taken = load(pin, ground, amps, full_volts(device, m.job.vehicle))
        m.loads[device.id, supply.pin] = taken
        m.bent.append(taken)
    if device.converter_v is not None:
        rail = f"{device.id}.⎓"
        m.hold(rail, ground, device.converter_v if m.at.key != "off" else 0.0, CONTACT_OHM)
    used = {c.pin: c for c in m.chains.values() if c.device == device.id}
    for sheet in device.sheet.inputs:
        chain = used.get(sheet.pin)
        if chain is not None or (device.id, sheet.pin) in m.joined:
            foot = _foot(m, device.id, sheet.pin)
            if foot != ground:
                m.resist(foot, ground, sheet.input_ohm)
            _input(m, device, sheet, chain, foot, rail)


def _input(
    m: _Maker,
    device: Device,
    sheet: InputSheet,
    chain: Chain | None,
    ground: Node,
    rail: Node | None,
) -> None:
    end: Node = f"{device.id}.{sheet.pin}"
    pin = end
    if chain is not None:
        on = chain.quantity in m.at.on
        first, pin = _hops(m, chain, end, ground, on)
        m.taps[chain.id] = m.taps[chain.id].but(pin=first)
    if sheet.need_ohm or (sheet.takes == "contact" and sheet.closes_to == "ground"):
        m.resist(rail or m.supply(), pin, sheet.pulls_ohm)
    elif sheet.takes == "contact":
        m.resist(pin, ground, sheet.pulls_ohm)
    else:
        if sheet.takes != "ohm":
            m.resist(pin, ground, sheet.input_ohm)
        if sheet.pull_up_ohm and sheet.pull_up_v:
            volts = sheet.pull_up_v if m.at.key != "off" else 0.0
            m.hold(pin, ground, volts, sheet.pull_up_ohm)
        elif sheet.pull_up_ohm:
            m.resist(rail or m.supply(), pin, sheet.pull_up_ohm)


def _hops(m: _Maker, chain: Chain, end: Node, ground: Node, on: bool) -> tuple[Node, Node]:
    """What is fitted at the device's end of a run; the first input's node and the device's."""
    pin, first = end, None
    for i, hop in enumerate(chain.hops):
        behind: Node = f"{end}>{i + 1}"
        match hop:
            case PullUp(ohm=ohm, to_v=to):
                if to:
                    m.hold(pin, ground, to if m.at.key != "off" else 0.0, ohm)
                else:
                    m.resist(m.supply(), pin, ohm)
            case LoadResistor(ohm=ohm):
                m.resist(pin, GROUND, ohm)
            case Attenuator(series_ohm=series, ground_ohm=foot):
                m.resist(pin, behind, series)
                m.resist(behind, ground, foot)
                pin = behind
            case Coupler(ohm=ohm):
                m.resist(behind, ground, ohm)
                first, pin = first or pin, behind
            case Divider() | Multiplier() | Ratio():
                m.resist(pin, ground, hop.input_ohm)
                m.hold(behind, ground, hop.out_v if m.at.key != "off" else 0.0, DRIVER_OHM)
                first, pin = first or pin, behind
            case Relay(coil_ohm=coil, contact_ohm=contact, throw=throw):
                m.resist(pin, GROUND, coil)
                if on != (throw == "rest"):
                    m.resist(behind, GROUND, contact)
                pin = behind
    return first or pin, pin


def _source(m: _Maker, source: Source) -> None:
    plus: Node = f"{source.id}.+"
    minus: Node = f"{source.id}.⏚"
    spec = source.spec
    if isinstance(spec, Switch):
        closed = (spec.rests == "closed") != (source.quantity in m.at.on)
        rail = GROUND if spec.to == "ground" else m.supply()
        if closed:
            m.resist(plus, rail, max(spec.contact_ohm, 1e-3))
        return
    if isinstance(spec, BrakeSide):
        _lamps(m, spec, plus)
        return
    if source.id not in m.footed and not _floats(m, source):
        m.one(minus, GROUND)
    into = getattr(spec, "into_ohm", 0.0)
    if into:
        m.resist(plus, minus, into)
    shared = getattr(spec, "shared_ohm", 0.0)
    if shared:
        m.hold(plus, GROUND, spec.shared_v if m.at.key != "off" else 0.0, shared)  # type: ignore[union-attr]
    given = dict(m.at.given).get(source.id)
    if given is not None:
        for part in _giving(source, given):
            m.hold(plus, minus, *part)


def _giving(source: Source, given: float) -> Iterator[tuple[float, float]]:
    """(V, Ω) of a sender that gives ohms or volts."""
    spec = source.spec
    if getattr(spec, "points", None) is not None and not hasattr(spec, "out_ohm"):
        yield 0.0, max(given, 1e-3)
    else:
        yield given, max(getattr(spec, "out_ohm", DRIVER_OHM), 1e-3)


def _floats(m: _Maker, source: Source) -> bool:
    """A bare winding whose second wire is missing: nothing says against what it stands."""
    if not kind_of(source.spec).two_wire:
        return False
    return any(c.source == source.id and c.wires for c in m.chains.values())


def _lamps(m: _Maker, spec: BrakeSide, plus: Node) -> None:
    if spec.side == "hot":
        m.resist(m.live(), plus, CONTACT_OHM)
        return
    vehicle = m.job.vehicle
    if "brake" in m.at.on:
        m.resist(m.live(), plus, CONTACT_OHM)
    if vehicle.lamps is not None:
        rated = 2 if m.at.volts > figure("24 V from") else 1
        pieces = lamp_law(vehicle.lamps, vehicle.lamp_w, vehicle.lamp_count, rated)
        m.bent.append(Bent(plus, GROUND, pieces))


def _stud(m: _Maker, key: str) -> None:
    stud = m.studs[key]
    if stud.ohm:
        m.resist(key, GROUND, stud.ohm)
        if stud.load_a and m.at.key != "off":
            half = m.job.vehicle.system_v / 2
            m.bent.append(load(m.live(), key, stud.load_a, half))

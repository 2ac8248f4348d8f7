"""Wires a job still lacks: for each signal and each supply pin without one, what it should be.

Signals go from their source to the input that reads them, a two-wire pick-up with its return;
power comes from the least loaded feed of a class the pin is made for, by the house's school;
grounds go to the nearest clean stud with a place for one more ring. Sizes and fuses follow the
load, ways the plan.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator

import msgspec

from zombrel.harness import conductor, route
from zombrel.harness.laid import STEP
from zombrel.harness.nets import joined_ends
from zombrel.harness.plugs import face
from zombrel.job.edits import Add, Edit, Many, Put
from zombrel.job.feed_classes import FEEDS, serves
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import Chain, Device, House, Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet, SupplySheet
from zombrel.job.source import BoxOutput, Source
from zombrel.job.wiring import End, Feed, Stud, Wire
from zombrel.signals.kinds import kind_of
from zombrel.signals.kinds.base import Role

SIGNAL_MM2 = 0.5
COLOURS = (
    "white",
    "yellow",
    "blue",
    "green",
    "grey",
    "violet",
    "orange",
    "pink",
    "white/blue",
    "yellow/red",
    "blue/white",
    "green/yellow",
    "grey/white",
    "violet/white",
    "orange/white",
)
GUESS_M = 1.5
"""Length of a run that has no way on the plan yet [m]: ASSUMED, and said to be typed."""


@query
def missing(job: Job) -> tuple[Wire, ...]:
    """The wires that would join every signal and every supply pin."""
    joined = plain(joined_ends(job))
    names = _names(job)
    drawn: list[Wire] = []
    for chain in job.chains:
        if not chain.wires and (chain.device, chain.pin) not in joined:
            drawn += _signal(job, chain, names, drawn)
    for device in job.devices:
        for supply in device.sheet.supplies:
            if (device.id, supply.pin) not in joined:
                drawn += _supply(job, device, supply, names, drawn)
    return tuple(_routed(job, w) for w in drawn)


def _names(job: Job) -> Iterator[str]:
    taken = {w.id for w in job.wires}
    return (name for i in itertools.count(1) if (name := f"W{i}") not in taken)


def _signal(job: Job, chain: Chain, names: Iterator[str], drawn: Iterable[Wire]) -> Iterator[Wire]:
    source = by_id(job.sources, chain.source)
    if source is None:
        return
    two = kind_of(source.spec).two_wire
    start = start_of(source)
    yield Wire(
        id=next(names),
        a=start,
        b=End(place=chain.device, pin=chain.pin),
        colour=_colour(job, chain, drawn),
        carries="signal",
        area_mm2=SIGNAL_MM2,
        length_m=GUESS_M,
        twisted=two,
    )
    if two:
        yield _return(chain, source, next(names))
    for role in kind_of(source.spec).more_wires(source.spec):
        wire = _further(job, chain, source, role, drawn)
        if wire is not None:
            yield msgspec.structs.replace(wire, id=next(names))


RETURN_PIN, SUPPLY_PIN = "2", "3"
"""Terminals of a sender beside its signal."""
SENDER_A = 1.0
"""Fuse of a sender that is fed for itself [A]: the smallest blade fuse (ISO 8820-3)."""


def _further(
    job: Job, chain: Chain, source: Source, role: Role, drawn: Iterable[Wire]
) -> Wire | None:
    """A wire that a sender needs beside its signal; None where nothing it can go to is there."""
    ends = further_end(job, chain, role, drawn)
    if ends is None:
        return None
    pin = RETURN_PIN if role == "return" else SUPPLY_PIN
    begin = End(place=source.id, pin=pin)
    fed = role == "supply"
    return Wire(
        id="W",
        a=ends if fed else begin,
        b=begin if fed else ends,
        colour={"return": "black/white", "sensor supply": "orange", "supply": "red"}[role],
        carries="power" if fed else "signal",
        area_mm2=SIGNAL_MM2,
        length_m=GUESS_M,
        fuse_a=SENDER_A if fed else None,
    )


def further_end(job: Job, chain: Chain, role: Role, drawn: Iterable[Wire] = ()) -> End | None:
    """Where such a wire goes to: a pin of the device, or a feed; None where there is none."""
    device = by_id(job.devices, chain.device)
    if device is None:
        return None
    sheet = device.sheet
    if role == "sensor supply":
        return End(place=device.id, pin=sheet.sensor_pin) if sheet.sensor_pin else None
    if role == "return":
        grounds = [s.pin for s in sheet.supplies if s.kind == "ground"]
        pin = sheet.sensor_ground or next(iter(grounds), "")
        return End(place=device.id, pin=pin) if pin else None
    wants = SupplySheet(pin="supply", kind="power", amps=0.1, feeds=("run", "run-and-crank"))
    feed = _feed(job, wants, drawn)
    return End(place=feed.id) if feed is not None else None


def _return(chain: Chain, source: Source, name: str) -> Wire:
    """The second wire of a pick-up's pair."""
    return Wire(
        id=name,
        a=End(place=source.id, pin="-"),
        b=End(place=chain.device, pin=f"{chain.pin}-"),
        colour="black",
        carries="signal",
        area_mm2=SIGNAL_MM2,
        length_m=GUESS_M,
        twisted=True,
    )


def draw_return(job: Job, chain: Chain) -> Edit | None:
    """The edit that draws the second wire of a pair beside the first; None without a first."""
    source, first = by_id(job.sources, chain.source), by_id(job.wires, chain.wires[0])
    if source is None or first is None:
        return None
    back = _return(chain, source, next(_names(job)))
    beside = {"via": first.via, "length_m": first.length_m, "area_mm2": first.area_mm2}
    back = msgspec.structs.replace(back, **beside)
    own = [chain.wires[0], back.id, *chain.wires[1:]]
    return Many(
        edits=(
            Add(path="wires", value=msgspec.to_builtins(back)),
            Put(path=f"wires.{first.id}.twisted", value=True),
            Put(path=f"chains.{chain.id}.wires", value=own),
        )
    )


def start_of(source: Source) -> End:
    """Where a source's signal is picked up."""
    if isinstance(source.spec, BoxOutput):
        return End(place=source.spec.device, pin=source.spec.pin)
    return End(place=source.id, pin="+" if kind_of(source.spec).two_wire else "1")


def own_colour(house: House, sheet: DeviceSheet, pin: str) -> str:
    """The colour of a device's own lead where the house goes by those; empty otherwise."""
    return dict(sheet.leads).get(pin, "") if house.colours == "device" else ""


def _colour(job: Job, chain: Chain, drawn: Iterable[Wire]) -> str:
    """The colour of the device's own lead, or one that no other signal of the device has."""
    device = by_id(job.devices, chain.device)
    own = own_colour(job.house, device.sheet, chain.pin) if device is not None else ""
    if own:
        return own
    used = {w.colour for w in (*job.wires, *drawn) if chain.device in (w.a.place, w.b.place)}
    return next((c for c in COLOURS if c not in used), COLOURS[0])


def _supply(
    job: Job, device: Device, supply: SupplySheet, names: Iterator[str], drawn: Iterable[Wire]
) -> Iterator[Wire]:
    end = End(place=device.id, pin=supply.pin)
    if supply.kind == "ground":
        stud = _stud(job, device, drawn)
        if stud is not None:
            yield Wire(
                id=next(names),
                a=end,
                b=End(place=stud.id),
                colour=own_colour(job.house, device.sheet, supply.pin) or "black",
                carries="ground",
                area_mm2=_area(supply, job.house, None),
                length_m=GUESS_M,
            )
        return
    feed = _feed(job, supply, drawn)
    if feed is not None:
        fuse = supply.fuse_a or conductor.fuse_for(supply.amps, job.house.fuse_load)
        yield Wire(
            id=next(names),
            a=End(place=feed.id),
            b=end,
            colour=own_colour(job.house, device.sheet, supply.pin) or FEEDS[feed.feed].colour,
            carries="power",
            area_mm2=_area(supply, job.house, fuse),
            length_m=GUESS_M,
            fuse_a=fuse,
        )


def _area(supply: SupplySheet, house: House, fuse: float | None) -> float:
    """Section for a supply pin over a usual run: drop, and its fuse at 20 °C."""
    try:
        sized = conductor.size(max(supply.amps, 0.01), 4.0, 12.0, house.drop_power, 293.15)
        by_drop = sized.area_mm2
    except Problem:
        by_drop = conductor.AREAS[-1]
    carries = next(
        (a for a in conductor.AREAS if fuse is None or conductor.ampacity(a, 313.15, 4) >= fuse),
        conductor.AREAS[-1],
    )
    return max(by_drop, carries, SIGNAL_MM2)


def _feed(job: Job, supply: SupplySheet, drawn: Iterable[Wire]) -> Feed | None:
    """The feed of a class that serves the pin: one with room, the house's school, least loaded."""
    fits = [f for f in job.feeds if serves(f.feed, supply.feeds) and not f.dimmed]
    school = job.house.power if supply.amps <= job.house.direct_above_a else "battery"
    power = [w for w in (*job.wires, *drawn) if w.carries == "power"]
    taken = [w.a.place for w in power]
    devices = index(job.devices)

    def full(feed: Feed) -> bool:
        """What hangs on it with this would be more than the house allows on its fuse."""
        if feed.fuse_a is None:
            return False
        pins = [(devices.get(w.b.place), w.b.pin) for w in power if w.a.place == feed.id]
        fed = [d.sheet.supply(pin) for d, pin in pins if d is not None]
        ours = sum(s.amps for s in fed if s is not None)
        allowed = feed.fuse_a * job.house.fuse_load
        return feed.load_a + ours + supply.amps > allowed

    return min(
        fits,
        key=lambda f: (
            full(f),
            f.kind != school,
            f.feed not in supply.feeds,
            taken.count(f.id),
            f.load_a,
            f.id,
        ),
        default=None,
    )


def _stud(job: Job, device: Device, drawn: Iterable[Wire]) -> Stud | None:
    """A clean stud with a place free, the nearest on the plan."""
    ends = [e.place for w in (*job.wires, *drawn) for e in (w.a, w.b)]
    at = route.zone_of(job)

    def far(stud: Stud) -> float:
        try:
            way = route.best(job.zones, job.ways, "ground", at[device.id], at[stud.id])
        except (Problem, KeyError):
            return 1e3
        return route.measure(job.zones, job.ways, "ground", way).price

    return min(
        job.studs,
        key=lambda s: (s.ohm > 0, s.rings + ends.count(s.id) >= job.house.stud_rings, far(s), s.id),
        default=None,
    )


def _routed(job: Job, wire: Wire) -> Wire:
    """The wire on its cheapest way, where the plan knows both of its ends."""
    at = route.zone_of(job)
    start, end = at.get(wire.a.place), at.get(wire.b.place)
    if not start or not end:
        return wire
    try:
        way = route.best(job.zones, job.ways, route.nature_of(wire, route.pickups(job)), start, end)
    except Problem:
        return wire
    run = route.measure(job.zones, job.ways, "signal", way)
    return msgspec.structs.replace(wire, via=way, length_m=max(round(run.length_m, 2), STEP))


def draw_device(job: Job, key: str) -> Edit | None:
    """The edit that draws the supply and ground wires a device still lacks; None for none."""
    device = index(job.devices)[key]
    joined = plain(joined_ends(job))
    names, drawn = _names(job), list[Wire]()
    for supply in device.sheet.supplies:
        if (key, supply.pin) not in joined:
            drawn += _supply(job, device, supply, names, drawn)
    added = [Add(path="wires", value=msgspec.to_builtins(_routed(job, w))) for w in drawn]
    return Many(edits=tuple(added)) if added else None


def draw_chain(job: Job, chain: Chain) -> tuple[Add | Put, ...]:
    """The edits that draw the wires of one chain that has none; none where a wire is there.

    ``chain`` may be one that ``job`` is yet to get.
    """
    joined = plain(joined_ends(job))
    if chain.wires or (chain.device, chain.pin) in joined:
        return ()
    drawn = [_routed(job, w) for w in _signal(job, chain, _names(job), ())]
    added = [Add(path="wires", value=msgspec.to_builtins(w)) for w in drawn]
    own = [w.id for w in drawn if SUPPLY_PIN not in (w.a.pin, w.b.pin)]
    return (*added, Put(path=f"chains.{chain.id}.wires", value=own))


def draw(job: Job) -> Edit | None:
    """The edit that draws every missing wire; None when none is missing."""
    drawn = missing(job)
    if not drawn:
        return None
    edits: list[Add | Put] = [Add(path="wires", value=msgspec.to_builtins(w)) for w in drawn]
    returns = {w.a.place: w.id for w in drawn if w.a.pin == RETURN_PIN and w.carries == "signal"}
    by_end = {(w.b.place, w.b.pin): w.id for w in drawn if w.carries == "signal"}
    for chain in job.chains:
        first = by_end.get((chain.device, chain.pin))
        if first is not None and not chain.wires:
            back = by_end.get((chain.device, f"{chain.pin}-")) or returns.get(chain.source)
            edits.append(
                Put(path=f"chains.{chain.id}.wires", value=[first, *([back] if back else [])])
            )
    return Many(edits=tuple(edits))


@query
def undrawn(job: Job) -> tuple[str, ...]:
    """Signals and supply pins no wire is drawn for, in words; cheap enough for every edit."""
    joined = plain(joined_ends(job))
    supplies = [
        f"{d.name} {s.pin}"
        for d in job.devices
        for s in d.sheet.supplies
        if (d.id, s.pin) not in joined
    ]
    return (*undrawn_signals(job), *supplies)


@query
def undrawn_signals(job: Job) -> tuple[str, ...]:
    """Signals no wire is drawn for, in words."""
    joined = plain(joined_ends(job))
    names = index(job.devices)
    return tuple(
        [
            f"{names[c.device].name} {c.pin}"
            for c in job.chains
            if not c.wires and (c.device, c.pin) not in joined
        ]
    )


def places(job: Job) -> tuple[tuple[End, str], ...]:
    """Every end a wire may have, with its words: pins, cavities, sources, feeds, studs."""
    found: list[tuple[End, str]] = []
    for d in job.devices:
        pins = [
            *(i.pin for i in d.sheet.inputs),
            *(s.pin for s in d.sheet.supplies),
            *(o.pin for o in d.sheet.outputs),
            *(pin for pin in (d.sheet.sensor_pin, d.sheet.sensor_ground) if pin),
        ]
        found += [(End(place=d.id, pin=p), f"{d.name} {p}") for p in dict.fromkeys(pins)]
    for s in job.sources:
        if isinstance(s.spec, BoxOutput):
            continue
        pins = ["+", "-"] if kind_of(s.spec).two_wire else ["1", RETURN_PIN]
        if "supply" in " ".join(kind_of(s.spec).more_wires(s.spec)):
            pins.append(SUPPLY_PIN)
        found += [(End(place=s.id, pin=p), f"{s.name} {p}") for p in pins]
    found += [(End(place=f.id), f.name) for f in job.feeds]
    found += [(End(place=s.id), s.name) for s in job.studs]
    for c in job.connectors:
        found += [
            (End(place=c.id, pin=str(n)), f"{c.id} cavity {n}")
            for n in sorted(p.n for p in face.places(c))
        ]
    return tuple(found)

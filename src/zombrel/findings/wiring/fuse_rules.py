"""Rules about fuses and what they protect: conductors, slots, and the way there and back."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from zombrel.calibrate.copper import resistance_per_m
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.findings.wiring.harness_rules import HOT_DAY_K, reroute
from zombrel.harness import conductor, power, route
from zombrel.harness.wire_reading import WireReading, carried
from zombrel.job.edits import Add, Put, Remove, together
from zombrel.job.feed_classes import FEEDS
from zombrel.job.ledger import provenance
from zombrel.job.quantity import group
from zombrel.job.reason import Reason
from zombrel.job.source import BoxOutput
from zombrel.job.value import Value
from zombrel.job.wiring import Wire, Zone
from zombrel.signals.circuit.build import feed_volts
from zombrel.signals.circuit.rest import at_most, reading
from zombrel.signals.supply import Ends
from zombrel.units.measure import area_of, length_of

SAID_V = 0.005
"""Less lift than this is not named [V]."""
BLIND = "A wire that shorts burns from end to end before anything opens."


class Fused(Value, frozen=True):
    """A fuse and a section that suit each other and the load."""

    fuse: float
    area_mm2: float


def fitting(scene: Scene, wire: Wire, r: WireReading, e: Ends) -> Fused | None:
    """The least section, not thinner than now, with a fuse its load leaves cool; None if none.

    The maker's own figure is taken where it holds the load; a hot day counts.
    """
    house, hot = scene.job.house, max(scene.state.ambient, HOT_DAY_K)
    asked = e.supply.fuse_a if e.supply is not None else 0.0
    inrush = (e.supply.inrush_a, e.supply.inrush_s or 0.1) if e.supply is not None else (0.0, 0.1)
    fuses = [
        f
        for f in (asked, *conductor.ALL_FUSES)
        if f and r.warms_a <= house.fuse_load * f * (1 + 1e-9) and power.holds_inrush(f, *inrush)
    ]
    for area in (wire.area_mm2, *[a for a in conductor.AREAS if a > wire.area_mm2]):
        carries = carried(wire, area, hot, house)
        fuse = next((f for f in fuses if f <= carries), None)
        if fuse is not None:
            return Fused(fuse, area)
    return None


def _fit(wire: Wire, fit: Fused | None) -> tuple[Mend, ...]:
    """The mend that fits a fuse at the feed, with a thicker wire where it must be."""
    if fit is None:
        return ()
    edits: list[Put | Add | Remove] = [
        Put(path=f"wires.{wire.id}.fuse_a", value=fit.fuse),
        Put(path=f"wires.{wire.id}.fuse_at_m", value=0.0),
    ]
    label = f"Fuse it at the feed: {fit.fuse:g} A"
    if fit.area_mm2 > wire.area_mm2:
        edits.append(Put(path=f"wires.{wire.id}.area_mm2", value=fit.area_mm2))
        label += f" on {area_of(fit.area_mm2)}"
    return (Mend(label=label, edit=together(*edits)),)


@rule("fed", "wire", harm=92, minutes=15)
def unfused(scene: Scene, wire: Wire, r: WireReading, e: Ends) -> Iterator[Finding]:
    """A power conductor with no fuse, or with one too far from what feeds it."""
    if wire.carries != "power" or e.feed is None:
        return
    house = scene.job.house
    bare = e.feed.fuse_a is None
    if wire.fuse_a is not None:
        far = wire.fuse_at_m > house.fuse_within_m
        if not far or (not bare and (e.feed.fuse_a or 0.0) <= r.ampacity):
            return
        title = f"{wire.id}: its fuse sits {length_of(wire.fuse_at_m)} from {e.feed.name}"
        allowed = length_of(house.fuse_within_m)
        text = f"Up to there nothing protects it; the house allows {allowed}. {BLIND}"
    elif bare:
        title = f"{wire.id} has no fuse at all"
        text = f"{e.feed.name} has none noted, and there is none in the wire. {BLIND}"
    else:
        return
    fit = fitting(scene, wire, r, e)
    yield Finding(
        id=f"unfused-{wire.id}",
        level="trouble",
        title=title,
        text=text,
        reason=Reason(
            title=f"What protects {wire.id}",
            result="nothing" if wire.fuse_a is None else f"a fuse {length_of(wire.fuse_at_m)} away",
            formula=f"a fuse within {length_of(house.fuse_within_m)} of the post, stud or slot",
            given=(
                given(
                    e.feed.name,
                    f"{e.feed.fuse_a:g} A" if e.feed.fuse_a else "no fuse",
                    provenance(scene.job, f"feeds.{e.feed.id}.fuse_a"),
                ),
                given("in the wire", f"{wire.fuse_a:g} A" if wire.fuse_a else "no fuse"),
            ),
            source="house rule; ISO 8820",
        ),
        mends=(
            *(_fit(wire, fit) if fit else ()),
            Mend(label="Show the wire", go=f"wire:{wire.id}"),
        ),
        wire=wire.id,
    )


@rule("fed", "wire", harm=58, minutes=5)
def fuse_too_small(scene: Scene, wire: Wire, r: WireReading, e: Ends) -> Iterator[Finding]:
    """The load takes more of the fuse in its wire than the house allows."""
    share = scene.job.house.fuse_load
    if wire.carries != "power" or wire.fuse_a is None:
        return
    if r.warms_a <= share * wire.fuse_a * (1 + 1e-9):
        return
    fit = fitting(scene, wire, r, e)
    opens = "It opens at once." if r.warms_a > wire.fuse_a else "It opens on a hot day."
    yield Finding(
        id=f"small-{wire.id}",
        level="trouble",
        title=f"{wire.id}: {r.warms_a:.3g} A on a {wire.fuse_a:g} A fuse",
        text=f"{opens} The house allows {share * 100:.0f} % of a fuse's rating.",
        reason=Reason(
            title=f"Load on the fuse of {wire.id}",
            result=f"{r.warms_a / wire.fuse_a * 100:.0f} % of it",
            formula="load ÷ rating; a pulsed load by its root mean square",
            given=(
                given("load", f"{r.warms_a:.3g} A", "device sheet"),
                given(
                    "fuse",
                    f"{wire.fuse_a:g} A",
                    provenance(scene.job, f"wires.{wire.id}.fuse_a"),
                ),
            ),
            source="house rule; ISO 8820-3 ratings",
        ),
        mends=(
            *(_fit(wire, fit) if fit else ()),
            Mend(label="Show the wire", go=f"wire:{wire.id}"),
        ),
        wire=wire.id,
    )


@rule("fed", "wire", harm=80, minutes=15)
def fuse_too_big(scene: Scene, wire: Wire, r: WireReading, e: Ends) -> Iterator[Finding]:
    """A fuse too big for the wire it protects."""
    fuse = r.fuse_a
    if fuse is None or not r.overfused or r.ampacity <= 0:
        return  # a place too hot for any current is said by a rule of its own
    house, hot = scene.job.house, max(scene.state.ambient, HOT_DAY_K)
    thicker = (a for a in conductor.AREAS if a > wire.area_mm2)
    area = next((a for a in thicker if carried(wire, a, hot, house) >= fuse), None)
    fit = fitting(scene, wire, r, e)

    def cool(zone: Zone) -> bool:
        place = msgspec.structs.replace(wire, over_ambient_k=zone.over_ambient_k)
        return carried(place, wire.area_mm2, hot, house) >= fuse

    mends = [*reroute(scene.job, wire, cool)]
    if area is not None:
        mends.append(_thicker(wire, area))
    if fit is not None and fit.area_mm2 == wire.area_mm2:
        mends += _fit(wire, fit)
    yield Finding(
        id=f"fuse-{wire.id}",
        level="trouble",
        title=f"{wire.id}: {fuse:g} A fuse on a {r.ampacity:.0f} A wire",
        text=f"{area_of(wire.area_mm2)} where it lies carries {r.ampacity:.1f} A at most: the fuse "
        "lets more through than the wire is rated for.",
        reason=Reason(
            title=f"What {wire.id} may carry",
            result=f"{r.ampacity:.1f} A",
            formula="I = √(h·π·D·(Tmax − T) / R(Tmax)) × bunch factor",
            given=(
                given("section", f"{area_of(wire.area_mm2)}"),
                given("bundle", str(wire.bundle)),
            ),
            source="heat balance; IEC 60364-5-52 table B.52.17",
        ),
        mends=tuple(mends),
        wire=wire.id,
    )


@rule("grounding", "wire", harm=74, minutes=20)
def thin_ground(scene: Scene, wire: Wire, r: WireReading, e: Ends) -> Iterator[Finding]:
    """A ground conductor that carries more than it may."""
    if not 0 < r.ampacity < r.amps:
        return
    hot = max(scene.state.ambient, HOT_DAY_K)
    house = scene.job.house
    volts = scene.job.vehicle.charging_v
    per_m = house.drop_power / 2 * volts / (r.amps * wire.length_m)
    area = next(
        (
            a
            for a in conductor.AREAS
            if carried(wire, a, hot, house) >= r.amps
            and resistance_per_m(a, hot + wire.over_ambient_k) <= per_m
        ),
        None,
    )
    mends = () if area is None else (_thicker(wire, area),)
    yield Finding(
        id=f"thin-{wire.id}",
        level="trouble",
        title=f"{wire.id}: {r.amps:.3g} A through a ground wire for {r.ampacity:.0f} A",
        text=f"No fuse sees what returns through it. {area_of(wire.area_mm2)} where it lies "
        f"carries {r.ampacity:.1f} A.",
        reason=Reason(
            title=f"Current back through {wire.id}",
            result=f"{r.amps:.3g} A against {r.ampacity:.1f} A",
            formula="I = √(h·π·D·(Tmax − T) / R(Tmax)) × bunch factor",
            given=(
                given("section", f"{area_of(wire.area_mm2)}"),
                given("current", f"{r.amps:.3g} A", "device sheet"),
            ),
            source="heat balance; IEC 60364-5-52 table B.52.17",
        ),
        mends=(*mends, Mend(label="Show the wire", go=f"wire:{wire.id}")),
        wire=wire.id,
    )


def _thicker(wire: Wire, area: float) -> Mend:
    return Mend(
        label=f"Use {area_of(area)}", edit=Put(path=f"wires.{wire.id}.area_mm2", value=area)
    )


class Part(Value, frozen=True):
    """One conductor on the way of a supply there and back."""

    wire: str
    volts: float
    """What is lost along it [V]."""
    full_v: float
    """What would be at its full current, though a starved device takes less [V]."""


class Loop(Value, frozen=True):
    """What is lost between a feed and battery negative on the way through a device."""

    lost: float
    parts: tuple[Part, ...]
    stud: str
    lifted: float
    """What the stud itself adds [V]."""


def loop(scene: Scene, wire: Wire, e: Ends, over: float) -> Loop | None:
    """The way of a power wire's current, there and back, where more is lost than ``over`` [V]."""
    if e.device is None or e.supply is None or e.feed is None or e.supply.kind != "power":
        return None
    job = scene.job
    at = at_most(job, scene.state.ambient)
    if FEEDS[e.feed.feed].lamps_only:
        at = at._replace(lights=True)
    r = reading(job, scene.islands.of_wire[wire.id], at)
    across = r.across.get((e.device.id, e.supply.pin))
    have = feed_volts(e.feed, at)
    if across is None or not have or have - across <= over:
        return None
    wires = scene.wires
    back = scene.grounds.get(e.device.id, ())
    parts = []
    for key in (wire.id, *back):
        ohm, amps = _ohm(scene, wires[key]), abs(r.wire_a.get(key, 0.0))
        full = max(amps, scene.wire_reading(key).amps)
        parts.append(Part(key, amps * ohm, full * ohm))
    ends = {end.place for w in back for end in (wires[w].a, wires[w].b)}
    stud = next((s for s in r.lifts if s in ends), "")
    return Loop(have - across, tuple(parts), stud, abs(r.lifts.get(stud, 0.0)))


def _ohm(scene: Scene, wire: Wire) -> float:
    place = scene.state.ambient + wire.over_ambient_k
    return wire.length_m * resistance_per_m(wire.area_mm2, place)


@rule("fed", "wire", harm=45, minutes=15)
def drop(scene: Scene, wire: Wire, r: WireReading, e: Ends) -> Iterator[Finding]:
    """What is lost there and back is more than the house allows."""
    if wire.carries != "power":
        return
    volts = scene.job.vehicle.charging_v
    limit = scene.job.house.drop_power * volts
    way = loop(scene, wire, e, limit * 1.0001)
    if way is None:
        return
    if way.lost - way.lifted <= limit and _read_there(scene, e):
        return  # the stud is to blame, and said with the reading that it lifts
    worst = max(way.parts, key=lambda p: p.volts)
    device = e.device.name if e.device is not None else wire.id
    yield Finding(
        id=f"drop-{worst.wire}-{wire.id}" if worst.wire != wire.id else f"drop-{wire.id}",
        level="trouble",
        title=f"{device} loses {way.lost / volts * 100:.1f} % there and back",
        text=f"{way.lost:.2f} V of {volts:.1f}: "
        + ", ".join(f"{p.volts:.2f} V along {p.wire}" for p in way.parts)
        + (f", {way.lifted:.2f} V at {way.stud}" if way.lifted > SAID_V else "")
        + f". The house allows {scene.job.house.drop_power * 100:g} %.",
        reason=Reason(
            title=f"Drop there and back, {device}",
            result=f"{way.lost / volts * 100:.2f} %",
            formula="V feed − V across the device, every conductor and stud on the way solved "
            "together; R = L · ρ/A · (1 + α·(T − 20 °C))",
            given=(
                given("current", f"{r.amps:g} A", "device sheet"),
                *(
                    given(
                        p.wire,
                        f"{length_of(scene.wires[p.wire].length_m)} of "
                        f"{area_of(scene.wires[p.wire].area_mm2)}",
                        provenance(scene.job, f"wires.{p.wire}.length_m"),
                    )
                    for p in way.parts
                ),
            ),
            source="nodal analysis; IEC 60028 copper",
        ),
        mends=(
            *_less_drop(scene, way, limit),
            *(_off_the_stud(scene, way) if way.lifted > SAID_V else ()),
            Mend(label="Show the wire", go=f"wire:{wire.id}"),
        ),
        wire=worst.wire,
        about=tuple([p.wire for p in way.parts] + [way.stud] * bool(way.stud)),
    )


def _read_there(scene: Scene, e: Ends) -> bool:
    """Whether a sensor is read by the device, or reads one of its outputs."""
    key = e.device.id if e.device is not None else ""
    for chain in scene.job.chains:
        spec = scene.sources[chain.source].spec
        own = chain.device == key or (isinstance(spec, BoxOutput) and spec.device == key)
        if own and group(chain.quantity) == "sensed":
            return True
    return False


def _off_the_stud(scene: Scene, way: Loop) -> Iterator[Mend]:
    """The ground wire moved to a stud that is clean."""
    good = next(
        (s for s in scene.job.studs if s.id != way.stud and scene.stud(s.id).lift_v < SAID_V), None
    )
    for part in way.parts[1:]:
        wire = scene.wires[part.wire]
        side = next((s for s, e in (("a", wire.a), ("b", wire.b)) if e.place == way.stud), None)
        if good is not None and side is not None:
            edit = together(*route.joined_at(scene.job, wire, side, good.id))
            yield Mend(label=f"Ground it at {good.name}", edit=edit)
            return


def _less_drop(scene: Scene, way: Loop, limit: float) -> Iterator[Mend]:
    """Thicker wires, the worst first, until what is left is within the limit."""
    left, edits, words = way.lifted + sum(p.full_v for p in way.parts), [], []
    for part in sorted(way.parts, key=lambda p: -p.full_v):
        if left <= limit:
            break
        wire = scene.wires[part.wire]
        rest = left - part.full_v
        room = max(limit * 0.98 - rest, limit * 0.3)
        wanted = wire.area_mm2 * part.full_v / room
        area = next((a for a in conductor.AREAS if a >= wanted), conductor.AREAS[-1])
        if area <= wire.area_mm2:
            continue
        left = rest + part.full_v * wire.area_mm2 / area
        edits.append(Put(path=f"wires.{wire.id}.area_mm2", value=area))
        words.append(f"{wire.id} {area_of(area)}")
    if edits and left <= limit:
        yield Mend(label=f"Use {' and '.join(words)}", edit=together(*edits))

"""Rules about conductors, feeds and connectors."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.harness_rules import keep_off, reroute
from zombrel.findings.rule import rule
from zombrel.findings.scene import Rated, Scene, given
from zombrel.harness import conductor, coupling, route
from zombrel.harness.wire_reading import WireReading, behind_slot
from zombrel.job.edits import Put, together
from zombrel.job.feed_classes import FEEDS
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.ledger import at_least, evidence, known, known_lines, provenance
from zombrel.job.model import Job, index
from zombrel.job.reason import Reason
from zombrel.job.wiring import End, Feed, Neighbour, Wire, Zone
from zombrel.signals import law as laws
from zombrel.signals.supply import Ends

ROOM = 2.0
"""A car is no wider: a greater spacing is no advice [m]."""


@rule("job", "wire", harm=90, minutes=5)
def slot_overfused(scene: Scene) -> Iterator[Finding]:
    """A slot holds a bigger fuse than the vehicle's own wire behind it may carry."""
    house, ambient = scene.job.house, scene.state.ambient
    for feed in scene.job.feeds:
        carries = behind_slot(feed, house, ambient)
        if carries is None or feed.fuse_a is None or feed.fuse_a <= carries:
            continue
        right = min(feed.marked_a or 1e9, conductor.largest_fuse(carries) or 1.0)
        yield Finding(
            id=f"slot-{feed.id}",
            level="trouble",
            title=f"{feed.name}: {feed.fuse_a:g} A fuse on a {carries:.0f} A wire",
            text=f"Behind it runs {feed.wire_mm2:g} mm². The wire would burn before the fuse "
            f"opens. The slot is marked {feed.marked_a:g} A."
            if feed.marked_a
            else f"Behind it runs {feed.wire_mm2:g} mm².",
            reason=_ampacity_reason(scene, feed, carries),
            mends=(
                Mend(
                    label=f"Back to {right:g} A",
                    edit=Put(path=f"feeds.{feed.id}.fuse_a", value=right),
                ),
            ),
        )


def _ampacity_reason(scene: Scene, feed: Feed, carries: float) -> Reason:
    return Reason(
        title=f"What the wire behind {feed.name} may carry",
        result=f"{carries:.1f} A",
        formula="I = √(h·π·D·(Tmax − T) / R(Tmax))",
        given=(
            given(
                "section",
                f"{feed.wire_mm2:g} mm²",
                provenance(scene.job, f"feeds.{feed.id}.wire_mm2"),
            ),
            given(
                "fuse fitted",
                f"{feed.fuse_a:g} A",
                provenance(scene.job, f"feeds.{feed.id}.fuse_a"),
            ),
            given("air", f"{scene.state.ambient - 273.15:.0f} °C", "supposed"),
            given("insulation", f"{scene.job.house.conductor_max_k - 273.15:.0f} °C", "house rule"),
        ),
        source="heat balance of a wire in still air (Incropera, ch. 9); ISO 6722-1 sizes",
        assumption="h = 12 W/(m²·K), wire alone, not in a bundle",
    )


@rule("wire", "wire", minutes=15)
def fuse_and_drop(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A fuse too big for the wire it protects, or a wire that loses too much."""
    too_hot = reading.ampacity <= 0  # said by a rule of its own
    if reading.fuse_a is not None and reading.fuse_a > reading.ampacity and not too_hot:
        yield _too_much_fuse(scene, wire, reading.fuse_a, reading.ampacity)
    if reading.drop > reading.drop_limit * 1.0001 and wire.carries != "signal":
        yield _too_much_drop(scene, wire, reading.amps, reading.drop, reading.drop_limit)


def _too_much_fuse(scene: Scene, wire: Wire, fuse: float, carries: float) -> Finding:
    area = next(
        (
            a
            for a in conductor.AREAS
            if conductor.ampacity(
                a,
                scene.state.ambient + wire.over_ambient_k,
                wire.bundle,
                scene.job.house.conductor_max_k,
            )
            >= fuse
        ),
        conductor.AREAS[-1],
    )
    fits = conductor.largest_fuse(carries)
    limit = scene.job.house.conductor_max_k

    def cool(zone: Zone) -> bool:
        place = scene.state.ambient + zone.over_ambient_k
        return conductor.ampacity(wire.area_mm2, place, wire.bundle, limit) >= fuse

    mends = [
        *reroute(scene.job, wire, cool),
        Mend(label=f"Use {area:g} mm²", edit=Put(path=f"wires.{wire.id}.area_mm2", value=area)),
    ]
    if fits is not None:
        mends.append(
            Mend(
                label=f"In-line {fits:g} A",
                edit=Put(path=f"wires.{wire.id}.fuse_a", value=fits),
            )
        )
    return Finding(
        id=f"fuse-{wire.id}",
        level="trouble",
        title=f"{wire.id}: {fuse:g} A fuse on a {carries:.0f} A wire",
        text=f"{wire.area_mm2:g} mm² where it lies carries {carries:.1f} A at most.",
        harm=80,
        reason=Reason(
            title=f"What {wire.id} may carry",
            result=f"{carries:.1f} A",
            formula="I = √(h·π·D·(Tmax − T) / R(Tmax)) × bunch factor",
            given=(given("section", f"{wire.area_mm2:g} mm²"), given("bundle", str(wire.bundle))),
            source="heat balance; IEC 60364-5-52 table B.52.17",
        ),
        mends=tuple(mends),
        wire=wire.id,
    )


def _too_much_drop(scene: Scene, wire: Wire, amps: float, drop: float, limit: float) -> Finding:
    place = scene.state.ambient + wire.over_ambient_k
    volts = scene.job.vehicle.charging_v
    area = next(
        (
            a
            for a in conductor.AREAS
            if amps * wire.length_m * conductor.resistance_per_m(a, place) <= limit * volts
        ),
        conductor.AREAS[-1],
    )
    return Finding(
        id=f"drop-{wire.id}",
        level="watch" if drop < 2 * limit else "trouble",
        title=f"{wire.id} loses {drop * 100:.1f} %",
        text=f"{amps:g} A over {wire.length_m:g} m of {wire.area_mm2:g} mm²; the house allows "
        f"{limit * 100:g} %.",
        harm=45,
        reason=Reason(
            title=f"Drop along {wire.id}",
            result=f"{drop * 100:.2f} %",
            formula="V = I · L · ρ/A · (1 + α·(T − 20 °C))",
            given=(
                given("current", f"{amps:g} A", "device sheet"),
                given(
                    "length",
                    f"{wire.length_m:g} m",
                    provenance(scene.job, f"wires.{wire.id}.length_m"),
                ),
                given("section", f"{wire.area_mm2:g} mm²"),
            ),
            source="IEC 60028 copper",
        ),
        mends=(
            Mend(label=f"Use {area:g} mm²", edit=Put(path=f"wires.{wire.id}.area_mm2", value=area)),
        ),
        wire=wire.id,
    )


@rule("wire", "wire", harm=60, minutes=15)
def dimmed_feed(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A device is fed from a supply that is switched on and off to dim lamps."""
    if wire.carries != "power" or e.feed is None or e.device is None or not e.feed.dimmed:
        return
    better = next(
        (f for f in scene.job.feeds if e.supply and f.feed in e.supply.feeds and not f.dimmed),
        None,
    )
    side = "a" if wire.a.place == e.feed.id else "b"
    mends: tuple[Mend, ...] = (Mend(label="Choose a feed", go=f"wire:{wire.id}"),)
    if better is not None:
        edit = together(*route.joined_at(scene.job, wire, side, better.id))
        mends = (Mend(label=f"Feed from {better.id}", edit=edit), *mends)
    yield Finding(
        id=f"dimmed-{wire.id}",
        level="trouble",
        title=f"{e.device.name} on a dimmed feed",
        text=f"{e.feed.name} is switched on and off to dim the lamps: a meter reads a fraction, "
        f"and {e.device.name} loses its supply a hundred times a second.",
        reason=Reason(
            title=e.feed.name,
            result="pulse-width dimmed",
            formula="mean volts = on-time × supply; between pulses there is none",
            given=(given("dimmed", "yes", provenance(scene.job, f"feeds.{e.feed.id}.dimmed")),),
            source="pulse-width control; the key-position matrix shows it",
        ),
        mends=mends,
        wire=wire.id,
    )


@rule("wire", "wire", minutes=15)
def wrong_feed(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A device hangs on a class of feed that does not serve it."""
    if wire.carries == "power":
        if e.supply is None or e.feed is None or not e.supply.feeds or e.device is None:
            return
        if e.feed.feed in e.supply.feeds:
            return
        better = next((f for f in scene.job.feeds if f.feed in e.supply.feeds), None)
        side = "a" if wire.a.place == e.feed.id else "b"
        mends: tuple[Mend, ...] = (Mend(label="Choose a feed", go=f"wire:{wire.id}"),)
        if better is not None:
            mends = (
                Mend(
                    label=f"Feed from {better.id}",
                    edit=together(*route.joined_at(scene.job, wire, side, better.id)),
                ),
            )
        cranks = e.feed.feed in ("accessory", "run") and "run-and-crank" in e.supply.feeds
        yield Finding(
            id=f"feed-{wire.id}",
            level="trouble" if cranks else "watch",
            title=f"{e.device.name} on {'an' if e.feed.feed[0] in 'a' else 'a'} {e.feed.feed} feed",
            text=f"{e.feed.name} dies while cranking, so the device resets just when it is needed."
            if cranks
            else f"{e.supply.pin} wants {' or '.join(e.supply.feeds)}; {FEEDS[e.feed.feed].wrong}.",
            harm=70 if cranks else 40,
            reason=Reason(
                title=f"{e.device.name} {e.supply.pin}",
                result=f"{e.feed.feed}, not {' or '.join(e.supply.feeds)}",
                formula="the feed's class must be one the pin is made for",
                given=(
                    given(
                        e.feed.name, e.feed.feed, provenance(scene.job, f"feeds.{e.feed.id}.feed")
                    ),
                ),
                source="device sheet",
            ),
            mends=mends,
            wire=wire.id,
        )


@rule("wire", "wire", harm=75, minutes=5)
def like_colours(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A wire is joined by colour where two wires in the connector share it."""
    if wire.a.place in scene.connectors or wire.b.place in scene.connectors:
        for side, end in (("a", wire.a), ("b", wire.b)):
            connector = scene.connectors.get(end.place)
            if connector is None:
                continue
            path = f"wires.{wire.id}.{side}"
            twins = _twins(scene.job, end.place, end.pin)
            if not twins or at_least(scene.job, path, "counted"):
                continue
            colour = twins[0][1]
            others = ", ".join(str(n) for n, _ in twins)
            known = provenance(scene.job, path)
            yield Finding(
                id=f"colour-{wire.id}-{side}",
                level="trouble",
                title=f"Two {colour} wires in {connector.id}",
                text=f"Cavities {end.pin} and {others} look alike. {wire.id} is known by "
                f"{known or 'nothing'} only: count the cavity from {connector.key or 'cavity 1'}.",
                reason=Reason(
                    title="Wires of one colour in one connector",
                    result=f"{end.pin} and {others}",
                    formula="same colour, evidence below a counted pin",
                    given=(given(f"{wire.id} {side}", f"{connector.id} cavity {end.pin}", known),),
                    source="rule of the trade: a colour proves nothing where two share it",
                ),
                mends=(
                    Mend(
                        label=f"Counted: it is {end.pin}",
                        edit=evidence(
                            scene.job, path, "counted", "counted from the key", value=end
                        ),
                    ),
                    Mend(label="Show the face", go=f"wire:{wire.id}"),
                ),
                wire=wire.id,
            )


@query
def _twins(job: Job, connector: str, pin: str) -> tuple[tuple[int, str], ...]:
    """The other cavities of a connector whose wire has the colour of this one's."""
    cavities = plain(index(job.connectors)[connector].cavities)
    mine = next((c for c in cavities if str(c.n) == pin), None)
    if mine is None or not mine.colour:
        return ()
    return tuple([(c.n, c.colour) for c in cavities if c.colour == mine.colour and c.n != mine.n])


@rule("rate", "wire", harm=60, minutes=20)
def noise(scene: Scene, r: Rated) -> Iterator[Finding]:
    """A signal lead picks up more than half its threshold from the ignition."""
    ohm = r.give.winding_ohm or 100.0
    for key in r.chain.wires:
        wire = scene.wires[key]
        for i, near in enumerate(wire.neighbours):
            yield from _noisy(scene, wire, i, near, ohm, r.law, r.chain.title)


def _noisy(
    scene: Scene, wire: Wire, i: int, near: Neighbour, ohm: float, rate_law: laws.Law, title: str
) -> Iterator[Finding]:
    at = (near.what, near.spacing_m, near.along_m, ohm)
    peak = coupling.noise(*at, wire.twisted, wire.shielded)
    allowed = rate_law.first_threshold / 2
    if peak <= allowed or allowed <= 0:
        return
    clear = max(
        coupling.clear_spacing(near.what, near.along_m, ohm, allowed),
        scene.job.house.coil_clear_m,
    )
    clear = -(-clear // 0.05) * 0.05
    path = f"wires.{wire.id}.neighbours.{i}.spacing_m"
    moved = Mend(label=f"Keep {clear * 1000:.0f} mm off", edit=keep_off(scene, wire, near, clear))
    twist = Mend(label="Twist the pair", edit=Put(path=f"wires.{wire.id}.twisted", value=True))
    twisted = coupling.noise(*at, twisted=True)
    screen = Mend(label="Shield it", edit=Put(path=f"wires.{wire.id}.shielded", value=True))
    screened = coupling.noise(*at, wire.twisted, shielded=True)
    yield Finding(
        id=f"noise-{wire.id}-{i}",
        level="trouble" if peak > rate_law.first_threshold else "watch",
        title=f"{title} lead passes {near.name}",
        text=f"{wire.id} runs {near.spacing_m * 1000:.0f} mm from it for "
        f"{near.along_m * 1000:.0f} mm: up to {peak:.2g} V of noise against a threshold of "
        f"{rate_law.first_threshold:.2g} V.",
        reason=Reason(
            title="Noise picked up from the ignition",
            result=f"{peak:.2f} V peak",
            formula="V = R · Cm · dV/dt",
            given=(
                given("source resistance", f"{ohm:.0f} Ω"),
                given("spacing", f"{near.spacing_m * 1000:.0f} mm", provenance(scene.job, path)),
                given("alongside", f"{near.along_m * 1000:.0f} mm"),
                given("dV/dt", "20 kV/µs"),
            ),
            source="Paul, Electromagnetic Compatibility, §9; Ott, §2.2",
            assumption="loom 10 mm above the body sheet; one spark breaks down within 1 µs",
        ),
        mends=(
            *(reroute(scene.job, wire, lambda z: z.id != near.zone) if near.zone else ()),
            *((twist,) if not wire.twisted and twisted <= allowed else ()),
            *((moved,) if clear <= ROOM else ()),
            *((screen,) if not wire.shielded and screened <= allowed < twisted else ()),
            Mend(label="Show the wire", go=f"wire:{wire.id}"),
        ),
        wire=wire.id,
    )


@query
def _loose(job: Job) -> tuple[tuple[str, str, End], ...]:
    """Ends in the vehicle that are known on less than a counted pin."""
    devices = {d.id for d in job.devices}
    lines = plain(known_lines(job.ledger))
    return tuple(
        [
            (wire.id, side, end)
            for wire in job.wires
            for side, end in (("a", wire.a), ("b", wire.b))
            if end.place not in devices
            and not known(lines, f"wires.{wire.id}.{side}", end, "counted")
        ]
    )


@rule("job", "wire", harm=40)
def uncounted(scene: Scene) -> Iterator[Finding]:
    """Joints into the vehicle that rest on less than a counted pin."""
    loose = _loose(scene.job)
    if not loose:
        return
    names = ", ".join(dict.fromkeys(wire for wire, *_ in loose))
    yield Finding(
        id="uncounted",
        level="watch",
        title=f"{len(loose)} joint{'s' if len(loose) > 1 else ''} not counted yet",
        text=f"{names}: no connection is made on less than a counted pin.",
        minutes=4.0 * len(loose),
        reason=Reason(
            title="Ends in the vehicle below a counted pin",
            result=str(len(loose)),
            formula="evidence for the end < counted",
            given=tuple(
                given(
                    f"{w} {s}",
                    f"{e.place} {e.pin}".strip(),
                    provenance(scene.job, f"wires.{w}.{s}"),
                )
                for w, s, e in loose[:12]
            ),
            source="house rule",
        ),
        mends=(Mend(label="Go through them", go=f"wire:{loose[0][0]}"),),
    )


WIRE_RULES = (fuse_and_drop, dimmed_feed, wrong_feed, like_colours)
"""Rules about one conductor."""

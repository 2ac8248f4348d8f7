"""Rules about what a device is fed from: the class of the feed, and its volts."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.harness import conductor, route
from zombrel.harness.wire_reading import WireReading
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.feed_classes import FEEDS, serves
from zombrel.job.ledger import provenance
from zombrel.job.model import Relay
from zombrel.job.reason import Reason
from zombrel.job.sheet import SupplySheet
from zombrel.job.wiring import Feed, Wire
from zombrel.signals.supply import Ends, Fitted

FIRES = ("spark", "fuel")
"""A device that acts on these must live while cranking, or the engine does not start."""
CONVERTED_V = {12: 24.0, 24: 13.8}
"""What a converter gives in a car of the other voltage [V]."""
COIL_OVER = 1.35
"""A coil stands so much more than its own volts: 16 V on 12 V ones (usual)."""


def fed_from(scene: Scene, wire: Wire, e: Ends, supply: SupplySheet) -> Mend:
    """The mend that feeds a pin as it is made for: from what is there, else on its own."""
    house = scene.job.house
    good = [f for f in scene.job.feeds if _takes(scene, f, supply, wire)]
    school = house.power if supply.amps <= house.direct_above_a else "battery"
    good.sort(key=lambda f: (f.feed not in supply.feeds, f.kind != school, f.load_a, f.id))
    side = "a" if e.feed is not None and wire.a.place == e.feed.id else "b"
    if good:
        edit = together(*route.joined_at(scene.job, wire, side, good[0].id))
        return Mend(label=f"Feed from {good[0].id}", edit=edit)
    return Mend(label="Run a separate feed", edit=_own_feed(scene, wire, side, e, supply))


def _takes(scene: Scene, feed: Feed, supply: SupplySheet, wire: Wire) -> bool:
    """A feed of the right class that still holds this load."""
    if not serves(feed.feed, supply.feeds) or feed.dimmed or scene.bag(feed.id):
        return False
    if feed.fuse_a is None:
        return wire.fuse_a is not None
    r = next(x for x in scene.power().feeds if x.id == feed.id)
    ours = 0.0 if wire.id in r.wires else supply.amps
    return r.total_a + ours <= scene.job.house.fuse_load * feed.fuse_a


def _own_feed(scene: Scene, wire: Wire, side: str, e: Ends, supply: SupplySheet) -> Edit:
    """A box of the right class, and the wire joined to it."""
    taken = {f.id for f in scene.job.feeds}
    name = next(n for i in range(1, 1000) if (n := f"BOX{i}") not in taken)
    kind = supply.feeds[0]
    fuse = supply.fuse_a or conductor.fuse_for(supply.amps, scene.job.house.fuse_load)
    zone = e.feed.zone if e.feed is not None else ""
    box = Feed(
        id=name, name=f"Own feed {name}, {kind}", feed=kind, fuse_a=fuse, kind="box", zone=zone
    )
    edits: list[Put | Add | Remove] = [
        Add(path="feeds", value=msgspec.to_builtins(box)),
        Put(path=f"wires.{wire.id}.{side}", value={"place": name, "pin": ""}),
    ]
    return together(*edits)


@rule("fed", "wire", harm=60, minutes=15)
def dimmed_feed(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A device is fed from a supply that is switched on and off to dim lamps."""
    if wire.carries != "power" or e.feed is None or e.device is None or not e.feed.dimmed:
        return
    fed = () if e.supply is None or not e.supply.feeds else (fed_from(scene, wire, e, e.supply),)
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
        mends=(*fed, Mend(label="Choose a feed", go=f"wire:{wire.id}")),
        wire=wire.id,
    )


@rule("fed", "wire", minutes=15)
def wrong_feed(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A device hangs on a class of feed that does not serve it."""
    if wire.carries != "power" or e.supply is None or e.feed is None or e.device is None:
        return
    wanted = e.supply.feeds
    if not wanted or serves(e.feed.feed, wanted) or e.feed.dimmed:
        return
    text, harm = _harm(scene, e.feed, e.supply, e.device)
    article = "an" if e.feed.feed[0] in "ai" else "a"
    yield Finding(
        id=f"feed-{wire.id}",
        level="trouble",
        title=f"{e.device.name} on {article} {e.feed.feed} feed",
        text=f"{e.supply.pin} wants {' or '.join(wanted)}. {text}",
        harm=harm,
        reason=Reason(
            title=f"{e.device.name} {e.supply.pin}",
            result=f"{e.feed.feed}, not {' or '.join(wanted)}",
            formula="the feed's class must be one the pin is made for",
            given=(
                given(e.feed.name, e.feed.feed, provenance(scene.job, f"feeds.{e.feed.id}.feed")),
                given("awake it draws", f"{e.supply.amps:g} A", "device sheet"),
            ),
            source="device sheet",
        ),
        mends=(
            fed_from(scene, wire, e, e.supply),
            Mend(label="Choose a feed", go=f"wire:{wire.id}"),
        ),
        wire=wire.id,
    )


def _harm(scene: Scene, feed: Feed, supply: SupplySheet, device: Fitted) -> tuple[str, int]:
    """What goes wrong on this feed, and how much it hurts."""
    alive = FEEDS[feed.feed].alive
    must_crank = all("crank" in FEEDS[f].alive for f in supply.feeds)
    if must_crank and "crank" not in alive:
        if device.sheet.moves in FIRES:
            return f"{feed.name} dies while cranking: the engine will not start.", 86
        return f"{feed.name} dies while cranking, so it resets just when it is needed.", 70
    if feed.feed in ("constant", "retained") and "constant" not in supply.feeds:
        return _never_sleeps(scene, feed, supply), 64
    return f"{FEEDS[feed.feed].wrong[0].upper()}{FEEDS[feed.feed].wrong[1:]}.", 55


def _never_sleeps(scene: Scene, feed: Feed, supply: SupplySheet) -> str:
    """How long the battery lasts with a device that never sleeps."""
    v, house = scene.job.vehicle, scene.job.house
    if feed.feed == "retained":
        return f"{feed.name} stays on after key off and dies when it likes."
    said = f"{feed.name} stays on with the key out, and awake it draws {supply.amps:g} A"
    if v.battery_ah is None or not supply.amps:
        return f"{said}: {supply.amps * 24:.0f} A·h a day."
    hours = v.battery_ah * (1 - min(house.start_reserve, 0.99)) / (supply.amps + v.sleep_a)
    return f"{said}: the battery is too low to start after {hours:.0f} hours."


@rule("job", "survey", harm=97, minutes=40)
def not_its_volts(scene: Scene) -> Iterator[Finding]:
    """The car's supply is more than a device stands."""
    v = scene.job.vehicle
    for device in scene.job.devices:
        takes = [s for s in device.sheet.supplies if s.kind == "power"]
        if not takes or device.converter_v is not None or v.charging_v <= device.sheet.max_v:
            continue
        made = CONVERTED_V[v.system_v]
        yield Finding(
            id=f"volts-{device.id}",
            level="trouble",
            title=f"{device.name} is not made for {v.system_v} V",
            text=f"It stands {device.sheet.max_v:g} V, and this car charges at "
            f"{v.charging_v:.1f} V. It burns when it is first switched on.",
            reason=Reason(
                title=f"Supply of {device.name}",
                result=f"{v.charging_v:.1f} V against {device.sheet.max_v:g} V",
                formula="charging voltage ≤ the highest supply on the sheet",
                given=(
                    given("system", f"{v.system_v} V", provenance(scene.job, "vehicle.system_v")),
                    given("stands", f"{device.sheet.max_v:g} V", "device sheet"),
                ),
                source="device sheet",
            ),
            mends=(
                Mend(
                    label=f"Fit a converter to {made:g} V",
                    edit=Put(path=f"devices.{device.id}.converter_v", value=made),
                ),
                Mend(label="Check the system voltage", go="survey:vehicle.system_v"),
            ),
            fact="vehicle.system_v",
            about=(device.id,),
        )


@rule("job", "source", harm=66, minutes=20)
def coil_volts(scene: Scene) -> Iterator[Finding]:
    """A relay coil that is made for another voltage than the car has."""
    volts = scene.job.vehicle.charging_v
    for chain in scene.job.chains:
        for i, hop in enumerate(chain.hops):
            if not isinstance(hop, Relay) or volts <= hop.coil_v * COIL_OVER:
                continue
            hops = [msgspec.to_builtins(h) for h in chain.hops]
            scale = scene.job.vehicle.system_v / hop.coil_v
            hops[i] |= {"coil_v": scene.job.vehicle.system_v, "coil_ohm": hop.coil_ohm * scale**2}
            yield Finding(
                id=f"coil-volts-{chain.id}",
                level="trouble",
                title=f"{chain.title}: a {hop.coil_v:g} V relay on {volts:.1f} V",
                text=f"Its coil takes {volts**2 / hop.coil_ohm:.1f} W instead of "
                f"{hop.coil_v**2 / hop.coil_ohm:.1f} W and burns out.",
                reason=Reason(
                    title="Heat in the relay's coil",
                    result=f"{volts**2 / hop.coil_ohm:.1f} W",
                    formula="P = V² ÷ R",
                    given=(
                        given("coil", f"{hop.coil_ohm:g} Ω, for {hop.coil_v:g} V"),
                        given("supply", f"{volts:.1f} V"),
                    ),
                    source="Joule's law",
                ),
                mends=(
                    Mend(
                        label=f"Use a {scene.job.vehicle.system_v} V relay",
                        edit=Put(path=f"chains.{chain.id}.hops", value=hops),
                    ),
                ),
                chain=chain.id,
            )

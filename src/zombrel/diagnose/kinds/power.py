"""Before power, and power itself: grounds, shorts, fuses one by one, off, drain, cranking.

References: Ohm's law on copper (IEC 60028) for what a wire may lose or measure; open-circuit
volts of a charged battery EN 50342-1; current of a spark box as in ``behaviour.spark_supply``.
"""

from __future__ import annotations

from zombrel.behaviour.spark_supply import supplied
from zombrel.behaviour.suppose import cranking
from zombrel.calibrate.copper import resistance_per_m
from zombrel.diagnose.step import METER, REST_V, Field, StepSheet, end_words
from zombrel.job.feed_classes import FEEDS
from zombrel.job.follow.query import query
from zombrel.job.model import Device, Job, index
from zombrel.job.stages import see
from zombrel.job.wiring import Feed, Wire
from zombrel.signals.ground import grounds
from zombrel.signals.supply import Supply, feeds_of, pins
from zombrel.units import prefixed
from zombrel.units.measure import length_of

LEADS_OHM = 0.3
"""What the leads of a meter, its zero and a clean joint add [Ω]: ASSUMED."""
SHORT_SHARE = 0.25
"""Below this share of what its greatest current means, a supply is taken to be shorted."""
OFF_V = 0.5
"""What a dead line shows at most: leakage through a high-impedance meter [V]: ASSUMED."""
AWAKE_FACTOR, AWAKE_A = 1.5, 0.01
"""A drain above so many times what is expected, and by so much [A], is somebody awake."""
OPEN_OHM = 1e7
COPPER = "IEC 60028 copper at 20 °C, length and section of the wire"


@query
def hung(job: Job) -> dict[str, tuple[tuple[str, Supply], ...]]:
    """(device, supply) of every power pin that hangs on a feed, by the feed."""
    found: dict[str, tuple[tuple[str, Supply], ...]] = {}
    for device, supplies in feeds_of(job).items():
        for supply in supplies:
            found[supply.feed] = (*found.get(supply.feed, ()), (device, supply))
    return found


def _ohm(wire: Wire) -> float:
    return wire.length_m * resistance_per_m(wire.area_mm2)


@query
def powered(job: Job) -> tuple[str, ...]:
    """Asked once for the whole job, as soon as anything is fed."""
    return ("",) if feeds_of(job) else ()


@query
def plugs(job: Job, key: str) -> StepSheet:
    """Fuses out, plugs the right way round: what is seen before any meter is out."""
    on = hung(job)
    feeds = [job_feed for job_feed in job.feeds if job_feed.id in on]
    fused = [w for w in job.wires if w.fuse_a and w.carries == "power"]
    joined = {e.place for w in job.wires for e in (w.a, w.b)}
    faces = [c for c in job.connectors if c.id in joined]
    out = ", ".join(f"{w.fuse_a:g} A of {w.id}" for w in fused) or "none of ours is drawn yet"
    seen = ", ".join(c.name or c.id for c in faces) or "none on the way"
    return StepSheet(
        id="plugs",
        kind="plugs",
        short="Fuses out, plugs looked at",
        ask="Take the fuses of what is fitted out. Look at every plug.",
        where=f"Fuses: {out}. Plugs: {seen}. Right way round, pushed home, locked; no terminal "
        "pushed back.",
        caution="Battery negative off first. Plugs of computers only with power off; airbag "
        "plugs not at all.",
        fields=(),
        formula="fuses and connectors that our wires end at",
        source="the wires as drawn",
        otherwise="Put it right and look again: nothing is powered before.",
        leaves="that a wire is whole: the next steps do.",
        about=(*(f.id for f in feeds), *(c.id for c in faces)),
        minutes=2.0 + 0.5 * (len(fused) + len(faces)),
    )


@query
def grounded(job: Job) -> tuple[str, ...]:
    """Devices with a ground pin."""
    return _with_pin(job, "ground")


def _with_pin(job: Job, kind: str) -> tuple[str, ...]:
    return tuple([d.id for d in job.devices if any(s.kind == kind for s in d.sheet.supplies)])


def _undrawn(device: Device, kind: str, drawn: set[str]) -> str:
    """Why pins of a kind cannot be tried: no wire of ours leads them anywhere."""
    bare = [s.pin for s in device.sheet.supplies if s.kind == kind and s.pin not in drawn]
    if not bare:
        return ""
    return f"No wire leads {device.name} {', '.join(bare)} to its supply yet: {see('wire')}."


@query
def ground(job: Job, key: str) -> StepSheet:
    """Ohms from each ground pin of a device to battery negative."""
    device, wires, studs = index(job.devices)[key], index(job.wires), index(job.studs)
    own = [wires[w] for w in grounds(job).get(key, ())]
    fields = []
    at: list[str] = []
    drawn = {e.pin for w in own for e in (w.a, w.b) if e.place == key}
    for wire in own:
        pin, far = (wire.a, wire.b) if wire.a.place == key else (wire.b, wire.a)
        stud = studs.get(far.place)
        if stud is not None:
            at.append(stud.id)
        ohm = _ohm(wire) + (stud.ohm if stud is not None else 0.0)
        high = ohm + LEADS_OHM
        fields.append(
            Field(
                name=f"{pin.pin}.{wire.id}",
                label=f"{device.name} {pin.pin}",
                unit="Ω",
                low=-0.05,
                high=high,
                expect=f"up to {prefixed(high, 'Ω', 2)}",
                because=f"{prefixed(ohm, 'Ω', 2)} by {wire.id} to {end_words(job, far)}, the rest "
                "is the meter’s",
            )
        )
    return StepSheet(
        id=f"ground-{key}",
        kind="ground",
        short=f"Ground, {device.name}",
        ask=f"Meter the ground of the {device.name} to battery negative.",
        where=f"Ohms. One lead on the pin at the {device.name}, the other on the negative post. "
        "Zero the leads first.",
        caution="Fuses out, key off. An ohmmeter on a live line is a fuse.",
        fields=tuple(fields),
        formula=f"R = L · ρ/A + joint; {LEADS_OHM:g} Ω for leads and zero",
        source=COPPER,
        otherwise="Bare metal, a star washer, one ring less on the stud; then again.",
        leaves="a joint that fails only under load: the volts under load do.",
        blocked=_undrawn(device, "ground", drawn),
        go="wire:list",
        key=key,
        about=(key, *(w.id for w in own), *dict.fromkeys(at)),
        minutes=2.0,
    )


@query
def fed(job: Job) -> tuple[str, ...]:
    """Devices with a supply pin."""
    return _with_pin(job, "power")


@query
def short(job: Job, key: str) -> StepSheet:
    """No supply pin leads to ground while the fuses are out."""
    device, supplies = index(job.devices)[key], feeds_of(job).get(key, ())
    volts = REST_V * job.vehicle.system_v / 12
    fields = []
    for supply in supplies:
        pin, wire = supply.pin, supply.wire
        most = max(pin.inrush_a, pin.amps, 0.01)
        low = max(SHORT_SHARE * volts / most, 0.2)
        fields.append(
            Field(
                name=f"{pin.pin}.{wire}",
                label=f"{device.name} {pin.pin}",
                unit="Ω",
                low=low,
                high=OPEN_OHM,
                expect=f"over {prefixed(low, 'Ω', 2)}",
                because=f"it takes {most:g} A at most: {prefixed(volts / most, 'Ω', 2)}",
            )
        )
    return StepSheet(
        id=f"short-{key}",
        kind="short",
        short=f"No short, {device.name}",
        ask=f"Meter each supply of the {device.name} to its own ground.",
        where=f"Ohms at the plug of the {device.name}, fuses still out.",
        caution="Fuses out, key off.",
        fields=tuple(fields),
        formula=f"R > {SHORT_SHARE:g} · Vs / I greatest",
        source="Ohm's law; the device sheet",
        otherwise="Do not fit the fuse. Pull the plug: if it goes, it is the device, else the run.",
        leaves="a short that comes with movement or heat.",
        blocked=_undrawn(device, "power", {s.pin.pin for s in supplies}),
        go="wire:list",
        key=key,
        about=(key, *(s.wire for s in supplies), *dict.fromkeys(s.feed for s in supplies)),
        minutes=1.5,
    )


@query
def feeds_used(job: Job) -> tuple[str, ...]:
    """Feeds that something hangs on: those that live with the key off first."""
    on = hung(job)
    used = [f for f in job.feeds if f.id in on]
    return tuple([f.id for f in sorted(used, key=lambda f: "off" not in FEEDS[f.feed].alive)])


def _key_for(feed: Feed) -> str:
    """The key position that a feed is measured in."""
    alive = FEEDS[feed.feed].alive
    if "off" in alive:
        return "Key off"
    return "Key on, engine off" if "on" in alive else "Cranking"


@query
def volts(job: Job, key: str) -> StepSheet:
    """The supplies of one feed, with its fuse in."""
    feed, at, wires = index(job.feeds)[key], pins(job), index(job.wires)
    on = hung(job)[key]
    nominal = REST_V * job.vehicle.system_v / 12
    position = _key_for(feed)
    lamps = " Lights on." if FEEDS[feed.feed].lamps_only else ""
    fields = []
    for device, supply in on:
        pin, wire = supply.pin, supply.wire
        loss = pin.amps * _ohm(wires[wire])
        low, high = nominal - loss - METER * 2, nominal + METER * 2
        fields.append(
            Field(
                name=f"{device}.{pin.pin}",
                label=f"{at[device, pin.pin].device.name} {pin.pin}",
                unit="V",
                low=low,
                high=high,
                expect=f"{low:.1f} to {high:.1f} V",
                because=f"from {feed.name}; at most {loss:.2f} V lost in "
                f"{length_of(wires[wire].length_m)}",
            )
        )
    return StepSheet(
        id=f"power-{key}",
        kind="volts",
        short=f"Power, {feed.name}",
        ask=f"Fuse of {feed.name} in. Measure each supply on it.",
        where=f"{position}.{lamps} Red lead on the device’s supply pin, black lead on its own "
        "ground pin.",
        caution="Ignition key as said, engine off. If a fuse blows, stop and find out why before "
        "fitting another.",
        fields=tuple(fields),
        formula=f"{nominal:.1f} V at rest − I · L · ρ/A, ± {2 * METER:.1f} V",
        source=f"EN 50342-1 for the battery at rest; {COPPER}",
        otherwise="Meter along the run from the slot: where the volts go, there it is.",
        leaves="that it stays so while cranking or hot.",
        key=key,
        about=(
            key,
            *dict.fromkeys(device for device, _ in on),
            *(supply.wire for _, supply in on),
        ),
        minutes=2.0 + len(fields),
    )


@query
def switched(job: Job) -> tuple[str, ...]:
    """Asked once, when anything hangs on a feed that dies with the key."""
    feeds = index(job.feeds)
    alive = [FEEDS[feeds[key].feed].alive for key in hung(job)]
    return ("",) if any("off" not in keys for keys in alive) else ()


@query
def off(job: Job, key: str) -> StepSheet:
    """Off is off: every switched supply is dead with the key out."""
    feeds, at = index(job.feeds), pins(job)
    dead = [
        (feed, device, supply)
        for feed, on in hung(job).items()
        if "off" not in FEEDS[feeds[feed].feed].alive
        for device, supply in on
    ]
    fields = [
        Field(
            name=f"{device}.{supply.pin.pin}",
            label=f"{at[device, supply.pin.pin].device.name} {supply.pin.pin}",
            unit="V",
            low=-0.05,
            high=OFF_V,
            expect=f"0 to {OFF_V:g} V",
            because=f"{feeds[feed].name} dies with the key",
        )
        for feed, device, supply in dead
    ]
    return StepSheet(
        id="off",
        kind="off",
        short="Off is off",
        ask="Key out. Every switched supply must be dead.",
        where="Red lead on the device’s supply pin, black lead on its own ground, doors shut, some "
        "minutes after.",
        caution="Key out and away from the car: fans may start by themselves.",
        fields=tuple(fields),
        formula="a feed that dies with the key gives nothing with the key out",
        source="the class of each feed",
        otherwise="Pull the plug of one device after another: what feeds back lets go.",
        leaves="how much it draws: the drain does.",
        about=(
            *dict.fromkeys(feed for feed, _, _ in dead),
            *dict.fromkeys(device for _, device, _ in dead),
        ),
        minutes=3.0,
    )


@query
def drain(job: Job, key: str) -> StepSheet:
    """Standby current of the whole vehicle, asleep."""
    feeds = index(job.feeds)
    awake = [
        (device, supply)
        for feed, on in hung(job).items()
        if "off" in FEEDS[feeds[feed].feed].alive
        for device, supply in on
    ]
    ours = sum(supply.pin.standby_a for _, supply in awake)
    expected = ours + job.vehicle.sleep_a
    high = max(expected * AWAKE_FACTOR, expected + AWAKE_A)
    names = index(job.devices)
    told = ", ".join(
        f"{names[device].name} {prefixed(supply.pin.standby_a, 'A', 2)}" for device, supply in awake
    )
    field = Field(
        name="amps",
        label="Drain, asleep",
        unit="A",
        low=-0.001,
        high=high,
        expect=f"about {prefixed(expected, 'A', 2)}, up to {prefixed(high, 'A', 2)}",
        because=f"the car itself {prefixed(job.vehicle.sleep_a, 'A', 2)}; {told or 'ours none'}",
    )
    return StepSheet(
        id="drain",
        kind="drain",
        short="Drain with the key out",
        ask="Key out, doors shut, wait until it sleeps. Read the drain.",
        where="Clamp on the battery’s negative lead, or an ammeter in it, bridged until it sleeps.",
        caution="No cranking and no door with an ammeter in the lead: its fuse goes. Both "
        "batteries where there are two.",
        fields=(field,),
        formula="Σ standby of what hangs on feeds that live with the key off + the car’s own",
        source="device sheets; what the car draws asleep, of the survey",
        otherwise="Pull fuse by fuse until it falls: that branch is awake.",
        leaves="what wakes up later by itself.",
        about=tuple(dict.fromkeys([*(d for d, _ in awake), *feeds_of(job)])),
        minutes=10.0,
        needs="a clamp that reads milliamperes",
    )


@query
def cranked(job: Job) -> tuple[str, ...]:
    """Devices that must live while cranking: their sheet says what they reset at."""
    feeds, on = index(job.feeds), feeds_of(job)
    return tuple(
        [
            d.id
            for d in job.devices
            if d.sheet.min_v and _through_crank(d, [feeds[s.feed] for s in on.get(d.id, ())])
        ]
    )


def _through_crank(device: Device, feeds: list[Feed]) -> bool:
    return bool(feeds) and all("crank" in FEEDS[f.feed].alive for f in feeds)


@query
def crank(job: Job, key: str) -> StepSheet:
    """The lowest volts that reach a device while the starter turns."""
    device = index(job.devices)[key]
    state = cranking(job.vehicle)
    reaches = state.volts
    if device.sheet.full_at_rps:
        reaches = supplied(job, device, state.engine, state.volts).volts
    least = device.sheet.min_v
    blocked = ""
    if reaches < least:
        blocked = (
            f"Only {reaches:.1f} V will reach it and it resets below {least:g} V: mend its supply."
        )
    field = Field(
        name="lowest",
        label=f"{device.name}, lowest",
        unit="V",
        low=least,
        high=state.volts + 4,
        expect=f"over {least:g} V",
        because=f"about {reaches:.1f} V of {state.volts:.1f} V at the battery",
    )
    return StepSheet(
        id=f"crank-{key}",
        kind="crank",
        short=f"Cranking, {device.name}",
        ask=f"Crank for three seconds. The {device.name} must not reset.",
        where=f"Meter on its supply pin and its own ground, on lowest. Lamp or display of the "
        f"{device.name} in sight.",
        caution="Out of gear, park brake on, clear of belts and fans: the engine may start.",
        fields=(field,),
        formula="V = V battery while cranking − I · R of its wires",
        source="the device sheet for where it resets; cranking volts of a warm engine, ASSUMED",
        otherwise="A feed that lives while cranking, a thicker wire, a better ground.",
        leaves="a cold morning: then the battery gives less.",
        blocked=blocked,
        go=f"wire:{feeds_of(job)[key][0].wire}",
        key=key,
        about=(key, *(s.wire for s in feeds_of(job)[key])),
        minutes=2.0,
        needs="one at the key, one at the meter",
        running=True,
    )

"""Rules about the power tree: slots, fuses, schools, studs, drain, what a meter read."""

from __future__ import annotations

import math
from collections.abc import Iterator

import msgspec

from zombrel.actions import notes
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.harness import power, route
from zombrel.harness.power import PowerReading, StudReading
from zombrel.harness.wire_reading import WireReading
from zombrel.job.edits import Many, Put, together
from zombrel.job.follow.view import plain
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Job, Relay, index
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.wiring import Wire
from zombrel.signals.key_matrix import classify
from zombrel.signals.supply import Ends

SENSOR_SHARE_A = 2.0
"""Current through a stud above which a sensor's ground does not belong on it [A]: house rule."""
SCHOOLS = {"box": "a box of its own", "battery": "the battery post"}


@rule("fed", "wire", harm=35, minutes=10)
def starting_current(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A fuse that the starting current of its load may open."""
    if e.supply is None or not e.supply.inrush_a or reading.fuse_a is None:
        return
    if power.holds_inrush(reading.fuse_a, e.supply.inrush_a, e.supply.inrush_s or 0.1):
        return
    yield Finding(
        id=f"inrush-{wire.id}",
        level="watch",
        title=f"{wire.id}: starting current may open {reading.fuse_a:g} A",
        text=f"{e.supply.inrush_a:g} A for {e.supply.inrush_s:g} s is longer than the fastest "
        "fuse of that rating holds.",
        reason=Reason(
            title="Starting current against the fuse",
            result=f"{e.supply.inrush_a / reading.fuse_a:.1f} × its rating",
            formula="least opening time at that multiple, between the standard's points",
            given=(
                given("inrush", f"{e.supply.inrush_a:g} A", "device sheet"),
                given("for", f"{e.supply.inrush_s:g} s", "device sheet"),
            ),
            source="ISO 8820-3, type C",
        ),
        mends=(Mend(label="Choose another fuse", go=f"wire:{wire.id}"),),
        wire=wire.id,
    )


@rule("fed", "wire", harm=42, minutes=40)
def heavy_on_slot(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A heavy load taken from a fuse-box slot where the house goes to the battery."""
    if wire.carries != "power" or e.feed is None or e.feed.kind != "slot":
        return
    house = scene.job.house
    if reading.amps <= house.direct_above_a:
        return
    yield Finding(
        id=f"heavy-{wire.id}",
        level="watch",
        title=f"{reading.amps:.0f} A out of {e.feed.name}",
        text=f"The house takes more than {house.direct_above_a:g} A from the battery or a box of "
        "its own: a slot's clips are made for what the car put there.",
        reason=Reason(
            title="Where a heavy load is fed from",
            result=f"{reading.amps:.1f} A",
            formula=f"load > {house.direct_above_a:g} A and the feed is a slot",
            given=(given(e.feed.name, "a slot of the car's fuse box"),),
            source="house rule",
        ),
        mends=(Mend(label="Choose a feed", go=f"wire:{wire.id}"),),
        wire=wire.id,
    )


@rule("fed", "wire", harm=12, minutes=30)
def other_school(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A feed from a slot where the house feeds everything from a box or the battery."""
    school = scene.job.house.power
    if wire.carries != "power" or e.feed is None or e.device is None or school == "slot":
        return
    if e.feed.kind == school or (school == "box" and e.feed.kind == "battery"):
        return
    wanted = e.supply.feeds if e.supply is not None else ()
    fits = next((f for f in scene.job.feeds if f.kind == school and f.feed in wanted), None)
    side = "a" if wire.a.place == e.feed.id else "b"
    yield Finding(
        id=f"school-{wire.id}",
        level="note",
        title=f"{e.device.name} is fed from {e.feed.name}",
        text=f"The house feeds its devices from {SCHOOLS[school]}; a slot is the other school.",
        reason=Reason(
            title="Where devices are fed from",
            result=f"{e.feed.kind}, house: {school}",
            formula="kind of the feed against the house's school",
            given=(given(e.feed.name, e.feed.kind),),
            source="house rule",
        ),
        mends=(
            *(
                (
                    Mend(
                        label=f"Feed from {fits.id}",
                        edit=together(*route.joined_at(scene.job, wire, side, fits.id)),
                    ),
                )
                if fits
                else ()
            ),
            Mend(label="Show the power tree", go=f"wire:power/{e.feed.id}"),
        ),
        wire=wire.id,
    )


@rule("job", "wire", minutes=15)
def stud_trouble(scene: Scene) -> Iterator[Finding]:
    """Too many rings on one stud, or a sensor's ground beside heavy current."""
    studs = index(scene.job.studs)
    for r in scene.power().studs:
        stud = studs[r.id]
        if r.wires and r.rings > scene.job.house.stud_rings:
            yield Finding(
                id=f"stack-{r.id}",
                level="watch",
                title=f"{r.rings} rings on {stud.name}",
                text=f"The house stacks {scene.job.house.stud_rings}: more work loose, and the "
                "lowest is never cleaned again.",
                harm=30,
                reason=Reason(
                    title=f"Rings on {stud.name}",
                    result=str(r.rings),
                    formula="rings already there + one for each of our wires",
                    given=(given("ours", ", ".join(r.wires)), given("already", str(stud.rings))),
                    source="house rule",
                ),
                mends=(Mend(label="Show the power tree", go=f"wire:power/{r.id}"),),
            )
        heavy = r.amps > SENSOR_SHARE_A
        if heavy and r.sensors and stud.ohm > 0:
            yield _shared_ground(scene, r, stud.name, stud.ohm)


def _shared_ground(scene: Scene, r: StudReading, name: str, ohm: float) -> Finding:
    clean = next((s for s in scene.job.studs if s.id != r.id and s.ohm == 0), None)
    mends: list[Mend] = []
    if clean is not None:
        edits: list[Put] = []
        for key in r.sensors:
            wire = scene.wires[key]
            side = "a" if wire.a.place == r.id else "b"
            edits += route.joined_at(scene.job, wire, side, clean.id)
        mends.append(Mend(label=f"Ground them at {clean.id}", edit=Many(edits=tuple(edits))))
    return Finding(
        id=f"shared-{r.id}",
        level="watch",
        title=f"Small signals share {name} with {r.amps:.1f} A",
        text=f"{', '.join(r.sensors)} would be lifted by {r.lift_v:.2f} V when that current flows.",
        harm=44,
        reason=Reason(
            title=f"Lift of {name}",
            result=f"{r.lift_v:.2f} V",
            formula="V = I · R",
            given=(
                given("current", f"{r.amps:.1f} A"),
                given("stud", f"{ohm:g} Ω", provenance(scene.job, f"studs.{r.id}.ohm")),
            ),
            source="Ohm's law",
        ),
        mends=(*mends, Mend(label="Show the power tree", go=f"wire:power/{r.id}")),
    )


@rule("job", "wire")
def flat_battery(scene: Scene) -> Iterator[Finding]:
    """The parked car would not start in time, or the alternator falls behind at idle."""
    reading = scene.power()
    v, house = scene.job.vehicle, scene.job.house
    if reading.days is not None and reading.standby_a > 0 and reading.days < house.park_days:
        yield Finding(
            id="flat",
            level="watch",
            title=f"Flat in {reading.days:.0f} days",
            text=f"Ours draw {reading.standby_a * 1000:.0f} mA asleep, the car "
            f"{v.sleep_a * 1000:.0f} mA; the house wants {house.park_days:.0f} days.",
            harm=40,
            minutes=20,
            reason=days_reason(scene.job, reading),
            mends=(Mend(label="Show the power tree", go="wire:power"),),
        )
    if reading.idle_margin_a is not None and reading.idle_margin_a < 0:
        yield Finding(
            id="alternator",
            level="watch",
            title=f"{-reading.idle_margin_a:.0f} A short at idle",
            text=f"{reading.idle_load_a:.0f} A of load and an alternator that gives "
            f"{v.alternator_idle_a:g} A hot at idle: the battery pays the rest.",
            harm=38,
            minutes=30,
            reason=Reason(
                title="Alternator at idle",
                result=f"{reading.idle_margin_a:.1f} A",
                formula="what it gives − (the car's own + ours)",
                given=(
                    given(
                        "it gives",
                        f"{v.alternator_idle_a:g} A",
                        provenance(scene.job, "vehicle.alternator_idle_a"),
                    ),
                    given(
                        "the car's own",
                        f"{v.own_load_a:g} A",
                        provenance(scene.job, "vehicle.own_load_a"),
                    ),
                ),
                source="device sheets",
            ),
            mends=(Mend(label="Show the power tree", go="wire:power"),),
        )


def days_reason(job: Job, reading: PowerReading) -> Reason:
    """Why the parked car lasts so long."""
    v, house = job.vehicle, job.house
    days = "no drain" if reading.days is None or math.isinf(reading.days) else f"{reading.days:.0f}"
    return Reason(
        title="How long the parked car still starts",
        result=f"{days} days",
        formula="days = Ah · (1 − kept for starting) / drain / 24 h",
        given=(
            given("battery", f"{v.battery_ah or 0:g} A·h", provenance(job, "vehicle.battery_ah")),
            given("kept for starting", f"{house.start_reserve * 100:.0f} %", "house rule"),
            given("our devices", f"{reading.standby_a * 1000:.1f} mA", "device sheets"),
            given(
                "the car asleep", f"{v.sleep_a * 1000:.0f} mA", provenance(job, "vehicle.sleep_a")
            ),
        ),
        source="charge balance",
        assumption="no self-discharge, no cold",
    )


@rule("job", "wire", harm=66, minutes=2)
def wrong_class(scene: Scene) -> Iterator[Finding]:
    """What a meter read at a feed says it is something else than it is noted as."""
    for feed in scene.job.feeds:
        if feed.volts is None:
            continue
        try:
            verdict = classify(plain(feed.volts))
        except Problem:
            continue
        if verdict.kind == feed.feed:
            continue
        yield Finding(
            id=f"class-{feed.id}",
            level="trouble",
            title=f"{feed.name} is {verdict.kind}, not {feed.feed}",
            text="So the meter says in the key positions"
            + (f"; {verdict.warnings[0]}." if verdict.warnings else "."),
            reason=Reason(
                title=f"Class of {feed.name}",
                result=verdict.kind,
                formula="alive above 40 % of the battery, dead below 12 %, in each key position",
                given=tuple(
                    given(name, f"{volts:g} V", "measured")
                    for name, volts in msgspec.structs.asdict(plain(feed.volts)).items()
                    if volts is not None
                ),
                source="the trade's key-position test",
            ),
            mends=(
                Mend(label=f"It is {verdict.kind}", edit=notes.classify(scene.job, feed, verdict)),
                Mend(label="Show the matrix", go=f"wire:power/{feed.id}"),
            ),
        )


@rule("job", "wire")
def relays(scene: Scene) -> Iterator[Finding]:
    """A relay coil nothing tames, or contacts that switch more than they may."""
    volts = scene.job.vehicle.charging_v
    for chain in scene.job.chains:
        for i, hop in enumerate(chain.hops):
            if not isinstance(hop, Relay):
                continue
            if hop.suppression == "none":
                yield _kick(chain, i, hop, volts)
            given_ = scene.input(chain)
            switched = volts / (given_.pull_up_ohm or given_.input_ohm)
            if switched > hop.contact_a:
                yield _contacts(chain, switched, hop)


def _kick(chain: Chain, i: int, hop: Relay, volts: float) -> Finding:
    ways = power.suppressions(volts, hop.coil_ohm)
    bare, resistor, diode = ways

    def fit(how: str) -> Put:
        hops = [msgspec.to_builtins(h) for h in chain.hops]
        hops[i]["suppression"] = how
        return Put(path=f"chains.{chain.id}.hops", value=hops)

    return Finding(
        id=f"kick-{chain.id}",
        level="watch",
        title=f"{chain.title}: the relay's coil is not tamed",
        text=f"Letting go it swings to {bare.kick_v:.0f} V; a diode holds it to "
        f"{diode.kick_v:.1f} V and lets go {diode.release_ms:.0f} ms later.",
        harm=36,
        minutes=10,
        reason=Reason(
            title="A coil that lets go",
            result=f"{bare.kick_v:.0f} V",
            formula="V = supply + I · R with a resistor, supply + 0.7 V with a diode; "
            "release to a tenth = ln 10 · L / R",
            given=tuple(given(w.way, f"{w.kick_v:.0f} V, {w.release_ms:.1f} ms") for w in ways),
            source="L/R decay",
            assumption="0.5 H coil; a bare one arcs at 350 V",
        ),
        mends=(
            Mend(label="Diode across the coil", edit=fit("diode")),
            Mend(label=f"Resistor, {resistor.kick_v:.0f} V, quicker", edit=fit("resistor")),
        ),
        chain=chain.id,
    )


def _contacts(chain: Chain, switched: float, hop: Relay) -> Finding:
    return Finding(
        id=f"contacts-{chain.id}",
        level="trouble",
        title=f"{chain.title}: the relay's contacts are too small",
        text=f"They switch {switched:.1f} A and are made for {hop.contact_a:g} A: they weld.",
        harm=64,
        minutes=15,
        reason=Reason(
            title="Current through the contacts",
            result=f"{switched:.2f} A",
            formula="I = V / the input's resistance",
            given=(given("contacts", f"{hop.contact_a:g} A"),),
            source="Ohm's law",
        ),
        mends=(Mend(label="Look at the signal", go=f"source:{chain.id}"),),
        chain=chain.id,
    )

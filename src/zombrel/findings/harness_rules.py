"""Rules about the plan, the power tree, connectors and leads."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

import msgspec

from zombrel.findings.model import Finding, Mend
from zombrel.findings.scene import Scene, given, together
from zombrel.harness import changes, power, route
from zombrel.harness.conductor import fuse_for
from zombrel.harness.laid import bundles
from zombrel.harness.power import FeedReading, PowerReading, StudReading
from zombrel.harness.reading import WireReading
from zombrel.job.edits import Many, Put
from zombrel.job.ledger import evidence, provenance
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.wiring import Feed, Neighbour, Wire, Zone
from zombrel.signals.key_matrix import classify
from zombrel.signals.supply import Ends

SENSOR_SHARE_A = 2.0
"""Current through a stud above which a sensor's ground does not belong on it [A]: house rule."""
PLAN_SOURCE = "shortest path on the plan with the house's prices (Dijkstra; Yen for the rivals)"


def too_hot(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """The place is as hot as the insulation may be, whatever the wire carries."""
    limit = scene.job.house.conductor_max_k
    place = scene.state.ambient + wire.over_ambient_k
    if place < limit:
        return
    hot = max(
        (z for z in scene.job.zones if z.id in wire.via),
        key=lambda z: z.over_ambient_k, default=None,
    )  # fmt: skip
    where = hot.name if hot is not None else "there"
    cooler = reroute(scene.job, wire, lambda z: scene.state.ambient + z.over_ambient_k < limit)
    yield Finding(
        id=f"hot-{wire.id}",
        stage="wire",
        level="trouble",
        title=f"{wire.id} lies too hot: {where}",
        text=f"{place - 273.15:.0f} °C there, and the insulation is good to "
        f"{limit - 273.15:.0f} °C.",
        harm=78,
        minutes=15,
        reason=Reason(
            title=f"How hot {wire.id} lies",
            result=f"{place - 273.15:.0f} °C",
            formula="outside air + what the hottest zone on its way adds",
            given=(
                given("outside air", f"{scene.state.ambient - 273.15:.0f} °C", "supposed"),
                given(where, f"+{wire.over_ambient_k:.0f} K", "the plan"),
                given("insulation", f"{limit - 273.15:.0f} °C", "house rule"),
            ),
            source="ISO 6722-1, class A",
        ),
        mends=(*cooler, Mend(label="Show the plan", go=f"wire:plan/{wire.id}")),
        wire=wire.id,
    )  # fmt: skip


def reroute(job: Job, wire: Wire, allowed: Callable[[Zone], bool]) -> tuple[Mend, ...]:
    """The mend that lays a run, and those of its signal beside it, through allowed zones only."""
    if len(wire.via) < 2:
        return ()
    nature = route.nature_of(wire, route.pickups(job))
    try:
        found = route.best(job.zones, job.ways, nature, wire.via[0], wire.via[-1], allowed)
    except Problem:
        return ()
    if found == wire.via:
        return ()
    names = {z.id: z.name for z in job.zones}
    new = [names[z] for z in found[1:-1] if z not in wire.via] or [names[z] for z in found[1:-1]]
    words = f"by the {new[len(new) // 2].lower()}" if new else "the straight way"
    edits = tuple(Put(path=f"wires.{w}.via", value=list(found)) for w in _mates(job, wire))
    return (Mend(label=f"Run it {words}", edit=together(*edits)),)


def _mates(job: Job, wire: Wire) -> list[str]:
    """The wire, and those of its signal that lie in the same bundle all the way."""
    beside = {w for c in job.chains if wire.id in c.wires for w in c.wires} | {wire.id}
    return [w.id for w in job.wires if w.id in beside and w.via == wire.via]


def keep_off(scene: Scene, wire: Wire, near: Neighbour, clear: float) -> Put:
    """The edit that notes a wider spacing; a neighbour of the plan becomes the wire's own."""
    new = msgspec.structs.replace(near, spacing_m=clear)
    typed = next(w.neighbours for w in scene.raw.wires if w.id == wire.id)
    own = [n for n in typed if (n.name, n.zone) != (near.name, near.zone)]
    return Put(path=f"wires.{wire.id}.neighbours", value=msgspec.to_builtins((*own, new)))


def unrouted(scene: Scene) -> Iterator[Finding]:
    """Wires whose ends lie on the plan but that have no way yet, or one the plan has lost."""
    job = scene.job
    if not job.zones:
        return
    open_, lost = _without_way(job)
    if not open_ and not lost:
        return
    best = route.route_all(job)
    edits = tuple(
        Put(path=f"wires.{w}.via", value=list(best[w])) for w in (*open_, *lost) if w in best
    )
    names = ", ".join((*lost, *open_)[:6]) + (" …" if len(open_) + len(lost) > 6 else "")
    count = len(open_) + len(lost)
    yield Finding(
        id="unrouted",
        stage="wire",
        level="watch" if lost else "note",
        title=f"{count} wire{'s' if count > 1 else ''} without a way through the car",
        text=f"{names}: their lengths, heat and neighbours are typed, not taken from the plan."
        if not lost
        else f"{', '.join(lost)}: the plan no longer has the way they were given.",
        harm=25,
        minutes=2,
        reason=Reason(
            title="Wires without a way", result=str(count),
            formula="both ends lie in zones of the plan, and no run is chosen",
            given=tuple(given(w, "no way") for w in (*lost, *open_)[:12]), source=PLAN_SOURCE,
        ),
        mends=(
            *((Mend(label="Run them the best way", edit=Many(edits=edits)),) if edits else ()),
            Mend(label="Show the plan", go="wire:plan"),
        ),
    )  # fmt: skip


def _without_way(job: Job) -> tuple[list[str], list[str]]:
    at = route.zone_of(job)
    known = {z.id for z in job.zones}
    open_ = [
        w.id for w in job.wires
        if not w.via and at.get(w.a.place) in known and at.get(w.b.place) in known
    ]  # fmt: skip
    lost = [
        w.id for w in job.wires if w.via and not route.connected(job.zones, job.ways, w.via)
    ]  # fmt: skip
    return open_, lost


def tight_holes(scene: Scene) -> Iterator[Finding]:
    """A bundle with its tube does not go through the hole, or there is no grommet."""
    job = scene.job
    ways = {w.id: w for w in job.ways}
    for b in bundles(job):
        way = ways[b.way]
        if b.fits and (way.grommet or not way.hole_mm):
            continue
        names = " to ".join(z.name for z in job.zones if z.id in (b.a, b.b))
        tight = not b.fits
        yield Finding(
            id=f"hole-{b.way}",
            stage="wire",
            level="trouble" if tight else "watch",
            title=f"The hole {names} is too small" if tight else f"No grommet {names}",
            text=f"{len(b.wires)} wires make {b.diameter_mm:.0f} mm, with tube more than the "
            f"{way.hole_mm:g} mm hole." if tight else "A bare edge saws through the loom.",
            harm=55 if tight else 50,
            minutes=20,
            reason=Reason(
                title="Bundle through a hole", result=f"{b.diameter_mm:.1f} mm",
                formula="bundle = packing ratio × √Σd²; tube outside = 1.3 × its bore",
                given=(given("wires", ", ".join(b.wires)), given("hole", f"{way.hole_mm:g} mm")),
                source="Graham et al. 1998 for the ratios",
            ),
            mends=(
                *(() if tight else (
                    Mend(label="Grommet fitted",
                         edit=Put(path=f"ways.{b.way}.grommet", value=True)),
                )),
                Mend(label="Show the plan", go=f"wire:plan/{b.wires[0]}"),
            ),
        )  # fmt: skip


def slots(scene: Scene, reading: PowerReading) -> Iterator[Finding]:
    """A slot with more on it than its fuse or wire should carry, by what hangs on it in all."""
    for r in reading.feeds:
        feed = scene.feeds[r.id]
        if not r.ours_a or r.fuse_a is None or r.total_a <= scene.job.house.fuse_load * r.fuse_a:
            continue
        yield _overloaded(scene, feed, r)


def _overloaded(scene: Scene, feed: Feed, r: FeedReading) -> Finding:
    house = scene.job.house
    assert r.fuse_a is not None  # the caller asked
    wanted = fuse_for(r.total_a, house.fuse_load)
    mends: tuple[Mend, ...] = ()
    if wanted is not None and (r.carries_a or 0.0) >= wanted:
        mends = (Mend(label=f"{wanted:g} A, the wire carries it",
                      edit=Put(path=f"feeds.{feed.id}.fuse_a", value=wanted)),)  # fmt: skip
    return Finding(
        id=f"load-{feed.id}",
        stage="wire",
        level="trouble" if r.total_a > r.fuse_a else "watch",
        title=f"{feed.name} carries {r.total_a:.1f} A on {r.fuse_a:g} A",
        text=f"{r.ours_a:.1f} A of ours and {feed.load_a:g} A of "
        f"{feed.hangs or 'the car'}; the house allows {house.fuse_load * 100:.0f} % of a fuse.",
        harm=50,
        minutes=20,
        reason=Reason(
            title=f"What hangs on {feed.name}", result=f"{r.total_a:.1f} A",
            formula="Σ our devices + what the car hangs on it",
            given=(*(given(w, f"{_amps(scene, w):.2g} A", "device sheet") for w in r.wires),
                   given("the car's own", f"{feed.load_a:g} A",
                         provenance(scene.job, f"feeds.{feed.id}.load_a"))),
            source="device sheets; ISO 8820 ratings",
        ),
        mends=(*mends, Mend(label="Show the power tree", go=f"wire:power/{feed.id}")),
    )  # fmt: skip


def _amps(scene: Scene, wire: str) -> float:
    return next(r.amps for r in scene.wire_readings if r.id == wire)


def starting_current(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A fuse that the starting current of its load may open."""
    if e.supply is None or not e.supply.inrush_a or reading.fuse_a is None:
        return
    if power.holds_inrush(reading.fuse_a, e.supply.inrush_a, e.supply.inrush_s or 0.1):
        return
    yield Finding(
        id=f"inrush-{wire.id}",
        stage="wire",
        level="watch",
        title=f"{wire.id}: starting current may open {reading.fuse_a:g} A",
        text=f"{e.supply.inrush_a:g} A for {e.supply.inrush_s:g} s is longer than the fastest "
        "fuse of that rating holds.",
        harm=35,
        minutes=10,
        reason=Reason(
            title="Starting current against the fuse",
            result=f"{e.supply.inrush_a / reading.fuse_a:.1f} × its rating",
            formula="least opening time at that multiple, between the standard's points",
            given=(given("inrush", f"{e.supply.inrush_a:g} A", "device sheet"),
                   given("for", f"{e.supply.inrush_s:g} s", "device sheet")),
            source="ISO 8820-3, type C",
        ),
        mends=(Mend(label="Choose another fuse", go=f"wire:{wire.id}"),),
        wire=wire.id,
    )  # fmt: skip


def heavy_on_slot(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A heavy load taken from a fuse-box slot where the house goes to the battery."""
    if wire.carries != "power" or e.feed is None or e.feed.kind != "slot":
        return
    house = scene.job.house
    if reading.amps <= house.direct_above_a:
        return
    yield Finding(
        id=f"heavy-{wire.id}",
        stage="wire",
        level="watch",
        title=f"{reading.amps:.0f} A out of {e.feed.name}",
        text=f"The house takes more than {house.direct_above_a:g} A from the battery or a box of "
        "its own: a slot's clips are made for what the car put there.",
        harm=42,
        minutes=40,
        reason=Reason(
            title="Where a heavy load is fed from", result=f"{reading.amps:.1f} A",
            formula=f"load > {house.direct_above_a:g} A and the feed is a slot",
            given=(given(e.feed.name, "a slot of the car's fuse box"),), source="house rule",
        ),
        mends=(Mend(label="Choose a feed", go=f"wire:{wire.id}"),),
        wire=wire.id,
    )  # fmt: skip


def stud_trouble(scene: Scene, reading: PowerReading) -> Iterator[Finding]:
    """Too many rings on one stud, or a sensor's ground beside heavy current."""
    for r in reading.studs:
        stud = next(s for s in scene.job.studs if s.id == r.id)
        if r.wires and r.rings > scene.job.house.stud_rings:
            yield Finding(
                id=f"stack-{r.id}", stage="wire", level="watch",
                title=f"{r.rings} rings on {stud.name}",
                text=f"The house stacks {scene.job.house.stud_rings}: more work loose, and the "
                "lowest is never cleaned again.",
                harm=30, minutes=15,
                reason=Reason(
                    title=f"Rings on {stud.name}", result=str(r.rings),
                    formula="rings already there + one for each of our wires",
                    given=(given("ours", ", ".join(r.wires)), given("already", str(stud.rings))),
                    source="house rule",
                ),
                mends=(Mend(label="Show the power tree", go=f"wire:power/{r.id}"),),
            )  # fmt: skip
        heavy = r.amps > SENSOR_SHARE_A
        if heavy and r.sensors and stud.ohm > 0:
            yield _shared_ground(scene, r, stud.name, stud.ohm)


def _shared_ground(scene: Scene, r: StudReading, name: str, ohm: float) -> Finding:
    clean = next((s for s in scene.job.studs if s.id != r.id and s.ohm == 0), None)
    mends: list[Mend] = []
    if clean is not None:
        edits = []
        for key in r.sensors:
            wire = scene.wires[key]
            side = "a" if wire.a.place == r.id else "b"
            edits.append(Put(path=f"wires.{key}.{side}", value={"place": clean.id}))
        mends.append(Mend(label=f"Ground them at {clean.id}", edit=Many(edits=tuple(edits))))
    return Finding(
        id=f"shared-{r.id}", stage="wire", level="watch",
        title=f"Small signals share {name} with {r.amps:.1f} A",
        text=f"{', '.join(r.sensors)} would be lifted by {r.lift_v:.2f} V when that current flows.",
        harm=44, minutes=15,
        reason=Reason(
            title=f"Lift of {name}", result=f"{r.lift_v:.2f} V", formula="V = I · R",
            given=(given("current", f"{r.amps:.1f} A"), given("stud", f"{ohm:g} Ω",
                   provenance(scene.job, f"studs.{r.id}.ohm"))),
            source="Ohm's law",
        ),
        mends=(*mends, Mend(label="Show the power tree", go=f"wire:power/{r.id}")),
    )  # fmt: skip


def flat_battery(scene: Scene, reading: PowerReading) -> Iterator[Finding]:
    """The parked car would not start in time, or the alternator falls behind at idle."""
    v, house = scene.job.vehicle, scene.job.house
    if reading.days is not None and reading.standby_a > 0 and reading.days < house.park_days:
        yield Finding(
            id="flat", stage="wire", level="watch",
            title=f"Flat in {reading.days:.0f} days",
            text=f"Ours draw {reading.standby_a * 1000:.0f} mA asleep, the car "
            f"{v.sleep_a * 1000:.0f} mA; the house wants {house.park_days:.0f} days.",
            harm=40, minutes=20,
            reason=days_reason(scene.job, reading),
            mends=(Mend(label="Show the power tree", go="wire:power"),),
        )  # fmt: skip
    if reading.idle_margin_a is not None and reading.idle_margin_a < 0:
        yield Finding(
            id="alternator", stage="wire", level="watch",
            title=f"{-reading.idle_margin_a:.0f} A short at idle",
            text=f"{reading.idle_load_a:.0f} A of load and an alternator that gives "
            f"{v.alternator_idle_a:g} A hot at idle: the battery pays the rest.",
            harm=38, minutes=30,
            reason=Reason(
                title="Alternator at idle", result=f"{reading.idle_margin_a:.1f} A",
                formula="what it gives − (the car's own + ours)",
                given=(given("it gives", f"{v.alternator_idle_a:g} A",
                             provenance(scene.job, "vehicle.alternator_idle_a")),
                       given("the car's own", f"{v.own_load_a:g} A",
                             provenance(scene.job, "vehicle.own_load_a"))),
                source="device sheets",
            ),
            mends=(Mend(label="Show the power tree", go="wire:power"),),
        )  # fmt: skip


def days_reason(job: Job, reading: PowerReading) -> Reason:
    """Why the parked car lasts so long."""
    v, house = job.vehicle, job.house
    days = "no drain" if reading.days is None or math.isinf(reading.days) else f"{reading.days:.0f}"
    return Reason(
        title="How long the parked car still starts", result=f"{days} days",
        formula="days = Ah · (1 − kept for starting) / drain / 24 h",
        given=(
            given("battery", f"{v.battery_ah or 0:g} A·h", provenance(job, "vehicle.battery_ah")),
            given("kept for starting", f"{house.start_reserve * 100:.0f} %", "house rule"),
            given("our devices", f"{reading.standby_a * 1000:.1f} mA", "device sheets"),
            given("the car asleep", f"{v.sleep_a * 1000:.0f} mA",
                  provenance(job, "vehicle.sleep_a")),
        ),
        source="charge balance", assumption="no self-discharge, no cold",
    )  # fmt: skip


def wrong_class(scene: Scene) -> Iterator[Finding]:
    """What a meter read at a feed says it is something else than it is noted as."""
    for feed in scene.job.feeds:
        if feed.volts is None:
            continue
        try:
            got = classify(feed.volts)
        except Problem:
            continue
        if got.kind == feed.feed:
            continue
        put = Put(path=f"feeds.{feed.id}.feed", value=got.kind)
        line = evidence(
            scene.job, f"feeds.{feed.id}.feed", "measured", "key-position matrix", value=got.kind
        )
        assert not isinstance(line, Many)  # one line
        yield Finding(
            id=f"class-{feed.id}", stage="wire", level="trouble",
            title=f"{feed.name} is {got.kind}, not {feed.feed}",
            text="So the meter says in the key positions"
            + (f"; {got.warnings[0]}." if got.warnings else "."),
            harm=66, minutes=2,
            reason=Reason(
                title=f"Class of {feed.name}", result=got.kind,
                formula="alive above 40 % of the battery, dead below 12 %, in each key position",
                given=tuple(
                    given(name, f"{volts:g} V", "measured")
                    for name, volts in msgspec.structs.asdict(feed.volts).items()
                    if volts is not None
                ),
                source="the trade's key-position test",
            ),
            mends=(Mend(label=f"It is {got.kind}", edit=Many(edits=(put, line))),
                   Mend(label="Show the matrix", go=f"wire:power/{feed.id}")),
        )  # fmt: skip


def bad_changes(scene: Scene) -> Iterator[Finding]:
    """A change to a connector that cannot be made as it stands."""
    for change in scene.job.changes:
        for i, trouble in enumerate(changes.troubles(scene.job, change)):
            yield Finding(
                id=f"change-{change.id}-{i}", stage="wire", level="trouble",
                title=f"Change {change.id} cannot be made",
                text=trouble, harm=58, minutes=10,
                reason=Reason(
                    title=f"Change {change.id}", result=trouble,
                    formula="the cavity's state, the terminal's range, what it may be used for",
                    given=(given("kind", change.kind),
                           given("at", f"{change.connector} cavity {change.cavity}")),
                    source="connector data",
                ),
                mends=(Mend(label="Show the connector", go=f"wire:faces/{change.id}"),),
            )  # fmt: skip


def lead_troubles(scene: Scene) -> Iterator[Finding]:
    """A lead that is not as its paper says, or not probed yet."""
    if not scene.job.leads:
        return
    from zombrel.harness import lead  # most jobs have none, and the first frame waits for imports

    for one in scene.job.leads:
        if not one.rows:
            continue
        got = lead.result(one)
        done = lead.whole(one)
        if got.right and done:
            continue
        count = len(lead.order(one.rows))
        go = Mend(label="Probe it", go=f"wire:probe/{one.id}")
        if got.right:
            left = lead.progress(one).left
            yield Finding(
                id=f"lead-{one.id}", stage="wire", level="note",
                title=f"{one.name}: {left} of {count} probes to make",
                text=f"The pin-out is known from {one.source or 'nowhere'} only.",
                harm=35, minutes=left * 0.5, reason=_lead_reason(one.name, count, got.verdict),
                mends=(go,),
            )  # fmt: skip
            continue
        fix = Mend(label="Correct the pin-out", edit=lead.correct(scene.job, one))
        yield Finding(
            id=f"lead-{one.id}", stage="wire", level="trouble",
            title=f"{one.name} is not as the paper says",
            text=got.verdict, harm=74, minutes=5,
            reason=_lead_reason(one.name, count, got.verdict),
            mends=(fix, go) if done else (go,),
        )  # fmt: skip


def _lead_reason(name: str, count: int, verdict: str) -> Reason:
    return Reason(
        title=name, result=verdict,
        formula="nets of the paper against nets the meter found; the shortest order of probes "
        "that would show any open, swap or bridge between neighbours",
        given=(given("probes of the first round", str(count)),),
        source="connected components; path cover of trees (West, Graph Theory, §2.1)",
    )  # fmt: skip


def airbag_runs(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A run through a zone with airbag wiring."""
    bags = [z for z in wire.via if (found := by_id(scene.job.zones, z)) and found.airbag]
    for zone in bags[:1]:
        yield Finding(
            id=f"airbag-{wire.id}", stage="wire", level="trouble",
            title=f"{wire.id} runs past airbag wiring",
            text="Nothing is strapped to it, tapped or metered there.", harm=72, minutes=15,
            reason=Reason(
                title="Airbag zone", result=zone, formula="the plan marks the zone",
                given=(given(zone, "airbag", provenance(scene.job, f"zones.{zone}.airbag")),),
                source="rule of the trade",
            ),
            mends=(*reroute(scene.job, wire, lambda z: not z.airbag),
                   Mend(label="Show the plan", go=f"wire:plan/{wire.id}")),
            wire=wire.id,
        )  # fmt: skip


WIRE_RULES = (too_hot, starting_current, heavy_on_slot, airbag_runs)
"""Rules about one conductor."""
POWER_RULES = (slots, stud_trouble, flat_battery)
"""Rules about the power tree."""
JOB_RULES = (unrouted, tight_holes, wrong_class, bad_changes, lead_troubles)
"""Rules that look across the harness."""

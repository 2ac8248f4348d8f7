"""Rules about the plan, connectors and leads."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import msgspec

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.harness import route
from zombrel.harness.laid import bundles
from zombrel.harness.missing import undrawn, undrawn_signals
from zombrel.harness.plugs import changes
from zombrel.harness.wire_reading import WireReading, carried, insulation
from zombrel.job.edits import Many, Put, together
from zombrel.job.follow.view import plain
from zombrel.job.ledger import provenance
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.wiring import Neighbour, Wire, Zone
from zombrel.signals.supply import Ends
from zombrel.units.measure import short_of, token

NAMED = 5
"""So many things are named, the rest counted."""
HOT_DAY_K = 313.15
"""Outside air that wires and fuses are chosen for [K]: a day of 40 °C."""

PLAN_SOURCE = "shortest path on the plan with the house's prices (Dijkstra; Yen for the rivals)"


@rule("wire", "wire", harm=78, minutes=15)
def too_hot(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """The place is as hot as the insulation may be, whatever the wire carries."""
    limit = insulation(wire, scene.job.house)
    place = scene.state.ambient + wire.over_ambient_k
    if place < limit:
        return
    hot = max(
        (z for z in scene.job.zones if z.id in wire.via),
        key=lambda z: z.over_ambient_k,
        default=None,
    )
    where = hot.name if hot is not None else "there"
    cooler = reroute(
        scene.job, wire, lambda z: max(scene.state.ambient, HOT_DAY_K) + z.over_ambient_k < limit
    )
    yield Finding(
        id=f"hot-{wire.id}",
        level="trouble",
        title=f"{wire.id} lies too hot: {where}",
        text=f"{token('temperature', place, 0)} there, and the insulation is good to "
        f"{token('temperature', limit, 0)}.",
        reason=Reason(
            title=f"How hot {wire.id} lies",
            result=token("temperature", place, 0),
            formula="outside air + what the hottest zone on its way adds",
            given=(
                given("outside air", token("temperature", scene.state.ambient, 0), "supposed"),
                given(where, f"+{wire.over_ambient_k:.0f} K", "the plan"),
                given("insulation", token("temperature", limit, 0), "house rule"),
            ),
            source="ISO 6722-1, class A",
        ),
        mends=(
            *cooler,
            *better_insulation(scene, wire),
            Mend(label="Show the plan", go=f"wire:plan/{wire.id}"),
        ),
        wire=wire.id,
    )


CLASSES_K = (373.15, 398.15, 423.15)
"""What wires of the classes B, C and D stand: 100, 125 and 150 °C (ISO 6722-1)."""
IN_HAND_K = 10.0
"""So much cooler than its insulation stands should a wire lie."""


def better_insulation(scene: Scene, wire: Wire) -> Iterator[Mend]:
    """The mend that uses wire of a class that stands the place on a hot day, and carries there."""
    house, fuse = scene.job.house, scene.wire_reading(wire.id).fuse_a or 0.0
    hot = max(scene.state.ambient, HOT_DAY_K)
    for limit in CLASSES_K:
        better = msgspec.structs.replace(wire, good_to_k=limit)
        cool = hot + wire.over_ambient_k + IN_HAND_K <= limit
        if cool and carried(better, wire.area_mm2, hot, house) >= fuse:
            words = f"Use wire good to {token('temperature', limit, 0)}"
            yield Mend(label=words, edit=Put(path=f"wires.{wire.id}.good_to_k", value=limit))
            return


def reroute(job: Job, wire: Wire, allowed: Callable[[Zone], bool]) -> tuple[Mend, ...]:
    """The mend that lays a run, and those of its signal beside it, through allowed zones only."""
    if len(wire.via) <= 1:
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
    wires = index(job.wires)
    beside = [w for c in job.chains if wire.id in c.wires for w in c.wires if w != wire.id]
    return [wire.id, *[w for w in dict.fromkeys(beside) if wires[w].via == wire.via]]


def keep_off(scene: Scene, wire: Wire, near: Neighbour, clear: float) -> Put:
    """The edit that notes a wider spacing; a neighbour of the plan becomes the wire's own."""
    new = msgspec.structs.replace(near, spacing_m=clear)
    typed = index(scene.raw.wires)[wire.id].neighbours
    own = [n for n in typed if (n.name, n.zone) != (near.name, near.zone)]
    return Put(path=f"wires.{wire.id}.neighbours", value=msgspec.to_builtins((*own, new)))


@rule("job", "wire", harm=10)
def undrawn_wires(scene: Scene) -> Iterator[Finding]:
    """Signals and supply pins no wire is drawn for, once there is any wiring or plan at all."""
    job = scene.raw
    bare = undrawn_signals(job) if job.wires else undrawn(job)
    if not bare or not (job.wires or job.zones):
        return
    names = ", ".join(bare[:NAMED]) + (" …" if len(bare) > NAMED else "")
    yield Finding(
        id="undrawn",
        level="note",
        title=f"{len(bare)} pin{'s' if len(bare) > 1 else ''} without a wire",
        text=f"{names}.",
        minutes=3.0 * len(bare),
        reason=Reason(
            title="Pins without a wire",
            result=str(len(bare)),
            formula="signals with no run, and power and ground pins, that no wire ends at",
            given=tuple(given(b, "no wire") for b in bare[:12]),
            source="device sheets",
        ),
        mends=(Mend(label="Draw them", go="wire:list"),),
    )


@rule("job", "wire", harm=25, minutes=2)
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
    names = ", ".join((*lost, *open_)[:NAMED]) + (" …" if len(open_) + len(lost) > NAMED else "")
    count = len(open_) + len(lost)
    yield Finding(
        id="unrouted",
        level="watch" if lost else "note",
        title=f"{count} wire{'s' if count > 1 else ''} without a way through the car",
        text=f"{names}: their lengths, heat and neighbours are typed, not taken from the plan."
        if not lost
        else f"{', '.join(lost)}: the plan no longer has the way, or it ends elsewhere than the "
        "wire does.",
        reason=Reason(
            title="Wires without a way",
            result=str(count),
            formula="both ends lie in zones of the plan, and no run is chosen",
            given=tuple(given(w, "no way") for w in (*lost, *open_)[:12]),
            source=PLAN_SOURCE,
        ),
        mends=(
            *((Mend(label="Run them the best way", edit=Many(edits=edits)),) if edits else ()),
            Mend(label="Show the plan", go="wire:plan"),
        ),
    )


def _without_way(job: Job) -> tuple[list[str], list[str]]:
    at = plain(route.zone_of(job))
    known = {z.id for z in job.zones}
    there = {via: route.connected(job.zones, job.ways, via) for via in {w.via for w in job.wires}}
    open_ = [
        w.id
        for w in job.wires
        if not w.via and at.get(w.a.place) in known and at.get(w.b.place) in known
    ]
    lost = [w.id for w in job.wires if w.via and not (there[w.via] and _ends_there(w, at))]
    return open_, lost


def _ends_there(wire: Wire, at: dict[str, str]) -> bool:
    """The wire's way ends where the wire does."""
    ends = (at.get(wire.a.place, wire.via[0]), at.get(wire.b.place, wire.via[-1]))
    return ends == (wire.via[0], wire.via[-1])


def _wires(count: int) -> str:
    return "1 wire makes" if count == 1 else f"{count} wires make"


@rule("job", "wire", minutes=20)
def tight_holes(scene: Scene) -> Iterator[Finding]:
    """A bundle with its tube does not go through the hole, or there is no grommet."""
    job = scene.job
    ways = {w.id: w for w in job.ways}
    for b in bundles(job):
        way = ways[b.way]
        if b.fits and (way.grommet or not way.hole_mm):
            continue
        names = " to ".join(z.name for z in job.zones if z.id in (b.a, b.b))
        tight, hole = not b.fits, short_of(way.hole_mm / 1000)
        yield Finding(
            id=f"hole-{b.way}",
            level="trouble" if tight else "watch",
            title=f"The hole {names} is too small" if tight else f"No grommet {names}",
            text=f"{_wires(len(b.wires))} {short_of(b.diameter_mm / 1000)}, with tube more than "
            f"the hole of {hole}."
            if tight
            else "A bare edge saws through the loom.",
            harm=55 if tight else 50,
            reason=Reason(
                title="Bundle through a hole",
                result=short_of(b.diameter_mm / 1000),
                formula="bundle = packing ratio × √Σd²; tube outside = 1.3 × its bore",
                given=(
                    given("wires", ", ".join(b.wires)),
                    given("hole", short_of(way.hole_mm / 1000)),
                ),
                source="Graham et al. 1998 for the ratios",
            ),
            mends=(
                *(
                    ()
                    if tight
                    else (
                        Mend(
                            label="Grommet fitted",
                            edit=Put(path=f"ways.{b.way}.grommet", value=True),
                        ),
                    )
                ),
                Mend(label="Show the plan", go=f"wire:plan/{b.wires[0]}"),
            ),
        )


@rule("job", "wire", harm=58, minutes=10)
def bad_changes(scene: Scene) -> Iterator[Finding]:
    """A change to a connector that cannot be made as it stands."""
    for change in scene.job.changes:
        if change.state == "made":
            yield Finding(
                id=f"change-{change.id}-unmetered",
                level="watch",
                title=f"Change {change.id} is made and not metered",
                text=f"{change.kind.capitalize()} at {change.connector} cavity {change.cavity}: "
                "what was moved may be in a wrong cavity, or not through.",
                reason=Reason(
                    title=f"Change {change.id}",
                    result="made, not proven",
                    formula="a change is proven by what the meter showed after it",
                    given=(given("made", change.when or "day not said"),),
                    source="house rule: meter what was moved",
                ),
                mends=(Mend(label="Meter it", go=f"wire:faces/{change.id}"),),
            )
        for i, trouble in enumerate(changes.troubles(scene.job, change)):
            yield Finding(
                id=f"change-{change.id}-{i}",
                level="trouble",
                title=f"Change {change.id} cannot be made",
                text=trouble,
                reason=Reason(
                    title=f"Change {change.id}",
                    result=trouble,
                    formula="the cavity's state, the terminal's range, what it may be used for",
                    given=(
                        given("kind", change.kind),
                        given("at", f"{change.connector} cavity {change.cavity}"),
                    ),
                    source="connector data",
                ),
                mends=(Mend(label="Show the connector", go=f"wire:faces/{change.id}"),),
            )


@rule("job", "wire")
def lead_troubles(scene: Scene) -> Iterator[Finding]:
    """A lead that is not as its paper says, or not probed yet."""
    if not scene.job.leads:
        return
    # most jobs have none, and the first frame waits for imports
    from zombrel.harness.plugs import lead, outcomes

    for patch in scene.job.leads:
        if not patch.rows:
            continue
        continuity = lead.result(patch, scene.job.connectors)
        done = lead.whole(patch, scene.job.connectors)
        if continuity.right and done:
            continue
        repairs = outcomes.waiting(patch, scene.job.connectors)
        count = len(lead.order(patch))
        go = Mend(label="Probe it", go=f"wire:probe/{patch.id}")
        if continuity.right and repairs:
            yield Finding(
                id=f"lead-{patch.id}",
                level="trouble",
                title=f"{patch.name}: repaired, and not probed again",
                text=f"{repairs[-1].words}. What was touched is as good as unknown until then.",
                harm=74,
                minutes=5,
                reason=_lead_reason(patch.name, count, continuity.verdict),
                mends=(go,),
            )
            continue
        if continuity.right:
            left = lead.progress(patch, scene.job.connectors).left
            yield Finding(
                id=f"lead-{patch.id}",
                level="note",
                title=f"{patch.name}: {left} of {count} probes to make",
                text=f"The pin-out is known from {patch.source or 'nowhere'} only.",
                harm=35,
                minutes=left * 0.5,
                reason=_lead_reason(patch.name, count, continuity.verdict),
                mends=(go,),
            )
            continue
        yield Finding(
            id=f"lead-{patch.id}",
            level="trouble",
            title=f"{patch.name} is not as the paper says",
            text=f"{continuity.verdict} Decide of each: the lead is wrong, or the paper.",
            harm=74,
            minutes=5,
            reason=_lead_reason(patch.name, count, continuity.verdict),
            mends=(Mend(label="Decide", go=go.go) if done else go,),
        )


def _lead_reason(name: str, count: int, verdict: str) -> Reason:
    return Reason(
        title=name,
        result=verdict,
        formula="nets of the paper against nets the meter found; the shortest order of probes "
        "that would show any open, swap or bridge between neighbours",
        given=(given("probes of the first round", str(count)),),
        source="connected components; path cover of trees (West, Graph Theory, §2.1)",
    )


@rule("near airbags", "wire", harm=72, minutes=15)
def airbag_runs(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A run through a zone with airbag wiring."""
    bags = [z for z in wire.via if z in scene.airbag_zones]
    for zone in bags[:1]:
        yield Finding(
            id=f"airbag-{wire.id}",
            level="trouble",
            title=f"{wire.id} runs past airbag wiring",
            text="Nothing is strapped to it, tapped or metered there.",
            reason=Reason(
                title="Airbag zone",
                result=zone,
                formula="the plan marks the zone",
                given=(given(zone, "airbag", provenance(scene.job, f"zones.{zone}.airbag")),),
                source="rule of the trade",
            ),
            mends=(
                *reroute(scene.job, wire, lambda z: not z.airbag),
                Mend(label="Show the plan", go=f"wire:plan/{wire.id}"),
            ),
            wire=wire.id,
        )

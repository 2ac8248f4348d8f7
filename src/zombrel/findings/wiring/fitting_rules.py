"""Rules about where devices sit and how they are fixed, hoses, threads, the kit, lead colours."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from zombrel.behaviour.suppose import named
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.harness import route
from zombrel.harness.fitting import place
from zombrel.harness.laid import laid
from zombrel.harness.plugs import face
from zombrel.harness.wire_reading import read_wires
from zombrel.job.edits import Edit, Put, together
from zombrel.job.feed_classes import FEEDS
from zombrel.job.follow.view import plain
from zombrel.job.model import Device, Job, index
from zombrel.job.reason import Reason
from zombrel.job.records.fitting import Hose
from zombrel.job.sheet import DeviceSheet
from zombrel.job.source import Source
from zombrel.job.wiring import Wire, Zone
from zombrel.units.measure import delta_token, short_of, token

if TYPE_CHECKING:
    from zombrel.harness.fitting.hoses import HosePlan
    from zombrel.harness.fitting.kit import KitRow

NAMED = 6
TRIED = 3
"""So many other places are tried for a device."""


@rule("job", "wire", minutes=30)
def place_does_not_suit(scene: Scene) -> Iterator[Finding]:
    """A device where it gets too hot or wet, has no room, is disturbed, or is not to be reached."""
    zones = index(scene.job.zones)
    there: dict[str, list[DeviceSheet]] = {}
    for device in scene.job.devices:
        there.setdefault(device.zone, []).append(device.sheet)
    hot = {key: place.air_k(zones[key], there[key]) for key in there if key in zones}
    for device in scene.job.devices:
        zone = zones.get(device.zone)
        if zone is None:
            continue
        found = place.against(device.sheet, zone, hot[zone.id])
        if found:
            yield _place(scene, device, zone, found)


def _place(scene: Scene, device: Device, zone: Zone, found: list[place.Against]) -> Finding:
    worst = max(found, key=lambda a: a.harm)
    why = " ".join(a.words for a in found)
    other = _other_place(scene, device, zone)
    looked = f"zones.{zone.id}.seen"
    mends = (
        *((other,) if other is not None else ()),
        *(
            [Mend(label="The driver sees what is there", edit=Put(path=looked, value=True))]
            if worst.key == "look"
            else ()
        ),
        Mend(label="Show where it sits", go=f"wire:fit/{device.id}"),
    )
    there = place.air_k(zone, [device.sheet, *place.sheets_in(scene.job, zone.id, device.id)])
    title = (
        f"{device.name}: does the driver see it from the seat?"
        if worst.key == "look"
        else f"{device.name} does not suit its place: {zone.name.lower()}"
    )
    return Finding(
        id=f"place-{device.id}",
        level=worst.level,
        title=title,
        text=f"{why} Its wires are laid anew with it.",
        harm=worst.harm,
        reason=Reason(
            title=f"{device.name} in {zone.name}",
            result=why,
            formula="air there = outside air + what the zone is above it + ΣP / (U · A); "
            "water, room, coils, reach and sight by the zone and the sheet",
            given=(
                given("outside air", token("temperature", place.AIR_K), "assumed"),
                given("zone above it", delta_token("temperature", zone.over_ambient_k), "the plan"),
                given("air there", token("temperature", there)),
                given("case", device.sheet.sealing or "not said", "device sheet"),
            ),
            source="device sheet; the plan; Incropera and DeWitt, table 1.1, for U",
            assumption=f"U = {place.THROUGH_WALLS:g} W/(m²·K); a space {place.SPACE_HIGH_M:g} m "
            "high where nobody measured it",
        ),
        mends=mends,
        about=(device.id,),
    )


def _other_place(scene: Scene, device: Device, zone: Zone) -> Mend | None:
    """The device where it suits and where its wires stand the way there; None where nowhere is."""
    good_zones = place.better(scene.job, device.sheet, zone, device.id)[:TRIED]
    now = _overfused(plain(scene.raw)) if good_zones else set()
    for good in good_zones:
        edit = _moved(scene, device.id, good.id)
        if _overfused(scene.after(edit)) <= now:
            return Mend(label=f"Put it in {good.name.lower()}", edit=edit)
    return None


def _overfused(job: Job) -> set[str]:
    """Wires whose fuse lets more through than they may carry, in the hottest state of all."""
    hottest = max((state for _, state in named(job.vehicle)), key=lambda state: state.ambient)
    return {r.id for r in read_wires(laid(job), hottest) if r.overfused}


def _moved(scene: Scene, device: str, zone: str) -> Edit:
    """A device mounted in another zone, its wires laid there the best way."""
    put = Put(path=f"devices.{device}.zone", value=zone)
    after = scene.after(put)
    best = route.route_all(after)
    ours = [w for w in after.wires if w.via and device in (w.a.place, w.b.place)]
    laid = [Put(path=f"wires.{w.id}.via", value=list(best[w.id])) for w in ours if w.id in best]
    return together(put, *laid)


@rule("job", "wire", harm=52, minutes=10)
def mounting_does_not_hold(scene: Scene) -> Iterator[Finding]:
    """A screw that reaches what lies behind, a drill into the unknown, tape that lets go."""
    zones = index(scene.job.zones)
    for device in scene.job.devices:
        if not device.mount.how:
            continue
        # most jobs have none, and the first frame waits for imports
        from zombrel.harness.fitting import mounting

        zone = zones.get(device.zone)
        hot = place.air_k(zone) if zone is not None else place.AIR_K
        f = mounting.fixing(device.sheet, device.mount, zone, hot)
        drills = device.mount.how in ("screws", "hole")
        if f.troubles:
            text, level = " ".join(f.troubles), "trouble"
            title = f"{device.name} cannot be fixed as planned"
        elif f.unsaid and drills:
            text, level = f"Not known yet: {'; '.join(f.unsaid)}.", "watch"
            title = f"{device.name}: look behind before the drill"
        else:
            continue
        path, mount = f"devices.{device.id}.mount", device.mount
        mends = []
        if f.swap:
            words = f"Take screws of {short_of(f.length_m)}"
            mends.append(Mend(label=words, edit=Put(path=f"{path}.screw_m", value=f.length_m)))
        elif f.troubles:
            mends.append(Mend(label="Use a bracket", edit=Put(path=f"{path}.how", value="bracket")))
        yield Finding(
            id=f"mount-{device.id}",
            level=level,  # type: ignore[arg-type]
            title=title,
            text=text,
            reason=Reason(
                title=f"How {device.name} is fixed",
                result=text,
                formula="shortest screw = panel + foot + nut + 2 pitches; longest = panel + foot + "
                "free depth − 3 mm",
                given=(
                    given("fixed by", mount.how),
                    given("panel", short_of(mount.panel_m)),
                    given("under the heads", short_of(mount.stack_m)),
                    given(
                        "free behind",
                        "nobody looked" if mount.behind_m is None else short_of(mount.behind_m),
                    ),
                ),
                source="ISO 888, ISO 4032, ISO 273",
            ),
            mends=(*mends, Mend(label="Show how it is fixed", go=f"wire:fit/{device.id}")),
            about=(device.id,),
        )


@rule("job", "wire", minutes=15)
def hose_does_not_do(scene: Scene) -> Iterator[Finding]:
    """A hose of the wrong stuff, loose at its ends, or along belts and exhaust."""
    if not scene.job.hoses:
        return
    # most jobs have none, and the first frame waits for imports
    from zombrel.harness.fitting import hoses

    for hose in scene.job.hoses:
        p = hoses.plan(scene.job, hose)
        for key, harm, words in p.troubles:
            mends = [_hose_mend(scene.job, hose, key, p)]
            yield Finding(
                id=f"hose-{hose.id}-{key}",
                level="trouble",
                title=f"{hose.name}: {_HOSE[key]}",
                text=words,
                harm=harm,
                reason=Reason(
                    title=f"What {hose.name} must stand",
                    result=words,
                    formula="hotter of what flows in it and the hottest place on its way; highest "
                    "pressure in it",
                    given=(
                        given("for", hose.medium),
                        given("made of", hose.grade or "not said"),
                        given("as hot as", token("temperature", p.hot_k), p.where),
                        given("as much as", token("pressure", p.peak_pa)),
                    ),
                    source="SAE J30 and J20 for hoses; what is printed on it comes first",
                    assumption="pressure and heat as usual for such lines where they are not said",
                ),
                mends=(
                    *[m for m in mends if m is not None],
                    Mend(label="Show the hose", go=f"wire:fit/{hose.id}"),
                ),
                about=(hose.id,),
            )
        if p.unsaid:
            yield Finding(
                id=f"hose-{hose.id}-unsaid",
                level="watch" if not hose.grade else "note",
                title=f"{hose.name}: not judged yet",
                text=f"Nobody has said {', '.join(p.unsaid)}.",
                harm=40 if not hose.grade else 12,
                reason=Reason(
                    title=f"What is not known of {hose.name}",
                    result=", ".join(p.unsaid),
                    formula="a hose is judged by what flows in it, its stuff, bore, ends and way",
                ),
                mends=(Mend(label="Say it", go=f"wire:fit/{hose.id}"),),
                about=(hose.id,),
            )


_HOSE = {
    "medium": "wrong stuff for what flows in it",
    "heat": "too hot for it",
    "pressure": "too much pressure for it",
    "clamps": "no clamps",
    "inside": "runs where people sit",
    "way": "runs where it is worn or burnt",
}


def _hose_mend(job: Job, hose: Hose, key: str, p: HosePlan) -> Mend | None:
    """The edit that puts one trouble of a hose right; None where there is no such."""
    from zombrel.harness.fitting import hoses

    path = f"hoses.{hose.id}"
    if key == "clamps":
        return Mend(label="A clamp at each end", edit=Put(path=f"{path}.clamps", value=True))
    if key in ("way", "inside"):
        free = hoses.quiet_way(job, hose)
        if free and free != hose.via:
            return Mend(
                label="Run it clear of them", edit=Put(path=f"{path}.via", value=list(free))
            )
        return None
    if p.grade:
        edit = Put(path=f"{path}.grade", value=p.grade)
        return Mend(label=f"Take {p.grade}", edit=edit)
    return None


@rule("job", "wire", harm=62, minutes=10)
def thread_does_not_fit(scene: Scene) -> Iterator[Finding]:
    """A sender whose thread is not that of the hole, and no adapter is taken."""
    used = {c.source for c in scene.job.chains}
    for source in scene.job.sources:
        if source.id not in used or not (source.thread and source.port) or source.adapter:
            continue
        yield from _thread(source)


def _thread(source: Source) -> Iterator[Finding]:
    from zombrel.harness.fitting import threads

    f = threads.fit(source.thread, source.port, bool(getattr(source.spec, "one_wire", False)))
    if f.fits:
        return
    yield Finding(
        id=f"thread-{source.id}",
        level="trouble",
        title=f"{source.name} does not go into its hole",
        text=f"{f.why}. {f.adapter.capitalize()} joins them.",
        reason=Reason(
            title=f"Thread of {source.name}",
            result=f.why,
            formula="same outside diameter and pitch; a parallel thread never seals in a taper one",
            given=(given("sender", source.thread), given("hole", source.port)),
            source="ISO 261, ISO 228-1, ISO 7-1, ASME B1.20.1",
        ),
        mends=(
            Mend(
                label="Take the adapter",
                edit=Put(path=f"sources.{source.id}.adapter", value=True),
            ),
            Mend(label="Show its threads", go=f"wire:fit/{source.id}"),
        ),
        about=(source.id,),
    )


@rule("job", "wire", harm=26, minutes=5)
def kit_lacks(scene: Scene) -> Iterator[Finding]:
    """Something that the job needs is not in the kit, once somebody has looked into it."""
    if not scene.job.kit:
        return
    from zombrel.harness.fitting import kit

    lacking = kit.missing(scene.job)
    if not lacking:
        return
    words = [f"{_count(r)} {r.name}" for r in lacking]
    more = f" and {len(words) - NAMED} more" if len(words) > NAMED else ""
    yield Finding(
        id="kit",
        level="watch",
        title=f"The kit lacks {len(lacking)} part{'s' if len(lacking) > 1 else ''}",
        text=f"{'; '.join(words[:NAMED])}{more}. Have them before a panel is off.",
        reason=Reason(
            title="Kit against parts list",
            result=f"{len(lacking)} lacking",
            formula="what the job needs − what was ticked",
            given=tuple(
                given(r.name, f"{r.needed:g} needed, {r.have:g} there") for r in lacking[:12]
            ),
            source="the parts list of this job",
        ),
        mends=(Mend(label="Show the kit", go="wire:fit/kit"),),
    )


def _count(r: KitRow) -> str:
    return f"{r.missing:.1f} m" if r.unit == "m" else f"{r.missing:.0f}"


@rule("job", "wire", harm=14, minutes=3)
def lead_colour_misleads(scene: Scene) -> Iterator[Finding]:
    """A wire has the colour of the device's own lead, which means another thing here."""
    for device in scene.job.devices:
        if not device.sheet.leads:
            continue
        own = dict(device.sheet.leads)
        for wire in scene.job.wires:
            for end, other in ((wire.a, wire.b), (wire.b, wire.a)):
                if end.place == device.id and own.get(end.pin) == wire.colour:
                    why = _means(scene, device, end.pin, wire) or _twin(scene, wire, other.place)
                    if why:
                        yield _colour(device, end.pin, wire, *why)


HOUSE_COLOURS = {f.colour: name for name, f in reversed(FEEDS.items())}
"""What the shop's colours of feeds say: colour -> class of feed."""


def _means(scene: Scene, device: Device, pin: str, wire: Wire) -> tuple[str, str] | None:
    """What a supply lead's colour says in this shop, where the lead is something else."""
    supply = device.sheet.supply(pin)
    if supply is None:
        return None
    says = "ground" if wire.colour == "black" else HOUSE_COLOURS.get(wire.colour, "")
    ground = supply.kind == "ground"
    if not says or says in (("ground",) if ground else supply.feeds):
        return None
    if ground:
        return f"its lead at {pin} is ground, and {wire.colour} here is {says}", "black"
    feed = scene.feeds.get(wire.a.place) or scene.feeds.get(wire.b.place)
    if feed is None and not supply.feeds:
        return None
    stands = feed.feed if feed is not None else supply.feeds[0]
    said = f"its lead at {pin} is {stands}, and {wire.colour} here is {says}"
    return said, FEEDS[stands].colour


def _twin(scene: Scene, wire: Wire, there: str) -> tuple[str, str] | None:
    """Another wire of this colour in the connector that ours goes to."""
    c = scene.connectors.get(there)
    if c is None:
        return None
    joined = {e.pin for e in (wire.a, wire.b) if e.place == there}
    twins = [x for x in c.cavities if face.colour_of(x) == wire.colour and str(x.n) not in joined]
    if not twins:
        return None
    carries = f", {twins[0].circuit}" if twins[0].circuit else ""
    used = {face.colour_of(x) for x in c.cavities}
    free = next((x for x in ("violet", "pink", "orange", "grey", "white") if x not in used), "bare")
    return f"{c.id} has a {wire.colour} wire already: cavity {twins[0].n}{carries}", free


def _colour(device: Device, pin: str, wire: Wire, why: str, usual: str) -> Finding:
    return Finding(
        id=f"lead-colour-{wire.id}",
        level="note",
        title=f"{wire.id}: {wire.colour} means another thing here",
        text=f"{device.name}: {why}. Mark both ends, or let the run have another colour.",
        reason=Reason(
            title=f"Colour of {wire.id}",
            result=why,
            formula="the colour of the device's own lead against the shop's colours and the car's",
            given=(
                given(f"lead at {pin}", wire.colour, "device sheet"),
                given("house rule", "the device's own colours win"),
            ),
            source="rule of the trade: a colour convention is chosen once",
        ),
        mends=(
            Mend(
                label=f"Make the run {usual}", edit=Put(path=f"wires.{wire.id}.colour", value=usual)
            ),
        ),
        wire=wire.id,
    )

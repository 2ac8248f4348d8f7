"""What is to be done on a job, from the job itself: tasks with their place, needs and order."""

from __future__ import annotations

import functools
import itertools
from collections.abc import Callable, Iterable, Iterator, Mapping

import msgspec

from zombrel.catalog.tools import tools
from zombrel.diagnose.gates import road_gate
from zombrel.diagnose.steps import standing, steps
from zombrel.harness.laid import bundles
from zombrel.harness.parts_list import end_joint
from zombrel.harness.route import zone_of
from zombrel.job.figures import WORK, decided, figure
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import House, Job, by_id, index
from zombrel.job.sheet import Frozen
from zombrel.job.wiring import Work, Zone
from zombrel.plan.learn import Factors, factors

NAMED = 4
"""So many wires are named, more are counted."""

HOT_K = figure("hot zone")
"""Zones this much hotter than air are worked in with the engine cold [K]."""
HANDS = ("mount", "stud", "hose", "run", "change", "join", "plug")


class Task(Frozen, frozen=True, kw_only=True):
    """One piece of work at one place."""

    id: str
    kind: str
    title: str
    minutes: float
    zone: str = ""
    """Where the hands are; empty: at the bench."""
    after: tuple[str, ...] = ()
    """Tasks that come first."""
    battery_off: bool | None = None
    """True: only with the battery off; False: only with it on; None: either."""
    lifted: bool = False
    second: bool = False
    """Wants a second person."""
    cure_min: float = 0.0
    """What comes after it must wait so long."""
    caution: str = ""
    tools: tuple[str, ...] = ()
    why: str = ""
    """How the minutes came about."""


@query
def tasks(job: Job, shop: tuple[Work, ...] = ()) -> tuple[Task, ...]:
    """Every task of the laid job, in the order they were thought of, done ones included.

    ``shop`` is what was timed on other jobs: estimates learn from it as from this job's own.
    """
    task = functools.partial(_task, plain(job.house), factors((*job.work, *shop)))
    found = [t for part in (_panels, _bench, _fitting, _joining, _closing) for t in part(job, task)]
    known = {t.id for t in found}
    zones = index(job.zones)
    return tuple([_sorted_out(t, known, zones) for t in found])


def _sorted_out(task: Task, known: set[str], zones: Mapping[str, Zone]) -> Task:
    zone = zones.get(task.zone)
    need = tuple(dict.fromkeys(a for a in task.after if a in known and a != task.id))
    if zone is not None and task.kind not in ("open", "close"):
        opened = f"open {panel_of(zone)}"
        need = (*need, *((opened,) if opened in known and opened not in need else ()))
        if zone.over_ambient_k >= HOT_K and "cool" in known and task.kind in HANDS:
            need = (*need, "cool")
    lifted = task.lifted or (zone is not None and zone.lifted)
    return msgspec.structs.replace(task, after=need, lifted=lifted)


def panel_of(zone: Zone) -> str:
    """What is opened to reach a zone, as an id."""
    return (zone.panel or zone.name).replace(".", " ")


Maker = Callable[..., Task]
"""Makes a task of (kind, key, title, units, …) with its minutes."""


OF = {kind: of for kind, _, _, of in WORK}


def _timed(house: House, learned: Factors, kind: str, units: float) -> tuple[float, str]:
    """Minutes for so many units of a kind, and how they came about."""
    base, own = decided(house.figures, f"minutes, {kind}")
    each, own_each = decided(house.figures, f"minutes, {kind} each")
    factor, count = learned.get(kind, (1.0, 0))
    parts = [f"{base:g}"] if base else []
    parts += [f"{each:g} × {units:g} {OF[kind]}"] if each else []
    said = f"; × {factor:.2f} learned from {count} timed" if count else ""
    by = "house rule" if own or own_each else "catalogue"
    return (base + each * units) * factor, f"{by} {' + '.join(parts)} min{said}"


def _task(
    house: House,
    learned: Factors,
    kind: str,
    key: str,
    title: str,
    units: float = 1,
    **more: object,
) -> Task:
    minutes, why = _timed(house, learned, kind, units)
    return Task(
        id=f"{kind} {key}".strip().replace(".", " "),
        kind=kind,
        title=title,
        minutes=minutes,
        why=why,
        tools=tools()[kind],
        **more,  # type: ignore[arg-type]
    )


def _used_zones(job: Job) -> list[Zone]:
    """Zones the work goes to."""
    used = {z for w in job.wires for z in w.via}
    at = zone_of(job)
    ends = {e.place for w in job.wires for e in (w.a, w.b)} | {c.connector for c in job.changes}
    used |= {at[p] for p in ends if p in at}
    return [z for z in job.zones if z.id in used]


def _panels(job: Job, task: Maker) -> Iterator[Task]:
    seen: dict[str, list[Zone]] = {}
    for zone in _used_zones(job):
        if zone.access_min > 0:
            seen.setdefault(panel_of(zone), []).append(zone)
    for panel, zones in seen.items():
        bag = any(z.airbag for z in zones)
        yield task(
            "open",
            panel,
            f"Open the {panel}",
            zones[0].access_min,
            zone=zones[0].id,
            lifted=any(z.lifted for z in zones),
            battery_off=True if bag else None,
            caution="Airbag here: battery off and the maker's waiting time first." if bag else "",
        )


def _bench(job: Job, task: Maker) -> Iterator[Task]:
    if any(z.over_ambient_k >= HOT_K for z in _used_zones(job)):
        yield task(
            "cool",
            "",
            "Bonnet up, let the engine cool",
            cure_min=40,
            caution="Hot engine; fans can start by themselves.",
        )
    if job.wires:
        yield task(
            "loom", "", f"Cut, mark and lay up {len(job.wires)} wires on the bench", len(job.wires)
        )
    for device in job.devices:
        if device.sheet.controls or any(i.setting for i in device.sheet.inputs):
            count = len(device.sheet.controls) + sum(bool(i.setting) for i in device.sheet.inputs)
            yield task("set", device.id, f"Set the {device.name} as the sheet says", count)


def _fitting(job: Job, task: Maker) -> Iterator[Task]:
    at = zone_of(job)
    for device in job.devices:
        if any(device.id in (w.a.place, w.b.place) for w in job.wires):
            yield task(
                "mount",
                device.id,
                f"Mount the {device.name}",
                zone=at.get(device.id, ""),
                after=(f"set {device.id}",),
                caution="Look behind first; a stop on the drill."
                if device.mount.how in ("screws", "hole")
                else "",
            )
    yield from _hoses(job, task)
    used = {e.place for w in job.wires for e in (w.a, w.b)}
    for stud in job.studs:
        if stud.id in used:
            yield task(
                "stud",
                stud.id,
                f"Clean {stud.name} to bright metal",
                zone=at.get(stud.id, ""),
                battery_off=True,
                cure_min=15,
            )
    zones = index(job.zones)
    for b in bundles(job):
        names = f"{zones[b.a].name} to {zones[b.b].name}"
        hot = zones[b.a].moving or zones[b.b].moving
        yield task(
            "run",
            b.way,
            f"Run {_some(b.wires)} from {names}",
            b.length_m,
            zone=b.a,
            after=("loom", *(f"open {panel_of(zones[z])}" for z in (b.a, b.b))),
            second=b.hole_mm > 0,
            lifted=zones[b.b].lifted,
            battery_off=True if b.hole_mm else None,
            caution="A conductive fish wire can touch live parts: battery off, plastic rod."
            if b.hole_mm
            else "Keep clear of what moves there."
            if hot
            else "",
        )


def _hoses(job: Job, task: Maker) -> Iterator[Task]:
    """Each hose where it begins: what comes first before its line is opened is its caution."""
    if not job.hoses:
        return
    # most jobs have none, and the first frame waits for imports
    from zombrel.harness.fitting import hoses

    for hose in job.hoses:
        p = hoses.plan(job, hose)
        yield task(
            "hose",
            hose.id,
            f"Lay {hose.name}",
            max(1.0, p.length_m),
            zone=p.via[0] if p.via else "",
            after=tuple(f"open {panel_of(z)}" for z in job.zones if z.id in p.via),
            battery_off=True if hose.medium in hoses.BURNS else None,
            caution=p.steps[0],
        )


def _some(ids: Iterable[str]) -> str:
    names = list(ids)
    return ", ".join(names) if len(names) <= NAMED else f"{len(names)} wires"


def _joining(job: Job, task: Maker) -> Iterator[Task]:
    at = zone_of(job)
    devices = index(job.devices)
    changed = {(c.wire, c.connector) for c in job.changes}
    for change in job.changes:
        wire = by_id(job.wires, change.wire)
        name = change.kind
        ours = f" for {change.wire}" if change.wire else ""
        yield task(
            "change",
            change.id,
            f"{name.capitalize()} at {change.connector} cavity {change.cavity}{ours}",
            zone=at.get(change.connector, ""),
            battery_off=True,
            after=_runs_of(wire.via if wire else ()),
            caution="Control-unit connectors are parted only with the battery off.",
        )
    places: dict[str, list[str]] = {}
    for wire in job.wires:
        for end in (wire.a, wire.b):
            if end.place not in devices and (wire.id, end.place) not in changed:
                places.setdefault(end.place, []).append(wire.id)
    for place, held in places.items():
        yield _join(job, task, place, held, at.get(place, ""))
    for device in job.devices:
        wires = [w for w in job.wires if device.id in (w.a.place, w.b.place)]
        if wires:
            need = [f"mount {device.id}", *(r for w in wires for r in _runs_of(w.via))]
            yield task(
                "plug",
                device.id,
                f"Wire the plug of the {device.name}",
                len(wires),
                zone=at.get(device.id, ""),
                after=tuple(need),
            )


def _runs_of(via: tuple[str, ...]) -> tuple[str, ...]:
    """Tasks that lay a run along ``via``, whichever way round the way is written."""
    pairs = itertools.pairwise(via)
    return ("loom", *(f"run {x}" for a, b in pairs for x in (f"{a}-{b}", f"{b}-{a}")))


def _join(job: Job, task: Maker, place: str, held: list[str], zone: str) -> Task:
    wires = [w for w in job.wires if w.id in held]
    stud, feed = by_id(job.studs, place), by_id(job.feeds, place)
    named = stud or feed or by_id(job.sources, place) or by_id(job.connectors, place)
    name = named.name if named is not None else place
    how = end_joint(job, wires[0], next(e for e in (wires[0].a, wires[0].b) if e.place == place))
    last = feed is not None
    return task(
        "join",
        place,
        f"Join {_some(held)} at {name}: {how.words}",
        len(held),
        zone=zone,
        after=(
            *(r for w in wires for r in _runs_of(w.via)),
            f"stud {place}",
            *((f"plug {e.place}" for w in wires for e in (w.a, w.b)) if last else ()),
        ),
        battery_off=True,
        caution="Fuse out until the power-up." if last else "",
    )


def _closing(job: Job, task: Maker) -> Iterator[Task]:
    if not job.wires:
        return
    work = [t.id for t in (*_fitting(job, task), *_joining(job, task))]
    yield task(
        "probe",
        "",
        "Probe every conductor end to end, then its neighbours",
        len(job.wires),
        after=tuple(work),
        battery_off=True,
    )
    fused = sum(w.fuse_a is not None for w in job.wires)
    yield task(
        "power",
        "",
        "Fuses in one at a time, volts at every plug",
        fused,
        after=("probe", *(f"set {d.id}" for d in job.devices)),
        battery_off=False,
        caution="Hands and tools clear; one fuse at a time, feel for heat.",
    )
    proofs = []
    for step in steps(job):
        if standing(job, step) == "passed":
            continue
        key = f"prove {step.id}".replace(".", " ")
        proofs.append(key)
        yield task(
            "prove",
            step.id,
            f"Prove: {step.short}",
            after=("power",),
            battery_off=False,
            caution="What holds it back must be proven before the wheels turn under power."
            if step.gate
            else "",
        )
    opened = list(_panels(job, task))
    for panel in opened:
        name = panel.id.removeprefix("open ")
        yield task(
            "close",
            name,
            f"Close the {name}",
            next((z.access_min for z in job.zones if z.id == panel.zone), 0.0),
            zone=panel.zone,
            after=(*work, "probe", "power", *proofs),
            lifted=panel.lifted,
        )
    if any(c.quantity == "speed" for c in job.chains):
        gate = road_gate(job)
        yield task(
            "road",
            "",
            "Road test, satellite speed against shown speed",
            after=(*proofs, *(f"close {p.id.removeprefix('open ')}" for p in opened)),
            battery_off=False,
            second=True,
            caution=gate or "A helper drives or reads, never one person both.",
        )

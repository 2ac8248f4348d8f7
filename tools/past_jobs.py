"""Short past jobs of the shop for the job book, all made up; seeded, so always the same.

Each is one of the demo jobs with what was not fitted taken out, settled, and with what it left:
times, lessons, what came up. Titles of what came up are those the rules give.
"""

from __future__ import annotations

import random
from pathlib import Path

import job_0409
import job_0412
import job_0413
import msgspec
from demo_parts import known

from zombrel.actions.parts import remove_device, remove_wire
from zombrel.actions.signals import remove_source
from zombrel.findings.settle import settle
from zombrel.harness.laid import laid
from zombrel.job import model as m
from zombrel.job import wiring as w
from zombrel.job.edits import Put, apply
from zombrel.job.records.lesson import Lesson, Met
from zombrel.job.records.outing import Outing
from zombrel.plan.tasks import tasks
from zombrel.units import KMH

Trouble = tuple[str, str, str]


class Past(msgspec.Struct, frozen=True):
    """What one past job was."""

    number: str
    vehicle: str
    owner: str
    base: str
    """The demo job it is made from."""
    fitted: tuple[str, ...]
    """Devices of that job that were fitted here."""
    chassis: int
    day: str
    lessons: tuple[tuple[str, str], ...] = ()
    """(what, about what)"""
    came_up: tuple[Trouble, ...] = ()
    causes: tuple[tuple[str, str, str], ...] = ()
    """(cause, in words, sheet of the device)"""
    facts: tuple[tuple[str, object], ...] = ()
    """Facts of the vehicle that differ."""
    pins: tuple[tuple[str, int, str, str, m.Rung], ...] = ()
    """(connector, cavity, colour, circuit, how it is known)"""
    road: tuple[str, int, float] | None = None
    """Where the pace unit ended: dials, divider, scale of what it showed."""
    slow: float = 1.0
    """How much longer it all took than planned."""


DUNLIN = (("tyre", "175/65 R14"), ("final_drive", 3.94), ("cylinders", 4), ("lamps", "filament"))
PLOVER = (("tyre", "225/55 R16"), ("final_drive", 3.31), ("mass_kg", 1650), ("lamps", "led"))
PASTS = msgspec.json.decode(Path(__file__).with_suffix(".json").read_bytes(), type=list[Past])
"""In the order of their numbers."""


def made(past: Past) -> m.Job:
    """The job as it was handed over."""
    rng = random.Random(int(past.number))
    base = {"0409": job_0409, "0412": job_0412, "0413": job_0413}[past.base].job()
    job = msgspec.structs.replace(
        base,
        number=past.number,
        title=f"{past.vehicle.removeprefix('Brackwell ')}, {past.owner}",
        begun=past.day,
        photos=(),
        wishes=(),
        changes=(),
        notes="",
        ledger=tuple(x for x in base.ledger if not x.path.startswith("devices.")),
    )
    differ = {"name": past.vehicle, "owner": past.owner, "chassis": past.chassis} | dict(past.facts)
    for name, value in differ.items():
        job = apply(job, Put(path=f"vehicle.{name}", value=value))
    gone = {d.id for d in job.devices} - set(past.fitted)
    for d in job.devices:
        if d.id in gone:
            job = apply(job, remove_device(job, d))
    used = {c.source for c in job.chains}
    for x in job.wires:
        if {x.a.place, x.b.place} & gone:
            job = apply(job, remove_wire(job, x.id))
    for source in job.sources:
        if source.id not in used:
            job = apply(job, remove_source(job, source))
    ends = {e.place for x in job.wires for e in (x.a, x.b)}
    job = msgspec.structs.replace(job, feeds=tuple(f for f in job.feeds if f.id in ends))
    job, _ = settle(_pinned(job, past))
    return _left(job, past, rng)


def _pinned(job: m.Job, past: Past) -> m.Job:
    """Connectors with what was counted on that car; without pins of its own a job has none."""
    if not past.pins:
        ends = {e.place for x in job.wires for e in (x.a, x.b)}
        return msgspec.structs.replace(
            job, connectors=tuple(c for c in job.connectors if c.id in ends)
        )
    pins = {n: (colour, circuit, rung) for _, n, colour, circuit, rung in past.pins}
    plug = w.Connector(
        id="D2",
        name="Dash connector D2",
        rows=4,
        columns=10,
        key="lever end",
        cavities=tuple(
            w.Cavity(n=n, colour=c, circuit=k, seen="wire", known=r)
            for n, (c, k, r) in sorted(pins.items())
        ),
    )
    others = tuple(c for c in job.connectors if c.id != "D2")
    return msgspec.structs.replace(job, connectors=(plug, *others))


def _left(job: m.Job, past: Past, rng: random.Random) -> m.Job:
    """With what it left behind: times, lessons, troubles, the road, who handed it over."""
    work = []
    zones = {z.id: z.name for z in job.zones}
    for t in tasks(laid(job)):
        if t.minutes >= 1:
            took = t.minutes * past.slow * rng.lognormvariate(0.0, 0.18)
            work.append(
                w.Work(
                    id=t.id,
                    kind=t.kind,
                    minutes=round(took),
                    planned=round(t.minutes, 1),
                    zone=zones.get(t.zone, ""),
                )
            )
    met = [
        Met(id=code, code=code, title=title, device=sheet, when=past.day)
        for code, title, sheet in past.came_up
    ]
    met += [
        Met(id=f"cause {c}", kind="cause", code=c, title=title, device=sheet, when=past.day)
        for c, title, sheet in past.causes
    ]
    job = msgspec.structs.replace(
        job,
        work=tuple(work),
        met=tuple(met),
        lessons=tuple(
            Lesson(id=f"L{i}", text=text, at=at, when=past.day)
            for i, (text, at) in enumerate(past.lessons, 1)
        ),
        road=(_run(past, rng),) if past.road else (),
        outing=Outing(signed="bay 1", signed_when=past.day),
    )
    if past.road:
        at, by, _ = past.road
        pace = next(d for d in job.devices if d.id == "pace")
        job = apply(job, Put(path=f"devices.{pace.id}.settings.SPEED.at", value=at))
        hops = () if by == 1 else ({"type": "divider", "by": by},)
        job = apply(job, Put(path="chains.speed-pace.hops", value=list(hops)))
        job = known(
            job, ((f"devices.{pace.id}.settings.SPEED.at", "proven", "the road"),), past.day
        )
    return job


def _run(past: Past, rng: random.Random) -> m.RoadRun:
    """Three steady speeds against the satellite."""
    assert past.road is not None  # the caller asks only for those
    at, by, scale = past.road
    true = [v * KMH for v in (60, 80, 100) for _ in range(70)]
    shown = [round(v * scale / KMH + rng.gauss(0, 0.2)) * KMH for v in true]
    return m.RoadRun(
        id="R1",
        name="Ring road",
        device="pace",
        pin="SPEED",
        set_to=at,
        behind=by,
        when=past.day,
        t=tuple(float(i) for i in range(len(true))),
        true=tuple(round(v + rng.gauss(0, 0.03), 3) for v in true),
        shown=tuple(round(v, 4) for v in shown),
    )


def jobs() -> list[m.Job]:
    """All of them."""
    return [made(past) for past in PASTS]

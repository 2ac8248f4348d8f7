"""Everything of one job that is worth finding again."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Literal

import msgspec

from zombrel.actions.begin import name_of
from zombrel.actions.photos import place_words
from zombrel.book.entry import Entry, Happened, Summary, Timed
from zombrel.book.times import clock
from zombrel.diagnose.misread.complaints import COMPLAINTS
from zombrel.findings.roadwork import fit_run, stood_words
from zombrel.harness.ends import end_words
from zombrel.harness.plugs import face
from zombrel.job.ledger import RANK, provenances
from zombrel.job.model import Divider, Job, RoadRun, Rung, Setting, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Takes
from zombrel.job.source import Source
from zombrel.job.wiring import Work
from zombrel.signals.inputs import INPUTS
from zombrel.signals.reduce import box_for, emission
from zombrel.units import rate_token
from zombrel.units.measure import area_of, length_of, token

FEW = 6
"""So many pairs of a curve are written; all of them are in the job."""


def summary(job: Job) -> Summary:
    """What tells it from the others."""
    return Summary(
        number=job.number,
        title=job.title or title_of(job),
        vehicle=job.vehicle.name,
        owner=job.vehicle.owner,
        devices=tuple((d.sheet.id, d.name) for d in job.devices),
        begun=job.begun,
        due=job.due,
        state=_state(job),
        synthetic=job.synthetic,
    )


def title_of(job: Job) -> str:
    """What a job without a title is called: what goes into which vehicle."""
    return name_of(msgspec.structs.replace(job, number=""))


def _state(job: Job) -> str:
    """``open`` until it is handed over, or at least driven and signed off."""
    if job.seals:
        return f"handed over by {job.seals[-1].who}, {job.seals[-1].when[:10]}"
    if job.outing.signed:
        return f"signed off by {job.outing.signed}, {job.outing.signed_when[:10]}"
    return "open"


How = Callable[[str], Rung | None]
"""How a path of the job is known."""


def entries(job: Job) -> tuple[Entry, ...]:
    """All of them, in the order of the work."""
    how = provenances(job)
    return (
        *_vehicle(job),
        *_devices(job),
        *_pins(job, how),
        *_feeds(job, how),
        *_sources(job, how),
        *_settings(job, how),
        *_routes(job, how),
        *_times(job),
        *_troubles(job),
        *_words(job),
    )


def _vehicle(job: Job) -> Iterator[Entry]:
    v = job.vehicle
    if not v.name:
        return
    facts = (
        f"{v.cylinders} cylinders" if v.cylinders else "",
        f"{v.ignition}" if v.ignition else "",
        f"{v.gearbox}" if v.gearbox else "",
        f"final drive {v.final_drive:g}" if v.final_drive else "",
        f"tyres {v.tyre}" if v.tyre else "",
        f"chassis {v.chassis}" if v.chassis else "",
        f"{v.system_v} V",
        v.split_note,
    )
    yield Entry("vehicle", ", ".join((v.name, *(f for f in facts if f))), "", "vehicle")


def _devices(job: Job) -> Iterator[Entry]:
    zones = index(job.zones)
    for d in job.devices:
        where = f", {zones[d.zone].name}" if d.zone in zones else ""
        text = f"{d.name}, {d.sheet.maker} {d.sheet.model}{where}"
        yield Entry("device", text, "", f"devices.{d.id}")


def _pins(job: Job, how: How) -> Iterator[Entry]:
    for c in job.connectors:
        rung = how(f"connectors.{c.id}.cavities")
        for cavity in c.cavities:
            words = (face.colour_of(cavity), cavity.circuit, cavity.kind)
            said = ", ".join(x for x in words if x)
            if said:
                name = cavity.mark or str(cavity.n)
                text = f"{c.id} cavity {name}: {said} ({c.name})"
                known = cavity.known or rung or ""
                yield Entry("pin-out", text, known, f"connectors.{c.id}.{cavity.n}")


def _feeds(job: Job, how: How) -> Iterator[Entry]:
    for f in job.feeds:
        words = (
            f"fuse {f.fuse_a:g} A" if f.fuse_a else "",
            f"marked {f.marked_a:g} A" if f.marked_a else "",
            f"{area_of(f.wire_mm2)} behind it" if f.wire_mm2 else "",
            f.hangs,
        )
        text = ", ".join((f"{f.name}: {f.feed}", *(w for w in words if w)))
        yield Entry("feed", text, how(f"feeds.{f.id}.feed") or "", f"feeds.{f.id}")


def _sources(job: Job, how: How) -> Iterator[Entry]:
    for s in job.sources:
        words = (QUANTITIES[s.quantity].title.lower(), _rate(job, s), s.place, s.access)
        text = ", ".join((s.name, *(w for w in words if w)))
        yield Entry("source", text, _known(job, how, f"sources.{s.id}"), f"sources.{s.id}")
        points = getattr(s.spec, "points", ())
        if points:
            kind = QUANTITIES[s.quantity].kind
            electrical = INPUTS[_takes(job, s)].unit
            said = "; ".join(f"{token(kind, x)} {y:g} {electrical}" for x, y in points[:FEW])
            more = f" and {len(points) - FEW} more" if len(points) > FEW else ""
            path = f"sources.{s.id}.spec.points"
            text = f"{s.name}: {said}{more}"
            yield Entry("curve", text, how(path) or "", path)


def _rate(job: Job, source: Source) -> str:
    """Pulses per distance or turn, where it gives any that can be told."""
    try:
        rate = emission(source, job.vehicle, box_for(job, source)).rate
    except Problem:
        return ""
    if not rate:
        return ""
    if source.quantity == "speed":
        return rate_token(rate)
    return f"{rate:.4g} per rev" if source.quantity == "tach" else ""


def _takes(job: Job, source: Source) -> Takes:
    """What the input that it is joined to reads, else ohms."""
    for chain in job.chains:
        device = by_id(job.devices, chain.device)
        sheet = device.sheet.input(chain.pin) if chain.source == source.id and device else None
        if sheet is not None and sheet.takes in INPUTS:
            return sheet.takes
    return "ohm"


def _known(job: Job, how: How, path: str) -> Rung | Literal[""]:
    """The best that is known of anything below a path."""
    below = (line.path for line in job.ledger if line.path.startswith(f"{path}."))
    known: list[Rung] = [r for r in (how(p) for p in below) if r is not None]
    if not known:
        return ""
    return max(known, key=RANK.__getitem__)


def _settings(job: Job, how: How) -> Iterator[Entry]:
    sources = index(job.sources)
    for d in job.devices:
        for setting in d.settings:
            chain = next((c for c in job.chains if (c.device, c.pin) == (d.id, setting.pin)), None)
            by = next((h.by for h in chain.hops if isinstance(h, Divider)), 1) if chain else 1
            behind = f" behind ÷{by}" if by > 1 else ""
            source = f" from {sources[chain.source].name}" if chain else ""
            text = (
                f"{d.name} {setting.pin}: {setting.at}{behind}{source}{_road(job, d.id, setting)}"
            )
            path = f"devices.{d.id}.settings.{setting.pin}"
            yield Entry("setting", text, how(f"{path}.at") or "", path)


def _road(job: Job, device: str, setting: Setting) -> str:
    """What the road said of a setting, where it was driven as it stands."""
    pin, at = setting.pin, setting.at
    for run in reversed(job.road):
        if (run.device, run.pin, run.set_to) != (device, pin, at):
            continue
        try:
            fit = fit_run(run)
        except Problem:
            continue
        return f"; road: scale {fit.scale:.3f} from {fit.used} points"
    return ""


def _routes(job: Job, how: How) -> Iterator[Entry]:
    names = {z.id: z.name for z in job.zones}
    for w in job.wires:
        if len(w.via) > 1:
            way = " > ".join(names.get(z, z) for z in w.via)
            ends = f"{end_words(job, w.a)} to {end_words(job, w.b)}"
            text = (
                f"{w.id} {w.colour}, {ends}: {way}, {length_of(w.length_m)}, {area_of(w.area_mm2)}"
            )
            known = how(f"wires.{w.id}.length_m") or ""
            yield Entry("route", text, known, f"wires.{w.id}.via")


def _times(job: Job) -> Iterator[Entry]:
    """By kind of task; those with a note by themselves."""
    kinds: dict[str, list[Work]] = {}
    for w in job.work:
        if w.state == "done" and w.minutes:
            kinds.setdefault(w.kind, []).append(w)
            if w.note:
                text = f"{w.id}: {w.minutes:.0f} min: {w.note}"
                yield Entry("time", text, "measured", f"work.{w.id}")
    for kind, done in kinds.items():
        took, planned = sum(w.minutes or 0 for w in done), sum(w.planned or 0 for w in done)
        many = "once" if len(done) == 1 else f"{len(done)} times"
        text = f"{kind}, {many}: {clock(took)}, planned {clock(planned)}"
        yield Entry("time", text, "measured", f"work.{done[0].id}")


def _troubles(job: Job) -> Iterator[Entry]:
    names = {d.sheet.id: d.name for d in job.devices}
    spoken = {c.key: c.words for c in COMPLAINTS}
    for m in job.met:
        about = f" ({names[m.device]})" if m.device in names else ""
        yield Entry(m.kind, f"{m.title}{about}", "proven", f"met.{m.id}")
    for search in job.searches:
        said = ", ".join(spoken.get(c, c) for c in search.said)
        if said:
            chain = by_id(job.chains, search.id)
            about = f"{chain.title}: " if chain is not None else ""
            yield Entry("symptom", f"{about}{said}", "", f"searches.{search.id}")


def _words(job: Job) -> Iterator[Entry]:
    for lesson in job.lessons:
        source = f" (from {lesson.source})" if lesson.source else ""
        known: Rung = "other car" if lesson.source else "proven"
        yield Entry("lesson", f"{lesson.text}{source}", known, f"lessons.{lesson.id}")
    for photo in job.photos:
        words = (photo.note, *(m.words for m in photo.marks))
        said = ", ".join(x for x in (place_words(job, photo.at), *words) if x)
        yield Entry("photo", said, "measured", f"photos.{photo.id}")
    if job.notes:
        yield Entry("lesson", job.notes, "", "notes")


def timed(job: Job) -> tuple[Timed, ...]:
    """What was timed, by kind of task and zone."""
    return tuple(
        Timed(w.kind, w.zone, w.minutes, w.planned)
        for w in job.work
        if w.state == "done" and w.minutes and w.planned
    )


def happened(job: Job) -> tuple[Happened, ...]:
    """What came up, what misreadings came from, what the road ended at."""
    found = [Happened(m.kind, m.code, m.title, m.device) for m in job.met]
    for run in job.road:
        device = by_id(job.devices, run.device)
        if device is not None and run is last_run(job, run.device, run.pin):
            stood = stood_words(run.set_to, run.behind)
            title = f"{device.name} {run.pin} ended at {stood}"
            found.append(Happened("setting", f"{run.pin} {stood}", title, device.sheet.id))
    return tuple(found)


def last_run(job: Job, device: str, pin: str) -> RoadRun | None:
    """The newest run of a device's input on the road."""
    return next((r for r in reversed(job.road) if (r.device, r.pin) == (device, pin)), None)

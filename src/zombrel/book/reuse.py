"""What another job knows, taken over into this one: never known better than from another car."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal, TypeVar

import msgspec

from zombrel.actions.begin import likeness
from zombrel.actions.lessons import add_lesson
from zombrel.actions.parts import free_name
from zombrel.actions.plugs.library import Offer, take
from zombrel.book.entry import SAME_MODEL
from zombrel.harness.plugs import face
from zombrel.job.edits import Add, Edit, Put, together
from zombrel.job.ledger import MEANING, RANK, evidence, provenance
from zombrel.job.model import Device, Evidence, Job, Rung, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.wiring import Cavity

Known = Rung | Literal[""]
T = TypeVar("T", bound=Any)
BEST: Rung = "other car"
LEAST = {"notes": 1, "devices": 4}
"""Steps of a path that is taken over: a device's setting, not the device."""
DEEP = 3
"""Steps of a path to a cavity: connectors, which one, which cavity."""


def lowered(known: Known) -> Rung:
    """How something is known here that was known so on another car."""
    if known and RANK[known] < RANK[BEST]:
        return known
    return BEST


def note_of(here: Job, there: Job, known: Known) -> str:
    """``counted on 0398, another car, same side of the split: count it``"""
    how = MEANING[known].removesuffix(" on this car") if known else "known"
    number = there.number or there.title or "another job"
    alike = likeness(here.vehicle.name, there.vehicle.name) >= SAME_MODEL
    model = "" if alike or not here.vehicle.name else ", another model"
    return f"{how} on {number}, another car{model}{_split(here, there)}: count it"


def _split(here: Job, there: Job) -> str:
    """Whether both cars lie on the same side of a split of the model's years."""
    split = here.vehicle.split_chassis or there.vehicle.split_chassis
    mine, other = here.vehicle.chassis, there.vehicle.chassis
    if split is None or mine is None or other is None:
        return ""
    same = (mine >= split) == (other >= split)
    return ", same side of the split" if same else ", THE OTHER SIDE OF THE SPLIT"


def use(here: Job, there: Job, at: str, when: str = "") -> Edit:
    """What stands at ``at`` in the job ``there``, for this job.

    Raises:
        Problem: it is not there, cannot be taken over, or this job has no place for it.
    """
    part = at.partition(".")[0]
    if at.endswith(".spec.points"):
        return _curve(here, there, at, when)
    taker, steps = _TAKERS.get(part), at.split(".")
    if taker is None or len(steps) < LEAST.get(part, 2):
        raise Problem(f"“{at}” is only to be looked at: it is not taken over.")
    return taker(here, there, steps, when)


def _there(things: tuple[T, ...], key: str, what: str, there: Job) -> T:
    found = by_id(things, key)
    if found is None:
        raise Problem(f"Job {there.number} has no {what} “{key}” any more: index the book anew.")
    return found


def _line(here: Job, there: Job, path: str, known: Known, when: str, value: object) -> Add:
    note = note_of(here, there, known)
    return evidence(here, path, lowered(known), note, when, value=value)


def _pins(here: Job, there: Job, steps: list[str], when: str) -> Edit:
    """A cavity into a connector that is there, else the whole connector."""
    c = _there(there.connectors, steps[1], "connector", there)
    mine = by_id(here.connectors, steps[1])
    rung = provenance(there, f"connectors.{c.id}.cavities") or ""
    if mine is None or len(steps) < DEEP:
        where = f"job {there.number}, {there.vehicle.name}{_split(here, there)}"
        return take(here, Offer(c, where, rung, 0), when)
    old = face.cavity(c, int(steps[2]))
    if old is None:
        raise Problem(f"Job {there.number} says nothing of {steps[1]} cavity {steps[2]} any more.")
    if face.cavity(mine, old.n) is None and old.n not in {p.n for p in face.places(mine)}:
        raise Problem(f"{mine.id} has no cavity {old.n} on this car: look at the connector first.")
    known = old.known or rung
    paper = Cavity(
        n=old.n,
        colour=face.colour_of(old),
        circuit=old.circuit,
        kind=old.kind,
        mark=old.mark,
        known=lowered(known),
    )
    now = face.cavity(mine, old.n)
    if now is not None:
        paper = msgspec.structs.replace(
            paper, seen=now.seen, seen_colour=now.seen_colour, area_mm2=now.area_mm2
        )
    others = tuple(x for x in mine.cavities if x.n != old.n)
    cavities = tuple(sorted((*others, paper), key=lambda x: x.n))
    path = f"connectors.{mine.id}.cavities"
    return Put(path=path, value=msgspec.to_builtins(cavities))


def _feed(here: Job, there: Job, steps: list[str], when: str) -> Edit:
    feed = _there(there.feeds, steps[1], "feed", there)
    if by_id(here.feeds, steps[1]) is not None:
        raise Problem(f"This job has a feed {steps[1]} already: look at it in Wire, Power.")
    path = f"feeds.{steps[1]}.feed"
    known = provenance(there, path) or ""
    line = _line(here, there, path, known, when, feed.feed)
    return together(Add(path="feeds", value=msgspec.to_builtins(feed)), line)


def _source(here: Job, there: Job, steps: list[str], when: str) -> Edit:
    source = _there(there.sources, steps[1], "source", there)
    if any(s.spec == source.spec and s.name == source.name for s in here.sources):
        raise Problem(f"This job has “{source.name}” already.")
    key = free_name(steps[1], index(here.sources))
    zone = source.zone if by_id(here.zones, source.zone) is not None else ""
    fresh = msgspec.structs.replace(source, id=key, zone=zone)
    edits: list[Add | Put] = [Add(path="sources", value=msgspec.to_builtins(fresh))]
    job = here
    for line in there.ledger:
        if line.path.startswith(f"sources.{steps[1]}.") and provenance(there, line.path):
            path = line.path.replace(f"sources.{steps[1]}.", f"sources.{key}.", 1)
            told = _line(job, there, path, line.rung, when, _field(fresh, path))
            edits.append(told)
            job = msgspec.structs.replace(
                job, ledger=(*job.ledger, msgspec.convert(told.value, Evidence))
            )
    return together(*edits)


def _field(thing: Any, path: str) -> Any:
    for step in path.split(".")[2:]:
        thing = getattr(thing, step)
    return thing


def _curve(here: Job, there: Job, at: str, when: str) -> Edit:
    """The pairs of a sender, for this job's sender of the same kind."""
    key = at.split(".")[1]
    source = _there(there.sources, key, "source", there)
    alike = [
        s
        for s in here.sources
        if s.quantity == source.quantity and type(s.spec) is type(source.spec)
    ]
    if not alike:
        return _source(here, there, ["sources", key], when)
    mine = by_id(tuple(alike), key) or alike[0]
    path = f"sources.{mine.id}.spec.points"
    points = getattr(source.spec, "points", ())
    if getattr(mine.spec, "points", ()) == points:
        raise Problem(f"{mine.name} has these pairs already.")
    line = _line(here, there, path, provenance(there, at) or "", when, points)
    return together(Put(path=path, value=msgspec.to_builtins(points)), line)


def _setting(here: Job, there: Job, steps: list[str], when: str) -> Edit:
    """Where a device stood, for the same kind of device here."""
    device = _there(there.devices, steps[1], "device", there)
    mine = _same(here, device)
    setting = next((s for s in device.settings if s.pin == steps[3]), None)
    if setting is None:
        raise Problem(f"Job {there.number} has no setting for {steps[3]} any more.")
    path = f"devices.{mine.id}.settings.{setting.pin}"
    known = provenance(there, f"{at_of(steps)}.at") or ""
    old = mine.setting(setting.pin)
    if old == setting.at:
        raise Problem(f"{mine.name} {setting.pin} stands at {setting.at} already.")
    value = msgspec.to_builtins(setting)
    put: Add | Put = Put(path=path, value=value)
    if old is None:
        put = Add(path=f"devices.{mine.id}.settings", value=value)
    return together(put, _line(here, there, f"{path}.at", known, when, setting.at))


def at_of(steps: list[str]) -> str:
    """Steps as a path again."""
    return ".".join(steps)


def _same(here: Job, device: Device) -> Device:
    mine = next((d for d in here.devices if d.sheet.id == device.sheet.id), None)
    if mine is None:
        raise Problem(f"This job has no {device.sheet.maker} {device.sheet.model} to set so.")
    return mine


def _route(here: Job, there: Job, steps: list[str], when: str) -> Edit:
    """The way of a wire, for the wire here that joins the same places."""
    wire = _there(there.wires, steps[1], "wire", there)
    names = {z.id: z.name for z in there.zones}
    mine = {z.name: z.id for z in here.zones}
    lacks = [names[z] for z in wire.via if names.get(z) not in mine]
    if lacks:
        raise Problem(f"The plan of this car has no {', '.join(lacks)}: draw it in Wire, Plan.")
    ends = {_kind_of(there, e.place) for e in (wire.a, wire.b)}
    fits = next(
        (w for w in here.wires if {_kind_of(here, e.place) for e in (w.a, w.b)} == ends), None
    )
    if fits is None:
        raise Problem(f"No wire of this job joins what {steps[1]} joins there.")
    via = tuple(mine[names[z]] for z in wire.via)
    path = f"wires.{fits.id}.via"
    known = provenance(there, f"wires.{steps[1]}.length_m") or ""
    line = _line(here, there, path, known, when, via)
    return together(Put(path=path, value=list(via)), line)


def _kind_of(job: Job, place: str) -> str:
    """What an end is, so that it is known again on another job: the device's sheet, or its id."""
    device = by_id(job.devices, place)
    return device.sheet.id if device is not None else place


def _lesson(here: Job, there: Job, steps: list[str], when: str) -> Edit:
    number = there.number or there.title
    if steps[0] == "notes":
        return add_lesson(here, there.notes, when=when, source=number)
    if steps[0] == "met":
        met = _there(there.met, at_of(steps[1:]), "trouble", there)
        return add_lesson(here, f"Look out for: {met.title}", when=when, source=number)
    if steps[0] == "work":
        done = _there(there.work, at_of(steps[1:]), "task", there)
        text = f"{done.id} took {done.minutes:.0f} min there"
        return add_lesson(here, text, when=when, source=number)
    lesson = _there(there.lessons, steps[1], "lesson", there)
    return add_lesson(here, lesson.text, lesson.at, when, number)


_TAKERS: dict[str, Callable[[Job, Job, list[str], str], Edit]] = {
    "connectors": _pins,
    "feeds": _feed,
    "sources": _source,
    "devices": _setting,
    "wires": _route,
    "lessons": _lesson,
    "met": _lesson,
    "work": _lesson,
    "notes": _lesson,
}

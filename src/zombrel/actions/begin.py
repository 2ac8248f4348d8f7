"""How a job begins: sources for its inputs, facts of a like vehicle, a name of its own."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from zombrel.actions.parts import free_name
from zombrel.behaviour.questions import Question, questions
from zombrel.job.edits import Add, Edit, Many, Put
from zombrel.job.follow.query import aside
from zombrel.job.ledger import evidence
from zombrel.job.model import Chain, Device, Job, by_id, index
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import InputSheet, Quantity
from zombrel.job.source import GearboxSensor, Source
from zombrel.job.value import Value
from zombrel.signals.begin import chain_from
from zombrel.signals.finder import Candidate, candidates


class Taken(Value, frozen=True):
    """A source that was chosen for an input."""

    device: str
    pin: str
    source: str
    why: str


class Answer(Value, frozen=True):
    """A fact that refuses a source, put otherwise."""

    words: str
    edit: Edit


class Refused(Value, frozen=True):
    """An input that nothing offered serves, with what was refused and why."""

    device: str
    pin: str
    quantity: Quantity
    required: bool
    reasons: tuple[str, ...]
    """One for each source that was weighed: its name and why not; empty: none was offered."""
    where: str
    """Where the first of the reasons is mended."""
    answers: tuple[Answer, ...] = ()


class Offer(Value, frozen=True):
    """The best source for every input that has none."""

    edit: Edit | None
    """All of it as one edit; None when nothing can be taken."""
    taken: tuple[Taken, ...]
    refused: tuple[Refused, ...]


def best_for_all(job: Job) -> Offer:
    """The best source for every input without one, as one edit, and what could not be served."""
    have = {(c.device, c.pin) for c in job.chains}
    edits: list[Add] = []
    taken: list[Taken] = []
    refused: list[Refused] = []
    names = set(index(job.chains))
    for device in job.devices:
        for sheet in device.sheet.inputs:
            if (device.id, sheet.pin) in have:
                continue
            ranked = candidates(job, device, sheet)
            best = next((c for c in ranked if c.possible), None)
            if best is None:
                refused.append(_refused(job, device, sheet, ranked))
                continue
            chain = _named(names, chain_from(job, device, sheet, best))
            edits.append(Add(path="chains", value=msgspec.to_builtins(chain)))
            taken.append(Taken(device.name, sheet.pin, best.name, best.reasons[0]))
    made = Many(edits=tuple(edits)) if edits else None
    return Offer(made, tuple(taken), tuple(refused))


def _named(names: set[str], chain: Chain) -> Chain:
    key = free_name(chain.id, names)
    names.add(key)
    return msgspec.structs.replace(chain, id=key)


def _refused(job: Job, device: Device, sheet: InputSheet, ranked: tuple[Candidate, ...]) -> Refused:
    reasons = tuple(f"{c.name}: {c.faults[0]}" for c in ranked if c.faults)
    where = next((c.where for c in ranked if c.where), "survey:sources")
    answers = tuple(a for c in ranked for a in _answers(by_id(job.sources, c.source)))
    return Refused(device.name, sheet.pin, sheet.quantity, sheet.required, reasons, where, answers)


def _answers(source: Source | None) -> tuple[Answer, ...]:
    """What may be said of a source so that it can be used after all."""
    if source is not None and isinstance(source.spec, GearboxSensor) and source.spec.electronic:
        put = Put(path=f"sources.{source.id}.spec.electronic", value=False)
        return (Answer("Nothing shifts by it: the gearbox is not electronic", put),)
    return ()


COMMON = {
    "tyre": "205/60 R15",
    "final_drive": 3.7,
    "cylinders": 4,
    "ignition": "coil-per-plug",
    "lamps": "filament",
    "idle_rps": 850 / 60,
    "redline_rps": 6500 / 60,
    "ratios": (3.5, 2.0, 1.4, 1.0, 0.8),
    "tank_l": 60.0,
}
"""Facts of a common car (ASSUMED), to weigh kinds of source while this one's are not said."""


def usual_source(job: Job, quantity: Quantity, kinds: Iterable[Source]) -> Source | None:
    """Of the kinds a vehicle may have, the one that would serve the first input of it best.

    It is only what is usual: whether this vehicle has it is still to be seen. Facts that nobody
    has said yet decide nothing here.
    """
    v = job.vehicle
    unsaid = {k: x for k, x in COMMON.items() if getattr(v, k) in (None, "", ())}
    common = msgspec.structs.replace(v, **unsaid)
    offered = tuple(k for k in kinds if k.quantity == quantity)
    for device in job.devices:
        for sheet in device.sheet.inputs:
            if sheet.quantity == quantity:
                trial = msgspec.structs.replace(job, sources=offered, vehicle=common)
                with aside():  # a job that is only tried is nobody's present one
                    ranked = candidates(trial, device, sheet)
                best = next((c for c in ranked if c.possible), None)
                return by_id(offered, best.source) if best is not None else None
    return None


def serve(job: Job, source: Source) -> Edit:
    """A source of this kind, and a signal from it to every input that wants it and has none.

    It is joined even where a fact is still missing: what that is, the signal then says.
    """
    known = by_id(job.sources, source.id)
    fresh = source
    edits: list[Add] = []
    if known is None or known != source:
        key = free_name(source.id, index(job.sources))
        fresh = msgspec.structs.replace(source, id=key)
        edits.append(Add(path="sources", value=msgspec.to_builtins(fresh)))
    offered = msgspec.structs.replace(job, sources=(*job.sources, fresh)) if edits else job
    have = {(c.device, c.pin) for c in job.chains}
    names = set(index(job.chains))
    for device in job.devices:
        for sheet in device.sheet.inputs:
            if sheet.quantity != fresh.quantity or (device.id, sheet.pin) in have:
                continue
            with aside():
                ranked = candidates(offered, device, sheet)
            mine = next((c for c in ranked if c.source == fresh.id), None)
            if mine is not None:
                chain = _named(names, chain_from(job, device, sheet, mine))
                edits.append(Add(path="chains", value=msgspec.to_builtins(chain)))
    return Many(edits=tuple(edits))


class Like(Value, frozen=True):
    """An earlier job, and the facts of its vehicle that this one lacks."""

    number: str
    name: str
    facts: tuple[Question, ...]
    edit: Edit


def like(job: Job, other: Job, when: str = "") -> Like | None:
    """What of another job's vehicle answers questions of this one; None when nothing does.

    Every fact taken is noted in the ledger as seen on another car: to be checked.
    """
    wanted = [q for q in questions(job) if not q.known and q.sheet.path != "vehicle.name"]
    edits: list[Put | Add] = []
    taken: list[Question] = []
    for question in wanted:
        path = question.sheet.path
        field = path.partition(".")[2]
        value = getattr(other.vehicle, field)
        if value in (None, "", ()) or value == getattr(job.vehicle, field):
            continue
        plain = msgspec.to_builtins(value)
        note = f"from job {other.number or other.title or 'without a number'}"
        line = evidence(job, path, "other car", note, when, value=value, nth=len(taken))
        edits += [Put(path=path, value=plain), line]
        taken.append(question)
    if not taken:
        return None
    return Like(other.number, other.vehicle.name, tuple(taken), Many(edits=tuple(edits)))


def likeness(name: str, other: str) -> int:
    """How many words two names of vehicles share."""
    return len(_words(name) & _words(other))


def _words(text: str) -> set[str]:
    letters = "".join(c if c.isalnum() else " " for c in text.lower())
    return {w for w in letters.split() if len(w) > 1}


def name_of(job: Job) -> str:
    """What a job is called: number and title, else what goes into which vehicle."""
    said = f"{job.number} {job.title}".strip()
    if said:
        return said
    devices = _listed(d.name for d in job.devices)
    vehicle = job.vehicle.name
    if devices and vehicle:
        return f"{devices} in {vehicle}"
    return devices or vehicle or "New job"


NAMED = 2


def _listed(names: Iterable[str]) -> str:
    found = list(names)
    more = f" and {len(found) - NAMED} more" if len(found) > NAMED else ""
    return ", ".join(found[:NAMED]) + more


def wanted_title(quantity: Quantity) -> str:
    """The question where a quantity comes from."""
    return f"Where does the {QUANTITIES[quantity].title.lower()} signal come from?"

"""Of the dossier: what is known on less than a counted pin, once, by what hangs on it.

What hangs on a fact is not listed by hand: a signal is evaluated, and what it read of the job on
the way is noted.
"""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.behaviour.suppose import usual
from zombrel.diagnose.rests import paths_of
from zombrel.handover.dossier.page import Block, Row, Table
from zombrel.harness.ends import end_words
from zombrel.job.facts import TOLD, all_facts
from zombrel.job.follow.view import Path
from zombrel.job.ledger import MEANING, RANK, provenance
from zombrel.job.model import Job, Rung, index
from zombrel.job.typed.facts import show, unit_of
from zombrel.signals.chain_reading import reading_of
from zombrel.units import Units

WEAK = RANK["counted"]
UNSAID = "nobody has said how"


def hearsay(job: Job, units: Units) -> Iterator[Block]:
    """One table: what hangs on it, what it is, how it is known."""
    groups: dict[str, list[Row]] = {}
    reads = _reads(job)
    for path, what, value, rung in _weak(job, units):
        hangs = _said(job, tuple(dict.fromkeys(_hangs(job, reads, path))))
        if not hangs:
            continue  # how it is known stands with the vehicle
        known = MEANING[rung] if rung else UNSAID
        groups.setdefault(hangs, []).append(Row((what, value, known)))
    for hangs in sorted(groups, key=lambda g: -len(groups[g])):
        heads = ("what", "value", "how it is known")
        yield Table(heads, tuple(groups[hangs]), title=f"On this hangs: {hangs}")


def _said(job: Job, hangs: tuple[str, ...]) -> str:
    if len(hangs) > 1 and set(hangs) >= {c.title for c in job.chains}:
        return "every signal"
    return ", ".join(hangs)


def _weak(job: Job, units: Units) -> Iterator[tuple[str, str, str, Rung | None]]:
    """(path, what it is, its value, how it is known) of everything weakly known."""
    for f in all_facts(job):
        value, known = show(job, f, units), provenance(job, f.path)
        if f.group in TOLD or not value or not _is_weak(known):  # a name is not evidence
            continue
        yield f.path, f.label, f"{value} {unit_of(f, units)}".strip(), known
    devices = index(job.devices)
    for wire in job.wires:
        for side, end in (("a", wire.a), ("b", wire.b)):
            known = provenance(job, f"wires.{wire.id}.{side}")
            if end.place not in devices and _is_weak(known):
                yield f"wires.{wire.id}.{side}", f"{wire.id} joins at", end_words(job, end), known


def _is_weak(known: Rung | None) -> bool:
    return known is None or RANK[known] < WEAK


Reads = dict[str, frozenset[tuple[str, ...]]]
"""Paths that the reading of each chain rests on."""


def _reads(job: Job) -> Reads:
    """What each chain's reading reads of the job, field by field."""
    state = usual(job.vehicle)
    found = paths_of(reading_of, job, [(state, c.id) for c in job.chains])
    return {
        chain.id: frozenset(_bare(p) for p in paths)
        for chain, paths in zip(job.chains, found, strict=True)
    }


def _bare(path: Path) -> tuple[str, ...]:
    """A path without its marks; an item of a list by its name."""
    return tuple(str(s) for s in path if s not in ("@", "#", "*"))


def _hangs(job: Job, reads: Reads, path: str) -> Iterator[str]:
    """Signals that read the fact, and for a conductor the devices that it serves."""
    steps = tuple(path.split("."))
    if steps[0] != "wires":
        for chain in job.chains:
            if any(read[: len(steps)] == steps for read in reads[chain.id]):
                yield chain.title
        return
    carried = [c.title for c in job.chains if steps[1] in c.wires]
    wire, devices = index(job.wires)[steps[1]], index(job.devices)
    served = [devices[e.place].name for e in (wire.a, wire.b) if e.place in devices]
    yield from dict.fromkeys(carried or served)

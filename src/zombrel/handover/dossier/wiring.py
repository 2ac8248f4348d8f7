"""Of the dossier: the drawing, connectors as found and as built, wires, parts, changes."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.findings.finding import Assessment
from zombrel.handover.dossier.page import Block, Figure, Lying, Row, Table
from zombrel.handover.drawing import A4, LETTER, drawing
from zombrel.handover.pin_sheet import HEADS, as_found, both_faces, cells
from zombrel.harness.ends import end_words
from zombrel.harness.parts_list import parts_list
from zombrel.harness.plugs import face, moves
from zombrel.harness.plugs.change_base import Part
from zombrel.job.ledger import MEANING, provenance
from zombrel.job.model import Job, by_id
from zombrel.job.wiring import Change, Connector
from zombrel.units import Units
from zombrel.units.measure import area_of, length_of, written

MILLI_A = 0.01
"""Smaller currents are written in milliamperes."""


def drawn(job: Job, units: Units) -> Iterator[Block]:
    """The wiring drawing, a page each."""
    pages = drawing(job, units, LETTER if units.paper == "Letter" else A4)
    for i, sheet in enumerate(pages, 1):
        about = f"Wiring drawing, page {i} of {len(pages)}; the table of wires says the same"
        yield Lying(Figure(sheet, about))


def faces(job: Job) -> Iterator[Block]:
    """Each connector: its face as found and as built, and what is in its cavities."""
    for c in job.connectors:
        found = as_found(job, c)
        rung = provenance(job, f"connectors.{c.id}.cavities")
        known = f"pin-out {MEANING[rung]}" if rung else "nobody has said how it is known"
        about = f"{c.id}, {c.name}: {len(face.places(c))} ways, {known}"
        yield Figure(both_faces(c, found), f"Face of {about}", about)
        heads = tuple(h for h in HEADS if h)
        rows = tuple(Row(words) for words, _, _ in cells(job, c, found))
        if rows:
            yield Table(heads, rows)


def wires(job: Job, assessment: Assessment) -> Iterator[Block]:
    """Every conductor of the laid job."""
    heads = ("wire", "from", "to", "colour", "size", "length", "load", "drop", "fuse")
    rows = []
    for wire, r in zip(job.wires, assessment.wires, strict=True):
        rows.append(
            Row(
                (
                    wire.id,
                    end_words(job, wire.a),
                    end_words(job, wire.b),
                    wire.colour,
                    f"{area_of(wire.area_mm2)}",
                    f"{length_of(wire.length_m)}" + (", twisted" if wire.twisted else ""),
                    f"{r.amps:.2g}\u00a0A" if r.amps >= MILLI_A else f"{r.amps * 1000:.2g}\u00a0mA",
                    f"{r.drop * 100:.1f}\u00a0%" if wire.carries != "signal" else "",
                    f"{r.fuse_a:g}\u00a0A" if r.fuse_a else "",
                )
            )
        )
    if rows:
        yield Table(heads, tuple(rows))


def parts(job: Job, units: Units) -> Iterator[Block]:
    """What the job takes."""
    rows = tuple(Row((p.kind, p.name, _takes(p, units))) for p in parts_list(job))
    if rows:
        yield Table(("kind", "part", "takes"), rows, loud=1)


def _takes(part: Part, units: Units) -> str:
    if part.unit == "m":
        return written("length", part.count, units, 2)
    return f"{round(part.count, 2):g} {part.unit or 'pcs'}"


def changed(job: Job) -> Iterator[Block]:
    """What was done to connectors of the vehicle, and how it is undone."""
    rows = tuple(_change(job, change) for change in job.changes)
    if rows:
        yield Table(("change", "what", "stands", "metered", "way back"), rows)


def _change(job: Job, change: Change) -> Row:
    what = f"{change.kind} at {change.connector} {change.cavity}"
    what += f" to {change.to}" if change.to else ""
    what += f", {change.wire}" if change.wire else ""
    what += f". {change.note}" if change.note else ""
    when = f", {change.when}" if change.when else ""
    return Row((change.id, what, f"{change.state}{when}", change.metered, _way_back(job, change)))


def _way_back(job: Job, change: Change) -> str:
    """How it is undone: terminals that moved go back, any other cavity as it was found."""
    if change.state == "planned":
        return "nothing is made yet"
    was = by_id(change.before, change.connector)
    if was is None:
        return ""
    if change.kind in moves.MANY:
        return moves.way_back(was, change).removeprefix("The way back: ")
    found = [_cavity(old, n) for old in change.before for n in _touched(job, old)]
    return "; ".join(dict.fromkeys(found))


def _touched(job: Job, old: Connector) -> Iterator[int]:
    """The cavities that are no longer as they were."""
    now = by_id(job.connectors, old.id)
    if now is not None:
        for place in face.places(old):
            if face.cavity(now, place.n) != face.cavity(old, place.n):
                yield place.n


def _cavity(old: Connector, n: int) -> str:
    held = face.cavity(old, n)
    state = face.state(old, n)
    if held is None or state != "occupied":
        return f"{old.id} {n} was {state}"
    words = " ".join(x for x in (face.colour_of(held), held.circuit) if x)
    return f"{old.id} {n} had {words or 'a wire'}"

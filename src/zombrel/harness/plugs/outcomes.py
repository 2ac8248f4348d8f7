"""What is decided of each deviation of a probed lead: the lead is wrong, the paper is, or not yet.

A lead that was repaired is probed again where it was touched; until then it stays trouble. A paper
that is wrong is corrected line by line, with who and when. Nothing is decided by itself.

Reference: definitions.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import msgspec

from zombrel.harness.plugs import lead as leads
from zombrel.harness.plugs.conducts import Pair
from zombrel.job.edits import Add, Edit, Many, Put
from zombrel.job.ledger import evidence, next_id, text_of
from zombrel.job.model import Evidence, Job, index
from zombrel.job.value import Value
from zombrel.job.wiring import Answer, Connector, Lead, LeadRow, Repair

OWN = "own"
"""Id of the lead that stands for the job's own conductors."""
Kind = Literal["open", "bridge", "swap", "moved", "slip"]


class Deviation(Value, frozen=True):
    """One thing that is not as the paper says."""

    kind: Kind
    words: str
    pins: frozenset[str]
    """The cavities that are touched when it is repaired."""
    gone: tuple[Pair, ...] = ()
    """Conductors of the paper that are not there."""
    there: tuple[Pair, ...] = ()
    """What is there instead."""


def deviations(lead: Lead, connectors: tuple[Connector, ...] = ()) -> tuple[Deviation, ...]:
    """Every deviation of a lead as far as it was probed, a slip of a whole plug as one."""
    found = leads.result(lead, connectors)
    out: list[Deviation] = []
    moved = list(found.moved)
    if found.slip != "none" and found.kind in ("slip", "mixed"):
        of_slip = {frozenset(pair) for both in found.pinned for pair in both}
        moved = [
            m
            for m in moved
            if frozenset((m.a, m.expected)) not in of_slip
            or frozenset((m.a, m.found)) not in of_slip
        ]
        if found.pinned:
            pins = frozenset(p for both in found.pinned for pair in both for p in pair)
            out.append(
                Deviation(
                    "slip",
                    found.verdict.partition(" Beside that: ")[0],
                    pins,
                    tuple(was for was, _ in found.pinned),
                    tuple(now for _, now in found.pinned),
                )
            )
    for b, d in found.swaps:
        pair = [m for m in moved if {m.expected, m.found} == {b, d}]
        moved = [m for m in moved if m not in pair]
        out.append(
            Deviation(
                "swap",
                f"{b} and {d} have changed places",
                frozenset({b, d, *(m.a for m in pair)}),
                tuple((m.a, m.expected) for m in pair),
                tuple((m.a, m.found) for m in pair),
            )
        )
    for m in moved:
        words = f"{m.a} comes out at {m.found}, not at {m.expected}"
        out.append(
            Deviation(
                "moved",
                words,
                frozenset({m.a, m.expected, m.found}),
                ((m.a, m.expected),),
                ((m.a, m.found),),
            )
        )
    told = {p for d in out for p in (*d.gone, *d.there, *((b, a) for a, b in d.there))}
    for a, b in found.opens:
        if (a, b) not in told:
            words = f"{a} to {b} does not conduct"
            out.append(Deviation("open", words, frozenset({a, b}), ((a, b),)))
    for a, b in found.bridges:
        if (a, b) not in told:
            words = f"{a} and {b} are bridged"
            out.append(Deviation("bridge", words, frozenset({a, b}), (), ((a, b),)))
    return tuple(out)


def repaired(lead: Lead, found: Deviation, when: str = "") -> Many:
    """The lead was wrong and is put right: what was touched is to be probed again."""
    kept = tuple(x for x in lead.answers if not {x.a, x.b} & found.pins)
    note = Repair(words=found.words, when=when, pins=tuple(sorted(found.pins)))
    return Many(
        edits=(
            Put(path=f"leads.{lead.id}.answers", value=msgspec.to_builtins(kept)),
            Put(
                path=f"leads.{lead.id}.repairs",
                value=msgspec.to_builtins((*lead.repairs, note)),
            ),
        )
    )


def paper_wrong(
    job: Job, lead: Lead, found: Sequence[Deviation], when: str = "", by: str = ""
) -> Many:
    """The paper is wrong in this: its lines are put right, what was probed stays."""
    rows = list(lead.rows)
    answers = list(lead.answers)
    for one in found:
        rows = _rows(rows, one)
        answers += [
            Answer(a=a, b=b, conducts=True)
            for a, b in one.there
            if not any({x.a, x.b} == {a, b} and x.conducts for x in answers)
        ]
    words = "; ".join(d.words for d in found)
    line = Evidence(
        id=next_id(job),
        path=f"leads.{lead.id}.rows",
        value=text_of(tuple(rows)),
        rung="measured",
        note=f"the paper was wrong: {words}"[:1900],
        by=by,
        when=when,
    )
    edits: list[Add | Put] = [
        Put(path=f"leads.{lead.id}.rows", value=msgspec.to_builtins(tuple(rows))),
        Put(path=f"leads.{lead.id}.answers", value=msgspec.to_builtins(tuple(answers))),
        Put(path=f"leads.{lead.id}.source", value="as probed"),
        Add(path="ledger", value=msgspec.to_builtins(line)),
    ]
    if lead.id == OWN:
        edits += _wires(job, lead, found)
    return Many(edits=tuple(edits))


def _rows(rows: list[LeadRow], one: Deviation) -> list[LeadRow]:
    """The lines of a pin-out with one deviation in them."""
    goes = dict(zip(one.gone, one.there, strict=False)) if one.there else {}
    out = []
    for r in rows:
        if (r.a, r.b) in goes:
            a, b = goes[r.a, r.b]
            out.append(msgspec.structs.replace(r, a=a, b=b))
        elif (r.a, r.b) not in one.gone:
            out.append(r)
    if one.kind == "bridge":
        out += [LeadRow(a=a, b=b, signal="joined, as probed") for a, b in one.there]
    return out


def _wires(job: Job, lead: Lead, found: Sequence[Deviation]) -> list[Put]:
    """Our own wires end where they were found to end."""
    by_pair = {(r.a, r.b): r.signal for r in lead.rows}
    known = index(job.wires)
    edits = []
    for one in found:
        for was, now in zip(one.gone, one.there, strict=False):
            wire = by_pair.get(was, "")
            if wire in known and one.kind in ("swap", "moved", "slip"):
                place, _, pin = now[1].partition(".")
                edits.append(Put(path=f"wires.{wire}.b", value={"place": place, "pin": pin}))
    return edits


def waiting(lead: Lead, connectors: tuple[Connector, ...] = ()) -> tuple[Repair, ...]:
    """Repairs that were not probed again yet."""
    if leads.whole(lead, connectors):
        return ()
    said = {pin for x in lead.answers for pin in (x.a, x.b)}
    listed = {pin for r in lead.rows for pin in (r.a, r.b)}
    return tuple(r for r in lead.repairs if {p for p in r.pins if p in listed} - said)


def answered(job: Job, lead: Lead, a: str, b: str, conducts: bool, when: str = "") -> Edit:
    """One answer of the meter; the last of a lead that is right makes its pin-out *measured*."""
    value = Answer(a=a, b=b, conducts=conducts)
    add = Add(path=f"leads.{lead.id}.answers", value=msgspec.to_builtins(value))
    after = msgspec.structs.replace(lead, answers=(*lead.answers, value))
    if not leads.whole(after, job.connectors):
        return add
    if not leads.result(after, job.connectors).right:
        return add
    return Many(edits=(add, *proven(job, after, when)))


def proven(job: Job, lead: Lead, when: str = "") -> tuple[Add, ...]:
    """Lines of the ledger for a lead that was probed whole and is right: both its ends."""
    note = f"probed whole, {len(lead.answers)} probes"
    lines = [evidence(job, f"leads.{lead.id}.rows", "measured", note, when, value=lead.rows)]
    if lead.id == OWN:
        for r in lead.rows:
            wire = index(job.wires).get(r.signal)
            for side in ("a", "b") if wire is not None else ():
                path = f"wires.{r.signal}.{side}"
                lines.append(evidence(job, path, "measured", note, when, nth=len(lines)))
    return tuple(lines)

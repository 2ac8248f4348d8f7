"""A change that was planned is made on the car, metered, or taken back."""

from __future__ import annotations

import msgspec

from zombrel.harness.plugs import changes, moves
from zombrel.job.edits import Add, Edit, Many, Put
from zombrel.job.ledger import evidence
from zombrel.job.model import Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.wiring import Change, Connector


def make(job: Job, change: Change, when: str = "") -> Edit:
    """The faces are as built from now on; the old ones are kept with the change.

    Our own wires go along with the cavities they end in.

    Raises:
        Problem: it cannot be made as it stands; the text says why.
    """
    built = changes.after(job, change)
    here = index(job.connectors)
    found = [here[c.id] for c in built]
    edits: list[Put] = [
        Put(path=f"connectors.{c.id}.cavities", value=msgspec.to_builtins(c.cavities))
        for c in built
    ]
    edits += _ends(job, change, back=False)
    edits += [
        Put(path=f"changes.{change.id}.before", value=msgspec.to_builtins(found)),
        Put(path=f"changes.{change.id}.state", value="made"),
        Put(path=f"changes.{change.id}.when", value=when),
    ]
    return Many(edits=tuple(edits))


def metered(job: Job, change: Change, said: str, when: str = "") -> Edit:
    """What the meter showed: the change is proven, its faces are measured.

    Raises:
        Problem: it is not made yet, or nothing was metered.
    """
    if change.state == "planned":
        raise Problem(f"{change.id} is only planned: make it, then meter it.")
    if not said.strip():
        raise Problem("Say what the meter showed, as 0.2 Ω end to end, none to its neighbours.")
    lines = [
        evidence(
            job, f"connectors.{c.id}.cavities", "measured", f"{change.id}: {said}", when, nth=i
        )
        for i, c in enumerate(change.before)
        if c.id in index(job.connectors)
    ]
    edits: list[Put | Add] = [
        Put(path=f"changes.{change.id}.state", value="proven"),
        Put(path=f"changes.{change.id}.metered", value=said.strip()),
        Put(path=f"changes.{change.id}.when", value=when),
        *lines,
    ]
    return Many(edits=tuple(edits))


def unmake(job: Job, change: Change) -> Edit:
    """The change is taken back on the car: the faces are as they were found.

    Raises:
        Problem: it is only planned, or its plugs were changed again since.
    """
    if change.state == "planned":
        raise Problem(f"{change.id} is only planned: there is nothing to take back.")
    before = {c.id: c for c in change.before}
    old = msgspec.structs.replace(job, connectors=_with(job, before))
    planned = msgspec.structs.replace(change, state="planned")
    for built in changes.after(old, planned):
        now = by_id(job.connectors, built.id)
        if now is None or now.cavities != built.cavities:
            raise Problem(
                f"{built.name} was changed again after {change.id}: take that back first."
            )
    edits = [
        Put(path=f"connectors.{c.id}.cavities", value=msgspec.to_builtins(c.cavities))
        for c in change.before
    ]
    edits += _ends(job, change, back=True)
    edits += [
        Put(path=f"changes.{change.id}.state", value="planned"),
        Put(path=f"changes.{change.id}.metered", value=""),
        Put(path=f"changes.{change.id}.before", value=[]),
    ]
    return Many(edits=tuple(edits))


def _with(job: Job, before: dict[str, Connector]) -> tuple[Connector, ...]:
    return tuple(before.get(c.id, c) for c in job.connectors)


def _ends(job: Job, change: Change, back: bool) -> list[Put]:
    """Where our own wires end once their cavities moved, or moved back."""
    goes: dict[tuple[str, str], tuple[str, str]] = {}
    c = by_id(change.before if back else job.connectors, change.connector)
    if c is None:
        return []
    if change.kind in moves.MANY:
        goes = {(c.id, str(n)): (c.id, str(to)) for n, to in moves.moves_of(c, change)}
    elif change.kind in ("move", "remap"):
        place, _, n = change.to.rpartition(".")
        goes = {(c.id, str(change.cavity)): (place, n)}
    if back:
        goes = {to: frm for frm, to in goes.items()}
    edits = []
    for w in job.wires:
        for side, end in (("a", w.a), ("b", w.b)):
            to = goes.get((end.place, end.pin))
            if to is not None:
                value = {"place": to[0], "pin": to[1]}
                edits.append(Put(path=f"wires.{w.id}.{side}", value=value))
    return edits

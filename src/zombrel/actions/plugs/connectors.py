"""Connectors of the vehicle: made, changed, taken out; their cavities on paper and as seen."""

from __future__ import annotations

import msgspec

from zombrel.actions.parts import free_name
from zombrel.harness.plugs import face
from zombrel.harness.plugs.change_base import put
from zombrel.harness.plugs.pinout import read_pinout, rest_empty, with_paper, with_seen
from zombrel.job.edits import Add, Edit, Many, Put, Remove
from zombrel.job.model import Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.records.terminal import Terminal
from zombrel.job.wiring import Cavity, Connector


def put_connector(job: Job, connector: Connector) -> Edit:
    """A connector as it is given: changed where the job has it, else added.

    Raises:
        Problem: its face cannot be drawn, or it no longer has a cavity that something is in.
    """
    here = {p.n for p in face.places(connector)}
    old = by_id(job.connectors, connector.id)
    if old is None:
        key = free_name(connector.id, index(job.connectors))
        fresh = msgspec.structs.replace(connector, id=key)
        return Add(path="connectors", value=msgspec.to_builtins(fresh))
    for what, n in _held(job, old):
        if n not in here:
            raise Problem(
                f"{what} is in cavity {n}, which {connector.name} would not have: move it first."
            )
    kept = tuple(x for x in connector.cavities if x.n in here)
    changed = msgspec.structs.replace(connector, cavities=kept)
    return Put(path=f"connectors.{old.id}", value=msgspec.to_builtins(changed))


def _held(job: Job, c: Connector) -> list[tuple[str, int]]:
    """What is in a cavity of ``c``: noted wires of the vehicle, wires of ours, changes."""
    held = [(face.held(x), x.n) for x in c.cavities if face.held(x)]
    for w in job.wires:
        held += [(w.id, int(e.pin)) for e in (w.a, w.b) if e.place == c.id and e.pin.isdigit()]
    return held + [(x.id, x.cavity) for x in job.changes if x.connector == c.id]


def remove_connector(job: Job, connector: Connector) -> Edit:
    """A connector out of the job, with the changes planned at it.

    Raises:
        Problem: wires of ours end in it.
    """
    ours = [w.id for w in job.wires if connector.id in (w.a.place, w.b.place)]
    if ours:
        raise Problem(
            f"{', '.join(ours)} end{'s' if len(ours) == 1 else ''} in {connector.name}: "
            "take them out, or lead them elsewhere, first."
        )
    gone = [
        Remove(path=f"changes.{c.id}")
        for c in job.changes
        if c.connector == connector.id or c.to.rpartition(".")[0] == connector.id
    ]
    loose = [
        Put(path=f"connectors.{o.id}.mates", value="")
        for o in job.connectors
        if o.mates == connector.id
    ]
    return Many(edits=(*gone, *loose, Remove(path=f"connectors.{connector.id}")))


def _cavities(old: Connector, new: Connector) -> Edit:
    return Put(path=f"connectors.{old.id}.cavities", value=msgspec.to_builtins(new.cavities))


def note_seen(connector: Connector, n: int, seen: str, colour: str = "") -> Edit:
    """What was seen in a cavity; an empty ``seen``: nobody has looked into it."""
    return _cavities(connector, with_seen(connector, n, seen, colour))


def note_rest_empty(connector: Connector) -> Edit:
    """All cavities that nobody had looked into were seen empty."""
    return _cavities(connector, rest_empty(connector))


def note_cavity(connector: Connector, n: int, **what: object) -> Edit:
    """Terminal family, section [mm²] or how it is known of one cavity."""
    old = face.cavity(connector, n) or Cavity(n=n)
    new = msgspec.structs.replace(old, **what)
    return _cavities(connector, put(connector, new))


def put_terminal(job: Job, terminal: Terminal) -> Edit:
    """A terminal of one's own, over one of the same name.

    Raises:
        Problem: its ranges run backwards.
    """
    for what, low, high in (
        ("wires", terminal.least_mm2, terminal.most_mm2),
        ("sheaths", terminal.least_sheath_mm, terminal.most_sheath_mm),
    ):
        if low > high:
            raise Problem(f"{terminal.id}: the range of {what} runs from {low:g} to {high:g}.")
    kept = [t for t in job.terminals if t.id != terminal.id]
    return Put(path="terminals", value=msgspec.to_builtins([*kept, terminal]))


def note_paper(connector: Connector, text: str) -> Edit:
    """What the paper says of its cavities, from a table.

    Raises:
        Problem: a line that cannot be read; it is named.
    """
    return _cavities(connector, with_paper(connector, read_pinout(text, connector)))

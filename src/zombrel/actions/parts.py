"""Parts of a job: put in, and taken out with all that hangs on them."""

from __future__ import annotations

from collections.abc import Container

import msgspec

from zombrel.job.edits import Add, Edit, Many, Put, Remove
from zombrel.job.model import Device, Job, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet, InputSheet
from zombrel.job.source import BoxOutput, Source
from zombrel.job.wiring import Connector
from zombrel.signals.begin import best_chain


def free_name(wanted: str, taken: Container[str]) -> str:
    """An id that is not ``taken`` and holds no full stop, ``wanted`` if it can be had."""
    base = wanted.replace(".", "-")
    name, n = base, 2
    while name in taken:
        name, n = f"{base}-{n}", n + 1
    return name


def add_device(job: Job, sheet: DeviceSheet) -> Edit:
    """A device of this kind, and its outputs as sources."""
    key = free_name(sheet.id.rpartition("-")[2] or sheet.id, index(job.devices))
    device = Device(id=key, name=sheet.name, sheet=sheet)
    edits = [Add(path="devices", value=msgspec.to_builtins(device))]
    taken = set(index(job.sources))
    for out in sheet.outputs:
        own = free_name(f"{key}-out", taken)
        taken.add(own)
        source = Source(
            id=own,
            name=f"{sheet.name} {out.pin}",
            quantity=out.quantity,
            minutes=10,
            spec=BoxOutput(device=key, pin=out.pin),
        )
        edits.append(Add(path="sources", value=msgspec.to_builtins(source)))
    return Many(edits=tuple(edits))


def change_sheet(job: Job, sheet: DeviceSheet) -> Edit | None:
    """Every device of the job that was made from an earlier ``sheet`` of this id, after it.

    Settings of pins that are no more go; None where no such device stands otherwise.
    """
    edits: list[Put | Remove] = []
    for device in job.devices:
        if device.sheet.id == sheet.id and device.sheet != sheet:
            here = {i.pin for i in sheet.inputs} | {c.pin for c in sheet.controls}
            gone = [s.pin for s in device.settings if s.pin not in here]
            edits += [Remove(path=f"devices.{device.id}.settings.{pin}") for pin in gone]
            edits.append(Put(path=f"devices.{device.id}.sheet", value=msgspec.to_builtins(sheet)))
    return Many(edits=tuple(edits)) if edits else None


def remove_device(job: Job, device: Device) -> Edit:
    """A device out of the job, with its outputs and every signal that ends or begins there."""
    outputs = {
        s.id for s in job.sources if isinstance(s.spec, BoxOutput) and s.spec.device == device.id
    }
    cut = [c.id for c in job.chains if c.device == device.id or c.source in outputs]
    edits = [Remove(path=f"chains.{key}") for key in cut]
    edits += [Remove(path=f"sources.{key}") for key in sorted(outputs)]
    return Many(edits=(*edits, Remove(path=f"devices.{device.id}")))


def leave_out(job: Job, device: Device) -> Edit:
    """A device out of the job with all that is only for it: signals, outputs, wires, wishes."""
    ours = {c.id for c in job.chains if c.device == device.id}
    served = {c.source for c in job.chains if c.id not in ours}
    lone = {c.source for c in job.chains if c.id in ours} - served
    ends = {device.id, *lone}  # what fed a sender that nothing else reads goes with it
    gone = [w.id for w in job.wires if {w.a.place, w.b.place} & ends]
    others = [c for c in job.chains if c.id not in ours and set(c.wires) & set(gone)]
    first = remove_device(job, device)
    assert isinstance(first, Many)  # it always is several
    cut = {e.path for e in first.edits}
    edits: list[Put | Remove] = [
        Put(path=f"chains.{c.id}.wires", value=[w for w in c.wires if w not in gone])
        for c in others
        if f"chains.{c.id}" not in cut
    ]
    edits += [Put(path=f"changes.{c.id}.wire", value="") for c in job.changes if c.wire in gone]
    edits += [Remove(path=f"wires.{w}") for w in gone]
    edits += [
        Remove(path=f"wishes.{w.id}") for w in job.wishes if w.id.partition("/")[0] == device.id
    ]
    return Many(edits=(*first.edits, *edits))


def add_source(job: Job, source: Source) -> Edit:
    """A source of this kind with its usual figures, to be corrected."""
    fresh = msgspec.structs.replace(source, id=free_name(source.id, index(job.sources)))
    return Add(path="sources", value=msgspec.to_builtins(fresh))


def add_connector(job: Job, connector: Connector) -> Edit:
    """A connector, under a name that is free."""
    key = free_name(connector.id, index(job.connectors))
    changed = msgspec.structs.replace(connector, id=key)
    return Add(path="connectors", value=msgspec.to_builtins(changed))


def begin_signal(job: Job, device: Device, sheet: InputSheet) -> Edit:
    """A signal to an input from the best source the vehicle offers.

    Raises:
        Problem: the vehicle offers none.
    """
    chain = best_chain(job, device, sheet)
    if chain is None:
        raise Problem(
            f"Nothing this car offers can serve {device.name} {sheet.pin}: add a source of "
            f"{sheet.quantity} in Survey or from the parts shelf."
        )
    return Add(path="chains", value=msgspec.to_builtins(chain))


def remove_wire(job: Job, wire: str) -> Edit:
    """A wire out of the job, and out of the signals and changes that use it."""
    edits: list[Put | Remove] = [
        Put(path=f"chains.{c.id}.wires", value=[w for w in c.wires if w != wire])
        for c in job.chains
        if wire in c.wires
    ]
    edits += [Put(path=f"changes.{c.id}.wire", value="") for c in job.changes if c.wire == wire]
    return Many(edits=(*edits, Remove(path=f"wires.{wire}")))

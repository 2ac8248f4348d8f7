"""What is done to a signal: its way, its setting, its source's figures."""

from __future__ import annotations

import msgspec

from zombrel.calibrate.settings.setting import nearest, pulses, value_of
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.ledger import evidence
from zombrel.job.model import Chain, Device, Divider, Hop, Job, Rung, by_id
from zombrel.job.sheet import Curve
from zombrel.job.source import Source
from zombrel.signals.following import given_by
from zombrel.signals.reduce import counted_by, counter_of, input_of

TRIMS = (0.2, 5.0)
"""A source that counts further than this from its figures is another source, not trimmed."""


def put_setting(device: Device, pin: str, at: str, table: Curve = ()) -> Put | Add:
    """A device's setting moved to ``at``, with the points loaded for it."""
    value = {"pin": pin, "at": at, "table": [list(pair) for pair in table]}
    if device.setting(pin) is None:
        return Add(path=f"devices.{device.id}.settings", value=value)
    if table or device.table(pin):
        return Put(path=f"devices.{device.id}.settings.{pin}", value=value)
    return Put(path=f"devices.{device.id}.settings.{pin}.at", value=at)


def put_divider(chain: Chain, by: int) -> Put:
    """A divider of ``by`` first on the way (1: none)."""
    hops: list[object] = [msgspec.to_builtins(h) for h in chain.hops if not isinstance(h, Divider)]
    if by > 1:
        hops.insert(0, msgspec.to_builtins(Divider(by=by)))
    return Put(path=f"chains.{chain.id}.hops", value=hops)


def fit_way(
    job: Job, chain: Chain, hops: tuple[Hop, ...], setting: str = "", table: Curve = ()
) -> Edit:
    """Other pieces on the way of a signal, and the setting that goes with them."""
    put = Put(path=f"chains.{chain.id}.hops", value=msgspec.to_builtins(hops))
    if not setting:
        return put
    device, _ = input_of(job, chain)
    return together(put, put_setting(device, chain.pin, setting, table))


def remove_signal(chain: Chain) -> Edit:
    """The chain goes; its wires and its source stay noted."""
    return Remove(path=f"chains.{chain.id}")


def change_source(old: Source, new: Source) -> Edit | None:
    """What makes ``new`` of ``old``, each figure by itself; None where nothing differs."""
    puts = _changes(f"sources.{old.id}", old, new, ("id", "spec"))
    if type(old.spec) is type(new.spec):
        puts += _changes(f"sources.{old.id}.spec", old.spec, new.spec, ())
    else:
        puts.append(Put(path=f"sources.{old.id}.spec", value=msgspec.to_builtins(new.spec)))
    return together(*puts) if puts else None


def _changes(
    path: str, old: msgspec.Struct, new: msgspec.Struct, skip: tuple[str, ...]
) -> list[Put]:
    return [
        Put(path=f"{path}.{name}", value=msgspec.to_builtins(getattr(new, name)))
        for name in old.__struct_fields__
        if name not in skip and getattr(old, name) != getattr(new, name)
    ]


def remove_source(job: Job, source: Source) -> Edit:
    """A source goes, with the signals from it and the wires that begin there."""
    gone = [w.id for w in job.wires if source.id in (w.a.place, w.b.place)]
    ours = {c.id for c in job.chains if c.source == source.id}
    edits: list[Put | Add | Remove] = [
        Put(path=f"chains.{c.id}.wires", value=[w for w in c.wires if w not in gone])
        for c in job.chains
        if c.id not in ours and set(c.wires) & set(gone)
    ]
    edits += [Put(path=f"changes.{c.id}.wire", value="") for c in job.changes if c.wire in gone]
    edits += [Remove(path=f"chains.{key}") for key in sorted(ours)]
    edits += [Remove(path=f"wires.{key}") for key in gone]
    return together(*edits, Remove(path=f"sources.{source.id}"))


def trim(job: Job, chain: Chain, true: float, shown: float) -> tuple[str, Edit] | None:
    """The setting that reads ``true`` where ``shown`` was read, and the source's figures with it.

    None where there is nothing to set. ``true`` and ``shown`` in one unit.

    Raises:
        Problem: the source's rate cannot be worked out.
    """
    device, sheet = input_of(job, chain)
    source, at = by_id(job.sources, chain.source), device.setting(chain.pin)
    if at is None or sheet.numbers is None or source is None:
        return None
    stood = value_of(sheet.numbers, at)
    # what it should have believed in: as much more as it over-read
    aim = stood * shown / true
    wanted, _ = nearest(sheet.numbers, aim)
    rate = pulses(sheet.numbers.unit, stood) * shown / true * counted_by(counter_of(chain))
    factor = source.trim * rate / given_by(job, source).rate
    put = put_setting(device, chain.pin, wanted)
    low, high = TRIMS
    if not low < factor < high:
        return wanted, put
    return wanted, together(put, Put(path=f"sources.{source.id}.trim", value=factor))


def put_pairs(job: Job, source: Source, pairs: Curve, rung: Rung, note: str, when: str) -> Edit:
    """Other pairs for a sender, with the line of the ledger.

    Raises:
        Problem: they make no curve.
    """
    from zombrel.signals.study import checked

    path = f"sources.{source.id}.spec.points"
    kept = checked(pairs, source.name)
    line = evidence(job, path, rung, note, when, value=kept)
    put = Put(path=path, value=[list(pair) for pair in kept])
    return together(put, *(() if line is None else (line,)))

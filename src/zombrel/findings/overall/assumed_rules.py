"""What the verdict rests on that nobody measured: shelf figures, typed lengths; said once."""

from __future__ import annotations

import functools
from collections.abc import Iterator
from typing import Any

import msgspec

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.job.follow.query import chunks, query
from zombrel.job.follow.view import plain
from zombrel.job.ledger import Lines, known_as, known_lines
from zombrel.job.model import Job, Relay, index
from zombrel.job.reason import Reason
from zombrel.job.source import BrakeSide, Source
from zombrel.job.wiring import Wire
from zombrel.signals.chain_reading import is_brake_line
from zombrel.units.measure import length_of

TOLD = 12
"""So many are listed in "why?"."""
NAMED = 4
"""So many in the sentence."""
FIGURES: dict[str, tuple[str, str]] = {
    "winding_ohm": ("winding", "Ω"),
    "into_ohm": ("what its level was measured into", "Ω"),
    "kick_v": ("kick", "V"),
    "sinks_a": ("what it may sink", "A"),
    "lag_s": ("lag", "s"),
}
"""Figures of a source that its shelf entry fills in: in words, with their unit."""


class Assumed(msgspec.Struct, frozen=True):
    """One thing taken as usual."""

    what: str
    value: str
    go: str


@query
def assumed(job: Job) -> tuple[Assumed, ...]:
    """Everything a signal or a conductor of ``job`` rests on that nobody has measured."""
    lines = known_lines(job.ledger)
    found = [a for s in _used(job) for a in _of_source(job, lines, s)]
    wires = [a for ids in chunks(job.wires, 25) for a in plain(_of_wires(job, ids))]
    return (*found, *_of_lamps(job), *_of_places(job), *wires)


@query
def _of_wires(job: Job, ids: tuple[str, ...]) -> tuple[Assumed, ...]:
    wires, lines = index(job.wires), known_lines(job.ledger)
    return tuple([a for key in ids for a in _of_wire(job, lines, wires[key])])


@query
def _runs(job: Job) -> dict[str, str]:
    """The first wire with a way through the plan at each place."""
    return {e.place: w.id for w in plain(job.wires)[::-1] for e in (w.a, w.b) if w.via}


def _used(job: Job) -> list[Source]:
    sources = index(job.sources)
    return [sources[key] for key in dict.fromkeys(c.source for c in job.chains)]


@functools.cache
def _figures(kind: Any) -> tuple[tuple[str, float, str, str], ...]:
    """(field, usual figure, words, unit) of what a shelf entry fills in for a kind of source."""
    fields, defaults = kind.__struct_fields__, kind.__struct_defaults__
    usual = dict(zip(fields[::-1], defaults[::-1], strict=False))
    return tuple([(f, usual[f], *told) for f, told in FIGURES.items() if f in usual])


def _of_source(job: Job, lines: Lines, source: Source) -> Iterator[Assumed]:
    spec: Any = source.spec
    for field, usual, words, unit in _figures(spec.__class__):
        value = getattr(spec, field)
        if value != usual or known_as(job, lines, f"sources.{source.id}.spec.{field}") is not None:
            continue
        told = f"{value:g} {unit}"
        yield Assumed(f"{source.name}, {words}", told, f"survey:sources.{source.id}")


def _of_places(job: Job) -> Iterator[Assumed]:
    """What lies where such things usually lie: the lengths by the plan rest on it."""
    zones, lines = index(job.zones), known_lines(job.ledger)
    first = plain(_runs(job))
    for kind, things in (("devices", job.devices), ("sources", job.sources)):
        for thing in things:
            wire = first.get(thing.id)
            if wire is None:
                continue
            if known_as(job, lines, f"{kind}.{thing.id}.zone") == "hearsay":
                zone = zones.get(thing.zone)
                name = thing.zone if zone is None else zone.name
                yield Assumed(f"{thing.name}, where it lies", name, f"wire:plan/{wire}")


def _of_lamps(job: Job) -> Iterator[Assumed]:
    """The knee of LED lamps decides a cancel line that has neither relay nor resistor."""
    if job.vehicle.lamps != "led":
        return
    sources, devices = index(job.sources), index(job.devices)
    for chain in job.chains:
        source, device = sources[chain.source], devices[chain.device]
        sheet = device.sheet.input(chain.pin)
        if sheet is None or not isinstance(source.spec, BrakeSide):
            continue
        if is_brake_line(source, sheet) and not any(isinstance(h, Relay) for h in chain.hops):
            yield Assumed("LED lamps, knee of one", "6.8 V, 300 Ω", f"source:{chain.id}")
            return


def _of_wire(job: Job, lines: Lines, wire: Wire) -> Iterator[Assumed]:
    if wire.via or wire.fixed or known_as(job, lines, f"wires.{wire.id}.length_m") is not None:
        return
    yield Assumed(f"{wire.id}, length", f"{length_of(wire.length_m)}", f"wire:{wire.id}")


@rule("job", "survey", harm=22)
def rests_on(scene: Scene) -> Iterator[Finding]:
    """What is assumed and not measured."""
    found = assumed(scene.raw)
    if not found:
        return
    names = ", ".join(a.what for a in found[:NAMED])
    more = f" and {len(found) - NAMED} more" if len(found) > NAMED else ""
    yield Finding(
        id="assumed",
        level="watch",
        title=f"Assumed, not measured: {len(found)}",
        text=f"What is worked out rests on usual figures for {names}{more}.",
        minutes=5.0 * len(found),
        reason=Reason(
            title="Figures that nobody has measured",
            result=str(len(found)),
            formula="a figure of the shelf, or a length that was typed, with no line in the ledger",
            given=tuple(given(a.what, a.value, "assumed") for a in found[:TOLD]),
            source="the shelf's usual figures",
        ),
        mends=(Mend(label="Go to the first", go=found[0].go),),
        about=tuple(a.go.partition(":")[2] for a in found),
    )

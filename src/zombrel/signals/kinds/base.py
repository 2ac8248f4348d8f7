"""What a source kind is, and the table of them.

Reference: rolling circumference as ``calibrate.tyre`` gives it (ETRTO standards manual).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any, Literal

from zombrel.job.facts import lacking
from zombrel.job.model import Job, Vehicle
from zombrel.job.pairs import Pairs
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet, Frozen, Takes, Waveform
from zombrel.job.source import Source, Tolerates
from zombrel.job.state import State
from zombrel.job.value import Value

OPEN_OHM = 1e9
"""A wire that leads nowhere [Ω]."""


class Emission(Frozen, frozen=True, kw_only=True):
    """What a source gives, before anything joins it."""

    rate: float
    """Pulses per metre or per revolution."""
    waveform: Waveform
    volts: float = 0.0
    """Fixed peak level [V], 0 when it grows with rate."""
    volts_per_hz: float = 0.0
    into_ohm: float = 0.0
    winding_ohm: float = 0.0
    needs_pull_up: bool = False
    sinks_a: float = 0.05
    """Most an open collector may pull down [A]."""
    sparks: float = 1.0
    multi_below: float = 0.0
    least: float = 0.0
    """Below this x the source says nothing."""
    most: float = math.inf
    """Above it neither: what it is made from has dropped out."""
    lag: float = 0.0
    """From a change to its pulses [s]."""


Emits = Callable[[Any, Vehicle, DeviceSheet | None], Emission | None]
"""(spec, vehicle, sheet of the box it depends on) -> what it gives; None for no pulses."""
Electrical = Callable[[Any, Pairs, float, State], float]
"""(spec, pairs, true value [SI], state) -> Ω, V, Hz, share or mV."""


Role = Literal["return", "sensor supply", "supply"]
"""Wires of a sender: back to what reads it, its volts from there, or from a feed."""
Words = Callable[[Any, Job], tuple[str, str]]


class Kind(Value, frozen=True):
    """One kind of source."""

    spec: type
    tolerates: Callable[[Any], Tolerates]
    """What may be done to its wires."""
    formula: str = ""
    """How its rate comes about, for "why?"."""
    emits: Emits | None = None
    """Its pulses; None for a kind that is read by its level."""
    gives: Callable[[Any, Pairs], Takes | None] = lambda spec, output: None
    """The electrical property it gives; ``output`` are the points of the box it belongs to."""
    electrical: Electrical | None = None
    """Its law as a sender; None: straight between its pairs."""
    two_wire: bool = False
    """A bare winding: its return is a wire of its own, twisted with the signal."""
    more_wires: Callable[[Any], tuple[Role, ...]] = lambda spec: ()
    """Wires that it needs beside its signal, where it is fitted for this."""
    open_collector: Callable[[Any], bool] = lambda spec: False
    """It can only pull down, as a sender."""
    words: Words = lambda spec, job: ("", "")
    """(what it is in two words, its figures in a few) of a source as it stands in a job."""


KINDS: dict[type, Kind] = {}


def register(kind: Kind) -> None:
    """Put a kind into the table."""
    assert kind.spec not in KINDS  # one place for each
    KINDS[kind.spec] = kind


def kind_of(spec: object) -> Kind:
    """The kind of a source's spec; KeyError for one nobody registered."""
    return KINDS[spec.__class__]


def words_of(source: Source, job: Job) -> tuple[str, str]:
    """(heading, detail) of a source; its name and quantity where its kind has no words."""
    head, detail = kind_of(source.spec).words(source.spec, job)
    return (head, detail) if head else (source.name, source.quantity)


def own(spec: object) -> Tolerates:
    """Fitted for this, nothing of the vehicle's hangs on it."""
    return "own"


def tap(spec: object) -> Tolerates:
    """A wire may join it, which must not load it."""
    return "tap"


def needed(vehicle: Vehicle, field: str) -> float:
    """A fact of the vehicle; raises Problem when it is not known.

    Result [unit of the field].
    """
    value: float | None = getattr(vehicle, field)
    if value is None:
        raise lacking(field)
    return value


def circumference(vehicle: Vehicle) -> float:
    """Rolling circumference of the vehicle's tyres [m]; raises Problem without a tyre size."""
    from zombrel.calibrate import tyre

    if not vehicle.tyre:
        raise lacking("tyre")
    return tyre.parse(vehicle.tyre).rolling_circumference


def no_pulses(name: str) -> Problem:
    """The problem that a source is asked for pulses that gives none."""
    return Problem(f"{name} gives no pulses: it is read by its level, not by a rate.")

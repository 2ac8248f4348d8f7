"""What a source gives with nothing joined to it: its figures tried, before it is used."""

from __future__ import annotations

from typing import Literal

from zombrel.job.model import Job, index
from zombrel.job.pairs import Pairs
from zombrel.job.quantity import group, truth
from zombrel.job.sheet import Takes
from zombrel.job.source import BoxOutput, Source, Thermistor
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals.following import given_by
from zombrel.signals.sense import gives, law_at, sound


class Alone(Value, frozen=True):
    """A source in one state."""

    takes: Takes | Literal["pulses"]
    true: float
    """Of its quantity [SI]."""
    value: float
    """Hz of pulses, else Ω, V, Hz, share or mV."""
    peak_v: float = 0.0
    """Of pulses, into what it was measured with [V]."""
    silent: bool = False
    """It says nothing here: too slow for it, or past what it is made from."""


def alone(job: Job, state: State, source: Source) -> Alone | None:
    """What ``source`` gives in ``state``; None for a contact, which is on or off.

    Raises:
        Problem: a fact that its rate rests on is missing, or its pairs are no curve.
    """
    true = truth(source.quantity, state)
    match group(source.quantity):
        case "contact":
            return None
        case "rate":
            give = given_by(job, source)
            turns = true / (1 - state.wear) if source.quantity == "speed" else true
            hz = give.rate * (give.sparks if turns < give.multi_below else 1.0) * turns
            volts = give.volts + give.volts_per_hz * hz
            silent = turns < give.least or turns > give.most
            return Alone("pulses", true, hz, volts, silent)
    spec = source.spec
    output: Pairs = ()
    if isinstance(spec, BoxOutput):
        pin = index(job.devices)[spec.device].sheet.output(spec.pin)
        output = pin.points if pin is not None else ()
    pairs: Pairs = getattr(spec, "points", ()) or output
    if pairs:
        sound(pairs, source.name, isinstance(spec, Thermistor))
    return Alone(gives(source, output), true, law_at(spec, pairs, true, state))

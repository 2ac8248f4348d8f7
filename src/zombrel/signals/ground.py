"""Ground lift: how far a sender's ground stands above the ground of the input that reads it.

A ground wire that also returns power current, or a stud that other consumers share, is not
at battery negative while that current flows. The input measures against its own ground, so
the difference of the two is added to every voltage.

Reference: Ohm's law; copper 1.724·10⁻⁸ Ω·m at 20 °C (IEC 60028).
"""

from __future__ import annotations

from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import Chain, Job
from zombrel.job.sheet import Frozen
from zombrel.job.source import BoxOutput, Source
from zombrel.signals.supply import pins

COPPER = 1.724e-8
"""Resistivity of copper at 20 °C [Ω·m]."""


class Grounds(Frozen, frozen=True, kw_only=True):
    """The grounds of a job: which wires return which current to which stud."""

    of_device: dict[str, tuple[str, ...]]
    """Ids of the ground wires of each device."""
    into: dict[str, float]
    """All current into each stud [A]."""
    wire_v: dict[str, float]
    """Volts at the far end of each ground wire above battery negative."""
    device_v: dict[str, float]
    """Volts of each device's ground above battery negative."""


@query
def grounds(job: Job) -> Grounds:
    """The grounds of a job."""
    at = plain(pins(job))
    wires = [w for w in job.wires if w.carries == "ground"]
    into = {s.id: s.load_a for s in job.studs}
    amps: dict[str, float] = {}
    of_device: dict[str, tuple[str, ...]] = {}
    for wire in wires:
        for end in (wire.a, wire.b):
            pin = at.get((end.place, end.pin))
            if pin is not None and pin.supply is not None:
                of_device[pin.device.id] = (*of_device.get(pin.device.id, ()), wire.id)
                amps[wire.id] = pin.supply.amps
        for end in (wire.a, wire.b):
            if end.place in into:
                into[end.place] += amps.get(wire.id, 0.0)
    ohms = {s.id: s.ohm for s in job.studs}
    wire_v = {
        w.id: amps.get(w.id, 0.0) * w.length_m * COPPER / (w.area_mm2 * 1e-6)
        + sum(ohms[e.place] * into[e.place] for e in (w.a, w.b) if e.place in ohms)
        for w in wires
    }
    device_v = {d: max(wire_v[w] for w in held) for d, held in of_device.items()}
    return Grounds(of_device=of_device, into=into, wire_v=wire_v, device_v=device_v)


def returns(chain: Chain, source: Source, of: Grounds) -> tuple[str, ...]:
    """Ids of the ground wires a chain's source stands on."""
    own = tuple([w for w in chain.wires if w in of.wire_v])
    if own:
        return own
    spec = source.spec
    return of.of_device.get(spec.device, ()) if isinstance(spec, BoxOutput) else ()


def lift(chain: Chain, source: Source, of: Grounds) -> float:
    """Volts the source's ground stands above that of the device that reads it.

    A sender whose return is not drawn is taken to stand at battery negative.

    Result [V].
    """
    here = max((of.wire_v[w] for w in returns(chain, source, of)), default=0.0)
    return here - of.device_v.get(chain.device, 0.0)

"""Ground lift: how far a sender's ground stands above the ground of the input that reads it.

A ground wire that also returns power current, or a stud that other consumers share, is not
at battery negative while that current flows. The input measures against its own ground, so
the difference of the two is added to every voltage.

Reference: Ohm's law; copper 1.724·10⁻⁸ Ω·m at 20 °C (IEC 60028).
"""

from __future__ import annotations

from zombrel.job.memo import remembered
from zombrel.job.model import Chain, Device
from zombrel.job.source import BoxOutput, Source
from zombrel.job.wiring import Stud, Wire
from zombrel.signals.supply import Pins

COPPER = 1.724e-8
"""Resistivity of copper at 20 °C [Ω·m]."""


class Grounds:
    """The grounds of a job: which wires return which current to which stud."""

    def __init__(self, wires: tuple[Wire, ...], studs: tuple[Stud, ...], at: Pins) -> None:
        self.studs = {s.id: s for s in studs}
        self.wires = {w.id: w for w in wires if w.carries == "ground"}
        self.by_device: dict[str, list[Wire]] = {}
        self.amps: dict[str, float] = {}
        """Power current each ground wire returns [A]."""
        self.into: dict[str, float] = {s.id: s.load_a for s in studs}
        """All current into each stud [A]."""
        for wire in self.wires.values():
            for end in (wire.a, wire.b):
                pin = at.get((end.place, end.pin))
                if pin is not None and pin.supply is not None:
                    self.by_device.setdefault(pin.device.id, []).append(wire)
                    self.amps[wire.id] = pin.supply.amps
            for end in (wire.a, wire.b):
                if end.place in self.into:
                    self.into[end.place] += self.amps.get(wire.id, 0.0)

    def of_wire(self, wire: Wire) -> float:
        """Volts at the far end of a ground wire above battery negative."""
        own = self.amps.get(wire.id, 0.0) * wire.length_m * COPPER / (wire.area_mm2 * 1e-6)
        ends = [self.studs[e.place] for e in (wire.a, wire.b) if e.place in self.studs]
        return own + sum(stud.ohm * self.into[stud.id] for stud in ends)

    def of_device(self, device: Device) -> float:
        """Volts of a device's ground above battery negative."""
        return max((self.of_wire(w) for w in self.by_device.get(device.id, ())), default=0.0)


@remembered
def grounds(wires: tuple[Wire, ...], studs: tuple[Stud, ...], at: Pins) -> Grounds:
    """The grounds of a job, from its wires, studs and ``supply.pins``."""
    return Grounds(wires, studs, at)


def returns(chain: Chain, source: Source, devices: dict[str, Device], of: Grounds) -> list[Wire]:
    """The ground wires a chain's source stands on."""
    own = [of.wires[w] for w in chain.wires if w in of.wires]
    if own:
        return own
    spec = source.spec
    if isinstance(spec, BoxOutput) and spec.device in devices:
        return of.by_device.get(spec.device, [])
    return []


def lift(chain: Chain, source: Source, devices: dict[str, Device], of: Grounds) -> float:
    """Volts the source's ground stands above that of the device that reads it.

    A sender whose return is not drawn is taken to stand at battery negative.
    """
    here = max((of.of_wire(w) for w in returns(chain, source, devices, of)), default=0.0)
    return here - of.of_device(devices[chain.device])

"""Windings that a tooth or a magnet passes: tone ring, shaft, gearbox, toothed wheel.

References:
    [1] Variable-reluctance pick-up: the peak grows with the tooth rate (Fraden, *Handbook of
        Modern Sensors*, ch. 3 and 7). Rates: see ``calibrate.rates``.
"""

from __future__ import annotations

from zombrel.calibrate import rates
from zombrel.job.model import Vehicle
from zombrel.job.sheet import DeviceSheet
from zombrel.job.source import GearboxSensor, PropShaft, Tolerates, ToothedWheel, WheelRing
from zombrel.signals.kinds.base import (
    Emission,
    Kind,
    Words,
    circumference,
    needed,
    own,
    register,
    tap,
)

Winding = WheelRing | PropShaft | GearboxSensor | ToothedWheel


def _winding(rate: float, spec: Winding) -> Emission:
    return Emission(
        rate=rate,
        waveform="sine",
        volts_per_hz=spec.volts_per_hz,
        into_ohm=spec.into_ohm,
        winding_ohm=spec.winding_ohm,
    )


def _ring(spec: WheelRing, vehicle: Vehicle, box: DeviceSheet | None) -> Emission:
    return _winding(rates.wheel_ring(spec.teeth, circumference(vehicle)), spec)


def _shaft(spec: PropShaft, vehicle: Vehicle, box: DeviceSheet | None) -> Emission:
    final = needed(vehicle, "final_drive")
    return _winding(rates.propshaft(spec.magnets, final, circumference(vehicle)), spec)


def _gearbox(spec: GearboxSensor, vehicle: Vehicle, box: DeviceSheet | None) -> Emission:
    final = needed(vehicle, "final_drive")
    return _winding(rates.propshaft(spec.teeth, final, circumference(vehicle)), spec)


def _wheel(spec: ToothedWheel, vehicle: Vehicle, box: DeviceSheet | None) -> Emission:
    return _winding(rates.toothed_wheel(spec.teeth, spec.missing, spec.on_cam), spec)


def _shared(spec: WheelRing) -> Tolerates:
    return "tap" if spec.shared else "own"


def _electronic(spec: GearboxSensor) -> Tolerates:
    return "never" if spec.electronic else "tap"


def _teeth(name: str, more: str = "") -> Words:
    return lambda spec, job: (name, f"{spec.teeth} teeth{more}")


register(
    Kind(
        WheelRing,
        _shared,
        "teeth ÷ rolling circumference; circumference = 3.05 × diameter",
        _ring,
        two_wire=True,
        words=_teeth("Tone ring"),
    )
)
register(
    Kind(
        PropShaft,
        own,
        "magnets × final drive ÷ rolling circumference",
        _shaft,
        two_wire=True,
        words=lambda spec, job: ("Prop shaft", f"{spec.magnets} magnets"),
    )
)
register(
    Kind(
        GearboxSensor,
        _electronic,
        "",
        _gearbox,
        two_wire=True,
        words=_teeth("Gearbox", ", raw"),
    )
)
register(
    Kind(
        ToothedWheel,
        tap,
        "teeth present per turn",
        _wheel,
        two_wire=True,
        words=lambda spec, job: ("Crank wheel", f"{spec.teeth} − {spec.missing}"),
    )
)

"""Senders that are read by a level: resistors, voltages, frequencies, thermocouples; contacts.

References:
    [1] β equation between two pairs of a thermistor: ln R is straight in 1/T (IEC 60539-1).
    [2] ITS-90 for type K, see ``calibrate.thermocouple``.
    [3] Ratiometric sender: a share of its supply, straight between two pressures.
"""

from __future__ import annotations

import bisect
import math

from zombrel.calibrate import blend, thermocouple
from zombrel.job.model import Job
from zombrel.job.pairs import Pairs, between
from zombrel.job.sheet import Takes
from zombrel.job.source import (
    BlendSender,
    BrakeSide,
    Duty,
    Ratiometric,
    Resistive,
    Switch,
    Thermistor,
    ThermocoupleK,
    Tolerates,
    Volts,
)
from zombrel.job.state import State
from zombrel.signals.kinds.base import OPEN_OHM, Kind, Role, Words, own, register, tap
from zombrel.units import ZERO_C

JOINT_K = 40.0
"""How much hotter than the device the joint of a copper extension sits [K] (assumption)."""


FAR = 40.0
"""e to this power is more ohms, or less, than anything has that is carried on beyond its pairs."""


def thermistor_ohm(points: Pairs, kelvin: float) -> float:
    """Resistance [Ω] at ``kelvin`` [K] between pairs (K, Ω); beyond them by the last β [1]."""
    i = min(max(bisect.bisect_left(points, (kelvin,)) - 1, 0), len(points) - 2)
    (t0, r0), (t1, r1) = points[i], points[i + 1]
    share = (1 / kelvin - 1 / t0) / (1 / t1 - 1 / t0)
    power = math.log(r0) + share * (math.log(r1) - math.log(r0))
    return math.exp(min(max(power, -FAR), FAR))


def _return(spec: Thermistor | Resistive) -> tuple[Role, ...]:
    """The second wire of a sender of one's own that does not ground through its thread."""
    return () if spec.one_wire or spec.shared_ohm else ("return",)


def cut_off(spec: Thermistor | Resistive) -> bool:
    """Tape or sealant on its thread cuts a one-wire sender off its ground."""
    return spec.one_wire and spec.seal in ("tape", "sealant")


def _thermistor(spec: Thermistor, pairs: Pairs, value: float, state: State) -> float:
    return OPEN_OHM if cut_off(spec) else thermistor_ohm(spec.points, value)


def _resistive(spec: Resistive, pairs: Pairs, value: float, state: State) -> float:
    return OPEN_OHM if cut_off(spec) else between(pairs, value)


def _ratiometric(spec: Ratiometric, pairs: Pairs, value: float, state: State) -> float:
    felt = value + state.barometer if spec.absolute else value
    part = (felt - spec.low) / (spec.high - spec.low)
    share = spec.low_part + (spec.high_part - spec.low_part) * part
    return spec.supply_v * min(max(share, 0.0), 1.0)


def _blend(spec: BlendSender, pairs: Pairs, value: float, state: State) -> float:
    return blend.sender_hz(value)


def _duty(spec: Duty, pairs: Pairs, value: float, state: State) -> float:
    share = between(spec.points, value)
    return 1 - share if spec.inverted else share


def _thermocouple(spec: ThermocoupleK, pairs: Pairs, value: float, state: State) -> float:
    cold = state.ambient + (JOINT_K if spec.extension == "copper" else 0.0)
    return thermocouple.millivolts(value - ZERO_C) - thermocouple.millivolts(cold - ZERO_C)


def _with_the_car(spec: Thermistor | Resistive) -> Tolerates:
    return "tap" if spec.shared_ohm else "own"


def _gives(takes: Takes) -> Kind:
    """A kind that always gives one property, to be filled in."""
    return Kind(type, own, gives=lambda spec, output: takes)


def _thermistor_words(spec: Thermistor, job: Job) -> tuple[str, str]:
    return "Thermistor", f"{len(spec.points)} pairs" + (", shared" * bool(spec.shared_ohm))


def _ratiometric_words(spec: Ratiometric, job: Job) -> tuple[str, str]:
    kind = "absolute" if spec.absolute else "gauge"
    return "Pressure", f"{spec.low_part * 100:g}–{spec.high_part * 100:g} %, {kind}"


def _duty_words(spec: Duty, job: Job) -> tuple[str, str]:
    return "Duty cycle", f"{spec.hz:g} Hz" + (", inverted" * spec.inverted)


def _brake_words(spec: BrakeSide, job: Job) -> tuple[str, str]:
    lamps = {"led": "LED lamps", "filament": "bulbs", None: "lamps unknown"}
    return "Lamp feed", f"{spec.side} side, {lamps[job.vehicle.lamps]}"


def _from_to(name: str, unit: str) -> Words:
    return lambda spec, job: (name, f"{spec.points[0][1]:g} to {spec.points[-1][1]:g} {unit}")


register(
    _gives("ohm").but(
        spec=Thermistor,
        tolerates=_with_the_car,
        electrical=_thermistor,
        more_wires=_return,
        words=_thermistor_words,
    )
)
register(
    _gives("ohm").but(
        spec=Resistive,
        tolerates=_with_the_car,
        electrical=_resistive,
        more_wires=_return,
        words=_from_to("Sender", "Ω"),
    )
)
register(
    _gives("volts").but(
        spec=Ratiometric,
        electrical=_ratiometric,
        words=_ratiometric_words,
        more_wires=lambda spec: ("return", "sensor supply"),
    )
)
register(_gives("volts").but(spec=Volts, words=_from_to("Volts out", "V")))
register(
    _gives("hz").but(
        spec=BlendSender,
        electrical=_blend,
        more_wires=lambda spec: ("return", "supply"),
        open_collector=lambda spec: spec.open_collector,
        words=lambda spec, job: ("Blend sender", "50 to 150 Hz"),
    )
)
register(_gives("duty").but(spec=Duty, tolerates=tap, electrical=_duty, words=_duty_words))
register(
    _gives("thermocouple").but(
        spec=ThermocoupleK,
        electrical=_thermocouple,
        words=lambda spec, job: ("Thermocouple", f"type K, {spec.extension} lead"),
    )
)
register(
    Kind(Switch, tap, words=lambda spec, job: ("Contact", f"rests {spec.rests}, to {spec.to}"))
)
register(Kind(BrakeSide, tap, words=_brake_words))

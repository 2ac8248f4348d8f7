"""Senders that are read by a level: resistors, voltages, frequencies, thermocouples; contacts.

References:
    [1] β equation between two pairs of a thermistor: ln R is straight in 1/T (IEC 60539-1).
    [2] ITS-90 for type K, see ``calibrate.thermocouple``.
    [3] Ratiometric sender: a share of its supply, straight between two pressures.
"""

from __future__ import annotations

import math

from zombrel.calibrate import blend, thermocouple
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
from zombrel.signals.kinds.base import OPEN_OHM, Kind, own, register, tap
from zombrel.units import ZERO_C

JOINT_K = 40.0
"""How much hotter than the device the joint of a copper extension sits [K] (assumption)."""


def thermistor_ohm(points: Pairs, kelvin: float) -> float:
    """Resistance [Ω] at ``kelvin`` [K] between pairs (K, Ω); beyond them by the last β [1]."""
    i = 0
    while i < len(points) - 2 and kelvin > points[i + 1][0]:
        i += 1
    (t0, r0), (t1, r1) = points[i], points[i + 1]
    share = (1 / kelvin - 1 / t0) / (1 / t1 - 1 / t0)
    return math.exp(math.log(r0) + share * (math.log(r1) - math.log(r0)))


def _taped(spec: Thermistor | Resistive) -> bool:
    """Thread tape cuts a one-wire sender off its ground."""
    return spec.one_wire and spec.seal == "tape"


def _thermistor(spec: Thermistor, pairs: Pairs, value: float, state: State) -> float:
    return OPEN_OHM if _taped(spec) else thermistor_ohm(spec.points, value)


def _resistive(spec: Resistive, pairs: Pairs, value: float, state: State) -> float:
    return OPEN_OHM if _taped(spec) else between(pairs, value)


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


register(_gives("ohm")._replace(spec=Thermistor, tolerates=_with_the_car, electrical=_thermistor))
register(_gives("ohm")._replace(spec=Resistive, tolerates=_with_the_car, electrical=_resistive))
register(_gives("volts")._replace(spec=Ratiometric, electrical=_ratiometric))
register(_gives("volts")._replace(spec=Volts))
register(
    _gives("hz")._replace(
        spec=BlendSender, electrical=_blend, open_collector=lambda spec: spec.open_collector
    )
)
register(_gives("duty")._replace(spec=Duty, tolerates=tap, electrical=_duty))
register(_gives("thermocouple")._replace(spec=ThermocoupleK, electrical=_thermocouple))
register(Kind(Switch, tap))
register(Kind(BrakeSide, tap))

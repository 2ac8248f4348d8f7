"""Sensors: true against shown at two points, with a tolerance that says what it catches.

Reference: chain law as in ``signals.sense``; gauge accuracy as in the house's figures.
"""

from __future__ import annotations

import math

from zombrel.diagnose.step import Field, StepSheet, chain_of, mends_at, run_words
from zombrel.job.figures import figure
from zombrel.job.follow.query import query
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, group
from zombrel.job.sheet import Quantity
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals.chain_reading import felt
from zombrel.signals.circuit.port import Port
from zombrel.signals.sense import Sensor, ideal, shown_over
from zombrel.units import METRIC, ZERO_C
from zombrel.units.measure import Kind, token, unit, value_from, value_in

BAD = 2.0
"""So many tolerances off the truth a step would prove nothing but the fault."""
LIFT_V = 0.2
"""A ground lifted so far is told by name if the step would see it [V]."""


class Place(Value, frozen=True):
    """A point that can be had in a workshop: what it is, its usual value, how it is known."""

    label: str
    value: float
    """[SI]"""
    how: str


POINTS: dict[Quantity, tuple[Place, Place]] = {
    "coolant": (
        Place("Cold", ZERO_C + 20, "a probe on the housing, engine cold since the night"),
        Place("Warm", ZERO_C + 88, "a probe on the housing, thermostat open"),
    ),
    "charge": (
        Place("Cold", ZERO_C + 20, "a thermometer beside it"),
        Place("Warm", ZERO_C + 60, "a heat gun and a probe beside it"),
    ),
    "exhaust": (
        Place("Cold", ZERO_C + 20, "a thermometer beside it"),
        Place("In boiling water", ZERO_C + 100, "its tip in boiling water"),
    ),
    "oil": (
        Place("Engine off", 0.0, "no pressure"),
        Place("With a gauge", 2e5, "a known gauge on the same tee, idling or pumped"),
    ),
    "boost": (
        Place("At rest", 0.0, "engine off: no boost"),
        Place("Pumped", 1e5, "a hand pump with a gauge"),
    ),
    "fuel": (
        Place("As it is", 0.01, "dip, or the filling that emptied it"),
        Place("Filled up by", 0.03, "litres of the pump"),
    ),
    "blend": (
        Place("As bought", 0.1, "a test tube with water"),
        Place("Mixed", 0.5, "two measured parts in a can"),
    ),
    "mixture": (
        Place("Warm idle", 1.0, "an exhaust tester"),
        Place("Pushed over", 1.2, "an exhaust tester"),
    ),
    "volts": (
        Place("At rest", 12.6, "meter at the battery"),
        Place("Charging", 13.8, "meter at the battery, engine running"),
    ),
    "pump": (Place("Slow", 0.3, "a duty meter"), Place("Fast", 0.9, "a duty meter")),
    "gear": (Place("First", 1.0, "the lever"), Place("Third", 3.0, "the lever")),
    "analogue": (Place("Low", 1.0, "a known supply"), Place("High", 4.0, "a known supply")),
}


@query
def sensed(job: Job) -> tuple[str, ...]:
    """Sensor signals that a device shows as a figure."""
    devices = index(job.devices)
    found = []
    for chain in job.chains:
        if group(chain.quantity) != "sensed":
            continue
        sheet = devices[chain.device].sheet.input(chain.pin)
        if sheet is not None and sheet.shows:
            found.append(chain.id)
    return tuple(found)


@query
def sensor_step(job: Job, key: str) -> StepSheet:
    """Two points: what is true by another instrument, and what the device shows."""
    chain, device, _ = chain_of(job, key)
    kind = QUANTITIES[chain.quantity].kind
    fields: list[Field] = []
    blocked = catches = ""
    go = f"source:{key}"
    try:
        found = felt(job, key)
        low, high = found.span
        off = tolerance(low, high)
        for i, place in enumerate(_places(job, chain.quantity)):
            true = min(max(place.value, low), high)
            fields += _pair(found.sender, kind, i, place, true, off, found.span, device.name)
        catches = _catches(found.sender, low, high, off)
    except Problem as problem:
        blocked, fields, go = str(problem), [], mends_at(problem, key)
    return StepSheet(
        id=f"sensor-{key}",
        kind="sensor",
        short=f"{QUANTITIES[chain.quantity].title}, {device.name}",
        ask=f"Compare {QUANTITIES[chain.quantity].title.lower()} at two points.",
        where=f"Display of the {device.name} against another instrument.",
        caution=_CAUTIONS.get(chain.quantity, "Clear of belts, fans and hot parts."),
        fields=tuple(fields),
        formula="shown = the device’s curve of what the sender gives through its wires",
        source="device sheet and sender’s pairs; tolerance by the usual gauge accuracy",
        blocked=blocked,
        go=go,
        under=run_words(job, chain),
        chain=key,
        key=key,
        about=(key, chain.device, chain.source, *chain.wires),
        minutes=8.0,
        needs="another instrument for the true value",
        otherwise="Enter both pairs: what explains them is ranked.",
        leaves=catches,
    )


_CAUTIONS: dict[str, str] = {
    "coolant": "Hot coolant under pressure: the cap stays shut; fans start by themselves.",
    "oil": "Hot oil; sleeves away from belts; stop the engine if there is no pressure.",
    "fuel": "Fuel: no sparks, no lamp with a bulb, an extinguisher at hand.",
    "blend": "Fuel: no sparks, no lamp with a bulb, an extinguisher at hand.",
    "exhaust": "Hot metal. Never in a closed room with the engine running.",
    "mixture": "Exhaust gas: never in a closed room.",
}


def tolerance(low: float, high: float) -> float:
    """How far a reading may be off, by the usual accuracy of gauge and reference.

    ``low`` and ``high`` of the range, and result [SI].
    """
    return figure("sensor error let pass") * (high - low)


def _places(job: Job, quantity: Quantity) -> tuple[Place, Place]:
    """The two points, scaled to the vehicle."""
    points = POINTS[quantity]
    if quantity == "volts":
        scale = job.vehicle.system_v / 12
        return points[0].but(value=points[0].value * scale), points[1].but(
            value=points[1].value * scale
        )
    if quantity == "fuel" and job.vehicle.tank_l:
        return points[0].but(value=job.vehicle.tank_l / 4000), points[1].but(
            value=job.vehicle.tank_l / 1500
        )
    return points


def shown(sender: Sensor, value: float, port: Port | None = None) -> float:
    """What the device shows at a true value when all is sound.

    ``value`` and result [SI]; ``port`` in place of joints without loss.
    """
    state = State()
    return shown_over(sender, port or ideal(sender, state), state, (value,))[0]


def _pair(
    sender: Sensor,
    kind: Kind,
    i: int,
    place: Place,
    true: float,
    off: float,
    ends: tuple[float, float],
    device: str,
) -> list[Field]:
    name = unit(kind, METRIC)
    reads = shown(sender, true)
    if not math.isfinite(reads):
        raise Problem(f"At {place.label.lower()} it shows nothing: mend the signal first.")
    if abs(reads - true) > off * BAD:
        raise Problem(
            f"As it is now it shows {token(kind, reads)} for {token(kind, true)}: mend it first."
        )
    low, high = (value_in(kind, reads + side * off, METRIC) for side in (-1, 1))
    said = "" if abs(reads - true) < off / 10 else f", {token(kind, true)} true"
    return [
        Field(
            name=f"true{i + 1}",
            label=f"{place.label}, true",
            unit=name,
            low=value_in(kind, ends[0], METRIC),
            high=value_in(kind, ends[1], METRIC),
            expect=f"about {token(kind, true)}",
            because=place.how,
            given=True,
        ),
        Field(
            name=f"shown{i + 1}",
            label=f"{place.label}, {device}",
            unit=name,
            low=low,
            high=high,
            expect=f"{token(kind, reads - off)} to {token(kind, reads + off)}",
            because=f"by its curve{said}",
            of=f"true{i + 1}",
            by="curve",
        ),
    ]


def allowed(job: Job, step: StepSheet, true: float) -> tuple[float, float]:
    """What may be shown where ``true`` was stated [unit of the step's fields, as is the result].

    Raises:
        Problem: the chain cannot be computed any more.
    """
    found = felt(job, step.key)
    kind = QUANTITIES[index(job.chains)[step.key].quantity].kind
    reads = shown(found.sender, value_from(kind, true, METRIC))
    off = tolerance(*found.span)
    return value_in(kind, reads - off, METRIC), value_in(kind, reads + off, METRIC)


def _catches(sender: Sensor, low: float, high: float, off: float) -> str:
    """Which single faults two such points would show, and which slip through."""
    state = State()
    sound = ideal(sender, state)
    cases = {
        f"a ground lifted {LIFT_V:g} V": sound.lifted(LIFT_V),
        "a second pull-up": sound.but(ohm=sound.ohm / 2, per_amp=sound.per_amp / 2),
    }
    caught: list[str] = []
    slips: list[str] = []
    for words, port in cases.items():
        worst = 0.0
        for share in (0.25, 0.75):
            x = low + share * (high - low)
            seen = shown(sender, x, port)
            worst = max(worst, abs(seen - shown(sender, x)) if math.isfinite(seen) else math.inf)
        (caught if worst > off else slips).append(words)
    told = "what is less off than that" + (f", such as {' or '.join(slips)}" if slips else "")
    return f"{told}. It would show {' or '.join(caught)}." if caught else f"{told}."

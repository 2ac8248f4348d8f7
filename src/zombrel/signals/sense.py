"""Sensor chains: from a true value to what the device shows.

value → the sender's electrical property → volts at the pin (pull-ups, ground lift, loading)
→ what the device infers → its curve → what it shows. Plain floats: a job's sensors are read
in one state at a time, and NumPy would cost half a bare window's start.

References:
    [1] Node voltage: V = Σ(Vᵢ/Rᵢ) / Σ(1/Rᵢ) (Millman's theorem).
    [2] β equation between two pairs of a thermistor: ln R is straight in 1/T (IEC 60539-1).
    [3] ITS-90 for type K, see ``calibrate.thermocouple``.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable
from typing import Literal

from zombrel.calibrate.pressure import ATMOSPHERE
from zombrel.job.facts import unset
from zombrel.job.model import Attenuator, Chain, Device, PullUp, Vehicle
from zombrel.job.pairs import LEAST_PAIRS, Pairs, along, between, falling_or_rising, rising
from zombrel.job.problem import Problem
from zombrel.job.quantity import usual_range
from zombrel.job.sheet import TABLE, Frozen, InputSheet, Takes
from zombrel.job.source import (
    BoxOutput,
    Ratiometric,
    Resistive,
    Source,
    Thermistor,
)
from zombrel.job.stages import route, see
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals.circuit.port import Port
from zombrel.signals.inputs import INPUTS
from zombrel.signals.kinds import kind_of
from zombrel.signals.kinds.base import OPEN_OHM

NEAR = 0.02
"""Share of a curve's electrical range past its end that still counts as on it."""
Fault = Literal["", "open", "no pull-up", "below", "above"]
FAULTS: dict[Fault, str] = {
    "": "",
    "open": "open: no way to ground",
    "no pull-up": "no pull-up: the output cannot rise",
    "below": "below the end of the device's curve",
    "above": "above the end of the device's curve",
}
"""Each fault in words."""
UNREADABLE: tuple[Fault, ...] = ("open", "no pull-up")
"""With these the device shows nothing to be trusted."""


class Sensed(Frozen, frozen=True, kw_only=True):
    """One sensor chain in one state; values in SI."""

    takes: Takes
    gives: Takes
    electrical: float
    """What the sender gives: Ω, V, Hz, share or mV."""
    pin_v: float
    """Volts at the device's pin; nan where volts are not what counts."""
    inferred: float
    """What the device takes the sender's property to be."""
    off: float
    """Shown less true."""
    lift_v: float
    own_shift: float = 0.0
    """By how much a shared sender's own reading in the vehicle is shifted."""
    fault: Fault = ""
    """What is the matter, see ``FAULTS``; empty when nothing is."""


class Sensor(Value, frozen=True):
    """A sensor chain and all of it that no state changes."""

    source: Source
    sheet: InputSheet
    curve: Pairs
    """(value, electrical) the device goes by."""
    inverse: Pairs
    """The same as (electrical, value), ascending."""
    gives: Takes
    truth: Pairs
    """(value, electrical) of the sender; empty where a formula gives it."""
    pull_ups: tuple[tuple[float, float], ...]
    """(Ω, V; 0 for the supply) of resistors added on the way."""
    down: Attenuator | None


def gives(source: Source, output: Pairs = ()) -> Takes:
    """The electrical property a sensor source gives; ``output`` of the device it belongs to.

    Pairs (value [SI], V).

    Raises:
        Problem: the source gives pulses or a contact, which is not read as a value.
    """
    found = kind_of(source.spec).gives(source.spec, output)
    if found is None:
        raise Problem(f"{source.name} gives no value that could be read: pulses or a contact.")
    return found


def known_curve(device: Device, sheet: InputSheet) -> Pairs:
    """The curve a device goes by for an input: pairs (value [SI], electrical [Ω, V, Hz or share]).

    None for a thermocouple, which is read by the standard table.

    Raises:
        Problem: it is not set yet, or has no such curve.
    """
    curves = sheet.curves
    if curves is None:
        if not sheet.curve and sheet.takes == "thermocouple":
            return ()  # it goes by the standard table [3]
        if not sheet.curve:
            raise Problem(f"{device.name} {sheet.pin}: its sheet gives no curve; add it there.")
        return sheet.curve
    at = device.setting(sheet.pin)
    if at is None:
        raise unset(device.name, sheet.pin)
    if at == TABLE:
        table = device.table(sheet.pin)
        if len(table) < LEAST_PAIRS:
            raise Problem(
                f"{device.name} {sheet.pin}: its table has no points yet: {see('set')}.",
                "unset",
                route("set"),
            )
        return table
    for preset in curves.presets:
        if preset.name == at:
            return preset.points
    names = ", ".join(p.name for p in curves.presets) or "its own table only"
    raise Problem(f"{device.name} {sheet.pin} has no curve “{at}”; it has {names}.")


def sensor(chain: Chain, source: Source, device: Device, box: Device | None) -> Sensor:
    """All of a sensor chain that no state changes; ``box`` the device the source belongs to.

    Raises:
        Problem: nothing the input could read, or no curve set.
    """
    sheet = device.sheet.input(chain.pin)
    assert sheet is not None  # validated with the job
    return joined(chain, source, sheet, known_curve(device, sheet), box)


def joined(
    chain: Chain, source: Source, sheet: InputSheet, curve: Pairs, box: Device | None
) -> Sensor:
    """Like ``sensor`` for a curve at hand.

    Pairs (value [SI], electrical [Ω, V, Hz or share]).
    """
    spec = source.spec
    output: Pairs = ()
    if isinstance(spec, BoxOutput) and box is not None:
        pin = box.sheet.output(spec.pin)
        output = pin.points if pin is not None else ()
    kind = gives(source, output)
    pulls = tuple((h.ohm, h.to_v) for h in chain.hops if isinstance(h, PullUp))
    if kind != sheet.takes and kind not in INPUTS[sheet.takes].also:
        raise Problem(
            f"{source.name} gives {INPUTS[kind].words}, "
            f"and {sheet.pin} reads {INPUTS[sheet.takes].words}."
        )
    shared = getattr(spec, "shared_ohm", 0.0)
    if kind in INPUTS[sheet.takes].also and not (pulls or shared or sheet.pull_up_ohm):
        raise Problem(
            f"{source.name} is a resistor and {sheet.pin} reads volts: it needs a pull-up."
        )
    truth: Pairs = getattr(spec, "points", ()) or output
    if truth:
        sound(truth, source.name, isinstance(spec, Thermistor))
    down = next((h for h in chain.hops if isinstance(h, Attenuator)), None)
    inverse = tuple(sorted((y, x) for x, y in curve))
    return Sensor(source, sheet, curve, inverse, kind, truth, pulls, down)


def sound(points: Pairs, name: str, thermistor: bool) -> None:
    """See that pairs make a curve that can be read both ways.

    Pairs (value [SI], electrical [Ω, V, Hz or share]).

    Raises:
        Problem: out of order, one value twice, turning back, or no resistance at all.
    """
    if rising(points, name) != points:
        raise Problem(f"{name}: its pairs must rise in their first number.")
    falling_or_rising(points, name)
    if any(y < 0 for _, y in points):
        raise Problem(f"{name}: a reading below zero cannot be; measure that pair again.")
    if thermistor and any(k <= 0 or ohm <= 0 for k, ohm in points):
        raise Problem(f"{name}: temperatures above −273.15 °C and ohms above zero are needed.")


def electrical(sender: Sensor, value: float, state: State) -> float:
    """What the sender gives at a true value: Ω, V, Hz, share or mV."""
    return law_at(sender.source.spec, sender.truth, value, state)


def law_at(spec: object, truth: Pairs, value: float, state: State) -> float:
    """What a sender of this kind gives at a true value: Ω, V, Hz, share or mV.

    ``truth`` its pairs (value [SI], electrical), empty where a formula gives it.
    """
    law = kind_of(spec).electrical
    return between(truth, value) if law is None else law(spec, truth, value, state)


def _pulls(sender: Sensor, state: State) -> list[tuple[float, float]]:
    """Every pull-up on the node but the device's own."""
    spec = sender.source.spec
    pulls = [(ohm, to or state.volts) for ohm, to in sender.pull_ups]
    if isinstance(spec, Thermistor | Resistive) and spec.shared_ohm:
        pulls.append((spec.shared_ohm, spec.shared_v))
    return pulls


def _own(sender: Sensor, state: State) -> list[tuple[float, float]]:
    sheet = sender.sheet
    if not sheet.pull_up_ohm:
        return []
    return [(sheet.pull_up_ohm, sheet.pull_up_v or state.volts)]


def ideal(sender: Sensor, state: State) -> Port:
    """What the sender would see of the input and what pulls at it, wires without loss [1]."""
    sheet = sender.sheet
    parts = [*_pulls(sender, state), *_own(sender, state)]
    if sheet.takes != "ohm":
        parts.append((sheet.input_ohm, 0.0))
    if sender.down is not None:
        foot = sender.down.ground_ohm * sheet.input_ohm / (sender.down.ground_ohm + sheet.input_ohm)
        return Port(0.0, sender.down.series_ohm + foot, 0.0, foot, 0.0)
    siemens = sum(1 / ohm for ohm, _ in parts)
    if not siemens:
        return Port(0.0, OPEN_OHM, 0.0, OPEN_OHM, 0.0)
    volts = sum(v / ohm for ohm, v in parts) / siemens
    return Port(volts, 1 / siemens, volts, 1 / siemens, 0.0)


def pin_volts(sender: Sensor, given: float, port: Port) -> float:
    """Volts at the pin for what the sender gives; nan where volts do not count.

    ``given`` [Ω, V, Hz or share], result [V].
    """
    return _pin(sender, port)(given)


def _pin(sender: Sensor, port: Port) -> Callable[[float], float]:
    """What the sender gives [Ω, V, Hz or share] → volts at the pin [V]."""
    if sender.gives == "ohm":
        most, per, ohm, at_rest = port.open_v, port.per_amp, port.ohm, port.pin_v
        return lambda given: at_rest - per * most / (ohm + max(given, 1e-3))
    if sender.gives == "volts":
        spec = sender.source.spec
        out = max(getattr(spec, "out_ohm", 100.0), 1e-3)
        # it shares out what is between its supply and its foot, so the foot lifts it in part
        share = 1 - port.lift_v / spec.supply_v if isinstance(spec, Ratiometric) else 1.0
        return lambda given: port.behind(given * share, out)
    return lambda given: math.nan


def inferred(sender: Sensor, given: float, volts: float, state: State) -> float:
    """What the device takes the sender's property to be.

    ``given`` [Ω, V, Hz or share], ``volts`` [V]; result as ``given``.
    """
    own = next(iter(_own(sender, state)), None)
    return INPUTS[sender.sheet.takes].infers(given, volts, own)


def shown_at(sender: Sensor, value: float, port: Port | None, state: State) -> tuple[float, Sensed]:
    """What the device shows at a true value, and how it comes about.

    ``port`` as the network has it; None for a sender that is joined without loss. ``value`` and
    the first result [SI].
    """
    if port is None:
        port = ideal(sender, state)
    given = electrical(sender, value, state)
    volts = pin_volts(sender, given, port)
    read = inferred(sender, given, volts, state)
    shown = value_of(sender, read, state)
    return shown, Sensed(
        takes=sender.sheet.takes,
        gives=sender.gives,
        electrical=given,
        pin_v=volts,
        inferred=read,
        off=shown - value,
        lift_v=port.lift_v,
        own_shift=_own_shift(sender, value, given, volts, port),
        fault=_fault(sender, given, read),
    )


def shown_over(sender: Sensor, port: Port, state: State, values: Iterable[float]) -> list[float]:
    """What the device shows at true values, value by value [SI]; see ``shown_at``."""
    spec, truth = sender.source.spec, sender.truth
    law, infers = kind_of(spec).electrical, INPUTS[sender.sheet.takes].infers
    own, volts = next(iter(_own(sender, state)), None), _pin(sender, port)
    if law is None:
        given = along(truth, values)
    else:
        given = [law(spec, truth, value, state) for value in values]
    return values_of(sender, [infers(x, volts(x), own) for x in given], state)


def value_of(sender: Sensor, read: float, state: State) -> float:
    """The device's curve, and its barometer.

    ``read`` what it takes the sender's property to be [Ω, V, Hz or share]; result [SI].
    """
    return values_of(sender, (read,), state)[0]


def values_of(sender: Sensor, reads: Iterable[float], state: State) -> list[float]:
    """``value_of`` for many."""
    fixed = INPUTS[sender.sheet.takes].fixed
    if fixed is not None:
        return [fixed(read, state) for read in reads]
    floor = {"own": state.barometer, "fixed": ATMOSPHERE}.get(sender.sheet.barometer, 0.0)
    return [value - floor for value in along(sender.inverse, reads)]


def _fault(sender: Sensor, given: float, read: float) -> Fault:
    spec = sender.source.spec
    if given >= OPEN_OHM or (sender.gives == "ohm" and read >= OPEN_OHM):
        return "open"
    pulled = bool(sender.pull_ups or sender.sheet.pull_up_ohm)
    if kind_of(spec).open_collector(spec) and not pulled:
        return "no pull-up"
    if INPUTS[sender.sheet.takes].fixed is not None or not sender.curve:
        return ""
    low, high = sender.inverse[0][0], sender.inverse[-1][0]
    slack = NEAR * (high - low)
    if read < low - slack:
        return "below"
    return "above" if read > high + slack else ""


def count_step(sender: Sensor, volts: float, state: State) -> float:
    """Step of the shown value for one count at ``volts`` on the pin; nan when not known.

    ``volts`` [V], result [SI].
    """
    sheet = sender.sheet
    if not sheet.adc_bits or not math.isfinite(volts):
        return math.nan
    step = (sheet.full_v or state.volts) / 2**sheet.adc_bits
    near = [
        value_of(sender, inferred(sender, 0.0, volts + side * step / 2, state), state)
        for side in (-1, 1)
    ]
    return abs(near[1] - near[0])


def _own_shift(sender: Sensor, value: float, given: float, volts: float, port: Port) -> float:
    """Shift of the vehicle's own reading: it infers from the node with its pull-up alone."""
    spec = sender.source.spec
    if not isinstance(spec, Thermistor | Resistive) or not spec.shared_ohm:
        return 0.0
    volts -= port.lift_v
    if volts >= spec.shared_v * (1 - 1e-9):
        return math.inf
    taken = spec.shared_ohm * volts / (spec.shared_v - volts)
    return _back(spec, taken) - value


def _back(spec: Thermistor | Resistive, ohm: float) -> float:
    if isinstance(spec, Resistive):
        return between(tuple(sorted((r, v) for v, r in spec.points)), ohm)
    pairs = sorted((math.log(r), 1 / k) for k, r in spec.points)
    i = 0
    while i < len(pairs) - 2 and math.log(max(ohm, 1e-3)) > pairs[i + 1][0]:
        i += 1
    (l0, t0), (l1, t1) = pairs[i], pairs[i + 1]
    inverse = t0 + (t1 - t0) * (math.log(max(ohm, 1e-3)) - l0) / (l1 - l0)
    return 1 / max(inverse, 1e-4)


def span_of(chain: Chain, sender: Sensor, vehicle: Vehicle) -> tuple[float, float]:
    """Range the chain is looked at over [SI]: the quantity's, inside what the sender knows."""
    low, high = usual_range(chain.quantity, vehicle.tank_l, vehicle.system_v)
    spec = sender.source.spec
    if isinstance(spec, Ratiometric):
        shift = ATMOSPHERE if spec.absolute else 0.0
        ends = sorted((spec.low - shift, spec.high - shift))
        return max(low, ends[0]), min(high, ends[1])
    if sender.truth and not isinstance(spec, Thermistor):
        return max(low, sender.truth[0][0]), min(high, sender.truth[-1][0])
    return low, high


def strip_of(
    sender: Sensor, low: float, high: float, port: Port, state: State, steps: int = 48
) -> list[tuple[float, float]]:
    """(true, shown) over a range; the corners of the pairs are in it.

    ``low``, ``high`` and the pairs [SI].
    """
    xs = {low + (high - low) * i / steps for i in range(steps + 1)}
    xs |= {x for x, _ in itertools.chain(sender.truth, sender.curve) if low < x < high}
    return [(x, shown_at(sender, x, port, state)[0]) for x in sorted(xs)]

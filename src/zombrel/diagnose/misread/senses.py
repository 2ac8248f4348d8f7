"""Rivals of a sensed reading: what a fault does to what the device makes of its pin.

A reading is true → what the sender gives → volts at the pin → what the device takes it for → shown.
Each rival changes one link of it.

References: as in ``signals.sense`` (voltage divider, node voltage); a ratiometric sender shares out
what is between its supply and its foot, so a lift moves it in part.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from zombrel.calibrate.pressure import ATMOSPHERE
from zombrel.diagnose.misread.weigh import Cause, Meter, Rival, away, even, linear, spread
from zombrel.job.pairs import Pairs, between
from zombrel.job.value import Value
from zombrel.units import ZERO_C
from zombrel.units.measure import BAR, PSI

AT_END = 0.3
"""At the end of a scale a reading scatters only so much of what it does within."""
UP = 0.9
"""Of lifted grounds, those that lift the sender and not the device."""
OTHER_CURVE, OTHER_RANGE = 0.12, 0.05
"""Ratios nearer to one are no other curve, no other range [ln]."""
KPA = 1000.0
"""One kilopascal [Pa]."""
Prior = Callable[[str], float]


class Ohms(Value, frozen=True):
    """A resistor read through a pull-up; values in the unit of the display."""

    gives: Callable[[float], float]
    """True value → Ω of the sender."""
    reads: Callable[[float], float]
    """V at the pin → shown."""
    pull_ohm: float
    vref: float


class Levels(Value, frozen=True):
    """A voltage read as it is; values in the unit of the display."""

    gives: Callable[[float], float]
    """True value → V."""
    reads: Callable[[float], float]
    """V → shown."""
    vref: float
    ratiometric: bool
    low: float
    high: float
    """Ends of the device's scale."""


def meter_of(low: float, high: float) -> Meter:
    """A gauge from ``low`` to ``high``, and the instrument beside it [unit of the display]."""
    span = max(abs(high - low), 1e-6)  # a scale without width reads one thing only
    return Meter(0.01 * span, 0.01, 2.0 * span, apart=0.1 * span)


def rival(
    cause: Cause,
    weight: float,
    shows: Callable[[float, float], float],
    words: str,
    mend: str,
    grid: tuple[tuple[float, float], ...] = ((0.0, 1.0),),
    wide: float = 1.0,
) -> Rival:
    """One rival in words with its unknown.

    ``weight`` before anything was seen [1]; ``shows`` (unknown, true) → shown [unit of the
    display].
    """
    return Rival(cause, weight, grid, shows, lambda u: words.format(u), lambda u: mend, wide)


# ---- resistances


def by_pairs(pairs: Pairs, pull: float, vref: float, kelvin: bool) -> Ohms:
    """A sender by its pairs (value, Ω), and a device that goes by the same; ``vref`` [V].

    ``kelvin``: a thermistor, between whose pairs ln R is straight in 1/T (IEC 60539-1).
    """
    curve = tuple(sorted((ohm, value) for value, ohm in pairs))

    def reads(volts: float) -> float:
        ohm = 1e9 if volts >= vref * (1 - 1e-6) else max(pull * volts / (vref - volts), 0.0)
        return _value_at(curve, ohm, kelvin)

    return Ohms(lambda true: _ohm_at(pairs, true, kelvin), reads, pull, vref)


def _ohm_at(pairs: Pairs, value: float, kelvin: bool) -> float:
    if not kelvin:
        return between(pairs, value)
    points = sorted((1 / (t + ZERO_C), math.log(r)) for t, r in pairs)
    return math.exp(_straight(points, 1 / (value + ZERO_C)))


def _value_at(curve: Pairs, ohm: float, kelvin: bool) -> float:
    """What a device takes a resistance for; the end of its curve beyond it."""
    if not kelvin:
        return between(curve, ohm)
    points = sorted((math.log(r), 1 / (t + ZERO_C)) for r, t in curve)
    at = min(max(math.log(max(ohm, 1e-3)), points[0][0]), points[-1][0])
    return 1 / _straight(points, at) - ZERO_C


def _straight(points: list[tuple[float, float]], x: float) -> float:
    """Straight between points, and on beyond the ends."""
    at = next((i for i in range(1, len(points)) if x <= points[i][0]), len(points) - 1)
    (x0, y0), (x1, y1) = points[at - 1], points[at]
    return y0 + (y1 - y0) * (x - x0) / (x1 - x0)


def ohm_rivals(line: Ohms, prior: Prior, temperature: bool) -> list[Rival]:
    """Rivals of a resistance read through a pull-up."""
    pull, vref = line.pull_ohm, line.vref

    gives, shown = line.gives, line.reads

    def volts(ohm: float, by: float = 1.0) -> float:
        return vref * ohm / (ohm + pull * by)

    found = [
        rival(
            "sound",
            prior("sound"),
            lambda u, t: shown(volts(gives(t))),
            "Nothing is the matter",
            "—",
        ),
        rival(
            "ground-offset",
            prior("ground-offset"),
            lambda u, t: shown(u + (vref - u) * gives(t) / (gives(t) + pull)),
            "Its ground stands {0:.2f} V above the device’s",
            "Meter from the sender’s ground to the device’s: a stud of its own.",
            spread(0.05, 2.5),
        ),
        rival(
            "open-ground",
            prior("open-ground"),
            lambda u, t: shown(vref),
            "Open: no way to ground through the sender",
            "Plug off, bridge it: the reading goes to the other end if the wires are whole.",
        ),
        rival(
            "dead",
            prior("dead"),
            lambda u, t: shown(0.0),
            "The line lies on ground",
            "Plug off at the sender: it goes to the other end if only the sender is shorted.",
        ),
        rival(
            "wrong-curve",
            prior("wrong-curve"),
            lambda u, t: shown(volts(gives(t) * u)),
            "The device goes by a curve for a sender of {0:.2f} × these ohms",
            "Read the curve back; measure the sender at two points.",
            away(spread(0.12, 8.0, 120), OTHER_CURVE),
        ),
        rival(
            "missing-pull-up",
            prior("missing-pull-up"),
            lambda u, t: shown(0.0),
            "No pull-up: nothing feeds the sender",
            "Plug off, meter the pin: it should stand at the reference.",
        ),
        rival(
            "double-pull-up",
            prior("double-pull-up"),
            lambda u, t: shown(volts(gives(t), 0.5)),
            "Two pull-ups of the same kind",
            "Unplug the other taker of this sender and see.",
        ),
        rival(
            "weak-pull-up",
            prior("weak-pull-up"),
            lambda u, t: shown(volts(gives(t), u)),
            "Its pull-up is {0:.2g} × what the device believes",
            "Plug off, meter the pin into a known resistor.",
            spread(1.3, 12.0, 80),
        ),
        rival(
            "dirty-contact",
            prior("dirty-contact"),
            lambda u, t: shown(volts(gives(t) + u)),
            "{0:.3g} Ω more in the line: a dirty contact",
            "Wiggle the plugs; ohms of the run end to end: under 1 Ω.",
            spread(max(pull * 0.03, 5.0), pull * 20),
        ),
        rival(
            "swapped-pair",
            prior("swapped-pair"),
            lambda u, t: shown(vref - volts(gives(t))),
            "Signal and reference exchanged",
            "Exchange the two wires at the plug.",
        ),
        rival(
            "supply-low",
            prior("supply-low"),
            lambda u, t: shown(u * volts(gives(t))),
            "The reference stands at {0:.0%}",
            "Meter the reference at its pin.",
            linear(0.5, 0.95, 40),
        ),
    ]
    if temperature:
        found.append(fahrenheit(lambda t: shown(volts(gives(t))), prior))
    return found


def fahrenheit(sound: Callable[[float], float], prior: Prior) -> Rival:
    """Degrees of the other kind on the display; ``sound`` true → shown [°C]."""
    return rival(
        "unit-mix",
        prior("unit-mix"),
        lambda u, t: sound(t) * 1.8 + 32 if u > 0 else (sound(t) - 32) / 1.8,
        "Degrees Celsius and Fahrenheit mixed up",
        "Set the unit of the display.",
        even((1.0, -1.0)),
    )


# ---- voltages


def level_rivals(line: Levels, prior: Prior, kind: str) -> list[Rival]:
    """Rivals of a voltage; ``kind`` temperature, pressure, fraction or any other."""
    vref = line.vref

    def shown(volts: float) -> float:
        return min(max(line.reads(volts), line.low), line.high)

    def lifted(u: float, t: float) -> float:
        v = line.gives(t)
        return shown(u + v * (1 - u / vref)) if line.ratiometric else shown(u + v)

    lifts = spread(0.08, 2.8)
    found = [
        rival(
            "sound",
            prior("sound"),
            lambda u, t: shown(line.gives(t)),
            "Nothing is the matter",
            "—",
        ),
        rival(
            "ground-offset",
            prior("ground-offset"),
            lifted,
            "Its ground stands {0:.2f} V above the device’s",
            "Meter from the sender’s ground to battery negative, loads on: a stud of its own.",
            (*((u, w * UP) for u, w in lifts), *((-u, w * (1 - UP)) for u, w in lifts)),
        ),
        rival(
            "open-ground",
            prior("open-ground"),
            lambda u, t: shown(vref),
            "Its ground is open: the line stands at the reference",
            "Ohms from the sender’s ground pin to the device’s: under 1 Ω.",
            wide=AT_END,
        ),
        rival(
            "dead",
            prior("dead"),
            lambda u, t: line.reads(0.0) if u else shown(0.0),
            "No signal: the line lies at nought",
            "Meter the sender’s supply, then its signal, at its own plug.",
            even((0.0, 1.0)),
            AT_END,
        ),
        rival(
            "wrong-curve",
            prior("wrong-curve"),
            lambda u, t: _clip(line, line.low + (shown(line.gives(t)) - line.low) * u),
            "The device goes by a range {0:.3g} × this sender’s",
            "Read the range back; the sender’s is on its body.",
            away(spread(0.2, 5.0, 120), OTHER_RANGE),
        ),
        rival(
            "swapped-pair",
            prior("swapped-pair"),
            lambda u, t: shown(vref),
            "Signal and supply exchanged",
            "Exchange the two wires at the plug.",
            wide=AT_END,
        ),
        rival(
            "reversed-pair",
            prior("reversed-pair"),
            lambda u, t: shown(vref - line.gives(t)),
            "Supply and ground exchanged, or the line the wrong way up",
            "Exchange the two wires at the plug; see whether the sender is warm.",
        ),
        rival(
            "supply-low",
            prior("supply-low"),
            lambda u, t: shown(u * line.gives(t)),
            "The sender’s supply stands at {0:.0%}",
            "Meter the sender’s supply at its own plug.",
            linear(0.5, 0.95, 40),
        ),
        rival(
            "dirty-contact",
            prior("dirty-contact"),
            lambda u, t: shown(u * line.gives(t)),
            "A resistance in the line leaves {0:.0%} of the signal",
            "Wiggle the plugs; volts at both ends of the run.",
            linear(0.5, 0.95, 40),
        ),
    ]
    if kind == "temperature":
        found.append(fahrenheit(lambda t: shown(line.gives(t)), prior))
    if kind == "pressure":
        found += _pressures(line, shown, prior)
    return found


def _clip(line: Levels, value: float) -> float:
    return min(max(value, line.low), line.high)


def _pressures(line: Levels, shown: Callable[[float], float], prior: Prior) -> list[Rival]:
    return [
        rival(
            "unit-mix",
            prior("unit-mix"),
            lambda u, t: shown(line.gives(t)) * u,
            "Units mixed up: {0:.3g} of what is true",
            "Set the unit of the display.",
            even((KPA / PSI, PSI / KPA, KPA / BAR, BAR / KPA, PSI / BAR, BAR / PSI)),
        ),
        rival(
            "wrong-curve",
            prior("wrong-curve"),
            lambda u, t: shown(line.gives(t)) + u,
            "Absolute and gauge pressure mixed up: an atmosphere off",
            "An absolute sender shows the air with the engine off: choose its curve.",
            even((ATMOSPHERE / KPA, -ATMOSPHERE / KPA)),
        ),
    ]

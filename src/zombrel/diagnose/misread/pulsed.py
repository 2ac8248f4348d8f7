"""Rivals of a reading by pulses or by a junction: frequency, duty cycle, thermocouple.

A reading is true → what the sender gives (Hz, share of the period, mV) → what of it arrives →
shown. Each rival changes one link of it.

References: a count that is added stands also at rest, one that is lost scales (``signals.law``); a
thermocouple whose wires are exchanged falls as it should rise (IEC 60584-1).
"""

from __future__ import annotations

from collections.abc import Callable

from zombrel.diagnose.misread.senses import AT_END, OTHER_CURVE, OTHER_RANGE, fahrenheit, rival
from zombrel.diagnose.misread.weigh import Rival, away, even, linear, spread
from zombrel.job.sheet import Takes
from zombrel.job.value import Value

Prior = Callable[[str], float]


class Pulsed(Value, frozen=True):
    """A frequency, a duty cycle or millivolts; values in the unit of the display."""

    kind: Takes
    """A frequency, a duty cycle, or a thermocouple."""
    gives: Callable[[float], float]
    """True value → Hz, share of the period or mV."""
    reads: Callable[[float], float]
    """The same → shown."""
    low: float
    high: float
    """Ends of the device's scale."""
    temperature: bool = False


def pulsed_rivals(line: Pulsed, prior: Prior) -> list[Rival]:
    """Rivals of a frequency, a duty cycle or a thermocouple."""
    found = [
        rival(
            "sound",
            prior("sound"),
            lambda u, t: _shown(line, line.gives(t)),
            "Nothing is the matter",
            "—",
        ),
        rival(
            "wrong-curve",
            prior("wrong-curve"),
            lambda u, t: _clip(line, line.low + (_shown(line, line.gives(t)) - line.low) * u),
            "The device goes by a range {0:.3g} × this sender’s",
            "Read the curve back; the sender’s is on its body.",
            away(spread(0.2, 5.0, 120), OTHER_RANGE),
        ),
    ]
    found += _junction(line, prior) if line.kind == "thermocouple" else _pulses(line, prior)
    if line.temperature:
        found.append(fahrenheit(lambda t: _shown(line, line.gives(t)), prior))
    return found


def _shown(line: Pulsed, read: float) -> float:
    return _clip(line, line.reads(read))


def _clip(line: Pulsed, value: float) -> float:
    return min(max(value, line.low), line.high)


def _pulses(line: Pulsed, prior: Prior) -> list[Rival]:
    def nothing(u: float, t: float) -> float:
        return line.reads(0.0) if u < 0 else _shown(line, u)

    # below its scale, at the end of it, or, by duty, on all the time
    ends = even((-1.0, 0.0, 1.0) if line.kind == "duty" else (-1.0, 0.0))
    found = [
        rival(
            "dead",
            prior("dead"),
            nothing,
            "No pulse arrives",
            "Scope, or volts that stand between the rails, at the sender’s plug, then at the pin.",
            ends,
            AT_END,
        ),
        rival(
            "missing-pull-up",
            prior("missing-pull-up"),
            nothing,
            "Nothing pulls the output up: it cannot rise",
            "Plug off, meter the pin: it should stand at the supply.",
            ends,
            AT_END,
        ),
        rival(
            "open-ground",
            prior("open-ground"),
            nothing,
            "Its ground is open: the output cannot fall",
            "Ohms from the sender’s ground pin to the device’s: under 1 Ω.",
            ends,
            AT_END,
        ),
        rival(
            "swapped-pair",
            prior("swapped-pair"),
            nothing,
            "Signal and supply exchanged",
            "Exchange the two wires at the plug.",
            ends,
            AT_END,
        ),
    ]
    return found + (_by_duty(line, prior) if line.kind == "duty" else _by_hz(line, prior))


def _by_hz(line: Pulsed, prior: Prior) -> list[Rival]:
    usual = max(line.gives(line.low), line.gives(line.high))
    return [
        rival(
            "noise-counts",
            prior("noise-counts"),
            lambda u, t: _shown(line, line.gives(t) * u),
            "Each period is counted {0:.0f} times",
            "A scope at the pin: ringing, or both edges counted. A filter.",
            even((2.0, 3.0)),
        ),
        rival(
            "noise-counts",
            prior("noise-counts") * 0.1,
            lambda u, t: _shown(line, line.gives(t) + u),
            "{0:.3g} Hz are added to what the sender gives",
            "Twist the wires, away from coils; see whether it falls with the engine off.",
            linear(0.03 * usual, usual, 50),
        ),
        rival(
            "drop-outs",
            prior("drop-outs"),
            lambda u, t: _shown(line, line.gives(t) * u),
            "Only {0:.0%} of the periods are counted",
            "Level against threshold: the pull-up, the supply; wiggle the plug and watch.",
            linear(0.3, 0.97, 40),
        ),
        rival(
            "wrong-curve",
            prior("wrong-curve"),
            lambda u, t: _shown(line, line.gives(t) * u),
            "The device goes by a curve for {0:.2f} × this frequency",
            "Read the curve back; scope the sender at two points.",
            away(spread(0.2, 5.0, 120), OTHER_CURVE),
        ),
    ]


def _by_duty(line: Pulsed, prior: Prior) -> list[Rival]:
    return [
        rival(
            "reversed-pair",
            prior("reversed-pair"),
            lambda u, t: _shown(line, 1 - line.gives(t)),
            "The other half of the period is taken: active the wrong way up",
            "Set the active level of the input, or exchange the two wires.",
        ),
    ]


def _junction(line: Pulsed, prior: Prior) -> list[Rival]:
    return [
        rival(
            "reversed-pair",
            prior("reversed-pair"),
            lambda u, t: line.reads(-line.gives(t)) if u else _shown(line, -line.gives(t)),
            "Its two wires are exchanged: it falls as it should rise",
            "Exchange the two wires at the plug: the colours are those of the junction’s type.",
            even((0.0, 1.0)),
        ),
        rival(
            "swapped-pair",
            prior("swapped-pair"),
            lambda u, t: _shown(line, line.gives(t) * u),
            "Copper on the way, or the wrong lead: {0:.0%} of the millivolts arrive",
            "Run the junction’s own lead all the way to the device.",
            linear(0.3, 0.95, 40),
        ),
        rival(
            "dead",
            prior("dead"),
            lambda u, t: _shown(line, 0.0),
            "Shorted on the way: it shows how warm the device is",
            "Plug off at the junction: it must go to the open end.",
        ),
        rival(
            "open-ground",
            prior("open-ground"),
            lambda u, t: u,
            "The junction, or its lead, is open",
            "Ohms across the junction, unplugged: a few.",
            even((line.low, line.high, *(u for u, _ in linear(line.high, 1.6 * line.high, 30)))),
            AT_END,
        ),
        rival(
            "ground-offset",
            prior("ground-offset"),
            lambda u, t: _shown(line, line.gives(t) + u),
            "Its tip is grounded and {0:.2g} mV are added",
            "An isolated junction, or the device’s ground where the tip has its own.",
            (*spread(0.3, 20.0), *((-u, w) for u, w in spread(0.3, 20.0))),
        ),
    ]

"""The cold side of the brake-lamp switch, as a cancel input sees it.

At rest the switch is open. The device pulls the line up through its own resistor and must
find ground through what hangs on the line: a cold lamp filament, an added resistor, a
relay's rest contact, or hardly anything when the lamps are LEDs.

References:
    [1] Ohm's law and the voltage divider.
    [2] Tungsten at room temperature has about a tenth of its working resistance
        (Agrawal & Menon, *Phys. Educ.* 46 (2011); CRC Handbook, resistivity of tungsten).
    [3] LED lamp: conducts little below its knee; 12 V types are strings of several dies
        behind a resistor. Knee and slope here are typical, not a maker's: ASSUMED.
"""

from __future__ import annotations

import math
from typing import Literal

from zombrel.job.figures import figure
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.job.value import Value
from zombrel.signals.circuit.network import Piece

COLD_FILAMENT = 0.1
"""Cold over hot resistance of a tungsten filament [2]."""
RATED_V = 13.5
"""Voltage at which a 12 V lamp's watts are stated (UN ECE R37)."""
COLD_V = 1.0
"""Below it a filament stays cold [V]: ASSUMED."""
LED_KNEE_V = 6.8
"""Voltage below which a 12 V LED lamp draws next to nothing [3]."""
LED_SLOPE_OHM = 300.0
"""Slope of one LED lamp above its knee [Ω] [3]."""
NO_CURRENT = 1e-12
"""Less is none [A]."""
LEAST_OHM = 0.01
"""No part, and no wire to it, has less [Ω]."""
PRESSED_SHARE = 0.7
"""Share of the supply above which an input surely sees "pressed": usual for 12 V logic."""


class Load(Value, frozen=True):
    """A resistor that gives a cancel input its way to ground."""

    ohm: float
    watts: float
    """What it must be rated for [W]."""


def load_for(need_ohm: float, system_v: float) -> Load:
    """The resistor [Ω] for an input that must find less than ``need_ohm`` [Ω] at rest.

    Rated for ``system_v`` (12 or 24) [V] charging, with as much in hand as the figure says.
    """
    if need_ohm >= figure("load resistor, usual need"):
        ohm = figure("load resistor")
    else:
        share = need_ohm * figure("load resistor, share of need")
        ohm = float(math.floor(share)) if share >= 1 else max(share, LEAST_OHM)
    heat = (figure("load resistor, volts") * system_v / 12) ** 2 / ohm
    return Load(ohm, heat * figure("load resistor, watts in hand"))


class BrakeLine(Frozen, frozen=True, kw_only=True):
    """The line at rest and pressed."""

    rest_v: float
    pressed_v: float
    path_ohm: float
    """Volts over current of the path to ground at rest [Ω]."""
    need_ohm: float
    rest_limit_v: float
    """Volts at rest that the needed path would give: the greatest that is sure."""
    sure: bool
    load_w: float
    """Heat in the added resistor while pressed [W]."""
    coil_a: float
    """Current in the relay's coil while pressed [A]."""


def filament_ohm(watts: float, count: int, rated_v: float = RATED_V) -> float:
    """Cold resistance of ``count`` lamps in parallel [Ω] [2]."""
    return rated_v**2 / watts / count * COLD_FILAMENT


def lamp_law(
    lamps: Literal["filament", "led"], watts: float, count: int, scale: float = 1.0
) -> tuple[Piece, ...]:
    """Current over voltage of ``count`` lamps in parallel, in straight pieces [1][2][3].

    ``scale`` is 2 for lamps of a 24 V system. Tungsten is cold below a volt and has its rated
    current at its rated voltage; between them it warms.
    """
    if lamps == "led":
        knee, siemens = LED_KNEE_V * scale, count / LED_SLOPE_OHM
        return Piece(-math.inf, 0.0, 0.0), Piece(knee, siemens, -siemens * knee)
    rated = RATED_V * scale
    cold = 1 / filament_ohm(watts, count, rated)
    hot = (watts * count / rated - cold * COLD_V) / (rated - COLD_V)
    return Piece(-math.inf, cold, 0.0), Piece(COLD_V, hot, (cold - hot) * COLD_V)


def brake_line(
    lamps: Literal["filament", "led"],
    lamp_w: float,
    lamp_count: int,
    pull_up_ohm: float,
    volts: float,
    load_ohm: float | None = None,
    relay: tuple[float, float] | None = None,
    need_ohm: float = 50.0,
    side: Literal["cold", "hot"] = "cold",
) -> BrakeLine:
    """Work out a cancel line.

    Args:
        lamps: what hangs on the cold side.
        lamp_w: rated power of one lamp [W].
        lamp_count: lamps in parallel.
        pull_up_ohm: the device's own pull-up to ``volts`` [Ω].
        volts: supply [V].
        load_ohm: resistor added from the line to ground [Ω].
        relay: (coil, contact) resistance of a relay whose rest contact grounds the input.
        need_ohm: path to ground the device must find at rest [Ω].
        side: the side of the switch that is tapped; the hot one is always live.

    Raises:
        Problem: a value that cannot be.
    """
    for name, value in (("lamp watts", lamp_w), ("pull-up", pull_up_ohm), ("volts", volts)):
        if value <= 0:
            raise Problem(f"The {name} must be above zero, not {value:g}.")
    if lamp_count < 1:
        raise Problem("At least one lamp hangs on a brake line.")
    if load_ohm is not None and load_ohm <= 0:
        raise Problem("A load resistor needs more than 0 Ω; less would blow the lamp fuse.")
    if side == "hot":
        rest, path = volts, math.inf  # whatever hangs on it: it never comes down
    elif relay is not None:
        path = relay[1]
        rest = volts * path / (path + pull_up_ohm)
    elif lamps == "filament":
        path = filament_ohm(lamp_w, lamp_count, RATED_V * (2 if volts > figure("24 V from") else 1))
        if load_ohm is not None:
            path = path * load_ohm / (path + load_ohm)
        rest = volts * path / (path + pull_up_ohm)
    else:
        rest, path = _led_rest(lamp_count, pull_up_ohm, volts, load_ohm)
    limit = volts * need_ohm / (need_ohm + pull_up_ohm)
    return BrakeLine(
        rest_v=rest,
        pressed_v=volts,
        path_ohm=path,
        need_ohm=need_ohm,
        rest_limit_v=limit,
        sure=path < need_ohm,
        load_w=volts**2 / load_ohm if load_ohm is not None else 0.0,
        coil_a=volts / relay[0] if relay is not None else 0.0,
    )


def _led_rest(count: int, pull_up: float, volts: float, load: float | None) -> tuple[float, float]:
    """Rest voltage and apparent path of LED lamps, perhaps with a load resistor.

    Below the knee only the load conducts; above it the lamps join in (two-segment model).
    """
    knee = LED_KNEE_V * (2 if volts > figure("24 V from") else 1)
    slope = LED_SLOPE_OHM / count
    g_load = 1 / load if load is not None else 0.0
    rest = (volts / pull_up) / (1 / pull_up + g_load)
    if rest > knee:
        rest = (volts / pull_up + knee / slope) / (1 / pull_up + g_load + 1 / slope)
    current = (volts - rest) / pull_up
    return rest, rest / current if current > NO_CURRENT else float("inf")

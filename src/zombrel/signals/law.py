"""A rate chain reduced to the numbers that decide what the device reads.

Every speed and engine-speed chain obeys the same law: a pulse rate proportional to the
quantity, a level that is constant or grows with the rate, a threshold and a rate limit at
the first input, perhaps a divider, then the device's threshold, limit and setting. Laws
stack into a table so that any number of chains is evaluated over any number of states in
one pass of NumPy (``evaluate``). For the one state on the screen ``at`` does the same with
plain floats, because importing NumPy alone would cost half a bare window's start; a test
holds the two together.

References:
    [1] Variable-reluctance pick-up: e = dΦ/dt, so the peak grows with tooth frequency
        (Fraden, *Handbook of Modern Sensors*, ch. 3 and 7).
    [2] A winding R_s loaded by R: V = V_open · R / (R + R_s) (voltage divider).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

from zombrel.job.value import Value

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

DEAD, SILENT, OVER, COUNTING = 0, 1, 2, 3
STATUS = ("no supply or no source", "below threshold", "above the rate limit", "counting")


class Law(NamedTuple):
    """One rate chain. SI units; x is road speed [m/s] or engine speed [1/s]."""

    rate: float
    """Pulses per metre or per revolution at the source."""
    v_per_hz: float
    """Peak volts per hertz at the first input, loaded (0 for a fixed level)."""
    v_fixed: float
    """Peak level at the first input when it does not depend on rate [V]."""
    divider: float
    first_threshold: float
    """Peak level the first input needs [V]."""
    first_max_hz: float
    second_level: float
    """Level behind the divider [V]; the first input's own when there is none."""
    second_threshold: float
    """Level the device needs behind a divider [V], 0 without one."""
    device_max_hz: float
    setting: float
    """Pulses per metre or per revolution the device believes in."""
    multi: float
    """Sparks per firing below ``multi_below``."""
    multi_below: float
    alive: float = 1.0
    """1 when source and device have what they need, else 0."""
    least: float = 0.0
    """Below this x the source itself says nothing (a satellite receiver)."""


class Evaluated(Value, frozen=True):
    """Arrays of one shape, chains by states."""

    source_hz: Floats
    source_v: Floats
    device_hz: Floats
    status: NDArray[np.int8]
    shown: Floats
    """What the device shows, in the unit of x; nan where it cannot count."""


class Point(Value, frozen=True):
    """One chain in one state; see ``Evaluated``."""

    source_hz: float
    source_v: float
    device_hz: float
    status: int
    shown: float


def at(law: Law, x: float, alive: bool) -> Point:
    """What the chain does at ``x``: the law in plain floats.

    ``x`` [m/s or 1/s].
    """
    if not alive or x <= 0:
        return Point(0.0, 0.0, 0.0, SILENT if alive else DEAD, 0.0)
    hz = law.rate * (law.multi if x < law.multi_below else 1.0) * x
    volts = law.v_fixed + law.v_per_hz * hz
    device_hz = hz / law.divider
    weak = volts < law.first_threshold or law.second_level < law.second_threshold
    if weak or x < law.least:
        return Point(hz, volts, device_hz, SILENT, 0.0)
    if hz > law.first_max_hz or device_hz > law.device_max_hz:
        return Point(hz, volts, device_hz, OVER, math.nan)
    return Point(hz, volts, device_hz, COUNTING, device_hz / law.setting)


def corners(law: Law, top: float) -> list[tuple[float, float]]:
    """The reading over 0 to ``top`` as the corners of its straight pieces.

    (x, shown); shown is nan where the device drops out. The law is linear between its
    threshold, the end of multi-sparking and its rate limit, so the corners are exact.

    ``top`` and every corner [m/s or 1/s].
    """
    sparks = law.rate * law.multi
    edges = {0.0, top, law.multi_below, law.least}
    for rate in (law.rate, sparks):
        edges.add(min(law.first_max_hz, law.device_max_hz * law.divider) / rate)
        if law.v_per_hz > 0:
            edges.add(max(0.0, law.first_threshold - law.v_fixed) / law.v_per_hz / rate)
    out = []
    for x in sorted(e for e in edges if 0 <= e <= top):
        for side in (x * (1 - 1e-9), x * (1 + 1e-9)):
            if side <= top:
                out.append((side, at(law, side, alive=True).shown))
    out.append((top, at(law, top, alive=True).shown))
    return out


def table(laws: Sequence[Law]) -> Floats:
    """Stack laws; shape (fields, chains).

    Each row in the unit of its field of ``Law`` [see there].
    """
    import numpy as np

    return np.array(laws, dtype=np.float64).reshape(len(laws), len(Law._fields)).T.copy()


def evaluate(laws: Floats, x: Floats) -> Evaluated:
    """Evaluate a table of laws, shape (fields, chains), over ``x``, shape (chains, states).

    Below threshold, and with no supply, the device shows 0: it sees a standstill. Above a
    rate limit what it shows is not to be trusted, so nan.

    ``x`` [m/s or 1/s]; results in the units of ``Evaluated`` [see there].
    """
    import numpy as np

    law = Law(*(column[:, None] for column in laws))
    sparks = np.where(x < law.multi_below, law.multi, 1.0)
    hz = law.rate * sparks * x
    volts = law.v_fixed + law.v_per_hz * hz
    device_hz = hz / law.divider
    level_ok = (volts >= law.first_threshold) & (law.second_level >= law.second_threshold)
    level_ok &= x >= law.least
    over = (hz > law.first_max_hz) | (device_hz > law.device_max_hz)
    status = np.where(level_ok, np.where(over, OVER, COUNTING), SILENT)
    status = np.where((law.alive > 0) & (x > 0), status, np.where(law.alive > 0, SILENT, DEAD))
    counted = np.where(status == COUNTING, device_hz / law.setting, 0.0)
    shown = np.where(status == OVER, np.nan, counted)
    on = status != DEAD
    return Evaluated(
        hz * on, volts * ((hz > 0) & on), device_hz * on, status.astype(np.int8), shown
    )


def span(law: Law) -> tuple[float, float]:
    """Lowest and highest x at which the chain counts; (inf, 0) when it never does."""
    if law.second_level < law.second_threshold:
        return float("inf"), 0.0
    top = min(law.first_max_hz, law.device_max_hz * law.divider) / law.rate
    if law.v_per_hz <= 0:
        return (law.least, top) if law.v_fixed >= law.first_threshold else (float("inf"), 0.0)
    need = max(0.0, law.first_threshold - law.v_fixed) / law.v_per_hz / law.rate
    need = max(need, law.least)
    return (need, top) if need <= top else (float("inf"), 0.0)


def gain(law: Law) -> float:
    """Shown over true where the chain counts single pulses.

    Result [ratio].
    """
    return law.rate / law.divider / law.setting


def loaded(volts: float, measured_into: float, winding: float, load: float) -> float:
    """Level of a winding source once ``load`` [Ω] joins what it was measured into [2]."""
    together = measured_into * load / (measured_into + load)
    return volts * (together / (together + winding)) * ((measured_into + winding) / measured_into)

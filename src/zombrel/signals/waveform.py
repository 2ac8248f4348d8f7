"""Waveforms at each hop, drawn from the model.

Reference: shapes of pick-ups, open collectors and coil primaries as in Fraden, *Handbook of Modern
Sensors*, ch. 7, and Heywood, *Internal Combustion Engine Fundamentals*, ch. 9 (ignition); a
picture of level and rate, not of every ring.
"""

from __future__ import annotations

import math

from zombrel.job.sheet import Waveform

MOST = 2000
"""Corners of a picture."""


def trace(
    kind: Waveform, hz: float, peak: float, window: float, points: int = 120
) -> list[tuple[float, float]]:
    """(time [s], volts) over ``window`` [s] of a signal with rate ``hz`` and level ``peak``.

    ``sine``: a reluctor, symmetrical about 0. ``square``: 0 to peak, half the period each,
    its corners exact. ``kick``: a coil primary, a spike on each pulse that rings down within
    a tenth of the period. ``level``: steady at ``peak``.
    """
    if kind == "level" or hz <= 0:
        level = peak if kind == "level" else 0.0
        return [(0.0, level), (window, level)]
    if kind == "square":
        return _square(hz, peak, window)
    out = []
    for i in range(points + 1):
        t = window * i / points
        phase = (t * hz) % 1.0
        if kind == "sine":
            out.append((t, peak * math.sin(2 * math.pi * phase)))
        else:
            ring = math.exp(-phase / 0.06) * math.cos(2 * math.pi * phase / 0.12)
            out.append((t, peak * ring))
    return out


def _square(hz: float, peak: float, window: float) -> list[tuple[float, float]]:
    half = 0.5 / hz
    out, t, high = [(0.0, peak)], half, True
    while t < window and len(out) < MOST:
        out += [(t, peak if high else 0.0), (t, 0.0 if high else peak)]
        high = not high
        t += half
    out.append((window, peak if high else 0.0))
    return out

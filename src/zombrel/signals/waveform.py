"""Waveforms at each hop, drawn from the model."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zombrel.job.sheet import Waveform

Floats = NDArray[np.float64]


def trace(kind: Waveform, hz: float, peak: float, t: Floats, duty: float = 0.5) -> Floats:
    """Voltage [V] at times ``t`` [s] of a signal with rate ``hz`` and peak level ``peak``.

    ``sine``: a reluctor, symmetrical about 0. ``square``: 0 to peak. ``kick``: a coil
    primary, a spike on each pulse ringing down within a tenth of the period. ``level``:
    steady at ``peak``.
    """
    if kind == "level" or hz <= 0:
        return np.full_like(t, peak if kind == "level" else 0.0)
    phase = (t * hz) % 1.0
    if kind == "sine":
        return peak * np.sin(2 * np.pi * phase)
    if kind == "square":
        return np.where(phase < duty, peak, 0.0)
    ring = np.exp(-phase / 0.06) * np.cos(2 * np.pi * phase / 0.12)
    return np.asarray(peak * ring)

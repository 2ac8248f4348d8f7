"""Edges of a signal: how many pulses, at what rate, how even, how long they are on.

Crossings of a threshold, with hysteresis so that noise at the threshold is not counted.

Reference: IEEE Std 181-2011, transitions, pulse width and jitter of two-state waveforms.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import Floats

PIECE = 1 << 16
"""Samples looked at together: so many stay in the processor's cache."""
FEWEST = 3
"""Rising edges that a rate and its jitter want."""


class Edges(Value, frozen=True):
    """What the crossings of a signal say."""

    rising: Floats
    """Times at which it rises through the threshold [s]."""
    falling: Floats
    """Times at which it falls through it [s]."""
    rate_hz: float
    """By first and last rising edge [Hz]; nan for fewer than three."""
    jitter_s: float
    """Standard deviation of the periods [s]; nan likewise."""
    duty: float
    """Share of the time above, over whole periods; nan likewise."""


def edges(v: Floats, rate_hz: float, threshold: float, hysteresis: float = 0.0) -> Edges:
    """Crossings of ``threshold`` [unit of ``v``] in samples taken at ``rate_hz`` [Hz].

    Args:
        v: samples, any unit.
        rate_hz: samples a second [Hz].
        threshold: level that is crossed [unit of v].
        hysteresis: how far below it the signal must have been before it counts again [unit of v].

    Raises:
        Problem: no samples, or a rate that is none.
    """
    if len(v) < 2 or not rate_hz > 0:  # noqa: PLR2004 - an edge lies between two
        raise Problem("An edge lies between two samples: there are not as many.")
    change, rises = _held(v, threshold, hysteresis) if hysteresis else _plain(v, threshold)
    at = _between(v, change, threshold) / rate_hz
    rising, falling = at[rises], at[~rises]
    if len(rising) < FEWEST:
        return Edges(rising, falling, np.nan, np.nan, np.nan)
    periods = np.diff(rising)
    inside = falling[(falling > rising[0]) & (falling < rising[-1])]
    span = rising[-1] - rising[0]
    high = float((inside - rising[:-1][: len(inside)]).sum()) if len(inside) else 0.0
    return Edges(rising, falling, float(len(periods) / span), float(periods.std()), high / span)


def _plain(v: Floats, threshold: float) -> tuple[NDArray[np.intp], NDArray[np.bool_]]:
    """The samples before each crossing, and whether it rises there."""
    found: list[NDArray[np.intp]] = []
    for begin in range(0, len(v) - 1, PIECE):
        up = v[begin : begin + PIECE + 1] > threshold
        found.append(np.flatnonzero(up[1:] != up[:-1]) + begin)
    change = np.concatenate(found)
    # crossings take turns: the first tells every other
    rises = np.arange(len(change)) % 2 == (1 if len(v) and v[0] > threshold else 0)
    return change, rises


def _held(
    v: Floats, threshold: float, hysteresis: float
) -> tuple[NDArray[np.intp], NDArray[np.bool_]]:
    """The same, a fall counted only once it is below the threshold by the hysteresis.

    Between both levels it stays what it was; only where it goes through one anything is decided.
    """
    high, low = v > threshold, v < threshold - hysteresis
    went = np.flatnonzero((high[1:] != high[:-1]) | (low[1:] != low[:-1]))
    after_high, after_low = high[went + 1], low[went + 1]
    sure = after_high | after_low
    went, state = went[sure], after_high[sure]
    before = np.concatenate(([bool(high[0])], state[:-1])) if len(state) else state
    turn = state != before
    at, rises = went[turn], state[turn]
    # a fall is told below the lower level; it went through the threshold some samples before
    through = np.flatnonzero(high[:-1] & ~high[1:])
    falls = np.searchsorted(through, at[~rises], "right") - 1
    at[~rises] = np.where(falls >= 0, through[np.maximum(falls, 0)], at[~rises])
    return at, rises


def _between(v: Floats, at: NDArray[np.intp], threshold: float) -> Floats:
    """Places of the crossings, straight between the samples on both sides [samples]."""
    a, b = v[at], v[at + 1]
    return np.asarray(at + (threshold - a) / (b - a))

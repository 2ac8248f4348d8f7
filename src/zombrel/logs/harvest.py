"""A sensor's pairs out of a drive: what was true against what its wire showed, range by range.

A reference and a sender never answer at the same moment; the delay between them is found first
as the shift at which like readings go with like truths. Then each range of the truth gives one
pair: medians, which a spike or a dropped sample does not move. The scatter of the truth about the
curve through the pairs says how good they are.

Reference: medians and the median absolute deviation as robust estimates: Huber & Ronchetti,
*Robust Statistics* (2009), 5.1.
"""

from __future__ import annotations

import itertools

import numpy as np

from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import Channel, Floats, grid

RANGES = 8
"""Pairs that are wanted, where the range allows."""
FEWEST_IN = 8
"""A range gives a pair from so many samples on."""
MOST_RANGES = 40
FEWEST = 2
"""Pairs that make a curve."""
LAGS_S, LAG_STEPS = 20.0, 81
"""Delays that are tried, either way [s]."""
GAIN = 0.03
"""A delay is believed where it takes so much of the squared scatter away."""
CLIP = 5.0
"""What lies further off than so many medians counts no more than that."""
EDGE = 1.0
"""Of the samples so many at either end are left out of the range [per cent]."""
MAD = 1.4826
"""Standard deviation of a normal scatter by its median absolute deviation."""
ASTRAY = 0.25
"""Where more than this share of the pairs turns back, the channels do not belong together."""
THIN = 20_000
"""So many samples are enough."""


class Harvest(Value, frozen=True):
    """Pairs and what is to be said of them."""

    pairs: tuple[tuple[float, float], ...]
    """(true value [SI], Ω, V or share), rising in the first."""
    scatter: float
    """Standard deviation of the truth about the curve through the pairs [SI]."""
    lag_s: float
    """The reference answers so much later than the sender [s]; below 0: earlier."""
    used: int
    left_out: int
    """Ranges that turned back, or held too few samples."""


def pulled(volts: Channel, pull_up_ohm: float, pull_up_v: float) -> Channel:
    """The sender's resistance from the voltage under a pull-up: R = Rp · V ÷ (Vp − V).

    ``pull_up_ohm`` [Ω], ``pull_up_v`` [V]. Samples at or over the pull-up, or at ground, are left
    out: there is no sender, or a short.

    Raises:
        Problem: hardly any sample lies between.
    """
    good = (volts.v > 0) & (volts.v < pull_up_v)
    if good.sum() < FEWEST_IN * FEWEST:
        raise Problem(f"“{volts.name}” does not lie between ground and {pull_up_v:g} V.")
    v = volts.v[good]
    return Channel(volts.name, "resistance", "Ω", volts.t[good], pull_up_ohm * v / (pull_up_v - v))


def harvest(truth: Channel, wire: Channel, ranges: int = RANGES) -> Harvest:
    """Pairs from a reference and from what the sender's wire showed meanwhile.

    Args:
        truth: the reference [SI].
        wire: of the sender [Ω, V or share].
        ranges: pairs wanted, 2 to 40.

    Raises:
        Problem: they do not overlap, too little was driven through, or they do not belong together.
    """
    if not FEWEST <= ranges <= MOST_RANGES:
        raise Problem(f"{FEWEST} to {MOST_RANGES} pairs can be harvested, not {ranges}.")
    x, y, t = _together(truth, wire, 0.0)
    logged = bool((y > 0).all()) and float(y.max() / y.min()) > 3  # noqa: PLR2004 - ohms of a bead
    lag = _lag(truth, wire, t, logged)
    x, y, _ = _together(truth, wire, lag)
    low, high = np.percentile(x, (EDGE, 100 - EDGE))
    if not high > low:
        raise Problem(f"“{truth.name}” does not move: drive it through its range.")
    edges = np.linspace(low, high, ranges + 1)
    found, thin = [], 0
    for a, b in itertools.pairwise(edges):
        inside = (x >= a) & (x <= b)
        if inside.sum() < FEWEST_IN:
            thin += 1
            continue
        found.append((float(np.median(x[inside])), float(np.median(y[inside]))))
    kept = _one_way(found)
    astray = len(found) - len(kept)
    if len(kept) < FEWEST or astray > ASTRAY * len(found):
        raise Problem(
            f"“{wire.name}” does not follow “{truth.name}”: "
            + ("too little of the range was driven through." if len(found) < FEWEST else "")
            + (f"it turns back {astray} times." if len(found) >= FEWEST else "")
        )
    return Harvest(tuple(kept), _scatter(x, y, kept, logged), lag, len(x), thin + astray)


def _together(truth: Channel, wire: Channel, lag: float) -> tuple[Floats, Floats, Floats]:
    """Both at the same moments, the truth read ``lag`` later; and the moments [s]."""
    begin = max(float(truth.t[0]) - lag, float(wire.t[0]))
    end = min(float(truth.t[-1]) - lag, float(wire.t[-1]))
    rates = [r for r in (truth.rate_hz, wire.rate_hz) if r > 0]
    if not end > begin or not rates:
        raise Problem(f"“{truth.name}” and “{wire.name}” were not recorded at the same time.")
    step = max(1 / min(rates), (end - begin) / THIN)
    t = grid(begin, end, step)
    x, y = truth.at(t + lag), wire.at(t)
    good = np.isfinite(x) & np.isfinite(y)
    if good.sum() < FEWEST_IN * FEWEST:
        raise Problem(f"“{truth.name}” and “{wire.name}” have too few samples together.")
    return x[good], y[good], t[good]


def _curve(x: Floats, y: Floats) -> tuple[Floats, Floats]:
    """Medians of the truth by ranges of the reading, for a first look."""
    order = np.argsort(y, kind="stable")
    parts = np.array_split(order, min(60, max(len(order) // FEWEST_IN, 2)))
    return (
        np.array([np.median(y[p]) for p in parts]),
        np.array([np.median(x[p]) for p in parts]),
    )


def _lag(truth: Channel, wire: Channel, t: Floats, logged: bool) -> float:
    """The delay at which like readings go best with like truths [s]."""
    reach = min(LAGS_S, float(t[-1] - t[0]) / 4)
    tried = np.linspace(-reach, reach, LAG_STEPS)

    def spread(lag: float) -> float:
        x, y, _ = _together(truth, wire, lag)
        at, mid = _curve(x, y)
        off = np.abs(x - np.interp(y, at, mid))
        return float(np.mean(np.minimum(off, CLIP * np.median(off)) ** 2))

    spreads = [spread(float(lag)) for lag in tried]
    best = int(np.argmin(spreads))
    inside = 0 < best < len(tried) - 1
    return float(tried[best]) if inside and spreads[best] < (1 - GAIN) * spread(0.0) else 0.0


def _one_way(found: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """The most of the pairs that go one way throughout."""
    best: list[tuple[float, float]] = []
    for sign in (1, -1):
        runs: list[list[tuple[float, float]]] = []
        for pair in found:
            before = [r for r in runs if sign * (pair[1] - r[-1][1]) > 0 and pair[0] > r[-1][0]]
            runs.append([*max(before, key=len, default=[]), pair])
        best = max([best, *runs], key=len)
    return best


def _scatter(x: Floats, y: Floats, pairs: list[tuple[float, float]], logged: bool) -> float:
    """Robust standard deviation of the truth about the curve through the pairs [SI]."""
    value, shown = (np.array(a) for a in zip(*pairs, strict=True))
    if logged:
        shown, y = np.log(shown), np.log(np.maximum(y, 1e-9))
    order = np.argsort(shown)
    inside = (y >= shown.min()) & (y <= shown.max())
    if inside.sum() < FEWEST_IN:
        return float("nan")
    off = x[inside] - np.interp(y[inside], shown[order], value[order])
    return float(MAD * np.median(np.abs(off - np.median(off))))

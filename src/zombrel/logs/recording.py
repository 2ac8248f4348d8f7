"""What a log holds, whatever file it came from: channels over one clock, each at its own rate."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from zombrel.job.problem import Problem
from zombrel.job.value import Value

Floats = NDArray[np.floating[Any]]
"""Time in double, values in single precision: a log is no finer."""

What = Literal[
    "number",
    "speed",
    "engine",
    "temperature",
    "pressure",
    "voltage",
    "fraction",
    "lambda",
    "acceleration",
    "angle",
    "length",
    "torque",
    "current",
    "resistance",
    "contact",
]
"""What a channel measures; ``number`` where nothing says it."""
SI: dict[What, str] = {
    "number": "",
    "speed": "m/s",
    "engine": "1/s",
    "temperature": "K",
    "pressure": "Pa",
    "voltage": "V",
    "fraction": "1",
    "lambda": "1",
    "acceleration": "m/s²",
    "angle": "°",
    "length": "m",
    "torque": "N·m",
    "current": "A",
    "resistance": "Ω",
    "contact": "1",
}
"""Unit of a channel's values."""


class Channel(Value, frozen=True):
    """One measured thing."""

    name: str
    what: What
    unit: str
    """As the file had it, as ``km/h``; empty where it had none."""
    t: Floats
    """Time from the start of the log [s], rising; channels of one rate share it."""
    v: Floats
    """Values [SI, see ``SI``]."""

    @property
    def rate_hz(self) -> float:
        """Samples a second, by the median step [Hz]; 0 for fewer than two."""
        if len(self.t) < 2:  # noqa: PLR2004 - a step wants two
            return 0.0
        step = float(np.median(np.diff(self.t[:100_000])))
        return 1 / step if step > 0 else 0.0

    @property
    def gaps(self) -> tuple[tuple[float, float], ...]:
        """Where it is silent for more than five of its steps: (begin [s], end [s])."""
        if len(self.t) < 3:  # noqa: PLR2004 - a gap wants a usual step
            return ()
        steps = np.diff(self.t)
        usual = float(np.median(steps[:100_000]))
        at = np.flatnonzero(steps > GAP * max(usual, 1e-9))
        return tuple((float(self.t[i]), float(self.t[i + 1])) for i in at[:MOST_GAPS])

    def at(self, times: Floats) -> Floats:
        """Its values at other times, straight between samples [SI]; nan outside of it."""
        return np.interp(times, self.t, self.v, left=np.nan, right=np.nan)


def places(t: Floats, lat: Floats, lon: Floats) -> list[Channel]:
    """Channels of a position [°]; none where it is missing or never moves."""
    if not (np.isfinite(lat).all() and np.isfinite(lon).all()):
        return []
    if not (np.ptp(lat) or np.ptp(lon)):
        return []
    return [Channel("latitude", "angle", "°", t, lat), Channel("longitude", "angle", "°", t, lon)]


def grid(begin: float, end: float, step: float) -> Floats:
    """Even times from ``begin`` to ``end`` [s], ``step`` [s] apart.

    Raises:
        Problem: there would be more of them than any drive has: the clock leaps.
    """
    if not step > 0 or (end - begin) / step > MOST_EVEN:
        raise Problem(
            f"Its clock leaps: {end - begin:.4g} s in steps of {step:.4g} s. Cut the file where "
            "the time jumps."
        )
    return np.arange(begin, end, step)


MOST_EVEN = 5_000_000
"""Five days at ten a second."""
GAP = 5.0
MOST_GAPS = 200


class Recording(Value, frozen=True):
    """One log."""

    name: str
    channels: tuple[Channel, ...]
    notes: tuple[str, ...] = ()
    """How it was read, and what was left out."""

    def channel(self, name: str) -> Channel | None:
        """The channel called ``name``."""
        return next((c for c in self.channels if c.name == name), None)

    def first(self, what: What, *words: str) -> Channel | None:
        """The first channel that measures ``what``, one with such a word in its name first."""
        of = [c for c in self.channels if c.what == what]
        named = [c for c in of if any(w in c.name.casefold() for w in words)]
        return next(iter(named or ([] if words else of)), None)

    @property
    def length_s(self) -> float:
        """From its first to its last sample [s]."""
        ends = [float(c.t[-1]) for c in self.channels if len(c.t)]
        return max(ends, default=0.0)

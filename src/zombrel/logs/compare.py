"""Before and after: pulls aligned by what was put in, their rise over ambient, what differs.

The rise of a pull is what the charge gained over ambient from its own beginning to where as much
work had been put in as in the smallest of them all; so neither a warmer day nor a longer pull
counts.

References:
    [1] Welch 1947, Biometrika 34: difference of two means of unlike scatter, its interval.
    [2] Any textbook of statistics for the standard deviation of a few runs.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import numpy as np

from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import Channel, Floats, Recording
from zombrel.logs.spots import load_of, pulls, speed_of
from zombrel.units.measure import size_token

Verdict = Literal["better", "worse", "not-shown", "refused"]
CHARGE_WORDS = ("charge", "iat", "intake", "inlet", "manifold", "cooler", "act")
AMBIENT_WORDS = ("ambient", "outside", "oat", "weather")
SETTLE_S = 1.5
"""A temperature at a moment is told from so long before it [s]."""
MINUS = "\u2212"
BACK_K = 3.0
"""A pull has recovered when it is back within so much of where it began [K]."""
LOADS_APART = 0.1
"""Pulls whose loads differ by more are not compared [share]."""
FEWEST = 2
"""Runs on each side: one says nothing of its scatter."""
SURE = 0.95


class Pull(Value, frozen=True):
    """One pull of a log."""

    begin: float
    end: float
    """[s]"""
    starts_k: float
    """Over ambient at its beginning [K]."""
    rise_k: float
    """Gained over ambient up to the work that all have in common [K]."""
    whole_k: float
    """Gained over all of it [K]."""
    load: float
    """Mean load [share]."""
    work_s: float
    """Load × time [s of full load]."""
    back_s: float
    """Until it was back within ``BACK_K`` [s]; nan where the log ends before."""
    ambient_k: float
    """[K]; nan where nobody measured it."""
    over: tuple[Floats, Floats]
    """(work put in [s of full load], charge over ambient [K])"""


class Compared(Value, frozen=True):
    """What two logs say of each other."""

    before: tuple[Pull, ...]
    after: tuple[Pull, ...]
    difference_k: float
    """Rise before − rise after: above nought it got better [K]."""
    low_k: float
    high_k: float
    """95 % interval of it [K] [1]; nan where it was refused."""
    scatter_k: float
    """Standard deviation of a run, both sides pooled [K] [2]."""
    verdict: Verdict
    why: str
    """The verdict in words, or why it was refused."""
    mind: tuple[str, ...]
    """What does not match between the two days."""

    @property
    def rise_before_k(self) -> float:
        """Mean rise before [K]; nan without a pull."""
        return _mean(self.before)

    @property
    def rise_after_k(self) -> float:
        """Mean rise after [K]; nan without a pull."""
        return _mean(self.after)


def _mean(found: tuple[Pull, ...]) -> float:
    return float(np.mean([p.rise_k for p in found])) if found else np.nan


def charge_of(log: Recording) -> Channel | None:
    """The temperature that is compared."""
    ambient = ambient_of(log)
    named = log.first("temperature", *CHARGE_WORDS)
    rest = [c for c in log.channels if c.what == "temperature" and c is not ambient]
    return named or (rest[0] if len(rest) == 1 else None)


def ambient_of(log: Recording) -> Channel | None:
    """Outside air; None where nobody measured it."""
    return log.first("temperature", *AMBIENT_WORDS)


def runs(log: Recording, work: float | None = None) -> list[Pull]:
    """The pulls of a log; ``work`` is what they are compared at [s of full load]; None: all of it.

    Raises:
        Problem: no load or no charge temperature in it.
    """
    load, charge, ambient = load_of(log), charge_of(log), ambient_of(log)
    if load is None:
        raise Problem(f"{log.name} has no load, throttle or pedal: head a column so, in %.")
    if charge is None:
        raise Problem(f"{log.name} has no charge temperature: head a column “charge air °C”.")
    over = charge.v.astype(float)
    if ambient is not None:
        over = over - np.interp(charge.t, ambient.t, ambient.v)
    found = []
    for spot in pulls(log):
        inside = (load.t >= spot.begin) & (load.t <= spot.end)
        t, x = load.t[inside], load.v[inside].astype(float)
        put_in = np.concatenate(([0.0], np.cumsum(np.diff(t) * (x[1:] + x[:-1]) / 2)))
        at = spot.end if work is None else float(np.interp(work, put_in, t))
        starts = _around(charge.t, over, spot.begin)
        outside = np.nan if ambient is None else float(np.interp(spot.begin, ambient.t, ambient.v))
        within = (charge.t >= spot.begin) & (charge.t <= spot.end)
        curve = (np.interp(charge.t[within], t, put_in), over[within])
        found.append(
            Pull(
                spot.begin,
                spot.end,
                starts,
                _around(charge.t, over, at) - starts,
                _around(charge.t, over, spot.end) - starts,
                float(x.mean()),
                float(put_in[-1]),
                _back(charge.t, over, spot.end, starts),
                outside,
                curve,
            )
        )
    return found


def _around(t: Floats, v: Floats, at: float) -> float:
    """The value at a moment, by a straight line through what lies before it [unit of v].

    Before and not around: at the beginning of a pull the slope changes.
    """
    near = (t <= at) & (t >= at - SETTLE_S)
    if near.sum() < 3:  # noqa: PLR2004 - a line wants three
        return float(np.interp(at, t, v))
    slope, level = np.polyfit(t[near] - at, v[near], 1)
    del slope
    return float(level)


def _back(t: Floats, over: Floats, end: float, starts: float) -> float:
    later = np.flatnonzero((t > end) & (over <= starts + BACK_K))
    return float(t[later[0]] - end) if len(later) else np.nan


def compare(
    before: Recording, after: Recording, notes: tuple[str, ...] = (), unlike: str = ""
) -> Compared:
    """What changed from one log to the other.

    ``notes`` are what is known not to match; ``unlike`` is why the days cannot be compared at all.

    Raises:
        Problem: as ``runs``.
    """
    first = [runs(log) for log in (before, after)]
    every = [p for side in first for p in side]
    common = min((p.work_s for p in every), default=0.0)
    one, two = (tuple(runs(log, common)) for log in (before, after))
    mind = (*_apart(one, two), *notes)
    refused = unlike or _refused(one, two) or _other_drive(before, after, one, two)
    rises = [np.array([p.rise_k for p in side]) for side in (one, two)]
    if refused:
        d = float(rises[0].mean() - rises[1].mean()) if all(len(r) for r in rises) else np.nan
        return Compared(one, two, d, np.nan, np.nan, np.nan, "refused", refused, mind)
    d, low, high = welch(rises[0], rises[1])
    scatter = float(
        np.sqrt(sum(((r - r.mean()) ** 2).sum() for r in rises) / sum(len(r) - 1 for r in rises))
    )
    verdict: Verdict = "better" if low > 0 else "worse" if high < 0 else "not-shown"
    words = _words(verdict, low, high, scatter)
    return Compared(one, two, d, low, high, scatter, verdict, words, mind)


def welch(a: Floats, b: Floats, sure: float = SURE) -> tuple[float, float, float]:
    """Difference of two means and its interval [unit of the values] [1]."""
    from scipy.stats import t as student

    va, vb = a.var(ddof=1) / len(a), b.var(ddof=1) / len(b)
    d, width = float(a.mean() - b.mean()), float(np.sqrt(va + vb))
    if not width:
        return d, d, d
    free = (va + vb) ** 2 / (va**2 / (len(a) - 1) + vb**2 / (len(b) - 1))
    half = float(student.ppf((1 + sure) / 2, free)) * width
    return d, d - half, d + half


def _words(verdict: Verdict, low: float, high: float, scatter: float) -> str:
    if verdict == "not-shown":
        return (
            f"No difference is shown: it lies between {_signed(low)} and {_signed(high)}, and "
            f"runs scatter by {_kelvin(scatter)}. More runs may show one."
        )
    ends = sorted((abs(low), abs(high)))
    word = "less" if verdict == "better" else "more"
    return (
        f"{_kelvin(ends[0])} to {_kelvin(ends[1])} {word} rise, with runs that scatter by "
        f"{_kelvin(scatter)}."
    )


def _kelvin(k: float, places: int = 1) -> str:
    return size_token("temperature", k, places)


def _signed(k: float) -> str:
    return f"{'+' if k > 0 else MINUS if k < 0 else ''}{_kelvin(k)}"


def _refused(before: tuple[Pull, ...], after: tuple[Pull, ...]) -> str:
    """Why nothing can be said; empty where something can."""
    for name, side in (("before", before), ("after", after)):
        if len(side) < FEWEST:
            count = "no pull" if not side else "one pull"
            return (
                f"{count[0].upper()}{count[1:]} {name}: how much runs differ by themselves is not "
                f"known. Make {FEWEST} or more on each side."
            )
    loads = [float(np.mean([p.load for p in side])) for side in (before, after)]
    if abs(loads[0] - loads[1]) > LOADS_APART * max(loads):
        return (
            f"Pulls before were at {100 * loads[0]:.0f} % load and after at "
            f"{100 * loads[1]:.0f} %: they are not alike."
        )
    return ""


ALIKE = 0.06
"""Ratios of engine to road speed, and boost, that differ by more are of another drive [share]."""


def _other_drive(
    before: Recording, after: Recording, one: tuple[Pull, ...], two: tuple[Pull, ...]
) -> str:
    """Whether pulls were in another gear, or at another boost; empty where nothing says so."""
    gears = [_during(x, p, _ratio) for x, p in ((before, one), (after, two))]
    if all(g > 0 for g in gears) and abs(gears[1] / gears[0] - 1) > ALIKE:
        return "Pulls before and after were in another gear: they are not alike."
    boosts = [_during(x, p, _boost) for x, p in ((before, one), (after, two))]
    if all(b > 0 for b in boosts) and abs(boosts[1] / boosts[0] - 1) > ALIKE:
        return "Pulls before and after were at another boost: they are not alike."
    return ""


def _during(log: Recording, found: tuple[Pull, ...], of: Callable[..., float]) -> float:
    """The mean of something over the pulls of a log; 0 where it was not measured."""
    values = [of(log, np.linspace(p.begin, p.end, 40)) for p in found]
    good = [v for v in values if np.isfinite(v) and v > 0]
    return float(np.mean(good)) if good else 0.0


def _ratio(log: Recording, at: Floats) -> float:
    """Engine revolutions a metre, the middle of a pull [1/m]."""
    rpm, speed = log.first("engine"), speed_of(log)
    if rpm is None or speed is None:
        return 0.0
    with np.errstate(all="ignore"):
        return float(np.nanmedian(rpm.at(at) / speed.at(at)))


def _boost(log: Recording, at: Floats) -> float:
    """Manifold pressure over a pull [Pa]."""
    found = log.first("pressure", "boost", "map", "manifold")
    return 0.0 if found is None else float(np.nanmean(found.at(at)))


def _apart(before: tuple[Pull, ...], after: tuple[Pull, ...]) -> tuple[str, ...]:
    """What differs between the days, where it was measured."""
    said = []
    days = [np.array([p.ambient_k for p in side]) for side in (before, after)]
    if all(len(d) and np.isfinite(d).all() for d in days):
        warmer = float(days[1].mean() - days[0].mean())
        if abs(warmer) >= 2:  # noqa: PLR2004 - a meter's doubt
            how = "warmer" if warmer > 0 else "colder"
            said.append(f"it was {_kelvin(warmer, 0)} {how} after; rise is over ambient")
    elif any(len(d) for d in days):
        said.append("ambient was not measured: a warmer day is not taken out of where they begin")
    begins = [float(np.mean([p.starts_k for p in side])) for side in (before, after) if side]
    if len(begins) > 1 and abs(begins[0] - begins[1]) >= 2:  # noqa: PLR2004 - as above
        said.append(f"pulls began {_kelvin(begins[0] - begins[1], 0)} apart over ambient")
    return tuple(said)

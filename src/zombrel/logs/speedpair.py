"""Two speeds of one log, the satellite's and a device's: lag, scale, warm-up, distance.

References:
    [1] Lag by the least squares of one signal against the other, shifted: Knapp and Carter 1976.
    [2] Scale and offset as in ``calibrate.roadfit``.
    [3] Student's interval of a regression's slope, any textbook of statistics.
"""

from __future__ import annotations

import math

import msgspec
import numpy as np

from zombrel.calibrate.roadfit import RoadFit, fit
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import Channel, Floats, Recording, grid
from zombrel.units import KMH

MOST_LAG_S = 4.0
STEP_S = 0.05
OVER_S = 1.5
UNSURE_S = 0.15
"""A lag found from samples is not known better [s]: ASSUMED."""
TURN_DEG_S = 4.0
"""A satellite's speed is not the wheels' while a car turns faster than this [°/s]: ASSUMED."""
SLOPE_S, LEAST_MPS, STEEPEST = 15.0, 4.0, 0.3
"""A slope is the change of height over so long [s], at this speed or more; no road is steeper."""
WARM_S = 600.0
SLOWEST_HZ, QUICKEST_HZ = 0.05, 1.0
"""A surge of a speed loop is between; slower is the driver or a hill, faster a pulse [Hz]."""
TRUE_WORDS = ("sat", "gps", "gnss", "true", "ground", "ref")
SHOWN_WORDS = ("ind", "shown", "speedo", "dash", "gauge", "display", "device", "wheel", "vss")


class SpeedPair(Value, frozen=True):
    """What the two say of each other."""

    lag_s: float
    """The satellite's behind the device's [s]; below nought: the device's is behind."""
    fit: RoadFit
    """Scale and offset with the lag taken out."""
    warm_share: float
    """What the scale changes in ten minutes [share]; tyres grow as they warm."""
    warm_low: float
    warm_high: float
    """95 % interval [share]; nan for a drive too short to tell [3]."""
    true_m: float
    shown_m: float
    """Distance by each of the two [m]."""
    turning: int
    """Samples that were left out because the car turned."""
    steep: float
    """Slope that a twentieth of the drive exceeds, up or down [m/m]; nan: height not logged."""
    sloped: float
    """What slopes add to the way over ground, over the whole drive [share]."""


def pair_of(log: Recording) -> tuple[Channel, Channel]:
    """The satellite's speed and the device's.

    Raises:
        Problem: there are no two that can be told apart.
    """
    speeds = [c for c in log.channels if c.what == "speed"]
    true = log.first("speed", *TRUE_WORDS)
    rest = [c for c in speeds if c is not true]
    shown = next((c for c in rest if any(w in c.name.casefold() for w in SHOWN_WORDS)), None)
    shown = shown or (rest[0] if len(rest) == 1 else None)
    if true is None or shown is None:
        raise Problem(
            f"{log.name} has no two speeds that are told apart: a satellite’s, a device’s."
        )
    return true, shown


def compare_speeds(log: Recording) -> SpeedPair:
    """Lag, scale, warm-up and distance of the two speeds of a log.

    Raises:
        Problem: no two speeds, or too little of a drive.
    """
    true, shown = pair_of(log)
    begin, end = max(true.t[0], shown.t[0]), min(true.t[-1], shown.t[-1])
    step = float(max(np.median(np.diff(true.t)), np.median(np.diff(shown.t)), STEP_S))
    t = grid(begin, end, step)
    if len(t) < 30:  # noqa: PLR2004 - a drive has more
        raise Problem(f"{log.name}: both speeds run together for {end - begin:.0f} s only.")
    lag = _lag(true, shown, t)
    good = np.ones(len(t), bool)
    heading = log.first("angle", "head", "course", "bearing")
    if heading is not None:
        turn = np.degrees(np.gradient(np.unwrap(np.radians(heading.at(t))), t))
        good = ~(np.abs(turn) > TURN_DEG_S)
    flat, y = true.at(t + lag), shown.at(t)
    slope = _slope(log, t, flat)
    # a satellite's speed is over the ground as on a map; wheels drive the slope itself
    longer = np.sqrt(1 + np.nan_to_num(slope) ** 2)
    x = flat * longer
    good &= np.isfinite(x) & np.isfinite(y)
    fitted = _sure(
        t[good],
        y[good],
        [longer[good] * true.at(t[good] + lag + d) for d in (0.0, -UNSURE_S, UNSURE_S)],
    )
    both = np.isfinite(x) & np.isfinite(y)
    return SpeedPair(
        lag,
        fitted,
        *_warming(t[good], x[good], y[good], fitted),
        float(np.trapezoid(x[both], t[both])),
        float(np.trapezoid(y[both], t[both])),
        int((~good & both).sum()),
        float(np.percentile(np.abs(slope[both]), 95)) if np.isfinite(slope).any() else np.nan,
        float(np.trapezoid(x[both], t[both]) / max(np.trapezoid(flat[both], t[both]), 1e-9) - 1),
    )


def _slope(log: Recording, t: Floats, v: Floats) -> Floats:
    """Slope of the road [m/m] by the height that was logged; nan where none was."""
    height = log.first("length", "height", "altitude", "elevation")
    if height is None or len(height.t) < 8:  # noqa: PLR2004 - a slope wants more
        return np.full(len(t), np.nan)
    smooth = _smoothed(height, SLOPE_S).at(t)
    rising = np.gradient(smooth, t) / np.maximum(np.nan_to_num(v), LEAST_MPS)
    return np.asarray(np.clip(rising, -STEEPEST, STEEPEST))


def _sure(t: Floats, y: Floats, xs: list[Floats]) -> RoadFit:
    """The fit, its interval widened by what an unsure lag makes of the scale."""
    at, shown = np.asarray(t, np.float64), np.asarray(y, np.float64)
    first = fit(at, np.asarray(xs[0], np.float64), shown)
    moved = []
    for x in xs[1:]:
        good = np.isfinite(x)
        moved.append(fit(at[good], np.asarray(x, np.float64)[good], shown[good]).scale)
    shift = abs(moved[1] - moved[0]) / 2
    low, high = first.scale - first.scale_low, first.scale_high - first.scale
    return msgspec.structs.replace(
        first,
        scale_low=first.scale - float(np.hypot(low, shift)),
        scale_high=first.scale + float(np.hypot(high, shift)),
    )


def _lag(true: Channel, shown: Channel, t: Floats) -> float:
    """How far the satellite's lies behind [s]: the shift whose changes agree best [1]."""
    lags = np.arange(-MOST_LAG_S, MOST_LAG_S + STEP_S / 2, STEP_S)
    # as they are, noise would favour lags between samples, where reading between averages it
    true, shown = _smoothed(true), _smoothed(shown)
    dy = np.gradient(shown.at(t), t)
    off = []
    for lag in lags:
        dx = np.gradient(true.at(t + lag), t)
        good = np.isfinite(dx) & np.isfinite(dy)
        off.append(float(np.mean((dx[good] - dy[good]) ** 2)) if good.sum() > 9 else np.inf)  # noqa: PLR2004
    k = int(np.argmin(off))
    if not 0 < k < len(lags) - 1:
        return float(lags[k])
    a, b, c = off[k - 1 : k + 2]
    bend = a - 2 * b + c
    return float(lags[k] + (STEP_S * (a - c) / (2 * bend) if bend > 0 else 0.0))


def _smoothed(c: Channel, over: float = OVER_S) -> Channel:
    """Over so long [s], on its own clock."""
    step = float(np.median(np.diff(c.t)))
    n = int(over / max(step, 1e-6)) | 1
    padded = np.pad(c.v.astype(float), n // 2, mode="edge")
    return c.but(v=np.convolve(padded, np.ones(n) / n, "valid"))


def _warming(t: Floats, x: Floats, y: Floats, fitted: RoadFit) -> tuple[float, float, float]:
    """What the scale changes in ten minutes, by least squares over both at once [share] [3]."""
    from scipy import stats

    steady = np.array(fitted.kept, bool)
    if steady.sum() < 30 or np.ptp(t[steady]) < WARM_S / 2:  # noqa: PLR2004 - too short to tell
        return np.nan, np.nan, np.nan
    # means of half minutes: neighbours of a log say the same
    bins = (t[steady] // 30).astype(int)
    keys = np.unique(bins)
    free = len(keys) - 3
    if free < 3:  # noqa: PLR2004 - a slope and its scatter want more
        return np.nan, np.nan, np.nan
    true, at, shown = (
        np.array([c[bins == k].mean() for k in keys]) for c in (x[steady], t[steady], y[steady])
    )
    # shown = offset + scale · true + change · time · true: the offset is not taken as known
    late = at - at.mean()
    rows = np.column_stack((np.ones(len(keys)), true, late * true))
    found, *_ = np.linalg.lstsq(rows, shown, rcond=None)
    left = shown - rows @ found
    spread = float(left @ left) / free * np.linalg.inv(rows.T @ rows)
    half = float(stats.t.ppf(0.975, free)) * float(np.sqrt(spread[2, 2]))
    size = WARM_S / float(found[1] - found[2] * at.mean())  # of the scale it set out with
    return (
        float(found[2] * size),
        float((found[2] - half) * size),
        float((found[2] + half) * size),
    )


def pulses_per_km(log: Recording) -> tuple[float, float, float]:
    """Pulses a kilometre from a channel in hertz against the road speed, with its interval [1/km].

    Raises:
        Problem: no such channel, or too little of a drive.
    """
    rate = next((c for c in log.channels if "hz" in f"{c.name} {c.unit}".casefold()), None)
    speed = log.first("speed", *TRUE_WORDS) or log.first("speed")
    if rate is None or speed is None:
        raise Problem(f"{log.name} has no channel in Hz beside a speed.")
    v, f = speed.at(rate.t), rate.v
    good = (v > 15 * KMH) & np.isfinite(v) & (f > 0)
    if good.sum() < 20:  # noqa: PLR2004 - a drive has more
        raise Problem(f"{log.name} hardly moves: pulses a kilometre want a drive.")
    each = f[good] / v[good] * 1000
    middle = float(np.median(each))
    near = np.abs(each / middle - 1) < 0.1  # noqa: PLR2004 - the rest are spikes
    step = float(np.median(np.diff(rate.t)))
    several = max(3.0, near.sum() * min(1.0, step))
    half = 1.96 * float(each[near].std()) / np.sqrt(several)
    mean = float(each[near].mean())
    return mean, mean - half, mean + half


STILL_MPS = 1e-6
"""What swings less is rounding [m/s]."""


def surge(log: Recording) -> tuple[float, float, float]:
    """A surge of the speed: (rate [Hz], swing [m/s], share of it that is one rate).

    The strongest rate between 0.05 and 1 Hz of what is left of the speed beside its own trend.

    Raises:
        Problem: no speed, or too little of it.
    """
    from scipy import signal

    speed = log.first("speed")
    if speed is None or len(speed.t) < 64:  # noqa: PLR2004 - a spectrum wants more
        raise Problem(f"{log.name} has too little of a speed to look for a surge in.")
    step = float(np.median(np.diff(speed.t)))
    t = grid(speed.t[0], speed.t[-1], step)
    if SLOWEST_HZ * 2 * step >= 1:
        raise Problem(f"{log.name} has too few samples a second to look for a surge in.")
    # what the driver does is slower, and is taken out first
    slow = signal.butter(2, SLOWEST_HZ, "highpass", fs=1 / step, output="sos")
    v = signal.sosfiltfilt(slow, speed.at(t))
    f, power = signal.periodogram(v, 1 / step, window="hann")
    band = (f > SLOWEST_HZ) & (f < QUICKEST_HZ)
    if not band.any():
        raise Problem(f"{log.name} is too short to look for a surge in.")
    if math.sqrt(2 * power[band].sum() * (f[1] - f[0])) < STILL_MPS:
        raise Problem(f"The speed in {log.name} stands still: nothing surges there.")
    k = int(np.argmax(np.where(band, power, 0)))
    near = band & (np.abs(f - f[k]) <= 2.5 * (f[1] - f[0]))
    swing = float(np.sqrt(2 * power[near].sum() * (f[1] - f[0])))
    return float(f[k]), swing, float(power[near].sum() / power[band].sum())

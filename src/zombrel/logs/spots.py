"""Places in a log found by rule: pulls, idles, steady stretches, launches, drop-outs, flat spots.

Every rule is a comparison with a figure of ``RULES``, which stands beside what it found.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from zombrel.job.value import Value
from zombrel.logs.recording import Channel, Floats, Recording
from zombrel.units import KMH, RPM
from zombrel.units.measure import token

Kind = Literal["pull", "idle", "steady", "launch", "drop-out", "flat spot"]


class Rule(Value, frozen=True):
    """One figure that a kind of place is found by."""

    value: float
    unit: str
    words: str

    @property
    def told(self) -> str:
        """Its words with its figure, in a sentence for ``units.words``."""
        if self.unit == "km/h":
            return f"{self.words} {token('speed', self.value * KMH, 1)}"
        return f"{self.words} {self.value:g} {self.unit}"


RULES: dict[str, Rule] = {
    "pull load": Rule(0.8, "share", "load or pedal at least"),
    "pull length": Rule(3.0, "s", "for at least"),
    "pull breath": Rule(0.6, "s", "a lift shorter than this is the same pull"),
    "idle speed": Rule(1.0, "km/h", "standing: below"),
    "idle length": Rule(4.0, "s", "for at least"),
    "steady within": Rule(1.5, "km/h", "speed stays within ±"),
    "steady length": Rule(8.0, "s", "for at least"),
    "steady above": Rule(20.0, "km/h", "and above"),
    "launch from": Rule(3.0, "km/h", "from below"),
    "launch to": Rule(30.0, "km/h", "to above"),
    "launch within": Rule(8.0, "s", "within"),
    "drop-out": Rule(
        0.5, "s", "shows nothing, or nought while another channel moves, for at least"
    ),
    "flat spot": Rule(0.25, "share", "acceleration falls so far below its trend at full load"),
    "flat length": Rule(0.4, "s", "for at least"),
}
"""ASSUMED, habits of the trade; shown with each place."""


def figure(name: str) -> float:
    """The figure of a rule [its unit]."""
    return RULES[name].value


class Spot(Value, frozen=True):
    """One place in a log."""

    kind: Kind
    begin: float
    end: float
    """[s]"""
    channel: str
    """The channel that it was found by."""
    words: str
    """What it is, with its figures."""

    @property
    def length(self) -> float:
        """How long it is [s]."""
        return self.end - self.begin


SMOOTH_S = 0.3
"""Engine speed is averaged over so long before its rise is taken [s]."""
LOAD_WORDS = ("load", "throttle", "tps", "pedal")


def load_of(log: Recording) -> Channel | None:
    """The channel that says how hard the engine is driven: load before throttle."""
    found = log.first("fraction", "load") or log.first("fraction", *LOAD_WORDS)
    if found is None:
        return None
    # a share that was written 0 to 1 below a heading in per cent
    high = float(np.nanmax(found.v)) if len(found.v) else 0.0
    return found.but(v=found.v * 100) if 0 < high <= 0.0101 else found  # noqa: PLR2004


def stretches(
    t: Floats, on: NDArray[np.bool_], least: float, breath: float = 0.0
) -> list[tuple[int, int]]:
    """(first, last) sample of each stretch where ``on`` holds for ``least`` [s] or more.

    Pauses shorter than ``breath`` [s] do not end one.
    """
    if not on.any():
        return []
    edge = np.diff(np.concatenate(([0], on.astype(np.int8), [0])))
    begins, ends = np.flatnonzero(edge == 1), np.flatnonzero(edge == -1) - 1
    joined: list[list[int]] = []
    for b, e in zip(begins, ends, strict=True):
        if joined and t[b] - t[joined[-1][1]] < breath:
            joined[-1][1] = int(e)
        else:
            joined.append([int(b), int(e)])
    return [(b, e) for b, e in joined if t[e] - t[b] >= least]


def pulls(log: Recording) -> list[Spot]:
    """Stretches of full load."""
    load = load_of(log)
    if load is None:
        return []
    found = stretches(
        load.t, load.v >= figure("pull load"), figure("pull length"), figure("pull breath")
    )
    return [
        Spot(
            "pull",
            float(load.t[b]),
            float(load.t[e]),
            load.name,
            f"{load.t[e] - load.t[b]:.1f} s at {100 * float(load.v[b : e + 1].mean()):.0f} %",
        )
        for b, e in found
    ]


def spots(log: Recording) -> list[Spot]:
    """Every place that the rules find, in the order of time."""
    found = [*pulls(log), *_idles(log), *_steady(log), *_launches(log), *_drop_outs(log)]
    found += _flat_spots(log)
    return sorted(found, key=lambda s: (s.begin, s.kind))


def speed_of(log: Recording) -> Channel | None:
    """The speed to trust: the satellite's before what a device shows."""
    return log.first("speed", "sat", "gps", "gnss", "true", "ground") or log.first("speed")


def _idles(log: Recording) -> Iterator[Spot]:
    speed, rpm = speed_of(log), log.first("engine")
    if speed is None:
        return
    for b, e in stretches(speed.t, speed.v < figure("idle speed") * KMH, figure("idle length")):
        words = f"standing {speed.t[e] - speed.t[b]:.0f} s"
        if rpm is not None:
            inside = (rpm.t >= speed.t[b]) & (rpm.t <= speed.t[e])
            if inside.any():
                mean, swing = float(rpm.v[inside].mean()), float(np.ptp(rpm.v[inside]))
                words += f" at {mean / RPM:.0f} rpm, swinging {swing / RPM:.0f}"
        yield Spot("idle", float(speed.t[b]), float(speed.t[e]), speed.name, words)


def _steady(log: Recording) -> Iterator[Spot]:
    speed = speed_of(log)
    if speed is None or len(speed.t) < 3:  # noqa: PLR2004 - a stretch wants more
        return
    within, least = figure("steady within") * KMH, figure("steady length")
    b = 0
    while b < len(speed.t) - 1:
        low = high = float(speed.v[b])
        e = b
        while e + 1 < len(speed.t):
            v = float(speed.v[e + 1])
            if max(high, v) - min(low, v) > 2 * within:
                break
            low, high, e = min(low, v), max(high, v), e + 1
        if speed.t[e] - speed.t[b] >= least and low > figure("steady above") * KMH:
            mean = float(speed.v[b : e + 1].mean())
            words = f"{token('speed', mean, 1)} for {speed.t[e] - speed.t[b]:.0f} s"
            yield Spot("steady", float(speed.t[b]), float(speed.t[e]), speed.name, words)
            b = e + 1
        else:
            b += max(1, (e - b) // 4)


def _launches(log: Recording) -> Iterator[Spot]:
    speed = speed_of(log)
    if speed is None:
        return
    low, high = figure("launch from") * KMH, figure("launch to") * KMH
    below = np.flatnonzero(speed.v < low)
    if not len(below):
        return
    for i in np.flatnonzero((speed.v[1:] >= high) & (speed.v[:-1] < high)) + 1:
        k = np.searchsorted(below, i) - 1
        if k < 0:
            continue
        b = int(below[k])
        took = float(speed.t[i] - speed.t[b])
        if took <= figure("launch within"):
            words = f"to {token('speed', high, 0)} in {took:.1f} s"
            yield Spot("launch", float(speed.t[b]), float(speed.t[i]), speed.name, words)


def _drop_outs(log: Recording) -> Iterator[Spot]:
    least = figure("drop-out")
    for c in log.channels:
        for begin, end in c.gaps:
            if end - begin >= least:
                yield Spot(
                    "drop-out", begin, end, c.name, f"{c.name}: nothing for {end - begin:.1f} s"
                )
    speeds = [c for c in log.channels if c.what == "speed"]
    for c in speeds:
        others = [o for o in speeds if o is not c]
        if not others or len(c.t) < 2:  # noqa: PLR2004 - a stretch wants two
            continue
        moves = others[0].at(c.t) > figure("steady above") * KMH
        for b, e in stretches(c.t, (c.v <= 0) & moves, least):
            words = f"{c.name}: nought for {c.t[e] - c.t[b]:.1f} s while {others[0].name} moves"
            yield Spot("drop-out", float(c.t[b]), float(c.t[e]), c.name, words)


def _flat_spots(log: Recording) -> Iterator[Spot]:
    """Where the engine's rise falls below its own trend during a pull."""
    rpm = log.first("engine")
    if rpm is None:
        return
    for pull in pulls(log):
        inside = (rpm.t >= pull.begin) & (rpm.t <= pull.end)
        if inside.sum() < 20:  # noqa: PLR2004 - a trend wants more
            continue
        t, v = rpm.t[inside], rpm.v[inside].astype(float)
        rise = np.gradient(_smooth(v, t, SMOOTH_S), t)
        gear = rise > 0  # where it falls somebody shifts
        edge = (t < t[0] + 2 * SMOOTH_S) | (t > t[-1] - 2 * SMOOTH_S)
        if not gear[~edge].all():
            continue
        trend = np.polyval(np.polyfit(t[~edge], rise[~edge], 2), t)
        low = (rise < trend * (1 - figure("flat spot"))) & (trend > 0) & ~edge
        for b, e in stretches(t, low, figure("flat length")):
            share = 1 - float((rise[b : e + 1] / trend[b : e + 1]).mean())
            words = f"{100 * share:.0f} % less rise at {float(v[b]) / RPM:.0f} rpm"
            yield Spot("flat spot", float(t[b]), float(t[e]), rpm.name, words)


def _smooth(v: Floats, t: Floats, over: float) -> Floats:
    """A running mean over so long [s]."""
    step = float(np.median(np.diff(t)))
    n = max(1, int(over / max(step, 1e-6)) | 1)
    padded = np.pad(v, n // 2, mode="edge")
    return np.asarray(np.convolve(padded, np.ones(n) / n, "valid"))

"""Which setting, behind which divider, reads truest."""

from __future__ import annotations

import bisect
import itertools
import math

from zombrel.job.memo import remembered
from zombrel.job.problem import Problem
from zombrel.job.sheet import Dials, Frozen, SettingSheet, SettingUnit

CLOSE = 0.001
"""Errors this close together are alike, and the simpler way wins [fraction]."""


class Choice(Frozen, frozen=True, kw_only=True):
    """One setting with one divider."""

    setting: str
    value: float
    """The setting in its own unit."""
    divider: int
    error: float
    """(shown − true) / true; positive reads high."""
    hz_at_top: float
    """Rate at the device's input at top speed [Hz]."""


class Options(Frozen, frozen=True, kw_only=True):
    """Every position of a setting, ascending by value."""

    names: tuple[str, ...]
    values: tuple[float, ...]


@remembered
def options(sheet: SettingSheet) -> Options:
    """All positions of a setting and their values in the setting's unit."""
    if isinstance(sheet, Dials):
        pairs = []
        for steps in itertools.product(*(range(len(d.positions)) for d in sheet.dials)):
            octaves = sum(s * d.octaves for s, d in zip(steps, sheet.dials, strict=True))
            name = "".join(d.positions[s] for s, d in zip(steps, sheet.dials, strict=True))
            pairs.append((sheet.base * 2**octaves, name))
        pairs.sort()
        return Options(names=tuple(n for _, n in pairs), values=tuple(v for v, _ in pairs))
    count = round((sheet.high - sheet.low) / sheet.step)
    values = tuple(round(sheet.low + i * sheet.step, 9) for i in range(count + 1))
    return Options(names=tuple(f"{v:g}" if v < 1e5 else f"{v:.0f}" for v in values), values=values)


@remembered
def believed(sheet: SettingSheet) -> Options:
    """All positions and the pulses per metre or revolution each stands for, ascending."""
    table = options(sheet)
    return Options(names=table.names, values=tuple([pulses(sheet.unit, v) for v in table.values]))


def value_of(sheet: SettingSheet, at: str) -> float:
    """Value of the position called ``at``, in the setting's unit.

    Raises:
        Problem: the device has no such position.
    """
    if isinstance(sheet, Dials):
        table = options(sheet)
        if at in table.names:
            return table.values[table.names.index(at)]
        ends = f"{table.names[0]} to {table.names[-1]}"
        raise Problem(f"The dials have no position “{at}”; they go from {ends}.")
    try:
        value = float(at.replace(",", "."))
    except ValueError:
        raise Problem(f"“{at}” is not a number; the setting takes numbers.") from None
    if not sheet.low <= value <= sheet.high:
        raise Problem(f"{at} is outside {sheet.low:g} to {sheet.high:g}.")
    steps = (value - sheet.low) / sheet.step
    if abs(steps - round(steps)) > 1e-6:
        raise Problem(f"{at} is between two steps; the setting goes in steps of {sheet.step:g}.")
    return value


def pulses(unit: SettingUnit, value: float) -> float:
    """Pulses per metre, or per revolution, that a setting stands for.

    A device that asks for cylinders expects cylinders / 2 pulses a revolution.
    """
    if unit == "pulses/km":
        return value / 1000
    if unit == "cylinders":
        return value / 2
    return value


def choose(
    rate: float,
    names: tuple[str, ...],
    values: tuple[float, ...],
    max_hz: float,
    top: float,
    divider_max: int = 1,
) -> tuple[Choice, ...]:
    """Rank settings for a source, the best first.

    ``rate`` and the ascending ``values`` in one unit (pulses per metre or per revolution),
    ``top`` the greatest speed [m/s or 1/s]. For each divider the nearest setting is taken. The
    smallest absolute error within ``max_hz`` wins, but no divider, or a smaller one, wins
    when its error is within 0.1 percentage point of that.

    Raises:
        Problem: nothing keeps the input within its rate limit.
    """
    best: list[Choice] = []
    for n in range(1, divider_max + 1):
        hz = rate / n * top
        if hz <= max_hz:
            i = _nearest(values, rate / n)
            error = rate / n / values[i] - 1
            best.append(
                Choice(setting=names[i], value=values[i], divider=n, error=error, hz_at_top=hz)
            )
    if not best:
        need = math.ceil(rate * top / max_hz)
        raise Problem(
            f"At top speed the source gives {rate * top:.0f} Hz and the input takes "
            f"{max_hz:.0f} Hz: a divider of at least {need} is needed."
        )
    least = min(abs(c.error) for c in best)
    winner = next(c for c in best if abs(c.error) <= least + CLOSE + 1e-12)
    rest = sorted((c for c in best if c is not winner), key=lambda c: (abs(c.error), c.divider))
    return (winner, *rest)


def _nearest(values: tuple[float, ...], target: float) -> int:
    """Index of the ascending value whose ratio to ``target`` is nearest 1."""
    i = bisect.bisect_left(values, target)
    near = [k for k in (i - 1, i) if 0 <= k < len(values)]
    return min(near, key=lambda k: abs(target / values[k] - 1))

"""Which setting, behind which divider, reads truest.

References:
    Relative error of a counting instrument: (shown − true) ÷ true (JCGM 200, 2.16, definition of
    measurement error). A four-stroke engine fires each cylinder once in two turns (Heywood,
    *Internal Combustion Engine Fundamentals*, ch. 1). Factors to SI: SI brochure, 9th ed., table 8.
"""

from __future__ import annotations

import bisect
import functools
import math
from collections.abc import Sequence
from typing import Literal

from zombrel.calibrate.settings.face import Part
from zombrel.calibrate.settings.kinds import KINDS
from zombrel.calibrate.settings.positions import Options
from zombrel.job.follow.view import plain
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen, NumberSheet, SettingSheet, SettingUnit
from zombrel.units import MILE

Side = Literal["near", "below", "above"]

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


def options(sheet: NumberSheet) -> Options:
    """All positions of a setting and their values in the setting's unit, ascending.

    Raises:
        Problem: it has none.
    """
    sheet = plain(sheet)
    known = _known.get(id(sheet))
    if known is None:
        if len(_known) >= MANY:
            _known.clear()
        # with the sheet itself, so that its identity stays its own; to hash it takes longer
        known = _known[id(sheet)] = (sheet, _options(sheet))
    return known[1]


MANY = 500
_known: dict[int, tuple[NumberSheet, Options]] = {}


@functools.lru_cache(maxsize=64)
def _options(sheet: NumberSheet) -> Options:
    return KINDS[type(sheet)].options(sheet)


def believed(sheet: NumberSheet) -> Options:
    """All positions and the pulses per metre or revolution each stands for, ascending."""
    return _believed(plain(sheet))


@functools.lru_cache(maxsize=64)
def _believed(sheet: NumberSheet) -> Options:
    table = _options(sheet)
    return Options(names=table.names, values=tuple([pulses(sheet.unit, v) for v in table.values]))


def value_of(sheet: NumberSheet, at: str) -> float:
    """Value of the position called ``at``, in the setting's unit.

    Result [unit of the setting].

    Raises:
        Problem: the device has no such position.
    """
    sheet = plain(sheet)
    return KINDS[type(sheet)].value(sheet, options(sheet), at)


def said(sheet: SettingSheet, at: str) -> str:
    """A position as the installer would say it."""
    return KINDS[sheet.__class__].said(at)


def face(sheet: SettingSheet, now: str, want: str) -> tuple[Part, ...]:
    """What is seen of a setting that stands at ``now`` and should at ``want``; either may be ""."""
    return KINDS[sheet.__class__].face(sheet, now, want)


def names(sheet: SettingSheet) -> Sequence[str]:
    """Every position in order, of a number or of a choice of curves."""
    return KINDS[sheet.__class__].names(plain(sheet))


def turned(sheet: SettingSheet, now: str, part: int, to: int) -> str:
    """Where a setting stands once ``part`` of its face was moved from ``now`` to its place ``to``.

    The place is the index of a knob's place, 1 or 0 for a slide that is on or off, the index of
    the position for anything else.
    """
    return KINDS[sheet.__class__].turned(plain(sheet), now, part, to)


def moves(sheet: SettingSheet, now: str, want: str) -> tuple[str, ...]:
    """What to do, step by step; empty when it stands right.

    ``now`` may be empty: then the steps start from nothing known.
    """
    return () if now == want else KINDS[sheet.__class__].moves(sheet, now, want)


def nearest(sheet: NumberSheet, value: float, side: Side = "near") -> tuple[str, float]:
    """The position nearest ``value`` in the setting's unit, and what it stands for.

    ``side`` keeps it at or below (a limit that must not be passed) or at or above.

    ``value`` and result [unit of the setting].
    """
    table = options(sheet)
    slack = 1e-6 * max(1.0, abs(value))
    values, last = table.values, len(table.values) - 1
    if side == "below":
        i = table.after(value + slack) - 1
    elif side == "above":
        i = table.before(value - slack)
    else:
        i = min(table.before(value), last)
        at = values[i]
        if i > 0 and at != value and value - (under := values[i - 1]) <= at - value:
            i, at = i - 1, under
        return table.names[i], at
    i = min(max(i, 0), last)
    return table.names[i], values[i]


def pulses(unit: SettingUnit, value: float) -> float:
    """Pulses per metre, or per revolution, that a setting stands for.

    A device that asks for cylinders expects cylinders / 2 pulses a revolution.

    ``value`` [unit of the setting], result [1/m or 1 per revolution].
    """
    if unit == "pulses/km":
        return value / 1000
    if unit == "pulses/mile":
        return value / MILE
    if unit == "cylinders":
        return value / 2
    return value


_SI: dict[SettingUnit, tuple[float, float]] = {
    "rpm": (1 / 60, 0.0),
    "°C": (1.0, 273.15),
    "bar": (1e5, 0.0),
    "%": (0.01, 0.0),
    "l": (1e-3, 0.0),
}
"""(factor, offset) from a device's unit to SI."""


def to_si(unit: SettingUnit, value: float) -> float:
    """A setting's value in SI: 1/s, K, Pa, s, share, m³.

    ``value`` [unit of the setting], result [SI].
    """
    factor, offset = _SI.get(unit, (1.0, 0.0))
    return value * factor + offset


def from_si(unit: SettingUnit, value: float, difference: bool = False) -> float:
    """An SI value, or a difference of two, in a setting's unit.

    ``value`` [SI], result [unit of the setting].
    """
    factor, offset = _SI.get(unit, (1.0, 0.0))
    return (value - (0.0 if difference else offset)) / factor


def choose(
    rate: float,
    names: Sequence[str],
    values: Sequence[float],
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
        Problem: nothing keeps the input within its rate limit, or every value is nothing.
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


def _nearest(values: Sequence[float], target: float) -> int:
    """Index of the ascending value whose ratio to ``target`` is nearest 1."""
    i = bisect.bisect_left(values, target)
    # A bank with every switch off can stand for nothing: no rate is counted by that.
    near = [k for k in (i - 1, i, i + 1) if 0 <= k < len(values) and values[k] > 0]
    if not near:
        raise Problem("No position of the setting stands for any pulses.")
    return min(near, key=lambda k: abs(target / values[k] - 1))

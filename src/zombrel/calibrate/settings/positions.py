"""The positions of a setting and what they stand for, without writing out a long menu."""

from __future__ import annotations

import bisect
from collections.abc import Sequence
from typing import overload

from zombrel.job.sheet import Frozen
from zombrel.units import rounded

PLAIN_TO = 1e5
"""Larger numbers are written out."""


class Options(Frozen, frozen=True, kw_only=True):
    """Every position of a setting, ascending by value."""

    names: Sequence[str]
    values: Sequence[float]

    def after(self, value: float) -> int:
        """How many positions stand for ``value`` [its unit] or less."""
        if isinstance(self.values, Steps):
            return self.values.after(value)
        return bisect.bisect_right(self.values, value)

    def before(self, value: float) -> int:
        """How many positions stand for less than ``value`` [its unit]."""
        if isinstance(self.values, Steps):
            return self.values.before(value)
        return bisect.bisect_left(self.values, value)


FINE = 1e9
"""Parts of one that a step is told to, where sums of floats would show."""


class Steps(Sequence[float]):
    """Values from ``low`` on in equal steps, worked out when they are asked for."""

    def __init__(self, low: float, step: float, count: int) -> None:
        self._low, self._step, self._count = low, step, count

    def __len__(self) -> int:
        return self._count

    @overload
    def __getitem__(self, at: int) -> float: ...
    @overload
    def __getitem__(self, at: slice) -> Sequence[float]: ...
    def __getitem__(self, at: int | slice) -> float | Sequence[float]:
        if not isinstance(at, slice) and 0 <= at < self._count:  # what is mostly asked
            return rounded(self._low + at * self._step, FINE)
        if isinstance(at, slice):
            return tuple([self[i] for i in range(*at.indices(self._count))])
        if not -self._count <= at < 0:
            raise IndexError(at)
        return self[at + self._count]

    def after(self, value: float) -> int:
        """How many of them are ``value`` or less, as ``bisect.bisect_right`` counts."""
        low, step, count = self._low, self._step, self._count
        at = int(min(count - 1, max(0.0, (value - low) / step)))
        while at < count and rounded(low + at * step, FINE) <= value:  # as they are given
            at += 1
        while at > 0 and rounded(low + (at - 1) * step, FINE) > value:
            at -= 1
        return at

    def before(self, value: float) -> int:
        """How many of them are less than ``value``, as ``bisect.bisect_left`` counts."""
        low, step, at = self._low, self._step, self.after(value)
        while at > 0 and rounded(low + (at - 1) * step, FINE) >= value:
            at -= 1
        return at


class StepNames(Sequence[str]):
    """The same values as they are written on the device."""

    def __init__(self, values: Steps) -> None:
        self._values = values

    def __len__(self) -> int:
        return len(self._values)

    @overload
    def __getitem__(self, at: int) -> str: ...
    @overload
    def __getitem__(self, at: slice) -> Sequence[str]: ...
    def __getitem__(self, at: int | slice) -> str | Sequence[str]:
        if isinstance(at, slice):
            return tuple([_written(v) for v in self._values[at]])
        return _written(self._values[at])


def _written(value: float) -> str:
    return f"{value:g}" if value < PLAIN_TO else f"{value:.0f}"

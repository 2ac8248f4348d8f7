"""Satellite receiver: one interface, and a receiver that plays a recorded NMEA 0183 file."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Protocol

from zombrel.intake.file import take
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.logs.nmea import DAY_S, MAX_BYTES, fixes_of


class Fix(Frozen, frozen=True, kw_only=True):
    """One moment: time [s] from the start, speed [m/s] (None without a fix), shown [m/s]."""

    t: float
    speed: float | None
    shown: float | None = None


class Receiver(Protocol):
    """What the road stage needs of a receiver."""

    def poll(self, elapsed: float) -> Sequence[Fix]:
        """Fixes that arrived since the last call, ``elapsed`` seconds after the start."""
        ...

    @property
    def finished(self) -> bool:
        """No more fixes will come."""
        ...


class PlayedReceiver:
    """Plays recorded fixes at ``rate`` times real time."""

    def __init__(self, fixes: Sequence[Fix], rate: float = 1.0) -> None:
        self._fixes = fixes
        self._rate = rate
        self._next = 0

    def poll(self, elapsed: float) -> Sequence[Fix]:
        """Fixes due by ``elapsed`` [s] of the listener's time."""
        begin = self._next
        while self._next < len(self._fixes) and (self._fixes[self._next].t <= elapsed * self._rate):
            self._next += 1
        return self._fixes[begin : self._next]

    @property
    def finished(self) -> bool:
        """All fixes have been given."""
        return self._next >= len(self._fixes)

    @property
    def length(self) -> float:
        """Duration of the recording [s]."""
        return self._fixes[-1].t if self._fixes else 0.0


def read_nmea(path: Path) -> tuple[tuple[Fix, ...], str]:
    """Fixes of a recorded file, and a note on sentences left out.

    Raises:
        Problem: unreadable, or without a single speed.
    """
    found, bad = fixes_of(take(path, MAX_BYTES, "recording").decode("ascii", "replace"))
    if not any(f.speed is not None for f in found):
        raise Problem(f"{path.name} holds no speed (RMC sentences with a fix).")
    start = found[0].clock
    fixes = [Fix(t=(f.clock - start) % DAY_S, speed=f.speed, shown=f.shown) for f in found]
    lost = sum(f.speed is None for f in fixes)
    note = f"{len(fixes)} fixes"
    note += f", {lost} without a satellite lock" if lost else ""
    note += f", {bad} damaged sentences left out" if bad else ""
    return tuple(fixes), note + "."

"""Satellite receiver: one interface, and a receiver that plays a recorded NMEA 0183 file.

The indicated speed that a helper keyed in during the recording is carried in the
proprietary sentence ``$PZIND,hhmmss.ss,<km/h>``; NMEA 0183 reserves sentences beginning
with P for such use.
"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Protocol

from zombrel.intake.file import take
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.units import KMH, KNOT

MAX_BYTES = 50_000_000


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
    import pynmea2

    text = take(path, MAX_BYTES, "recording").decode("ascii", "replace")
    fixes: list[Fix] = []
    start: float | None = None
    shown: float | None = None
    bad = 0
    for line in map(str.strip, text.splitlines()):
        if not line.startswith("$"):
            continue
        try:
            if line.startswith("$PZIND"):
                shown = _indicated(line)
                continue
            if line[3:6] != "RMC":
                continue
            sentence = pynmea2.parse(line, check=True)
            moment = sentence.timestamp
            seconds = (
                moment.hour * 3600 + moment.minute * 60 + moment.second + moment.microsecond / 1e6
            )
            start = seconds if start is None else start
            elapsed = (seconds - start) % 86400
            ok = sentence.status == "A" and sentence.spd_over_grnd is not None
            speed = float(sentence.spd_over_grnd) * KNOT if ok else None
            fixes.append(Fix(t=elapsed, speed=speed, shown=shown))
        except (pynmea2.ParseError, ValueError, AttributeError, TypeError, LookupError):
            bad += 1
    if not any(f.speed is not None for f in fixes):
        raise Problem(f"{path.name} holds no speed (RMC sentences with a fix).")
    lost = sum(f.speed is None for f in fixes)
    note = f"{len(fixes)} fixes"
    note += f", {lost} without a satellite lock" if lost else ""
    note += f", {bad} damaged sentences left out" if bad else ""
    return tuple(fixes), note + "."


def _indicated(line: str) -> float | None:
    """Speed [m/s] of a ``$PZIND`` sentence; raises ValueError if its checksum is wrong."""
    body, _, check = line[1:].partition("*")
    total = 0
    for character in body:
        total ^= ord(character)
    if check and int(check, 16) != total:
        raise ValueError("checksum")
    value = body.split(",")[2]
    return float(value) * KMH if value else None

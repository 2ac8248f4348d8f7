"""Recorded sentences of a satellite receiver: speed, heading, and what a helper keyed in.

The indicated speed that a helper keyed in during the recording is carried in the proprietary
sentence ``$PZIND,hhmmss.ss,<km/h>``; NMEA 0183 reserves sentences beginning with P for such use.
"""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np

from zombrel.intake.file import take
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import Channel, Recording, places
from zombrel.units import KMH, KNOT

MAX_BYTES = 50_000_000
DAY_S = 86400.0


class Fix(Value, frozen=True):
    """One moment: time of day [s], speed [m/s] (None without a lock), course [°], shown [m/s]."""

    clock: float
    speed: float | None
    course: float
    shown: float | None
    place: tuple[float, float] | None = None
    """Latitude and longitude [°]; None where the sentence has none."""
    height: float = math.nan
    """Above the sea, of the sentence before that told it [m]."""


def fixes_of(text: str) -> tuple[list[Fix], int]:
    """Every fix in lines of sentences, and how many sentences were damaged."""
    found: list[Fix] = []
    shown: float | None = None
    height = math.nan
    bad = 0
    for line in map(str.strip, text.splitlines()):
        try:
            if line.startswith("$PZIND"):
                shown = indicated(line)
            elif line.startswith("$") and line[3:6] == "RMC":
                found.append(_fix(line, shown).but(height=height))
            elif line.startswith("$") and line[3:6] == "GGA":
                height = _height(line)
        except (ValueError, AttributeError, TypeError, LookupError):
            bad += 1
    return found, bad


def _fix(line: str, shown: float | None) -> Fix:
    """One RMC sentence; raises ValueError for a damaged one."""
    import pynmea2

    try:
        s: Any = pynmea2.parse(line, check=True)
    except pynmea2.ParseError as error:
        raise ValueError(str(error)) from error
    at = s.timestamp
    clock = at.hour * 3600 + at.minute * 60 + at.second + at.microsecond / 1e6
    locked = s.status == "A" and s.spd_over_grnd is not None
    course = float(s.true_course) if s.true_course not in (None, "") else math.nan
    place = (float(s.latitude), float(s.longitude)) if s.lat and s.lon else None
    return Fix(clock, float(s.spd_over_grnd) * KNOT if locked else None, course, shown, place)


def _height(line: str) -> float:
    """Height above the sea of a GGA sentence [m]; nan where it has none."""
    import pynmea2

    try:
        s: Any = pynmea2.parse(line, check=True)
    except pynmea2.ParseError as error:
        raise ValueError(str(error)) from error
    return math.nan if s.altitude is None else float(s.altitude)


def indicated(line: str) -> float | None:
    """Speed [m/s] of a ``$PZIND`` sentence; raises ValueError if its checksum is wrong."""
    body, _, check = line[1:].partition("*")
    total = 0
    for character in body:
        total ^= ord(character)
    if check and int(check, 16) != total:
        raise ValueError("checksum")
    value = body.split(",")[2]
    return float(value) * KMH if value else None


def read_nmea_log(path: Path) -> Recording:
    """Channels of a file of NMEA 0183 sentences.

    Raises:
        Problem: unreadable, or without a single speed.
    """
    found, bad = fixes_of(take(path, MAX_BYTES, "recording").decode("ascii", "replace"))
    locked = [f for f in found if f.speed is not None]
    if not locked:
        raise Problem(f"{path.name} holds no speed (RMC sentences with a fix).")
    clock = np.array([f.clock for f in locked])
    t = clock - found[0].clock
    t[1:] += DAY_S * np.cumsum(np.diff(clock) < -DAY_S / 2)
    keep = np.concatenate(([True], np.diff(np.maximum.accumulate(t)) > 0))
    speed, course = np.array([f.speed for f in locked]), np.array([f.course for f in locked])
    shown = np.array([math.nan if f.shown is None else f.shown for f in locked])
    channels = [Channel("satellite speed", "speed", "kn", t[keep], speed[keep].astype(float))]
    if np.isfinite(course).all():
        channels.append(Channel("heading", "angle", "°", t[keep], course[keep]))
    lat, lon = (
        np.array([math.nan if f.place is None else f.place[i] for f in locked])[keep]
        for i in (0, 1)
    )
    channels += places(t[keep], lat, lon)
    heights = np.array([f.height for f in locked])
    high = keep & np.isfinite(heights)
    if high.sum() > 1:
        channels.append(Channel("height", "length", "m", t[high], heights[high]))
    both = keep & np.isfinite(shown)
    if both.sum() > 1:
        channels.append(Channel("indicated speed", "speed", "km/h", t[both], shown[both]))
    lost = len(found) - len(locked)
    notes = [f"{len(found)} fixes"]
    notes += [f"{lost} without a satellite lock"] if lost else []
    notes += [f"{bad} damaged sentences left out"] if bad else []
    return Recording(path.name, tuple(channels), tuple(notes))

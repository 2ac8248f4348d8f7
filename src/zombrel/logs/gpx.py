"""Tracks in GPX files, read with gpxpy: speed from positions, height, heading.

References:
    [1] GPX 1.1 schema (TopoGrafix).
    [2] Sinnott 1984, Virtues of the Haversine: distance on a sphere of the mean earth radius.
"""

from __future__ import annotations

import warnings
from pathlib import Path

import numpy as np

from zombrel.intake.file import reading, text
from zombrel.job.problem import Problem
from zombrel.logs.recording import Channel, Recording, places

MAX_BYTES = 200_000_000
EARTH_M = 6_371_008.8
"""Mean radius of the earth [m] (IUGG)."""
FEWEST = 3


def read_gpx(path: Path) -> Recording:
    """The track in a GPX file; where it has no speeds they come from the positions.

    Raises:
        Problem: unreadable, entities in it, or no three points with a time.
    """
    source = text(path, MAX_BYTES, "track")
    if "<!DOCTYPE" in source[:4000].upper() or "<!ENTITY" in source.upper():
        raise Problem(f"{path.name} holds definitions of its own, which no track has.")
    import gpxpy

    with reading(path.name), warnings.catch_warnings():
        warnings.simplefilter("ignore")
        track = gpxpy.parse(source)
        points = [p for t in track.tracks for s in t.segments for p in s.points]
    timed = [
        p
        for p in points
        if p.time is not None and abs(p.latitude) <= 90 and abs(p.longitude) <= 180  # noqa: PLR2004
    ]
    if len(timed) < FEWEST:
        raise Problem(
            f"{path.name} has {len(timed)} points on the earth with a time; a drive has more."
        )
    t = np.array([p.time.timestamp() for p in timed if p.time is not None])
    keep = np.concatenate(([True], np.diff(np.maximum.accumulate(t)) > 0))
    lat = np.radians([p.latitude for p in timed])[keep]
    lon = np.radians([p.longitude for p in timed])[keep]
    t = t[keep] - t[0]
    if len(t) < FEWEST:
        raise Problem(f"{path.name}: its clock does not go on.")
    speeds = np.array([np.nan if p.speed is None else p.speed for p in timed])[keep]
    notes = [f"{len(t)} points"]
    if not np.isfinite(speeds).all():
        speeds = speeds_of(t, lat, lon)
        notes.append("speed is worked out of the positions, to the middle of each step")
    channels = [Channel("satellite speed", "speed", "m/s", t, speeds)]
    channels.append(Channel("heading", "angle", "°", t, headings_of(lat, lon)))
    channels += places(t, np.degrees(lat), np.degrees(lon))
    heights = np.array([np.nan if p.elevation is None else p.elevation for p in timed])[keep]
    if np.isfinite(heights).all():
        channels.append(Channel("height", "length", "m", t, heights))
    return Recording(path.name, tuple(channels), tuple(notes))


def speeds_of(t: np.ndarray, lat: np.ndarray, lon: np.ndarray) -> np.ndarray:
    """Speed between neighbouring points [m/s], at each point by both its sides [2].

    ``t`` [s], ``lat`` and ``lon`` [rad].
    """
    a = np.sin(np.diff(lat) / 2) ** 2
    a += np.cos(lat[:-1]) * np.cos(lat[1:]) * np.sin(np.diff(lon) / 2) ** 2
    way = np.concatenate(([0.0], np.cumsum(2 * EARTH_M * np.arcsin(np.sqrt(np.clip(a, 0, 1))))))
    return np.asarray(np.gradient(way, t))


def headings_of(lat: np.ndarray, lon: np.ndarray) -> np.ndarray:
    """Course over ground at each point [°], clockwise from north; ``lat``, ``lon`` [rad] [2]."""
    dlon = np.diff(lon)
    y = np.sin(dlon) * np.cos(lat[1:])
    x = np.cos(lat[:-1]) * np.sin(lat[1:]) - np.sin(lat[:-1]) * np.cos(lat[1:]) * np.cos(dlon)
    course = np.degrees(np.arctan2(y, x)) % 360
    return np.concatenate((course, course[-1:]))

"""A recording written out: a table of numbers, or a track."""

from __future__ import annotations

import io
from datetime import UTC, datetime, timedelta

import numpy as np

from zombrel.job.problem import Problem
from zombrel.logs.recording import Channel, Recording
from zombrel.logs.units import UNITS


def heading(c: Channel) -> str:
    """A channel's heading, with the unit it is written in."""
    return f"{c.name} [{c.unit}]" if c.unit and f"[{c.unit}]" not in c.name else c.name


def shown(c: Channel) -> np.ndarray:
    """Its values in the unit the file had [that unit]."""
    of = UNITS.get(c.unit)
    if of is None:
        return np.asarray(c.v)
    return np.asarray((c.v.astype(float) - of.zero) / of.size).astype(c.v.dtype)


def to_csv(log: Recording) -> bytes:
    """All channels over one column of time [s]; cells are empty where a channel has no sample."""
    import polars as pl

    t = np.unique(np.concatenate([c.t for c in log.channels]))
    columns = {"time [s]": np.round(t, 6)}
    for c in log.channels:
        name, k = heading(c), 2
        while name in columns:
            name, k = f"{heading(c)} {k}", k + 1
        if len(c.t) == len(t):
            columns[name] = shown(c)
            continue
        full = np.full(len(t), np.nan, c.v.dtype)
        full[np.searchsorted(t, c.t)] = shown(c)
        columns[name] = full
    out = io.BytesIO()
    table = pl.DataFrame(columns).fill_nan(None)
    table.write_csv(out, float_precision=None)
    return out.getvalue()


def to_gpx(log: Recording, start: datetime | None = None) -> bytes:
    """A track of the log's positions.

    Raises:
        Problem: it has no latitude and longitude.
    """
    import gpxpy.gpx as g

    named = {
        word: next((c for c in log.channels if c.name.casefold().startswith(word)), None)
        for word in ("lat", "lon")
    }
    lat, lon = named["lat"], named["lon"]
    if lat is None or lon is None:
        raise Problem(f"{log.name} has no latitude and longitude: a track is made of positions.")
    speed = log.first("speed")
    begin = start or datetime(2000, 1, 1, tzinfo=UTC)
    at = lon.at(lat.t)
    run = speed.at(lat.t) if speed is not None else np.full(len(lat.t), np.nan)
    segment = g.GPXTrackSegment()
    for t, y, x, v in zip(lat.t, lat.v, at, run, strict=True):
        if not np.isfinite(x):
            continue
        moment = begin + timedelta(seconds=float(t))
        point = g.GPXTrackPoint(latitude=float(y), longitude=float(x), time=moment)
        point.speed = float(v) if np.isfinite(v) else None
        segment.points.append(point)
    track = g.GPXTrack(name=log.name)
    track.segments.append(segment)
    whole = g.GPX()
    whole.creator = "Zombrel"
    whole.tracks.append(track)
    return str(whole.to_xml("1.0")).encode()

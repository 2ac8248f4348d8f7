"""Read a log of satellite speed against indicated speed from delimited text.

Comma, semicolon or tab; decimal point or comma; units in the header; columns found by
name, or by sense when the names say nothing.
"""

from __future__ import annotations

import csv
import re
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.units import KMH, KNOT, MPH

Floats = NDArray[np.float64]

MAX_BYTES = 200_000_000
UNITS = (
    (re.compile(r"km\s*/?\s*h|kph|kmh"), KMH),
    (re.compile(r"mph|mi\s*/\s*h|mile"), MPH),
    (re.compile(r"m\s*/\s*s|mps|m s-1"), 1.0),
    (re.compile(r"kn(?:ot)?s?\b|kts?\b"), KNOT),
)
TRUE_WORDS = re.compile(r"gps|gnss|sat|true|ref|ground|actual|nav")
SHOWN_WORDS = re.compile(r"ind|shown|show|speedo|dash|gauge|display|unit|read|device|meter|clock")
TIME_WORDS = re.compile(r"time|^t\b|^t\s*[\[(]|elapsed|sec|utc|stamp")
POSITION_WORDS = re.compile(r"lat|lon|alt|head|course|bearing|hdop|sats?\s*(?:n|count|used|in)")


class SpeedLog(Frozen, frozen=True, kw_only=True):
    """Columns of one log; ``t`` [s], speeds [m/s]."""

    t: tuple[float, ...]
    true: tuple[float, ...]
    shown: tuple[float, ...]
    note: str
    """How the columns were found, and what was left out."""


def read(path: Path) -> SpeedLog:
    """Read ``path``.

    Raises:
        Problem: no such file, not text, no two speed columns, or too few rows.
    """
    try:
        if path.stat().st_size > MAX_BYTES:
            raise Problem(f"{path.name} is larger than 200 MB; cut the run out of it first.")
        text = path.read_text(encoding="utf-8-sig")
    except OSError as error:
        raise Problem(f"{path} cannot be read: {error.strerror}.") from error
    except UnicodeDecodeError:
        raise Problem(f"{path.name} is not a text file of columns.") from None
    return parse(text, path.name)


def parse(text: str, name: str = "the log") -> SpeedLog:
    """Read the text of a log; see ``read``."""
    lines = [x for x in text.splitlines() if x.strip() and not x.lstrip().startswith("#")]
    if len(lines) < 2:
        raise Problem(f"{name} has no rows of figures.")
    delimiter = _delimiter(lines)
    rows = list(csv.reader(lines, delimiter=delimiter))
    comma = delimiter != ","
    header = rows[0] if any(_number(c, comma) is None and c.strip() for c in rows[0]) else None
    body = rows[1:] if header is not None else rows
    width = len(header) if header is not None else max(map(len, body[:50]))
    names = [c.strip().lower() for c in header] if header is not None else [""] * width
    columns, bad = _columns(body, width, comma)
    t, true, shown, how = _assign(names, columns, name)
    if len(true) < 5:
        raise Problem(f"{name} has only {len(true)} usable rows; a fit needs at least 5.")
    note = how + (f" {bad} rows without figures were left out." if bad else "")
    return SpeedLog(
        t=tuple(t.tolist()), true=tuple(true.tolist()), shown=tuple(shown.tolist()), note=note
    )


def _delimiter(lines: list[str]) -> str:
    sample = lines[: min(len(lines), 20)]
    for mark in ("\t", ";", ","):
        counts = [line.count(mark) for line in sample]
        if min(counts) >= 1 and max(counts) == min(counts):
            return mark
    raise Problem(
        f"Line “{lines[0][:60]}” does not split into columns by tab, semicolon or comma alike "
        "on every line."
    )


def _number(cell: str, comma: bool) -> float | None:
    text = cell.strip().replace("\u2212", "-")
    if comma:
        text = text.replace(",", ".")
    try:
        value = float(text)
    except ValueError:
        return _clock(text)
    return value if np.isfinite(value) else None


def _clock(text: str) -> float | None:
    """Seconds of ``h:mm:ss(.s)``, with or without a date and a zone before and after."""
    match = re.search(r"(\d{1,2}):(\d{2}):(\d{2}(?:\.\d+)?)", text)
    if match is None:
        return None
    return int(match[1]) * 3600 + int(match[2]) * 60 + float(match[3])


def _columns(body: list[list[str]], width: int, comma: bool) -> tuple[Floats, int]:
    table = np.full((len(body), width), np.nan)
    for i, row in enumerate(body):
        for k, cell in enumerate(row[:width]):
            value = _number(cell, comma)
            if value is not None:
                table[i, k] = value
    filled = np.isfinite(table)
    useful = filled.mean(axis=0) > 0.5
    good = filled[:, useful].all(axis=1) if useful.any() else np.zeros(len(body), bool)
    table[:, ~useful] = np.nan
    return table[good], int((~good).sum())


def _assign(names: list[str], columns: Floats, name: str) -> tuple[Floats, Floats, Floats, str]:
    width = columns.shape[1]
    usable = [k for k in range(width) if len(columns) and np.isfinite(columns[:, k]).all()]
    time = _time_column(names, columns, usable)
    speeds = [
        k
        for k in usable
        if k != time and (_unit(names[k]) is not None or not POSITION_WORDS.search(names[k]))
    ]
    true = [k for k in speeds if TRUE_WORDS.search(names[k])]
    shown = [k for k in speeds if SHOWN_WORDS.search(names[k]) and k not in true]
    if len(true) == 1 and not shown and len(speeds) == 2:
        shown = [k for k in speeds if k != true[0]]
    if len(shown) == 1 and not true and len(speeds) == 2:
        true = [k for k in speeds if k != shown[0]]
    if len(true) > 1:
        true = [k for k in true if _unit(names[k]) is not None][:1] or true[:1]
    how = "Columns found by name."
    if not (true and shown):
        true, shown, how = _by_sense(columns, speeds, name)
    t = columns[:, time] if time is not None else np.arange(len(columns), dtype=float)
    t = np.unwrap(t - t[0], period=86400.0) if time is not None else t
    if time is not None and np.median(np.diff(t)) > 50:
        t = t / 1000.0  # milliseconds: no speed log has a row a minute
    units = [_unit(names[k]) for k in (true[0], shown[0])]
    known = next((u for u in units if u is not None), KMH)
    if all(u is None for u in units):
        how += " No unit is named: taken as km/h."
    return (
        t,
        columns[:, true[0]] * (units[0] or known),
        columns[:, shown[0]] * (units[1] or known),
        how,
    )


def _time_column(names: list[str], columns: Floats, usable: list[int]) -> int | None:
    named = [k for k in usable if TIME_WORDS.search(names[k]) and _unit(names[k]) is None]
    rising = [k for k in usable if len(columns) > 2 and (np.diff(columns[:, k]) > 0).all()]
    for k in named:
        if k in rising or (np.diff(columns[:, k]) >= 0).mean() > 0.95:
            return k
    return next((k for k in rising if _unit(names[k]) is None), None)


def _by_sense(columns: Floats, speeds: list[int], name: str) -> tuple[list[int], list[int], str]:
    """Two columns that move together; the finer-grained one is the satellite's."""
    best: tuple[float, int, int] | None = None
    for i, a in enumerate(speeds):
        for b in speeds[i + 1 :]:
            if min(np.ptp(columns[:, a]), np.ptp(columns[:, b])) <= 0:
                continue
            r = float(np.corrcoef(columns[:, a], columns[:, b])[0, 1])
            if best is None or r > best[0]:
                best = (r, a, b)
    if best is None or best[0] < 0.8:
        raise Problem(
            f"{name}: no two speed columns were found. Head them, for example, "
            "“satellite km/h” and “indicated km/h”."
        )
    _, a, b = best
    fine = [len(np.unique(columns[:, k])) for k in (a, b)]
    true, shown = (a, b) if fine[0] >= fine[1] else (b, a)
    return [true], [shown], "Columns found by sense: the finer-grained speed is the satellite's."


def _unit(header: str) -> float | None:
    return next((factor for pattern, factor in UNITS if pattern.search(header)), None)

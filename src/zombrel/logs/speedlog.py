"""Read a log of satellite speed against indicated speed from delimited text.

Comma, semicolon or tab; decimal point or comma; units in the header; columns found by
name, or by sense when the names say nothing.
"""

from __future__ import annotations

import codecs
import csv
import io
import math
import re
import warnings
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from zombrel.intake.file import as_text, check, encoding, reading, take
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.units import FOOT, KMH, KNOT, MPH

if TYPE_CHECKING:
    import polars as pl

FEWEST = 5
"""Rows a fit needs."""
A_PAIR = 2
"""Columns of speed: true and shown."""
TOGETHER = 0.8
"""Two speeds move together from this correlation on."""

Floats = NDArray[np.float64]

MAX_BYTES = 200_000_000
HEAD = 16384
"""From so much of a file its layout is told [bytes]."""
SAMPLE = 50
"""From so many rows what a column holds is told."""
FILLED = 0.5
"""A column counts when more than this share of its rows has a figure."""
MOSTLY = 0.95
"""A column headed as time is taken when this share of its steps does not go back."""
DAY_S = 86400.0
SLOWEST_S = 50.0
"""Steps longer than this are milliseconds [s]."""
MINUS = "\u2212"
CLOCK = r"(\d{1,2}):(\d{2}):(\d{2}(?:\.\d+)?)"
UNITS = (
    (re.compile(r"km\s*/?\s*h|kph|kmh"), KMH),
    (re.compile(r"mph|mi\s*/\s*h|mile"), MPH),
    (re.compile(r"m\s*/\s*s|mps|m s-1"), 1.0),
    (re.compile(r"kn(?:ot)?s?\b|kts?\b"), KNOT),
)
SECONDS = re.compile(r"\bs\b|\bsec|seconds|_s$")
MILLISECONDS = re.compile(r"\bms\b|milli|_ms$")
TRUE_WORDS = re.compile(r"gps|gnss|sat|true|ref|ground|actual|nav")
SHOWN_WORDS = re.compile(r"ind|shown|show|speedo|dash|gauge|display|unit|read|device|meter|clock")
TIME_WORDS = re.compile(r"time|^t\b|^t\s*[\[(]|elapsed|sec|utc|stamp")
POSITION_WORDS = re.compile(r"lat|lon|alt|head|course|bearing|hdop|sats?\s*(?:n|count|used|in)")


SPEED_UNITS = {"kmh": KMH, "mph": MPH, "ms": 1.0, "kn": KNOT, "fts": FOOT}
"""Units that may be stated for columns whose heads do not tell [m/s]."""
FASTEST = 150.0
"""No vehicle on a road does this [m/s]."""
MOST_BACK = 0.2
"""Where more than this share of the rows goes back in time, it is no time."""


class UnitUnknown(Problem):
    """A speed column's unit cannot be told from its head; it has to be said."""


class SpeedLog(Value, frozen=True):
    """Columns of one log, arrays of one length; ``t`` [s], speeds [m/s]."""

    t: Floats
    true: Floats
    shown: Floats
    note: str
    """How the columns were found, and what was left out."""


class Layout(Value, frozen=True):
    """How a log is written, told from its head."""

    delimiter: str
    comma: bool
    """Decimal comma."""
    names: tuple[str, ...]
    """Headings, lower case; empty ones where there are none."""
    kinds: tuple[str, ...]
    """``number``, ``clock``, ``sign`` (numbers with a typographic minus) or ``words``."""
    skip: int
    """Lines before the first row of figures."""


def read(path: Path, unit: str = "") -> SpeedLog:
    """Read ``path``; ``unit`` (of ``SPEED_UNITS``) is that of columns whose heads do not tell.

    Raises:
        UnitUnknown: a speed column's unit cannot be told, and none is stated.
        Problem: no such file, not text, no two speed columns, or too few rows.
    """
    check(path, MAX_BYTES, "log")
    with reading(str(path)):
        with path.open("rb") as stream:
            head = stream.read(HEAD)
        lone = b"\r" in head.replace(b"\r\n", b"")  # an end of line that the library takes for none
        if encoding(head) == "utf-8" and _is_utf8(head) and not lone:
            return _parsed(_head(head, path.name), path, path.name, unit)
        text = as_text(take(path, MAX_BYTES, "log"), path.name)
        return parse(text, path.name, unit)


def parse(text: str, name: str = "the log", unit: str = "") -> SpeedLog:
    """Read the text of a log; see ``read``."""
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    with reading(name):
        return _parsed(text[:HEAD], io.BytesIO(text.encode()), name, unit)


def _is_utf8(head: bytes) -> bool:
    """Whether a file can be handed to a library that takes nothing but UTF-8.

    Told from its head, where the names of the columns are: figures are the same in any encoding.
    """
    try:
        codecs.getincrementaldecoder("utf-8")().decode(head)
    except UnicodeDecodeError:
        return False
    return True


def _head(head: bytes, name: str) -> str:
    """The beginning of a file as text, cut at a whole line where there is more."""
    if len(head) == HEAD:
        head = head[: head.rfind(b"\n") + 1 or None]
    return as_text(head, name)


def _parsed(head: str, source: Path | io.BytesIO, name: str, unit: str) -> SpeedLog:
    layout = _layout(head, name)
    columns, bad = _columns(source, layout, name)
    (t, rises), true, shown, how = _assign(layout, columns, name, unit)
    notes = [how]
    if bad:
        notes.append(f"{bad} rows without figures were left out.")
    if len(true):
        t, true, shown = _possible(t, true, shown, notes)
        if not rises:
            t, true, shown = _forward(t, true, shown, notes, name)
    if len(true) < FEWEST:
        left = " ".join(notes[1:])
        raise Problem(f"{name} has only {len(true)} usable rows; a fit needs at least 5. {left}")
    return SpeedLog(t, true, shown, " ".join(notes))


def _possible(
    t: Floats, true: Floats, shown: Floats, notes: list[str]
) -> tuple[Floats, Floats, Floats]:
    """Without rows whose speed no vehicle has."""
    if min(true.min(), shown.min()) >= 0 and max(true.max(), shown.max()) <= FASTEST:
        return t, true, shown
    good = (true >= 0) & (true <= FASTEST) & (shown >= 0) & (shown <= FASTEST)
    notes.append(
        f"{int((~good).sum())} rows with a speed below 0 or above {FASTEST / KMH:.0f} km/h were "
        "left out."
    )
    return t[good], true[good], shown[good]


def _forward(
    t: Floats, true: Floats, shown: Floats, notes: list[str], name: str
) -> tuple[Floats, Floats, Floats]:
    """Without rows whose time lies before that of a row above."""
    if (t[1:] >= t[:-1]).all():
        return t, true, shown
    good = t >= np.maximum.accumulate(t)
    back = int((~good).sum())
    if back > MOST_BACK * len(t):
        raise Problem(f"{name}: time runs backwards in {back} of {len(t)} rows; sort it by time.")
    notes.append(f"{back} rows whose time runs backwards were left out.")
    return t[good], true[good], shown[good]


def _layout(head: str, name: str) -> Layout:
    lines = [
        (i, x)
        for i, x in enumerate(head.splitlines())
        if x.strip() and not x.lstrip().startswith("#")
    ]
    if len(lines) <= 1:
        raise Problem(f"{name} has no rows of figures.")
    delimiter = _delimiter([x for _, x in lines])
    comma = delimiter != ","
    rows = list(csv.reader([x for _, x in lines[: SAMPLE + 1]], delimiter=delimiter))
    header = any(not _kind([c], comma) for c in rows[0] if c.strip())
    body = rows[1:] if header else rows
    width = len(rows[0]) if header else max(map(len, body))
    names = tuple(c.strip().lower() for c in rows[0]) if header else ("",) * width
    cells = [[r[k] for r in body if k < len(r) and r[k].strip()] for k in range(width)]
    kinds = tuple((_kind(c, comma) or "words") if c else "number" for c in cells)
    return Layout(delimiter, comma, names, kinds, lines[1 if header else 0][0])


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


def _kind(cells: list[str], comma: bool) -> str:
    """What most of some cells are: number, clock, sign; empty for words."""
    counts = {"number": 0, "clock": 0, "sign": 0}
    for cell in cells:
        text = cell.strip().replace(",", ".") if comma else cell.strip()
        if _is_number(text):
            counts["number"] += 1
        elif _is_number(text.replace(MINUS, "-")):
            counts["sign"] += 1
        elif re.search(CLOCK, text):
            counts["clock"] += 1
    if counts["sign"]:
        return "sign"
    return max(counts, key=lambda k: counts[k]) if any(counts.values()) else ""


def _is_number(text: str) -> bool:
    try:
        return math.isfinite(float(text))
    except ValueError:
        return False


def _columns(source: Path | io.BytesIO, layout: Layout, name: str) -> tuple[dict[int, Floats], int]:
    """The columns of figures by place, rows with a gap left out, and how many those were."""
    import polars as pl

    wanted = [k for k, kind in enumerate(layout.kinds) if kind != "words"]
    types = [pl.Float64 if kind == "number" else pl.String for kind in layout.kinds]
    doubts: list[warnings.WarningMessage] = []
    try:
        with warnings.catch_warnings(record=True) as doubts:
            warnings.simplefilter("always")
            table = pl.read_csv(
                source,
                has_header=False,
                skip_rows=layout.skip,
                separator=layout.delimiter,
                decimal_comma=layout.comma,
                comment_prefix="#",
                columns=wanted,
                schema={f"c{k}": kind for k, kind in enumerate(types)},
                ignore_errors=True,
                truncate_ragged_lines=True,
            )
    except pl.exceptions.PolarsError as error:
        raise Problem(f"{name} does not read as columns: {str(error).splitlines()[0]}.") from None
    if any("malformed" in str(doubt.message) for doubt in doubts):
        raise Problem(f"{name} does not read as columns: a quote is opened and not closed.")
    if any(column.null_count() for column in table):
        table = table.filter(~pl.all_horizontal(pl.all().is_null()))
    table = table.with_columns(
        _seconds(f"c{k}") if layout.kinds[k] == "clock" else _signed(f"c{k}")
        for k in wanted
        if layout.kinds[k] != "number"
    )
    # of our own, so that units are turned in place: fresh memory costs more than the sums
    found = {k: table[f"c{k}"].to_numpy(writable=True) for k in wanted}
    with np.errstate(over="ignore"):
        whole = all(math.isfinite(column.sum()) for column in found.values())
    if table.height and whole:
        return found, 0  # a sum is finite only where every figure is: the usual, quick case
    filled = {k: np.isfinite(column) for k, column in found.items()}
    useful = [k for k in found if filled[k].mean() > FILLED] if table.height else []
    good = np.logical_and.reduce([filled[k] for k in useful]) if useful else np.zeros(0, bool)
    bad = int(table.height - good.sum())
    return {k: found[k] if not bad else found[k][good] for k in useful}, bad


def _seconds(name: str) -> pl.Expr:
    """Seconds of ``h:mm:ss(.s)``, with or without a date and a zone before and after."""
    import polars as pl

    part = pl.col(name).str.replace(",", ".").str.extract_groups(CLOCK)
    h, m, s = (part.struct.field(k).cast(pl.Float64, strict=False) for k in ("1", "2", "3"))
    return (h * 3600 + m * 60 + s).alias(name)


def _signed(name: str) -> pl.Expr:
    import polars as pl

    plain = pl.col(name).str.strip_chars().str.replace(MINUS, "-").str.replace(",", ".")
    return plain.cast(pl.Float64, strict=False).alias(name)


def _assign(
    layout: Layout, columns: dict[int, Floats], name: str, unit: str
) -> tuple[tuple[Floats, bool], Floats, Floats, str]:
    names = list(layout.names)
    time = _time_column(names, columns)
    speeds = [
        k
        for k in columns
        if k != time and (_unit(names[k]) is not None or not POSITION_WORDS.search(names[k]))
    ]
    true = [k for k in speeds if TRUE_WORDS.search(names[k])]
    shown = [k for k in speeds if SHOWN_WORDS.search(names[k]) and k not in true]
    if len(true) == 1 and not shown and len(speeds) == A_PAIR:
        shown = [k for k in speeds if k != true[0]]
    if len(shown) == 1 and not true and len(speeds) == A_PAIR:
        true = [k for k in speeds if k != shown[0]]
    if len(true) > 1:
        true = [k for k in true if _unit(names[k]) is not None][:1] or true[:1]
    how = "Columns found by name."
    if not (true and shown):
        true, shown, how = _by_sense(columns, speeds, name)
    pair = (true[0], shown[0])
    factors = [_factor(names[k], unit, name) for k in pair]
    if unit and any(_unit(names[k]) is None for k in pair):
        how += f" Its unit was stated: {unit}."
    for k, factor in zip(pair, factors, strict=True):
        columns[k] *= factor
    clock = (
        (np.arange(len(columns[true[0]]), dtype=float), True)
        if time is None
        else _clocked(columns[time], names[time], layout.kinds[time])
    )
    return clock, columns[true[0]], columns[shown[0]], how


def _factor(head: str, stated: str, name: str) -> float:
    """Metres per second to one of a column: what its head says, else what was stated."""
    told = _unit(head)
    if told is not None:
        return told
    if stated in SPEED_UNITS:
        return SPEED_UNITS[stated]
    column = f"“{head[:40]}”" if head else "a column without a head"
    raise UnitUnknown(
        f"{name}: the unit of {column} cannot be told. Head it, for example, “satellite km/h”, or "
        f"state it: unit={'|'.join(SPEED_UNITS)}."
    )


def _clocked(t: Floats, head: str, kind: str) -> tuple[Floats, bool]:
    """Seconds from the first row on, past midnight too; whether they never go back."""
    if not len(t):
        return t, True
    rises = bool((t[1:] >= t[:-1]).all())
    if t[0]:
        t -= t[0]
    if not rises:
        t[1:] += DAY_S * np.cumsum(t[1:] - t[:-1] < -DAY_S / 2)
    if kind == "clock" or SECONDS.search(head):
        return t, rises
    if MILLISECONDS.search(head):
        return t / 1000.0, rises
    # no head that says: no speed log has a row a minute
    slow = len(t) > 1 and np.median(np.diff(t[:10000])) > SLOWEST_S
    return t / 1000.0 if slow else t, rises


def _time_column(names: list[str], columns: dict[int, Floats]) -> int | None:
    plain = [k for k in columns if _unit(names[k]) is None and len(columns[k]) > A_PAIR]
    named = [k for k in plain if TIME_WORDS.search(names[k])]
    for k in named:
        if (columns[k][1:] >= columns[k][:-1]).mean() > MOSTLY:
            return k
    rising = (k for k in plain if (columns[k][1:] > columns[k][:-1]).all())
    return next(rising, named[0] if named else None)


def _by_sense(
    columns: dict[int, Floats], speeds: list[int], name: str
) -> tuple[list[int], list[int], str]:
    """Two columns that move together; the finer-grained one is the satellite's."""
    best: tuple[float, int, int] | None = None
    for i, a in enumerate(speeds):
        for b in speeds[i + 1 :]:
            if min(np.ptp(columns[a]), np.ptp(columns[b])) <= 0:
                continue
            with np.errstate(all="ignore"):  # figures that no speed is overflow; they do not fit
                r = float(np.corrcoef(columns[a], columns[b])[0, 1])
            if best is None or r > best[0]:
                best = (r, a, b)
    if best is None or best[0] < TOGETHER:
        raise Problem(
            f"{name}: no two speed columns were found. Head them, for example, "
            "“satellite km/h” and “indicated km/h”."
        )
    _, a, b = best
    fine = [len(np.unique(columns[k])) for k in (a, b)]
    true, shown = (a, b) if fine[0] >= fine[1] else (b, a)
    return [true], [shown], "Columns found by sense: the finer-grained speed is the satellite's."


def _unit(header: str) -> float | None:
    return next((factor for pattern, factor in UNITS if pattern.search(header)), None)

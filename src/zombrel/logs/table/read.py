"""Reading a table of text into a recording: fast, in bounded memory, saying what was left out."""

from __future__ import annotations

import codecs
import warnings
from collections.abc import Callable, Generator, Iterator, Mapping
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO

import numpy as np

from zombrel.intake.file import as_text, check, encoding, reading
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.recording import Channel, Floats, Recording
from zombrel.logs.table.columns import TIME_WORDS, Guess, guesses
from zombrel.logs.table.layout import FLAGS, MINUS, Layout, told
from zombrel.logs.table.side_by_side import in_order
from zombrel.logs.table.workbook import as_table, workbook
from zombrel.logs.units import UNITS

if TYPE_CHECKING:
    import polars as pl

MAX_BYTES = 4_000_000_000
HEAD = 65536
"""From so much of a file its layout is told [bytes]."""
TAIL = 1 << 16
"""A line ends within so much of the end of a piece [bytes]; else all of it is looked through."""
HEAD_ROWS = 300
"""From so many rows of a workbook."""
BLOCK = 8 << 20
"""Read at a time [bytes]."""
FEWEST = 2
MOST_BACK = 0.2
"""Where more than this share of the rows goes back in time, it is no time."""
DAY_S = 86400.0
Block = Callable[[], bytes]
"""Gives a piece of a file."""
Tell = Callable[[float], bool]
"""Told how far it is, 0 to 1; answers whether to go on."""


class UnitUnknown(Problem):
    """A column's unit cannot be told and must be stated."""


class Preview(Value, frozen=True):
    """What a file is taken for, before it is read."""

    layout: Layout
    columns: tuple[Guess, ...]
    encoding: str

    @property
    def signature(self) -> str:
        """What files of this kind have in common: separator and headings."""
        return self.layout.separator + "|".join(n.casefold() for n in self.layout.names)

    @property
    def asked(self) -> tuple[Guess, ...]:
        """Columns whose unit must be stated."""
        return tuple(g for g in self.columns if g.asked)


def preview(path: Path, stated: Mapping[str, str] | None = None) -> Preview:
    """What the file at ``path`` is taken for.

    Raises:
        Problem: no such file, not text, or no table of figures.
    """
    check(path, MAX_BYTES, "log")
    if workbook(path):
        with as_table(path, HEAD_ROWS) as sheet:
            seen = preview(sheet.path, stated)
        layout = seen.layout.but(why=(sheet.why, *seen.layout.why[1:]))
        return seen.but(layout=layout, encoding="a workbook")
    with reading(str(path)):
        with path.open("rb") as stream:
            head = stream.read(HEAD)
        how = _encoding(head, path)
        if len(head) == HEAD:
            nl = "\n".encode(how.removesuffix("-sig") if how != "utf-16" else "utf-16-le")
            head = head[: head.rfind(nl) + len(nl)] or head
        text = head.decode(how, "replace").replace("\r\n", "\n").replace("\r", "\n")
        layout = told(text, path.name)
        return Preview(layout, guesses(layout, stated), how)


def _encoding(head: bytes, path: Path) -> str:
    how = encoding(head)
    if how is None:
        raise Problem(f"{path.name} is not a text file.")
    if how == "utf-8":
        try:
            codecs.getincrementaldecoder("utf-8")().decode(head)
        except UnicodeDecodeError:
            return "latin-1"
        as_text(head[:4096].decode("utf-8", "ignore").encode(), path.name)
    return how


def read(
    path: Path, stated: Mapping[str, str] | None = None, tell: Tell | None = None
) -> Recording:
    """The recording in the file at ``path``; ``stated`` gives units by the name of a column.

    Raises:
        UnitUnknown: a column's unit cannot be told; the text names it and how to state it.
        Problem: as ``preview``; no rows; or it was given up.
    """
    if workbook(path):
        preview(path, stated)  # what cannot be told is asked before all rows are taken out of it
        with as_table(path, None, tell) as sheet:
            found = read(sheet.path, stated)
        return found.but(notes=(sheet.why, *found.notes[1:]))
    seen = preview(path, stated)
    for name, unit in (stated or {}).items():
        if unit not in UNITS and unit not in ("s", "ms", "us", "min"):
            raise Problem(f"“{unit}” is no unit of a log; there are {', '.join(UNITS)}, s, ms.")
        if not any(name.casefold() in (g.name.casefold(), "time") for g in seen.columns):
            names = [g.name[:30] for g in seen.columns[:8]]
            more = len(seen.columns) - len(names)
            named = ", ".join(names) + (f" and {more} more" if more else "")
            raise Problem(f"{path.name} has no column “{name}”; it has {named}.")
    if seen.asked:
        asked = seen.asked[0]
        units = (
            "s or ms"
            if asked.time
            else " or ".join(u for u, of in UNITS.items() if of.what == asked.what)
        )
        raise UnitUnknown(
            f"{path.name}: the unit of “{asked.name}” cannot be told ({asked.why}). State it: "
            f"{asked.name}={units}."
        )
    go_on = tell or (lambda _: True)
    with reading(path.name):
        return _read(path, path.name, seen, go_on)


def _gone(go_on: Tell, share: float) -> None:
    if not go_on(share):
        raise Problem("Reading was given up.")


def _blocks(path: Path, how: str, go_on: Tell) -> Iterator[tuple[Block, float]]:
    """What gives the file in pieces of whole lines, as UTF-8 with ends of line as usual.

    And how far it is, 0 to 1.
    """
    total, done, rest, held = path.stat().st_size, 0, b"", b""
    if how in ("utf-8", "utf-8-sig"):
        done = yield from _plain(path, total, go_on)
    decode = codecs.getincrementaldecoder(how)("replace")
    with path.open("rb") as stream:
        stream.seek(done)
        while block := stream.read(BLOCK):
            done += len(block)
            block = held + decode.decode(block).encode()
            # one at the very end may be the first half of a pair
            held = b"\r" if block.endswith(b"\r") else b""
            block = block[: len(block) - len(held)].replace(b"\r\n", b"\n").replace(b"\r", b"\n")
            cut = block.rfind(b"\n") + 1
            if cut:
                _gone(go_on, done / total)
                whole = b"".join((rest, memoryview(block)[:cut]))
                yield partial(bytes, whole), done / total
                rest = block[cut:]
            else:
                rest += block
    if rest.strip():
        yield partial(bytes, rest + b"\n"), 1.0


def _read(source: Path, name: str, seen: Preview, go_on: Tell) -> Recording:
    columns = _columns(source, name, seen, go_on)
    time = next((g for g in seen.columns if g.time), None)
    notes = list(seen.layout.why)
    named = next((g for g in seen.columns if TIME_WORDS.search(g.name)), None)
    if time is None and named is not None and named.form in ("number", "suffix"):
        raise Problem(f"{name}: “{named.name}” does not rise: sort it by time, or name it else.")
    if time is None:
        rows = len(next(iter(columns.values()), np.zeros(0)))
        t: Floats = np.arange(rows, dtype=float)
        kept = None
        notes.append("no column is the time: rows are counted as seconds")
    else:
        t, kept = _times(columns.pop(time.at), time, name, notes)
    shown = [
        g for g in seen.columns if g.at in columns and g.form not in ("clock", "twelve", "date")
    ]

    def channel(g: Guess) -> Channel:
        values = columns.pop(g.at)
        return _channel(g, t, values if kept is None else values[kept])

    channels = list(in_order(channel, iter(shown)))
    full = tuple(c for c in channels if len(c.t) >= FEWEST)
    if not full:
        raise Problem(f"{name} has no column of figures with {FEWEST} rows or more.")
    left = [c.name for c in channels if len(c.t) < FEWEST]
    if left:
        notes.append(f"nothing is in {', '.join(left)}")
    return Recording(name, full, tuple(notes))


def _plain(path: Path, total: int, go_on: Tell) -> Generator[tuple[Block, float], None, int]:
    """As ``_blocks``, of plain UTF-8, where only ends of pieces are looked for here.

    Answers how far it came [bytes]: it ends early where no line ends within a piece, as in a file
    of the old Macintosh. Read and not mapped: a stick that is pulled out is an error, not a crash.
    """
    with path.open("rb") as stream:
        at = len(codecs.BOM_UTF8) if stream.read(3) == codecs.BOM_UTF8 else 0
        while at < total:
            cut = total if at + BLOCK >= total else _last_end(stream, at, at + BLOCK)
            if cut <= at:
                break
            _gone(go_on, cut / total)
            yield partial(_cut_out, path, at, cut), cut / total
            at = cut
    return at


def _last_end(stream: BinaryIO, begin: int, end: int) -> int:
    """Behind the last end of line between two places [bytes]; ``begin`` where there is none."""
    for start in (max(begin, end - TAIL), begin):
        stream.seek(start)
        found = stream.read(end - start).rfind(b"\n") + 1
        if found:
            return start + found
    return begin


def _cut_out(path: Path, begin: int, end: int) -> bytes:
    """A piece of a file, its lines ended as usual."""
    with path.open("rb") as stream:
        stream.seek(begin)
        piece = stream.read(end - begin)
    if b"\r" in piece:
        piece = piece.replace(b"\r\n", b"\n").replace(b"\r", b"\n")
    return piece if piece.endswith(b"\n") else piece + b"\n"


def _columns(source: Path, name: str, seen: Preview, go_on: Tell) -> dict[int, np.ndarray]:
    """Every column of figures by its place, gathered into arrays of about the right length."""
    import polars as pl

    kinds = _kinds(seen)
    found: dict[int, np.ndarray] = {}
    rows = 0

    def pieces() -> Iterator[tuple[Block, float, int]]:
        skip = seen.layout.skip
        for block, share in _blocks(source, seen.encoding, go_on):
            yield block, share, skip
            skip = 0

    def work(piece: tuple[Block, float, int]) -> tuple[pl.DataFrame, float]:
        return _table(piece[0](), name, seen, kinds, piece[2]), piece[1]

    with warnings.catch_warnings(record=True) as doubts:  # once: it is not for many threads
        warnings.simplefilter("always")
        for table, share in in_order(work, pieces()):
            if any("malformed" in str(doubt.message) for doubt in doubts):
                raise Problem(f"{name} does not read as columns: a quote is opened and not closed.")
            end = rows + table.height
            for k in kinds.wanted:
                column = table.drop_in_place(f"c{k}")
                if k not in found:
                    kind = np.float64 if column.dtype == pl.Float64 else np.float32
                    found[k] = np.empty(int(end / share * SPARE) + 1, kind)
                if end > len(found[k]):
                    found[k] = np.resize(found[k], int(end / share * SPARE) + 1)
                at = rows
                for piece in column.get_chunks():  # as they lie in memory: each is copied once
                    found[k][at : at + len(piece)] = piece.to_numpy()
                    at += len(piece)
            rows = end
    return {k: v[:rows] for k, v in found.items()}


SPARE = 1.02
"""Room for rows beyond what the first piece promises."""


class _Kinds(Value, frozen=True):
    """How the columns of a file are read, told once for all its pieces."""

    schema: dict[str, type[pl.DataType]]
    wanted: list[int]
    parsed: list[pl.Expr]
    """Columns of text made into figures."""


def _kinds(seen: Preview) -> _Kinds:
    import polars as pl

    layout = seen.layout
    plain = {g.at for g in seen.columns if g.form == "number" and not _odd(layout, g.at)}
    schema: dict[str, type[pl.DataType]] = {
        f"c{k}": (pl.Float64 if _is_time(seen, k) else pl.Float32) if k in plain else pl.String
        for k in range(len(layout.names))
    }
    figures = [g for g in seen.columns if g.form != "words"]
    odd = [_parsed(g, layout) for g in figures if g.at not in plain]
    return _Kinds(schema, [g.at for g in figures], odd)


def _table(block: bytes, name: str, seen: Preview, kinds: _Kinds, skip: int) -> pl.DataFrame:
    """One piece: its columns of figures, others parsed."""
    import polars as pl

    layout = seen.layout
    try:
        table = pl.read_csv(
            block,
            has_header=False,
            skip_rows=skip,
            separator=layout.separator,
            decimal_comma=layout.comma,
            comment_prefix=layout.mark or None,
            columns=kinds.wanted,
            schema=kinds.schema,
            ignore_errors=True,
            truncate_ragged_lines=True,
            n_threads=1,
        )
    except pl.exceptions.NoDataError:
        return pl.DataFrame(schema={f"c{k}": kinds.schema[f"c{k}"] for k in kinds.wanted})
    except pl.exceptions.PolarsError as error:
        raise Problem(f"{name} does not read as columns: {str(error).splitlines()[0]}.") from None
    return table.with_columns(kinds.parsed) if kinds.parsed else table


def _is_time(seen: Preview, k: int) -> bool:
    return any(g.at == k and g.time for g in seen.columns)


def _odd(layout: Layout, k: int) -> bool:
    """Figures that the library does not read as such: typographic minus, quoted commas."""
    cells = [r[k] for r in layout.rows if k < len(r)]
    return any(MINUS in c for c in cells) or (layout.comma and layout.separator == ",")


CLOCK = r"(?:(\d{1,2}):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)"


def _parsed(g: Guess, layout: Layout) -> pl.Expr:
    """A column of text as figures [unit of the column, or seconds of the day or of the epoch]."""
    import polars as pl

    cell = pl.col(f"c{g.at}").str.strip_chars()
    if g.form == "flag":
        low = cell.str.to_lowercase()
        return low.replace_strict(FLAGS, default=None, return_dtype=pl.Float32).alias(f"c{g.at}")
    if g.form in ("clock", "twelve", "date"):
        return _seconds(cell, g).alias(f"c{g.at}")
    plain = cell.str.replace(MINUS, "-").str.extract(r"([-+]?[\d.,]+(?:[eE][-+]?\d+)?)")
    plain = plain.str.replace(",", ".") if layout.comma else plain
    kind = pl.Float64 if g.time else pl.Float32
    return plain.cast(kind, strict=False).alias(f"c{g.at}")


def _seconds(cell: pl.Expr, g: Guess) -> pl.Expr:
    """Seconds of the day; with a date, days before added."""
    import polars as pl

    part = cell.str.extract_groups(CLOCK)
    h, m, s = (
        part.struct.field(k).str.replace(",", ".").cast(pl.Float64, strict=False)
        for k in ("1", "2", "3")
    )
    hours = h.fill_null(0.0)
    if g.form == "twelve":
        late = cell.str.contains(r"(?i)p\.?m")
        hours = hours % 12 + pl.when(late).then(12.0).otherwise(0.0)
    day = hours * 3600 + m * 60 + s
    if g.form != "date":
        return day
    iso = cell.str.extract(r"(\d{4}-\d{2}-\d{2})").str.to_date("%Y-%m-%d", strict=False)
    other = cell.str.extract(r"(\d{1,2}[./]\d{1,2}[./]\d{4})").str.replace_all("/", ".")
    date = iso.fill_null(other.str.to_date("%d.%m.%Y", strict=False))
    days = date.cast(pl.Int32).cast(pl.Float64)
    return days.fill_null(0.0) * DAY_S + day


def _times(
    column: np.ndarray, g: Guess, name: str, notes: list[str]
) -> tuple[Floats, np.ndarray | None]:
    """The clock from nought [s], and which rows are kept; None: all."""
    raw = column.astype(np.float64, copy=False)
    kept: np.ndarray | None = np.isfinite(raw)
    lost = int((~kept).sum()) if kept is not None else 0
    if lost:
        notes.append(f"{lost} rows without a time were left out")
        raw = raw[kept]
    else:
        kept = None
    if len(raw) < FEWEST:
        raise Problem(f"{name} has only {len(raw)} rows with a time.")
    t = (raw - raw[0]) * g.time
    if g.form in ("clock", "twelve"):
        t[1:] += DAY_S * np.cumsum(np.diff(t) < -DAY_S / 2)
    if (np.diff(t) >= 0).all():
        return t, kept
    good = t >= np.maximum.accumulate(t)
    back = int((~good).sum())
    if back > MOST_BACK * len(t):
        raise Problem(f"{name}: time runs backwards in {back} of {len(t)} rows; sort it by time.")
    notes.append(f"{back} rows whose time runs backwards were left out")
    whole = np.flatnonzero(kept) if kept is not None else np.arange(len(good))
    mask = np.zeros(len(kept) if kept is not None else len(good), bool)
    mask[whole[good]] = True
    return t[good], mask


def _channel(g: Guess, t: Floats, values: np.ndarray) -> Channel:
    """One column in SI; where cells are empty it has a clock of its own."""
    unit = UNITS.get(g.unit)
    v = values.astype(np.float32, copy=False)
    finite = np.isfinite(v)
    if not finite.all():
        v, t = v[finite], t[finite]
    if unit is not None and (unit.size, unit.zero) != (1.0, 0.0):
        v *= np.float32(unit.size)
        if unit.zero:
            v += np.float32(unit.zero)
    return Channel(g.name, g.what, g.unit, t, v)

"""A workbook of a spreadsheet as a table of text: one sheet, row by row, in bounded memory.

Office Open XML workbooks (ISO/IEC 29500) are read by ``openpyxl``; formulas count as what they
last came to.
"""

from __future__ import annotations

import contextlib
import csv
import datetime as dt
import itertools
import tempfile
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from zombrel.intake.file import reading
from zombrel.job.problem import Problem
from zombrel.job.value import Value

MOST_BYTES = 3_000_000_000
"""A workbook that unpacks to more is refused [bytes]."""
SPREADSHEETS = (".xlsx", ".xlsm", ".xls", ".ods")
LOWEST_TEXT = 9
"""Bytes below this are in no text."""
LOOK = 60
"""A sheet is judged by so many rows at its head."""
FEWEST = 2
"""A sheet has so many rows of figures to be taken."""
BEAT = 2000
"""So many rows between two words of how far it is."""
MOST_COLUMNS = 1000
"""Cells further to the right are not a log's."""


class Sheet(Value, frozen=True):
    """What was taken out of a workbook."""

    path: Path
    """The table of text it was written to; named as the workbook."""
    why: str


def workbook(path: Path) -> bool:
    """Whether the file at ``path`` is a workbook, by what is in it.

    Raises:
        Problem: it is called one and is none that can be read.
    """
    try:
        with zipfile.ZipFile(path) as packed:
            found = any(name.startswith("xl/") for name in packed.namelist())
    except (OSError, zipfile.BadZipFile, RuntimeError, ValueError):
        found = False
    if not found and path.suffix.casefold() in SPREADSHEETS and not _text(path):
        raise Problem(
            f"{path.name} does not open as a workbook. Save it as .xlsx or as .csv, and read that."
        )
    return found


def _text(path: Path) -> bool:
    """Some write a table of text and call it a spreadsheet."""
    with path.open("rb") as stream:
        return not any(b < LOWEST_TEXT for b in stream.read(256))


@contextlib.contextmanager
def as_table(
    path: Path, most: int | None = None, tell: Callable[[float], bool] | None = None
) -> Iterator[Sheet]:
    """The first sheet with rows of figures as a table of text, kept while it is looked at.

    Args:
        path: the workbook.
        most: rows that are wanted; None: all.
        tell: told how far it is, 0 to 1; answers whether to go on.

    Raises:
        Problem: it does not read, unpacks to too much, has no figures, or it was given up.
    """
    import openpyxl

    with tempfile.TemporaryDirectory(prefix="zombrel-") as folder:
        target = Path(folder) / path.name
        with reading(path.name):
            with zipfile.ZipFile(path) as packed:
                whole = sum(part.file_size for part in packed.infolist())
            if whole > MOST_BYTES:
                raise Problem(f"{path.name} unpacks to {whole / 1e9:.1f} GB: too much for a log.")
            book = openpyxl.load_workbook(path, read_only=True, data_only=True)
            try:
                sheets = book.worksheets
                sheet = next((s for s in sheets if _holds(s)), None)
                if sheet is None:
                    raise Problem(f"{path.name} has no sheet with rows of figures.")
                _write(sheet, target, path.name, most, tell)
            finally:
                book.close()
        beside = f", the first of {len(sheets)} with figures" if len(sheets) > 1 else ""
        yield Sheet(target, f"a workbook: sheet “{sheet.title}”{beside}")


def _holds(sheet: Any) -> bool:
    head = itertools.islice(sheet.iter_rows(values_only=True), LOOK)
    figures = sum(any(isinstance(x, int | float) for x in cells) for cells in head)
    return figures >= FEWEST


def _write(
    sheet: Any,
    target: Path,
    name: str,
    most: int | None,
    tell: Callable[[float], bool] | None,
) -> None:
    total = max(int(sheet.max_row or 1), 1)
    rows = sheet.iter_rows(values_only=True, max_row=most)
    head = list(itertools.islice(rows, LOOK))
    used = [i for r in head for i, x in enumerate(r[:MOST_COLUMNS]) if x is not None]
    part = slice(min(used, default=0), max(used, default=0) + 1)
    with target.open("w", encoding="utf-8", newline="") as stream:
        out = csv.writer(stream, lineterminator="\n")
        for i, cells in enumerate(itertools.chain(head, rows)):
            if tell is not None and not i % BEAT and not tell(min(i / total, 1.0) * TAKEN):
                raise Problem("Reading was given up.")
            kept = [_said(x) for x in cells[part]]
            if any(kept):
                out.writerow(kept)


TAKEN = 0.9
"""Taking rows out of a workbook is so much of the work."""


def _said(cell: object) -> str:
    """A cell as a table of text would have it."""
    if cell is None or (isinstance(cell, str) and cell.startswith("#")):
        return ""  # nothing, or an error of a formula
    if isinstance(cell, bool):
        return "on" if cell else "off"
    if isinstance(cell, dt.datetime):
        return cell.isoformat(sep=" ")
    if isinstance(cell, dt.timedelta):
        return repr(cell.total_seconds())
    return str(cell).replace("\n", " ")

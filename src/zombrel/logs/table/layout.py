"""How a table of text is written: separator, decimal mark, heading, line of units, comments."""

from __future__ import annotations

import csv
import math
import re
from collections import Counter
from collections.abc import Sequence

from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.logs.units import TIMES, unit_named

COMMENTS = ("#", "//", "%", "!", "'")
SEPARATORS = ("\t", ";", ",", "|")
SAMPLE = 60
"""From so many rows of figures what a column holds is told."""
MOSTLY = 0.6
MINUS = "\u2212"
_NUMBER = re.compile(r"[-+]?(?:\d+[.,]?\d*|[.,]\d+)(?:[eE][-+]?\d+)?")
_SUFFIX = re.compile(rf"({_NUMBER.pattern})\s*([^\d\s][^\d]*)$")
NO_VALUE = frozenset({"", "-", "--", "n/a", "na", "nan", "null", "none", "inf", "-inf", "?"})


FLAGS = {"on": 1.0, "off": 0.0, "true": 1.0, "false": 0.0, "yes": 1.0, "no": 0.0}
"""What a contact is written as."""


class Layout(Value, frozen=True):
    """How a table is written."""

    separator: str
    comma: bool
    """Decimal comma."""
    names: tuple[str, ...]
    units: tuple[str, ...]
    """The line of units below the heading; empty where there is none."""
    rows: tuple[tuple[str, ...], ...]
    """The first rows of figures."""
    skip: int
    """Lines of the file before the first row of figures."""
    mark: str
    """How comment lines begin; empty where there are none."""
    why: tuple[str, ...]
    """How it was told, for the preview."""


def number(cell: str) -> float:
    """A cell as a figure with either decimal mark; nan for none."""
    plain = cell.strip().replace(MINUS, "-")
    if not _NUMBER.fullmatch(plain):
        return math.nan
    return float(plain.replace(",", "."))


def suffix(cell: str) -> str:
    """What follows a figure in a cell, as ``km/h``; empty for nothing."""
    found = _SUFFIX.fullmatch(cell.strip())
    return found[2].strip() if found else ""


def figure_like(cell: str) -> bool:
    """A figure, a figure with its unit, a clock, a date, or a gap."""
    plain = cell.strip().casefold()
    if plain in NO_VALUE or plain in FLAGS or not math.isnan(number(plain)) or is_clock(plain):
        return True
    said = suffix(plain)
    return bool(said) and bool(unit_named(said) or said in TIMES)


def is_clock(cell: str) -> bool:
    """``13:02:03.5``, ``1:02:03 PM``, ``02:03.5`` or a date with one."""
    return bool(re.search(r"\d{1,2}:\d{2}", cell))


def told(head: str, name: str) -> Layout:
    """How the table is written whose beginning ``head`` is.

    Raises:
        Problem: no rows of figures, or lines that do not split alike.
    """
    numbered = list(enumerate(head.splitlines()))
    kept = [(i, x) for i, x in numbered if x.strip()]
    mark = _comment([x for _, x in kept])
    body = [(i, x) for i, x in kept if not (mark and x.lstrip().startswith(mark))]
    if not body:
        raise Problem(f"{name} has no rows of figures.")
    separator = _separator([x for _, x in body], name)
    rows = [(i, _cells(x, separator)) for i, x in body]
    width = Counter(len(r) for _, r in rows).most_common(1)[0][0]
    first = next((k for k, (_, r) in enumerate(rows) if _figures(r, width)), None)
    if first is None:
        raise Problem(f"{name} has no rows of figures.")
    why = [f"columns are parted by {_SAID[separator]}"]
    names, units, said = _heading([r for _, r in rows[:first]], width)
    why += said
    figures = tuple(tuple(r) for _, r in rows[first : first + SAMPLE] if _figures(r, width))
    comma = _comma(figures, separator)
    why.append("decimal comma" if comma else "decimal point")
    if mark:
        why.append(f"lines that begin with {mark} are comments")
    return Layout(separator, comma, names, units, figures, rows[first][0], mark, tuple(why))


_SAID = {"\t": "tabs", ";": "semicolons", ",": "commas", "|": "bars"}


def _comment(lines: Sequence[str]) -> str:
    """How comments begin, where some lines of the head do and the last does not."""
    for mark in COMMENTS:
        if any(x.lstrip().startswith(mark) for x in lines) and not all(
            x.lstrip().startswith(mark) for x in lines
        ):
            return mark
    return ""


def _cells(line: str, separator: str) -> list[str]:
    return [c.strip() for c in next(csv.reader([line], delimiter=separator), [])]


def _separator(lines: Sequence[str], name: str) -> str:
    """The mark that splits most lines into rows of figures, all as wide."""
    best, most = "", (0, 0)
    sample = lines[-SAMPLE:]
    for mark in SEPARATORS:
        split = [_cells(x, mark) for x in sample]
        width = Counter(len(r) for r in split).most_common(1)[0][0]
        if width > 1:
            score = (sum(_figures(r, width) for r in split), width)
            if score > most:
                best, most = mark, score
    if most[0] < max(1, LEAST * len(sample)):
        raise Problem(
            f"{name}: line “{lines[0][:60]}” and those below do not split into columns of figures "
            "by tab, semicolon, comma or bar alike on every line."
        )
    return best


LEAST = 0.3
"""So many of the lines that are looked at must be rows of figures."""


def _figures(cells: Sequence[str], width: int) -> bool:
    """A row of figures: as wide as the table, mostly figures, some of them no gaps."""
    if len(cells) != width:
        return False
    some = [c for c in cells if c.strip().casefold() not in NO_VALUE]
    return bool(some) and sum(map(figure_like, some)) >= MOSTLY * len(some)


def _heading(
    above: Sequence[Sequence[str]], width: int
) -> tuple[tuple[str, ...], tuple[str, ...], list[str]]:
    """Names and units from the lines above the figures, and how they were told."""
    wide = [r for r in above if len(r) == width]
    if not wide:
        return ("",) * width, (), ["there is no heading"]
    units: tuple[str, ...] = ()
    if len(wide) > 1 and _all_units(wide[-1]):
        units = tuple(c.strip("[]() ") for c in wide[-1])
        wide = wide[:-1]
    names = tuple(c.strip().strip('"') for c in wide[-1])
    said = ["the line above the figures is the heading"]
    if units:
        said.append("a line of units stands below the heading")
    if len(above) > len(wide) + bool(units):
        said.append(f"{len(above) - len(wide) - bool(units)} lines above it are passed over")
    return names, units, said


def _all_units(cells: Sequence[str]) -> bool:
    some = [c.strip("[]() ").casefold() for c in cells if c.strip("[]() -")]
    if not some:
        return False
    known = sum(bool(unit_named(c)) or c in TIMES or c in _PLAIN_UNITS for c in some)
    return known >= MOSTLY * len(some)


_PLAIN_UNITS = frozenset({"hh:mm:ss", "on/off", "bool", "-", "1", "n", "hh:mm:ss.s", "count"})


def _comma(rows: Sequence[Sequence[str]], separator: str) -> bool:
    """Whether the decimal mark is a comma: by the figures themselves."""
    cells = [c for r in rows for c in r]
    commas = sum(bool(re.fullmatch(r"[-+]?\d*,\d+(\s*\D.*)?", c)) for c in cells)
    points = sum(bool(re.fullmatch(r"[-+]?\d*\.\d+(\s*\D.*)?", c)) for c in cells)
    return commas > points

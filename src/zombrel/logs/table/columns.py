"""What the columns of a table are: time, measured things and their units, each with its reason."""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Literal

from zombrel.job.value import Value
from zombrel.logs.recording import What
from zombrel.logs.table.layout import FLAGS, NO_VALUE, Layout, is_clock, number, suffix
from zombrel.logs.units import BARE, TIMES, UNITS, unit_named, what_of

Form = Literal["number", "suffix", "clock", "twelve", "date", "flag", "words"]
"""How its cells are written."""
TIME_WORDS = re.compile(r"time|^t$|elapsed|utc|stamp|clock|seconds|^sec\b", re.I)
EPOCH_S = (1e8, 1e10)
"""Seconds since 1970 lie here for any log there is; milliseconds a thousand times higher."""
NEEDS: tuple[What, ...] = ("speed", "temperature", "pressure", "voltage", "lambda", "length")
"""What is never taken without a unit: a figure of it can mean two things."""
MOSTLY = 0.8


class Guess(Value, frozen=True):
    """One column."""

    at: int
    name: str
    form: Form
    what: What
    unit: str
    """A key of ``UNITS``; empty where none is said or needed."""
    why: str
    """Why it is taken so."""
    asked: bool = False
    """Its unit cannot be told and must be stated."""
    time: float = 0.0
    """Seconds of one of its steps, where it is the time; 0 otherwise [s]."""


def guesses(layout: Layout, stated: Mapping[str, str] | None = None) -> tuple[Guess, ...]:
    """What every column is; ``stated`` gives units by the name of a column.

    One of them at most is the time.
    """
    said = {k.casefold(): v for k, v in (stated or {}).items()}
    found = [_guess(layout, k, said) for k in range(len(layout.names))]
    time = _time(layout, found, said)
    return tuple(time if time is not None and g.at == time.at else g for g in found)


def _cells(layout: Layout, k: int) -> list[str]:
    cells = [r[k] for r in layout.rows if k < len(r)]
    return [c for c in cells if c.strip().casefold() not in NO_VALUE]


def _form(cells: Sequence[str]) -> Form:
    """How most cells are written."""
    if not cells:
        return "number"
    share = {
        "number": sum(not math.isnan(number(c)) for c in cells),
        "date": sum(
            bool(re.search(r"\d{4}-\d{2}-\d{2}[T ]\d|\d{1,2}[./]\d{1,2}[./]\d{2,4} ", c))
            for c in cells
        ),
        "twelve": sum(bool(re.search(r"\d:\d{2}.*[ap]\.?m", c, re.I)) for c in cells),
        "clock": sum(is_clock(c) for c in cells),
        "suffix": sum(bool(suffix(c)) for c in cells),
        "flag": sum(c.strip().casefold() in FLAGS for c in cells),
    }
    for form in ("number", "date", "twelve", "clock", "flag", "suffix"):
        if share[form] >= MOSTLY * len(cells):
            return form
    return "words"


_BRACKET = re.compile(r"[\[(]\s*([^\])]+?)\s*[\])]\s*$")


def _guess(layout: Layout, k: int, stated: Mapping[str, str]) -> Guess:
    head = layout.names[k]
    cells = _cells(layout, k)
    form = _form(cells)
    name = _BRACKET.sub("", head).strip() or head or f"column {k + 1}"
    below = layout.units[k] if k < len(layout.units) else ""
    unit, why = _unit(head, below, cells, form)
    for key in (head.casefold(), name.casefold(), str(k + 1)):
        if stated.get(key) in UNITS:
            unit, why = stated[key], "you said so"
    if form in _FORMS:
        what: What = "contact" if form == "flag" else "number"
        return Guess(k, name, form, what, "", f"its cells are {_FORMS[form]}")
    if unit:
        return Guess(k, name, form, UNITS[unit].what, unit, why)
    what = what_of(name)
    unit, why = USUAL.get(what, ("", why or "a plain figure: nothing says what it is"))
    if what in NEEDS:
        why = f"named like a {what}, and nothing says its unit"
    kept: What = what if unit or what in NEEDS else "number"
    return Guess(k, name, form, kept, unit, why, what in NEEDS)


USUAL: dict[What, tuple[str, str]] = {
    "engine": ("rpm", "named like an engine speed: rpm in any log"),
    "fraction": ("%", "named like a share: per cent in any log"),
}
"""Units that need not be said."""
_FORMS = {
    "flag": "on and off",
    "words": "words",
    "clock": "clock times",
    "twelve": "clock times of twelve hours",
    "date": "dates with times",
}


def _unit(head: str, below: str, cells: Sequence[str], form: Form) -> tuple[str, str]:
    """(unit, how it was told); both empty where nothing says it."""
    told = _units_told(head, below, cells, form)
    return next(((unit_named(text), why) for text, why in told if unit_named(text)), ("", ""))


def _units_told(
    head: str, below: str, cells: Sequence[str], form: Form
) -> Iterator[tuple[str, str]]:
    """What may be its unit, the surest first, and where that is written."""
    bracket = _BRACKET.search(head)
    if bracket is not None:
        yield bracket[1], f"its heading says {bracket[1]}"
    yield below, f"the line of units says {below}"
    ends = {suffix(c) for c in cells} if form == "suffix" else set()
    if len({unit_named(e) for e in ends}) == 1:
        end = next(iter(ends))
        yield end, f"its cells end in {end}"
    plain = head.casefold().strip()
    if plain in BARE:
        yield BARE[plain], "its heading is a unit"
    tail = re.split(r"[\s_,.:-]+", head.strip())
    for text in (" ".join(tail[-2:]), tail[-1] if len(tail) > 1 else ""):
        unit = unit_named(text)
        alike = bool(unit) and UNITS[unit].what == what_of(head)
        if len(text) > 1 or text in SHORT or alike:
            yield text, f"its heading ends in {text}"
    if "rpm" in plain:
        yield "rpm", "its heading says rpm"


SHORT = ("%", "°", "V", "C", "F", "Ω")
"""Single letters at the end of a heading that are units; others may be names."""


def _time(layout: Layout, found: Sequence[Guess], stated: Mapping[str, str]) -> Guess | None:
    """The column that is the time, with the seconds of one step; None where no column is it."""
    clocks = [g for g in found if g.form in ("date", "clock", "twelve")]
    if clocks:
        return clocks[0].but(time=1.0, asked=False)
    plain = [g for g in found if g.form in ("number", "suffix")]
    named = [g for g in plain if TIME_WORDS.search(g.name)]
    for g in [*named, *(g for g in plain if g.form == "number" and not g.unit)]:
        values = [number(c.split()[0]) for c in _cells(layout, g.at)]
        if len(values) > 1 and values[-1] > values[0]:
            rises = sum(b >= a for a, b in itertools.pairwise(values))
            if rises >= RISES * (len(values) - 1):
                step, why, asked = _step(layout, g, values, stated, g in named)
                return g.but(time=step, why=why, asked=asked, what="number", unit="", form=g.form)
    return None


RISES = 0.95
"""So much of a column must not go back for it to be the time."""


def _step(
    layout: Layout, g: Guess, values: Sequence[float], stated: Mapping[str, str], named: bool
) -> tuple[float, str, bool]:
    """(seconds of one unit, how that was told, it is to be stated) of a rising column."""
    said = stated.get(g.name.casefold(), stated.get("time", ""))
    if said in TIMES:
        return TIMES[said], "you said so", False
    below = layout.units[g.at] if g.at < len(layout.units) else ""
    bracket = _BRACKET.search(layout.names[g.at])
    words = [below, bracket[1] if bracket else "", *re.split(r"[\s_]+", layout.names[g.at])]
    word = next((w for w in words if w.casefold() in TIMES), "")
    if word:
        return TIMES[word.casefold()], f"it rises, and {word} is written at it", False
    low, high = EPOCH_S
    for factor, unit in ((1.0, "seconds"), (1000.0, "milliseconds")):
        if low * factor < values[0] < high * factor:
            return 1 / factor, f"it rises, and such figures are {unit} since 1970", False
    step = (values[-1] - values[0]) / (len(values) - 1)
    if step >= SLOW:
        return 0.001, f"it rises by {step:g} a row: milliseconds, or a very slow log", True
    how = "it is named so and rises" if named else "the first column that only rises"
    return 1.0, f"{how}: seconds", False


SLOW = 5.0
"""No vehicle's log has a row each five seconds or slower; such steps are milliseconds: ASSUMED."""

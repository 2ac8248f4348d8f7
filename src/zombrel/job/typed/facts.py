"""The facts of a job as they are shown in a field, and read from what is typed into one."""

from __future__ import annotations

import calendar
import re
from collections.abc import Callable
from typing import Any

from zombrel.job.edits import fact
from zombrel.job.facts import FactSheet, Kind
from zombrel.job.model import Job
from zombrel.job.pairs import parse as parse_pairs
from zombrel.job.pairs import write
from zombrel.job.problem import Problem
from zombrel.job.typed.read import parts_of, read
from zombrel.units import KMH, MILE, RPM, Units, measure, number, speed_unit, speed_value


def show(job: Job, sheet: FactSheet, units: Units) -> str:
    """The fact's value as text for a field, without its unit; empty when not known."""
    value = fact(job, sheet.path)
    if value is None or value == ():
        return ""
    return _SHOWN[sheet.kind](value, sheet, units)


def _pairs_shown(value: Any, sheet: FactSheet, units: Units) -> str:
    first, second = sheet.of, sheet.to
    return write(
        tuple(
            (
                round(measure.value_in(first, x, units), 4),
                round(measure.value_in(second, y, units), 1) if second else y,
            )
            for x, y in value
        )
    )


_SHOWN: dict[Kind, Callable[[Any, FactSheet, Units], str]] = {
    "rpm": lambda value, sheet, units: number(value / RPM).replace("\u00a0", ""),
    "speed": lambda value, sheet, units: number(speed_value(value, units)),
    "rate": lambda value, sheet, units: f"{value * _far(units):.6g}",
    "pairs": _pairs_shown,
    "ratios": lambda value, sheet, units: "  ".join(f"{r:.2f}" for r in value),
    "choice": lambda value, sheet, units: dict(sheet.choices).get(str(value), str(value)),
    "yesno": lambda value, sheet, units: "yes" if value else "no",
    "number": lambda value, sheet, units: f"{value / _size(sheet, units):.5g}",
    "whole": lambda value, sheet, units: str(value),
    "text": lambda value, sheet, units: str(value),
    "date": lambda value, sheet, units: str(value),
}
"""How each kind of fact is shown."""

_WHAT = {
    "kg": "mass",
    "l": "volume",
    "N·m": "torque",
    ": 1": "ratio",
    "A": "current",
    "W": "power",
    "A·h": "charge",
    "°": "angle",
}
"""What is read where a unit stands beside the field."""
_CHOSEN: dict[str, tuple[measure.Kind, float]] = {
    "mass": ("mass", 1.0),
    "volume": ("volume", measure.LITRE),
    "torque": ("torque", 1.0),
}
"""Whose unit the user chooses, and the SI size of the unit it is stored in."""


def _far(units: Units) -> float:
    """The distance that pulse rates are given over [m]."""
    return 1000.0 if units.distance == "km" else MILE


def _size(sheet: FactSheet, units: Units) -> float:
    """One of the user's units in the unit that is stored [stored unit per user's unit]."""
    chosen = _CHOSEN.get(_WHAT.get(sheet.unit, ""))
    if chosen is None:
        return 1.0
    kind, si = chosen
    return 1 / (measure.scale(kind, units) * si)


def unit_of(sheet: FactSheet, units: Units) -> str:
    """The unit printed beside the field."""
    if sheet.kind == "pairs" and not sheet.unit:
        return f"{measure.unit(sheet.of, units) or 'value'} : reading"
    if sheet.kind == "pairs" and sheet.to is not None:
        return f"{measure.unit(sheet.of, units)} : {measure.unit(sheet.to, units)}"
    if sheet.kind == "rate":
        return "per km" if units.distance == "km" else "per mile"
    chosen = _CHOSEN.get(_WHAT.get(sheet.unit, ""))
    if chosen is not None:
        return measure.unit(chosen[0], units)
    return speed_unit(units) if sheet.kind == "speed" else sheet.unit


def parse(sheet: FactSheet, text: str, units: Units) -> object:
    """Turn typed text into the stored value.

    Raises:
        Problem: not a value of this kind, or one that cannot be.
    """
    text = text.strip()
    if not text and sheet.kind == "pairs":
        return []
    if not text and sheet.kind not in ("text", "date"):
        return None
    try:
        return _PARSED[sheet.kind](text, sheet, units)
    except Problem as problem:
        named = str(problem).startswith(sheet.label)
        raise Problem(str(problem) if named else f"{sheet.label}: {problem}") from None
    except (ValueError, KeyError, StopIteration):
        raise Problem(f"{sheet.label}: “{text}” is not {_WANTED[sheet.kind]}.") from None


_WANTED = {
    "whole": "a whole number",
    "number": "a number",
    "rpm": "an engine speed in rpm",
    "speed": "a speed",
    "ratios": "a row of gear ratios such as 3.42 2.05 1.39",
    "rate": "a number of pulses per km",
    "pairs": "a row of pairs such as 1500:205, 2500:232",
    "choice": "one of the choices",
    "yesno": "yes or no",
    "text": "text",
    "date": "a date such as 2026-11-26",
}


def _number(text: str, sheet: FactSheet, units: Units) -> object:
    what = _WHAT.get(sheet.unit, "number")
    unit = unit_of(sheet, units) if what in _CHOSEN else ""
    return read(what, text.removesuffix(sheet.unit) if what == "number" else text, unit)


def _whole(text: str, sheet: FactSheet, units: Units) -> object:
    try:
        value = read("number", text)
    except Problem as problem:
        if problem.code == "unclear":
            raise
        raise ValueError(text) from None
    if value != int(value):
        raise ValueError(text)
    return int(value)


def _pairs(text: str, sheet: FactSheet, units: Units) -> object:
    found = parse_pairs(text, sheet.label)
    second = sheet.to
    return [
        [
            measure.value_from(sheet.of, x, units),
            measure.value_from(second, y, units) if second else y,
        ]
        for x, y in found
    ]


_ISO = r"(\d{4})-(\d{1,2})-(\d{1,2})"
_DOTTED = r"(\d{1,2})\.\s*(\d{1,2})\.\s*(\d{4})"
MONTHS = 12


def _date(text: str, sheet: FactSheet, units: Units) -> object:
    if not text:
        return ""
    iso, dotted = re.fullmatch(_ISO, text), re.fullmatch(_DOTTED, text)
    if iso is None and dotted is None:
        raise ValueError(text)  # 4/11 is April to some and November to others
    parts = iso.groups() if iso is not None else dotted.groups()[::-1] if dotted else ()
    year, month, day = (int(p) for p in parts)
    if not 1 <= month <= MONTHS or not 1 <= day <= calendar.monthrange(year, month)[1]:
        raise ValueError(text)
    return f"{year:04}-{month:02}-{day:02}"


def _yes(text: str, sheet: FactSheet, units: Units) -> object:
    return {"yes": True, "y": True, "no": False, "n": False}[text.lower()]


def _choice(text: str, sheet: FactSheet, units: Units) -> object:
    stored = next(s for s, words in sheet.choices if text in (s, words))
    if stored.replace(".", "", 1).isdigit():
        return float(stored) if "." in stored else int(stored)
    return stored


_PARSED: dict[Kind, Callable[[str, FactSheet, Units], object]] = {
    "text": lambda text, sheet, units: text,
    "date": _date,
    "whole": _whole,
    "number": _number,
    "rpm": lambda text, sheet, units: read("rpm", text) * RPM,
    "rate": lambda text, sheet, units: read("rate", text, unit_of(sheet, units)[4:]) / 1000,
    "speed": lambda text, sheet, units: read("speed", text, speed_unit(units)) * KMH,
    "ratios": lambda text, sheet, units: [read("ratio", t) for t in parts_of(text)],
    "pairs": _pairs,
    "yesno": _yes,
    "choice": _choice,
}
"""How each kind of fact is read from what was typed."""

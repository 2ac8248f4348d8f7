"""A field as text in the user's units, and back.

References: exact factors of the SI brochure (9th ed., tables 8 and 9).
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from zombrel.catalog.form.fields import Field
from zombrel.job.pairs import parse as parse_pairs
from zombrel.job.pairs import write
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.typed.kinds import WANTED
from zombrel.job.typed.read import parts_of, read, read_list
from zombrel.units import KMH, MILE, RPM, ZERO_C, Units, measure

SI: dict[str, tuple[measure.Kind, float, float]] = {
    "speed": ("speed", KMH, 0.0),
    "rpm": ("engine", RPM, 0.0),
    "temperature": ("temperature", 1.0, ZERO_C),
    "pressure": ("pressure", 1000.0, 0.0),
    "volume": ("volume", measure.LITRE, 0.0),
    "length": ("length", 1.0, 0.0),
    "short": ("short", 0.001, 0.0),
    "far": ("far", 1000.0, 0.0),
    "percent": ("fraction", 0.01, 0.0),
    "area": ("area", 1.0, 0.0),
}
"""What is typed -> (its kind, SI size of the reader's unit, what is added to reach SI)."""
PLACE = 2
"""A place on a face has an x and a y."""
_WHAT = {kind: what for what, (kind, _, _) in SI.items()}
_ENDS = {("Ratiometric", "low"), ("Ratiometric", "high")}
"""Figures that are values of the quantity the record is about."""


def what_of(field: Field) -> str:
    """Kind of figure that is typed into a field, a key of ``WANTED``."""
    if (field.owner, field.name) in _ENDS and field.of in QUANTITIES:
        return _WHAT.get(QUANTITIES[field.of].kind, "number")  # type: ignore[index]
    return field.say.what or "number"


def unit_of(field: Field, units: Units) -> str:
    """The unit printed beside a field; empty for one without."""
    if field.shape.how == "pairs":
        first = _first_kind(field)
        return measure.unit(first, units) if first else ""
    if field.shape.how != "figure":
        return ""
    what = what_of(field)
    if what == "rate":
        return "per km" if units.distance == "km" else "per mile"
    if what in SI:
        return measure.unit(SI[what][0], units)
    return WANTED[what].shown


def _bare(field: Field, units: Units) -> str:
    """The unit that a bare figure is in, as the reader spells it."""
    unit = unit_of(field, units)
    return {"gal (US)": "gal", "%": "", "per km": "km", "per mile": "mile"}.get(unit, unit)


def shown(field: Field, units: Units) -> str:
    """What stands in a field, as text; empty where it is not said."""
    value = field.value
    if value is None or value == () or (field.usual and field.say.unsaid):
        return ""
    if field.shape.how == "figure":
        return f"{_outside(field, value, units):.6g}"
    show = _SHOWN.get(field.shape.how)
    return show(field, value, units) if show is not None else str(value)


def _outside(field: Field, value: float, units: Units) -> float:
    what = what_of(field)
    if what == "rate":
        return value * (1000.0 if units.distance == "km" else MILE)
    return measure.value_in(SI[what][0], value, units) if what in SI else value


def _first_kind(field: Field) -> measure.Kind | None:
    if field.owner == "Plug" or field.of not in QUANTITIES:
        return None
    return QUANTITIES[field.of].kind  # type: ignore[index]


def _pairs(field: Field, value: Any, units: Units) -> str:
    kind = _first_kind(field)
    pairs = tuple((measure.value_in(kind, x, units) if kind else x, y) for x, y in value)
    return write(tuple((round(x, 6), y) for x, y in pairs)).replace(", ", "\n")


_SHOWN: dict[str, Callable[[Field, Any, Units], str]] = {
    "pairs": _pairs,
    "named": lambda f, v, u: "\n".join(
        f"{a} = {b}" if isinstance(b, str) else f"{a} = {b:.10g}" for a, b in v
    ),
    "spots": lambda f, v, u: "\n".join(f"{n} = {x:g}, {y:g}" for n, x, y in v),
    "list": lambda f, v, u: ", ".join(x if isinstance(x, str) else f"{x:.10g}" for x in v),
    "lines": lambda f, v, u: "\n".join(v),
}


def taken(field: Field, text: str, units: Units) -> object:
    """The value that ``text`` means for a field; an empty text is its default.

    A text that was not changed gives the value as it stood, not rounded by being shown.

    Raises:
        Problem: it cannot be read; the sentence names the field and what is wanted.
    """
    if text.strip() == shown(field, units):
        return field.value
    try:
        return _TAKEN[field.shape.how](field, text.strip(), units)
    except Problem as problem:
        raise Problem(f"{field.say.label}: {problem}") from None


def _figure(field: Field, text: str, units: Units) -> object:
    if not text:
        return None if field.shape.may_lack else _empty(field)
    what = what_of(field)
    value = read(what, text, _bare(field, units))
    if what == "rate":
        return value / 1000.0
    _, size, zero = SI.get(what, ("engine", 1.0, 0.0))
    return value * size + zero


def _empty(field: Field) -> object:
    """The default of a field that may be left empty."""
    if not field.say.unsaid:
        raise Problem("write a figure.")
    return 0.0 if field.shape.how == "figure" else 0


def _whole(field: Field, text: str, units: Units) -> object:
    if not text:
        return _empty(field)
    value = read("number", text)
    if value != round(value):
        raise Problem(f"“{text}” is not a whole number.")
    return round(value)


def _pairs_taken(field: Field, text: str, units: Units) -> object:
    if not text:
        return ()
    kind = _first_kind(field)
    pairs = parse_pairs(text.replace("\n", ", ") if ":" in text else text, "pairs")
    return tuple((measure.value_from(kind, x, units) if kind else x, y) for x, y in pairs)


def _named(field: Field, text: str, units: Units) -> object:
    rows = []
    for line in filter(None, (part.strip() for part in re.split(r"[\n;]", text))):
        name, mark, value = line.rpartition("=")
        if not mark or not name.strip():
            raise Problem(f"“{line[:40]}” has no “=”: {field.say.hint}.")
        value = value.strip()
        rows.append((name.strip(), value if field.shape.words else read("number", value)))
    return tuple(rows)


def _spots(field: Field, text: str, units: Units) -> object:
    rows = []
    for line in filter(None, (part.strip() for part in text.splitlines())):
        n, _, where = line.partition("=")
        xy = read_list("number", where) if where else ()
        if not n.strip().isdigit() or len(xy) != PLACE:
            raise Problem(f"“{line[:40]}” is no place: {field.say.hint}.")
        rows.append((int(n), *xy))
    return tuple(rows)


def _list(field: Field, text: str, units: Units) -> object:
    if field.shape.words:
        parts = re.split(r"\s*[,;\n]\s*" if re.search(r"[,;\n]", text) else r"\s+", text)
        return tuple(p for p in parts if p)
    if not text:
        return ()
    if field.shape.whole:
        return tuple(_whole(field, part, units) for part in parts_of(text.replace(",", " ")))
    return read_list("number", text.replace(",", ", "))


_TAKEN: dict[str, Callable[[Field, str, Units], object]] = {
    "text": lambda f, t, u: t,
    "figure": _figure,
    "whole": _whole,
    "pairs": _pairs_taken,
    "named": _named,
    "spots": _spots,
    "list": _list,
    "lines": lambda f, t, u: tuple(line.strip() for line in t.splitlines() if line.strip()),
}

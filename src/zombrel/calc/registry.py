"""Register calculations and run them from ``key=value`` words.

One definition serves the command line and the search-and-sum field of the window.
"""

from __future__ import annotations

import contextlib
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any, Literal

import msgspec

from zombrel.intake.file import one_line
from zombrel.job.pairs import Pairs, parse
from zombrel.job.problem import Problem
from zombrel.units import METRIC
from zombrel.units import words as in_units

Result = dict[str, Any]


class Param(msgspec.Struct, frozen=True):
    """One input of a calculation."""

    name: str
    words: str
    kind: Literal["number", "whole", "text"] = "number"
    default: Any = msgspec.UNSET
    """Left out: the input is required. None: it may be absent."""
    above: float = -math.inf
    """Exclusive lower bound."""
    least: float = -math.inf
    most: float = 1e8
    """A hundred million of anything, ohms included, is the end of what is met in a vehicle."""
    choices: tuple[str, ...] = ()
    units: tuple[str, ...] = ()
    """Unit texts that may follow the number."""


class Calc(msgspec.Struct, frozen=True):
    """One calculation."""

    name: str
    words: str
    params: tuple[Param, ...]
    gives: str
    function: Callable[..., Result]


LEAST = (
    ("_ohm", 0.0, "Ω"),
    ("_hz", 0.0, "Hz"),
    ("_mm2", 0.0, "mm²"),
    ("_c", -273.15, "°C"),
    ("_per_km", 0.0, "per km"),
)
"""Endings of results below which no value can be."""

TYPED = 40
"""So many characters of what was typed are said again."""

CALCS: dict[str, Calc] = {}


def calc(
    name: str, words: str, params: Sequence[Param], gives: str
) -> Callable[[Callable[..., Result]], Callable[..., Result]]:
    """Register the decorated function under ``name``."""

    def register(function: Callable[..., Result]) -> Callable[..., Result]:
        CALCS[name] = Calc(name, words, tuple(params), gives, function)
        return function

    return register


def run(name: str, words: Mapping[str, str]) -> Result:
    """Run ``name`` on inputs as typed.

    Raises:
        Problem: unknown name or key, a value of the wrong kind, or one that cannot be.
    """
    entry = CALCS.get(name)
    if entry is None:
        raise Problem(f"There is no calculation “{name}”. There are: {', '.join(sorted(CALCS))}.")
    known = {p.name for p in entry.params}
    for key in words:
        if key not in known:
            raise Problem(f"{name} has no input “{key}”; it takes {', '.join(sorted(known))}.")
    given = {}
    for param in entry.params:
        if param.name in words:
            given[param.name] = _read(name, param, words[param.name])
        elif param.default is msgspec.UNSET:
            raise Problem(f"{name} needs {param.name} ({param.words}).")
        else:
            given[param.name] = param.default
    with _worked_out(name):
        found = entry.function(**given)
    return {key: _sound(name, key, value) for key, value in found.items()}


@contextlib.contextmanager
def _worked_out(name: str) -> Iterator[None]:
    """Turn whatever goes wrong in a calculation into a sentence."""
    try:
        yield
    except Problem as problem:
        if str(problem) == one_line(problem):
            raise
        raise Problem(one_line(problem)) from problem
    except (ArithmeticError, MemoryError, RecursionError) as error:
        raise Problem(
            f"{name}: no number comes of these inputs; they are too far apart."
        ) from error
    except Exception as error:
        raise Problem(one_line(f"{name}: these inputs cannot be used: {error}.")) from error


def _sound(name: str, key: str, value: Any) -> Any:
    """A result that can be: no NaN, nothing below what there is; an endless one is None."""
    if isinstance(value, dict):
        return {k: _sound(name, k, v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [_sound(name, key, v) for v in value]
    if isinstance(value, str):
        return in_units(value, METRIC)
    if isinstance(value, bool) or not isinstance(value, float | int):
        return value
    if math.isnan(value):
        raise Problem(f"{name}: no {key} comes of these inputs.")
    if math.isinf(value):
        return None
    for ending, least, unit in LEAST:
        if key.endswith(ending) and value < least:
            raise Problem(
                f"{name}: {key} would be {value:g} {unit}, and nothing has less than {least:g}."
            )
    return value


def split(words: Sequence[str]) -> dict[str, str]:
    """Split ``key=value`` words; raises Problem for a word without ``=`` or a doubled key."""
    out: dict[str, str] = {}
    for word in words:
        key, mark, value = word.partition("=")
        if not mark:
            raise Problem(f"“{word}” is not of the form key=value.")
        if key in out:
            raise Problem(f"“{key}” is given twice.")
        out[key] = value
    return out


def _read(name: str, param: Param, text: str) -> Any:
    if param.kind == "text":
        value = text.strip()
        if param.choices and value not in param.choices:
            raise Problem(
                f"{name}: {param.name} must be one of {', '.join(filter(None, param.choices))}, "
                f"not “{typed(text)}”."
            )
        if not value:
            raise Problem(f"{name}: {param.name} ({param.words}) is empty.")
        return value
    number = _number(name, param, text)
    unit = f" {param.units[0]}" if param.units else ""
    what = f"{name}: {param.name} ({param.words})"
    if number <= param.above:
        raise Problem(f"{what} must be above {param.above:g}{unit}, not {typed(text)}.")
    if number < param.least:
        raise Problem(f"{what} must be at least {param.least:g}{unit}, not {typed(text)}.")
    if number > param.most:
        raise Problem(f"{what} is at most {param.most:g}{unit}, not {typed(text)}.")
    if param.kind == "whole":
        if number != int(number):
            raise Problem(f"{what} must be a whole number.")
        return int(number)
    return number


def typed(text: str) -> str:
    """What was typed, short enough for a sentence."""
    line = one_line(text)
    return line if len(line) <= TYPED else f"{line[: TYPED - 1]}…"


def _number(name: str, param: Param, text: str) -> float:
    bare = text.strip()
    for unit in param.units:
        if bare.endswith(unit):
            bare = bare.removesuffix(unit).strip()
            break
    try:
        value = float(bare)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        unit = f" in {param.units[0]}" if param.units else ""
        raise Problem(
            f"{name}: {param.name} ({param.words}) must be a number{unit}, not “{typed(text)}”."
        )
    return value


def figures(text: str, what: str, most: float, unit: str = "") -> list[float]:
    """Numbers above nought with spaces or marks between them.

    Raises:
        Problem: none, one that is no number, or one that cannot be; ``what`` names them.
    """
    found = []
    for part in text.replace(";", " ").replace(",", " ").split():
        try:
            value = float(part)
        except ValueError:
            value = math.nan
        if not 0 < value <= most:
            raise Problem(
                f"{what}: numbers above 0 and up to {most:g}{unit and ' ' + unit} with spaces or "
                f"commas between them, not “{typed(part)}”."
            )
        found.append(value)
    if not found:
        raise Problem(f"{what}: no number is given.")
    return found


Span = tuple[float, float, str]
"""Least, most, unit."""


def pairs_within(text: str, what: str, first: Span, second: Span, least: int = 2) -> Pairs:
    """Pairs as ``job.pairs.parse`` reads them, each figure within what can be.

    Raises:
        Problem: no pairs, too few, or a figure outside its span; ``what`` names them.
    """
    found = parse(text, what, least)
    for pair in found:
        for value, (low, high, unit) in zip(pair, (first, second), strict=True):
            if not low <= value <= high:
                raise Problem(f"{what}: {value:g} {unit} is not within {low:g} to {high:g} {unit}.")
    return found


def describe() -> dict[str, Any]:
    """All calculations with their inputs, as data."""
    return {
        c.name: {
            "does": c.words,
            "inputs": {p.name: _describe(p) for p in c.params},
            "gives": c.gives,
        }
        for c in CALCS.values()
    }


def _describe(param: Param) -> str:
    text = param.words
    if param.choices:
        text += f"; one of {', '.join(param.choices)}"
    if param.default is None:
        return text + "; may be left out"
    return text if param.default is msgspec.UNSET else f"{text}; {param.default} if left out"

"""Register calculations and run them from ``key=value`` words.

One definition serves the command line and the search-and-sum field of the window.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Any, Literal

import msgspec

from zombrel.job.problem import Problem

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
    most: float = 1e9
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
    return entry.function(**given)


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
                f"{name}: {param.name} must be one of {', '.join(param.choices)}, not “{text}”."
            )
        if not value:
            raise Problem(f"{name}: {param.name} ({param.words}) is empty.")
        return value
    number = _number(name, param, text)
    if number <= param.above or number < param.least:
        bound = f"above {param.above:g}" if number <= param.above else f"at least {param.least:g}"
        raise Problem(f"{name}: {param.name} ({param.words}) must be {bound}, not {text}.")
    if number > param.most:
        raise Problem(f"{name}: {param.name} ({param.words}) is at most {param.most:g}.")
    if param.kind == "whole":
        if number != int(number):
            raise Problem(f"{name}: {param.name} ({param.words}) must be a whole number.")
        return int(number)
    return number


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
        raise Problem(f"{name}: {param.name} ({param.words}) must be a number{unit}, not “{text}”.")
    return value


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

"""Why a number is what it is."""

from __future__ import annotations

from zombrel.job.sheet import Frozen


class Given(Frozen, frozen=True, kw_only=True):
    """One input of a reason: its name, its value with unit, and how it is known."""

    name: str
    value: str
    known: str = ""


class Reason(Frozen, frozen=True, kw_only=True):
    """The answer to "why?": inputs, formula, source of the formula, assumption."""

    title: str
    result: str
    formula: str
    given: tuple[Given, ...] = ()
    source: str = ""
    assumption: str = ""
    moves: str = ""
    """Which input moves the result most, and by how much."""

"""The reader of typed figures, asked from outside."""

from __future__ import annotations

from zombrel.calc.registry import Param, Result, calc
from zombrel.job.typed.kinds import WANTED
from zombrel.job.typed.read import read, words_for


@calc(
    "read",
    "a figure as people type it, with its unit",
    [
        Param("what", "kind of figure", "text", choices=tuple(WANTED)),
        Param("text", "as typed: 10 ft, 2k2, 4000 per mile", "text"),
        Param("unit", "unit of a figure that is typed without one", "text", None),
    ],
    "value unit",
)
def read_figure(what: str, text: str, unit: str | None) -> Result:
    """What a typed text means, in the unit of its kind; asks where it can mean two things."""
    return {"value": read(what, text, unit or ""), "unit": words_for(what)}

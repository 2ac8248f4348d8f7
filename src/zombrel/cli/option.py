"""Options of the command line that stand among the words."""

from __future__ import annotations

from zombrel.job.problem import Problem
from zombrel.units import Units


def option(typed: list[str], name: str, usage: str) -> str:
    """The value after ``name``, both taken out of the words; empty where it is not there.

    Raises:
        Problem: nothing follows it; ``usage`` says what should.
    """
    if name not in typed:
        return ""
    i = typed.index(name)
    if i + 1 >= len(typed):
        raise Problem(f"{name} wants a value after it.\n{usage}")
    value = typed[i + 1]
    del typed[i : i + 2]
    return value


def paper(typed: list[str], usage: str) -> Units:
    """Units with the size of paper after ``--paper``, both taken out of the words.

    Raises:
        Problem: no such size.
    """
    size = option(typed, "--paper", usage) or "A4"
    if size not in ("A4", "Letter"):
        raise Problem(f"--paper is A4 or Letter, not “{size}”.")
    return Units(paper="Letter" if size == "Letter" else "A4")

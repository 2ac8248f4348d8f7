"""Terminals as records: what each family takes, how it is crimped, sealed and drawn out.

The families are made-up ones; a shop adds its own beside them.
"""

from __future__ import annotations

import functools
from typing import Literal

import msgspec

from zombrel.catalog import DATA
from zombrel.job.sheet import Frozen, Name, NonNegative, Positive, Text

Insulation = tuple[Positive, Positive]


class Terminal(Frozen, frozen=True, kw_only=True):
    """One terminal of a family."""

    id: Name
    family: Name
    size_mm: Positive
    """Width of the blade, or bore of the pin [mm]."""
    shape: Literal["blade", "pin", "ring"] = "blade"
    least_mm2: Positive
    most_mm2: Positive
    """Sections of wire that its barrel takes [mm²]."""
    insulation_mm: Insulation
    """Thinnest and thickest sheath that its wings, or its seal, take [mm]."""
    seal: Text = ""
    """Empty: it is not sealed."""
    strip_mm: Positive
    die: Text
    tongue: Text = ""
    """The side its lance looks to."""
    extract: Text = ""
    """The tool that draws it out, and from where."""
    amps: NonNegative = 0.0
    plating: Literal["tin", "gold", "silver"] = "tin"


@functools.cache
def terminals() -> tuple[Terminal, ...]:
    """The shipped terminals."""
    return msgspec.json.decode((DATA / "terminals.json").read_bytes(), type=tuple[Terminal, ...])

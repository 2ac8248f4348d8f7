"""A terminal as a record: what it takes, how it is crimped, sealed and drawn out."""

from typing import Literal

from zombrel.job.sheet import Frozen, Name, NonNegative, Positive, Text


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
    least_sheath_mm: Positive
    most_sheath_mm: Positive
    """Thinnest and thickest sheath that its wings, or its seal, take [mm]."""
    gender: Literal["", "male", "female"] = ""
    """Empty: it is made as both."""
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

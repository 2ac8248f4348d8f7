"""Terminals as records: what each family takes, how it is crimped, sealed and drawn out.

The families are made-up ones.
"""

from __future__ import annotations

from typing import Literal

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


TERMINALS: tuple[Terminal, ...] = (
    Terminal(
        id="BK 1.5 small",
        family="BK 1.5",
        size_mm=1.5,
        shape="blade",
        least_mm2=0.2,
        most_mm2=0.5,
        insulation_mm=(1.1, 1.7),
        strip_mm=3.5,
        die="open barrel, F crimp, 0.2 to 0.5 mm²",
        tongue="towards the key",
        extract="flat pick, 0.5 mm, from the mating face",
        amps=9,
    ),
    Terminal(
        id="BK 1.5 large",
        family="BK 1.5",
        size_mm=1.5,
        shape="blade",
        least_mm2=0.5,
        most_mm2=1.0,
        insulation_mm=(1.4, 2.2),
        strip_mm=4.0,
        die="open barrel, F crimp, 0.5 to 1.0 mm²",
        tongue="towards the key",
        extract="flat pick, 0.5 mm, from the mating face",
        amps=13,
    ),
    Terminal(
        id="BK 2.8",
        family="BK 2.8",
        size_mm=2.8,
        shape="blade",
        least_mm2=0.5,
        most_mm2=2.5,
        insulation_mm=(1.6, 3.0),
        strip_mm=5.0,
        die="open barrel, F crimp, 1.0 to 2.5 mm²",
        tongue="away from the key",
        extract="twin flat picks, 0.6 mm, from the mating face",
        amps=20,
    ),
    Terminal(
        id="BK 4.8 sealed",
        family="BK 4.8 sealed",
        size_mm=4.8,
        shape="blade",
        least_mm2=0.75,
        most_mm2=4.0,
        insulation_mm=(1.7, 3.8),
        seal="brown seal, 1.7 to 3.8 mm",
        strip_mm=5.5,
        die="open barrel with seal wings, 1.5 to 4.0 mm²",
        tongue="away from the key",
        extract="twin flat picks, 1.0 mm, after the secondary lock",
        amps=28,
    ),
    Terminal(
        id="BK 6.3",
        family="BK 6.3",
        size_mm=6.3,
        shape="blade",
        least_mm2=1.0,
        most_mm2=6.0,
        insulation_mm=(2.0, 4.3),
        strip_mm=6.5,
        die="open barrel, F crimp, 2.5 to 6.0 mm²",
        tongue="away from the key",
        extract="flat pick, 1.5 mm, from the mating face",
        amps=35,
    ),
    Terminal(
        id="AR 1.5 sealed small",
        family="AR 1.5 sealed",
        size_mm=1.5,
        shape="blade",
        least_mm2=0.35,
        most_mm2=0.5,
        insulation_mm=(1.2, 1.6),
        seal="green seal, 1.2 to 1.6 mm",
        strip_mm=4.0,
        die="open barrel with seal wings, 0.35 to 0.5 mm²",
        tongue="towards the lever",
        extract="forked pick, 1.0 mm, after the secondary lock",
        amps=10,
        plating="tin",
    ),
    Terminal(
        id="AR 1.5 sealed large",
        family="AR 1.5 sealed",
        size_mm=1.5,
        shape="blade",
        least_mm2=0.5,
        most_mm2=1.0,
        insulation_mm=(1.5, 2.1),
        seal="blue seal, 1.5 to 2.1 mm",
        strip_mm=4.5,
        die="open barrel with seal wings, 0.5 to 1.0 mm²",
        tongue="towards the lever",
        extract="forked pick, 1.0 mm, after the secondary lock",
        amps=14,
        plating="tin",
    ),
    Terminal(
        id="AR 1.5 sealed gold",
        family="AR 1.5 sealed",
        size_mm=1.5,
        shape="blade",
        least_mm2=0.35,
        most_mm2=0.75,
        insulation_mm=(1.2, 1.9),
        seal="green seal, 1.2 to 1.6 mm, or white, 1.6 to 1.9 mm",
        strip_mm=4.0,
        die="open barrel with seal wings, 0.35 to 0.75 mm²",
        tongue="towards the lever",
        extract="forked pick, 1.0 mm, after the secondary lock",
        amps=10,
        plating="gold",
    ),
    Terminal(
        id="AR 2.8 sealed",
        family="AR 2.8 sealed",
        size_mm=2.8,
        shape="blade",
        least_mm2=1.0,
        most_mm2=2.5,
        insulation_mm=(2.0, 3.0),
        seal="red seal, 2.0 to 3.0 mm",
        strip_mm=5.5,
        die="open barrel with seal wings, 1.0 to 2.5 mm²",
        tongue="towards the lever",
        extract="forked pick, 1.4 mm, after the secondary lock",
        amps=22,
    ),
    Terminal(
        id="PN 1.0",
        family="PN 1.0",
        size_mm=1.0,
        shape="pin",
        least_mm2=0.14,
        most_mm2=0.5,
        insulation_mm=(0.9, 1.6),
        strip_mm=3.0,
        die="turned contact, four-point crimp, 0.14 to 0.5 mm²",
        tongue="none, it snaps all round",
        extract="tube tool, 1.6 mm, from the mating face",
        amps=7,
        plating="gold",
    ),
    Terminal(
        id="PN 2.5 sealed",
        family="PN 2.5 sealed",
        size_mm=2.5,
        shape="pin",
        least_mm2=0.75,
        most_mm2=2.5,
        insulation_mm=(1.8, 3.2),
        seal="family seal in the housing, 1.8 to 3.2 mm",
        strip_mm=6.0,
        die="turned contact, four-point crimp, 0.75 to 2.5 mm²",
        tongue="none, it snaps all round",
        extract="tube tool, 3.4 mm, from the wire side",
        amps=25,
    ),
)
"""Shipped."""

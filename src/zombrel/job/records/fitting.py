"""Records of the fitting: how devices are fixed, hoses and lines, what the kit holds."""

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.sheet import Frozen, Name, NonNegative, Text

Screw = Literal["M3", "M4", "M5", "M6", "M8"]
Medium = Literal[
    "vacuum", "boost", "fuel", "fuel with ethanol", "diesel", "coolant", "oil", "water"
]
Thread = Literal[
    "",
    "M8×1",
    "M10×1",
    "M12×1.5",
    "M14×1.5",
    "M16×1.5",
    "M18×1.5",
    "1/8-27 NPT",
    "1/4-18 NPT",
    "G 1/8",
    "G 1/4",
    "R 1/8",
    "R 1/4",
]
"""Threads of senders and of what they are screwed into: metric fine, taper and parallel pipe."""
Grade = Literal[
    "",
    "fabric silicone",
    "plain silicone",
    "coolant rubber",
    "low-pressure fuel rubber",
    "injection fuel rubber",
    "oil rubber",
    "braided fluoropolymer",
    "clear vinyl",
]


class Mounting(Frozen, frozen=True, kw_only=True):
    """How a device is fixed, and what lies behind that place."""

    how: Literal["", "screws", "bracket", "hook-and-loop", "hole"] = ""
    """``hole``: set flush into a hole of the panel; empty: not decided."""
    panel_m: NonNegative = 0.0
    """Thickness of what it is fixed to [m]."""
    stack_m: NonNegative = 0.0
    """What lies under the heads of the screws: foot, washers, spacers [m]."""
    behind_m: NonNegative | None = None
    """Free depth behind the panel [m]; None: nobody looked."""
    behind: Text = ""
    """What lies there."""
    screw: Screw = "M4"
    screw_m: NonNegative = 0.0
    """Length of the screws at hand [m]; 0: they are still to be chosen."""


class Hose(Frozen, frozen=True, kw_only=True):
    """A hose or line from one place to another."""

    id: Name
    name: Name = "Hose"
    medium: Medium
    a: Text = ""
    b: Text = ""
    """What it leads from and to: a device, a source, or a zone of the plan."""
    bore_m: NonNegative = 0.0
    """Inside diameter [m]; 0: not said."""
    a_spigot_m: NonNegative = 0.0
    b_spigot_m: NonNegative = 0.0
    """Outside diameters of what it is pushed on [m]; 0: not measured."""
    tee_m: NonNegative = 0.0
    """Bore of the line it branches off [m]; 0: it ends at a spigot of its own."""
    grade: Grade = ""
    peak_pa: NonNegative = 0.0
    """Highest gauge pressure in it [Pa]; 0: what such lines usually see."""
    hot_k: NonNegative = 0.0
    """Hottest that what flows in it gets [K]; 0: what is usual."""
    clamps: bool = False
    """A clamp is planned or fitted at each end."""
    via: Annotated[tuple[Name, ...], Meta(max_length=40)] = ()
    """Zones it runs through, in order; empty: by the cheapest way."""


class Have(Frozen, frozen=True, kw_only=True):
    """So much of one part lies in the kit."""

    id: Annotated[str, Meta(min_length=1, max_length=300)]
    """Kind and name of the part, as the parts list has it."""
    count: NonNegative = 0.0

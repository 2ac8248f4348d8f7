"""A supposed state of the vehicle."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.sheet import Frozen


class State(Frozen, frozen=True, kw_only=True):
    """What the vehicle is supposed to be doing. SI units."""

    key: Literal["off", "on", "crank"] = "on"
    speed: Annotated[float, Meta(ge=0, le=120)] = 0.0
    """True road speed [m/s]."""
    engine: Annotated[float, Meta(ge=0, le=400)] = 0.0
    """True engine speed [1/s]."""
    gear: Annotated[int, Meta(ge=0, le=12)] = 0
    """Gear engaged, 0 is neutral."""
    volts: Annotated[float, Meta(ge=0, le=36)] = 13.8
    """System voltage [V]."""
    ambient: Annotated[float, Meta(ge=200, le=340)] = 293.15
    """Outside air [K]."""
    wear: Annotated[float, Meta(ge=-0.03, le=0.03)] = 0.0
    """Fraction by which wear and pressure shorten the rolling circumference."""
    brake: bool = False
    clutch: bool = False

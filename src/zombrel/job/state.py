"""A supposed state of the vehicle."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.follow.engine import ROOTS
from zombrel.job.follow.view import OPEN
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
    park: bool = False
    park_brake: bool = False
    lights: bool = False
    arm: bool = False
    turn_left: bool = False
    turn_right: bool = False
    main_beam: bool = False
    warning: bool = False
    """The lamp that a warning input watches is lit."""
    contact: bool = False
    """Whatever a free on/off input watches."""
    coolant: Annotated[float, Meta(ge=200, le=500)] = 361.15
    """Coolant temperature [K]."""
    charge: Annotated[float, Meta(ge=200, le=500)] = 318.15
    """Charge-air temperature [K]."""
    exhaust: Annotated[float, Meta(ge=200, le=1500)] = 773.15
    """Exhaust-gas temperature [K]."""
    oil: Annotated[float, Meta(ge=0, le=2e6)] = 350e3
    """Oil pressure above air [Pa]."""
    boost: Annotated[float, Meta(ge=-101e3, le=5e5)] = 0.0
    """Manifold pressure above air [Pa]."""
    barometer: Annotated[float, Meta(ge=3e4, le=1.1e5)] = 101325.0
    """Air pressure [Pa]."""
    fuel: Annotated[float, Meta(ge=0, le=2)] = 0.03
    """Fuel in the tank [m³]."""
    blend: Annotated[float, Meta(ge=0, le=1)] = 0.27
    """Ethanol, share of volume."""
    mixture: Annotated[float, Meta(ge=0.4, le=3)] = 1.0
    """Air-fuel ratio over the stoichiometric one, λ."""
    pump: Annotated[float, Meta(ge=0, le=1)] = 0.5
    """Share of the time that a pump is driven."""
    analogue: Annotated[float, Meta(ge=-60, le=60)] = 2.5
    """Whatever a free analogue input watches [V]."""


ROOTS[State] = False
OPEN.add(State)

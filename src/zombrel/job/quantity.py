"""What each quantity is: its kind, its words, its usual range, and where a state holds it."""

from __future__ import annotations

from typing import Literal, NamedTuple

from zombrel.job.sheet import Quantity
from zombrel.job.state import State
from zombrel.units.measure import Kind

Group = Literal["rate", "sensed", "contact"]


class QuantitySheet(NamedTuple):
    """One quantity. Ranges in SI: what a gauge in the trade is expected to cover."""

    group: Group
    kind: Kind
    title: str
    field: str
    """Field of ``State`` that holds the truth."""
    low: float = 0.0
    high: float = 1.0


QUANTITIES: dict[Quantity, QuantitySheet] = {
    "speed": QuantitySheet("rate", "speed", "Road speed", "speed", 0, 60),
    "tach": QuantitySheet("rate", "engine", "Engine speed", "engine", 0, 120),
    "brake": QuantitySheet("contact", "contact", "Brake", "brake"),
    "coolant": QuantitySheet("sensed", "temperature", "Coolant", "coolant", 273.15, 393.15),
    "charge": QuantitySheet("sensed", "temperature", "Charge air", "charge", 253.15, 373.15),
    "exhaust": QuantitySheet("sensed", "temperature", "Exhaust gas", "exhaust", 293.15, 1173.15),
    "oil": QuantitySheet("sensed", "pressure", "Oil pressure", "oil", 0, 7e5),
    "boost": QuantitySheet("sensed", "pressure", "Boost", "boost", -6e4, 1.8e5),
    "fuel": QuantitySheet("sensed", "volume", "Fuel", "fuel", 0, 0.06),
    "blend": QuantitySheet("sensed", "fraction", "Fuel blend", "blend", 0, 1),
    "mixture": QuantitySheet("sensed", "lambda", "Mixture", "mixture", 0.68, 1.36),
    "clutch": QuantitySheet("contact", "contact", "Clutch", "clutch"),
    "park": QuantitySheet("contact", "contact", "Park", "park"),
    "park brake": QuantitySheet("contact", "contact", "Park brake", "park_brake"),
    "lights": QuantitySheet("contact", "contact", "Lights", "lights"),
    "arm": QuantitySheet("contact", "contact", "Arming", "arm"),
}
"""A tank's upper end is the vehicle's own where it is known."""


def truth(quantity: Quantity, state: State) -> float:
    """The true value in ``state`` [SI]; 1 for a contact that is on."""
    return float(getattr(state, QUANTITIES[quantity].field))


def group(quantity: str) -> Group:
    """Rate, sensed or contact."""
    return QUANTITIES[quantity].group  # type: ignore[index]

"""What each quantity is: its kind, its words, its usual range, and where a state holds it."""

from __future__ import annotations

from typing import Literal

from zombrel.job.sheet import Quantity
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.units.measure import Kind

Group = Literal["rate", "sensed", "contact"]


class QuantitySheet(Value, frozen=True):
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
    "turn left": QuantitySheet("contact", "contact", "Turn signal left", "turn_left"),
    "turn right": QuantitySheet("contact", "contact", "Turn signal right", "turn_right"),
    "main beam": QuantitySheet("contact", "contact", "Main beam", "main_beam"),
    "warning": QuantitySheet("contact", "contact", "Warning lamp", "warning"),
    "contact": QuantitySheet("contact", "contact", "Free contact", "contact"),
    "volts": QuantitySheet("sensed", "voltage", "System voltage", "volts", 8, 16),
    "pump": QuantitySheet("sensed", "fraction", "Pump duty", "pump", 0, 1),
    "gear": QuantitySheet("sensed", "gear", "Gear", "gear", 0, 6),
    "analogue": QuantitySheet("sensed", "voltage", "Free analogue", "analogue", 0, 5),
}
"""What a tank holds, and the system's volts, are the vehicle's own: see ``usual_range``."""


def usual_range(quantity: Quantity, tank_l: float | None, system_v: float) -> tuple[float, float]:
    """The range that ``quantity`` has in a vehicle [SI].

    ``tank_l`` what its tank holds [l], None when nobody has said; ``system_v`` its system [V]:
    a battery that still starts, to the highest that its charging reaches.
    """
    sheet = QUANTITIES[quantity]
    if quantity == "fuel" and tank_l:
        return sheet.low, tank_l / 1000
    if quantity == "volts":
        cells = system_v / 12
        return sheet.low * cells, sheet.high * cells
    return sheet.low, sheet.high


def truth(quantity: Quantity, state: State) -> float:
    """The true value in ``state`` [SI]; 1 for a contact that is on."""
    return float(getattr(state, QUANTITIES[quantity].field))


def group(quantity: str) -> Group:
    """Rate, sensed or contact."""
    return QUANTITIES[quantity].group  # type: ignore[index]

"""Data-bus descriptions: which messages carry which values, read with cantools.

Reference: a value is raw × factor + offset, its bits as the description lays them out.
"""

from __future__ import annotations

import logging
import re
from pathlib import Path
from typing import Any

from zombrel.intake.file import reading, text
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen, Quantity
from zombrel.job.source import BusReader, Source
from zombrel.units import ZERO_C

MAX_BYTES = 20_000_000


MOST_BITS = 16384
"""The longest message of any bus in a vehicle has 1785 bytes (ISO 15765-2, SAE J1939-21)."""
SIZES = re.compile(
    r"\bBO_\s+\d+\s+\w+\s*:\s*(\d+)|(\d+)\s*\|\s*(\d+)\s*@"
    r"|(?:length|len|size|offset|position)\W{1,12}(\d+)",
    re.IGNORECASE,
)
"""Where descriptions state them: DBC, then the others."""


FORMATS = {".dbc": "dbc", ".kcd": "kcd", ".sym": "sym", ".arxml": "arxml"}
"""By ending of the file; any other is tried as each of them."""


class BusValue(Frozen, frozen=True, kw_only=True):
    """One signal of one message."""

    message: int
    message_name: str
    name: str
    unit: str
    low: float | None
    high: float | None
    step: float
    """What one count of the raw value stands for, in ``unit``."""
    period_s: float | None
    """From one message to the next, where the file says."""


def read_description(path: Path) -> Any:
    """A bus description file (DBC, KCD, SYM, ARXML) as cantools reads it.

    Raises:
        Problem: unreadable or not such a file.
    """
    import cantools

    described = text(path, MAX_BYTES, "bus description")
    _sizes(described, path.name)
    logging.getLogger("cantools").setLevel(logging.ERROR)  # its doubts come up as values do
    with reading(path.name, "be read as a bus description"):
        return cantools.database.load_string(described, FORMATS.get(path.suffix.lower()))


def _sizes(described: str, name: str) -> None:
    """See that no message or value is said to be of a size that the reader would lay out in vain.

    It makes a list of all bits of each.
    """
    for found in SIZES.finditer(described):
        for figure in filter(None, found.groups()):
            if len(figure) > len(str(MOST_BITS)) or int(figure) > MOST_BITS:
                said = f"{figure[:12]} bits or bytes in one"
                raise Problem(f"{name} describes {said}; no bus has that.")


def values(path: Path) -> tuple[BusValue, ...]:
    """Every signal of a description, by message and place."""
    with reading(path.name, "be read as a bus description"):
        found = _values(path)
    if not found:
        raise Problem(f"{path.name} describes no values.")
    return tuple(found)


def _values(path: Path) -> list[BusValue]:
    return [
        BusValue(
            message=message.frame_id,
            message_name=message.name,
            name=signal.name,
            unit=signal.unit or "",
            low=None if signal.minimum is None else float(signal.minimum),
            high=None if signal.maximum is None else float(signal.maximum),
            step=float(signal.scale),
            period_s=message.cycle_time / 1000 if message.cycle_time else None,
        )
        for message in read_description(path).messages
        for signal in message.signals
    ]


def decode(path: Path, frame_id: int, data: bytes) -> dict[str, float]:
    """The values of one frame.

    Raises:
        Problem: no such message, or too few bytes.
    """
    import cantools

    described = read_description(path)
    try:
        message = described.get_message_by_frame_id(frame_id)
        decoded = message.decode(data, decode_choices=False)
    except KeyError:
        raise Problem(f"{path.name} has no message {frame_id:#x}.") from None
    except (cantools.Error, ValueError) as error:
        raise Problem(f"Message {frame_id:#x}: {error}.") from error
    return {name: float(value) for name, value in decoded.items()}


_KINDS: dict[str, Quantity] = {
    "km/h": "speed",
    "kph": "speed",
    "m/s": "speed",
    "mph": "speed",
    "rpm": "tach",
    "1/min": "tach",
}
TEMPERATURES = ("degc", "°c", "c", "celsius")


def as_source(value: BusValue) -> Source | None:
    """A source through a bus reader; None when the unit fits no quantity here."""
    unit = value.unit.strip().lower()
    period = value.period_s or 0.1
    key = f"bus-{value.name.lower()}"[:60]
    place = f"message {value.message:#x}, {value.message_name}"
    name = f"{value.name} from the data bus"[:80]
    if unit in _KINDS:
        quantity = _KINDS[unit]
        spec = BusReader(
            signal=value.name,
            message=value.message,
            period_s=period,
            pulses=4.0 if quantity == "speed" else 2.0,
        )
        return Source(
            id=key,
            name=name,
            quantity=quantity,
            place=place,
            minutes=30,
            parts="bus reader",
            spec=spec,
        )
    if unit in TEMPERATURES:
        low, high = value.low if value.low is not None else -40.0, value.high or 150.0
        spec = BusReader(
            signal=value.name,
            message=value.message,
            period_s=period,
            points=((low + ZERO_C, 0.5), (high + ZERO_C, 4.5)),
        )
        return Source(
            id=key,
            name=name,
            quantity="coolant",
            place=place,
            minutes=30,
            parts="bus reader with a volt output",
            spec=spec,
        )
    return None

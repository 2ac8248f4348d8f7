"""Data-bus descriptions: which messages carry which values, read with cantools.

Reference: a value is raw × factor + offset, its bits as the description lays them out.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

from zombrel.intake.file import check, reading
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen, Quantity
from zombrel.job.source import BusReader, Source
from zombrel.units import ZERO_C

MAX_BYTES = 20_000_000


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

    check(path, MAX_BYTES, "bus description")
    with reading(path.name, "be read as a bus description"):
        return cantools.database.load_file(path, strict=True, cache_dir=None)


def values(path: Path) -> tuple[BusValue, ...]:
    """Every signal of a description, by message and place."""
    found = [
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
    if not found:
        raise Problem(f"{path.name} describes no values.")
    return tuple(found)


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

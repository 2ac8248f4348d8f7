"""Import every calculation so that the registry is full."""

from zombrel.calc import (
    bus,
    circuit,
    cruise,
    engine,
    fitting,
    fuel,
    harness,
    job,
    logs,
    misread,
    parts,
    proof,
    reading,
    sensors,
    speed,
    wiring,
)
from zombrel.calc.registry import CALCS, describe, run, split

__all__ = [
    "CALCS",
    "bus",
    "circuit",
    "cruise",
    "describe",
    "engine",
    "fitting",
    "fuel",
    "harness",
    "job",
    "logs",
    "misread",
    "parts",
    "proof",
    "reading",
    "run",
    "sensors",
    "speed",
    "split",
    "wiring",
]

"""Data bus and diagnostic connector."""

from __future__ import annotations

from pathlib import Path

from zombrel.calc.registry import Param, Result, calc
from zombrel.catalog.diagnostic import diagnostic, label
from zombrel.job.problem import Problem
from zombrel.logs import bus

FILE = Param("file", "bus description (DBC)", "text")


@calc("bus-signals", "values a bus description holds", [FILE], "signals")
def signals(file: str) -> Result:
    """Every value with its message, unit, range and period."""
    return {
        "signals": [
            {
                "message": f"{v.message:#x}",
                "message_name": v.message_name,
                "signal": v.name,
                "unit": v.unit,
                "low": v.low,
                "high": v.high,
                "step": v.step,
                "period_s": v.period_s,
            }
            for v in bus.values(Path(file))
        ]
    }


@calc(
    "bus-decode",
    "values of one frame",
    [
        FILE,
        Param("id", "frame identifier, such as 0x201", "text"),
        Param("data", "bytes in hexadecimal", "text"),
    ],
    "values",
)
def decode(file: str, id: str, data: str) -> Result:
    """Decode the bytes of one frame."""
    try:
        frame, raw = int(id, 0), bytes.fromhex(data)
    except ValueError as error:
        raise Problem(f"bus-decode: {error}; write id=0x201 data=00FF12…") from None
    return {"values": bus.decode(Path(file), frame, raw)}


@calc(
    "diagnostic-pins",
    "cavities of a diagnostic connector by protocol",
    [Param("ways", "16, 9 or 6", default=16.0, above=5, most=16)],
    "protocols",
)
def pins(ways: float) -> Result:
    """Which cavities each protocol uses, with the standard."""
    for kind in diagnostic():
        connector = kind.connector
        if connector.rows * connector.columns == round(ways):
            return {
                "source": kind.source,
                "protocols": [
                    {
                        "name": p.name,
                        "standard": p.standard,
                        "pins": [label(connector, n) for n in p.pins],
                    }
                    for p in kind.protocols
                ],
            }
    raise Problem("diagnostic-pins: there are connectors with 16, 9 and 6 ways.")

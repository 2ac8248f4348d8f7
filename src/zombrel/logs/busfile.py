"""Logs of a data bus, read with python-can and decoded by a description: candump, ASC, BLF.

Reference: a value is raw × factor + offset, its bits as the description lays them out.
"""

from __future__ import annotations

import logging
from collections import defaultdict
from pathlib import Path
from typing import Any

import numpy as np

from zombrel.intake.file import check, reading
from zombrel.job.problem import Problem
from zombrel.logs.recording import Channel, Recording
from zombrel.logs.units import UNITS, unit_named, what_of

MAX_BYTES = 2_000_000_000
MOST = 20_000_000
"""Messages of one file."""


def read_bus(path: Path, description: Path | None) -> Recording:
    """The values in a bus log, by the description of the bus.

    Raises:
        Problem: no description, unreadable, or none of its messages is in the log.
    """
    check(path, MAX_BYTES, "bus log")
    if description is None:
        raise Problem(
            f"{path.name} holds raw messages: say which bus description (DBC) decodes it."
        )
    import can
    import cantools

    logging.getLogger("can").setLevel(logging.ERROR)
    with reading(description.name):
        base: Any = cantools.database.load_file(str(description))
    known = {m.frame_id: m for m in base.messages}
    times: dict[int, list[float]] = defaultdict(list)
    data: dict[int, list[bytes]] = defaultdict(list)
    strange: set[int] = set()
    ending = ".log" if path.suffix == ".candump" else path.suffix
    with reading(path.name):
        reader: Any = can.LogReader(str(path), file_format=ending or ".log")
        with reader:
            for count, m in enumerate(reader):
                if count > MOST:
                    raise Problem(f"{path.name} holds more than {MOST} messages.")
                if m.is_error_frame or m.is_remote_frame:
                    continue
                if m.arbitration_id not in known:
                    strange.add(m.arbitration_id)
                    continue
                times[m.arbitration_id].append(m.timestamp)
                data[m.arbitration_id].append(bytes(m.data))
    if not times:
        raise Problem(f"{path.name} has no message that {description.name} describes.")
    start = min(ts[0] for ts in times.values())
    channels: list[Channel] = []
    bad = 0
    for key, ts in times.items():
        made, lost = _decoded(known[key], np.array(ts) - start, data[key])
        channels += made
        bad += lost
    notes = [f"{sum(map(len, times.values()))} messages of {len(times)} kinds"]
    notes += [f"{len(strange)} kinds that the description does not know"] if strange else []
    notes += [f"{bad} messages too short to hold their values"] if bad else []
    return Recording(path.name, tuple(channels), tuple(notes))


def _decoded(message: Any, t: np.ndarray, data: list[bytes]) -> tuple[list[Channel], int]:
    """A channel for each signal of one message, and how many messages were no such."""
    import cantools

    values: dict[str, list[float]] = defaultdict(list)
    at: dict[str, list[float]] = defaultdict(list)
    bad = 0
    for moment, raw in zip(t, data, strict=True):
        try:
            found = message.decode(raw, decode_choices=False)
        except (cantools.database.DecodeError, ValueError):
            bad += 1
            continue
        for name, value in found.items():
            if isinstance(value, int | float):
                values[name].append(float(value))
                at[name].append(moment)
    units = {s.name: s.unit or "" for s in message.signals}
    return [_channel(n, units[n], np.array(at[n]), np.array(v)) for n, v in values.items()], bad


def _channel(name: str, said: str, t: np.ndarray, v: np.ndarray) -> Channel:
    unit = unit_named(said)
    if not unit:
        what = what_of(name)
        usual = {"engine": "rpm", "fraction": "%"}.get(what, "")
        unit = usual if said in ("", usual) else ""
    if not unit:
        return Channel(name, "number", said, t, v)
    of = UNITS[unit]
    return Channel(name, of.what, unit, t, v * of.size + of.zero)

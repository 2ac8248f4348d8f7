"""Any log by what its file is: a table, a track, sentences, a sound, messages of a bus."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from zombrel.job.problem import Problem
from zombrel.logs.recording import Floats, Recording
from zombrel.logs.table.read import Tell, read

FEWEST = 2
"""A channel has so many samples."""
LONGEST_S = 1e9
"""No log lasts thirty years [s]."""


def read_any(
    path: Path,
    stated: Mapping[str, str] | None = None,
    description: Path | None = None,
    tell: Tell | None = None,
) -> Recording:
    """The recording in a file, told from its ending and its first bytes.

    Args:
        path: the file.
        stated: units by the name of a column, for tables.
        description: of the bus, for logs of one.
        tell: told how far it is, 0 to 1; answers whether to go on.

    Raises:
        Problem: as the reader of its kind, or nothing in it can be a measurement.
    """
    return sound(_by_kind(path, stated, description, tell))


def sound(log: Recording) -> Recording:
    """``log`` with time that rises and figures that are figures; what is left out is noted.

    Everything that is worked out of a log may rely on this, whatever file it came from.

    Raises:
        Problem: nothing is left.
    """
    kept, out = [], 0
    rising: dict[int, NDArray[np.bool_] | None] = {}  # channels of one rate share their time
    for c in log.channels:
        if id(c.t) not in rising:
            rising[id(c.t)] = _rises(c.t)
        keep, finite = rising[id(c.t)], np.isfinite(c.v)
        if keep is None and bool(finite.all()):
            kept.append(c)
            continue
        keep = finite if keep is None else keep & finite
        out += int(len(keep) - keep.sum())
        if keep.sum() >= FEWEST:
            kept.append(c.but(t=c.t[keep], v=c.v[keep]))
    if not kept:
        raise Problem(f"{log.name} holds no figures whose time rises: there is nothing to look at.")
    words = (f"{out} values left out: no figure, or its time does not rise",) if out else ()
    return Recording(log.name, tuple(kept), (*log.notes, *words))


def _rises(t: Floats) -> NDArray[np.bool_] | None:
    """Which samples come after all before them; None where all do."""
    usable = np.isfinite(t) & (np.abs(t) <= LONGEST_S)
    if usable.all() and (len(t) < FEWEST or bool((np.diff(t) > 0).all())):
        return None
    at = np.where(usable, t, -np.inf)
    before = np.concatenate(([-np.inf], np.maximum.accumulate(at)[:-1]))
    return np.asarray(at > before)


def _by_kind(
    path: Path, stated: Mapping[str, str] | None, description: Path | None, tell: Tell | None
) -> Recording:
    match _kind(path):
        case "track":
            from zombrel.logs.gpx import read_gpx

            return read_gpx(path)
        case "sound":
            from zombrel.logs.wav import read_wav

            return read_wav(path)
        case "sentences":
            from zombrel.logs.nmea import read_nmea_log

            return read_nmea_log(path)
        case "bus":
            from zombrel.logs.busfile import read_bus

            return read_bus(path, description)
        case _:
            return read(path, stated, tell)


def _kind(path: Path) -> str:
    """What a file is, by its ending and its first bytes."""
    ending, head = path.suffix.casefold(), _head(path)
    if ending == ".gpx" or b"<gpx" in head:
        return "track"
    if head[:4] == b"RIFF" or ending == ".wav":
        return "sound"
    if ending == ".nmea" or any(x.startswith((b"$GP", b"$GN", b"$PZ")) for x in head.split()):
        return "sentences"
    bus = ending in (".asc", ".blf", ".candump", ".trc") or _candump(head)
    return "bus" if bus else "table"


def is_table(path: Path) -> bool:
    """Whether a file is read as a table of text."""
    return _kind(path) == "table"


def is_bus(path: Path) -> bool:
    """Whether a file holds messages of a bus, which a description decodes."""
    return _kind(path) == "bus"


def _candump(head: bytes) -> bool:
    """``(1436509052.249713) vcan0 044#2A366C2BBA``"""
    first = head.split(b"\n", 1)[0]
    return first.startswith(b"(") and b"#" in first


def _head(path: Path) -> bytes:
    try:
        with path.open("rb") as stream:
            return stream.read(4096)
    except OSError:
        return b""  # the reader says what is wrong with it

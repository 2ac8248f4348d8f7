"""Any log by what its file is: a table, a track, sentences, a sound, messages of a bus."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from zombrel.logs.recording import Recording
from zombrel.logs.table.read import Tell, read


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
        Problem: as the reader of its kind.
    """
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

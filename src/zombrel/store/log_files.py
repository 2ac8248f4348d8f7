"""Files of logs: kept once by what is in them, packed, beside the user's other data.

A job names its logs by the SHA-256 of their files; a saved job carries the packed bytes as they
are, so that saving copies and never packs again what has not changed.
"""

from __future__ import annotations

import contextlib
import os
import tempfile
import zlib
from collections.abc import Callable, Iterator
from pathlib import Path

from zombrel.intake.file import check, reading
from zombrel.job.problem import Problem
from zombrel.store.prefs import data_root

MAX_LOG = 4_000_000_000
"""Of one log, unpacked [bytes]."""
MAX_PACKED = 480_000_000
"""Of one log, packed [bytes]."""
BLOCK = 1 << 20
LEVEL = 1
"""Packing fast halves a table of figures twice; the rest is not worth the wait."""


def folder() -> Path:
    """Where they are kept."""
    return data_root() / "logs"


def packed(sha: str) -> Path:
    """The packed file of one log."""
    return folder() / f"{sha}.z"


def keep(path: Path, tell: Callable[[float], bool] | None = None) -> tuple[str, int]:
    """Keep the file at ``path``: its name here (SHA-256), and its size [bytes].

    Raises:
        Problem: unreadable, too large, nowhere to keep it, or given up.
    """
    import hashlib  # few jobs have logs: not at start-up

    check(path, MAX_LOG, "log")
    total, done = path.stat().st_size, 0
    digest, pack = hashlib.sha256(), zlib.compressobj(LEVEL)
    with reading(str(path), "be kept"):
        folder().mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(dir=folder(), suffix=".part")
        half = Path(name)
        try:
            with os.fdopen(handle, "wb") as out, path.open("rb") as stream:
                while block := stream.read(BLOCK):
                    digest.update(block)
                    out.write(pack.compress(block))
                    done += len(block)
                    if tell is not None and not tell(done / total):
                        raise Problem("Reading was given up.")
                out.write(pack.flush())
                out.flush()
                os.fsync(out.fileno())
            if half.stat().st_size > MAX_PACKED:
                raise Problem(f"{path.name} is larger than a job can carry.")
            half.replace(packed(digest.hexdigest()))
        finally:
            half.unlink(missing_ok=True)
    return digest.hexdigest(), done


def keep_bytes(data: bytes) -> str:
    """Keep ``data``: its name here (SHA-256).

    Raises:
        Problem: nowhere to keep it.
    """
    with tempfile.TemporaryDirectory(prefix="zombrel-") as place:
        path = Path(place) / "kept"
        path.write_bytes(data)
        return keep(path)[0]


def bytes_of(sha: str, name: str) -> bytes:
    """The packed bytes of a log or photo, to be put into a job's file.

    Raises:
        Problem: they are no longer here.
    """
    try:
        return packed(sha).read_bytes()
    except OSError:
        raise Problem(
            f"“{name}” is no longer on this machine: take it in again, or take it out."
        ) from None


def restore(sha: str, data: bytes, name: str) -> None:
    """Put the packed bytes of a log from a job's file where they are kept; a no-op if there.

    Raises:
        Problem: they are not what the job says they are.
    """
    import hashlib  # few jobs have logs: not at start-up

    if packed(sha).exists():
        return
    digest, unpack, size = hashlib.sha256(), zlib.decompressobj(), 0
    try:
        for i in range(0, len(data), BLOCK):
            piece = unpack.decompress(data[i : i + BLOCK], 64 * BLOCK)
            while piece:
                digest.update(piece)
                size += len(piece)
                if size > MAX_LOG:
                    raise Problem(f"{name}: a log unpacks to more than {MAX_LOG // 10**6} MB.")
                piece = unpack.decompress(unpack.unconsumed_tail, 64 * BLOCK)
    except zlib.error:
        raise Problem(f"{name}: a log in it is damaged.") from None
    if digest.hexdigest() != sha:
        raise Problem(f"{name}: a log in it is not the one that the job names.")
    with reading(name, "keep its logs"):
        folder().mkdir(parents=True, exist_ok=True)
        handle, half = tempfile.mkstemp(dir=folder(), suffix=".part")
        with os.fdopen(handle, "wb") as out:
            out.write(data)
        Path(half).replace(packed(sha))


@contextlib.contextmanager
def opened(sha: str, name: str) -> Iterator[Path]:
    """The log as a plain file, under its own name, for as long as it is read.

    Raises:
        Problem: it is no longer here.
    """
    if not packed(sha).exists():
        bytes_of(sha, name)  # says so
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / (Path(name).name or "log.csv")
        unpack = zlib.decompressobj()
        with reading(name), packed(sha).open("rb") as stream, path.open("wb") as out:
            while block := stream.read(BLOCK):
                out.write(unpack.decompress(block))
            out.write(unpack.flush())
        yield path

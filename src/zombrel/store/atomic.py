"""Files written whole or not at all, and locks that end with the program that holds them."""

from __future__ import annotations

import contextlib
import fcntl
import glob
import os
from pathlib import Path

from zombrel.job.problem import Problem


def digest(data: bytes) -> str:
    """SHA-256 of some content, in hexadecimal (FIPS 180-4)."""
    import hashlib

    return hashlib.sha256(data).hexdigest()


def write_atomically(path: Path, data: bytes) -> None:
    """Write beside ``path``, flush, rename over it, flush the folder.

    A link is followed: what it points to is replaced. Once the new file is in its place nothing
    that goes wrong is called a failure.

    Raises:
        Problem: it could not be written; what was there before is untouched.
    """
    path = Path(os.path.realpath(path))
    _sweep(path)
    beside = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        with beside.open("wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        with contextlib.suppress(OSError):
            os.chmod(beside, path.stat().st_mode & 0o7777)
        os.replace(beside, path)
    except OSError as error:
        with contextlib.suppress(OSError):
            beside.unlink()
        raise Problem(
            f"{path} cannot be written: {error.strerror}. The old file is untouched; "
            "choose another place."
        ) from error
    flush_folder(path.parent)


def set_aside(path: Path) -> str:
    """Keep a file that cannot be read under another name; a sentence that says where."""
    place = path.with_name(f"{path.name}.damaged")
    try:
        os.replace(path, place)
    except OSError:
        return "The file is left as it is."
    return f"The old file is kept as {place}."


def flush_folder(folder: Path) -> None:
    """See the names in a folder onto the disk, where the file system can."""
    with contextlib.suppress(OSError):
        there = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(there)
        finally:
            os.close(there)


def _sweep(path: Path) -> None:
    """Take away what a program killed in the middle of a save left beside ``path``."""
    with contextlib.suppress(OSError):
        for part in path.parent.glob(f".{glob.escape(path.name)}.*.part"):
            owner = part.name.split(".")[-2]
            if owner.isdigit() and not Path(f"/proc/{owner}").exists():
                with contextlib.suppress(OSError):
                    part.unlink()


class Lock:
    """An exclusive lock on a file or folder; it ends with the program, however that ends."""

    def __init__(self, handle: int) -> None:
        self._handle = handle

    @classmethod
    def on(cls, path: Path) -> Lock | None:
        """The lock on ``path``, or None while another holds it; raises OSError if it is gone."""
        handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(handle)
            return None
        return cls(handle)

    def still_on(self, path: Path) -> bool:
        """Whether what lies at ``path`` is what was locked."""
        try:
            there, mine = path.stat(), os.fstat(self._handle)
        except OSError:
            return False
        return (there.st_dev, there.st_ino) == (mine.st_dev, mine.st_ino)

    def end(self) -> None:
        """Let go; again is no harm."""
        if self._handle >= 0:
            os.close(self._handle)
            self._handle = -1
